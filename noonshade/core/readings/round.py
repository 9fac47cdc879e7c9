"""The smallest useful round of readings for a plan: what to read, where, with what, and why there.

Candidates are the places a keeper judges. One after another the reading is taken that leaves the least
variance in the figures the verdicts go by, given those taken before it (Bayesian linear design: prior
spreads of the multipliers, derivatives by the full model, spreads of the instruments), until a further one
would tell little.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.plan import Branch, Plan, Slab
from noonshade.core.readings.multipliers import Multiplier, multipliers_of
from noonshade.core.readings.reading import Kind, Reading, predicted
from noonshade.core.validate import plan_errors
from noonshade.core.verdict.checks import Verdict

Floats = NDArray[np.float64]
Instrument = Literal["infrared thermometer", "air probe", "UV meter", "hygrometer", "room thermometer"]

INSTRUMENTS: dict[Kind, Instrument] = {
    "surface": "infrared thermometer",
    "air": "air probe",
    "uvi_facing": "UV meter",
    "uvi_level": "UV meter",
    "humidity": "hygrometer",
    "room_air": "room thermometer",
}
MOST = 8
# A reading that takes less than this share of the variance that is left tells little. Estimate.
LEAST_GAIN = 0.03
# What figures are off by that matters as much: K, a share of the UV index, share of humidity. Estimates.
_SCALE = {
    "surface_temperature": 3.0,
    "air_temperature": 1.5,
    "uvi": 0.25,
    "humidity": 0.10,
    "uv_free_share": 0.15,
}
_STEP = 0.5
# A surface is read from just over it, m.
_OVER_M = 1e-3


@dataclass(frozen=True, slots=True)
class Task:
    """One reading to take: ``expected`` is the prediction, ``gain`` the share of variance it takes away."""

    reading: Reading
    place: str
    instrument: Instrument
    why: str
    expected: float
    gain: float


def propose_round(
    plan: Plan,
    most: int = MOST,
    progress: Callable[[int], None] | None = None,
) -> tuple[Task, ...]:
    """The readings worth taking, ordered from the room and the ground up, so that nothing is disturbed.

    Parameters
    ----------
    plan : Plan
    most : int
        At most so many.
    progress : callable, optional
        Called with the number of evaluations done.

    Raises
    ------
    ConvergenceError
        If the plan as it is finds no steady state.
    """
    base = evaluate(plan, COARSE)
    candidates = tuple(_candidates(plan, base))
    readings = tuple(reading for reading, _, _ in candidates)
    known = multipliers_of(plan)
    said = np.array(predicted(base, readings))
    spread = np.array([replace(r, value=float(v)).spread for r, v in zip(readings, said, strict=True)])
    of_readings, of_figures = _derivatives(plan, base, known, readings, said, progress)
    covariance = np.diag([m.sigma**2 for m in known])
    chosen: list[tuple[int, float]] = []
    left = _variance(of_figures, covariance)
    while len(chosen) < most and left > 0:
        best: tuple[float, int, Floats] | None = None
        for i in range(len(readings)):
            if any(i == k for k, _ in chosen):
                continue
            after = _updated(covariance, of_readings[i], float(spread[i]))
            remaining = _variance(of_figures, after)
            if best is None or remaining < best[0]:
                best = (remaining, i, after)
        if best is None or 1.0 - best[0] / left < LEAST_GAIN:
            break
        chosen.append((best[1], 1.0 - best[0] / left))
        left, covariance = best[0], best[2]
    tasks = []
    for i, gain in chosen:
        reading, place, why = candidates[i]
        tasks.append(Task(reading, place, INSTRUMENTS[reading.kind], why, float(said[i]), gain))
    # From the room and the ground up: reaching past a lamp or moving a branch comes last.
    return tuple(sorted(tasks, key=_height))


def _height(task: Task) -> tuple[float, str]:
    at = task.reading.position_m
    return (-1.0 if at is None else at[2], task.reading.id)


def _variance(of_figures: Floats, covariance: Floats) -> float:
    """Sum of the variances of all figures, each over the square of what matters of it."""
    return float(np.einsum("fk,kl,fl->", of_figures, covariance, of_figures))


def _updated(covariance: Floats, row: Floats, sigma: float) -> Floats:
    """The covariance after a reading with derivatives (k,) and a standard deviation."""
    gain = covariance @ row
    after: Floats = covariance - np.outer(gain, gain) / float(row @ gain + sigma**2)
    return after


def _derivatives(
    plan: Plan,
    base: Evaluation,
    known: tuple[Multiplier, ...],
    readings: tuple[Reading, ...],
    said: Floats,
    progress: Callable[[int], None] | None,
) -> tuple[Floats, Floats]:
    """Derivatives of readings (r, k), and of the verdicts' figures over what matters of them (f, k)."""
    judged = [v for v in base.verdicts if v.value is not None]
    of_readings = np.zeros((len(readings), len(known)))
    of_figures = np.zeros((len(judged), len(known)))
    for i, multiplier in enumerate(known):
        for step in (_STEP * multiplier.sigma, -_STEP * multiplier.sigma):
            moved_plan = multiplier.apply(plan, step)
            if plan_errors(moved_plan):
                continue
            try:
                moved = evaluate(moved_plan, COARSE)
            except ConvergenceError:
                continue
            of_readings[:, i] = (np.array(predicted(moved, readings)) - said) / step
            values = {v.id: v.value for v in moved.verdicts}
            for j, verdict in enumerate(judged):
                value = values.get(verdict.id)
                if value is not None:
                    of_figures[j, i] = _weighed(verdict, value) / step
            break
        if progress is not None:
            progress(i + 1)
    return of_readings, of_figures


