"""What-if tests: stuck thermostats, dead lamps, power cuts, heat waves.

Each failure strikes at the start of the day or of the night, whichever is the worse time for it,
and is followed for a day and a night.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.day import Day, places_over, watches_of
from noonshade.core.evaluate import Evaluation
from noonshade.core.heat.day_simulator import DaySimulator
from noonshade.core.heat.day_trace import NO_FAULTS, DayTrace, Faults, State, Watch
from noonshade.core.heat.enclosure_model import EnclosureModel
from noonshade.core.light.ageing import with_lamp_age
from noonshade.core.plan import Fixture, Plan, Wall

Floats = NDArray[np.float64]

FAILURE_H = 24.0
AGED = "aged"
# A what-if test asks how far things go, not when to the minute: see ``DaySimulator.run``.
PATIENCE = 3.0
# A heat wave and a failed room heater shift the room by this much, K.
HEAT_WAVE_K = 10.0
COLD_ROOM_K = -8.0


@dataclass(frozen=True, slots=True)
class FailureScenario:
    """Something that may go wrong; ``plan`` is the plan as it then is, ``faults`` what fails in it."""

    id: str
    label: str
    plan: Plan
    faults: Faults
    by_night: bool = False


@dataclass(frozen=True, slots=True)
class FailurePlace:
    """What one place comes to: extremes in °C, and minutes until it is dangerous (None: never)."""

    id: str
    label: str
    lowest_c: float
    highest_c: float
    minutes_to_heat: float | None
    minutes_to_cold: float | None
    uvi_highest: float


@dataclass(frozen=True, slots=True)
class FailureOutcome:
    """The outcome of a what-if test.

    ``safe_place`` names a place that stays safe throughout, or None; ``always_somewhere`` is whether
    at every moment some place is safe, which the animal may have to move to;
    ``minutes_to_danger`` until no place is.
    """

    failure_scenario: FailureScenario
    places: tuple[FailurePlace, ...]
    safe_place: str | None
    always_somewhere: bool
    minutes_to_danger: float | None

    @property
    def unsafe(self) -> tuple[FailurePlace, ...]:
        """Places that do not stay within what the animal bears; with any the test is not safe."""
        return tuple(
            p for p in self.places if p.minutes_to_heat is not None or p.minutes_to_cold is not None
        )


def failure_scenarios_of(plan: Plan) -> tuple[FailureScenario, ...]:
    """Every what-if test that makes sense for a plan.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[FailureScenario, ...]
        The scenarios, in the order they are run.
    """
    found: list[FailureScenario] = []
    driven = {f.thermostat_id for f in plan.fixtures}
    for t in plan.thermostats:
        if t.id in driven:
            found.append(
                FailureScenario(f"stuck-on:{t.id}", f"{t.label} stuck on", plan, Faults({t.id: "on"}))
            )
            at_night = any(f.thermostat_id == t.id and f.lit != "day" for f in plan.fixtures)
            off = Faults({t.id: "off"})
            found.append(FailureScenario(f"stuck-off:{t.id}", f"{t.label} stuck off", plan, off, at_night))
    for f in plan.fixtures:
        dead = Faults(dead=frozenset({f.id}))
        found.append(FailureScenario(f"dead:{f.id}", f"{f.label} failed", plan, dead, f.lit != "day"))
    found.append(FailureScenario("power-cut", "Power cut for a day", plan, Faults(power_cut=True), True))
    found.append(
        FailureScenario(
            "heat-wave", f"Room {HEAT_WAVE_K:g} °C warmer", plan, Faults(room_shift_k=HEAT_WAVE_K)
        )
    )
    found.append(
        FailureScenario(
            "cold-room", f"Room {-COLD_ROOM_K:g} °C colder", plan, Faults(room_shift_k=COLD_ROOM_K), True
        )
    )
    for f in plan.fixtures:
        found += _other_bulbs(plan, f)
    if plan.enclosure.lid_open_fraction < 1.0:
        sides = tuple(i for i in plan.enclosure.insets if i.face != "top")
        top = replace(plan.enclosure, walls={**plan.enclosure.walls, "top": Wall()}, insets=sides)
        found.append(
            FailureScenario("lid-open", "Lid left open", replace(plan, enclosure=top), NO_FAULTS, True)
        )
    if any(i.is_door for i in plan.enclosure.insets):
        parts = tuple(replace(i, wall=Wall(), gap_m=0.0) if i.is_door else i for i in plan.enclosure.insets)
        opened = replace(plan, enclosure=replace(plan.enclosure, insets=parts))
        found.append(FailureScenario("door-open", "Doors left open", opened, NO_FAULTS, True))
    if any(f.lamp.uv is not None for f in plan.fixtures):
        found.append(
            FailureScenario(AGED, "Lamps at the end of their life", with_lamp_age(plan, "worn"), NO_FAULTS)
        )
    return tuple(found)


def _other_bulbs(plan: Plan, fixture: Fixture) -> list[FailureScenario]:
    """The next sizes a hot lamp is sold in."""
    if not fixture.lamp.is_hot:
        return []
    choices = sorted(fixture.lamp.power_choices_w)
    bigger = next((w for w in choices if w > fixture.power_w), None)
    smaller = next((w for w in reversed(choices) if w < fixture.power_w), None)
    found = []
    for word, watts in (("bigger", bigger), ("smaller", smaller)):
        if watts is not None:
            other = tuple(replace(f, power_w=watts) if f.id == fixture.id else f for f in plan.fixtures)
            label = f"{fixture.label} a size {word}, {watts:g} W"
            found.append(
                FailureScenario(f"{word}:{fixture.id}", label, replace(plan, fixtures=other), NO_FAULTS)
            )
    return found


def run_scenario(failure_scenario: FailureScenario, day: Day, evaluation: Evaluation) -> FailureOutcome:
    """Run a what-if test from the state of a normal day, in that day's season.

    Parameters
    ----------
    failure_scenario : FailureScenario
        What fails.
    day : Day
        The simulated day.
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    FailureOutcome
        What happens at each place, and which place stays safe.

    Raises
    ------
    ConvergenceError
        As ``simulate_day``.
    """
    if failure_scenario.id == AGED:
        # Worn lamps warm as new ones do; only their UV is less.
        worn = replace(day.trace, plan=replace(failure_scenario.plan, room=day.plan.room))
        watches = watches_of(day.simulator.model.grid, worn.plan, evaluation.places)
        return _outcome(failure_scenario, worn, watches, evaluation)
    hour = day.plan.dusk if failure_scenario.by_night else day.plan.dawn
    state = day.at_dusk if failure_scenario.by_night else day.at_dawn
    plan = replace(failure_scenario.plan, room=day.plan.room)
    simulator = day.simulator if failure_scenario.plan is day.plan else DaySimulator(plan)
    if simulator.model is not day.simulator.model:
        state = _carried_over(state, day.simulator.model, simulator.model)
    watches = watches_of(simulator.model.grid, plan, evaluation.places)
    trace = simulator.run(state, FAILURE_H, watches, hour, failure_scenario.faults, patience=PATIENCE)
    return _outcome(failure_scenario, trace, watches, evaluation)


def _carried_over(state: State, old_model: EnclosureModel, model: EnclosureModel) -> State:
    """The state of an enclosure whose faces have changed: its contents and the walls that remain."""
    before, now = old_model.grid, model.grid
    inside = min(int(nodes[0]) for nodes in (*(s.node for s in before.sheets), np.array([before.star])))
    old = state.temperature_c
    temperature = np.full(model.size, float(np.mean(old[: before.air.size])))
    temperature[:inside] = old[:inside]
    were = {(s.face, s.number): s for s in before.sheets}
    for sheet in now.sheets:
        same = were.get((sheet.face, sheet.number))
        if same is not None and np.array_equal(same.strip, sheet.strip):
            temperature[sheet.node] = old[same.node]
    temperature[now.star] = old[before.star]
    return replace(state, temperature_c=temperature)


def _outcome(
    failure_scenario: FailureScenario,
    trace: DayTrace,
    watches: tuple[Watch, ...],
    evaluation: Evaluation,
) -> FailureOutcome:
    species = failure_scenario.plan.animal.species
    places = places_over(trace, watches, evaluation.places)
    minutes = (trace.hour - trace.hour[0]) * 60.0
    found, safe = [], []
    for place in places:
        # A place is as hot as the warmer of its air and ground; a basking surface is left at will.
        ground = place.surface_c if place.surface_c is not None and place.kind != "basking" else place.air_c
        high, low = np.maximum(place.air_c, ground), np.minimum(place.air_c, ground)
        hot, cold = high > species.highest_safe_c, low < species.lowest_safe_c
        safe.append(~hot & ~cold)
        found.append(
            FailurePlace(
                place.id,
                place.label,
                float(np.min(low)),
                float(np.max(high)),
                _first(minutes, hot),
                _first(minutes, cold),
                float(np.max(place.uvi, initial=0.0)),
            )
        )
    always = np.array(safe)
    # Where an animal would go: away from the lamp first.
    order = sorted(range(len(places)), key=lambda i: _REFUGE.index(places[i].kind))
    throughout = [i for i in order if bool(np.all(always[i]))]
    nowhere = ~np.any(always, axis=0)
    return FailureOutcome(
        failure_scenario,
        tuple(found),
        found[throughout[0]].label if throughout else None,
        not bool(np.any(nowhere)),
        _first(minutes, nowhere),
    )


_REFUGE = ("burrow", "water", "cool_end", "lower", "uv_refuge", "middle", "warm_end", "upper", "basking")


def _first(minutes: Floats, when: NDArray[np.bool_]) -> float | None:
    hit = np.flatnonzero(when)
    return float(minutes[hit[0]]) if hit.size else None


def run_failure_scenarios(
    day: Day, evaluation: Evaluation, progress: Callable[[int, int], None] | None = None
) -> tuple[FailureOutcome, ...]:
    """Every what-if test of a plan; ``progress`` is called with how many are done, and of how many.

    Parameters
    ----------
    day : Day
        The simulated day.
    evaluation : Evaluation
        The evaluation.
    progress : Callable[[int, int], None] | None
        Called with how much is done.

    Returns
    -------
    tuple[FailureOutcome, ...]
        Every failure_scenario of a plan.
    """
    failure_scenarios = failure_scenarios_of(day.plan)
    found = []
    for number, failure_scenario in enumerate(failure_scenarios, start=1):
        found.append(run_scenario(failure_scenario, day, evaluation))
        if progress is not None:
            progress(number, len(failure_scenarios))
    return tuple(found)
