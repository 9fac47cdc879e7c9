"""Tasks: what is usual for an enclosure, the state of each task, marks, and the round of the day."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal, cast

from noonshade.core.care.quarantine import RELEASE
from noonshade.core.care.recurrence import (
    Mark,
    MarkKind,
    Rule,
    TaskStatus,
    days_of,
    every,
    task_status,
)
from noonshade.core.care.routine import (
    TaskProposal,
    first_day,
    lamp_key,
    propose_room_tasks,
    propose_tasks,
)
from noonshade.core.care.year import Phase
from noonshade.core.errors import ConvergenceError, PlanError
from noonshade.core.forecast import DueItem, find_due_items
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import parse_plan
from noonshade.services.application import Services
from noonshade.services.brumation import BrumationCalendar
from noonshade.services.enclosure_roles import set_enclosure_role
from noonshade.services.lamp_hours import LampHours, plan_with_hours
from noonshade.services.room import room_layout
from noonshade.store.logbook import AnimalRecord, EntryRecord
from noonshade.store.plans import PlanRecord
from noonshade.store.tasks import MarkRecord, TaskRecord

# How far back marks of a task are listed, and how far ahead the coming days.
RECENT_DAYS = 84
AHEAD_DAYS = 7
TITLES_SHOWN = 6
_USUAL = "usual:"
# Steps of a quarantine are tasks too; the key of the step follows this in their origin.
QUARANTINE = "arrival:"
_DAILY = every(1, "day")

ProposalState = Literal["new", "taken", "changed"]


class NotADayOfTaskError(ValueError):
    """A mark names a day on which its task is not due."""


@dataclass(frozen=True, slots=True)
class TaskWithStatus:
    """A task, its state on a day, and its recent marks."""

    record: TaskRecord
    status: TaskStatus
    marks: tuple[MarkRecord, ...]


@dataclass(frozen=True, slots=True)
class ProposedTask:
    """A usual task, and whether the enclosure has it as proposed, changed, or not yet."""

    record: TaskRecord
    state: ProposalState


@dataclass(frozen=True, slots=True)
class ComingTasks:
    """How many tasks a day brings, and titles of those that are not daily."""

    day: date
    count: int
    titles: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class EnclosureRound:
    """The tasks of a day for one enclosure, or for the whole room where ``plan`` is None."""

    plan: PlanRecord | None
    animals: tuple[AnimalRecord, ...]
    open: tuple[TaskWithStatus, ...]
    done: tuple[tuple[TaskRecord, MarkRecord], ...]
    phase: Phase
    lamps: tuple[DueItem, ...]


@dataclass(frozen=True, slots=True)
class RoundOfDay:
    """The round of a day through the room, enclosures in the order of the racks."""

    rounds: tuple[EnclosureRound, ...]
    coming: tuple[ComingTasks, ...]
    has_tasks: bool


def rule_of(record: TaskRecord) -> Rule:
    """The recurrence rule of a stored task."""
    ends_on = None if record.ends_on is None else date.fromisoformat(record.ends_on)
    return Rule(record.rule, date.fromisoformat(record.starts_on), bool(record.after_done), ends_on)


def marks_of(marks: Mapping[str, list[MarkRecord]], task_id: str) -> list[Mark]:
    """Stored marks of a task as core marks."""
    return [
        Mark(date.fromisoformat(m.due_on), cast(MarkKind, m.kind), date.fromisoformat(m.done_on))
        for m in marks.get(task_id, ())
    ]


def recent(today: date) -> str:
    """The first day whose marks are listed."""
    return (today - timedelta(days=RECENT_DAYS)).isoformat()


def with_status(
    record: TaskRecord,
    marks: Mapping[str, list[MarkRecord]],
    today: date,
    brumation: BrumationCalendar,
) -> TaskWithStatus:
    """A task with its status on a day; it is not due while its animal is in brumation."""
    found = task_status(rule_of(record), marks_of(marks, record.id), today, brumation.pause(record))
    return TaskWithStatus(record, found, tuple(marks.get(record.id, ())))


def list_tasks(services: Services, plan_id: str | None, today: date) -> list[TaskWithStatus]:
    """Tasks of an enclosure, or of the whole room where ``plan_id`` is None; without quarantine steps."""
    marks, brumation = services.tasks.marks(recent(today)), BrumationCalendar(services)
    records = services.tasks.tasks.all(
        "plan_id IS ? AND origin NOT LIKE ?", (plan_id, f"{QUARANTINE}%"), "kind, title, id"
    )
    return [with_status(r, marks, today, brumation) for r in records]


def mark_task(services: Services, mark: MarkRecord, entries: Iterable[EntryRecord]) -> TaskWithStatus:
    """Store that a task was done or skipped, with the logbook entries that come of it.

    The last step of a quarantine makes its enclosure a home again. All of it is stored, or nothing.

    Raises
    ------
    NotFoundError
        If there is no such task, or an entry refers to something that is not there.
    NotADayOfTaskError
        If the task is not due on that day.
    """
    with services.database.transaction() as transaction:
        record = services.tasks.tasks.get(mark.task_id, transaction=transaction)
        rule, day = rule_of(record), date.fromisoformat(mark.due_on)
        # A task counted from when it was last done may be done on any day.
        if not rule.after_done and day not in days_of(rule, day, day):
            raise NotADayOfTaskError(f"{mark.due_on} is no day of this task")
        services.logbook.entries.put(transaction, *entries)
        services.tasks.mark(transaction, mark)
        if record.origin == f"{QUARANTINE}{RELEASE}" and record.plan_id is not None and mark.kind == "done":
            set_enclosure_role(services, transaction, record.plan_id, "home")
    today = date.fromisoformat(mark.done_on)
    return with_status(record, services.tasks.marks(recent(today)), today, BrumationCalendar(services))


# -- usual tasks ---------------------------------------------------------------------


def lamp_origin(fixture_id: str) -> str:
    """The origin of the task that replaces a fixture's lamp."""
    return _USUAL + lamp_key(fixture_id)


