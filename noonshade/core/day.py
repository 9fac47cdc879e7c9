"""A day in the enclosure as a keeper reads it: places over time, heaters, energy and cost."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.evaluate import Evaluation
from noonshade.core.heat.day_simulator import DaySimulator
from noonshade.core.heat.day_trace import DayTrace, State, Watch
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.light.field import Scene
from noonshade.core.moisture.vapour import moist_hide_vapour
from noonshade.core.needs.species import PlaceKind
from noonshade.core.places import PlaceFigures, measured_at
from noonshade.core.plan import Plan, Season

Floats = NDArray[np.float64]

# Less water than this on each square metre of floor is dry.
DRY_KG_M2 = 1e-3
# States are recorded at these hours, for drawing.
MOMENTS_H = tuple(i / 2 for i in range(48))
# Warm is when the basking surface has made this much of its way from dawn to its highest.
WARM_SHARE = 0.9
# Cool is when the air has come this near to the lowest of the night, K.
COOL_WITHIN_K = 1.0


@dataclass(frozen=True, slots=True)
class DayPlace:
    """One place over the day; arrays (n,). ``surface_c`` is None where it has none to speak of."""

    id: str
    label: str
    kind: PlaceKind
    air_c: Floats
    probe_c: Floats
    surface_c: Floats | None
    uvi: Floats
    relative_humidity: Floats


@dataclass(frozen=True, slots=True)
class FixtureUse:
    """What a lamp or heater does in a day; ``duty`` is its mean power over full while its timer is on."""

    id: str
    label: str
    duty: float
    on_h: float
    energy_kwh: float
    month_kwh: float
    month_cost: float


@dataclass(frozen=True, slots=True)
class ThermostatUse:
    """How hard a thermostat works: switchings an hour while it is in force, and how well it holds.

    ``error_k`` is the mean distance of its reading from the set point, None if it is never in force.
    """

    id: str
    label: str
    switchings_per_h: float
    error_k: float | None


@dataclass(frozen=True, slots=True)
class Day:
    """A repeating day, with the state of the enclosure at dawn, at dusk and every half hour.

    Minutes are None where there is nothing to time.
    """

    plan: Plan
    season: Season
    trace: DayTrace
    at_dawn: State
    at_dusk: State
    moments: tuple[State, ...]
    simulator: DaySimulator
    places: tuple[DayPlace, ...]
    fixtures: tuple[FixtureUse, ...]
    thermostats: tuple[ThermostatUse, ...]
    warm_up_min: float | None
    cool_down_min: float | None
    dry_min: float | None

    @property
    def energy_kwh(self) -> float:
        """Of all lamps and heaters in a day."""
        return sum(f.energy_kwh for f in self.fixtures)

    @property
    def month_cost(self) -> float:
        """Of all lamps and heaters in a month, in the keeper's money."""
        return sum(f.month_cost for f in self.fixtures)


def in_season(plan: Plan, season: Season) -> Plan:
    """The plan in its room as that is in a season.

    Parameters
    ----------
    plan : Plan
        The plan.
    season : Season
        Which of the climates of the room.

    Returns
    -------
    Plan
        The plan.
    """
    return replace(plan, room=plan.room.in_season(season))


def simulate_day(
    evaluation: Evaluation,
    season: Season = "now",
    progress: Callable[[int], None] | None = None,
) -> Day:
    """Follow a plan until its day repeats.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan, for where its places are.
    season : Season
        Which of the room's climates.
    progress : callable, optional
        Called with the number of days done.

    Returns
    -------
    Day
        The repeating day: its trace, places over time, heaters, energy and cost.

    Raises
    ------
    ConvergenceError
        If heat or vapour do not balance, or no day repeats.
    """
    plan = in_season(evaluation.plan, season)
    simulator = DaySimulator(plan)
    watches = watches_of(simulator.model.grid, plan, evaluation.places)
    # Lamps come on at dawn and go off at dusk; a day without either starts at midnight all the same.
    ends = (min(plan.dawn, 23.9), min(plan.dusk, 23.9))
    hours = tuple(sorted({*ends, *MOMENTS_H}))
    trace = simulator.repeating_day(watches, progress=progress, keep=hours)
    states = dict(zip(hours, trace.states, strict=True))
    moments = tuple(states[h] for h in MOMENTS_H)
    return _day(
        simulator, season, trace, watches, evaluation.places, (states[ends[0]], states[ends[1]]), moments
    )


