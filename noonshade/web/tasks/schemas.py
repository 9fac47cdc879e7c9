"""Requests and responses of tasks and of the day's round."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, model_validator

from noonshade.core.care.recurrence import Rule, RuleError, check_rule
from noonshade.core.care.routine import TaskKind
from noonshade.core.care.year import Phase
from noonshade.formats.document import Id, Model
from noonshade.formats.results.room import DueModel
from noonshade.web.http.dates import Day
from noonshade.web.logbook.schemas import EntryModel


class CareTask(Model):
    """A task that comes back by an RRULE (RFC 5545) over whole days, or once where the rule is empty.

    With ``after_done`` the days are counted anew from when it was last done or skipped. ``origin`` names
    the usual task it was made from.
    """

    id: Id
    plan_id: Id | None = None
    animal_id: Id | None = None
    kind: TaskKind
    title: Annotated[str, Field(min_length=1, max_length=120)]
    note: Annotated[str, Field(max_length=1000)] = ""
    rule: Annotated[str, Field(max_length=200)] = ""
    starts_on: Day
    after_done: bool = False
    ends_on: Day | None = None
    origin: Annotated[str, Field(max_length=80)] = ""

    @model_validator(mode="after")
    def _comes(self) -> CareTask:
        try:
            check_rule(self.as_rule())
        except RuleError as error:
            raise ValueError(str(error)) from error
        return self

    def as_rule(self) -> Rule:
        """Its rule as the core takes it."""
        end = None if self.ends_on is None else date.fromisoformat(self.ends_on)
        return Rule(self.rule, date.fromisoformat(self.starts_on), self.after_done, end)


class MarkModel(Model):
    """That a day of a task was done or skipped; a skip says why."""

    due_on: Day
    kind: Literal["done", "skipped"]
    done_on: Day
    reason: Annotated[str, Field(max_length=300)] = ""

    @model_validator(mode="after")
    def _why(self) -> MarkModel:
        if self.kind == "skipped" and not self.reason.strip():
            raise ValueError("say why it is skipped")
        return self


class MarkRequest(MarkModel):
    """A mark, with what is written in the logbook along with it: what was eaten, what was weighed."""

    entries: Annotated[list[EntryModel], Field(max_length=50)] = []


class TaskStatusModel(Model):
    """The state of a task on a day: ``missed`` counts days before it that were left open."""

    state: Literal["due", "overdue", "coming", "ended"]
    due_on: str | None
    missed: int


class KnownTask(Model):
    """A task, its state, and its recent marks."""

    task: CareTask
    status: TaskStatusModel
    marks: list[MarkModel]


class TaskList(Model):
    """Tasks of an enclosure, or of the whole room."""

    tasks: list[KnownTask]


class TasksQuery(Model):
    """Whose tasks, and on which day."""

    on: Day
    plan: Annotated[Id | None, Field(description="none: those of the whole room")] = None


class DayQuery(Model):
    """Which day it is where the room is."""

    on: Day


class UsualTask(Model):
    """A task as it is usually done for an enclosure.

    ``state`` is new where the enclosure has none of it, taken where it has it as it is usual, changed where
    it has it otherwise.
    """

    task: CareTask
    state: Literal["new", "taken", "changed"]


class UsualTasks(Model):
    """What is usually done, for an enclosure or the room."""

    tasks: list[UsualTask]


class TakeUsual(Model):
    """Add the usual tasks that enclosures, and the room, do not have yet."""

    on: Day
    plan_ids: Annotated[list[Id], Field(max_length=500)]
    room: bool = True


class TakenUsual(Model):
    """Tasks that were made."""

    made: list[str]


class GroupAnimal(Model):
    """An animal of a group of tasks."""

    id: str
    name: str


class DoneToday(Model):
    """A task that was done or skipped today."""

    task: CareTask
    mark: MarkModel


class TodayGroup(Model):
    """Tasks for one enclosure, or for the room where there is no plan; ``phase`` is that of its year."""

    plan_id: str | None
    name: str
    animals: list[GroupAnimal]
    open: list[KnownTask]
    done: list[DoneToday]
    phase: Phase
    lamps: list[DueModel]


class ComingDay(Model):
    """A day ahead and how much is due on it."""

    day: str
    count: int
    titles: list[str]


class TodayModel(Model):
    """The round of a day: enclosures by rack and shelf, what is due in each, and the week ahead."""

    on: str
    groups: list[TodayGroup]
    coming: list[ComingDay]
    has_tasks: bool
