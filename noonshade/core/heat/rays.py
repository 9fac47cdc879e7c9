"""Which surface a ray inside the enclosure meets first."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.faces import face_parts, strips
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.grids import Plate, SheetGrid
from noonshade.core.plan import FACES, Face, Hide, Plan, Wall

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_CLEAR_M = 1e-6


class Strips(NamedTuple):
    """Strips of all faces but the floor: the share of each that is open (s,), and what is closed of them.

    ``node`` (m,) are the nodes of closed parts, with the strip each is in and the share it has of that.
    ``first`` is the number of each face's first strip.
    """

    open: Floats
    node: Ints
    of_strip: Ints
    closed: Floats
    first: dict[Face, int]


class VisibleSurfaces:
    """What rays inside an enclosure meet first.

    Slabs and hides stand before what is behind them; branches and leaves do not.

    Parameters
    ----------
    plan : Plan
    grid : EnclosureGrid
    """

    def __init__(self, plan: Plan, grid: EnclosureGrid) -> None:
        self._plan, self._grid = plan, grid
        self.strips = _strips_of(plan, grid)

    def met(self, origin: Floats, way: Floats) -> Ints:
        """What rays meet.

        Parameters
        ----------
        origin, way : (n, 3) float64
            Where they begin, m, and their directions.

        Returns
        -------
        (n,) int
            A node of ground, slab or hide; or the size of the grid and the number of a strip of ``strips``.
        """
        target, reach = _faces_met(self._plan, self._grid, self.strips, origin, way)
        for plate in self._grid.plates:
            _plate_met(plate, self._plan.substrate.depth_m, origin, way, target, reach)
        return target

    def in_slab(self, points: Floats) -> NDArray[np.bool_]:
        """Whether points lie inside a slab, where nothing is seen.

        Parameters
        ----------
        points : (n, 3) float64
            Points, m.

        Returns
        -------
        (n,) bool
        """
        found = np.zeros(len(points), dtype=np.bool_)
        for plate in self._grid.plates:
            if not isinstance(plate.item, Hide):
                low, high = _box_of(plate, self._plan.substrate.depth_m)
                found |= np.all((points > low) & (points < high), axis=1)
        return found


def _strips_of(plan: Plan, grid: EnclosureGrid) -> Strips:
    opened = []
    first: dict[Face, int] = {}
    count = 0
    for face in FACES:
        if face == "floor":
            continue
        first[face] = count
        parts = face_parts(plan.enclosure, face, grid.air)
        size = parts[0].share.size
        opened.append(
            sum((p.share * plan.enclosure.open_share(face, p.wall) for p in parts), np.zeros(size))
        )
        count += size
    none = np.zeros(0, dtype=np.int64)
    node = np.concatenate([none, *(s.node for s in grid.sheets)])
    of_strip = np.concatenate([none, *(first[s.face] + s.strip for s in grid.sheets)])
    area = np.concatenate([strips(face, grid.air)[1] for face in first])
    closed = np.concatenate([np.zeros(0), *(s.area_m2 for s in grid.sheets)]) / area[of_strip]
    return Strips(np.concatenate(opened), node, of_strip, closed, first)


def _faces_met(
    plan: Plan, grid: EnclosureGrid, of_faces: Strips, origin: Floats, way: Floats
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
    target = np.where(forwards, of_faces.first["right"], of_faces.first["left"]) + k
    sideways = np.where(forwards, of_faces.first["back"], of_faces.first["front"]) + i * air.nz + k
    target = np.where(axis == 1, sideways, target)
    target = beyond + np.where(axis == 2, of_faces.first["top"] + i, target)
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
    low, high = _box_of(plate, ground)
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


def looks_of(plan: Plan, grid: EnclosureGrid) -> tuple[object, ...]:
    """All that rays meet, to tell whether two plans look alike: not what things are made of.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : EnclosureGrid
        Its nodes.

    Returns
    -------
    tuple
        Sizes, what is open of each face, and slabs and hides by their corners.
    """
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    size = (enclosure.length_m, enclosure.depth_m, enclosure.height_m, ground)

    def passing(face: Face, wall: Wall) -> tuple[bool, float]:
        return wall.material is None, enclosure.open_share(face, wall)

    faces = tuple((face, *passing(face, wall)) for face, wall in enclosure.walls.items())
    insets = tuple(
        (i.face, i.x0_m, i.y0_m, i.x1_m, i.y1_m, *passing(i.face, i.wall)) for i in enclosure.insets
    )
    boxes = [(p, *_box_of(p, ground)) for p in grid.plates]
    things = tuple((*low.tolist(), *high.tolist(), isinstance(p.item, Hide)) for p, low, high in boxes)
    return size, faces, insets, things


def _box_of(plate: Plate, ground: float) -> tuple[Floats, Floats]:
    """Lowest and highest corner of a slab, or of a hide down to the ground, m."""
    sheet = plate.top
    bottom = ground if isinstance(plate.item, Hide) else plate.bottom_m
    low = np.array([sheet.x_edges[0], sheet.y_edges[0], bottom])
    high = np.array([sheet.x_edges[-1], sheet.y_edges[-1], plate.bottom_m + plate.thickness_m])
    return low, high
