"""One stretch of simulated time: lamps and thermostats switching, heat and vapour step by step."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.checkpoint import checkpoint
from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.day_trace import DayTrace, Faults, State, Watch
from noonshade.core.heat.network import BALANCE_TOLERANCE, Network
from noonshade.core.heat.seen import NodeMean
from noonshade.core.heat.stepping import FactorArrays, furthest_moved, implicit_step, vapour_step
from noonshade.core.heat.streamed_model import StreamedModel
from noonshade.core.heat.timetable import Timetable, surroundings_at
from noonshade.core.moisture.spray import given_at_once_kg, most_film_kg, wet_area_m2
from noonshade.core.moisture.vapour import Exchange, room_vapour, vapour_density
from noonshade.core.plan import Plan

Floats = NDArray[np.float64]

# Films, flows and surroundings are renewed when something has moved this far, or after this long.
RENEW_AIR_K = 1.0
RENEW_SURFACE_K = 3.0
RENEW_VAPOUR = 0.05
RENEW_S = 1800.0
# Powers that differ by less than one part in this many share their flows.
POWER_LEVELS = 8
# Steps whose temperatures are kept before they are summed up.
BLOCK_STEPS = 96


@dataclass(frozen=True, slots=True)
class Prepared:
    """A plan made ready to be followed through time, in steps of ``step_s``.

    ``probes`` are the thermostats' probes, as ``EnclosureModel.probe`` has them; ``governed`` are pairs
    of a fixture and the thermostat that governs it; ``following`` (f,) is the share of the way to its
    electric power that each fixture's heat goes in a step; ``volume_m3`` is that of the air.
    """

    plan: Plan
    step_s: float
    model: StreamedModel
    probes: tuple[tuple[NodeMean, Floats], ...]
    governed: tuple[tuple[int, int], ...]
    following: Floats
    volume_m3: float


class _Stage(NamedTuple):
    """A network ready to step, and sums of it that every step's balance asks for."""

    network: Network
    factors: FactorArrays
    stored: Floats
    constant: Floats
    boundary_sum: float
    conductance_sum: float
    fresh: float
    exchange: Exchange
    sprayed_share: Floats
    outside: float


