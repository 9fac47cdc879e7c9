"""Practice bench: read a faulty enclosure, name the fault, fix it, and see what it was."""

from __future__ import annotations

import math
from importlib.resources import files
from typing import Annotated

from flask import Blueprint
from pydantic import Field

from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Plan
from noonshade.core.readings import Reading, fit_readings, predict_readings, propose_round
from noonshade.core.readings.fit_wording import describe_fit
from noonshade.core.readings.instrument import InstrumentKind, Kind
from noonshade.core.uncertainty.multipliers import HALF_80
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument, PointDocument, parse_plan
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.formats.results.models import PhrasePart
from noonshade.instruments.meters import Hold
from noonshade.instruments.practice import (
    FAULTS,
    PUZZLES,
    Puzzle,
    bench_kit,
    take_reading,
    thermostat_display,
    true_plan,
)
from noonshade.instruments.true_enclosure import TrueEnclosure
from noonshade.services.application import Services
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.readings.schemas import ExpectedModel, TaskModel
from noonshade.web.readings.serializers import expected_model, task_model

practice_api = Blueprint("practice", __name__, url_prefix="/api")

MOST_PLACES = 20


class ChoiceModel(Model):
    """What may be wrong, and what would put it right."""

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
    """What the keeper thinks is wrong, and the readings it rests on."""

    causes: Annotated[list[str], Field(min_length=1, max_length=10)]
    readings: Annotated[list[TakenModel], Field(max_length=100)]


class FixedFigure(Model):
    """One need: planned, as the enclosure was, and as it is after the keeper's fix; in the need's unit."""

    place_label: str
    quantity: str
    planned: float | None
    was: float | None
    now: float | None


class AnswerResult(Model):
    """Whether it was found out, what it was and how it shows, what the fix did, and what a fit says."""

    right: bool
    causes: list[str]
    tells: list[str]
    figures: list[FixedFigure]
    fit: list[list[PhrasePart]]


@operation(practice_api, "GET", "/practice", response=PuzzleList)
def list_puzzles() -> PuzzleList:
    """The puzzles of the practice bench."""
    return PuzzleList(
        puzzles=[PuzzleBrief(id=p.id, title=p.title, level=p.level, story=p.story) for p in PUZZLES]
    )


@operation(practice_api, "GET", "/practice/<puzzle_id>", response=PuzzleModel, problems=(404,))
def get_puzzle(services: Services, puzzle_id: str) -> PuzzleModel:
    """One puzzle, without what is wrong."""
    puzzle = _puzzle(puzzle_id)
    document, result = _planned(services, puzzle)
    known = services.sensitivities.compute(result)
    places = propose_round(result.plan, MOST_PLACES, known=known, least_gain=-1.0, evaluation=result)
    return PuzzleModel(
        id=puzzle.id,
        title=puzzle.title,
        level=puzzle.level,
        story=puzzle.story,
        count=len(puzzle.faults),
        document=document,
        places=[task_model(t) for t in places],
        choices=[ChoiceModel(id=f, label=FAULTS[f].label, fix=FAULTS[f].fix) for f in puzzle.choices],
        instruments=[
            BenchInstrument(
                kind=s.kind,
                digit=s.accuracy.digit,
                likely_off=HALF_80 * math.hypot(s.accuracy.bias, s.accuracy.noise),
                calibrated=s.calibrated,
            )
            for s in bench_kit(puzzle.id).sheets
        ],
    )


@operation(
    practice_api,
    "POST",
    "/practice/<puzzle_id>/read",
    request_model=ReadPractice,
    response=PracticeReading,
    problems=(404,),
)
def read_puzzle(services: Services, body: ReadPractice, puzzle_id: str) -> PracticeReading:
    """Take a reading in the true enclosure of a puzzle."""
    puzzle = _puzzle(puzzle_id)
    _, result = _planned(services, puzzle)
    at = None if body.at_m is None else body.at_m.as_tuple()
    hold = Hold(body.shaded, body.distance_m, body.emissivity)
    value = take_reading(_enclosure(services, puzzle), puzzle.id, body.kind, at, body.number, hold)
    asked = Reading("x", body.kind, 0.0, at)
    one = predict_readings(result, services.sensitivities.compute(result), (asked,))[0]
    return PracticeReading(value=value, expected=expected_model(one))


