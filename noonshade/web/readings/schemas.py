"""Requests and responses of readings, rounds, instruments and the fit."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from noonshade.core.readings.instrument import SHARE_KINDS, InstrumentKind, Kind
from noonshade.core.readings.reading import needs_place
from noonshade.formats.document import Id, Label, Model
from noonshade.formats.plan_document import MeasuredDocument, PlanDocument, PointDocument
from noonshade.formats.results.models import PhrasePart

Source = Literal["hand", "logger", "device", "practice"]

# What an instrument can show at all, by kind: what lies outside is a slip. Estimates.
SHOWABLE: dict[Kind, tuple[float, float]] = {
    "surface": (-20.0, 150.0),
    "air": (-20.0, 80.0),
    "air_min": (-20.0, 80.0),
    "air_max": (-20.0, 80.0),
    "uvi_facing": (0.0, 40.0),
    "uvi_level": (0.0, 40.0),
    "humidity": (0.0, 1.0),
    "humidity_night": (0.0, 1.0),
    "room_air": (-20.0, 60.0),
    "room_humidity": (0.0, 1.0),
}
_UNITS: dict[Kind, str] = dict.fromkeys(SHARE_KINDS, "as a share")


class InstrumentModel(Model):
    """An instrument of the keeper's: ± as its maker states it (K, a share for UV, of 1 for humidity)."""

    id: Id
    label: Label
    kind: InstrumentKind
    accuracy: Annotated[float, Field(gt=0, le=10)] | None = None
    calibrated: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")] | None = None


class InstrumentList(Model):
    """The keeper's instruments."""

    instruments: list[InstrumentModel]


class ReadingModel(Model):
    """One reading: °C, UV index or a share of 1.

    ``id`` is made where it was taken, so that sending it twice stores it once.
    """

    id: Id
    round_id: Id | None = None
    task: Annotated[str, Field(max_length=120)] | None = None
    revision: Annotated[int, Field(ge=1)]
    kind: Kind
    value: float
    at_m: PointDocument | None = None
    place: Annotated[str, Field(max_length=120)] = ""
    taken_at: Annotated[str, Field(description="ISO 8601 with its offset from UTC")]
    instrument_id: Id | None = None
    source: Source = "hand"
    note: Annotated[str, Field(max_length=1000)] = ""
    excluded: Annotated[bool, Field(description="stored, but not used for fitting")] = False

    @field_validator("taken_at")
    @classmethod
    def _moment(cls, text: str) -> str:
        try:
            moment = datetime.fromisoformat(text)
        except ValueError:
            moment = None
        if moment is None or moment.tzinfo is None:
            raise ValueError("must be a date and time with its offset, as 2026-03-14T16:20:00+01:00")
        return text

    @model_validator(mode="after")
    def _sensible(self) -> ReadingModel:
        low, high = SHOWABLE[self.kind]
        if not (math.isfinite(self.value) and low <= self.value <= high):
            unit = _UNITS.get(self.kind, "index" if self.kind.startswith("uvi") else "°C")
            raise ValueError(f"a reading of {self.kind} lies between {low:g} and {high:g} ({unit})")
        if self.at_m is None and needs_place(self.kind):
            raise ValueError(f"a reading of {self.kind} needs the place it was taken at")
        return self


class PutReadings(Model):
    """Readings to store; one by one, so that a wrong one does not hold up the others."""

    readings: Annotated[list[dict[str, object]], Field(min_length=1, max_length=200)]


class Refused(Model):
    """A reading that was not stored, and why."""

    id: str
    reason: str


class PutResult(Model):
    """Which readings are stored now, and which are not."""

    stored: list[str]
    refused: list[Refused]


class ExpectedModel(Model):
    """What an instrument should show: a central value and the middle 80 %."""

    value: float
    low: float
    high: float


class TaskModel(Model):
    """One reading to take: where, with what, why there, and what is predicted."""

    id: str
    kind: Kind
    place: str
    place_id: str
    at_m: PointDocument | None
    instrument: InstrumentKind
    why: str
    expected: ExpectedModel
    gain: float


class RoundModel(Model):
    """A round of readings for a plan, in the order to take them."""

    id: str
    plan_id: str
    revision: int
    tasks: list[TaskModel]
    started_at: str
    closed_at: str | None


class StartRound(Model):
    """How many readings at most; or one for each of some needs, by their checks."""

    most: Annotated[int, Field(ge=1, le=20)] = 8
    needs: Annotated[list[str], Field(max_length=100, default_factory=list)]


class CloseRound(Model):
    """Close a round, or open it again."""

    closed: bool


class StoredReading(Model):
    """A reading; ``due`` names what was changed since, so that it is out of date."""

    reading: ReadingModel
    due: str | None


class ReadingList(Model):
    """Rounds, the newest first, and readings in the order they were taken."""

    rounds: list[RoundModel]
    readings: list[StoredReading]
    revision: int


class AskedReading(Model):
    """A kind of reading at a place."""

    kind: Kind
    at_m: PointDocument | None = None
    instrument_id: Id | None = None


class PredictionsRequest(Model):
    """What readings are predicted to show in a plan."""

    document: PlanDocument
    readings: Annotated[list[AskedReading], Field(max_length=400)]


class PredictedReadingModel(Model):
    """What is predicted, or why nothing is."""

    expected: ExpectedModel | None
    why_not: str | None = None


class PredictionsResponse(Model):
    """One answer a reading asked for, in order."""

    predictions: list[PredictedReadingModel]


class FitReadingsRequest(Model):
    """A plan to fit to its stored readings."""

    document: PlanDocument


class FittedModel(Model):
    """A multiplier before and after: ``value`` in K where additive, else the logarithm of a factor."""

    id: str
    kind: str
    label: str
    additive: bool
    value: float
    factor: float
    sigma_before: float
    sigma_after: float
    settled: bool
    description: list[PhrasePart]


class BiasModel(Model):
    """How far an instrument seems to be off, in words; empty where the readings do not tell."""

    instrument: str
    value: float
    description: list[PhrasePart]


class ResidualModel(Model):
    """A reading against the model before and after the fit."""

    id: str
    before: float
    after: float
    deviations: float
    stray: bool
    cause: list[PhrasePart]


class FitReadingsResponse(Model):
    """What the readings say of the enclosure.

    ``measured`` is what is put into the plan document to apply it; ``next`` the readings that would
    tell most of what is still uncertain.
    """

    used: list[str]
    multipliers: list[FittedModel]
    biases: list[BiasModel]
    residuals: list[ResidualModel]
    misfit: float
    poor: bool
    next: list[TaskModel]
    measured: MeasuredDocument


class MeasuredRequest(Model):
    """A plan with what was measured in it."""

    document: PlanDocument


class StaleFitModel(Model):
    """A measured value that is out of date, and why."""

    id: str
    why: str


class MeasuredResponse(Model):
    """What was measured in words, and which values are out of date."""

    description: list[list[PhrasePart]]
    stale: list[StaleFitModel]
