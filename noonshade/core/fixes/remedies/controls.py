"""Repairs of thermostats and their probes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.assessment.equipment import LIKELY_FAHRENHEIT_C
from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import (
    Add,
    Candidate,
    Change,
    Remove,
    Step,
    probe_reading,
    with_fixture,
    with_thermostat,
)
from noonshade.core.fixes.remedies.edits import fixture_of, moved
from noonshade.core.phrase import Measure, Phrase, named, uncapitalized
from noonshade.core.plan import (
    Fixture,
    Plan,
    Point,
    Thermostat,
)


def pairing(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A thermostat of a kind the lamp bears, or a timer alone."""
    plan = evaluation.plan
    fixture = fixture_of(plan, finding)
    governed = [f for f in plan.fixtures if f.thermostat_id == fixture.thermostat_id]
    own = next(t for t in plan.thermostats if t.id == fixture.thermostat_id)
    for kind in fixture.lamp.controls:
        if all(kind in f.lamp.controls for f in governed):
            changed = replace(own, kind=kind)
            words = (f"Use a thermostat that {_KIND_WORDS[kind]} as {named(own.label)}",)
            yield Candidate(
                with_thermostat(plan, changed), words, (Change("thermostat", own.id, "kind", kind),)
            )
    yield moved(plan, fixture, (f"Put {named(fixture.label)} on a timer only",), {"thermostat_id": None})


_KIND_WORDS = {"on_off": "switches on and off", "dimming": "dims", "pulse": "pulses"}


def controlled(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A thermostat for a heater that has none: its probe where the heat goes, set to what it is now."""
    plan = evaluation.plan
    fixture = fixture_of(plan, finding)
    kind = fixture.lamp.controls[-1]
    ids = {t.id for t in plan.thermostats}
    number = next(n for n in range(1, 99) if f"thermostat-{n}" not in ids)
    probe = _beside(plan, fixture)
    warm = plan.animal.need(plan.animal.warm_place, "air_temperature")
    low, high = (warm.low, warm.high) if warm is not None else (24.0, 30.0)
    wanted = 0.5 * ((low or 24.0) + (high or 30.0)) + (2.0 if fixture.against is not None else 0.0)
    at_night = wanted if fixture.lit_at("night") else None
    made = Thermostat(
        f"thermostat-{number}",
        f"Thermostat for {uncapitalized(fixture.label)}"[:80],
        kind,
        round(wanted, 1),
        None if at_night is None else round(at_night, 1),
        1.0,
        probe,
    )
    reading = _reading(evaluation, plan, fixture, made)
    # A heater that has run without one may have made its place too hot already.
    safe = reading is not None and reading <= plan.animal.species.highest_safe_c
    points = [round(reading, 1)] if reading is not None and safe else []
    for point in dict.fromkeys([*points, made.day_set_point_c]):
        set_to = replace(made, day_set_point_c=point, night_set_point_c=point if at_night else None)
        bound = replace(fixture, thermostat_id=made.id)
        words: Phrase = (
            f"Give {named(fixture.label)} a thermostat that {_KIND_WORDS[kind]}, set to ",
            Measure(point or 0.0, "°C"),
        )
        yield Candidate(
            with_thermostat(with_fixture(plan, bound), set_to),
            words,
            (Add("thermostat", set_to), Change("fixture", fixture.id, "thermostat_id", made.id)),
        )


def _beside(plan: Plan, fixture: Fixture) -> Point:
    """Where a probe feels a heater's warmth and not its beam: on the ground over a mat, else beside it."""
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    x, y, _ = fixture.position_m
    if fixture.against == "floor":
        return (round(x, 3), round(y, 3), round(ground + 0.005, 3))
    aside = 0.3 if x < enclosure.length_m / 2 else -0.3
    x = min(max(x + aside, 0.05), enclosure.length_m - 0.05)
    z = min(ground + 0.15, enclosure.height_m - 0.05)
    return (round(x, 3), round(enclosure.depth_m - 0.05, 3), round(z, 3))


def _reading(evaluation: Evaluation, plan: Plan, fixture: Fixture, thermostat: Thermostat) -> float | None:
    """What a thermostat's probe reads with the heater at the mean power it has now, °C."""
    share = evaluation.day.power_fraction.get(fixture.id, 1.0)
    watts = fixture.power_w * share
    if not fixture.lamp.power_min_w <= watts <= fixture.lamp.power_max_w:
        return None
    on_thermostat = replace(fixture, power_w=watts, thermostat_id=thermostat.id)
    return probe_reading(with_fixture(plan, on_thermostat), thermostat)


def probe_moved(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """The probe to where it feels the warmth it governs, set to what it reads there now."""
    plan = evaluation.plan
    own = next(t for t in plan.thermostats if t.id == finding.about_id)
    fixture = next(f for f in plan.fixtures if f.thermostat_id == own.id)
    place = _beside(plan, fixture)
    moved = replace(own, probe_m=place)
    reading = _reading(evaluation, plan, fixture, moved)
    points = [own.day_set_point_c]
    if reading is not None:
        points = [round(reading * 2) / 2, *(round(reading * 2) / 2 - k for k in (1.5, 3.0, 5.0))]
    for point in points:
        if point is None:
            continue
        changed = replace(moved, day_set_point_c=point)
        steps: tuple[Step, ...] = tuple(
            Change("thermostat", own.id, f"probe_m.{axis}", value)
            for axis, value in zip(("x_m", "y_m", "z_m"), place, strict=True)
        )
        beside: Phrase = (
            (f" on to the ground over {named(fixture.label)}",)
            if fixture.against == "floor"
            else (
                " to ",
                Measure(abs(place[0] - fixture.position_m[0]), "m"),
                f" beside {named(fixture.label)}, out of the beam",
            )
        )
        words: Phrase = (
            f"Move the probe of {named(own.label)}",
            *beside,
            " and set it to ",
            Measure(point, "°C"),
        )
        steps = (*steps, Change("thermostat", own.id, "day_set_point_c", point))
        yield Candidate(with_thermostat(plan, changed), words, steps)


def celsius(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """Set points read as °F."""
    plan = evaluation.plan
    own = next(t for t in plan.thermostats if t.id == finding.about_id)
    steps: list[Step] = []
    changed = own
    for name in ("day_set_point_c", "night_set_point_c"):
        value = getattr(own, name)
        if value is not None and value > LIKELY_FAHRENHEIT_C:
            meant = round((value - 32.0) / 1.8, 1)
            changed = replace(changed, **{name: meant})
            steps.append(Change("thermostat", own.id, name, meant))
    words: Phrase = (f"Set {named(own.label)} to ", Measure(changed.day_set_point_c or 0.0, "°C"))
    yield Candidate(with_thermostat(plan, changed), words, tuple(steps))


def idle(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A thermostat that governs nothing, taken out."""
    plan = evaluation.plan
    kept = tuple(t for t in plan.thermostats if t.id != finding.about_id)
    gone = next(t for t in plan.thermostats if t.id == finding.about_id)
    yield Candidate(
        replace(plan, thermostats=kept), (f"Remove {named(gone.label)}",), (Remove("thermostat", gone.id),)
    )