@operation(
    practice_api,
    "POST",
    "/practice/<puzzle_id>/display",
    request_model=AskDisplay,
    response=DisplayModel,
    problems=(404,),
)
def read_display(services: Services, body: AskDisplay, puzzle_id: str) -> DisplayModel:
    """Look at the display of a thermostat in the true enclosure of a puzzle, at an hour of its day."""
    puzzle = _puzzle(puzzle_id)
    try:
        value = thermostat_display(_enclosure(services, puzzle), puzzle.id, body.thermostat_id, body.hour)
    except KeyError as error:
        detail = f"{body.thermostat_id[:40]!r} is in no plan of this puzzle"
        raise RequestProblem(404, "not-found", "There is no such thermostat", detail) from error
    return DisplayModel(value=None if math.isnan(value) else value)


@operation(
    practice_api,
    "POST",
    "/practice/<puzzle_id>/answer",
    request_model=AnswerPractice,
    response=AnswerResult,
    problems=(404,),
)
def answer_puzzle(services: Services, body: AnswerPractice, puzzle_id: str) -> AnswerResult:
    """Say what is wrong and fix it; the answer explains what it was and how it shows."""
    puzzle = _puzzle(puzzle_id)
    unknown = [c for c in body.causes if c not in puzzle.choices]
    if unknown:
        detail = f"{unknown[0][:40]!r}; known: {', '.join(puzzle.choices)}"
        raise RequestProblem(404, "not-found", "There is no such cause here", detail)
    _, result = _planned(services, puzzle)
    # A fix takes out what it is for; what was not there it leaves as it is.
    left = tuple(f for f in puzzle.faults if f not in body.causes)
    was, now = _enclosure(services, puzzle).evaluation, _evaluated(true_plan(result.plan, left))
    readings = tuple(
        Reading(str(i), r.kind, r.value, None if r.at_m is None else r.at_m.as_tuple())
        for i, r in enumerate(body.readings)
    )
    found = describe_fit(result.plan, fit_readings(result.plan, readings)) if readings else ()
    return AnswerResult(
        right=set(body.causes) == set(puzzle.faults),
        causes=list(puzzle.faults),
        tells=[FAULTS[f].tell for f in puzzle.faults],
        figures=_figures(result, was, now),
        fit=[phrase_parts(p) for p in found],
    )


def _figures(planned: Evaluation, was: Evaluation, now: Evaluation) -> list[FixedFigure]:
    values = [{v.id: v.value for v in e.checks} for e in (planned, was, now)]
    return [
        FixedFigure(
            place_label=v.place_label,
            quantity=v.need.quantity,
            planned=values[0].get(v.id),
            was=values[1].get(v.id),
            now=values[2].get(v.id),
        )
        for v in planned.checks
        if v.value is not None
    ]


def _puzzle(puzzle_id: str) -> Puzzle:
    for puzzle in PUZZLES:
        if puzzle.id == puzzle_id:
            return puzzle
    known = ", ".join(p.id for p in PUZZLES)
    raise RequestProblem(404, "not-found", "There is no such puzzle", f"{puzzle_id[:40]!r}; known: {known}")


def _planned(services: Services, puzzle: Puzzle) -> tuple[PlanDocument, Evaluation]:
    """The plan as shipped, whatever became of the demo room's own."""
    text = (files("noonshade.demo") / f"{puzzle.plan_id}.json").read_text(encoding="utf-8")
    document = parse_plan(text)
    return document, services.evaluation.evaluate(document)


def _enclosure(services: Services, puzzle: Puzzle) -> TrueEnclosure:
    enclosures = services.true_enclosures
    if puzzle.id not in enclosures:
        _, result = _planned(services, puzzle)
        enclosures[puzzle.id] = TrueEnclosure(true_plan(result.plan, puzzle.faults))
    return enclosures[puzzle.id]


def _evaluated(plan: Plan) -> Evaluation:
    return TrueEnclosure(plan).evaluation
