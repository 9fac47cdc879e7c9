"""Thermostats in time: what a probe reads, when a heater switches, how a dimmer follows.

At steady state see ``control``; this module is for the simulated day.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from noonshade.core.plan import Thermostat

# A dimming or pulsing thermostat gives full power this far below its set point and none this far above;
# what is left over it corrects in this time. Estimates of what such devices do.
HALF_BAND_K = 1.5
RESET_S = 1200.0
# The limit lets go again this far below the temperature at which it cut off, K. Estimate.
LIMIT_DIFFERENTIAL_K = 2.0


def set_point_at(thermostat: Thermostat, hour: float, dawn: float, dusk: float) -> float | None:
    """Set point in force at an hour, °C, ramping between day and night; None when switched off.

    Parameters
    ----------
    thermostat : Thermostat
        The thermostat.
    hour : float
        Hour of the day, 0 to 24.
    dawn : float
        When the day's lamps come on, h.
    dusk : float
        When the day's lamps go off, h.

    Returns
    -------
    float | None
        Set point in force at an hour, °C, ramping between day and night.
    """
    day, night, ramp = thermostat.day_set_point_c, thermostat.night_set_point_c, thermostat.ramp_h
    by_day = dawn <= hour < dusk
    if day is None or night is None or ramp <= 0.0:
        return day if by_day else night
    since = (hour - dawn) % 24.0 if by_day else (hour - dusk) % 24.0
    share = min(since / ramp, 1.0)
    before, now = (night, day) if by_day else (day, night)
    return before + share * (now - before)


@dataclass(slots=True)
class Regulator:
    """A thermostat with what it remembers from one step to the next.

    ``stuck`` is a fault: "on" or "off" whatever the probe reads.
    """

    thermostat: Thermostat
    stuck: str | None = None
    reading_c: float = math.nan
    fraction: float = 0.0
    limited: bool = False
    switchings: int = 0
    _carried: float = field(default=0.5)

    def step(self, probe_c: float, set_point_c: float | None, seconds: float) -> float:
        """Power as a fraction of full for the next step, from the true temperature at the probe.

        Parameters
        ----------
        probe_c : float
            What the probe reads, °C.
        set_point_c : float | None
            Set point, °C.
        seconds : float
            Seconds.

        Returns
        -------
        float
            The fraction, 0–1.
        """
        if math.isnan(self.reading_c):
            self.reading_c = probe_c
        lag = self.thermostat.time_constant_s
        follow = 1.0 if lag <= 0 else 1.0 - math.exp(-seconds / lag)
        self.reading_c += follow * (probe_c - self.reading_c)
        before = self.fraction
        if self.stuck is not None:
            self.fraction = 1.0 if self.stuck == "on" else 0.0
        elif set_point_c is None:
            self.fraction = 0.0
        elif self.thermostat.kind == "on_off":
            self.fraction = self._switched(set_point_c)
        else:
            self.fraction = self._proportioned(set_point_c, seconds)
        self._limit()
        if (before > 0) != (self.fraction > 0):
            self.switchings += 1
        return self.fraction

    def _switched(self, set_point_c: float) -> float:
        half = self.thermostat.differential_k / 2
        if self.reading_c <= set_point_c - half:
            return 1.0
        if self.reading_c >= set_point_c + half:
            return 0.0
        return 1.0 if self.fraction > 0 else 0.0

    def _proportioned(self, set_point_c: float, seconds: float) -> float:
        """Proportional and integral; the integral rests while the power is at an end of its range."""
        off = set_point_c - self.reading_c
        wanted = self._carried + off / (2 * HALF_BAND_K)
        if 0.0 < wanted < 1.0 or (wanted <= 0.0) == (off > 0.0):
            carried = self._carried + off / (2 * HALF_BAND_K) * seconds / RESET_S
            self._carried = min(max(carried, 0.0), 1.0)
        return min(max(wanted, 0.0), 1.0)

    def _limit(self) -> None:
        """The cut-out is a separate device: a stuck thermostat does not stop it."""
        limit = self.thermostat.cut_out_c
        if limit is None:
            return
        if self.reading_c >= limit:
            self.limited = True
        elif self.reading_c < limit - LIMIT_DIFFERENTIAL_K:
            self.limited = False
        if self.limited:
            self.fraction = 0.0
