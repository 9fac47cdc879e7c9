"""What to buy and what to do for a plan."""

from __future__ import annotations

from dataclasses import asdict

from flask import Blueprint

from noonshade.core.building import list_cautions, list_parts, running_cost, setup_steps
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.services.application import Services
from noonshade.web.building.schemas import (
    BuildingRequest,
    BuildingResponse,
    CautionModel,
    PartModel,
    RunningModel,
    StepModel,
)
from noonshade.web.http.routing import operation

building_api = Blueprint("building", __name__, url_prefix="/api")


@operation(
    building_api,
    "POST",
    "/building",
    request_model=BuildingRequest,
    response=BuildingResponse,
    pool="heavy",
)
def find_building(services: Services, body: BuildingRequest) -> BuildingResponse:
    """Parts, running cost, set-up order and cautions of a plan."""
    plan = services.evaluation.plan(body.document)
    running = running_cost(plan, services.days.present_day(body.document))
    return BuildingResponse(
        parts=[
            PartModel(group=p.group, label=p.label, count=p.count, detail=phrase_parts(p.detail), why=p.why)
            for p in list_parts(plan)
        ],
        running=RunningModel.model_validate(asdict(running)),
        steps=[
            StepModel(id=s.id, title=s.title, details=[phrase_parts(d) for d in s.details], why=s.why)
            for s in setup_steps(plan)
        ],
        cautions=[CautionModel(id=c.id, text=phrase_parts(c.text), ask=c.ask) for c in list_cautions(plan)],
    )
