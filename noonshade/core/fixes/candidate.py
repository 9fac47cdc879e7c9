"""A change of a plan that is evaluated with the full model, and what came of it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from noonshade.core.assessment.checks import SEVERITIES, Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.wording import TOO, figure_name, said
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.geometry import Resolution
from noonshade.core.phrase import Phrase
from noonshade.core.plan import ColdPack, Fan, Fixture, Furnishing, Inset, Plan, Thermostat, Vent
from noonshade.core.plan_errors import plan_errors

Part = Literal[
    "fixture", "thermostat", "furnishing", "room", "lid", "enclosure", "substrate", "animal", "plan"
]
Listed = Literal["fixture", "thermostat", "furnishing", "vent", "inset", "fan", "cold_pack"]
Value = bool | int | float | str | tuple[float, ...] | None


@dataclass(frozen=True, slots=True)
class Change:
    """One value of the plan to replace; ``part_id`` is empty where there is one such part only.

    ``attribute`` is the path within the part, with dots.
    """

    part: Part
    part_id: str
    attribute: str
    value: Value


@dataclass(frozen=True, slots=True)
class Add:
    """One thing to put into the plan."""

    part: Listed
    thing: Fixture | Furnishing | Thermostat | Vent | Inset | Fan | ColdPack


@dataclass(frozen=True, slots=True)
class Remove:
    """One thing to take out of the plan."""

    part: Literal["fixture", "thermostat"]
    part_id: str


Step = Change | Add | Remove


@dataclass(frozen=True, slots=True)
class Candidate:
    """A plan to try, what it changes, in words and in steps."""

    plan: Plan
    sentence: Phrase
    changes: tuple[Step, ...]


@dataclass(frozen=True, slots=True)
class Fix:
    """A change that fixes one check or finding: ``about_id``.

    ``value`` is the figure it leads to, None for a finding; ``breaks`` says what would fail that does
    not fail now, each completing "But it …"; ``plan`` is the plan after it.
    """

    about_id: str
    sentence: Phrase
    changes: tuple[Step, ...]
    value: float | None
    breaks: tuple[str, ...]
    plan: Plan


def with_fixture(plan: Plan, fixture: Fixture) -> Plan:
    """The plan with one fixture in place of that of the same id."""
    fixtures = tuple(fixture if f.id == fixture.id else f for f in plan.fixtures)
    return replace(plan, fixtures=fixtures)


def with_thermostat(plan: Plan, thermostat: Thermostat) -> Plan:
    """The plan with one thermostat in place of that of the same id, or beside the others."""
    if all(t.id != thermostat.id for t in plan.thermostats):
        return replace(plan, thermostats=(*plan.thermostats, thermostat))
    thermostats = tuple(thermostat if t.id == thermostat.id else t for t in plan.thermostats)
    return replace(plan, thermostats=thermostats)


# A set point no probe reaches in a plan that fits: the heater stays on.
ALWAYS_ON_C = 99.0


def probe_reading(plan: Plan, thermostat: Thermostat, resolution: Resolution | None = None) -> float | None:
    """What a thermostat's probe reads by day with what it governs on all the time, °C.

    None if the plan cannot be built or finds no steady state.
    """
    always = with_thermostat(plan, replace(thermostat, day_set_point_c=ALWAYS_ON_C))
    if plan_errors(always):
        return None
    try:
        states = evaluate(always, resolution).day.thermostats
    except ConvergenceError:
        return None
    return next((s.probe_c for s in states if s.thermostat.id == thermostat.id), None)


def evaluate_candidate(before: Evaluation, target: Check | Finding, candidate: Candidate) -> Fix | None:
    """What a change comes to; None if it does not help, cannot be built, or is a danger to the animal."""
    if plan_errors(candidate.plan):
        return None
    try:
        after = evaluate(candidate.plan)
    except ConvergenceError:
        return None
    if _endangers(before, after):
        return None
    value, sentence = None, (*candidate.sentence, ".")
    if isinstance(target, Finding):
        same = [f for f in after.findings if f.kind == target.kind and f.about_id == target.about_id]
        if any(f.severity == target.severity for f in same):
            return None
    else:
        found = next((v for v in after.checks if v.id == target.id), None)
        if found is None and target.need.place == "uv_refuge":
            # A place that was assessed for want of a hide gives way to the hide.
            hides = [v for v in after.checks if v.need.place == "uv_refuge" and v.value is not None]
            found = max(hides, key=lambda v: v.value or 0.0, default=None)
        if found is None or found.status != "ok" or found.value is None:
            return None
        value = found.value
        sentence = (*candidate.sentence, " → ", *said(found.need.quantity, found.value), ".")
    return Fix(target.id, sentence, candidate.changes, value, broken(before, after), candidate.plan)


_COMPARATIVE = {
    "cold": "colder",
    "hot": "hotter",
    "warm": "warmer",
    "low": "lower",
    "high": "higher",
    "dry": "drier",
    "damp": "damper",
    "small": "smaller",
    "large": "larger",
}

# A failed figure that goes this much further off, as a share of its range, has been made worse. Estimate:
# less than a prediction is uncertain by.
WORSE_SHARE = 0.10


def broken(before: Evaluation, after: Evaluation) -> tuple[str, ...]:
    """What a change does that makes something fail, or fail worse: each completes "But it …"."""
    failed = {v.id: v for v in before.checks if v.fails}
    effects = []
    for check in after.checks:
        old = failed.get(check.id)
        if check.fails and (old is None or _worse(old, check)):
            effects.append(_effect(check, again=old is not None))
    known = {f.id for f in before.findings if f.fails}
    effects += [
        f"causes a new fault ({_plain(f)})" for f in after.findings if f.fails and f.id not in known
    ]
    return tuple(effects)


def _endangers(before: Evaluation, after: Evaluation) -> bool:
    """Whether a change brings a danger that was not there, or makes one worse."""
    old = {v.id: v for v in before.checks if v.severity == "danger"}
    checks = any(v.severity == "danger" and (v.id not in old or _worse(old[v.id], v)) for v in after.checks)
    known = {f.id for f in before.findings if f.severity == "danger"}
    return checks or any(f.severity == "danger" and f.id not in known for f in after.findings)


def _effect(check: Check, again: bool) -> str:
    """Such as "makes the cool end probe reading too high"."""
    need = check.need
    # A place is cold, a reading low.
    reading = need.quantity == "air_temperature" and need.place != "night"
    low, high = ("low", "high") if reading else TOO[need.quantity]
    name = figure_name(need.place, check.place_label, need.quantity)
    adjective = low if check.status == "low" else high
    return f"makes the {name} {f'even {_COMPARATIVE[adjective]}' if again else f'too {adjective}'}"


def _worse(old: Check, new: Check) -> bool:
    """Whether a failed check is further off than it was, or off to the other side as badly."""
    if SEVERITIES.index(new.severity) > SEVERITIES.index(old.severity):
        return True
    return new.off_by > old.off_by + WORSE_SHARE


def _plain(finding: Finding) -> str:
    return next((part for part in finding.message if isinstance(part, str)), finding.kind).strip()
