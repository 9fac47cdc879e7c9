"""The room around an enclosure, by day and season."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from noonshade.core.plan.types import Season

# A room is warmest in the middle of the afternoon and coolest twelve hours later. Estimate.
WARMEST_HOUR = 15.0


def daily_cycle(day_c: float, night_c: float, hour: float) -> float:
    """Temperature at an hour between a highest by day and a lowest by night, °C.

    Parameters
    ----------
    day_c : float
        Highest temperature of the day, °C.
    night_c : float
        Lowest temperature of the night, °C.
    hour : float
        Hour of the day, 0 to 24.

    Returns
    -------
    float
        The temperature, °C.
    """
    swing = math.cos(2.0 * math.pi * (hour - WARMEST_HOUR) / 24.0)
    return 0.5 * (day_c + night_c) + 0.5 * (day_c - night_c) * swing


@dataclass(frozen=True, slots=True)
class RoomClimate:
    """The room in one season: highest by day, lowest by night, humidity as in ``Room``."""

    day_temperature_c: float
    night_temperature_c: float
    relative_humidity: float


@dataclass(frozen=True, slots=True)
class Room:
    """The room around the enclosure. Relative humidity as a fraction at the day temperature.

    ``winter`` and ``summer`` are its extremes over the year, if given; ``tariff_per_kwh`` is what
    electricity costs, in the keeper's money. ``months`` is its climate from January to December, or empty.
    """

    day_temperature_c: float
    night_temperature_c: float
    relative_humidity: float
    winter: RoomClimate | None = None
    summer: RoomClimate | None = None
    tariff_per_kwh: float = 0.30
    months: tuple[RoomClimate, ...] = ()

    def at(self, hour: float) -> float:
        """Air temperature at an hour of the day, °C.

        Parameters
        ----------
        hour : float
            Hour of the day, 0 to 24.

        Returns
        -------
        float
            The temperature, °C.
        """
        return daily_cycle(self.day_temperature_c, self.night_temperature_c, hour)

    def in_season(self, season: Season) -> Room:
        """The room as it is in a season; as it is now where that is not stated.

        Parameters
        ----------
        season : Season
            Which of the climates of the room.

        Returns
        -------
        Room
            The room as it is in a season.
        """
        other = {"now": None, "winter": self.winter, "summer": self.summer}[season]
        if other is None:
            return self
        return self.with_climate(other)

    def with_climate(self, climate: RoomClimate) -> Room:
        """The room with another climate now.

        Parameters
        ----------
        climate : RoomClimate
            The climate of the room.

        Returns
        -------
        Room
            A copy with the other climate.
        """
        return replace(
            self,
            day_temperature_c=climate.day_temperature_c,
            night_temperature_c=climate.night_temperature_c,
            relative_humidity=climate.relative_humidity,
        )
