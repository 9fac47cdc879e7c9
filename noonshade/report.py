"""Results as plain text for the terminal."""

from __future__ import annotations

import csv
from collections.abc import Mapping
from typing import TextIO

from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanView, Section, SurfaceField
from noonshade.core.needs.model import Need
from noonshade.core.phrase import plain_text
from noonshade.core.probe import Reading
from noonshade.core.verdict.mends import Mend

STATUS_WORDS = {
    "below": "below",
    "within": "within",
    "above": "above",
    "cannot_tell": "cannot tell",
}
QUANTITY_WORDS = {
    "surface_temperature": "surface",
    "air_temperature": "air",
    "uvi": "UVI",
}


def value_text(value: float | None, quantity: str) -> str:
    """A judged figure with its unit, as precise as it is shown on the screen."""
    if value is None:
        return "–"
    return f"{value:.1f}" if quantity == "uvi" else f"{value:.1f} °C"


def range_text(need: Need) -> str:
    """A need's range."""
    unit = "" if need.quantity == "uvi" else " °C"
    if need.low is None:
        return f"at most {need.high:g}{unit}"
    if need.high is None:
        return f"at least {need.low:g}{unit}"
    return f"{need.low:g}–{need.high:g}{unit}"


def evaluation_text(evaluation: Evaluation, mends: Mapping[str, Mend | None], out: TextIO) -> None:
    """Write zone figures, verdicts, findings and mends."""
    plan, day = evaluation.plan, evaluation.day
    species = plan.animal.species
    print(f"{plan.name}", file=out)
    print(f"{species.scientific_name}, {species.common_name}", file=out)
    print("Predicted, not measured. Steady state by day.\n", file=out)
    for p in evaluation.places:
        surface = "" if p.surface_c is None else f"  surface {p.surface_c:5.1f} °C"
        uv = "" if p.uvi_level is None else f"  UVI {p.uvi_level:4.1f} level, {p.uvi_facing:4.1f} facing"
        humidity = f"  RH {p.relative_humidity * 100:3.0f} %"
        print(f"  {p.label:16} air {p.air_c:5.1f} °C{surface}{uv}{humidity}", file=out)
    print(f"  {'Night':16} air {evaluation.night_air_c:5.1f} °C\n", file=out)
    for v in evaluation.verdicts:
        words = QUANTITY_WORDS[v.need.quantity]
        print(
            f"  {STATUS_WORDS[v.status]:11} {v.place_label:16} {words:8} "
            f"{value_text(v.value, v.need.quantity):>8}  needs {range_text(v.need)}",
            file=out,
        )
        if v.status != "within":
            print(f"              {plain_text(v.reason)}", file=out)
        if v.id in mends:
            mend = mends[v.id]
            text = "No single change tried helps." if mend is None else plain_text(mend.sentence)
            print(f"              Try: {text}", file=out)
            if mend is not None and mend.breaks:
                print(f"              But it breaks: {'; '.join(mend.breaks)}", file=out)
    for f in evaluation.findings:
        print(f"  {f.severity}: {plain_text(f.message)}", file=out)
    print(f"\n  Power {day.power_w:.0f} W on average by day", file=out)


def field_csv(field: Section | PlanView | SurfaceField, out: TextIO) -> None:
    """Write a field as CSV, one row a sample: its position in m and every quantity there."""
    if isinstance(field, Section):
        across, up = field.x_m, field.z_m
        names, fixed = ("x_m", "z_m", "y_m"), field.y_m
    else:
        across, up = field.x_m, field.y_m
        names, fixed = ("x_m", "y_m", "z_m"), field.z_m
    columns = {
        name: values
        for name in ("uvi", "irradiance_w_m2", "illuminance_lx", "ppfd_umol_m2_s", "air_c", "temperature_c")
        if (values := getattr(field, name, None)) is not None
    }
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*names, *columns])
    for k, b in enumerate(up):
        for i, a in enumerate(across):
            row = [f"{values[k, i]:.5g}" for values in columns.values()]
            writer.writerow([f"{a:.4f}", f"{b:.4f}", f"{fixed:.4f}", *row])


def reading_text(reading: Reading, out: TextIO) -> None:
    """Write what instruments should read at a point."""
    x, y, z = reading.position_m
    print(f"at {x:g}, {y:g}, {z:g} m (predicted)", file=out)
    print(f"  UVI facing the light {reading.uvi_facing:.2f}, level {reading.uvi_level:.2f}", file=out)
    print(f"  irradiance {reading.irradiance_w_m2:.0f} W/m²", file=out)
    print(f"  illuminance {reading.illuminance_lx:.0f} lx", file=out)
    if reading.ppfd_umol_m2_s > 0:
        print(f"  light for plants {reading.ppfd_umol_m2_s:.0f} µmol/m²/s", file=out)
    words = {0: "free of UV", 5: "beyond class 4"}
    named = words.get(reading.exposure_class, f"class {reading.exposure_class}")
    print(f"  exposure: {named}", file=out)
    print(f"  air {reading.air_c:.1f} °C, surface below {reading.surface_c:.1f} °C", file=out)
    print(f"  relative humidity {reading.relative_humidity * 100:.0f} %", file=out)
