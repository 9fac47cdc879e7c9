"""Which assessed figures were read themselves, and which rest on readings taken elsewhere."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from noonshade.core.assessment.checks import Check
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Quantity
from noonshade.core.plan import Plan
from noonshade.core.readings.instrument import Kind
from noonshade.core.readings.reading import Reading

QUANTITIES: dict[Kind, Quantity] = {
    "surface": "surface_temperature",
    "air": "air_temperature",
    "air_min": "air_temperature",
    "air_max": "air_temperature",
    "uvi_facing": "uvi",
    "uvi_level": "uvi",
    "humidity": "humidity",
    "humidity_night": "humidity",
}
# A reading this near to a place is one of it, m. Estimate.
NEAR_M = 0.10


@dataclass(frozen=True, slots=True)
class Evidence:
    """What a check rests on: the catalogue, readings elsewhere in the enclosure, or a reading of it."""

    kind: Literal["predicted", "fitted", "measured"]
    on: str | None = None


def find_evidence(plan: Plan, check: Check) -> Evidence:
    """What a check on a plan rests on, and from which day its readings are.

    Parameters
    ----------
    plan : Plan
        The plan.
    check : Check
        The check.

    Returns
    -------
    Evidence
        ``predicted``, ``fitted`` or ``measured``, and the day of the readings.
    """
    if plan.measured is None:
        return Evidence("predicted")
    return Evidence("measured" if check.id in plan.measured.measured_checks else "fitted", plan.measured.on)


def measured_checks(evaluation: Evaluation, readings: tuple[Reading, ...]) -> tuple[str, ...]:
    """Checks whose own figure was read, by id, in the order of the checks.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    readings : tuple[Reading, ...]
        The readings.

    Returns
    -------
    tuple[str, ...]
        The ids.
    """
    found = set()
    for reading in readings:
        quantity = QUANTITIES.get(reading.kind)
        if quantity is None:
            continue
        if reading.kind in ("air_min", "humidity_night"):
            found.add(f"night:{quantity}")
        elif reading.position_m is not None:
            where = [(p.id, p.position_m) for p in evaluation.places]
            where.append(("reachable", evaluation.whole.hottest.surface.position_m))
            found |= {
                f"{place_id}:{quantity}"
                for place_id, at in where
                if math.dist(at, reading.position_m) <= NEAR_M
            }
    return tuple(v.id for v in evaluation.checks if v.id in found)
