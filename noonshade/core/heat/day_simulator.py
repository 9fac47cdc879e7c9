"""The simulated day: lamps by schedule, thermostats switching, the room's own cycle, moisture."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.enclosure_model import Surroundings
from noonshade.core.heat.geometry import DAILY, Resolution
from noonshade.core.heat.network import BALANCE_TOLERANCE, Network
from noonshade.core.heat.regulation import Regulator, set_point_at
from noonshade.core.heat.stepping import FactorArrays, furthest_moved, implicit_step, vapour_step
from noonshade.core.heat.streamed_model import StreamedModel
from noonshade.core.moisture.vapour import (
    Exchange,
    humidity_at,
    room_vapour,
    vapour_density,
)
from noonshade.core.plan import Fixture, Plan

Floats = NDArray[np.float64]

STEP_S = 60.0
# Films, flows and surroundings are renewed when something has moved this far, or after this long.
RENEW_AIR_K = 1.0
RENEW_SURFACE_K = 3.0
RENEW_VAPOUR = 0.05
RENEW_S = 1800.0
# Powers that differ by less than one part in this many share their flows.
POWER_LEVELS = 8
# Time constants with which heaters and lamps follow their electric power, s. Estimates: a bulb glows at
# once and its glass follows, ceramic, panels and mats take minutes.
WARM_UP_S = {"bulb": 40.0, "heater": 300.0, "mat": 300.0}
OTHER_WARM_UP_S = 120.0
# Two days are alike when no node differs by more than this at midnight, or in its mean over the day where
# a thermostat that switches is in another phase at each midnight, K.
REPEATS_K = 0.15
MOST_DAYS = 20
# What a node still has to go is guessed on the first days only: the phase of a switch at midnight says
# nothing of it.
GUESSED_DAYS = 6
# Days that are simulated at least before their means are compared.
LEAST_SWITCHING_DAYS = 3
# Leaves and glass hold this much before it runs off into the ground, kg/m². Estimate.
FULL_FILM_KG_M2 = 0.05
# Spray wets leaves, branches and walls too: this many times the floor's area. Estimate.
SPRAYED_AREAS = 2.5
# Share of sprayed water that stays on surfaces; the rest evaporates from the droplets. Estimate.
SPRAY_ON_SURFACES = 0.9


@dataclass(frozen=True, slots=True)
class Faults:
    """What goes wrong, from the start of the simulated time.

    ``stuck`` thermostats by id, "on" or "off"; ``dead`` fixtures by id; ``power_cut`` takes everything
    electric; ``room_shift_k`` warms or cools the room.
    """

    stuck: Mapping[str, str] = field(default_factory=dict)
    dead: frozenset[str] = frozenset()
    power_cut: bool = False
    room_shift_k: float = 0.0


NO_FAULTS = Faults()


@dataclass(frozen=True, slots=True)
class State:
    """What one step hands to the next: all nodes in °C, vapour, water on surfaces, thermostats.

    ``glow`` (f,) is the heat each fixture gives as a fraction of its full power, behind its electric power.
    """

    temperature_c: Floats
    vapour_kg_m3: float
    film_kg: float
    glow: Floats
    regulators: tuple[Regulator, ...]


@dataclass(frozen=True, slots=True)
class Watch:
    """A figure to follow: a weighted mean of nodes, and of the room's air."""

    id: str
    nodes: NDArray[np.int64]
    weights: Floats
    room: float = 0.0


@dataclass(frozen=True, slots=True)
class DayTrace:
    """A simulated stretch of time, sampled at every step.

    ``hour`` (n,) of the day at the end of each step, counting on past 24; ``watched`` (w, n) °C;
    ``power`` (f, n) fraction of full of each fixture; ``room_c`` (n,); ``reading_c`` and ``set_point_c``
    (t, n) of each thermostat, NaN where it is switched off; ``vapour_kg_m3`` (n,), ``film_kg`` (n,) of
    water on surfaces; ``switchings`` (t,). ``energy_error`` and ``vapour_error`` are the largest relative
    errors of any step's balance; ``days`` is how many it took to repeat; ``states`` are those at the hours
    asked for; ``mean_c`` (k,) are means of all nodes over the time.
    """

    plan: Plan
    step_s: float
    hour: Floats
    watched: Floats
    power: Floats
    room_c: Floats
    reading_c: Floats
    set_point_c: Floats
    vapour_kg_m3: Floats
    film_kg: Floats
    switchings: tuple[int, ...]
    energy_error: float
    vapour_error: float
    days: int
    start: State
    end: State
    states: tuple[State, ...]
    mean_c: Floats

    def humidity(self, temperature_c: Floats) -> Floats:
        """Relative humidity (n,) where the air has temperatures (n,).

        Parameters
        ----------
        temperature_c : Floats
            Temperatures, °C.

        Returns
        -------
        Floats
            Relative humidity (n,), 0–1.
        """
        pairs = zip(self.vapour_kg_m3, temperature_c, strict=True)
        return np.array([humidity_at(float(v), float(t)) for v, t in pairs])


