"""What a design aims at: the chance that every check is met, from the figures alone.

The full spread of a figure is computed by moving every input of the model, which takes seconds; for
comparing thousands of set-ups the usual spread of each quantity stands for it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping

import numpy as np
from numpy.typing import NDArray
from scipy.special import log_ndtr, ndtr

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.status import DAMP_FROM, DRY_UP_TO
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Need, Quantity
from noonshade.core.uncertainty.chances import SURE

Floats = NDArray[np.float64]

# The usual spread (one standard deviation) of a computed figure: K for temperatures, of the logarithm for
# others. From the intervals of the demo enclosures.
SPREAD: dict[Quantity, float] = {
    "surface_temperature": 2.3,
    "air_temperature": 1.0,
    "water_temperature": 1.0,
    "gradient": 0.7,
    "uvi": 0.32,
    "humidity": 0.12,
    "uv_free_share": 0.05,
}
LOGARITHMIC: tuple[Quantity, ...] = ("uvi", "humidity")
# What is offered and not required counts for this much of what is; a danger and a fault beside the figures
# cost as much as checks missed by so many spreads. Estimates.
OFFERED_WEIGHT, OFFERED_MOST = 0.15, 0.6
DANGER_COST, FAULT_COST, CARE_COST = 60.0, 8.0, 0.15
# A need that is missed, by however little, costs so much more; less and less within this share of a spread
# inside its limit. Estimates.
OUTSIDE_COST, EDGE = 1.5, 0.15
# Where the spread itself is known, that step ends at this chance: a little more than a check must have.
SURELY = SURE + 0.03
# A surface this much above its ceiling, K, costs so much more. Estimates.
OVER_K, OVER_COST = 0.5, 4.0
# What the room does by itself, and what thermostats that are still to come correct.
NOT_OURS = ("summer-hot", "uncontrolled", "unmeasured", "idle")
# The room does these by itself; a plan that is to be fixed answers for the rest.
OF_THE_ROOM = ("summer-hot", "summer-unknown", "unmeasured")
_FLOOR = 1e-3


def cost_of_values(
    need: Need, values: Floats, required: bool = True, known_spread: float | None = None
) -> Floats:
    """How unlikely a need is met at some values: minus the logarithm of the chance.

    Parameters
    ----------
    need : Need
        The need.
    values : (n,) float64
        Its figure, in core units.
    required : bool
        Whether the enclosure does not fit without it.
    known_spread : float or None
        One standard deviation of this very figure, in K or of the logarithm as in ``SPREAD``; None for the
        usual one of its quantity.

    Returns
    -------
    (n,) float64
        0 where it is sure to be met, growing with the square of the distance where it is not, with a step
        at a limit: what is in range comes before a little more chance elsewhere.
    """
    spread = SPREAD[need.quantity] if known_spread is None else known_spread
    low, high = need.low, need.high
    if need.quantity in LOGARITHMIC:
        at = np.log(np.maximum(values, _FLOOR))
        low = None if low is None else math.log(max(low, _FLOOR))
        high = None if high is None else math.log(max(high, _FLOOR))
    else:
        at = values
    under = np.full(at.shape, np.inf) if low is None else (at - low) / spread
    above = np.full(at.shape, np.inf) if high is None else (high - at) / spread
    mild_low, mild_high = need.offered or not required, not required
    if need.quantity == "humidity":
        # Air that is drier than a desert animal needs, or damper than one of wet forests, does no harm.
        mild_low = mild_low or (need.high is not None and need.high <= DRY_UP_TO)
        mild_high = mild_high or (need.low is not None and need.low >= DAMP_FROM)
    nearest = np.minimum(np.inf if mild_low else under, np.inf if mild_high else above)
    two_sided = low is not None and high is not None and not mild_low and not mild_high
    inside = np.maximum(ndtr(under) - ndtr(-above), 0.0) if two_sided else ndtr(nearest)
    if known_spread is None:
        outside = OUTSIDE_COST * np.clip(1.0 - nearest / EDGE, 0.0, 1.0)
    else:
        outside = OUTSIDE_COST * np.clip((SURELY - inside) / (SURELY - 0.5), 0.0, 1.0)
    if two_sided:
        both = -np.log(np.maximum(inside, 1e-30))
        far = nearest < -3.0
        return np.asarray(np.where(far, -log_ndtr(nearest), both) + outside, dtype=np.float64)
    return np.asarray(_missed(under, mild_low) + _missed(above, mild_high) + outside, dtype=np.float64)


def chance_of(check: Check, spread: float | None = None) -> float:
    """About how likely a check is met.

    Parameters
    ----------
    check : Check
        The check, with a figure or without.
    spread : float or None
        The known spread of its figure, None for the usual one of its quantity.

    Returns
    -------
    float
        From 0 to 1; 1 without a figure. Below ``SURELY`` it is less than the chance itself, by the step of
        ``cost_of_values``.
    """
    if check.value is None:
        return 1.0
    known = SPREAD[check.need.quantity] if spread is None else spread
    values = np.array([check.value])
    return float(np.exp(-cost_of_values(check.need, values, check.need.required, known)[0]))


def _missed(within: Floats, mild: bool) -> Floats:
    """Minus the logarithm of the chance to be on the right side of a limit; little if that is no fault."""
    cost = -log_ndtr(within)
    return np.asarray(np.minimum(OFFERED_WEIGHT * cost, OFFERED_MOST) if mild else cost)


def _burning(need: Need, values: Floats) -> Floats:
    """What it costs beside the chance that a surface is above its ceiling: better too cool than that."""
    if need.high is None:
        return np.zeros(values.shape)
    return np.asarray(OVER_COST * np.clip((values - need.high) / OVER_K, 0.0, 1.0), dtype=np.float64)


def cost_of_checks(
    checks: Iterable[Check], values: Mapping[str, Floats], spreads: Mapping[str, float] | None = None
) -> Floats:
    """Costs of all checks together at some values.

    Parameters
    ----------
    checks : Iterable[Check]
        The checks, for their needs.
    values : Mapping[str, (n,) float64]
        The values of each, by its id; those without are left out.
    spreads : Mapping[str, float] or None
        Known spreads, by the id of the check.

    Returns
    -------
    (n,) float64
        The sum.
    """
    known = [c for c in checks if c.id in values]
    spread = spreads or {}
    parts = [cost_of_values(c.need, values[c.id], c.need.required, spread.get(c.id)) for c in known]
    parts += [_burning(c.need, values[c.id]) for c in known if c.need.quantity == "surface_temperature"]
    return np.sum(parts, axis=0) if parts else np.zeros(1)


def cost_of_findings(findings: Iterable[Finding], forgiven: tuple[str, ...] = NOT_OURS) -> float:
    """What faults beside the figures cost.

    Parameters
    ----------
    findings : Iterable[Finding]
        Those of an evaluation.
    forgiven : tuple of str
        Kinds that do not count.

    Returns
    -------
    float
        0 or more.
    """
    cost = {"danger": DANGER_COST, "fault": FAULT_COST, "care": CARE_COST, "note": 0.0}
    return sum(cost[f.severity] for f in findings if f.kind not in forgiven)


def failures_of(
    evaluation: Evaluation, forgiven: tuple[str, ...] = OF_THE_ROOM
) -> tuple[Check | Finding, ...]:
    """What fails that a set-up answers for: all but what the room does by itself.

    Parameters
    ----------
    evaluation : Evaluation
        Of a set-up.
    forgiven : tuple of str
        Kinds of findings that do not count.

    Returns
    -------
    tuple[Check | Finding, ...]
        In the order of the evaluation.
    """
    return tuple(f for f in evaluation.failing if not (isinstance(f, Finding) and f.kind in forgiven))


def dangers_of(evaluation: Evaluation) -> set[str]:
    """Ids of the checks and findings that are dangers.

    Parameters
    ----------
    evaluation : Evaluation
        Of a plan.

    Returns
    -------
    set[str]
        Their ids.
    """
    return {one.id for one in failures_of(evaluation) if one.severity == "danger"}


def unfit_in(evaluation: Evaluation) -> set[str]:
    """Dangers, and surfaces above their ceiling.

    Parameters
    ----------
    evaluation : Evaluation
        Of a plan.

    Returns
    -------
    set[str]
        Their ids: with any of them a plan is not proposed.
    """
    hot = {
        c.id for c in evaluation.checks if c.need.quantity == "surface_temperature" and c.status == "high"
    }
    return hot | dangers_of(evaluation)


def cost_of(
    evaluation: Evaluation,
    offsets: Mapping[str, float] | None = None,
    forgiven: tuple[str, ...] = NOT_OURS,
    spreads: Mapping[str, float] | None = None,
) -> float:
    """How far a plan is from being sure to fit.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan.
    offsets : Mapping[str, float] or None
        What figures are off by, by the id of their check, in core units.
    forgiven : tuple of str
        Kinds of findings that do not count.
    spreads : Mapping[str, float] or None
        Known spreads, by the id of the check.

    Returns
    -------
    float
        Minus the logarithm of the chance that every check is met, and what findings cost.
    """
    off = offsets or {}
    values = {
        c.id: np.array([c.value + off.get(c.id, 0.0)]) for c in evaluation.checks if c.value is not None
    }
    missing = sum(c.value is None and c.need.required for c in evaluation.checks)
    dangers = sum(c.severity == "danger" for c in evaluation.checks)
    found = float(cost_of_checks(evaluation.checks, values, spreads)[0])
    return (
        found
        + FAULT_COST * missing
        + DANGER_COST * dangers
        + cost_of_findings(evaluation.findings, forgiven)
    )
