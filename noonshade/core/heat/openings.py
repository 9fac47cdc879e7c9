"""What passes vents, holes, meshed sides, slits of doors and an open lid: one balance of pressure for all.

Air is pushed out where the enclosure's pressure is above the room's and drawn in where it is below; between
them lies a neutral level, at which as much goes out as comes in. Where it lies within an opening, air goes
both ways through it, as through a doorway. What crosses an opening with no difference of pressure, by
draught and diffusion, is a conductance beside that.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled_exactly
from noonshade.core.constants import (
    AIR_VOLUMETRIC_J_M3K,
    DISCHARGE_COEFFICIENT,
    GRAVITY_M_S2,
    KELVIN_AT_0_C,
)
from noonshade.core.heat.airflow import MOLECULAR_DIFFUSIVITY_M2_S
from noonshade.core.heat.faces import inset_share, lid_share, strips
from noonshade.core.heat.grids import AirGrid
from noonshade.core.plan import Enclosure, Side, Vent

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# A vent draws from this far above and below itself, m. Estimate.
VENT_REACH_M = 0.02
# Speed of air in an undisturbed room. Estimate.
ROOM_DRAUGHT_M_S = 0.05
# Share of it that blows through a meshed side (estimate: half), and that a single opening exchanges: BS
# 5925:1991, Q = 0.025 A U.
MESH_DRAUGHT_SHARE, SINGLE_DRAUGHT_SHARE = 0.5, 0.025
TOP_DRAUGHT_SHARE = 0.1  # a draught passes over an open top, little dips into it. Estimate.
# Exchange through a horizontal opening with warm air below: Q = 0.055 √(g' D⁵), Epstein (1988), J. Heat
# Transfer 110:885. A flow through it of u sweeps that off, by (1 − u/u_F)^2.3 with u_F = 0.32 √(g' D):
# Epstein & Kenton (1989), J. Heat Transfer 111:980.
EPSTEIN, FLOODED, SWEPT_POWER = 0.055, 0.32, 2.3
# Air that is cooler than its surroundings by this much falls to the ground as it comes in, K. Estimate.
FALLS_AT_K = 0.5
# Rounds in which the level is found, and the difference of what comes in and goes out that ends them.
_ROUNDS, _BALANCED = 60, 1e-7
_SIDES: tuple[Side, ...] = ("front", "back", "left", "right")


class Openings(NamedTuple):
    """Openings in slices (s,), each beside one column of air.

    From ``low_m`` to ``high_m`` with the free area ``area_m2``; ``still_m_s`` is what crosses it without a
    difference of pressure, by area. ``from_level``, ``falling`` and ``rising`` (s, nz) are the shares of
    levels that what leaves comes from, and that what comes in goes to where it is cooler and warmer.
    ``hole_m`` is the diameter of the holes of a horizontal slice and 0 of an upright one.
    """

    column: Ints
    low_m: Floats
    high_m: Floats
    area_m2: Floats
    still_m_s: Floats
    hole_m: Floats
    from_level: Floats
    falling: Floats
    rising: Floats


class Exchange(NamedTuple):
    """What openings pass, m³/s: ``into`` and ``out`` of each cell (nx, nz) through the sides.

    ``lid`` (nx,) leaves each column through the lid, negative where it comes in; ``still_w_k`` (nx, nz) is
    the conductance to the room beside all that, W/K.
    """

    into: Floats
    out: Floats
    lid: Floats
    still_w_k: Floats


class _Gathered:
    """Slices, one after another."""

    def __init__(self, air: AirGrid) -> None:
        self.air = air
        self.rows: list[tuple[float, ...]] = []

    def add(
        self,
        column: int,
        low: float,
        high: float,
        area: float,
        still: float,
        hole: float = 0.0,
        reach: float = 0.0,
    ) -> None:
        bottom, top = float(self.air.z_edges[0]), float(self.air.z_edges[-1])
        low, high = (min(max(z, bottom), top) for z in (low, high))
        self.rows.append((column, low, high, area, still, hole, reach))

    def _between(self, low: Floats, high: Floats) -> Floats:
        """Share (s, nz) of each level in intervals of height (s,); the nearest level if one is outside."""
        edges = self.air.z_edges
        share = np.minimum(high[:, None], edges[None, 1:]) - np.maximum(low[:, None], edges[None, :-1])
        share = np.maximum(share, 0.0)
        middle = np.clip(np.searchsorted(edges, (low + high) / 2) - 1, 0, self.air.nz - 1)
        nowhere = np.sum(share, axis=1) <= 0.0
        share[nowhere, middle[nowhere]] = 1.0
        found: Floats = share / np.sum(share, axis=1, keepdims=True)
        return found

    def build(self) -> Openings:
        column, low, high, area, still, hole, reach = np.array(self.rows).reshape(-1, 7).T.copy()
        bottom, top = np.full(low.size, self.air.z_edges[0]), np.full(low.size, self.air.z_edges[-1])
        return Openings(
            column.astype(np.int64),
            low,
            high,
            area,
            still,
            hole,
            self._between(low - reach, high + reach),
            self._between(bottom, high),
            self._between(low, top),
        )


def openings_of(enclosure: Enclosure, air: AirGrid) -> Openings:
    """Every part of the sides and of the lid that lets air through.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure.
    air : AirGrid
        Its air cells.

    Returns
    -------
    Openings
        The openings, in slices.
    """
    found = _Gathered(air)
    for vent in enclosure.vents:
        _add_vent(found, enclosure, vent)
    for side in _SIDES:
        _add_side(found, enclosure, side)
    free = lid_share(enclosure, air) * air.depth_m * air.dx
    top = float(air.z_edges[-1])
    # Warm air leaves an open lid in plumes as wide as it.
    wide = math.sqrt(4.0 * enclosure.length_m * enclosure.depth_m / math.pi)
    for column in np.flatnonzero(free):
        still = TOP_DRAUGHT_SHARE * ROOM_DRAUGHT_M_S
        found.add(int(column), top, top, float(free[column]), still, hole=wide)
    return found.build()


def _add_vent(found: _Gathered, enclosure: Enclosure, vent: Vent) -> None:
    wall = enclosure.walls[vent.side]
    size = math.sqrt(vent.area_m2 / vent.holes)
    # Vapour and heat diffuse through it and as far again as it is wide.
    still = MOLECULAR_DIFFUSIVITY_M2_S / (wall.thickness_m + size) + SINGLE_DRAUGHT_SHARE * ROOM_DRAUGHT_M_S
    x = {"left": 0.0, "right": enclosure.length_m}.get(vent.side, vent.x_m)
    column = found.air.column(x)
    if vent.side == "top":
        hole = 2.0 * size / math.sqrt(math.pi)
        found.add(column, enclosure.height_m, enclosure.height_m, vent.area_m2, still, hole)
        return
    low, high = vent.z_m - size / 2, vent.z_m + size / 2
    found.add(column, low, high, vent.area_m2, still, reach=VENT_REACH_M)


def _add_side(found: _Gathered, enclosure: Enclosure, side: Side) -> None:
    air = found.air
    cells, areas = strips(side, air)
    base = np.ones(cells.size)

    def add(free: Floats, low: float, high: float, still: float) -> None:
        for strip in np.flatnonzero(free > 0.0):
            level = cells[strip] % air.nz
            at = max(low, float(air.z_edges[level])), min(high, float(air.z_edges[level + 1]))
            found.add(int(cells[strip] // air.nz), at[0], at[1], float(free[strip]), still)

    through_mesh = MESH_DRAUGHT_SHARE * ROOM_DRAUGHT_M_S
    for inset in enclosure.insets_of(side):
        share = inset_share(inset, air)
        base -= share
        add(enclosure.open_share(side, inset.wall) * share * areas, inset.y0_m, inset.y1_m, through_mesh)
        if inset.gap_m > 0:
            slit = share * areas * inset.gap_m2 / max(inset.area_m2, 1e-9)
            add(slit, inset.y0_m, inset.y1_m, SINGLE_DRAUGHT_SHARE * ROOM_DRAUGHT_M_S)
    fraction = enclosure.open_share(side, enclosure.walls[side])
    add(fraction * np.maximum(base, 0.0) * areas, 0.0, enclosure.height_m, through_mesh)


@compiled_exactly
def _orifice(low: float, high: float, upright: bool) -> tuple[float, float]:  # pragma: no cover - compiled
    """Mean speeds out and in, m/s, where Δp/ρ goes evenly from ``low`` to ``high``, m²/s²."""
    if not upright or abs(high - low) < 1e-12:
        middle = 0.5 * (low + high)
        speed = DISCHARGE_COEFFICIENT * math.sqrt(2.0 * abs(middle))
        return (speed, 0.0) if middle > 0.0 else (0.0, speed)
    scale = DISCHARGE_COEFFICIENT * math.sqrt(2.0) * 2.0 / 3.0 / abs(high - low)
    one, other = abs(high) * math.sqrt(abs(high)), abs(low) * math.sqrt(abs(low))
    outwards = abs((one if high > 0.0 else 0.0) - (other if low > 0.0 else 0.0))
    inwards = abs((one if high < 0.0 else 0.0) - (other if low < 0.0 else 0.0))
    return scale * outwards, scale * inwards


@compiled_exactly
def _net(
    ends: Floats, level: float, area_m2: Floats, upright: NDArray[np.bool_], out: Floats, into: Floats
) -> float:  # pragma: no cover - compiled
    net = 0.0
    for i in range(area_m2.size):
        o, n = _orifice(ends[i, 0] + level, ends[i, 1] + level, upright[i])
        out[i], into[i] = o * area_m2[i], n * area_m2[i]
        net += out[i] - into[i]
    return net


@compiled_exactly
def _through(
    lift: Floats,
    z_edges: Floats,
    low_m: Floats,
    high_m: Floats,
    area_m2: Floats,
    upright: NDArray[np.bool_],
) -> tuple[Floats, Floats]:  # pragma: no cover - compiled
    """Flows out of and into each slice, m³/s, with the lift (nz,) of each level by metre, m/s²."""
    count, nz = low_m.size, lift.size
    at_edge = np.zeros(nz + 1)
    for k in range(nz):
        at_edge[k + 1] = at_edge[k] + lift[k] * (z_edges[k + 1] - z_edges[k])
    ends = np.zeros((count, 2))
    for i in range(count):
        ends[i, 0] = np.interp(low_m[i], z_edges, at_edge)
        ends[i, 1] = np.interp(high_m[i], z_edges, at_edge)
    out, into = np.zeros(count), np.zeros(count)
    # The level at which as much goes out as comes in, by false position that halves an end which stays.
    low, high = -np.max(ends) - 1e-9, -np.min(ends) + 1e-9
    at_low, at_high = (
        _net(ends, low, area_m2, upright, out, into),
        _net(ends, high, area_m2, upright, out, into),
    )
    for _ in range(_ROUNDS):
        level = high - at_high * (high - low) / (at_high - at_low)
        net = _net(ends, level, area_m2, upright, out, into)
        if abs(net) < _BALANCED * np.sum(out) or high - low < 1e-12:
            break
        if net > 0.0:
            high, at_high, at_low = level, net, 0.5 * at_low
        else:
            low, at_low, at_high = level, net, 0.5 * at_high
    return out, into


@compiled_exactly
def _balanced(
    lift: Floats,
    z_edges: Floats,
    low_m: Floats,
    high_m: Floats,
    area_m2: Floats,
    upright: NDArray[np.bool_],
) -> tuple[Floats, Floats]:  # pragma: no cover - compiled
    """Flows (s,) out and in, m³/s, of the same sum."""
    nothing = np.zeros(upright.size)
    if not np.any(upright):
        return nothing, nothing
    out, into = _through(lift, z_edges, low_m, high_m, area_m2, upright)
    # A trace of a difference is left.
    total, other = np.sum(out), np.sum(into)
    if total > 0.0 and other > 0.0:
        return out, into * (total / other)
    return nothing, nothing


@compiled_exactly
def _swapping(
    hole_m: float, area_m2: float, buoyancy_m_s2: float, flow_m3_s: float
) -> float:  # pragma: no cover - compiled
    """Speed at which warm air below a horizontal opening and cooler above it change places, m/s."""
    free = math.sqrt(buoyancy_m_s2 * hole_m)
    swept = flow_m3_s / max(area_m2, 1e-12) / max(FLOODED * free, 1e-12)
    return float(EPSTEIN * 4.0 / math.pi * free * max(1.0 - swept, 0.0) ** SWEPT_POWER)


@compiled_exactly
def _exchanged(
    column: Ints,
    low_m: Floats,
    high_m: Floats,
    area_m2: Floats,
    still_m_s: Floats,
    hole_m: Floats,
    from_level: Floats,
    falling: Floats,
    rising: Floats,
    z_edges: Floats,
    air_c: Floats,
    room_c: float,
) -> tuple[Floats, Floats, Floats, Floats]:  # pragma: no cover - compiled
    nx, nz = air_c.shape
    count = column.size
    into_cells, out_of_cells = np.zeros((nx, nz)), np.zeros((nx, nz))
    lid, still_w_k = np.zeros(nx), np.zeros((nx, nz))
    if count == 0:
        return into_cells, out_of_cells, lid, still_w_k
    level_c = np.zeros(nz)
    for k in range(nz):
        level_c[k] = np.mean(air_c[:, k])
    g_per_k = GRAVITY_M_S2 / (room_c + KELVIN_AT_0_C)
    out, into = _balanced(g_per_k * (level_c - room_c), z_edges, low_m, high_m, area_m2, hole_m == 0.0)
    buoyancy = max(g_per_k * (level_c[-1] - room_c), 0.0)
    for i in range(count):
        here = np.sum(from_level[i] * level_c)
        cooler = min(max(0.5 + 0.5 * (here - room_c) / FALLS_AT_K, 0.0), 1.0)
        speed = still_m_s[i] + _swapping(hole_m[i], area_m2[i], buoyancy, out[i] + into[i])
        still = AIR_VOLUMETRIC_J_M3K * speed * area_m2[i]
        for k in range(nz):
            still_w_k[column[i], k] += still * from_level[i, k]
        if hole_m[i] > 0.0:
            lid[column[i]] += out[i] - into[i]
            continue
        for k in range(nz):
            arriving = cooler * falling[i, k] + (1.0 - cooler) * rising[i, k]
            into_cells[column[i], k] += into[i] * arriving
            out_of_cells[column[i], k] += out[i] * from_level[i, k]
    return into_cells, out_of_cells, lid, still_w_k


def exchange_through(openings: Openings, grid: AirGrid, air_c: Floats, room_c: float) -> Exchange:
    """What the enclosure exchanges with the room.

    Parameters
    ----------
    openings : Openings
        Its openings.
    grid : AirGrid
        Its air cells.
    air_c : (nx, nz) float64
        Air temperatures, °C.
    room_c : float
        Air of the room, °C.

    Returns
    -------
    Exchange
        Flows and conductances; as much comes in as leaves.
    """
    return Exchange(*_exchanged(*openings, grid.z_edges, air_c, room_c))
