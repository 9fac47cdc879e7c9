"""Testing an enclosure before the animal moves in: which checks were read, when, and the result."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from noonshade.core.assessment.checks import Check
from noonshade.core.evaluate import Evaluation
from noonshade.core.readings.evidence import measured_checks
from noonshade.core.readings.instrument import UV_KINDS
from noonshade.core.readings.reading import Reading, predict_values

State = Literal["not_yet", "ok", "low", "high", "not_readable"]
# Days an enclosure is run before it is signed off. Estimate: common practice is a few days to a week.
USUAL_DAYS = 3
# Figures no instrument reads: the share of the ground without UV is seen in the plan.
_NOT_READABLE = ("uv_free_share", "gradient", "water_temperature")


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading of the test: the day it was taken, and what was changed since, None if it is valid."""

    reading: Reading
    day: str
    due: str | None = None


@dataclass(frozen=True, slots=True)
class Covered:
    """One need in the test.

    ``value`` is the figure as read: the reading, less by what the model has between the spot that was
    read and the figure that is assessed. ``days`` are those of its valid readings;
    ``due`` what was changed since it was last read.
    """

    check: Check
    state: State
    value: float | None
    days: tuple[str, ...]
    due: str | None


def check_coverage(evaluation: Evaluation, taken: Sequence[Taken]) -> tuple[Covered, ...]:
    """Every need with what was read of it, in the order of the checks.

    A need is assessed by the worst of its valid readings: one bad day is not made good by another.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    taken : Sequence[Taken]
        Readings with their days.

    Returns
    -------
    tuple[Covered, ...]
        For each check, the worst valid reading and the days it was read.
    """
    of: dict[str, list[Taken]] = {}
    for one in taken:
        for check_id in measured_checks(evaluation, (one.reading,)):
            of.setdefault(check_id, []).append(one)
    return tuple(_covered(evaluation, v, of.get(v.id, [])) for v in evaluation.checks)


def _covered(evaluation: Evaluation, check: Check, taken: list[Taken]) -> Covered:
    hidden = check.place_id == "reachable" and evaluation.whole.hottest.surface.depth_m > 0
    if check.need.quantity in _NOT_READABLE or check.value is None or hidden:
        return Covered(check, "not_readable", None, (), None)
    holding = [t for t in taken if t.due is None]
    if not holding:
        return Covered(check, "not_yet", None, (), taken[-1].due if taken else None)
    low = -math.inf if check.need.low is None else check.need.low
    high = math.inf if check.need.high is None else check.need.high
    figures = [_figure(evaluation, check, t.reading) for t in holding]

    def off(value: float) -> float:
        return max(low - value, value - high, 0.0)

    worst = max(figures, key=off)
    state: State = "ok"
    if off(worst) > 0:
        # Less than what is only offered is no fault.
        offered = check.need.offered and worst < low
        state = "ok" if offered else ("low" if worst < low else "high")
    days = tuple(sorted({t.day for t in holding}))
    return Covered(check, state, worst if state != "ok" else figures[-1], days, None)


def _figure(evaluation: Evaluation, check: Check, reading: Reading) -> float:
    """A reading as the figure that is assessed: of the same place, but not quite the same spot or way."""
    said = float(predict_values(evaluation, (reading,))[0])
    assert check.value is not None
    if reading.kind in UV_KINDS:
        return reading.value * check.value / said if said > 1e-3 else reading.value
    return reading.value + check.value - said


def is_complete(needs: Sequence[Covered], days: int) -> bool:
    """Whether everything that can be read was, on enough days, and found right.

    Parameters
    ----------
    needs : Sequence[Covered]
        The needs.
    days : int
        Days.

    Returns
    -------
    bool
        True if so.
    """
    readable = [n for n in needs if n.state != "not_readable"]
    all_days = {d for n in readable for d in n.days}
    return all(n.state == "ok" for n in readable) and len(all_days) >= days
