"""What leaves the program: report, drawing and fields of a plan as it is stored."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import datetime
from importlib.resources import files
from typing import Annotated, Literal
from urllib.parse import urlencode

from flask import Blueprint, Response, g, url_for
from pydantic import Field

from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanGrid, PlanView, Section, SectionGrid, compute_fields
from noonshade.core.phrase import Units
from noonshade.formats.document import Model
from noonshade.formats.drawing import FieldName, above_svg, front_svg
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.printed import Edition, PrintError, pdf_of, png_of, report_html
from noonshade.formats.printed.pages import WIDEST_PX, font_face
from noonshade.formats.results_csv import field_csv
from noonshade.services.application import Services
from noonshade.web.building.routes import day_of
from noonshade.web.http import downloads
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation

output_api = Blueprint("output", __name__, url_prefix="/api")

FONT = files("noonshade.formats.printed") / "fonts" / "text.woff2"
_NX, _NZ = 160, 90


class ReportQuery(Model):
    """Which revision, the newest if none is named, and in which units."""

    revision: Annotated[int, Field(ge=1)] | None = None
    units: Units = "metric"


class SectionQuery(ReportQuery):
    """Where the section lies: at a depth seen from the front, or a height seen from above, m."""

    view: Literal["front", "above"] = "front"
    at: Annotated[float, Field(ge=0, le=3)] | None = None


class DrawingQuery(SectionQuery):
    """Which field lies over the drawing."""

    field: FieldName = "uvi"


class PictureQuery(DrawingQuery):
    """How wide the picture is, px."""

    width: Annotated[int, Field(ge=200, le=WIDEST_PX)] = 1600


@operation(
    output_api,
    "GET",
    "/plans/<plan_id>/report",
    response=None,
    query=ReportQuery,
    media="text/html",
    problems=(404, 503),
)
def show_report(services: Services, query: ReportQuery, plan_id: str) -> Response:
    """The report as a page to read and print."""
    other: Units = "imperial" if query.units == "metric" else "metric"
    kept = {} if query.revision is None else {"revision": query.revision}
    here = f"/api/plans/{plan_id}/report"
    links = {
        "plan": f"/plans/{plan_id}",
        "pdf": f"{here}.pdf?{urlencode({**kept, 'units': query.units})}",
        "units": f"{here}?{urlencode({**kept, 'units': other})}",
    }
    document, number = _document(services, plan_id, query.revision)
    html = _report(services, plan_id, document, number, query.units, links)
    return Response(html, content_type="text/html; charset=utf-8")


@operation(
    output_api,
    "GET",
    "/plans/<plan_id>/report.pdf",
    response=None,
    query=ReportQuery,
    media="application/pdf",
    problems=(404, 503),
)
def download_report(services: Services, query: ReportQuery, plan_id: str) -> Response:
    """The report as PDF."""
    document, number = _document(services, plan_id, query.revision)
    try:
        pdf = pdf_of(_report(services, plan_id, document, number, query.units, None))
    except PrintError as error:
        raise RequestProblem(503, "no-printing", "A PDF cannot be made here", str(error)) from error
    return downloads.as_file(pdf, "application/pdf", f"{_name(document, number)}.pdf")


@operation(
    output_api,
    "GET",
    "/plans/<plan_id>/drawing.svg",
    response=None,
    query=DrawingQuery,
    media="image/svg+xml",
    problems=(404, 503),
)
def download_svg(services: Services, query: DrawingQuery, plan_id: str) -> Response:
    """The drawing with a field over it, as SVG."""
    document, number = _document(services, plan_id, query.revision)
    name = f"{_name(document, number)}-{query.view}-{query.field}.svg"
    return downloads.as_file(_drawing(services, document, query), "image/svg+xml", name)


@operation(
    output_api,
    "GET",
    "/plans/<plan_id>/drawing.png",
    response=None,
    query=PictureQuery,
    media="image/png",
    problems=(404, 503),
)
def download_png(services: Services, query: PictureQuery, plan_id: str) -> Response:
    """The drawing with a field over it, as PNG."""
    document, number = _document(services, plan_id, query.revision)
    try:
        png = png_of(_drawing(services, document, query), query.width)
    except PrintError as error:
        raise RequestProblem(503, "no-printing", "A PNG cannot be made here", str(error)) from error
    return downloads.as_file(png, "image/png", f"{_name(document, number)}-{query.view}-{query.field}.png")


@operation(
    output_api,
    "GET",
    "/plans/<plan_id>/field.csv",
    response=None,
    query=SectionQuery,
    media="text/csv",
    problems=(404, 503),
)
def download_field(services: Services, query: SectionQuery, plan_id: str) -> Response:
    """Every quantity over a section, one row a sample, in SI units and °C."""
    document, number = _document(services, plan_id, query.revision)
    out = io.StringIO()
    field_csv(_section(_evaluated(services, document), query), out)
    name = f"{_name(document, number)}-{query.view}-field.csv"
    return downloads.as_file(out.getvalue(), "text/csv; charset=utf-8", name)


@output_api.get("/fonts/text.woff2")
def get_font() -> Response:
    """The font of reports."""
    response = Response(FONT.read_bytes(), content_type="font/woff2")
    response.headers["Cache-Control"] = "public, max-age=86400"
    return response


def _evaluated(services: Services, document: PlanDocument) -> Evaluation:
    """The evaluation of a document under its own name: one that is remembered may have had another."""
    result = services.evaluation.evaluate(document)
    return replace(result, plan=replace(result.plan, name=document.name))


def _document(services: Services, plan_id: str, revision: int | None) -> tuple[PlanDocument, int]:
    plan = services.plans.get(plan_id)
    if revision is None:
        return parse_plan(plan.document), plan.revision
    return parse_plan(services.plans.revision(plan_id, revision).document), revision


def _report(
    services: Services,
    plan_id: str,
    document: PlanDocument,
    number: int,
    units: Units,
    links: dict[str, str] | None,
) -> str:
    edition = Edition(
        revision_name=services.plans.revision(plan_id, number).name,
        made_at=datetime.now(),
        revision=number,
        units=units,
        links=links,
        nonce=g.nonce if links else "",
        font_face=font_face(url_for("output.get_font")) if links else "",
    )
    return report_html(_evaluated(services, document), day_of(services, document), edition)


def _section(evaluation: Evaluation, query: SectionQuery) -> Section | PlanView:
    if query.view == "front":
        found = compute_fields(evaluation, SectionGrid(query.at, _NX, _NZ)).section
        assert found is not None
        return found
    seen = compute_fields(evaluation, None, PlanGrid(query.at, _NX, _NZ)).plan_view
    assert seen is not None
    return seen


def _drawing(services: Services, document: PlanDocument, query: DrawingQuery) -> str:
    evaluation = _evaluated(services, document)
    section = _section(evaluation, query)
    if isinstance(section, Section):
        return front_svg(evaluation, section, query.field, query.units)
    return above_svg(evaluation, section, query.field, query.units)


def _name(document: PlanDocument, number: int) -> str:
    return f"{downloads.file_name(document.name, 'plan')}-r{number}"