class DaySimulator:
    """A plan made ready to be followed through time.

    Parameters
    ----------
    plan : Plan
    step_s : float
        At most a minute.
    resolution : Resolution
    """

    def __init__(self, plan: Plan, step_s: float = STEP_S, resolution: Resolution = DAILY) -> None:
        if not 0 < step_s <= STEP_S:
            raise ValueError(f"step_s must be above 0 and at most {STEP_S:g}, not {step_s:g}")
        self.plan = plan
        self.step_s = step_s
        self.fixtures: tuple[Fixture, ...] = plan.fixtures
        columns = {f.id: i for i, f in enumerate(plan.fixtures)}
        self.model = StreamedModel(plan, plan.fixtures, columns, self.around(0.0, NO_FAULTS), resolution)
        self.probes = [self.model.probe(t.probe_m) for t in plan.thermostats]
        number = {t.id: i for i, t in enumerate(plan.thermostats)}
        self.governor = [number.get(f.thermostat_id or "") for f in plan.fixtures]
        lags = np.array([WARM_UP_S.get(f.lamp.kind, OTHER_WARM_UP_S) for f in plan.fixtures])
        self.following = 1.0 - np.exp(-step_s / lags) if lags.size else lags
        self._lit: dict[tuple[float, frozenset[str]], Floats] = {}
        air = self.model.grid.air
        self.volume_m3 = air.dx * air.dz * air.depth_m * air.size

    # -- what the outside does -----------------------------------------------------------------------

    def around(self, hour: float, faults: Faults) -> Surroundings:
        """What lies outside the enclosure at an hour.

        Parameters
        ----------
        hour : float
            Hour since midnight of the first day; may be above 24.
        faults : Faults
            What fails, and when.

        Returns
        -------
        Surroundings
            Temperatures outside each face, the room's vapour, fans and cold packs.
        """
        plan, h = self.plan, hour % 24.0
        faces = {face: n.at(h) for face, n in plan.enclosure.neighbours.items()}
        running = not faults.power_cut
        fan = sum(f.flow_m3_h for f in plan.fans if running and f.on_at(h, plan.dawn, plan.dusk)) / 3600.0
        cold = tuple(p for p in plan.cold_packs if p.on_at(h))
        return Surroundings(plan.room.at(h) + faults.room_shift_k, faces, fan, cold)

    def lit(self, hour: float, faults: Faults) -> Floats:
        """1 for each fixture (f,) its timer has on, 0 otherwise.

        Parameters
        ----------
        hour : float
            Hour of the day, 0 to 24.
        faults : Faults
            What fails, and when.

        Returns
        -------
        Floats
            (f,) float64, 0 or 1; not to be changed.
        """
        plan, h = self.plan, hour % 24.0
        if faults.power_cut:
            return np.zeros(len(self.fixtures))
        # Every day asks for the same minutes.
        known = (round(h * 3600.0, 3), faults.dead)
        if known not in self._lit:
            on = [f.id not in faults.dead and f.on_at(h, plan.dawn, plan.dusk) for f in self.fixtures]
            self._lit[known] = np.array(on, dtype=np.float64)
        return self._lit[known]

    # -- a stretch of time ---------------------------------------------------------------------------

    def start(self) -> State:
        """A guess to start from: everything as warm as the room is on average.

        Returns
        -------
        State
            A guess to start from.
        """
        room = self.plan.room
        mean = 0.5 * (room.day_temperature_c + room.night_temperature_c) + 2.0
        vapour = room_vapour(self.plan, mean)
        regulators = tuple(Regulator(t) for t in self.plan.thermostats)
        glow = np.zeros(len(self.fixtures))
        return State(np.full(self.model.size, mean), vapour, 0.0, glow, regulators)

    def run(
        self,
        state: State,
        hours: float,
        watches: tuple[Watch, ...] = (),
        start_hour: float = 0.0,
        faults: Faults = NO_FAULTS,
        keep: tuple[float, ...] = (),
        patience: float = 1.0,
    ) -> DayTrace:
        """Follow the enclosure for some hours, keeping its states at some hours of the way.

        With more ``patience`` films and flows are renewed that much later.

        Parameters
        ----------
        state : State
            State to start from, None for the steady one.
        hours : float
            Hours the lamp has burned, or those by fixture.
        watches : tuple[Watch, ...]
            What is followed through the day.
        start_hour : float
            Hour the scenario begins.
        faults : Faults
            What fails, and when.
        keep : tuple[float, ...]
            What stays.
        patience : float
            How far temperatures may move before films are computed again.

        Returns
        -------
        DayTrace
            Temperatures, powers and vapour at every step, and the recorded states.

        Raises
        ------
        ConvergenceError
            If heat or vapour of a step do not balance, or a temperature is not finite.
        """
        steps = max(1, round(hours * 3600.0 / self.step_s))
        made = _Run(self, state, steps, watches, start_hour, faults, keep, patience)
        return made.trace()

    def repeating_day(
        self,
        watches: tuple[Watch, ...] = (),
        state: State | None = None,
        progress: Callable[[int], None] | None = None,
        keep: tuple[float, ...] = (),
    ) -> DayTrace:
        """Days on end until one is like the one before; that last day.

        Two days are alike when every node is as warm at midnight, or, whatever the phase of a thermostat
        that switches, on the mean. Deep ground follows slowly, so on the first days what it still has to go
        is guessed from the last two days' change and given at once; the guess is then simulated like any
        other state.

        Parameters
        ----------
        watches : tuple[Watch, ...]
            What is followed through the day.
        state : State | None
            State to start from, None for the steady one.
        progress : Callable[[int], None] | None
            Called with how much is done.
        keep : tuple[float, ...]
            What stays.

        Returns
        -------
        DayTrace
            Days on end until one is like the one before.

        Raises
        ------
        ConvergenceError
            If an argument is out of its range.
        """
        now = self.start() if state is None else state
        before: Floats | None = None
        mean: Floats | None = None
        switching = any(t.kind == "on_off" for t in self.plan.thermostats)
        drift = np.inf
        for day in range(1, MOST_DAYS + 1):
            trace = self.run(now, 24.0, watches, keep=keep)
            if progress is not None:
                progress(day)
            change = trace.end.temperature_c - now.temperature_c
            moved = float(np.max(np.abs(change)))
            if mean is not None:
                drift = float(np.max(np.abs(trace.mean_c - mean)))
                if switching and day >= LEAST_SWITCHING_DAYS:
                    moved = min(moved, drift)
            if moved < REPEATS_K:
                return replace(trace, days=day)
            mean = trace.mean_c
            following = trace.end.temperature_c
            if before is not None and day <= GUESSED_DAYS:
                # Node by node the change shrinks by a ratio a day; a geometric series tells the rest.
                ratio = np.clip(change / np.where(np.abs(before) > 1e-6, before, np.inf), 0.0, 0.8)
                following = following + change * ratio / (1.0 - ratio)
                before = None
            else:
                before = change
            now = replace(trace.end, temperature_c=following)
        raise ConvergenceError(
            f"the day did not repeat within {MOST_DAYS} days (still moving by "
            f"{drift:.2g} K in the mean of a day)"
        )


