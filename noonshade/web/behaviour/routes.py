"""What the animal was seen to do, beside the climate predicted for that hour, and what it may mean."""

from __future__ import annotations

from typing import Annotated

from flask import Blueprint
from pydantic import AwareDatetime, Field, model_validator

from noonshade.core.day import Day
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Point
from noonshade.core.readings.behaviour import HintId, Sighting, SightingKind, find_hints, find_seat
from noonshade.formats.document import Id, Model
from noonshade.formats.plan_document import PointDocument, parse_plan
from noonshade.services.application import Services
from noonshade.store.sightings import SightingRecord
from noonshade.web.http.routing import operation

behaviour_api = Blueprint("behaviour", __name__, url_prefix="/api")


class SightingModel(Model):
    """One sighting: minutes basking in the hour, or where it sat; its id is made where it was seen."""

    id: Id
    kind: SightingKind
    at: AwareDatetime
    minutes: Annotated[float, Field(ge=0, le=60)] | None = None
    at_m: PointDocument | None = None
    note: Annotated[str, Field(max_length=500)] = ""

    @model_validator(mode="after")
    def _whole(self) -> SightingModel:
        if self.kind == "basking" and self.minutes is None:
            raise ValueError("minutes basking in the hour, 0 to 60, are needed")
        if self.kind == "seat" and self.at_m is None:
            raise ValueError("the place it sat at is needed")
        return self


class SeenModel(Model):
    """A sighting with the place it was at, and what is predicted there for that hour."""

    sighting: SightingModel
    place_label: str | None
    air_c: float | None
    surface_c: float | None
    uvi: float | None


class HintModel(Model):
    """What the sightings may mean."""

    id: HintId
    text: str


class BehaviourModel(Model):
    """Sightings, the soonest first, and what they may mean."""

    seen: list[SeenModel]
    hints: list[HintModel]


@operation(behaviour_api, "GET", "/plans/<plan_id>/behaviour", response=BehaviourModel, problems=(404, 503))
def get_behaviour(services: Services, plan_id: str) -> BehaviourModel:
    """Sightings of an enclosure with the predicted climate of their hour, and what they may mean."""
    plan = services.plans.get(plan_id)
    records = services.sightings.of_plan(plan_id)
    if not records:
        return BehaviourModel(seen=[], hints=[])
    evaluation, day = services.days.simulate(parse_plan(plan.document), "now")
    sightings = [_sighting(r) for r in records]
    return BehaviourModel(
        seen=[_seen(r, evaluation, day) for r in records],
        hints=[HintModel(id=h.id, text=h.text) for h in find_hints(sightings, evaluation.places)],
    )


@operation(
    behaviour_api,
    "PUT",
    "/plans/<plan_id>/behaviour",
    request_model=SightingModel,
    response=SightingModel,
    problems=(404, 503, 507),
)
def put_sighting(services: Services, body: SightingModel, plan_id: str) -> SightingModel:
    """Store a sighting; sending it again changes it."""
    services.plans.get(plan_id)
    at = body.at_m
    services.write(
        services.sightings.put,
        SightingRecord(
            body.id,
            plan_id,
            body.kind,
            body.at.isoformat(),
            body.minutes,
            None if at is None else at.x_m,
            None if at is None else at.y_m,
            None if at is None else at.z_m,
            body.note,
        ),
    )
    return body


@operation(
    behaviour_api,
    "DELETE",
    "/sightings/<sighting_id>",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def remove_sighting(services: Services, sighting_id: str) -> None:
    """Take a sighting out; storing it again brings it back."""
    services.write(services.sightings.remove, sighting_id)


def _point(record: SightingRecord) -> Point | None:
    if record.x_m is None or record.y_m is None or record.z_m is None:
        return None
    return (record.x_m, record.y_m, record.z_m)


def _model(record: SightingRecord) -> SightingModel:
    at = _point(record)
    return SightingModel.model_validate(
        {
            **{k: getattr(record, k) for k in ("id", "kind", "at", "minutes", "note")},
            "at_m": None if at is None else PointDocument(x_m=at[0], y_m=at[1], z_m=at[2]),
        }
    )


def _sighting(record: SightingRecord) -> Sighting:
    return Sighting(_model(record).kind, record.minutes, _point(record))


def _seen(record: SightingRecord, evaluation: Evaluation, day: Day) -> SeenModel:
    model, at = _model(record), _point(record)
    place = None if at is None else find_seat(evaluation.places, at)
    if record.kind == "basking":
        place = next((p for p in evaluation.places if p.kind == "basking"), None)
    if place is None:
        return SeenModel(sighting=model, place_label=None, air_c=None, surface_c=None, uvi=None)
    then = next(p for p in day.places if p.id == place.id)
    hour = model.at.hour + model.at.minute / 60.0
    i = round(hour * 3600.0 / day.trace.step_s) % then.air_c.size
    return SeenModel(
        sighting=model,
        place_label=place.label,
        air_c=float(then.air_c[i]),
        surface_c=None if then.surface_c is None else float(then.surface_c[i]),
        uvi=float(then.uvi[i]),
    )
