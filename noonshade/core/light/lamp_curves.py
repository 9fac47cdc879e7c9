"""Choosing a lamp: its readings against distance, the distance for a reading, and lamps that fit."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.ageing import REFERENCE_H
from noonshade.core.light.field import strength
from noonshade.core.light.screens import screen_rows
from noonshade.core.light.sources import emitter, on_axis
from noonshade.core.plan import Lamp, Screen

Floats = NDArray[np.float64]

NEAREST_M, FARTHEST_M = 0.05, 1.5
CURVE_POINTS = 59
_PRECISION_M = 5e-4


@dataclass(frozen=True, slots=True)
class LampCondition:
    """How a lamp is looked at: through which screen (or a share measured behind it), and how old."""

    screen: Screen | None = None
    measured: float | None = None
    hours: float = REFERENCE_H


@dataclass(frozen=True, slots=True)
class Curve:
    """Readings straight under a lamp's middle, meter facing it; arrays of shape (n,)."""

    distance_m: Floats
    uvi: Floats
    irradiance_w_m2: Floats


def predict_lamp_readings(
    lamp: Lamp, distance_m: Floats, setting: LampCondition, power_w: float | None = None
) -> Curve:
    """UV index and irradiance of a lamp by itself at distances (n,), m.

    Parameters
    ----------
    lamp : Lamp
        The lamp.
    distance_m : Floats
        Distance from the lamp, m.
    setting : LampCondition
        Screen, measured transmittance and hours of the lamp.
    power_w : float | None
        Power, W.

    Returns
    -------
    Curve
        UV index (n,) and irradiance (n,), W/m².
    """
    source = emitter(lamp.geometry)
    rows, bands = screen_rows(setting.screen, setting.measured)
    response = on_axis(source, distance_m, rows)
    s = strength(lamp, source, power_w or lamp.power_w, setting.hours)
    return Curve(distance_m, s.uvi * bands.uv * response, s.radiant_w * bands.heat_of(lamp) * response)


def lamp_curve(lamp: Lamp, setting: LampCondition, power_w: float | None = None) -> Curve:
    """UV index and irradiance of a lamp at the distances of ``curve_distances``.

    Parameters
    ----------
    lamp : Lamp
        The lamp.
    setting : LampCondition
        Screen, measured transmittance and hours of the lamp.
    power_w : float | None
        Power, W.

    Returns
    -------
    Curve
        UV index and irradiance, W/m², at each of those distances.
    """
    return predict_lamp_readings(lamp, curve_distances(), setting, power_w)


def curve_distances() -> Floats:
    """Distances (n,) of every curve, m: from ``NEAREST_M`` to ``FARTHEST_M`` in equal ratios.

    Returns
    -------
    Floats
        Distances (n,) of every curve, m.
    """
    return np.geomspace(NEAREST_M, FARTHEST_M, CURVE_POINTS)


def distance_for(lamp: Lamp, uvi: float, setting: LampCondition) -> float | None:
    """How far under a lamp its UV index falls to a value, m; None if it does nowhere within the curve.

    Parameters
    ----------
    lamp : Lamp
        The lamp.
    uvi : float
        UV index.
    setting : LampCondition
        Screen, measured transmittance and hours of the lamp.

    Returns
    -------
    float | None
        How far under a lamp its UV index falls to a value, m.

    Raises
    ------
    ValueError
        If the UV index is not above 0.
    """
    if not uvi > 0:
        raise ValueError("the UV index must be above 0")
    if lamp.uv is None:
        return None
    low, high = NEAREST_M, FARTHEST_M
    ends = predict_lamp_readings(lamp, np.array([low, high]), setting).uvi
    if not ends[1] <= uvi <= ends[0]:
        return None
    while high - low > _PRECISION_M:
        middle = (low + high) / 2
        if predict_lamp_readings(lamp, np.array([middle]), setting).uvi[0] > uvi:
            low = middle
        else:
            high = middle
    return (low + high) / 2


@dataclass(frozen=True, slots=True)
class Match:
    """A lamp that gives a wanted UV index at a distance, and what it reads there."""

    lamp: Lamp
    uvi: float


def find_lamps(
    lamps: Iterable[Lamp], low: float, high: float, distance_m: float, setting: LampCondition
) -> tuple[Match, ...]:
    """Lamps whose UV index at a distance lies in a range, nearest to its middle first.

    Parameters
    ----------
    lamps : Iterable[Lamp]
        The lamps.
    low : float
        Lower limit.
    high : float
        Upper limit.
    distance_m : float
        Distance from the lamp, m.
    setting : LampCondition
        Screen, measured transmittance and hours of the lamp.

    Returns
    -------
    tuple[Match, ...]
        The lamps with their UV index there.

    Raises
    ------
    ValueError
        If the range is empty.
    """
    if low > high:
        raise ValueError("the lower UV index must not be above the upper one")
    found = []
    for lamp in lamps:
        if lamp.uv is not None:
            uvi = float(predict_lamp_readings(lamp, np.array([distance_m]), setting).uvi[0])
            if low <= uvi <= high:
                found.append(Match(lamp, uvi))
    middle = (low + high) / 2
    return tuple(sorted(found, key=lambda m: (abs(m.uvi - middle), m.lamp.label)))
