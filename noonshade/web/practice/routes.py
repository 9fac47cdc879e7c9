"""Practice bench: read a faulty enclosure, name the fault, repair it, and see what it was."""

from __future__ import annotations

import math

from flask import Blueprint

from noonshade.core.readings import Reading
from noonshade.core.uncertainty.multipliers import HALF_80
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.instruments.meters import Hold
from noonshade.instruments.practice import FAULTS, PUZZLES, bench_kit
from noonshade.services import practice
from noonshade.services.application import Services
from noonshade.web.http.routing import operation
from noonshade.web.practice.schemas import (
    AnswerPractice,
    AnswerResult,
    AskDisplay,
    BenchInstrument,
    ChoiceModel,
    DisplayModel,
    FixedFigure,
    PracticeReading,
    PuzzleBrief,
    PuzzleList,
    PuzzleModel,
    ReadPractice,
)
from noonshade.web.readings.serializers import expected_model, task_model

practice_api = Blueprint("practice", __name__, url_prefix="/api")


@operation(practice_api, "GET", "/practice", response=PuzzleList)
def list_puzzles() -> PuzzleList:
    """The puzzles of the practice bench."""
    return PuzzleList(
        puzzles=[PuzzleBrief(id=p.id, title=p.title, level=p.level, story=p.story) for p in PUZZLES]
    )


@operation(
    practice_api, "GET", "/practice/<puzzle_id>", response=PuzzleModel, problems=(404,), pool="heavy"
)
def get_puzzle(services: Services, puzzle_id: str) -> PuzzleModel:
    """One puzzle, without what is wrong."""
    puzzle = practice.find_puzzle(puzzle_id)
    document, evaluation = practice.planned_enclosure(services, puzzle)
    return PuzzleModel(
        id=puzzle.id,
        title=puzzle.title,
        level=puzzle.level,
        story=puzzle.story,
        count=len(puzzle.faults),
        document=document,
        places=[task_model(t) for t in practice.practice_places(services, evaluation)],
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
    pool="heavy",
)
def read_puzzle(services: Services, body: ReadPractice, puzzle_id: str) -> PracticeReading:
    """Take a reading in the true enclosure of a puzzle."""
    at = None if body.at_m is None else body.at_m.as_tuple()
    value, predicted = practice.read_practice(
        services,
        practice.find_puzzle(puzzle_id),
        Reading("x", body.kind, 0.0, at),
        body.number,
        Hold(body.shaded, body.distance_m, body.emissivity),
    )
    return PracticeReading(value=value, expected=expected_model(predicted))


@operation(
    practice_api,
    "POST",
    "/practice/<puzzle_id>/display",
    request_model=AskDisplay,
    response=DisplayModel,
    problems=(404,),
    pool="heavy",
)
def read_display(services: Services, body: AskDisplay, puzzle_id: str) -> DisplayModel:
    """Look at the display of a thermostat in the true enclosure of a puzzle, at an hour of its day."""
    puzzle = practice.find_puzzle(puzzle_id)
    return DisplayModel(value=practice.read_thermostat(services, puzzle, body.thermostat_id, body.hour))


@operation(
    practice_api,
    "POST",
    "/practice/<puzzle_id>/answer",
    request_model=AnswerPractice,
    response=AnswerResult,
    problems=(404,),
    pool="heavy",
)
def answer_puzzle(services: Services, body: AnswerPractice, puzzle_id: str) -> AnswerResult:
    """Say what is wrong and repair it; the answer explains what it was and how it shows."""
    puzzle = practice.find_puzzle(puzzle_id)
    readings = tuple(
        Reading(str(i), r.kind, r.value, None if r.at_m is None else r.at_m.as_tuple())
        for i, r in enumerate(body.readings)
    )
    answer = practice.answer_puzzle(services, puzzle, body.causes, readings)
    return AnswerResult(
        right=answer.is_right,
        causes=list(puzzle.faults),
        tells=[FAULTS[f].tell for f in puzzle.faults],
        figures=_figures(answer),
        fit=[phrase_parts(p) for p in answer.fit],
    )


def _figures(answer: practice.Answer) -> list[FixedFigure]:
    before, after = ({v.id: v.value for v in e.checks} for e in (answer.before, answer.after))
    return [
        FixedFigure(
            place_label=v.place_label,
            quantity=v.need.quantity,
            planned=v.value,
            was=before.get(v.id),
            now=after.get(v.id),
        )
        for v in answer.planned.checks
        if v.value is not None
    ]
