"""The seasonal schedule of a designed set-up: what its months are set to, as runs of months."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

from noonshade.core.care.seasonal_settings import MonthSetting
from noonshade.core.care.year import Year, default_year
from noonshade.core.design.months import DesignedMonth
from noonshade.core.plan import Plan


def designed_year(plan: Plan, months: tuple[DesignedMonth, ...]) -> Year:
    """The seasonal schedule of a set-up: the usual year, its thermostats set as found for the room's
    months.

    Parameters
    ----------
    plan : Plan
        As built.
    months : tuple[DesignedMonth, ...]
        Its months, none where the room's are not known.

    Returns
    -------
    Year
        Without swings where months are known: they are in the settings.
    """
    usual = default_year(plan)
    if not months:
        return usual
    settings: list[MonthSetting] = []
    for control in plan.thermostats:
        planned = (control.day_set_point_c, control.night_set_point_c)
        points: list[Points | None] = []
        for month in months:
            own = next((t for t in month.thermostats if t.id == control.id), control)
            now = (own.day_set_point_c, own.night_set_point_c)
            points.append(None if now == planned else now)
        settings += [
            MonthSetting(control.id, first, last, *set_to) for first, last, set_to in _runs(points)
        ]
    care = [None if m.care is None else replace(m.care, from_month=1, to_month=1) for m in months]
    return replace(
        usual,
        day_swing_k=0.0,
        night_swing_k=0.0,
        misting_follow=0.0,
        settings=tuple(settings),
        care=tuple(replace(one, from_month=first, to_month=last) for first, last, one in _runs(care)),
    )


Points = tuple[float | None, float | None]
_T = TypeVar("_T")


def _runs(months: list[_T | None]) -> list[tuple[int, int, _T]]:
    """Months in a row that are alike, around the year, as from, to and what they are; None is left out."""
    found: list[tuple[int, int, _T]] = []
    for month, now in enumerate(months, 1):
        if now is None:
            continue
        if found and found[-1][1:] == (month - 1, now):
            found[-1] = (found[-1][0], month, now)
        else:
            found.append((month, month, now))
    if len(found) > 1 and found[0][0] == 1 and found[-1][1] == len(months) and found[0][2] == found[-1][2]:
        found = [*found[1:-1], (found[-1][0], found[0][1], found[0][2])]
    return found
