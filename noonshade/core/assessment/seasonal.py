"""Faults of the season and the day's length: cool-climate animals in summer, young ones in winter."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from functools import lru_cache

from noonshade.core.assessment.finding import Finding, FindingContext, FindingSeverity
from noonshade.core.assessment.wording import above_ceiling
from noonshade.core.light.sun import day_length_h
from noonshade.core.phrase import Measure
from noonshade.core.plan import Plan

# A summer room this near below what endangers an animal of cool places leaves no margin, K. Estimate.
SUMMER_MARGIN_K = 2.0
# How far the day may be from any day of the home latitude, h. Estimate.
DAY_LENGTH_SLACK_H = 1.0


@lru_cache(maxsize=256)
def days_at(latitude_deg: float) -> tuple[float, float]:
    """Shortest and longest day of the year at a latitude, h.

    Parameters
    ----------
    latitude_deg : float
        Latitude, degrees, north positive.

    Returns
    -------
    tuple[float, float]
        Shortest and longest day, h.
    """
    found = [day_length_h(latitude_deg, date(2025, month, 21)) for month in (6, 12)]
    return min(found), max(found)


def seasonal_findings(context: FindingContext) -> Iterator[Finding]:
    """All of them.

    Parameters
    ----------
    context : FindingContext
        What the findings are drawn from.

    Yields
    ------
    Finding
        All of them.
    """
    yield from _summer(context.plan)
    yield from _photoperiod(context.plan)
    yield from _ventilation(context)


def _summer(plan: Plan) -> Iterator[Finding]:
    species = plan.animal.species
    ceiling = species.highest_safe_c
    cooled = bool(plan.fans or plan.cold_packs or plan.enclosure.neighbours)
    summer = plan.room.summer
    if summer is None:
        if species.is_cool_climate:
            yield Finding(
                "summer-unknown:room",
                "room",
                "care",
                ("The plan does not say how warm the room gets in summer; for this animal that decides.",),
                "Plan the cooling before the heat comes.",
                "veterinarian",
            )
        return
    if cooled:
        return
    hottest = summer.day_temperature_c
    if hottest > ceiling:
        severity: FindingSeverity = "danger"
    elif species.is_cool_climate and hottest > ceiling - SUMMER_MARGIN_K:
        severity = "fault"
    else:
        return
    yield Finding(
        "summer-hot:room",
        "room",
        severity,
        ("In summer the room reaches ", Measure(hottest, "°C"), ": ", *above_ceiling(ceiling)),
        "A cooler room, a fan with evaporation or frozen packs, and an alarm that wakes you.",
        "veterinarian",
    )


def _photoperiod(plan: Plan) -> Iterator[Finding]:
    species = plan.animal.species
    if not any(f.lamp.gives_light and f.lit_at("day") for f in plan.fixtures):
        return
    shortest, longest = days_at(species.home.latitude_deg)
    low, high = shortest - DAY_LENGTH_SLACK_H, longest + DAY_LENGTH_SLACK_H
    if not low <= plan.photoperiod_h <= high:
        yield Finding(
            "day-length:enclosure",
            "enclosure",
            "care",
            (
                f"A day of {plan.photoperiod_h:.1f} h is never seen at home, where days last "
                f"{shortest:.1f} to {longest:.1f} h over the year.",
            ),
            "Many animals eat, rest and breed by day length.",
        )


def _ventilation(context: FindingContext) -> Iterator[Finding]:
    plan = context.plan
    if not plan.mistings and plan.fog_kg_h <= 0:
        return
    closed = plan.enclosure.lid_open_fraction < 0.02 and not plan.enclosure.vents and not plan.fans
    closed = closed and all(w.open_fraction < 0.02 for w in plan.enclosure.walls.values())
    if closed and not plan.enclosure.insets:
        yield Finding(
            "stale:enclosure",
            "enclosure",
            "fault",
            ("The enclosure is misted but has no vent: nothing in it dries.",),
            "Standing wet rots skin and feet; two vents, one low and one high, change the air.",
        )
