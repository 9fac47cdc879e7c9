"""Readings taken in a real enclosure: what the model predicts for each, and what they say of the model."""

from noonshade.core.readings.fit import (
    Fit,
    FitError,
    FittedMultiplier,
    Residual,
    fit_readings,
    fitted_values,
)
from noonshade.core.readings.instrument import Accuracy, InstrumentKind, Kind
from noonshade.core.readings.reading import PredictedReading, Reading, predict_readings, predict_values
from noonshade.core.readings.round import Task, propose_round, round_of_needs

__all__ = [
    "Accuracy",
    "Fit",
    "FitError",
    "FittedMultiplier",
    "InstrumentKind",
    "Kind",
    "PredictedReading",
    "Reading",
    "Residual",
    "Task",
    "fit_readings",
    "fitted_values",
    "predict_readings",
    "predict_values",
    "propose_round",
    "round_of_needs",
]
