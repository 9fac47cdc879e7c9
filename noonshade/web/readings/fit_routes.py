"""What readings are predicted to show, and what those that were taken say of the enclosure."""

from __future__ import annotations

from flask import Blueprint

from noonshade.core.readings.fit_wording import describe_fitted
from noonshade.core.uncertainty.measured import stale_fits
from noonshade.formats.plan_from_document import fitted_from
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.services.application import Services
from noonshade.services.readings import Instruments, fit_plan, predict_each
from noonshade.web.http.routing import operation
from noonshade.web.readings.schemas import (
    FitReadingsRequest,
    FitReadingsResponse,
    MeasuredRequest,
    MeasuredResponse,
    PredictedReadingModel,
    PredictionsRequest,
    PredictionsResponse,
    StaleFitModel,
)
from noonshade.web.readings.serializers import expected_model, fit_model

fit_api = Blueprint("fits", __name__, url_prefix="/api")


@operation(
    fit_api,
    "POST",
    "/predictions",
    request_model=PredictionsRequest,
    response=PredictionsResponse,
    pool="heavy",
)
def predict_readings(services: Services, body: PredictionsRequest) -> PredictionsResponse:
    """What readings are predicted to show in a plan, with the middle 80 %."""
    evaluation = services.evaluation.evaluate(body.document)
    instruments = Instruments(services)
    asked = [
        instruments.reading(
            str(i), one.kind, None if one.at_m is None else one.at_m.as_tuple(), one.instrument_id
        )
        for i, one in enumerate(body.readings)
    ]
    return PredictionsResponse(
        predictions=[
            PredictedReadingModel(expected=None, why_not=found)
            if isinstance(found, str)
            else PredictedReadingModel(expected=expected_model(found))
            for found in predict_each(services, evaluation, asked)
        ]
    )


@operation(
    fit_api,
    "POST",
    "/plans/<plan_id>/fit",
    request_model=FitReadingsRequest,
    response=FitReadingsResponse,
    problems=(404, 503),
    pool="heavy",
)
def fit_readings_of_plan(services: Services, body: FitReadingsRequest, plan_id: str) -> FitReadingsResponse:
    """Fit a plan to its valid stored readings; nothing is stored."""
    return fit_model(fit_plan(services, plan_id, body.document), Instruments(services))


@operation(fit_api, "POST", "/measured", request_model=MeasuredRequest, response=MeasuredResponse)
def describe_measured(services: Services, body: MeasuredRequest) -> MeasuredResponse:
    """What was measured of an enclosure in words, and what of it is out of date."""
    if body.document.measured is None:
        return MeasuredResponse(description=[], stale=[])
    plan = services.evaluation.plan(body.document.model_copy(update={"measured": None}))
    fitted = fitted_from(body.document.measured)
    return MeasuredResponse(
        description=[phrase_parts(p) for p in describe_fitted(plan, fitted)],
        stale=[StaleFitModel(id=one.id, why=one.why) for one in stale_fits(plan, fitted)],
    )
