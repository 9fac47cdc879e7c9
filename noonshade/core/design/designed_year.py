"""The seasonal schedule of a designed set-up: what its months are set to, as runs of months."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.care.seasonal_settings import CareSetting, MonthSetting
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
    found: list[MonthSetting] = []
    for control in plan.thermostats:
        points = []
        for month in months:
            own = next((t for t in month.thermostats if t.id == control.id), control)
            points.append((own.day_set_point_c, own.night_set_point_c))
        found += _runs(control.id, points, (control.day_set_point_c, control.night_set_point_c))
    return replace(
        usual,
        day_swing_k=0.0,
        night_swing_k=0.0,
        misting_follow=0.0,
        settings=tuple(found),
        care=tuple(_care_of(months)),
    )


def _care_of(months: tuple[DesignedMonth, ...]) -> Iterator[CareSetting]:
    """Care of months in a row that are cared for alike, around the year."""
    cared = [m.care for m in months]
    alike = [None if c is None else replace(c, from_month=1, to_month=1) for c in cared]
    number = len(months)
    for i, one in enumerate(alike):
        if one is None or (alike[i - 1] == one and any(a != one for a in alike)):
            continue
        last = i
        while alike[(last + 1) % number] == one and last - i < number - 1:
            last += 1
        yield replace(one, from_month=i + 1, to_month=last % number + 1)
        if all(a == one for a in alike):
            return


Points = tuple[float | None, float | None]


def _runs(thermostat_id: str, points: list[Points], planned: Points) -> list[MonthSetting]:
    """Months in a row that are set alike, around the year; those as planned are left out."""
    found: list[MonthSetting] = []
    for month, now in enumerate(points, 1):
        if now == planned:
            continue
        last = found[-1] if found else None
        if last is not None and last.to_month == month - 1 and (last.day_c, last.night_c) == now:
            found[-1] = replace(last, to_month=month)
        else:
            found.append(MonthSetting(thermostat_id, month, month, *now))
    if len(found) > 1:
        first, last = found[0], found[-1]
        around = first.from_month == 1 and last.to_month == 12
        if around and (first.day_c, first.night_c) == (last.day_c, last.night_c):
            found = [*found[1:-1], replace(last, to_month=first.to_month)]
    return found
