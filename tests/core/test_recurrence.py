"""Rules by which tasks come back: month ends, leap days, and what holds of every rule."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import pairwise
from typing import Literal

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from noonshade.core.care.recurrence import (
    Mark,
    Rule,
    RuleError,
    check_rule,
    days_of,
    every,
    next_day,
    rrule_text,
    task_status,
)

D = date
dates = st.dates(D(2020, 1, 1), D(2035, 12, 31))
units: st.SearchStrategy[Literal["day", "week", "month", "year"]] = st.sampled_from(
    ["day", "week", "month", "year"]
)
plain = st.builds(lambda n, u, d: Rule(every(n, u), d), st.integers(1, 10), units, dates)
weekdays = st.builds(
    lambda n, days, d: Rule(f"FREQ=WEEKLY;INTERVAL={n};BYDAY={','.join(sorted(days))}", d),
    st.integers(1, 4),
    st.sets(st.sampled_from(["MO", "TU", "WE", "TH", "FR", "SA", "SU"]), min_size=1),
    dates,
)
rules = plain | weekdays


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        # The 31st of every month is its last day.
        (Rule(every(1, "month"), D(2026, 1, 31)), ["01-31", "02-28", "03-31", "04-30", "05-31"]),
        (Rule(every(1, "month"), D(2028, 1, 30)), ["01-30", "02-29", "03-30", "04-30", "05-30"]),
        (Rule(every(6, "month"), D(2026, 8, 31)), ["08-31", "02-28", "08-31", "02-29", "08-31"]),
        # A leap day comes every year, on the last of February where there is none.
        (Rule(every(1, "year"), D(2024, 2, 29)), ["02-29", "02-28", "02-28", "02-28", "02-29"]),
        (Rule(every(1, "week"), D(2026, 12, 28)), ["12-28", "01-04", "01-11", "01-18", "01-25"]),
        # Across both shifts of the clock every day is one day.
        (Rule(every(1, "day"), D(2026, 3, 28)), ["03-28", "03-29", "03-30", "03-31", "04-01"]),
        (Rule(every(1, "day"), D(2026, 10, 24)), ["10-24", "10-25", "10-26", "10-27", "10-28"]),
        (Rule("FREQ=MONTHLY;BYDAY=1SU", D(2026, 1, 1)), ["01-04", "02-01", "03-01", "04-05", "05-03"]),
        (Rule("", D(2026, 5, 1)), ["05-01"]),
    ],
)
def test_days_come_as_a_keeper_expects(rule: Rule, expected: list[str]) -> None:
    found = days_of(rule, D(2020, 1, 1), D(2040, 1, 1), most=5)
    assert [d.isoformat()[5:] for d in found] == expected


@given(rules)
def test_days_rise_begin_no_earlier_and_end_when_told(rule: Rule) -> None:
    check_rule(rule)
    last = rule.starts_on + timedelta(days=500)
    found = days_of(rule, rule.starts_on, last)
    assert all(a < b for a, b in pairwise(found))
    assert all(rule.starts_on <= d <= last for d in found)
    ended = Rule(rule.text, rule.starts_on, ends_on=rule.starts_on + timedelta(days=100))
    assert days_of(ended, rule.starts_on, last) == tuple(d for d in found if d <= (ended.ends_on or last))


@given(rules, st.integers(0, 400), st.integers(1, 200))
def test_a_window_shows_what_the_whole_shows(rule: Rule, skip: int, width: int) -> None:
    first = rule.starts_on + timedelta(days=skip)
    last = first + timedelta(days=width)
    whole = days_of(rule, rule.starts_on, last)
    assert days_of(rule, first, last) == tuple(d for d in whole if d >= first)
    upcoming = next_day(rule, first)
    inside = [d for d in whole if d > first]
    if inside:
        assert upcoming == inside[0]


@given(plain, st.integers(0, 60))
def test_a_plain_rule_keeps_its_interval(rule: Rule, skip: int) -> None:
    days = days_of(rule, rule.starts_on, rule.starts_on + timedelta(days=4000), most=12)
    gaps = {(b - a).days for a, b in pairwise(days)}
    assume(len(days) > 2)
    # Months and years are uneven by at most three days a month; days and weeks not at all.
    if "DAILY" in rule.text or "WEEKLY" in rule.text:
        assert len(gaps) == 1
    else:
        assert max(gaps) - min(gaps) <= 4
        assert {min(d.day, rule.starts_on.day) for d in days} == {d.day for d in days}


@given(rules, st.integers(0, 400), st.data())
def test_what_was_done_is_not_due_again(rule: Rule, skip: int, data: st.DataObject) -> None:
    today = rule.starts_on + timedelta(days=skip)
    before = task_status(rule, [], today)
    waiting = days_of(rule, rule.starts_on, today)
    if not waiting:
        assert before.state == "coming"
        return
    assert before.state == ("due" if waiting == (today,) else "overdue")
    assert before.due_on == waiting[-1]
    assert before.missed == sum(d < today for d in waiting)
    after = task_status(rule, [Mark(waiting[-1], "done", today)], today)
    assert (after.state, after.missed) == ("coming", 0)
    assert after.due_on is not None
    assert after.due_on > today
    # Marked at an earlier day only, what came since waits.
    earlier = data.draw(st.sampled_from(waiting))
    open_since = [d for d in waiting if d > earlier]
    half = task_status(rule, [Mark(earlier, "skipped", earlier)], today)
    assert half.missed == sum(d < today for d in open_since)


@given(plain, st.integers(0, 300), st.integers(0, 300))
def test_counted_from_when_it_was_done(rule: Rule, late: int, later: int) -> None:
    rule = Rule(rule.text, rule.starts_on, after_done=True)
    done = rule.starts_on + timedelta(days=late)
    after = task_status(rule, [Mark(rule.starts_on, "done", done)], done)
    assert after.state == "coming"
    assert after.due_on == next_day(Rule(rule.text, done), done)
    today = done + timedelta(days=later)
    there = task_status(rule, [Mark(rule.starts_on, "done", done)], today)
    assert there.due_on == after.due_on
    assert after.due_on is not None
    assert there.state == (
        "coming" if today < after.due_on else "due" if today == after.due_on else "overdue"
    )
    assert there.missed == (there.state == "overdue")


def test_before_it_was_ever_done_it_is_due_on_its_first_day() -> None:
    rule = Rule(every(3, "month"), D(2026, 5, 31), after_done=True)
    assert task_status(rule, [], D(2026, 5, 30)).state == "coming"
    assert task_status(rule, [], D(2026, 5, 31)).state == "due"
    assert task_status(rule, [], D(2026, 6, 9)).due_on == D(2026, 5, 31)
    done = task_status(rule, [Mark(D(2026, 5, 31), "done", D(2026, 11, 30))], D(2026, 12, 1))
    assert done.due_on == D(2027, 2, 28)


def test_what_comes_once_ends_and_what_ends_stays_ended() -> None:
    once = Rule("", D(2026, 5, 1))
    assert task_status(once, [Mark(D(2026, 5, 1), "done", D(2026, 5, 3))], D(2026, 5, 4)).state == "ended"
    ended = Rule(every(1, "day"), D(2026, 5, 1), ends_on=D(2026, 5, 2))
    marks = [Mark(D(2026, 5, 2), "done", D(2026, 5, 2))]
    assert task_status(ended, marks, D(2026, 6, 1)).state == "ended"
    once_after = Rule("", D(2026, 5, 1), after_done=True)
    assert (
        task_status(once_after, [Mark(D(2026, 5, 1), "done", D(2026, 5, 1))], D(2027, 1, 1)).state
        == "ended"
    )


def test_done_early_it_waits_for_the_time_after() -> None:
    rule = Rule(every(1, "week"), D(2026, 5, 4))
    early = Mark(D(2026, 5, 11), "done", D(2026, 5, 9))
    assert task_status(rule, [early], D(2026, 5, 9)).due_on == D(2026, 5, 18)


def test_calendars_get_the_rule_with_its_month_ends() -> None:
    assert rrule_text(Rule(every(1, "month"), D(2026, 1, 31))) == (
        "FREQ=MONTHLY;BYMONTHDAY=28,29,30,31;BYSETPOS=-1"
    )
    assert rrule_text(Rule(every(1, "month"), D(2026, 1, 15))) == "FREQ=MONTHLY"


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("FREQ=HOURLY", "FREQ must be one of"),
        ("INTERVAL=2", "FREQ must be one of"),
        ("FREQ=DAILY;INTERVAL=0", "1 to 3650"),
        ("FREQ=YEARLY;INTERVAL=11", "1 to 10"),
        ("FREQ=DAILY;BYHOUR=3", "BYHOUR cannot be used"),
        ("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30", "never comes"),
        ("FREQ=MONTHLY;BYMONTHDAY=99", "."),
        ("every monday", "is not a rule"),
        ("FREQ=DAILY;FREQ", "is not a rule"),
        ("FREQ=WEEKLY;BYDAY=XX", "."),
        ("FREQ=DAILY;" * 40, "is not a rule"),
    ],
)
def test_a_rule_that_cannot_be_is_refused(text: str, said: str) -> None:
    with pytest.raises(RuleError, match=said):
        check_rule(Rule(text, D(2026, 1, 1)))


def test_a_rule_that_contradicts_itself_is_refused() -> None:
    with pytest.raises(RuleError, match="before the first"):
        check_rule(Rule(every(1, "day"), D(2026, 1, 2), ends_on=D(2026, 1, 1)))
    with pytest.raises(RuleError, match="plain interval"):
        check_rule(Rule("FREQ=WEEKLY;BYDAY=MO", D(2026, 1, 2), after_done=True))
    with pytest.raises(RuleError, match="1900"):
        check_rule(Rule("", D(1800, 1, 1)))


# -- pauses ------------------------------------------------------------------------

WINTER = (date(2026, 12, 10), date(2027, 2, 17))


def in_winter(day: date) -> bool:
    return WINTER[0] <= day <= WINTER[1]


@given(st.integers(1, 9), st.dates(date(2026, 11, 1), date(2027, 4, 30)), st.booleans())
def test_nothing_is_due_in_a_pause_and_all_goes_on_after_it(
    interval: int, today: date, after_done: bool
) -> None:
    rule = Rule(every(interval, "day"), date(2026, 10, 1), after_done)
    fed = date(2026, 12, 8)
    marks = [Mark(fed, "done", fed)] if today >= fed else []
    found = task_status(rule, marks, today, in_winter)
    if in_winter(today):
        assert (found.state, found.missed) == ("coming", 0)
    assert found.due_on is not None
    assert not in_winter(found.due_on)
    if WINTER[0] <= today <= WINTER[1] or found.state == "coming":
        assert found.due_on > today
    # What was not done in the pause counts as nothing missed.
    assert found.missed <= max(0, (today - WINTER[1]).days) or today < WINTER[0]
    assert task_status(rule, marks, today, lambda _: False) == task_status(rule, marks, today)


def test_a_pause_without_end_ends_a_task() -> None:
    rule = Rule(every(3, "day"), date(2026, 10, 1))
    assert task_status(rule, [], date(2026, 11, 1), lambda _: True).state == "ended"
    once_a_quarter = Rule(every(3, "month"), date(2026, 10, 1), after_done=True)
    assert task_status(once_a_quarter, [], date(2026, 11, 1), lambda _: True).state == "ended"
