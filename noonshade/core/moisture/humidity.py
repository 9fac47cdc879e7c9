"""Relative humidity of air that is mixed in vapour but not in temperature."""

from __future__ import annotations

import math

# Saturation over water by Magnus, in the form of Alduchov & Eskridge (1996).
MAGNUS_E0_PA = 610.94
MAGNUS_A = 17.625
MAGNUS_B_C = 243.04


def saturation_pressure_pa(temperature_c: float) -> float:
    """Saturation vapour pressure over water, Pa: Magnus form of Alduchov & Eskridge (1996).

    Parameters
    ----------
    temperature_c : float
        Temperature, °C.

    Returns
    -------
    float
        Saturation vapour pressure over water, Pa.
    """
    return MAGNUS_E0_PA * math.exp(MAGNUS_A * temperature_c / (MAGNUS_B_C + temperature_c))
