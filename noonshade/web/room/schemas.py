"""Requests and responses of the room as a whole."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument, RoomDocument
from noonshade.formats.results.models import PhrasePart
from noonshade.formats.room_document import RoomClimateSettings, RoomLayout


class RoomModel(Model):
    """The room: its climate if set, the room of plans that follow it, and its racks."""

    climate: RoomClimateSettings | None
    followed: RoomDocument | None
    layout: RoomLayout


class SetClimate(Model):
    """A climate for the whole room, and whether every plan is to follow it from now on."""

    climate: RoomClimateSettings
    every_plan: bool = False


class ClimateSet(Model):
    """Which plans were changed to the new climate."""

    changed: list[str]


class ForecastRequest(Model):
    """A plan to check over the months of its room."""

    document: PlanDocument


class MonthModel(Model):
    """One month: how much must be fixed; null where no steady climate is found."""

    number: Annotated[int, Field(ge=1, le=12)]
    failing: int | None
    description: list[PhrasePart]


class DueModel(Model):
    """Something to be done; days from now, negative when it is overdue."""

    kind: Literal["replace_lamp", "replace_lamp_soon", "measure"]
    about_id: str
    message: str
    in_days: float | None


class ForecastResponse(Model):
    """The year of a plan, and what is due on it."""

    months: list[MonthModel]
    due: list[DueModel]
