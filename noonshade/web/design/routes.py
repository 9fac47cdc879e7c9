"""Designs: set-ups from an animal and a room, with progress."""

from __future__ import annotations

from flask import Blueprint

from noonshade.core.assessment.finding import Finding
from noonshade.core.design.brief import Brief
from noonshade.core.design.options import least_size, size_for_all
from noonshade.core.design.shells import Size, usual_kind
from noonshade.core.needs.species import Species
from noonshade.formats.document import Problem
from noonshade.formats.plan_document import locked_in
from noonshade.formats.plan_from_document import room_of
from noonshade.formats.plan_to_document import plan_document_of
from noonshade.formats.results.design import design_model
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.services.application import Services
from noonshade.services.design import DesignJob, TooManyDesigns
from noonshade.services.repair import Repairer
from noonshade.web.design.schemas import (
    DesignRequest,
    DesignStatus,
    FittingRequest,
    FittingResponse,
    RedesignRequest,
    RepairChange,
    RepairRequest,
    RepairResponse,
    SizeModel,
)
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation

design_api = Blueprint("design", __name__, url_prefix="/api")


@operation(
    design_api,
    "POST",
    "/designs/enclosure",
    request_model=FittingRequest,
    response=FittingResponse,
    problems=(404,),
)
def find_enclosure(services: Services, body: FittingRequest) -> FittingResponse:
    """The enclosure to build for a species at a stage of life, its usual kind, and the least it may be."""
    species = services.library.one_species(body.species_id)
    size = size_for_all(species, body.count, body.stage)
    least = least_size(species, body.count, body.stage)
    return FittingResponse(
        size=SizeModel(length_m=size.length_m, depth_m=size.depth_m, height_m=size.height_m),
        least=SizeModel(length_m=least.length_m, depth_m=least.depth_m, height_m=least.height_m),
        kind=usual_kind(species, body.stage, size),
        grade=species.enclosure.grade,
        source=species.enclosure.source,
    )


@operation(
    design_api,
    "POST",
    "/designs",
    request_model=DesignRequest,
    response=DesignStatus,
    status=202,
    problems=(404, 422, 503),
)
def start_design(services: Services, body: DesignRequest) -> DesignStatus:
    """Begin to look for set-ups; nothing is stored. Ask for the job until it has ended."""
    species = services.library.one_species(body.species_id)
    _known_stage(species, body.stage)
    brief = Brief(
        species,
        room_of(body.room),
        stage=body.stage,
        count=body.count,
        size=None if body.size is None else Size(**body.size.model_dump()),
        kind=body.kind,
        name=body.name,
        school=body.school,
        owned={o.lamp_id: o.count for o in body.owned},
        never=tuple(body.never),
        seed=body.seed,
        budget=body.budget,
    )
    return _begun(services, brief)


@operation(
    design_api,
    "POST",
    "/designs/again",
    request_model=RedesignRequest,
    response=DesignStatus,
    status=202,
    problems=(422, 503),
)
def start_redesign(services: Services, body: RedesignRequest) -> DesignStatus:
    """Begin to look for other lamps and heaters in an existing enclosure; nothing is stored."""
    plan = services.evaluation.plan(body.document)
    brief = Brief(
        plan.animal.species,
        plan.room,
        name=plan.name,
        owned={o.lamp_id: o.count for o in body.owned},
        never=tuple(body.never),
        given=plan,
        scope=body.scope,
        locked=locked_in(body.document),
        seed=body.seed,
        budget=body.budget,
    )
    return _begun(services, brief)


def _begun(services: Services, brief: Brief) -> DesignStatus:
    try:
        return _status(services.designs.start(brief))
    except TooManyDesigns as error:
        raise RequestProblem(
            503,
            "busy",
            "Another design is running",
            "One is computed at a time; stop it, or try again in half a minute.",
        ) from error


@operation(design_api, "GET", "/designs/<job_id>", response=DesignStatus, problems=(404,))
def read_design(services: Services, job_id: str) -> DesignStatus:
    """How far a design is, with the best so far; its set-ups once it has ended."""
    return _status(_found(services.designs.job(job_id)))


@operation(design_api, "POST", "/designs/<job_id>/stop", response=DesignStatus, problems=(404,))
def stop_design(services: Services, job_id: str) -> DesignStatus:
    """End a design with the best it has so far."""
    return _status(_found(services.designs.stop(job_id)))


@operation(
    design_api,
    "POST",
    "/repairs",
    request_model=RepairRequest,
    response=RepairResponse,
    problems=(422, 503),
    pool="heavy",
)
def repair_plan(services: Services, body: RepairRequest) -> RepairResponse:
    """The fewest changes that together fix a plan; the room and what is locked stay as they are."""
    library = services.library
    own = {key: species for key, (_, _, species) in library.own_species().items()}
    found = Repairer(library.own_lamps(), own).repair(body.document)
    return RepairResponse(
        changes=[RepairChange(sentence=phrase_parts(s), patch=list(p)) for s, p in found.changes],
        failing_before=len(found.before.failing),
        failing_after=len(found.after.failing),
        left=[phrase_parts(f.message if isinstance(f, Finding) else f.reason) for f in found.after.failing],
    )


def _found(job: DesignJob | None) -> DesignJob:
    if job is None:
        raise RequestProblem(
            404, "not-found", "There is no such design", "It has ended long ago, or never was."
        )
    return job


def _known_stage(species: Species, stage: str) -> None:
    known = [one.id for one in species.stages]
    if stage not in known:
        said = ", ".join(known)
        raise RequestProblem(
            422,
            "invalid",
            "The species has no such stage",
            f"{stage!r}; {species.common_name} has: {said}",
            [Problem("/stage", f"one of: {said}")],
        )


def _status(job: DesignJob) -> DesignStatus:
    progress = job.progress
    state = "running" if not job.done.is_set() else "failed" if job.result is None else "done"
    best = job.best if state == "running" else None
    return DesignStatus(
        id=job.id,
        state=state,  # type: ignore[arg-type]
        seconds=round(job.seconds, 1),
        screened=0 if progress is None else progress.screened,
        expected=0 if progress is None else progress.expected,
        best=None if best is None else plan_document_of(best),
        best_failing=None if progress is None else progress.failing,
        result=None if job.result is None else design_model(job.result, job.seconds),
        problem=job.error,
        problem_at=job.error_path,
    )
