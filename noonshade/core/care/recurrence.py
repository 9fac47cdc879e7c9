"""Rules by which a task comes back, and its state on a day.

A rule is the text of an RRULE (RFC 5545, section 3.3.10) over whole days, unrolled by the dateutil
library. Days are those of the calendar where the room is; no clock enters, so no shift of the clock can
move a day.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Literal

from dateutil.rrule import rrule, rrulestr

TaskState = Literal["due", "overdue", "coming", "ended"]
MarkKind = Literal["done", "skipped"]

_PARTS = frozenset(
    {
        "FREQ",
        "INTERVAL",
        "COUNT",
        "UNTIL",
        "BYDAY",
        "BYMONTHDAY",
        "BYMONTH",
        "BYSETPOS",
        "BYYEARDAY",
        "WKST",
    }
)
# How many of each make ten years, the longest interval that is taken.
_LONGEST = {"DAILY": 3650, "WEEKLY": 520, "MONTHLY": 120, "YEARLY": 10}
# Every month has this many days; a rule begun later in the month takes the last day of shorter ones.
_SHORTEST_MONTH = 28
# Farther ahead nobody plans; a rule with no day in this time is taken to have ended.
HORIZON = timedelta(days=366 * 21)
LAST_DAY = date(2400, 1, 1)
# A pause that lasts longer is the end.
LONGEST_PAUSE = timedelta(days=366)


class RuleError(ValueError):
    """A rule that cannot be used; the message says why and what is allowed."""


@dataclass(frozen=True, slots=True)
class Rule:
    """How a task comes back.

    ``text`` is the RRULE without its name, empty for a task that comes once; ``starts_on`` its first day.
    With ``after_done`` the days are counted anew from the day it was last done or skipped.
    """

    text: str
    starts_on: date
    after_done: bool = False
    ends_on: date | None = None


@dataclass(frozen=True, slots=True)
class Mark:
    """That one day of a task was done or skipped: the day it was due, and the day that was."""

    due_on: date
    kind: MarkKind
    on: date


@dataclass(frozen=True, slots=True)
class TaskStatus:
    """The state of a task on a day.

    ``due_on`` is the day it is due: the last one that was not done if it is due or overdue, else the next
    to come; None when it has ended. ``missed`` counts days before today that were neither done nor skipped.
    """

    state: TaskState
    due_on: date | None
    missed: int = 0
    last: Mark | None = None


def check_rule(rule: Rule) -> None:
    """Raise RuleError if a rule cannot be used.

    Parameters
    ----------
    rule : Rule
        The rule.

    Raises
    ------
    RuleError
        If an argument is out of its range.
    """
    _parts(rule.text)
    if not date(1900, 1, 1) <= rule.starts_on < LAST_DAY:
        raise RuleError("the first day must lie between 1900 and 2400")
    if rule.ends_on is not None and rule.ends_on < rule.starts_on:
        raise RuleError("the last day lies before the first")
    if rule.after_done and any(p.startswith("BY") or p in ("COUNT", "UNTIL") for p in _parts(rule.text)):
        raise RuleError(
            "days counted from when it was last done take a plain interval: no weekdays, days or count"
        )
    if not days_of(rule, rule.starts_on, rule.starts_on + HORIZON, most=1):
        raise RuleError("this rule never comes to a day")


def days_of(rule: Rule, first: date, last: date, most: int = 5000) -> tuple[date, ...]:
    """The days of a rule from ``first`` to ``last``, both included, up to a limit.

    A rule that is counted from when it was done is taken as done on each of its days.

    Parameters
    ----------
    rule : Rule
        The rule.
    first : date
        First day.
    last : date
        Last day.
    most : int
        At most this many.

    Returns
    -------
    tuple[date, ...]
        The days in order, at most the limit.
    """
    if rule.ends_on is not None:
        last = min(last, rule.ends_on)
    if last < first or last < rule.starts_on:
        return ()
    found: list[date] = []
    made = _unrolled(rule.text, rule.starts_on)
    for moment in made.xafter(_at(max(first, rule.starts_on)), inc=True):
        if moment.date() > last or len(found) >= most:
            break
        found.append(moment.date())
    return tuple(found)


def next_day(rule: Rule, after: date) -> date | None:
    """The first day of a rule later than a day; None if there is none within 21 years.

    Parameters
    ----------
    rule : Rule
        The rule.
    after : date
        The evaluation afterwards.

    Returns
    -------
    date | None
        The first day of a rule later than a day.
    """
    found = days_of(rule, after + timedelta(days=1), max(after, rule.starts_on) + HORIZON, most=1)
    return found[0] if found else None


def task_status(
    rule: Rule, marks: Sequence[Mark], today: date, paused: Callable[[date], bool] | None = None
) -> TaskStatus:
    """The state of a task on a day, from its marks in any order.

    Days that are ``paused`` count as if the rule had none there, and nothing is due on them; a task that is
    counted from when it was done waits for the first day after them.

    Parameters
    ----------
    rule : Rule
        The rule.
    marks : Sequence[Mark]
        When the task was done or skipped.
    today : date
        The day it is.
    paused : Callable[[date], bool] | None
        Days on which it is paused, None for none.

    Returns
    -------
    TaskStatus
        ``due``, ``overdue``, ``coming`` or ``ended``, with the day, the missed days and when it was done
        last.
    """
    last = max(marks, key=lambda m: (m.on, m.due_on), default=None)
    if rule.after_done:
        return _status_after_done(rule, last, today, paused)
    done: Mapping[date, Mark] = {m.due_on: m for m in marks}
    covered = max(done, default=None)
    begin = rule.starts_on if covered is None else covered + timedelta(days=1)
    waiting = [d for d in days_of(rule, begin, today) if paused is None or not paused(d)]
    if waiting and not (paused is not None and paused(today)):
        missed = sum(day < today for day in waiting)
        return TaskStatus("overdue" if missed else "due", waiting[-1], missed, last)
    coming = next_day(rule, max(today, covered or today))
    while coming is not None and paused is not None and paused(coming):
        coming = next_day(rule, coming) if coming - today < LONGEST_PAUSE else None
    return TaskStatus("ended" if coming is None else "coming", coming, 0, last)


def _status_after_done(
    rule: Rule, last: Mark | None, today: date, paused: Callable[[date], bool] | None
) -> TaskStatus:
    if last is None:
        due: date | None = rule.starts_on
    elif not rule.text:
        due = None
    else:
        due = next_day(Rule(rule.text, last.on, ends_on=rule.ends_on), last.on)
    if due is not None and paused is not None:
        if paused(today):
            due = max(due, today)
        while due is not None and paused(due):
            due = due + timedelta(days=1) if due - today < LONGEST_PAUSE else None
    if due is None or (rule.ends_on is not None and due > rule.ends_on):
        return TaskStatus("ended", None, 0, last)
    if due > today:
        return TaskStatus("coming", due, 0, last)
    return TaskStatus("due" if due == today else "overdue", due, int(due < today), last)


def every(count: int, unit: Literal["day", "week", "month", "year"]) -> str:
    """The rule "every ``count`` days, weeks, months or years".

    Parameters
    ----------
    count : int
        How many.
    unit : Literal['day', 'week', 'month', 'year']
        The unit.

    Returns
    -------
    str
        The rule as an RRULE, such as ``FREQ=DAILY;INTERVAL=3``.
    """
    name = {"day": "DAILY", "week": "WEEKLY", "month": "MONTHLY", "year": "YEARLY"}[unit]
    return f"FREQ={name}" if count == 1 else f"FREQ={name};INTERVAL={count}"


def rrule_text(rule: Rule) -> str:
    """The RRULE as calendars should have it: days that short months lack moved to their last day.

    Parameters
    ----------
    rule : Rule
        The rule.

    Returns
    -------
    str
        The RRULE as calendars should have it.
    """
    return _whole_months(rule.text, rule.starts_on)


def _parts(text: str) -> dict[str, str]:
    if not text:
        return {}
    if len(text) > 200 or not re.fullmatch(r"[A-Z]+=[A-Z0-9+,-]+(;[A-Z]+=[A-Z0-9+,-]+)*", text):
        raise RuleError(f"{text[:60]!r} is not a rule; one reads as FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH")
    parts = dict(part.split("=", 1) for part in text.split(";"))
    unknown = sorted(set(parts) - _PARTS)
    if unknown:
        raise RuleError(f"{', '.join(unknown)} cannot be used; allowed are {', '.join(sorted(_PARTS))}")
    if parts.get("FREQ") not in _LONGEST:
        raise RuleError(f"FREQ must be one of {', '.join(_LONGEST)}")
    most = _LONGEST[parts["FREQ"]]
    interval = parts.get("INTERVAL", "1")
    if not (interval.isdigit() and 1 <= int(interval) <= most):
        raise RuleError(f"INTERVAL must be a whole number from 1 to {most}")
    try:
        rrulestr(text, dtstart=datetime(2024, 1, 1))
    except (ValueError, TypeError, KeyError, OverflowError) as error:
        raise RuleError(f"{text[:60]!r} is not a rule: {error}") from error
    return parts


def _whole_months(text: str, start: date) -> str:
    """A monthly or yearly rule of a late day, with the last day of months that are too short."""
    parts = _parts(text)
    plain = not any(p.startswith("BY") for p in parts)
    if start.day <= _SHORTEST_MONTH or not plain or parts.get("FREQ") not in ("MONTHLY", "YEARLY"):
        return text
    days = ",".join(str(d) for d in range(_SHORTEST_MONTH, start.day + 1))
    month = f"BYMONTH={start.month};" if parts["FREQ"] == "YEARLY" else ""
    return f"{text};{month}BYMONTHDAY={days};BYSETPOS=-1"


def _unrolled(text: str, start: date) -> rrule:
    if not text:
        return rrule(freq=3, dtstart=_at(start), count=1)
    made = rrulestr(_whole_months(text, start), dtstart=_at(start))
    assert isinstance(made, rrule)
    return made


def _at(day: date) -> datetime:
    return datetime(day.year, day.month, day.day)
