"""What hangs in an enclosure and governs it: fixtures, thermostats, sprayers, fans, cold packs."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.plan.lamps import Lamp
from noonshade.core.plan.materials import Screen
from noonshade.core.plan.types import (
    AGAINST,
    ControlKind,
    Face,
    LitPeriod,
    Moment,
    Mount,
    Point,
)

# Hours of the day between which something is on, from and to.
Timer = tuple[tuple[float, float], ...]


def _on_at(lit: LitPeriod, timer: Timer, hour: float, dawn: float, dusk: float) -> bool:
    """Whether its own hours, or else its period of the day, have something on at an hour."""
    if timer:
        return any(
            begin <= hour < end if begin <= end else hour >= begin or hour < end for begin, end in timer
        )
    return lit == "always" or (lit == "day") == (dawn <= hour < dusk)


def hours_on_timer(lit: LitPeriod, timer: Timer, photoperiod_h: float) -> float:
    """Hours a day in which something is on, to a quarter of an hour; the day is centred on noon.

    Parameters
    ----------
    lit : LitPeriod
        When the lamp is on.
    timer : Timer
        Hours on and off.
    photoperiod_h : float
        Hours of light a day.

    Returns
    -------
    float
        Hours a day in which something is on, to a quarter of an hour.
    """
    dawn, dusk = 12.0 - photoperiod_h / 2.0, 12.0 + photoperiod_h / 2.0
    return sum(_on_at(lit, timer, q / 4.0, dawn, dusk) for q in range(96)) / 4.0


@dataclass(frozen=True, slots=True)
class Fixture:
    """A lamp as it hangs; the position is its emitter.

    Untilted it aims straight down and a tube lies along x. ``lean_deg`` swings the beam to the right,
    about the lamp's short side (so the right end of a tube comes up), then ``tilt_deg`` to the back,
    about its own axis; ``turn_deg`` turns the whole about the vertical, anticlockwise seen from above.
    ``screen_measured`` is the share of UV the keeper found to pass its screen, 0–1.
    ``mount`` is how it is fixed, or the face a mat lies against, under the floor or behind a wall;
    ``timer`` holds the hours in which it is on, in place of ``lit``; ``guard`` a cage around it that
    keeps the animal off.
    """

    id: str
    label: str
    lamp: Lamp
    power_w: float
    position_m: Point
    lit: LitPeriod
    screen: Screen | None = None
    thermostat_id: str | None = None
    hours: float = 100.0
    turn_deg: float = 0.0
    lean_deg: float = 0.0
    tilt_deg: float = 0.0
    screen_measured: float | None = None
    mount: Mount = "air"
    timer: Timer = ()
    guard: bool = False

    @property
    def against(self) -> Face | None:
        """The face a mat or cable lies against; None for a lamp that shines into the enclosure."""
        return next((face for face in AGAINST if face == self.mount), None)

    def lit_at(self, moment: Moment) -> bool:
        """Whether the timer has the lamp on at this moment (a thermostat may still hold it back).

        With its own hours it is asked at noon, or at midnight.

        Parameters
        ----------
        moment : Moment
            Day or night.

        Returns
        -------
        bool
            True if so.
        """
        if self.timer:
            return self.on_at(12.0 if moment == "day" else 0.0, 6.0, 18.0)
        return self.lit == "always" or self.lit == moment

    def on_at(self, hour: float, dawn: float, dusk: float) -> bool:
        """Whether the timer has it on at an hour of the day, the day lasting from dawn to dusk.

        Parameters
        ----------
        hour : float
            Hour of the day, 0 to 24.
        dawn : float
            When the day's lamps come on, h.
        dusk : float
            When the day's lamps go off, h.

        Returns
        -------
        bool
            True if so.
        """
        return _on_at(self.lit, self.timer, hour, dawn, dusk)

    def hours_a_day(self, photoperiod_h: float) -> float:
        """Hours a day in which its timer has it on.

        Parameters
        ----------
        photoperiod_h : float
            Hours of light a day.

        Returns
        -------
        float
            The hours, 0–24.
        """
        return hours_on_timer(self.lit, self.timer, photoperiod_h)


@dataclass(frozen=True, slots=True)
class Thermostat:
    """A thermostat with its probe. A set point of None means switched off in that period.

    ``time_constant_s`` is how slowly the probe follows; ``ramp_h`` how long the set point takes from
    night to day and back; above ``cut_out_c`` a separate limit cuts the heaters off.
    """

    id: str
    label: str
    kind: ControlKind
    day_set_point_c: float | None
    night_set_point_c: float | None
    differential_k: float
    probe_m: Point
    time_constant_s: float = 60.0
    ramp_h: float = 0.0
    cut_out_c: float | None = None

    def set_point_c(self, moment: Moment) -> float | None:
        """Set point in force, °C, or None when switched off.

        Parameters
        ----------
        moment : Moment
            Day or night.

        Returns
        -------
        float | None
            The set point, °C, or None.
        """
        return self.day_set_point_c if moment == "day" else self.night_set_point_c


@dataclass(frozen=True, slots=True)
class Misting:
    """Water sprayed into the enclosure at some hours of the day, litres each time."""

    hours: tuple[float, ...]
    litres: float


@dataclass(frozen=True, slots=True)
class Fan:
    """A fan that moves room air through the enclosure, by its timer."""

    id: str
    label: str
    flow_m3_h: float
    lit: LitPeriod

    def on_at(self, hour: float, dawn: float, dusk: float) -> bool:
        """Whether it runs at an hour of the day.

        Parameters
        ----------
        hour : float
            Hour of the day, 0 to 24.
        dawn : float
            When the day's lamps come on, h.
        dusk : float
            When the day's lamps go off, h.

        Returns
        -------
        bool
            True if so.
        """
        return self.lit == "always" or (self.lit == "day") == (dawn <= hour < dusk)


@dataclass(frozen=True, slots=True)
class ColdPack:
    """A frozen pack or bottle that takes heat from the air at a place, W, for some hours."""

    id: str
    label: str
    x_m: float
    z_m: float
    power_w: float
    start_hour: float
    hours: float

    def on_at(self, hour: float) -> bool:
        """Whether it still takes heat at an hour of the day.

        Parameters
        ----------
        hour : float
            Hour of the day, 0 to 24.

        Returns
        -------
        bool
            True if so.
        """
        return (hour - self.start_hour) % 24.0 < self.hours
