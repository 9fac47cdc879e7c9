"""Vapour in a burrow: walls that give off water against the open mouth."""

from __future__ import annotations

import math

from noonshade.core.moisture.vapour import saturated

# Sherwood number of a round tube with walls alike all along (Incropera & DeWitt, laminar, constant wall
# temperature, by the analogy of heat and mass).
_SHERWOOD = 3.66


def burrow_vapour(
    diameter_m: float, run_m: float, wetness: float, ground_c: float, outside_kg_m3: float
) -> float:
    """Vapour at the closed end of a burrow.

    Vapour spreads along the run and comes from its walls, as heat does along a fin: D A e'' = h w P (e - f)
    with e outside at the mouth, f what air can hold, and no flow through the closed end. With h = Sh D / d
    the diffusivity cancels, and e - f falls over d / sqrt(4 Sh w).

    Parameters
    ----------
    diameter_m : float
        Diameter of the burrow, m.
    run_m : float
        Way from the mouth to the chamber, m.
    wetness : float
        How readily its walls give off water: 0 dry, 1 like open water.
    ground_c : float
        Temperature of the ground around the chamber, °C.
    outside_kg_m3 : float
        Vapour at the mouth, kg/m³.

    Returns
    -------
    float
        Vapour at the chamber, kg/m³; in dry ground that of the air outside, at most what it can hold.
    """
    full = saturated(ground_c)
    ratio = run_m * math.sqrt(4.0 * _SHERWOOD * wetness) / diameter_m
    left = 1.0 / math.cosh(min(ratio, 50.0))
    return min(full + (outside_kg_m3 - full) * left, full)
