"""A true enclosure, hidden behind the plan a keeper has of it: what instruments read."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

from noonshade.core.day import Day, simulate_day
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.plan import Plan, Point, Slab
from noonshade.core.probe import PointFigures as Truth
from noonshade.core.probe import probe


@dataclass(frozen=True)
class TrueEnclosure:
    """The enclosure as it really is; its climate is computed when it is first read."""

    plan: Plan
    _seen: dict[Point, Truth] = field(default_factory=dict, repr=False, compare=False)

    @cached_property
    def evaluation(self) -> Evaluation:
        """Its climate by day, warm."""
        return evaluate(self.plan)

    @cached_property
    def day(self) -> Day:
        """Its day."""
        return simulate_day(self.evaluation)

    def at(self, point: Point) -> Truth:
        """Everything at a point, without any instrument; PlanError outside the air of the enclosure."""
        if point not in self._seen:
            self._seen[point] = probe(self.evaluation, point)
        return self._seen[point]

    def emissivity_below(self, point: Point) -> float:
        """Emissivity for thermal infrared of what an infrared thermometer sees from there."""
        x, y, z = point
        best, found = self.plan.substrate.depth_m, self.plan.substrate.material.emissivity
        for item in self.plan.furnishings:
            if not isinstance(item, Slab):
                continue
            top = self.plan.top_of(item)
            inside = abs(x - item.x_m) <= item.length_m / 2 and abs(y - item.y_m) <= item.width_m / 2
            if inside and best < top <= z + 1e-6:
                best, found = top, item.material.emissivity
        return found
