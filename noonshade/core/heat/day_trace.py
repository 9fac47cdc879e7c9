"""What a simulated day takes and gives: faults, the state between steps, what is watched, the trace."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.regulation import Regulator
from noonshade.core.moisture.vapour import humidity_at
from noonshade.core.plan import Plan

Floats = NDArray[np.float64]


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
