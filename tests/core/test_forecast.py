"""The year of a plan, what is due, and two plans side by side."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.assessment.reach import reach_of
from noonshade.core.comparison import compare_evaluations
from noonshade.core.forecast import SOON_DAYS, find_due_items, forecast_months
from noonshade.core.light.ageing import REFERENCE_H
from noonshade.core.plan import Plan, RoomClimate
from tests.builders import demo_plan, flawless, shipped_plan
from tests.evaluated import evaluate

MILD, HOT = RoomClimate(21.0, 17.0, 0.45), RoomClimate(38.0, 34.0, 0.45)


def _in(plan: Plan, *climates: RoomClimate) -> Plan:
    return replace(plan, room=replace(plan.room, months=climates))


def test_a_year_follows_the_room_month_by_month() -> None:
    year = forecast_months(_in(flawless(), *([MILD] * 6), HOT, *([MILD] * 5)))
    assert [m.number for m in year] == list(range(1, 13))
    assert {m.failing for m in year if m.number != 7} == {0}
    assert (year[6].failing or 0) > 0
    assert year[6].description


def test_without_months_nothing_is_said_of_the_year() -> None:
    assert forecast_months(_in(flawless())) == ()


def test_each_month_is_what_an_evaluation_in_that_room_says() -> None:
    plan = _in(demo_plan(), HOT)
    in_july = replace(plan, room=plan.room.with_climate(HOT))
    assert forecast_months(plan)[0].failing == len(evaluate(in_july).failing)


def test_a_tube_is_due_by_the_hours_it_burns() -> None:
    plan = demo_plan()
    tube = next(f for f in plan.fixtures if f.lamp.ageing is not None)
    life = tube.lamp.ageing.life_h  # type: ignore[union-attr]
    a_day = plan.photoperiod_h

    def with_hours(hours: float) -> Plan:
        aged = replace(tube, hours=hours)
        return replace(plan, fixtures=tuple(aged if f.id == tube.id else f for f in plan.fixtures))

    assert [d.kind for d in find_due_items(with_hours(REFERENCE_H))] == ["measure"]
    soon = find_due_items(with_hours(life - 14 * a_day))[0]
    assert soon.kind == "replace_lamp_soon"
    assert soon.in_days == pytest.approx(14.0)
    assert "2 weeks" in soon.message
    late = find_due_items(with_hours(life + 7 * a_day))[0]
    assert late.kind == "replace_lamp"
    assert late.in_days == pytest.approx(-7.0)
    just = find_due_items(with_hours(life - (SOON_DAYS + 1) * a_day))
    assert [d.kind for d in just] == ["measure"]


def test_a_comparison_with_itself_finds_nothing() -> None:
    result = evaluate(demo_plan())
    found = compare_evaluations(result, result)
    assert all(f.difference in (0.0, None) for p in found.places for f in p.figures)
    assert not found.findings_gone
    assert not found.findings_new


def test_differences_are_after_less_before_with_both_checks() -> None:
    before, after = evaluate(demo_plan()), evaluate(flawless())
    found = compare_evaluations(before, after)
    basking = next(p for p in found.places if p.id == "basking")
    surface = next(f for f in basking.figures if f.figure == "surface")
    assert surface.difference == pytest.approx(after.places[0].surface_c - before.places[0].surface_c)  # type: ignore[operator]
    assert (surface.status_before, surface.status_after) == ("high", "ok")
    assert {f.kind for f in found.findings_gone} == {"probe-far"}
    assert not found.findings_new
    assert found.places[-1].id == "night"


def test_a_hide_that_only_one_has_is_said_so() -> None:
    plan = demo_plan()
    without = replace(plan, furnishings=tuple(f for f in plan.furnishings if f.id != "cool-hide"))
    one, other = evaluate(plan), evaluate(without)
    gone = next(p for p in compare_evaluations(one, other).places if p.id == "cool-hide")
    assert gone.only == "before"
    assert all(f.after is None for f in gone.figures)
    back = next(p for p in compare_evaluations(other, one).places if p.id == "cool-hide")
    assert back.only == "after"


def test_a_copied_hide_is_found_by_its_name() -> None:
    plan = demo_plan()
    renamed = replace(
        plan,
        furnishings=tuple(replace(f, id="another") if f.id == "cool-hide" else f for f in plan.furnishings),
    )
    place = next(
        p for p in compare_evaluations(evaluate(plan), evaluate(renamed)).places if p.label == "Cool hide"
    )
    assert place.only is None


def test_walls_are_in_reach_of_climbers_only() -> None:
    assert reach_of(demo_plan()).faces == ()
    chameleon = reach_of(shipped_plan("panther-chameleon"))
    assert {"left", "right", "top"} <= set(chameleon.faces)
    assert "slab" in " ".join(reach_of(demo_plan()).things)
