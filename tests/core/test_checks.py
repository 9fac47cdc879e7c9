"""Assessing: places, checks, reasons, findings and fixes on the demo enclosure."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.assessment.checks import Check, status_of
from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import section
from noonshade.core.fixes.suggest import Change, iterate_fixes
from noonshade.core.moisture.humidity import saturation_pressure_pa
from noonshade.core.moisture.vapour import humidity_at, vapour_density
from noonshade.core.needs.species import Need
from noonshade.core.phrase import Measure, plain_text
from noonshade.core.probe import probe
from tests.builders import CATALOG, changed, controlled, demo_plan, flawless, lifted
from tests.evaluated import evaluate

DEMO = demo_plan()
GOOD = flawless()
FINE = CATALOG.meshes["fine-0.5-2.0"]
LAMPS = tuple(CATALOG.lamps.values())


@pytest.fixture(scope="module")
def demo() -> Evaluation:
    return evaluate(DEMO)


@pytest.fixture(scope="module")
def good() -> Evaluation:
    return evaluate(GOOD)


def check(result: Evaluation, key: str) -> Check:
    return next(v for v in result.checks if v.id == key)


def test_demo_has_its_typical_fault_and_only_that(demo: Evaluation) -> None:
    failed = [v.id for v in demo.checks if v.status != "ok"]
    assert failed == ["basking:surface_temperature"]
    assert not demo.fits


def test_right_set_point_meets_every_need(good: Evaluation) -> None:
    assert {v.status for v in good.checks} == {"ok"}
    assert good.fits


@pytest.mark.parametrize(
    ("value", "expected"),
    [(2.9, "low"), (3.0, "ok"), (7.4, "ok"), (7.5, "high"), (None, "unknown")],
)
def test_limits_belong_to_the_range(value: float | None, expected: str) -> None:
    need = Need("basking", "uvi", 3.0, 7.4, "estimate", "test")
    assert status_of(need, value) == expected


def test_open_ended_needs() -> None:
    ceiling = Need("uv_refuge", "uvi", None, 0.5, "estimate", "test")
    assert status_of(ceiling, 0.0) == "ok"
    assert status_of(ceiling, 0.6) == "high"
    floor = Need("night", "air_temperature", 15.0, None, "estimate", "test")
    assert status_of(floor, 14.0) == "low"
    assert status_of(floor, 40.0) == "ok"


def test_reasons_name_the_cause(demo: Evaluation) -> None:
    heat = plain_text(check(demo, "basking:surface_temperature").reason)
    assert "75 W all the time" in heat
    assert "never reaches the set point, 30.0 °C" in heat
    assert "30 cm above the basking spot" in heat
    meshed = evaluate(changed(GOOD, "uv-tube", screen=FINE))
    uv = plain_text(check(meshed, "basking:uvi").reason)
    assert "33 cm above the animal's back" in uv
    assert "mesh stops 44 %" in uv
    night = plain_text(check(demo, "night:air_temperature").reason)
    assert "cools to the room, 17.0 °C" in night


def test_mesh_turns_the_uv_check_and_its_removal_is_the_fix() -> None:
    meshed = evaluate(changed(GOOD, "uv-tube", screen=FINE))
    failed = check(meshed, "basking:uvi")
    assert failed.status == "low"
    fix = iterate_fixes(meshed, failed, LAMPS)
    assert fix is not None
    assert fix.changes == (Change("fixture", "uv-tube", "screen_id", None),)
    assert fix.breaks == ()
    assert fix.value == pytest.approx(check(evaluate(GOOD), "basking:uvi").value)


def test_fix_for_a_tube_too_high_is_a_computed_height() -> None:
    weak = replace(
        GOOD,
        fixtures=tuple(
            replace(f, lamp=CATALOG.lamps["t5-medium-85"]) if f.id == "uv-tube" else f
            for f in GOOD.fixtures
        ),
    )
    result = evaluate(weak)
    failed = check(result, "basking:uvi")
    assert failed.status == "low"
    fix = iterate_fixes(result, failed, LAMPS)
    assert fix is not None
    (change,) = fix.changes
    assert change.attribute == "position_m.z_m"
    assert isinstance(change.value, float)
    again = check(evaluate(lifted(weak, "uv-tube", change.value)), "basking:uvi")
    assert again.value == pytest.approx(fix.value)
    assert again.status == "ok"
    assert "Lower the UV tube" in plain_text(fix.sentence)


def test_fix_for_a_set_point_too_high_keeps_the_other_needs(demo: Evaluation) -> None:
    failed = check(demo, "basking:surface_temperature")
    fix = iterate_fixes(demo, failed, LAMPS)
    assert fix is not None
    assert fix.breaks == ()
    (change,) = fix.changes
    assert (change.part, change.attribute) == ("thermostat", "day_set_point_c")
    assert isinstance(change.value, float)
    after = evaluate(controlled(DEMO, day_set_point_c=change.value))
    value = check(after, "basking:surface_temperature").value
    assert value == pytest.approx(fix.value)
    assert 43 <= fix.value <= 52


def test_fix_for_a_weak_bulb_is_a_stronger_one() -> None:
    weak = evaluate(changed(GOOD, "basking-lamp", power_w=20.0))
    failed = check(weak, "basking:surface_temperature")
    assert failed.status == "low"
    fix = iterate_fixes(weak, failed, LAMPS)
    assert fix is not None
    assert 43 <= fix.value <= 52
    assert fix.changes[0].attribute in ("power_w", "position_m.z_m")


def test_old_tube_is_the_reason_and_a_new_one_the_fix() -> None:
    old = evaluate(changed(lifted(GOOD, "uv-tube", 0.59), "uv-tube", hours=30_000.0))
    failed = check(old, "basking:uvi")
    assert failed.status == "low"
    assert "after 30000 h it gives 55 % of its UV" in plain_text(failed.reason)
    fix = iterate_fixes(old, failed, LAMPS)
    assert fix is not None
    assert fix.changes == (Change("fixture", "uv-tube", "hours", 100.0),)
    assert fix.value == pytest.approx(failed.value / 0.5511, rel=0.01)


def test_another_lamp_is_proposed_where_no_height_helps() -> None:
    mild = changed(GOOD, "uv-tube", lamp=CATALOG.lamps["t5-mild-55"], power_w=24.0)
    result = evaluate(mild)
    failed = check(result, "basking:uvi")
    assert failed.status == "low"
    fix = iterate_fixes(result, failed, LAMPS)
    assert fix is not None
    assert fix.changes[0].attribute == "lamp_id"
    swapped = CATALOG.lamps[str(fix.changes[0].value)]
    again = evaluate(changed(mild, "uv-tube", lamp=swapped, power_w=swapped.power_w))
    assert check(again, "basking:uvi").value == pytest.approx(fix.value)


def test_fix_may_need_a_stronger_heater_and_another_set_point() -> None:
    """At 26 °C the thermostat would cap a stronger ceramic heater just as well."""
    ceramic = changed(DEMO, "basking-lamp", lamp=CATALOG.lamps["ceramic-heater"])
    switched = controlled(ceramic, kind="on_off", day_set_point_c=26.0)
    result = evaluate(switched)
    failed = check(result, "basking:surface_temperature")
    assert failed.status == "low"
    fix = iterate_fixes(result, failed, LAMPS)
    assert fix is not None
    assert [c.attribute for c in fix.changes] == ["power_w", "day_set_point_c"]
    watts, set_point = (c.value for c in fix.changes)
    after = evaluate(
        controlled(changed(switched, "basking-lamp", power_w=watts), day_set_point_c=set_point)
    )
    assert check(after, failed.id).value == pytest.approx(fix.value)
    assert 43 <= fix.value <= 52


def test_fix_for_a_cold_night() -> None:
    cold = evaluate(replace(GOOD, room=replace(GOOD.room, night_temperature_c=8.0)))
    failed = check(cold, "night:air_temperature")
    assert failed.status == "low"
    fix = iterate_fixes(cold, failed, tuple(CATALOG.lamps.values()))
    assert fix is not None
    assert [step.part for step in fix.changes] == ["thermostat", "fixture"]
    assert fix.value >= 15


def test_fix_for_a_uv_refuge_with_light_turns_it() -> None:
    slab_free = tuple(f for f in GOOD.furnishings if f.id != "basking-slab")
    wide = tuple(
        replace(f, opening="front", opening_width_m=0.2, opening_height_m=0.08)
        if f.id == "warm-hide"
        else f
        for f in slab_free
    )
    # The tube hangs far in front, so that light falls in through the opening.
    lit = changed(replace(GOOD, furnishings=wide), "uv-tube", position_m=(0.58, 0.02, 0.2))
    result = evaluate(lit)
    failed = check(result, "warm-hide:uvi")
    assert failed.status == "high"
    assert "opening on its front side" in plain_text(failed.reason)
    fix = iterate_fixes(result, failed)
    assert fix is not None
    assert fix.changes[0].attribute == "opening"
    assert fix.value < 0.5


def test_a_fitting_check_needs_no_fix(good: Evaluation) -> None:
    assert iterate_fixes(good, good.checks[0], LAMPS) is None


def test_checks_of_missing_places_take_what_comes_nearest() -> None:
    bare = evaluate(replace(GOOD, furnishings=()))
    # The warmest ground is what it has to bask on.
    assert bare.places[0].thing_id == "ground"
    assert check(bare, "basking:surface_temperature").status == "low"
    assert not bare.fits
    # Without a hide, the darkest place the animal can get to is assessed in its stead.
    darkest = check(bare, "darkest:uvi")
    assert darkest.status == "high"
    assert "nowhere the animal can go is darker" in plain_text(darkest.reason)
    assert bare.uv_free_share == 0.0
    assert evaluate(GOOD).uv_free_share > 0.05


def test_no_uv_lamp_is_said() -> None:
    dark = replace(GOOD, fixtures=GOOD.fixtures[:1])
    failed = check(evaluate(dark), "basking:uvi")
    assert failed.status == "low"
    assert plain_text(failed.reason) == "No lamp in this plan gives UVB."


def test_dimmed_tube_is_a_danger() -> None:
    wrong = evaluate(changed(GOOD, "uv-tube", thermostat_id="main"))
    found = next(f for f in wrong.findings if f.id == "pairing:uv-tube")
    assert found.severity == "danger"
    assert "must not be dimmed" in plain_text(found.message)
    assert not wrong.fits


def test_heater_without_thermostat_and_too_near_is_found() -> None:
    near = lifted(changed(GOOD, "basking-lamp", thermostat_id=None), "basking-lamp", 0.32)
    found = {f.id: f for f in evaluate(near).findings}
    assert found["uncontrolled:basking-lamp"].severity == "care"
    assert "Slate slab is only 12 cm" in plain_text(found["clearance:basking-lamp"].message)


def test_good_plan_has_no_findings_but_that_it_was_never_measured(good: Evaluation) -> None:
    assert [f.id for f in good.findings] == ["unmeasured:enclosure"]


def test_basking_figures_lie_between_mean_and_hottest(demo: Evaluation) -> None:
    basking = demo.places[0]
    assert basking.surface_c is not None
    assert basking.surface_mean_c is not None
    assert basking.surface_max_c is not None
    assert basking.surface_mean_c < basking.surface_c < basking.surface_max_c
    assert basking.position_m[0] == pytest.approx(0.28, abs=0.02)


def test_probe_reads_what_the_places_read(demo: Evaluation) -> None:
    basking = demo.places[0]
    reading = probe(demo, basking.position_m)
    assert reading.uvi_level == pytest.approx(basking.uvi_level)
    assert reading.air_c == pytest.approx(basking.air_c)
    assert reading.relative_humidity == pytest.approx(basking.relative_humidity)
    assert reading.surface_c > 50


@pytest.mark.parametrize("point", [(1.3, 0.3, 0.3), (0.3, -0.1, 0.3), (0.3, 0.3, -0.01), (0.3, 0.3, 0.7)])
def test_probe_outside_the_enclosure_is_refused(
    demo: Evaluation, point: tuple[float, float, float]
) -> None:
    with pytest.raises(PlanError, match="outside the enclosure"):
        probe(demo, point)


def test_section_agrees_with_probe(demo: Evaluation) -> None:
    drawn = section(demo, nx=61, nz=31)
    assert drawn.y_m == 0.3
    k, i = 20, 40
    reading = probe(demo, (float(drawn.x_m[i]), drawn.y_m, float(drawn.z_m[k])))
    assert drawn.air_c[k, i] == pytest.approx(reading.air_c, abs=1e-6)
    assert drawn.uvi[k, i] == pytest.approx(reading.uvi_facing, rel=0.01)
    assert drawn.irradiance_w_m2[k, i] == pytest.approx(reading.irradiance_w_m2, rel=0.01)
    assert {s.id for s in drawn.surfaces} == {"substrate", "basking-slab", "warm-hide", "cool-hide"}


def test_humidity_falls_with_warmth() -> None:
    assert saturation_pressure_pa(20.0) == pytest.approx(2339, rel=0.003)
    assert humidity_at(vapour_density(0.45, 21.0), 21.0) == pytest.approx(0.45)
    ratio = saturation_pressure_pa(21) / saturation_pressure_pa(31)
    assert humidity_at(vapour_density(0.45, 21.0), 31.0) == pytest.approx(0.45 * ratio * 304.15 / 294.15)
    assert humidity_at(vapour_density(1.0, 25.0), 10.0) == 1.0


def test_phrases_in_plain_text() -> None:
    phrase = ("At ", Measure(0.325, "m"), ", ", Measure(21.04, "°C"), ", ", Measure(43.75, "%"), ".")
    assert plain_text(phrase) == "At 32 cm, 21.0 °C, 44 %."
    assert plain_text((Measure(4.449, "UVI"), " at ", Measure(74.6, "W"))) == "4.4 at 75 W"
