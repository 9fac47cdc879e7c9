"""The places a keeper assesses, and what the model says about each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.climate import Climate
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.grids import SheetGrid, overlap
from noonshade.core.heat.ground import in_ground
from noonshade.core.heat.operative import WarmPatch, operative_temperature, warm_patch
from noonshade.core.heat.probe_reading import shaded_reading
from noonshade.core.heat.seen import NodeMean, view_from
from noonshade.core.light.exposure import exposure_class
from noonshade.core.light.field import LightAtPoints, Scene
from noonshade.core.moisture.burrow import burrow_vapour
from noonshade.core.moisture.vapour import humidity_at, moist_hide_vapour
from noonshade.core.needs.species import PlaceKind
from noonshade.core.places.ends import (
    END_SHARE,
    LEAST_PROBE_M,
    cool_side,
    end_air,
    end_points,
    warm_side,
)
from noonshade.core.places.perches import LevelPoints, level_points
from noonshade.core.places.surfaces import GROUND, basking_offer, spot_nodes
from noonshade.core.places.uv_refuge import find_uv_refuge
from noonshade.core.plan import Hide, Plan, Point, Water

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Where a burrower rests: this share of the way down into the ground. Estimate.
BURROW_SHARE = 0.75


@dataclass(frozen=True, slots=True)
class PlaceFigures:
    """What the model computes at one place. None where a figure has no meaning there.

    ``air_c`` is that of the air; ``probe_c`` what a shaded probe reads, which also sees surfaces: needs
    speak of it, since keepers measure with one. At an end or a level it is the mean over the places an
    animal can reach. ``operative_c`` is what a body as long as the animal would settle at there.
    ``surface_c`` at the basking spot is what an infrared thermometer reads at its hottest;
    ``surface_mean_c`` and ``surface_max_c`` are of the whole slab. ``thing_id`` is what the place is on, as
    ``ReachableSurface`` has it, empty where it is on nothing in particular.
    """

    id: str
    label: str
    kind: PlaceKind
    position_m: Point
    uvi_level: float | None
    uvi_facing: float | None
    irradiance_w_m2: float | None
    illuminance_lx: float | None
    ppfd_umol_m2_s: float | None
    exposure_class: int | None
    air_c: float
    probe_c: float
    surface_c: float | None
    surface_mean_c: float | None
    surface_max_c: float | None
    relative_humidity: float
    operative_c: float
    thing_id: str = ""


@dataclass(frozen=True, slots=True)
class Spot:
    """Where a place is: the point its light is taken at, and the surface its figures are of."""

    id: str
    label: str
    kind: PlaceKind
    position_m: Point
    thing_id: str = ""


def place_figures(climate: Climate, scene: Scene) -> tuple[PlaceFigures, ...]:
    """Figures of the basking spot, ends or levels, burrow, water and hides, in the climate and light given.

    Parameters
    ----------
    climate : Climate
        The climate.
    scene : Scene
        The lit scene, None to build it.

    Returns
    -------
    tuple[PlaceFigures, ...]
        The figures, one entry for each place.
    """
    spots = _spots(climate, scene)
    light = scene.at(np.array([s.position_m for s in spots]))
    return tuple(_figures(climate, spot, light, i) for i, spot in enumerate(spots))


def _figures(climate: Climate, spot: Spot, light: LightAtPoints, i: int) -> PlaceFigures:
    plan, grid, temperature = climate.plan, climate.grid, climate.temperature_c
    where = measured_at(plan, grid, spot)
    air = where.air.at(temperature, climate.room_c)
    surface = None if where.surface is None else where.surface.at(temperature, climate.room_c)
    mean = most = None
    if spot.kind == "basking":
        sheet = _sheet_of(grid, spot.thing_id)
        if sheet is not None:
            whole = climate.sheet_c(sheet)
            mean, most = float(np.mean(whole)), float(np.max(whole))
    above = view_from(plan, grid, where.points, upwards=True)
    # In the ground it is dark, whatever shines on it.
    lit = 0.0 if spot.kind == "burrow" else 1.0
    facing = lit * float(light.irradiance_facing_w_m2[i])
    operative = operative_temperature(
        air,
        air if surface is None else surface,
        above.at(temperature, climate.room_c),
        facing,
        plan.animal.body_length_m,
    )
    return PlaceFigures(
        id=spot.id,
        label=spot.label,
        kind=spot.kind,
        position_m=spot.position_m,
        uvi_level=lit * float(light.uvi_level[i]),
        uvi_facing=lit * float(light.uvi_facing[i]),
        irradiance_w_m2=lit * float(light.irradiance_level_w_m2[i]),
        illuminance_lx=lit * float(light.illuminance_level_lx[i]),
        ppfd_umol_m2_s=lit * float(light.ppfd_umol_m2_s[i]),
        exposure_class=exposure_class(lit * float(light.uvi_facing[i])),
        air_c=air,
        probe_c=where.probe.at(temperature, climate.room_c),
        surface_c=surface,
        surface_mean_c=mean,
        surface_max_c=most,
        relative_humidity=humidity_at(_vapour(climate, spot, surface), air),
        operative_c=air if spot.kind in ("burrow", "water") else operative,
        thing_id=spot.thing_id,
    )


def _vapour(climate: Climate, spot: Spot, surface_c: float | None) -> float:
    vapour = climate.moisture.vapour_kg_m3
    ground = climate.plan.substrate
    burrow = next((b for b in ground.burrows if b.id == spot.id), None)
    if burrow is not None and surface_c is not None:
        wetness = ground.wetness_at(burrow.x_m, burrow.y_m, burrow.depth_m)
        return burrow_vapour(burrow.diameter_m, burrow.run_m, wetness, surface_c, vapour)
    hide = next((h for h in climate.plan.hides if h.id == spot.id), None)
    if hide is None or not hide.moist or surface_c is None:
        return vapour
    return moist_hide_vapour(hide, surface_c, vapour)


# -- where each place is measured ---------------------------------------------------------


@dataclass(frozen=True, slots=True)
class MeasuredAt:
    """Nodes of a grid that a place's figures are means of; ``points`` (n, 3) where a probe would lie, m."""

    points: Floats
    air: NodeMean
    probe: NodeMean
    surface: NodeMean | None


