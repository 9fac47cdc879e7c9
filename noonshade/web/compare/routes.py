"""Revisions by name, and two plans side by side."""

from __future__ import annotations

from flask import Blueprint

from noonshade.core.comparison import compare_evaluations
from noonshade.core.evaluate import Evaluation
from noonshade.core.summary import summarize
from noonshade.formats.document_changes import document_changes
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.services.application import Services
from noonshade.web.compare.schemas import (
    ChangeModel,
    ComparedFigureModel,
    ComparedPlaceModel,
    CompareRequest,
    CompareResponse,
    RevisionName,
    SideModel,
)
from noonshade.web.http.routing import operation

compare_api = Blueprint("compare", __name__, url_prefix="/api")


@operation(
    compare_api,
    "PUT",
    "/plans/<plan_id>/revisions/<int:number>/name",
    request_model=RevisionName,
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def name_revision(services: Services, body: RevisionName, plan_id: str, number: int) -> None:
    """Give a revision a name to find it by, or take it off."""
    services.write(services.plans.name_revision, plan_id, number, body.name.strip())


@operation(
    compare_api, "POST", "/compare", request_model=CompareRequest, response=CompareResponse, pool="heavy"
)
def compare_plans(services: Services, body: CompareRequest) -> CompareResponse:
    """Differences by place of two plans, and what was changed between them."""
    before = services.evaluation.evaluate(body.before)
    after = services.evaluation.evaluate(body.after)
    found = compare_evaluations(before, after)
    return CompareResponse(
        before=_side(before),
        after=_side(after),
        places=[
            ComparedPlaceModel(
                id=p.id,
                label=p.label,
                only=p.only,
                figures=[
                    ComparedFigureModel(
                        figure=f.figure,
                        before=f.before,
                        after=f.after,
                        difference=f.difference,
                        status_before=f.status_before,
                        status_after=f.status_after,
                    )
                    for f in p.figures
                ],
            )
            for p in found.places
        ],
        findings_gone=[phrase_parts(f.message) for f in found.findings_gone],
        findings_new=[phrase_parts(f.message) for f in found.findings_new],
        changes=[
            ChangeModel(
                thing=c.thing, what=c.what, before=phrase_parts(c.before), after=phrase_parts(c.after)
            )
            for c in document_changes(body.before, body.after, services.library.catalog)
        ],
    )


def _side(evaluation: Evaluation) -> SideModel:
    return SideModel(
        fits=evaluation.fits,
        failing=len(evaluation.failing),
        summary=phrase_parts(summarize(evaluation)),
        connected_w=sum(f.power_w for f in evaluation.plan.fixtures),
        uv_free_share=evaluation.uv_free_share,
    )
