"""What to buy and what to do: counted against the plan."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.building import (
    ground_amounts,
    list_cautions,
    list_parts,
    moistening_l,
    running_cost,
    setup_steps,
    sheets,
)
from noonshade.core.building.ground import BAG_SIZES_L, SETTLING, ground_kg
from noonshade.core.building.order import load_kg
from noonshade.core.building.parts import rating_w
from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.day import simulate_day
from noonshade.core.phrase import plain_text
from noonshade.core.plan import (
    Background,
    Branch,
    ColdPack,
    Fan,
    Inset,
    Layer,
    Leaves,
    Misting,
    Plan,
    Substrate,
    Vent,
    Wall,
    Water,
    Zone,
    mixture,
)
from tests.builders import CATALOG, MATERIALS, demo_plan, lamp, shipped_plan
from tests.evaluated import evaluate


@pytest.fixture(scope="module")
def plan() -> Plan:
    return demo_plan()


def _deep(plan: Plan, depth: float) -> Plan:
    return replace(plan, substrate=replace(plan.substrate, depth_m=depth))


def test_substrate_is_floor_times_depth(plan: Plan) -> None:
    (amount,) = ground_amounts(plan)
    bags = amount.bags
    volume = plan.enclosure.length_m * plan.enclosure.depth_m * plan.substrate.depth_m
    assert bags.in_place_l == pytest.approx(1000 * volume)
    assert bags.mass_kg == pytest.approx(volume * plan.substrate.material.density_kg_m3)


@given(depth=st.floats(0.01, 0.5))
def test_bags_hold_enough_and_not_a_whole_small_bag_too_much(depth: float) -> None:
    bags = ground_amounts(_deep(demo_plan(), depth))[0].bags
    assert bags.to_buy_l == pytest.approx(bags.in_place_l * (1 + SETTLING))
    assert bags.bought_l >= bags.to_buy_l - 1e-9
    assert all(size in BAG_SIZES_L and count > 0 for size, count in bags.bags)
    # One bag more than needed is never bought.
    smallest = min(size for size, _ in bags.bags)
    assert bags.bought_l - smallest < bags.to_buy_l


def test_a_thin_cover_is_not_sold_in_bags(plan: Plan) -> None:
    assert ground_amounts(_deep(plan, 0.0)) == ()
    assert ground_amounts(_deep(plan, 0.001)) == ()
    assert not [p for p in list_parts(_deep(plan, 0.0)) if p.group == "ground"]


def test_every_lamp_is_counted_with_its_watts(plan: Plan) -> None:
    twice = replace(plan, fixtures=(*plan.fixtures, replace(plan.fixtures[0], id="second")))
    for each in (plan, twice):
        labels = {f.lamp.label for f in each.fixtures}
        counted = sum(p.count for p in list_parts(each) if p.group == "lamps" and p.label in labels)
        assert counted == len(each.fixtures)


def test_a_thermostat_is_rated_for_what_it_carries(plan: Plan) -> None:
    load = sum(f.power_w for f in plan.fixtures if f.thermostat_id == plan.thermostats[0].id)
    line = next(p for p in list_parts(plan) if "thermostat" in p.label.lower())
    assert f"{load:.0f} W" in plain_text(line.detail)
    assert f"{rating_w(load):.0f} W" in plain_text(line.detail)
    assert rating_w(load) >= 1.25 * load


def test_guards_vents_and_meters_are_on_the_list_only_where_wanted(plan: Plan) -> None:
    labels = [p.label for p in list_parts(plan)]
    assert "Guard around a lamp" not in labels
    assert "UV index meter, owned or borrowed" in labels
    guarded = replace(plan, fixtures=tuple(replace(f, guard=True) for f in plan.fixtures))
    guards = next(p for p in list_parts(guarded) if p.label == "Guard around a lamp")
    assert guards.count == len(plan.fixtures)
    dark = replace(plan, fixtures=(), thermostats=())
    assert not [p for p in list_parts(dark) if p.group in ("lamps", "control", "safety")]
    assert "UV index meter, owned or borrowed" not in [p.label for p in list_parts(dark)]


def test_cautions_follow_what_is_in_the_plan(plan: Plan) -> None:
    def kinds(p: Plan) -> set[str]:
        return {c.id for c in list_cautions(p)}

    assert {"fire", "mains", "uv", "mercury", "hygiene", "ill", "predicted"} <= kinds(plan)
    bare = replace(plan, fixtures=(), thermostats=())
    assert not kinds(bare) & {"fire", "mains", "uv", "mercury"}
    heaters = replace(plan, fixtures=tuple(f for f in plan.fixtures if f.lamp.uv is None))
    assert "uv" not in kinds(heaters)
    assert "fire" in kinds(heaters)


def test_the_order_puts_stones_before_ground_and_the_animal_last(plan: Plan) -> None:
    steps = [s.id for s in setup_steps(plan)]
    assert steps.index("lamps") < steps.index("stones") < steps.index("ground") < steps.index("furnish")
    assert steps[-2:] == ["test", "animal"]
    without = [s.id for s in setup_steps(replace(plan, fixtures=(), thermostats=()))]
    assert not {"supply", "lamps", "control", "timers"} & set(without)


def _full() -> Plan:
    """An enclosure with a thing of every kind."""
    bare = demo_plan()
    tube = next(f for f in bare.fixtures if f.lamp.kind == "tube")
    mat = replace(
        lamp("mat-28", 20.0, 1.0, 0.3, 0.0),
        id="mat",
        label="Heat mat",
        mount="floor",
        lit="always",
    )
    night = replace(
        lamp("ceramic-heater", 60.0, 1.0, 0.3, 0.45, guard=True),
        id="night",
        label="Night heater",
        lit="night",
    )
    window = Inset(0.1, 0.2, 0.5, 0.5, Wall(mesh=CATALOG.meshes["medium-0.7-4.0"]), "left")
    door = Inset(0.1, 0.1, 0.5, 0.5, Wall(MATERIALS["glass"], 0.004), "front", 0.002)
    return replace(
        bare,
        enclosure=replace(
            bare.enclosure,
            insets=(window, door),
            vents=(*bare.enclosure.vents, Vent("back", 0.6, 0.4, 0.002)),
        ),
        fixtures=(
            *(f for f in bare.fixtures if f.id != tube.id),
            replace(tube, timer=((9.0, 11.5), (14.0, 16.0)), screen=CATALOG.meshes["fine-0.5-2.0"]),
            mat,
            night,
        ),
        thermostats=tuple(replace(t, cut_out_c=45.0) for t in bare.thermostats),
        furnishings=(
            *bare.furnishings,
            Background("cork", "Cork back", "back", 0.03, MATERIALS["cork"]),
            Water("pool", "Pool", 0.9, 0.4, 0.2, 0.2, 0.05, MATERIALS["plastic"]),
            Leaves("ivy", "Ivy", 0.9, 0.2, 0.2, 0.2, 0.2, 0.1, 0.1, MATERIALS["foliage"]),
            Branch("oak", "Oak branch", (0.5, 0.4, 0.2), (0.8, 0.4, 0.4), 0.03, MATERIALS["cork"]),
        ),
        mistings=(Misting((18.0,), 0.1),),
        fog_kg_h=0.05,
        fans=(Fan("fan", "Small fan", 10.0, "day"),),
        cold_packs=(ColdPack("pack", "Frozen bottle", 0.9, 0.2, 12.0, 13.0, 4.0),),
    )


def test_a_thing_of_every_kind_is_bought() -> None:
    said = [f"{p.label} · {plain_text(p.detail)} · {p.why}" for p in list_parts(_full())]
    for words in (
        "Part of the left: Medium",
        "Door: ",
        "back, its middle 40 cm",
        "Screen under a lamp",
        "Guard around a lamp",
        "Ceramic lamp holder or the heater's own fitting",
        "With a separate limit that cuts the heaters off",
        "09:00 to 11:30, 14:00 to 16:00",
        "18:00 to 06:00",
        "Cork back",
        "120 cm × 60 cm, on the back",
        "Pool",
        "5 cm deep",
        "Oak branch",
        "36 cm long, 3 cm thick",
        "up to 100 ml at 18:00",
        "Fogger · 50 ml an hour",
        "Fan: Small fan · 10 m³ an hour",
        "Cold pack: Frozen bottle",
    ):
        assert any(words.lower() in line.lower() for line in said), (words, said)


def test_a_thing_of_every_kind_has_its_place_in_the_order() -> None:
    steps = {s.id: " ".join(plain_text(d) for d in s.details) for s in setup_steps(_full())}
    for step, words in (
        ("walls", "Cork back on the back."),
        ("walls", "Vent on the back: middle 40 cm up, 60 cm from the left."),
        ("lamps", "under the floor"),
        ("lamps", "with its guard"),
        ("furnish", "fixed so that it cannot turn"),
        ("furnish", "lowest leaves 10 cm above the ground"),
        ("furnish", "Pool: middle 90 cm from the left"),
        ("timers", "UV tube: 09:00 to 11:30, 14:00 to 16:00."),
        ("timers", "Heat mat: day and night."),
        ("timers", "Night heater: 18:00 to 06:00."),
    ):
        assert words in steps[step], (words, steps[step])
    # Water and wood weigh too.
    assert load_kg(_full()) > load_kg(demo_plan()) + 1.5


def test_the_stand_carries_walls_ground_and_water(plan: Plan) -> None:
    bags = ground_amounts(plan)[0].bags
    light = _deep(plan, 0.0)
    assert load_kg(plan) - load_kg(light) == pytest.approx(bags.mass_kg)


def test_running_at_full_power_is_watts_times_hours(plan: Plan) -> None:
    found = running_cost(plan)
    assert not found.regulated
    assert found.connected_w == sum(f.power_w for f in plan.fixtures)
    by_hand = sum(f.power_w * plan.photoperiod_h for f in plan.fixtures if f.lit == "day") / 1000
    assert found.day_kwh == pytest.approx(by_hand)
    assert found.month_cost == pytest.approx(by_hand * DAYS_PER_MONTH * plan.room.tariff_per_kwh)


def test_running_by_the_simulated_day_is_what_the_day_says(plan: Plan) -> None:
    day = simulate_day(evaluate(plan))
    found = running_cost(plan, day)
    assert found.regulated
    assert found.month_kwh == pytest.approx(sum(f.month_kwh for f in day.fixtures))
    assert found.month_kwh <= running_cost(plan).month_kwh + 1e-9


def test_most_at_one_time_is_not_what_never_runs_together(plan: Plan) -> None:
    first = plan.fixtures[0]
    apart = replace(plan, fixtures=(first, replace(first, id="night", lit="night")))
    assert running_cost(apart).most_w == first.power_w
    assert running_cost(apart).connected_w == 2 * first.power_w


def _layered(plan: Plan) -> Plan:
    """Four layers, damp: litter, a mix with coir, soil, and drainage under a sheet."""
    soil, coir, sand = (MATERIALS[name] for name in ("soil", "coir", "dry-sand"))
    parts = ((soil, 2.0), (coir, 1.0), (sand, 1.0))
    ground = Substrate(
        MATERIALS["leaf-litter"],
        0.22,
        0.4,
        below=(
            Layer(mixture(parts), 0.10, parts),
            Layer(soil, 0.05),
            Layer(MATERIALS["clay-balls"], 0.05, barrier=True),
        ),
        zones=(Zone("wet", "Damp corner", 0.9, 0.2, 0.3, 0.3, 0.8),),
    )
    return replace(plan, substrate=ground)


def test_layers_are_bought_by_material_and_laid_from_the_bottom_up(plan: Plan) -> None:
    layered = _layered(plan)
    area = plan.enclosure.length_m * plan.enclosure.depth_m
    amounts = {a.material.id: a for a in ground_amounts(layered)}
    # Soil is in two layers: half of 10 cm and all of 5.
    assert amounts["soil"].bags.in_place_l == pytest.approx(1000 * area * 0.10)
    assert amounts["clay-balls"].bags.in_place_l == pytest.approx(1000 * area * 0.05)
    coir = amounts["coir"]
    assert coir.bags.in_place_l == pytest.approx(1000 * area * 0.025)
    bought = sum(size * count for size, count in coir.bricks)
    assert bought * coir.material.swells_l_kg >= coir.bags.to_buy_l
    assert (bought - 0.65) * coir.material.swells_l_kg < coir.bags.to_buy_l
    mass = sum(layer.depth_m * area * layer.material.density_kg_m3 for layer in layered.substrate.layers)
    assert ground_kg(layered) == pytest.approx(mass)
    bare = load_kg(_deep(plan, 0.0))
    assert load_kg(layered) - bare == pytest.approx(mass)
    # Drainage stays dry; what lies on it takes half of what it holds.
    wet = [layer for layer in layered.substrate.layers if not layer.barrier]
    held = sum(1000 * area * layer.depth_m * layer.material.water_held for layer in wet)
    assert moistening_l(layered) == pytest.approx(held / 2)
    assert moistening_l(plan) == 0.0
    # Dry above and damp below is wetted below only.
    soil_below = (replace(layered.substrate.below[0], wetness=0.5), *layered.substrate.below[1:])
    dry_above = replace(layered.substrate, wetness=0.0, zones=(), below=soil_below)
    first = soil_below[0]
    assert moistening_l(replace(layered, substrate=dry_above)) == pytest.approx(
        1000 * area * first.depth_m * first.material.water_held / 2
    )
    ((length, width),) = sheets(layered)
    assert (length, width) == pytest.approx((plan.enclosure.length_m + 0.1, plan.enclosure.depth_m + 0.1))
    listed = [p.label for p in list_parts(layered) if p.group == "ground"]
    assert listed[-1] == "Fleece or fine mesh"
    assert {"Coir, damp", "Topsoil, moist", "Dry sand", "Expanded clay", "Leaf litter"} <= set(listed)
    steps = [plain_text(d) for s in setup_steps(layered) if s.id == "ground" for d in s.details]
    order = [next(i for i, step in enumerate(steps) if words in step) for words in LAID]
    assert order == sorted(order), steps
    inches = [
        plain_text(d, "imperial") for s in setup_steps(layered) if s.id == "ground" for d in s.details
    ]
    assert " qt" in inches[0]


LAID = (
    "Soak the coir, 3 bricks of 0.65 kg, in 12 L of warm water",
    "At the bottom: expanded clay, 5 cm deep",
    "On it the sheet, 130 cm × 70 cm",
    "Then topsoil, 5 cm deep",
    "Then a mix of 40 L topsoil, 20 L coir and 20 L dry sand: 10 cm deep when settled (72 L).",
    "Then leaf litter, 2 cm deep",
    "Work in up to",
    "Damp corner: 30 cm × 30 cm",
)


def test_what_digs_gets_ground_that_is_packed(plan: Plan) -> None:
    spider = shipped_plan("giant-vinegaroon")
    assert spider.animal.digs
    steps = [plain_text(d) for s in setup_steps(spider) if s.id == "ground" for d in s.details]
    assert any("press the damp ground down firmly in lifts of 5 cm" in step for step in steps)
    assert not any("press" in plain_text(d) for s in setup_steps(plan) for d in s.details)
