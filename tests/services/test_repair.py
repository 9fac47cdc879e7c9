"""Fix everything: what is changed, what never is, and that it leads where it says."""

from __future__ import annotations

from importlib.resources import files

import pytest

from noonshade.core.design.brief import Brief
from noonshade.core.design.given import given_arrangements, given_site, kind_of
from noonshade.core.design.search import Search
from noonshade.core.design.shells import Stock
from noonshade.core.fixes.candidate import Candidate, Change
from noonshade.core.fixes.candidates import is_within_reach
from noonshade.core.forecast import forecast_months
from noonshade.demo import DEMO_PLANS
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.plan_from_document import resolve
from noonshade.services.repair import Repairer, patched
from tests.builders import CATALOG, demo_plan
from tests.evaluated import evaluate

STOCK = Stock(CATALOG.materials, CATALOG.meshes, CATALOG.lamps)


def shipped(name: str) -> PlanDocument:
    return parse_plan((files("noonshade.demo") / f"{name}.json").read_bytes())


RIGHT = ("corn-snake", "crocodile-lizard", "gargoyle-gecko", "whites-tree-frog")


@pytest.mark.parametrize("name", sorted(set(DEMO_PLANS) - set(RIGHT)))
def test_the_typical_faults_of_the_demo_are_put_right_by_few_changes(name: str) -> None:
    document = shipped(name)
    found = Repairer({}, {}).repair(document)
    assert found.before.failing
    assert found.after.failing == ()
    assert 1 <= len(found.changes) <= 3
    made = document
    for _, patch in found.changes:
        made = patched(made, patch)
    # What is applied gives the checks that were shown, and the keeper's facts are facts.
    after = evaluate(resolve(made, CATALOG))
    assert [(c.id, c.value) for c in after.checks] == [(c.id, c.value) for c in found.after.checks]
    assert made.room == document.room
    assert made.animal == document.animal
    # None of them is needless.
    for left in range(len(found.changes)):
        made = document
        for i, (_, patch) in enumerate(found.changes):
            if i != left:
                made = patched(made, patch)
        assert evaluate(resolve(made, CATALOG)).failing


@pytest.mark.parametrize("name", RIGHT)
def test_the_others_of_the_demo_are_right_in_every_month(name: str) -> None:
    plan = resolve(shipped(name), CATALOG)
    assert evaluate(plan).fits
    months = forecast_months(plan)
    assert len(months) == 12
    assert [m.number for m in months if m.failing] == []


def test_what_is_locked_is_left_alone() -> None:
    document = shipped("panther-chameleon")
    lamp = next(f for f in document.fixtures if f.id == "basking-lamp")
    assert not lamp.locked
    free = Repairer({}, {}).repair(document)
    moved = [step.path for _, patch in free.changes for step in patch]
    number = document.fixtures.index(lamp)
    assert any(path.startswith(f"/fixtures/{number}/") for path in moved)
    locked = document.model_copy(
        update={"fixtures": [f.model_copy(update={"locked": f.id == lamp.id}) for f in document.fixtures]}
    )
    kept = Repairer({}, {}).repair(locked)
    made = locked
    for _, patch in kept.changes:
        made = patched(made, patch)
    before, after = (next(f for f in d.fixtures if f.id == lamp.id) for d in (locked, made))
    assert (after.position_m, after.power_w, after.lamp_id) == (
        before.position_m,
        before.power_w,
        before.lamp_id,
    )


@pytest.mark.parametrize(
    ("change", "allowed"),
    [
        (Change("fixture", "lamp", "power_w", 50.0), True),
        (Change("fixture", "locked", "power_w", 50.0), False),
        (Change("room", "", "day_temperature_c", 24.0), False),
        (Change("animal", "", "count", 1), False),
        (Change("enclosure", "", "length_m", 2.0), False),
    ],
)
def test_facts_are_out_of_reach(change: Change, allowed: bool) -> None:
    candidate = Candidate(demo_plan(), ("Some change",), (change,))
    assert is_within_reach(candidate, frozenset({"locked"})) == allowed


@pytest.mark.parametrize("name", sorted(DEMO_PLANS))
def test_a_redesign_keeps_walls_things_room_and_what_is_locked(name: str) -> None:
    plan = resolve(shipped(name), CATALOG)
    locked = frozenset({plan.fixtures[0].id}) if plan.fixtures else frozenset()
    brief = Brief(plan.animal.species, plan.room, given=plan, locked=locked)
    site = given_site(brief, STOCK)
    assert site.kind == kind_of(plan.enclosure)
    arrangements = list(given_arrangements(site))
    assert arrangements
    for one in arrangements[:4]:
        made = one.at({s.name: s.start for s in one.settings()})
        assert (made.enclosure, made.furnishings, made.room) == (
            plan.enclosure,
            plan.furnishings,
            plan.room,
        )
        assert made.animal == plan.animal
        assert all(f in made.fixtures for f in plan.fixtures if f.id in locked)


def test_the_light_alone_leaves_the_heating_as_it_is() -> None:
    plan = demo_plan()
    brief = Brief(plan.animal.species, plan.room, given=plan, scope="light")
    found = [Search(one).run() for one in given_arrangements(given_site(brief, STOCK))]
    for one in found:
        assert one is not None
        made = one.evaluation.plan
        hot = [f for f in plan.fixtures if f.lamp.is_hot]
        assert [f for f in made.fixtures if f.lamp.is_hot] == hot
        assert made.thermostats == plan.thermostats
