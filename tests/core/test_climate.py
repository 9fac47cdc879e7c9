"""The whole heat model on the demo enclosure and simple enclosures."""

from __future__ import annotations

from dataclasses import replace
from importlib.resources import files

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.errors import ConvergenceError
from noonshade.core.heat import climate as climate_module
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import Resolution, build_grid
from noonshade.core.heat.radiation import lamp_heat
from noonshade.core.light.field import Scene
from noonshade.core.places import place_figures
from noonshade.core.plan import Plan, Room
from noonshade.demo import DEMO_PLANS
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.plan_from_document import resolve
from tests.builders import (
    CATALOG,
    changed,
    controlled,
    demo_plan,
    lamp,
    lifted,
    plan,
    slab,
    timber_enclosure,
    uncontrolled,
)

DEMO = demo_plan()
FREE = uncontrolled(DEMO)


def in_room(source: Plan, room_c: float) -> Plan:
    return replace(source, room=Room(room_c, 17.0, 0.45))


def test_heat_in_is_heat_out_and_all_watts_are_accounted_for() -> None:
    climate = steady_climate(FREE)
    assert climate.balance.relative_error < 1e-6
    assert climate.power_w == pytest.approx(75 + 39)
    assert climate.balance.heat_in_w + climate.outside_w == pytest.approx(climate.power_w, rel=1e-9)


@pytest.mark.parametrize("lamp_id", sorted(k for k, v in CATALOG.lamps.items() if v.kind != "mat"))
def test_every_lamp_gives_away_exactly_its_watts(lamp_id: str) -> None:
    item = CATALOG.lamps[lamp_id]
    source = plan(
        timber_enclosure(),
        fixtures=(lamp(lamp_id, item.power_w, 0.5, 0.3, 0.5),),
        furnishings=(slab(0.5, 0.3, 0.3, 0.3, 0.02, 0.1),),
    )
    heat = lamp_heat(source, build_grid(source), source.fixtures[0])
    total = float(np.sum(heat.absorbed_w)) + heat.air_w + heat.diffuse_w + heat.outside_w
    assert total == pytest.approx(item.power_w, rel=1e-9)
    assert heat.air_w >= 0
    assert heat.diffuse_w >= -1e-9
    assert heat.outside_w >= -1e-9


def test_beam_sampling_misses_little() -> None:
    """Sampled irradiance over all surfaces comes within a tenth of the beam's watts."""
    fixture = FREE.fixtures[0]
    heat = lamp_heat(FREE, build_grid(FREE), fixture)
    patches = build_grid(FREE).patches
    forward = fixture.power_w * fixture.lamp.forward_radiant
    landed = float(np.sum(heat.absorbed_w / np.maximum(patches.absorptance, 1e-9)))
    assert landed == pytest.approx(forward, rel=0.1)


def test_with_nothing_on_everything_is_at_room_temperature() -> None:
    dark = replace(FREE, fixtures=())
    climate = steady_climate(dark)
    assert np.allclose(climate.temperature_c, 21.0, atol=1e-6)


@settings(max_examples=8)
@given(room=st.floats(5, 35), warmer=st.floats(0.5, 8))
def test_a_warmer_room_warms_every_node(room: float, warmer: float) -> None:
    """Limit case 10, heaters at fixed power."""
    cold = steady_climate(in_room(FREE, room)).temperature_c
    warm = steady_climate(in_room(FREE, room + warmer)).temperature_c
    assert np.all(warm > cold)


def test_raising_the_lamp_and_adding_mesh_cool_the_slab() -> None:
    """Limit case 10 for irradiance and what follows from it."""

    def slab_c(source: Plan) -> float:
        climate = steady_climate(source)
        value = place_figures(climate, Scene(source, source.fixtures, climate.power_fraction))[0].surface_c
        assert value is not None
        return value

    near = slab_c(FREE)
    assert slab_c(lifted(FREE, "basking-lamp", 0.58)) < near
    assert slab_c(changed(FREE, "basking-lamp", screen=CATALOG.meshes["fine-0.5-2.0"])) < near
    assert slab_c(changed(FREE, "basking-lamp", power_w=50.0)) < near


