"""How lamps lose their UV."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.light.ageing import uv_share, with_lamp_age
from noonshade.core.plan import Ageing
from tests.builders import CATALOG, changed, demo_plan

TUBE = Ageing(remaining=0.55, time_constant_h=5000.0, burn_in=0.15, life_h=4500.0)


def test_reference_age_is_one_and_new_lamps_run_high() -> None:
    assert uv_share(TUBE, 100.0) == 1.0
    assert uv_share(TUBE, 0.0) == pytest.approx(1.15)
    assert uv_share(TUBE, 50.0) == pytest.approx(1.075)
    assert uv_share(TUBE, 5100.0) == pytest.approx(0.55 + 0.45 * math.exp(-1))
    assert uv_share(TUBE, 1e9) == pytest.approx(0.55)
    assert uv_share(None, 9000.0) == 1.0


@given(hours=st.floats(0, 40_000), more=st.floats(1, 5_000))
def test_uv_only_falls(hours: float, more: float) -> None:
    assert uv_share(TUBE, hours + more) <= uv_share(TUBE, hours)


def test_nonsense_is_refused() -> None:
    with pytest.raises(ValueError, match="less than 0"):
        uv_share(TUBE, -1.0)


def test_fluorescent_lamps_keep_seven_to_eight_tenths_after_4000_h() -> None:
    tubes = [lamp for lamp in CATALOG.lamps.values() if lamp.kind in ("tube", "compact")]
    assert tubes
    for lamp in tubes:
        assert lamp.ageing is not None
        assert 0.7 <= uv_share(lamp.ageing, 4000.0) <= 0.8
    mercury = CATALOG.lamps["mercury-flood-100"].ageing
    assert uv_share(mercury, 4000.0) < 0.7


def test_a_plan_can_be_seen_with_its_lamps_new_or_worn() -> None:
    used = changed(demo_plan(), "uv-tube", hours=2000.0)
    hours = [with_lamp_age(used, age).fixtures[1].hours for age in ("new", "present", "worn")]
    assert hours == [100.0, 2000.0, 4500.0]
    assert with_lamp_age(used, "worn").fixtures[0] == used.fixtures[0]
