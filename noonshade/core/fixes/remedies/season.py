"""Repairs of the length of the day."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.seasonal import days_at
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Candidate, Change


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
