"""One evaluation of a plan: climate, places, verdicts, findings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from noonshade.core.errors import PlanError
from noonshade.core.heat.climate import Climate, steady_climate
from noonshade.core.light.field import Scene
from noonshade.core.light.retreat import uv_free_share
from noonshade.core.places import PlaceFigures, place_figures
from noonshade.core.plan import Plan
from noonshade.core.validate import plan_errors
from noonshade.core.verdict.checks import Verdict, judge
from noonshade.core.verdict.findings import Finding, findings


@dataclass(frozen=True, slots=True)
class Evaluation:
    """Everything the model says of a plan at steady state, by day, and its coolest air by night.

    ``scene`` is the light by day with every lamp at the mean power its thermostat gives it, kept because
    drawing needs it again; ``night_air_c`` is the mean air temperature late at night; ``uv_free_share`` the
    share of the ground free of UV by day.
    """

    plan: Plan
    day: Climate
    places: tuple[PlaceFigures, ...]
    night_air_c: float
    verdicts: tuple[Verdict, ...]
    findings: tuple[Finding, ...]
    uv_free_share: float
    scene: Scene

    @property
    def meets_needs(self) -> bool:
        """Whether every verdict is within and no finding is a danger."""
        return all(v.status == "within" for v in self.verdicts) and not any(
            f.severity == "danger" for f in self.findings
        )


def evaluate(plan: Plan) -> Evaluation:
    """Evaluate a plan.

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
    day = steady_climate(plan, "day")
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    scene = Scene(plan, lit, day.power_fraction)
    places = place_figures(day, scene)
    night = night_air(plan)
    free = uv_free_share(plan, scene)
    return Evaluation(plan, day, places, night, judge(day, places, night), findings(plan), free, scene)


def night_air(plan: Plan) -> float:
    """Mean air temperature at the end of the night, °C.

    With nothing on, the steady state is the room's own temperature everywhere.
    """
    if not any(f.lit_at("night") for f in plan.fixtures):
        return plan.room.night_temperature_c
    return float(np.mean(steady_climate(plan, "night").air_c))
