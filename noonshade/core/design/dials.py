"""Dials turned by half degrees where what is built does a little worse than what was found."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace

import numpy as np

from noonshade.core.assessment.checks import Check
from noonshade.core.design.aims import cost_of, cost_of_values, unfit_in
from noonshade.core.design.regulation import SET_TO_K
from noonshade.core.design.search import computed
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Moment, Plan, Thermostat

# Evaluations at most, and from which cost on a check is worth turning a dial for.
MOST_TRIED = 5
COSTLY = 0.35
# A turn is no larger than this, K.
MOST_TURN_K = 2.0
# Less is not gained by a turn.
GAIN = 0.02


def turned(
    evaluation: Evaluation, dials: Collection[str], spreads: Mapping[str, float] | None = None
) -> Evaluation:
    """The same plan with dials turned to where its checks are more likely met.

    Parameters
    ----------
    evaluation : Evaluation
        Of a plan with thermostats.
    dials : Collection[str]
        Ids of the thermostats that may be turned.
    spreads : Mapping[str, float] or None
        How uncertain figures are where that is known, as ``cost_of`` takes them.

    Returns
    -------
    Evaluation
        Of the plan as turned; the same where no turn helps. None makes a danger, or a surface too hot.
    """
    best, cost, tried = evaluation, cost_of(evaluation, spreads=spreads), 0
    known: set[tuple[Thermostat, ...]] = {evaluation.plan.thermostats}
    while tried < MOST_TRIED:
        better = None
        for plan in _turns(best, dials, spreads or {}):
            if plan.thermostats in known:
                continue
            known.add(plan.thermostats)
            tried += 1
            if tried > MOST_TRIED:
                break
            after = computed(plan, None, best)
            if after is None or unfit_in(after) - unfit_in(best):
                continue
            if cost_of(after, spreads=spreads) < cost - GAIN:
                better = after
                break
        if better is None:
            break
        best, cost = better, cost_of(better, spreads=spreads)
    return best


def _turns(evaluation: Evaluation, dials: Collection[str], spreads: Mapping[str, float]) -> Iterator[Plan]:
    """Plans with one dial turned, for the check that is least likely met first."""
    checks = sorted(
        ((_cost(c, spreads.get(c.id)), c) for c in evaluation.checks if _is_warmth(c)),
        key=lambda one: -one[0],
    )
    plan = evaluation.plan
    for cost, check in checks:
        if cost < COSTLY:
            return
        moment: Moment = "night" if check.need.place == "night" else "day"
        surface = check.need.quantity == "surface_temperature"
        for control in sorted(plan.thermostats, key=lambda t: (t.id == "basking") != surface):
            point = control.day_set_point_c if moment == "day" else control.night_set_point_c
            if control.id not in dials or point is None:
                continue
            for turn in _turns_k(check):
                to = point + turn
                set_to = (
                    replace(control, day_set_point_c=to)
                    if moment == "day"
                    else replace(control, night_set_point_c=to)
                )
                controls = tuple(set_to if t.id == control.id else t for t in plan.thermostats)
                yield replace(plan, thermostats=controls)


def _is_warmth(check: Check) -> bool:
    kinds = ("surface_temperature", "air_temperature", "water_temperature")
    return check.need.quantity in kinds and check.value is not None and not check.need.offered


def _cost(check: Check, spread: float | None) -> float:
    return float(cost_of_values(check.need, np.array([check.value]), check.need.required, spread)[0])


def _turns_k(check: Check) -> tuple[float, ...]:
    """Towards the wanted range: by what is missed, then by one step of a dial."""
    need, value = check.need, check.value or 0.0
    below = -np.inf if need.low is None else need.low - value
    above = -np.inf if need.high is None else value - need.high
    way = SET_TO_K if below > above else -SET_TO_K
    missed = min(max(below, above, 0.0), MOST_TURN_K)
    steps = max(1, int(np.ceil(missed / SET_TO_K)))
    return (steps * way,) if steps == 1 else (steps * way, way)
