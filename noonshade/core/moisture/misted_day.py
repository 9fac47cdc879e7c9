"""Humidity over a day with its sprays, between the steady climates of day and night.

Temperatures follow the lamps within an hour, water stays for hours: so the air's vapour and the water on
leaves and walls are followed through the day while surfaces are as warm as by day or by night. What
evaporation cools is left out; ``simulate_day`` has it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.climate import Climate
from noonshade.core.heat.stepping import vapour_step
from noonshade.core.heat.surface_films import SPRAYED_TRANSFER_M_S
from noonshade.core.moisture.spray import given_at_once_kg, most_film_kg, wet_area_m2
from noonshade.core.moisture.vapour import Exchange, saturation_density, vapour_density
from noonshade.core.plan import Plan

Floats = NDArray[np.float64]

STEP_H = 0.25
# Days until the water of one day no longer depends on how the first began.
MOST_DAYS = 6
REPEATS = 1e-3


@dataclass(frozen=True, slots=True)
class MistedDay:
    """Vapour in the air and water on surfaces through a day that repeats; arrays (n,) at the ends of steps.

    ``lit`` (n,) is whether the day's lamps are on.
    """

    hour: Floats
    lit: NDArray[np.bool_]
    vapour_kg_m3: Floats
    film_kg: Floats

    def humidity(self, moment: str, air_c: float) -> Floats:
        """Relative humidity over the lit or the dark hours where the air has a temperature, 0–1.

        Parameters
        ----------
        moment : str
            'day' or 'night'.
        air_c : float
            Air temperature then, °C.

        Returns
        -------
        Floats
            One value for each step of that part of the day; of the whole day where it has no such part.
        """
        chosen = self.lit if moment == "day" else ~self.lit
        if not np.any(chosen):
            chosen = np.ones(self.lit.size, dtype=np.bool_)
        full = float(saturation_density(np.array([air_c]))[0])
        found: Floats = np.minimum(1.0, self.vapour_kg_m3[chosen] / full)
        return found


def misted_day(plan: Plan, day: Climate, night: Climate) -> MistedDay:
    """Follow vapour and sprayed water through a day until it repeats.

    Parameters
    ----------
    plan : Plan
        The plan.
    day, night : Climate
        Its steady climates.

    Returns
    -------
    MistedDay
        The repeating day.
    """
    count = round(24.0 / STEP_H)
    hour = np.linspace(STEP_H, 24.0, count)
    begins = hour - STEP_H
    lit = (begins >= plan.dawn) & (begins < plan.dusk)
    sprays = [(h, m.litres) for m in plan.mistings for h in m.hours]
    stages = (_Stage(plan, night), _Stage(plan, day))
    vapour, film = night.moisture.vapour_kg_m3, 0.0
    traced = np.empty(count)
    water = np.empty(count)
    last = np.inf
    for _ in range(MOST_DAYS):
        for i in range(count):
            stage = stages[int(lit[i])]
            for at, litres in sprays:
                if begins[i] <= at % 24.0 < hour[i]:
                    missing = vapour_density(1.0, stage.air_c) - vapour
                    given = given_at_once_kg(litres, missing, stage.volume_m3)
                    film = min(film + litres - given, most_film_kg(plan))
                    vapour += given / stage.volume_m3
            vapour, film = stage.step(vapour, film)
            traced[i], water[i] = vapour, film
        if abs(film - last) <= REPEATS * most_film_kg(plan):
            break
        last = film
    return MistedDay(hour, lit, traced, water)


class _Stage:
    """Day or night: surfaces as they are then, and air that droplets dry into."""

    def __init__(self, plan: Plan, climate: Climate) -> None:
        self.plan = plan
        air = climate.grid.air
        self.volume_m3 = float((air.x_edges[-1] - air.x_edges[0]) * (air.z_edges[-1] - air.z_edges[0]))
        self.volume_m3 *= air.depth_m
        self.air_c = float(np.mean(climate.air_c))
        self.temperature_c = climate.temperature_c
        self.paths = climate.vapour_paths
        self.fog = plan.fog_kg_h / 3600.0 if climate.moment == "day" else 0.0
        exchange = self.paths.exchange
        cells = np.arange(air.size)
        self.exchange = Exchange(
            np.concatenate([exchange.node, cells]),
            np.concatenate([exchange.passing_m3_s, np.zeros(air.size)]),
            np.concatenate([exchange.wet, np.ones(air.size, dtype=np.bool_)]),
        )
        self.sprayed = np.concatenate([np.zeros(exchange.node.size), np.ones(air.size)])

    def step(self, vapour: float, film: float) -> tuple[float, float]:
        """Vapour, kg/m³, and water on surfaces, kg, after a step."""
        passing = self.exchange.passing_m3_s
        area = wet_area_m2(self.plan, film)
        passing[-int(self.sprayed.sum()) :] = SPRAYED_TRANSFER_M_S * area / self.sprayed.sum()
        after, _, dried = vapour_step(
            self.exchange.node,
            passing,
            self.exchange.wet,
            self.sprayed,
            self.temperature_c,
            vapour,
            self.paths.fresh_m3_s,
            self.paths.room_vapour_kg_m3,
            self.fog,
            self.volume_m3,
            STEP_H * 3600.0,
        )
        return after, max(0.0, film - dried * STEP_H * 3600.0)
