"""Plausible plans drawn from a seed: sizes in steps of 1 cm, walls, lids, heaters, thermostats."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from noonshade.core.plan import FACES, Fixture, Plan, Room, Slab, Thermostat, Vent, Wall
from noonshade.core.plan_errors import plan_errors
from tests.builders import CATALOG, demo_plan

_WALLS = (("timber", 0.015), ("timber", 0.018), ("pvc", 0.01), ("glass", 0.004), ("glass", 0.006))
_HEATERS = (
    *("halogen-flood", "halogen-flood", "ceramic-heater", "radiant-panel-40", "radiant-panel-80"),
    *("mat-28", "t5-strong-85", "led-uvb-bar-60"),
)


def plausible_plan(seed: int) -> Plan:
    """A plan that can be built; the same for the same seed."""
    rng = np.random.default_rng(seed)
    while True:
        plan = _drawn(rng)
        if not plan_errors(plan):
            return plan


def _drawn(rng: np.random.Generator) -> Plan:
    base = demo_plan()
    length, depth, height = (int(rng.integers(a, b)) / 100 for a, b in ((40, 185), (30, 91), (30, 121)))
    walls = {}
    material, thickness = _WALLS[rng.integers(len(_WALLS))]
    for face in FACES:
        walls[face] = Wall(material=CATALOG.materials[material], thickness_m=thickness)
    if rng.random() < 0.6:
        walls["front"] = Wall(material=CATALOG.materials["glass"], thickness_m=0.004)
    meshed = rng.random() < 0.45
    if meshed:
        walls["top"] = Wall(mesh=CATALOG.meshes["medium-0.7-4.0"])
    vents = ()
    if not meshed and rng.random() < 0.8:
        vents = (
            Vent("right", length, round(rng.uniform(0.1, 0.3) * height, 3), rng.uniform(5, 80) * 1e-4),
            Vent("left", 0.0, round(rng.uniform(0.6, 0.9) * height, 3), rng.uniform(5, 80) * 1e-4),
        )
    enclosure = replace(
        base.enclosure,
        length_m=length,
        depth_m=depth,
        height_m=height,
        walls=walls,
        vents=vents,
        insets=(),
        neighbours={},
    )
    ground = replace(
        base.substrate, depth_m=int(rng.integers(0, 13)) / 100, wetness=float(rng.choice([0.0, 0.1, 0.4]))
    )
    side = round(min(0.3, 0.5 * depth, 0.3 * length), 2)
    slab = next(f for f in base.furnishings if isinstance(f, Slab))
    slab = replace(
        slab, x_m=0.25 * length, y_m=0.5 * depth, length_m=side, width_m=side, underside_m=0.0, stack=None
    )
    fixtures, thermostats = [], []
    for number in range(int(rng.integers(0, 4))):
        lamp = CATALOG.lamps[_HEATERS[rng.integers(len(_HEATERS))]]
        watts = float(rng.choice(lamp.power_choices_w))
        lit = str(rng.choice(["day", "night", "always"])) if not lamp.gives_light else "day"
        where = (
            round(rng.uniform(0.2, 0.8) * length, 3),
            0.5 * depth,
            height + (0.06 if meshed else -0.08),
        )
        mount = "floor" if lamp.kind == "mat" else "air"
        fixture = Fixture(
            f"lamp-{number}",
            f"Lamp {number}",
            lamp,
            watts,
            (where[0], where[1], 0.0) if mount == "floor" else where,
            lit,  # type: ignore[arg-type]
            mount=mount,  # type: ignore[arg-type]
            guard=not meshed,
        )
        if lamp.controls and rng.random() < 0.8:
            kind = lamp.controls[rng.integers(len(lamp.controls))]
            point = round(float(rng.uniform(22, 36)), 1)
            probe = tuple(
                round(float(v), 3)
                for v in (
                    rng.uniform(0.1, 0.9) * length,
                    rng.uniform(0.2, 0.8) * depth,
                    ground.depth_m + rng.uniform(0.02, 0.6) * (height - ground.depth_m),
                )
            )
            thermostats.append(
                Thermostat(
                    f"t-{number}",
                    f"Thermostat {number}",
                    kind,
                    point,
                    round(point - float(rng.uniform(0, 8)), 1),
                    round(float(rng.uniform(0.3, 6.0)), 2),
                    probe,  # type: ignore[arg-type]
                )
            )
            fixture = replace(fixture, thermostat_id=f"t-{number}")
        fixtures.append(fixture)
    room = round(float(rng.uniform(12, 27)), 1)
    return replace(
        base,
        enclosure=enclosure,
        substrate=ground,
        furnishings=(slab,),
        fixtures=tuple(fixtures),
        thermostats=tuple(thermostats),
        room=Room(room, round(room - float(rng.uniform(0, 6)), 1), 0.5),
        fog_per_m=float(rng.choice([0.0, 0.0, 0.0, 2.0])),
        mistings=(),
        fans=(),
        cold_packs=(),
    )
