"""Testing a box before the animal moves in: days, needs, deviations, and the sheet that is signed."""

from __future__ import annotations

from flask import Blueprint, Response, g, url_for

from noonshade.core.readings.trial import USUAL_DAYS, Covered, Taken, complete, covered
from noonshade.formats.parts_changed import parts_changed
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.printed import pdf_of
from noonshade.formats.printed.pages import font_face
from noonshade.formats.printed.sheet import Sheet, SheetLine, sheet_html
from noonshade.store.plans import UnknownPlanError
from noonshade.store.trials import TrialRecord, UnknownTrialError
from noonshade.web import current
from noonshade.web.held import readings_held
from noonshade.web.interface import operation
from noonshade.web.output_views import ReportQuery
from noonshade.web.present import need_model
from noonshade.web.problems import RequestProblem
from noonshade.web.trial_models import BeginTrial, NeedRead, Signature, SignTrial, TrialModel, TrialState

trial_api = Blueprint("trials", __name__, url_prefix="/api")


@operation(trial_api, "GET", "/plans/<plan_id>/trial", response=TrialModel, problems=(404, 503))
def get_trial(plan_id: str) -> TrialModel:
    """How far the test of a box is; a change of the box opens a signed one again."""
    return _now(plan_id)


@operation(
    trial_api,
    "PUT",
    "/plans/<plan_id>/trial",
    request_model=BeginTrial,
    response=TrialModel,
    problems=(404, 503, 507),
)
def begin_trial(body: BeginTrial, plan_id: str) -> TrialModel:
    """Begin a test, or change an open one; after a signed one a new one begins."""
    current.plans().get(plan_id)
    current.trials().begin(plan_id, body.started_on, body.days)
    return _now(plan_id)


@operation(
    trial_api,
    "POST",
    "/plans/<plan_id>/trial/signature",
    request_model=SignTrial,
    response=TrialModel,
    problems=(404, 409, 503, 507),
)
def sign_trial(body: SignTrial, plan_id: str) -> TrialModel:
    """Sign a box off; what was not read or not met asks for a remark, and stands on the sheet."""
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
    current.trials().sign(plan_id, body.by, body.remarks, revision, found.model_dump_json())
    return _now(plan_id)


@operation(
    trial_api,
    "DELETE",
    "/plans/<plan_id>/trial/signature",
    response=TrialModel,
    problems=(404, 503, 507),
)
def unsign_trial(plan_id: str) -> TrialModel:
    """Take the signature back; the test is open again with its readings."""
    current.trials().take_back(plan_id)
    return _now(plan_id)


@operation(
    trial_api,
    "GET",
    "/plans/<plan_id>/trial/sheet",
    response=None,
    query=ReportQuery,
    media="text/html",
    problems=(404, 503),
)
def trial_sheet(query: ReportQuery, plan_id: str) -> Response:
    """The sheet as a page: as it was signed, or as it stands."""
    html = sheet_html(_sheet(plan_id, query), g.nonce, font_face(url_for("output.get_font")))
    return Response(html, content_type="text/html; charset=utf-8")


@operation(
    trial_api,
    "GET",
    "/plans/<plan_id>/trial/sheet.pdf",
    response=None,
    query=ReportQuery,
    media="application/pdf",
    problems=(404, 503),
)
def trial_sheet_pdf(query: ReportQuery, plan_id: str) -> Response:
    """The sheet as PDF."""
    sheet = _sheet(plan_id, query)
    name = current.file_name(sheet.box, "box")
    return current.as_file(pdf_of(sheet_html(sheet)), "application/pdf", f"{name}-test.pdf")


def _sheet(plan_id: str, query: ReportQuery) -> Sheet:
    record = current.trials().newest(plan_id)
    if record is None:
        raise UnknownTrialError(f"plan {plan_id!r} was never tested")
    plan = current.plans().get(plan_id)
    now = _now(plan_id)
    # A signed sheet stays as it was signed.
    found = now if record.sheet is None else TrialModel.model_validate_json(record.sheet)
    species = current.evaluator().plan(parse_plan(plan.document)).animal.species
    return Sheet(
        box=plan.name,
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


def _now(plan_id: str) -> TrialModel:
    plan = current.plans().get(plan_id)
    record = current.trials().newest(plan_id)
    document = parse_plan(plan.document)
    result = current.evaluator().evaluate(document)
    since = "" if record is None else record.started_on
    taken = [
        Taken(reading, stored.taken_at[:10], due)
        for stored, reading, due in readings_held(plan_id, document, result)
        if stored.taken_at[:10] >= since and not stored.left_out
    ]
    needs = covered(result, taken) if record is not None else covered(result, [])
    changed = _changed(plan_id, record, plan.document)
    days = USUAL_DAYS if record is None else record.days
    read = sorted({d for n in needs for d in n.days})
    return TrialModel(
        state=_state(record, needs, days, changed),
        started_on=None if record is None else record.started_on,
        days=days,
        days_read=read,
        needs=[
            NeedRead(
                verdict_id=n.verdict.id,
                place_label=n.verdict.place_label,
                need=need_model(n.verdict.need),
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
    record: TrialRecord | None, needs: tuple[Covered, ...], days: int, changed: list[str]
) -> TrialState:
    if record is None:
        return "none"
    if record.signed_at is not None:
        return "reopened" if changed else "signed"
    return "ready" if complete(needs, days) else "running"


def _signature(record: TrialRecord | None) -> Signature | None:
    if record is None or record.signed_at is None or record.revision is None:
        return None
    return Signature(
        at=record.signed_at, by=record.signed_by or "", remarks=record.remarks, revision=record.revision
    )


def _changed(plan_id: str, record: TrialRecord | None, text: str) -> list[str]:
    """Parts that are otherwise than when the box was signed off."""
    if record is None or record.revision is None:
        return []
    try:
        then = current.plans().revision(plan_id, record.revision).document
    except UnknownPlanError:
        return []
    return list(dict.fromkeys(c.part for c in parts_changed(parse_plan(then), parse_plan(text))))
