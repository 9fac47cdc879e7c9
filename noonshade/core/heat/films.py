"""Heat transfer coefficients of surfaces, W/(m² K)."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
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


@compiled_exactly
def convection(
    surface_c: float, air_c: float, orientation: int, length_m: float
) -> float:  # pragma: no cover - compiled
    """Free convection coefficient of a surface.

    Parameters
    ----------
    surface_c, air_c : float
        Surface and adjacent air temperature, °C.
    orientation : int
        ``VERTICAL``, ``FACING_UP``, ``FACING_DOWN`` or ``AROUND`` a cylinder. A cool surface facing up
        behaves as a warm one facing down, and the other way round.
    length_m : float
        Size of the whole surface: area over perimeter of a plate, the shorter side of ground and lid, the
        height of a wall, the diameter of a cylinder, m.

    Returns
    -------
    float
        The coefficient, W/(m² K).
    """
    difference = surface_c - air_c
    magnitude = abs(difference)
    third, quarter = np.cbrt(magnitude), math.sqrt(math.sqrt(magnitude / length_m))
    if orientation == AROUND:
        found = CYLINDER_LAMINAR * quarter
    elif orientation == VERTICAL:
        found = VERTICAL_TURBULENT * third
    elif (difference > 0.0) if orientation == FACING_UP else (difference < 0.0):
        found = max(HORIZONTAL_UP_TURBULENT * third, HORIZONTAL_UP_LAMINAR * quarter)
    else:
        found = HORIZONTAL_DOWN * quarter
    return math.hypot(found, STIRRED_MINIMUM)


@compiled_exactly
def vertical_film(difference_c: float, from_m: float, to_m: float) -> float:  # pragma: no cover - compiled
    """Mean coefficient of a strip of a wall, by how far its film has come.

    Parameters
    ----------
    difference_c : float
        Between wall and air, K, not negative.
    from_m, to_m : float
        Way of the film at the beginning and at the end of the strip, m.

    Returns
    -------
    float
        The coefficient, W/(m² K).

    Notes
    -----
    Laminar, a wall of height L has 1.42 (ΔT/L)^(1/4) on the whole, so that its film from a to b has
    1.42 ΔT^(1/4) (b^(3/4) − a^(3/4))/(b − a); turbulent 1.31 ΔT^(1/3) anywhere. The larger counts, together
    with what other movements of the air bring.

    References
    ----------
    .. [1] Holman, Heat Transfer, simplified equations for free convection to air.
    """
    laminar = VERTICAL_LAMINAR * math.sqrt(math.sqrt(difference_c))
    laminar *= (to_m**0.75 - from_m**0.75) / (to_m - from_m)
    turbulent = VERTICAL_TURBULENT * difference_c ** (1 / 3)
    return math.hypot(max(laminar, turbulent), STIRRED_MINIMUM)


@compiled_exactly
def radiation(
    first_c: Floats, second_c: float, emissivity: Floats
) -> Floats:  # pragma: no cover - compiled
    """Exact longwave coefficient ε σ (T₁² + T₂²)(T₁ + T₂), W/(m² K), temperatures in °C.

    Parameters
    ----------
    first_c : (n,) float64
        Temperatures, °C.
    second_c : float
        The other temperature, °C.
    emissivity : (n,) float64
        Emissivities, 0 to 1; times areas in m², what comes is W/K.

    Returns
    -------
    (n,) float64
        Coefficients, W/(m² K).
    """
    found = np.empty(first_c.size)
    b = second_c + KELVIN_AT_0_C
    for i in range(first_c.size):
        a = first_c[i] + KELVIN_AT_0_C
        found[i] = emissivity[i] * STEFAN_BOLTZMANN_W_M2K4 * (a * a + b * b) * (a + b)
    return found


@compiled_exactly
def ceiling_jet(heat_w: float, height_m: float, radius_m: float) -> float:  # pragma: no cover - compiled
    """Film coefficient of a lid under a plume that strikes it and spreads.

    Parameters
    ----------
    heat_w : float
        Heat the plume brings under the lid, W.
    height_m : float
        From what is warm to the lid, m.
    radius_m : float
        Distance from the plume's axis, m.

    Returns
    -------
    float
        The coefficient, W/(m² K).

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
    height = max(height_m, 0.02)
    radius = max(radius_m, 0.15 * height)
    speed = 0.195 * np.cbrt(kilowatts) * math.sqrt(height) / radius ** (5 / 6)
    speed = min(speed, 0.96 * np.cbrt(kilowatts / height))
    reynolds = speed * radius / AIR_VISCOSITY_M2_S
    return float(0.664 * AIR_CONDUCTIVITY_W_MK / radius * math.sqrt(reynolds) * PRANDTL ** (1 / 3))


@compiled_exactly
def jets_along(
    heat_w: Floats, height_m: Floats, radius_m: Floats, share: Floats
) -> Floats:  # pragma: no cover - compiled
    """Mean coefficient of parts of a lid under several plumes.

    Parameters
    ----------
    heat_w, height_m, share : (m,) float64
        As of ``ceiling_jet``, of each plume; the share of it where several make one jet.
    radius_m : (n, s, m) float64
        Distance of points of each part from the axis of each plume, m.

    Returns
    -------
    (n,) float64
        Coefficients, W/(m² K): jets add by their squares.
    """
    parts, samples, count = radius_m.shape
    found = np.zeros(parts)
    for i in range(parts):
        for j in range(samples):
            squares = 0.0
            for m in range(count):
                # Most plumes come to rest below the lid.
                if heat_w[m] > 0.0:
                    squares += ceiling_jet(heat_w[m], height_m[m], radius_m[i, j, m]) ** 2 * share[m]
            found[i] += math.sqrt(squares) / samples
    return found
