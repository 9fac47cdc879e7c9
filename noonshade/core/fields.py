"""Fields on sections, plans and surfaces of the enclosure, for drawing and export."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.heat.climate import Climate
from noonshade.core.heat.grids import SheetGrid
from noonshade.core.heat.stream_nodes import Plume
from noonshade.core.light.field import LightAtPoints, Scene
from noonshade.core.moisture.vapour import humidity_in
from noonshade.core.plan import Plan

Floats = NDArray[np.float64]

_OFF_THE_EDGE_M = 1e-4


@dataclass(frozen=True, slots=True)
class SurfaceProfile:
    """Temperatures along a horizontal surface where the section cuts it; x (n,) m, values (n,) °C."""

    id: str
    z_m: float
    x_m: Floats
    temperature_c: Floats


@dataclass(frozen=True, slots=True)
class BranchProfile:
    """Temperatures of the upper side of a branch along it: x and z (n,) m, values (n,) °C."""

    id: str
    x_m: Floats
    z_m: Floats
    temperature_c: Floats


@dataclass(frozen=True, slots=True)
class GroundProfile:
    """Temperatures in the ground that a section cuts: °C (k, n) at levels z (k,) upwards and x (n,), m."""

    x_m: Floats
    z_m: Floats
    temperature_c: Floats


@dataclass(frozen=True, slots=True)
class Section:
    """Fields on a front-view section at depth ``y_m``; arrays are (nz, nx), z upwards.

    ``x_m`` (nx,) and ``z_m`` (nz,) are the sample positions, from the substrate surface to the lid.
    UVI and irradiance are facing the light; illuminance and PPFD are level; relative humidity is 0–1.
    Surfaces are those it cuts; branches and plumes are all there are, wherever they run.
    """

    y_m: float
    x_m: Floats
    z_m: Floats
    uvi: Floats
    irradiance_w_m2: Floats
    illuminance_lx: Floats
    ppfd_umol_m2_s: Floats
    air_c: Floats
    relative_humidity: Floats
    surfaces: tuple[SurfaceProfile, ...]
    branches: tuple[BranchProfile, ...]
    ground: GroundProfile
    plumes: tuple[Plume, ...]


@dataclass(frozen=True, slots=True)
class PlanView:
    """Fields seen from above at height ``z_m``; arrays are (ny, nx), from the front to the back.

    ``surface_c`` is of the uppermost face there, of a slab, a hide or the ground, at whatever height.
    """

    z_m: float
    x_m: Floats
    y_m: Floats
    uvi: Floats
    irradiance_w_m2: Floats
    illuminance_lx: Floats
    ppfd_umol_m2_s: Floats
    air_c: Floats
    relative_humidity: Floats
    surface_c: Floats


@dataclass(frozen=True, slots=True)
class SurfaceField:
    """Fields over the upper face of a slab, a hide's roof or the substrate; arrays are (ny, nx).

    UVI and irradiance are level, as the surface receives them.
    """

    id: str
    z_m: float
    x_m: Floats
    y_m: Floats
    uvi: Floats
    irradiance_w_m2: Floats
    illuminance_lx: Floats
    temperature_c: Floats


@dataclass(frozen=True, slots=True)
class SectionGrid:
    """A section wanted at a depth (None: through the basking spot), with nx × nz samples."""

    y_m: float | None = None
    nx: int = 120
    nz: int = 60


@dataclass(frozen=True, slots=True)
class PlanGrid:
    """A view from above wanted at a height (None: the back at the basking spot), nx × ny samples."""

    z_m: float | None = None
    nx: int = 120
    ny: int = 60


@dataclass(frozen=True, slots=True)
class Views:
    """What was asked for of both."""

    section: Section | None
    plan_view: PlanView | None


@dataclass(frozen=True, slots=True)
class Lattice:
    """Samples of a view: points (rows, columns, 3), m, at ``at_m`` along the axis that is not seen.

    ``first_m`` (columns,) are along the length; ``second_m`` (rows,) upwards, or from front to back.
    """

    points: Floats
    first_m: Floats
    second_m: Floats
    at_m: float


def section_lattice(plan: Plan, grid: SectionGrid) -> Lattice:
    """Where a section is sampled.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : SectionGrid
        Its depth and samples.

    Returns
    -------
    Lattice
        Points from the ground to the lid.

    Raises
    ------
    PlanError
        If the depth lies outside the enclosure.
    """
    ground, enclosure, slab = plan.substrate.depth_m, plan.enclosure, plan.basking_slab
    y = grid.y_m if grid.y_m is not None else (slab.y_m if slab else enclosure.depth_m / 2)
    _within("section/y_m", y, 0.0, enclosure.depth_m)
    x = np.linspace(0.0, enclosure.length_m, grid.nx)
    z = np.linspace(ground + _OFF_THE_EDGE_M, enclosure.height_m - _OFF_THE_EDGE_M, grid.nz)
    gz, gx = np.meshgrid(z, x, indexing="ij")
    return Lattice(np.stack([gx, np.full(gx.shape, y), gz], axis=2), x, z, y)


def plan_lattice(plan: Plan, grid: PlanGrid) -> Lattice:
    """Where a view from above is sampled.

    Parameters
    ----------
    plan : Plan
        The plan.
    grid : PlanGrid
        Its height and samples.

    Returns
    -------
    Lattice
        Points from wall to wall.

    Raises
    ------
    PlanError
        If the height lies outside the enclosure.
    """
    ground, enclosure, slab = plan.substrate.depth_m, plan.enclosure, plan.basking_slab
    base = plan.top_of(slab) if slab is not None else ground
    wanted = grid.z_m if grid.z_m is not None else base + plan.animal.back_height_m
    height = min(wanted, enclosure.height_m) if grid.z_m is None else wanted
    _within("plan_view/z_m", height, ground, enclosure.height_m)
    height = min(max(height, ground + _OFF_THE_EDGE_M), enclosure.height_m - _OFF_THE_EDGE_M)
    x, y = np.linspace(0.0, enclosure.length_m, grid.nx), np.linspace(0.0, enclosure.depth_m, grid.ny)
    gy, gx = np.meshgrid(y, x, indexing="ij")
    return Lattice(np.stack([gx, gy, np.full(gx.shape, height)], axis=2), x, y, height)


def air_on(day: Climate, lattice: Lattice, front: bool) -> Floats:
    """Air temperature on a view.

    Parameters
    ----------
    day : Climate
        The climate.
    lattice : Lattice
        Of the view.
    front : bool
        Whether it is a section; else a view from above.

    Returns
    -------
    Floats
        Temperatures (rows, columns), °C.
    """
    shape = lattice.points.shape[:2]
    if front:
        return day.air_at(lattice.points[:, :, 0].ravel(), lattice.points[:, :, 2].ravel()).reshape(shape)
    row = day.air_at(lattice.first_m, np.full(shape[1], lattice.at_m))
    return np.tile(row, (shape[0], 1))


def compute_fields(
    evaluation: Evaluation,
    section: SectionGrid | None = None,
    plan_view: PlanGrid | None = None,
    scene: Scene | None = None,
) -> Views:
    """Sample light (facing it) and air temperature on a section and on a view from above, together.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    section : SectionGrid | None
        The section to compute, None for none.
    plan_view : PlanGrid | None
        The view from above to compute, None for none.
    scene : Scene | None
        The lit scene, None to build it.

    Returns
    -------
    Views
        The section and the plan view, each None if it was not asked for.

    Raises
    ------
    PlanError
        If the depth or height lies outside the enclosure.
    """
    plan, day = evaluation.plan, evaluation.day
    ground = plan.substrate.depth_m
    lattices: list[Floats] = []
    if section is not None:
        front = section_lattice(plan, section)
        lattices.append(front.points)
        x, z, y = front.first_m, front.second_m, front.at_m
    if plan_view is not None:
        above = plan_lattice(plan, plan_view)
        lattices.append(above.points)
        px, py, height = above.first_m, above.second_m, above.at_m
    light = iter((scene or evaluation.scene).on_lattices(lattices))
    drawn = seen = None
    if section is not None:
        shape = front.points.shape[:2]
        air = air_on(day, front, front=True)
        surfaces = [_profile("substrate", ground, day.grid.floor[0], day.temperature_c, y)]
        surfaces += [
            _profile(p.item.id, p.bottom_m + p.thickness_m, p.top, day.temperature_c, y)
            for p in day.grid.plates
        ]
        branches = tuple(
            BranchProfile(r.item.id, r.centres[:, 0], r.top_m, day.temperature_c[r.nodes[:, 0]])
            for r in day.grid.rods
        )
        humidity = humidity_in(day.moisture.vapour_kg_m3, air)
        drawn = Section(
            y,
            x,
            z,
            *_shaped(next(light), shape),
            air,
            humidity,
            tuple(surfaces),
            branches,
            _ground_profile(day, ground, y),
            day.plumes,
        )
    if plan_view is not None:
        shape = (plan_view.ny, plan_view.nx)
        air = air_on(day, above, front=False)
        humidity = humidity_in(day.moisture.vapour_kg_m3, air)
        upper = uppermost(day, px, py)
        seen = PlanView(height, px, py, *_shaped(next(light), shape), air, humidity, upper)
    return Views(drawn, seen)


def section(
    evaluation: Evaluation,
    y_m: float | None = None,
    nx: int = 120,
    nz: int = 60,
    scene: Scene | None = None,
) -> Section:
    """One section alone; see ``fields``.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    y_m : float | None
        Position from the front to the back, m.
    nx, nz : int
        Samples along each axis.
    scene : Scene | None
        The lit scene, None to build it.

    Returns
    -------
    Section
        One section alone.
    """
    made = compute_fields(evaluation, SectionGrid(y_m, nx, nz), scene=scene).section
    assert made is not None
    return made


def plan_view(
    evaluation: Evaluation,
    z_m: float | None = None,
    nx: int = 120,
    ny: int = 60,
    scene: Scene | None = None,
) -> PlanView:
    """One view from above alone; see ``fields``.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    z_m : float | None
        Height above the floor, m.
    nx, ny : int
        Samples along each axis.
    scene : Scene | None
        The lit scene, None to build it.

    Returns
    -------
    PlanView
        One view from above alone.
    """
    made = compute_fields(evaluation, plan_view=PlanGrid(z_m, nx, ny), scene=scene).plan_view
    assert made is not None
    return made


def surface_field(
    evaluation: Evaluation, surface_id: str, spacing_m: float = 0.01, scene: Scene | None = None
) -> SurfaceField:
    """Light and temperature over one surface, ``"substrate"`` or the id of a slab or hide.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    surface_id : str
        Id of the surface.
    spacing_m : float
        Distance between samples, m.
    scene : Scene | None
        The lit scene, None to build it.

    Returns
    -------
    SurfaceField
        Fields (ny, nx) over the surface.

    Raises
    ------
    PlanError
        If there is no such surface.
    """
    plan, day = evaluation.plan, evaluation.day
    sheets = {"substrate": (plan.substrate.depth_m, day.grid.floor[0])}
    sheets |= {p.item.id: (p.bottom_m + p.thickness_m, p.top) for p in day.grid.plates}
    if surface_id not in sheets:
        raise PlanError("surface", f"no surface {surface_id!r}; known: {', '.join(sheets)}")
    z, sheet = sheets[surface_id]
    x, y = (_middles(e, spacing_m) for e in (sheet.x_edges, sheet.y_edges))
    gy, gx = np.meshgrid(y, x, indexing="ij")
    lattice = np.stack([gx, gy, np.full(gx.shape, z + _OFF_THE_EDGE_M)], axis=2)
    light = (scene or evaluation.scene).on_lattice(lattice)
    shape = gx.shape
    return SurfaceField(
        surface_id,
        z,
        x,
        y,
        light.uvi_level.reshape(shape),
        light.irradiance_level_w_m2.reshape(shape),
        light.illuminance_level_lx.reshape(shape),
        _on_sheet(day, sheet, x, y),
    )


def uppermost(day: Climate, x: Floats, y: Floats) -> Floats:
    """Temperature of the highest face over each point of the floor.

    Parameters
    ----------
    day : Climate
        The climate.
    x, y : Floats
        Positions (nx,) and (ny,), m.

    Returns
    -------
    Floats
        Temperatures (ny, nx), °C.
    """
    found = _on_sheet(day, day.grid.floor[0], x, y)
    height = np.full(found.shape, -np.inf)
    for plate in day.grid.plates:
        top = plate.bottom_m + plate.thickness_m
        ex, ey = plate.top.x_edges, plate.top.y_edges
        over = np.outer((y >= ey[0]) & (y <= ey[-1]), (x >= ex[0]) & (x <= ex[-1])) & (top > height)
        found = np.where(over, _on_sheet(day, plate.top, x, y), found)
        height = np.where(over, top, height)
    return found


def _on_sheet(day: Climate, sheet: SheetGrid, x: Floats, y: Floats) -> Floats:
    """Temperature (ny, nx) of the nearest cells of a sheet."""
    i = np.argmin(np.abs(sheet.x[:, None] - x), axis=0)
    j = np.argmin(np.abs(sheet.y[:, None] - y), axis=0)
    found: Floats = day.temperature_c[sheet.nodes[np.ix_(i, j)]].T
    return found


def _middles(edges: Floats, spacing_m: float) -> Floats:
    low, high = float(edges[0]), float(edges[-1])
    n = int(np.clip(round((high - low) / spacing_m), 4, 200))
    return low + (np.arange(n) + 0.5) / n * (high - low)


def _shaped(light: LightAtPoints, shape: tuple[int, int]) -> tuple[Floats, Floats, Floats, Floats]:
    return (
        light.uvi_facing.reshape(shape),
        light.irradiance_facing_w_m2.reshape(shape),
        light.illuminance_level_lx.reshape(shape),
        light.ppfd_umol_m2_s.reshape(shape),
    )


def _within(name: str, value: float, low: float, high: float) -> None:
    if not low - 1e-9 <= value <= high + 1e-9:
        raise PlanError(name, f"{value:g} m lies outside the enclosure: {low:g} to {high:g} m")


def _ground_profile(day: Climate, ground_m: float, y_m: float) -> GroundProfile:
    sheets = day.grid.floor[::-1]
    j = int(np.argmin(np.abs(sheets[0].y - y_m)))
    rows = [day.temperature_c[sheet.nodes[:, j]] for sheet in sheets]
    z = ground_m - np.array(day.grid.floor_depths_m[::-1])
    return GroundProfile(sheets[0].x, z, np.array(rows))


def _profile(name: str, z_m: float, sheet: SheetGrid, temperature_c: Floats, y_m: float) -> SurfaceProfile:
    j = int(np.argmin(np.abs(sheet.y - y_m)))
    return SurfaceProfile(name, z_m, sheet.x, temperature_c[sheet.nodes[:, j]])
