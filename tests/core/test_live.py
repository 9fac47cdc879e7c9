"""Pictures of a plan that is being changed are those of its evaluation, whatever was changed before."""

from __future__ import annotations

import random
import struct
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray

from noonshade.core.checkpoint import Stopped, checkpoint, clear_stop, request_stop
from noonshade.core.errors import PlanError
from noonshade.core.evaluate import evaluate
from noonshade.core.fields import PlanGrid, SectionGrid, compute_fields
from noonshade.core.heat.climate import steady_climate
from noonshade.core.live import LayerName, LivePlan, Picture
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors
from noonshade.formats.picture import packed_pictures
from tests.builders import demo_plan, shipped_plan

FRONT, ABOVE = SectionGrid(None, 24, 12), PlanGrid(None, 24, 12)
Floats = NDArray[np.float64]
LAYERS: tuple[LayerName, ...] = ("uvi", "irradiance", "light", "air", "surface", "humidity")
# What the two may differ by: of light as a share of the largest value, else in °C and as a fraction.
SHARE, AIR_C, HUMIDITY = 0.01, 0.05, 0.005
# A plume that just reaches a cell may settle in one of two ways: then that cell differs, and few others.
SAME_CELLS, OTHER_WAY_C = 95.0, 0.6


def moved(plan: Plan, chance: random.Random) -> Plan:
    number = chance.randrange(len(plan.fixtures))
    x, y, z = plan.fixtures[number].position_m
    place = (x + chance.uniform(-0.15, 0.15), y, z + chance.uniform(-0.05, 0.05))
    fixtures = list(plan.fixtures)
    fixtures[number] = replace(fixtures[number], position_m=place)
    return replace(plan, fixtures=tuple(fixtures))


def warmed(plan: Plan, chance: random.Random) -> Plan:
    return replace(plan, room=replace(plan.room, day_temperature_c=chance.uniform(16.0, 27.0)))


def deepened(plan: Plan, chance: random.Random) -> Plan:
    substrate = replace(plan.substrate, depth_m=plan.substrate.depth_m * chance.uniform(0.8, 1.1))
    return replace(plan, substrate=substrate)


EDITS: tuple[Callable[[Plan, random.Random], Plan], ...] = (moved, moved, moved, warmed, deepened)


@pytest.mark.parametrize("name", ["collared-lizard", "corn-snake"])
def test_it_is_the_evaluation_after_any_edits(name: str) -> None:
    chance = random.Random(20261201)
    plan, live = shipped_plan(name), LivePlan()
    edited, apart = 0, []
    while edited < 9:
        changed = chance.choice(EDITS)(plan, chance)
        if plan_errors(changed):
            continue
        plan, edited = changed, edited + 1
        # In a drag, most pictures are never followed by an evaluation.
        live.picture(plan, "air", FRONT, {})
        if edited % 3:
            continue
        whole = evaluate(plan)
        views = compute_fields(whole, FRONT, ABOVE)
        assert views.section is not None
        assert views.plan_view is not None
        for layer in LAYERS:
            front = live.picture(plan, layer, FRONT, whole.day.power_fraction).values
            above = live.picture(plan, layer, ABOVE, whole.day.power_fraction).values
            drawn = of(views.section, "air" if layer == "surface" else layer)
            for one, other in ((front, drawn), (above, of(views.plan_view, layer))):
                off = float(np.abs(one - other).max())
                if layer in ("air", "surface"):
                    assert np.percentile(np.abs(one - other), SAME_CELLS) < AIR_C, layer
                    assert off < OTHER_WAY_C, layer
                    apart.append(off)
                elif layer == "humidity":
                    assert off < HUMIDITY
                else:
                    assert off <= SHARE * float(other.max()), layer
    assert np.median(apart) < AIR_C


ATTRIBUTE = {
    "uvi": "uvi",
    "irradiance": "irradiance_w_m2",
    "light": "illuminance_lx",
    "air": "air_c",
    "surface": "surface_c",
    "humidity": "relative_humidity",
}


def of(view: object, layer: str) -> Floats:
    found: Floats = getattr(view, ATTRIBUTE[layer])
    return found


def test_a_plan_that_cannot_be_built_is_refused_and_the_next_one_is_not() -> None:
    plan, live = demo_plan(), LivePlan()
    broken = replace(plan, fixtures=(replace(plan.fixtures[0], position_m=(9.0, 0.3, 0.4)),))
    with pytest.raises(PlanError, match="/fixtures/0"):
        live.picture(broken, "uvi", FRONT, {})
    with pytest.raises(PlanError, match="lies outside"):
        live.picture(plan, "uvi", SectionGrid(2.9, 24, 12), {})
    assert live.picture(plan, "uvi", FRONT, {}).values.max() > 1.0


def test_pictures_are_packed_row_by_row() -> None:
    values = np.arange(6.0).reshape(2, 3)
    packed = packed_pictures({"front": Picture("air", values, (0.0, 1.2), (0.1, 0.6))})
    (length,) = struct.unpack_from("<I", packed)
    assert length % 4 == 0
    assert b'"nx": 3, "nz": 2, "x0": 0.0, "x1": 1.2, "z0": 0.1, "z1": 0.6' in packed[4 : 4 + length]
    assert np.frombuffer(packed[4 + length :], dtype="<f4").tolist() == [0.0, 1.0, 2.0, 3.0, 4.0, 5.0]


def test_a_computation_ends_where_a_stop_was_asked_for() -> None:
    checkpoint()
    request_stop()
    try:
        with pytest.raises(Stopped):
            evaluate(demo_plan())
    finally:
        clear_stop()
    checkpoint()


def test_streams_that_come_and_go_are_no_reason_to_begin_cold() -> None:
    plan = shipped_plan("hermanns-tortoise")
    state, sizes, rounds = steady_climate(plan, "day").state, set(), []
    for step in range(1, 7):
        bulb, tube = plan.fixtures
        x, y, z = tube.position_m
        there = replace(plan, fixtures=(bulb, replace(tube, position_m=(x - 0.04 * step, y, z))))
        near, cold = steady_climate(there, "day", None, state), steady_climate(there, "day")
        rounds.append((near.iterations, cold.iterations))
        sizes.add(near.temperature_c.size)
        off = np.abs(near.air_c - cold.air_c)
        assert np.percentile(off, SAME_CELLS) < AIR_C
        assert off.max() < OTHER_WAY_C
        state = near.state
    assert len(sizes) > 1
    assert all(near < cold for near, cold in rounds), rounds