def _day(
    simulator: DaySimulator,
    season: Season,
    trace: DayTrace,
    watches: tuple[Watch, ...],
    places: tuple[PlaceFigures, ...],
    ends: tuple[State, State],
    moments: tuple[State, ...],
) -> Day:
    found, plan = places_over(trace, watches, places), simulator.plan
    return Day(
        plan,
        season,
        trace,
        *ends,
        moments,
        simulator,
        found,
        _fixtures(plan, trace),
        _thermostats(trace),
        _warm_up(plan, trace, found),
        _cool_down(plan, trace, found),
        _drying(plan, trace),
    )


def watches_of(grid: EnclosureGrid, plan: Plan, places: tuple[PlaceFigures, ...]) -> tuple[Watch, ...]:
    """Air, probe and surface of every place as means of nodes, by ids "place:air", and so on.

    Parameters
    ----------
    grid : EnclosureGrid
        The grid of the enclosure.
    plan : Plan
        The plan.
    places : tuple[PlaceFigures, ...]
        The places.

    Returns
    -------
    tuple[Watch, ...]
        Three watches a place, or two where a place has no surface.
    """
    found: list[Watch] = []
    for place in places:
        where = measured_at(plan, grid, place)
        for name, mean in (("air", where.air), ("probe", where.probe), ("surface", where.surface)):
            if mean is not None:
                found.append(Watch(f"{place.id}:{name}", mean.node, mean.share, mean.room))
    return tuple(found)


def places_over(
    trace: DayTrace, watches: tuple[Watch, ...], places: tuple[PlaceFigures, ...]
) -> tuple[DayPlace, ...]:
    """Every place over a stretch of time.

    Parameters
    ----------
    trace : DayTrace
        The simulated day.
    watches : tuple[Watch, ...]
        What is followed through the day.
    places : tuple[PlaceFigures, ...]
        The places.

    Returns
    -------
    tuple[DayPlace, ...]
        Air, surface and UV index of each place at every step.
    """
    row = {watch.id: trace.watched[i] for i, watch in enumerate(watches)}
    uvi = _uvi_over(trace, places)
    found = []
    for i, place in enumerate(places):
        air, surface = row[f"{place.id}:air"], row.get(f"{place.id}:surface")
        probe = row[f"{place.id}:probe"]
        humidity = trace.humidity(air)
        hide = next((h for h in trace.plan.hides if h.id == place.id), None)
        if hide is not None and hide.moist and surface is not None:
            pairs = zip(surface, trace.vapour_kg_m3, strict=True)
            vapour = np.array([moist_hide_vapour(hide, float(s), float(v)) for s, v in pairs])
            humidity = replace(trace, vapour_kg_m3=vapour).humidity(air)
        found.append(DayPlace(place.id, place.label, place.kind, air, probe, surface, uvi[i], humidity))
    return tuple(found)


def _uvi_over(trace: DayTrace, places: tuple[PlaceFigures, ...]) -> Floats:
    """UV index (p, n) facing the light, for each set of lamps that is lit at the same time."""
    plan = trace.plan
    points = np.array([p.position_m for p in places])
    uvi = np.zeros((len(places), trace.hour.size))
    giving = [i for i, f in enumerate(plan.fixtures) if f.lamp.uv is not None]
    if not giving:
        return uvi
    on = (trace.power[giving] > 0).T
    for lit in np.unique(on, axis=0):
        fixtures = tuple(plan.fixtures[k] for k, yes in zip(giving, lit, strict=True) if yes)
        if fixtures:
            when = np.all(on == lit, axis=1)
            uvi[:, when] = Scene(plan, fixtures).at(points).uvi_facing[:, None]
    return uvi


def _fixtures(plan: Plan, trace: DayTrace) -> tuple[FixtureUse, ...]:
    hours = trace.hour.size * trace.step_s / 3600.0
    found = []
    for i, fixture in enumerate(plan.fixtures):
        begin = (trace.hour - trace.step_s / 3600.0) % 24.0
        timed = np.array([fixture.on_at(float(h), plan.dawn, plan.dusk) for h in begin])
        mean = float(np.mean(trace.power[i]))
        kwh = mean * fixture.power_w * 24.0 / 1000.0
        month = kwh * DAYS_PER_MONTH
        on = float(np.mean(timed))
        found.append(
            FixtureUse(
                fixture.id,
                fixture.label,
                mean / on if on > 0 else 0.0,
                on * hours,
                kwh,
                month,
                month * plan.room.tariff_per_kwh,
            )
        )
    return tuple(found)


