"""Designs that are sure of what they promise, and say why where they cannot be."""

from __future__ import annotations

import pickle
from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from noonshade.core.design.aims import OUTSIDE_COST, SURELY, chance_of, cost_of, cost_of_values
from noonshade.core.design.arrangement import SPRAYED_BY_NIGHT_AT
from noonshade.core.design.brief import Brief
from noonshade.core.design.built import built, surer
from noonshade.core.design.choice import order_of
from noonshade.core.design.designer import design
from noonshade.core.design.dials import turned
from noonshade.core.design.doubts import find_doubts
from noonshade.core.design.idle import without_idle
from noonshade.core.design.improvements import others_like, sprayed_by_night
from noonshade.core.design.options import arrangements_for, sites_for
from noonshade.core.design.search import Found, Search
from noonshade.core.design.set_up import SetUp
from noonshade.core.design.shells import Stock
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Need, StageId
from noonshade.core.plan import PanelSource, Room, RoomClimate
from noonshade.core.plan_errors import plan_errors
from noonshade.core.uncertainty.chances import SURE
from tests.builders import CATALOG

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)
TARANTULA, SCORPION, TORTOISE = "brachypelma-hamorii", "heterometrus-silenus", "chelonoidis-carbonarius"


def brief(species_id: str, day_c: float, night_c: float, stage: StageId = "adult") -> Brief:
    return Brief(CATALOG.species[species_id], Room(day_c, night_c, 0.45), stage=stage)


@cache
def found(species_id: str, day_c: float, night_c: float) -> Found:
    site = next(s for s in sites_for(brief(species_id, day_c, night_c), STOCK) if s.closed)
    one = Search(next(a for a in arrangements_for(site) if a.air is not None)).run()
    assert one is not None
    return one


@cache
def set_up() -> SetUp:
    return design(brief(TARANTULA, 21.0, 17.0), STOCK, quick=True).set_ups[0]


def said(parts: tuple[object, ...]) -> str:
    return "".join(p if isinstance(p, str) else f"{p.value:g}" for p in parts)  # type: ignore[attr-defined]


def with_status(evaluation: Evaluation, check_id: str, **changed: object) -> Evaluation:
    checks = tuple(replace(c, **changed) if c.id == check_id else c for c in evaluation.checks)  # type: ignore[arg-type]
    return replace(evaluation, checks=checks)


def test_a_known_spread_decides_how_far_inside_is_sure() -> None:
    need = Need("night", "air_temperature", 18.0, None, "estimate", "")
    just = np.array([18.3])
    narrow, wide = (cost_of_values(need, just, True, spread)[0] for spread in (0.2, 2.0))
    assert narrow < 0.1
    # At a chance of 56 % more than half of the step is left.
    assert wide > 0.5 * OUTSIDE_COST
    sure = cost_of_values(need, np.array([18.0 + 0.5]), True, 1.0)[0]
    assert sure == pytest.approx(-np.log(0.6915), abs=0.001)
    assert 0.6915 > SURELY > SURE


def test_dials_are_turned_where_the_known_spread_leaves_a_doubt() -> None:
    done = built(found(SCORPION, 20.0, 16.0))
    assert done is not None
    dials = {t.id for t in done.plan.thermostats}
    settled = turned(done, dials)
    by_chance = sorted((c for c in settled.checks if c.required), key=chance_of)
    check = next(c for c in by_chance if c.need.quantity == "air_temperature")
    spreads = {check.id: 4.0}
    after = turned(settled, dials, spreads)
    assert cost_of(after, spreads=spreads) <= cost_of(settled, spreads=spreads)
    assert not after.failing
    tight = {c.id: 0.01 for c in settled.checks if c.need.quantity == "air_temperature"}
    assert turned(settled, dials, tight).plan == settled.plan


