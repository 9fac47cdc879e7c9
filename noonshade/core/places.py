"""The places a keeper assesses, and what the model says about each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.climate import Climate
from noonshade.core.heat.grids import Plate, SheetGrid, overlap
from noonshade.core.heat.operative import WarmPatch, operative_temperature, warm_patch
from noonshade.core.heat.probe_reading import shaded_reading
from noonshade.core.heat.seen import view_from
from noonshade.core.light.exposure import exposure_class
from noonshade.core.light.field import LightAtPoints, Scene
from noonshade.core.light.uv_refuge import find_uv_refuge
from noonshade.core.moisture.vapour import humidity_at, moist_hide_vapour
from noonshade.core.needs.species import PlaceKind
from noonshade.core.plan import Hide, Plan, Point, Slab

Floats = NDArray[np.float64]

# Air at an end: mean over the outer quarter of the length, this high above the substrate, give or take.
END_HEIGHT_M = 0.10
END_HEIGHT_SPREAD_M = 0.05
END_SHARE = 0.25
# Where probes lie at an end: columns and rows of points over its ground, and their least height, m.
# Estimates.
END_POINTS = (4, 3)
LEAST_PROBE_M = 0.02


@dataclass(frozen=True, slots=True)
class PlaceFigures:
    """What the model computes at one place. None where a figure has no meaning there.

    ``air_c`` is that of the air; ``probe_c`` what a shaded probe reads, which also sees surfaces: needs
    speak of it, since keepers measure with one. At an end it is the mean over the places an animal can
    reach. ``operative_c`` is what a body as long as the animal would settle at there.
    ``surface_c`` at the basking spot is the mean over a disc as wide as the animal is long, where
    the slab is hottest; ``surface_mean_c`` and ``surface_max_c`` are of the whole slab.
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


@dataclass(frozen=True, slots=True)
class _Spot:
    id: str
    label: str
    kind: PlaceKind
    position: Point
    points: Floats
    air_c: float
    surface_c: float | None
    surface_mean_c: float | None = None
    surface_max_c: float | None = None


