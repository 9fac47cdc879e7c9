"""Requests and responses of fixes, intervals and all conditions."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.assessment.status import Status
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.results.models import FixModel, IntervalModel, NeedModel, PhrasePart


class FixRequest(Model):
    """Ask for changes that would put one check or finding right."""

    document: PlanDocument
    about_id: Annotated[str, Field(min_length=1, max_length=200)]
    most: Annotated[int, Field(ge=1, le=3)] = 3


class IntervalsRequest(Model):
    """A plan whose figures' intervals are wanted."""

    document: PlanDocument


class SpreadCause(Model):
    """An input that makes a share of a figure's spread."""

    name: str
    share: float


class CheckInterval(IntervalModel):
    """The interval of one check's figure, and the probability that its need is met."""

    check_id: str
    probability: float
    causes: list[SpreadCause]
    status: Status
    settles: str


class IntervalsResponse(Model):
    """Intervals of all figures, from seeded draws, and what is said of the plan once they are known.

    ``summary`` takes the months of the room into account.
    """

    draws: int
    seed: int
    intervals: list[CheckInterval]
    fits: bool
    summary: list[PhrasePart]


SituationName = Literal["now", "day", "winter", "summer", "worn", "grown"]


class ScenariosRequest(Model):
    """A plan to check in every situation."""

    document: PlanDocument


class CellModel(Model):
    """One need in one situation; ``share`` of the hours of the day in which it is met."""

    situation: SituationName
    status: Status
    value: float | None
    share: float | None
    met: bool


class RowModel(Model):
    """One need at one place in every situation."""

    check_id: str
    place_label: str
    need: NeedModel
    met: Literal["always", "sometimes", "never", "unknown"]
    cells: list[CellModel]


class NotApplicableModel(Model):
    """A situation that could not be looked at."""

    situation: SituationName
    why: str


class ScenariosResponse(Model):
    """Every need under all conditions, and the conditions."""

    situations: list[SituationName]
    rows: list[RowModel]
    not_applicable: list[NotApplicableModel]


class FixResponse(Model):
    """The changes found, the best first; none if no candidate helps."""

    about_id: str
    fixes: list[FixModel]
