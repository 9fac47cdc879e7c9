"""Readings, predictions and fits as the interface has them."""

from __future__ import annotations

from noonshade.core.readings import PredictedReading, Task
from noonshade.core.readings.fit_wording import bias_in_words, in_words, likely_cause
from noonshade.formats.plan_document import PointDocument
from noonshade.formats.plan_from_document import measured_document
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.services.readings import FitResult, Instruments, position_of
from noonshade.store.readings import ReadingRecord
from noonshade.web.readings.schemas import (
    BiasModel,
    ExpectedModel,
    FitReadingsResponse,
    FittedModel,
    ReadingModel,
    ResidualModel,
    TaskModel,
)

# Readings and model differ more than they should. Estimate; see ``Fit.misfit``.
POOR_MISFIT = 1.3


def point_model(at: tuple[float, float, float] | None) -> PointDocument | None:
    """A position in m."""
    return None if at is None else PointDocument(x_m=at[0], y_m=at[1], z_m=at[2])


def reading_model(record: ReadingRecord) -> ReadingModel:
    """A stored reading."""
    fields = {k: getattr(record, k) for k in ReadingModel.model_fields if k != "at_m"}
    return ReadingModel.model_validate({**fields, "at_m": point_model(position_of(record))})


def task_model(task: Task) -> TaskModel:
    """A proposed reading."""
    return TaskModel(
        id=task.reading.id,
        kind=task.reading.kind,
        place=task.place,
        place_id=task.place_id,
        at_m=point_model(task.reading.position_m),
        instrument=task.instrument,
        why=task.why,
        expected=expected_model(task.prediction),
        gain=task.gain,
    )


def expected_model(one: PredictedReading) -> ExpectedModel:
    """A predicted reading with its likely range."""
    return ExpectedModel(value=one.value, low=one.low, high=one.high)


def fit_model(result: FitResult, instruments: Instruments) -> FitReadingsResponse:
    """A fit in figures and sentences."""
    found = result.fit
    return FitReadingsResponse(
        used=[r.id for r in result.readings],
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
                description=phrase_parts(in_words(result.catalogue, m)),
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
        next=[task_model(t) for t in result.next_readings],
        measured=measured_document(result.fitted),
    )
