"""What a small thing inside the enclosure sees of its surfaces: shares of its whole view, by node."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.faces import face_parts
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.grids import Plate, SheetGrid
from noonshade.core.plan import FACES, Face, Hide, Plan
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Directions a point looks in: within 0.2 K of 4,000 at the places of the demo plans.
DIRECTIONS = 160
_CLEAR_M = 1e-6


@dataclass(frozen=True, slots=True)
class NodeMean:
    """A mean over nodes and the room: shares ``share`` (k,) of nodes ``node`` (k,), and of the room's air.

    All shares add up to 1.
    """

    node: Ints
    share: Floats
    room: float

    def at(self, temperature_c: Floats, room_c: float) -> float:
        """The mean, °C.

        Parameters
        ----------
        temperature_c : (n,) float64
            Of all nodes, °C.
        room_c : float
            Of the room, °C.

        Returns
        -------
        float
            The mean, °C.
        """
        return float(self.share @ temperature_c[self.node]) + self.room * room_c


# Enough for the places and probes of two plans.
_VIEWS = Remembered[NodeMean](64)


def even_directions(count: int = DIRECTIONS) -> Floats:
    """Directions (count, 3) evenly over the sphere.

    Parameters
    ----------
    count : int
        How many.

    Returns
    -------
    (count, 3) float64
        Unit vectors on a spiral of even area.
    """
    index = np.arange(count) + 0.5
    z = 1.0 - 2.0 * index / count
    bearing = index * math.pi * (1.0 + math.sqrt(5.0))
    r = np.sqrt(1.0 - z * z)
    return np.column_stack([r * np.cos(bearing), r * np.sin(bearing), z])


def view_from(plan: Plan, grid: EnclosureGrid, points: Floats, upwards: bool = False) -> NodeMean:
    """What is seen from points inside the enclosure, on the mean.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : EnclosureGrid
        Its nodes.
    points : (n, 3) float64
        Points, m.
    upwards : bool
        Only what is above the points.

    Returns
    -------
    NodeMean
        The mean view; the room is seen through mesh and open faces. Slabs and hides stand before what is
        behind them; branches and leaves do not. Temperatures are averaged, not their fourth powers: up to
        1.1 K less right above a hot slab.
    """
    air, floor = grid.air, grid.floor[0]
    cells = (grid.size, air.nx, air.nz, floor.nx, floor.ny, *(p.top.nx for p in grid.plates))
    return _VIEWS.get(
        (plan.enclosure, plan.furnishings, plan.substrate),
        (cells, points.tobytes(), upwards),
        lambda: _view(plan, grid, points, upwards),
    )


def _view(plan: Plan, grid: EnclosureGrid, points: Floats, upwards: bool) -> NodeMean:
    directions = even_directions(2 * DIRECTIONS if upwards else DIRECTIONS)
    if upwards:
        directions = directions[directions[:, 2] > 0.0]
    origin = np.repeat(points, len(directions), axis=0)
    way = np.tile(directions, (len(points), 1))
    strips = _strips(plan, grid)
    target, reach = _faces_met(plan, grid, strips, origin, way)
    for plate in grid.plates:
        _plate_met(plate, plan.substrate.depth_m, origin, way, target, reach)
    met = np.bincount(target, minlength=grid.size + strips.node.size) / target.size
    share, of_strips = met[: grid.size].copy(), met[grid.size :]
    np.add.at(share, strips.node, of_strips * strips.closed)
    room = float(of_strips @ strips.open)
    # The wires of a mesh are about as warm as everything inside.
    share[grid.star] += float(of_strips @ (1.0 - strips.closed - strips.open))
    seen = np.flatnonzero(share)
    return NodeMean(seen, share[seen], room)


class _Strips(NamedTuple):
    """Strips of all faces but the floor (s,): node, and shares that are sheet and that are open.

    ``first`` is the number of each face's first strip.
    """

    node: Ints
    closed: Floats
    open: Floats
    first: dict[Face, int]


def _strips(plan: Plan, grid: EnclosureGrid) -> _Strips:
    nodes, closed, opened = [], [], []
    first: dict[Face, int] = {}
    count = 0
    for face in FACES:
        if face == "floor":
            continue
        first[face] = count
        parts = face_parts(plan.enclosure, face, grid.air)
        size = parts[0][1].size
        sheet = np.minimum(sum((s for w, s in parts if w.material is not None), np.zeros(size)), 1.0)
        nodes.append(grid.wall_nodes.get(face, np.full(size, grid.star)))
        closed.append(sheet)
        free = sum((s * w.open_fraction for w, s in parts), np.zeros(size))
        opened.append(np.minimum(free, 1.0 - sheet))
        count += size
    return _Strips(np.concatenate(nodes), np.concatenate(closed), np.concatenate(opened), first)


def _faces_met(
    plan: Plan, grid: EnclosureGrid, strips: _Strips, origin: Floats, way: Floats
) -> tuple[Ints, Floats]:
    """Where rays (n, 3) leave the enclosure: a node of the ground, or a strip after the last node."""
    air = grid.air
    low = np.array([0.0, 0.0, plan.substrate.depth_m])
    high = np.array([plan.enclosure.length_m, plan.enclosure.depth_m, plan.enclosure.height_m])
    origin = np.clip(origin, low + _CLEAR_M, high - _CLEAR_M)
    with np.errstate(divide="ignore"):
        ways = np.where(way > 0.0, high - origin, low - origin) / np.where(way == 0.0, np.inf, way)
    ways = np.where(way == 0.0, np.inf, ways)
    axis = np.argmin(ways, axis=1)
    reach = ways[np.arange(axis.size), axis]
    at = origin + reach[:, None] * way
    i = np.clip(((at[:, 0] - air.x_edges[0]) / air.dx).astype(np.int64), 0, air.nx - 1)
    k = np.clip(((at[:, 2] - air.z_edges[0]) / air.dz).astype(np.int64), 0, air.nz - 1)
    beyond = grid.size + np.zeros(axis.size, dtype=np.int64)
    forwards = way[np.arange(axis.size), axis] > 0.0
    target = np.where(forwards, strips.first["right"], strips.first["left"]) + k
    sideways = np.where(forwards, strips.first["back"], strips.first["front"]) + i * air.nz + k
    target = np.where(axis == 1, sideways, target)
    target = beyond + np.where(axis == 2, strips.first["top"] + i, target)
    down = (axis == 2) & ~forwards
    target[down] = _cell(grid.floor[0], at[down])
    return target, reach


def _cell(sheet: SheetGrid, at: Floats) -> Ints:
    i = np.clip(((at[:, 0] - sheet.x_edges[0]) / sheet.dx).astype(np.int64), 0, sheet.nx - 1)
    j = np.clip(((at[:, 1] - sheet.y_edges[0]) / sheet.dy).astype(np.int64), 0, sheet.ny - 1)
    found: Ints = sheet.start + i * sheet.ny + j
    return found


def _plate_met(
    plate: Plate, ground: float, origin: Floats, way: Floats, target: Ints, reach: Floats
) -> None:
    """Let rays end at a slab or a hide they meet before anything else.

    The walls of a hide have no nodes of their own: they are taken as warm as its roof, outside and inside.
    """
    sheet = plate.top
    bottom = ground if isinstance(plate.item, Hide) else plate.bottom_m
    low = np.array([sheet.x_edges[0], sheet.y_edges[0], bottom])
    high = np.array([sheet.x_edges[-1], sheet.y_edges[-1], plate.bottom_m + plate.thickness_m])
    with np.errstate(divide="ignore", invalid="ignore"):
        one, other = (low - origin) / way, (high - origin) / way
    enter = np.max(np.fmin(one, other), axis=1)
    leave = np.min(np.fmax(one, other), axis=1)
    within = np.all((origin > low) & (origin < high), axis=1)
    met = ~within & (enter > _CLEAR_M) & (enter < leave) & (enter < reach)
    at = origin + enter[:, None] * way
    below = met & (way[:, 2] > 0.0) & (at[:, 2] < low[2] + _CLEAR_M)
    target[met] = _cell(plate.top, at[met])
    target[below] = _cell(plate.bottom, at[below])
    reach[met] = enter[met]
    # From inside a hide: its ground below, else its walls and roof.
    hidden = within & isinstance(plate.item, Hide)
    end = origin + leave[:, None] * way
    up = hidden & (end[:, 2] > low[2] + _CLEAR_M)
    target[up] = _cell(plate.bottom, end[up])
    reach[hidden] = np.minimum(reach, leave)[hidden]
