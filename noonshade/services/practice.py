"""The practice bench: read an enclosure with hidden faults, name them, and see what they were."""

from __future__ import annotations

import math
from dataclasses import dataclass
from importlib.resources import files

from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Phrase
from noonshade.core.readings import (
    PredictedReading,
    Reading,
    Task,
    fit_readings,
    predict_readings,
    propose_round,
)
from noonshade.core.readings.fit_wording import describe_fit
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.instruments.meters import Hold
from noonshade.instruments.practice import PUZZLES, Puzzle, take_reading, thermostat_display, true_plan
from noonshade.instruments.true_enclosure import TrueEnclosure
from noonshade.services.application import Services
from noonshade.store.errors import NotFoundError

MOST_PLACES = 20


@dataclass(frozen=True, slots=True)
class Answer:
    """What an answer to a puzzle leads to: the true enclosure before and after the keeper's repair.

    ``fit`` says in words what a fit of the plan to the keeper's readings finds.
    """

    is_right: bool
    planned: Evaluation
    before: Evaluation
    after: Evaluation
    fit: tuple[Phrase, ...]


def find_puzzle(puzzle_id: str) -> Puzzle:
    """A puzzle by its id; NotFoundError names the known ones."""
    for puzzle in PUZZLES:
        if puzzle.id == puzzle_id:
            return puzzle
    known = ", ".join(p.id for p in PUZZLES)
    raise NotFoundError("puzzle", puzzle_id, f"{puzzle_id[:40]!r}; known: {known}")


def planned_enclosure(services: Services, puzzle: Puzzle) -> tuple[PlanDocument, Evaluation]:
    """The plan of a puzzle as shipped, whatever became of it in the demo room."""
    text = (files("noonshade.demo") / f"{puzzle.plan_id}.json").read_text(encoding="utf-8")
    document = parse_plan(text)
    return document, services.evaluation.evaluate(document)


def practice_places(services: Services, evaluation: Evaluation) -> tuple[Task, ...]:
    """Where readings may be taken, whether they tell much or not."""
    known = services.sensitivities.compute(evaluation)
    return propose_round(evaluation.plan, MOST_PLACES, known=known, least_gain=-1.0, evaluation=evaluation)


def read_practice(
    services: Services, puzzle: Puzzle, reading: Reading, number: int, hold: Hold
) -> tuple[float, PredictedReading]:
    """What an instrument of the bench shows in the true enclosure, and what the plan predicts.

    ``reading`` says kind and place; the same ``number`` reads the same again.
    """
    _, evaluation = planned_enclosure(services, puzzle)
    enclosure = _true_enclosure(services, puzzle)
    value = take_reading(enclosure, puzzle.id, reading.kind, reading.position_m, number, hold)
    sensitivities = services.sensitivities.compute(evaluation)
    return value, predict_readings(evaluation, sensitivities, (reading,))[0]


def read_thermostat(services: Services, puzzle: Puzzle, thermostat_id: str, hour: float) -> float | None:
    """What the display of a thermostat shows at an hour, °C; None while it is off.

    NotFoundError if the puzzle has no such thermostat.
    """
    try:
        value = thermostat_display(_true_enclosure(services, puzzle), puzzle.id, thermostat_id, hour)
    except KeyError as error:
        detail = f"{thermostat_id[:40]!r} is not in this puzzle"
        raise NotFoundError("thermostat", thermostat_id, detail) from error
    return None if math.isnan(value) else value


def answer_puzzle(
    services: Services, puzzle: Puzzle, causes: list[str], readings: tuple[Reading, ...]
) -> Answer:
    """Repair what the keeper names, and compare; NotFoundError if a cause is none of the puzzle's."""
    for cause in causes:
        if cause not in puzzle.choices:
            detail = f"{cause[:40]!r}; known: {', '.join(puzzle.choices)}"
            raise NotFoundError("cause", cause, detail)
    _, planned = planned_enclosure(services, puzzle)
    # A repair removes its own fault and no other.
    remaining = tuple(f for f in puzzle.faults if f not in causes)
    return Answer(
        is_right=set(causes) == set(puzzle.faults),
        planned=planned,
        before=_true_enclosure(services, puzzle).evaluation,
        after=TrueEnclosure(true_plan(planned.plan, remaining)).evaluation,
        fit=describe_fit(planned.plan, fit_readings(planned.plan, readings)) if readings else (),
    )


def _true_enclosure(services: Services, puzzle: Puzzle) -> TrueEnclosure:
    enclosures = services.true_enclosures
    if puzzle.id not in enclosures:
        _, planned = planned_enclosure(services, puzzle)
        enclosures[puzzle.id] = TrueEnclosure(true_plan(planned.plan, puzzle.faults))
    return enclosures[puzzle.id]
