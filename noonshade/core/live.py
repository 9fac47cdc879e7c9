"""One layer of a view while a plan is being changed: only what is seen, begun from where it was.

Light is computed as for an evaluation. Heat begins its rounds where the picture before settled, and stops
within the same limits; the evaluation that follows begins cold, so that nothing stored depends on it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import PlanError
from noonshade.core.fields import (
    Lattice,
    PlanGrid,
    SectionGrid,
    air_on,
    plan_lattice,
    section_lattice,
    uppermost,
)
from noonshade.core.heat.climate import Climate, SteadyState, steady_climate
from noonshade.core.light.field import LightAtPoints, Scene
from noonshade.core.moisture.vapour import humidity_in
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors

Floats = NDArray[np.float64]

LayerName = Literal["uvi", "irradiance", "light", "air", "surface", "humidity"]
OF_LIGHT: frozenset[LayerName] = frozenset({"uvi", "irradiance", "light"})


@dataclass(frozen=True, slots=True)
class Picture:
    """One layer on a view: values (rows, columns) in core units, and the ends of both axes, m."""

    layer: LayerName
    values: Floats
    first_m: tuple[float, float]
    second_m: tuple[float, float]


class LivePlan:
    """A plan that is being changed, with where its heat settled last."""

    def __init__(self) -> None:
        self._state: SteadyState | None = None

    def picture(
        self,
        plan: Plan,
        layer: LayerName,
        grid: SectionGrid | PlanGrid,
        power_fraction: Mapping[str, float],
    ) -> Picture:
        """One layer by day.

        Parameters
        ----------
        plan : Plan
            The plan as it is now.
        layer : str
            Which field.
        grid : SectionGrid | PlanGrid
            The view.
        power_fraction : mapping
            Mean power as a fraction of full by fixture, as last evaluated; used for light, which then need
            not wait for heat.

        Returns
        -------
        Picture
            The layer.

        Raises
        ------
        PlanError
            If the plan cannot be built, or the view lies outside.
        ConvergenceError
            If the heat model finds no steady state.
        """
        errors: list[PlanError] = plan_errors(plan)
        if errors:
            raise errors[0]
        front = isinstance(grid, SectionGrid)
        lattice = section_lattice(plan, grid) if isinstance(grid, SectionGrid) else plan_lattice(plan, grid)
        if layer in OF_LIGHT:
            values = _light(plan, layer, lattice, power_fraction)
        else:
            values = _heat(self._climate(plan), layer, lattice, front)
        first, second = lattice.first_m, lattice.second_m
        return Picture(
            layer, values, (float(first[0]), float(first[-1])), (float(second[0]), float(second[-1]))
        )

    def _climate(self, plan: Plan) -> Climate:
        day = steady_climate(plan, "day", None, self._state)
        self._state = day.state
        return day


def _light(plan: Plan, layer: LayerName, lattice: Lattice, power_fraction: Mapping[str, float]) -> Floats:
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    if layer == "uvi":
        # What gives none only stands in the way, which the plan knows.
        lit = tuple(f for f in lit if f.lamp.uv is not None)
    found: LightAtPoints = Scene(plan, lit, power_fraction).on_lattice(lattice.points)
    values = {
        "uvi": found.uvi_facing,
        "irradiance": found.irradiance_facing_w_m2,
        "light": found.illuminance_level_lx,
    }[layer]
    return values.reshape(lattice.points.shape[:2])


def _heat(day: Climate, layer: LayerName, lattice: Lattice, front: bool) -> Floats:
    if layer == "surface" and not front:
        return uppermost(day, lattice.first_m, lattice.second_m)
    # Surfaces seen from the front are lines: the air is behind them.
    air = air_on(day, lattice, front)
    return humidity_in(day.moisture.vapour_kg_m3, air) if layer == "humidity" else air
