"""Tasks between stored rows and the interface."""

from __future__ import annotations

from dataclasses import asdict
from typing import cast

from noonshade.core.care.recurrence import MarkKind
from noonshade.formats.results.room import DueModel
from noonshade.services.tasks import ProposedTask, RoundOfDay, TaskWithStatus
from noonshade.store.tasks import MarkRecord, TaskRecord
from noonshade.web.tasks.schemas import (
    CareTask,
    ComingDay,
    DoneToday,
    GroupAnimal,
    KnownTask,
    MarkModel,
    TaskStatusModel,
    TodayGroup,
    TodayModel,
    UsualTask,
)


def task_record(task: CareTask) -> TaskRecord:
    """A task as it is stored."""
    return TaskRecord(**{**task.model_dump(), "after_done": int(task.after_done)})


def task_model(record: TaskRecord) -> CareTask:
    """A stored task."""
    return CareTask.model_validate({**asdict(record), "after_done": bool(record.after_done)})


def mark_model(record: MarkRecord) -> MarkModel:
    """A stored mark."""
    return MarkModel(
        due_on=record.due_on,
        kind=cast(MarkKind, record.kind),
        done_on=record.done_on,
        reason=record.reason,
    )


def known_task(task: TaskWithStatus) -> KnownTask:
    """A task with its status and marks."""
    due_on = task.status.due_on
    return KnownTask(
        task=task_model(task.record),
        status=TaskStatusModel(
            state=task.status.state,
            due_on=None if due_on is None else due_on.isoformat(),
            missed=task.status.missed,
        ),
        marks=[mark_model(m) for m in task.marks],
    )


def usual_task(task: ProposedTask) -> UsualTask:
    """A usual task beside what an enclosure has."""
    return UsualTask(task=task_model(task.record), state=task.state)


def today_model(on: str, found: RoundOfDay) -> TodayModel:
    """The round of a day."""
    return TodayModel(
        on=on,
        groups=[
            TodayGroup(
                plan_id=None if r.plan is None else r.plan.id,
                name="The whole room" if r.plan is None else r.plan.name,
                animals=[GroupAnimal(id=a.id, name=a.name) for a in r.animals],
                open=[known_task(t) for t in r.open],
                done=[DoneToday(task=task_model(t), mark=mark_model(m)) for t, m in r.done],
                phase=r.phase,
                lamps=[DueModel(**asdict(d)) for d in r.lamps],
            )
            for r in found.rounds
        ],
        coming=[
            ComingDay(day=c.day.isoformat(), count=c.count, titles=list(c.titles)) for c in found.coming
        ],
        has_tasks=found.has_tasks,
    )
