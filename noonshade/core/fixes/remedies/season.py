"""Repairs of the season and the length of the day."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.seasonal import days_at
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Candidate, Change
from noonshade.core.phrase import Measure


def cooler_summer(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """A cooler room in summer."""
    plan = evaluation.plan
    summer = plan.room.summer
    if summer is None:
        return
    target = round(plan.animal.species.highest_safe_c - 3.0, 1)
    cool = replace(summer, day_temperature_c=min(target, summer.day_temperature_c))
    cool = replace(cool, night_temperature_c=min(cool.night_temperature_c, target))
    yield Candidate(
        replace(plan, room=replace(plan.room, summer=cool)),
        ("Keep the room at ", Measure(target, "°C"), " at most in summer"),
        (
            Change("room", "", "summer.day_temperature_c", cool.day_temperature_c),
            Change("room", "", "summer.night_temperature_c", cool.night_temperature_c),
        ),
    )


def day_length(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """The nearest day its home knows."""
    plan = evaluation.plan
    shortest, longest = days_at(plan.animal.species.home.latitude_deg)
    hours = round(min(max(plan.photoperiod_h, shortest), longest) * 4) / 4
    yield Candidate(
        replace(plan, photoperiod_h=hours),
        (f"Make the day {hours:g} h long",),
        (Change("plan", "", "photoperiod_h", hours),),
    )
