"""Plans that cannot be built are refused with the place of the fault and what is allowed."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.errors import PlanError
from noonshade.core.plan import Plan, Vent, Wall
from noonshade.core.plan_errors import plan_errors
from tests.builders import CATALOG, changed, controlled, demo_plan, lifted
from tests.evaluated import evaluate

DEMO = demo_plan()


def furnished(**values: object) -> Plan:
    slab = DEMO.basking_slab
    assert slab is not None
    return replace(DEMO, furnishings=(replace(slab, **values), *DEMO.furnishings[1:]))  # type: ignore[arg-type]


def hidden(**values: object) -> Plan:
    hide = replace(DEMO.hides[0], **values)  # type: ignore[arg-type]
    return replace(DEMO, furnishings=(DEMO.furnishings[0], hide, DEMO.furnishings[2]))


def boxed(**values: object) -> Plan:
    return replace(DEMO, enclosure=replace(DEMO.enclosure, **values))  # type: ignore[arg-type]


OPEN_FLOOR = {**DEMO.enclosure.walls, "floor": Wall()}

CASES: list[tuple[Plan, str, str]] = [
    (lifted(DEMO, "uv-tube", 0.9), "/fixtures/1/position_m/z_m", "lid is closed"),
    (lifted(DEMO, "uv-tube", 0.05), "/fixtures/1/position_m/z_m", "between 8 cm and 60 cm"),
    (changed(DEMO, "uv-tube", position_m=(1.4, 0.3, 0.5)), "/fixtures/1/position_m/x_m", "120 cm"),
    (changed(DEMO, "uv-tube", position_m=(0.4, 0.7, 0.5)), "/fixtures/1/position_m/y_m", "60 cm"),
    (changed(DEMO, "basking-lamp", power_w=500.0), "/fixtures/0/power_w", "20 to 150 W"),
    (changed(DEMO, "uv-tube", power_w=40.0), "/fixtures/1/power_w", "has 39 W"),
    (changed(DEMO, "uv-tube", thermostat_id="gone"), "/fixtures/1/thermostat_id", "known: main"),
    (changed(DEMO, "uv-tube", id="basking-lamp"), "/fixtures/1/id", "used twice"),
    (controlled(DEMO, probe_m=(1.5, 0.3, 0.3)), "/thermostats/0/probe_m/x_m", "the probe"),
    (controlled(DEMO, probe_m=(0.5, 0.3, 0.61)), "/thermostats/0/probe_m/z_m", "60 cm"),
    (replace(DEMO, substrate=replace(DEMO.substrate, depth_m=0.58)), "/substrate/depth_m", "55 cm"),
    (furnished(x_m=0.05), "/furnishings/0/x_m", "between 15 cm"),
    (furnished(width_m=0.8), "/furnishings/0/width_m", "at most 60 cm"),
    (furnished(underside_m=0.55), "/furnishings/0/underside_m", "touches the lid"),
    (hidden(height_m=0.55), "/furnishings/1/height_m", "touches the lid"),
    (hidden(wall_m=0.12), "/furnishings/1/wall_m", "no room inside"),
    (hidden(opening_width_m=0.5), "/furnishings/1/opening_width_m", "wider than the hide"),
    (hidden(opening_height_m=0.095), "/furnishings/1/opening_height_m", "higher than the inside"),
    (boxed(vents=(Vent("left", 0.0, 0.9, 0.01),)), "/enclosure/vents/0/z_m", "a vent"),
    (boxed(vents=(Vent("front", 1.9, 0.5, 0.01),)), "/enclosure/vents/0/x_m", "a vent"),
    (boxed(walls=OPEN_FLOOR), "/enclosure/walls/floor", "solid"),
]


@pytest.mark.parametrize(("plan", "path", "words"), CASES, ids=[c[1] + " " + c[2] for c in CASES])
def test_impossible_plans_name_the_fault(plan: Plan, path: str, words: str) -> None:
    errors = {e.path: e.message for e in plan_errors(plan)}
    assert path in errors
    assert words in errors[path]
    with pytest.raises(PlanError):
        evaluate(plan)


def test_there_may_be_several_basking_spots_but_not_any_number() -> None:
    slab = DEMO.basking_slab
    assert slab is not None
    more = tuple(replace(slab, id=f"slab-{i}") for i in range(8))
    assert plan_errors(replace(DEMO, furnishings=(*DEMO.furnishings, *more[:7]))) == []
    errors = plan_errors(replace(DEMO, furnishings=(*DEMO.furnishings, *more)))
    assert [e.message for e in errors] == ["at most 8 slabs can be basking spots"]


def test_lamp_may_hang_above_a_mesh_lid() -> None:
    walls = {**DEMO.enclosure.walls, "top": Wall(mesh=CATALOG.meshes["fine-0.5-2.0"])}
    assert plan_errors(lifted(boxed(walls=walls), "uv-tube", 0.75)) == []
    assert plan_errors(lifted(boxed(walls=walls), "uv-tube", 1.2)) != []


def test_demo_is_buildable() -> None:
    assert plan_errors(DEMO) == []
