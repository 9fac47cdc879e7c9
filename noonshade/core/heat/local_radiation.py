"""Longwave exchange of surfaces by what each part of the enclosure sees, beside the one node all share.

The network has one radiant node, to which every surface is linked; that keeps it small. Here the enclosure
is cut into zones that see each other by view factors, all reflections included, and what a surface gains or
loses by those, less what it does by the one node at the same temperatures, is added to the network as heat.
It adds up to nothing, so no energy is made, and at the end only the view factors count.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import KELVIN_AT_0_C, STEFAN_BOLTZMANN_W_M2K4
from noonshade.core.heat.faces import strips
from noonshade.core.heat.geometry import COARSE, EnclosureGrid, build_grid
from noonshade.core.heat.grids import SheetGrid
from noonshade.core.heat.patches import INWARDS, SurfacePatches
from noonshade.core.heat.rays import VisibleSurfaces, looks_of
from noonshade.core.plan import FACES, Face, Hide, Plan
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Zones are about so long, wide and high, m, and no more than ``MOST_ZONES`` along any side.
ZONE_M = 0.25
MOST_ZONES = 6
# Rays from each zone.
RAYS = 192
_CLEAR_M = 1e-4
# Rounds of scaling view factors so that they are reciprocal and each zone's add up to 1.
_ROUNDS = 60
_UNSEEN_M2 = 1e-6
# Steps of points evenly over a cube of five sides: powers of the root of x⁶ = x + 1 (Roberts's sequence).
_EVEN = 1.0 / 1.1347241384015194 ** np.arange(1, 6)


class Zones(NamedTuple):
    """Zones of surfaces that see each other.

    ``of_patch`` (p,) is the zone of each patch, −1 where it sees nothing; ``area_m2`` (z,); ``seen`` (z, z)
    the share of each zone in the view of each, reciprocal.
    """

    of_patch: Ints
    area_m2: Floats
    seen: Floats


_VIEWS = Remembered[Floats](24)


def zones_of(plan: Plan, grid: EnclosureGrid) -> Zones:
    """Cut the surfaces of an enclosure into zones and find what each sees.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : EnclosureGrid
        Its nodes and patches.

    Returns
    -------
    Zones
        The zones.
    """
    patches = grid.patches
    there, zone = np.unique(_keys(plan, grid), return_inverse=True)
    area: Floats = np.bincount(zone, weights=patches.area_m2).astype(np.float64)
    kept = area > _UNSEEN_M2
    number = np.where(kept, np.cumsum(kept) - 1, -1).astype(np.int64)
    of_patch, area = number[zone], area[kept]
    # Zones are the same in coarser cells, and so is what they see as long as nothing moves.
    view = _VIEWS.get(
        (),
        (looks_of(plan, grid), tuple(r.item for r in grid.rods), there[kept].tobytes()),
        lambda: _views(plan, *_sampled(plan, grid, there[kept]), there[kept]),
    )
    exchange = area[:, None] * view
    return Zones(of_patch, area, _reciprocal(0.5 * (exchange + exchange.T), area) / area[:, None])


def _sampled(plan: Plan, grid: EnclosureGrid, keys: Ints) -> tuple[EnclosureGrid, Ints]:
    """A grid to send rays from, and the zones of its patches (p,): the same one whichever asks first."""
    coarse = build_grid(plan, COARSE)
    for one in (coarse, grid):
        there = _keys(plan, one)
        at = np.minimum(np.searchsorted(keys, there), keys.size - 1)
        of_patch = np.where((keys[at] == there) & (one.patches.area_m2 > 0.0), at, -1)
        if np.unique(of_patch[of_patch >= 0]).size == keys.size:
            break
    return one, of_patch


def _views(plan: Plan, grid: EnclosureGrid, of_patch: Ints, keys: Ints) -> Floats:
    """Share of each zone in the view of each (z, z), by rays."""
    patches, surfaces = grid.patches, VisibleSurfaces(plan, grid)
    of_target = np.full(grid.size + surfaces.strips.open.size, -1)
    for face, first in surfaces.strips.first.items():
        cells, _ = strips(face, grid.air)
        at = np.searchsorted(keys, _of_wall(plan, grid, face, cells))
        of_target[grid.size + first + np.arange(cells.size)] = np.minimum(at, keys.size - 1)
    inside = (patches.node >= 0) & (of_patch >= 0)
    of_target[patches.node[inside]] = of_patch[inside]
    origin, way, zone = _rays(patches, of_patch, keys.size)
    met = of_target[surfaces.met(origin, way)]
    free = (met >= 0) & ~surfaces.in_slab(origin)
    pairs = np.bincount((keys.size * zone + met)[free], minlength=keys.size**2)
    seen = pairs.reshape(keys.size, keys.size).astype(np.float64)
    found: Floats = seen / np.maximum(seen.sum(axis=1, keepdims=True), 1.0)
    return found


def _part(values: Floats, extent: float) -> Ints:
    """In which zone along a side of some length values lie."""
    count = int(np.clip(round(extent / ZONE_M), 1, MOST_ZONES))
    found: Ints = np.clip((values / extent * count).astype(np.int64), 0, count - 1)
    return found


def _of_wall(plan: Plan, grid: EnclosureGrid, face: Face, cells: Ints) -> Ints:
    """Numbers of the zones of a face beside air cells."""
    enclosure, ground, air = plan.enclosure, plan.substrate.depth_m, grid.air
    along = _part(air.x[cells // air.nz], enclosure.length_m)
    up = _part(air.z[cells % air.nz] - ground, enclosure.height_m - ground)
    within = along if face == "top" else up if face in ("left", "right") else MOST_ZONES * along + up
    return 1000 * FACES.index(face) + within


def _keys(plan: Plan, grid: EnclosureGrid) -> Ints:
    """A number for each patch (p,), the same for those of one zone."""
    p, enclosure = grid.patches, plan.enclosure
    found = np.zeros(p.node.size, dtype=np.int64)
    for face, normal in INWARDS.items():
        mine = np.all(p.normal == normal, axis=1)
        found[mine] = _of_wall(plan, grid, face, p.cell[mine])

    def of(sheet: SheetGrid) -> NDArray[np.bool_]:
        mine: NDArray[np.bool_] = (p.node >= sheet.start) & (p.node < sheet.start + sheet.nx * sheet.ny)
        return mine

    floor = of(grid.floor[0])
    along = _part(p.centre[:, 0], enclosure.length_m)
    found[floor] = (10_000 + MOST_ZONES * along + _part(p.centre[:, 1], enclosure.depth_m))[floor]
    for number, plate in enumerate(grid.plates):
        if isinstance(plate.item, Hide):
            x, y = plate.top.x_edges, plate.top.y_edges
            under = (p.centre[:, 0] > x[0]) & (p.centre[:, 0] < x[-1])
            under &= (p.centre[:, 1] > y[0]) & (p.centre[:, 1] < y[-1])
            found[floor & under] = 20_000 + number
        found[of(plate.top)] = 30_000 + 2 * number
        found[of(plate.bottom)] = 30_001 + 2 * number
    for number, rod in enumerate(grid.rods):
        found[(p.node >= rod.start) & (p.node < rod.start + rod.nodes.size)] = 40_000 + number
    return found


def _rays(p: SurfacePatches, of_patch: Ints, count: int) -> tuple[Floats, Floats, Ints]:
    """Rays (n, 3) from evenly over every zone, by the cosine of their angle, and their zones (n,)."""
    even = np.tile((np.arange(RAYS)[:, None] * _EVEN[None, :] + 0.5) % 1.0, (count, 1))
    zone = np.repeat(np.arange(count), RAYS)
    order = np.argsort(of_patch, kind="stable")
    order = order[of_patch[order] >= 0]
    upto = np.cumsum(p.area_m2[order])
    last = np.searchsorted(of_patch[order], np.arange(count), side="right") - 1
    high, low = upto[last], np.concatenate([[0.0], upto[last[:-1]]])
    at = np.searchsorted(upto, low[zone] + even[:, 0] * (high - low)[zone])
    one = order[np.minimum(at, last[zone])]
    normal = p.normal[one]
    u, v = (2.0 * even[:, 1:3] - 1.0).T
    origin = p.centre[one] + u[:, None] * p.half_u[one] + v[:, None] * p.half_v[one] + _CLEAR_M * normal
    side = p.half_u[one] / np.linalg.norm(p.half_u[one], axis=1, keepdims=True)
    other = p.half_v[one] / np.linalg.norm(p.half_v[one], axis=1, keepdims=True)
    r, bearing = np.sqrt(even[:, 3:4]), 2.0 * np.pi * even[:, 4:5]
    way = r * np.cos(bearing) * side + r * np.sin(bearing) * other + np.sqrt(1.0 - r**2) * normal
    return origin, way, zone


def _reciprocal(exchange: Floats, area: Floats) -> Floats:
    """Scale symmetric exchange areas (z, z) so that each row adds up to the area of its zone, m²."""
    scale = np.ones(area.size)
    for _ in range(_ROUNDS):
        scale = np.sqrt(scale * area / np.maximum(exchange @ scale, 1e-12))
    found = scale[:, None] * exchange * scale[None, :]
    # What scaling cannot reach: too much is cut, what is missing a zone sees of itself.
    most = np.minimum(area / np.maximum(found.sum(axis=1), 1e-12), 1.0)
    found *= np.minimum(most[:, None], most[None, :])
    found[np.diag_indices(area.size)] += area - found.sum(axis=1)
    return found


class LocalRadiation:
    """What surfaces gain by what they see, beside what they do by the one radiant node.

    Parameters
    ----------
    plan : Plan
    grid : EnclosureGrid
    """

    def __init__(self, plan: Plan, grid: EnclosureGrid) -> None:
        zones = zones_of(plan, grid)
        p = grid.patches
        self._zone, self._count = zones.of_patch, zones.area_m2.size
        self._area = np.where(zones.of_patch >= 0, p.emissivity * p.area_m2, 0.0)
        mean = self._by_zone(self._area) / zones.area_m2
        # What comes to a zone is what others send: their own share, and what they reflect of what comes.
        reflecting = np.eye(self._count) - zones.seen * (1.0 - mean)[None, :]
        self._arriving = np.linalg.solve(reflecting, zones.seen / zones.area_m2[None, :])
        self._closed = p.node >= 0
        self._node = p.node

    def _by_zone(self, of_patch: Floats) -> Floats:
        found: Floats = np.bincount(np.maximum(self._zone, 0), of_patch, self._count).astype(np.float64)
        return found

    def beside_star(self, temperature_c: Floats, outside_c: Floats) -> tuple[Floats, float, float]:
        """What to add to the exchange with the one node.

        Parameters
        ----------
        temperature_c : (n,) float64
            Of all nodes, °C.
        outside_c : (p,) float64
            What stands behind each opening, °C; of other patches anything.

        Returns
        -------
        tuple of (p,) float64, float and float
            Heat to add to each patch, W: nothing to openings, and nothing in all; the temperature of the
            one node these hold for, °C; and what leaves through all openings, W.
        """
        of_patch = np.where(self._closed, temperature_c[self._node], outside_c) + KELVIN_AT_0_C
        emitted = self._area * STEFAN_BOLTZMANN_W_M2K4 * of_patch**4
        arriving = self._arriving @ self._by_zone(emitted)
        lost = emitted - self._area * arriving[self._zone]
        out = -float(np.sum(lost[~self._closed]))
        area = np.where(self._closed, self._area, 0.0)
        share = area / np.sum(area)
        star = (float(np.sum(emitted[self._closed])) - out) / float(np.sum(area))
        # By the one node each loses its emission less its share of what all do but for what leaves.
        by_star = np.where(
            self._closed, emitted - share * (float(np.sum(emitted[self._closed])) - out), 0.0
        )
        added = np.where(self._closed, by_star - lost, 0.0)
        return added, float((star / STEFAN_BOLTZMANN_W_M2K4) ** 0.25) - KELVIN_AT_0_C, out
