"""What a plan draws and what it costs to run."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.day import Day
from noonshade.core.plan import Plan


@dataclass(frozen=True, slots=True)
class Load:
    """One lamp or heater: its watts, hours on its timer a day, energy and cost a month.

    ``duty`` is its mean power over full while its timer is on.
    """

    id: str
    label: str
    power_w: float
    on_h: float
    duty: float
    month_kwh: float
    month_cost: float


@dataclass(frozen=True, slots=True)
class Running:
    """All loads together; ``most_w`` is what they draw at most at one time.

    ``regulated`` is False where no day was simulated and everything is taken to run at full power
    while its timer is on: then the figures are the most it can be.
    """

    loads: tuple[Load, ...]
    connected_w: float
    most_w: float
    day_kwh: float
    month_kwh: float
    month_cost: float
    tariff_per_kwh: float
    regulated: bool


def running_cost(plan: Plan, day: Day | None = None) -> Running:
    """Watts, energy and cost of a plan, from its simulated day if there is one.

    Parameters
    ----------
    plan : Plan
        The plan.
    day : Day | None
        The day.

    Returns
    -------
    Running
        Energy and cost of each load and of a month, and the peak power, W.
    """
    used = {f.id: f for f in day.fixtures} if day is not None else {}
    loads = []
    for fixture in plan.fixtures:
        known = used.get(fixture.id)
        duty = 1.0 if known is None else known.duty
        on_h = fixture.hours_a_day(plan.photoperiod_h) if known is None else known.on_h
        kwh = fixture.power_w * duty * on_h * DAYS_PER_MONTH / 1000.0 if known is None else known.month_kwh
        loads.append(
            Load(
                fixture.id,
                fixture.label,
                fixture.power_w,
                on_h,
                duty,
                kwh,
                kwh * plan.room.tariff_per_kwh,
            )
        )
    most = max(
        (sum(f.power_w for f in plan.fixtures if f.on_at(h / 4, plan.dawn, plan.dusk)) for h in range(96)),
        default=0.0,
    )
    month = sum(load.month_kwh for load in loads)
    return Running(
        tuple(loads),
        sum(f.power_w for f in plan.fixtures),
        most,
        month / DAYS_PER_MONTH,
        month,
        month * plan.room.tariff_per_kwh,
        plan.room.tariff_per_kwh,
        day is not None,
    )
