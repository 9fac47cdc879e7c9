"""What was found as it is built: with thermostats, in full, and once more where a check is unsure."""

from __future__ import annotations

import math
from dataclasses import replace

from noonshade.core.assessment.checks import Check
from noonshade.core.design.aims import LOGARITHMIC, NOT_OURS, chance_of, cost_of, failures_of
from noonshade.core.design.dials import turned
from noonshade.core.design.lighting import rehung
from noonshade.core.design.regulation import GROUPS, regulate
from noonshade.core.design.search import Found, Search, computed
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors
from noonshade.core.uncertainty.chances import SURE, with_chances
from noonshade.core.uncertainty.intervals import Interval, compute_intervals

# Half the middle 80 % of a normal distribution, in standard deviations.
_EIGHTY = 1.2816
# With the usual spread, a check less likely than this is looked at more closely. Estimate: spreads differ.
DOUBTFUL = 0.72
# Where the animal basks may change with it, and one step may not be enough: so often at most.
MOST_REHUNG = 3
# A cost with known spreads must fall by so much.
GAIN = 0.05


def built(found: Found) -> Evaluation | None:
    """What was found, with thermostats.

    Parameters
    ----------
    found : Found
        Settings of an arrangement.

    Returns
    -------
    Evaluation or None
        In full, of the plan as it is built; None where that cannot be.
    """
    best: tuple[float, Plan] | None = None
    for probe in range(3):
        plan = regulate(found.arrangement, found.values, probe=probe)
        if plan is None or plan_errors(plan):
            continue
        after = computed(plan, near=found.evaluation)
        if after is None:
            continue
        cost = cost_of(after)
        if best is None or cost < best[0] - 0.05:
            best = (cost, plan)
        if cost < found.cost + 0.3:
            break
    if best is None:
        return None
    try:
        evaluation = evaluate(best[1])
    except ConvergenceError:
        return None
    return turned(evaluation, _dials(found))


def _dials(found: Found) -> set[str]:
    """Thermostats that are ours to turn."""
    return set(GROUPS) - {f.thermostat_id for f in found.arrangement.lights if f.thermostat_id}


def rehung_where_better(found: Found, done: Evaluation) -> tuple[Found, Evaluation]:
    """The same with the UV lamp at a better height, where there is one.

    Parameters
    ----------
    found : Found
        Settings of an arrangement.
    done : Evaluation
        As built.

    Returns
    -------
    tuple[Found, Evaluation]
        The better of both.
    """
    for _ in range(MOST_REHUNG):
        arrangement = found.arrangement
        moved = rehung(done, arrangement.site) if arrangement.site.brief.given is None else None
        if moved is None:
            break
        heights = {f.id: f for f in moved}
        lights = tuple(heights.get(f.id, f) for f in arrangement.lights)
        other = replace(found, arrangement=replace(arrangement, lights=lights))
        after = built(other)
        if after is None or cost_of(after) >= cost_of(done):
            break
        found, done = other, after
    return found, done


def offsets_of(found: Found, done: Evaluation) -> dict[str, float]:
    """What figures are off by as found, on large cells and with heaters that burn evenly.

    Parameters
    ----------
    found : Found
        Settings of an arrangement.
    done : Evaluation
        As built.

    Returns
    -------
    dict[str, float]
        By the id of the check, in core units.
    """
    coarse = {c.id: c.value for c in found.evaluation.checks if c.value is not None}
    return {c.id: c.value - coarse[c.id] for c in done.checks if c.value and c.id in coarse}


def surer(found: Found, done: Evaluation) -> tuple[Found, Evaluation]:
    """The same where every check is in range with a chance that is enough, if it can be had.

    The search takes the usual spread of each quantity. Where that leaves a check in doubt, the spreads of
    this very plan are computed, and dials and settings adjusted once more with them.

    Parameters
    ----------
    found : Found
        Settings of an arrangement.
    done : Evaluation
        As built, without chances.

    Returns
    -------
    tuple[Found, Evaluation]
        The surest. Where spreads were computed, its checks have chances.
    """
    if not any(_is_doubtful(c) for c in done.checks) or failures_of(done, NOT_OURS):
        return found, done
    intervals = compute_intervals(done)
    known = with_chances(done, intervals)
    if not known.uncertain:
        return found, known
    spreads = _spreads(done, intervals)
    before = cost_of(done, spreads=spreads)
    best = (found, turned(done, _dials(found), spreads))
    if any(c.need.required and chance_of(c, spreads.get(c.id)) < SURE for c in best[1].checks):
        again = Search(found.arrangement, offsets=offsets_of(found, done), spreads=spreads).run(
            found, rounds=3
        )
        other = None if again is None else built(again)
        if again is not None and other is not None:
            other = turned(other, _dials(again), spreads)
            if cost_of(other, spreads=spreads) < cost_of(best[1], spreads=spreads):
                best = (again, other)
    if failures_of(best[1], NOT_OURS) or cost_of(best[1], spreads=spreads) > before - GAIN:
        return found, known
    return best[0], with_chances(best[1], compute_intervals(best[1]))


def _is_doubtful(check: Check) -> bool:
    return check.need.required and check.status == "ok" and chance_of(check) < DOUBTFUL


def _spreads(evaluation: Evaluation, intervals: tuple[Interval, ...]) -> dict[str, float]:
    """One standard deviation of each checked figure, as ``cost_of`` takes them, by the id of the check."""
    quantities = {c.id: c.need.quantity for c in evaluation.checks}
    found = {}
    for one in intervals:
        low, high = one.low, one.high
        if quantities[one.check_id] in LOGARITHMIC:
            low, high = math.log(max(low, 1e-3)), math.log(max(high, 1e-3))
        if high > low:
            found[one.check_id] = (high - low) / (2 * _EIGHTY)
    return found
