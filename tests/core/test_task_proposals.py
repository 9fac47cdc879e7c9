"""What is usually done for an enclosure, over all species and stages."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from functools import cache

import pytest

from noonshade.core.care.recurrence import Rule, days_of
from noonshade.core.care.routine import TaskProposal, first_day, propose_tasks
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Species
from noonshade.core.plan import Animal, Misting, Plan
from tests.builders import CATALOG, demo_plan, shipped_plan
from tests.evaluated import evaluate

TODAY = date(2026, 11, 26)
STAGED = [(s, stage.id) for s in CATALOG.species.values() for stage in s.stages]


@cache
def lit() -> Evaluation:
    return evaluate(demo_plan())


def usual(plan: Plan, uv: bool = True) -> dict[str, TaskProposal]:
    """What is usual for a plan; the light's figures are those of the demo enclosure, or there is no UV."""
    checks = tuple(v for v in lit().checks if uv or v.need.quantity != "uvi")
    found = propose_tasks(replace(lit(), plan=plan, checks=checks))
    by_key = {p.key: p for p in found}
    assert len(by_key) == len(found)
    return by_key


def of(species: Species, stage: str = "adult", **values: object) -> Plan:
    shape = species.stage(stage)
    animal = Animal(species, shape.body_length_m, shape.back_height_m, stage=stage)
    return replace(demo_plan(), animal=replace(animal, **values))  # type: ignore[arg-type]


def days_between(proposal: TaskProposal) -> float:
    """How many days there are from one time to the next, on average over a year."""
    return 365 / len(days_of(Rule(proposal.rule, TODAY), TODAY, TODAY + timedelta(days=364)))


@pytest.mark.parametrize(("species", "stage"), STAGED, ids=lambda v: getattr(v, "id", v))
def test_each_species_and_stage_has_a_routine(species: Species, stage: str) -> None:
    found = usual(of(species, stage))
    kinds = {p.kind for p in found.values()}
    assert {"water", "feeding", "spot_clean", "full_clean", "weighing", "readings"} <= kinds
    for proposal in found.values():
        assert proposal.title
        assert proposal.why
        assert "{" not in proposal.title + proposal.why
        assert 1 <= days_between(proposal) <= 366
        begins = first_day(proposal, "a-enclosure", TODAY)
        assert TODAY <= begins <= TODAY + timedelta(days=400)
    # Only what is fed to animals that need calcium from it is dusted.
    assert ("dusting" in kinds) == (
        species.diet in ("insects", "plants", "plants and insects", "fruit and insects")
        and species.group != "invertebrate"
        and stage != "larva"
    )


@pytest.mark.parametrize("species", CATALOG.species.values(), ids=lambda s: s.id)
def test_young_ones_are_fed_and_weighed_at_least_as_often(species: Species) -> None:
    if all(s.id != "young" for s in species.stages):
        pytest.skip("no young stage")
    young, adult = usual(of(species, "young")), usual(of(species))
    for key in ("feed", "greens", "weighing"):
        if key in adult and key in young:
            assert days_between(young[key]) <= days_between(adult[key])


def test_less_uv_means_more_often_d3_and_always_whom_to_ask() -> None:
    species = CATALOG.species["crotaphytus-collaris"]
    light, dark = usual(of(species)), usual(of(species), uv=False)
    assert days_between(dark["d3"]) < days_between(light["d3"])
    for proposal in (light["d3"], dark["d3"], light["vitamins"]):
        assert "veterinarian" in proposal.why
    assert "without vitamin D₃" in light["calcium"].why


def test_several_in_an_enclosure_are_watched_at_their_meals() -> None:
    plan = of(CATALOG.species["crotaphytus-collaris"], count=3)
    assert "3 share the enclosure" in usual(plan)["feed"].why
    assert days_between(usual(plan)["spot-clean"]) == 1


