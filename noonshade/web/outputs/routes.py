"""What leaves the program: report, drawing and fields of a plan as it is stored."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import datetime
from importlib.resources import files
from urllib.parse import urlencode

from flask import Blueprint, Response, g, request, url_for

from noonshade.core.phrase import Units
from noonshade.formats.photograph import LARGEST_BYTES, make_photograph
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.printed import Edition, PrintError, pdf_of, png_of, report_html
from noonshade.formats.printed.pages import font_face
from noonshade.formats.results_csv import field_csv
from noonshade.services import outputs
from noonshade.services.application import Services
from noonshade.store.pictures import PictureRecord
from noonshade.web.http import downloads
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.outputs.schemas import DrawingQuery, PictureOf, PictureQuery, ReportQuery, SectionQuery

output_api = Blueprint("output", __name__, url_prefix="/api")

FONT = files("noonshade.formats.printed") / "fonts" / "text.woff2"


@operation(
    output_api,
    "GET",
    "/plans/<plan_id>/report",
    response=None,
    query=ReportQuery,
    media="text/html",
    problems=(404, 503),
    pool="heavy",
)
def show_report(services: Services, query: ReportQuery, plan_id: str) -> Response:
    """The report as a page to read and print."""
    other: Units = "imperial" if query.units == "metric" else "metric"
    revision = {} if query.revision is None else {"revision": query.revision}
    here = f"/api/plans/{plan_id}/report"
    links = {
        "plan": f"/plans/{plan_id}",
        "pdf": f"{here}.pdf?{urlencode({**revision, 'units': query.units})}",
        "units": f"{here}?{urlencode({**revision, 'units': other})}",
    }
    document, number = outputs.stored_document(services, plan_id, query.revision)
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
    pool="heavy",
)
def download_report(services: Services, query: ReportQuery, plan_id: str) -> Response:
    """The report as PDF."""
    document, number = outputs.stored_document(services, plan_id, query.revision)
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
    pool="heavy",
)
def download_svg(services: Services, query: DrawingQuery, plan_id: str) -> Response:
    """The drawing with a field over it, as SVG."""
    document, number = outputs.stored_document(services, plan_id, query.revision)
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
    pool="heavy",
)
def download_png(services: Services, query: PictureQuery, plan_id: str) -> Response:
    """The drawing with a field over it, as PNG."""
    document, number = outputs.stored_document(services, plan_id, query.revision)
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
    pool="heavy",
)
def download_field(services: Services, query: SectionQuery, plan_id: str) -> Response:
    """Every quantity over a section, one row a sample, in SI units and °C."""
    document, number = outputs.stored_document(services, plan_id, query.revision)
    out = io.StringIO()
    field_csv(outputs.section_of(outputs.evaluate_named(services, document), query.view, query.at), out)
    name = f"{_name(document, number)}-{query.view}-field.csv"
    return downloads.as_file(out.getvalue(), "text/csv; charset=utf-8", name)


@operation(
    output_api,
    "PUT",
    "/plans/<plan_id>/picture",
    response=None,
    status=204,
    query=PictureOf,
    problems=(404, 503, 507),
    largest=LARGEST_BYTES,
    takes="image/*",
)
def put_picture(services: Services, query: PictureOf, plan_id: str) -> None:
    """Store a picture of the plan in 3D, which its report shows."""
    services.plans.revision(plan_id, query.revision)
    picture = make_photograph(request.get_data())
    services.write(services.pictures.put, PictureRecord(plan_id, query.revision, picture.jpeg))


@operation(
    output_api,
    "GET",
    "/plans/<plan_id>/picture",
    response=None,
    media="image/jpeg",
    problems=(404, 503),
)
def get_picture(services: Services, plan_id: str) -> Response:
    """The picture of the plan in 3D that its report shows."""
    return Response(services.pictures.get(plan_id).jpeg, content_type="image/jpeg")


@operation(
    output_api, "DELETE", "/plans/<plan_id>/picture", response=None, status=204, problems=(404, 503, 507)
)
def remove_picture(services: Services, plan_id: str) -> None:
    """Leave the report without a picture in 3D."""
    services.plans.get(plan_id)
    services.write(services.pictures.remove, plan_id)


@output_api.get("/fonts/text.woff2")
def get_font() -> Response:
    """The font of reports."""
    response = Response(FONT.read_bytes(), content_type="font/woff2")
    response.headers["Cache-Control"] = "public, max-age=86400"
    return response


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
    picture = services.pictures.find(plan_id)
    if picture is not None:
        edition = replace(edition, picture=picture.jpeg, picture_revision=picture.revision)
    day = services.days.present_day(document)
    return report_html(outputs.evaluate_named(services, document), day, edition)


def _drawing(services: Services, document: PlanDocument, query: DrawingQuery) -> str:
    return outputs.drawing_svg(services, document, query.view, query.at, query.field, query.units)


def _name(document: PlanDocument, number: int) -> str:
    return f"{downloads.file_name(document.name, 'plan')}-r{number}"
