"""Set-ups in a few words: an animal in a furnished enclosure, with the lamps a situation is about."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any

from noonshade.core.design.shells import EnclosureKind, Size, Stock
from noonshade.core.needs.species import StageId
from noonshade.core.plan import (
    Animal,
    Branch,
    Fixture,
    Hide,
    Misting,
    Plan,
    Room,
    RoomClimate,
    Slab,
    Thermostat,
    Water,
)
from noonshade.core.plan_errors import plan_errors
from tests.builders import CATALOG, MATERIALS
from tests.judged.furnish import Furnisher

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)


@dataclass(frozen=True)
class Situation:
    """What is set up, and what a practised keeper concludes.

    ``concludes`` maps a check to its status, or to (status, severity); ``"finding:KIND"`` to a severity,
    or to None where there must be none.
    """

    name: str
    plan: Callable[[], Plan]
    concludes: dict[str, Any] = field(default_factory=dict)


def room(
    day: float = 21.0, night: float = 17.0, humidity: float = 0.45, summer: float | None = None
) -> Room:
    warm = None if summer is None else RoomClimate(summer, summer - 4.0, humidity)
    return Room(day, night, humidity, summer=warm)


def home(
    species: str,
    kind: EnclosureKind = "timber",
    *lamps: Fixture,
    at: Room | None = None,
    size: tuple[float, float, float] | None = None,
    stage: StageId = "adult",
    wet: float | None = None,
    ground: str | None = None,
    depth: float | None = None,
    mist: tuple[float, tuple[float, ...]] | None = None,
    controls: tuple[Thermostat, ...] = (),
    animal: dict[str, Any] | None = None,
    drop: tuple[str, ...] = (),
    add: tuple[Any, ...] = (),
    changed: dict[str, dict[str, Any]] | None = None,
) -> Plan:
    """A furnished enclosure of a species, of the least size for its stage, with lamps and changes."""
    kept = CATALOG.species[species]
    life = kept.stage(stage)
    least = kept.enclosure_at(stage)
    sides = size or (least.length_m, least.depth_m, least.height_m)
    who = Animal(kept, life.body_length_m, life.back_height_m, stage)
    builder = Furnisher(who, Size(*sides), kind, STOCK)
    soil = builder.substrate()
    soil = replace(
        soil,
        material=soil.material if ground is None else MATERIALS[ground],
        wetness=soil.wetness if wet is None else wet,
        depth_m=soil.depth_m if depth is None else depth,
    )
    things = [f for f in builder.furnishings() if f.id not in drop]
    things = [replace(f, **(changed or {}).get(f.id, {})) for f in things]
    made = Plan(
        name=f"{kept.common_name}, judged",
        animal=replace(who, **(animal or {})),
        room=at or room(),
        enclosure=builder.enclosure(),
        substrate=soil,
        furnishings=(*things, *add),
        fixtures=lamps,
        thermostats=controls,
        mistings=() if mist is None else (Misting(mist[1], mist[0]),),
    )
    errors = plan_errors(made)
    assert errors == [], [str(e) for e in errors]
    return made


def lamp(lamp_id: str, watts: float | None, x: float, y: float, z: float, **more: Any) -> Fixture:
    """A lamp at a point, lit by day unless said otherwise."""
    found = CATALOG.lamps[lamp_id]
    name = more.pop("id", lamp_id)
    label = more.pop("label", found.label.split(",")[0])
    power = found.power_w if watts is None else watts
    return Fixture(name, label, found, power, (x, y, z), more.pop("lit", "day"), **more)


def mat(watts: float, x: float, y: float, lamp_id: str = "mat-28", control: str | None = None) -> Fixture:
    """A mat under the floor, on day and night."""
    found = CATALOG.lamps[lamp_id]
    where = (x, y, 0.0)
    return Fixture("mat", "Heat mat", found, watts, where, "always", thermostat_id=control, mount="floor")


def held_at(
    celsius: float, x: float, y: float, z: float, night: float | None = None, kind: str = "on_off"
) -> Thermostat:
    """A thermostat with its probe at a point."""
    return Thermostat("t", "Thermostat", kind, celsius, night, 1.0, (x, y, z))  # type: ignore[arg-type]


def ledge(x: float, y: float, top: float, over: float, **more: Any) -> Slab:
    """A cork ledge with its upper side at a height, over ground of a depth."""
    thick = 0.02
    size = more.pop("size", (0.2, 0.15))
    return Slab(
        more.pop("id", f"ledge-{round(100 * top)}"),
        more.pop("label", "Ledge"),
        x,
        y,
        *size,
        thick,
        round(top - thick - over, 4),
        MATERIALS[more.pop("of", "cork")],
        **more,
    )


def perch(z: float, x0: float, x1: float, y: float, thick: float = 0.03, **more: Any) -> Branch:
    """A level branch."""
    name = more.pop("id", f"perch-{round(100 * z)}")
    return Branch(name, "Perch", (x0, y, z), (x1, y, z), thick, MATERIALS["hardwood"])


def hide(x: float, y: float, tall: float = 0.08, **more: Any) -> Hide:
    """A cork hide open to the front."""
    size = more.pop("size", (0.2, 0.16))
    return Hide(
        more.pop("id", "hide"),
        more.pop("label", "Hide"),
        x,
        y,
        *size,
        tall,
        0.01,
        "front",
        0.6 * size[0],
        tall - 0.012,
        MATERIALS["cork"],
        more.pop("moist", False),
    )


def pool(x: float, y: float, size: tuple[float, float, float]) -> Water:
    return Water("pool", "Pool", x, y, *size, MATERIALS["plastic"])
