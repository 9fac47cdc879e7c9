"""Fields on a vertical section of the box, for drawing and export."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.evaluate import Evaluation
from noonshade.core.heat.grids import SheetGrid
from noonshade.core.light.field import light_at

Floats = NDArray[np.float64]

DRAW_SPACING_M = 0.035


@dataclass(frozen=True, slots=True)
class SurfaceProfile:
    """Temperatures along a horizontal surface where the section cuts it; x (n,) m, values (n,) °C."""

    id: str
    z_m: float
    x_m: Floats
    temperature_c: Floats


@dataclass(frozen=True, slots=True)
class Section:
    """Fields on a front-view section at depth ``y_m``; arrays are (nz, nx), z upwards.

    ``x_m`` (nx,) and ``z_m`` (nz,) are the sample positions, from the substrate surface to the lid.
    """

    y_m: float
    x_m: Floats
    z_m: Floats
    uvi: Floats
    irradiance_w_m2: Floats
    air_c: Floats
    surfaces: tuple[SurfaceProfile, ...]


def section(evaluation: Evaluation, y_m: float | None = None, nx: int = 120, nz: int = 60) -> Section:
    """Sample UVI and irradiance (facing the light) and air temperature on a section.

    ``y_m`` defaults to the middle of the basking slab, or of the box.
    """
    plan, day = evaluation.plan, evaluation.day
    slab = plan.basking_slab
    y = y_m if y_m is not None else (slab.y_m if slab else plan.box.depth_m / 2)
    ground = plan.substrate.depth_m
    x = np.linspace(0.0, plan.box.length_m, nx)
    z = np.linspace(ground + 1e-4, plan.box.height_m - 1e-4, nz)
    gz, gx = np.meshgrid(z, x, indexing="ij")
    points = np.column_stack([gx.ravel(), np.full(gx.size, y), gz.ravel()])
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    light = light_at(plan, points, lit, day.power_fraction, spacing_m=DRAW_SPACING_M)
    surfaces = [_profile("substrate", ground, day.grid.floor[0], day.temperature_c, y)]
    surfaces += [
        _profile(p.item.id, p.bottom_m + p.thickness_m, p.top, day.temperature_c, y)
        for p in day.grid.plates
    ]
    return Section(
        y,
        x,
        z,
        light.uvi_facing.reshape(nz, nx),
        light.irradiance_facing_w_m2.reshape(nz, nx),
        day.air_at(gx.ravel(), gz.ravel()).reshape(nz, nx),
        tuple(surfaces),
    )


def _profile(name: str, z_m: float, sheet: SheetGrid, temperature_c: Floats, y_m: float) -> SurfaceProfile:
    j = int(np.argmin(np.abs(sheet.y - y_m)))
    return SurfaceProfile(name, z_m, sheet.x, temperature_c[sheet.nodes[:, j]])
