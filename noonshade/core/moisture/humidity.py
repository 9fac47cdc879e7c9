"""Relative humidity of air that is mixed in vapour but not in temperature."""

from __future__ import annotations

import math


def saturation_pressure_pa(temperature_c: float) -> float:
    """Saturation vapour pressure over water, Pa: Magnus form of Alduchov & Eskridge (1996)."""
    return 610.94 * math.exp(17.625 * temperature_c / (243.04 + temperature_c))


def dry_box_humidity(room_rh: float, room_c: float, air_c: float) -> float:
    """Relative humidity (0–1) at an air temperature when the box adds no moisture to room air.

    Steady ventilation then gives the box the room's vapour pressure everywhere.
    """
    vapour = room_rh * saturation_pressure_pa(room_c)
    return min(1.0, vapour / saturation_pressure_pa(air_c))
