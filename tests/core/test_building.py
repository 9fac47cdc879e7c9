"""What to buy and what to do: counted against the plan."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.building import cautions, order, parts, running, substrate_bags
from noonshade.core.building.order import load_kg
from noonshade.core.building.parts import BAG_SIZES_L, SETTLING, rating_w
from noonshade.core.day import DAYS_PER_MONTH, simulate_day
from noonshade.core.evaluate import evaluate
from noonshade.core.phrase import plain_text
from noonshade.core.plan import Plan
from tests.builders import demo_plan


@pytest.fixture(scope="module")
def plan() -> Plan:
    return demo_plan()


def _deep(plan: Plan, depth: float) -> Plan:
    return replace(plan, substrate=replace(plan.substrate, depth_m=depth))


def test_substrate_is_floor_times_depth(plan: Plan) -> None:
    bags = substrate_bags(plan)
    assert bags is not None
    volume = plan.box.length_m * plan.box.depth_m * plan.substrate.depth_m
    assert bags.in_place_l == pytest.approx(1000 * volume)
    assert bags.mass_kg == pytest.approx(volume * plan.substrate.material.density_kg_m3)


@given(depth=st.floats(0.01, 0.5))
def test_bags_hold_enough_and_not_a_whole_small_bag_too_much(depth: float) -> None:
    bags = substrate_bags(_deep(demo_plan(), depth))
    assert bags is not None
    assert bags.to_buy_l == pytest.approx(bags.in_place_l * (1 + SETTLING))
    assert bags.bought_l >= bags.to_buy_l - 1e-9
    assert all(size in BAG_SIZES_L and count > 0 for size, count in bags.bags)
    # One bag more than needed is never bought.
    smallest = min(size for size, _ in bags.bags)
    assert bags.bought_l - smallest < bags.to_buy_l


def test_a_thin_cover_is_not_sold_in_bags(plan: Plan) -> None:
    assert substrate_bags(_deep(plan, 0.0)) is None
    assert substrate_bags(_deep(plan, 0.001)) is None
    assert not [p for p in parts(_deep(plan, 0.0)) if p.group == "ground"]


def test_every_lamp_is_counted_with_its_watts(plan: Plan) -> None:
    twice = replace(plan, fixtures=(*plan.fixtures, replace(plan.fixtures[0], id="second")))
    for each in (plan, twice):
        labels = {f.lamp.label for f in each.fixtures}
        counted = sum(p.count for p in parts(each) if p.group == "lamps" and p.label in labels)
        assert counted == len(each.fixtures)


def test_a_thermostat_is_rated_for_what_it_carries(plan: Plan) -> None:
    load = sum(f.power_w for f in plan.fixtures if f.thermostat_id == plan.thermostats[0].id)
    line = next(p for p in parts(plan) if "thermostat" in p.label.lower())
    assert f"{load:.0f} W" in plain_text(line.detail)
    assert f"{rating_w(load):.0f} W" in plain_text(line.detail)
    assert rating_w(load) >= 1.25 * load


def test_guards_vents_and_meters_are_on_the_list_only_where_wanted(plan: Plan) -> None:
    labels = [p.label for p in parts(plan)]
    assert "Guard around a lamp" not in labels
    assert "UV index meter, owned or borrowed" in labels
    guarded = replace(plan, fixtures=tuple(replace(f, guard=True) for f in plan.fixtures))
    guards = next(p for p in parts(guarded) if p.label == "Guard around a lamp")
    assert guards.count == len(plan.fixtures)
    dark = replace(plan, fixtures=(), thermostats=())
    assert not [p for p in parts(dark) if p.group in ("lamps", "control", "safety")]
    assert "UV index meter, owned or borrowed" not in [p.label for p in parts(dark)]


def test_cautions_follow_what_is_in_the_plan(plan: Plan) -> None:
    def kinds(p: Plan) -> set[str]:
        return {c.id for c in cautions(p)}

    assert {"fire", "mains", "uv", "mercury", "hygiene", "ill", "predicted"} <= kinds(plan)
    bare = replace(plan, fixtures=(), thermostats=())
    assert not kinds(bare) & {"fire", "mains", "uv", "mercury"}
    heaters = replace(plan, fixtures=tuple(f for f in plan.fixtures if f.lamp.uv is None))
    assert "uv" not in kinds(heaters)
    assert "fire" in kinds(heaters)


def test_the_order_puts_stones_before_ground_and_the_animal_last(plan: Plan) -> None:
    steps = [s.id for s in order(plan)]
    assert steps.index("lamps") < steps.index("stones") < steps.index("ground") < steps.index("furnish")
    assert steps[-2:] == ["test", "animal"]
    without = [s.id for s in order(replace(plan, fixtures=(), thermostats=()))]
    assert not {"supply", "lamps", "control", "timers"} & set(without)


def test_the_stand_carries_walls_ground_and_water(plan: Plan) -> None:
    bags = substrate_bags(plan)
    assert bags is not None
    light = _deep(plan, 0.0)
    assert load_kg(plan) - load_kg(light) == pytest.approx(bags.mass_kg)


def test_running_at_full_power_is_watts_times_hours(plan: Plan) -> None:
    found = running(plan)
    assert not found.regulated
    assert found.connected_w == sum(f.power_w for f in plan.fixtures)
    by_hand = sum(f.power_w * plan.photoperiod_h for f in plan.fixtures if f.lit == "day") / 1000
    assert found.day_kwh == pytest.approx(by_hand)
    assert found.month_cost == pytest.approx(by_hand * DAYS_PER_MONTH * plan.room.tariff_per_kwh)


def test_running_by_the_simulated_day_is_what_the_day_says(plan: Plan) -> None:
    day = simulate_day(evaluate(plan))
    found = running(plan, day)
    assert found.regulated
    assert found.month_kwh == pytest.approx(sum(f.month_kwh for f in day.fixtures))
    assert found.month_kwh <= running(plan).month_kwh + 1e-9


def test_most_at_one_time_is_not_what_never_runs_together(plan: Plan) -> None:
    first = plan.fixtures[0]
    apart = replace(plan, fixtures=(first, replace(first, id="night", lit="night")))
    assert running(apart).most_w == first.power_w
    assert running(apart).connected_w == 2 * first.power_w
