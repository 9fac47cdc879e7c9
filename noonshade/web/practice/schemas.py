"""Requests and responses of the practice bench."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from noonshade.core.readings.instrument import InstrumentKind, Kind
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument, PointDocument
from noonshade.formats.results.models import PhrasePart
from noonshade.web.readings.schemas import ExpectedModel, TaskModel


class ChoiceModel(Model):
    """A possible fault, and its repair."""

    id: str
    label: str
    fix: str


class PuzzleBrief(Model):
    """A puzzle in the list, the easiest first."""

    id: str
    title: str
    level: int
    story: str


class PuzzleList(Model):
    """All puzzles."""

    puzzles: list[PuzzleBrief]


class BenchInstrument(Model):
    """An instrument on the bench: last digit, ± of four readings in five (K or a share), no bias."""

    kind: InstrumentKind
    digit: float
    likely_off: float
    calibrated: str


class PuzzleModel(Model):
    """A puzzle: the plan the keeper has, what may be read, and what may be wrong."""

    id: str
    title: str
    level: int
    story: str
    count: Annotated[int, Field(description="how many things are wrong")]
    document: PlanDocument
    places: list[TaskModel]
    choices: list[ChoiceModel]
    instruments: list[BenchInstrument]


class ReadPractice(Model):
    """A reading to take; ``number`` distinguishes repeated ones, and the same number reads the same."""

    kind: Kind
    at_m: PointDocument | None = None
    shaded: bool = True
    distance_m: Annotated[float, Field(ge=0.02, le=2)] = 0.15
    emissivity: Annotated[float, Field(ge=0.1, le=1)] = 0.95
    number: Annotated[int, Field(ge=0, le=1000)] = 0


class PracticeReading(Model):
    """What the display shows, and what the plan predicts."""

    value: float
    expected: ExpectedModel


class AskDisplay(Model):
    """Which thermostat, and when."""

    thermostat_id: Annotated[str, Field(min_length=1, max_length=64)]
    hour: Annotated[float, Field(ge=0, le=24)]


class DisplayModel(Model):
    """What the display shows, °C; null while it is switched off."""

    value: float | None


class TakenModel(Model):
    """A reading that was taken."""

    kind: Kind
    at_m: PointDocument | None = None
    value: Annotated[float, Field(ge=-50, le=200)]


class AnswerPractice(Model):
    """What the keeper thinks is wrong, and the readings it is based on."""

    causes: Annotated[list[str], Field(min_length=1, max_length=10)]
    readings: Annotated[list[TakenModel], Field(max_length=100)]


class FixedFigure(Model):
    """One need: planned, before and after the keeper's repair; in the need's unit."""

    place_label: str
    quantity: str
    planned: float | None
    was: float | None
    now: float | None


class AnswerResult(Model):
    """Whether the answer is right, the faults and how they show, what changed, and what a fit finds."""

    right: bool
    causes: list[str]
    tells: list[str]
    figures: list[FixedFigure]
    fit: list[list[PhrasePart]]
