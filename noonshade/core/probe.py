"""All quantities at one point, as a keeper's instruments would read them there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from noonshade.core.constants import BEAD_M
from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.heat.climate import Climate
from noonshade.core.heat.ground import in_ground
from noonshade.core.heat.operative import operative_temperature
from noonshade.core.heat.probe_reading import CONTACT_M, beam_rise_per_irradiance, shaded_reading
from noonshade.core.heat.rods import Rod
from noonshade.core.heat.seen import view_from
from noonshade.core.light.exposure import exposure_class
from noonshade.core.plan import Point


@dataclass(frozen=True, slots=True)
class PointFigures:
    """What the model predicts at a point.

    Above the ground ``depth_m`` is 0; below it all temperatures are that of the ground, there is no light,
    and its humidity is not computed. ``probe_c`` is what a shaded probe reads, ``probe_in_beam_c`` one
    that the lamps shine on; ``surface_c`` is of what lies straight below it, of a branch its upper side;
    ``operative_c`` what a body as long as the animal would settle at.
    """

    position_m: Point
    uvi_facing: float
    uvi_level: float
    irradiance_w_m2: float
    illuminance_lx: float
    ppfd_umol_m2_s: float
    exposure_class: int
    air_c: float
    probe_c: float
    probe_in_beam_c: float
    surface_c: float
    relative_humidity: float | None
    operative_c: float
    depth_m: float = 0.0


def probe(evaluation: Evaluation, position_m: Point, bead_m: float = BEAD_M) -> PointFigures:
    """Predict every quantity at a point of the enclosure or of its ground by day.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    position_m : Point
        Position, m.
    bead_m : float
        Diameter of the temperature probe's bead, m.

    Returns
    -------
    PointFigures
        Air, probe reading, light and humidity at the point.

    Raises
    ------
    PlanError
        If the point is outside the enclosure.
    """
    plan, day = evaluation.plan, evaluation.day
    x, y, z = position_m
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    limits = (
        ("x", x, 0.0, enclosure.length_m),
        ("y", y, 0.0, enclosure.depth_m),
        ("z", z, 0.0, enclosure.height_m),
    )
    for name, value, low, high in limits:
        if not low - 1e-9 <= value <= high + 1e-9:
            raise PlanError("", f"{name} = {value:g} m is outside the enclosure: {low:g} to {high:g} m")
    if z < ground - CONTACT_M:
        return _buried(day, position_m, ground - z)
    if z < ground:
        z, position_m = ground, (x, y, ground)
    light = evaluation.scene.at(np.array([position_m]))
    air = float(day.air_at(np.array([x]), np.array([z]))[0])
    height, sheet = ground, day.grid.floor[0]
    for plate in day.grid.plates:
        top = plate.bottom_m + plate.thickness_m
        inside = plate.top.x_edges[0] <= x <= plate.top.x_edges[-1]
        inside = inside and plate.top.y_edges[0] <= y <= plate.top.y_edges[-1]
        if inside and height < top <= z + 1e-6:
            height, sheet = top, plate.top
    i, j = sheet.nearest(x, y)
    surface = float(day.temperature_c[sheet.nodes[i, j]])
    upper = _branch_below(day.grid.rods, position_m, height)
    if upper is not None:
        surface = float(day.temperature_c[upper])
    at = np.array([position_m], dtype=np.float64)
    read = shaded_reading(plan, day.grid, at, bead_m).at(day.temperature_c, day.room_c)
    facing = float(light.irradiance_facing_w_m2[0])
    above = view_from(plan, day.grid, at, upwards=True)
    return PointFigures(
        position_m=position_m,
        uvi_facing=float(light.uvi_facing[0]),
        uvi_level=float(light.uvi_level[0]),
        irradiance_w_m2=facing,
        illuminance_lx=float(light.illuminance_level_lx[0]),
        ppfd_umol_m2_s=float(light.ppfd_umol_m2_s[0]),
        exposure_class=exposure_class(float(light.uvi_facing[0])),
        air_c=air,
        probe_c=read,
        probe_in_beam_c=read + beam_rise_per_irradiance(bead_m) * facing,
        surface_c=surface,
        relative_humidity=day.humidity(air),
        operative_c=operative_temperature(
            air,
            surface,
            above.at(day.temperature_c, day.room_c),
            facing,
            plan.animal.body_length_m,
        ),
    )


def _buried(day: Climate, position_m: Point, depth_m: float) -> PointFigures:
    x, y, _ = position_m
    there = in_ground(day.grid, day.plan.substrate, x, y, depth_m).at(day.temperature_c, day.room_c)
    return PointFigures(
        position_m=position_m,
        uvi_facing=0.0,
        uvi_level=0.0,
        irradiance_w_m2=0.0,
        illuminance_lx=0.0,
        ppfd_umol_m2_s=0.0,
        exposure_class=exposure_class(0.0),
        air_c=there,
        probe_c=there,
        probe_in_beam_c=there,
        surface_c=there,
        relative_humidity=None,
        operative_c=there,
        depth_m=depth_m,
    )


def _branch_below(rods: tuple[Rod, ...], point: Point, ground: float) -> int | None:
    """Node of the upper side of the highest branch straight below a point and above ``ground``."""
    x, y, z = point
    best: tuple[float, int] | None = None
    for rod in rods:
        start, end = np.array(rod.item.start_m), np.array(rod.item.end_m)
        way = end - start
        flat = float(way[:2] @ way[:2])
        share = 0.5 if flat < 1e-12 else float((np.array([x, y]) - start[:2]) @ way[:2]) / flat
        at = start + float(np.clip(share, 0.0, 1.0)) * way
        radius = rod.item.diameter_m / 2
        aside = float(np.hypot(at[0] - x, at[1] - y))
        if aside > radius:
            continue
        top = float(at[2]) + float(np.sqrt(radius**2 - aside**2))
        if ground < top <= z + 1e-6 and (best is None or top > best[0]):
            best = (top, int(rod.nodes[rod.nearest(x, y, top), 0]))
    return None if best is None else best[1]