def measured_at(plan: Plan, grid: EnclosureGrid, spot: Spot | PlaceFigures) -> MeasuredAt:
    """What the air, the probe reading and the surface of a place are means of.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : EnclosureGrid
        Its nodes, at any resolution.
    spot : Spot | PlaceFigures
        The place.

    Returns
    -------
    MeasuredAt
        Means over nodes of that grid; the surface None where the place has none.
    """
    x, _, z = spot.position_m
    at = np.array([spot.position_m], dtype=np.float64)
    if spot.kind in ("warm_end", "cool_end"):
        side = warm_side(plan) if spot.kind == "warm_end" else cool_side(plan)
        points = end_points(plan, side)
        floor, width = grid.floor[0], plan.enclosure.length_m * END_SHARE
        mine = floor.x < width if side == "left" else floor.x > plan.enclosure.length_m - width
        under = floor.nodes[mine].ravel()
        air = _air(grid, *end_air(plan, side))
        return MeasuredAt(
            points, air, shaded_reading(plan, grid, points), _mean(under, np.ones(under.size))
        )
    if spot.kind in ("upper", "middle", "lower"):
        level = next(one for one in level_points(plan) if one.level == spot.kind)
        points = level.points
        air = _air(grid, points[:, 0], points[:, 2])
        return MeasuredAt(points, air, shaded_reading(plan, grid, points), _perches(grid, level))
    if spot.kind == "burrow":
        depth = max(plan.substrate.depth_m - z, 0.0)
        if any(burrow.id == spot.id for burrow in plan.substrate.burrows):
            there = in_ground(grid, plan.substrate, x, float(at[0, 1]), depth)
        else:
            there = _deep_in(plan, grid, depth)
        return MeasuredAt(at, there, there, there)
    air = _air(grid, np.array([x]), np.array([z]))
    read = shaded_reading(plan, grid, at)
    hide = next((h for h in plan.hides if h.id == spot.id), None)
    if hide is not None:
        floor = grid.floor[0]
        return MeasuredAt(at, air, read, _mean(floor.nodes.ravel(), floor_under(hide, floor).ravel()))
    pool = next((w for w in plan.waters if spot.kind == "water" and w.id == spot.thing_id), None)
    if pool is not None:
        floor = grid.floor[0]
        surface = _mean(floor.nodes.ravel(), floor_under(pool, floor).ravel())
        return MeasuredAt(at, surface, surface, surface)
    if not spot.thing_id:
        return MeasuredAt(at, air, read, None)
    return MeasuredAt(at, air, read, _mean(*spot_nodes(grid, spot.thing_id, spot.position_m)))


