"""Faults a plan shows by itself, whatever its figures: wrong pairings and lamps too near."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from noonshade.core.phrase import Measure, Phrase
from noonshade.core.plan import Background, Branch, Fixture, Furnishing, Hide, Leaves, Plan, Point, Water

# Nearest a lamp of some tens of watts should come to anything the animal can stand on. Estimate;
# the lamp's own instructions go first.
LEAST_CLEARANCE_M = 0.20


_CONTROLLED = {"dimming": "dimmed", "pulse": "pulsed", "on_off": "switched by a thermostat"}
_CONTROLS = {"dimming": "dims", "pulse": "pulses", "on_off": "switches on and off"}


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
            way = _CONTROLLED[control.kind]
            other = " or ".join(_CONTROLS[kind] for kind in lamp.controls)
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
        distance = _distance(item, ground, (x, y, z))
        if distance < best[0]:
            best = (distance, item.label)
    return best


def _distance(item: Furnishing, ground: float, lamp: Point) -> float:
    """Distance in m from a lamp to what an animal can climb on; backgrounds do not count."""
    if isinstance(item, Background):
        return math.inf
    if isinstance(item, Branch):
        start, end, at = (np.array(p) for p in (item.start_m, item.end_m, lamp))
        way = end - start
        share = float(np.clip(np.dot(at - start, way) / np.dot(way, way), 0.0, 1.0))
        return max(float(np.linalg.norm(at - start - share * way)) - item.diameter_m / 2, 0.0)
    x, y, z = lamp
    if isinstance(item, Hide):
        top = ground + item.height_m
    elif isinstance(item, Water):
        top = ground
    elif isinstance(item, Leaves):
        top = ground + item.underside_m + item.height_m
    else:
        top = ground + item.underside_m + item.thickness_m
    dx = max(abs(x - item.x_m) - item.length_m / 2, 0.0)
    dy = max(abs(y - item.y_m) - item.width_m / 2, 0.0)
    return math.sqrt(dx * dx + dy * dy + max(z - top, 0.0) ** 2)
