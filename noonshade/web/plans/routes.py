"""The operations of the interface."""

from __future__ import annotations

import json

from flask import Blueprint, Response, current_app

from noonshade import __version__
from noonshade.core.fields import PlanGrid, SectionGrid, compute_fields
from noonshade.formats.lamp_document import lamp_schema
from noonshade.formats.plan_document import (
    PlanDocument,
    parse_plan,
    plan_schema,
)
from noonshade.formats.results.evaluation import evaluation_model
from noonshade.formats.results.models import EvaluateResponse
from noonshade.formats.species_document import species_schema
from noonshade.services import plans
from noonshade.services.application import Services
from noonshade.services.sample import open_sample, sample_document
from noonshade.services.workers import Priority
from noonshade.store.errors import NotFoundError
from noonshade.store.plans import SAMPLE_ID, PlanRecord
from noonshade.web.catalog.schemas import CatalogModel
from noonshade.web.catalog.serializers import catalog_model
from noonshade.web.evaluation.schemas import EvaluateRequest
from noonshade.web.http import downloads
from noonshade.web.http.openapi import openapi
from noonshade.web.http.routing import operation
from noonshade.web.plans.schemas import (
    CreatePlan,
    Health,
    PlanList,
    PlanSummary,
    Revision,
    RevisionList,
    RevisionSummary,
    SampleModel,
    SavePlan,
)

api = Blueprint("api", __name__, url_prefix="/api")


def _summary(record: PlanRecord) -> PlanSummary:
    return PlanSummary(
        id=record.id,
        name=record.name,
        revision=record.revision,
        created_at=record.created_at,
        updated_at=record.updated_at,
        document=plans.document_of(record),
    )


@operation(api, "GET", "/health", response=Health)
def get_health(services: Services) -> Health:
    """Whether the program runs, which version, and whether it may write its data."""
    demo = bool(current_app.config["DEMO"])
    return Health(status="ok", version=__version__, demo=demo, reads_only=services.database.reads_only)


@operation(api, "GET", "/catalog", response=CatalogModel)
def get_catalog(services: Services) -> CatalogModel:
    """All reference data with your own lamps and species: lamps, screens, materials, species."""
    library = services.library
    kinds = {key: species for key, (_, _, species) in library.own_species().items()}
    return catalog_model(library.catalog, library.own_lamps(), kinds)


@operation(api, "GET", "/plans", response=PlanList, problems=(503,))
def list_plans(services: Services) -> PlanList:
    """All plans with their newest documents."""
    return PlanList(plans=[_summary(r) for r in services.plans.all()])


@operation(api, "GET", "/archive", response=PlanList, problems=(503,))
def list_archive(services: Services) -> PlanList:
    """Plans that were archived, the last first; ``bring-back`` restores one."""
    return PlanList(plans=[_summary(r) for r in services.plans.archived()])


@operation(
    api,
    "POST",
    "/plans",
    request_model=CreatePlan,
    response=PlanSummary,
    status=201,
    problems=(503, 507),
)
def create_plan(services: Services, body: CreatePlan) -> PlanSummary:
    """Store a new or imported plan."""
    return _summary(plans.create_plan(services, body.document, body.summary))


@operation(api, "GET", "/sample", response=SampleModel, problems=(503,))
def get_sample() -> SampleModel:
    """The sample enclosure as it ships, to reset it to."""
    return SampleModel(id=SAMPLE_ID, document=sample_document())


@operation(api, "POST", "/sample", response=PlanSummary, problems=(503, 507))
def open_sample_plan(services: Services) -> PlanSummary:
    """The sample enclosure with the changes made to it; it is in no list of plans."""
    return _summary(open_sample(services))


@operation(api, "GET", "/plans/<plan_id>", response=PlanSummary, problems=(404, 503))
def get_plan(services: Services, plan_id: str) -> PlanSummary:
    """One plan with its newest document."""
    return _summary(services.plans.get(plan_id))


