"""Rounds that begin where a neighbouring plan settled come to what a cold start comes to."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors
from noonshade.demo import DEMO_PLANS
from tests.builders import shipped_plan


def edited(plan: Plan, share: float, aside_m: float, warmer_k: float, wetter: float) -> Plan:
    """Lamps of other watts, moved along, in another room over other ground."""
    fixtures = tuple(
        replace(f, power_w=f.power_w * share, position_m=(f.position_m[0] + aside_m, *f.position_m[1:]))
        for f in plan.fixtures
    )
    room = replace(plan.room, day_temperature_c=plan.room.day_temperature_c + warmer_k)
    substrate = replace(plan.substrate, wetness=min(plan.substrate.wetness + wetter, 1.0))
    return replace(plan, fixtures=fixtures, room=room, substrate=substrate)


def figures(evaluation: Evaluation, quantity: str) -> np.ndarray:
    return np.array(
        [c.value for c in evaluation.checks if c.need.quantity == quantity and c.value is not None]
    )


@settings(max_examples=25)
@given(
    st.sampled_from(DEMO_PLANS),
    st.floats(0.6, 1.3),
    st.floats(-0.05, 0.05),
    st.floats(-4.0, 4.0),
    st.floats(0.0, 0.3),
)
def test_a_warm_start_comes_to_the_same(
    name: str, share: float, aside_m: float, warmer_k: float, wetter: float
) -> None:
    plan = shipped_plan(name)
    other = edited(plan, share, aside_m, warmer_k, wetter)
    if plan_errors(other):
        return
    near = evaluate(plan, COARSE)
    try:
        cold = evaluate(other, COARSE)
    except ConvergenceError:
        return
    warm = evaluate(other, COARSE, near)
    for quantity in ("surface_temperature", "air_temperature", "water_temperature", "gradient"):
        np.testing.assert_allclose(figures(warm, quantity), figures(cold, quantity), atol=0.05)
    np.testing.assert_allclose(figures(warm, "uvi"), figures(cold, "uvi"), rtol=0.01, atol=1e-6)
    np.testing.assert_allclose(figures(warm, "humidity"), figures(cold, "humidity"), atol=0.005)


def test_beginning_at_the_answer_takes_hardly_any_rounds() -> None:
    plan = shipped_plan("collared-lizard")
    cold = steady_climate(plan, "day", COARSE)
    again = steady_climate(plan, "day", COARSE, cold.state)
    assert cold.iterations > 3
    assert again.iterations <= 2
    np.testing.assert_allclose(again.temperature_c, cold.temperature_c, atol=0.05)


def test_a_state_of_other_cells_is_no_beginning() -> None:
    plan = shipped_plan("collared-lizard")
    coarse = steady_climate(plan, "day", COARSE)
    fine = steady_climate(plan, "day")
    np.testing.assert_array_equal(
        steady_climate(plan, "day", None, coarse.state).temperature_c, fine.temperature_c
    )
