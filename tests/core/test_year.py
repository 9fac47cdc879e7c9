"""The year of an enclosure: weeks, months, brumation, limits of the room, checks of a month."""

from __future__ import annotations

import itertools
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.care.month_checks import check_month, find_year_limits
from noonshade.core.care.seasonal_settings import Swap
from noonshade.core.care.year import (
    WEEKS,
    Brumation,
    WeekChange,
    Year,
    by_week,
    default_year,
    first_day,
    middle_week,
    month_of,
    phase_of,
    plan_at,
    setting_changes,
    week_of,
    weeks_of,
)
from noonshade.core.phrase import plain_text
from noonshade.core.plan import Plan, RoomClimate
from tests.builders import shipped_plan

LIZARD, CHAMELEON = shipped_plan("collared-lizard"), shipped_plan("panther-chameleon")
rests = st.builds(
    Brumation, st.integers(1, 52), st.integers(1, 30), st.integers(0, 6), st.just(5.0), st.just(12.0)
)


@given(st.dates(date(2020, 1, 1), date(2032, 12, 31)))
def test_every_day_is_in_the_week_that_begins_before_it(day: date) -> None:
    week = week_of(day)
    assert 1 <= week <= WEEKS
    begin = first_day(week, day.year)
    assert begin <= day
    # The last week has the days left over: two, or three in a leap year less one.
    assert (day - begin).days < (7 if week < WEEKS else 9)


def test_weeks_and_months_agree() -> None:
    assert [month_of(middle_week(m)) for m in range(1, 13)] == list(range(1, 13))
    assert {month_of(w) for w in range(1, WEEKS + 1)} == set(range(1, 13))
    flat = by_week((7.0,) * 12)
    assert set(flat) == {7.0}
    course = by_week(tuple(float(m) for m in range(12)))
    assert max(abs(a - b) for a, b in itertools.pairwise(course)) < 3.0
    # December goes on into January without a jump.
    assert abs(course[-1] - course[0]) < 3.0


@given(rests)
def test_a_rest_has_its_weeks_and_is_wound_down_and_up_evenly(rest: Brumation) -> None:
    phases = [phase_of(rest, w) for w in range(1, WEEKS + 1)]
    names = [p for p, _ in phases]
    if rest.weeks + 2 * rest.ramp_weeks <= WEEKS:
        assert names.count("brumation") == rest.weeks
        assert names.count("winding_down") == names.count("winding_up") == rest.ramp_weeks
    for name, wound in phases:
        assert (wound == 1.0) == (name == "brumation")
        assert (wound == 0.0) == (name == "usual")
        assert 0.0 <= wound <= 1.0


def test_the_day_length_of_home_is_copied_whole_in_part_or_not() -> None:
    whole = weeks_of(LIZARD, Year(1.0))
    june, december = whole[24].photoperiod_h, whole[50].photoperiod_h
    assert june == pytest.approx(14.5, abs=0.2)
    assert december == pytest.approx(9.8, abs=0.2)
    half = weeks_of(LIZARD, Year(0.5))[24].photoperiod_h
    assert half == pytest.approx((june + LIZARD.photoperiod_h) / 2, abs=1e-9)
    assert {w.photoperiod_h for w in weeks_of(LIZARD, Year(0.0))} == {LIZARD.photoperiod_h}
    # Turned by half a year, its longest day is in the other half.
    turned = weeks_of(LIZARD, Year(1.0, shifted=True))
    assert turned[50].photoperiod_h == pytest.approx(june, abs=0.1)


def test_set_points_follow_and_never_rise_above_the_plan() -> None:
    weeks = weeks_of(LIZARD, Year(1.0, day_swing_k=4.0, night_swing_k=6.0))
    assert max(w.day_shift_k for w in weeks) == pytest.approx(0.0)
    assert min(w.day_shift_k for w in weeks) == pytest.approx(-4.0)
    assert min(w.night_shift_k for w in weeks) == pytest.approx(-6.0)
    coolest = min(weeks, key=lambda w: w.home_high_c)
    assert coolest.day_shift_k == pytest.approx(-4.0)
    there = plan_at(LIZARD, Year(), coolest)
    assert there.thermostats[0].day_set_point_c == pytest.approx(30.0 - 4.0)
    assert there.thermostats[0].night_set_point_c is None


def test_in_the_rest_the_heat_is_off_and_light_as_told() -> None:
    year = Year(1.0, brumation=Brumation(50, 8, 2, 7.0, 14.0))
    weeks = weeks_of(LIZARD, year)
    there = plan_at(LIZARD, year, weeks[51])
    assert there.fixtures == ()
    assert {t.day_set_point_c for t in there.thermostats} == {None}
    dim = replace(year, brumation=Brumation(50, 8, 2, 7.0, 14.0, light_h=8.0))
    lit = plan_at(LIZARD, dim, weeks_of(LIZARD, dim)[51])
    assert [f.id for f in lit.fixtures] == ["uv-tube"]
    assert lit.photoperiod_h == 8.0
    # It shortens on the way in, and lengthens on the way out.
    assert weeks[46].photoperiod_h > weeks[47].photoperiod_h > weeks[48].photoperiod_h > 0
    assert weeks[5].photoperiod_h < weeks[6].photoperiod_h < weeks[8].photoperiod_h