def test_what_is_built_where_it_is_cold_is_sure_of_every_check_or_says_which_it_is_not() -> None:
    cold = found(SCORPION, 20.0, 16.0)
    done = built(cold)
    assert done is not None
    assert not done.failing
    _, sure = surer(cold, done)
    assert not sure.failing
    known = [c for c in sure.checks if c.chance is not None]
    doubted = any(c.required and chance_of(c) < 0.72 for c in done.checks)
    assert bool(known) is doubted
    assert all(c.status == "uncertain" or (c.chance or 1.0) >= SURE for c in known if c.status == "ok")


def test_other_heaters_are_tried_where_the_best_is_in_doubt_and_only_there() -> None:
    one = found(SCORPION, 20.0, 16.0)
    sure = replace(one.evaluation, checks=tuple(replace(c, value=None) for c in one.evaluation.checks))
    assert others_like(replace(one, evaluation=sure), []) == []
    low = next(c for c in one.evaluation.checks if c.id == "night:air_temperature")
    doubtful = with_status(one.evaluation, low.id, value=(low.need.low or 0.0) - 1.0, status="low")
    tried = [one.arrangement]
    others = others_like(replace(one, evaluation=doubtful), tried)
    heaters = {(a.air.lamp.id, a.air.positions) for a in others if a.air is not None}
    assert len(heaters) >= 2
    assert one.arrangement.air is not None
    assert (one.arrangement.air.lamp.id, one.arrangement.air.positions) not in heaters
    assert all(a.site is one.arrangement.site for a in others)
    # What was searched in another process comes back as a copy.
    copied = [pickle.loads(pickle.dumps(a)) for a in (one.arrangement, others[0])]
    assert [a.air for a in others_like(replace(one, evaluation=doubtful), copied)] == [
        a.air for a in others[1:]
    ]


def test_a_room_at_the_very_limit_is_the_reason_for_a_doubt() -> None:
    one = set_up()
    night = next(c for c in one.evaluation.checks if c.id == "night:air_temperature")
    assert night.need.high is not None
    high = night.need.high
    at_limit = with_status(
        one.evaluation, night.id, value=high - 0.1, status="uncertain", chance=0.55, settles="Read it."
    )
    nearest = replace(one, evaluation=at_limit)
    (near,) = find_doubts(brief(TARANTULA, high, high), nearest, [])
    assert near.true
    assert f"the room itself is at {high:g}" in said(near.sentence)
    assert "55 %" in said(near.sentence)
    assert near.way_out == ("Read it.",)
    (far,) = find_doubts(brief(TARANTULA, high, high - 5.0), nearest, [])
    assert not far.true


def test_a_doubt_of_every_way_is_said_so() -> None:
    one = set_up()
    warm = next(c for c in one.evaluation.checks if c.id == "warm_end:air_temperature")
    low = warm.need.low or 0.0
    barely = with_status(one.evaluation, warm.id, value=low + 0.1, status="uncertain", chance=0.54)
    well = with_status(one.evaluation, warm.id, value=low + 2.0, status="ok")
    nearest = replace(one, evaluation=barely)
    for ways, true in (([barely] * 6, True), ([barely] * 5 + [well], False), ([barely] * 5, False)):
        (doubt,) = find_doubts(brief(TARANTULA, 21.0, 17.0), nearest, ways)
        assert doubt.true is true
        assert ("is surer" in said(doubt.sentence)) is true


def test_strips_on_three_walls_of_a_small_enclosure_can_be_built() -> None:
    site = next(iter(sites_for(brief(SCORPION, 18.0, 13.0), STOCK)))
    walls = {"left", "back", "right"}
    (strips,) = (a for a in arrangements_for(site) if a.air is not None and set(a.air.mounts) == walls)
    assert strips.air is not None
    assert strips.air.lamp.kind == "mat"
    assert plan_errors(strips.at({s.name: s.start for s in strips.settings()})) == []