def _deep_in(plan: Plan, grid: EnclosureGrid, depth_m: float) -> NodeMean:
    """The ground of the cool end at a depth."""
    floor, width = grid.floor[0], plan.enclosure.length_m * END_SHARE
    left = cool_side(plan) == "left"
    columns = np.flatnonzero(floor.x < width if left else floor.x > plan.enclosure.length_m - width)
    cells = [
        in_ground(grid, plan.substrate, float(floor.x[i]), float(y), depth_m)
        for i in columns
        for y in floor.y
    ]
    return _mean(np.concatenate([c.node for c in cells]), np.concatenate([c.share for c in cells]))


def _air(grid: EnclosureGrid, x_m: Floats, z_m: Floats) -> NodeMean:
    nodes, weights = grid.air.interpolation(x_m, z_m)
    return _mean(nodes.ravel(), weights.ravel())


def _mean(nodes: Ints, weights: Floats) -> NodeMean:
    used = weights > 0.0
    return NodeMean(nodes[used], weights[used] / np.sum(weights[used]), 0.0)


def _perches(grid: EnclosureGrid, level: LevelPoints) -> NodeMean | None:
    """Upper sides of the perches of a level; the ground for the lower one, beside its perches."""
    nodes, weights = [], []
    things = {p.thing_id for p in level.perches}
    for rod in (r for r in grid.rods if r.item.id in things):
        here = (rod.top_m >= level.low_m - 1e-9) & (rod.top_m < level.high_m + 1e-9)
        nodes.append(rod.nodes[here, 0])
        weights.append(np.full(int(np.sum(here)), rod.piece_m))
    for plate in (p for p in grid.plates if p.item.id in things):
        cells = plate.top.nodes.ravel()
        nodes.append(cells)
        weights.append(np.full(cells.size, plate.item.length_m / cells.size))
    if level.level == "lower":
        ground = grid.floor[0].nodes.ravel()
        nodes.append(ground)
        weights.append(np.full(ground.size, float(grid.air.x_edges[-1]) / ground.size))
    if not nodes or not sum(w.size for w in weights):
        return None
    return _mean(np.concatenate(nodes), np.concatenate(weights))


def _sheet_of(grid: EnclosureGrid, thing_id: str) -> SheetGrid | None:
    if thing_id == GROUND:
        return grid.floor[0]
    plate = grid.plate_of(thing_id)
    return None if plate is None else plate.top


# -- which places there are ---------------------------------------------------------------


def _spots(climate: Climate, scene: Scene) -> list[Spot]:
    plan = climate.plan
    spots: list[Spot] = []
    if plan.basking_slab is not None or plan.animal.need("basking", "surface_temperature") is not None:
        spots.append(_basking(climate))
    if plan.animal.lives_by_height:
        spots += [_level(level) for level in level_points(plan)]
    else:
        spots += [_end(plan, "warm_end", "Warm end"), _end(plan, "cool_end", "Cool end")]
    spots += _burrows(plan)
    if {"aquatic", "half aquatic"} & set(plan.animal.habits) and plan.waters:
        pool = max(plan.waters, key=lambda w: w.length_m * w.width_m * w.depth_m)
        spots.append(Spot("water", pool.label, "water", _over(plan, pool), pool.id))
    spots += [_in_hide(plan, hide) for hide in plan.hides]
    if not plan.hides:
        spots.append(Spot("darkest", "UV refuge", "uv_refuge", find_uv_refuge(plan, scene)))
    return spots


