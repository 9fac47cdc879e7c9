"""Results as CSV: fields over a surface, and the simulated day."""

from __future__ import annotations

import csv
import math
from collections.abc import Iterable
from typing import TextIO

from noonshade.core.day import Day
from noonshade.core.fields import PlanView, Section, SurfaceField


def field_csv(field: Section | PlanView | SurfaceField, out: TextIO) -> None:
    """Write a field as CSV, one row a sample: its position in m and every quantity there.

    Of a section, samples of the ground come first: they have its temperature and nothing else.
    """
    if isinstance(field, Section):
        across, up = field.x_m, field.z_m
        names, fixed = ("x_m", "z_m", "y_m"), field.y_m
    else:
        across, up = field.x_m, field.y_m
        names, fixed = ("x_m", "y_m", "z_m"), field.z_m
    columns = {
        name: values
        for name in (
            *("uvi", "irradiance_w_m2", "illuminance_lx", "ppfd_umol_m2_s", "air_c"),
            *("relative_humidity", "surface_c", "temperature_c"),
        )
        if (values := getattr(field, name, None)) is not None
    }
    writer = csv.writer(out, lineterminator="\n")
    ground = field.ground if isinstance(field, Section) else None
    writer.writerow([*names, *columns, *(["ground_c"] if ground else [])])
    empty = [""] if ground else []
    if ground is not None:
        for z, row_c in zip(ground.z_m, ground.temperature_c, strict=True):
            for a, value in zip(ground.x_m, row_c, strict=True):
                nothing = [""] * len(columns)
                writer.writerow([f"{a:.4f}", f"{z:.4f}", f"{fixed:.4f}", *nothing, f"{value:.5g}"])
    for k, b in enumerate(up):
        for i, a in enumerate(across):
            row = [f"{values[k, i]:.5g}" for values in columns.values()]
            writer.writerow([f"{a:.4f}", f"{b:.4f}", f"{fixed:.4f}", *row, *empty])


def day_csv(day: Day, out: TextIO) -> None:
    """Write a simulated day as CSV, one row a step: every place, lamp and thermostat, and the room."""
    trace = day.trace
    columns: dict[str, list[str]] = {"hour": [f"{h:.4f}" for h in trace.hour]}

    def add(name: str, values: Iterable[float], digits: int) -> None:
        columns[name] = ["" if math.isnan(v) else f"{v:.{digits}f}" for v in values]

    add("room_c", trace.room_c, 2)
    for p in day.places:
        add(f"{p.id}_air_c", p.air_c, 2)
        add(f"{p.id}_probe_c", p.probe_c, 2)
        if p.surface_c is not None:
            add(f"{p.id}_surface_c", p.surface_c, 2)
        add(f"{p.id}_uvi", p.uvi, 3)
        add(f"{p.id}_relative_humidity", p.relative_humidity, 4)
    for i, fixture in enumerate(day.plan.fixtures):
        add(f"{fixture.id}_power_w", trace.power[i] * fixture.power_w, 2)
    for i, thermostat in enumerate(day.plan.thermostats):
        add(f"{thermostat.id}_reading_c", trace.reading_c[i], 2)
        add(f"{thermostat.id}_set_point_c", trace.set_point_c[i], 2)
    add("water_on_surfaces_kg", trace.film_kg, 5)
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows(zip(*columns.values(), strict=True))
