"""Requests and responses of starting a plan."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from noonshade.core.needs.model import Grade, StageId
from noonshade.core.starter import BoxKind
from noonshade.formats.document import Id, Label
from noonshade.formats.plan_document import BoxLength, BoxSide, PlanDocument, RoomDocument
from noonshade.web.judgement_models import MendModel
from noonshade.web.models import Model


class SizeModel(Model):
    """Inside sizes of a box, m."""

    length_m: BoxLength
    depth_m: BoxSide
    height_m: BoxSide


class FittingRequest(Model):
    """Ask for the least box of so many animals."""

    species_id: Id
    count: Annotated[int, Field(ge=1, le=50)] = 1


class FittingResponse(Model):
    """The least box for an adult, of the kind most often built, and where that is from."""

    size: SizeModel
    kind: BoxKind
    grade: Grade
    source: str


class StarterRequest(Model):
    """Ask for a first layout; without a size or kind the fitting one is taken."""

    name: Label
    species_id: Id
    stage: StageId = "adult"
    count: Annotated[int, Field(ge=1, le=50)] = 1
    size: SizeModel | None = None
    kind: BoxKind | None = None
    room: RoomDocument


class StarterResponse(Model):
    """A furnished, heated and lit box, to be changed."""

    document: PlanDocument


class ImproveRequest(Model):
    """Ask for one change that puts something right and breaks nothing."""

    document: PlanDocument


class ImproveResponse(Model):
    """The change, or none if nothing that fails can be put right so; and how much fails now."""

    failing: int
    mend: MendModel | None
