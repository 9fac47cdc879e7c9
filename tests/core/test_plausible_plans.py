"""Any plausible plan has a steady state and a day that repeats: limit case 17."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.day_simulator import DaySimulator
from noonshade.core.plan import Fixture, Thermostat
from tests.builders import CATALOG
from tests.plausible import plausible_plan

# Printed with a failure; ``make bench`` runs the first 300.
SEEDS = range(36)


def test_the_same_seed_draws_the_same_plan() -> None:
    assert plausible_plan(3) == plausible_plan(3)
    assert plausible_plan(3) != plausible_plan(4)


@pytest.mark.parametrize("seed", SEEDS)
def test_a_plausible_plan_has_a_steady_state(seed: int) -> None:
    plan = plausible_plan(seed)
    for moment in ("day", "night"):
        found = steady_climate(plan, moment)  # type: ignore[arg-type]
        assert np.all(np.isfinite(found.temperature_c))
        assert found.balance.relative_error < 1e-6


@pytest.mark.parametrize("seed", [2, 5, 11, 23])
def test_a_plausible_plan_has_a_day_that_repeats(seed: int) -> None:
    day = DaySimulator(plausible_plan(seed)).repeating_day()
    assert np.all(np.isfinite(day.mean_c))
    assert day.energy_error < 1e-6


def test_a_switching_thermostat_in_another_phase_each_midnight_has_a_day_that_repeats() -> None:
    """From midnight to midnight this enclosure differs by 3 K for ever, on the mean by next to nothing."""
    plan = plausible_plan(26)
    x, y, height = plan.enclosure.length_m, plan.enclosure.depth_m, plan.enclosure.height_m
    heater = Fixture(
        "heater",
        "Ceramic heater",
        CATALOG.lamps["ceramic-heater"],
        150.0,
        (round(0.3 * x, 3), 0.5 * y, height - 0.12),
        "always",
        thermostat_id="main",
        guard=True,
    )
    probe = (round(0.6 * x, 3), 0.5 * y, round(plan.substrate.depth_m + 0.1, 3))
    control = Thermostat("main", "Thermostat", "on_off", 28.0, 28.0, 3.3, probe)
    day = DaySimulator(replace(plan, fixtures=(heater,), thermostats=(control,))).repeating_day()
    assert 3 <= day.days <= 16
    assert day.switchings[0] > 10
