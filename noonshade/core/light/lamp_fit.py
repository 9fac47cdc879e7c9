"""A keeper's own lamp from readings at two or more distances."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.sources import emitter, on_axis
from noonshade.core.plan import (
    LineSource,
    PanelSource,
    SourceGeometry,
    UvReference,
)

Floats = NDArray[np.float64]

# A fit is bad when its misfit is beyond this; readings of one lamp by one hand agree better. Estimate.
BAD_MISFIT = 0.15
REFERENCE_M = 0.30
MOST_DIAMETER_M = 0.6
_SIZES = 60


@dataclass(frozen=True, slots=True)
class LampReading:
    """UV index straight under the lamp, meter facing it, at a distance."""

    distance_m: float
    uvi: float


@dataclass(frozen=True, slots=True)
class LampFit:
    """The reference reading that suits all readings best, and how badly it suits each.

    ``misfit`` is the root mean square of the relative deviations, ``deviations`` (n,) each of them:
    measured over fitted, less 1. ``fall_off`` is the exponent n of a fall like 1/dⁿ between the nearest
    and farthest reading, ``fall_off_expected`` that of this lamp there. ``other_size_m`` is the length or
    diameter that would suit the readings, when this one does not and another does. ``impossible`` says
    that none does.
    """

    reference: UvReference
    misfit: float
    deviations: tuple[float, ...]
    fall_off: float
    fall_off_expected: float
    other_size_m: float | None
    impossible: bool

    @property
    def is_bad(self) -> bool:
        """Whether the readings are not those of a lamp like this."""
        return self.misfit > BAD_MISFIT


def fit_lamp(geometry: SourceGeometry, readings: tuple[LampReading, ...]) -> LampFit:
    """Fit a lamp's strength to readings, by least squares of the logarithms.

    Geometry is as given; whether another size of the same kind would do better is looked at only to
    explain a bad fit.

    Parameters
    ----------
    geometry : SourceGeometry
        Shape and beam of the source.
    readings : tuple[LampReading, ...]
        The readings.

    Returns
    -------
    LampFit
        The strength, the deviations of the readings, and how bad the fit is.

    Raises
    ------
    ValueError
        If there are fewer than two readings, all at one distance, or any is not above 0.
    """
    if len(readings) < 2:
        raise ValueError("at least two readings are needed")
    distance = np.array([r.distance_m for r in readings])
    uvi = np.array([r.uvi for r in readings])
    if np.any(distance <= 0) or np.any(uvi <= 0):
        raise ValueError("distances and UV indices must be above 0")
    if np.ptp(distance) < 0.02:
        raise ValueError("the readings must be at distances at least 2 cm apart")
    log_scale, deviations = _scaled(geometry, distance, uvi)
    misfit = _rms(deviations)
    other, best = None, misfit
    if misfit > BAD_MISFIT:
        for size in np.geomspace(0.01, 3.0, _SIZES):
            candidate = _rms(_scaled(_sized(geometry, float(size)), distance, uvi)[1])
            if candidate < best:
                best, other = candidate, float(size)
    impossible = misfit > BAD_MISFIT and best > BAD_MISFIT
    near, far = int(np.argmin(distance)), int(np.argmax(distance))
    ends = distance[[near, far]]
    response = on_axis(emitter(geometry), ends)
    decades = math.log(ends[1] / ends[0])
    at = float(np.clip(REFERENCE_M, distance.min(), distance.max()))
    reference = math.exp(log_scale) * float(on_axis(emitter(geometry), np.array([at]))[0])
    return LampFit(
        UvReference(reference, at),
        misfit,
        tuple(float(d) for d in deviations),
        float(math.log(uvi[near] / uvi[far]) / decades),
        float(math.log(response[0] / response[1]) / decades),
        None if impossible else other,
        impossible,
    )


def _scaled(geometry: SourceGeometry, distance: Floats, uvi: Floats) -> tuple[float, Floats]:
    """Logarithm of the best strength, and relative deviations from it."""
    offset = np.log(uvi / on_axis(emitter(geometry), distance))
    scale = float(np.mean(offset))
    return scale, np.exp(offset - scale) - 1.0


def _rms(deviations: Floats) -> float:
    return float(np.sqrt(np.mean(deviations**2)))


def _sized(geometry: SourceGeometry, size_m: float) -> SourceGeometry:
    """The same kind of source in another length or diameter."""
    if isinstance(geometry, LineSource):
        return replace(geometry, length_m=size_m)
    if isinstance(geometry, PanelSource):
        return replace(geometry, length_m=size_m, width_m=size_m * geometry.width_m / geometry.length_m)
    return replace(geometry, diameter_m=min(size_m, MOST_DIAMETER_M))
