"""Results as plain text for the terminal."""

from __future__ import annotations

import csv
import math
from collections.abc import Iterable, Mapping
from typing import TextIO

from noonshade.core.building import cautions, order, parts, running
from noonshade.core.day import Day
from noonshade.core.drills import DrillOutcome
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanView, Section, SurfaceField
from noonshade.core.overtime import OverTime
from noonshade.core.phrase import Units, figure_text, plain_text
from noonshade.core.plan import Plan
from noonshade.core.probe import Reading
from noonshade.core.readings import Fit, Kind, Task
from noonshade.core.readings.instrument import SHARE_KINDS, UV_KINDS
from noonshade.core.readings.wording import likely_cause, told_by
from noonshade.core.uncertainty.intervals import Interval
from noonshade.core.verdict.checks import Verdict
from noonshade.core.verdict.summary import by_weight, summary
from noonshade.core.verdict.trial import Mend
from noonshade.core.verdict.wording import QUANTITY_WORDS, STATUS_WORDS, basis_text, range_text, value_text


def evaluation_text(
    evaluation: Evaluation,
    mends: Mapping[str, tuple[Mend, ...]],
    out: TextIO,
    intervals: Mapping[str, Interval] | None = None,
) -> None:
    """Write the summary, zone figures, verdicts, findings and mends."""
    plan, day = evaluation.plan, evaluation.day
    species = plan.animal.species
    print(f"{plan.name}", file=out)
    print(f"{species.scientific_name}, {species.common_name}", file=out)
    print(f"{basis_text(evaluation.plan)}. Steady state by day.\n", file=out)
    print(f"{plain_text(summary(evaluation))}\n", file=out)
    for p in evaluation.places:
        surface = "" if p.surface_c is None else f"  surface {p.surface_c:5.1f} °C"
        uv = "" if p.uvi_level is None else f"  UVI {p.uvi_level:4.1f} level, {p.uvi_facing:4.1f} facing"
        humidity = f"  RH {p.relative_humidity * 100:3.0f} %"
        print(f"  {p.label:16} air {p.air_c:5.1f} °C{surface}{uv}{humidity}", file=out)
    print(f"  {'Night':16} air {evaluation.night_air_c:5.1f} °C\n", file=out)
    for v in by_weight(evaluation):
        words = QUANTITY_WORDS[v.need.quantity]
        print(
            f"  {STATUS_WORDS[v.status]:11} {v.place_label:16} {words:8} "
            f"{value_text(v.value, v.need.quantity):>8}  needs {range_text(v.need)}"
            f"{_interval_text(v, intervals)}",
            file=out,
        )
        if v.status != "within":
            print(f"              {plain_text(v.reason)}", file=out)
        _mends_text(v.id, mends, out)
    for f in evaluation.findings:
        print(f"  {f.severity}: {plain_text(f.message)}", file=out)
        _mends_text(f.id, mends, out)
    print(f"\n  Power {day.power_w:.0f} W on average by day", file=out)


def _interval_text(verdict: Verdict, intervals: Mapping[str, Interval] | None) -> str:
    own = (intervals or {}).get(verdict.id)
    if own is None:
        return ""
    low, high = (value_text(v, verdict.need.quantity) for v in (own.low, own.high))
    return f"  ({low.strip()} to {high.strip()}, met with {100 * own.probability:.0f} %)"


def _mends_text(about_id: str, mends: Mapping[str, tuple[Mend, ...]], out: TextIO) -> None:
    if about_id not in mends:
        return
    if not mends[about_id]:
        print("              No single change tried helps.", file=out)
    for mend in mends[about_id]:
        print(f"              Try: {plain_text(mend.sentence)}", file=out)
        if mend.breaks:
            print(f"              But it breaks: {'; '.join(mend.breaks)}", file=out)


def building_text(plan: Plan, units: Units, out: TextIO) -> None:
    """Write what to buy, in which order it is set up, and the cautions."""
    print(f"{plan.name}: what to buy\n", file=out)
    for part in parts(plan):
        more = f": {plain_text(part.detail, units)}" if part.detail else ""
        print(f"  {part.count:3d} × {part.label}{more}", file=out)
    used = running(plan)
    print(
        f"\n  {used.connected_w:.0f} W connected, at most {used.most_w:.0f} W at one time, "
        f"at most {used.month_kwh:.0f} kWh and {used.month_cost:.2f} a month\n\nWhat to do",
        file=out,
    )
    for number, step in enumerate(order(plan), 1):
        print(f"\n  {number}. {step.title}{'. ' + step.why if step.why else ''}", file=out)
        for detail in step.details:
            print(f"     - {plain_text(detail, units)}", file=out)
    print("\nCautions", file=out)
    for caution in cautions(plan):
        print(f"  - {plain_text(caution.text, units)}", file=out)


def over_time_text(table: OverTime, out: TextIO) -> None:
    """Write what holds always and what only sometimes, one row a need."""
    print("Predicted, not measured. Met in which situation?\n", file=out)
    print(f"  {'':34}" + "".join(f"{s:>9}" for s in table.situations), file=out)
    for row in table.rows:
        v = row.verdict
        name = f"{v.place_label}, {QUANTITY_WORDS[v.need.quantity]}"
        cells = [
            "–"
            if c.status == "cannot_tell"
            else "yes"
            if c.met
            else "partly"
            if c.share
            else STATUS_WORDS[c.status]
            for c in row.cells
        ]
        print(f"  {name:34}" + "".join(f"{c:>9}" for c in cells) + f"   {row.holds}", file=out)
    for situation, why in table.left_out:
        print(f"\n  {situation}: {why}", file=out)


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
        for name in (
            *("uvi", "irradiance_w_m2", "illuminance_lx", "ppfd_umol_m2_s", "air_c"),
            *("relative_humidity", "surface_c", "temperature_c"),
        )
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
    print(f"  operative temperature {reading.operative_c:.1f} °C", file=out)
    print(f"  relative humidity {reading.relative_humidity * 100:.0f} %", file=out)


