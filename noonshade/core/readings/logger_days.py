"""What a logger recorded, day by day, and what of it can be compared with the model."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, tzinfo
from statistics import median
from typing import Protocol

# Hours of the day in which an enclosure is warm: the model's steady state by day. Estimate.
WARM_FROM_H, WARM_TO_H = 11.0, 16.0
# A day with less than this share of its rows is not whole.
WHOLE_SHARE = 0.9


class Row(Protocol):
    """A time with an offset, °C, and humidity as a share; None where the logger has no such sensor."""

    @property
    def at(self) -> datetime:
        """When, with an offset."""

    @property
    def temperature_c(self) -> float | None:
        """Temperature, °C."""

    @property
    def relative_humidity(self) -> float | None:
        """Relative humidity, 0 to 1."""


@dataclass(frozen=True, slots=True)
class LoggedDay:
    """One day of a logger in its own time zone.

    ``warm_c`` and ``warm_humidity`` are medians of the warm hours; None where nothing was recorded.
    ``whole`` says whether hardly a row is missing.
    """

    day: date
    rows: int
    whole: bool
    lowest_c: float | None
    highest_c: float | None
    warm_c: float | None
    warm_humidity: float | None
    lowest_humidity: float | None
    highest_humidity: float | None


def days_of(rows: Sequence[Row], zone: tzinfo, step_s: float | None = None) -> tuple[LoggedDay, ...]:
    """Days of rows in order, earliest first.

    ``step_s`` is how far apart rows usually are; without it days are whole if they hold as many rows as
    the fullest one.

    Parameters
    ----------
    rows : Sequence[Row]
        Rows of a logger.
    zone : tzinfo
        Time zone.
    step_s : float | None
        Step, s; None for the usual one.

    Returns
    -------
    tuple[LoggedDay, ...]
        The days, earliest first, each with its extremes.
    """
    by_day: dict[date, list[Row]] = defaultdict(list)
    for row in rows:
        by_day[row.at.astimezone(zone).date()].append(row)
    if step_s is None:
        fullest = max((len(r) for r in by_day.values()), default=0)
    else:
        fullest = round(86_400.0 / step_s)
    return tuple(_day(day, mine, zone, fullest) for day, mine in sorted(by_day.items()))


def _day(day: date, rows: list[Row], zone: tzinfo, fullest: int) -> LoggedDay:
    heat = [r.temperature_c for r in rows if r.temperature_c is not None]
    damp = [r.relative_humidity for r in rows if r.relative_humidity is not None]
    warm = [r for r in rows if WARM_FROM_H <= _hour(r.at.astimezone(zone)) < WARM_TO_H]
    warm_heat = [r.temperature_c for r in warm if r.temperature_c is not None]
    warm_damp = [r.relative_humidity for r in warm if r.relative_humidity is not None]
    return LoggedDay(
        day=day,
        rows=len(rows),
        whole=len(rows) >= WHOLE_SHARE * fullest,
        lowest_c=min(heat, default=None),
        highest_c=max(heat, default=None),
        warm_c=median(warm_heat) if warm_heat else None,
        warm_humidity=median(warm_damp) if warm_damp else None,
        lowest_humidity=min(damp, default=None),
        highest_humidity=max(damp, default=None),
    )


def _hour(moment: datetime) -> float:
    return moment.hour + moment.minute / 60.0
