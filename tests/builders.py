"""Plans for tests, all in the demo setting."""

from __future__ import annotations

import json
from dataclasses import replace
from importlib.resources import files
from typing import Any

from noonshade.catalog import load_catalog
from noonshade.core.plan import (
    FACES,
    Animal,
    Box,
    Face,
    Fixture,
    Furnishing,
    Plan,
    Room,
    Slab,
    Stack,
    Substrate,
    Thermostat,
    Vent,
    Wall,
)
from noonshade.formats.plan_document import PlanDocument, parse_plan, resolve

CATALOG = load_catalog()
MATERIALS = CATALOG.materials


def demo_text() -> str:
    return (files("noonshade.demo") / "collared-lizard.json").read_text(encoding="utf-8")


def demo_raw() -> dict[str, Any]:
    raw: dict[str, Any] = json.loads(demo_text())
    return raw


def demo_document() -> PlanDocument:
    return parse_plan(demo_text())


def demo_plan() -> Plan:
    return resolve(demo_document(), CATALOG)


def uncontrolled(plan: Plan) -> Plan:
    """The same plan with every heater at fixed full power."""
    fixtures = tuple(replace(f, thermostat_id=None) for f in plan.fixtures)
    return replace(plan, fixtures=fixtures, thermostats=())


def changed(plan: Plan, fixture_id: str, **values: Any) -> Plan:
    fixtures = tuple(replace(f, **values) if f.id == fixture_id else f for f in plan.fixtures)
    return replace(plan, fixtures=fixtures)


def lifted(plan: Plan, fixture_id: str, z_m: float) -> Plan:
    fixture = next(f for f in plan.fixtures if f.id == fixture_id)
    x, y, _ = fixture.position_m
    return changed(plan, fixture_id, position_m=(x, y, z_m))


def controlled(plan: Plan, **values: Any) -> Plan:
    return replace(plan, thermostats=tuple(replace(t, **values) for t in plan.thermostats))


def walls(material: str, thickness_m: float, **other: Wall) -> dict[Face, Wall]:
    made: dict[Face, Wall] = {face: Wall(MATERIALS[material], thickness_m) for face in FACES}
    made.update(other)  # type: ignore[typeddict-item, arg-type]
    return made


def timber_box(height_m: float = 0.6, **other: Wall) -> Box:
    glass = Wall(MATERIALS["glass"], 0.004)
    vents = (Vent("right", 1.2, 0.15, 0.004), Vent("left", 0.0, height_m - 0.06, 0.004))
    made = walls("timber", 0.015, front=glass, **other)
    return Box(1.2, 0.6, height_m, made, () if "top" in other else vents)


def lamp(lamp_id: str, power_w: float, *position: float, **values: Any) -> Fixture:
    x, y, z = position
    return Fixture("lamp", "Lamp", CATALOG.lamps[lamp_id], power_w, (x, y, z), "day", **values)


def slab(
    x: float,
    y: float,
    length: float,
    width: float,
    thickness: float,
    underside: float,
    material: str = "slate",
    on_stack: bool = True,
) -> Slab:
    stack = Stack(length * 0.6, width * 0.6) if on_stack else None
    return Slab("slab", "Slab", x, y, length, width, thickness, underside, MATERIALS[material], True, stack)


def plan(
    box: Box,
    room_c: float = 21.0,
    fixtures: tuple[Fixture, ...] = (),
    furnishings: tuple[Furnishing, ...] = (),
    substrate_m: float = 0.05,
    thermostats: tuple[Thermostat, ...] = (),
    night_c: float = 17.0,
) -> Plan:
    species = CATALOG.species["crotaphytus-collaris"]
    return Plan(
        "Test box",
        Animal(species, 0.10, 0.03),
        Room(room_c, night_c, 0.45),
        box,
        Substrate(MATERIALS["sand-soil"], substrate_m),
        furnishings,
        fixtures,
        thermostats,
    )