def test_an_animal_that_bears_no_hot_surface_is_warmed_by_panels_in_a_square() -> None:
    site = next(iter(sites_for(brief(TORTOISE, 21.0, 17.0), STOCK)))
    first = arrangements_for(site)[0]
    assert first.air is not None
    assert isinstance(first.air.lamp.geometry, PanelSource)
    places = np.array(first.air.positions)
    assert len(places) == 4
    long, wide = first.air.lamp.geometry.length_m, first.air.lamp.geometry.width_m
    for axis, size, whole in ((0, long, site.size.length_m), (1, wide, site.size.depth_m)):
        near, far = sorted(set(places[:, axis]))
        assert far - near >= size
        assert near >= size / 2
        assert far <= whole - size / 2
    assert plan_errors(first.at({s.name: s.start for s in first.settings()})) == []


def test_a_heater_that_does_next_to_nothing_is_left_out_but_for_a_winter_to_come() -> None:
    one = found(SCORPION, 20.0, 16.0)
    idle = replace(one, values={**one.values, "air_w": 0.5, "air_night_w": 0.5}, cost=1e3)
    less = without_idle(idle)
    assert less.arrangement.air is None
    assert less.arrangement.site is one.arrangement.site
    assert less.evaluated > one.evaluated
    # It is needed: without it nothing is as good.
    assert without_idle(replace(idle, cost=0.0)).arrangement.air is not None
    assert without_idle(one) is one
    site = one.arrangement.site
    climate = RoomClimate(20.0, 16.0, 0.45)
    yearly = Room(20.0, 16.0, 0.45, months=(climate,) * 12)
    with_months = replace(site, brief=replace(site.brief, room=yearly))
    later = replace(idle, arrangement=replace(one.arrangement, site=with_months))
    assert without_idle(later) is later


def test_dry_nights_are_sprayed_once_more_and_only_those() -> None:
    one = found(SCORPION, 20.0, 16.0)
    night = next(c for c in one.evaluation.checks if c.id == "night:humidity")
    assert night.need.low is not None
    dry = with_status(one.evaluation, night.id, value=night.need.low - 0.02, status="low")
    other = sprayed_by_night(replace(one, evaluation=dry))
    assert other is not None
    assert replace(other, sprayed_at=one.arrangement.sprayed_at) == one.arrangement
    (misting,) = other.at(one.values).mistings
    assert misting.hours == SPRAYED_BY_NIGHT_AT
    moist = with_status(one.evaluation, night.id, value=((night.need.high or 1.0) + night.need.low) / 2)
    assert sprayed_by_night(replace(one, evaluation=moist)) is None
    # Once, and never where spraying is not wanted.
    assert sprayed_by_night(replace(one, arrangement=other, evaluation=dry)) is None
    without = {k: v for k, v in one.values.items() if k != "spray_l_m2"}
    assert sprayed_by_night(replace(one, values=without, evaluation=dry)) is None


def test_what_was_fixed_before_is_moved_when_it_is_open() -> None:
    arrangement = found(SCORPION, 20.0, 16.0).arrangement
    fixed = Search(arrangement, fixed={"air_w": 0.0}).run(rounds=1)
    assert fixed is not None
    warmth = next(c.id for c in fixed.evaluation.checks if c.need.place == "warm_end")
    assert "air_w" not in fixed.responses[warmth]
    free = Search(arrangement).run(fixed, rounds=1)
    assert free is not None
    assert free.responses[warmth]["air_w"] > 0.0


def test_of_set_ups_in_doubt_the_least_doubtful_comes_first() -> None:
    one = set_up()
    check = next(c for c in one.evaluation.checks if c.required and c.status == "ok")

    def doubted(chance: float, cost: float) -> SetUp:
        evaluation = with_status(one.evaluation, check.id, status="uncertain", chance=chance)
        return replace(one, evaluation=evaluation, cost=cost)

    little, much = doubted(0.59, 5.0), doubted(0.42, 1.0)
    assert order_of(little) < order_of(much)
    # A few hundredths decide nothing: then what it costs does.
    assert order_of(doubted(0.57, 1.0)) < order_of(little)
    assert order_of(one) < order_of(little)
