"""The timeline of an enclosure: changes of the plan, readings, tests and the logbook."""

from __future__ import annotations

from dataclasses import asdict

from flask import Blueprint

from noonshade.services.application import Services
from noonshade.services.timeline import timeline
from noonshade.web.http.routing import operation
from noonshade.web.timeline.schemas import EventModel, TimelineModel

timeline_api = Blueprint("timeline", __name__, url_prefix="/api")


@operation(timeline_api, "GET", "/plans/<plan_id>/timeline", response=TimelineModel, problems=(404, 503))
def get_timeline(services: Services, plan_id: str) -> TimelineModel:
    """What happened to an enclosure: changes, readings, tests and logbook entries."""
    events = timeline(services, plan_id)
    return TimelineModel(events=[EventModel.model_validate(asdict(e)) for e in events])
