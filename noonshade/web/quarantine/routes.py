"""Quarantine of new animals: its steps with reasons, and the release into the room."""

from __future__ import annotations

from datetime import date

from flask import Blueprint

from noonshade.services import quarantine
from noonshade.services.application import Services
from noonshade.web.growth.schemas import ArrivalList, ArrivalModel, ArrivalRequest, ReleaseRequest
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.tasks.schemas import DayQuery
from noonshade.web.tasks.serializers import known_task

arrival_api = Blueprint("arrivals", __name__, url_prefix="/api")


@operation(
    arrival_api,
    "GET",
    "/plans/<plan_id>/arrivals",
    response=ArrivalList,
    query=DayQuery,
    problems=(404, 503),
)
def list_arrivals(services: Services, query: DayQuery, plan_id: str) -> ArrivalList:
    """Quarantines of an enclosure with the status of each step."""
    usual_days = quarantine.usual_days(services, plan_id)
    found = quarantine.list_quarantines(services, plan_id, date.fromisoformat(query.on))
    return ArrivalList(arrivals=[_model(q) for q in found], usual_days=usual_days)


@operation(
    arrival_api,
    "POST",
    "/plans/<plan_id>/arrivals",
    request_model=ArrivalRequest,
    response=ArrivalModel,
    status=201,
    problems=(404, 409, 503, 507),
)
def begin_arrival(services: Services, body: ArrivalRequest, plan_id: str) -> ArrivalModel:
    """Begin an animal's quarantine in an enclosure: its steps become tasks."""
    day = date.fromisoformat(body.on)
    try:
        return _model(quarantine.begin_quarantine(services, plan_id, body.animal_id, day, body.days))
    except quarantine.LivesElsewhereError as error:
        raise RequestProblem(422, "invalid-request", "A value cannot be used", str(error)) from error


@operation(
    arrival_api,
    "POST",
    "/animals/<animal_id>/release",
    request_model=ReleaseRequest,
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def release_animal(services: Services, body: ReleaseRequest, animal_id: str) -> None:
    """End an animal's quarantine: its enclosure becomes a home, and the logbook notes it."""
    quarantine.release_animal(services, animal_id, date.fromisoformat(body.on), body.text)


@operation(
    arrival_api,
    "DELETE",
    "/animals/<animal_id>/arrival",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def remove_arrival(services: Services, animal_id: str) -> None:
    """Take an animal's quarantine back: its steps go, its enclosure is a home again."""
    quarantine.remove_quarantine(services, animal_id)


def _model(found: quarantine.Quarantine) -> ArrivalModel:
    return ArrivalModel(
        animal_id=found.animal.id,
        name=found.animal.name,
        came_on=found.came_on,
        released=found.is_over,
        steps=[known_task(s) for s in found.steps],
    )
