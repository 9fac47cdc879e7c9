"""Readings taken in a real enclosure: what the model predicts for each, and what they say of the model."""

from noonshade.core.readings.fit import Fit, FitError, FittedMultiplier, Residual, fit, fitted
from noonshade.core.readings.instrument import Accuracy, InstrumentKind, Kind
from noonshade.core.readings.reading import PredictedReading, Reading, predict_readings, predicted
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
    "fit",
    "fitted",
    "predict_readings",
    "predicted",
    "propose_round",
    "round_of_needs",
]
