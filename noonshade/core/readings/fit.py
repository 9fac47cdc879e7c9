"""Fit a plan's multipliers to readings by regularised least squares.

The most probable values v given readings y with standard deviations σ and multipliers with
standard deviations s before any reading minimise

    Σ ρ((y − m(v)) / σ) + Σ (v / s)²

with the full model m, by Gauss and Newton's method with steps that are halved until they help. ρ is
Huber's: a reading far off what physics allows pulls no harder than one at two deviations, and is named.
The spread after the fit is the inverse of the Gauss-Newton matrix (Laplace's approximation).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.plan import Plan
from noonshade.core.readings.multipliers import Multiplier, multipliers_of, with_multipliers
from noonshade.core.readings.reading import Reading, predicted
from noonshade.core.validate import plan_errors

Floats = NDArray[np.float64]

# Beyond so many deviations a reading pulls no harder (Huber 1964 takes 1.345 for normal errors; readings by
# hand have more strays than that). Estimate.
HUBER = 2.0
# A reading still this many deviations off after the fit disagrees with the model. Estimate.
STRAY = 3.0
ROUNDS = 6
# Steps for derivatives, in standard deviations of a multiplier.
STEP = 0.5
_SETTLED = 1e-3
_HALVINGS = 4


class FitError(ValueError):
    """The readings cannot be fitted; the message says why."""


@dataclass(frozen=True, slots=True)
class FittedMultiplier:
    """A multiplier after the fit: ``factor`` of the catalogue's value, or ``value`` added where additive.

    ``sigma_before`` and ``sigma_after`` are standard deviations, of the logarithm where it is a factor.
    """

    multiplier: Multiplier
    value: float
    sigma_before: float
    sigma_after: float

    @property
    def factor(self) -> float:
        """What the catalogue's value is multiplied by; 1 where something is added instead."""
        return 1.0 if self.multiplier.additive else math.exp(self.value)

    @property
    def settled(self) -> bool:
        """Whether the readings say more of it than was known before."""
        return self.sigma_after < 0.7 * self.sigma_before


@dataclass(frozen=True, slots=True)
class Residual:
    """One reading before and after: what was predicted, and how many deviations it still is off."""

    reading: Reading
    before: float
    after: float

    @property
    def deviations(self) -> float:
        """Reading less prediction after the fit, in standard deviations of the reading."""
        return (self.reading.value - self.after) / self.reading.spread

    @property
    def stray(self) -> bool:
        """Whether it disagrees with what the model can do."""
        return abs(self.deviations) > STRAY


@dataclass(frozen=True, slots=True)
class Fit:
    """The plan as readings tell it is, and how well that fits.

    ``covariance`` (k, k) is in the order of the multipliers.
    """

    plan: Plan
    evaluation: Evaluation
    multipliers: tuple[FittedMultiplier, ...]
    residuals: tuple[Residual, ...]
    covariance: Floats
    rounds: int

    @property
    def values(self) -> Mapping[str, float]:
        """Fitted values by multiplier."""
        return {m.multiplier.id: m.value for m in self.multipliers}


