"""Readings taken in a real box: what the model predicts for each, and what they say of the model."""

from noonshade.core.readings.fit import Fit, FitError, FittedMultiplier, Residual, fit
from noonshade.core.readings.multipliers import Multiplier, multipliers_of, with_multipliers
from noonshade.core.readings.reading import Kind, Reading, predicted

__all__ = [
    "Fit",
    "FitError",
    "FittedMultiplier",
    "Kind",
    "Multiplier",
    "Reading",
    "Residual",
    "fit",
    "multipliers_of",
    "predicted",
    "with_multipliers",
]
