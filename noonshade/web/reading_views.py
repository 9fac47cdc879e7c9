"""Operations on readings: instruments, rounds, readings, what is foreseen, and the fit."""

from __future__ import annotations

import json
import secrets

from flask import Blueprint, Response
from pydantic import ValidationError

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Plan
from noonshade.core.readings import (
    Accuracy,
    Fit,
    Foreseen,
    Reading,
    Task,
    fit,
    fitted,
    foreseen,
    propose_round,
    round_of_needs,
)
from noonshade.core.readings.fit import FitError
from noonshade.core.readings.instrument import Kind, stated
from noonshade.core.readings.reading import predicted
from noonshade.core.readings.seen import seen
from noonshade.core.readings.wording import bias_in_words, in_words, likely_cause, told
from noonshade.core.uncertainty.measured import Fitted, lapsed
from noonshade.formats.document import problems_of
from noonshade.formats.parts_changed import due_again, parts_changed
from noonshade.formats.plan_document import PlanDocument, PointDocument, parse_plan
from noonshade.formats.plan_resolve import fitted_from, measured_document
from noonshade.formats.readings_csv import readings_csv
from noonshade.store.database import now
from noonshade.store.plans import UnknownPlanError
from noonshade.store.readings import InstrumentRecord, ReadingRecord, RoundRecord, UnknownReadingError
from noonshade.web import current
from noonshade.web.interface import operation
from noonshade.web.present import phrase_parts
from noonshade.web.problems import RequestProblem
from noonshade.web.reading_models import (
    BiasModel,
    CloseRound,
    ExpectedModel,
    FitReadingsRequest,
    FitReadingsResponse,
    FittedModel,
    ForeseenModel,
    ForeseeRequest,
    ForeseeResponse,
    InstrumentList,
    InstrumentModel,
    LapsedModel,
    MeasuredRequest,
    MeasuredResponse,
    PutReadings,
    PutResult,
    ReadingList,
    ReadingModel,
    Refused,
    ResidualModel,
    RoundModel,
    StartRound,
    StoredReading,
    TaskModel,
)

reading_api = Blueprint("readings", __name__, url_prefix="/api")

# Readings and model part more than they should. Estimate; see ``Fit.misfit``.
POOR_MISFIT = 1.3
NEXT = 2


# -- instruments -----------------------------------------------------------------


@operation(reading_api, "GET", "/instruments", response=InstrumentList, problems=(503,))
def list_instruments() -> InstrumentList:
    """The keeper's instruments."""
    return InstrumentList(
        instruments=[
            InstrumentModel.model_validate(
                {
                    "id": r.id,
                    "label": r.label,
                    "kind": r.kind,
                    "accuracy": r.accuracy,
                    "calibrated": r.calibrated,
                }
            )
            for r in current.readings().instruments()
        ]
    )


@operation(
    reading_api,
    "PUT",
    "/instruments",
    request_model=InstrumentModel,
    response=InstrumentModel,
    problems=(503, 507),
)
def put_instrument(body: InstrumentModel) -> InstrumentModel:
    """Store an instrument, new or changed."""
    current.readings().put_instrument(
        InstrumentRecord(body.id, body.label, body.kind, body.accuracy, body.calibrated)
    )
    return body


