"""The steady climate of an enclosure: network, films and flows iterated until they agree."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.checkpoint import checkpoint
from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.control import holding_fractions
from noonshade.core.heat.enclosure_model import Surroundings
from noonshade.core.heat.geometry import EnclosureGrid, Resolution
from noonshade.core.heat.grids import SheetGrid
from noonshade.core.heat.network import HeatBalance, Network
from noonshade.core.heat.settling import Mixer
from noonshade.core.heat.stream_nodes import Plume
from noonshade.core.heat.streamed_model import StreamedModel
from noonshade.core.moisture.vapour import (
    Moisture,
    VapourPaths,
    humidity_at,
    room_vapour,
    steady_vapour,
)
from noonshade.core.plan import Moment, Plan, Thermostat

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Largest movement in the last round, K. What is left is about as much at most (0.03 K found over random
# edits), well below a reading's resolution.
CONVERGED_K = 0.02
# Movement of the vapour in the last round, relative.
CONVERGED_VAPOUR = 2e-3
MAX_ITERATIONS = 60
# What a kilogram of vapour in a cubic metre counts for beside temperatures, K: saturated air takes up about
# one gram more for each degree.
VAPOUR_K = 1000.0
# And what the whole power of a heater does, K. Estimate: about what heaters warm an enclosure by.
POWER_K = 10.0
# Where a flow appears and disappears for ever, rounds end after so many with what is let pass, K.
ENOUGH_ITERATIONS = 30
TOLERATED_K = 0.15
# How far above the room rounds begin, K; the later ones only where they do not settle.
STARTS_K = (3.0, 10.0, 0.5)


@dataclass(frozen=True, slots=True)
class ThermostatState:
    """What a thermostat does at steady state.

    ``fraction`` is the mean power of its heaters, 0–1. ``holds`` says whether the probe stays at
    the set point; otherwise the heater runs at full power, or not at all.
    """

    thermostat: Thermostat
    fraction: float
    probe_c: float
    set_point_c: float | None
    holds: bool


@dataclass(frozen=True, slots=True)
class SteadyState:
    """Where rounds of a plan settled: all its nodes and the room, °C, and the vapour in its air.

    The first ``physical`` nodes are cells and surfaces, ``air`` of them cells of air; others are streams
    in it, of which there may be more or fewer when something is moved.
    """

    temperature_c: Floats
    room_c: float
    moisture: Moisture
    physical: int
    air: int


@dataclass(frozen=True, slots=True)
class Climate:
    """Temperatures everywhere at steady state, °C, with who heats how much, and the vapour in the air."""

    plan: Plan
    moment: Moment
    grid: EnclosureGrid
    temperature_c: Floats
    network: Network
    power_fraction: dict[str, float]
    thermostats: tuple[ThermostatState, ...]
    balance: HeatBalance
    power_w: float
    outside_w: float
    iterations: int
    moisture: Moisture
    plumes: tuple[Plume, ...]
    vapour_paths: VapourPaths

    @property
    def air_c(self) -> Floats:
        """Air temperatures (nx, nz)."""
        air = self.grid.air
        return self.temperature_c[: air.size].reshape(air.nx, air.nz)

    @property
    def room_c(self) -> float:
        """Room temperature of this moment."""
        return room_temperature(self.plan, self.moment)

    @property
    def state(self) -> SteadyState:
        """Where it settled, for plans like this one to begin at."""
        return SteadyState(
            self.temperature_c, self.room_c, self.moisture, self.grid.size, self.grid.air.size
        )

    @property
    def radiant_c(self) -> float:
        """Mean temperature of everything inside as a body among it sees it."""
        return float(self.temperature_c[self.grid.star])

    def air_at(self, x_m: Floats, z_m: Floats) -> Floats:
        """Air temperature at points (n,), bilinear between cell centres.

        Parameters
        ----------
        x_m : Floats
            Position along the length, m.
        z_m : Floats
            Height above the floor, m.

        Returns
        -------
        Floats
            Temperatures (n,), °C.
        """
        nodes, weights = self.grid.air.interpolation(np.atleast_1d(x_m), np.atleast_1d(z_m))
        mean: Floats = np.sum(self.temperature_c[nodes] * weights, axis=-1)
        return mean

    def humidity(self, air_c: float) -> float:
        """Relative humidity (0–1) where the air has a temperature: its vapour is mixed, its heat is not.

        Parameters
        ----------
        air_c : float
            Air temperature, °C.

        Returns
        -------
        float
            Relative humidity (0–1) where the air has a temperature.
        """
        return humidity_at(self.moisture.vapour_kg_m3, air_c)

    def sheet_c(self, sheet: SheetGrid) -> Floats:
        """Temperatures of a floor level or plate face, (nx, ny).

        Parameters
        ----------
        sheet : SheetGrid
            The sheet.

        Returns
        -------
        Floats
            Temperatures (nx, ny), °C.
        """
        return self.temperature_c[sheet.nodes]


def room_temperature(plan: Plan, moment: Moment) -> float:
    """Room temperature by day or by night, °C.

    Parameters
    ----------
    plan : Plan
        The plan.
    moment : Moment
        Day or night.

    Returns
    -------
    float
        The temperature, °C.
    """
    return plan.room.day_temperature_c if moment == "day" else plan.room.night_temperature_c


def surroundings_of(plan: Plan, moment: Moment) -> Surroundings:
    """What is outside by day or by night, with fans and cold packs as at noon or midnight.

    Parameters
    ----------
    plan : Plan
        The plan.
    moment : Moment
        Day or night.

    Returns
    -------
    Surroundings
        Temperatures, vapour, fans and cold packs at that moment.
    """
    day = moment == "day"
    faces = {
        face: n.day_temperature_c if day else n.night_temperature_c
        for face, n in plan.enclosure.neighbours.items()
    }
    hour = 12.0 if day else 0.0
    fan = sum(f.flow_m3_h for f in plan.fans if f.on_at(hour, 6.0, 18.0)) / 3600.0
    cold = tuple(p for p in plan.cold_packs if p.on_at(hour))
    return Surroundings(room_temperature(plan, moment), faces, fan, cold)


def steady_climate(
    plan: Plan,
    moment: Moment = "day",
    resolution: Resolution | None = None,
    near: SteadyState | None = None,
) -> Climate:
    """Solve a plan's heat balance at steady state.

    Parameters
    ----------
    plan : Plan
        The plan.
    moment : Moment
        Day or night.
    resolution : Resolution | None
        How fine the grid is, None for the usual one.
    near : SteadyState | None
        Where a plan like this one settled on the same cells: rounds begin there, and are fewer. The
        answer is the same within what rounds settle to.

    Returns
    -------
    Climate
        Temperatures of all nodes, thermostats, moisture and the heat balance.

    Raises
    ------
    ConvergenceError
        If films and flows do not settle, or heat in and out differ by more than 1e-6.
    """
    return _Solver(plan, moment, resolution).solve(near)


class _Solver:
    def __init__(self, plan: Plan, moment: Moment, resolution: Resolution | None) -> None:
        self.plan = plan
        self.moment: Moment = moment
        lit = tuple(f for f in plan.fixtures if f.lit_at(moment))
        used = {f.thermostat_id for f in lit}
        self.thermostats = [t for t in plan.thermostats if t.id in used]
        number = {t.id: i for i, t in enumerate(self.thermostats)}
        controls = {f.id: number[f.thermostat_id] for f in lit if f.thermostat_id in number}
        self.around = surroundings_of(plan, moment)
        self.model = StreamedModel(plan, lit, controls, self.around, resolution)
        self.grid, self.heats = self.model.grid, self.model.heats
        self.probes = [self.model.probe(t.probe_m) for t in self.thermostats]

    def solve(self, near: SteadyState | None = None) -> Climate:
        for begin in self._beginnings(near):
            try:
                return self._solved_from(*begin)
            except ConvergenceError:
                # Where flows come and go, another beginning mostly leads around that.
                continue
        return self._solved_from(*self._level(STARTS_K[-1]))

    def _beginnings(self, near: SteadyState | None) -> Iterator[tuple[Floats, Moisture]]:
        if near is not None and (near.physical, near.air) == (self.grid.size, self.grid.air.size):
            begin = near.temperature_c
            if begin.size != self.model.size:
                # Streams follow at once from the air around them.
                begin = np.full(self.model.size, np.mean(begin[: near.air]))
                begin[: near.physical] = near.temperature_c[: near.physical]
            yield begin + (self.around.room_c - near.room_c), near.moisture
        for start_k in STARTS_K[:-1]:
            yield self._level(start_k)

    def _level(self, start_k: float) -> tuple[Floats, Moisture]:
        """So much above the room everywhere, in air as moist as the room's."""
        room = self.around.room_c
        return np.full(self.model.size, room + start_k), Moisture(
            room_vapour(self.plan, room), 0.0, 0.0, 0.0
        )

    def _solved_from(self, temperature: Floats, moisture: Moisture) -> Climate:
        """The steady state, with rounds that begin at temperatures of all nodes and moisture."""
        fractions = np.ones(len(self.thermostats))
        outside = room_vapour(self.plan, self.around.room_c)
        fog = self.plan.fog_kg_h / 3600.0 if self.moment == "day" else 0.0
        latest = np.inf
        mixer, physical = Mixer(), self.grid.size
        for iteration in range(1, MAX_ITERATIONS + 1):
            checkpoint()
            around = replace(self.around, vapour_kg_m3=moisture.vapour_kg_m3)
            network = self.model.network(temperature, fractions, around)
            response = network.responses()
            begun = fractions
            fractions = self._fractions(response, begun if iteration > 1 else None)
            solved = response @ np.concatenate([[1.0], fractions])
            guess = temperature[:physical]
            latest = float(np.max(np.abs(solved[:physical] - guess)))
            flow, evaporation = self.model.flow, self.model.films.exchange
            assert flow is not None
            assert evaporation is not None
            found = steady_vapour(evaporation, solved, flow.fresh_m3_s, outside, fog)
            dried = abs(found.vapour_kg_m3 - moisture.vapour_kg_m3) / max(found.vapour_kg_m3, 1e-9)
            converged_k = CONVERGED_K if iteration < ENOUGH_ITERATIONS else TOLERATED_K
            if latest < converged_k and dried < CONVERGED_VAPOUR:
                balance = network.balance(solved, fractions)
                paths = VapourPaths(evaporation, flow.fresh_m3_s, outside)
                return self._result(solved, network, response, fractions, balance, iteration, found, paths)
            # Vapour is mixed with what it comes from: by itself it goes back and forth where the ground is
            # wet and little air comes in; so do thermostats that feel streams of each other's heaters.
            # Streams follow at once from what is around them.
            water = VAPOUR_K * moisture.vapour_kg_m3, VAPOUR_K * found.vapour_kg_m3
            mixed = mixer.next_guess(
                np.concatenate([guess, [water[0]], POWER_K * begun]),
                np.concatenate([solved[:physical], [water[1]], POWER_K * fractions]),
            )
            temperature = solved.copy()
            temperature[:physical] = mixed[:physical]
            moisture = replace(found, vapour_kg_m3=max(float(mixed[physical]) / VAPOUR_K, 0.0))
            fractions = np.clip(mixed[physical + 1 :] / POWER_K, 0.0, 1.0)
        raise ConvergenceError(
            f"the heat balance did not settle in {MAX_ITERATIONS} rounds "
            f"(still moving by {latest:.2g} K); check for extreme sizes or powers"
        )

    def _fractions(self, response: Floats, last: Floats | None) -> Floats:
        m = len(self.thermostats)
        if m == 0:
            return np.zeros(0)
        base, rise = self._probe_response(response)
        targets = [t.set_point_c(self.moment) for t in self.thermostats]
        wanted = np.array([-np.inf if t is None else t for t in targets])
        return holding_fractions(base, rise, wanted, last)

    def _probe_response(self, response: Floats) -> tuple[Floats, Floats]:
        m = len(self.thermostats)
        base, rise = np.zeros(m), np.zeros((m, m))
        for i, (shaded, beam) in enumerate(self.probes):
            read = shaded.share @ response[shaded.node]
            base[i], rise[i] = read[0] + shaded.room * self.around.room_c, read[1:]
            for heat, warm in zip(self.heats, beam, strict=True):
                control = self.model.controls.get(heat.fixture.id)
                if control is None:
                    base[i] += warm
                else:
                    rise[i, control] += warm
        return base, rise

    def _result(
        self,
        temperature: Floats,
        network: Network,
        response: Floats,
        fractions: Floats,
        balance: HeatBalance,
        iterations: int,
        moisture: Moisture,
        paths: VapourPaths,
    ) -> Climate:
        base, rise = self._probe_response(response)
        reads = base + rise @ fractions
        states = []
        for i, thermostat in enumerate(self.thermostats):
            target = thermostat.set_point_c(self.moment)
            holds = target is not None and abs(reads[i] - target) < 0.05
            states.append(ThermostatState(thermostat, float(fractions[i]), float(reads[i]), target, holds))
        shares = {h.fixture.id: self.model.share(h.fixture, fractions) for h in self.heats}
        for fixture in self.plan.fixtures:
            shares.setdefault(fixture.id, 0.0)
        power = sum(h.fixture.power_w * shares[h.fixture.id] for h in self.heats)
        outside = sum(h.outside_w * shares[h.fixture.id] for h in self.heats)
        return Climate(
            self.plan,
            self.moment,
            self.grid,
            temperature,
            network,
            shares,
            tuple(states),
            balance,
            power,
            outside,
            iterations,
            moisture,
            self.model.streams.plumes(temperature),
            paths,
        )
