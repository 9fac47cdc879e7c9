"""Request and response of comparing two plans."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.assessment.status import Status
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.results.models import PhrasePart

FigureName = Literal["surface", "air", "probe", "uvi", "uvi_facing", "humidity", "operative"]


class CompareRequest(Model):
    """Two plans, or two revisions of one."""

    before: PlanDocument
    after: PlanDocument


class ComparedFigureModel(Model):
    """One figure at one place, in both."""

    figure: FigureName
    before: float | None
    after: float | None
    difference: float | None
    status_before: Status | None
    status_after: Status | None


class ComparedPlaceModel(Model):
    """One place; ``only`` if just one of the two has it."""

    id: str
    label: str
    only: Literal["before", "after"] | None
    figures: list[ComparedFigureModel]


class SideModel(Model):
    """One of the two as a whole."""

    fits: bool
    failing: int
    summary: list[PhrasePart]
    connected_w: float
    uv_free_share: float


class ChangeModel(Model):
    """One difference of the documents."""

    thing: str
    what: str
    before: list[PhrasePart]
    after: list[PhrasePart]


class CompareResponse(Model):
    """Both as a whole, the differences by place, faults that came and went, and what was changed."""

    before: SideModel
    after: SideModel
    places: list[ComparedPlaceModel]
    findings_gone: list[list[PhrasePart]]
    findings_new: list[list[PhrasePart]]
    changes: list[ChangeModel]


class RevisionName(Model):
    """A name for a revision; empty takes it off again."""

    name: Annotated[str, Field(max_length=80)]