class _Stage(NamedTuple):
    """A network ready to step, and sums of it that every step's balance asks for."""

    network: Network
    factors: FactorArrays
    stored: Floats
    constant: Floats
    source_sums: Floats
    boundary_sum: float
    conductance_sum: float
    fresh: float
    exchange: Exchange
    sprayed_share: Floats
    outside: float


class _Run:
    """One stretch of simulated time under way."""

    def __init__(
        self,
        enclosure: DaySimulator,
        state: State,
        steps: int,
        watches: tuple[Watch, ...],
        start_hour: float,
        faults: Faults,
        keep: tuple[float, ...],
        patience: float,
    ) -> None:
        self.patience = max(1.0, patience)
        self.count = 0
        self.enclosure, self.faults, self.watches, self.keep = enclosure, faults, watches, keep
        self.states: list[State] = []
        self.first = state
        self.temperature = state.temperature_c.copy()
        self.vapour, self.film = state.vapour_kg_m3, state.film_kg
        self.regulators = tuple(
            replace(r, stuck=faults.stuck.get(r.thermostat.id), switchings=0) for r in state.regulators
        )
        self.start_hour, self.steps = start_hour, steps
        self.mist = sorted((h, m.litres) for m in enclosure.plan.mistings for h in m.hours)
        self.stages: dict[bytes, _Stage] = {}
        self.seen = self.temperature
        self.seen_vapour = self.vapour
        self.age = math.inf
        self.glow = state.glow
        self.energy_error = self.vapour_error = 0.0

    def trace(self) -> DayTrace:
        enclosure, n = self.enclosure, self.steps
        dt = enclosure.step_s
        thermostats, fixtures = len(self.regulators), len(enclosure.fixtures)
        hour = self.start_hour + np.arange(1.0, n + 1.0) * dt / 3600.0
        means = np.zeros((len(self.watches), self.temperature.size))
        for k, watch in enumerate(self.watches):
            np.add.at(means[k], watch.nodes, watch.weights)
        of_room = np.array([watch.room for watch in self.watches])
        power = np.zeros((fixtures, n))
        room, vapour, film = np.empty(n), np.empty(n), np.empty(n)
        temperature = np.empty((n, self.temperature.size))
        reading, wanted = np.full((thermostats, n), np.nan), np.full((thermostats, n), np.nan)
        for i in range(n):
            begin = float(hour[i]) - dt / 3600.0
            if self.keep:
                self.states += [self._state() for h in self.keep if begin <= h < float(hour[i])]
            given = self._powers(begin, wanted[:, i])
            self._mist(begin, float(hour[i]))
            self.glow = self.glow + enclosure.following * (given - self.glow)
            self._step(begin, self.glow, dt)
            power[:, i] = given
            room[i] = enclosure.model.surroundings.room_c
            vapour[i], film[i] = self.vapour, self.film
            reading[:, i] = [r.reading_c for r in self.regulators]
            temperature[i] = self.temperature
        watched = means @ temperature.T + of_room[:, None] * room
        return DayTrace(
            enclosure.plan,
            dt,
            hour,
            watched,
            power,
            room,
            reading,
            wanted,
            vapour,
            film,
            tuple(r.switchings for r in self.regulators),
            self.energy_error,
            self.vapour_error,
            1,
            self.first,
            self._state(),
            tuple(self.states),
            temperature.mean(axis=0),
        )

    def _state(self) -> State:
        regulators = tuple(replace(r) for r in self.regulators)
        return State(self.temperature, self.vapour, self.film, self.glow, regulators)

    def _powers(self, hour: float, wanted: Floats) -> Floats:
        """Power of each fixture (f,) for the step that begins now; notes the set points."""
        enclosure, plan = self.enclosure, self.enclosure.plan
        lit = enclosure.lit(hour, self.faults)
        given = lit.copy()
        powers = []
        for k, regulator in enumerate(self.regulators):
            target = set_point_at(regulator.thermostat, hour % 24.0, plan.dawn, plan.dusk)
            wanted[k] = np.nan if target is None else target
            powers.append(regulator.step(self._probe(k), target, enclosure.step_s))
        for i, governor in enumerate(enclosure.governor):
            if governor is not None:
                given[i] *= powers[governor]
        return given

    def _probe(self, k: int) -> float:
        """True temperature of a probe: air or surface, and the beams that fall on it."""
        shaded, beam = self.enclosure.probes[k]
        room_c = self.enclosure.model.surroundings.room_c
        return shaded.at(self.temperature, room_c) + float(beam @ self.glow)

    def _mist(self, begin: float, end: float) -> None:
        if self.faults.power_cut:
            return
        for at, litres in self.mist:
            if begin % 24.0 <= at < begin % 24.0 + (end - begin):
                # Droplets give off no more than the air can take; what they keep lands as well.
                air = self.enclosure.model.air_c(self.temperature)
                dry = max(0.0, vapour_density(1.0, float(np.mean(air))) - self.vapour)
                given = min((1.0 - SPRAY_ON_SURFACES) * litres, dry * self.enclosure.volume_m3)
                self.film = min(self.film + litres - given, self._held())
                self.vapour += given / self.enclosure.volume_m3
                self.age = math.inf

    def _step(self, hour: float, given: Floats, dt: float) -> None:
        self.count += 1
        looked_at = self.count % round(self.patience) == 0
        if self.age >= self.patience * RENEW_S or (looked_at and self._moved()):
            self.stages.clear()
            self.seen, self.age = self.temperature, 0.0
            self.seen_vapour = self.vapour
        # Plumes of heaters drive the air, so each set of powers is followed with its own flows.
        powers = np.rint(given * POWER_LEVELS).tobytes()
        if powers not in self.stages:
            self.stages[powers] = self._renewed(hour, given, dt)
        stage = self.stages[powers]
        network = stage.network
        after, gained, lost = implicit_step(
            stage.constant,
            network.sources,
            given,
            stage.stored,
            network.boundary_conductance,
            self.temperature,
            *stage.factors,
        )
        # Heat in less heat out is what was stored.
        heat_in = float(stage.source_sums[0] + stage.source_sums[1:] @ given)
        heat_out = lost - stage.boundary_sum
        error = abs(heat_in - heat_out - gained) / max(abs(heat_in), stage.conductance_sum, 1e-12)
        if not error <= BALANCE_TOLERANCE:
            raise ConvergenceError(
                f"at {hour % 24.0:.2f} h heat in {heat_in:.6g} W, out {heat_out:.6g} W and stored "
                f"{gained:.6g} W do not balance"
            )
        self.energy_error = max(self.energy_error, error)
        self._vapour_step(stage, after, dt)
        self.temperature = after
        self.age += dt

    def _moved(self) -> bool:
        cells = self.enclosure.model.grid.air.size
        if abs(self.vapour - self.seen_vapour) > self.patience * RENEW_VAPOUR * self.vapour:
            return True
        air, other = furthest_moved(self.temperature, self.seen, cells)
        return air > self.patience * RENEW_AIR_K or other > self.patience * RENEW_SURFACE_K

    def _renewed(self, hour: float, given: Floats, dt: float) -> _Stage:
        """Films, flows and surroundings for the next minutes, as they are in the middle of them."""
        enclosure = self.enclosure
        around = enclosure.around(hour + self.patience * RENEW_S / 7200.0, self.faults)
        around = replace(around, vapour_kg_m3=self.vapour)
        self._wet()
        network = enclosure.model.network(self.temperature, given, around)
        flow, exchange = enclosure.model.flow, enclosure.model.films.exchange
        assert flow is not None
        assert exchange is not None
        e, factors = network.factorised(network.capacity / dt)
        return _Stage(
            network,
            (e.order, *e.lower, *e.upper, *factors, e.dense_from),
            network.capacity / dt,
            network.boundary + network.sources[:, 0],
            network.sources.sum(axis=0),
            float(network.boundary.sum()),
            float(network.boundary_conductance.sum()),
            flow.fresh_m3_s,
            exchange,
            enclosure.model.films.sprayed_share(),
            room_vapour(enclosure.plan, around.room_c),
        )

    def _sprayed_m2(self) -> float:
        return (
            SPRAYED_AREAS * self.enclosure.plan.enclosure.length_m * self.enclosure.plan.enclosure.depth_m
        )

    def _held(self) -> float:
        """Most water that stays on surfaces, kg."""
        return FULL_FILM_KG_M2 * self._sprayed_m2()

    def _wet(self) -> None:
        """Less than a film stands in drops, whose surface goes with the two-thirds power of their water."""
        share = (self.film / self._held()) ** (2.0 / 3.0)
        self.enclosure.model.films.sprayed_m2 = self._sprayed_m2() * share

    def _vapour_step(self, stage: _Stage, temperature: Floats, dt: float) -> None:
        """Vapour after a step with surfaces as warm as at its end, by the exact exponential."""
        exchange, plan = stage.exchange, self.enclosure.plan
        fog = 0.0 if self.faults.power_cut else plan.fog_kg_h / 3600.0
        after, error, dried = vapour_step(
            exchange.node,
            exchange.passing_m3_s,
            exchange.wet,
            stage.sprayed_share,
            temperature,
            self.vapour,
            stage.fresh,
            stage.outside,
            fog,
            self.enclosure.volume_m3,
            dt,
        )
        self.vapour_error = max(self.vapour_error, error)
        if not self.vapour_error <= BALANCE_TOLERANCE:
            raise ConvergenceError("vapour given off, carried off and stored do not balance")
        self.vapour = after
        self.film = max(0.0, self.film - dried * dt)
