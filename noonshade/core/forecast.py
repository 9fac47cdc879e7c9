"""How a plan fares over the months of the room, and what is due on it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from noonshade.core.care.seasonal_settings import ByMonth, set_for
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.phrase import Phrase
from noonshade.core.plan import Fixture, Plan
from noonshade.core.summary import cause_of, summarize, summarize_year

# A lamp is spoken of when it has so little of its usual life left, days. Estimate: time to buy one.
SOON_DAYS = 42.0

DueKind = Literal["replace_lamp", "replace_lamp_soon", "measure"]


@dataclass(frozen=True, slots=True)
class ForecastMonth:
    """One month, 1 to 12: how much must be fixed (None: no steady climate), and in words.

    ``cause`` is what is wrong then in a word or two, empty if nothing is.
    """

    number: int
    failing: int | None
    description: Phrase
    cause: str = ""


@dataclass(frozen=True, slots=True)
class DueItem:
    """Something to be done about a thing; ``in_days`` from now, negative when it is overdue."""

    kind: DueKind
    about_id: str
    message: str
    in_days: float | None = None


NOTHING_SET = ByMonth()


def forecast_months(plan: Plan, by_month: ByMonth = NOTHING_SET) -> tuple[ForecastMonth, ...]:
    """The plan in each month of its room, set as its year has it; empty if the room has no months.

    Months that are alike are computed once.

    Parameters
    ----------
    plan : Plan
        The plan.
    by_month : ByMonth
        What is set differently in which months.

    Returns
    -------
    tuple[ForecastMonth, ...]
        The plan in each month of its room, everything else as it is.
    """
    known: dict[object, ForecastMonth] = {}
    found = []
    for number, climate in enumerate(plan.room.months, 1):
        there = set_for(replace(plan, room=plan.room.with_climate(climate)), by_month, number)
        key = (
            climate,
            tuple(f.power_w for f in there.fixtures),
            there.thermostats,
            there.mistings,
            there.substrate.wetness,
            there.enclosure.vents,
        )
        if key not in known:
            try:
                result = evaluate(there)
            except ConvergenceError as error:
                known[key] = ForecastMonth(number, None, (str(error),))
            else:
                known[key] = ForecastMonth(number, len(result.failing), summarize(result), cause_of(result))
        found.append(replace(known[key], number=number))
    return tuple(found)


def summary_with_months(evaluation: Evaluation, months: Iterable[ForecastMonth]) -> Phrase:
    """The summary of a plan, with what the months of its room bring.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan as it is now.
    months : Iterable[ForecastMonth]
        Its forecast; none if the room has no months.

    Returns
    -------
    Phrase
        Such as "Fits now; too warm from June to September."
    """
    now = cause_of(evaluation)
    troubles = [(m.number, m.cause) for m in months if m.failing and m.cause != now]
    return summarize_year(summarize(evaluation), troubles, not evaluation.failing)


def lamp_days_left(plan: Plan) -> tuple[tuple[Fixture, float], ...]:
    """UV lamps of a plan and the days until each is usually replaced, negative where it is overdue.

    They follow from its hours and the hours its timer gives it each day; never is infinite.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[tuple[Fixture, float], ...]
        Fixture and days for each; infinite for a lamp that is never on.
    """
    found = []
    for fixture in plan.fixtures:
        ageing = fixture.lamp.ageing
        if ageing is not None and fixture.lamp.uv is not None:
            a_day = fixture.hours_a_day(plan.photoperiod_h)
            found.append((fixture, (ageing.life_h - fixture.hours) / a_day if a_day > 0 else math.inf))
    return tuple(found)


def find_due_items(plan: Plan) -> tuple[DueItem, ...]:
    """What is due on a plan, the most overdue first: lamps at the end of their life, and measuring it.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[DueItem, ...]
        What is due on a plan, the most overdue first.
    """
    found = []
    for fixture, left in lamp_days_left(plan):
        if left <= 0:
            message = f"{fixture.label}: replace it, it has burned {fixture.hours:.0f} h"
            found.append(DueItem("replace_lamp", fixture.id, message, left))
        elif left <= SOON_DAYS:
            weeks = max(1, round(left / 7))
            message = f"{fixture.label}: replace it in about {weeks} week{'s' if weeks > 1 else ''}"
            found.append(DueItem("replace_lamp_soon", fixture.id, message, left))
    found.sort(key=lambda d: d.in_days or 0.0)
    if plan.measured is None:
        found.append(DueItem("measure", "enclosure", "Not measured yet"))
    return tuple(found)
