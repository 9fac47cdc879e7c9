"""Move-in test of an enclosure: days, checks, deviations, and the sheet that is signed."""

from __future__ import annotations

from flask import Blueprint, Response, g, url_for

from noonshade.core.readings.commissioning import USUAL_DAYS, Covered, Taken, covered, is_complete
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.printed import pdf_of
from noonshade.formats.printed.pages import font_face
from noonshade.formats.printed.sheet import Sheet, SheetLine, sheet_html
from noonshade.formats.stale_parts import parts_changed
from noonshade.services.readings import readings_held
from noonshade.store.commissioning_tests import CommissioningTestRecord, UnknownCommissioningTestError
from noonshade.store.plans import UnknownPlanError
from noonshade.web import current
from noonshade.web.commissioning.schemas import (
    BeginCommissioningTest,
    CommissioningState,
    CommissioningTestModel,
    NeedRead,
    Signature,
    SignCommissioningTest,
)
from noonshade.web.evaluation.serializers import need_model
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.outputs.routes import ReportQuery

commissioning_api = Blueprint("commissioning_tests", __name__, url_prefix="/api")


@operation(
    commissioning_api,
    "GET",
    "/plans/<plan_id>/commissioning-test",
    response=CommissioningTestModel,
    problems=(404, 503),
)
def get_commissioning_test(plan_id: str) -> CommissioningTestModel:
    """How far the test of an enclosure is; a change of the enclosure opens a signed one again."""
    return _now(plan_id)


@operation(
    commissioning_api,
    "PUT",
    "/plans/<plan_id>/commissioning-test",
    request_model=BeginCommissioningTest,
    response=CommissioningTestModel,
    problems=(404, 503, 507),
)
def begin_commissioning_test(body: BeginCommissioningTest, plan_id: str) -> CommissioningTestModel:
    """Begin a test, or change an open one; after a signed one a new one begins."""
    current.plans().get(plan_id)
    current.commissioning_tests().begin(plan_id, body.started_on, body.days)
    return _now(plan_id)


@operation(
    commissioning_api,
    "POST",
    "/plans/<plan_id>/commissioning-test/signature",
    request_model=SignCommissioningTest,
    response=CommissioningTestModel,
    problems=(404, 409, 503, 507),
)
def sign_commissioning_test(body: SignCommissioningTest, plan_id: str) -> CommissioningTestModel:
    """Sign an enclosure off; what was not read or not met asks for a remark, and stands on the sheet."""
    found = _now(plan_id)
    if found.state not in ("running", "ready"):
        detail = "It is signed already." if found.signature else "No test was begun."
        raise RequestProblem(409, "no-test", "There is no open test to sign", detail)
    if not found.days_read:
        raise RequestProblem(
            409, "no-test", "There is nothing to sign", "No reading of the test holds yet."
        )
    if found.state == "running" and not body.remarks.strip():
        raise RequestProblem(
            409,
            "remarks-needed",
            "Say why it is signed all the same",
            f"{found.not_yet} needs are not read yet, {found.deviations} are not met, "
            f"{len(found.days_read)} of {found.days} days were read.",
        )
    revision = current.plans().get(plan_id).revision
    current.commissioning_tests().sign(plan_id, body.by, body.remarks, revision, found.model_dump_json())
    return _now(plan_id)


@operation(
    commissioning_api,
    "DELETE",
    "/plans/<plan_id>/commissioning-test/signature",
    response=CommissioningTestModel,
    problems=(404, 503, 507),
)
def unsign_commissioning_test(plan_id: str) -> CommissioningTestModel:
    """Take the signature back; the test is open again with its readings."""
    current.commissioning_tests().take_back(plan_id)
    return _now(plan_id)


@operation(
    commissioning_api,
    "GET",
    "/plans/<plan_id>/commissioning-test/sheet",
    response=None,
    query=ReportQuery,
    media="text/html",
    problems=(404, 503),
)
def commissioning_sheet(query: ReportQuery, plan_id: str) -> Response:
    """The sheet as a page: as it was signed, or as it stands."""
    html = sheet_html(_sheet(plan_id, query), g.nonce, font_face(url_for("output.get_font")))
    return Response(html, content_type="text/html; charset=utf-8")


@operation(
    commissioning_api,
    "GET",
    "/plans/<plan_id>/commissioning-test/sheet.pdf",
    response=None,
    query=ReportQuery,
    media="application/pdf",
    problems=(404, 503),
)
def commissioning_sheet_pdf(query: ReportQuery, plan_id: str) -> Response:
    """The sheet as PDF."""
    sheet = _sheet(plan_id, query)
    name = current.file_name(sheet.enclosure, "enclosure")
    return current.as_file(pdf_of(sheet_html(sheet)), "application/pdf", f"{name}-test.pdf")


def _sheet(plan_id: str, query: ReportQuery) -> Sheet:
    record = current.commissioning_tests().newest(plan_id)
    if record is None:
        raise UnknownCommissioningTestError(f"plan {plan_id!r} was never tested")
    plan = current.plans().get(plan_id)
    now = _now(plan_id)
    # A signed sheet stays as it was signed.
    found = now if record.sheet is None else CommissioningTestModel.model_validate_json(record.sheet)
    species = current.evaluator().plan(parse_plan(plan.document)).animal.species
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


def _now(plan_id: str) -> CommissioningTestModel:
    plan = current.plans().get(plan_id)
    record = current.commissioning_tests().newest(plan_id)
    document = parse_plan(plan.document)
    result = current.evaluator().evaluate(document)
    since = "" if record is None else record.started_on
    taken = [
        Taken(reading, stored.taken_at[:10], due)
        for stored, reading, due in readings_held(plan_id, document, result)
        if stored.taken_at[:10] >= since and not stored.excluded
    ]
    needs = covered(result, taken) if record is not None else covered(result, [])
    changed = _changed(plan_id, record, plan.document)
    days = USUAL_DAYS if record is None else record.days
    read = sorted({d for n in needs for d in n.days})
    return CommissioningTestModel(
        state=_state(record, needs, days, changed),
        started_on=None if record is None else record.started_on,
        days=days,
        days_read=read,
        needs=[
            NeedRead(
                check_id=n.check.id,
                place_label=n.check.place_label,
                need=need_model(n.check.need),
                state=n.state,
                value=n.value,
                days=list(n.days),
                due=n.due,
            )
            for n in needs
        ],
        not_yet=sum(n.state == "not_yet" for n in needs),
        deviations=sum(n.state in ("below", "above") for n in needs),
        signature=_signature(record),
        changed=changed,
    )


def _state(
    record: CommissioningTestRecord | None, needs: tuple[Covered, ...], days: int, changed: list[str]
) -> CommissioningState:
    if record is None:
        return "none"
    if record.signed_at is not None:
        return "reopened" if changed else "signed"
    return "ready" if is_complete(needs, days) else "running"


def _signature(record: CommissioningTestRecord | None) -> Signature | None:
    if record is None or record.signed_at is None or record.revision is None:
        return None
    return Signature(
        at=record.signed_at, by=record.signed_by or "", remarks=record.remarks, revision=record.revision
    )


def _changed(plan_id: str, record: CommissioningTestRecord | None, text: str) -> list[str]:
    """Parts that are otherwise than when the enclosure was signed off."""
    if record is None or record.revision is None:
        return []
    try:
        then = current.plans().revision(plan_id, record.revision).document
    except UnknownPlanError:
        return []
    return list(dict.fromkeys(c.part for c in parts_changed(parse_plan(then), parse_plan(text))))
