"""The settings of an arrangement that most surely meet every need.

Figures follow watts, vents and sprays smoothly. So the full model is computed around a centre, once for
each setting moved by a step; thousands of settings are screened by these responses; the best is computed in
full, becomes the next centre and corrects the responses, within steps that shrink.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from noonshade.core.design.aims import cost_of, cost_of_checks
from noonshade.core.design.arrangement import Arrangement, Setting
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.geometry import COARSE, Resolution
from noonshade.core.plan import Plan, Room
from noonshade.core.plan_errors import plan_errors

Floats = NDArray[np.float64]

# Settings screened in each round, and rounds at most.
SCREENED = 256
ROUNDS = 4
# How far from the centre settings are screened, in steps: less and less.
REACH = (5.0, 3.0, 1.5, 0.8)
# A cost this small cannot be told from nothing off.
ENOUGH = 0.35
# What a watt must be worth, in the units of a cost: of two ways to the same warmth, the one that takes
# less.
THRIFT = 0.003
# What ground as wet and sprays as large as they may be must be worth; what vents wide open must. Estimates.
WORK, LITTLE = 0.25, 0.02
# Costs nearer than this are alike.
ALIKE = 0.02


@dataclass(frozen=True, slots=True)
class Found:
    """Settings of an arrangement, the coarse evaluation there, its cost, and how much was looked at.

    ``responses`` is what each check's figure changes by with each setting there, for searching on.
    """

    arrangement: Arrangement
    values: Mapping[str, float]
    evaluation: Evaluation
    cost: float
    screened: int
    evaluated: int
    responses: Mapping[str, Mapping[str, float]] = field(default_factory=dict)


def computed(
    plan: Plan, resolution: Resolution | None = COARSE, near: Evaluation | None = None
) -> Evaluation | None:
    """An evaluation on large cells; None where the plan cannot be built or finds no steady state.

    Parameters
    ----------
    plan : Plan
        The plan.
    resolution : Resolution or None
        How fine the grid is, None for the usual one.
    near : Evaluation or None
        Of a plan like it on the same cells, to begin at.

    Returns
    -------
    Evaluation or None
        Of the plan.
    """
    if plan_errors(plan):
        return None
    try:
        return evaluate(plan, resolution, near)
    except ConvergenceError:
        return None


class Search:
    """Looks for the best settings of one arrangement, in one room."""

    def __init__(
        self,
        arrangement: Arrangement,
        room: Room | None = None,
        fixed: Mapping[str, float] | None = None,
        offsets: Mapping[str, float] | None = None,
        least: Mapping[str, float] | None = None,
        spreads: Mapping[str, float] | None = None,
    ) -> None:
        self.arrangement = arrangement
        self.room = room
        self.fixed = dict(fixed or {})
        self.offsets = dict(offsets or {})
        self.spreads = spreads
        self.open = tuple(
            replace(s, low=max(s.low, (least or {}).get(s.name, s.low)))
            for s in arrangement.settings()
            if s.name not in self.fixed
        )
        self.screened = self.evaluated = 0
        # What was computed last: the next is much like it.
        self._near: Evaluation | None = None

    def run(self, known: Found | None = None, rounds: int = ROUNDS) -> Found | None:
        """Search from a start.

        Parameters
        ----------
        known : Found or None
            What was found for the same arrangement, perhaps in another room: where to begin, with its
            responses, which depend little on the room. None to begin at each setting's own start.
        rounds : int
            Most rounds.

        Returns
        -------
        Found or None
            The best settings; None where nothing could be computed.
        """
        start = {} if known is None else known.values
        centre = np.array([start.get(s.name, s.start) for s in self.open])
        centre = np.clip(centre, [s.low for s in self.open], [s.high for s in self.open])
        base = self._evaluate(centre)
        if base is None:
            return None
        best = self._found(centre, base)
        if not self.open or best.cost < ENOUGH:
            return best
        responses = self._responses(centre, base, {} if known is None else known.responses)
        for reach in REACH[:rounds]:
            chosen = self._screen(centre, base, responses, reach)
            after = self._evaluate(chosen)
            if after is None:
                continue
            found = self._found(chosen, after)
            if found.cost < best.cost:
                gained = best.cost - found.cost
                best = found
                responses = self._corrected(responses, centre, base, chosen, after)
                centre, base = chosen, after
                if best.cost < ENOUGH or gained < ALIKE:
                    break
            else:
                responses = self._corrected(responses, centre, base, chosen, after)
        return Found(
            best.arrangement,
            best.values,
            best.evaluation,
            best.cost,
            self.screened,
            self.evaluated,
            self._named(responses),
        )

    # -- the full model -------------------------------------------------------------------

    def plan_at(self, values: Floats) -> Plan:
        """The plan at values of the open settings.

        Parameters
        ----------
        values : (k,) float64
            In the order of the open settings.

        Returns
        -------
        Plan
            Heaters burning ungoverned.
        """
        named = {**self.fixed, **{s.name: float(v) for s, v in zip(self.open, values, strict=True)}}
        plan = self.arrangement.at(named)
        if self.room is None:
            return plan
        return replace(plan, room=self.room)

    def _evaluate(self, values: Floats) -> Evaluation | None:
        self.evaluated += 1
        found = computed(self.plan_at(values), near=self._near)
        if found is not None:
            self._near = found
        return found

    def _found(self, values: Floats, evaluation: Evaluation) -> Found:
        named = {**self.fixed, **{s.name: float(v) for s, v in zip(self.open, values, strict=True)}}
        highest = {s.name: s.high for s in self.open}
        care = sum(_thrift(k, v, highest[k]) for k, v in named.items() if k in highest)
        cost = cost_of(evaluation, self.offsets, spreads=self.spreads) + care
        return Found(self.arrangement, named, evaluation, cost, self.screened, self.evaluated)

    # -- responses ------------------------------------------------------------------------

    def _responses(
        self, centre: Floats, base: Evaluation, known: Mapping[str, Mapping[str, float]]
    ) -> dict[str, Floats]:
        """What each check's figure changes by with each setting, per unit of it.

        Settings that are not known yet, because they were fixed before, are moved.
        """
        figures = _figures(base)
        by_night = {c.id for c in base.checks if c.need.place == "night"}
        slopes = {
            key: np.array([known.get(key, {}).get(s.name, 0.0) for s in self.open]) for key in figures
        }
        names = {name for slope in known.values() for name in slope}
        for together in self._moved_together():
            if all(self.open[i].name in names for i in together):
                continue
            moved, steps = centre.copy(), {}
            for i in together:
                setting = self.open[i]
                step = setting.step if centre[i] + setting.step <= setting.high else -setting.step
                moved[i] = centre[i] + step
                steps[i] = step
            after = self._evaluate(moved)
            if after is None:
                continue
            for key, value in _figures(after).items():
                if key not in slopes:
                    continue
                for i, step in steps.items():
                    own = len(together) == 1 or (key in by_night) == _is_of_night(self.open[i])
                    if own:
                        slopes[key][i] = (value - figures[key]) / step
        return slopes

    def _named(self, responses: Mapping[str, Floats]) -> dict[str, dict[str, float]]:
        """Responses by the names of settings."""
        return {
            key: {s.name: float(v) for s, v in zip(self.open, slopes, strict=True)}
            for key, slopes in responses.items()
        }

    def _moved_together(self) -> list[tuple[int, ...]]:
        """Numbers of settings moved in one evaluation: watts of a heater by day and by night."""
        number = {s.name: i for i, s in enumerate(self.open)}
        groups: list[tuple[int, ...]] = []
        for name, i in number.items():
            if _is_of_night(self.open[i]) and name.replace("_night", "") in number:
                continue
            other = number.get(name.replace("_w", "_night_w")) if name.endswith("_w") else None
            groups.append((i,) if other is None or other == i else (i, other))
        return groups

    def _corrected(
        self, slopes: dict[str, Floats], centre: Floats, base: Evaluation, to: Floats, after: Evaluation
    ) -> dict[str, Floats]:
        """Responses that also explain what the last move really did (Broyden's rank-one update)."""
        units = np.array([s.step for s in self.open])
        way = (to - centre) / units
        length = float(way @ way)
        if length < 1e-9:
            return slopes
        before, now = _figures(base), _figures(after)
        found = {}
        for key, slope in slopes.items():
            if key not in now:
                found[key] = slope
                continue
            missed = now[key] - before[key] - float(slope @ (to - centre))
            found[key] = slope + missed * way / length / units
        return found

    def _screen(self, centre: Floats, base: Evaluation, slopes: dict[str, Floats], reach: float) -> Floats:
        """The best of many settings around a centre, by the responses."""
        low = np.array([max(s.low, c - reach * s.step) for s, c in zip(self.open, centre, strict=True)])
        high = np.array([min(s.high, c + reach * s.step) for s, c in zip(self.open, centre, strict=True)])
        rng = np.random.default_rng(self.arrangement.site.brief.seed)
        points = low + _spread_evenly(SCREENED, len(self.open), rng) * (high - low)
        # Around the best of them once more, more closely.
        for closer in (0.25, 0.06):
            costs = self._predicted(points, centre, base, slopes)
            self.screened += len(points)
            top = points[int(np.argmin(costs))]
            spread = closer * (high - low)
            evenly = _spread_evenly(SCREENED // 2, len(self.open), rng)
            around = top + (evenly - 0.5) * 2 * spread
            points = np.vstack([top, np.clip(around, low, high)])
        costs = self._predicted(points, centre, base, slopes)
        self.screened += len(points)
        found: Floats = points[int(np.argmin(costs))]
        return found

    def _predicted(
        self, points: Floats, centre: Floats, base: Evaluation, slopes: dict[str, Floats]
    ) -> Floats:
        figures = _figures(base)
        values = {
            c.id: _unscaled(c.id, figures[c.id] + (points - centre) @ slopes[c.id])
            + self.offsets.get(c.id, 0.0)
            for c in base.checks
            if c.id in slopes
        }
        costs = cost_of_checks(base.checks, values, self.spreads)
        # Of settings that do equally well, the ones that take less.
        thrift = np.sum([_thrift(s.name, points[:, i], s.high) for i, s in enumerate(self.open)], axis=0)
        return np.asarray(costs + thrift, dtype=np.float64)


def _spread_evenly(count: int, columns: int, rng: np.random.Generator) -> Floats:
    """Points (count, columns) from 0 to 1, one in each slice of every column: a Latin hypercube."""
    slices = rng.permuted(np.tile(np.arange(count), (columns, 1)), axis=1).T
    return np.asarray((slices + rng.random((count, columns))) / count, dtype=np.float64)


_Value = TypeVar("_Value", float, Floats)


def _thrift(name: str, value: _Value, high: float) -> _Value:
    """What a setting must be worth: watts, and the work of keeping ground wet and spraying much."""
    if name.endswith("_w"):
        return THRIFT * value
    return (WORK if name in ("wetness", "spray_l_m2") else LITTLE) * value / high


def _is_of_night(setting: Setting) -> bool:
    return setting.name.endswith("_night_w")


def _figures(evaluation: Evaluation) -> dict[str, float]:
    """Figures of checks on a scale they follow settings evenly on."""
    return {c.id: _scaled(c.id, c.value) for c in evaluation.checks if c.value is not None}


def _scaled(key: str, value: float) -> float:
    return float(np.log(max(value, 1e-3))) if key.endswith(":humidity") else value


def _unscaled(key: str, values: Floats) -> Floats:
    return np.asarray(np.minimum(np.exp(values), 1.0)) if key.endswith(":humidity") else values
