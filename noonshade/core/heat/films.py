"""Heat transfer coefficients of surfaces, W/(m² K)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import KELVIN_AT_0_C, STEFAN_BOLTZMANN_W_M2K4

Floats = NDArray[np.float64]

# Simplified free convection from surfaces in room air at atmospheric pressure, W/(m² K):
# Holman, Heat Transfer, table of simplified equations (laminar forms with a length, turbulent without).
VERTICAL_TURBULENT = 1.31
VERTICAL_LAMINAR = 1.42
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

# Air of 25 °C: conductivity in W/(m K), viscosity in m²/s, and Prandtl number.
AIR_CONDUCTIVITY_W_MK, AIR_VISCOSITY_M2_S, PRANDTL = 0.026, 1.56e-5, 0.71

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
        Size of the whole surface: area over perimeter of a plate, the shorter side of ground and lid, the
        height of a wall, the diameter of a cylinder, m.

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


def vertical_film(difference_c: Floats, from_m: Floats, to_m: Floats) -> Floats:
    """Mean coefficient of a strip of a wall, by how far its film has come.

    Parameters
    ----------
    difference_c : Floats
        Between wall and air, K, not negative.
    from_m, to_m : Floats
        Way of the film at the beginning and at the end of the strip, m.

    Returns
    -------
    Floats
        Coefficients, W/(m² K).

    Notes
    -----
    Laminar, a wall of height L has 1.42 (ΔT/L)^(1/4) on the whole, so that its film from a to b has
    1.42 ΔT^(1/4) (b^(3/4) − a^(3/4))/(b − a); turbulent 1.31 ΔT^(1/3) anywhere. The larger counts, together
    with what other movements of the air bring.

    References
    ----------
    .. [1] Holman, Heat Transfer, simplified equations for free convection to air.
    """
    laminar = VERTICAL_LAMINAR * np.sqrt(np.sqrt(difference_c))
    laminar = laminar * (to_m**0.75 - from_m**0.75) / (to_m - from_m)
    turbulent = VERTICAL_TURBULENT * np.cbrt(difference_c)
    found: Floats = np.hypot(np.maximum(laminar, turbulent), STIRRED_MINIMUM)
    return found


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


def ceiling_jet(heat_w: Floats, height_m: Floats, radius_m: Floats) -> Floats:
    """Film coefficient of a lid under a plume that strikes it and spreads.

    Parameters
    ----------
    heat_w : Floats
        Heat the plume brings under the lid, W.
    height_m : Floats
        From what is warm to the lid, m.
    radius_m : Floats
        Distance from the plume's axis, m.

    Returns
    -------
    Floats
        Coefficients, W/(m² K).

    Notes
    -----
    Speed of the jet after [1]_: 0.96 (Q/H)^(1/3) m/s within 0.15 H, then 0.195 Q^(1/3) H^(1/2) r^(−5/6),
    with Q in kW; laminar film of a plate that begins at the axis, Nu = 0.664 Re^(1/2) Pr^(1/3).

    References
    ----------
    .. [1] Alpert (1972), Calculation of response time of ceiling-mounted fire detectors,
       Fire Technology 8:181.
    """
    kilowatts = heat_w / 1000.0
    height = np.maximum(height_m, 0.02)
    radius = np.maximum(radius_m, 0.15 * height)
    speed = 0.195 * np.cbrt(kilowatts) * np.sqrt(height) / radius ** (5 / 6)
    speed = np.minimum(speed, 0.96 * np.cbrt(kilowatts / height))
    reynolds = speed * radius / AIR_VISCOSITY_M2_S
    found: Floats = 0.664 * AIR_CONDUCTIVITY_W_MK / radius * np.sqrt(reynolds) * PRANDTL ** (1 / 3)
    return found
