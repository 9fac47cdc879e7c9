"""Faults a plan shows by itself, whatever its figures: wrong pairings and lamps too near."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from noonshade.core.phrase import Measure, Phrase
from noonshade.core.plan import Fixture, Hide, Plan

# Nearest a lamp of some tens of watts should come to anything the animal can stand on. Estimate;
# the lamp's own instructions go first.
LEAST_CLEARANCE_M = 0.20


@dataclass(frozen=True, slots=True)
class Finding:
    """A fault with the thing it is about and a caution in one sentence."""

    id: str
    about_id: str
    severity: Literal["danger", "care"]
    message: Phrase


def findings(plan: Plan) -> tuple[Finding, ...]:
    """Everything found, dangers first."""
    found: list[Finding] = []
    thermostats = {t.id: t for t in plan.thermostats}
    for fixture in plan.fixtures:
        control = thermostats.get(fixture.thermostat_id or "")
        lamp = fixture.lamp
        if control is not None and control.kind not in lamp.controls:
            dimmed = control.kind == "dimming"
            way = "dimmed" if dimmed else "switched by a thermostat"
            other = "switches on and off" if dimmed else "dims"
            found.append(
                Finding(
                    f"pairing:{fixture.id}",
                    fixture.id,
                    "danger",
                    (f"{fixture.label} must not be {way}; put it on a timer only.",)
                    if not lamp.controls
                    else (f"{fixture.label} must not be {way}; give it one that {other}.",),
                )
            )
        if control is None and "on_off" in lamp.controls:
            found.append(
                Finding(
                    f"uncontrolled:{fixture.id}",
                    fixture.id,
                    "care",
                    (f"{fixture.label} heats without a thermostat.",),
                )
            )
        if lamp.is_hot:
            gap, thing = nearest_reachable(plan, fixture)
            if gap < LEAST_CLEARANCE_M:
                found.append(
                    Finding(
                        f"clearance:{fixture.id}",
                        fixture.id,
                        "danger",
                        (
                            f"{thing} is only ",
                            Measure(gap, "m"),
                            f" from {fixture.label}: it can burn the animal or start a fire.",
                        ),
                    )
                )
    return tuple(sorted(found, key=lambda f: f.severity != "danger"))


def nearest_reachable(plan: Plan, fixture: Fixture) -> tuple[float, str]:
    """Distance in m from a lamp to the nearest thing the animal can stand on, and its name."""
    x, y, z = fixture.position_m
    ground = plan.substrate.depth_m
    best = (z - ground, "The substrate")
    for item in plan.furnishings:
        if isinstance(item, Hide):
            top = ground + item.height_m
        else:
            top = ground + item.underside_m + item.thickness_m
        dx = max(abs(x - item.x_m) - item.length_m / 2, 0.0)
        dy = max(abs(y - item.y_m) - item.width_m / 2, 0.0)
        distance = math.sqrt(dx * dx + dy * dy + max(z - top, 0.0) ** 2)
        if distance < best[0]:
            best = (distance, item.label)
    return best
