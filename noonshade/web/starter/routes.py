"""Starting a plan: a fitting enclosure, a first layout, and applying fixes."""

from __future__ import annotations

from flask import Blueprint

from noonshade.core.errors import PlanError
from noonshade.core.starter import (
    Size,
    first_layout,
    fitting_kind,
    fitting_size,
    next_fix,
)
from noonshade.formats.document import Problem
from noonshade.formats.plan_from_document import room_of
from noonshade.formats.plan_to_document import plan_document_of
from noonshade.formats.results.evaluation import fix_model
from noonshade.services.application import Services
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.starter.schemas import (
    FittingRequest,
    FittingResponse,
    ImproveRequest,
    ImproveResponse,
    SizeModel,
    StarterRequest,
    StarterResponse,
)

starter_api = Blueprint("starter", __name__, url_prefix="/api")


@operation(
    starter_api,
    "POST",
    "/starter/enclosure",
    request_model=FittingRequest,
    response=FittingResponse,
    problems=(404,),
)
def find_enclosure(services: Services, body: FittingRequest) -> FittingResponse:
    """The least enclosure for a species at a stage of life, and its usual kind."""
    species = services.library.one_species(body.species_id)
    size = fitting_size(species, body.count, body.stage)
    return FittingResponse(
        size=SizeModel(length_m=size.length_m, depth_m=size.depth_m, height_m=size.height_m),
        kind=fitting_kind(species),
        grade=species.enclosure.grade,
        source=species.enclosure.source,
    )


@operation(
    starter_api,
    "POST",
    "/starter",
    request_model=StarterRequest,
    response=StarterResponse,
    problems=(404, 422),
)
def start_plan(services: Services, body: StarterRequest) -> StarterResponse:
    """A first layout from the animal's way of life; nothing is stored yet."""
    species = services.library.one_species(body.species_id)
    if body.stage not in {stage.id for stage in species.stages}:
        known = ", ".join(stage.id for stage in species.stages)
        raise RequestProblem(
            422,
            "invalid",
            "The species has no such stage",
            f"{body.stage!r}; {species.common_name} has: {known}",
            [Problem("/stage", f"one of: {known}")],
        )
    least = fitting_size(species, body.count, body.stage)
    size = least if body.size is None else Size(**body.size.model_dump())
    try:
        plan = first_layout(
            species,
            body.stage,
            size,
            body.kind or fitting_kind(species),
            room_of(body.room),
            services.library.stock(),
            body.name,
            body.count,
        )
    except PlanError as error:
        raise RequestProblem(
            422,
            "invalid",
            "The enclosure cannot be furnished",
            error.message,
            [Problem("/size", error.message)],
        ) from error
    return StarterResponse(document=plan_document_of(plan))


@operation(starter_api, "POST", "/improve", request_model=ImproveRequest, response=ImproveResponse)
def improve_plan(services: Services, body: ImproveRequest) -> ImproveResponse:
    """One change that fixes the worst that can be fixed without breaking anything."""
    now = services.evaluation.evaluate(body.document)
    fix = next_fix(now, services.library.stock())
    return ImproveResponse(
        failing=len(now.failing), fix=None if fix is None else fix_model(fix, body.document)
    )
