"""How what the model says of a plan depends on each multiplier: the full model, moved one at a time."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.geometry import COARSE, Resolution
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors
from noonshade.core.uncertainty.measured import covariance_of
from noonshade.core.uncertainty.multipliers import Multiplier, multipliers_of

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Moved:
    """One multiplier set to ``step`` and what the model then says; None where no such plan can be."""

    multiplier: Multiplier
    step: float
    evaluation: Evaluation | None


@dataclass(frozen=True, slots=True)
class Sensitivity:
    """A plan, and the same with each multiplier moved.

    ``covariance`` (k, k) is of the multipliers, in their order: what is known of them, with readings
    where there are any.
    """

    base: Evaluation
    moved: tuple[Moved, ...]
    covariance: Floats

    @property
    def multipliers(self) -> tuple[Multiplier, ...]:
        """The multipliers, in order."""
        return tuple(m.multiplier for m in self.moved)

    def derivatives(self, of: Callable[[Evaluation], Floats]) -> Floats:
        """Derivatives (r, k) of r numbers taken from an evaluation; 0 for what cannot be moved.

        Parameters
        ----------
        of : Callable[[Evaluation], Floats]
            Which figures of an evaluation.

        Returns
        -------
        Floats
            Derivatives (r, k) of r numbers taken from an evaluation.
        """
        base = of(self.base)
        columns = np.zeros((base.size, len(self.moved)))
        for i, one in enumerate(self.moved):
            if one.evaluation is not None:
                columns[:, i] = (of(one.evaluation) - base) / one.step
        return columns


def compute_sensitivity(
    plan: Plan,
    share: float = 1.0,
    resolution: Resolution | None = COARSE,
    progress: Callable[[int], None] | None = None,
    base: Evaluation | None = None,
) -> Sensitivity:
    """Move each multiplier of a plan by a share of its standard deviation.

    Differences hardly depend on the cells, so they are taken on larger ones by default.
    ``base`` is the evaluation of the plan on those cells where it is already known; ``progress`` is
    called with the number of multipliers done.

    Parameters
    ----------
    plan : Plan
        The plan.
    share : float
        Share, 0 to 1.
    resolution : Resolution | None
        How fine the grid is, None for the usual one.
    progress : Callable[[int], None] | None
        Called with how much is done.
    base : Evaluation | None
        An evaluation of the same plan, to save computing it again.

    Returns
    -------
    Sensitivity
        The evaluation of the plan, the moved ones, and the covariance of the multipliers.

    Raises
    ------
    PlanError, ConvergenceError
        As ``evaluate``, of the plan as it is.
    """
    known = multipliers_of(plan)
    found = evaluate(plan, resolution) if base is None else base
    moved = []
    for number, multiplier in enumerate(known, start=1):
        moved.append(_moved(found, multiplier, share * multiplier.sigma, resolution))
        if progress is not None:
            progress(number)
    return Sensitivity(found, tuple(moved), covariance_of(plan, known))


def _moved(base: Evaluation, multiplier: Multiplier, step: float, resolution: Resolution | None) -> Moved:
    """Moved up, or down where that gives no plan."""
    for signed in (step, -step):
        other = multiplier.apply(base.plan, signed)
        if plan_errors(other):
            continue
        try:
            return Moved(multiplier, signed, evaluate(other, resolution, base))
        except ConvergenceError:
            continue
    return Moved(multiplier, step, None)
