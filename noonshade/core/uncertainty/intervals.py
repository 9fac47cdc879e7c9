"""How far each checked figure may be off, and how likely it meets its need.

What goes into the model has spreads: samples of a lamp differ, walls and draughts are guessed, rooms
swing. Each multiplier is moved one at a time with the full model; many seeded draws of all together go
through these effects, added for temperatures and multiplied for everything that cannot be negative, and
so do effects the model does not include.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.status import RESOLUTION, is_harmless
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import SHARES
from noonshade.core.plan import Point
from noonshade.core.uncertainty import structural_error
from noonshade.core.uncertainty.sensitivity import Sensitivity, compute_sensitivity

Floats = NDArray[np.float64]

DRAWS = 600
SEED = 20260
# Quantities whose effects add up; those of others multiply.
ADDITIVE = ("surface_temperature", "air_temperature", "water_temperature", "gradient")
STRUCTURAL = "effects the model does not include"
WHERE = "where it is warmest"
# Largest spread of a logarithm that is taken for what the model leaves aside. Estimate.
_MOST_LOG = 1.0


@dataclass(frozen=True, slots=True)
class Interval:
    """The middle 80 % of what a check's figure may be, and the probability that its need is met.

    ``causes`` are the inputs that matter most, with the share of the spread each makes, largest first.
    """

    check_id: str
    low: float
    high: float
    probability: float
    causes: tuple[tuple[str, float], ...]


def main_effects(known: Sensitivity) -> Floats:
    """What each multiplier moved by 1 does to each check's figure, (k, v).

    Differences in the figure's unit for temperatures, logarithms of ratios otherwise; 0 where there is no
    figure, or where the moved plan cannot be built. UV is taken where the plan itself has the place: that
    another point comes out a tenth of a degree warmer is no effect that grows with the multiplier.

    Parameters
    ----------
    known : Sensitivity
        How figures depend on the multipliers.

    Returns
    -------
    Floats
        The changes (k, v) for multipliers k and checks v.
    """
    base = known.base.checks
    rows = np.zeros((len(known.moved), len(base)))
    for row, one in zip(rows, known.moved, strict=True):
        if one.evaluation is None:
            continue
        after = {v.id: v.value for v in one.evaluation.checks}
        for i, check in enumerate(base):
            at = _warmest(known.base, check)
            moved = after.get(check.id) if at is None else _uvi_at(one.evaluation, at)
            row[i] = _effect(check, moved) / one.step
    return rows


def elsewhere(known: Sensitivity, check: Check) -> Floats:
    """What the UV of a place is where else it may be, being the warmest of many points.

    Parameters
    ----------
    known : Sensitivity
        How figures depend on the multipliers.
    check : Check
        One of the base's checks.

    Returns
    -------
    Floats
        Logarithms of ratios to the figure, 0 among them; only 0 for figures that no such choice makes.
    """
    at = _warmest(known.base, check)
    if at is None or not check.value:
        return np.zeros(1)
    found = {at}
    for one in known.moved:
        if one.evaluation is not None:
            found.add(_warmest(one.evaluation, check) or at)
    there = np.maximum(known.base.scene.at(np.array(sorted(found))).uvi_level, 1e-9)
    ratios: Floats = np.log(there / max(_uvi_at(known.base, at), 1e-9))
    return ratios


def _warmest(evaluation: Evaluation, check: Check) -> Point | None:
    """Where a place is that is the warmest of many points; None for figures that do not hang on it."""
    if check.need.quantity != "uvi" or check.need.place != "basking":
        return None
    return next((p.position_m for p in evaluation.places if p.id == check.place_id), None)


def _uvi_at(evaluation: Evaluation, at: Point) -> float:
    return float(evaluation.scene.at(np.array([at])).uvi_level[0])


def _effect(check: Check, moved: float | None) -> float:
    if check.value is None or moved is None:
        return 0.0
    if check.need.quantity in ADDITIVE:
        return moved - check.value
    if check.value <= 1e-9 or moved <= 1e-9:
        return 0.0
    return math.log(moved / check.value)


def compute_intervals(
    evaluation: Evaluation,
    draws: int = DRAWS,
    seed: int = SEED,
    progress: Callable[[int], None] | None = None,
    known: Sensitivity | None = None,
) -> tuple[Interval, ...]:
    """Interval and probability of every check that has a figure.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    draws : int
        How many draws.
    seed : int
        The same seed gives the same result.
    progress : callable, optional
        Called with the number of inputs done.
    known : Sensitivity, optional
        That of the evaluation's plan, where it was made already.

    Returns
    -------
    tuple[Interval, ...]
        The 80 % interval, the chance of being in range and the main uncertainty of each check.
    """
    if known is None:
        known = compute_sensitivity(evaluation.plan, progress=progress)
    moved = main_effects(known)
    assert moved.shape[1] == len(evaluation.checks)
    rng = np.random.default_rng(seed)
    # The last column is for effects the model does not include, of each figure on its own.
    drawn = rng.standard_normal((draws, len(known.moved) + len(evaluation.checks)))
    multipliers = drawn[:, : len(known.moved)] @ _root(known.covariance).T
    names = (*(m.label for m in known.multipliers), STRUCTURAL, WHERE)
    choices = np.random.default_rng(seed + 1)
    found = []
    for i, check in enumerate(evaluation.checks):
        if check.value is None:
            continue
        beside = _structural_spread(check, check.value, evaluation.day.room_c)
        shift = multipliers @ moved[:, i] + beside * drawn[:, len(known.moved) + i]
        may_be = elsewhere(known, known.base.checks[i])
        shift += choices.choice(may_be, draws)
        values = _drawn(check, shift)
        low, high = np.percentile(values, [10.0, 90.0])
        # Shares by what each adds to the variance; what readings have tied together is shared out.
        of_multipliers = moved[:, i] * (known.covariance @ moved[:, i])
        variance = np.array([*of_multipliers, beside**2, float(np.var(may_be))])
        total = float(variance.sum())
        order = np.argsort(variance)[::-1][:3]
        causes = [(names[k], float(variance[k] / total)) for k in order] if total > 0 else []
        found.append(
            Interval(
                check.id,
                float(low),
                float(high),
                float(np.mean(_meets(check, values))),
                tuple((name, share) for name, share in causes if share >= 0.05),
            )
        )
    return tuple(found)


def _root(covariance: Floats) -> Floats:
    """A matrix whose square is the covariance, which may be singular."""
    values, vectors = np.linalg.eigh(covariance)
    root: Floats = vectors * np.sqrt(np.maximum(values, 0.0))
    return root


def _structural_spread(check: Check, value: float, room_c: float) -> float:
    """Spread of a figure from effects the model does not include."""
    quantity = check.need.quantity
    if quantity == "gradient":
        return structural_error.of_temperature(room_c + value, room_c, False)
    if quantity in ADDITIVE:
        return structural_error.of_temperature(value, room_c, quantity == "surface_temperature")
    if value <= 1e-9:
        return 0.0
    if quantity == "uvi":
        off = structural_error.of_uvi(value)
    else:
        off = structural_error.HUMIDITY if quantity == "humidity" else structural_error.UV_FREE
    # Next to nothing may be a few times as much, not any number of times.
    return min(off / value, _MOST_LOG)


def _drawn(check: Check, shift: Floats) -> Floats:
    assert check.value is not None
    if check.need.quantity in ADDITIVE:
        return check.value + shift
    values: Floats = check.value * np.exp(shift)
    if check.need.quantity in SHARES:
        values = np.minimum(values, 1.0)
    return values


def _meets(check: Check, values: Floats) -> NDArray[np.bool_]:
    """Whether values are in range, or off to the side that does no harm."""
    need = check.need
    slack = RESOLUTION[need.quantity]
    low = -math.inf if need.low is None or is_harmless(need, "low") else need.low - slack
    high = math.inf if need.high is None or is_harmless(need, "high") else need.high + slack
    return np.asarray((values >= low) & (values <= high))


def carried_over(interval: Interval, check: Check, value: float, room_c: float) -> tuple[float, float]:
    """An interval for another value of the same figure, such as a fix leads to.

    In proportion to the figure, or for temperatures to how far they are above the room.

    Parameters
    ----------
    interval : Interval
        The interval.
    check : Check
        The check.
    value : float
        The value, in core units.
    room_c : float
        Temperature of the room, °C.

    Returns
    -------
    tuple[float, float]
        Low and high end, in the figure's unit.
    """
    assert check.value is not None
    if check.need.quantity in ADDITIVE:
        room_c = 0.0 if check.need.quantity == "gradient" else room_c
        rise = check.value - room_c
        factor = min(max((value - room_c) / rise, 0.2), 3.0) if abs(rise) > 0.5 else 1.0
        return (
            value + factor * (interval.low - check.value),
            value + factor * (interval.high - check.value),
        )
    if check.value <= 1e-9:
        return value, value
    low, high = value * interval.low / check.value, value * interval.high / check.value
    if check.need.quantity in SHARES:
        return min(low, 1.0), min(high, 1.0)
    return low, high
