"""Requests and responses of growth, company and new arrivals."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from noonshade.core.care.growth import Evidence
from noonshade.core.care.quarantine import LONGEST, SHORTEST
from noonshade.formats.document import Id, Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.results.models import PhrasePart
from noonshade.services.enclosure_roles import EnclosureRole
from noonshade.web.http.dates import Day
from noonshade.web.tasks.schemas import KnownTask


class GrowthRequest(Model):
    """A plan as it is on the screen, and which day it is."""

    document: PlanDocument
    on: Day


class GrowthPoint(Model):
    """How long it is likely to be on a day, m, slow and fast growers included."""

    day: str
    length_m: float
    low_m: float
    high_m: float


class MilestoneModel(Model):
    """Something that stops fitting, at which length and between which days; null: never."""

    id: str
    description: list[PhrasePart]
    length_m: float
    day: str | None
    earliest: str | None
    latest: str | None


class GrowthResponse(Model):
    """Predicted growth, and what of the enclosure no longer fits then; ``animal`` was the one measured."""

    animal: str | None
    basis: Evidence
    length_m: float
    adult_m: float
    grown: bool
    curve: list[GrowthPoint]
    milestones: list[MilestoneModel]


class RoleModel(Model):
    """What an enclosure is used for."""

    role: EnclosureRole


class SpareModel(Model):
    """A spare enclosure, and whether it is large enough for an animal of this one."""

    plan_id: str
    name: str
    is_large_enough: bool


class CohabitationModel(Model):
    """Animals that share an enclosure, what there is for them, and the spare enclosures.

    ``registered`` counts the animals of the logbook that live in it.
    """

    count: int
    registered: int
    hides: int
    basking_spots: int | None
    faults: list[list[PhrasePart]]
    together: bool
    role: EnclosureRole
    spares: list[SpareModel]


class ArrivalRequest(Model):
    """Begin a quarantine for an animal that came."""

    animal_id: Id
    on: Day
    days: Annotated[int, Field(ge=SHORTEST, le=LONGEST)]


class ReleaseRequest(Model):
    """Let an animal out of quarantine, with a word on why it may."""

    on: Day
    text: Annotated[str, Field(max_length=2000)] = ""


class ArrivalModel(Model):
    """An animal's quarantine: its steps by day, and whether it is over."""

    animal_id: str
    name: str
    came_on: str
    released: bool
    steps: list[KnownTask]


class ArrivalList(Model):
    """Quarantines of an enclosure, the last first, and how long one usually takes for its species."""

    arrivals: list[ArrivalModel]
    usual_days: int
