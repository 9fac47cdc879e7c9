"""Streams of air apart from what surrounds them: plumes above warm things, films along walls.

A stream takes in air of the layers it passes, carries its heat, and gives its air back where it is no
longer lighter (or heavier) than what surrounds it, at the latest under the lid or on the ground. Its volume
flow is found here from the temperatures of the last round; the temperatures along it are unknowns of the
network.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K, GRAVITY_M_S2
from noonshade.core.heat.films import vertical_film

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


@dataclass(frozen=True, slots=True)
class Streams:
    """Flows of s streams through the n layers each passes, m³/s; layer 0 is the lowest.

    ``taken`` and ``given`` (s, n) from and to the air of each layer; ``risen`` (s, n − 1) from each layer
    to the next above, negative downwards; ``excess_c`` (s, n) how much warmer than the layer it is there.
    """

    taken: Floats
    given: Floats
    risen: Floats
    excess_c: Floats


def _passing(flow: Floats, excess_w: Floats, step_c: Floats) -> tuple[Floats, Floats]:
    """Share of streams that goes on into the next layer, and the excess heat it has there, W.

    Across a stream its excess of temperature falls evenly from twice the mean to nothing (estimate), and
    what is no lighter than the next layer stays behind: with a mean excess d and a layer warmer by s, the
    share 1 − s/2d goes on.
    """
    capacity = np.maximum(AIR_VOLUMETRIC_J_M3K * flow, 1e-12)
    mean = excess_w / capacity
    share = np.clip(1.0 - step_c / np.maximum(2.0 * mean, 1e-9), 0.0, 1.0)
    stable = step_c > 0.0
    share = np.where(stable, share, 1.0)
    left = np.where(stable, share**2 * excess_w, excess_w - capacity * step_c)
    return share, left


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
    s, n = air_c.shape
    taken, given = np.zeros((s, n)), np.zeros((s, n))
    risen, excess = np.zeros((s, n - 1)), np.zeros((s, n))
    power = np.maximum(power_w, 0.0)
    flow, heat = np.zeros(s), np.zeros(s)
    for k in range(n):
        low, high = float(z_edges[k]), float(z_edges[k + 1])
        here = (start_m < high) & ((start_m >= low) | (k == 0)) & (power > 0.0)
        if k == n - 1:
            here |= (start_m >= high) & (power > 0.0)
        origin = PLUME_COEFFICIENT * np.cbrt(power) * (ORIGIN_DIAMETERS * size_m) ** (5 / 3)
        entering = np.where(here, origin, flow)
        heat = np.where(here, power, heat)
        way = np.where(here, high - np.clip(start_m, low, high), high - low)
        growth = (PLUME_COEFFICIENT * np.cbrt(np.maximum(heat, 0.0))) ** 0.6 * way
        grown = np.where(here | (entering > 0.0), (entering**0.6 + growth) ** (5 / 3), 0.0)
        taken[:, k] = grown - flow
        excess[:, k] = heat / np.maximum(AIR_VOLUMETRIC_J_M3K * grown, 1e-12)
        if k == n - 1:
            given[:, k] = grown
            break
        share, left = _passing(grown, heat, air_c[:, k + 1] - air_c[:, k])
        given[:, k] = (1.0 - share) * grown
        flow, heat = share * grown, left
        risen[:, k] = flow
    return Streams(taken, given, risen, excess)


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
    down, cooled = _falling(air_c, wall_c, area_m2, width_m, dz_m, 1.0)
    back = (slice(None), slice(None, None, -1))
    up, warmed = _falling(air_c[back], wall_c[back], area_m2[back], width_m, dz_m[::-1], -1.0)
    found = Streams(
        down.taken + up.taken[back],
        down.given + up.given[back],
        down.risen + up.risen[back],
        down.excess_c + up.excess_c[back],
    )
    return found, np.where(air_c >= wall_c, cooled, warmed[back])


def _falling(
    air_c: Floats, wall_c: Floats, area: Floats, width: Floats, dz: Floats, sign: float
) -> tuple[Streams, Floats]:
    """Films that go from the last layer to the first: of colder walls for sign 1, of warmer ones for −1."""
    s, n = air_c.shape
    taken, given = np.zeros((s, n)), np.zeros((s, n))
    risen, excess = np.zeros((s, n - 1)), np.zeros((s, n))
    drive = np.maximum(sign * (air_c - wall_c), 0.0)
    # Q'^(4/3) grows evenly with the way: the film of a wall of even temperature, continued by what it is.
    growth = FILM_COEFFICIENT ** (4 / 3) * np.cbrt(drive) * dz[None, :]
    conductance = np.zeros((s, n))
    flow, heat = np.zeros(s), np.zeros(s)
    for k in range(n - 1, -1, -1):
        # How far above its film would have begun beside a wall as cold as this strip all along.
        full = FILM_COEFFICIENT * np.sqrt(np.sqrt(np.maximum(drive[:, k], 1e-9)))
        begun = (flow / width / full) ** (4 / 3)
        conductance[:, k] = area[:, k] * vertical_film(drive[:, k], begun, begun + dz[k])
        driven = drive[:, k] > 0.0
        grown = np.where(driven, width * ((flow / width) ** (4 / 3) + growth[:, k]) ** 0.75, 0.0)
        # What comes to a strip that does not drive it comes to rest there.
        given[:, k] += np.where(driven, 0.0, flow)
        taken[:, k] = np.where(driven, grown - flow, 0.0)
        carried = np.minimum(conductance[:, k], MOST_CARRIED * AIR_VOLUMETRIC_J_M3K * grown)
        heat = np.where(driven, heat + carried * drive[:, k], 0.0)
        excess[:, k] = -sign * heat / np.maximum(AIR_VOLUMETRIC_J_M3K * grown, 1e-12)
        if k == 0:
            given[:, k] += grown
            break
        share, left = _passing(grown, heat, sign * (air_c[:, k] - air_c[:, k - 1]))
        given[:, k] += (1.0 - share) * grown
        flow, heat = share * grown, left
        risen[:, k - 1] = -sign * flow
    return Streams(taken, given, risen, excess), conductance
