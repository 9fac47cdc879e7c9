"""The simulated day: lamps by schedule, thermostats switching, the room's own cycle, moisture."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.day_run import DayRun, Prepared
from noonshade.core.heat.day_trace import NO_FAULTS, DayTrace, Faults, State, Watch
from noonshade.core.heat.geometry import DAILY, Resolution
from noonshade.core.heat.regulation import Regulator
from noonshade.core.heat.streamed_model import StreamedModel
from noonshade.core.heat.timetable import Timetable, surroundings_at, timetable_of
from noonshade.core.moisture.vapour import room_vapour
from noonshade.core.plan import Plan
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]

STEP_S = 60.0
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
# Of the day and of stretches of it with faults.
TIMETABLES_KEPT = 4


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
        columns = {f.id: i for i, f in enumerate(plan.fixtures)}
        self.model = StreamedModel(
            plan, plan.fixtures, columns, surroundings_at(plan, 0.0, NO_FAULTS), resolution
        )
        number = {t.id: k for k, t in enumerate(plan.thermostats)}
        governors = [number.get(f.thermostat_id or "") for f in plan.fixtures]
        lags = np.array([WARM_UP_S.get(f.lamp.kind, OTHER_WARM_UP_S) for f in plan.fixtures])
        air = self.model.grid.air
        self._prepared = Prepared(
            plan,
            step_s,
            self.model,
            tuple(self.model.probe(t.probe_m) for t in plan.thermostats),
            tuple((i, k) for i, k in enumerate(governors) if k is not None),
            1.0 - np.exp(-step_s / lags),
            air.dx * air.dz * air.depth_m * air.size,
        )
        self._timetables = Remembered[Timetable](TIMETABLES_KEPT)

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
        glow = np.zeros(len(self.plan.fixtures))
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
        step_h = self._prepared.step_s / 3600.0
        steps = max(1, round(hours / step_h))
        known = (start_hour, steps, faults.dead, faults.power_cut)
        begins = start_hour + step_h * np.arange(float(steps))
        timetable = self._timetables.get((), known, lambda: timetable_of(self.plan, begins, faults))
        return DayRun(self._prepared, timetable, state, watches, faults, keep, patience).trace()

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
