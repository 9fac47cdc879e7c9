"""The few physical numbers that readings may adjust, each with how far it may be off before any reading.

Each is the catalogue's value times exp(v), or for the room its temperature plus v; v = 0 is the plan as it
is. Spreads are those the intervals use (``verdict.intervals``), as standard deviations.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from noonshade.core.light.screens import straight_through
from noonshade.core.plan import Face, Fixture, Plan, Wall
from noonshade.core.verdict.intervals import HALF_80, ROOM_HUMIDITY, ROOM_K, VENTS, WALLS
from noonshade.core.verdict.trial import with_fixture

MultiplierKind = Literal["uv", "screen", "radiant", "walls", "ventilation", "room", "room_humidity"]

# What passes a mesh or pane may differ this much from its label: half width of the middle 80 %. Estimate.
SCREENS = 0.25
# A share that passes cannot exceed this.
_MOST = 0.98


@dataclass(frozen=True, slots=True)
class Multiplier:
    """One adjustable number: ``sigma`` is its standard deviation before any reading.

    ``additive`` ones are in K, the others the logarithm of a factor; ``apply`` gives the plan with it.
    """

    id: str
    kind: MultiplierKind
    label: str
    sigma: float
    additive: bool
    apply: Callable[[Plan, float], Plan]


def multipliers_of(plan: Plan) -> tuple[Multiplier, ...]:
    """All that this plan has."""
    return tuple(_all(plan))


def with_multipliers(plan: Plan, known: tuple[Multiplier, ...], values: Mapping[str, float]) -> Plan:
    """The plan with multipliers set to values; those not named stay at 0."""
    for multiplier in known:
        value = values.get(multiplier.id, 0.0)
        if value != 0.0:
            plan = multiplier.apply(plan, value)
    return plan


def _log(share: float) -> float:
    """Standard deviation of a logarithm from a relative half width of the middle 80 %."""
    return math.log1p(share) / HALF_80


def _all(plan: Plan) -> Iterator[Multiplier]:
    for fixture in plan.fixtures:
        lamp, name = fixture.lamp, fixture.label
        if lamp.uv is not None:
            yield Multiplier(
                f"uv:{fixture.id}", "uv", f"UV of {name}", _log(lamp.spread.uv), False, _uv(fixture.id)
            )
        if lamp.is_hot and lamp.forward_radiant > 0:
            yield Multiplier(
                f"radiant:{fixture.id}",
                "radiant",
                f"heat of {name}",
                _log(lamp.spread.radiant),
                False,
                _radiant(fixture.id),
            )
        if fixture.screen is not None:
            yield Multiplier(
                f"screen:{fixture.id}",
                "screen",
                f"what the screen under {name} passes",
                _log(SCREENS),
                False,
                _own_screen(fixture.id),
            )
    lid = plan.box.walls["top"]
    above = any(f.position_m[2] > plan.box.height_m for f in plan.fixtures)
    if above and lid.screen is not None and lid.lets_light_in:
        yield Multiplier("screen:lid", "screen", "what the lid passes", _log(SCREENS), False, _lid)
    if any(w.material is not None for w in plan.box.walls.values()):
        yield Multiplier("walls", "walls", "loss through the walls", _log(WALLS), False, _conduction)
    if plan.box.vents:
        yield Multiplier("ventilation", "ventilation", "air through the vents", _log(VENTS), False, _vents)
    yield Multiplier("room", "room", "the room's temperature", ROOM_K / HALF_80, True, _room)
    yield Multiplier(
        "room_humidity",
        "room_humidity",
        "the room's humidity",
        _log(ROOM_HUMIDITY),
        False,
        _humidity,
    )


def _fixture(plan: Plan, fixture_id: str) -> Fixture:
    return next(f for f in plan.fixtures if f.id == fixture_id)


def _uv(fixture_id: str) -> Callable[[Plan, float], Plan]:
    def apply(plan: Plan, v: float) -> Plan:
        fixture = _fixture(plan, fixture_id)
        lamp = fixture.lamp
        if lamp.uv is None:
            return plan
        changed = replace(lamp, uv=replace(lamp.uv, uvi=lamp.uv.uvi * math.exp(v)))
        return with_fixture(plan, replace(fixture, lamp=changed))

    return apply


def _radiant(fixture_id: str) -> Callable[[Plan, float], Plan]:
    def apply(plan: Plan, v: float) -> Plan:
        fixture = _fixture(plan, fixture_id)
        lamp = fixture.lamp
        most = 1.0 - lamp.other_radiant - lamp.conducted
        changed = replace(lamp, forward_radiant=min(lamp.forward_radiant * math.exp(v), most))
        return with_fixture(plan, replace(fixture, lamp=changed))

    return apply


def _own_screen(fixture_id: str) -> Callable[[Plan, float], Plan]:
    def apply(plan: Plan, v: float) -> Plan:
        fixture = _fixture(plan, fixture_id)
        passes = straight_through(fixture.screen, fixture.screen_measured).uv
        return with_fixture(plan, replace(fixture, screen_measured=min(passes * math.exp(v), _MOST)))

    return apply


def _lid(plan: Plan, v: float) -> Plan:
    lid = plan.box.walls["top"]
    passes = straight_through(lid.screen, lid.measured_uv).uv
    changed = replace(lid, measured_uv=min(passes * math.exp(v), _MOST))
    return replace(plan, box=replace(plan.box, walls={**plan.box.walls, "top": changed}))


def _conduction(plan: Plan, v: float) -> Plan:
    def losing(wall: Wall) -> Wall:
        if wall.material is None:
            return wall
        more = wall.material.conductivity_w_mk * math.exp(v)
        return replace(wall, material=replace(wall.material, conductivity_w_mk=more))

    walls: dict[Face, Wall] = {face: losing(wall) for face, wall in plan.box.walls.items()}
    return replace(plan, box=replace(plan.box, walls=walls))


def _vents(plan: Plan, v: float) -> Plan:
    vents = tuple(replace(vent, area_m2=vent.area_m2 * math.exp(v)) for vent in plan.box.vents)
    return replace(plan, box=replace(plan.box, vents=vents))


def _room(plan: Plan, v: float) -> Plan:
    room = replace(
        plan.room,
        day_temperature_c=plan.room.day_temperature_c + v,
        night_temperature_c=plan.room.night_temperature_c + v,
    )
    return replace(plan, room=room)


def _humidity(plan: Plan, v: float) -> Plan:
    share = min(plan.room.relative_humidity * math.exp(v), 1.0)
    return replace(plan, room=replace(plan.room, relative_humidity=share))


def passes_now(plan: Plan, multiplier: Multiplier, value: float) -> tuple[float, float] | None:
    """What a screen passes by the catalogue and by a value, 0–1; None for other multipliers.

    For a mesh the share holds for light and heat alike.
    """
    if multiplier.kind != "screen":
        return None
    if multiplier.id == "screen:lid":
        screen, measured = plan.box.walls["top"].screen, plan.box.walls["top"].measured_uv
    else:
        fixture = _fixture(plan, multiplier.id.partition(":")[2])
        screen, measured = fixture.screen, fixture.screen_measured
    thought = straight_through(screen, measured).uv
    return thought, min(thought * math.exp(value), _MOST)