def _weighed(verdict: Verdict, value: float) -> float:
    """How far a figure moved, in what matters of it."""
    assert verdict.value is not None
    scale = _SCALE[verdict.need.quantity]
    if verdict.need.quantity == "uvi":
        return (value - verdict.value) / (scale * max(verdict.value, 0.5))
    return (value - verdict.value) / scale


def _candidates(plan: Plan, base: Evaluation) -> Iterator[tuple[Reading, str, str]]:
    """Readings that could be taken, with the name of their place and why it is read there."""
    yield Reading("room", "room_air", 0.0), "Room", "Everything stands on the room's temperature."
    uv = any(f.lamp.uv is not None and f.lit_at("day") for f in plan.fixtures)
    for place in base.places:
        x, y, z = place.position_m
        if place.kind == "basking" and plan.basking_slab is not None:
            top = plan.top_of(plan.basking_slab) + _OVER_M
            yield (
                Reading(f"{place.id}:surface", "surface", 0.0, (x, y, top)),
                place.label,
                "The hottest place it lies on; only an infrared thermometer tells it.",
            )
            yield (
                Reading(f"{place.id}:air", "air", 0.0, (x, y, z)),
                place.label,
                "Air at the animal's back; shade the probe from the beam.",
            )
        elif place.kind in ("warm_end", "cool_end"):
            at = (x, y, min(plan.substrate.depth_m + 0.10, plan.box.height_m))
            yield (
                Reading(f"{place.id}:air", "air", 0.0, at),
                place.label,
                "Ten centimetres above the ground, out of the beam: one end of the gradient.",
            )
            if place.kind == "cool_end":
                yield (
                    Reading(f"{place.id}:humidity", "humidity", 0.0, at),
                    place.label,
                    "Away from the heat, where humidity is judged.",
                )
        elif place.kind == "retreat" and place.surface_c is not None:
            ground = (x, y, plan.substrate.depth_m + _OVER_M)
            yield (
                Reading(f"{place.id}:surface", "surface", 0.0, ground),
                place.label,
                "The ground it rests on, out of the light.",
            )
        if uv and place.kind == "basking":
            yield (
                Reading(f"{place.id}:uvi", "uvi_facing", 0.0, (x, y, z)),
                place.label,
                "The UV index at its back, the meter facing the lamp.",
            )
    if uv:
        yield from _perches(plan)


def _perches(plan: Plan) -> Iterator[tuple[Reading, str, str]]:
    """UV on branches and ledges other than the basking place."""
    lift, high = plan.animal.back_height_m, plan.box.height_m - _OVER_M
    for item in plan.furnishings:
        if isinstance(item, Branch):
            (ax, ay, az), (bx, by, bz) = item.start_m, item.end_m
            at = ((ax + bx) / 2, (ay + by) / 2, (az + bz) / 2 + item.diameter_m / 2 + lift)
        elif isinstance(item, Slab) and not item.basking:
            at = (item.x_m, item.y_m, plan.top_of(item) + lift)
        else:
            continue
        place = (at[0], at[1], min(at[2], high))
        yield (
            Reading(f"{item.id}:uvi", "uvi_facing", 0.0, place),
            item.label,
            "UV on another perch tells the lamp from its screen and its age.",
        )
