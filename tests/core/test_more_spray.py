"""Spraying more, and once more, where humidity is too low."""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.fixes.remedies.spray import more_spray
from noonshade.core.plan import Misting, Plan
from noonshade.formats.plan_to_document import plan_document_of
from noonshade.formats.results.evaluation import patch_of
from tests.evaluated import evaluate
from tests.judged.setups import home, room


def frog_box(litres: float, hours: tuple[float, ...]) -> Plan:
    return home("ranoidea-caerulea", "glass", at=room(23, 19, 0.30), wet=0.0, mist=(litres, hours))


def hours_after(plan: Plan, check_id: str) -> list[tuple[tuple[float, ...], ...]]:
    check = next(c for c in evaluate(plan).checks if c.id == check_id)
    found = [c.plan.mistings for c in more_spray(plan, check)]
    return [tuple(m.hours for m in mistings) for mistings in found]


def test_it_is_sprayed_once_more_in_the_longest_pause_of_the_day_and_after_dusk() -> None:
    plan = frog_box(0.05, (8.0, 16.0))
    assert (plan.dawn, plan.dusk) == (6.0, 18.0)
    assert hours_after(plan, "lower:humidity")[-1] == ((8.0, 12.0, 16.0),)
    late = plan.dusk + 2.0
    assert hours_after(plan, "night:humidity")[-1] == ((8.0, 16.0, late),)
    # Not where it is sprayed about then already.
    again = replace(plan, mistings=(Misting((8.0, late - 1.0), 0.05),))
    assert all(hours == again.mistings[0].hours for (hours,) in hours_after(again, "night:humidity"))
    # With each the water of the spray before it.
    two = replace(plan, mistings=(Misting((8.0,), 0.05), Misting((16.0,), 0.02)))
    assert hours_after(two, "night:humidity")[-1] == ((8.0,), (16.0, late))
    assert hours_after(replace(plan, mistings=()), "night:humidity") == []


def test_a_dry_night_is_fixed_by_a_late_spray_with_a_patch_that_does_it() -> None:
    plan = frog_box(0.3, (8.0, 14.0))
    before = evaluate(plan)
    check = next(c for c in before.checks if c.id == "night:humidity")
    candidate = list(more_spray(plan, check))[-1]
    after = next(c for c in evaluate(candidate.plan).checks if c.id == "night:humidity")
    assert check.value is not None
    assert after.value is not None
    assert after.value > check.value + 0.03
    (step,) = patch_of(candidate.changes, plan_document_of(plan))
    assert (step.op, step.path) == ("replace", "/mistings/0/hours")
    assert step.value == list(candidate.plan.mistings[0].hours)
