"""Calendars read back by the library, and by the rules of the clock in several zones."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from dateutil.rrule import rrulestr
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar, Event

from noonshade.core.care.recurrence import Rule, days_of, every
from noonshade.core.care.year import default_year, setting_changes
from noonshade.formats.calendar_file import (
    CalendarTask,
    Clock,
    LampEnd,
    calendar_text,
    lamp_events,
    task_events,
    year_events,
)
from tests.builders import shipped_plan

LIZARD = shipped_plan("collared-lizard")
BERLIN, UTC = ZoneInfo("Europe/Berlin"), ZoneInfo("UTC")


def read(text: bytes) -> list[Event]:
    return [e for e in Calendar.from_ical(text).walk("VEVENT") if isinstance(e, Event)]


def task(rule: Rule, next_on: date | None = None) -> CalendarTask:
    return CalendarTask(
        "t",
        "Weigh, then; note",
        "Line one\nline two, with; signs",
        "Enclosure",
        rule,
        next_on or rule.starts_on,
    )


def days_in(event: Event, most: int) -> list[date]:
    """Days of an event by its own rule, as a calendar unrolls it."""
    begin = event.decoded("dtstart")
    assert not isinstance(begin, datetime)
    start = datetime(begin.year, begin.month, begin.day)
    if "rrule" not in event:
        return [begin]
    text = event["rrule"].to_ical().decode()
    return [moment.date() for moment in rrulestr(text, dtstart=start).xafter(start, most, inc=True)]


@given(
    st.integers(1, 6),
    st.sampled_from(["day", "week", "month", "year"]),
    st.dates(date(2024, 1, 1), date(2030, 12, 31)),
)
def test_a_calendar_shows_the_days_a_task_has(count: int, unit: str, start: date) -> None:
    rule = Rule(every(count, unit), start)  # type: ignore[arg-type]
    event = read(calendar_text("x", task_events([task(rule)])))[0]
    ours = days_of(rule, start, start + timedelta(days=4000), most=8)
    assert days_in(event, len(ours)) == list(ours)


def test_text_and_ends_survive_and_a_task_by_its_last_doing_comes_once() -> None:
    rule = Rule("FREQ=WEEKLY;BYDAY=MO,TH", date(2026, 3, 2), ends_on=date(2026, 3, 12))
    event = read(calendar_text("x", task_events([task(rule)])))[0]
    assert str(event["summary"]) == "Weigh, then; note: Enclosure"
    assert str(event["description"]) == "Line one\nline two, with; signs"
    assert [d.day for d in days_in(event, 20)] == [2, 5, 9, 12]
    after = Rule(every(3, "month"), date(2026, 1, 1), after_done=True)
    event = read(calendar_text("x", task_events([task(after, date(2026, 5, 31))])))[0]
    assert "rrule" not in event
    assert event.decoded("dtstart") == date(2026, 5, 31)
    ended = CalendarTask("t", "x", "", "Enclosure", Rule("", date(2026, 1, 1)), None)
    assert read(calendar_text("x", task_events([ended]))) == []


def test_days_that_are_done_are_excluded() -> None:
    rule = Rule(every(2, "day"), date(2026, 3, 1))
    done = (date(2026, 3, 3), date(2026, 3, 7))
    event = read(calendar_text("x", task_events([replace(task(rule), settled=done)])))[0]
    excluded = [moment.dt for moment in event["exdate"].dts]
    assert excluded == list(done)
    assert set(excluded) <= set(days_in(event, 5))
    # Dates without hours, or calendars would not match them to whole days.
    assert b"EXDATE;VALUE=DATE:20260303,20260307" in event.to_ical()


def test_lamps_stand_on_the_day_they_are_replaced() -> None:
    end = LampEnd("enclosure", "Enclosure", "uv-tube", "UV tube", date(2028, 2, 29))
    event = read(calendar_text("x", lamp_events([end])))[0]
    assert str(event["summary"]) == "Replace UV tube: Enclosure"
    assert (event.decoded("dtstart"), event.decoded("dtend")) == (date(2028, 2, 29), date(2028, 3, 1))


def test_the_year_is_events_of_whole_days_that_stay_the_same() -> None:
    made = setting_changes(LIZARD, default_year(LIZARD))
    texts = [
        calendar_text(
            "x", year_events("enclosure", "The enclosure", made, (2027, 2028), Clock(BERLIN), "metric")
        )
        for _ in range(2)
    ]
    assert texts[0] == texts[1]
    events = read(texts[0])
    assert len(events) == 2 * len(made) + 4
    uids = [str(e["uid"]) for e in events]
    assert len(set(uids)) == len(uids)
    for event in events:
        begin, end = event.decoded("dtstart"), event.decoded("dtend")
        assert (end - begin).days == 1
        assert not isinstance(begin, datetime)
    first = next(
        e
        for e in events
        if e.decoded("dtstart") == date(2027, 6, 18) or "Lights on" in str(e["description"])
    )
    assert "Thermostat" in str(first["description"])
    imperial = read(
        calendar_text(
            "x", year_events("enclosure", "The enclosure", made, (2027,), Clock(BERLIN), "imperial")
        )
    )
    assert any("°F" in str(e["description"]) for e in imperial)


@pytest.mark.parametrize(
    ("zone", "year", "expected"),
    [
        ("Europe/Berlin", 2027, [("03-28", 1.0), ("10-31", -1.0)]),
        ("Europe/London", 2026, [("03-29", 1.0), ("10-25", -1.0)]),
        ("America/New_York", 2026, [("03-08", 1.0), ("11-01", -1.0)]),
        # On the southern half the year begins in summer time.
        ("Australia/Sydney", 2026, [("04-05", -1.0), ("10-04", 1.0)]),
        ("Australia/Lord_Howe", 2026, [("04-05", -0.5), ("10-04", 0.5)]),
        ("Asia/Tokyo", 2026, []),
        ("UTC", 2028, []),
    ],
)
def test_shifts_of_the_clock_are_found_in_every_zone(
    zone: str, year: int, expected: list[tuple[str, float]]
) -> None:
    found = Clock(ZoneInfo(zone)).shifts(year)
    assert [(day.isoformat()[5:], hours) for day, hours in found] == expected


def test_lamps_on_winter_time_are_listed_an_hour_later_in_summer() -> None:
    winter, summer = date(2027, 1, 4), date(2027, 7, 5)
    plain, kept = Clock(BERLIN), Clock(BERLIN, standard_time=True)
    assert (plain.shown(6.75, winter), plain.shown(6.75, summer)) == ("06:45", "06:45")
    assert (kept.shown(6.75, winter), kept.shown(6.75, summer)) == ("06:45", "07:45")
    assert kept.shown(23.5, summer) == "00:30"
    assert Clock(UTC, standard_time=True).shown(6.75, summer) == "06:45"
    # On the day of the shift the new time holds already at noon.
    assert kept.shown(7.0, date(2027, 3, 28)) == "08:00"
    assert kept.shown(7.0, date(2027, 3, 27)) == "07:00"
    lord_howe = Clock(ZoneInfo("Australia/Lord_Howe"), standard_time=True)
    assert lord_howe.shown(7.0, date(2026, 1, 10)) == "07:30"
