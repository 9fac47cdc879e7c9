"""What set-ups cost to buy, and what a budget does to them."""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.design.brief import Brief
from noonshade.core.design.designer import design
from noonshade.core.design.prices import THERMOSTATS, price_of, price_to_buy
from noonshade.core.design.shells import Stock
from noonshade.core.plan import Room
from tests.builders import CATALOG, shipped_plan

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)
PLAN = shipped_plan("collared-lizard")


def test_every_lamp_has_a_price_that_grows_with_its_watts() -> None:
    for lamp in CATALOG.lamps.values():
        prices = [price_of(lamp, watts) for watts in sorted(lamp.power_choices_w)]
        assert prices[0] >= 10.0
        assert prices == sorted(prices)
    assert price_of(CATALOG.lamps["ceramic-heater"], 100.0) < price_of(
        CATALOG.lamps["radiant-panel-80"], 80.0
    )


def test_what_lies_ready_or_hangs_there_is_not_bought() -> None:
    whole = price_to_buy(PLAN)
    parts = [price_of(f.lamp, f.power_w) for f in PLAN.fixtures]
    assert whole == sum(parts) + sum(THERMOSTATS[t.kind] for t in PLAN.thermostats)
    first = PLAN.fixtures[0]
    assert price_to_buy(PLAN, {first.lamp.id: 1}) == whole - parts[0]
    assert price_to_buy(PLAN, {}, PLAN) == 0.0
    twice = replace(PLAN, fixtures=(*PLAN.fixtures, replace(first, id="second")))
    assert price_to_buy(twice, {first.lamp.id: 1}) == whole


def test_a_budget_is_kept_to_where_that_is_possible_and_said_where_it_is_not() -> None:
    brief = Brief(CATALOG.species["brachypelma-hamorii"], Room(22.0, 19.0, 0.6))
    found = design(brief, STOCK, quick=True)
    best = found.set_ups[0]
    assert not best.over_budget
    tight = design(replace(brief, budget=best.price), STOCK, quick=True).set_ups[0]
    assert tight.price <= best.price
    assert not tight.over_budget
    poor = Brief(CATALOG.species["pantherophis-guttatus"], Room(18.0, 14.0, 0.5), budget=10.0)
    snake = design(poor, STOCK, quick=True)
    assert snake.set_ups[0].over_budget
    assert "budget" in {c.id for c in snake.conflicts}
