"""Lamps as things: hours by their timers, what they still give, and when a plan falls short."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.care.lamp_output import (
    Installation,
    find_uv_shortfall,
    hours_burned,
    lamp_output,
    uv_need,
    with_hours,
)
from noonshade.core.care.weight_trend import weight_trend
from noonshade.core.evaluate import Evaluation
from noonshade.core.light.ageing import uv_share
from noonshade.core.plan import Ageing, hours_on_timer
from tests.builders import changed, flawless, shipped_plan, uncontrolled
from tests.evaluated import evaluate

D0 = date(2026, 1, 1)
AGEING = Ageing(remaining=0.6, time_constant_h=3000.0, burn_in=0.1, life_h=6000.0)
day = st.integers(0, 900).map(lambda n: D0 + timedelta(days=n))
steps = st.lists(st.tuples(day, st.floats(0, 24)), max_size=6).map(lambda s: sorted(s, key=lambda x: x[0]))


def test_hours_follow_the_timer_before_and_after_it_was_changed() -> None:
    hung = Installation("p", "f", D0, None)
    set_ = [(date(2025, 6, 1), 10.0), (date(2026, 1, 11), 12.0), (date(2026, 1, 21), 14.0)]
    assert hours_burned(hung, set_, D0 + timedelta(days=10)) == 100.0
    assert hours_burned(hung, set_, D0 + timedelta(days=25)) == 100.0 + 120.0 + 5 * 14.0
    down = replace(hung, end=D0 + timedelta(days=5))
    assert hours_burned(down, set_, D0 + timedelta(days=25)) == 50.0
    # Before the first revision that is known it burned as in that.
    assert hours_burned(hung, set_[1:], D0 + timedelta(days=10)) == 120.0
    assert hours_burned(hung, [], D0 + timedelta(days=10)) == 0.0


@given(day, day, day, steps)
def test_hours_add_up_whatever_day_they_are_counted_on(
    a: date, b: date, c: date, set_: list[tuple[date, float]]
) -> None:
    begin, middle, end = sorted((a, b, c))
    whole = hours_burned(Installation("p", "f", begin, end), set_, date(2030, 1, 1))
    parts = hours_burned(Installation("p", "f", begin, middle), set_, date(2030, 1, 1)) + hours_burned(
        Installation("p", "f", middle, end), set_, date(2030, 1, 1)
    )
    # The first day of a stretch before every setting counts as that setting, so parts agree with the whole.
    if not set_ or begin >= set_[0][0] or middle <= set_[0][0]:
        assert whole == pytest.approx(parts)
    assert 0.0 <= whole <= 24.0 * (end - begin).days


@pytest.mark.parametrize(
    ("lit", "timer", "photoperiod", "hours"),
    [
        ("day", (), 12.0, 12.0),
        ("night", (), 10.0, 14.0),
        ("always", (), 12.0, 24.0),
        ("day", ((22.0, 2.0),), 12.0, 4.0),
        ("day", ((6.0, 8.5), (20.0, 21.0)), 12.0, 3.5),
    ],
)
def test_hours_of_a_timer(
    lit: str, timer: tuple[tuple[float, float], ...], photoperiod: float, hours: float
) -> None:
    assert hours_on_timer(lit, timer, photoperiod) == hours  # type: ignore[arg-type]


def test_what_a_lamp_gives_is_surer_when_it_is_new() -> None:
    new, worn = lamp_output(AGEING, 100.0), lamp_output(AGEING, 6000.0)
    assert (new.share, new.low, new.high) == (1.0, 1.0, 1.0)
    assert worn.share == pytest.approx(uv_share(AGEING, 6000.0))
    assert worn.low < worn.share < worn.high <= 1.0
    assert lamp_output(None, 9999.0).share == 1.0


@pytest.fixture(scope="module")
def fading() -> Evaluation:
    plan = changed(uncontrolled(flawless()), "basking-lamp", power_w=50.0)
    tube = next(f for f in plan.fixtures if f.id == "uv-tube")
    lamp = replace(tube.lamp, ageing=AGEING)
    return evaluate(changed(plan, "uv-tube", lamp=lamp))


def test_a_plan_falls_short_on_the_day_its_lamp_has_faded_so_far(fading: Evaluation) -> None:
    need = uv_need(fading)
    assert need is not None
    assert need.value is not None
    assert need.need.low is not None
    found = find_uv_shortfall(fading, D0, (-0.2, 0.2))
    assert found is not None
    # By hand: with one lamp the figure falls as its output does.
    ratio = need.need.low / need.value
    share = ratio * uv_share(AGEING, 100.0)
    hours = 100.0 - 3000.0 * math.log((share - 0.6) / 0.4)
    expected = (hours - 100.0) / fading.plan.photoperiod_h
    assert found.day is not None
    assert (found.day - D0).days == pytest.approx(expected, abs=6)
    assert found.earliest is not None
    assert found.earliest < found.day
    assert found.latest is None or found.latest > found.day
    later = evaluate(with_hours(fading.plan, (found.day - D0).days + 20))
    after = uv_need(later)
    assert after is not None
    assert after.status == "low"


def test_one_that_is_short_already_is_told_and_one_without_need_has_no_day(fading: Evaluation) -> None:
    tube = next(f for f in fading.plan.fixtures if f.id == "uv-tube")
    worn = evaluate(changed(fading.plan, "uv-tube", hours=40000.0))
    found = find_uv_shortfall(worn, D0)
    assert found is not None
    assert (found.short_now, found.day) == (True, D0)
    lasting = replace(tube.lamp, ageing=replace(AGEING, remaining=0.99))
    steady = find_uv_shortfall(evaluate(changed(fading.plan, "uv-tube", lamp=lasting)), D0)
    assert steady is not None
    assert steady.day is None
    assert find_uv_shortfall(evaluate(shipped_plan("giant-vinegaroon")), D0) is None


@pytest.mark.parametrize(
    ("grams", "expected"),
    [
        ([40.0], "too_few"),
        ([40.0, 40.5, 39.9], "steady"),
        ([40.0, 41.0, 42.5], "growing"),
        ([40.0, 42.0, 39.0], "falling"),
        ([40.0, 42.0, 37.0], "losing"),
    ],
)
def test_weights_say_where_they_go(grams: list[float], expected: str) -> None:
    points = [(D0 + timedelta(days=14 * i), g) for i, g in enumerate(grams)]
    assert weight_trend(points).id == expected
    assert weight_trend(points[::-1]) == weight_trend(points)


def test_an_old_weight_says_nothing_of_today_and_a_rest_is_told_as_one() -> None:
    points = [(D0, 60.0), (D0 + timedelta(days=90), 40.0)]
    assert weight_trend(points).id == "too_few"
    losing = [(D0, 60.0), (D0 + timedelta(days=30), 50.0)]
    assert "end the rest" in weight_trend(losing, resting=True).text
    with pytest.raises(ValueError, match="above 0"):
        weight_trend([(D0, 0.0)])