def test_a_keepers_own_week_and_bulb_count() -> None:
    year = Year(
        1.0,
        swaps=(Swap("basking-lamp", 11, 2, 100.0), Swap("basking-lamp", 5, 8, 50.0)),
        changes=(WeekChange(20, photoperiod_h=10.0, day_shift_k=-3.0),),
    )
    week = weeks_of(LIZARD, year)[19]
    assert (week.photoperiod_h, week.day_shift_k, week.changed) == (10.0, -3.0, True)
    watts = [
        next(f.power_w for f in plan_at(LIZARD, year, w).fixtures if f.id == "basking-lamp")
        for w in weeks_of(LIZARD, year)
    ]
    usual = next(f.power_w for f in LIZARD.fixtures if f.id == "basking-lamp")
    assert [watts[middle_week(m) - 1] for m in (1, 4, 6, 9, 12)] == [100.0, usual, 50.0, usual, 100.0]


def test_misting_follows_the_rain_within_bounds() -> None:
    weeks = weeks_of(CHAMELEON, Year(misting_follow=1.0))
    assert 0.25 <= min(w.misting for w in weeks) < max(w.misting for w in weeks) <= 2.0
    dry = min(weeks, key=lambda w: w.home_rain_mm)
    assert dry.misting == min(w.misting for w in weeks)
    assert {w.misting for w in weeks_of(CHAMELEON, Year())} == {1.0}


def test_the_usual_year_turns_southern_seasons_and_rests_when_the_room_is_cool() -> None:
    lizard, chameleon = default_year(LIZARD), default_year(CHAMELEON)
    assert not lizard.shifted
    assert chameleon.shifted
    assert not default_year(CHAMELEON, room_latitude_deg=-34.0).shifted
    assert chameleon.brumation is None
    assert lizard.brumation is not None
    resting = [w for w in weeks_of(LIZARD, lizard) if w.phase == "brumation"]
    assert {month_of(w.number) for w in resting} <= {12, 1, 2}
    young = replace(LIZARD, animal=replace(LIZARD.animal, stage="young"))
    assert default_year(young).brumation is None


def test_settings_change_when_something_does_and_say_it_as_dials_do() -> None:
    made = setting_changes(LIZARD, default_year(LIZARD))
    assert made[0].week == 1
    assert 12 < len(made) < WEEKS
    for one, following in itertools.pairwise(made):
        assert replace(one, week=following.week) != following
        assert (one.on_h * 4) % 1 == 0
        assert one.on_h + one.off_h == 24.0
    assert len(setting_changes(LIZARD, Year(0.0))) == 1


def roomy(plan: Plan, *by_month: tuple[float, float]) -> Plan:
    months = tuple(RoomClimate(day, night, 0.45) for day, night in by_month)
    return replace(plan, room=replace(plan.room, months=months))


def test_what_the_room_does_not_allow_is_said() -> None:
    year = Year(1.0, brumation=Brumation(1, 6, 0, 7.0, 14.0))
    cool = roomy(LIZARD, *[(12.0, 9.0)] * 3, *[(22.0, 17.0)] * 9)
    assert find_year_limits(cool, year) == ()
    warm = roomy(LIZARD, *[(19.0, 16.0)] * 3, *[(22.0, 17.0)] * 9)
    assert [(one.id, one.months) for one in find_year_limits(warm, year)] == [("rest_too_warm", (1, 2))]
    frosty = roomy(LIZARD, *[(9.0, 2.0)] * 3, *[(22.0, 17.0)] * 9)
    assert [one.id for one in find_year_limits(frosty, year)] == ["rest_too_cold"]
    hot = roomy(LIZARD, *[(22.0, 17.0)] * 6, *[(31.0, 26.0)] * 2, *[(22.0, 17.0)] * 4)
    found = find_year_limits(hot, Year(1.0))
    assert [one.id for one in found] == ["night_too_warm", "day_too_warm"]
    assert set(found[0].months) <= {7, 8}
    assert "31" not in plain_text(found[0].description)
    assert find_year_limits(replace(LIZARD, room=replace(LIZARD.room, months=())), year) == ()


def test_a_month_is_judged_as_it_is_set_then_and_mended_by_the_season() -> None:
    year = Year(0.0)
    months = [(19.0, 15.0)] * 6 + [(28.0, 20.0)] * 2 + [(19.0, 15.0)] * 4
    warm = roomy(LIZARD, *months)
    july = check_month(warm, year, 7)
    assert july.failing
    assert july.phase == "usual"
    # The fix is of bulb or dial, and in a plan of that month it holds.
    january = check_month(warm, year, 1, fixing=False)
    assert january.fix is None
    assert january.failing is not None
    with pytest.raises(ValueError, match="by months"):
        check_month(replace(LIZARD, room=replace(LIZARD.room, months=())), year, 1)


def test_the_rest_is_judged_by_its_own_range() -> None:
    cool = roomy(LIZARD, *[(12.0, 9.0)] * 12)
    year = Year(1.0, brumation=Brumation(1, 6, 1, 7.0, 14.0))
    assert check_month(cool, year, 1).failing == ()
    warm = check_month(roomy(LIZARD, *[(20.0, 18.0)] * 12), year, 1)
    assert warm.failing is not None
    assert [f.id for f in warm.failing] == ["rest:enclosure"]
    assert "Too warm for the rest" in plain_text(warm.description)
    cold = check_month(roomy(LIZARD, *[(4.0, 1.0)] * 12), year, 1)
    assert "Too cold" in plain_text(cold.description)
    assert first_day(1, 2028) + timedelta(days=59) == date(2028, 2, 29)
