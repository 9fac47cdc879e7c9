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
# A stream comes no closer to the surface that feeds it than this share of their difference.
LEAST_DIFFERENCE = 0.15
# One that begins in a cooler layer than the surface's own air is at most so many times as far from it.
# Estimate: keeps a round from overshooting.
MOST_DIFFERENCE = 3.0


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
def rising_plumes(
    air_c: Floats, z_edges: Floats, start_m: Floats, size_m: Floats, power_w: Floats
) -> tuple[Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
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
    tuple of four float64
        The flows, as ``Streams`` has them; a plume delivers under the lid what has not come to rest before.
    """
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


@compiled_exactly
def _fed(
    carried_w_k: float, difference_c: float, to_stream_c: float
) -> float:  # pragma: no cover - compiled
    """Conductance from a surface to its stream that passes what the film passes to the air around it.

    ``difference_c`` surface less surrounding air, ``to_stream_c`` surface less stream.
    """
    if abs(difference_c) <= 1e-9:
        difference_c = 1.0
    return carried_w_k / min(max(to_stream_c / difference_c, LEAST_DIFFERENCE), MOST_DIFFERENCE)


class PlumeSources(NamedTuple):
    """What feeds m plumes: k patches of surfaces, and what hangs in the air.

    ``node``, ``cell``, ``higher``, ``upper`` and ``slot`` (k,) are the node of each patch, the cell beside
    it and the one above, the share of that, and which plume it feeds. ``column``, ``level``, ``start_m``
    and ``size_m`` (m,) say where each begins and how large. Plumes from ``ground`` to ``ground_end`` rise
    as one from all that is warm of the ground, in cells of ``ground_cell_m2``; those from ``ground_end``
    on have the heat of emitter ``emitter`` (m − ground_end,), by their part ``part`` of it.
    """

    node: Ints
    cell: Ints
    higher: Ints
    upper: Floats
    slot: Ints
    column: Ints
    level: Ints
    start_m: Floats
    size_m: Floats
    ground: int
    ground_end: int
    ground_cell_m2: float
    emitter: Ints
    part: Floats


class FedPlumes(NamedTuple):
    """Plumes of a round: flows of each, and of those that rise as one flows it would have alone.

    ``to_air``, ``to_higher`` and ``to_stream`` (k,) are conductances of the patches, W/K; ``power_w`` (m,)
    is the heat each takes up, ``driving_w`` that of the plume it is a part of, ``share`` that part.
    """

    flows: Streams
    under_lid_w: Floats
    to_air: Floats
    to_higher: Floats
    to_stream: Floats
    power_w: Floats
    driving_w: Floats
    share: Floats


@compiled_exactly
def _fed_plumes(
    node: Ints,
    cell: Ints,
    higher: Ints,
    upper: Floats,
    slot: Ints,
    column: Ints,
    level: Ints,
    start_m: Floats,
    size_m: Floats,
    ground: int,
    ground_end: int,
    ground_cell_m2: float,
    emitter: Ints,
    part: Floats,
    temperature_c: Floats,
    film_w_k: Floats,
    emitted_w: Floats,
    z_edges: Floats,
) -> tuple[Floats, ...]:  # pragma: no cover - compiled
    m, k, nz = column.size, node.size, z_edges.size - 1
    warmer, power, feeding = np.zeros(k), np.zeros(m), np.zeros(m)
    squares = 0.0
    for i in range(k):
        # What lies between the middles of two levels is between their temperatures.
        air = (1.0 - upper[i]) * temperature_c[cell[i]] + upper[i] * temperature_c[higher[i]]
        warmer[i] = max(temperature_c[node[i]] - air, 0.0)
        watts = film_w_k[i] * warmer[i]
        power[slot[i]] += watts
        if warmer[i] > 0.0:
            feeding[slot[i]] += film_w_k[i]
        if slot[i] >= ground:
            squares += watts**2
    size, share, driving = size_m.copy(), np.ones(m), power.copy()
    total = np.sum(power[ground:ground_end])
    if total > 0.0:
        # Area that would give the same heat if all of it were equally warm.
        size[ground:ground_end] = math.sqrt(total**2 / squares * ground_cell_m2)
        share[ground:ground_end] = power[ground:ground_end] / total
        driving[ground:ground_end] = total
    for i in range(emitter.size):
        watts = emitted_w[emitter[i]]
        driving[ground_end + i], power[ground_end + i] = watts, watts * part[i]
        share[ground_end + i] = part[i]
    around = np.empty((m, nz))
    for i in range(m):
        around[i] = temperature_c[column[i] * nz : (column[i] + 1) * nz]
    taken, given, risen, excess = rising_plumes(around, z_edges, start_m, size, driving)
    under_lid, most, stream = np.empty(m), np.empty(m), np.empty(m)
    for i in range(m):
        under_lid[i] = max(excess[i, nz - 1] * AIR_VOLUMETRIC_J_M3K * given[i, nz - 1], 0.0)
        taken[i] *= share[i]
        given[i] *= share[i]
        risen[i] *= share[i]
        # What the foot of each plume can carry, against the films that feed it.
        capacity = AIR_VOLUMETRIC_J_M3K * taken[i, level[i]]
        most[i] = min(1.0, MOST_CARRIED * capacity / max(feeding[i], 1e-12))
        # It carries that share of the heat that drives it.
        stream[i] = around[i, level[i]] + most[i] * excess[i, level[i]]
    to_air, to_higher, to_stream = np.empty(k), np.empty(k), np.zeros(k)
    for i in range(k):
        carried = film_w_k[i] * most[slot[i]] if warmer[i] > 0.0 else 0.0
        to_air[i] = (1.0 - upper[i]) * (film_w_k[i] - carried)
        to_higher[i] = upper[i] * (film_w_k[i] - carried)
        to_stream[i] = _fed(carried, warmer[i], temperature_c[node[i]] - stream[slot[i]])
    return taken, given, risen, excess, under_lid, to_air, to_higher, to_stream, power, driving, share


def fed_plumes(
    sources: PlumeSources, temperature_c: Floats, film_w_k: Floats, emitted_w: Floats, z_edges: Floats
) -> FedPlumes:
    """Plumes above warm surfaces and heaters, with what of the surfaces' films they take.

    Parameters
    ----------
    sources : PlumeSources
        What feeds them.
    temperature_c : (n,) float64
        Of all nodes in the last round, °C; cells of air come first, column by column.
    film_w_k : (k,) float64
        Film of each patch times its area, W/K.
    emitted_w : (e,) float64
        Heat each emitter gives to the air, W.
    z_edges : (nz + 1,) float64
        Edges of the layers, m.

    Returns
    -------
    FedPlumes
        Their flows, and how surfaces are linked to them and to the air.
    """
    found = _fed_plumes(*sources, temperature_c, film_w_k, emitted_w, z_edges)
    return FedPlumes(Streams(*found[:4]), *found[4:])


@compiled_exactly
def wall_films(
    air_c: Floats, wall_c: Floats, area_m2: Floats, width_m: Floats, dz_m: Floats
) -> tuple[Floats, Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
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
    tuple of five float64
        The flows, as ``Streams`` has them, and the conductance (s, n) between each strip and the air around
        it, W/K. A film goes on only beside a strip that drives it the same way.
    """
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
                conductance[i, k] = area_m2[i, k] * vertical_film(drive, begun, begun + dz_m[k])
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


class WallParts(NamedTuple):
    """Closed sides in strips (s, nz), and their parts (m,): the sheet, and windows, doors and panes in it.

    ``cell``, ``area_m2`` (s, nz) and ``width_m`` (s,) are of the strips; ``node``, ``strip`` (its number,
    counted row by row) and ``share`` of it are of the parts.
    """

    cell: Ints
    area_m2: Floats
    width_m: Floats
    node: Ints
    strip: Ints
    share: Floats


class FedFilms(NamedTuple):
    """Films along walls: their flows, conductances of the parts (m,), W/K, and the heat they pass, W."""

    flows: Streams
    to_air: Floats
    to_stream: Floats
    passed_w: float


@compiled_exactly
def _fed_films(
    cell: Ints,
    area_m2: Floats,
    width_m: Floats,
    node: Ints,
    strip: Ints,
    share: Floats,
    temperature_c: Floats,
    dz_m: Floats,
) -> tuple[Floats, Floats, Floats, Floats, Floats, Floats, float]:  # pragma: no cover - compiled
    s, nz = cell.shape
    m = node.size
    air = np.empty((s, nz))
    for i in range(s):
        for k in range(nz):
            air[i, k] = temperature_c[cell[i, k]]
    wall, warmer = air.copy(), np.empty(m)
    for j in range(m):
        i, k = strip[j] // nz, strip[j] % nz
        warmer[j] = temperature_c[node[j]] - air[i, k]
        wall[i, k] += share[j] * warmer[j]
    taken, given, risen, excess, g = wall_films(air, wall, area_m2, width_m, dz_m)
    carried = np.empty((s, nz))
    for i in range(s):
        for k in range(nz):
            flow = taken[i, k]
            if k < nz - 1:
                flow += max(-risen[i, k], 0.0)
            if k > 0:
                flow += max(risen[i, k - 1], 0.0)
            carried[i, k] = min(g[i, k], MOST_CARRIED * AIR_VOLUMETRIC_J_M3K * flow)
    to_air, to_stream = np.empty(m), np.empty(m)
    passed_w = 0.0
    for j in range(m):
        i, k = strip[j] // nz, strip[j] % nz
        passed_w += share[j] * g[i, k] * abs(warmer[j])
        to_air[j] = share[j] * (g[i, k] - carried[i, k])
        to_stream[j] = _fed(share[j] * carried[i, k], warmer[j], warmer[j] - excess[i, k])
    return taken, given, risen, excess, to_air, to_stream, passed_w


def fed_films(parts: WallParts, temperature_c: Floats, dz_m: Floats) -> FedFilms:
    """Films along walls, with what of the walls' warmth they take.

    Parameters
    ----------
    parts : WallParts
        The walls.
    temperature_c : (n,) float64
        Of all nodes in the last round, °C.
    dz_m : (nz,) float64
        Heights of the layers, m.

    Returns
    -------
    FedFilms
        Their flows, and how walls are linked to them and to the air.
    """
    found = _fed_films(*parts, temperature_c, dz_m)
    return FedFilms(Streams(*found[:4]), *found[4:])
