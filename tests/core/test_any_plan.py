"""Any plan that passes validation gets a finite, balanced climate."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.evaluate import evaluate
from noonshade.core.plan import FACES, Enclosure, Face, Fixture, Plan, Thermostat, Vent, Wall
from noonshade.core.plan_errors import plan_errors
from tests.builders import CATALOG, MATERIALS, plan, slab

SOLID = [Wall(MATERIALS[m], t) for m in ("timber", "glass", "pvc") for t in (0.001, 0.02, 0.3)]
OPEN = [Wall(mesh=mesh) for mesh in CATALOG.meshes.values()] + [Wall()]


@st.composite
def plans(draw: st.DrawFn) -> Plan:
    length, depth, height = (draw(st.floats(0.15, most)) for most in (3.0, 1.5, 2.0))
    walls: dict[Face, Wall] = {
        face: draw(st.sampled_from(SOLID if face == "floor" else SOLID + OPEN)) for face in FACES
    }
    vents = tuple(
        Vent(
            draw(st.sampled_from(["left", "right", "front", "back"])),
            draw(st.floats(0, length)),
            draw(st.floats(0, height)),
            draw(st.floats(1e-6, 0.1)),
        )
        for _ in range(draw(st.integers(0, 3)))
    )
    ground = draw(st.floats(0, height - 0.1))
    fixtures = []
    for i in range(draw(st.integers(0, 3))):
        lamp = draw(st.sampled_from(sorted(CATALOG.lamps.values(), key=lambda lamp: lamp.id)))
        half = getattr(lamp.geometry, "length_m", 0.0) / 2
        if 2 * half > length:
            continue
        position = (
            draw(st.floats(half, length - half)),
            draw(st.floats(0, depth)),
            draw(st.floats(ground + 0.01, height)),
        )
        screen = draw(st.sampled_from([None, *CATALOG.meshes.values()]))
        thermostat = draw(st.sampled_from([None, "a", "b"]))
        fixture = Fixture(f"f{i}", "Lamp", lamp, lamp.power_w, position, "always", screen, thermostat)
        fixtures.append(replace(fixture, mount="floor") if lamp.kind == "mat" else fixture)
    thermostats = tuple(
        Thermostat(
            key,
            "Thermostat",
            "on_off",
            draw(st.floats(0, 60)),
            draw(st.none() | st.floats(0, 60)),
            1.0,
            (draw(st.floats(0, length)), draw(st.floats(0, depth)), draw(st.floats(ground, height))),
        )
        for key in ("a", "b")
    )
    size = draw(st.floats(0.02, min(length, depth, 0.5)))
    stone = slab(length / 2, depth / 2, size, size, 0.01, draw(st.floats(0, height - ground - 0.02)))
    return plan(
        Enclosure(length, depth, height, walls, vents),
        draw(st.floats(-30, 60)),
        tuple(fixtures),
        (stone,),
        ground,
        thermostats,
        draw(st.floats(-30, 60)),
    )


@settings(max_examples=20)
@given(candidate=plans())
def test_any_buildable_plan_is_answered(candidate: Plan) -> None:
    assert plan_errors(candidate) == []
    result = evaluate(candidate)
    temperature = result.day.temperature_c
    room = result.day.room_c
    assert np.all(np.isfinite(temperature))
    assert result.day.balance.relative_error < 1e-6
    # Heaters only warm: nothing is colder than the room.
    assert float(temperature.min()) > room - 0.05
    assert len(result.checks) >= 6