@operation(
    api,
    "PUT",
    "/plans/<plan_id>",
    request_model=SavePlan,
    response=PlanSummary,
    problems=(404, 409, 503, 507),
)
def save_plan(services: Services, body: SavePlan, plan_id: str) -> PlanSummary:
    """Store a new revision; refused with 409 if it is not based on the newest one."""
    record = plans.save_plan(services, plan_id, body.base_revision, body.document, body.summary)
    return _summary(record)


@operation(api, "DELETE", "/plans/<plan_id>", response=None, status=204, problems=(404, 503, 507))
def remove_plan(services: Services, plan_id: str) -> None:
    """Archive a plan: it leaves the list and can be brought back."""
    services.write(services.plans.remove, plan_id)


@operation(api, "POST", "/plans/<plan_id>/bring-back", response=PlanSummary, problems=(404, 503, 507))
def bring_back_plan(services: Services, plan_id: str) -> PlanSummary:
    """Put a removed plan back on the list."""
    return _summary(services.write(services.plans.bring_back, plan_id))


@operation(api, "GET", "/plans/<plan_id>/revisions", response=RevisionList, problems=(404, 503))
def list_revisions(services: Services, plan_id: str) -> RevisionList:
    """All revisions of a plan, newest first."""
    head = services.plans.get(plan_id).revision
    found = services.plans.revisions(plan_id)
    return RevisionList(
        plan_id=plan_id,
        head=head,
        revisions=[
            RevisionSummary(
                number=r.number,
                base=r.base,
                kind="refused" if r.kind == "refused" else "saved",
                summary=r.summary,
                name=r.name,
                created_at=r.created_at,
            )
            for r in found
        ],
    )


@operation(api, "GET", "/plans/<plan_id>/revisions/<int:number>", response=Revision, problems=(404, 503))
def get_revision(services: Services, plan_id: str, number: int) -> Revision:
    """One revision with its document."""
    r = services.plans.revision(plan_id, number)
    return Revision(
        number=r.number,
        base=r.base,
        kind="refused" if r.kind == "refused" else "saved",
        summary=r.summary,
        name=r.name,
        created_at=r.created_at,
        document=parse_plan(r.document),
    )


@operation(api, "GET", "/plans/<plan_id>/export", response=PlanDocument, problems=(404, 503))
def export_plan(services: Services, plan_id: str) -> Response:
    """The newest document as a file."""
    record = services.plans.get(plan_id)
    return downloads.json_file(record.document, record.name, "plan", "noonshade")


@operation(
    api,
    "POST",
    "/evaluate",
    request_model=EvaluateRequest,
    response=EvaluateResponse,
    pool="quick",
    priority=Priority.SHOWN,
)
def evaluate_plan(services: Services, body: EvaluateRequest) -> EvaluateResponse:
    """Evaluate a plan: figures, checks, findings, and fields for drawing if wanted."""
    result = services.evaluation.evaluate(body.document, body.lamp_age)
    section, plan_view = body.section, body.plan_view
    if section is None and plan_view is None:
        return evaluation_model(result, None, None, body.patch_above_c, body.document.pins)
    views = compute_fields(
        result,
        None if section is None else SectionGrid(section.y_m, section.nx, section.nz),
        None if plan_view is None else PlanGrid(plan_view.z_m, plan_view.nx, plan_view.ny),
    )
    return evaluation_model(result, views.section, views.plan_view, body.patch_above_c, body.document.pins)


@api.get("/openapi.json")
def get_openapi() -> Response:
    """This interface as an OpenAPI document."""
    return Response(json.dumps(openapi()), content_type="application/json")


SCHEMAS = {"plan-2": plan_schema, "lamp-1": lamp_schema, "species-2": species_schema}


@api.get("/schemas/<name>.json")
def get_schema(name: str) -> Response:
    """JSON Schema of the plan, lamp or species document."""
    if name not in SCHEMAS:
        raise NotFoundError("schema", name, f"{name[:40]!r}; known: {', '.join(SCHEMAS)}")
    return Response(json.dumps(SCHEMAS[name](), indent=2), content_type="application/schema+json")
