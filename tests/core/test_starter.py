"""First layouts: one for every species, and what must hold of each."""

from __future__ import annotations

from dataclasses import replace
from importlib.resources import files

import pytest

from noonshade.core.errors import PlanError
from noonshade.core.plan import Plan, Room
from noonshade.core.plan_errors import plan_errors
from noonshade.core.starter import (
    BOX_KINDS,
    EnclosureKind,
    Size,
    Stock,
    first_layout,
    fitting_kind,
    fitting_size,
    next_fix,
)
from noonshade.demo import DEMO_PLANS
from noonshade.formats.plan_document import parse_plan, plan_json
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.plan_to_document import plan_document_of
from tests.builders import CATALOG, demo_plan
from tests.evaluated import evaluate

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)
ROOM = Room(22.0, 18.0, 0.45)


def layout(species_id: str, kind: EnclosureKind | None = None, room: Room = ROOM) -> Plan:
    species = CATALOG.species[species_id]
    stage = species.stages[0].id
    usual = kind or fitting_kind(species)
    return first_layout(species, stage, fitting_size(species), usual, room, STOCK, "Start")


# Every thirteenth species in the order of the catalogue, so that each group is among them.
SOME = [
    pytest.param(name, marks=[] if i % 2 == 0 else pytest.mark.thorough)
    for i, name in enumerate(sorted(CATALOG.species)[::13])
]


@pytest.mark.parametrize("species_id", SOME)
def test_a_layout_can_be_built_evaluated_and_written_down(species_id: str) -> None:
    plan = layout(species_id)
    assert plan_errors(plan) == []
    result = evaluate(plan)
    assert result.checks
    # Both ends have a hide, and there is water.
    middle = plan.enclosure.length_m / 2
    assert min(h.x_m for h in plan.hides) < middle < max(h.x_m for h in plan.hides)
    assert plan.waters
    assert resolve(parse_plan(plan_json(plan_document_of(plan))), CATALOG) == plan
    dangers = [f.id for f in result.findings if f.severity == "danger"]
    assert dangers == []


@pytest.mark.parametrize("kind", BOX_KINDS)
def test_every_kind_of_enclosure_is_built_for_the_same_animal(kind: EnclosureKind) -> None:
    plan = layout("crotaphytus-collaris", kind)
    assert plan_errors(plan) == []
    lid = plan.enclosure.walls["top"]
    assert (lid.material is not None) == (kind in ("timber", "pvc"))
    above = plan.enclosure.height_m
    for fixture in plan.fixtures:
        assert (fixture.position_m[2] > above) == (lid.material is None)


@pytest.mark.parametrize("name", sorted(DEMO_PLANS))
def test_plans_of_all_sorts_survive_being_written_down(name: str) -> None:
    plan = resolve(parse_plan((files("noonshade.demo") / f"{name}.json").read_bytes()), CATALOG)
    assert resolve(plan_document_of(plan), CATALOG) == plan


def test_a_desert_lizard_gets_heat_and_uv_and_a_stream_dweller_no_heater() -> None:
    desert = layout("crotaphytus-collaris")
    assert {"basking-lamp", "uv-lamp"} <= {f.id for f in desert.fixtures}
    heated = next(f for f in desert.fixtures if f.id == "basking-lamp")
    assert heated.thermostat_id == "main"
    assert heated.guard
    assert not any(f.lamp.is_hot for f in layout("salamandra-salamandra").fixtures)


def test_a_cold_room_asks_for_more_watts_and_a_heater_at_night() -> None:
    def watts(plan: Plan) -> float:
        return sum(f.power_w for f in plan.fixtures if f.lamp.is_hot and f.lit == "day")

    cold = layout("crotaphytus-collaris", room=Room(15.0, 8.0, 0.45))
    assert watts(cold) > watts(layout("crotaphytus-collaris", room=Room(28.0, 22.0, 0.45)))
    heater = next(f for f in cold.fixtures if f.lit == "night")
    assert not heater.lamp.gives_light
    need = next(n for n in cold.animal.needs if n.place == "night" and n.quantity == "air_temperature")
    assert need.low is not None
    bare = replace(cold, fixtures=tuple(f for f in cold.fixtures if f is not heater))
    assert evaluate(bare).night_air_c < need.low <= evaluate(cold).night_air_c + 0.2


def test_an_enclosure_too_small_is_refused_with_both_sizes() -> None:
    species = CATALOG.species["python-regius"]
    with pytest.raises(PlanError, match=r"20 × 20 × 20 cm is too small .* at least"):
        first_layout(species, "adult", Size(0.2, 0.2, 0.2), "glass", ROOM, STOCK, "Start")


def test_a_fix_is_one_that_breaks_nothing() -> None:
    plan = demo_plan()
    now = evaluate(plan)
    fix = next_fix(now, STOCK)
    assert fix is not None
    assert fix.breaks == ()
    failing = sum(v.fails for v in now.checks) + sum(f.fails for f in now.findings)
    after = evaluate(fix.plan)
    assert sum(v.fails for v in after.checks) + sum(f.fails for f in after.findings) < failing
    done = after
    while (more := next_fix(done, STOCK)) is not None:
        done = evaluate(more.plan)
    assert done.fits
