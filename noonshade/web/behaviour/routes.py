"""Sightings of the animal: listing, storing and removing them."""

from __future__ import annotations

from flask import Blueprint

from noonshade.formats.plan_document import PointDocument
from noonshade.services.application import Services
from noonshade.services.behaviour import PredictedClimate, behaviour, position_of
from noonshade.store.sightings import SightingRecord
from noonshade.web.behaviour.schemas import BehaviourModel, HintModel, SeenModel, SightingModel
from noonshade.web.http.routing import operation

behaviour_api = Blueprint("behaviour", __name__, url_prefix="/api")


@operation(
    behaviour_api,
    "GET",
    "/plans/<plan_id>/behaviour",
    response=BehaviourModel,
    problems=(404, 503),
    pool="heavy",
)
def get_behaviour(services: Services, plan_id: str) -> BehaviourModel:
    """Sightings of an enclosure with the predicted climate of their hour, and what they may mean."""
    found = behaviour(services, plan_id)
    return BehaviourModel(
        seen=[_seen(record, climate) for record, climate in found.sightings],
        hints=[HintModel(id=h.id, text=h.text) for h in found.hints],
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


def _seen(record: SightingRecord, climate: PredictedClimate | None) -> SeenModel:
    at = position_of(record)
    sighting = SightingModel.model_validate(
        {
            **{k: getattr(record, k) for k in ("id", "kind", "at", "minutes", "note")},
            "at_m": None if at is None else PointDocument(x_m=at[0], y_m=at[1], z_m=at[2]),
        }
    )
    if climate is None:
        return SeenModel(sighting=sighting, place_label=None, air_c=None, surface_c=None, uvi=None)
    return SeenModel(
        sighting=sighting,
        place_label=climate.place_label,
        air_c=climate.air_c,
        surface_c=climate.surface_c,
        uvi=climate.uvi,
    )
