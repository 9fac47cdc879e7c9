"""Results as plain text for the terminal."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, TextIO

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.wording import (
    STATUS_WORDS,
    dampness,
    evidence_text,
    quantity_words,
    range_text,
    value_text,
)
from noonshade.core.building import list_cautions, list_parts, running_cost, setup_steps
from noonshade.core.care.seasonal_settings import InMonths, care_amounts
from noonshade.core.day import Day
from noonshade.core.design.designer import Design
from noonshade.core.design.set_up import SetUp
from noonshade.core.evaluate import Evaluation
from noonshade.core.failure_scenarios import FailureOutcome
from noonshade.core.fixes.candidate import Fix
from noonshade.core.forecast import ForecastMonth, summary_with_months
from noonshade.core.heights import figures_by_height
from noonshade.core.phrase import Units, figure_text, plain_text
from noonshade.core.plan import Plan
from noonshade.core.probe import PointFigures
from noonshade.core.readings import Fit, Kind, Task
from noonshade.core.readings.fit_wording import describe_fit, likely_cause
from noonshade.core.readings.instrument import SHARE_KINDS, UV_KINDS
from noonshade.core.scenarios import ScenarioTable
from noonshade.core.summary import MONTHS, by_weight
from noonshade.core.uncertainty.intervals import Interval


def evaluation_text(
    evaluation: Evaluation,
    fixes: Mapping[str, tuple[Fix, ...]],
    out: TextIO,
    intervals: Mapping[str, Interval] | None = None,
    months: Sequence[ForecastMonth] = (),
) -> None:
    """Write the summary, zone figures, checks, findings and fixes."""
    plan, day = evaluation.plan, evaluation.day
    species = plan.animal.species
    print(f"{plan.name}", file=out)
    print(f"{species.scientific_name}, {species.common_name}", file=out)
    print(f"{evidence_text(evaluation.plan)}. Steady state by day.\n", file=out)
    print(f"{plain_text(summary_with_months(evaluation, months))}\n", file=out)
    for p in evaluation.places:
        surface = "" if p.surface_c is None else f"  surface {p.surface_c:5.1f} °C"
        uv = "" if p.uvi_level is None else f"  UVI {p.uvi_level:4.1f} level, {p.uvi_facing:4.1f} facing"
        humidity = f"  RH {p.relative_humidity * 100:3.0f} %"
        print(
            f"  {p.label:16} air {p.air_c:5.1f} °C  probe {p.probe_c:5.1f} °C{surface}{uv}{humidity}",
            file=out,
        )
    for h in figures_by_height(evaluation):
        label = f"{h.label}: {h.thing}" if h.thing else h.label
        print(
            f"  {100 * h.above_ground_m:3.0f} cm up, {label:28} air {h.figures.air_c:5.1f} °C"
            f"  probe {h.figures.probe_c:5.1f} °C  surface {h.figures.surface_c:5.1f} °C"
            f"  UVI {h.figures.uvi_facing:4.1f} facing",
            file=out,
        )
    print(f"  {'Night':16} air {evaluation.night_air_c:5.1f} °C\n", file=out)
    for v in by_weight(evaluation):
        words = quantity_words(v.need.place, v.need.quantity)
        print(
            f"  {_status_text(v):9} {v.place_label:16} {words:13} "
            f"{value_text(v.value, v.need.quantity):>8}  "
            f"{'needs' if v.required else 'optional:'} {range_text(v.need)}"
            f"{_interval_text(v, intervals)}",
            file=out,
        )
        if v.course is not None:
            low, high = (value_text(x, v.need.quantity) for x in (v.course.lowest, v.course.highest))
            share = f"in range for {100 * v.course.share:.0f} % of the hours"
            print(f"              From {low} to {high} over the day with its sprays, {share}.", file=out)
        if v.status == "uncertain":
            print(f"              {100 * (v.chance or 0):.0f} % chance. {v.settles}", file=out)
        elif v.status != "ok":
            print(f"              {plain_text(v.reason)}", file=out)
        _fixes_text(v.id, fixes, out)
    for f in evaluation.findings:
        print(f"  {f.severity}: {plain_text(f.message)}", file=out)
        _fixes_text(f.id, fixes, out)
    print(f"\n  Power {day.power_w:.0f} W on average by day", file=out)


def _status_text(check: Check) -> str:
    """The status in a word; what is optional and missing reads as such."""
    if check.status == "low" and not check.required:
        return "optional"
    return STATUS_WORDS[check.status]


def _interval_text(check: Check, intervals: Mapping[str, Interval] | None) -> str:
    own = (intervals or {}).get(check.id)
    if own is None:
        return ""
    low, high = (value_text(v, check.need.quantity) for v in (own.low, own.high))
    return f"  ({low.strip()} to {high.strip()}, {100 * own.probability:.0f} % chance of being in range)"


def _fixes_text(about_id: str, fixes: Mapping[str, tuple[Fix, ...]], out: TextIO) -> None:
    if about_id not in fixes:
        return
    if not fixes[about_id]:
        print("              No small change fixes this alone.", file=out)
    for fix in fixes[about_id]:
        print(f"              Try: {plain_text(fix.sentence)}", file=out)
        if fix.breaks:
            print(f"              But it {'; '.join(fix.breaks)}", file=out)


def building_text(plan: Plan, units: Units, out: TextIO) -> None:
    """Write what to buy, in which order it is set up, and the cautions."""
    print(f"{plan.name}: what to buy\n", file=out)
    for part in list_parts(plan):
        more = f": {plain_text(part.detail, units)}" if part.detail else ""
        print(f"  {part.count:3d} × {part.label}{more}", file=out)
    used = running_cost(plan)
    print(
        f"\n  {used.connected_w:.0f} W connected, at most {used.most_w:.0f} W at one time, "
        f"at most {used.month_kwh:.0f} kWh and {used.month_cost:.2f} a month\n\nWhat to do",
        file=out,
    )
    for number, step in enumerate(setup_steps(plan), 1):
        print(f"\n  {number}. {step.title}{'. ' + step.why if step.why else ''}", file=out)
        for detail in step.details:
            print(f"     - {plain_text(detail, units)}", file=out)
    print("\nCautions", file=out)
    for caution in list_cautions(plan):
        print(f"  - {plain_text(caution.text, units)}", file=out)


def scenarios_text(table: ScenarioTable, out: TextIO) -> None:
    """Write what holds always and what only sometimes, one row a need."""
    print("Predicted, not measured. Met in which situation?\n", file=out)
    print(f"  {'':34}" + "".join(f"{s:>9}" for s in table.situations), file=out)
    for row in table.rows:
        v = row.check
        name = f"{v.place_label}, {quantity_words(v.need.place, v.need.quantity)}"
        cells = [
            "–"
            if c.status == "unknown"
            else "yes"
            if c.met
            else "partly"
            if c.share
            else STATUS_WORDS[c.status]
            for c in row.cells
        ]
        print(f"  {name:34}" + "".join(f"{c:>9}" for c in cells) + f"   {row.met}", file=out)
    for situation, why in table.not_applicable:
        print(f"\n  {situation}: {why}", file=out)


def light_text(rows: list[dict[str, Any]], out: TextIO) -> None:
    """Light at points, one line each."""
    print("       x      y      z m   UVI level  facing  W/m² level  facing        lx  µmol/m²/s", file=out)
    for row in rows:
        x, y, z = row["position_m"]
        print(
            f"  {x:6.3f} {y:6.3f} {z:6.3f}     {row['uvi_level']:8.2f} {row['uvi_facing']:7.2f}"
            f"  {row['irradiance_level']:10.1f} {row['irradiance_facing']:7.1f}"
            f"  {row['illuminance_level']:8.0f}  {row['ppfd_level']:9.1f}",
            file=out,
        )


def reading_text(reading: PointFigures, out: TextIO) -> None:
    """Write what instruments should read at a point."""
    x, y, z = reading.position_m
    print(f"at {x:g}, {y:g}, {z:g} m (predicted)", file=out)
    if reading.depth_m > 0:
        print(f"  in the ground, {100 * reading.depth_m:.0f} cm deep: {reading.probe_c:.1f} °C", file=out)
        return
    print(f"  UVI facing the light {reading.uvi_facing:.2f}, level {reading.uvi_level:.2f}", file=out)
    print(f"  irradiance {reading.irradiance_w_m2:.0f} W/m²", file=out)
    print(f"  illuminance {reading.illuminance_lx:.0f} lx", file=out)
    if reading.ppfd_umol_m2_s > 0:
        print(f"  light for plants {reading.ppfd_umol_m2_s:.0f} µmol/m²/s", file=out)
    words = {0: "free of UV", 5: "beyond class 4"}
    named = words.get(reading.exposure_class, f"class {reading.exposure_class}")
    print(f"  exposure: {named}", file=out)
    print(f"  air {reading.air_c:.1f} °C, surface below {reading.surface_c:.1f} °C", file=out)
    print(
        f"  probe reading {reading.probe_c:.1f} °C shaded, {reading.probe_in_beam_c:.1f} °C in the light",
        file=out,
    )
    print(f"  operative temperature {reading.operative_c:.1f} °C", file=out)
    if reading.relative_humidity is not None:
        print(f"  relative humidity {reading.relative_humidity * 100:.0f} %", file=out)


def day_text(day: Day, out: TextIO) -> None:
    """Write what a day comes to."""
    print(f"{day.plan.name}, a day that repeats (predicted, not measured)\n", file=out)
    for p in day.places:
        surface = ""
        if p.surface_c is not None:
            surface = f"  surface {p.surface_c.min():5.1f}–{p.surface_c.max():4.1f} °C"
        rh = 100 * p.relative_humidity
        print(
            f"  {p.label:16} air {p.air_c.min():5.1f}–{p.air_c.max():4.1f} °C"
            f"  probe {p.probe_c.min():5.1f}–{p.probe_c.max():4.1f} °C{surface}"
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
        off = "" if t.error_k is None else f", {t.error_k:.1f} K off its set point on average"
        print(f"  {t.label:16} switches {t.switchings_per_h:.1f} times an hour{off}", file=out)
    for words, minutes in (
        ("Warm", day.warm_up_min),
        ("Cool", day.cool_down_min),
        ("Dry after misting", day.dry_min),
    ):
        if minutes is not None:
            text = "never within the day" if math.isinf(minutes) else f"after {minutes:.0f} min"
            print(f"  {words}: {text}", file=out)


def failure_text(outcome: FailureOutcome, out: TextIO) -> None:
    """Write the outcome of a what-if test."""
    when = "at dusk" if outcome.failure_scenario.by_night else "at dawn"
    if outcome.safe_place is not None and outcome.unsafe:
        names = ", ".join(p.label for p in outcome.unsafe)
        end = f"not safe at {names}; {outcome.safe_place} stays safe"
    elif outcome.safe_place is not None:
        end = "every place stays safe"
    elif outcome.always_somewhere:
        end = "some place is always safe, but not the same one"
    else:
        end = f"NO SAFE PLACE after {outcome.minutes_to_danger:.0f} min"
    print(f"  {outcome.failure_scenario.label}, {when}: {end}", file=out)
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
            for v in (task.prediction.value, task.prediction.low, task.prediction.high)
        )
        print(f"{number}. {task.place}: {kind.replace('_', ' ')}{where}, by {task.instrument}", file=out)
        print(f"   expected {value} ({low} to {high}). {task.why}", file=out)


def fit_text(catalogue: Plan, found: Fit, units: Units, out: TextIO) -> None:
    """What readings say of an enclosure: multipliers, outliers, and each reading before and after."""
    print(f"{catalogue.name}: what {len(found.residuals)} readings show", file=out)
    for phrase in describe_fit(catalogue, found):
        print(f"- {plain_text(phrase, units)}", file=out)
    still = [m.multiplier.label for m in found.multipliers if not m.settled]
    if still:
        print(f"Not settled by these readings: {', '.join(still)}.", file=out)
    print(f"Misfit {found.misfit:.2f} (1 or less is as the instruments explain).", file=out)
    for r in found.residuals:
        kind = r.reading.kind
        read, before, after = (_reading_text(v, kind, units) for v in (r.reading.value, r.before, r.after))
        line = f"  {r.reading.id}: read {read}, before {before}, after {after}, off {r.deviations:+.1f}"
        print(line, file=out)
        if r.stray:
            print(f"    unusual: {plain_text(likely_cause(found, r), units)}", file=out)


def _reading_text(value: float, kind: Kind, units: Units) -> str:
    if kind in UV_KINDS:
        return figure_text(value, "UVI", units)
    if kind in SHARE_KINDS:
        return figure_text(100.0 * value, "%", units)
    return figure_text(value, "°C", units)


def design_text(design: Design, out: TextIO) -> None:
    """Write set-ups with their checks and what they take, then what prevents it."""
    for number, one in enumerate(design.set_ups, 1):
        _set_up_text(number, one, out)
    if design.conflicts:
        print("What prevents it:", file=out)
        for conflict in design.conflicts:
            print(f"  {plain_text(conflict.sentence)}", file=out)
            print(f"      {plain_text(conflict.way_out)}", file=out)
    print(f"\n{design.screened:,} candidates screened. Figures are predictions until measured.", file=out)


def _set_up_text(number: int, one: SetUp, out: TextIO) -> None:
    plan = one.plan
    size = plan.enclosure
    state = "fits all year" if one.months and one.fits_all_year else "fits" if one.fits else "does not fit"
    if not one.fits and not one.evaluation.failing:
        state = "nothing fails, but not all is certain until measured"
    print(f"{number}. {one.label.capitalize()}: {state}", file=out)
    print(
        f"   {100 * size.length_m:.0f} × {100 * size.depth_m:.0f} × {100 * size.height_m:.0f} cm, "
        f"{one.watts:.0f} W connected, {one.month_kwh:.0f} kWh a month, "
        f"to buy about {one.price:.0f} (estimate)",
        file=out,
    )
    for fixture in plan.fixtures:
        x, y, z = (100 * v for v in fixture.position_m)
        print(f"   {fixture.label}: {fixture.lamp.label}, {fixture.power_w:g} W", end="", file=out)
        print(f", at {x:.0f}, {y:.0f}, {z:.0f} cm", file=out)
    for control in plan.thermostats:
        day, night = (
            "off" if v is None else f"{v:.1f} °C"
            for v in (control.day_set_point_c, control.night_set_point_c)
        )
        print(f"   {control.label}: {day} by day, {night} by night", file=out)
    for sentence in one.why:
        print(f"   {plain_text(sentence)}", file=out)
    for check in by_weight(one.evaluation):
        words = quantity_words(check.need.place, check.need.quantity)
        print(
            f"     {_status_text(check):9} {check.place_label:24} {words:13} "
            f"{value_text(check.value, check.need.quantity):>8}  "
            f"{'needs' if check.required else 'optional:'} {range_text(check.need)}",
            file=out,
        )
    for test in one.what_if:
        print(
            f"   {test.label}: the coolest place ({test.place_label}) comes to {test.coolest_c:.1f} °C, "
            f"{'safe' if test.safe else 'safe only'} up to {test.highest_safe_c:.0f} °C",
            file=out,
        )
    troubles = [m for m in one.months if not m.fits]
    if one.months:
        fitting = len(one.months) - len(troubles)
        print(f"   In range in {fitting} of 12 months of the room.", file=out)
        for month in troubles:
            print(f"     {MONTHS[month.number - 1]}: {month.cause or 'uncertain'}", file=out)
    for change in one.year.settings:
        day, night = ("off" if v is None else f"{v:.1f} °C" for v in (change.day_c, change.night_c))
        print(
            f"   {_months_text(change)}: {change.thermostat_id} thermostat to {day} by day, "
            f"{night} by night",
            file=out,
        )
    for care in one.year.care:
        litres, vents = care_amounts(one.plan, care)
        said = [] if litres is None else [f"spray {litres:.2f} L each time"]
        said += [] if care.wetness is None else [f"keep the ground {dampness(care.wetness)}"]
        said += [] if vents is None else [f"vents open {1e4 * vents:.0f} cm² in all"]
        print(f"   {_months_text(care)}: {', '.join(said)}", file=out)
    print(file=out)


def _months_text(one: InMonths) -> str:
    first, last = MONTHS[one.from_month - 1], MONTHS[one.to_month - 1]
    return first if first == last else f"{first} to {last}"
