"""Heat for the night: a heater that gives no light, on a thermostat."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.fixes.candidate import Add, Candidate
from noonshade.core.phrase import Measure
from noonshade.core.plan import BeamSource, Fixture, Lamp, Plan, Point, Thermostat

# How far below a closed lid, or above one of mesh, the heater hangs, m. Estimate.
BELOW_LID_M, ABOVE_MESH_M = 0.12, 0.11
# Places along the length that are tried, as shares of it, and the depth it hangs at.
PLACES, DEPTH_SHARE = (0.5, 0.35, 0.65), 0.35


def night_heater(plan: Plan, lamps: tuple[Lamp, ...], set_point_c: float) -> Iterator[Candidate]:
    """A heater by night, the weakest first, for an enclosure that has none."""
    if any(f.lit_at("night") and f.lamp.is_hot for f in plan.fixtures):
        return
    heaters = [lamp for lamp in lamps if lamp.kind == "heater" and isinstance(lamp.geometry, BeamSource)]
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    closed = enclosure.walls["top"].material is not None
    height = enclosure.height_m + (-BELOW_LID_M if closed else ABOVE_MESH_M)
    middle: Point = (
        round(0.6 * enclosure.length_m, 3),
        round(0.7 * enclosure.depth_m, 3),
        round(ground + 0.3 * (enclosure.height_m - ground), 3),
    )
    control = Thermostat("night", "Night thermostat", "on_off", None, set_point_c, 1.0, middle)
    if any(t.id == control.id for t in plan.thermostats):
        return
    for lamp in heaters[:1]:
        for watts in sorted(lamp.power_choices_w):
            for place in PLACES:
                where = (place * enclosure.length_m, DEPTH_SHARE * enclosure.depth_m, height)
                heater = Fixture(
                    "night-heater",
                    "Night heater",
                    lamp,
                    watts,
                    tuple(round(v, 3) for v in where),  # type: ignore[arg-type]
                    "night",
                    thermostat_id=control.id,
                    guard=closed,
                )
                yield Candidate(
                    replace(
                        plan,
                        fixtures=(*plan.fixtures, heater),
                        thermostats=(*plan.thermostats, control),
                    ),
                    (
                        f"Add a {lamp.label[:1].lower()}{lamp.label[1:]} of {watts:.0f} W for the night, "
                        "on a thermostat set to ",
                        Measure(set_point_c, "°C"),
                    ),
                    (Add("thermostat", control), Add("fixture", heater)),
                )
