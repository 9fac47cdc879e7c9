"""Prescribed heat in an enclosure, to hold its air and surfaces against an independent simulation."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.climate import surroundings_of
from noonshade.core.heat.geometry import EnclosureGrid, Resolution
from noonshade.core.heat.grids import overlap
from noonshade.core.heat.settling import settle
from noonshade.core.heat.streamed_model import PrescribedHeat, StreamedModel
from noonshade.core.places import END_HEIGHT_M, END_HEIGHT_SPREAD_M, END_SHARE
from noonshade.core.plan import FACES, Face, Plan

Floats = NDArray[np.float64]

# Largest movement of a round that counts as settled, and what is let pass of the last one, K: less than the
# tables are sure of.
CONVERGED_K, TOLERATED_K = 0.01, 0.2
MOST_ROUNDS = 120
# Columns and heights over which air is averaged for a figure.
_SAMPLES = 48


@dataclass(frozen=True, slots=True)
class PatchFigures:
    """A rectangle of the floor that absorbs heat: mean and highest temperature, °C."""

    mean_c: float
    peak_c: float


@dataclass(frozen=True, slots=True)
class ReferenceFigures:
    """What an enclosure with prescribed heat settles at, °C.

    ``layers_c`` (k,) are means of the air over the floor's area at the heights asked for; ``warm_air_c``
    and ``cool_air_c`` of the air in the outer quarters of the length, 5 to 15 cm above the ground;
    ``walls_c`` are the inner surfaces of the sides; ``lid_c`` is None under mesh or the open sky.
    """

    mean_air_c: float
    layers_c: tuple[float, ...]
    warm_air_c: float
    cool_air_c: float
    patches: tuple[PatchFigures, ...]
    floor_c: float
    lid_c: float | None
    walls_c: dict[Face, float]
    rounds: int


def solve_reference(
    plan: Plan, heat: PrescribedHeat, layers_m: tuple[float, ...], resolution: Resolution | None = None
) -> ReferenceFigures:
    """Settle an enclosure with prescribed heat in place of its lamps, dry, by day.

    Parameters
    ----------
    plan : Plan
        Geometry, walls, openings and room. Its lamps, fans and water take no part.
    heat : PrescribedHeat
        Heat absorbed by the ground and given to the air.
    layers_m : tuple of float
        Heights above the floor of the enclosure to report, m.
    resolution : Resolution, optional
        How fine the grid is.

    Returns
    -------
    ReferenceFigures
        Temperatures of air and surfaces.

    Raises
    ------
    ConvergenceError
        If films and flows do not settle, or heat in and out differ by more than 1e-6.
    """
    bare = replace(plan, fixtures=(), thermostats=(), fans=(), cold_packs=(), mistings=())
    around = surroundings_of(bare, "day")
    model = StreamedModel(bare, (), {}, around, resolution, heat)
    none = np.zeros(0)

    def advance(temperature: Floats) -> Floats:
        return model.network(temperature, none, around).steady()

    start = np.full(model.size, around.room_c + 3.0)
    found, rounds = settle(advance, start, CONVERGED_K, MOST_ROUNDS, TOLERATED_K)
    network = model.network(found, none, around)
    network.balance(network.steady())
    return _figures(plan, model.grid, found, heat, layers_m, rounds)


def _figures(
    plan: Plan,
    grid: EnclosureGrid,
    temperature: Floats,
    heat: PrescribedHeat,
    layers_m: tuple[float, ...],
    rounds: int,
) -> ReferenceFigures:
    enclosure, ground = plan.enclosure, plan.substrate.depth_m

    def air(x0: float, x1: float, z: Floats) -> float:
        x = x0 + (np.arange(_SAMPLES) + 0.5) / _SAMPLES * (x1 - x0)
        gx, gz = np.meshgrid(x, z)
        nodes, weights = grid.air.interpolation(gx.ravel(), gz.ravel())
        return float(np.mean(np.sum(temperature[nodes] * weights, axis=-1)))

    ends_z = ground + END_HEIGHT_M + END_HEIGHT_SPREAD_M * np.linspace(-1.0, 1.0, 9)
    quarter = END_SHARE * enclosure.length_m
    ends = [
        air(0.0, quarter, ends_z),
        air(enclosure.length_m - quarter, enclosure.length_m, ends_z),
    ]
    floor = temperature[grid.floor[0].nodes]
    patches = []
    for absorbed in heat.absorbed:
        inside = footprint(grid, absorbed.rect_m)
        patches.append(
            PatchFigures(float(np.sum(inside * floor) / np.sum(inside)), float(np.max(floor[inside > 0])))
        )
    hot = np.sum([footprint(grid, a.rect_m) for a in heat.absorbed], axis=0) if heat.absorbed else 0.0
    cell = grid.floor[0].dx * grid.floor[0].dy
    rest = cell - hot + np.zeros_like(floor)
    area_m2, watts = dict.fromkeys(FACES, 0.0), dict.fromkeys(FACES, 0.0)
    for sheet in grid.sheets:
        area_m2[sheet.face] += float(np.sum(sheet.area_m2))
        watts[sheet.face] += float(sheet.area_m2 @ temperature[sheet.node])
    faces = {face: watts[face] / area for face, area in area_m2.items() if area > 0.0}
    volume = np.outer(np.full(grid.air.nx, grid.air.dx), np.diff(grid.air.z_edges)).ravel()
    return ReferenceFigures(
        float(np.average(temperature[: grid.air.size], weights=volume)),
        tuple(air(0.0, enclosure.length_m, np.array([z])) for z in layers_m),
        max(ends),
        min(ends),
        tuple(patches),
        float(np.average(floor, weights=np.maximum(rest, 1e-12))),
        faces.pop("top", None),
        faces,
        rounds,
    )


def footprint(grid: EnclosureGrid, rect_m: tuple[float, float, float, float]) -> Floats:
    """Area of each cell of the ground within a rectangle.

    Parameters
    ----------
    grid : EnclosureGrid
        The grid.
    rect_m : tuple of float
        Left, right, front and back edge, m.

    Returns
    -------
    (nx, ny) float64
        Areas, m².
    """
    x0, x1, y0, y1 = rect_m
    sheet = grid.floor[0]
    return np.outer(overlap(sheet.x_edges, x0, x1), overlap(sheet.y_edges, y0, y1))
