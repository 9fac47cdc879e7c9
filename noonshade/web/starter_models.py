"""Requests and responses of starting a plan."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.formats.document import Id, Label
from noonshade.formats.plan_document import PlanDocument, RoomDocument
from noonshade.web.models import MendModel, Model

BoxKindName = Literal["timber", "pvc", "glass", "mesh", "table"]


class SizeModel(Model):
    """Inside sizes of a box, m."""

    length_m: Annotated[float, Field(ge=0.15, le=5)]
    depth_m: Annotated[float, Field(ge=0.15, le=3)]
    height_m: Annotated[float, Field(ge=0.15, le=3)]


class FittingRequest(Model):
    """Ask for the least box of so many animals."""

    species_id: Id
    count: Annotated[int, Field(ge=1, le=50)] = 1


class FittingResponse(Model):
    """The least box for an adult, of the kind most often built, and where that is from."""

    size: SizeModel
    kind: BoxKindName
    grade: str
    source: str


class StarterRequest(Model):
    """Ask for a first layout; without a size or kind the fitting one is taken."""

    name: Label
    species_id: Id
    stage: Literal["adult", "young", "larva"] = "adult"
    count: Annotated[int, Field(ge=1, le=50)] = 1
    size: SizeModel | None = None
    kind: BoxKindName | None = None
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
