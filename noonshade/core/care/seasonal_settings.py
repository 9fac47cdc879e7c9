"""What is set differently in some months: bulbs in fixtures, thermostats, sprays, the ground and vents."""

from __future__ import annotations

from dataclasses import dataclass, replace

from noonshade.core.plan import Fixture, Plan, Thermostat


class InMonths:
    """What holds from a month to a month, both included, past December or not."""

    __slots__ = ()
    from_month: int
    to_month: int

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
class Swap(InMonths):
    """A bulb of other watts in a fixture from a month to a month, both included, past December or not."""

    fixture_id: str
    from_month: int
    to_month: int
    power_w: float


@dataclass(frozen=True, slots=True)
class MonthSetting(InMonths):
    """What a thermostat is set to from a month to a month, both included; None is off."""

    thermostat_id: str
    from_month: int
    to_month: int
    day_c: float | None
    night_c: float | None


@dataclass(frozen=True, slots=True)
class CareSetting(InMonths):
    """How an enclosure is sprayed, watered and aired from a month to a month, both included.

    ``misting`` is the share of the plan's litres; ``wetness`` how wet the ground is kept, None as planned;
    ``vents`` the share of the area of the plan's vents that is open, above 1 where they open wider.
    """

    from_month: int
    to_month: int
    misting: float = 1.0
    wetness: float | None = None
    vents: float = 1.0


@dataclass(frozen=True, slots=True)
class ByMonth:
    """All that is set differently in some months."""

    swaps: tuple[Swap, ...] = ()
    settings: tuple[MonthSetting, ...] = ()
    care: tuple[CareSetting, ...] = ()


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


def cared_for(plan: Plan, care: tuple[CareSetting, ...], month: int) -> Plan:
    """A plan sprayed, watered and aired as in a month.

    Parameters
    ----------
    plan : Plan
        The plan.
    care : tuple[CareSetting, ...]
        What is done differently in which months.
    month : int
        Month, 1 to 12.

    Returns
    -------
    Plan
        The same plan where nothing is different.
    """
    own = next((c for c in care if c.covers(month)), None)
    if own is None:
        return plan
    ground, box = plan.substrate, plan.enclosure
    return replace(
        plan,
        mistings=tuple(replace(m, litres=m.litres * own.misting) for m in plan.mistings if own.misting > 0),
        substrate=ground if own.wetness is None else replace(ground, wetness=own.wetness),
        enclosure=box
        if own.vents == 1.0
        else replace(box, vents=tuple(replace(v, area_m2=v.area_m2 * own.vents) for v in box.vents)),
    )


def care_amounts(plan: Plan, care: CareSetting) -> tuple[float | None, float | None]:
    """How much is sprayed and how far vents are open with some care.

    Parameters
    ----------
    plan : Plan
        The plan.
    care : CareSetting
        The care of some months.

    Returns
    -------
    tuple of (float or None, float or None)
        Litres each time, and the area of all vents, m²; None where it is as planned.
    """
    litres = max((m.litres for m in plan.mistings), default=0.0)
    vents = sum(v.area_m2 for v in plan.enclosure.vents)
    return (
        None if care.misting == 1.0 else care.misting * litres,
        None if care.vents == 1.0 else care.vents * vents,
    )


def set_for(plan: Plan, by_month: ByMonth, month: int) -> Plan:
    """A plan as it is in a month.

    Parameters
    ----------
    plan : Plan
        The plan.
    by_month : ByMonth
        What is set differently in which months.
    month : int
        Month, 1 to 12.

    Returns
    -------
    Plan
        The same plan where nothing is different.
    """
    if by_month == ByMonth():
        return plan
    fixtures = tuple(replace(f, power_w=power_in(f, by_month.swaps, month)) for f in plan.fixtures)
    thermostats = set_in(plan.thermostats, by_month.settings, month)
    return cared_for(replace(plan, fixtures=fixtures, thermostats=thermostats), by_month.care, month)
