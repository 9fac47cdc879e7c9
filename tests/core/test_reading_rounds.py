"""Which readings are worth taking."""

from __future__ import annotations

import pytest

from noonshade.core.readings import propose_round, round_of_needs
from noonshade.core.readings.evidence import measured_checks
from noonshade.core.readings.round import MOST
from noonshade.core.uncertainty.sensitivity import compute_sensitivity
from tests.builders import flawless, shipped_plan


def test_a_round_is_small_goes_from_the_ground_up_and_says_why() -> None:
    tasks = propose_round(flawless())
    assert 3 <= len(tasks) <= MOST
    heights = [-1.0 if t.reading.position_m is None else t.reading.position_m[2] for t in tasks]
    assert heights == sorted(heights)
    assert len({t.reading.id for t in tasks}) == len(tasks)
    assert all(t.why and t.place and 0 < t.gain < 1 for t in tasks)
    by_kind = {t.reading.kind: t for t in tasks}
    assert by_kind["uvi_facing"].instrument == "UV meter"
    assert by_kind["surface"].instrument == "infrared thermometer"


def test_what_is_expected_is_what_the_model_predicts() -> None:
    surface = next(t for t in propose_round(flawless()) if t.reading.id == "basking:surface")
    assert surface.prediction.value == pytest.approx(48.0, abs=6.0)


def test_without_uv_no_meter_is_asked_for() -> None:
    tasks = propose_round(shipped_plan("giant-vinegaroon"))
    assert tasks
    assert "UV meter" not in {t.instrument for t in tasks}


def test_fewer_may_be_asked_for_and_the_best_come_first() -> None:
    all_of_them = {t.reading.id for t in propose_round(flawless())}
    two = propose_round(flawless(), most=2)
    assert len(two) == 2
    assert {t.reading.id for t in two} <= all_of_them
    ticks: list[int] = []
    propose_round(flawless(), most=1, progress=ticks.append)
    assert ticks == sorted(ticks)
    assert len(ticks) > 3


def test_a_round_of_needs_has_one_reading_for_each_that_can_be_read() -> None:
    known = compute_sensitivity(flawless())
    checks = known.base.checks
    tasks = round_of_needs([v.id for v in checks], known)
    wanted = {f"need:{v.id}" for v in checks if v.need.quantity not in ("uv_free_share", "gradient")}
    assert {t.reading.id for t in tasks} == wanted
    kinds = {t.reading.id: t.reading.kind for t in tasks}
    assert kinds["need:night:air_temperature"] == "air_min"
    assert kinds["need:night:humidity"] == "humidity_night"
    assert all(t.prediction.low <= t.prediction.value <= t.prediction.high for t in tasks)
    # Each is taken for the need it is of.
    for task in tasks:
        assert task.reading.id.removeprefix("need:") in measured_checks(known.base, (task.reading,))
    assert round_of_needs(["enclosure:uv_free_share", "no such"], known) == ()
