"""Requests and responses of starting a plan."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from noonshade.core.needs.species import Grade, StageId
from noonshade.core.starter import EnclosureKind
from noonshade.formats.document import Id, Label, Model
from noonshade.formats.plan_document import EnclosureLength, EnclosureSide, PlanDocument, RoomDocument
from noonshade.formats.results.models import FixModel


class SizeModel(Model):
    """Inside sizes of an enclosure, m."""

    length_m: EnclosureLength
    depth_m: EnclosureSide
    height_m: EnclosureSide


class FittingRequest(Model):
    """Ask for the least enclosure for a number of animals."""

    species_id: Id
    count: Annotated[int, Field(ge=1, le=50)] = 1
    stage: StageId = "adult"


class FittingResponse(Model):
    """The least enclosure at that stage, of the kind most often built, and where that is from."""

    size: SizeModel
    kind: EnclosureKind
    grade: Grade
    source: str


class StarterRequest(Model):
    """Ask for a first layout; without a size or kind the fitting one is taken."""

    name: Label
    species_id: Id
    stage: StageId = "adult"
    count: Annotated[int, Field(ge=1, le=50)] = 1
    size: SizeModel | None = None
    kind: EnclosureKind | None = None
    room: RoomDocument


class StarterResponse(Model):
    """A furnished, heated and lit enclosure, to be changed."""

    document: PlanDocument


class ImproveRequest(Model):
    """Ask for one fix that breaks nothing."""

    document: PlanDocument


class ImproveResponse(Model):
    """The change, or none if no failure can be fixed this way; and how much fails now."""

    failing: int
    fix: FixModel | None
