"""The same needs in every situation: over the day, in the seasons, with old lamps, at the next stage."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from noonshade.core.assessment.checks import Check, Status, status_of
from noonshade.core.day import Day, DayPlace, in_season, simulate_day
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.light.ageing import with_lamp_age
from noonshade.core.needs.species import Need
from noonshade.core.plan import Plan, Season

Floats = NDArray[np.float64]
Situation = Literal["now", "day", "winter", "summer", "worn", "grown"]
Met = Literal["always", "sometimes", "never", "unknown"]
# A need counts as met over the day if it is met in this share of its hours: lamps take time to
# warm. Estimate.
MOST_OF_DAY = 0.75
# Hours after dawn in which the enclosure is still warming, not part of the assessment of the day. Estimate.
WARMING_H = 1.5


@dataclass(frozen=True, slots=True)
class Cell:
    """One need in one situation: its figure, and over the day the share of hours in which it is met."""

    situation: Situation
    status: Status
    value: float | None
    share: float | None = None

    @property
    def met(self) -> bool:
        """Whether it is met, over the day in most of the hours it counts in."""
        return self.status == "ok" if self.share is None else self.share >= MOST_OF_DAY


@dataclass(frozen=True, slots=True)
class Row:
    """One need at one place in every situation."""

    check: Check
    cells: tuple[Cell, ...]

    @property
    def met(self) -> Met:
        """Whether the need is met always, sometimes or never."""
        certain = [c for c in self.cells if c.status != "unknown"]
        if not certain:
            return "unknown"
        met = [c.met for c in certain]
        return "always" if all(met) else "sometimes" if any(met) else "never"


@dataclass(frozen=True, slots=True)
class ScenarioTable:
    """Every need of a plan in every situation that could be looked at, with why others could not."""

    situations: tuple[Situation, ...]
    rows: tuple[Row, ...]
    not_applicable: tuple[tuple[Situation, str], ...]


def variants(plan: Plan) -> tuple[dict[Situation, Plan], dict[Situation, str]]:
    """The plan as it is in each steady situation, and why some have none.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[dict[Situation, Plan], dict[Situation, str]]
        Plans by situation, and reasons by the situations without a plan.
    """
    found: dict[Situation, Plan] = {"now": plan}
    missing: dict[Situation, str] = {}
    seasons: tuple[Season, ...] = ("winter", "summer")
    for season in seasons:
        if getattr(plan.room, season) is None:
            missing[season] = f"The plan does not say what the room is like in {season}."
        else:
            found[season] = in_season(plan, season)
    if any(f.lamp.ageing is not None and f.lamp.uv is not None for f in plan.fixtures):
        found["worn"] = with_lamp_age(plan, "worn")
    if plan.animal.stage != "adult":
        adult = plan.animal.species.stage("adult")
        grown = replace(
            plan.animal,
            stage="adult",
            body_length_m=adult.body_length_m,
            back_height_m=adult.back_height_m,
        )
        found["grown"] = replace(plan, animal=grown)
    else:
        missing["grown"] = "The animal is adult."
    return found, missing


def evaluate_scenarios(
    evaluation: Evaluation, day: Day | None = None, progress: Callable[[int], None] | None = None
) -> ScenarioTable:
    """Assess every need in every situation.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan as it is.
    day : Day, optional
        Its simulated day, made if not given.
    progress : callable, optional
        Called with the number of situations done.

    Returns
    -------
    ScenarioTable
        A row for each need with a cell for each situation.
    """
    plans, missing = variants(evaluation.plan)
    answers: dict[Situation, dict[str, Cell]] = {}
    done = 0

    def step() -> None:
        nonlocal done
        done += 1
        if progress is not None:
            progress(done)

    answers["now"] = _cells("now", evaluation.checks)
    step()
    try:
        day = day if day is not None else simulate_day(evaluation)
        answers["day"] = _over_day(day, evaluation)
    except ConvergenceError as error:
        missing["day"] = str(error)
    step()
    for situation, plan in plans.items():
        if situation == "now":
            continue
        try:
            answers[situation] = _cells(situation, evaluate(plan).checks)
        except ConvergenceError as error:
            missing[situation] = str(error)
        step()
    order: tuple[Situation, ...] = ("now", "day", "winter", "summer", "worn", "grown")
    shown = tuple(s for s in order if s in answers)
    rows = tuple(
        Row(v, tuple(answers[s].get(v.id, Cell(s, "unknown", None)) for s in shown))
        for v in evaluation.checks
    )
    return ScenarioTable(shown, rows, tuple((s, missing[s]) for s in order if s in missing))


def _cells(situation: Situation, checks: tuple[Check, ...]) -> dict[str, Cell]:
    return {v.id: Cell(situation, v.status, v.value) for v in checks}


def _over_day(day: Day, evaluation: Evaluation) -> dict[str, Cell]:
    """Each need over the hours it is about: the lit day once warm, or the night."""
    plan, hours = day.plan, day.trace.hour % 24.0
    lit = (hours > plan.dawn + WARMING_H) & (hours <= plan.dusk)
    dark = ~((hours > plan.dawn) & (hours <= plan.dusk))
    places = {p.id: p for p in day.places}
    found = {}
    for check in evaluation.checks:
        need = check.need
        when = dark if need.place == "night" else lit
        course = _course(day, check, places)
        if course is None or not np.any(when):
            found[check.id] = Cell("day", "unknown", None)
            continue
        values = course[when]
        if need.place == "night" and need.quantity == "air_temperature":
            # A night is assessed by what it falls to.
            value = float(np.min(values))
        else:
            value = float(np.median(values))
        share = float(np.mean([status_of(need, float(v)) == "ok" for v in values]))
        found[check.id] = Cell("day", status_of(need, value), value, share)
    return found


def _course(day: Day, check: Check, places: dict[str, DayPlace]) -> Floats | None:
    """A check's figure over the day (n,), None where it is not followed."""
    need: Need = check.need
    if need.place == "night":
        ends = [p for p in day.places if p.kind in ("warm_end", "cool_end")]
        attribute = "probe_c" if need.quantity == "air_temperature" else "relative_humidity"
        return np.asarray(np.mean([getattr(p, attribute) for p in ends], axis=0)) if ends else None
    place = places.get(check.place_id)
    if place is None:
        return None
    if need.quantity == "surface_temperature":
        return place.surface_c
    if need.quantity == "air_temperature":
        return place.probe_c
    if need.quantity == "humidity":
        return place.relative_humidity
    if need.quantity == "uvi" and check.value is not None:
        # The day follows UV facing the light; the same lamps give the level figure in proportion.
        steady = float(np.max(place.uvi, initial=0.0))
        return place.uvi * (check.value / steady) if steady > 0 else place.uvi
    return None
