"""More water, or once more, where it is sprayed already."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from noonshade.core.assessment.checks import Check
from noonshade.core.design.arrangement import MOST_SPRAY_L_M2
from noonshade.core.fixes.candidate import Candidate, Change
from noonshade.core.phrase import clock
from noonshade.core.plan import Plan

# How many times as much is sprayed. Estimates.
MORE_SPRAY = (1.5, 2.0, 3.0)
# So long after the lamps go off leaves are sprayed once more; sprays are no closer together, h. Estimates.
AFTER_DUSK_H, APART_H = 2.0, 1.5


def more_spray(plan: Plan, check: Check) -> Iterator[Candidate]:
    """More water each time it is sprayed, or one spraying more; nothing where it never is.

    Parameters
    ----------
    plan : Plan
        The plan as it is.
    check : Check
        A humidity that is too low.

    Yields
    ------
    Candidate
        More water first: it is the least work. Leaves hold only so much, so it may not help.
    """
    most = max((m.litres for m in plan.mistings), default=0.0)
    floor = plan.enclosure.length_m * plan.enclosure.depth_m
    for times in MORE_SPRAY:
        if not 0.0 < times * most <= MOST_SPRAY_L_M2 * floor:
            continue
        mistings = tuple(replace(m, litres=round(times * m.litres, 3)) for m in plan.mistings)
        litres = ", ".join(sorted({f"{m.litres:g}" for m in mistings}))
        steps = tuple(Change("plan", "", f"mistings.{i}.litres", m.litres) for i, m in enumerate(mistings))
        yield Candidate(
            replace(plan, mistings=mistings), (f"Spray more: {litres} litres each time",), steps
        )
    yield from _once_more(plan, check)


def _once_more(plan: Plan, check: Check) -> Iterator[Candidate]:
    """One spraying more: after dusk for the night, in the middle of the longest pause for the day."""
    sprays = [(h, i) for i, m in enumerate(plan.mistings) for h in m.hours]
    if not sprays:
        return
    if check.need.place == "night":
        at = round(2.0 * (plan.dusk + AFTER_DUSK_H)) / 2.0 % 24.0
    else:
        ends = sorted({plan.dawn, plan.dusk, *(h for h, _ in sprays if plan.dawn < h < plan.dusk)})
        begin, end = max(pairwise(ends), key=lambda pause: pause[1] - pause[0])
        at = round(begin + end) / 2.0
    if any(min(abs(at - h), 24.0 - abs(at - h)) < APART_H for h, _ in sprays):
        return
    # With as much as is sprayed last before.
    number = min(sprays, key=lambda one: (at - one[0]) % 24.0)[1]
    hours = tuple(sorted((*plan.mistings[number].hours, at)))
    mistings = tuple(replace(m, hours=hours) if i == number else m for i, m in enumerate(plan.mistings))
    yield Candidate(
        replace(plan, mistings=mistings),
        (f"Spray once more, at {clock(at)}",),
        (Change("plan", "", f"mistings.{number}.hours", hours),),
    )
