"""Lamps as things: what they burned, what they still give, and when a plan no longer meets its UV need."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import pairwise

from noonshade.core.assessment.checks import Check
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.light.ageing import uv_share
from noonshade.core.plan import Ageing, Plan
from noonshade.core.uncertainty.measured import AGEING_SHARE
from noonshade.core.uncertainty.multipliers import HALF_80

# How far ahead is searched for when a plan stops meeting its need, days.
LOOK_AHEAD_DAYS = 3 * 365
# To how many days the day is found: lamps fall by about a per cent a month.
WITHIN_DAYS = 3


@dataclass(frozen=True, slots=True)
class Installation:
    """Where a lamp hung, from a day to a day; ``end`` None while it hangs there still."""

    plan_id: str
    fixture_id: str
    begin: date
    end: date | None = None


@dataclass(frozen=True, slots=True)
class LampOutput:
    """UV a lamp gives against what such a lamp gave after 100 h, with the middle 80 % of what it may be."""

    share: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class UvShortfall:
    """When a UV need is no longer met: the most likely day, and the middle 80 % of the days it may be.

    A day of None lies beyond three years. ``short_now`` where it is not met today.
    """

    check_id: str
    need_low: float
    value: float
    day: date | None
    earliest: date | None
    latest: date | None
    short_now: bool


def hours_burned(installation: Installation, steps: Sequence[tuple[date, float]], until: date) -> float:
    """Hours a lamp burned while it hung, up to the beginning of a day.

    Parameters
    ----------
    installation : Installation
        Where and when the lamp was installed.
    steps : sequence of (date, float)
        From which day on its timer gave how many hours a day, rising; before the first, as on the first.
    until : date
        The day up to which it is counted.

    Returns
    -------
    float
        The hours, h.
    """
    end = until if installation.end is None else min(until, installation.end)
    if not steps or end <= installation.begin:
        return 0.0
    days = [installation.begin, *(day for day, _ in steps if installation.begin < day < end), end]
    total = 0.0
    for first, last in pairwise(days):
        a_day = next((h for day, h in reversed(steps) if day <= first), steps[0][1])
        total += a_day * (last - first).days
    return total


def lamp_output(ageing: Ageing | None, hours: float) -> LampOutput:
    """What a lamp still gives after a number of hours; how far it fell is uncertain by a half.

    Parameters
    ----------
    ageing : Ageing | None
        How the lamp's output falls.
    hours : float
        Hours the lamp has burned, or those by fixture.

    Returns
    -------
    LampOutput
        What a lamp still gives after a number of hours.
    """
    share = uv_share(ageing, hours)
    spread = HALF_80 * AGEING_SHARE * abs(math.log(share))
    return LampOutput(share, share * math.exp(-spread), share * math.exp(spread))


def with_hours(plan: Plan, days: float) -> Plan:
    """The plan a number of days on, its lamps having burned by their timers.

    Parameters
    ----------
    plan : Plan
        The plan.
    days : float
        Days.

    Returns
    -------
    Plan
        The plan.
    """
    fixtures = tuple(
        replace(f, hours=f.hours + days * f.hours_a_day(plan.photoperiod_h)) for f in plan.fixtures
    )
    return replace(plan, fixtures=fixtures)


def uv_need(evaluation: Evaluation) -> Check | None:
    """The check on the UV an animal must have at the basking spot, None if it need have none.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    Check | None
        The check, or None if no UV is required.
    """
    return next(
        (
            v
            for v in evaluation.checks
            if v.need.place == "basking"
            and v.need.quantity == "uvi"
            and v.need.low is not None
            and not v.need.offered
            and v.value is not None
        ),
        None,
    )


def find_uv_shortfall(
    evaluation: Evaluation, today: date, spread: tuple[float, float] = (0.0, 0.0)
) -> UvShortfall | None:
    """When the plan stops meeting the UV its animal needs, everything but its lamps' age as it is.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan with its lamps as they are today.
    today : date
        The day the search begins.
    spread : (float, float)
        Logarithms of the ends of the figure's middle 80 % against its value: below 0, above 0.

    Returns
    -------
    UvShortfall or None
        None for an animal that needs no UV, or where nothing ages.
    """
    check = uv_need(evaluation)
    plan = evaluation.plan
    ages = any(f.lamp.uv is not None and f.lamp.ageing is not None for f in plan.fixtures)
    if check is None or check.value is None or check.need.low is None or not ages:
        return None
    known: dict[int, float] = {0: check.value}

    def value(days: int) -> float:
        if days not in known:
            later = evaluate(with_hours(plan, days))
            found = next(v.value for v in later.checks if v.id == check.id)
            known[days] = 0.0 if found is None else found
        return known[days]

    def falls_short(factor: float) -> date | None:
        low, high = 0, LOOK_AHEAD_DAYS
        assert check.need.low is not None
        if value(0) * factor < check.need.low:
            return today
        if value(high) * factor >= check.need.low:
            return None
        while high - low > WITHIN_DAYS:
            middle = (low + high) // 2
            low, high = (middle, high) if value(middle) * factor >= check.need.low else (low, middle)
        return today + timedelta(days=high)

    below, above = spread
    return UvShortfall(
        check.id,
        check.need.low,
        check.value,
        falls_short(1.0),
        falls_short(math.exp(below)),
        falls_short(math.exp(above)),
        check.value < check.need.low,
    )
