"""Readings, and what they say of the model."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.plan import Plan
from noonshade.core.readings import (
    FitError,
    Kind,
    Reading,
    fit,
    multipliers_of,
    predicted,
    with_multipliers,
)
from noonshade.core.readings.multipliers import passes_now
from noonshade.core.readings.reading import LEAST_UVI
from tests.builders import flawless, shipped_plan

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
    said = predicted(evaluation, asked)
    return tuple(replace(r, value=v) for r, v in zip(asked, said, strict=True))


@pytest.fixture(scope="module")
def plan() -> Plan:
    return flawless()


def test_a_prediction_is_what_a_probe_reads(plan: Plan) -> None:
    result = evaluate(plan)
    surface = next(p for p in result.places if p.kind == "basking").surface_max_c
    said = predicted(result, (Reading("a", "surface", 0.0, (0.28, 0.30, 0.201)),))[0]
    assert said == pytest.approx(surface, abs=1.5)
    assert predicted(result, (Reading("b", "room_air", 0.0),)) == (result.day.room_c,)


def test_a_reading_needs_a_place_in_the_air(plan: Plan) -> None:
    result = evaluate(plan)
    with pytest.raises(PlanError, match="needs a place"):
        predicted(result, (Reading("a", "air", 20.0),))
    with pytest.raises(PlanError, match="outside the box"):
        predicted(result, (Reading("a", "air", 20.0, (9.0, 0.1, 0.2)),))


def test_a_uv_reading_is_never_surer_than_its_last_digit() -> None:
    assert Reading("a", "uvi_facing", 0.0, BACK).spread == LEAST_UVI
    assert Reading("a", "uvi_facing", 8.0, BACK).spread == pytest.approx(0.8)
    assert Reading("a", "air", 30.0, BACK, sigma=0.2).spread == 0.2


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
    found = fit(plan, readings_of(evaluate(plan)))
    assert all(abs(m.value) < 1e-3 * m.sigma_before for m in found.multipliers)
    assert not any(r.stray for r in found.residuals)
    uv = next(m for m in found.multipliers if m.multiplier.kind == "uv")
    assert uv.settled
    assert uv.sigma_after < 0.5 * uv.sigma_before


def test_a_box_that_differs_is_found_out(plan: Plan) -> None:
    known = multipliers_of(plan)
    truth = {"uv:uv-tube": math.log(0.6), "room": 2.0, "walls": math.log(1.3)}
    true_box = evaluate(with_multipliers(plan, known, truth))
    found = fit(plan, readings_of(true_box))
    assert found.values["room"] == pytest.approx(2.0, abs=0.4)
    assert math.exp(found.values["uv:uv-tube"]) == pytest.approx(0.6, rel=0.08)
    # At points that were not read, the error is at least halved.
    elsewhere = tuple(
        Reading(f"{i}", "air", 0.0, (x, 0.3, 0.25)) for i, x in enumerate((0.4, 0.6, 0.8, 0.95))
    )
    real = np.array(predicted(true_box, elsewhere))
    before = np.abs(np.array(predicted(evaluate(plan), elsewhere)) - real)
    after = np.abs(np.array(predicted(found.evaluation, elsewhere)) - real)
    assert np.median(after) < 0.5 * np.median(before)


def test_one_stray_reading_is_named_and_does_not_carry_the_fit_away(plan: Plan) -> None:
    honest = readings_of(evaluate(plan))
    # A probe that hung in the beam.
    wrong = tuple(replace(r, value=r.value + 15.0) if r.id == "3" else r for r in honest)
    found = fit(plan, wrong)
    assert [r.reading.id for r in found.residuals if r.stray] == ["3"]
    basking = next(r for r in found.residuals if r.reading.id == "1")
    assert abs(basking.after - basking.before) < 4.0


def test_one_reading_narrows_what_it_can_tell_and_nothing_else(plan: Plan) -> None:
    only_uv = fit(plan, (Reading("a", "uvi_facing", 3.0, BACK),))
    by_kind = {m.multiplier.kind: m for m in only_uv.multipliers}
    assert by_kind["uv"].settled
    assert by_kind["uv"].factor < 1.0
    assert by_kind["room"].value == pytest.approx(0.0, abs=1e-6)
    assert by_kind["room"].sigma_after == pytest.approx(by_kind["room"].sigma_before, rel=1e-3)


def test_without_a_reading_there_is_no_fit(plan: Plan) -> None:
    with pytest.raises(FitError, match="no reading"):
        fit(plan, ())
