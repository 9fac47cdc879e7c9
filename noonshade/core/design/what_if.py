"""Two what-if tests of a set-up, at their worst: a thermostat stuck on, a hot day.

Both are steady states by day: where things would end if nobody came. A day is often over before that, so
that what is safe here is safe, and what is not may still be in a full test hour by hour.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from noonshade.core.design.search import computed
from noonshade.core.evaluate import Evaluation
from noonshade.core.failure_scenarios import HEAT_WAVE_K
from noonshade.core.places import PlaceFigures
from noonshade.core.plan import Plan


@dataclass(frozen=True, slots=True)
class WhatIf:
    """What happens, and the coolest place the animal can go to then, °C, against what it bears."""

    id: str
    label: str
    place_label: str
    coolest_c: float
    highest_safe_c: float

    @property
    def safe(self) -> bool:
        """Whether a place stays within what the animal bears."""
        return self.coolest_c <= self.highest_safe_c


def what_if_tests(evaluation: Evaluation) -> tuple[WhatIf, ...]:
    """What a set-up comes to with a thermostat stuck on, and in a room ten degrees warmer.

    Parameters
    ----------
    evaluation : Evaluation
        Of the set-up.

    Returns
    -------
    tuple[WhatIf, ...]
        A stuck thermostat only where one governs something by day; none that finds no steady state.
    """
    plan = evaluation.plan
    found = []
    for thermostat in plan.thermostats:
        governed = [f for f in plan.fixtures if f.thermostat_id == thermostat.id and f.lit_at("day")]
        if governed:
            label = f"{thermostat.label} stuck on"
            found.append(_worst(f"stuck-on:{thermostat.id}", label, _stuck(plan, thermostat.id)))
    room = plan.room
    hot = replace(room, day_temperature_c=room.day_temperature_c + HEAT_WAVE_K)
    found.append(_worst("heat-wave", f"Room {HEAT_WAVE_K:g} °C warmer", replace(plan, room=hot)))
    return tuple(one for one in found if one is not None)


def _stuck(plan: Plan, thermostat_id: str) -> Plan:
    """With what a thermostat governs burning all the time."""
    fixtures = tuple(
        replace(f, thermostat_id=None) if f.thermostat_id == thermostat_id else f for f in plan.fixtures
    )
    kept = tuple(t for t in plan.thermostats if t.id != thermostat_id)
    return replace(plan, fixtures=fixtures, thermostats=kept)


def _worst(id_: str, label: str, plan: Plan) -> WhatIf | None:
    after = computed(plan)
    if after is None:
        return None
    coolest = min(after.places, key=_felt)
    safe_c = plan.animal.species.highest_safe_c
    return WhatIf(id_, label, coolest.label, _felt(coolest), safe_c)


def _felt(place: PlaceFigures) -> float:
    """What a body settles at there; in water, the water."""
    return place.surface_c if place.kind == "water" and place.surface_c is not None else place.operative_c
