"""One reading, how sure it is, and what the model predicts in its place."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Point
from noonshade.core.probe import probe
from noonshade.core.readings.instrument import (
    EXTREME_K,
    INSTRUMENTS,
    SHARE_KINDS,
    USUAL,
    UV_KINDS,
    Accuracy,
    InstrumentKind,
    Kind,
)
from noonshade.core.uncertainty import structural_error
from noonshade.core.uncertainty.multipliers import HALF_80
from noonshade.core.uncertainty.sensitivity import Sensitivity

Floats = NDArray[np.float64]

_ROOM: tuple[Kind, ...] = ("room_air", "room_humidity")
# Late at night the air is taken as one: no separate place.
_WITHOUT_PLACE: tuple[Kind, ...] = (*_ROOM, "air_min", "humidity_night")
_EXACT = Accuracy(0.0, 0.0, 0.0)
_ATTRIBUTES = {
    "surface": "surface_c",
    "air": "probe_c",
    "air_max": "probe_c",
    "uvi_facing": "uvi_facing",
    "uvi_level": "uvi_level",
    "humidity": "relative_humidity",
}


@dataclass(frozen=True, slots=True)
class Reading:
    """A value read at a place by day, once the enclosure was warm.

    ``position_m`` is None for what is of the room. ``value`` is in °C, UV index or a share of 1.
    Readings of one ``instrument`` share its bias; ``accuracy`` None is that of a common one.
    """

    id: str
    kind: Kind
    value: float
    position_m: Point | None = None
    instrument: str = ""
    accuracy: Accuracy | None = None

    @property
    def of(self) -> InstrumentKind:
        """The kind of instrument that reads it."""
        return INSTRUMENTS[self.kind]

    @property
    def instrument_key(self) -> str:
        """What distinguishes the instrument from others: the keeper's own name for it, or its kind."""
        return self.instrument or self.of

    @property
    def trusted(self) -> Accuracy:
        """How far its instrument may be off."""
        return USUAL[self.of] if self.accuracy is None else self.accuracy

    def bias_sigma(self, said: float) -> float:
        """Standard deviation of its instrument's bias where the model says ``said``, in its unit.

        Parameters
        ----------
        said : float
            What the keeper states, in the unit of the readings.

        Returns
        -------
        float
            The standard deviation, in the reading's unit.
        """
        return self.trusted.bias * self.bias_slope(said)

    def bias_slope(self, said: float) -> float:
        """What a bias of 1 does to the reading: a share of it for UV.

        Parameters
        ----------
        said : float
            What the keeper states, in the unit of the readings.

        Returns
        -------
        float
            What a bias of 1 does to the reading.
        """
        return abs(said) if self.kind in UV_KINDS else 1.0

    def own_sigma(self, said: float, room_c: float) -> float:
        """Standard deviation of one reading about model and bias, in its unit.

        Parameters
        ----------
        said : float
            What the keeper states, in the unit of the readings.
        room_c : float
            Temperature of the room, °C.

        Returns
        -------
        float
            The standard deviation, in the reading's unit.
        """
        accuracy = self.trusted
        parts = [accuracy.noise * self.bias_slope(said), accuracy.digit / 12.0**0.5]
        if self.kind in UV_KINDS:
            parts.append(structural_error.of_uvi(said))
        elif self.kind in ("humidity", "humidity_night"):
            parts.append(structural_error.HUMIDITY)
        elif self.kind not in _ROOM:
            parts.append(structural_error.of_temperature(said, room_c, self.kind == "surface"))
        if self.kind in ("air_min", "air_max"):
            parts.append(EXTREME_K)
        return float(np.sqrt(np.sum(np.square(parts))))


@dataclass(frozen=True, slots=True)
class PredictedReading:
    """What an instrument should read: a central value and the middle 80 %."""

    value: float
    low: float
    high: float


def predict_values(evaluation: Evaluation, readings: tuple[Reading, ...]) -> Floats:
    """What the model says (r,) an instrument without error would read in place of each reading.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    readings : tuple[Reading, ...]
        The readings.

    Returns
    -------
    Floats
        The values (r,), in each reading's unit.

    Raises
    ------
    PlanError
        If a reading has no place where it needs one, lies outside the enclosure, or is of humidity in the
        ground.
    """
    return np.array([_one(evaluation, reading) for reading in readings], dtype=np.float64)


def _one(evaluation: Evaluation, reading: Reading) -> float:
    if reading.kind == "room_air":
        return evaluation.day.room_c
    if reading.kind == "room_humidity":
        return evaluation.plan.room.relative_humidity
    if reading.kind == "air_min":
        return evaluation.night_air_c
    if reading.kind == "humidity_night":
        return evaluation.night_humidity
    if reading.position_m is None:
        raise PlanError("", f"reading {reading.id!r} of {reading.kind} needs a place in the enclosure")
    found = getattr(probe(evaluation, reading.position_m), _ATTRIBUTES[reading.kind])
    if found is None:
        raise PlanError(
            "", f"reading {reading.id!r}: humidity below the surface of the ground is not computed"
        )
    return float(found)


def needs_place(kind: Kind) -> bool:
    """Whether a reading of a kind is taken at a place in the enclosure.

    Parameters
    ----------
    kind : Kind
        Which kind.

    Returns
    -------
    bool
        True if so.
    """
    return kind not in _WITHOUT_PLACE


def predict_readings(
    evaluation: Evaluation,
    known: Sensitivity,
    readings: tuple[Reading, ...],
    instruments: bool = True,
) -> tuple[PredictedReading, ...]:
    """What instruments should read, with how far plan, model and instrument may be off.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan, for central values.
    known : Sensitivity
        Of the same plan.
    readings : tuple of Reading
        Their values are not used.
    instruments : bool
        False for what is there, rather than what an instrument would show of it.

    Returns
    -------
    tuple[PredictedReading, ...]
        For each reading, the value and its 80 % interval.

    Raises
    ------
    PlanError
        As ``predicted``.
    """
    said = predict_values(evaluation, readings)
    slopes = known.derivatives(lambda e: predict_values(e, readings))
    of_plan = np.einsum("rk,kl,rl->r", slopes, known.covariance, slopes)
    found = []
    for given, value, variance in zip(readings, said.tolist(), of_plan.tolist(), strict=True):
        reading = given if instruments else replace(given, accuracy=_EXACT)
        own = reading.own_sigma(value, evaluation.day.room_c) ** 2 + reading.bias_sigma(value) ** 2
        half = HALF_80 * (variance + own) ** 0.5
        low, high = value - half, value + half
        if reading.kind in UV_KINDS and value > 0:
            # A factor either way: a UV index cannot be below 0.
            low, high = value / (1.0 + half / value), value + half
        elif reading.kind in SHARE_KINDS:
            low, high = max(low, 0.0), min(high, 1.0)
        found.append(PredictedReading(value, low, high))
    return tuple(found)