def day_csv(day: Day, out: TextIO) -> None:
    """Write a simulated day as CSV, one row a step: every place, lamp and thermostat, and the room."""
    trace = day.trace
    columns: dict[str, list[str]] = {"hour": [f"{h:.4f}" for h in trace.hour]}

    def add(name: str, values: Iterable[float], digits: int) -> None:
        columns[name] = ["" if math.isnan(v) else f"{v:.{digits}f}" for v in values]

    add("room_c", trace.room_c, 2)
    for p in day.places:
        add(f"{p.id}_air_c", p.air_c, 2)
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


def day_text(day: Day, out: TextIO) -> None:
    """Write what a day comes to."""
    print(f"{day.plan.name}, a day that repeats (predicted, not measured)\n", file=out)
    for p in day.places:
        surface = ""
        if p.surface_c is not None:
            surface = f"  surface {p.surface_c.min():5.1f}–{p.surface_c.max():4.1f} °C"
        rh = 100 * p.relative_humidity
        print(
            f"  {p.label:16} air {p.air_c.min():5.1f}–{p.air_c.max():4.1f} °C{surface}"
            f"  UVI up to {p.uvi.max():.1f}  RH {rh.min():.0f}–{rh.max():.0f} %",
            file=out,
        )
    for f in day.fixtures:
        print(
            f"  {f.label:16} at work {100 * f.duty:3.0f} % of {f.on_h:.1f} h, "
            f"{f.energy_kwh:.2f} kWh a day, {f.month_cost:.2f} a month",
            file=out,
        )
    for t in day.thermostats:
        held = "" if t.error_k is None else f", {t.error_k:.1f} K off its set point on average"
        print(f"  {t.label:16} switches {t.switchings_per_h:.1f} times an hour{held}", file=out)
    for words, minutes in (
        ("Warm", day.warm_up_min),
        ("Cool", day.cool_down_min),
        ("Dry after misting", day.dry_min),
    ):
        if minutes is not None:
            text = "never within the day" if math.isinf(minutes) else f"after {minutes:.0f} min"
            print(f"  {words}: {text}", file=out)


def drill_text(outcome: DrillOutcome, out: TextIO) -> None:
    """Write what a drill comes to."""
    when = "at dusk" if outcome.drill.by_night else "at dawn"
    if outcome.safe_place is not None:
        end = f"{outcome.safe_place} stays safe"
    elif outcome.always_somewhere:
        end = "some place is always safe, but not the same one"
    else:
        end = f"NO SAFE PLACE after {outcome.minutes_to_danger:.0f} min"
    print(f"  {outcome.drill.label}, {when}: {end}", file=out)
    for p in outcome.places:
        notes = [
            f"{word} after {minutes:.0f} min"
            for word, minutes in (("too hot", p.minutes_to_heat), ("too cold", p.minutes_to_cold))
            if minutes is not None
        ]
        note = f"  {', '.join(notes)}" if notes else ""
        print(f"    {p.label:16} {p.lowest_c:5.1f}–{p.highest_c:4.1f} °C{note}", file=out)


def round_text(plan: Plan, tasks: Iterable[Task], units: Units, out: TextIO) -> None:
    """A round of readings, in the order to take them."""
    print(f"{plan.name}: readings worth taking, from the ground up", file=out)
    for number, task in enumerate(tasks, start=1):
        at, kind = task.reading.position_m, task.reading.kind
        where = "" if at is None else " at " + ", ".join(figure_text(v, "m", units) for v in at)
        value, low, high = (
            _reading_text(v, kind, units)
            for v in (task.foreseen.value, task.foreseen.low, task.foreseen.high)
        )
        print(f"{number}. {task.place}: {kind.replace('_', ' ')}{where}, by {task.instrument}", file=out)
        print(f"   expected {value} ({low} to {high}). {task.why}", file=out)


def fit_text(catalogue: Plan, found: Fit, units: Units, out: TextIO) -> None:
    """What readings say of a box: multipliers, what stands out, and each reading before and after."""
    print(f"{catalogue.name}: what {len(found.residuals)} readings say of it", file=out)
    for phrase in told_by(catalogue, found):
        print(f"- {plain_text(phrase, units)}", file=out)
    still = [m.multiplier.label for m in found.multipliers if not m.settled]
    if still:
        print(f"Still open: {', '.join(still)}.", file=out)
    print(f"Misfit {found.misfit:.2f} (1 or less is as the instruments explain).", file=out)
    for r in found.residuals:
        kind = r.reading.kind
        read, before, after = (_reading_text(v, kind, units) for v in (r.reading.value, r.before, r.after))
        line = f"  {r.reading.id}: read {read}, before {before}, after {after}, off {r.deviations:+.1f}"
        print(line, file=out)
        if r.stray:
            print(f"    stands out: {plain_text(likely_cause(found, r), units)}", file=out)


def _reading_text(value: float, kind: Kind, units: Units) -> str:
    if kind in UV_KINDS:
        return figure_text(value, "UVI", units)
    if kind in SHARE_KINDS:
        return figure_text(100.0 * value, "%", units)
    return figure_text(value, "°C", units)