@operation(
    reading_api,
    "DELETE",
    "/instruments/<instrument_id>",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def remove_instrument(instrument_id: str) -> None:
    """Take an instrument off the list; storing it again brings it back."""
    current.readings().remove_instrument(instrument_id)


# -- rounds ----------------------------------------------------------------------


@operation(
    reading_api,
    "POST",
    "/plans/<plan_id>/rounds",
    request_model=StartRound,
    response=RoundModel,
    status=201,
    problems=(404, 503, 507),
)
def start_round(body: StartRound, plan_id: str) -> RoundModel:
    """Propose the smallest useful round of readings for a plan as it is stored, and begin it."""
    plan = current.plans().get(plan_id)
    result = current.evaluator().evaluate(parse_plan(plan.document))
    known = current.sensitivities().of(result)
    if body.needs:
        tasks = round_of_needs(body.needs, known, result)
    else:
        tasks = propose_round(result.plan, body.most, known=known, evaluation=result)
    if not tasks:
        raise RequestProblem(
            422, "nothing-to-read", "There is nothing to read", "No instrument reads these."
        )
    record = RoundRecord(
        secrets.token_hex(6),
        plan_id,
        plan.revision,
        json.dumps([task_model(t).model_dump(mode="json") for t in tasks]),
        now(),
        None,
    )
    current.readings().start_round(record)
    return round_model(record)


@operation(reading_api, "GET", "/rounds/<round_id>", response=RoundModel, problems=(404, 503))
def get_round(round_id: str) -> RoundModel:
    """One round."""
    return round_model(current.readings().round(round_id))


@operation(
    reading_api,
    "PUT",
    "/rounds/<round_id>",
    request_model=CloseRound,
    response=RoundModel,
    problems=(404, 503, 507),
)
def close_round(body: CloseRound, round_id: str) -> RoundModel:
    """Close a round, or open it again."""
    return round_model(current.readings().close_round(round_id, now() if body.closed else None))


def task_model(task: Task) -> TaskModel:
    """A task for the screen."""
    at = task.reading.position_m
    return TaskModel(
        id=task.reading.id,
        kind=task.reading.kind,
        place=task.place,
        place_id=task.place_id,
        at_m=None if at is None else PointDocument(x_m=at[0], y_m=at[1], z_m=at[2]),
        instrument=task.instrument,
        why=task.why,
        expected=expected_model(task.foreseen),
        gain=task.gain,
    )


def expected_model(one: Foreseen) -> ExpectedModel:
    """What is foreseen, for the screen."""
    return ExpectedModel(value=one.value, low=one.low, high=one.high)


def round_model(record: RoundRecord) -> RoundModel:
    """A round for the screen."""
    return RoundModel(
        id=record.id,
        plan_id=record.plan_id,
        revision=record.revision,
        tasks=[TaskModel.model_validate(t) for t in json.loads(record.tasks)],
        started_at=record.started_at,
        closed_at=record.closed_at,
    )


# -- readings --------------------------------------------------------------------


@operation(reading_api, "GET", "/plans/<plan_id>/readings", response=ReadingList, problems=(404, 503))
def list_readings(plan_id: str) -> ReadingList:
    """Rounds and readings of a plan, and which of them are due again after changes."""
    plan = current.plans().get(plan_id)
    due = _Due(plan_id, parse_plan(plan.document))
    return ReadingList(
        rounds=[round_model(r) for r in current.readings().rounds(plan_id)],
        readings=[
            StoredReading(reading=reading_model(r), due=due.of(r))
            for r in current.readings().readings(plan_id)
        ],
        revision=plan.revision,
    )


@operation(
    reading_api,
    "PUT",
    "/plans/<plan_id>/readings",
    request_model=PutReadings,
    response=PutResult,
    problems=(404, 503, 507),
)
def put_readings(body: PutReadings, plan_id: str) -> PutResult:
    """Store readings; sending one again changes it and never stores it twice."""
    plan = current.plans().get(plan_id)
    instruments = {i.id for i in current.readings().instruments()}
    rounds = {r.id for r in current.readings().rounds(plan_id)}
    stored, refused = [], []
    for raw in body.readings:
        name = str(raw.get("id", ""))[:80]
        try:
            reading = ReadingModel.model_validate(raw)
        except ValidationError as error:
            found = problems_of(error, raw)
            reason = "; ".join(f"{p.pointer}: {p.message}" if p.pointer else p.message for p in found)
            refused.append(Refused(id=name, reason=reason))
            continue
        # What it was taken for or with may be gone by the time it arrives; the reading is worth keeping.
        known = reading.model_copy(
            update={
                "round_id": reading.round_id if reading.round_id in rounds else None,
                "instrument_id": reading.instrument_id if reading.instrument_id in instruments else None,
                "revision": min(reading.revision, plan.revision),
            }
        )
        try:
            current.readings().put([_record(plan_id, known)])
        except UnknownReadingError as error:
            refused.append(Refused(id=name, reason=str(error.args[0])))
        else:
            stored.append(reading.id)
    return PutResult(stored=stored, refused=refused)


@operation(
    reading_api, "DELETE", "/readings/<reading_id>", response=None, status=204, problems=(404, 503, 507)
)
def remove_reading(reading_id: str) -> None:
    """Take a reading out; storing it again brings it back."""
    current.readings().remove(reading_id)


@operation(
    reading_api,
    "GET",
    "/plans/<plan_id>/readings.csv",
    response=None,
    media="text/csv",
    problems=(404, 503),
)
def export_readings(plan_id: str) -> Response:
    """All readings of a plan as CSV."""
    plan = current.plans().get(plan_id)
    labels = {i.id: i.label for i in current.readings().instruments()}
    text = readings_csv(current.readings().readings(plan_id), labels)
    name = current.file_name(plan.name, "plan")
    return current.as_file(text, "text/csv; charset=utf-8", f"{name}-readings.csv")


def reading_model(r: ReadingRecord) -> ReadingModel:
    """A stored reading for the screen."""
    at = None
    if r.x_m is not None and r.y_m is not None and r.z_m is not None:
        at = PointDocument(x_m=r.x_m, y_m=r.y_m, z_m=r.z_m)
    return ReadingModel.model_validate(
        {
            **{k: getattr(r, k) for k in ReadingModel.model_fields if k != "at_m"},
            "at_m": at,
        }
    )


def _record(plan_id: str, reading: ReadingModel) -> ReadingRecord:
    at = reading.at_m
    return ReadingRecord(
        **reading.model_dump(exclude={"at_m"}),
        plan_id=plan_id,
        x_m=None if at is None else at.x_m,
        y_m=None if at is None else at.y_m,
        z_m=None if at is None else at.z_m,
    )


class _Due:
    """Which readings of a plan are due again, because of what was changed since each was taken."""

    def __init__(self, plan_id: str, document: PlanDocument) -> None:
        self.plan_id, self.document = plan_id, document
        self._then: dict[int, PlanDocument | None] = {}

    def of(self, record: ReadingRecord) -> str | None:
        """The parts that were changed, None if the reading holds."""
        if record.revision not in self._then:
            try:
                text = current.plans().revision(self.plan_id, record.revision).document
                self._then[record.revision] = parse_plan(text)
            except UnknownPlanError:
                self._then[record.revision] = None
        then = self._then[record.revision]
        return None if then is None else due_again(parts_changed(then, self.document), _kind(record))


def _kind(record: ReadingRecord) -> Kind:
    return reading_model(record).kind


# -- what is foreseen, and the fit -------------------------------------------------


@operation(reading_api, "POST", "/foresee", request_model=ForeseeRequest, response=ForeseeResponse)
def foresee(body: ForeseeRequest) -> ForeseeResponse:
    """What readings are foreseen to show in a plan, with the middle 80 %."""
    result = current.evaluator().evaluate(body.document)
    accuracies = _accuracies()
    asked = [
        Reading(
            str(i),
            one.kind,
            0.0,
            None if one.at_m is None else one.at_m.as_tuple(),
            one.instrument_id or "",
            accuracies.get(one.instrument_id or ""),
        )
        for i, one in enumerate(body.readings)
    ]
    reasons: dict[str, str] = {}
    for reading in asked:
        try:
            predicted(result, (reading,))
        except PlanError as error:
            reasons[reading.id] = error.message
    inside = tuple(r for r in asked if r.id not in reasons)
    known = current.sensitivities().of(result)
    ahead = {r.id: f for r, f in zip(inside, foreseen(result, known, inside), strict=True)}
    return ForeseeResponse(
        foreseen=[
            ForeseenModel(expected=None, why_not=reasons[r.id])
            if r.id in reasons
            else ForeseenModel(expected=expected_model(ahead[r.id]))
            for r in asked
        ]
    )


@operation(
    reading_api,
    "POST",
    "/plans/<plan_id>/fit",
    request_model=FitReadingsRequest,
    response=FitReadingsResponse,
    problems=(404, 503),
)
def fit_readings_of_plan(body: FitReadingsRequest, plan_id: str) -> FitReadingsResponse:
    """Fit a plan to its stored readings that still hold; nothing is changed by asking."""
    document = body.document.model_copy(update={"measured": None})
    catalogue = current.evaluator().evaluate(document)
    usable = [
        (record, reading)
        for record, reading, due in readings_held(plan_id, document, catalogue)
        if due is None and not record.left_out
    ]
    records, readings = [r for r, _ in usable], [r for _, r in usable]
    if not readings:
        raise FitError("there is no reading that holds for the box as it is now; take a round first")
    found = fit(catalogue.plan, tuple(readings))
    day = max(r.taken_at for r in records)[:10]
    kept = fitted(found, catalogue.plan, day, seen(found.evaluation, tuple(readings)))
    return _fit_model(catalogue.plan, found, kept, tuple(readings))


@operation(reading_api, "POST", "/measured", request_model=MeasuredRequest, response=MeasuredResponse)
def tell_measured(body: MeasuredRequest) -> MeasuredResponse:
    """What was measured of a box in words, and what of it no longer holds."""
    if body.document.measured is None:
        return MeasuredResponse(told=[], lapsed=[])
    plan = current.evaluator().plan(body.document.model_copy(update={"measured": None}))
    kept = fitted_from(body.document.measured)
    gone = lapsed(plan, kept)
    return MeasuredResponse(
        told=[phrase_parts(p) for p in told(plan, kept)],
        lapsed=[LapsedModel(id=one.id, why=one.why) for one in gone],
    )


def readings_held(
    plan_id: str, document: PlanDocument, evaluation: Evaluation
) -> list[tuple[ReadingRecord, Reading, str | None]]:
    """Stored readings that lie in the box as it is now, and what makes each due again."""
    due, accuracies = _Due(plan_id, document), _accuracies()
    found = []
    for record in current.readings().readings(plan_id):
        reading = _core_reading(record, accuracies)
        try:
            predicted(evaluation, (reading,))
        except PlanError:
            continue
        found.append((record, reading, due.of(record)))
    return found


def _accuracies() -> dict[str, Accuracy]:
    """Accuracies of the keeper's instruments, by id, where their makers state them."""
    return {
        i.id: stated(i.kind, i.accuracy) for i in list_instruments().instruments if i.accuracy is not None
    }


def _core_reading(record: ReadingRecord, accuracies: dict[str, Accuracy]) -> Reading:
    model = reading_model(record)
    # An instrument serves for what it is made for; what a probe reads of UV would be a slip of the list.
    instrument = model.instrument_id or ""
    return Reading(
        record.id,
        model.kind,
        record.value,
        None if model.at_m is None else model.at_m.as_tuple(),
        instrument,
        accuracies.get(instrument),
    )


def _fit_model(
    catalogue: Plan, found: Fit, kept: Fitted, readings: tuple[Reading, ...]
) -> FitReadingsResponse:
    labels = {i.id: i.label for i in list_instruments().instruments}
    tasks = propose_round(found.plan, NEXT, taken=readings, evaluation=found.evaluation)
    return FitReadingsResponse(
        used=[r.id for r in readings],
        multipliers=[
            FittedModel(
                id=m.multiplier.id,
                kind=m.multiplier.kind,
                label=m.multiplier.label,
                additive=m.multiplier.additive,
                value=m.value,
                factor=m.factor,
                sigma_before=m.sigma_before,
                sigma_after=m.sigma_after,
                settled=m.settled,
                told=phrase_parts(in_words(catalogue, m)),
            )
            for m in found.multipliers
        ],
        biases=[
            BiasModel(
                instrument=labels.get(b.instrument, b.instrument),
                value=b.value,
                told=phrase_parts(bias_in_words(b, labels.get(b.instrument, f"the {b.instrument}"))),
            )
            for b in found.biases
        ],
        residuals=[
            ResidualModel(
                id=r.reading.id,
                before=r.before,
                after=r.after,
                deviations=r.deviations,
                stray=r.stray,
                cause=phrase_parts(likely_cause(found, r)),
            )
            for r in found.residuals
        ],
        misfit=found.misfit,
        poor=found.misfit > POOR_MISFIT or any(r.stray for r in found.residuals),
        next=[task_model(t) for t in tasks],
        measured=measured_document(kept),
    )