def _thermostats(trace: DayTrace) -> tuple[ThermostatUse, ...]:
    found = []
    for k, thermostat in enumerate(trace.plan.thermostats):
        wanted = trace.set_point_c[k]
        force = np.isfinite(wanted)
        hours = float(np.sum(force)) * trace.step_s / 3600.0
        error = float(np.mean(np.abs(trace.reading_c[k] - wanted)[force])) if np.any(force) else None
        rate = trace.switchings[k] / hours if hours > 0 else 0.0
        found.append(ThermostatUse(thermostat.id, thermostat.label, rate, error))
    return tuple(found)


def _warm_up(plan: Plan, trace: DayTrace, places: tuple[DayPlace, ...]) -> float | None:
    """Minutes from dawn until the basking surface is nearly as warm as it gets."""
    basking = next((p for p in places if p.kind == "basking" and p.surface_c is not None), None)
    if basking is None or basking.surface_c is None or plan.photoperiod_h <= 0:
        return None
    by_day = (trace.hour > plan.dawn) & (trace.hour <= plan.dusk)
    if not np.any(by_day):
        return None
    surface = basking.surface_c
    start, top = float(surface[np.flatnonzero(by_day)[0]]), float(np.max(surface[by_day]))
    if top - start < 2.0:
        return None
    reached = np.flatnonzero(by_day & (surface >= start + WARM_SHARE * (top - start)))
    return float((trace.hour[reached[0]] - plan.dawn) * 60.0)


def _cool_down(plan: Plan, trace: DayTrace, places: tuple[DayPlace, ...]) -> float | None:
    """Minutes from dusk until the air of the warm end is as cool as the night makes it."""
    warm = next((p for p in places if p.kind in ("warm_end", "upper")), None)
    if warm is None or not 0 < plan.photoperiod_h < 24:
        return None
    # The night from dusk through midnight to dawn, as one row.
    order = np.argsort((trace.hour - plan.dusk - 1e-9) % 24.0)
    since = ((trace.hour - plan.dusk - 1e-9) % 24.0)[order]
    air = warm.air_c[order]
    night = since <= 24.0 - plan.photoperiod_h
    low = float(np.min(air[night]))
    if float(air[0]) - low < COOL_WITHIN_K:
        return None
    reached = np.flatnonzero(night & (air <= low + COOL_WITHIN_K))
    return float(since[reached[0]] * 60.0) if reached.size else None


def _drying(plan: Plan, trace: DayTrace) -> float | None:
    """Minutes from the last spraying until surfaces are dry; infinite if they never are."""
    hours = [h for m in plan.mistings for h in m.hours]
    if not hours:
        return None
    last = max(hours)
    order = np.argsort((trace.hour - last - 1e-9) % 24.0)
    since = ((trace.hour - last - 1e-9) % 24.0)[order]
    dry = np.flatnonzero(
        trace.film_kg[order] <= DRY_KG_M2 * plan.enclosure.length_m * plan.enclosure.depth_m
    )
    return float(since[dry[0]] * 60.0) if dry.size else math.inf


def at_moment(evaluation: Evaluation, day: Day, hour: float) -> tuple[float, Evaluation]:
    """The evaluation as the enclosure is at the half hour of a day nearest to ``hour``, for ``fields``.

    Only what fields are drawn from is of that hour: temperatures, and lamps with their power.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    day : Day
        The simulated day.
    hour : float
        Hour of the day, 0 to 24.

    Returns
    -------
    tuple[float, Evaluation]
        The hour of the recorded state, h, and the evaluation of that state.
    """
    number = round(hour * 2.0) % len(MOMENTS_H)
    then, state, plan = MOMENTS_H[number], day.moments[number], day.plan
    power = {f.id: float(g) for f, g in zip(plan.fixtures, state.glow, strict=True)}
    lit = tuple(f for f in plan.fixtures if f.on_at(then, plan.dawn, plan.dusk))
    climate = replace(
        evaluation.day,
        plan=plan,
        grid=day.simulator.model.grid,
        temperature_c=state.temperature_c,
        power_fraction=power,
        # Those of the steady state; at this hour there may be none.
        plumes=(),
    )
    return then, replace(evaluation, plan=plan, day=climate, scene=Scene(plan, lit, power))
