"""Designs: what is furnished, how settings are found, what holds of every set-up."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import cache
from importlib.resources import files

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from noonshade.core.design.aims import cost_of, cost_of_values
from noonshade.core.design.arrangement import Arrangement, bare_plan
from noonshade.core.design.brief import Brief
from noonshade.core.design.conflicts import find_conflicts
from noonshade.core.design.designed_year import designed_year
from noonshade.core.design.designer import Design, Progress, design
from noonshade.core.design.heaters import air_choices
from noonshade.core.design.months import DesignedMonth
from noonshade.core.design.options import (
    OVER_GROUND_M,
    arrangements_for,
    fitting_size,
    kinds_for,
    least_size,
    sites_for,
)
from noonshade.core.design.other_rooms import search_in
from noonshade.core.design.packing import Area, Floor
from noonshade.core.design.regulation import regulate, sold_watts
from noonshade.core.design.search import Found, Search
from noonshade.core.design.shells import BOX_KINDS, EnclosureKind, Size, Stock
from noonshade.core.design.warmth import strong_first
from noonshade.core.design.what_if import what_if_tests
from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Need, StageId
from noonshade.core.plan import Hide, Room, RoomClimate, Slab, Water
from noonshade.core.plan_errors import plan_errors
from noonshade.demo import DEMO_PLANS
from noonshade.formats.plan_document import parse_plan, plan_json
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.plan_to_document import plan_document_of
from tests.builders import CATALOG, shipped_plan
from tests.evaluated import evaluate

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)
ROOM = Room(21.0, 17.0, 0.45)
LIZARD, SNAKE, NEWT = "crotaphytus-collaris", "pantherophis-guttatus", "salamandra-salamandra"
MEXICAN_TARANTULA = "brachypelma-hamorii"
STAGED = [(name, stage.id) for name, one in sorted(CATALOG.species.items()) for stage in one.stages]


def brief(species_id: str, stage: StageId = "adult", room: Room = ROOM, **wishes: object) -> Brief:
    return replace(Brief(CATALOG.species[species_id], room, stage=stage), **wishes)  # type: ignore[arg-type]


def first_arrangement(wanted: Brief) -> Arrangement:
    return next(iter(arrangements_for(next(iter(sites_for(wanted, STOCK))))))


# -- furnishing -----------------------------------------------------------------------------


@pytest.mark.parametrize(("species_id", "stage"), STAGED[::3])
def test_every_animal_is_furnished_in_its_least_enclosure(species_id: str, stage: StageId) -> None:
    sites = list(sites_for(brief(species_id, stage), STOCK))
    assert sites
    for site in sites:
        plan = bare_plan(site, 0.5)
        assert plan_errors(plan) == []
        assert resolve(parse_plan(plan_json(plan_document_of(plan))), CATALOG) == plan
        standing = [f for f in plan.furnishings if isinstance(f, Hide | Water)]
        for i, one in enumerate(standing):
            for other in standing[:i]:
                apart = abs(one.x_m - other.x_m) >= (one.length_m + other.length_m) / 2 - 2e-3
                apart |= abs(one.y_m - other.y_m) >= (one.width_m + other.width_m) / 2 - 2e-3
                assert apart, (one.id, other.id)


@settings(max_examples=30)
@example(name="heterodon-nasicus", sides=(90, 181, 40), count=1)
@given(
    name=st.sampled_from(sorted(CATALOG.species)),
    sides=st.tuples(st.integers(20, 500), st.integers(20, 300), st.integers(20, 300)),
    count=st.integers(1, 4),
)
def test_any_size_is_furnished_or_refused_by_what_does_not_fit(
    name: str, sides: tuple[int, int, int], count: int
) -> None:
    size = Size(*(side / 100 for side in sides))
    sites, refused = [], ""
    try:
        sites = list(sites_for(brief(name, size=size, count=count), STOCK))
    except PlanError as error:
        refused = error.message
    if refused:
        least = least_size(CATALOG.species[name], count)
        pairs = [
            (getattr(size, side), getattr(least, side)) for side in ("length_m", "depth_m", "height_m")
        ]
        assert "keepers give this animal at least" in refused
        assert any(has < wanted for has, wanted in pairs)
    for site in sites:
        assert site.size == size
        assert plan_errors(bare_plan(site, 0.5)) == []


@given(
    length=st.floats(0.2, 2.0),
    depth=st.floats(0.2, 1.0),
    things=st.lists(st.tuples(st.floats(0.02, 0.6), st.floats(0.02, 0.6)), max_size=8),
)
def test_nothing_that_is_placed_stands_in_another(
    length: float, depth: float, things: list[tuple[float, float]]
) -> None:
    floor = Floor(length, depth)
    for long, wide in things:
        found = floor.place(Area(length / 2, depth / 2, long, wide), (0.02, 0.02))
        if found is not None:
            assert found.length_m / 2 - 1e-9 <= found.x_m <= length - found.length_m / 2 + 1e-9
    for i, one in enumerate(floor.taken):
        for other in floor.taken[:i]:
            apart = abs(one.x_m - other.x_m) >= (one.length_m + other.length_m) / 2 + floor.margin_m - 1e-6
            apart |= abs(one.y_m - other.y_m) >= (one.width_m + other.width_m) / 2 + floor.margin_m - 1e-6
            assert apart


@pytest.mark.parametrize("kind", BOX_KINDS)
def test_every_kind_of_enclosure_is_built_for_the_same_animal(kind: EnclosureKind) -> None:
    wanted = brief(LIZARD, kind=kind)
    assert kinds_for(wanted) == (kind,)
    for site in sites_for(wanted, STOCK):
        lid = bare_plan(site, 0.5).enclosure.walls["top"]
        assert (lid.material is not None) == (kind in ("timber", "pvc"))


@pytest.mark.parametrize(("species_id", "stage"), STAGED[::7])
def test_what_is_built_is_never_less_than_the_least_and_never_more_than_a_grown_one_needs(
    species_id: str, stage: StageId
) -> None:
    species = CATALOG.species[species_id]
    least, built, grown = least_size(species, 1, stage), fitting_size(species, 1, stage), species.enclosure
    for side in ("length_m", "depth_m", "height_m"):
        assert getattr(least, side) <= getattr(built, side)
        most = max(getattr(least, side), getattr(grown, side))
        deep = species.ground.depth_m if species.ground is not None and side == "height_m" else 0.0
        assert getattr(built, side) <= (most if deep == 0.0 else max(most, deep + OVER_GROUND_M))


def test_a_young_lizard_gets_room_for_its_lamp() -> None:
    young = fitting_size(CATALOG.species["anolis-sagrei"], 1, "young")
    assert (young.depth_m, young.height_m) == (0.4, 0.45)


def test_over_deep_ground_there_is_room_for_a_lamp() -> None:
    skink = CATALOG.species["scincus-scincus"]
    assert skink.ground is not None
    built = fitting_size(skink, 1, "adult")
    assert built.height_m == pytest.approx(skink.ground.depth_m + OVER_GROUND_M)
    sites = list(sites_for(brief("scincus-scincus"), STOCK))
    bulbs = [a for a in arrangements_for(sites[0]) if a.basking is not None and a.basking.lamp.gives_light]
    assert bulbs


def test_a_ball_python_does_not_fit_into_a_shoe_box() -> None:
    with pytest.raises(PlanError, match=r"does not fit; keepers give this animal at least 120 × 60"):
        list(sites_for(brief("python-regius", size=Size(0.2, 0.2, 0.2)), STOCK))


def test_shelled_animals_bask_on_the_ground_and_climbers_high_up() -> None:
    def basking(species_id: str) -> Slab:
        found = next(iter(sites_for(brief(species_id), STOCK))).furnished.furnishings
        return next(f for f in found if isinstance(f, Slab) and f.basking)

    assert basking("testudo-hermanni").underside_m == 0.0
    chameleon = basking("furcifer-pardalis")
    assert chameleon.underside_m > 0.5 * CATALOG.species["furcifer-pardalis"].enclosure.height_m


# -- what is aimed at -------------------------------------------------------------------------

SURFACE = Need("basking", "surface_temperature", 38.0, 42.0, "estimate", "")


def test_the_cost_is_least_in_the_middle_and_grows_to_both_sides() -> None:
    at = np.array([20.0, 36.0, 38.0, 40.0, 42.0, 44.0, 60.0])
    cost = cost_of_values(SURFACE, at)
    assert int(np.argmin(cost)) == 3
    assert np.all(np.diff(cost[:4]) < 0)
    assert np.all(np.diff(cost[3:]) > 0)
    # The chance of 4 K about a figure with a spread of 2.3 K.
    assert cost[3] == pytest.approx(-math.log(math.erf(2.0 / 2.3 / math.sqrt(2))), rel=1e-6)


def test_what_is_only_offered_costs_little_when_it_is_missing_and_much_when_it_harms() -> None:
    offered = Need("basking", "uvi", 0.5, 1.5, "estimate", "", offered=True)
    none, right, harmful = cost_of_values(offered, np.array([0.0, 0.9, 8.0]))
    assert none < 1.0
    assert right < none
    assert harmful > 5.0


def test_damp_air_costs_a_frog_nothing_and_dry_air_costs_it_dear() -> None:
    need = Need("cool_end", "humidity", 0.7, 0.9, "estimate", "")
    dry, damp = cost_of_values(need, np.array([0.5, 1.0]))
    assert dry > 4.0
    assert damp < 0.7


# -- settings, lamps and thermostats ------------------------------------------------------------


def test_the_search_finds_watts_that_meet_the_needs_from_a_bad_start() -> None:
    arrangement = first_arrangement(brief(SNAKE))
    started = {s.name: s.low for s in arrangement.settings()}
    cold = evaluate(arrangement.at(started))
    found = Search(arrangement).run(Found(arrangement, started, cold, cost_of(cold), 0, 0))
    assert found is not None
    assert found.cost < 2.0 < cost_of(cold)
    assert found.screened >= 1000
    for one in arrangement.settings():
        assert one.low <= found.values[one.name] <= one.high


def test_in_another_room_the_search_goes_on_with_the_responses_of_this_one() -> None:
    arrangement = first_arrangement(brief(SNAKE))
    found = Search(arrangement).run()
    assert found is not None
    assert found.responses["basking:surface_temperature"]["basking_w"] > 0.0
    colder = Room(17.0, 14.0, 0.45)
    there = search_in(found, colder, 3)
    built = {k: v for k, v in found.values.items() if k == "openness"}
    anew = Search(arrangement, colder, built).run()
    assert there is not None
    assert anew is not None
    assert there.evaluated <= 4 < anew.evaluated
    assert there.values["basking_w"] > found.values["basking_w"]
    assert there.cost < anew.cost + 1.0


def test_thermostats_hold_what_was_found() -> None:
    arrangement = first_arrangement(brief(SNAKE))
    found = Search(arrangement).run()
    assert found is not None
    plan = regulate(arrangement, found.values)
    assert plan is not None
    assert plan_errors(plan) == []
    heater = next(f for f in plan.fixtures if f.thermostat_id == "basking")
    assert heater.power_w in heater.lamp.power_choices_w
    assert heater.power_w >= found.values["basking_w"]
    after = evaluate(plan)
    used = after.day.power_fraction[heater.id] * heater.power_w
    # Set points are set by the half degree.
    assert used == pytest.approx(found.values["basking_w"], rel=0.15)
    assert not any(f.severity == "danger" for f in after.findings)


def test_sold_watts_keep_something_in_reserve_and_end_at_what_is_sold() -> None:
    choice = first_arrangement(brief(LIZARD)).basking
    assert choice is not None
    sold = sorted(choice.lamp.power_choices_w)
    assert sold_watts(choice, 0.5 * sold[0]) == sold[0]
    assert sold_watts(choice, sold[0]) == sold[1]
    assert sold_watts(choice, sold[-1]) == sold[-1]
    assert sold_watts(choice, 1.01 * sold[-1]) is None


def test_heaters_for_the_air_are_those_that_could_be_strong_enough() -> None:
    frog = "agalychnis-callidryas"
    mild, cold = (
        strong_first(air_choices(site), site, basks=False)
        for site in (
            next(iter(sites_for(brief(frog, room=Room(*room, 0.45)), STOCK)))
            for room in ((24.0, 22.0), (18.0, 13.0))
        )
    )
    assert {c.lamp.id for c in mild} == {c.lamp.id for c in cold}
    assert cold[0].most_w > mild[0].most_w


def test_what_leaves_the_night_as_cold_as_the_room_is_searched_last() -> None:
    wanted = brief(LIZARD, room=Room(18.0, 13.0, 0.45))
    found = arrangements_for(next(iter(sites_for(wanted, STOCK))))
    night = wanted.animal.need("night", "air_temperature")
    assert night is not None
    assert night.low is not None
    assert night.low > 14.0
    heated = [one.air is not None for one in found]
    assert heated == sorted(heated, reverse=True)
    assert not all(heated)


def test_what_is_never_to_be_used_is_not_among_the_arrangements() -> None:
    wanted = brief("eublepharis-macularius", never=("mats", "ceramics", "mercury"))
    for site in sites_for(wanted, STOCK):
        for one in arrangements_for(site):
            lamps = [f.lamp for f in one.lights]
            lamps += [c.lamp for c in (one.basking, one.air) if c is not None]
            assert not any(lamp.kind in ("mat", "tube", "compact") for lamp in lamps)
            assert not any(lamp.id.startswith("ceramic") for lamp in lamps)


def test_what_lies_ready_goes_first() -> None:
    owned = {"nano-halogen-35": 1}
    site = next(iter(sites_for(brief(LIZARD, owned=owned), STOCK)))
    assert next(iter(arrangements_for(site))).basking.lamp.id == "nano-halogen-35"  # type: ignore[union-attr]


# -- whole designs ------------------------------------------------------------------------------


@cache
def designed(species_id: str) -> Design:
    return design(brief(species_id, kind="glass"), STOCK)


def test_a_design_fits_and_gives_the_checks_it_shows() -> None:
    found = designed(MEXICAN_TARANTULA)
    best = found.set_ups[0]
    assert best.fits
    assert found.conflicts == ()
    assert found.screened >= 1000
    again = evaluate(best.plan)
    assert [(c.id, c.value) for c in again.checks] == [(c.id, c.value) for c in best.evaluation.checks]
    assert not any(f.severity == "danger" for one in found.set_ups for f in one.evaluation.findings)
    # The keeper's facts are facts.
    assert all(one.plan.room == ROOM for one in found.set_ups)
    assert all(
        one.plan.enclosure.walls["front"].material == CATALOG.materials["glass"] for one in found.set_ups
    )


def test_what_if_tests_name_the_coolest_place_and_whether_it_is_safe() -> None:
    evaluation = evaluate(shipped_plan("collared-lizard"))
    tests = {one.id: one for one in what_if_tests(evaluation)}
    hot, normal = tests["heat-wave"], min(p.operative_c for p in evaluation.places)
    assert hot.safe
    assert hot.coolest_c > normal + 5.0
    stuck = next(one for id_, one in tests.items() if id_.startswith("stuck-on:"))
    assert stuck.coolest_c >= normal - 0.1
    assert replace(stuck, coolest_c=stuck.highest_safe_c + 0.1).safe is False
    frogs = evaluate(shipped_plan("whites-tree-frog"))
    assert all(one.id == "heat-wave" for one in what_if_tests(frogs) if not frogs.plan.thermostats)


def test_an_animal_that_seeks_bright_patches_is_not_warmed_in_the_dark_where_a_lamp_does_as_well() -> None:
    found = design(brief("furcifer-pardalis"), STOCK, quick=True).set_ups[0]
    basking = next(f for f in found.plan.fixtures if f.id == "basking-lamp")
    assert basking.lamp.gives_light
    assert [one.id for one in found.what_if][-1] == "heat-wave"


def test_the_same_seed_gives_the_same_set_ups() -> None:
    again = design(brief(MEXICAN_TARANTULA, kind="glass"), STOCK)
    assert [s.plan for s in again.set_ups] == [s.plan for s in designed(MEXICAN_TARANTULA).set_ups]


def test_a_design_that_is_stopped_keeps_the_best() -> None:
    told: list[Progress] = []

    def report(progress: Progress) -> bool:
        told.append(progress)
        return False

    found = design(brief(SNAKE), STOCK, report=report)
    assert found.stopped
    assert len(told) == 1
    assert len(found.set_ups) == 1
    assert told[0].best is not None


def test_a_room_that_is_too_warm_is_named_with_by_how_much() -> None:
    months = tuple(
        RoomClimate(29.0 if m in (6, 7) else 20.0, 24.0 if m in (6, 7) else 16.0, 0.5) for m in range(12)
    )
    found = design(brief(NEWT, room=replace(ROOM, months=months)), STOCK)
    assert not any(s.fits_all_year for s in found.set_ups)
    true = [c for c in found.conflicts if c.true]
    assert {c.id for c in true} == {"room-too-warm:day", "room-too-warm:night"}
    said = "".join(p if isinstance(p, str) else f"{p.value:g}" for p in true[0].sentence)
    assert "29" in said
    assert "August" in said or "July" in said
    assert not any(f.lamp.is_hot for s in found.set_ups for f in s.plan.fixtures)


def test_a_need_counts_as_out_of_reach_only_where_every_way_misses_it() -> None:
    cold = evaluate(shipped_plan("collared-lizard"))
    missed = next(c for c in cold.checks if c.id == "basking:surface_temperature")
    assert missed.status == "high"
    others = tuple(replace(c, status="ok") if c.id == missed.id else c for c in cold.checks)
    met = replace(cold, checks=others)
    assert met.failing
    one = replace(designed(MEXICAN_TARANTULA).set_ups[0], evaluation=cold, months=())
    wanted = brief(LIZARD)
    for computed, proved in (([cold] * 6, True), ([cold] * 5 + [met], False), ([cold] * 5, False)):
        found = {c.id: c for c in find_conflicts(wanted, [one], computed)}
        conflict = found[f"missed:{missed.id}"]
        assert conflict.true is proved
        assert any("ways that were computed" in str(part) for part in conflict.sentence) is proved


def test_two_needs_exclude_each_other_only_where_every_way_misses_one_of_them() -> None:
    hot = evaluate(shipped_plan("collared-lizard"))
    missed = next(c for c in hot.checks if c.id == "basking:surface_temperature")
    other = next(c for c in hot.checks if c.id == "cool_end:air_temperature")
    assert (missed.status, other.status) == ("high", "ok")

    def like(**statuses: str) -> Evaluation:
        named = {missed.id: statuses["missed"], other.id: statuses["other"]}
        return replace(hot, checks=tuple(replace(c, status=named.get(c.id, c.status)) for c in hot.checks))  # type: ignore[arg-type]

    either = [hot] * 5 + [like(missed="ok", other="low")]
    same = [hot] * 5 + [like(missed="ok", other="high")]
    one = replace(designed(MEXICAN_TARANTULA).set_ups[0], evaluation=hot, months=())
    for computed, excluded in (
        (either, True),
        (same, False),
        ([*either, like(missed="ok", other="ok")], False),
    ):
        pairs = [c for c in find_conflicts(brief(LIZARD), [one], computed) if c.id.startswith("pair:")]
        assert [c.true for c in pairs] == ([True] if excluded else [])
        for pair in pairs:
            said = "".join(p if isinstance(p, str) else f"{p.value:g}" for p in pair.sentence)
            assert f"at least {other.need.low:g}" in said
            assert f"at most {missed.need.high:g}" in said


def test_months_that_fail_are_named_with_the_room_of_then() -> None:
    climates = tuple(RoomClimate(20.0 - m, 16.0 - m, 0.5) for m in range(12))
    good = designed(MEXICAN_TARANTULA).set_ups[0]
    months = tuple(
        DesignedMonth(n, (), False, int(n > 10), n <= 10, "too cold" if n > 10 else "", ())
        for n in range(1, 13)
    )
    wanted = brief(MEXICAN_TARANTULA, room=replace(ROOM, months=climates))
    (conflict,) = find_conflicts(wanted, [replace(good, months=months)])
    said = "".join(p if isinstance(p, str) else f"{p.value:g}" for p in conflict.sentence)
    assert said == "In November and December: too cold. The room is then down to 9 by day and 5 by night."
    assert not conflict.true


def test_a_year_holds_what_months_are_set_to_and_leaves_out_what_is_as_planned() -> None:
    found = designed(MEXICAN_TARANTULA).set_ups[0]
    assert found.months == ()
    year = designed_year(found.plan, ())
    assert year.settings == ()


# -- plans written down ----------------------------------------------------------------


@pytest.mark.parametrize("name", sorted(DEMO_PLANS))
def test_plans_of_all_sorts_survive_being_written_down(name: str) -> None:
    plan = resolve(parse_plan((files("noonshade.demo") / f"{name}.json").read_bytes()), CATALOG)
    assert resolve(plan_document_of(plan), CATALOG) == plan
