"""Instruments that stay in the enclosure over the day: a logger, and the probe of a thermostat."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from noonshade.instruments.meters import Sheet
from noonshade.instruments.true_enclosure import TrueEnclosure


@dataclass(frozen=True, slots=True)
class Logged:
    """One row of a logger: °C, and relative humidity as a share of 1."""

    at: datetime
    temperature_c: float
    relative_humidity: float


@dataclass(frozen=True, slots=True)
class Logger:
    """Records air temperature and humidity at one place, following slowly.

    ``time_constant_min`` is how slowly its sensor follows the air.
    """

    temperature: Sheet
    humidity: Sheet
    every_min: int = 10
    time_constant_min: float = 6.0

    def record(
        self,
        enclosure: TrueEnclosure,
        place_id: str,
        start: datetime,
        hours: float,
        rng: np.random.Generator,
    ) -> Iterator[Logged]:
        """Rows from a time on, the day of the enclosure repeating.

        Raises
        ------
        KeyError
            If the enclosure has no such place.
        """
        places = {p.id: p for p in enclosure.day.places}
        place = places[place_id]
        step = enclosure.day.trace.step_s / 60.0
        share = 1.0 - float(np.exp(-step / self.time_constant_min))
        # Through the day once first, so that the sensor starts as it would.
        shown = float(place.probe_c[-1])
        followed = np.empty_like(place.probe_c)
        for _ in range(2):
            for i, there in enumerate(place.probe_c):
                shown += share * (float(there) - shown)
                followed[i] = shown
        for k in range(round(hours * 60.0 / self.every_min)):
            at = start + timedelta(minutes=k * self.every_min)
            i = round((at.hour * 60.0 + at.minute) / step) % followed.size
            damp = self.humidity.shown(float(place.relative_humidity[i]), 1.0, rng)
            yield Logged(at, self.temperature.shown(float(followed[i]), 1.0, rng), min(max(damp, 0.0), 1.0))


@dataclass(frozen=True, slots=True)
class ThermostatProbe:
    """The reading on a thermostat's own display, wherever its probe really is."""

    sheet: Sheet

    def read(
        self, enclosure: TrueEnclosure, thermostat_id: str, hour: float, rng: np.random.Generator
    ) -> float:
        """°C shown at an hour of the day, NaN while it is off; KeyError if there is no such thermostat."""
        index = {t.id: i for i, t in enumerate(enclosure.plan.thermostats)}[thermostat_id]
        trace = enclosure.day.trace
        i = round(hour * 3600.0 / trace.step_s) % trace.hour.size
        shown = float(trace.reading_c[index, i])
        return shown if np.isnan(shown) else self.sheet.shown(shown, 1.0, rng)
