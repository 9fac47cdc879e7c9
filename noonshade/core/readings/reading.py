"""One reading, how sure it is, and what the model predicts in its place."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Point
from noonshade.core.probe import probe

Kind = Literal["surface", "air", "uvi_facing", "uvi_level", "humidity", "room_air"]

# Standard deviations of a careful reading with a common instrument, with where it was held. Estimates:
# K for temperatures, a share of the value for UV (at least the last digit), of 1 for humidity.
SIGMA: dict[Kind, float] = {
    "surface": 1.5,
    "air": 0.7,
    "uvi_facing": 0.10,
    "uvi_level": 0.12,
    "humidity": 0.05,
    "room_air": 0.4,
}
LEAST_UVI = 0.1
UV_KINDS: tuple[Kind, ...] = ("uvi_facing", "uvi_level")
_ATTRIBUTES = {
    "surface": "surface_c",
    "air": "air_c",
    "uvi_facing": "uvi_facing",
    "uvi_level": "uvi_level",
    "humidity": "relative_humidity",
}


@dataclass(frozen=True, slots=True)
class Reading:
    """A value read at a place by day, once the box was warm.

    ``position_m`` is None for the room's air. ``value`` is in °C, UV index or a share of 1. ``sigma`` is
    its standard deviation in the same unit; None for that of a careful reading with a common instrument.
    """

    id: str
    kind: Kind
    value: float
    position_m: Point | None = None
    sigma: float | None = None

    @property
    def spread(self) -> float:
        """Its standard deviation, in the unit of its value."""
        if self.sigma is not None:
            return self.sigma
        usual = SIGMA[self.kind]
        return max(usual * abs(self.value), LEAST_UVI) if self.kind in UV_KINDS else usual


def predicted(evaluation: Evaluation, readings: tuple[Reading, ...]) -> tuple[float, ...]:
    """What the model says an instrument would read in place of each reading.

    Raises
    ------
    PlanError
        If a reading has no place where it needs one, or lies outside the air of the box.
    """
    return tuple(_one(evaluation, reading) for reading in readings)


def _one(evaluation: Evaluation, reading: Reading) -> float:
    if reading.kind == "room_air":
        return evaluation.day.room_c
    if reading.position_m is None:
        raise PlanError("", f"reading {reading.id!r} of {reading.kind} needs a place in the box")
    return float(getattr(probe(evaluation, reading.position_m), _ATTRIBUTES[reading.kind]))
