"""What to buy and what to do for a plan."""

from __future__ import annotations

from dataclasses import asdict

from flask import Blueprint

from noonshade.core.building import list_cautions, list_parts, running_cost, setup_steps
from noonshade.core.day import Day
from noonshade.core.errors import ConvergenceError
from noonshade.formats.plan_document import PlanDocument
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


@operation(building_api, "POST", "/building", request_model=BuildingRequest, response=BuildingResponse)
def find_building(services: Services, body: BuildingRequest) -> BuildingResponse:
    """Parts, running cost, set-up order and cautions of a plan."""
    plan = services.evaluation.plan(body.document)
    return BuildingResponse(
        parts=[
            PartModel(group=p.group, label=p.label, count=p.count, detail=phrase_parts(p.detail), why=p.why)
            for p in list_parts(plan)
        ],
        running=RunningModel.model_validate(asdict(running_cost(plan, day_of(services, body.document)))),
        steps=[
            StepModel(id=s.id, title=s.title, details=[phrase_parts(d) for d in s.details], why=s.why)
            for s in setup_steps(plan)
        ],
        cautions=[CautionModel(id=c.id, text=phrase_parts(c.text), ask=c.ask) for c in list_cautions(plan)],
    )


def day_of(services: Services, document: PlanDocument) -> Day | None:
    """The simulated day of a document, or None where none repeats."""
    try:
        return services.days.simulate(document, "now")[1]
    except ConvergenceError:
        return None
