"""What readings are predicted to show, and what those that were taken say of the enclosure."""

from __future__ import annotations

from flask import Blueprint

from noonshade.core.errors import PlanError
from noonshade.core.plan import Plan
from noonshade.core.readings import Fit, FitError, Reading, fit, fitted, predict_readings, propose_round
from noonshade.core.readings.evidence import measured_checks
from noonshade.core.readings.fit_wording import bias_in_words, describe_fitted, in_words, likely_cause
from noonshade.core.readings.reading import predicted
from noonshade.core.uncertainty.measured import Fitted, stale_fits
from noonshade.formats.plan_from_document import fitted_from, measured_document
from noonshade.services.readings import Instruments, expected_model, readings_held, task_model
from noonshade.web import current
from noonshade.web.evaluation.serializers import phrase_parts
from noonshade.web.http.routing import operation
from noonshade.web.readings.schemas import (
    BiasModel,
    FitReadingsRequest,
    FitReadingsResponse,
    FittedModel,
    MeasuredRequest,
    MeasuredResponse,
    PredictedReadingModel,
    PredictionsRequest,
    PredictionsResponse,
    ResidualModel,
    StaleFitModel,
)

fit_api = Blueprint("fits", __name__, url_prefix="/api")

# Readings and model part more than they should. Estimate; see ``Fit.misfit``.
POOR_MISFIT = 1.3
NEXT = 2


@operation(fit_api, "POST", "/predictions", request_model=PredictionsRequest, response=PredictionsResponse)
def predict(body: PredictionsRequest) -> PredictionsResponse:
    """What readings are predicted to show in a plan, with the middle 80 %."""
    result = current.evaluator().evaluate(body.document)
    instruments = Instruments()
    asked = [
        instruments.reading(str(i), one.kind, one.at_m, one.instrument_id)
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
    ahead = {r.id: f for r, f in zip(inside, predict_readings(result, known, inside), strict=True)}
    return PredictionsResponse(
        predictions=[
            PredictedReadingModel(expected=None, why_not=reasons[r.id])
            if r.id in reasons
            else PredictedReadingModel(expected=expected_model(ahead[r.id]))
            for r in asked
        ]
    )


@operation(
    fit_api,
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
        if due is None and not record.excluded
    ]
    records, readings = [r for r, _ in usable], [r for _, r in usable]
    if not readings:
        raise FitError("there is no reading that holds for the enclosure as it is now; take a round first")
    found = fit(catalogue.plan, tuple(readings))
    day = max(r.taken_at for r in records)[:10]
    kept = fitted(found, catalogue.plan, day, measured_checks(found.evaluation, tuple(readings)))
    return _fit_model(catalogue.plan, found, kept, tuple(readings))


@operation(fit_api, "POST", "/measured", request_model=MeasuredRequest, response=MeasuredResponse)
def tell_measured(body: MeasuredRequest) -> MeasuredResponse:
    """What was measured of an enclosure in words, and what of it no longer holds."""
    if body.document.measured is None:
        return MeasuredResponse(description=[], stale=[])
    plan = current.evaluator().plan(body.document.model_copy(update={"measured": None}))
    kept = fitted_from(body.document.measured)
    gone = stale_fits(plan, kept)
    return MeasuredResponse(
        description=[phrase_parts(p) for p in describe_fitted(plan, kept)],
        stale=[StaleFitModel(id=one.id, why=one.why) for one in gone],
    )


def _fit_model(
    catalogue: Plan, found: Fit, kept: Fitted, readings: tuple[Reading, ...]
) -> FitReadingsResponse:
    instruments = Instruments()
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
                description=phrase_parts(in_words(catalogue, m)),
            )
            for m in found.multipliers
        ],
        biases=[
            BiasModel(
                instrument=instruments.label(b.instrument),
                value=b.value,
                description=phrase_parts(bias_in_words(b, instruments.label(b.instrument))),
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
