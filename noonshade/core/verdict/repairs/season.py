"""Repairs of the season and the length of the day."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Measure
from noonshade.core.verdict.finding import Finding
from noonshade.core.verdict.seasonal import days_at
from noonshade.core.verdict.trial import Change, Trial


def cooler_summer(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    """A cooler room in summer."""
    plan = evaluation.plan
    summer = plan.room.summer
    if summer is None:
        return
    target = round(plan.animal.species.highest_safe_c - 3.0, 1)
    cool = replace(summer, day_temperature_c=min(target, summer.day_temperature_c))
    cool = replace(cool, night_temperature_c=min(cool.night_temperature_c, target))
    yield Trial(
        replace(plan, room=replace(plan.room, summer=cool)),
        ("Keep the room at ", Measure(target, "°C"), " at most in summer"),
        (
            Change("room", "", "summer.day_temperature_c", cool.day_temperature_c),
            Change("room", "", "summer.night_temperature_c", cool.night_temperature_c),
        ),
    )


def day_length(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    """The nearest day its home knows."""
    plan = evaluation.plan
    shortest, longest = days_at(plan.animal.species.home.latitude_deg)
    hours = round(min(max(plan.photoperiod_h, shortest), longest) * 4) / 4
    yield Trial(
        replace(plan, photoperiod_h=hours),
        (f"Make the day {hours:g} h long",),
        (Change("plan", "", "photoperiod_h", hours),),
    )
