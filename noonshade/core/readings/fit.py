"""Fit a plan's multipliers to readings by regularised least squares.

The most probable multipliers v and instrument biases b given readings y minimise

    Σ ρ((y − m(v) − a b) / σ) + Σ (v / s)² + Σ (b / t)²

with the full model m, standard deviations s of the multipliers and t of the biases before any reading, σ of
each reading about both, and a = 1, or for UV the predicted index, since a meter is off by a share. By Gauss
and Newton's method with steps that are halved until they help. ρ is Huber's: a reading far off what physics
allows pulls no harder than one at two deviations, and is named. The spread after the fit is the inverse of
the Gauss-Newton matrix (Laplace's approximation), widened where readings and model part (Birge's ratio).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors
from noonshade.core.readings.instrument import InstrumentKind
from noonshade.core.readings.reading import Reading, predict_values
from noonshade.core.uncertainty.measured import Fitted, FittedValue, hours_of
from noonshade.core.uncertainty.multipliers import Multiplier, multipliers_of, with_multipliers
from noonshade.core.uncertainty.sensitivity import compute_sensitivity

Floats = NDArray[np.float64]

# Beyond this number of deviations a reading pulls no harder (Huber 1964 takes 1.345 for normal errors;
# readings by hand have more strays than that). Estimate.
HUBER = 2.0
# A reading still this many deviations off after the fit disagrees with the model. Estimate.
STRAY = 3.0
ROUNDS = 6
# Steps for derivatives, in standard deviations of a multiplier.
STEP = 0.5
# A multiplier whose spread falls to less than this share was settled by the readings. Estimate.
SETTLED_BELOW = 0.7
# Done when no step is longer than this, in standard deviations before any reading.
_SETTLED = 0.01
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
        return self.sigma_after < SETTLED_BELOW * self.sigma_before


@dataclass(frozen=True, slots=True)
class Bias:
    """How far an instrument seems to be off: K, a share for UV, or of humidity 1; its spreads likewise."""

    instrument: str
    kind: InstrumentKind
    value: float
    sigma_before: float
    sigma_after: float


@dataclass(frozen=True, slots=True)
class Residual:
    """One reading before and after: what was predicted, and how many deviations it still is off.

    ``after`` holds the instrument's bias, as the fit sees it; ``sigma`` is of the reading about it.
    """

    reading: Reading
    before: float
    after: float
    sigma: float

    @property
    def deviations(self) -> float:
        """Reading less prediction after the fit, in standard deviations of the reading."""
        return (self.reading.value - self.after) / self.sigma

    @property
    def stray(self) -> bool:
        """Whether it disagrees with what the model can do."""
        return abs(self.deviations) > STRAY


@dataclass(frozen=True, slots=True)
class Fit:
    """The plan as readings tell it is, and how well that fits.

    ``covariance`` (k, k) is of the multipliers, in their order. ``misfit`` is the root mean square of the
    readings' deviations, about 1 or less for a model that holds; above 1 the spreads are wider by it.
    """

    plan: Plan
    evaluation: Evaluation
    multipliers: tuple[FittedMultiplier, ...]
    biases: tuple[Bias, ...]
    residuals: tuple[Residual, ...]
    covariance: Floats
    misfit: float
    rounds: int

    @property
    def values(self) -> Mapping[str, float]:
        """Fitted values by multiplier."""
        return {m.multiplier.id: m.value for m in self.multipliers}


def fit_readings(
    plan: Plan,
    readings: tuple[Reading, ...],
    progress: Callable[[int], None] | None = None,
) -> Fit:
    """Fit a plan to readings taken by day, once the enclosure was warm.

    Parameters
    ----------
    plan : Plan
        The plan as the catalogue has it.
    readings : tuple of Reading
        The readings.
    progress : callable, optional
        Called with the number of evaluations done.

    Returns
    -------
    Fit
        The fitted multipliers with their covariance, biases, residuals and misfit.

    Raises
    ------
    FitError
        Without a reading, or if the plan cannot be computed.
    PlanError
        If a reading lies outside the air of the enclosure.
    """
    if not readings:
        raise FitError("there is no reading to fit")
    plan = replace(plan, measured=None)
    model = _Model(plan, readings, progress)
    at = np.zeros(model.prior.size)
    first = model.at(at)
    if first is None:
        raise FitError("no steady climate is found for the plan as it is")
    before, now = first.said, first
    cost = model.cost(at, now)
    rounds, normal = 0, np.diag(1.0 / model.prior**2)
    for _ in range(ROUNDS):
        rounds += 1
        normal, gradient = model.equations(at, now)
        step: Floats = np.asarray(np.linalg.solve(normal, gradient), dtype=np.float64)
        better = _search(model, at, step, cost)
        if better is None:
            break
        at, now, cost = better
        if np.max(np.abs(step) / model.prior) < _SETTLED:
            break
    covariance: Floats = np.asarray(np.linalg.inv(normal), dtype=np.float64)
    misfit = model.misfit(now)
    covariance = 0.5 * (covariance + covariance.T) * max(1.0, misfit) ** 2
    after = np.minimum(np.sqrt(np.diag(covariance)), model.prior)
    count = len(model.known)
    return Fit(
        plan=now.evaluation.plan,
        evaluation=now.evaluation,
        multipliers=tuple(
            FittedMultiplier(m, float(at[i]), m.sigma, float(after[i])) for i, m in enumerate(model.known)
        ),
        biases=tuple(
            Bias(name, model.kinds[name], float(at[i]), float(model.prior[i]), float(after[i]))
            for i, name in enumerate(model.instruments, start=count)
        ),
        residuals=tuple(
            Residual(r, *(float(x[i]) for x in (before, now.read, now.sigma)))
            for i, r in enumerate(readings)
        ),
        covariance=covariance[:count, :count],
        misfit=misfit,
        rounds=rounds,
    )


def fitted_values(found: Fit, catalogue: Plan, on: str, measured_checks: tuple[str, ...] = ()) -> Fitted:
    """The form of a fit that is stored with the plan: each value, what it was found on and on which day.

    ``catalogue`` is the plan that was fitted; ``measured_checks`` as in ``Fitted``.

    Parameters
    ----------
    found : Fit
        The fit.
    catalogue : Plan
        The plan before the fit.
    on : str
        Day of the last reading, ISO 8601.
    measured_checks : tuple[str, ...]
        Checks whose figure was read.

    Returns
    -------
    Fitted
        The values, their covariance and what each was found on.
    """
    hours = hours_of(catalogue)
    return Fitted(
        on,
        tuple(
            FittedValue(m.multiplier.id, m.multiplier.about, m.value, hours.get(m.multiplier.id))
            for m in found.multipliers
        ),
        tuple(tuple(float(x) for x in row) for row in found.covariance),
        measured_checks,
    )


@dataclass(frozen=True, slots=True)
class _State:
    """The model at some values: predictions without and with biases, and spreads of readings about them."""

    evaluation: Evaluation
    said: Floats
    read: Floats
    sigma: Floats


def _search(model: _Model, at: Floats, step: Floats, cost: float) -> tuple[Floats, _State, float] | None:
    """The first of the step, its half and so on that lowers the cost; None if none does."""
    share = 1.0
    for _ in range(_HALVINGS):
        moved = at + share * step
        found = model.at(moved)
        if found is not None:
            lower = model.cost(moved, found)
            if lower < cost - 1e-9:
                return moved, found, lower
        share *= 0.5
    return None


class _Model:
    """Predictions of all readings for values of multipliers and biases, and the cost of them."""

    def __init__(
        self, plan: Plan, readings: tuple[Reading, ...], progress: Callable[[int], None] | None
    ) -> None:
        self.plan, self.readings, self.progress = plan, readings, progress
        self.known: tuple[Multiplier, ...] = multipliers_of(plan)
        self.instruments = tuple(dict.fromkeys(r.instrument_key for r in readings))
        self.kinds = {r.instrument_key: r.of for r in readings}
        spread = {r.instrument_key: r.trusted.bias for r in readings}
        self.prior = np.array([m.sigma for m in self.known] + [spread[i] for i in self.instruments])
        self.value = np.array([r.value for r in readings])
        self.sigma: Floats | None = None
        self.done = 0

    def at(self, values: Floats) -> _State | None:
        """The model there; None where there is no steady state."""
        moved = self._plan(values)
        if plan_errors(moved):
            return None
        try:
            result = evaluate(moved)
        except ConvergenceError:
            return None
        self._tick()
        said = predict_values(result, self.readings)
        if self.sigma is None:
            # Held fast through the fit, or a prediction could make its readings cheap by growing.
            room = result.day.room_c
            pairs = zip(self.readings, self.value.tolist(), strict=True)
            self.sigma = np.array([r.own_sigma(value, room) for r, value in pairs])
        return _State(result, said, said + self._slopes(said) @ values[len(self.known) :], self.sigma)

    def _plan(self, values: Floats) -> Plan:
        ids = [m.id for m in self.known]
        found = dict(zip(ids, values[: len(ids)].tolist(), strict=True))
        return with_multipliers(self.plan, self.known, found)

    def _tick(self) -> None:
        self.done += 1
        if self.progress is not None:
            self.progress(self.done)

    def _slopes(self, said: Floats) -> Floats:
        """What each instrument's bias does to each reading (r, i)."""
        found = np.zeros((len(self.readings), len(self.instruments)))
        for i, reading in enumerate(self.readings):
            found[i, self.instruments.index(reading.instrument_key)] = reading.bias_slope(float(said[i]))
        return found

    def cost(self, at: Floats, state: _State) -> float:
        """What is minimised."""
        off = np.abs(self.value - state.read) / state.sigma
        huber = np.where(off <= HUBER, off**2, 2.0 * HUBER * off - HUBER**2)
        return float(np.sum(huber) + np.sum((at / self.prior) ** 2))

    def misfit(self, state: _State) -> float:
        """Root mean square of the readings' deviations, those far off counted as two."""
        off = np.minimum(np.abs(self.value - state.read) / state.sigma, HUBER)
        return float(np.sqrt(np.mean(off**2)))

    def equations(self, at: Floats, state: _State) -> tuple[Floats, Floats]:
        """Gauss-Newton matrix (p, p) and right side (p,), readings far off weighed down."""
        moved = compute_sensitivity(
            self._plan(at), STEP, None, lambda _: self._tick(), base=state.evaluation
        ).derivatives(lambda e: predict_values(e, self.readings))
        jacobian = np.hstack([moved, self._slopes(state.said)])
        off = (self.value - state.read) / state.sigma
        weight = np.where(np.abs(off) <= HUBER, 1.0, HUBER / np.maximum(np.abs(off), 1e-12))
        rows = jacobian / state.sigma[:, None]
        matrix = rows.T @ (weight[:, None] * rows) + np.diag(1.0 / self.prior**2)
        return matrix, rows.T @ (weight * off) - at / self.prior**2
