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
    Background,
    Branch,
    Enclosure,
    Face,
    Fixture,
    Furnishing,
    Hide,
    Lamp,
    Leaves,
    Plan,
    Room,
    Slab,
    Stack,
    Substrate,
    Thermostat,
    Vent,
    Wall,
)
from noonshade.formats.plan_document import PlanDocument, parse_plan, plan_from
from noonshade.formats.plan_from_document import resolve

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


# Where the demo's probe would be right, and what it would be set to there.
BETTER_PROBE = (0.58, 0.55, 0.23)
BETTER_SET_POINT_C = 27.0


def shipped_raw(name: str) -> dict[str, Any]:
    """The document of a plan of the demo room."""
    raw: dict[str, Any] = json.loads((files("noonshade.demo") / f"{name}.json").read_text(encoding="utf-8"))
    return raw


def shipped_plan(name: str) -> Plan:
    """A plan of the demo room by its id."""
    return resolve(plan_from(shipped_raw(name)), CATALOG)


def flawless_raw() -> dict[str, Any]:
    """The demo enclosure with its one mistake fixed."""
    raw = demo_raw()
    raw["thermostats"][0]["probe_m"] = dict(zip(("x_m", "y_m", "z_m"), BETTER_PROBE, strict=True))
    raw["thermostats"][0]["day_set_point_c"] = BETTER_SET_POINT_C
    return raw


def flawless() -> Plan:
    return controlled(demo_plan(), probe_m=BETTER_PROBE, day_set_point_c=BETTER_SET_POINT_C)


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


def timber_enclosure(height_m: float = 0.6, **other: Wall) -> Enclosure:
    glass = Wall(MATERIALS["glass"], 0.004)
    vents = (Vent("right", 1.2, 0.15, 0.004), Vent("left", 0.0, height_m - 0.06, 0.004))
    made = walls("timber", 0.015, front=glass, **other)
    return Enclosure(1.2, 0.6, height_m, made, () if "top" in other else vents)


def lamp(lamp_id: str, power_w: float, *position: float, **values: Any) -> Fixture:
    x, y, z = position
    return Fixture("lamp", "Lamp", CATALOG.lamps[lamp_id], power_w, (x, y, z), "day", **values)


def shining(lamp_id: str) -> Lamp:
    """A heater of that shape that sends out light: a plain source to check light with."""
    return replace(CATALOG.lamps[lamp_id], gives_light=True)


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
    enclosure: Enclosure,
    room_c: float = 21.0,
    fixtures: tuple[Fixture, ...] = (),
    furnishings: tuple[Furnishing, ...] = (),
    substrate_m: float = 0.05,
    thermostats: tuple[Thermostat, ...] = (),
    night_c: float = 17.0,
) -> Plan:
    species = CATALOG.species["crotaphytus-collaris"]
    return Plan(
        "Test enclosure",
        Animal(species, 0.10, 0.03),
        Room(room_c, night_c, 0.45),
        enclosure,
        Substrate(MATERIALS["sand-soil"], substrate_m),
        furnishings,
        fixtures,
        thermostats,
    )


def busy_plan() -> Plan:
    """Four lamps of four kinds, two of them above a mesh lid, and twelve furnishings of every type."""
    lamps, m = CATALOG.lamps, MATERIALS
    lid = Wall(mesh=CATALOG.meshes["coarse-1.0-12.5"])
    fixtures = (
        Fixture("t", "Tube", lamps["t5-strong-85"], 39, (0.55, 0.35, 0.93), "day", turn_deg=4),
        Fixture("h", "Flood", lamps["halogen-flood"], 75, (0.35, 0.3, 0.85), "day"),
        Fixture("m", "Mercury bulb", lamps["mercury-flood-100"], 100, (0.8, 0.3, 0.95), "day", tilt_deg=15),
        Fixture("l", "LED bar", lamps["led-uvb-bar-60"], 20, (0.6, 0.45, 0.8), "day"),
    )
    furnishings = (
        Slab("s", "Slab", 0.35, 0.3, 0.3, 0.3, 0.03, 0.15, m["slate"], True, Stack(0.18, 0.18)),
        Slab("s2", "Ledge", 0.85, 0.45, 0.3, 0.2, 0.02, 0.4, m["cork"]),
        Slab("s3", "Low ledge", 0.6, 0.2, 0.2, 0.1, 0.02, 0.25, m["cork"]),
        Hide("h1", "Warm hide", 0.15, 0.15, 0.2, 0.2, 0.1, 0.01, "right", 0.1, 0.07, m["cork"]),
        Hide("h2", "Cool hide", 1.05, 0.15, 0.2, 0.2, 0.1, 0.01, "left", 0.1, 0.07, m["cork"]),
        Branch("b1", "Branch", (0.1, 0.3, 0.1), (0.9, 0.4, 0.6), 0.04, m["timber"]),
        Branch("b2", "Branch", (1.1, 0.1, 0.1), (0.5, 0.5, 0.7), 0.03, m["timber"]),
        Branch("b3", "Branch", (0.2, 0.5, 0.3), (1.0, 0.5, 0.35), 0.025, m["timber"]),
        Leaves("l1", "Leaves", 0.9, 0.4, 0.3, 0.3, 0.15, 0.5, 0.4, m["foliage"]),
        Leaves("l2", "Leaves", 0.2, 0.5, 0.2, 0.2, 0.2, 0.3, 0.5, m["foliage"]),
        Background("bg", "Back panel", "back", 0.03, m["cork"]),
        Background("bg2", "Left panel", "left", 0.03, m["cork"]),
    )
    glass = Wall(m["glass"], 0.004)
    enclosure = Enclosure(1.2, 0.6, 0.9, walls("timber", 0.015, front=glass, top=lid))
    return plan(enclosure, furnishings=furnishings, fixtures=fixtures)
