"""Checks that know how likely they are met, and a summary that claims no more than they do."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.forecast import ForecastMonth, summary_with_months
from noonshade.core.phrase import plain_text
from noonshade.core.plan import RoomClimate
from noonshade.core.summary import summarize, summarize_year
from noonshade.core.uncertainty.chances import SURE, with_chances
from noonshade.core.uncertainty.intervals import Interval, compute_intervals
from tests.builders import controlled, demo_plan, flawless
from tests.evaluated import evaluate


def with_chance(chance: float):  # type: ignore[no-untyped-def]
    result = evaluate(flawless())
    return with_chances(result, [Interval(c.id, 0.0, 1.0, chance, ()) for c in result.checks])


def test_a_check_in_range_with_too_little_chance_is_uncertain_and_names_a_reading() -> None:
    known = with_chance(SURE - 0.01)
    assert {c.status for c in known.checks} == {"uncertain"}
    assert not known.fits
    assert known.failing == ()
    basking = next(c for c in known.checks if c.id == "basking:surface_temperature")
    assert basking.settles == "Read the surface of the basking spot with an infrared thermometer."
    assert all(c.settles.endswith(".") and len(c.settles) > 20 for c in known.checks)
    words = plain_text(summarize(known))
    assert words.startswith("Nothing fails for an eastern collared lizard, but 13 checks are uncertain")


def test_with_enough_chance_it_fits() -> None:
    known = with_chance(SURE)
    assert {c.status for c in known.checks} == {"ok"}
    assert known.fits
    assert "all 13 checks pass (day and night, with the room at 21.0 °C and" in plain_text(summarize(known))


def test_without_chances_a_summary_says_so() -> None:
    assert "checks pass as computed" in plain_text(summarize(evaluate(flawless())))


def test_what_fails_keeps_failing_whatever_its_chance() -> None:
    result = evaluate(demo_plan())
    known = with_chances(result, compute_intervals(result))
    hot = next(c for c in known.checks if c.id == "basking:surface_temperature")
    assert (hot.status, hot.severity) == ("high", "danger")
    assert hot.chance is not None
    assert hot.chance < 0.3


def test_a_set_point_of_the_air_leaves_the_slab_less_sure_than_one_of_the_slab() -> None:
    slab = demo_plan().basking_slab
    assert slab is not None
    top = demo_plan().top_of(slab)
    on_slab = controlled(flawless(), probe_m=(slab.x_m + 0.05, slab.y_m, top + 0.003), day_set_point_c=47.0)
    chances = []
    for plan in (flawless(), on_slab):
        result = evaluate(plan)
        known = with_chances(result, compute_intervals(result))
        chances.append(next(c.chance for c in known.checks if c.id == "basking:surface_temperature"))
    assert chances[0] < SURE < chances[1]  # type: ignore[operator]


@pytest.mark.parametrize(
    ("months", "words"),
    [
        (
            [(6, "too warm"), (7, "too warm"), (8, "too warm"), (9, "too warm")],
            "too warm from June to September",
        ),
        ([(11, "too cold"), (12, "too cold"), (1, "too cold")], "too cold from November to January"),
        ([(5, "too dry")], "too dry in May"),
        ([(m, "too warm") for m in range(1, 13)], "too warm all year"),
        (
            [(1, "too cold"), (7, "too warm"), (12, "too cold")],
            "too cold from December to January; too warm in July",
        ),
        ([(3, "too dry"), (9, "too dry")], "too dry in March and in September"),
    ],
)
def test_months_are_said_as_runs_around_the_year(months: list[tuple[int, str]], words: str) -> None:
    assert plain_text(summarize_year(("Now.",), months, True)) == f"Fits now; {words}. Now."
    assert plain_text(summarize_year(("Now.",), months, False)) == f"Now. Over the year: {words}."


def test_a_month_that_fails_as_now_is_no_news() -> None:
    result = evaluate(demo_plan())
    same = ForecastMonth(1, 2, ("x",), "basking spot too hot")
    other = ForecastMonth(2, 1, ("x",), "too cold")
    assert plain_text(summary_with_months(result, [same])) == plain_text(summarize(result))
    assert "Over the year: too cold in February." in plain_text(summary_with_months(result, [same, other]))


def test_a_hot_summer_is_said_with_the_fit_of_today() -> None:
    mild, hot = RoomClimate(22.0, 17.0, 0.45), RoomClimate(36.0, 30.0, 0.45)
    months = tuple(hot if m in (6, 7, 8) else mild for m in range(1, 13))
    plan = replace(flawless(), room=replace(flawless().room, months=months))
    from noonshade.core.forecast import forecast_months

    words = plain_text(summary_with_months(evaluate(plan), forecast_months(plan)))
    assert words.startswith("Fits now; too warm from June to August.")
