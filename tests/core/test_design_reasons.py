"""Why a set-up is built so, in sentences a keeper reads once; what suits large animals."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.brief import Brief
from noonshade.core.design.options import arrangements_for, sites_for
from noonshade.core.design.ranking import SMALL_MAT_COST, unasked_cost
from noonshade.core.design.shells import Stock
from noonshade.core.design.why import reasons_for
from noonshade.core.plan import Misting, Room
from tests.builders import CATALOG
from tests.evaluated import evaluate

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)


def over_mats(species_id: str) -> Arrangement:
    brief = Brief(CATALOG.species[species_id], Room(21.0, 17.0, 0.45))
    site = next(s for s in sites_for(brief, STOCK) if s.layout.basking == "ground")
    return next(a for a in arrangements_for(site) if a.basking is not None and a.basking.mount == "floor")


def test_a_mat_smaller_than_a_coiled_snake_is_worth_less() -> None:
    assert unasked_cost(over_mats("boa-constrictor")) == SMALL_MAT_COST
    assert unasked_cost(over_mats("pantherophis-guttatus")) == 0.0


@pytest.mark.parametrize(
    ("count", "begins"),
    [
        (1, "A halogen flood (wide, 60° beam) hangs "),
        (4, "Four lamps, each a halogen flood (wide, 60° beam), hang "),
    ],
)
def test_what_hangs_there_is_a_whole_sentence(count: int, begins: str) -> None:
    brief = Brief(CATALOG.species["tiliqua-scincoides"], Room(21.0, 17.0, 0.45))
    found = [a for site in sites_for(brief, STOCK) for a in arrangements_for(site)]
    one = next(
        a
        for a in found
        if a.basking is not None
        and a.basking.lamp.id == "halogen-wide"
        and len(a.basking.positions) == count
    )
    values = {s.name: s.start for s in one.settings()}
    plan = one.at(values)
    named = tuple(
        replace(f, id=f.id.replace("basking-day", "basking-lamp")) if f.id.startswith("basking") else f
        for f in plan.fixtures
    )
    first, second = reasons_for(evaluate(replace(plan, fixtures=named)), one)
    assert str(first[0]).startswith(begins)
    assert "(medium, 55 cm, reflector) gives UV" in str(second[0])


def test_sprays_are_counted() -> None:
    brief = Brief(CATALOG.species["dendrobates-tinctorius"], Room(21.0, 17.0, 0.45))
    one = arrangements_for(next(iter(sites_for(brief, STOCK))))[0]
    plan = replace(one.at({}), mistings=(Misting((8.0, 14.0, 20.0), 0.05),))
    text = str(reasons_for(evaluate(plan), one)[1][0])
    assert "three sprayings a day keep it moist" in text
