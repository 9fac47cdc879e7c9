"""Tasks, their marks, what is usual, and the round of the day."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import asdict
from datetime import date, timedelta
from typing import cast

from flask import Blueprint

from noonshade.core.care.quarantine import RELEASE
from noonshade.core.care.recurrence import Mark, MarkKind, days_of, every, task_status
from noonshade.core.care.routine import TaskProposal, first_day, lamp_key, room_routine, routine
from noonshade.core.errors import ConvergenceError, PlanError
from noonshade.core.forecast import due
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.room_document import RoomLayout, parse_room_layout
from noonshade.services.brumation import Rests
from noonshade.services.enclosure_roles import set_enclosure_role
from noonshade.services.lamp_hours import LampHours, plan_with_hours
from noonshade.store.plans import PlanRecord
from noonshade.store.tasks import MarkRecord, TaskRecord
from noonshade.web import current
from noonshade.web.http.dates import Day
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.logbook.routes import entry_record
from noonshade.web.room.routes import LAYOUT
from noonshade.web.room.schemas import DueModel
from noonshade.web.tasks.schemas import (
    CareTask,
    ComingDay,
    DayQuery,
    DoneToday,
    GroupAnimal,
    KnownTask,
    MarkModel,
    MarkRequest,
    TakenUsual,
    TakeUsual,
    TaskList,
    TasksQuery,
    TaskStatusModel,
    TodayGroup,
    TodayModel,
    UsualTask,
    UsualTasks,
)

task_api = Blueprint("tasks", __name__, url_prefix="/api")

# How far back a task's marks are told, and how far ahead days are.
RECENT_DAYS = 84
AHEAD_DAYS = 7
TITLES_SHOWN = 6
_USUAL = "usual:"
# Steps of a quarantine are tasks too; what each is stands after this.
ARRIVAL = "arrival:"
_DAILY = every(1, "day")


# -- tasks -------------------------------------------------------------------------


@operation(task_api, "GET", "/tasks", response=TaskList, query=TasksQuery, problems=(503,))
def list_tasks(query: TasksQuery) -> TaskList:
    """Tasks of an enclosure or of the whole room with their status; without quarantine steps."""
    today = date.fromisoformat(query.on)
    marks, rests = current.tasks().marks(_recently(today)), Rests()
    records = current.tasks().tasks.all(
        "plan_id IS ? AND origin NOT LIKE ?", (query.plan, f"{ARRIVAL}%"), "kind, title, id"
    )
    return TaskList(tasks=[known_task(r, marks, today, rests) for r in records])


@operation(task_api, "PUT", "/tasks", request_model=CareTask, response=CareTask, problems=(404, 503, 507))
def put_task(body: CareTask) -> CareTask:
    """Store a task, new or changed; its marks stay."""
    current.tasks().tasks.put(_record(body))
    return body


@operation(task_api, "DELETE", "/tasks/<task_id>", response=None, status=204, problems=(404, 503, 507))
def remove_task(task_id: str) -> None:
    """Take a task off; storing it again brings it back with its marks."""
    current.tasks().tasks.remove(task_id)


@operation(
    task_api,
    "PUT",
    "/tasks/<task_id>/marks",
    request_model=MarkRequest,
    response=KnownTask,
    problems=(404, 503, 507),
)
def mark_task(body: MarkRequest, task_id: str) -> KnownTask:
    """Say that a task was done, or skipped and why, and write down what came of it."""
    record = current.tasks().tasks.get(task_id)
    rule = task_of(record).as_rule()
    day = date.fromisoformat(body.due_on)
    # One that is counted from when it was done may be done on any day.
    if not rule.after_done and day not in days_of(rule, day, day):
        raise RequestProblem(
            422,
            "invalid-request",
            "A value cannot be used",
            f"/due_on: {body.due_on} is no day of this task",
        )
    current.logbook().entries.put(*(entry_record(e) for e in body.entries))
    current.tasks().mark(MarkRecord(task_id, **body.model_dump(exclude={"entries"})))
    if record.origin == f"{ARRIVAL}{RELEASE}" and record.plan_id is not None and body.kind == "done":
        set_enclosure_role(record.plan_id, "home")
    today = date.fromisoformat(body.done_on)
    return known_task(record, current.tasks().marks(_recently(today)), today, Rests())


@operation(
    task_api,
    "DELETE",
    "/tasks/<task_id>/marks/<due_on>",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def unmark_task(task_id: str, due_on: str) -> None:
    """Take back that a day of a task was done or skipped."""
    current.tasks().unmark(task_id, due_on)


# -- what is usual -----------------------------------------------------------------


@operation(
    task_api,
    "GET",
    "/plans/<plan_id>/usual-tasks",
    response=UsualTasks,
    query=DayQuery,
    problems=(404, 503),
)
def usual_tasks(query: DayQuery, plan_id: str) -> UsualTasks:
    """What is usually done for an enclosure like this, beside what it has."""
    plan, today = current.plans().get(plan_id), date.fromisoformat(query.on)
    return _usual(_of_enclosure(plan, LampHours(today)), plan_id, today)


@operation(task_api, "GET", "/room/usual-tasks", response=UsualTasks, query=DayQuery, problems=(503,))
def usual_room_tasks(query: DayQuery) -> UsualTasks:
    """What is usually done for a whole room, beside what it has."""
    return _usual(room_routine(), None, date.fromisoformat(query.on))


@operation(
    task_api,
    "POST",
    "/usual-tasks",
    request_model=TakeUsual,
    response=TakenUsual,
    problems=(404, 503, 507),
)
def take_usual_tasks(body: TakeUsual) -> TakenUsual:
    """Take up what is usual and not there yet."""
    today = date.fromisoformat(body.on)
    counted = LampHours(today)
    wanted: list[tuple[tuple[TaskProposal, ...], str | None]] = [
        (_of_enclosure(current.plans().get(plan_id), counted), plan_id) for plan_id in body.plan_ids
    ]
    if body.room:
        wanted.append((room_routine(), None))
    fresh = [
        usual.task
        for proposals, plan_id in wanted
        for usual in _usual(proposals, plan_id, today).tasks
        if usual.state == "new"
    ]
    current.tasks().tasks.put(*(_record(task) for task in fresh))
    return TakenUsual(made=[task.id for task in fresh])


def _of_enclosure(plan: PlanRecord, counted: LampHours) -> tuple[TaskProposal, ...]:
    return routine(current.evaluator().evaluate(parse_plan(plan.document)), counted.at(plan.id))


def _usual(proposals: Iterable[TaskProposal], plan_id: str | None, today: date) -> UsualTasks:
    known = {r.origin: r for r in current.tasks().tasks.all("plan_id IS ?", (plan_id,)) if r.origin}
    found = []
    for proposal in proposals:
        origin = _USUAL + proposal.key
        enclosure = plan_id or "room"
        there = known.get(origin)
        task = CareTask(
            id=f"{enclosure[:40]}.{proposal.key}" if there is None else there.id,
            plan_id=plan_id,
            kind=proposal.kind,
            title=proposal.title,
            note=proposal.why,
            rule=proposal.rule,
            starts_on=first_day(proposal, enclosure, today).isoformat()
            if there is None
            else there.starts_on,
            after_done=proposal.after_done,
            origin=origin,
        )
        same = there is not None and (there.rule, bool(there.after_done), there.title) == (
            task.rule,
            task.after_done,
            task.title,
        )
        found.append(UsualTask(task=task, state="new" if there is None else "taken" if same else "changed"))
    return UsualTasks(tasks=found)


# -- the round of the day ------------------------------------------------------------


@operation(task_api, "GET", "/today", response=TodayModel, query=DayQuery, problems=(503,))
def get_today(query: DayQuery) -> TodayModel:
    """The round of a day through the room: what is due in each enclosure, in the order they stand."""
    today = date.fromisoformat(query.on)
    tasks = current.tasks().tasks.all(order="kind, title, id")
    marks = current.tasks().marks(_recently(today))
    animals = current.logbook().animals.all("left_on IS NULL", order="name COLLATE NOCASE")
    counted, rests = LampHours(today), Rests()
    groups = []
    for plan in [*_in_order(current.plans().all()), None]:
        plan_id = None if plan is None else plan.id
        mine = [t for t in tasks if t.plan_id == plan_id]
        known = [known_task(t, marks, today, rests) for t in mine]
        groups.append(
            TodayGroup(
                plan_id=plan_id,
                name="The whole room" if plan is None else plan.name,
                animals=[
                    GroupAnimal(id=a.id, name=a.name) for a in animals if plan and a.plan_id == plan.id
                ],
                open=[k for k in known if k.status.state in ("due", "overdue")],
                done=[
                    DoneToday(task=k.task, mark=m) for k in known for m in k.marks if m.done_on == query.on
                ],
                phase=rests.phase(plan_id, today),
                lamps=[] if plan is None else _lamps(plan, counted, mine),
            )
        )
    there = {None, *(g.plan_id for g in groups)}
    coming = _coming([t for t in tasks if t.plan_id in there], marks, today, rests)
    return TodayModel(on=query.on, groups=groups, coming=coming, has_tasks=bool(tasks))


def _in_order(plans: list[PlanRecord]) -> list[PlanRecord]:
    """Enclosures as one comes to them: stand by stand, shelf by shelf from the top, the others last."""
    text = current.settings().get(LAYOUT)
    layout = RoomLayout() if text is None else parse_room_layout(text)
    walk = [enclosure for rack in layout.racks for shelf in reversed(rack.shelves) for enclosure in shelf]
    place = {enclosure: i for i, enclosure in enumerate(walk)}
    return sorted(plans, key=lambda p: (place.get(p.id, len(walk)), p.name.lower()))


def lamp_origin(fixture_id: str) -> str:
    """The origin of the task that replaces a fixture's lamp."""
    return _USUAL + lamp_key(fixture_id)


