"""What is set differently in some months: bulbs in fixtures, and thermostats."""

from __future__ import annotations

from dataclasses import dataclass, replace

from noonshade.core.plan import Fixture, Plan, Thermostat


@dataclass(frozen=True, slots=True)
class Swap:
    """A bulb of other watts in a fixture from a month to a month, both included, past December or not."""

    fixture_id: str
    from_month: int
    to_month: int
    power_w: float

    def covers(self, month: int) -> bool:
        """Whether it holds in a month.

        Parameters
        ----------
        month : int
            Month, 1 to 12.

        Returns
        -------
        bool
            True if so.
        """
        return covers(self.from_month, self.to_month, month)


@dataclass(frozen=True, slots=True)
class MonthSetting:
    """What a thermostat is set to from a month to a month, both included; None is off."""

    thermostat_id: str
    from_month: int
    to_month: int
    day_c: float | None
    night_c: float | None

    def covers(self, month: int) -> bool:
        """Whether it holds in a month.

        Parameters
        ----------
        month : int
            Month, 1 to 12.

        Returns
        -------
        bool
            True if so.
        """
        return covers(self.from_month, self.to_month, month)


def covers(from_month: int, to_month: int, month: int) -> bool:
    """Whether a month lies from one to another, both included, past December or not.

    Parameters
    ----------
    from_month, to_month, month : int
        Months, 1 to 12.

    Returns
    -------
    bool
        True if so.
    """
    if from_month <= to_month:
        return from_month <= month <= to_month
    return month >= from_month or month <= to_month


def set_in(
    thermostats: tuple[Thermostat, ...], settings: tuple[MonthSetting, ...], month: int
) -> tuple[Thermostat, ...]:
    """Thermostats as they are set in a month.

    Parameters
    ----------
    thermostats : tuple[Thermostat, ...]
        Those of the plan.
    settings : tuple[MonthSetting, ...]
        What is set differently in which months.
    month : int
        Month, 1 to 12.

    Returns
    -------
    tuple[Thermostat, ...]
        The same, some set differently.
    """
    found = []
    for one in thermostats:
        own = next((s for s in settings if s.thermostat_id == one.id and s.covers(month)), None)
        if own is not None:
            one = replace(one, day_set_point_c=own.day_c, night_set_point_c=own.night_c)
        found.append(one)
    return tuple(found)


def power_in(fixture: Fixture, swaps: tuple[Swap, ...], month: int) -> float:
    """Watts of the bulb that is in a fixture in a month.

    Parameters
    ----------
    fixture : Fixture
        The fixture.
    swaps : tuple[Swap, ...]
        Which bulbs hang there in which months.
    month : int
        Month, 1 to 12.

    Returns
    -------
    float
        The power, W.
    """
    swap = next((s for s in swaps if s.fixture_id == fixture.id and s.covers(month)), None)
    return fixture.power_w if swap is None else swap.power_w


def set_for(plan: Plan, swaps: tuple[Swap, ...], settings: tuple[MonthSetting, ...], month: int) -> Plan:
    """A plan with the bulbs and set points of a month.

    Parameters
    ----------
    plan : Plan
        The plan.
    swaps : tuple[Swap, ...]
        Which bulbs hang there in which months.
    settings : tuple[MonthSetting, ...]
        What is set differently in which months.
    month : int
        Month, 1 to 12.

    Returns
    -------
    Plan
        The same plan where nothing is different.
    """
    if not swaps and not settings:
        return plan
    fixtures = tuple(replace(f, power_w=power_in(f, swaps, month)) for f in plan.fixtures)
    return replace(plan, fixtures=fixtures, thermostats=set_in(plan.thermostats, settings, month))
