"""Calendars as iCalendar files (RFC 5545) by the icalendar library: setting_changes of the year, and tasks.

Everything is of whole days, which belong to no time zone: a feeding on Monday is on Monday wherever the
calendar is read. Hours of timers are in the text, as the clock of the room shows them on that day.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event, vRecur

from noonshade.core.assessment.wording import dampness
from noonshade.core.care.recurrence import Rule, rrule_text
from noonshade.core.care.year import SettingChange, first_day
from noonshade.core.phrase import Units, figure_text
from noonshade.core.phrase import clock as clock_text

PRODUCT = "-//Noon Shade//Keeping//EN"
# How often a subscribed calendar should look again.
REFRESH = timedelta(hours=6)


@dataclass(frozen=True, slots=True)
class Clock:
    """How hours of the year's plan are shown on the clock.

    With ``standard_time`` lamps keep the zone's winter time, so that the animal's day does not jump: in
    summer the clock shows an hour more. Else they follow the clock.
    """

    zone: ZoneInfo
    standard_time: bool = False

    def shift_h(self, day: date) -> float:
        """How far the clock is ahead of standard time at noon of a day, if hours keep standard time, h."""
        if not self.standard_time:
            return 0.0
        dst = datetime(day.year, day.month, day.day, 12, tzinfo=self.zone).dst()
        return 0.0 if dst is None else dst.total_seconds() / 3600.0

    def shown(self, hour: float, day: date) -> str:
        """An hour of the plan as the clock shows it on a day."""
        return clock_text(hour + self.shift_h(day))

    def shifts(self, year: int) -> tuple[tuple[date, float], ...]:
        """Days of a year on which the clock is shifted, and by how many hours."""
        found = []
        before = _offset(self.zone, date(year - 1, 12, 31))
        for n in range(366 if _leap(year) else 365):
            day = date(year, 1, 1) + timedelta(days=n)
            now = _offset(self.zone, day)
            if now != before:
                found.append((day, (now - before) / 3600.0))
            before = now
        return tuple(found)


@dataclass(frozen=True, slots=True)
class CalendarTask:
    """A task as a calendar shows it; ``settled`` are days of it that were done or skipped."""

    id: str
    title: str
    note: str
    enclosure: str
    rule: Rule
    next_on: date | None
    settled: tuple[date, ...] = ()


@dataclass(frozen=True, slots=True)
class LampEnd:
    """The day on which a lamp of an enclosure is usually replaced."""

    enclosure_id: str
    enclosure: str
    fixture_id: str
    label: str
    day: date


def _leap(year: int) -> bool:
    return year % 4 == 0 and (year % 100 != 0 or year % 400 == 0)


def _offset(zone: ZoneInfo, day: date) -> float:
    found = datetime(day.year, day.month, day.day, 12, tzinfo=zone).utcoffset()
    return 0.0 if found is None else found.total_seconds()


def setting_lines(setting: SettingChange, day: date, clock: Clock, units: Units = "metric") -> list[str]:
    """What is set from a day on, one line each."""
    lines = []
    if setting.phase == "brumation":
        lines.append("Rest: heat off.")
    elif setting.phase == "winding_down":
        lines.append("On the way into the rest.")
    elif setting.phase == "winding_up":
        lines.append("On the way out of the rest.")
    if setting.off_h > setting.on_h:
        on, off = clock.shown(setting.on_h, day), clock.shown(setting.off_h, day)
        lines.append(f"Lights on {on}, off {off} ({setting.off_h - setting.on_h:g} h).")
    else:
        lines.append("Lights off.")
    for label, by_day, by_night in setting.set_points:
        said = [f"{_point(by_day, units)} by day", f"{_point(by_night, units)} by night"]
        lines.append(f"{label}: {', '.join(said)}.")
    if setting.misting_litres > 0:
        lines.append(f"Misting: {1000 * setting.misting_litres:.0f} ml a day.")
    lines += [f"{label}: bulb of {watts:.0f} W." for label, watts in setting.powers]
    lines += [f"{note[0].upper()}{note[1:]}." for note in care_notes(setting)]
    return lines


def care_notes(setting: SettingChange) -> list[str]:
    """How the ground and the vents are kept, where that changes over the year."""
    notes = []
    if setting.wetness is not None:
        notes.append(f"keep the ground {dampness(setting.wetness)}")
    if setting.vents_m2 is not None:
        notes.append(f"vents open {1e4 * setting.vents_m2:.0f} cm² in all")
    return notes


def _point(point: float | None, units: Units) -> str:
    return "off" if point is None else figure_text(point, "°C", units)


def year_events(
    key: str,
    enclosure: str,
    setting_changes: Iterable[SettingChange],
    years: Iterable[int],
    clock: Clock,
    units: Units,
) -> Iterator[Event]:
    """An event for each day on which something is set, and one for each shift of the clock."""
    listed = list(setting_changes)
    for year in years:
        for setting in listed:
            day = first_day(setting.week, year)
            lines = setting_lines(setting, day, clock, units)
            yield _event(f"{key}-set-{day:%Y%m%d}", f"Set {enclosure}", day, "\n".join(lines), "settings")
        for day, hours in clock.shifts(year):
            ahead = "forward" if hours > 0 else "back"
            if clock.standard_time:
                note = "The lamps keep winter time: timers that follow the clock must be set against it."
            else:
                note = "Set timers that do not follow by themselves."
            yield _event(f"{key}-clock-{day:%Y%m%d}", f"Clocks go {ahead}: {enclosure}", day, note, "clock")


def task_events(tasks: Iterable[CalendarTask]) -> Iterator[Event]:
    """An event for each task by its rule, without the days that are settled.

    One that is counted from when it was done comes once.
    """
    for task in tasks:
        if task.next_on is None:
            continue
        returns = bool(task.rule.text) and not task.rule.after_done
        # A rule is counted from its first day, or "every second week" would shift.
        day = task.rule.starts_on if returns else task.next_on
        event = _event(f"task-{task.id}", f"{task.title}: {task.enclosure}", day, task.note, "task")
        if returns:
            recurrence = vRecur.from_ical(rrule_text(task.rule))
            if task.rule.ends_on is not None:
                recurrence["UNTIL"] = task.rule.ends_on
            event.add("rrule", recurrence)
            if task.settled:
                event.add("exdate", list(task.settled), parameters={"value": "DATE"})
        yield event


def lamp_events(ends: Iterable[LampEnd]) -> Iterator[Event]:
    """An event for each lamp on the day it is usually replaced."""
    for end in ends:
        yield _event(
            f"lamp-{end.enclosure_id}-{end.fixture_id}",
            f"Replace {end.label}: {end.enclosure}",
            end.day,
            "By its hours it has given most of its UV; it may still look bright. Lamp off and cold first. "
            "Read UV before and after.",
            "lamp",
        )


def calendar_text(name: str, events: Iterable[Event]) -> bytes:
    """A whole calendar as iCalendar text."""
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", name)
    calendar.add("refresh-interval", REFRESH, parameters={"value": "DURATION"})
    for event in events:
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def _event(uid: str, title: str, day: date, text: str, kind: str) -> Event:
    event = Event()
    event.add("uid", f"{uid}@noon-shade")
    # Required, and the same each time, so that an unchanged calendar is the same file.
    event.add("dtstamp", datetime(day.year, day.month, day.day, tzinfo=UTC))
    event.add("summary", title)
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("description", text)
    event.add("categories", [kind])
    event.add("transp", "TRANSPARENT")
    return event
