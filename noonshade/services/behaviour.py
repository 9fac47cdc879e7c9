"""What the animal was seen to do, beside the climate predicted for that hour, and what it may mean."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from noonshade.core.day import Day
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Point
from noonshade.core.readings.behaviour import Hint, Sighting, find_hints, find_seat
from noonshade.formats.plan_document import parse_plan
from noonshade.services.application import Services
from noonshade.store.sightings import SightingRecord


@dataclass(frozen=True, slots=True)
class PredictedClimate:
    """Where a sighting was, and what is predicted there for its hour: °C, and UV index at the back."""

    place_label: str
    air_c: float
    surface_c: float | None
    uvi: float


@dataclass(frozen=True, slots=True)
class Behaviour:
    """Sightings of an enclosure, earliest first, each with its climate if its place is known; and hints."""

    sightings: tuple[tuple[SightingRecord, PredictedClimate | None], ...]
    hints: tuple[Hint, ...]


def behaviour(services: Services, plan_id: str) -> Behaviour:
    """Sightings with the predicted climate of their hour; NotFoundError if there is no such plan."""
    plan = services.plans.get(plan_id)
    records = services.sightings.of_plan(plan_id)
    if not records:
        return Behaviour((), ())
    evaluation, day = services.days.simulate(parse_plan(plan.document), "now")
    sightings = [Sighting(r.kind, r.minutes, position_of(r)) for r in records]
    return Behaviour(
        tuple((r, _predicted(r, evaluation, day)) for r in records),
        tuple(find_hints(sightings, evaluation.places)),
    )


def position_of(record: SightingRecord) -> Point | None:
    """Where a sighting was, m; None if it has no place."""
    if record.x_m is None or record.y_m is None or record.z_m is None:
        return None
    return (record.x_m, record.y_m, record.z_m)


def _predicted(record: SightingRecord, evaluation: Evaluation, day: Day) -> PredictedClimate | None:
    at = position_of(record)
    place = None if at is None else find_seat(evaluation.places, at)
    if record.kind == "basking":
        place = next((p for p in evaluation.places if p.kind == "basking"), None)
    if place is None:
        return None
    then = next(p for p in day.places if p.id == place.id)
    seen = datetime.fromisoformat(record.at)
    hour = seen.hour + seen.minute / 60.0
    i = round(hour * 3600.0 / day.trace.step_s) % then.air_c.size
    return PredictedClimate(
        place.label,
        float(then.air_c[i]),
        None if then.surface_c is None else float(then.surface_c[i]),
        float(then.uvi[i]),
    )
