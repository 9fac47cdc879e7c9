"""Tasks, their marks, usual tasks, and the round of the day."""

from __future__ import annotations

from datetime import date

from flask import Blueprint

from noonshade.services import tasks
from noonshade.services.application import Services
from noonshade.store.tasks import MarkRecord
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.logbook.serializers import entry_record
from noonshade.web.tasks.schemas import (
    CareTask,
    DayQuery,
    KnownTask,
    MarkRequest,
    TakenUsual,
    TakeUsual,
    TaskList,
    TasksQuery,
    TodayModel,
    UsualTasks,
)
from noonshade.web.tasks.serializers import known_task, task_record, today_model, usual_task

task_api = Blueprint("tasks", __name__, url_prefix="/api")


@operation(task_api, "GET", "/tasks", response=TaskList, query=TasksQuery, problems=(503,))
def list_tasks(services: Services, query: TasksQuery) -> TaskList:
    """Tasks of an enclosure or of the whole room with their status; without quarantine steps."""
    found = tasks.list_tasks(services, query.plan, date.fromisoformat(query.on))
    return TaskList(tasks=[known_task(t) for t in found])


@operation(task_api, "PUT", "/tasks", request_model=CareTask, response=CareTask, problems=(404, 503, 507))
def put_task(services: Services, body: CareTask) -> CareTask:
    """Store a task, new or changed; its marks stay."""
    services.write(services.tasks.tasks.put, task_record(body))
    return body


@operation(task_api, "DELETE", "/tasks/<task_id>", response=None, status=204, problems=(404, 503, 507))
def remove_task(services: Services, task_id: str) -> None:
    """Remove a task; storing it again brings it back with its marks."""
    services.write(services.tasks.tasks.remove, task_id)


@operation(
    task_api,
    "PUT",
    "/tasks/<task_id>/marks",
    request_model=MarkRequest,
    response=KnownTask,
    problems=(404, 503, 507),
)
def mark_task(services: Services, body: MarkRequest, task_id: str) -> KnownTask:
    """Store that a task was done, or skipped and why, with its logbook entries."""
    mark = MarkRecord(task_id, **body.model_dump(exclude={"entries"}))
    try:
        return known_task(tasks.mark_task(services, mark, [entry_record(e) for e in body.entries]))
    except tasks.NotADayOfTaskError as error:
        raise RequestProblem(
            422, "invalid-request", "A value cannot be used", f"/due_on: {error}"
        ) from error


@operation(
    task_api,
    "DELETE",
    "/tasks/<task_id>/marks/<due_on>",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def unmark_task(services: Services, task_id: str, due_on: str) -> None:
    """Take back that a day of a task was done or skipped."""
    services.write(services.tasks.unmark, task_id, due_on)


@operation(
    task_api,
    "GET",
    "/plans/<plan_id>/usual-tasks",
    response=UsualTasks,
    query=DayQuery,
    problems=(404, 503),
    pool="heavy",
)
def usual_tasks(services: Services, query: DayQuery, plan_id: str) -> UsualTasks:
    """Usual tasks of an enclosure, beside those it has."""
    found = tasks.usual_tasks(services, plan_id, date.fromisoformat(query.on))
    return UsualTasks(tasks=[usual_task(t) for t in found])


@operation(task_api, "GET", "/room/usual-tasks", response=UsualTasks, query=DayQuery, problems=(503,))
def usual_room_tasks(services: Services, query: DayQuery) -> UsualTasks:
    """Usual tasks of the whole room, beside those it has."""
    found = tasks.usual_tasks(services, None, date.fromisoformat(query.on))
    return UsualTasks(tasks=[usual_task(t) for t in found])


@operation(
    task_api,
    "POST",
    "/usual-tasks",
    request_model=TakeUsual,
    response=TakenUsual,
    problems=(404, 503, 507),
)
def take_usual_tasks(services: Services, body: TakeUsual) -> TakenUsual:
    """Store the usual tasks that enclosures and the room do not have yet."""
    today = date.fromisoformat(body.on)
    return TakenUsual(made=tasks.add_usual_tasks(services, body.plan_ids, body.room, today))


@operation(task_api, "GET", "/today", response=TodayModel, query=DayQuery, problems=(503,))
def get_today(services: Services, query: DayQuery) -> TodayModel:
    """The round of a day through the room: what is due in each enclosure, rack by rack."""
    return today_model(query.on, tasks.round_of_day(services, date.fromisoformat(query.on)))