def usual_tasks(services: Services, plan_id: str | None, today: date) -> list[ProposedTask]:
    """Usual tasks of an enclosure, or of the whole room where ``plan_id`` is None."""
    return _usual_tasks(services, plan_id, today, LampHours(services, today))


def add_usual_tasks(services: Services, plan_ids: Iterable[str], room: bool, today: date) -> list[str]:
    """Store the usual tasks that enclosures, and the room if asked, do not have yet; returns their ids."""
    hours = LampHours(services, today)
    of: list[str | None] = [*plan_ids, *([None] if room else [])]
    fresh = [
        proposed.record
        for plan_id in of
        for proposed in _usual_tasks(services, plan_id, today, hours)
        if proposed.state == "new"
    ]
    services.write(services.tasks.tasks.put, *fresh)
    return [task.id for task in fresh]


def _usual_tasks(
    services: Services, plan_id: str | None, today: date, hours: LampHours
) -> list[ProposedTask]:
    proposals: tuple[TaskProposal, ...]
    if plan_id is None:
        proposals = propose_room_tasks()
    else:
        document = parse_plan(services.plans.get(plan_id).document)
        proposals = propose_tasks(services.evaluation.evaluate(document), hours.in_plan(plan_id))
    known = {r.origin: r for r in services.tasks.tasks.all("plan_id IS ?", (plan_id,)) if r.origin}
    return [_compared(proposal, plan_id, known.get(_USUAL + proposal.key), today) for proposal in proposals]


def _compared(
    proposal: TaskProposal, plan_id: str | None, there: TaskRecord | None, today: date
) -> ProposedTask:
    of = plan_id or "room"
    record = TaskRecord(
        id=f"{of[:40]}.{proposal.key}" if there is None else there.id,
        plan_id=plan_id,
        animal_id=None,
        kind=proposal.kind,
        title=proposal.title,
        note=proposal.why,
        rule=proposal.rule,
        starts_on=first_day(proposal, of, today).isoformat() if there is None else there.starts_on,
        after_done=int(proposal.after_done),
        ends_on=None,
        origin=_USUAL + proposal.key,
    )
    if there is None:
        return ProposedTask(record, "new")
    same = (there.rule, there.after_done, there.title) == (record.rule, record.after_done, record.title)
    return ProposedTask(record, "taken" if same else "changed")