def place_figures(climate: Climate, scene: Scene) -> tuple[PlaceFigures, ...]:
    """Figures of the basking spot, both ends and every hide, at the moment and in the light given.

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
    points = np.array([s.position for s in spots])
    light = scene.at(points)
    return tuple(_figures(climate, spot, light, i) for i, spot in enumerate(spots))


def _figures(climate: Climate, spot: _Spot, light: LightAtPoints, i: int) -> PlaceFigures:
    plan, grid = climate.plan, climate.grid
    read = shaded_reading(plan, grid, spot.points).at(climate.temperature_c, climate.room_c)
    above = view_from(plan, grid, spot.points, upwards=True)
    return PlaceFigures(
        id=spot.id,
        label=spot.label,
        kind=spot.kind,
        position_m=spot.position,
        uvi_level=float(light.uvi_level[i]),
        uvi_facing=float(light.uvi_facing[i]),
        irradiance_w_m2=float(light.irradiance_level_w_m2[i]),
        illuminance_lx=float(light.illuminance_level_lx[i]),
        ppfd_umol_m2_s=float(light.ppfd_umol_m2_s[i]),
        exposure_class=exposure_class(float(light.uvi_facing[i])),
        air_c=spot.air_c,
        probe_c=read,
        surface_c=spot.surface_c,
        surface_mean_c=spot.surface_mean_c,
        surface_max_c=spot.surface_max_c,
        relative_humidity=humidity_at(_vapour(climate, spot), spot.air_c),
        operative_c=operative_temperature(
            spot.air_c,
            spot.air_c if spot.surface_c is None else spot.surface_c,
            above.at(climate.temperature_c, climate.room_c),
            float(light.irradiance_facing_w_m2[i]),
            climate.plan.animal.body_length_m,
        ),
    )


def _vapour(climate: Climate, spot: _Spot) -> float:
    hide = next((h for h in climate.plan.hides if h.id == spot.id), None)
    vapour = climate.moisture.vapour_kg_m3
    if hide is None or not hide.moist or spot.surface_c is None:
        return vapour
    return moist_hide_vapour(hide, spot.surface_c, vapour)


def warm_side(plan: Plan) -> str:
    """'left' or 'right': the end with the basking slab, else with the mean heater position.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    str
        'left' or 'right'.
    """
    middle = plan.enclosure.length_m / 2
    slab = plan.basking_slab
    if slab is not None:
        return "left" if slab.x_m <= middle else "right"
    weight = sum(f.power_w for f in plan.fixtures)
    if weight <= 0:
        return "left"
    mean = sum(f.power_w * f.position_m[0] for f in plan.fixtures) / weight
    return "left" if mean <= middle else "right"


def _spots(climate: Climate, scene: Scene) -> list[_Spot]:
    plan = climate.plan
    spots: list[_Spot] = []
    slab = plan.basking_slab
    if slab is not None:
        plate = climate.grid.plate_of(slab.id)
        assert plate is not None
        spots.append(_basking(climate, plate))
    warm = warm_side(plan)
    spots.append(_end(climate, "warm_end", "Warm end", warm))
    spots.append(_end(climate, "cool_end", "Cool end", "right" if warm == "left" else "left"))
    spots += [_uv_refuge(climate, hide) for hide in plan.hides]
    if not plan.hides:
        spots.append(_darkest(climate, scene))
    return spots


def _basking(climate: Climate, plate: Plate) -> _Spot:
    sheet = plate.top
    surface = climate.sheet_c(sheet)
    x, y, hottest = hottest_patch(sheet, surface, climate.plan.animal.body_length_m)
    z = plate.bottom_m + plate.thickness_m
    back = z + climate.plan.animal.back_height_m
    air = float(climate.air_at(np.array([x]), np.array([back]))[0])
    return _Spot(
        "basking",
        "Basking spot",
        "basking",
        (x, y, back),
        np.array([(x, y, back)]),
        air,
        hottest,
        float(np.mean(surface)),
        float(np.max(surface)),
    )


def basking_patch(climate: Climate, above_c: float | None = None) -> WarmPatch | None:
    """The part of the basking slab that is warm enough, by default for what the species wants of it.

    None without a basking slab, or without a need to go by.

    Parameters
    ----------
    climate : Climate
        The climate.
    above_c : float | None
        Temperature a surface must exceed to count, °C.

    Returns
    -------
    WarmPatch | None
        The warm part and its sizes, or None without a basking slab.
    """
    slab = climate.plan.basking_slab
    if slab is None:
        return None
    if above_c is None:
        wanted = climate.plan.animal.need("basking", "surface_temperature")
        above_c = None if wanted is None else wanted.low
    plate = climate.grid.plate_of(slab.id)
    if above_c is None or plate is None:
        return None
    return warm_patch(plate.top, climate.sheet_c(plate.top), above_c)


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
    gx, gy = np.meshgrid(sheet.x, sheet.y, indexing="ij")
    points = np.column_stack([gx.ravel(), gy.ravel()])
    x = _clear_of_edges(sheet.x_edges, size_m)
    y = _clear_of_edges(sheet.y_edges, size_m)
    cx, cy = (grid.ravel() for grid in np.meshgrid(x, y, indexing="ij"))
    distance = np.hypot(cx[:, None] - points[:, 0], cy[:, None] - points[:, 1])
    # A cell counts by how far the disc reaches across it, so the mean moves smoothly.
    cell = max(sheet.dx, sheet.dy)
    weight = np.clip((size_m / 2 - distance) / cell + 0.5, 0.0, 1.0)
    weight += 1e-9 * (distance == distance.min(axis=1, keepdims=True))
    mean = weight @ surface_c.ravel() / weight.sum(axis=1)
    # Equal within rounding on a symmetric slab: take the centroid of the best candidates.
    best = np.flatnonzero(mean >= mean.max() - 1e-3)
    return float(cx[best].mean()), float(cy[best].mean()), float(mean.max())


def _clear_of_edges(edges: Floats, size_m: float) -> Floats:
    low, high = float(edges[0]) + size_m / 2, float(edges[-1]) - size_m / 2
    if low >= high:
        return np.array([(low + high) / 2])
    return np.linspace(low, high, 2 * int(edges.size // 2) + 1)


def end_air(plan: Plan, side: str) -> tuple[Floats, Floats]:
    """Where the air of an end is averaged.

    Parameters
    ----------
    plan : Plan
        The plan.
    side : str
        'left' or 'right'.

    Returns
    -------
    tuple of (n,) float64
        Positions along the length and heights, m.
    """
    length = plan.enclosure.length_m
    offset = (np.arange(8) + 0.5) / 8 * length * END_SHARE
    x = offset if side == "left" else length - offset
    z = plan.substrate.depth_m + END_HEIGHT_M + END_HEIGHT_SPREAD_M * np.linspace(-1.0, 1.0, 9)
    gx, gz = np.meshgrid(x, np.minimum(z, plan.enclosure.height_m))
    return gx.ravel(), gz.ravel()


def end_points(plan: Plan, side: str) -> Floats:
    """Where probes lie at an end: over its ground, at the height of the animal's back, clear of slabs.

    Parameters
    ----------
    plan : Plan
        The plan.
    side : str
        'left' or 'right'.

    Returns
    -------
    (n, 3) float64
        Points, m.
    """
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    columns, rows = END_POINTS
    offset = (np.arange(columns) + 0.5) / columns * enclosure.length_m * END_SHARE
    x = offset if side == "left" else enclosure.length_m - offset
    y = (np.arange(rows) + 0.5) / rows * enclosure.depth_m
    z = min(ground + max(plan.animal.back_height_m, LEAST_PROBE_M), enclosure.height_m - LEAST_PROBE_M)
    gx, gy = np.meshgrid(x, y)
    points = np.column_stack([gx.ravel(), gy.ravel(), np.full(gx.size, z)])
    taken = np.zeros(len(points), dtype=bool)
    for slab in (f for f in plan.furnishings if isinstance(f, Slab)):
        bottom = ground + slab.underside_m
        inside = (np.abs(points[:, 0] - slab.x_m) < slab.length_m / 2) & (
            np.abs(points[:, 1] - slab.y_m) < slab.width_m / 2
        )
        taken |= inside & (bottom <= z) & (z <= bottom + slab.thickness_m)
    return points if np.all(taken) else points[~taken]


def _end(climate: Climate, kind: PlaceKind, label: str, side: str) -> _Spot:
    plan = climate.plan
    length = plan.enclosure.length_m
    width = length * END_SHARE
    ground = plan.substrate.depth_m
    air = float(np.mean(climate.air_at(*end_air(plan, side))))
    floor = climate.grid.floor[0]
    mine = floor.x < width if side == "left" else floor.x > length - width
    surface = float(np.mean(climate.sheet_c(floor)[mine]))
    middle = width / 2 if side == "left" else length - width / 2
    position = (middle, plan.enclosure.depth_m / 2, ground + plan.animal.back_height_m)
    return _Spot(kind, label, kind, position, end_points(plan, side), air, surface)


def _uv_refuge(climate: Climate, hide: Hide) -> _Spot:
    plan = climate.plan
    floor = climate.grid.floor[0]
    back = min(plan.animal.back_height_m, 0.9 * (hide.height_m - hide.wall_m))
    z = plan.substrate.depth_m + back
    air = float(climate.air_at(np.array([hide.x_m]), np.array([z]))[0])
    under = floor_under(hide, floor)
    surface = float(np.sum(climate.sheet_c(floor) * under))
    at = (hide.x_m, hide.y_m, z)
    return _Spot(hide.id, hide.label, "uv_refuge", at, np.array([at]), air, surface)


def floor_under(hide: Hide, floor: SheetGrid) -> Floats:
    """Weights (nx, ny) of the floor's cells in the mean over the ground of a hide.

    Parameters
    ----------
    hide : Hide
        The hide.
    floor : SheetGrid
        The floor.

    Returns
    -------
    Floats
        The weights (nx, ny), which sum to 1.
    """
    along = overlap(floor.x_edges, hide.x_m - hide.length_m / 2, hide.x_m + hide.length_m / 2)
    across = overlap(floor.y_edges, hide.y_m - hide.width_m / 2, hide.y_m + hide.width_m / 2)
    area: Floats = np.outer(along, across)
    return area / np.sum(area)


def _darkest(climate: Climate, scene: Scene) -> _Spot:
    """Where there is no hide: the darkest place the animal can get to."""
    plan = climate.plan
    x, y, z = find_uv_refuge(plan, scene)
    air = float(climate.air_at(np.array([x]), np.array([z]))[0])
    return _Spot("darkest", "UV refuge", "uv_refuge", (x, y, z), np.array([(x, y, z)]), air, None)
