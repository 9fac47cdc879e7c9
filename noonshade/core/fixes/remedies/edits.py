"""What repairs share: changing attributes of a fixture or a furnishing, in words and in steps."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from noonshade.core.assessment.finding import Finding
from noonshade.core.fixes.candidate import Candidate, Change, with_fixture
from noonshade.core.phrase import Measure, Phrase, named
from noonshade.core.plan import (
    Fixture,
    Hide,
    Plan,
    Slab,
)


def fixture_of(plan: Plan, finding: Finding) -> Fixture:
    """The fixture a finding is about."""
    return next(f for f in plan.fixtures if f.id == finding.about_id)


def moved(
    plan: Plan, fixture: Fixture, words: Phrase, changes: Mapping[str, float | str | bool | None]
) -> Candidate:
    """A candidate that changes attributes of one fixture; positions by ``position_m.x_m`` and the like."""
    position = dict(zip(("x_m", "y_m", "z_m"), fixture.position_m, strict=True))
    values: dict[str, object] = {}
    for key, value in changes.items():
        if key.startswith("position_m."):
            position[key.removeprefix("position_m.")] = float(value)  # type: ignore[arg-type]
        else:
            values[key] = value
    values["position_m"] = (position["x_m"], position["y_m"], position["z_m"])
    steps = tuple(Change("fixture", fixture.id, key, value) for key, value in changes.items())
    return Candidate(with_fixture(plan, replace(fixture, **values)), words, steps)  # type: ignore[arg-type]


def lifted(fixture: Fixture, z_m: float) -> Phrase:
    """Words for a lamp hung higher."""
    by = z_m - fixture.position_m[2]
    return (
        f"Raise {named(fixture.label)} by ",
        Measure(by, "m"),
        " to ",
        Measure(z_m, "m"),
        " above the enclosure floor",
    )


def with_item(plan: Plan, old: Slab | Hide, new: Slab | Hide) -> Plan:
    """The plan with one furnishing in place of another."""
    return replace(plan, furnishings=tuple(new if f is old else f for f in plan.furnishings))
