"""Humidity over a day with its sprays, against the day that is simulated step by step."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.day import simulate_day
from noonshade.core.heat.climate import steady_climate
from noonshade.core.moisture.misted_day import misted_day
from noonshade.core.plan import Misting, Plan
from tests.evaluated import evaluate
from tests.judged.setups import home, room


def frog_box(litres: float, hours: tuple[float, ...] = (8.0, 14.0, 20.0), wet: float = 0.2) -> Plan:
    return home("ranoidea-caerulea", "glass", at=room(23, 19, 0.45), wet=wet, mist=(litres, hours))


def curve(plan: Plan):  # type: ignore[no-untyped-def]
    return misted_day(plan, steady_climate(plan, "day"), steady_climate(plan, "night"))


def test_mean_humidity_agrees_with_the_simulated_day() -> None:
    plan = frog_box(0.08)
    result = evaluate(plan)
    day = simulate_day(result)
    place = next(p for p in day.places if p.kind == "lower")
    hour = day.trace.hour % 24.0
    lit = (hour > plan.dawn) & (hour <= plan.dusk)
    check = next(c for c in result.checks if c.id == "lower:humidity")
    assert check.value == pytest.approx(float(np.mean(place.relative_humidity[lit])), abs=0.06)
    assert check.course is not None
    assert check.course.lowest < check.value < check.course.highest


def test_it_repeats_and_more_water_is_damper() -> None:
    little, much = curve(frog_box(0.02)), curve(frog_box(0.3))
    assert float(np.mean(much.vapour_kg_m3)) > float(np.mean(little.vapour_kg_m3))
    assert little.film_kg.min() >= 0.0
    for found in (little, much):
        # The last step of the day leads to the first of the next.
        assert abs(found.vapour_kg_m3[-1] - found.vapour_kg_m3[0]) < 0.1 * found.vapour_kg_m3.mean()


def test_hours_right_after_a_spray_are_the_dampest() -> None:
    plan = frog_box(0.05, (12.0,), wet=0.0)
    found = curve(plan)
    after = found.vapour_kg_m3[(found.hour > 12.0) & (found.hour < 13.0)].mean()
    before = found.vapour_kg_m3[(found.hour > 10.0) & (found.hour < 11.5)].mean()
    assert after > before


def test_without_a_spray_the_steady_figure_stands() -> None:
    plan = replace(frog_box(0.1), mistings=())
    check = next(c for c in evaluate(plan).checks if c.id == "lower:humidity")
    assert check.course is None
    dry = replace(plan, mistings=(Misting((12.0,), 1e-6),))
    drop = next(c for c in evaluate(dry).checks if c.id == "lower:humidity")
    assert drop.value == pytest.approx(check.value, abs=0.02)
