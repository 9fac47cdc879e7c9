"""Thermostats set differently in some months: in the week's plan, in the card, and written down."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.care.seasonal_settings import ByMonth, MonthSetting, Swap
from noonshade.core.care.year import Year, middle_week, plan_at, setting_changes, weeks_of
from noonshade.core.design.designed_year import designed_year
from noonshade.core.design.months import DesignedMonth
from noonshade.core.forecast import forecast_months
from noonshade.core.plan import RoomClimate, Thermostat
from noonshade.formats.year_document import year_document, year_from_document
from tests.builders import demo_plan

PLAN = demo_plan()
CONTROL = PLAN.thermostats[0]
WINTER = MonthSetting(CONTROL.id, 11, 2, 31.0, None)


@pytest.mark.parametrize(("month", "held"), [(11, True), (12, True), (2, True), (3, False), (10, False)])
def test_a_setting_holds_in_its_months_past_december(month: int, held: bool) -> None:
    year = Year(days_follow=0.0, settings=(WINTER,))
    week = weeks_of(PLAN, year)[middle_week(month) - 1]
    there = next(t for t in plan_at(PLAN, year, week).thermostats if t.id == CONTROL.id)
    if held:
        assert (there.day_set_point_c, there.night_set_point_c) == (31.0, None)
    else:
        assert there.day_set_point_c == CONTROL.day_set_point_c


def test_the_card_tells_when_it_is_turned_and_turned_back() -> None:
    year = Year(days_follow=0.0, settings=(WINTER,))
    days = [{label: day for label, day, _ in c.set_points} for c in setting_changes(PLAN, year)]
    assert [d[CONTROL.label] for d in days] == [31.0, CONTROL.day_set_point_c, 31.0]


def test_it_survives_being_written_down() -> None:
    year = Year(settings=(WINTER, MonthSetting("other", 6, 8, None, 20.0)))
    assert year_from_document(year_document(year)) == year


def designed(number: int, day_c: float | None) -> DesignedMonth:
    set_so: tuple[Thermostat, ...] = (replace(CONTROL, day_set_point_c=day_c),)
    return DesignedMonth(number, set_so, False, 0, True, "", ())


def test_months_in_a_row_become_one_setting_around_the_year_and_as_planned_is_left_out() -> None:
    usual = CONTROL.day_set_point_c
    days = [31.0, 31.0, usual, usual, usual, 26.0, 26.0, None, usual, usual, usual, 31.0]
    year = designed_year(PLAN, tuple(designed(i, d) for i, d in enumerate(days, 1)))
    found = {(s.from_month, s.to_month, s.day_c) for s in year.settings}
    assert found == {(12, 2, 31.0), (6, 7, 26.0), (8, 8, None)}
    assert (year.day_swing_k, year.night_swing_k) == (0.0, 0.0)


def test_the_forecast_knows_what_is_set_by_months() -> None:
    months = tuple(RoomClimate(21.0 if m < 6 else 24.0, 17.0, 0.45) for m in range(12))
    plan = replace(PLAN, room=replace(PLAN.room, months=months))
    lamp = next(f for f in plan.fixtures if f.thermostat_id == CONTROL.id)
    plain = forecast_months(plan)
    weaker = forecast_months(plan, ByMonth((Swap(lamp.id, 1, 3, 0.6 * lamp.power_w),)))
    assert [m.description for m in weaker[3:]] == [m.description for m in plain[3:]]
    assert weaker[0].description != plain[0].description
    off = forecast_months(plan, ByMonth((), (MonthSetting(CONTROL.id, 12, 1, None, None),)))
    assert off[0].description != plain[0].description
    assert off[1].description == plain[1].description
