"""Readings taken in a real box: what the model predicts for each, and what they say of the model."""

from noonshade.core.readings.fit import Fit, FitError, FittedMultiplier, Residual, fit
from noonshade.core.readings.multipliers import Multiplier, multipliers_of, with_multipliers
from noonshade.core.readings.reading import Kind, Reading, predicted
from noonshade.core.readings.round import Task, propose_round

__all__ = [
    "Fit",
    "FitError",
    "FittedMultiplier",
    "Kind",
    "Multiplier",
    "Reading",
    "Residual",
    "Task",
    "fit",
    "multipliers_of",
    "predicted",
    "propose_round",
    "with_multipliers",
]