def test_mists_at_their_hours_and_tests_of_thermostats_only_where_there_are_any() -> None:
    plan = replace(demo_plan(), mistings=(Misting((18.5,), 0.1), Misting((8.0,), 0.1)))
    assert usual(plan)["misting"].title == "Mist, 08:00, 18:30"
    bare = replace(demo_plan(), thermostats=())
    assert "thermostat" in usual(demo_plan())
    assert "thermostat" not in usual(bare)


def test_deep_ground_is_topped_up_and_shallow_ground_changed() -> None:
    plan = demo_plan()
    deep = replace(plan, substrate=replace(plan.substrate, depth_m=0.2))
    assert usual(plan)["substrate"].title == "Change the ground"
    assert usual(deep)["substrate"].title == "Loosen and top up the ground"


def test_uv_lamps_are_replaced_at_the_end_of_their_usual_life() -> None:
    plan = demo_plan()
    tube = next(f for f in plan.fixtures if f.lamp.uv is not None)
    (task,) = [p for p in usual(plan).values() if p.kind == "lamp"]
    assert task.title == f"Replace {tube.label}"
    # 4500 hours at twelve a day are a year; 100 of them are gone.
    assert days_between(task) == pytest.approx(365, abs=1)
    assert (first_day(task, "a-enclosure", TODAY) - TODAY).days == (4500 - 100) // 12
    (worn,) = [p for p in propose_tasks(lit(), {tube.id: 4400.0}) if p.kind == "lamp"]
    assert (first_day(worn, "a-enclosure", TODAY) - TODAY).days == 8
    (late,) = [p for p in propose_tasks(lit(), {tube.id: 9000.0}) if p.kind == "lamp"]
    assert first_day(late, "a-enclosure", TODAY) == TODAY
    bare = replace(plan, fixtures=tuple(f for f in plan.fixtures if f is not tube))
    assert not [p for p in usual(bare).values() if p.kind == "lamp"]


def test_tasks_of_one_kind_are_spread_over_the_enclosures() -> None:
    weighing = usual(demo_plan())["weighing"]
    days = {first_day(weighing, f"box-{i}", TODAY) for i in range(20)}
    assert len(days) > 5
    assert max(days) < TODAY + timedelta(days=14)


def test_a_planted_enclosure_is_renewed_in_part_and_never_disinfected() -> None:
    frog = shipped_plan("whites-tree-frog")
    planted = replace(frog, substrate=replace(frog.substrate, wetness=0.4))
    keys = {p.key: p for p in propose_tasks(evaluate(planted))}
    assert {"renew-ground", "crew"} <= keys.keys()
    assert not {"full-clean", "substrate"} & keys.keys()
    assert "without a disinfectant" in keys["renew-ground"].why
    bare = {p.key for p in propose_tasks(evaluate(demo_plan()))}
    assert "full-clean" in bare
    assert not {"renew-ground", "crew"} & bare


def test_damp_ground_is_watered_as_often_as_it_dries() -> None:
    evaluation = evaluate(shipped_plan("crocodile-lizard"))
    (use,) = (u for u in evaluation.water if u.kind == "ground")
    (task,) = (p for p in propose_tasks(evaluation) if p.key == "watering-ground")
    assert use.every_days is not None
    assert f"INTERVAL={round(use.every_days)}" in task.rule
    assert task.title.startswith("Water the ground: about ")
    # Pools have their own task, and dry ground none.
    assert not [p for p in propose_tasks(evaluation) if p.key.startswith("watering-") and p != task]
    assert not [p for p in propose_tasks(evaluate(demo_plan())) if p.key.startswith("watering-")]
    # What stays damp for a month is looked at.
    frog = propose_tasks(evaluate(shipped_plan("whites-tree-frog")))
    titles = {p.key: p.title for p in frog}
    assert titles["watering-ground"] == "Look whether the ground is still damp"
    assert titles["watering-moss"].startswith("Water “Moss corner”: about ")
