"""A few of the hidden enclosures of the benchmark, which runs forty: eight readings find each out."""

from __future__ import annotations

import numpy as np
import pytest

from noonshade.core.plan import Plan
from tests.builders import shipped_plan
from tests.instruments.proof import hidden, points, prove, with_effects

TORTOISE, MAT = "hermanns-tortoise", "giant-vinegaroon"


@pytest.mark.parametrize(
    ("name", "seed"),
    [
        (TORTOISE, 37),
        (MAT, 15),
        pytest.param(MAT, 31, marks=pytest.mark.thorough),
    ],
)
def test_a_hidden_enclosure_is_better_known_after_eight_readings(name: str, seed: int) -> None:
    found = prove(shipped_plan(name), seed)
    before, after = (float(np.median(k)) for k in found.kelvin)
    assert after < 0.5 * before
    assert after < 1.5
    if name == TORTOISE:
        before, after = (float(np.median(u)) for u in found.uvi)
        assert after < 0.5 * before
        assert after < 0.15


def test_a_hidden_enclosure_is_the_same_for_the_same_seed_and_differs_from_its_plan() -> None:
    plan = shipped_plan(TORTOISE)
    assert hidden(plan, 3) == hidden(plan, 3)
    assert hidden(plan, 3) != hidden(plan, 4)
    # Beside the multipliers something differs that no multiplier describes.
    alone: Plan = with_effects(plan, np.random.default_rng(3))
    assert alone.substrate.material != plan.substrate.material
    assert alone.fixtures != plan.fixtures


def test_points_that_were_read_do_not_count() -> None:
    plan = shipped_plan(TORTOISE)
    all_of_them = points(plan, ())
    one = all_of_them[0]
    rest = points(plan, (one,))
    assert one.position_m not in [r.position_m for r in rest]
    assert len(rest) < len(all_of_them)
