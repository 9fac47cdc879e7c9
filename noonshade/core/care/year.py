"""An enclosure over the year: day length, set points, misting and rest by week, from its home and the room.

A week is seven days counted from the first of January; the last, the 52nd, has the one or two days that are
left over. What is copied of the home's seasons, and how much, is the keeper's choice; what follows from the
choice is computed here and checked with the full model.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import lru_cache
from typing import Literal

import numpy as np

from noonshade.core.care.seasonal_settings import (
    CareSetting,
    MonthSetting,
    Swap,
    cared_for,
    power_in,
    set_in,
)
from noonshade.core.light.sun import day_length_h
from noonshade.core.needs.species import HomeClimate
from noonshade.core.plan import Fixture, Plan, RoomClimate

WEEKS = 52
MONTHS = 12
Phase = Literal["usual", "winding_down", "brumation", "winding_up"]

# Any year that is no leap year; the sun differs by minutes between years.
_YEAR = 2025
# Shortest day on the way into a dark rest, h. Estimate.
LEAST_LIGHT_H = 6.0
# How far set points go down by the end of winding down, K, before the heat is off. Estimate.
WINDING_K = 6.0
# Of the home's swing, how much set points follow by default, and at most, K. Estimates.
DAY_SHARE, DAY_MOST_K = 0.2, 4.0
NIGHT_SHARE, NIGHT_MOST_K = 0.3, 6.0
# Rain of a month against the mean counts between these for misting. Estimates.
DRIEST, WETTEST = 0.25, 2.0
# Kinds of lamp that are there for heat alone, and are off in the rest.
_WARMERS = ("mat", "heater")


@dataclass(frozen=True, slots=True)
class Brumation:
    """A cool rest of some weeks from a week on, wound down and up over some weeks before and after.

    ``light_h`` is how long lamps give light in it; with 0 all lamps are off.
    """

    begins_week: int
    weeks: int
    ramp_weeks: int
    low_c: float
    high_c: float
    light_h: float = 0.0


@dataclass(frozen=True, slots=True)
class WeekChange:
    """What a keeper set by hand for one week; None as computed."""

    week: int
    photoperiod_h: float | None = None
    day_shift_k: float | None = None
    night_shift_k: float | None = None
    misting: float | None = None


@dataclass(frozen=True, slots=True)
class Year:
    """How an enclosure goes through the year.

    ``days_follow`` is how much of the home's day length is copied, 0 to 1; ``day_swing_k`` and
    ``night_swing_k`` how much lower set points are in the home's coolest week; ``misting_follow`` how much
    misting follows the rain; with ``shifted`` the home's seasons come half a year later. ``settings``
    are what thermostats are set to in some months in place of the plan's set points, ``care`` how it is
    sprayed, watered and aired in some.
    """

    days_follow: float = 1.0
    day_swing_k: float = 0.0
    night_swing_k: float = 0.0
    misting_follow: float = 0.0
    shifted: bool = False
    brumation: Brumation | None = None
    swaps: tuple[Swap, ...] = ()
    settings: tuple[MonthSetting, ...] = ()
    care: tuple[CareSetting, ...] = ()
    changes: tuple[WeekChange, ...] = field(default_factory=tuple)


@dataclass(frozen=True, slots=True)
class Week:
    """One week: what is set in it, and the home and the room as they are then.

    Shifts are added to the plan's set points, K; ``misting`` is the share of its litres.
    """

    number: int
    phase: Phase
    photoperiod_h: float
    day_shift_k: float
    night_shift_k: float
    misting: float
    changed: bool
    home_low_c: float
    home_high_c: float
    home_rain_mm: float
    home_day_h: float
    room_low_c: float | None
    room_high_c: float | None

    @property
    def heated(self) -> bool:
        """Whether lamps and heaters for heat are on at all."""
        return self.phase != "brumation"


def first_day(week: int, year: int) -> date:
    """The first day of a week of a year.

    Parameters
    ----------
    week : int
        Week of the year, 1 to 52.
    year : int
        The year.

    Returns
    -------
    date
        1 January for week 1, and every seventh day on.
    """
    return date(year, 1, 1) + timedelta(days=7 * (week - 1))


def week_of(day: date) -> int:
    """The week a day is in, 1 to 52.

    Parameters
    ----------
    day : date
        The day.

    Returns
    -------
    int
        The number of the week; the last of a year has eight or nine days.
    """
    return min(WEEKS, (day.timetuple().tm_yday - 1) // 7 + 1)


def month_of(week: int) -> int:
    """The month the middle of a week is in, 1 to 12.

    Parameters
    ----------
    week : int
        Week of the year, 1 to 52.

    Returns
    -------
    int
        The number of the month.
    """
    return (first_day(week, _YEAR) + timedelta(days=3)).month


def middle_week(month: int) -> int:
    """The week the middle of a month is in.

    Parameters
    ----------
    month : int
        Month, 1 to 12.

    Returns
    -------
    int
        The number of the week, 1 to 52.
    """
    return week_of(date(_YEAR, month, 15))


def by_week(months: tuple[float, ...]) -> tuple[float, ...]:
    """Twelve values of months as 52 of weeks, straight from the middle of each month to the next.

    Parameters
    ----------
    months : tuple[float, ...]
        One figure for each month.

    Returns
    -------
    tuple[float, ...]
        52 values in the unit of the given ones.
    """
    middles = [date(_YEAR, m, 15).timetuple().tm_yday for m in range(1, MONTHS + 1)]
    at = [7 * (w - 1) + 4 for w in range(1, WEEKS + 1)]
    days = [middles[-1] - 365, *middles, middles[0] + 365]
    values = [months[-1], *months, months[0]]
    return tuple(float(v) for v in np.interp(at, days, values))


def _turned(values: tuple[float, ...], shifted: bool) -> tuple[float, ...]:
    half = len(values) // 2
    return (*values[half:], *values[:half]) if shifted else values


@lru_cache(maxsize=256)
def day_lengths(latitude_deg: float) -> tuple[float, ...]:
    """Day length at a latitude in the middle of each week, h.

    Parameters
    ----------
    latitude_deg : float
        Latitude, degrees, north positive.

    Returns
    -------
    tuple[float, ...]
        52 day lengths, h.
    """
    days = (first_day(w, _YEAR) + timedelta(days=3) for w in range(1, WEEKS + 1))
    return tuple(day_length_h(latitude_deg, day) for day in days)


def _below_top(values: tuple[float, ...]) -> tuple[float, ...]:
    """Where each value lies between the highest (0) and the lowest (−1)."""
    low, high = min(values), max(values)
    return tuple((v - high) / (high - low) if high - low >= 1.0 else 0.0 for v in values)


def weeks_of(plan: Plan, year: Year) -> tuple[Week, ...]:
    """All 52 weeks of a plan by its year.

    Parameters
    ----------
    plan : Plan
        The plan.
    year : Year
        The year.

    Returns
    -------
    tuple[Week, ...]
        52 weeks in order.
    """
    home = plan.animal.species.home
    lengths = _turned(day_lengths(home.latitude_deg), year.shifted)
    lows = _turned(by_week(home.minimum_c), year.shifted)
    highs = _turned(by_week(home.maximum_c), year.shifted)
    rain = _turned(by_week(home.rain_mm), year.shifted)
    mean_rain = float(np.mean(rain))
    day_course, night_course = _below_top(highs), _below_top(lows)
    rooms = _rooms(plan)
    changes = {c.week: c for c in year.changes}
    found = []
    for i in range(WEEKS):
        number = i + 1
        phase, wound = phase_of(year.brumation, number)
        wet = min(max(rain[i] / mean_rain, DRIEST), WETTEST) if mean_rain > 0 else 1.0
        length = plan.photoperiod_h + year.days_follow * (lengths[i] - plan.photoperiod_h)
        change = changes.get(number, WeekChange(number))
        if phase == "brumation" and year.brumation is not None:
            length = year.brumation.light_h
        elif year.brumation is not None:
            # Days shorten to the rest's, or to the least that separates day from night.
            length += wound * (min(length, max(year.brumation.light_h, LEAST_LIGHT_H)) - length)
        found.append(
            Week(
                number,
                phase,
                _or(change.photoperiod_h, length),
                _or(change.day_shift_k, year.day_swing_k * day_course[i] - wound * WINDING_K),
                _or(change.night_shift_k, year.night_swing_k * night_course[i] - wound * WINDING_K),
                _or(change.misting, 1.0 + year.misting_follow * (wet - 1.0)),
                number in changes,
                lows[i],
                highs[i],
                rain[i],
                lengths[i],
                None if rooms is None else rooms[0][i],
                None if rooms is None else rooms[1][i],
            )
        )
    return tuple(found)


def _or(given: float | None, otherwise: float) -> float:
    return otherwise if given is None else given


def _rooms(plan: Plan) -> tuple[tuple[float, ...], tuple[float, ...]] | None:
    months = plan.room.months
    if len(months) != MONTHS:
        return None
    return (
        by_week(tuple(m.night_temperature_c for m in months)),
        by_week(tuple(m.day_temperature_c for m in months)),
    )


def phase_of(rest: Brumation | None, week: int) -> tuple[Phase, float]:
    """The phase of a week, and how far down it is wound, 0 to 1.

    Parameters
    ----------
    rest : Brumation | None
        The brumation, None for none.
    week : int
        Week of the year, 1 to 52.

    Returns
    -------
    tuple[Phase, float]
        ``usual``, ``winding_down``, ``brumation`` or ``winding_up``, and the share.
    """
    if rest is None:
        return "usual", 0.0
    since = (week - rest.begins_week) % WEEKS
    if since < rest.weeks:
        return "brumation", 1.0
    before, after = WEEKS - since, since - rest.weeks + 1
    steps = rest.ramp_weeks + 1
    if before <= rest.ramp_weeks:
        return "winding_down", 1.0 - before / steps
    if after <= rest.ramp_weeks:
        return "winding_up", 1.0 - after / steps
    return "usual", 0.0


def plan_at(plan: Plan, year: Year, week: Week, climate: RoomClimate | None = None) -> Plan:
    """The plan as it is set in a week, in a climate of the room if one is given.

    Parameters
    ----------
    plan : Plan
        The plan.
    year : Year
        The year.
    week : Week
        Week of the year, 1 to 52.
    climate : RoomClimate | None
        The climate.

    Returns
    -------
    Plan
        The plan.
    """
    month = month_of(week.number)
    plan = cared_for(plan, year.care, month)
    thermostats = tuple(
        replace(
            t,
            day_set_point_c=_shifted(t.day_set_point_c, week.day_shift_k) if week.heated else None,
            night_set_point_c=_shifted(t.night_set_point_c, week.night_shift_k) if week.heated else None,
        )
        for t in set_in(plan.thermostats, year.settings, month)
    )
    fixtures = tuple(
        replace(f, power_w=power_in(f, year.swaps, month))
        for f in plan.fixtures
        if week.heated or (week.photoperiod_h > 0 and not warms(f))
    )
    mistings = tuple(replace(m, litres=m.litres * week.misting) for m in plan.mistings if week.misting > 0)
    room = plan.room if climate is None else plan.room.with_climate(climate)
    return replace(
        plan,
        room=room,
        photoperiod_h=week.photoperiod_h,
        thermostats=thermostats,
        fixtures=fixtures,
        mistings=mistings,
    )


def warms(fixture: Fixture) -> bool:
    """Whether a lamp is there for its heat, so that it is off in the rest.

    Parameters
    ----------
    fixture : Fixture
        The fixture.

    Returns
    -------
    bool
        True if so.
    """
    return fixture.lamp.is_hot or fixture.lamp.kind in _WARMERS


def _shifted(point: float | None, shift: float) -> float | None:
    # A dial goes no lower than this.
    return None if point is None else max(0.0, point + shift)


def default_year(plan: Plan, room_latitude_deg: float = 52.0) -> Year:
    """The usual year: the home's days whole, its warmth in part, and its winter rest if any.

    The seasons of a home on the other half of the earth are turned to those of the room, so that its summer
    is not fought against.

    Parameters
    ----------
    plan : Plan
        The plan.
    room_latitude_deg : float
        Latitude of the room, degrees, north positive.

    Returns
    -------
    Year
        The usual year.
    """
    home = plan.animal.species.home
    shifted = home.latitude_deg * room_latitude_deg < 0
    swing = max(home.maximum_c) - min(home.maximum_c)
    night_swing = max(home.minimum_c) - min(home.minimum_c)
    return Year(
        1.0,
        round(min(DAY_MOST_K, DAY_SHARE * swing), 1),
        round(min(NIGHT_MOST_K, NIGHT_SHARE * night_swing), 1),
        0.5 if plan.mistings else 0.0,
        shifted,
        _usual_rest(plan, shifted),
    )


def _usual_rest(plan: Plan, shifted: bool) -> Brumation | None:
    """The winter rest of an adult, in the weeks in which the room is coolest if those are known."""
    usual = plan.animal.species.brumation
    if usual is None or plan.animal.stage != "adult":
        return None
    weeks = max(1, round(usual.weeks))
    rooms = _rooms(plan)
    coolness = (
        rooms[0] if rooms is not None else _turned(by_week(_means(plan.animal.species.home)), shifted)
    )
    sums = [sum(coolness[(begin + k) % WEEKS] for k in range(weeks)) for begin in range(WEEKS)]
    return Brumation(int(np.argmin(sums)) + 1, weeks, 2, usual.low_c, usual.high_c)


def _means(home: HomeClimate) -> tuple[float, ...]:
    return tuple((a + b) / 2 for a, b in zip(home.minimum_c, home.maximum_c, strict=True))


# -- when to set what ------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class SettingChange:
    """What is set on timers, thermostats and the mister from a week on, rounded as dials are.

    Hours are those of the clock without any shift for summer; set points of None are off. ``powers`` are
    watts by fixture where a bulb is changed over the year, ``wetness`` how wet the ground is kept and
    ``vents_m2`` what is open of all vents where that changes.
    """

    week: int
    phase: Phase
    on_h: float
    off_h: float
    set_points: tuple[tuple[str, float | None, float | None], ...]
    misting_litres: float
    powers: tuple[tuple[str, float], ...]
    wetness: float | None = None
    vents_m2: float | None = None


def setting_changes(plan: Plan, year: Year) -> tuple[SettingChange, ...]:
    """What is set when: a new setting for each week in which a setting changes.

    Parameters
    ----------
    plan : Plan
        The plan.
    year : Year
        The year.

    Returns
    -------
    tuple[SettingChange, ...]
        What is set when.
    """
    found: list[SettingChange] = []
    for week in weeks_of(plan, year):
        setting = _setting(plan, year, week)
        if not found or replace(setting, week=found[-1].week) != found[-1]:
            found.append(setting)
    return tuple(found)


def _setting(plan: Plan, year: Year, week: Week) -> SettingChange:
    there = plan_at(plan, year, week)
    month = month_of(week.number)
    # Timers are set by the quarter of an hour, dials by the half degree.
    half_day = round(2.0 * week.photoperiod_h) / 4.0
    return SettingChange(
        week.number,
        week.phase,
        12.0 - half_day,
        12.0 + half_day,
        tuple((t.label, _dial(t.day_set_point_c), _dial(t.night_set_point_c)) for t in there.thermostats),
        round(sum(m.litres * len(m.hours) for m in there.mistings), 2),
        tuple(
            (f.label, power_in(f, year.swaps, month))
            for f in plan.fixtures
            if any(s.fixture_id == f.id for s in year.swaps)
        ),
        there.substrate.wetness if any(c.wetness is not None for c in year.care) else None,
        round(sum(v.area_m2 for v in there.enclosure.vents), 5)
        if any(c.vents != 1.0 for c in year.care)
        else None,
    )


def _dial(point: float | None) -> float | None:
    return None if point is None else round(2.0 * point) / 2.0