def _basking(climate: Climate) -> Spot:
    offer = basking_offer(climate)
    x, y, z = offer.position_m
    back = min(z + climate.plan.animal.back_height_m, climate.plan.enclosure.height_m - 1e-3)
    return Spot("basking", "Basking spot", "basking", (x, y, back), offer.thing_id)


def _end(plan: Plan, kind: PlaceKind, label: str) -> Spot:
    side = warm_side(plan) if kind == "warm_end" else cool_side(plan)
    width = plan.enclosure.length_m * END_SHARE
    middle = width / 2 if side == "left" else plan.enclosure.length_m - width / 2
    back = plan.substrate.depth_m + plan.animal.back_height_m
    return Spot(kind, label, kind, (middle, plan.enclosure.depth_m / 2, back), GROUND)


def _level(level: LevelPoints) -> Spot:
    """The seat of a level nearest to the middle of all its seats."""
    # The seats come first among the points of a level.
    seats = level.points[: level.seats] if level.seats else level.points
    nearest = int(np.argmin(np.linalg.norm(seats - seats.mean(axis=0), axis=1)))
    x, y, z = seats[nearest].tolist()
    return Spot(level.level, level.label, level.level, (float(x), float(y), float(z)))


def _burrows(plan: Plan) -> list[Spot]:
    """Those that are planned; without any, where an animal that digs will have one."""
    ground = plan.substrate
    if ground.burrows:
        surface = ground.depth_m
        return [Spot(b.id, b.label, "burrow", (b.x_m, b.y_m, surface - b.depth_m)) for b in ground.burrows]
    if not plan.animal.digs or ground.depth_m < 2.0 * plan.animal.back_height_m:
        return []
    return [_burrow(plan)]


def _burrow(plan: Plan) -> Spot:
    """Deep in the ground of the cool end, where a burrower goes to be safe."""
    length, depth = plan.enclosure.length_m, plan.substrate.depth_m
    x = (1.0 - END_SHARE / 2) * length if cool_side(plan) == "right" else END_SHARE / 2 * length
    return Spot("burrow", "Burrow", "burrow", (x, plan.enclosure.depth_m / 2, (1 - BURROW_SHARE) * depth))


def _over(plan: Plan, pool: Water) -> Point:
    return (pool.x_m, pool.y_m, plan.substrate.depth_m + LEAST_PROBE_M)


def _in_hide(plan: Plan, hide: Hide) -> Spot:
    back = min(plan.animal.back_height_m, 0.9 * (hide.height_m - hide.wall_m))
    return Spot(hide.id, hide.label, "uv_refuge", (hide.x_m, hide.y_m, plan.substrate.depth_m + back))


def floor_under(item: Hide | Water, floor: SheetGrid) -> Floats:
    """Weights (nx, ny) of the floor's cells in the mean over the ground of a hide or pool.

    Parameters
    ----------
    item : Hide | Water
        The hide, or the pool.
    floor : SheetGrid
        The floor.

    Returns
    -------
    Floats
        The weights (nx, ny), which sum to 1.
    """
    along = overlap(floor.x_edges, item.x_m - item.length_m / 2, item.x_m + item.length_m / 2)
    across = overlap(floor.y_edges, item.y_m - item.width_m / 2, item.y_m + item.width_m / 2)
    area: Floats = np.outer(along, across)
    return area / np.sum(area)


def basking_patch(
    climate: Climate, above_c: float | None = None, thing_id: str | None = None
) -> WarmPatch | None:
    """The part of the basking surface that is warm enough, by default for what the species wants of it.

    None on a branch, or without a need to go by.

    Parameters
    ----------
    climate : Climate
        The climate.
    above_c : float | None
        Temperature a surface must exceed to count, °C.
    thing_id : str | None
        What the animal basks on, None to find it.

    Returns
    -------
    WarmPatch | None
        The warm part and its sizes, or None without a flat basking surface.
    """
    if above_c is None:
        wanted = climate.plan.animal.need("basking", "surface_temperature")
        above_c = None if wanted is None else wanted.low
    if above_c is None:
        return None
    sheet = _sheet_of(climate.grid, thing_id or basking_offer(climate).thing_id)
    return None if sheet is None else warm_patch(sheet, climate.sheet_c(sheet), above_c)
