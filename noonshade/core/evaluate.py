"""One evaluation of a plan: climate, places, checks, findings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from noonshade.core.assessment.checks import Check, EnclosureFigures, run_checks
from noonshade.core.assessment.findings import Finding, FindingContext, find_findings
from noonshade.core.errors import PlanError
from noonshade.core.heat.climate import Climate, steady_climate
from noonshade.core.heat.geometry import COARSE, Resolution
from noonshade.core.light.field import Scene
from noonshade.core.light.uv_refuge import uv_on_ground
from noonshade.core.places import PlaceFigures, place_figures
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors


@dataclass(frozen=True, slots=True)
class Evaluation:
    """Everything the model says of a plan at steady state, by day, and its coolest air by night.

    ``scene`` is the light by day with every lamp at the mean power its thermostat gives it: drawing needs
    it again; ``night_air_c`` and ``night_humidity`` are the mean air late at night;
    ``uv_free_share`` is the share of the ground free of UV by day.
    """

    plan: Plan
    day: Climate
    places: tuple[PlaceFigures, ...]
    night_air_c: float
    checks: tuple[Check, ...]
    findings: tuple[Finding, ...]
    uv_free_share: float
    scene: Scene
    night_humidity: float

    @property
    def meets_needs(self) -> bool:
        """Whether nothing must be fixed: no check fails, and no finding is a fault or a danger."""
        return not self.failing

    @property
    def failing(self) -> tuple[Check | Finding, ...]:
        """Checks and findings that must be fixed, in the order they are listed."""
        return (*(v for v in self.checks if v.fails), *(f for f in self.findings if f.fails))


def evaluate(plan: Plan, resolution: Resolution | None = None) -> Evaluation:
    """Evaluate a plan, on larger cells than usual if so wanted.

    Parameters
    ----------
    plan : Plan
        The plan.
    resolution : Resolution | None
        How fine the grid is, None for the usual one.

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
    errors: list[PlanError] = plan_errors(plan)
    if errors:
        raise errors[0]
    day = steady_climate(plan, "day", resolution)
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    scene = Scene(plan, lit, day.power_fraction)
    places = place_figures(day, scene)
    # Only means are taken of the night.
    night = steady_climate(plan, "night", COARSE)
    air = float(np.mean(night.air_c))
    ground = uv_on_ground(plan, scene)
    whole = EnclosureFigures(air, night.humidity(air), ground.free_share)
    checks = run_checks(day, places, whole)
    found = find_findings(FindingContext(plan, day, places, whole, scene, ground))
    return Evaluation(
        plan, day, places, air, checks, found, whole.uv_free_share, scene, whole.night_humidity
    )