class DayRun:
    """One stretch of simulated time under way.

    With more ``patience`` films and flows are renewed that much later; the states at the hours ``keep`` are
    recorded.

    Parameters
    ----------
    prepared : Prepared
    timetable : Timetable
        One entry for each step.
    state : State
        At the start.
    watches : tuple of Watch
    faults : Faults
    keep : tuple of float
    patience : float
    """

    def __init__(
        self,
        prepared: Prepared,
        timetable: Timetable,
        state: State,
        watches: tuple[Watch, ...],
        faults: Faults,
        keep: tuple[float, ...],
        patience: float,
    ) -> None:
        self.patience = max(1.0, patience)
        self.count = 0
        self.prepared, self.timetable = prepared, timetable
        self.faults, self.watches, self.keep = faults, watches, keep
        self.states: list[State] = []
        self.first = state
        self.temperature = state.temperature_c.copy()
        self.vapour, self.film = state.vapour_kg_m3, state.film_kg
        self.regulators = tuple(
            replace(r, stuck=faults.stuck.get(r.thermostat.id), switchings=0) for r in state.regulators
        )
        mistings = sorted((h, m.litres) for m in prepared.plan.mistings for h in m.hours)
        self.mistings = [] if faults.power_cut else mistings
        self.stages: dict[bytes, _Stage] = {}
        self.seen = self.temperature
        self.seen_vapour = self.vapour
        self.age = math.inf
        self.glow = state.glow
        self.energy_error = self.vapour_error = 0.0

    def trace(self) -> DayTrace:
        """Follow it to its end.

        Returns
        -------
        DayTrace
            Temperatures, powers and vapour at every step, and the recorded states.

        Raises
        ------
        ConvergenceError
            If heat or vapour of a step do not balance, or a temperature is not finite.
        """
        prepared, (begins, lit, wanted) = self.prepared, self.timetable
        n, size = begins.size, self.temperature.size
        dt = prepared.step_s
        hour = begins + dt / 3600.0
        means = np.zeros((len(self.watches), size))
        for k, watch in enumerate(self.watches):
            np.add.at(means[k], watch.nodes, watch.weights)
        of_room = np.array([watch.room for watch in self.watches])
        power, reading = np.empty_like(lit), np.empty_like(wanted)
        room, vapour, film = np.empty(n), np.empty(n), np.empty(n)
        watched, total = np.empty((len(self.watches), n)), np.zeros(size)
        recent = np.empty((min(BLOCK_STEPS, n), size))
        targets = [[None if math.isnan(t) else t for t in row] for row in wanted.tolist()]
        for i, (begin, end) in enumerate(zip(begins.tolist(), hour.tolist(), strict=True)):
            if self.keep:
                self.states += [self._state() for h in self.keep if begin <= h < end]
            given = self._powers(lit[i], targets[i])
            if self.mistings:
                self._mist(begin, end)
            self.glow = self.glow + prepared.following * (given - self.glow)
            self._step(begin, self.glow, dt)
            power[i] = given
            room[i] = prepared.model.surroundings.room_c
            vapour[i], film[i] = self.vapour, self.film
            reading[i] = [r.reading_c for r in self.regulators]
            row = i % BLOCK_STEPS
            recent[row] = self.temperature
            if row == BLOCK_STEPS - 1 or i == n - 1:
                done = recent[: row + 1]
                watched[:, i - row : i + 1] = means @ done.T
                total += done.sum(axis=0)
        return DayTrace(
            prepared.plan,
            dt,
            hour,
            watched + of_room[:, None] * room,
            power.T,
            room,
            reading.T,
            wanted.T,
            vapour,
            film,
            tuple(r.switchings for r in self.regulators),
            self.energy_error,
            self.vapour_error,
            1,
            self.first,
            self._state(),
            tuple(self.states),
            total / n,
        )

    def _state(self) -> State:
        regulators = tuple(replace(r) for r in self.regulators)
        return State(self.temperature, self.vapour, self.film, self.glow, regulators)

    def _powers(self, lit: Floats, targets: list[float | None]) -> Floats:
        """Power of each fixture (f,) for the step that begins now."""
        given = lit.copy()
        powers = [
            regulator.step(self._probe(k), target, self.prepared.step_s)
            for k, (regulator, target) in enumerate(zip(self.regulators, targets, strict=True))
        ]
        for fixture, thermostat in self.prepared.governed:
            given[fixture] *= powers[thermostat]
        return given

    def _probe(self, k: int) -> float:
        """True temperature of a probe: air or surface, and the beams that fall on it."""
        shaded, beam = self.prepared.probes[k]
        room_c = self.prepared.model.surroundings.room_c
        return shaded.at(self.temperature, room_c) + float(beam @ self.glow)

    def _mist(self, begin: float, end: float) -> None:
        for at, litres in self.mistings:
            if begin % 24.0 <= at < begin % 24.0 + (end - begin):
                # Droplets give off no more than the air can take; what they keep lands as well.
                air = self.prepared.model.air_c(self.temperature)
                missing = vapour_density(1.0, float(np.mean(air))) - self.vapour
                given = given_at_once_kg(litres, missing, self.prepared.volume_m3)
                self.film = min(self.film + litres - given, most_film_kg(self.prepared.plan))
                self.vapour += given / self.prepared.volume_m3
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
        after, heat_in, gained, lost = implicit_step(
            stage.constant,
            network.sources,
            given,
            stage.stored,
            network.boundary_conductance,
            self.temperature,
            *stage.factors,
        )
        # Heat in less heat out is what was stored.
        heat_in, heat_out = heat_in - stage.boundary_sum, lost - stage.boundary_sum
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
        cells = self.prepared.model.grid.air.size
        if abs(self.vapour - self.seen_vapour) > self.patience * RENEW_VAPOUR * self.vapour:
            return True
        air, other = furthest_moved(self.temperature, self.seen, cells)
        return air > self.patience * RENEW_AIR_K or other > self.patience * RENEW_SURFACE_K

    def _renewed(self, hour: float, given: Floats, dt: float) -> _Stage:
        """Films, flows and surroundings for the next minutes, as they are in the middle of them."""
        checkpoint()
        plan, model = self.prepared.plan, self.prepared.model
        around = surroundings_at(plan, hour + self.patience * RENEW_S / 7200.0, self.faults)
        around = replace(around, vapour_kg_m3=self.vapour)
        model.films.sprayed_m2 = wet_area_m2(plan, self.film)
        network = model.network(self.temperature, given, around)
        flow, exchange = model.flow, model.films.exchange
        assert flow is not None
        assert exchange is not None
        e, factors = network.factorised(network.capacity / dt)
        return _Stage(
            network,
            (e.order, *e.lower, *e.upper, *factors, e.dense_from),
            network.capacity / dt,
            network.boundary + network.sources[:, 0],
            float(network.boundary.sum()),
            float(network.boundary_conductance.sum()),
            flow.fresh_m3_s,
            exchange,
            model.films.sprayed_share(),
            room_vapour(plan, around.room_c),
        )

    def _vapour_step(self, stage: _Stage, temperature: Floats, dt: float) -> None:
        """Vapour after a step with surfaces as warm as at its end, by the exact exponential."""
        exchange, plan = stage.exchange, self.prepared.plan
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
            self.prepared.volume_m3,
            dt,
        )
        self.vapour_error = max(self.vapour_error, error)
        if not self.vapour_error <= BALANCE_TOLERANCE:
            raise ConvergenceError("vapour given off, carried off and stored do not balance")
        self.vapour = after
        self.film = max(0.0, self.film - dried * dt)
