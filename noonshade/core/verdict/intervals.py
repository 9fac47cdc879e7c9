"""How far each checked figure may be off, and how likely it meets its need.

What goes into the model has spreads: samples of a lamp differ, walls and draughts are guessed, rooms
swing. Each input is moved by half the width of its middle 80 %, one at a time, with the full model;
many seeded draws of all inputs together then go through these effects, added for temperatures and
multiplied for everything that cannot be negative.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.needs.model import SHARES
from noonshade.core.plan import BeamSource, Face, Fixture, Plan, Wall
from noonshade.core.validate import plan_errors
from noonshade.core.verdict.checks import Verdict
from noonshade.core.verdict.trial import with_fixture

Floats = NDArray[np.float64]

DRAWS = 600
SEED = 20260
# Half the width of the middle 80 % of a normal distribution, in standard deviations.
HALF_80 = 1.2816
# Half widths of the middle 80 % of inputs that the catalogue has none for. Estimates.
ROOM_K = 1.0
ROOM_HUMIDITY = 0.12  # relative
THERMOSTAT_K = 0.7
WALLS = 0.20  # relative, of conduction
VENTS = 0.30  # relative, of free area
WIRE = 0.08  # relative, of wire diameter
ABSORPTANCE = 0.05  # relative
WETNESS = 0.40  # relative
# Quantities whose effects add up; those of others multiply.
ADDITIVE = ("surface_temperature", "air_temperature")


@dataclass(frozen=True, slots=True)
class Spread:
    """An input and the plan with it moved up by half the width of its middle 80 %."""

    name: str
    plan: Plan


@dataclass(frozen=True, slots=True)
class Interval:
    """The middle 80 % of what a verdict's figure may be, and the probability that its need is met.

    ``causes`` are the inputs that matter most, with the share of the spread each makes, largest first.
    """

    verdict_id: str
    low: float
    high: float
    probability: float
    causes: tuple[tuple[str, float], ...]


def spreads(plan: Plan) -> Iterator[Spread]:
    """Every input that is not known exactly, moved up."""
    for fixture in plan.fixtures:
        yield from _lamp_spreads(plan, fixture)
    room = plan.room
    warmer = replace(
        room,
        day_temperature_c=room.day_temperature_c + ROOM_K,
        night_temperature_c=room.night_temperature_c + ROOM_K,
    )
    yield Spread("the room's temperature", replace(plan, room=warmer))
    damper = replace(room, relative_humidity=min(room.relative_humidity * (1 + ROOM_HUMIDITY), 1.0))
    yield Spread("the room's humidity", replace(plan, room=damper))
    if any(w.material is not None for w in plan.box.walls.values()):
        yield Spread("the walls", replace(plan, box=replace(plan.box, walls=_walls(plan, _conducting))))
    if plan.box.vents:
        vents = tuple(replace(v, area_m2=v.area_m2 * (1 + VENTS)) for v in plan.box.vents)
        yield Spread("the vents", replace(plan, box=replace(plan.box, vents=vents)))
    if any(w.mesh is not None for w in plan.box.walls.values()):
        yield Spread("the mesh", replace(plan, box=replace(plan.box, walls=_walls(plan, _thicker))))
    for thermostat in plan.thermostats:
        shifted = replace(
            thermostat,
            day_set_point_c=_shifted(thermostat.day_set_point_c),
            night_set_point_c=_shifted(thermostat.night_set_point_c),
        )
        others = tuple(shifted if t.id == thermostat.id else t for t in plan.thermostats)
        yield Spread(f"{thermostat.label}'s dial", replace(plan, thermostats=others))
    slab = plan.basking_slab
    if slab is not None:
        m = slab.material
        darker = replace(m, absorptance=min(m.absorptance * (1 + ABSORPTANCE), 1.0 - m.transmittance))
        items = tuple(replace(f, material=darker) if f is slab else f for f in plan.furnishings)
        yield Spread("how dark the slab is", replace(plan, furnishings=items))
    if plan.substrate.wetness > 0:
        wetter = replace(plan.substrate, wetness=min(plan.substrate.wetness * (1 + WETNESS), 1.0))
        yield Spread("how damp the ground is", replace(plan, substrate=wetter))


def _lamp_spreads(plan: Plan, fixture: Fixture) -> Iterator[Spread]:
    lamp = fixture.lamp
    if lamp.uv is not None:
        brighter = replace(lamp, uv=replace(lamp.uv, uvi=lamp.uv.uvi * (1 + lamp.spread.uv)))
        yield Spread(f"the UV of {fixture.label}", with_fixture(plan, replace(fixture, lamp=brighter)))
    if lamp.is_hot and lamp.forward_radiant > 0:
        most = 1.0 - lamp.other_radiant - lamp.conducted
        hotter = replace(lamp, forward_radiant=min(lamp.forward_radiant * (1 + lamp.spread.radiant), most))
        yield Spread(f"the heat of {fixture.label}", with_fixture(plan, replace(fixture, lamp=hotter)))
    if isinstance(lamp.geometry, BeamSource):
        wide = min(lamp.geometry.fwhm_deg * (1 + lamp.spread.beam), 170.0)
        wider = replace(lamp, geometry=replace(lamp.geometry, fwhm_deg=wide))
        yield Spread(f"the beam of {fixture.label}", with_fixture(plan, replace(fixture, lamp=wider)))


def _shifted(point: float | None) -> float | None:
    return None if point is None else point + THERMOSTAT_K


def _walls(plan: Plan, change: Callable[[Wall], Wall]) -> dict[Face, Wall]:
    return {face: change(wall) for face, wall in plan.box.walls.items()}


def _conducting(wall: Wall) -> Wall:
    if wall.material is None:
        return wall
    more = replace(wall.material, conductivity_w_mk=wall.material.conductivity_w_mk * (1 + WALLS))
    return replace(wall, material=more)


def _thicker(wall: Wall) -> Wall:
    if wall.mesh is None:
        return wall
    wire = min(wall.mesh.wire_m * (1 + WIRE), 0.95 * wall.mesh.pitch_m)
    return replace(wall, mesh=replace(wall.mesh, wire_m=wire))


def effects(
    evaluation: Evaluation, progress: Callable[[int], None] | None = None
) -> tuple[tuple[str, ...], Floats]:
    """What each input does to each verdict's figure: names (k,) and effects (k, v).

    Differences in the figure's unit for temperatures, logarithms of ratios otherwise; 0 where there is no
    figure, or where the moved plan cannot be built. Differences hardly depend on the cells, so they are
    taken on larger ones.
    """
    names, rows = [], []
    base = evaluate(evaluation.plan, COARSE).verdicts
    for number, spread in enumerate(spreads(evaluation.plan), start=1):
        row = np.zeros(len(base))
        if not plan_errors(spread.plan):
            try:
                moved = evaluate(spread.plan, COARSE)
                after = {v.id: v.value for v in moved.verdicts}
            except ConvergenceError:
                after = {}
            for i, verdict in enumerate(base):
                row[i] = _effect(verdict, after.get(verdict.id))
        names.append(spread.name)
        rows.append(row)
        if progress is not None:
            progress(number)
    return tuple(names), np.array(rows).reshape(len(rows), len(base))


def _effect(verdict: Verdict, moved: float | None) -> float:
    if verdict.value is None or moved is None:
        return 0.0
    if verdict.need.quantity in ADDITIVE:
        return moved - verdict.value
    if verdict.value <= 1e-9 or moved <= 1e-9:
        return 0.0
    return math.log(moved / verdict.value)


def intervals(
    evaluation: Evaluation,
    draws: int = DRAWS,
    seed: int = SEED,
    progress: Callable[[int], None] | None = None,
) -> tuple[Interval, ...]:
    """Interval and probability of every verdict that has a figure.

    Parameters
    ----------
    evaluation : Evaluation
    draws : int
    seed : int
        The same seed gives the same result.
    progress : callable, optional
        Called with the number of inputs done.
    """
    names, moved = effects(evaluation, progress)
    assert moved.shape[1] == len(evaluation.verdicts)
    z = np.random.default_rng(seed).standard_normal((draws, len(names))) / HALF_80
    found = []
    for i, verdict in enumerate(evaluation.verdicts):
        if verdict.value is None:
            continue
        values = _drawn(verdict, z @ moved[:, i])
        low, high = np.percentile(values, [10.0, 90.0])
        variance = moved[:, i] ** 2
        total = float(variance.sum())
        order = np.argsort(variance)[::-1][:3]
        causes = [(names[k], float(variance[k] / total)) for k in order] if total > 0 else []
        found.append(
            Interval(
                verdict.id,
                float(low),
                float(high),
                float(np.mean(_meets(verdict, values))),
                tuple((name, share) for name, share in causes if share >= 0.05),
            )
        )
    return tuple(found)


def _drawn(verdict: Verdict, shift: Floats) -> Floats:
    assert verdict.value is not None
    if verdict.need.quantity in ADDITIVE:
        return verdict.value + shift
    values: Floats = verdict.value * np.exp(shift)
    if verdict.need.quantity in SHARES:
        values = np.minimum(values, 1.0)
    return values


def _meets(verdict: Verdict, values: Floats) -> NDArray[np.bool_]:
    low = -math.inf if verdict.need.low is None else verdict.need.low
    high = math.inf if verdict.need.high is None else verdict.need.high
    return np.asarray((values >= low) & (values <= high))


def carried_over(interval: Interval, verdict: Verdict, value: float, room_c: float) -> tuple[float, float]:
    """An interval for another value of the same figure, such as a mend leads to.

    In proportion to the figure, or for temperatures to how far they are above the room.
    """
    assert verdict.value is not None
    if verdict.need.quantity in ADDITIVE:
        rise = verdict.value - room_c
        factor = min(max((value - room_c) / rise, 0.2), 3.0) if abs(rise) > 0.5 else 1.0
        return (
            value + factor * (interval.low - verdict.value),
            value + factor * (interval.high - verdict.value),
        )
    if verdict.value <= 1e-9:
        return value, value
    return value * interval.low / verdict.value, value * interval.high / verdict.value