def _lamps(plan: PlanRecord, counted: LampHours, tasks: Iterable[TaskRecord]) -> list[DueModel]:
    """Lamps at the end of their life that no task is for; a plan that cannot be read says so elsewhere."""
    try:
        found = due(current.evaluator().plan(plan_with_hours(plan, counted)))
    except (DocumentError, PlanError, ConvergenceError):
        return []
    cared = {t.origin for t in tasks}
    return [
        DueModel(**asdict(d)) for d in found if d.kind != "measure" and lamp_origin(d.about_id) not in cared
    ]


def _coming(
    tasks: list[TaskRecord], marks: Mapping[str, list[MarkRecord]], today: date, rests: Rests
) -> list[ComingDay]:
    count: Counter[date] = Counter()
    titles: dict[date, list[str]] = {}
    last = today + timedelta(days=AHEAD_DAYS)
    for record in tasks:
        for day in _days_ahead(record, marks, today, last, rests):
            count[day] += 1
            if record.rule == _DAILY:
                # What comes every day is not worth telling.
                continue
            titles.setdefault(day, []).append(record.title)
    days = [today + timedelta(days=i) for i in range(1, AHEAD_DAYS + 1)]
    return [
        ComingDay(
            day=d.isoformat(),
            count=count[d],
            titles=list(dict.fromkeys(titles.get(d, [])))[:TITLES_SHOWN],
        )
        for d in days
    ]


