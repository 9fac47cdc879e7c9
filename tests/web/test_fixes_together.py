"""Fixes of several changes: heaters chosen as the designer does, and changes that work only together."""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.assessment.checks import Check
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Fix
from noonshade.core.fixes.levers import candidates_for
from noonshade.core.fixes.suggest import suggest_fixes
from noonshade.formats.plan_document import PlanDocument, plan_from
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.plan_to_document import plan_document_of
from noonshade.formats.results.evaluation import patch_of
from tests.builders import CATALOG, shipped_plan
from tests.evaluated import evaluate
from tests.web.patches import applied

LAMPS, MESHES = tuple(CATALOG.lamps.values()), tuple(CATALOG.meshes.values())


def check_of(result: Evaluation, key: str) -> Check:
    return next(c for c in result.checks if c.id == key)


def after(fix: Fix, document: PlanDocument) -> Evaluation:
    """What its steps make of the document, as the interface applies them."""
    steps = [step.model_dump() for step in patch_of(fix.changes, document)]
    return evaluate(resolve(plan_from(applied(document.model_dump(mode="json"), steps)), CATALOG))


def test_two_changes_fix_what_none_does_alone() -> None:
    plan = shipped_plan("panther-chameleon")
    lamps = tuple(replace(f, power_w=120.0) if f.id == "basking-lamp" else f for f in plan.fixtures)
    controls = tuple(replace(t, day_set_point_c=32.0) for t in plan.thermostats)
    plan = replace(
        plan, fixtures=lamps, thermostats=controls, room=replace(plan.room, day_temperature_c=27.0)
    )
    result = evaluate(plan)
    check = check_of(result, "basking:surface_temperature")
    assert check.fails
    found = suggest_fixes(result, check, LAMPS, MESHES)
    assert len(found) == 1
    assert len({(c.part_id, c.attribute) for c in found[0].changes}) == 2  # type: ignore[union-attr]
    assert found[0].breaks == ()
    made = after(found[0], plan_document_of(plan))
    assert check_of(made, check.id).status == "ok"
    assert {f.id for f in made.failing} < {f.id for f in result.failing}
    assert made.plan.room == plan.room


def test_cold_air_is_warmed_by_a_heater_as_the_designer_chooses_it() -> None:
    plan = shipped_plan("whites-tree-frog")
    plan = replace(plan, room=replace(plan.room, day_temperature_c=18.0, night_temperature_c=13.0))
    result = evaluate(plan)
    check = check_of(result, "middle:air_temperature")
    assert check.status == "low"
    (fix,) = suggest_fixes(result, check, LAMPS, MESHES)
    assert fix.breaks == ()
    made = after(fix, plan_document_of(plan))
    assert check_of(made, check.id).status == "ok"
    known = {f.id for f in plan.fixtures}
    added = [f for f in made.plan.fixtures if f.id not in known]
    assert added
    assert all(not f.lamp.gives_light and f.thermostat_id is not None for f in added)
    assert [f for f in made.plan.fixtures if f.id in known] == list(plan.fixtures)


def test_what_is_locked_is_in_no_fix() -> None:
    plan = shipped_plan("hermanns-tortoise")
    result = evaluate(plan)
    check = check_of(result, "basking:surface_temperature")
    assert check.fails
    touched = "basking-lamp"
    free = suggest_fixes(result, check, LAMPS, MESHES)
    assert any(getattr(c, "part_id", "") == touched for fix in free for c in fix.changes)
    bound = suggest_fixes(result, check, LAMPS, MESHES, locked=frozenset({touched}))
    assert all(getattr(c, "part_id", "") != touched for fix in bound for c in fix.changes)


def test_a_mesh_lid_is_covered_beside_its_lamps_where_air_is_too_dry() -> None:
    plan = shipped_plan("crocodile-lizard")
    room = replace(plan.room, day_temperature_c=19.0, night_temperature_c=16.0, relative_humidity=0.45)
    plan = replace(plan, enclosure=replace(plan.enclosure, insets=()), room=room)
    result = evaluate(plan)
    check = check_of(result, "night:humidity")
    assert check.status == "low"
    found = [f for f in suggest_fixes(result, check, LAMPS, MESHES) if "pane" in str(f.sentence)]
    assert len(found) == 1
    made = after(found[0], plan_document_of(plan))
    assert check_of(made, check.id).status == "ok"
    (pane,) = made.plan.enclosure.insets
    above = [f for f in plan.fixtures if f.position_m[2] >= plan.enclosure.height_m]
    assert above
    for fixture in above:
        x, y, _ = fixture.position_m
        assert not (pane.x0_m <= x <= pane.x1_m and pane.y0_m <= y <= pane.y1_m)


def test_more_is_sprayed_where_that_is_what_is_missing() -> None:
    plan = shipped_plan("panther-chameleon")
    assert plan.mistings
    check = replace(check_of(evaluate(plan), "lower:humidity"), status="low")
    said = [c for c in candidates_for(evaluate(plan), check, (), ()) if "Spray more" in str(c.sentence)]
    assert said
    for one in said:
        assert all(
            now.litres > before.litres for now, before in zip(one.plan.mistings, plan.mistings, strict=True)
        )
