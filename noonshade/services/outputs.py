"""What leaves the program of a stored plan: report, drawing and fields."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanGrid, PlanView, Section, SectionGrid, compute_fields
from noonshade.core.phrase import Units
from noonshade.formats.drawing import FieldName, above_svg, front_svg
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.services.application import Services

# Samples of a field along and across the drawing.
SAMPLES = (160, 90)


def stored_document(services: Services, plan_id: str, revision: int | None) -> tuple[PlanDocument, int]:
    """A plan at a revision, the newest if None, with its number; NotFoundError if there is none."""
    plan = services.plans.get(plan_id)
    if revision is None:
        return parse_plan(plan.document), plan.revision
    return parse_plan(services.plans.revision(plan_id, revision).document), revision


def evaluate_named(services: Services, document: PlanDocument) -> Evaluation:
    """The evaluation of a document with the document's name: a cached one may carry another."""
    result = services.evaluation.evaluate(document)
    return replace(result, plan=replace(result.plan, name=document.name))


def section_of(
    evaluation: Evaluation, view: Literal["front", "above"], at_m: float | None
) -> Section | PlanView:
    """Every field over a section at a depth, or over a plan view at a height, m; the usual one if None."""
    if view == "front":
        section = compute_fields(evaluation, SectionGrid(at_m, *SAMPLES)).section
        assert section is not None
        return section
    plan_view = compute_fields(evaluation, None, PlanGrid(at_m, *SAMPLES)).plan_view
    assert plan_view is not None
    return plan_view


def drawing_svg(
    services: Services,
    document: PlanDocument,
    view: Literal["front", "above"],
    at_m: float | None,
    field: FieldName,
    units: Units,
) -> str:
    """The drawing of a plan with a field over it, as SVG."""
    evaluation = evaluate_named(services, document)
    section = section_of(evaluation, view, at_m)
    if isinstance(section, Section):
        return front_svg(evaluation, section, field, units)
    return above_svg(evaluation, section, field, units)
