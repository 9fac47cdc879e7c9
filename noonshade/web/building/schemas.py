"""Request and response of building a plan."""

from __future__ import annotations

from typing import Literal

from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.results.models import PhrasePart

GroupName = Literal[
    "enclosure", "lamps", "control", "ground", "furnishing", "moisture", "safety", "instruments"
]


class BuildingRequest(Model):
    """A plan that is to be built."""

    document: PlanDocument


class PartModel(Model):
    """One line of the shopping list."""

    group: GroupName
    label: str
    count: int
    detail: list[PhrasePart]
    why: str


class LoadModel(Model):
    """One lamp or heater over a day and a month."""

    id: str
    label: str
    power_w: float
    on_h: float
    duty: float
    month_kwh: float
    month_cost: float


class RunningModel(Model):
    """All loads; unless ``regulated`` they are taken at full power while their timers are on."""

    loads: list[LoadModel]
    connected_w: float
    most_w: float
    day_kwh: float
    month_kwh: float
    month_cost: float
    tariff_per_kwh: float
    regulated: bool


class StepModel(Model):
    """One thing to do, and why it comes here."""

    id: str
    title: str
    details: list[list[PhrasePart]]
    why: str


class CautionModel(Model):
    """A caution, and whom it defers to."""

    id: str
    text: list[PhrasePart]
    ask: Literal["electrician", "veterinarian"] | None


class BuildingResponse(Model):
    """What to buy, what it draws, what to do in which order, and the cautions."""

    parts: list[PartModel]
    running: RunningModel
    steps: list[StepModel]
    cautions: list[CautionModel]
