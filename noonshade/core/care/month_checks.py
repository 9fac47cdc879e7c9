"""The year of an enclosure against its room: limits of the room, and failing months with a fix."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from noonshade.core.assessment.checks import SEVERITIES, Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.wording import above_ceiling
from noonshade.core.care.year import (
    MONTHS,
    Brumation,
    Phase,
    Year,
    middle_week,
    month_of,
    plan_at,
    weeks_of,
)
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.fixes.candidate import Change, Fix, evaluate_candidate
from noonshade.core.fixes.candidates import leaves_alone
from noonshade.core.fixes.levers import candidates_for
from noonshade.core.fixes.suggest import iterate_fixes
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.plan import Plan
from noonshade.core.summary import summarize

# What a fix of one month may change: what a keeper changes with the season.
_SEASONAL = {
    ("fixture", "power_w"),
    ("thermostat", "day_set_point_c"),
    ("thermostat", "night_set_point_c"),
}


# -- what the room allows ------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class YearLimit:
    """Something of the year that the room does not allow, in which months, and in words."""

    id: Literal["rest_too_warm", "rest_too_cold", "night_too_warm", "day_too_warm"]
    months: tuple[int, ...]
    description: Phrase


def find_year_limits(plan: Plan, year: Year) -> tuple[YearLimit, ...]:
    """Where the room by itself is against the plan of the year; empty if its months are not known.

    Parameters
    ----------
    plan : Plan
        The plan.
    year : Year
        The year.

    Returns
    -------
    tuple[YearLimit, ...]
        Where the room by itself is against the plan of the year.
    """
    return tuple(_limits(plan, year)) if len(plan.room.months) == MONTHS else ()


def _limits(plan: Plan, year: Year) -> Iterator[YearLimit]:
    weeks = weeks_of(plan, year)
    rest = year.brumation
    if rest is not None:
        resting = [w for w in weeks if w.phase == "brumation"]
        means = {w.number: ((w.room_low_c or 0.0) + (w.room_high_c or 0.0)) / 2 for w in resting}
        warm = [n for n, mean in means.items() if mean > rest.high_c]
        cold = [w.number for w in resting if (w.room_low_c or 0.0) < rest.low_c]
        if warm:
            yield YearLimit(
                "rest_too_warm",
                _months(warm),
                (
                    "In the rest the room is at ",
                    Measure(max(means[n] for n in warm), "°C"),
                    " on average, above the ",
                    Measure(rest.high_c, "°C"),
                    " of the rest: it needs a cooler place, a cellar or a cooled enclosure, or no rest "
                    "this "
                    "year.",
                ),
            )
        if cold:
            lowest = min(w.room_low_c or 0.0 for w in resting)
            yield YearLimit(
                "rest_too_cold",
                _months(cold),
                (
                    "In the rest the room falls to ",
                    Measure(lowest, "°C"),
                    ", below the ",
                    Measure(rest.low_c, "°C"),
                    " of the rest: a little frost protection is needed, by a thermostat.",
                ),
            )
    usual = [w for w in weeks if w.phase == "usual"]
    night = plan.animal.need("night", "air_temperature")
    if night is not None and night.high is not None:
        warm = [w.number for w in usual if (w.room_low_c or 0.0) > night.high]
        sentence = (
            "Nights of the room stay above the ",
            " wanted at most: cool it by night, with open windows or a fan.",
        )
        yield from _too_warm("night_too_warm", warm, night.high, *sentence)
    cool = plan.animal.need(plan.animal.cool_place, "air_temperature")
    if cool is not None and cool.high is not None:
        warm = [w.number for w in usual if (w.room_high_c or 0.0) > cool.high]
        ceiling = plan.animal.species.highest_safe_c
        hottest = max((w.room_high_c or 0.0 for w in usual), default=0.0)
        if hottest > ceiling:
            deadly = [w.number for w in usual if (w.room_high_c or 0.0) > ceiling]
            said: Phrase = ("The room reaches ", Measure(hottest, "°C"), ": ", *above_ceiling(ceiling))
            yield YearLimit("day_too_warm", _months(deadly), said)
        else:
            before = "By day the room itself is warmer than the "
            after = " wanted at the coolest place at most: no setting fixes that; shade and cool the room."
            yield from _too_warm("day_too_warm", warm, cool.high, before, after)


def _too_warm(
    key: Literal["night_too_warm", "day_too_warm"], weeks: list[int], most_c: float, before: str, after: str
) -> Iterator[YearLimit]:
    if weeks:
        yield YearLimit(key, _months(weeks), (before, Measure(most_c, "°C"), after))


def _months(weeks: list[int]) -> tuple[int, ...]:
    return tuple(sorted({month_of(w) for w in weeks}))


# -- each month checked ----------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class MonthCheck:
    """One month by the full model: what fails in it, and the change of bulb or thermostat that fixes it.

    ``failing`` is None where no steady climate is found. ``fix`` is the best for the worst that fails.
    """

    month: int
    phase: Phase
    failing: tuple[Check | Finding, ...] | None
    description: Phrase
    fix: Fix | None = None


def check_month(
    plan: Plan,
    year: Year,
    month: int,
    fixing: bool = True,
    done: Callable[[], None] | None = None,
    locked: frozenset[str] = frozenset(),
) -> MonthCheck:
    """Assess a month of the year: the plan as it is set in its middle, in the room as it is then.

    Parameters
    ----------
    plan : Plan
        The plan.
    year : Year
        The year.
    month : int
        Month, 1 to 12.
    fixing : bool
        Whether fixes are searched.
    done : Callable[[], None] | None
        Called after each piece of the work.
    locked : frozenset of str
        Ids of things no fix changes.

    Returns
    -------
    MonthCheck
        Assess a month of the year.

    Raises
    ------
    ValueError
        If the room's months are not known.
    """
    if len(plan.room.months) != MONTHS:
        raise ValueError("the climate of the room is not known by months")
    week = weeks_of(plan, year)[middle_week(month) - 1]
    there = plan_at(plan, year, week, plan.room.months[month - 1])
    try:
        result = evaluate(there)
    except ConvergenceError as error:
        return MonthCheck(month, week.phase, None, (str(error),))
    finally:
        if done is not None:
            done()
    if week.phase == "brumation" and year.brumation is not None:
        return _resting(result, year.brumation, month)
    if week.phase != "usual":
        # On the way into the rest and out of it, the needs of the active animal are no measure.
        sentence = (
            "On the way into the rest." if week.phase == "winding_down" else "On the way out of the rest."
        )
        return MonthCheck(month, week.phase, (), (sentence,))
    failing = tuple(sorted(result.failing, key=lambda one: -SEVERITIES.index(one.severity)))
    fix = seasonal_fix(result, failing, locked) if fixing and failing else None
    return MonthCheck(month, week.phase, failing, summarize(result), fix)


def _resting(result: Evaluation, rest: Brumation, month: int) -> MonthCheck:
    """The rest, assessed by the air of the whole enclosure by day and by night."""
    day = float(np.mean(result.day.air_c))
    low, high = min(day, result.night_air_c), max(day, result.night_air_c)
    if high > rest.high_c + 1.0:
        said: Phrase = ("Too warm for the rest: ", Measure(high, "°C"), " by day.")
    elif low < rest.low_c - 1.0:
        said = ("Too cold for the rest: ", Measure(low, "°C"), ".")
    else:
        return MonthCheck(
            month, "brumation", (), ("The rest: ", Measure(low, "°C"), " to ", Measure(high, "°C"), ".")
        )
    finding = Finding(
        "rest:enclosure", "enclosure", "fault", said, "Too warm it burns its reserves, too cold it dies."
    )
    return MonthCheck(month, "brumation", (finding,), said)


def seasonal_fix(
    result: Evaluation, failing: tuple[Check | Finding, ...], locked: frozenset[str] = frozenset()
) -> Fix | None:
    """A change of bulb or thermostat for the first of what fails that it fixes; else any change.

    Parameters
    ----------
    result : Evaluation
        The evaluation.
    failing : tuple[Check | Finding, ...]
        Failing checks and findings.
    locked : frozenset of str
        Ids of things that stay as they are.

    Returns
    -------
    Fix | None
        A change of bulb or thermostat for the first of what fails that it fixes.
    """
    for target in failing:
        if not isinstance(target, Check) or target.status not in ("low", "high"):
            continue
        for candidate in candidates_for(result, target, (), ()):
            seasonal = all(
                isinstance(c, Change) and (c.part, c.attribute) in _SEASONAL for c in candidate.changes
            )
            seasonal = seasonal and leaves_alone(candidate, locked)
            fix = evaluate_candidate(result, target, candidate) if seasonal else None
            if fix is not None and not fix.breaks:
                return fix
    return iterate_fixes(result, failing[0], locked=locked)
