"""Streams of air apart from what surrounds them: plumes above warm things, films along walls.

A stream takes in air of the layers it passes, carries its heat, and gives its air back where it is no
longer lighter (or heavier) than what surrounds it, at the latest under the lid or on the ground. Its volume
flow is found here from the temperatures of the last round; the temperatures along it are unknowns of the
network.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K, GRAVITY_M_S2
from noonshade.core.heat.films import STIRRED_MINIMUM, VERTICAL_LAMINAR, VERTICAL_TURBULENT

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Volume flow of a turbulent plume, m³/s for W and m: Q = 0.005 P^(1/3) z^(5/3) (Morton, Taylor & Turner
# 1956, Proc. R. Soc. A 234:1, with the usual entrainment constant, room air), z from its virtual origin.
PLUME_COEFFICIENT = 0.005
# The virtual origin lies this many diameters below something warm: Heskestad (1983), Fire Safety J. 5:109.
ORIGIN_DIAMETERS = 1.02
# Volume flow of a laminar film of natural convection along a vertical wall, Q' = 1.77 ν Gr^(1/4) m²/s for a
# metre of width: Squire's profile as in Eckert & Drake (1972), Analysis of Heat and Mass Transfer; air of
# 25 °C.
_VISCOSITY_M2_S = 1.56e-5
_EXPANSION_1_K = 1.0 / 298.0
FILM_COEFFICIENT = 1.77 * _VISCOSITY_M2_S * (GRAVITY_M_S2 * _EXPANSION_1_K / _VISCOSITY_M2_S**2) ** 0.25
# Most of the heat of a surface that its stream may take, as a share of what its flow can carry. Estimate: a
# stream as warm as the surface itself would take none.
MOST_CARRIED = 0.7


class Streams(NamedTuple):
    """Flows of s streams through the n layers each passes, m³/s; layer 0 is the lowest.

    ``taken`` and ``given`` (s, n) from and to the air of each layer; ``risen`` (s, n − 1) from each layer
    to the next above, negative downwards; ``excess_c`` (s, n) how much warmer than the layer it is there.
    """

    taken: Floats
    given: Floats
    risen: Floats
    excess_c: Floats


@compiled_exactly
def _passing(
    flow: float, excess_w: float, step_c: float
) -> tuple[float, float]:  # pragma: no cover - compiled
    """Share of a stream that goes on into the next layer, and the excess heat it has there, W.

    Across a stream its excess of temperature falls evenly from twice the mean to nothing (estimate), and
    what is no lighter than the next layer stays behind: with a mean excess d and a layer warmer by s, the
    share 1 − s/2d goes on.
    """
    capacity = max(AIR_VOLUMETRIC_J_M3K * flow, 1e-12)
    if step_c <= 0.0:
        return 1.0, excess_w - capacity * step_c
    share = min(max(1.0 - step_c / max(2.0 * excess_w / capacity, 1e-9), 0.0), 1.0)
    return share, share**2 * excess_w


@compiled_exactly
def _rise(
    air_c: Floats, z_edges: Floats, start_m: Floats, size_m: Floats, power_w: Floats
) -> tuple[Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
    s, n = air_c.shape
    taken, given = np.zeros((s, n)), np.zeros((s, n))
    risen, excess = np.zeros((s, n - 1)), np.zeros((s, n))
    for i in range(s):
        heat = power_w[i]
        if heat <= 0.0:
            continue
        first = 0
        while first < n - 1 and start_m[i] >= z_edges[first + 1]:
            first += 1
        passed = 0.0
        flow = PLUME_COEFFICIENT * heat ** (1 / 3) * (ORIGIN_DIAMETERS * size_m[i]) ** (5 / 3)
        for k in range(first, n):
            low, high = z_edges[k], z_edges[k + 1]
            way = high - low
            if k == first:
                way = high - min(max(start_m[i], low), high)
            growth = (PLUME_COEFFICIENT * max(heat, 0.0) ** (1 / 3)) ** 0.6 * way
            flow = (flow**0.6 + growth) ** (5 / 3)
            taken[i, k] = flow - passed
            excess[i, k] = heat / max(AIR_VOLUMETRIC_J_M3K * flow, 1e-12)
            if k == n - 1:
                given[i, k] = flow
                break
            share, heat = _passing(flow, heat, air_c[i, k + 1] - air_c[i, k])
            given[i, k] = (1.0 - share) * flow
            flow = passed = share * flow
            risen[i, k] = flow
            if flow <= 0.0:
                break
    return taken, given, risen, excess


def rising_plumes(
    air_c: Floats, z_edges: Floats, start_m: Floats, size_m: Floats, power_w: Floats
) -> Streams:
    """Plumes above warm things.

    Parameters
    ----------
    air_c : (s, n) float64
        Air around each plume, by layer, °C.
    z_edges : (n + 1,) float64
        Edges of the layers, m.
    start_m, size_m, power_w : (s,) float64
        Height and diameter of what is warm, m, and the heat it gives to the air, W.

    Returns
    -------
    Streams
        The flows; a plume delivers under the lid what has not come to rest before.
    """
    return Streams(*_rise(air_c, z_edges, start_m, size_m, power_w))


@compiled_exactly
def _film(difference_c: float, from_m: float, to_m: float) -> float:  # pragma: no cover - compiled
    """As ``films.vertical_film``, of one strip."""
    laminar = VERTICAL_LAMINAR * math.sqrt(math.sqrt(difference_c))
    laminar *= (to_m**0.75 - from_m**0.75) / (to_m - from_m)
    turbulent = VERTICAL_TURBULENT * difference_c ** (1 / 3)
    return math.hypot(max(laminar, turbulent), STIRRED_MINIMUM)


@compiled_exactly
def _along_walls(
    air_c: Floats, wall_c: Floats, area_m2: Floats, width_m: Floats, dz_m: Floats
) -> tuple[Floats, Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
    s, n = air_c.shape
    taken, given = np.zeros((s, n)), np.zeros((s, n))
    risen, excess = np.zeros((s, n - 1)), np.zeros((s, n))
    conductance = np.zeros((s, n))
    for i in range(s):
        # Films of colder strips come down from the top, those of warmer ones up from the ground.
        for sign in (1.0, -1.0):
            flow, heat = 0.0, 0.0
            for step in range(n):
                k = n - 1 - step if sign > 0.0 else step
                drive = sign * (air_c[i, k] - wall_c[i, k])
                if drive < 0.0 or (drive == 0.0 and sign < 0.0):
                    # What comes to a strip that does not drive it comes to rest there.
                    given[i, k] += flow
                    flow, heat = 0.0, 0.0
                    continue
                # How far above its film would have begun beside a wall as cold as this strip all along.
                full = FILM_COEFFICIENT * math.sqrt(math.sqrt(max(drive, 1e-9)))
                begun = (flow / width_m[i] / full) ** (4 / 3)
                conductance[i, k] = area_m2[i, k] * _film(drive, begun, begun + dz_m[k])
                if drive == 0.0:
                    given[i, k] += flow
                    flow, heat = 0.0, 0.0
                    continue
                # Q'^(4/3) grows evenly with the way: the film of a wall of even temperature, continued by
                # what it is.
                growth = FILM_COEFFICIENT ** (4 / 3) * drive ** (1 / 3) * dz_m[k]
                grown = width_m[i] * ((flow / width_m[i]) ** (4 / 3) + growth) ** 0.75
                taken[i, k] = grown - flow
                carried = min(conductance[i, k], MOST_CARRIED * AIR_VOLUMETRIC_J_M3K * grown)
                heat += carried * drive
                excess[i, k] = -sign * heat / max(AIR_VOLUMETRIC_J_M3K * grown, 1e-12)
                if step == n - 1:
                    given[i, k] += grown
                    break
                following = k - 1 if sign > 0.0 else k + 1
                share, heat = _passing(grown, heat, sign * (air_c[i, k] - air_c[i, following]))
                given[i, k] += (1.0 - share) * grown
                flow = share * grown
                risen[i, min(k, following)] -= sign * flow
    return taken, given, risen, excess, conductance


def wall_films(
    air_c: Floats, wall_c: Floats, area_m2: Floats, width_m: Floats, dz_m: Floats
) -> tuple[Streams, Floats]:
    """Films along walls: down where a wall is colder than the air beside it, up where it is warmer.

    Parameters
    ----------
    air_c, wall_c : (s, n) float64
        Air and inner surface of each strip, by layer, °C.
    area_m2 : (s, n) float64
        Area of each strip, m².
    width_m : (s,) float64
        Width of the strips, m.
    dz_m : (n,) float64
        Heights of the layers, m.

    Returns
    -------
    tuple of Streams and (s, n) float64
        The flows, and the conductance between each strip and the air around it, W/K. A film goes on only
        beside a strip that drives it the same way.
    """
    *flows, conductance = _along_walls(air_c, wall_c, area_m2, width_m, dz_m)
    return Streams(*flows), conductance
