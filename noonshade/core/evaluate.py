"""One evaluation of a plan: climate, places, checks, findings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from noonshade.core.assessment.checks import Check, EnclosureFigures, hottest_surface, run_checks
from noonshade.core.assessment.findings import Finding, FindingContext, find_findings
from noonshade.core.checkpoint import checkpoint
from noonshade.core.errors import PlanError
from noonshade.core.heat.climate import Climate, SteadyState, steady_climate
from noonshade.core.heat.geometry import COARSE, Resolution
from noonshade.core.light.field import Scene
from noonshade.core.moisture.misted_day import misted_day
from noonshade.core.moisture.watering import WaterUse, water_uses
from noonshade.core.places import PlaceFigures, place_figures
from noonshade.core.places.uv_refuge import uv_within_reach
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors


@dataclass(frozen=True, slots=True)
class Evaluation:
    """Everything the model says of a plan at steady state, by day, and its coolest air by night.

    ``scene`` is the light by day with every lamp at the mean power its thermostat gives it: drawing needs
    it again. ``night`` is where the night settled. ``water`` is how each part dries.
    """

    plan: Plan
    day: Climate
    places: tuple[PlaceFigures, ...]
    whole: EnclosureFigures
    checks: tuple[Check, ...]
    findings: tuple[Finding, ...]
    scene: Scene
    night: SteadyState
    water: tuple[WaterUse, ...] = ()

    @property
    def night_air_c(self) -> float:
        """Mean air late at night, °C."""
        return self.whole.night_air_c

    @property
    def night_humidity(self) -> float:
        """Relative humidity late at night, 0–1, without what is sprayed."""
        return self.whole.night_humidity

    @property
    def uv_free_share(self) -> float:
        """Share of where the animal can be that is free of UV by day, 0–1."""
        return self.whole.uv_free_share

    @property
    def fits(self) -> bool:
        """Whether nothing must be fixed and every required check is in range, and likely to be."""
        return not self.failing and all(c.fits for c in self.checks)

    @property
    def uncertain(self) -> tuple[Check, ...]:
        """Required checks that are in range as computed, but with too little chance."""
        return tuple(c for c in self.checks if c.status == "uncertain" and c.required)

    @property
    def failing(self) -> tuple[Check | Finding, ...]:
        """Checks and findings that must be fixed, in the order they are listed."""
        return (*(v for v in self.checks if v.fails), *(f for f in self.findings if f.fails))


def evaluate(
    plan: Plan, resolution: Resolution | None = None, near: Evaluation | None = None
) -> Evaluation:
    """Evaluate a plan, on larger cells than usual if so wanted.

    Parameters
    ----------
    plan : Plan
        The plan.
    resolution : Resolution | None
        How fine the grid is, None for the usual one.
    near : Evaluation | None
        Of a plan like this one on the same cells: its climates are where rounds begin. For comparing many
        plans; what is shown or stored is computed without it, so that it depends on the plan alone.

    Returns
    -------
    Evaluation
        Climates of day and night, light, places, checks and findings.

    Raises
    ------
    PlanError
        The first reason why the plan cannot be built; ``plan_errors`` lists them all.
    ConvergenceError
        If the heat model finds no steady state.
    """
    checkpoint()
    errors: list[PlanError] = plan_errors(plan)
    if errors:
        raise errors[0]
    day = steady_climate(plan, "day", resolution, None if near is None else near.day.state)
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    scene = Scene(plan, lit, day.power_fraction)
    places = place_figures(day, scene)
    # Only means are taken of the night.
    night = steady_climate(plan, "night", COARSE, None if near is None else near.night)
    air = float(np.mean(night.air_c))
    uv = uv_within_reach(plan, scene)
    misted = misted_day(plan, day, night) if plan.mistings else None
    hottest = hottest_surface(day, night, places)
    whole = EnclosureFigures(air, night.humidity(air), uv.free_share, hottest, misted)
    checks = run_checks(day, places, whole)
    found = find_findings(FindingContext(plan, day, places, whole, scene, uv))
    return Evaluation(
        plan, day, places, whole, checks, found, scene, night.state, water_uses(plan, day, night)
    )
