"""Requests and responses of the room as a whole."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument, RoomDocument
from noonshade.formats.results.room import DueModel, MonthModel
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


class ForecastResponse(Model):
    """The year of a plan, and what is due on it."""

    months: list[MonthModel]
    due: list[DueModel]


# Ids of plans on show, apart by commas.
MOST_SHOWN = 4000


class ResultsQuery(Model):
    """Plans that are on show: their results are computed before those of others."""

    shown: Annotated[str, Field(max_length=MOST_SHOWN)] = ""


class ChecksNow(Model):
    """How many checks and findings of an enclosure fail, how many are uncertain; or why it is not known."""

    failing: int
    uncertain: int
    cause: str
    problem: str | None


class LiveReading(Model):
    """What a logger last read, °C and humidity as a share; null where it does not read one of them."""

    plan_id: str
    label: str
    at: datetime
    temperature_c: float | None
    relative_humidity: float | None


class LiveReadings(Model):
    """The newest recent reading of each logger of the room."""

    readings: list[LiveReading]


class MonthNow(Model):
    """One month: how much must be fixed; null where no steady climate is found."""

    number: Annotated[int, Field(ge=1, le=12)]
    failing: int | None


class ForecastNow(Model):
    """An enclosure over the months of its room, and what is due on it; or why that is not known."""

    months: list[MonthNow]
    due: list[DueModel]
    problem: str | None


class EnclosureResultsModel(Model):
    """What is known of the newest revision of a plan; null for what is still to be computed."""

    plan_id: str
    revision: int
    checks: ChecksNow | None
    forecast: ForecastNow | None


class RoomResults(Model):
    """What is known of every enclosure, and how many checks and years are still to be computed."""

    enclosures: list[EnclosureResultsModel]
    checks_missing: int
    forecasts_missing: int
