"""Requests and responses of the year, its card and its calendar."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.care.year import Phase, Week
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.results.models import PhrasePart
from noonshade.formats.year_document import YearDocument


class YearRequest(Model):
    """A plan whose year is wanted; one without its own year gets the usual one."""

    document: PlanDocument


class LimitModel(Model):
    """Something the room does not allow, and in which months."""

    id: Literal["rest_too_warm", "rest_too_cold", "night_too_warm", "day_too_warm"]
    months: list[int]
    description: list[PhrasePart]


class YearResponse(Model):
    """The year of a plan by week, the usual one for such an animal, and what the room does not allow.

    ``setting_changes`` counts how often something is set.
    """

    year: YearDocument
    usual: YearDocument
    weeks: list[Week]
    limits: list[LimitModel]
    setting_changes: int
    room_known: bool


class MonthRequest(Model):
    """A month of a plan's year to check with the full model."""

    document: PlanDocument
    month: Annotated[int, Field(ge=1, le=12)]


class OfferModel(Model):
    """A fix that the year can hold: a bulb of other watts, or another set point."""

    kind: Literal["power", "set_point"]
    part_id: str
    label: str
    period: Literal["day", "night"] | None
    value: float


class MonthFix(Model):
    """A change that fixes the worst of a month; without an offer it is one of the plan, for all months."""

    about_id: str
    sentence: list[PhrasePart]
    breaks: list[str]
    offer: OfferModel | None


class FailingModel(Model):
    """Something that fails in a month."""

    id: str
    description: list[PhrasePart]


class MonthResponse(Model):
    """One month: what fails, in words, and the fix; failing null where no steady climate is found."""

    month: int
    phase: Phase
    failing: list[FailingModel] | None
    description: list[PhrasePart]
    fix: MonthFix | None


class CardQuery(Model):
    """For which year, by which clock and in which units."""

    zone: Annotated[str, Field(max_length=60)] = "UTC"
    year: Annotated[int, Field(ge=1900, le=2200)]
    units: Literal["metric", "imperial"] = "metric"


class CalendarQuery(Model):
    """By which clock and in which units."""

    zone: Annotated[str, Field(max_length=60)] = "UTC"
    units: Literal["metric", "imperial"] = "metric"


class AddressModel(Model):
    """The address of the calendar of the whole room, on this machine; null before one is made."""

    path: str | None
