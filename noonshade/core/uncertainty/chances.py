"""How likely each check is met, and what to measure where that is not enough."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from noonshade.core.assessment.checks import Check
from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import uncapitalized
from noonshade.core.uncertainty.intervals import Interval

# A check is in range only if its chance is at least this; below it is uncertain. Estimate: what a keeper
# would act on without measuring.
SURE = 0.60


def with_chances(evaluation: Evaluation, intervals: Iterable[Interval]) -> Evaluation:
    """An evaluation whose checks know how likely they are met.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    intervals : Iterable[Interval]
        Those of its checks.

    Returns
    -------
    Evaluation
        The same, its checks in range with less than ``SURE`` now ``uncertain``.
    """
    chances = {i.check_id: i.probability for i in intervals}
    return replace(evaluation, checks=tuple(_judged(c, chances.get(c.id)) for c in evaluation.checks))


def _judged(check: Check, chance: float | None) -> Check:
    if chance is None:
        return check
    if check.status != "ok" or chance >= SURE:
        return replace(check, chance=chance)
    return replace(check, chance=chance, status="uncertain", settles=_reading_that_settles(check))


def _reading_that_settles(check: Check) -> str:
    """What to measure, and where."""
    quantity, place = check.need.quantity, uncapitalized(check.place_label)
    if check.need.place == "reachable":
        return "Look for the hottest surface the animal can reach with an infrared thermometer."
    if quantity == "gradient":
        return "Read a shaded probe at the warmest and at the coolest place."
    if quantity == "uv_free_share":
        return "Move a UV meter through cover and shade."
    if quantity == "surface_temperature":
        return f"Read the surface of the {place} with an infrared thermometer."
    if quantity == "water_temperature":
        return f"Read a probe in the {place}."
    if quantity == "uvi":
        where = "in the" if check.need.place == "uv_refuge" else "at the animal's back at the"
        return f"Read a UV meter {where} {place}."
    if check.need.place == "night":
        what = "thermometer" if quantity == "air_temperature" else "hygrometer"
        return f"Leave a {what} that remembers its lowest and highest in the enclosure for a night."
    if quantity == "humidity":
        return f"Read a hygrometer at the {place}, over a day."
    return f"Read a shaded probe at the {place}."


__all__ = ["SURE", "with_chances"]