def test_thermostat_holds_its_probe() -> None:
    steady = steady_climate(controlled(DEMO, day_set_point_c=26.0))
    state = steady.thermostats[0]
    assert state.holds
    assert state.probe_c == pytest.approx(26.0, abs=0.02)
    assert 0.0 < state.fraction < 1.0
    assert steady.power_fraction["basking-lamp"] == state.fraction
    assert steady.power_fraction["uv-tube"] == 1.0


def test_thermostat_that_cannot_reach_its_set_point_runs_at_full_power() -> None:
    state = steady_climate(controlled(DEMO, day_set_point_c=45.0)).thermostats[0]
    assert state.fraction == 1.0
    assert not state.holds
    assert state.probe_c < 45.0


def test_thermostat_in_a_warm_room_stays_off() -> None:
    warm = in_room(controlled(DEMO, day_set_point_c=20.0), 30.0)
    state = steady_climate(warm).thermostats[0]
    assert state.fraction == 0.0
    assert state.probe_c > 20.0


def test_where_the_probe_sits_decides() -> None:
    cool = steady_climate(controlled(DEMO, day_set_point_c=27.0))
    in_beam = steady_climate(controlled(DEMO, day_set_point_c=27.0, probe_m=(0.28, 0.3, 0.35)))
    on_slab = steady_climate(controlled(DEMO, day_set_point_c=45.0, probe_m=(0.28, 0.3, 0.20)))
    assert in_beam.thermostats[0].fraction < 0.6 * cool.thermostats[0].fraction
    # A probe on the slab reads the slab's own surface.
    plate = on_slab.grid.plate_of("basking-slab")
    assert plate is not None
    i, j = plate.top.nearest(0.28, 0.3)
    assert on_slab.sheet_c(plate.top)[i, j] == pytest.approx(45.0, abs=0.05)


def test_stone_spreads_heat_and_cork_does_not() -> None:
    def spread(material: str) -> float:
        source = plan(
            timber_enclosure(),
            fixtures=(lamp("halogen-spot", 50, 0.3, 0.3, 0.5),),
            furnishings=(slab(0.3, 0.3, 0.3, 0.3, 0.02, 0.05, material),),
        )
        climate = steady_climate(source)
        surface = climate.sheet_c(climate.grid.plates[0].top)
        return float(surface.max() - surface.min())

    assert spread("cork") > 1.8 * spread("slate")


def test_tall_enclosures_stratify_and_the_lamp_end_is_warmer() -> None:
    air = steady_climate(FREE).air_c
    assert np.mean(air[:, -1]) > np.mean(air[:, 0]) + 1.0
    third = air.shape[0] // 3
    assert np.mean(air[:third]) > np.mean(air[-third:]) + 0.5


def test_vents_cool_the_enclosure() -> None:
    sealed = replace(FREE, enclosure=replace(FREE.enclosure, vents=()))
    assert np.mean(steady_climate(sealed).air_c) > np.mean(steady_climate(FREE).air_c)


def test_failure_to_settle_is_an_error_with_its_reason(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(climate_module, "MAX_ITERATIONS", 2)
    with pytest.raises(ConvergenceError, match="did not settle in 2 rounds"):
        steady_climate(FREE)


def test_same_plan_same_answer() -> None:
    first, second = steady_climate(DEMO), steady_climate(DEMO)
    assert np.array_equal(first.temperature_c, second.temperature_c)


@pytest.mark.parametrize("name", DEMO_PLANS)
def test_refining_the_grid_twofold_changes_little(name: str) -> None:
    """Limit case 8: zone temperatures by less than 0.3 K, surfaces in a beam by less than 0.4 K."""
    text = (files("noonshade.demo") / f"{name}.json").read_text(encoding="utf-8")
    source = uncontrolled(resolve(parse_plan(text), CATALOG))
    scene = Scene(source, tuple(f for f in source.fixtures if f.lit_at("day")))
    usual, fine = (
        place_figures(steady_climate(source, "day", resolution), scene)
        for resolution in (Resolution(), Resolution().refined(2))
    )
    for a, b in zip(usual, fine, strict=True):
        assert abs(a.air_c - b.air_c) < 0.3, a.id
        if a.surface_c is not None and b.surface_c is not None:
            assert abs(a.surface_c - b.surface_c) < 0.4, a.id
