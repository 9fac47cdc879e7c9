"""What each part dries by: all of it together is what the air gets, and by how much it is watered."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.heat.climate import steady_climate
from noonshade.core.moisture.watering import LONGEST_DAYS, WaterUse, water_uses
from noonshade.core.plan import Layer, Misting, Plan, Substrate, Water, Zone
from tests.builders import MATERIALS, lamp, plan, timber_enclosure
from tests.evaluated import evaluate

SOIL = MATERIALS["soil"]
DISH = Water("dish", "Dish", 1.0, 0.15, 0.2, 0.2, 0.05, MATERIALS["plastic"])
CORNER = Zone("corner", "Damp corner", 0.15, 0.15, 0.3, 0.3, 0.7)


def damp(wetness: float = 0.2, zones: tuple[Zone, ...] = (CORNER,), dish: bool = True) -> Plan:
    source = plan(timber_enclosure(0.6), fixtures=(lamp("halogen-flood", 50, 0.4, 0.3, 0.5),))
    furnishings = (DISH,) if dish else ()
    return replace(source, substrate=Substrate(SOIL, 0.1, wetness, zones=zones), furnishings=furnishings)


def uses(source: Plan) -> dict[str, WaterUse]:
    return {use.id: use for use in evaluate(source).water}


def test_the_parts_together_are_what_the_air_gets() -> None:
    source = damp()
    day, night = steady_climate(source, "day"), steady_climate(source, "night")
    found = water_uses(source, day, night)
    assert [use.id for use in found] == ["ground", "corner", "dish"]
    rates = [c.moisture.evaporated_kg_s for c in (day, night)]
    whole = 3600.0 * (source.photoperiod_h * rates[0] + (24.0 - source.photoperiod_h) * rates[1])
    assert sum(use.lost_l_day for use in found) == pytest.approx(whole, rel=1e-6)


def test_what_is_damper_and_warmer_gives_off_more() -> None:
    found = uses(damp())
    by_area = {key: use.lost_l_day / use.area_m2 for key, use in found.items()}
    assert by_area["corner"] > 2.0 * by_area["ground"]
    under = replace(CORNER, id="under", x_m=0.4, y_m=0.3)
    apart = replace(CORNER, id="apart", x_m=1.0, y_m=0.45)
    two = uses(damp(zones=(under, apart), dish=False))
    assert two["under"].lost_l_day > 1.1 * two["apart"].lost_l_day


def test_a_zone_over_all_is_the_ground() -> None:
    box = damp().enclosure
    all_of_it = Zone("all", "All", box.length_m / 2, box.depth_m / 2, box.length_m, box.depth_m, 0.2)
    one, other = uses(damp(zones=(), dish=False)), uses(damp(0.0, (all_of_it,), dish=False))
    assert other["all"].lost_l_day == pytest.approx(one["ground"].lost_l_day, rel=1e-6)
    assert other["all"].pour_l == pytest.approx(one["ground"].pour_l or 0.0, rel=1e-6)
    assert uses(damp(0.0, (), dish=False)) == {}


def test_it_is_watered_when_half_of_what_makes_it_damp_is_gone() -> None:
    thin = replace(damp(), substrate=Substrate(SOIL, 0.03, 0.6))
    soon = uses(thin)["ground"]
    assert soon.held_l == pytest.approx(1000 * soon.area_m2 * 0.03 * SOIL.water_held / 2)
    assert soon.every_days is not None
    assert soon.every_days < LONGEST_DAYS
    assert soon.pour_l == pytest.approx(soon.held_l / 2)
    assert soon.pour_l == pytest.approx(soon.every_days * soon.lost_l_day)
    # What stays damp for longer is looked at once a month, and gets what it has lost by then.
    ground = uses(damp())["ground"]
    assert ground.every_days == LONGEST_DAYS
    assert ground.pour_l == pytest.approx(LONGEST_DAYS * ground.lost_l_day)
    drained = damp()
    below = (Layer(MATERIALS["clay-balls"], 0.06, barrier=True),)
    less = uses(replace(drained, substrate=replace(drained.substrate, below=below)))["ground"]
    assert less.held_l == pytest.approx(0.4 * ground.held_l)
    dish = uses(damp())["dish"]
    assert (dish.every_days, dish.pour_l) == (1.0, dish.lost_l_day)
    assert dish.held_l == pytest.approx(1000 * 0.2 * 0.2 * 0.05)


def test_spraying_counts_and_may_suffice() -> None:
    source = damp(dish=False)
    little = uses(replace(source, mistings=(Misting((8.0,), 0.02),)))["ground"]
    dry = uses(source)["ground"]
    assert 0 < little.sprayed_l_day < little.lost_l_day
    assert (little.every_days or 0.0) >= (dry.every_days or 0.0)
    much = uses(replace(source, mistings=(Misting((8.0, 20.0), 2.0),)))["ground"]
    assert much.sprayed_l_day > much.lost_l_day
    assert (much.every_days, much.pour_l, much.short_l_day) == (None, None, 0.0)


@pytest.mark.parametrize("wetness", np.linspace(0.05, 0.95, 4))
def test_never_longer_than_a_month(wetness: float) -> None:
    tight = damp(float(wetness), (), dish=False)
    found = uses(replace(tight, enclosure=replace(tight.enclosure, vents=())))["ground"]
    assert found.every_days is not None
    assert 0 < found.every_days <= LONGEST_DAYS
