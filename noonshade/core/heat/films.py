"""Heat transfer coefficients of surfaces, W/(m² K)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import KELVIN_AT_0_C, STEFAN_BOLTZMANN_W_M2K4

Floats = NDArray[np.float64]

# Simplified free convection from surfaces in room air at atmospheric pressure, W/(m² K):
# Holman, Heat Transfer, table of simplified equations (laminar forms with a length, turbulent without).
VERTICAL_TURBULENT = 1.31
HORIZONTAL_UP_TURBULENT = 1.52
HORIZONTAL_UP_LAMINAR = 1.32
HORIZONTAL_DOWN = 0.59
CYLINDER_LAMINAR = 1.32
# Air inside an enclosure is never quite still: vents, the animal, other plumes. Estimate.
STIRRED_MINIMUM = 1.0
# Outside film of a wall in a room, convection and radiation: ISO 6946 horizontal flow, 1/0.13.
OUTSIDE_FILM = 7.7
# An enclosure on a table or shelf loses heat downwards through a poorly ventilated gap, W/(m² K). ISO 6946
# downward flow, 1/0.17.
UNDERSIDE_FILM = 5.9

VERTICAL = 0
FACING_UP = 1
FACING_DOWN = 2
AROUND = 3


def convection(
    surface_c: Floats, air_c: Floats, orientation: NDArray[np.int64], length_m: Floats
) -> Floats:
    """Free convection coefficient for each surface.

    Parameters
    ----------
    surface_c, air_c : (n,) float64
        Surface and adjacent air temperature, °C.
    orientation : (n,) int
        ``VERTICAL``, ``FACING_UP``, ``FACING_DOWN`` or ``AROUND`` a cylinder. A cool surface facing up
        behaves as a warm one facing down, and the other way round.
    length_m : (n,) float64
        Size of the whole surface (area over perimeter times four), or the diameter of a cylinder, m.

    Returns
    -------
    (n,) float64, W/(m² K)
    """
    difference = surface_c - air_c
    magnitude = np.abs(difference)
    third = np.cbrt(magnitude)
    quarter = np.sqrt(np.sqrt(magnitude / length_m))
    vertical = VERTICAL_TURBULENT * third
    buoyant = np.maximum(HORIZONTAL_UP_TURBULENT * third, HORIZONTAL_UP_LAMINAR * quarter)
    stable = HORIZONTAL_DOWN * quarter
    rising = np.where(orientation == FACING_UP, difference > 0, difference < 0)
    horizontal = np.where(rising, buoyant, stable)
    found = np.where(orientation == VERTICAL, vertical, horizontal)
    found = np.where(orientation == AROUND, CYLINDER_LAMINAR * quarter, found)
    return np.hypot(found, STIRRED_MINIMUM)


def radiation(first_c: Floats, second_c: Floats | float, emissivity: Floats | float) -> Floats:
    """Exact longwave coefficient ε σ (T₁² + T₂²)(T₁ + T₂), W/(m² K), temperatures in °C.

    Parameters
    ----------
    first_c : Floats
        Temperature, °C.
    second_c : Floats | float
        The other temperature, °C.
    emissivity : Floats | float
        Emissivity, 0 to 1.

    Returns
    -------
    Floats
        Coefficients, W/(m² K), of the shape of the temperatures.
    """
    a = np.asarray(first_c, dtype=np.float64) + KELVIN_AT_0_C
    b = np.asarray(second_c, dtype=np.float64) + KELVIN_AT_0_C
    value: Floats = np.asarray(emissivity) * STEFAN_BOLTZMANN_W_M2K4 * (a * a + b * b) * (a + b)
    return value
