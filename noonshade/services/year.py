"""The year of an enclosure: its card for timers, its calendar, and fixes that the year can hold."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from icalendar import Event

from noonshade.core.care.recurrence import Mark, days_of, task_status
from noonshade.core.care.year import Year, default_year, setting_changes
from noonshade.core.errors import PlanError
from noonshade.core.fixes.candidate import Change, Fix
from noonshade.core.forecast import lamp_days_left
from noonshade.core.phrase import Units
from noonshade.core.plan import Plan
from noonshade.formats.calendar_file import (
    CalendarTask,
    Clock,
    LampEnd,
    lamp_events,
    task_events,
    year_events,
)
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.printed.card import Card
from noonshade.formats.year_document import year_from_document
from noonshade.services.application import Services
from noonshade.services.brumation import BrumationCalendar, Paused
from noonshade.services.lamp_hours import LampHours, plan_with_hours
from noonshade.services.tasks import lamp_origin, marks_of, rule_of
from noonshade.store.plans import PlanRecord
from noonshade.store.tasks import TaskRecord

# How far ahead lamps to replace appear in calendars, how far back done days are excluded, and how far
# ahead what brumation with its animal, days.
AHEAD_DAYS, SETTLED_DAYS, PAUSED_DAYS = 730, 84, 365


@dataclass(frozen=True, slots=True)
class YearChange:
    """A change that a year can hold: watts of a lamp, or a set point by day or by night."""

    kind: Literal["power", "set_point"]
    part_id: str
    label: str
    period: Literal["day", "night"] | None
    value: float


def year_of(document: PlanDocument, plan: Plan) -> Year:
    """The year of a document, or the default where it has none."""
    return default_year(plan) if document.year is None else year_from_document(document.year)


def keeps_standard_time(document: PlanDocument) -> bool:
    """Whether the lamps of a document keep winter time all year."""
    return document.year is not None and document.year.standard_time


def year_change_of(fix: Fix, plan: Plan) -> YearChange | None:
    """A fix as a change of the year, None if it changes the plan itself."""
    if len(fix.changes) != 1 or not isinstance(change := fix.changes[0], Change):
        return None
    if not isinstance(change.value, float | int) or isinstance(change.value, bool):
        return None
    value = float(change.value)
    if (change.part, change.attribute) == ("fixture", "power_w"):
        label = next(f.label for f in plan.fixtures if f.id == change.part_id)
        return YearChange("power", change.part_id, label, None, value)
    if change.part == "thermostat" and len(plan.thermostats) == 1:
        thermostat = plan.thermostats[0]
        by_day = change.attribute == "day_set_point_c"
        planned = thermostat.day_set_point_c if by_day else thermostat.night_set_point_c
        if planned is None:
            return None
        return YearChange(
            "set_point", change.part_id, thermostat.label, "day" if by_day else "night", value
        )
    return None


def setting_card(services: Services, record: PlanRecord, year: int, zone: ZoneInfo, units: Units) -> Card:
    """The card for timers and thermostats of a calendar year."""
    document = parse_plan(record.document)
    plan = services.evaluation.plan(document)
    species = plan.animal.species
    return Card(
        record.name,
        f"{species.common_name} ({species.scientific_name})",
        year,
        record.revision,
        setting_changes(plan, year_of(document, plan)),
        Clock(zone, keeps_standard_time(document)),
        units,
    )


def calendar_events(
    services: Services, records: list[PlanRecord], zone: ZoneInfo, units: Units, room: bool
) -> Iterator[Event]:
    """Settings of enclosures that have a year, this year and the next, lamps to replace, and tasks.

    An enclosure that cannot be read is skipped: its plan says why on its own screen.
    """
    today = datetime.now(UTC).astimezone(zone).date()
    names = {r.id: r.name for r in records}
    counted, tasks = LampHours(services, today), services.tasks.tasks.all()
    cared = {(t.plan_id, t.origin) for t in tasks}
    for record in records:
        try:
            document = plan_with_hours(record, counted)
            plan = services.evaluation.plan(document)
        except (DocumentError, PlanError):
            continue
        if document.year is not None:
            clock = Clock(zone, document.year.standard_time)
            made = setting_changes(plan, year_from_document(document.year))
            years = (today.year, today.year + 1)
            yield from year_events(record.id, record.name, made, years, clock, units)
        ends = _lamp_ends(record, plan, today)
        yield from lamp_events(e for e in ends if (record.id, lamp_origin(e.fixture_id)) not in cared)
    marks, brumation = services.tasks.marks(), BrumationCalendar(services)
    yield from task_events(
        _calendar_task(task, names, marks_of(marks, task.id), today, brumation.pause(task))
        for task in tasks
        if task.plan_id in names or (room and task.plan_id is None)
    )


def _lamp_ends(record: PlanRecord, plan: Plan, today: date) -> Iterator[LampEnd]:
    """Lamps of an enclosure that are usually replaced within two years; overdue ones today."""
    for fixture, left in lamp_days_left(plan):
        if left <= AHEAD_DAYS:
            day = today + timedelta(days=max(0, math.floor(left)))
            yield LampEnd(record.id, record.name, fixture.id, fixture.label, day)


def _calendar_task(
    task: TaskRecord, names: Mapping[str, str], marks: list[Mark], today: date, pause: Paused | None
) -> CalendarTask:
    rule = rule_of(task)
    enclosure = names.get(task.plan_id or "", "the room")
    recent = today - timedelta(days=SETTLED_DAYS)
    settled = tuple(m.due_on for m in marks if m.due_on >= recent)
    due_on = task_status(rule, marks, today, pause).due_on
    last = today + timedelta(days=PAUSED_DAYS)
    paused = () if pause is None else tuple(d for d in days_of(rule, today, last) if pause(d))
    return CalendarTask(task.id, task.title, task.note, enclosure, rule, due_on, (*settled, *paused))