def _days_ahead(
    record: TaskRecord, marks: Mapping[str, list[MarkRecord]], today: date, last: date, rests: Rests
) -> tuple[date, ...]:
    rule, paused = task_of(record).as_rule(), rests.pause(record)
    if rule.after_done:
        standing = task_status(rule, marks_of(marks, record.id), today, paused)
        day = standing.due_on
        return (day,) if day is not None and today < day <= last else ()
    done = {m.due_on for m in marks.get(record.id, ())}
    days = days_of(rule, today + timedelta(days=1), last)
    return tuple(d for d in days if d.isoformat() not in done and not (paused and paused(d)))


# -- between rows and models -----------------------------------------------------------


def _recently(today: date) -> Day:
    return (today - timedelta(days=RECENT_DAYS)).isoformat()


def _record(task: CareTask) -> TaskRecord:
    return TaskRecord(**{**task.model_dump(), "after_done": int(task.after_done)})


def task_of(record: TaskRecord) -> CareTask:
    """A stored task for the screen."""
    return CareTask.model_validate({**asdict(record), "after_done": bool(record.after_done)})


def marks_of(marks: Mapping[str, list[MarkRecord]], task_id: str) -> list[Mark]:
    """Marks of a task as the core takes them."""
    return [
        Mark(date.fromisoformat(m.due_on), cast(MarkKind, m.kind), date.fromisoformat(m.done_on))
        for m in marks.get(task_id, ())
    ]


def known_task(
    record: TaskRecord, marks: Mapping[str, list[MarkRecord]], today: date, rests: Rests
) -> KnownTask:
    """A task with where it stands on a day and its marks, for the screen."""
    task = task_of(record)
    found = task_status(task.as_rule(), marks_of(marks, record.id), today, rests.pause(record))
    return KnownTask(
        task=task,
        status=TaskStatusModel(
            state=found.state,
            due_on=None if found.due_on is None else found.due_on.isoformat(),
            missed=found.missed,
        ),
        marks=[
            MarkModel(due_on=m.due_on, kind=cast(MarkKind, m.kind), done_on=m.done_on, reason=m.reason)
            for m in marks.get(record.id, ())
        ],
    )
