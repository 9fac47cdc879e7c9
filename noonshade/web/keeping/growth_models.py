"""Requests and responses of growth, company and new arrivals."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from noonshade.core.keeping.arrival import LONGEST, SHORTEST
from noonshade.core.keeping.growth import Basis
from noonshade.formats.document import Id
from noonshade.formats.plan_document import PlanDocument
from noonshade.web.keeping.days import Day
from noonshade.web.keeping.task_models import KnownTask
from noonshade.web.keeping.uses import BoxUse
from noonshade.web.models import Model, PhrasePart


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
    told: list[PhrasePart]
    length_m: float
    day: str | None
    earliest: str | None
    latest: str | None


class GrowthResponse(Model):
    """An animal's growth and what its box does not fit then; ``animal`` is whose lengths were measured."""

    animal: str | None
    basis: Basis
    length_m: float
    adult_m: float
    grown: bool
    curve: list[GrowthPoint]
    milestones: list[MilestoneModel]


class NextRequest(Model):
    """A plan whose animal is growing."""

    document: PlanDocument


class NextResponse(Model):
    """The plan to build next: a variant of the present one, to be mended and kept."""

    document: PlanDocument


class UseModel(Model):
    """What a box is used for."""

    use: BoxUse


class SpareModel(Model):
    """A spare box, and whether it is large enough for an animal of this one."""

    plan_id: str
    name: str
    will_do: bool


class CompanyModel(Model):
    """Animals that share a box, what there is for them, and the spare boxes that stand ready.

    ``registered`` counts the animals of the logbook that live in it.
    """

    count: int
    registered: int
    retreats: int
    basking_places: int | None
    faults: list[list[PhrasePart]]
    together: bool
    use: BoxUse
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
    """Quarantines of a box, the last first, and how long one usually takes for its species."""

    arrivals: list[ArrivalModel]
    usual_days: int