# -- the round of the day ------------------------------------------------------------


def round_of_day(services: Services, today: date) -> RoundOfDay:
    """The round of a day: what is due in each enclosure, and what the next days bring."""
    tasks = services.tasks.tasks.all(order="kind, title, id")
    marks = services.tasks.marks(recent(today))
    animals = services.logbook.animals.all("left_on IS NULL", order="name COLLATE NOCASE")
    hours, brumation = LampHours(services, today), BrumationCalendar(services)
    rounds = []
    for plan in [*_by_rack(services), None]:
        plan_id = None if plan is None else plan.id
        mine = [t for t in tasks if t.plan_id == plan_id]
        known = [with_status(t, marks, today, brumation) for t in mine]
        rounds.append(
            EnclosureRound(
                plan=plan,
                animals=tuple(a for a in animals if plan is not None and a.plan_id == plan.id),
                open=tuple(k for k in known if k.status.state in ("due", "overdue")),
                done=tuple((k.record, m) for k in known for m in k.marks if m.done_on == today.isoformat()),
                phase=brumation.phase(plan_id, today),
                lamps=() if plan is None else _worn_lamps(services, plan, hours, mine),
            )
        )
    there = {None, *(r.plan.id for r in rounds if r.plan is not None)}
    coming = _coming([t for t in tasks if t.plan_id in there], marks, today, brumation)
    return RoundOfDay(tuple(rounds), coming, bool(tasks))


def _by_rack(services: Services) -> list[PlanRecord]:
    """Plans as one walks past them: rack by rack, each from its top shelf down, the others last."""
    walk = [
        plan_id
        for rack in room_layout(services).racks
        for shelf in reversed(rack.shelves)
        for plan_id in shelf
    ]
    place = {plan_id: i for i, plan_id in enumerate(walk)}
    return sorted(services.plans.all(), key=lambda p: (place.get(p.id, len(walk)), p.name.lower()))


def _worn_lamps(
    services: Services, plan: PlanRecord, hours: LampHours, tasks: Iterable[TaskRecord]
) -> tuple[DueItem, ...]:
    """Lamps at the end of their life that no task replaces; none of a plan that cannot be read."""
    try:
        found = find_due_items(services.evaluation.plan(plan_with_hours(plan, hours)))
    except (DocumentError, PlanError, ConvergenceError):
        return ()
    cared_for = {t.origin for t in tasks}
    return tuple(d for d in found if d.kind != "measure" and lamp_origin(d.about_id) not in cared_for)


def _coming(
    tasks: list[TaskRecord],
    marks: Mapping[str, list[MarkRecord]],
    today: date,
    brumation: BrumationCalendar,
) -> tuple[ComingTasks, ...]:
    count: Counter[date] = Counter()
    titles: dict[date, list[str]] = {}
    last = today + timedelta(days=AHEAD_DAYS)
    for record in tasks:
        for day in _days_ahead(record, marks, today, last, brumation):
            count[day] += 1
            if record.rule != _DAILY:
                titles.setdefault(day, []).append(record.title)
    days = [today + timedelta(days=i) for i in range(1, AHEAD_DAYS + 1)]
    return tuple(
        ComingTasks(d, count[d], tuple(dict.fromkeys(titles.get(d, [])))[:TITLES_SHOWN]) for d in days
    )


def _days_ahead(
    record: TaskRecord,
    marks: Mapping[str, list[MarkRecord]],
    today: date,
    last: date,
    brumation: BrumationCalendar,
) -> tuple[date, ...]:
    rule, paused = rule_of(record), brumation.pause(record)
    if rule.after_done:
        day = task_status(rule, marks_of(marks, record.id), today, paused).due_on
        return (day,) if day is not None and today < day <= last else ()
    done = {m.due_on for m in marks.get(record.id, ())}
    days = days_of(rule, today + timedelta(days=1), last)
    return tuple(d for d in days if d.isoformat() not in done and not (paused and paused(d)))
