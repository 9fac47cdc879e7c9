"""How far each checked figure may be off, and how likely it meets its need.

What goes into the model has spreads: samples of a lamp differ, walls and draughts are guessed, rooms
swing. Each multiplier is moved one at a time with the full model; many seeded draws of all together go
through these effects, added for temperatures and multiplied for everything that cannot be negative, and
so does what the model leaves out.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.model import SHARES
from noonshade.core.uncertainty import left_out
from noonshade.core.uncertainty.sensitivity import Sensitivity, sensitivity
from noonshade.core.verdict.checks import Verdict

Floats = NDArray[np.float64]

DRAWS = 600
SEED = 20260
# Quantities whose effects add up; those of others multiply.
ADDITIVE = ("surface_temperature", "air_temperature")
LEFT_OUT = "what the model leaves out"
# Largest spread of a logarithm that is taken for what is left out. Estimate.
_MOST_LOG = 1.0


@dataclass(frozen=True, slots=True)
class Interval:
    """The middle 80 % of what a verdict's figure may be, and the probability that its need is met.

    ``causes`` are the inputs that matter most, with the share of the spread each makes, largest first.
    """

    verdict_id: str
    low: float
    high: float
    probability: float
    causes: tuple[tuple[str, float], ...]


def effects(known: Sensitivity) -> Floats:
    """What each multiplier moved by 1 does to each verdict's figure, (k, v).

    Differences in the figure's unit for temperatures, logarithms of ratios otherwise; 0 where there is no
    figure, or where the moved plan cannot be built.
    """
    base = known.base.verdicts
    rows = np.zeros((len(known.moved), len(base)))
    for row, one in zip(rows, known.moved, strict=True):
        after = {} if one.evaluation is None else {v.id: v.value for v in one.evaluation.verdicts}
        for i, verdict in enumerate(base):
            row[i] = _effect(verdict, after.get(verdict.id)) / one.step
    return rows


def _effect(verdict: Verdict, moved: float | None) -> float:
    if verdict.value is None or moved is None:
        return 0.0
    if verdict.need.quantity in ADDITIVE:
        return moved - verdict.value
    if verdict.value <= 1e-9 or moved <= 1e-9:
        return 0.0
    return math.log(moved / verdict.value)


def intervals(
    evaluation: Evaluation,
    draws: int = DRAWS,
    seed: int = SEED,
    progress: Callable[[int], None] | None = None,
    known: Sensitivity | None = None,
) -> tuple[Interval, ...]:
    """Interval and probability of every verdict that has a figure.

    Parameters
    ----------
    evaluation : Evaluation
    draws : int
    seed : int
        The same seed gives the same result.
    progress : callable, optional
        Called with the number of inputs done.
    known : Sensitivity, optional
        That of the evaluation's plan, where it was made already.
    """
    if known is None:
        known = sensitivity(evaluation.plan, progress=progress)
    moved = effects(known)
    assert moved.shape[1] == len(evaluation.verdicts)
    rng = np.random.default_rng(seed)
    # The last column is for what the model leaves out, of each figure on its own.
    drawn = rng.standard_normal((draws, len(known.moved) + len(evaluation.verdicts)))
    multipliers = drawn[:, : len(known.moved)] @ _root(known.covariance).T
    names = (*(m.label for m in known.multipliers), LEFT_OUT)
    found = []
    for i, verdict in enumerate(evaluation.verdicts):
        if verdict.value is None:
            continue
        beside = _left_out(verdict, verdict.value, evaluation.day.room_c)
        shift = multipliers @ moved[:, i] + beside * drawn[:, len(known.moved) + i]
        values = _drawn(verdict, shift)
        low, high = np.percentile(values, [10.0, 90.0])
        # Shares by what each adds to the variance; what readings have tied together is shared out.
        variance = np.append(moved[:, i] * (known.covariance @ moved[:, i]), beside**2)
        total = float(variance.sum())
        order = np.argsort(variance)[::-1][:3]
        causes = [(names[k], float(variance[k] / total)) for k in order] if total > 0 else []
        found.append(
            Interval(
                verdict.id,
                float(low),
                float(high),
                float(np.mean(_meets(verdict, values))),
                tuple((name, share) for name, share in causes if share >= 0.05),
            )
        )
    return tuple(found)


def _root(covariance: Floats) -> Floats:
    """A matrix whose square is the covariance, which may be singular."""
    values, vectors = np.linalg.eigh(covariance)
    root: Floats = vectors * np.sqrt(np.maximum(values, 0.0))
    return root


def _left_out(verdict: Verdict, value: float, room_c: float) -> float:
    """Spread of what the model leaves out of a figure, as its effects are counted."""
    quantity = verdict.need.quantity
    if quantity in ADDITIVE:
        return left_out.of_temperature(value, room_c)
    if value <= 1e-9:
        return 0.0
    if quantity == "uvi":
        off = left_out.of_uvi(value)
    else:
        off = left_out.HUMIDITY if quantity == "humidity" else left_out.UV_FREE
    # Next to nothing may be a few times as much, not any number of times.
    return min(off / value, _MOST_LOG)


def _drawn(verdict: Verdict, shift: Floats) -> Floats:
    assert verdict.value is not None
    if verdict.need.quantity in ADDITIVE:
        return verdict.value + shift
    values: Floats = verdict.value * np.exp(shift)
    if verdict.need.quantity in SHARES:
        values = np.minimum(values, 1.0)
    return values


def _meets(verdict: Verdict, values: Floats) -> NDArray[np.bool_]:
    low = -math.inf if verdict.need.low is None else verdict.need.low
    high = math.inf if verdict.need.high is None else verdict.need.high
    return np.asarray((values >= low) & (values <= high))


def carried_over(interval: Interval, verdict: Verdict, value: float, room_c: float) -> tuple[float, float]:
    """An interval for another value of the same figure, such as a mend leads to.

    In proportion to the figure, or for temperatures to how far they are above the room.
    """
    assert verdict.value is not None
    if verdict.need.quantity in ADDITIVE:
        rise = verdict.value - room_c
        factor = min(max((value - room_c) / rise, 0.2), 3.0) if abs(rise) > 0.5 else 1.0
        return (
            value + factor * (interval.low - verdict.value),
            value + factor * (interval.high - verdict.value),
        )
    if verdict.value <= 1e-9:
        return value, value
    return value * interval.low / verdict.value, value * interval.high / verdict.value
