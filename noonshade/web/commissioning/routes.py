"""Move-in test of an enclosure: days, checks, deviations, and the sheet that is signed."""

from __future__ import annotations

from flask import Blueprint, Response, g, url_for

from noonshade.formats.plan_document import parse_plan
from noonshade.formats.printed import pdf_of
from noonshade.formats.printed.pages import font_face
from noonshade.formats.printed.sheet import Sheet, SheetLine, sheet_html
from noonshade.formats.results.evaluation import need_model
from noonshade.services.application import Services
from noonshade.services.commissioning import (
    NothingToSignError,
    RemarksNeededError,
    begin_test,
    commissioning_test,
    sign_test,
    signed_sheet,
    take_back_signature,
)
from noonshade.store.commissioning_tests import CommissioningTestRecord
from noonshade.store.errors import NotFoundError
from noonshade.web.commissioning.schemas import (
    BeginCommissioningTest,
    CommissioningTestModel,
    NeedRead,
    Signature,
    SignCommissioningTest,
)
from noonshade.web.http import downloads
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.outputs.schemas import ReportQuery

commissioning_api = Blueprint("commissioning_tests", __name__, url_prefix="/api")


@operation(
    commissioning_api,
    "GET",
    "/plans/<plan_id>/commissioning-test",
    response=CommissioningTestModel,
    problems=(404, 503),
    pool="heavy",
)
def get_commissioning_test(services: Services, plan_id: str) -> CommissioningTestModel:
    """How far the test of an enclosure is; a change of the enclosure opens a signed one again."""
    return _test_model(services, plan_id)


@operation(
    commissioning_api,
    "PUT",
    "/plans/<plan_id>/commissioning-test",
    request_model=BeginCommissioningTest,
    response=CommissioningTestModel,
    problems=(404, 503, 507),
)
def begin_commissioning_test(
    services: Services, body: BeginCommissioningTest, plan_id: str
) -> CommissioningTestModel:
    """Begin a test, or change an open one; after a signed one a new one begins."""
    begin_test(services, plan_id, body.started_on, body.days)
    return _test_model(services, plan_id)


@operation(
    commissioning_api,
    "POST",
    "/plans/<plan_id>/commissioning-test/signature",
    request_model=SignCommissioningTest,
    response=CommissioningTestModel,
    problems=(404, 409, 503, 507),
)
def sign_commissioning_test(
    services: Services, body: SignCommissioningTest, plan_id: str
) -> CommissioningTestModel:
    """Sign an enclosure off; what was not read or not met asks for a remark, and is listed on the sheet."""
    sheet = _test_model(services, plan_id).model_dump_json()
    try:
        sign_test(services, plan_id, body.by, body.remarks, sheet)
    except NothingToSignError as error:
        raise RequestProblem(409, "no-test", "There is nothing to sign", str(error)) from error
    except RemarksNeededError as error:
        title = "Say why it is signed all the same"
        raise RequestProblem(409, "remarks-needed", title, str(error)) from error
    return _test_model(services, plan_id)


@operation(
    commissioning_api,
    "DELETE",
    "/plans/<plan_id>/commissioning-test/signature",
    response=CommissioningTestModel,
    problems=(404, 503, 507),
)
def unsign_commissioning_test(services: Services, plan_id: str) -> CommissioningTestModel:
    """Take the signature back; the test is open again with its readings."""
    take_back_signature(services, plan_id)
    return _test_model(services, plan_id)


@operation(
    commissioning_api,
    "GET",
    "/plans/<plan_id>/commissioning-test/sheet",
    response=None,
    query=ReportQuery,
    media="text/html",
    problems=(404, 503),
    pool="heavy",
)
def commissioning_sheet(services: Services, query: ReportQuery, plan_id: str) -> Response:
    """The sheet as a page: in the signed state, or as it is now."""
    html = sheet_html(_sheet(services, plan_id, query), g.nonce, font_face(url_for("output.get_font")))
    return Response(html, content_type="text/html; charset=utf-8")


@operation(
    commissioning_api,
    "GET",
    "/plans/<plan_id>/commissioning-test/sheet.pdf",
    response=None,
    query=ReportQuery,
    media="application/pdf",
    problems=(404, 503),
    pool="heavy",
)
def commissioning_sheet_pdf(services: Services, query: ReportQuery, plan_id: str) -> Response:
    """The sheet as PDF."""
    sheet = _sheet(services, plan_id, query)
    name = downloads.file_name(sheet.enclosure, "enclosure")
    return downloads.as_file(pdf_of(sheet_html(sheet)), "application/pdf", f"{name}-test.pdf")


def _sheet(services: Services, plan_id: str, query: ReportQuery) -> Sheet:
    record = services.commissioning_tests.newest(plan_id)
    if record is None:
        raise NotFoundError("move-in test", plan_id, f"plan {plan_id!r} was never tested")
    plan = services.plans.get(plan_id)
    now = _test_model(services, plan_id)
    # A signed sheet stays in the signed state.
    signed = signed_sheet(record)
    found = now if signed is None else CommissioningTestModel.model_validate(signed)
    species = services.evaluation.plan(parse_plan(plan.document)).animal.species
    return Sheet(
        enclosure=plan.name,
        animal=f"{species.common_name}, {species.scientific_name}",
        started_on=record.started_on,
        days=record.days,
        days_read=tuple(found.days_read),
        lines=tuple(
            SheetLine(
                n.place_label, n.need.quantity, n.need.low, n.need.high, n.state, n.value, tuple(n.days)
            )
            for n in found.needs
        ),
        signed_at=record.signed_at,
        signed_by=record.signed_by,
        remarks=record.remarks,
        revision=record.revision or plan.revision,
        changed=tuple(now.changed),
        units=query.units,
    )


def _test_model(services: Services, plan_id: str) -> CommissioningTestModel:
    found = services.computed(commissioning_test, plan_id)
    record = found.record
    return CommissioningTestModel(
        state=found.state,
        started_on=None if record is None else record.started_on,
        days=found.days,
        days_read=list(found.days_read),
        needs=[
            NeedRead(
                check_id=c.check.id,
                place_label=c.check.place_label,
                need=need_model(c.check.need),
                state=c.state,
                value=c.value,
                days=list(c.days),
                due=c.due,
            )
            for c in found.checks
        ],
        not_yet=found.not_read,
        deviations=found.deviations,
        signature=_signature(record),
        changed=list(found.changed_parts),
    )


def _signature(record: CommissioningTestRecord | None) -> Signature | None:
    if record is None or record.signed_at is None or record.revision is None:
        return None
    return Signature(
        at=record.signed_at, by=record.signed_by or "", remarks=record.remarks, revision=record.revision
    )
