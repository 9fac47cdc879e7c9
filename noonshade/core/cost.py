"""How long a plan takes to compute: long work goes where it holds nobody up, absurd work is refused."""

from __future__ import annotations

from noonshade.core.errors import PlanError
from noonshade.core.plan import Plan

# Seconds of one evaluation: in any case, per m³ of the enclosure, per fixture, per furnishing, and per pair
# of both (what shades what). From evaluations between 1.2 m with 2 fixtures and 5 m with 30 fixtures and 20
# furnishings, on one core of a machine of 2026; within a factor of 2. Estimate.
_ANY_S, _PER_M3_S, _PER_FIXTURE_S, _PER_FURNISHING_S, _PER_PAIR_S = 0.05, 0.011, 0.010, 0.022, 0.0033
# What one request may take by this estimate, s.
MOST_S = 150.0
# Evaluations that take as long as a simulated day. Estimate.
DAY = 12


def evaluation_s(plan: Plan) -> float:
    """Estimated seconds of one evaluation of a plan on one core.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        Seconds, within about a factor of 2.
    """
    size = plan.enclosure
    volume = size.length_m * size.depth_m * size.height_m
    fixtures, furnishings = len(plan.fixtures), len(plan.furnishings)
    return (
        _ANY_S
        + _PER_M3_S * volume
        + _PER_FIXTURE_S * fixtures
        + _PER_FURNISHING_S * furnishings
        + _PER_PAIR_S * fixtures * furnishings
    )


def refuse_if_costly(plan: Plan, evaluations: float) -> None:
    """Refuse what would take too long.

    Parameters
    ----------
    plan : Plan
        The plan.
    evaluations : float
        As many evaluations as it takes.

    Raises
    ------
    PlanError
        Naming what makes it long, if it would take longer than ``MOST_S``.
    """
    seconds = evaluations * evaluation_s(plan)
    if seconds > MOST_S:
        size = plan.enclosure
        sides = " × ".join(f"{100 * side:.0f}" for side in (size.length_m, size.depth_m, size.height_m))
        raise PlanError(
            "",
            f"{len(plan.fixtures)} fixtures and {len(plan.furnishings)} furnishings in an enclosure of "
            f"{sides} cm would take about {seconds / 60:.0f} minutes to compute, and at most "
            f"{MOST_S / 60:.1f} are allowed; fewer of them take less",
        )
