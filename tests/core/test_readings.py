"""Readings, and what they say of the model."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import with_fixture
from noonshade.core.light.ageing import uv_share
from noonshade.core.plan import Plan
from noonshade.core.readings import (
    Accuracy,
    FitError,
    Kind,
    Reading,
    fit_readings,
    fitted_values,
    predict_readings,
    predict_values,
)
from noonshade.core.readings.instrument import stated
from noonshade.core.uncertainty.intervals import compute_intervals
from noonshade.core.uncertainty.measured import stale_fits, with_measured
from noonshade.core.uncertainty.multipliers import multipliers_of, passes_now, with_multipliers
from noonshade.core.uncertainty.sensitivity import Sensitivity, compute_sensitivity
from noonshade.core.uncertainty.structural_error import TEMPERATURE_K, UVI_SHARE
from tests.builders import changed, flawless, shipped_plan, uncontrolled
from tests.evaluated import evaluate

BACK = (0.28, 0.30, 0.23)
PLACES: tuple[tuple[Kind, tuple[float, float, float] | None], ...] = (
    ("room_air", None),
    ("surface", (0.28, 0.30, 0.201)),
    ("air", (0.15, 0.30, 0.18)),
    ("air", (1.05, 0.30, 0.18)),
    ("uvi_facing", BACK),
    ("uvi_facing", (0.60, 0.20, 0.20)),
    ("humidity", (1.05, 0.30, 0.18)),
)


def readings_of(evaluation: Evaluation) -> tuple[Reading, ...]:
    """What instruments without noise would read."""
    asked = tuple(Reading(str(i), kind, 0.0, at) for i, (kind, at) in enumerate(PLACES))
    said = predict_values(evaluation, asked)
    return tuple(replace(r, value=v) for r, v in zip(asked, said, strict=True))


@pytest.fixture(scope="module")
def plan() -> Plan:
    """An enclosure without a thermostat: it is computed in half the time, and says the same of readings."""
    return changed(uncontrolled(flawless()), "basking-lamp", power_w=50.0)


@pytest.fixture(scope="module")
def known(plan: Plan) -> Sensitivity:
    """How that enclosure depends on what is not known of it."""
    return compute_sensitivity(plan)


def test_a_prediction_is_what_a_probe_reads(plan: Plan) -> None:
    result = evaluate(plan)
    surface = next(p for p in result.places if p.kind == "basking").surface_max_c
    said = predict_values(result, (Reading("a", "surface", 0.0, (0.28, 0.30, 0.201)),))[0]
    assert said == pytest.approx(surface, abs=1.5)
    assert predict_values(result, (Reading("b", "room_air", 0.0),)).tolist() == [result.day.room_c]


def test_a_reading_needs_a_place_in_the_air(plan: Plan) -> None:
    result = evaluate(plan)
    with pytest.raises(PlanError, match="needs a place"):
        predict_values(result, (Reading("a", "air", 20.0),))
    with pytest.raises(PlanError, match="outside the enclosure"):
        predict_values(result, (Reading("a", "air", 20.0, (9.0, 0.1, 0.2)),))


def test_no_reading_is_surer_than_model_and_last_digit() -> None:
    dark = Reading("a", "uvi_facing", 0.0, BACK)
    assert dark.own_sigma(0.0, 20.0) > 0.1 / math.sqrt(12)
    assert dark.bias_sigma(0.0) == 0.0
    bright = Reading("a", "uvi_facing", 8.0, BACK)
    assert bright.own_sigma(8.0, 20.0) > UVI_SHARE * 8.0
    exact = Reading("a", "air", 30.0, BACK, accuracy=Accuracy(0.0, 0.0, 0.0))
    assert exact.own_sigma(30.0, 30.0) == pytest.approx(TEMPERATURE_K)
    assert exact.own_sigma(50.0, 20.0) > exact.own_sigma(30.0, 20.0)


def test_an_accuracy_on_the_enclosure_is_taken_as_evenly_spread() -> None:
    rng = np.random.default_rng(3)
    assert stated("air probe", 1.0).bias == pytest.approx(np.std(rng.uniform(-1, 1, 200_000)), rel=0.01)


def test_the_interval_of_a_reading_holds_what_enclosures_drawn_from_the_spreads_read(
    plan: Plan, known: Sensitivity
) -> None:
    asked = tuple(Reading(str(i), kind, 0.0, at) for i, (kind, at) in enumerate(PLACES))
    ahead = predict_readings(evaluate(plan), known, asked)
    rng = np.random.default_rng(11)
    inside = np.zeros(len(asked))
    enclosures = 40
    for _ in range(enclosures):
        values = {m.id: m.sigma * rng.standard_normal() for m in known.multipliers}
        there = evaluate(with_multipliers(plan, known.multipliers, values))
        room = there.day.room_c
        for i, (reading, said) in enumerate(zip(asked, predict_values(there, asked), strict=True)):
            own = reading.own_sigma(said, room) * rng.standard_normal()
            bias = reading.bias_sigma(said) * rng.standard_normal()
            inside[i] += ahead[i].low <= said + own + bias <= ahead[i].high
    assert 0.72 <= inside.sum() / (enclosures * len(asked)) <= 0.88
    assert np.all(inside / enclosures > 0.55)


def test_each_multiplier_moves_what_it_is_about(plan: Plan) -> None:
    known = {m.id: m for m in multipliers_of(plan)}
    base = evaluate(plan)

    def moved(name: str, v: float) -> Evaluation:
        return evaluate(known[name].apply(plan, v))

    uv = moved("uv:uv-tube", math.log(1.5))
    assert uv.places[0].uvi_facing == pytest.approx(1.5 * base.places[0].uvi_facing, rel=1e-6)  # type: ignore[operator]
    assert moved("room", 3.0).day.room_c == pytest.approx(base.day.room_c + 3.0)
    lossy = moved("walls", 0.5)
    cool = [p.air_c for r in (base, lossy) for p in r.places if p.kind == "cool_end"]
    assert cool[1] < cool[0]
    assert all(m.apply(plan, 0.0) == plan for m in known.values())


def test_a_screen_is_told_as_what_it_passes() -> None:
    chameleon = shipped_plan("panther-chameleon")
    lid = next(m for m in multipliers_of(chameleon) if m.id == "screen:lid")
    found = passes_now(chameleon, lid, math.log(0.8))
    assert found is not None
    assert found[1] == pytest.approx(0.8 * found[0])
    half = evaluate(lid.apply(chameleon, math.log(0.5))).places[0].uvi_facing
    assert half == pytest.approx(0.5 * (evaluate(chameleon).places[0].uvi_facing or 0.0), rel=0.02)


def test_readings_as_predicted_change_nothing(plan: Plan) -> None:
    found = fit_readings(plan, readings_of(evaluate(plan)))
    assert all(abs(m.value) < 1e-3 * m.sigma_before for m in found.multipliers)
    assert not any(r.stray for r in found.residuals)
    uv = next(m for m in found.multipliers if m.multiplier.kind == "uv")
    assert uv.settled
    assert uv.sigma_after < 0.5 * uv.sigma_before


def test_an_enclosure_that_differs_is_found_out(plan: Plan) -> None:
    known = multipliers_of(plan)
    truth = {"uv:uv-tube": math.log(0.6), "room": 2.0, "walls": math.log(1.3)}
    true_enclosure = evaluate(with_multipliers(plan, known, truth))
    found = fit_readings(plan, readings_of(true_enclosure))
    assert found.values["room"] == pytest.approx(2.0, abs=0.4)
    assert math.exp(found.values["uv:uv-tube"]) == pytest.approx(0.6, rel=0.08)
    # At points that were not read, the error is at least halved.
    elsewhere = tuple(
        Reading(f"{i}", "air", 0.0, (x, 0.3, 0.25)) for i, x in enumerate((0.4, 0.6, 0.8, 0.95))
    )
    real = np.array(predict_values(true_enclosure, elsewhere))
    before = np.abs(np.array(predict_values(evaluate(plan), elsewhere)) - real)
    after = np.abs(np.array(predict_values(found.evaluation, elsewhere)) - real)
    assert np.median(after) < 0.5 * np.median(before)


def test_one_stray_reading_is_named_and_does_not_carry_the_fit_away(plan: Plan) -> None:
    honest = readings_of(evaluate(plan))
    # A probe that hung in the beam.
    wrong = tuple(replace(r, value=r.value + 15.0) if r.id == "3" else r for r in honest)
    found = fit_readings(plan, wrong)
    assert [r.reading.id for r in found.residuals if r.stray] == ["3"]
    basking = next(r for r in found.residuals if r.reading.id == "1")
    assert abs(basking.after - basking.before) < 4.0


def test_one_reading_narrows_what_it_can_tell_and_nothing_else(plan: Plan) -> None:
    only_uv = fit_readings(plan, (Reading("a", "uvi_facing", 3.0, BACK),))
    by_kind = {m.multiplier.kind: m for m in only_uv.multipliers}
    assert by_kind["uv"].settled
    assert by_kind["uv"].factor < 1.0
    assert by_kind["room"].value == pytest.approx(0.0, abs=1e-6)
    assert by_kind["room"].sigma_after == pytest.approx(by_kind["room"].sigma_before, rel=1e-3)


def test_without_a_reading_there_is_no_fit(plan: Plan) -> None:
    with pytest.raises(FitError, match="no reading"):
        fit_readings(plan, ())


# -- what was measured stays with the enclosure ------------------------------------------


def test_an_enclosure_as_measured_is_the_enclosure_as_fitted(plan: Plan, known: Sensitivity) -> None:
    there = evaluate(with_multipliers(plan, known.multipliers, {"uv:uv-tube": math.log(0.7), "room": 1.5}))
    found = fit_readings(plan, readings_of(there))
    fitted = fitted_values(found, plan, "2026-03-14", ("basking:uvi",))
    measured = with_measured(plan, fitted)
    assert measured.measured is not None
    assert (measured.measured.on, measured.measured.measured_checks) == ("2026-03-14", ("basking:uvi",))
    assert evaluate(measured).places[0].uvi_facing == pytest.approx(
        found.evaluation.places[0].uvi_facing, rel=1e-9
    )
    # What is known of it is narrower, and stays so when it is asked for again.
    since = compute_sensitivity(measured)
    assert np.trace(since.covariance) < np.trace(known.covariance)
    before = {i.check_id: i for i in compute_intervals(known.base, known=known)}["basking:uvi"]
    after = {i.check_id: i for i in compute_intervals(since.base, known=since)}["basking:uvi"]
    assert after.high / after.low < before.high / before.low
    # A second fit begins from the catalogue again, not from what is known already.
    assert (
        fit_readings(replace(plan, measured=measured.measured), readings_of(there)).values == found.values
    )


def test_what_was_measured_on_a_part_goes_with_it(plan: Plan) -> None:
    fitted = fitted_values(fit_readings(plan, readings_of(evaluate(plan))), plan, "2026-03-14")
    assert stale_fits(plan, fitted) == ()
    tube = next(f for f in plan.fixtures if f.id == "uv-tube")
    lamp = next(f for f in plan.fixtures if f.id == "basking-lamp")
    new = with_fixture(plan, replace(tube, hours=0.0))
    assert [(x.id, x.why) for x in stale_fits(new, fitted)] == [
        ("uv:uv-tube", "the UV of UV tube: the lamp was replaced since")
    ]
    assert with_measured(new, fitted).measured is not None
    used = with_fixture(plan, replace(lamp, hours=500.0))
    then = fitted_values(fit_readings(used, readings_of(evaluate(used))), used, "2026-03-14")
    assert [x.id for x in stale_fits(plan, then)] == ["radiant:basking-lamp", "beam:basking-lamp"]
    warmer = replace(plan, room=replace(plan.room, day_temperature_c=25.0))
    assert [x.id for x in stale_fits(warmer, fitted)] == ["room"]
    without = replace(plan, fixtures=tuple(f for f in plan.fixtures if f.id != "uv-tube"))
    assert "uv:uv-tube" in [x.id for x in stale_fits(without, fitted)]
    named = with_measured(without, fitted).measured
    assert named is not None
    assert "uv:uv-tube" not in named.ids
    assert len(named.covariance) == len(named.ids)


def test_what_was_measured_of_a_tube_ages_with_it(plan: Plan) -> None:
    tube = next(f for f in plan.fixtures if f.id == "uv-tube")
    known = multipliers_of(plan)
    weak = evaluate(with_multipliers(plan, known, {"uv:uv-tube": math.log(0.7)}))
    fitted = fitted_values(fit_readings(plan, readings_of(weak)), plan, "2026-03-14")

    def seen(hours: float) -> tuple[float, float]:
        aged = with_measured(with_fixture(plan, replace(tube, hours=hours)), fitted)
        assert aged.measured is not None
        i = aged.measured.ids.index("uv:uv-tube")
        uvi = evaluate(aged).places[0].uvi_facing
        assert uvi is not None
        return uvi, aged.measured.covariance[i][i]

    now, later = seen(tube.hours), seen(tube.hours + 4000.0)
    fall = uv_share(tube.lamp.ageing, tube.hours + 4000.0) / uv_share(tube.lamp.ageing, tube.hours)
    assert later[0] == pytest.approx(fall * now[0], rel=1e-6)
    assert later[1] > now[1]
