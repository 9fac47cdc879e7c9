"""What a small thing inside the enclosure sees of its surfaces: shares of its whole view, by node."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.rays import VisibleSurfaces, looks_of
from noonshade.core.plan import Plan
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Directions a point looks in: within 0.2 K of 4,000 at the places of the demo plans.
DIRECTIONS = 160


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


# Enough for the places and probes of four plans.
_VIEWS = Remembered[NodeMean](128)


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
    levels = len(grid.floor)
    cells = (grid.size, air.nx, air.nz, levels, floor.nx, floor.ny, *(p.top.nx for p in grid.plates))
    key = (looks_of(plan, grid), cells, points.tobytes(), upwards)
    return _VIEWS.get((), key, lambda: _view(plan, grid, points, upwards))


def _view(plan: Plan, grid: EnclosureGrid, points: Floats, upwards: bool) -> NodeMean:
    directions = even_directions(2 * DIRECTIONS if upwards else DIRECTIONS)
    if upwards:
        directions = directions[directions[:, 2] > 0.0]
    origin = np.repeat(points, len(directions), axis=0)
    way = np.tile(directions, (len(points), 1))
    surfaces = VisibleSurfaces(plan, grid)
    target, strips = surfaces.met(origin, way), surfaces.strips
    met = np.bincount(target, minlength=grid.size + strips.open.size) / target.size
    share, of_strips = met[: grid.size].copy(), met[grid.size :]
    closed = of_strips[strips.of_strip] * strips.closed
    np.add.at(share, strips.node, closed)
    room = float(of_strips @ strips.open)
    # The wires of a mesh, and what stands against one, are about as warm as everything inside.
    share[grid.star] += max(float(np.sum(of_strips) - np.sum(closed)) - room, 0.0)
    seen = np.flatnonzero(share)
    return NodeMean(seen, share[seen], room)