def fit(
    plan: Plan,
    readings: tuple[Reading, ...],
    progress: Callable[[int], None] | None = None,
) -> Fit:
    """Fit a plan to readings taken by day, once the box was warm.

    Parameters
    ----------
    plan : Plan
        The plan as the catalogue has it.
    readings : tuple of Reading
    progress : callable, optional
        Called with the number of evaluations done.

    Raises
    ------
    FitError
        Without a reading, or if the plan cannot be computed.
    PlanError
        If a reading lies outside the air of the box.
    """
    if not readings:
        raise FitError("there is no reading to fit")
    known = multipliers_of(plan)
    model = _Model(plan, known, readings, progress)
    v = np.zeros(len(known))
    first = model.at(v)
    if first is None:
        raise FitError("no steady climate is found for the plan as it is")
    before, now = first[1], first
    cost = model.cost(v, now[1])
    rounds, normal = 0, np.diag(1.0 / model.prior**2)
    for _ in range(ROUNDS):
        rounds += 1
        jacobian = model.derivatives(v, now[1])
        normal, gradient = model.step_from(v, now[1], jacobian)
        step: Floats = np.asarray(np.linalg.solve(normal, gradient), dtype=np.float64)
        better = _search(model, v, step, cost)
        if better is None:
            break
        v, now, cost = better
        if np.max(np.abs(step) / model.prior) < _SETTLED:
            break
    covariance: Floats = np.asarray(np.linalg.inv(normal), dtype=np.float64)
    after = np.sqrt(np.diag(covariance))
    return Fit(
        plan=now[0].plan,
        evaluation=now[0],
        multipliers=tuple(
            FittedMultiplier(m, float(v[i]), m.sigma, float(min(after[i], m.sigma)))
            for i, m in enumerate(known)
        ),
        residuals=tuple(Residual(r, float(before[i]), float(now[1][i])) for i, r in enumerate(readings)),
        covariance=covariance,
        rounds=rounds,
    )


def _search(
    model: _Model, v: Floats, step: Floats, cost: float
) -> tuple[Floats, tuple[Evaluation, Floats], float] | None:
    """The first of the step, its half and so on that lowers the cost; None if none does."""
    share = 1.0
    for _ in range(_HALVINGS):
        moved = v + share * step
        found = model.at(moved)
        if found is not None:
            lower = model.cost(moved, found[1])
            if lower < cost - 1e-9:
                return moved, found, lower
        share *= 0.5
    return None


class _Model:
    """Predictions of all readings for values of the multipliers, and the cost of them."""

    def __init__(
        self,
        plan: Plan,
        known: tuple[Multiplier, ...],
        readings: tuple[Reading, ...],
        progress: Callable[[int], None] | None,
    ) -> None:
        self.plan, self.known, self.readings, self.progress = plan, known, readings, progress
        self.prior = np.array([m.sigma for m in known])
        self.value = np.array([r.value for r in readings])
        self.sigma = np.array([r.spread for r in readings])
        self.done = 0

    def at(self, v: Floats) -> tuple[Evaluation, Floats] | None:
        """Evaluation and predictions (r,), or None where there is no steady state."""
        ids = [m.id for m in self.known]
        moved = with_multipliers(self.plan, self.known, dict(zip(ids, v.tolist(), strict=True)))
        if plan_errors(moved):
            return None
        try:
            result = evaluate(moved)
        except ConvergenceError:
            return None
        self.done += 1
        if self.progress is not None:
            self.progress(self.done)
        return result, np.array(predicted(result, self.readings))

    def cost(self, v: Floats, said: Floats) -> float:
        """What is minimised."""
        off = np.abs(self.value - said) / self.sigma
        huber = np.where(off <= HUBER, off**2, 2.0 * HUBER * off - HUBER**2)
        return float(np.sum(huber) + np.sum((v / self.prior) ** 2))

    def derivatives(self, v: Floats, said: Floats) -> Floats:
        """Derivatives (r, k) of the predictions, one multiplier at a time."""
        columns = np.zeros((said.size, v.size))
        for i, sigma in enumerate(self.prior):
            for step in (STEP * sigma, -STEP * sigma):
                moved = v.copy()
                moved[i] += step
                found = self.at(moved)
                if found is not None:
                    columns[:, i] = (found[1] - said) / step
                    break
        return columns

    def step_from(self, v: Floats, said: Floats, jacobian: Floats) -> tuple[Floats, Floats]:
        """Gauss-Newton matrix (k, k) and right side (k,), readings far off weighed down."""
        off = (self.value - said) / self.sigma
        weight = np.where(np.abs(off) <= HUBER, 1.0, HUBER / np.maximum(np.abs(off), 1e-12))
        scaled = jacobian / self.sigma[:, None]
        normal = scaled.T @ (weight[:, None] * scaled) + np.diag(1.0 / self.prior**2)
        gradient: Floats = scaled.T @ (weight * off) - v / self.prior**2
        return normal, gradient
