"""Heat for the night: a heater that gives no light, on a thermostat."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.assessment.reach import LEAST_CLEARANCE_M, LEAST_GUARDED_M, nearest_reachable
from noonshade.core.errors import ConvergenceError
from noonshade.core.fixes.candidate import Add, Candidate
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.phrase import Measure, uncapitalized
from noonshade.core.places import reachable_surfaces
from noonshade.core.plan import BeamSource, Fixture, Lamp, PanelSource, Plan, Thermostat
from noonshade.core.plan_errors import plan_errors

# How far below a closed lid, or above one of mesh, the heater hangs, m. Estimate.
BELOW_LID_M, ABOVE_MESH_M = 0.12, 0.11
# Places along the length that are tried, as shares of it, and the depth it hangs at.
PLACES, DEPTH_SHARE = (0.5, 0.35, 0.65), 0.35


def night_heater(plan: Plan, lamps: tuple[Lamp, ...], set_point_c: float) -> Iterator[Candidate]:
    """A heater by night, the weakest first, for an enclosure that has none.

    One that makes the ground or a surface hotter than is safe for the animal is no candidate.
    """
    if any(f.lit_at("night") and f.lamp.is_hot for f in plan.fixtures):
        return
    heaters = (one for one in lamps if one.kind == "heater" and isinstance(one.geometry, BeamSource))
    lamp = next(heaters, None)
    if lamp is None or any(t.id == "night" for t in plan.thermostats):
        return
    for watts in sorted(lamp.power_choices_w):
        for place in PLACES:
            heater, control = heater_and_thermostat(plan, lamp, watts, set_point_c, place)
            heated = with_night_heater(plan, heater, control)
            if plan_errors(heated) or not is_safe_by_night(heated, heater):
                continue
            words = f"Add a {uncapitalized(lamp.label)} of {watts:.0f} W for the night, "
            yield Candidate(
                heated,
                (f"{words}on a thermostat set to ", Measure(set_point_c, "°C")),
                (Add("thermostat", control), Add("fixture", heater)),
            )


def heater_and_thermostat(
    plan: Plan, lamp: Lamp, watts: float, set_point_c: float, place: float = PLACES[0]
) -> tuple[Fixture, Thermostat]:
    """A heater below the lid at a share of the length, and its thermostat with the probe low beside it."""
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    closed = enclosure.walls["top"].material is not None
    heater = Fixture(
        "night-heater",
        "Night heater",
        lamp,
        watts,
        (
            round(place * enclosure.length_m, 3),
            round(DEPTH_SHARE * enclosure.depth_m, 3),
            round(enclosure.height_m + (-BELOW_LID_M if closed else ABOVE_MESH_M), 3),
        ),
        "night",
        thermostat_id="night",
        guard=closed,
    )
    probe = (
        round(0.6 * enclosure.length_m, 3),
        round(0.7 * enclosure.depth_m, 3),
        round(ground + 0.3 * (enclosure.height_m - ground), 3),
    )
    return heater, Thermostat("night", "Night thermostat", "on_off", None, set_point_c, 1.0, probe)


def with_night_heater(plan: Plan, heater: Fixture, control: Thermostat) -> Plan:
    """The plan with both beside what it has."""
    return replace(plan, fixtures=(*plan.fixtures, heater), thermostats=(*plan.thermostats, control))


def is_safe_by_night(plan: Plan, heater: Fixture) -> bool:
    """Whether a heater keeps its distance, and heats no surface the animal can reach beyond its ceiling."""
    panel = isinstance(heater.lamp.geometry, PanelSource)
    kept_off = heater.guard or panel or heater.position_m[2] > plan.enclosure.height_m
    gap, _ = nearest_reachable(plan, heater)
    if gap < (LEAST_GUARDED_M if kept_off else LEAST_CLEARANCE_M):
        return False
    try:
        night = steady_climate(plan, "night", COARSE)
    except ConvergenceError:
        return False
    ceiling = plan.animal.need("reachable", "surface_temperature")
    stated = math.inf if ceiling is None or ceiling.high is None else ceiling.high
    # It sleeps then, and does not move away from what gets too hot.
    most = min(stated, plan.animal.species.highest_safe_c)
    return reachable_surfaces(night)[0].temperature_c <= most
