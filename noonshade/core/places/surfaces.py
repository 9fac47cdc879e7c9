"""Surfaces an animal can reach: how hot the hottest spot of each is, and which of them is for basking."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.climate import Climate
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.grids import Plate, SheetGrid
from noonshade.core.phrase import named, named_first
from noonshade.core.plan import Face, Hide, Plan, Point, Water

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

GROUND = "ground"
# What an infrared thermometer averages over at a hand's distance: a disc this wide, m. Estimate.
SPOT_M = 0.04
# The hottest spot lies among cells that are within this of the hottest, K: spots are small beside beams.
NEARLY_K = 2.0
# An animal that does not climb touches walls up to this share of its length, snout to vent. Estimate.
REACH_SHARE = 0.5


@dataclass(frozen=True, slots=True)
class ReachableSurface:
    """The hottest spot of one thing an animal can reach, as an infrared thermometer reads it.

    ``thing_id`` is that of a furnishing, ``"ground"``, or ``"wall:left"`` and so on; ``depth_m`` is below
    the surface of the ground.
    """

    thing_id: str
    label: str
    position_m: Point
    temperature_c: float
    depth_m: float = 0.0


def reachable_surfaces(climate: Climate) -> tuple[ReachableSurface, ...]:
    """The hottest spot of everything the animal can reach, the hottest first.

    The ground and the ground in hides, slabs, roofs of hides, branches, and walls: all of them for a
    climber, as high as it reaches for others. For a burrower the ground down to its bottom.

    Parameters
    ----------
    climate : Climate
        The climate of a moment.

    Returns
    -------
    tuple[ReachableSurface, ...]
        At least the ground.
    """
    return tuple(sorted(_all(climate), key=lambda s: -s.temperature_c))


def _all(climate: Climate) -> Iterator[ReachableSurface]:
    yield from _ground(climate)
    for plate in climate.grid.plates:
        x, y, hottest = hottest_patch(plate.top, climate.sheet_c(plate.top), SPOT_M)
        label = (
            f"The roof of {named(plate.item.label)}"
            if isinstance(plate.item, Hide)
            else named_first(plate.item.label)
        )
        top = plate.bottom_m + plate.thickness_m
        yield ReachableSurface(plate.item.id, label, (x, y, top), hottest)
    for rod in climate.grid.rods:
        around = climate.temperature_c[rod.nodes].max(axis=1)
        piece = int(np.argmax(around))
        x, y, _ = rod.centres[piece].tolist()
        at = (float(x), float(y), float(rod.top_m[piece]))
        yield ReachableSurface(rod.item.id, named_first(rod.item.label), at, float(around[piece]))
    yield from _walls(climate)


def _ground(climate: Climate) -> Iterator[ReachableSurface]:
    plan, grid = climate.plan, climate.grid
    surface = grid.floor[0]
    free = reachable_ground(grid)
    if not np.any(free):
        return
    levels = list(zip(grid.floor, grid.floor_depths_m, strict=True))
    for sheet, depth in levels if plan.animal.digs else levels[:1]:
        warm = np.where(free, climate.sheet_c(sheet), -np.inf)
        i, j = np.unravel_index(int(np.argmax(warm)), warm.shape)
        at = (float(surface.x[i]), float(surface.y[j]), plan.substrate.depth_m - depth)
        label = _ground_label(plan, at)
        yield ReachableSurface(GROUND, label, at, float(warm[i, j]), depth)


def _ground_label(plan: Plan, at: Point) -> str:
    for item in plan.furnishings:
        inside = (
            isinstance(item, Hide | Water)
            and abs(at[0] - item.x_m) < item.length_m / 2
            and abs(at[1] - item.y_m) < item.width_m / 2
        )
        if inside:
            return (
                f"The ground in {named(item.label)}" if isinstance(item, Hide) else named_first(item.label)
            )
    return "The ground"


def reachable_ground(grid: EnclosureGrid) -> NDArray[np.bool_]:
    """Which cells (nx, ny) of the ground are not covered by something that lies on it.

    Parameters
    ----------
    grid : EnclosureGrid
        The grid of the enclosure.

    Returns
    -------
    (nx, ny) bool
        True where an animal can get to.
    """
    floor = grid.floor[0]
    free = np.ones((floor.nx, floor.ny), dtype=bool)
    for plate in grid.plates:
        if plate.support is not None:
            x0, x1, y0, y1 = plate.support
            covered = np.outer((floor.x > x0) & (floor.x < x1), (floor.y > y0) & (floor.y < y1))
            free &= ~covered
    return free


def _walls(climate: Climate) -> Iterator[ReachableSurface]:
    plan, grid = climate.plan, climate.grid
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    reach = enclosure.height_m if plan.animal.climbs else ground + REACH_SHARE * plan.animal.body_length_m
    for sheet in grid.sheets:
        if sheet.face == "top":
            continue
        cell = sheet.cell
        x, z = grid.air.x[cell // grid.air.nz], grid.air.z[cell % grid.air.nz]
        low = z - grid.air.dz / 2 <= reach
        if not np.any(low):
            continue
        warm = np.where(low, climate.temperature_c[sheet.node], -np.inf)
        k = int(np.argmax(warm))
        at = _on_wall(plan, sheet.face, float(x[k]), float(z[k]))
        yield ReachableSurface(f"wall:{sheet.face}", f"The {sheet.face} wall", at, float(warm[k]))


def _on_wall(plan: Plan, face: Face, x: float, z: float) -> Point:
    length, depth = plan.enclosure.length_m, plan.enclosure.depth_m
    if face in ("left", "right"):
        return (0.0 if face == "left" else length, depth / 2, z)
    return (x, 0.0 if face == "front" else depth, z)


# -- basking ----------------------------------------------------------------------------


def basking_offers(climate: Climate) -> tuple[ReachableSurface, ...]:
    """Surfaces that are for basking: slabs so marked, else all that can be stood on, the hottest first.

    Parameters
    ----------
    climate : Climate
        The climate by day.

    Returns
    -------
    tuple[ReachableSurface, ...]
        The hottest spot of each; at least the ground.
    """
    found = [
        s for s in reachable_surfaces(climate) if not s.thing_id.startswith("wall:") and s.depth_m == 0
    ]
    marked = {s.id for s in climate.plan.basking_slabs}
    own = tuple(s for s in found if s.thing_id in marked)
    return own or tuple(found)


def basking_offer(climate: Climate) -> ReachableSurface:
    """The surface an animal basks on: the warmest in the wanted range, else the hottest of all.

    Parameters
    ----------
    climate : Climate
        The climate by day.

    Returns
    -------
    ReachableSurface
        The hottest spot of that surface; the hottest of all where the species wants no basking.
    """
    offers = basking_offers(climate)
    wanted = climate.plan.animal.need("basking", "surface_temperature")
    if wanted is None:
        return offers[0]
    low = -np.inf if wanted.low is None else wanted.low
    high = np.inf if wanted.high is None else wanted.high
    return next((s for s in offers if low <= s.temperature_c <= high), offers[0])


def hottest_patch(sheet: SheetGrid, surface_c: Floats, size_m: float) -> tuple[float, float, float]:
    """Centre (x, y) and mean temperature of the hottest disc of a diameter on a sheet.

    Centres are so far from the edge that the disc fits, or in the middle if it cannot.

    Parameters
    ----------
    sheet : SheetGrid
        The sheet.
    surface_c : Floats
        Surface temperature, °C.
    size_m : float
        Size, m.

    Returns
    -------
    tuple[float, float, float]
        x and y of the centre, m, and the temperature, °C.
    """
    x = _clear_of_edges(sheet.x_edges, size_m)
    y = _clear_of_edges(sheet.y_edges, size_m)
    # Only near cells that are nearly as hot as the hottest.
    hot = surface_c >= surface_c.max() - NEARLY_K
    x = _within(x, sheet.x[hot.any(axis=1)], sheet.dx)
    y = _within(y, sheet.y[hot.any(axis=0)], sheet.dy)
    cx, cy = (grid.ravel() for grid in np.meshgrid(x, y, indexing="ij"))
    weight = disc_weights(sheet, cx, cy, size_m)
    mean = weight @ surface_c.ravel() / weight.sum(axis=1)
    # Equal within rounding on a symmetric slab: take the centroid of the best candidates.
    best = np.flatnonzero(mean >= mean.max() - 1e-3)
    return float(cx[best].mean()), float(cy[best].mean()), float(mean.max())


def disc_weights(sheet: SheetGrid, x_m: Floats, y_m: Floats, size_m: float) -> Floats:
    """How much each cell of a sheet counts in discs of a diameter, (discs, cells).

    A cell counts by how far a disc reaches across it, so that means move smoothly; the nearest cell always.

    Parameters
    ----------
    sheet : SheetGrid
        The sheet.
    x_m, y_m : (n,) float64
        Centres of the discs, m.
    size_m : float
        Diameter, m.

    Returns
    -------
    (n, nx · ny) float64
        Weights, of which those of each disc sum to more than 0.
    """
    gx, gy = np.meshgrid(sheet.x, sheet.y, indexing="ij")
    distance = np.hypot(x_m[:, None] - gx.ravel(), y_m[:, None] - gy.ravel())
    weight: Floats = np.clip((size_m / 2 - distance) / max(sheet.dx, sheet.dy) + 0.5, 0.0, 1.0)
    weight += 1e-9 * (distance == distance.min(axis=1, keepdims=True))
    return weight


def _within(middles: Floats, cells: Floats, cell_m: float) -> Floats:
    """Middles of discs no more than a cell beyond some cells; the nearest one where there is none."""
    low, high = cells.min() - cell_m, cells.max() + cell_m
    chosen: Floats = middles[(middles >= low) & (middles <= high)]
    if chosen.size:
        return chosen
    nearest = int(np.argmin(np.abs(middles - (low + high) / 2)))
    return np.array([float(middles[nearest])])


def _clear_of_edges(edges: Floats, size_m: float) -> Floats:
    low, high = float(edges[0]) + size_m / 2, float(edges[-1]) - size_m / 2
    if low >= high:
        return np.array([(low + high) / 2])
    return np.linspace(low, high, 2 * int(edges.size // 2) + 1)


def spot_nodes(grid: EnclosureGrid, thing_id: str, at: Point) -> tuple[Ints, Floats]:
    """Nodes and weights of a spot on a surface, as an infrared thermometer reads it.

    Parameters
    ----------
    grid : EnclosureGrid
        The grid, which may be another than the spot was found on.
    thing_id : str
        As that of a ``ReachableSurface``.
    at : Point
        The middle of the spot, m.

    Returns
    -------
    tuple of (k,) int and (k,) float64
        Nodes, and weights that sum to 1.
    """
    for rod in grid.rods:
        if rod.item.id == thing_id:
            return rod.nodes[rod.nearest(*at)][:1], np.ones(1)
    plate: Plate | None = grid.plate_of(thing_id)
    sheet = grid.floor[0] if plate is None else plate.top
    size = SPOT_M if plate is not None else 0.0
    weight = disc_weights(sheet, np.array([at[0]]), np.array([at[1]]), size)[0]
    return sheet.nodes.ravel(), weight / weight.sum()
