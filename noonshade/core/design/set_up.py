"""A set-up: an arrangement completed with thermostats, months, chances, tests and reasons."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from noonshade.core.care.year import Year
from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.design.aims import cost_of
from noonshade.core.design.brief import Brief
from noonshade.core.design.built import built, offsets_of, rehung_where_better, surer
from noonshade.core.design.designed_year import designed_year
from noonshade.core.design.months import (
    DesignedMonth,
    designed_months,
    fits_but_for_the_room,
)
from noonshade.core.design.other_rooms import has_sliding_vents
from noonshade.core.design.prices import price_to_buy
from noonshade.core.design.ranking import lamps_to_buy, unasked_cost
from noonshade.core.design.search import Found, Search
from noonshade.core.design.what_if import WhatIf, what_if_tests
from noonshade.core.design.why import reasons_for
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.phrase import Phrase
from noonshade.core.plan import Plan
from noonshade.core.uncertainty.chances import with_chances
from noonshade.core.uncertainty.intervals import compute_intervals

Label = Literal["steadiest", "cheapest to run", "cheapest to buy", "another way", "from what you own"]
# What a watt must be worth that is connected: strong lamps cost more, and harm more when they fail.
WATT_COST = 0.003
# A set-up that costs so much more as built than as found is searched once more.
WORSE = 0.3
# Vents opened from this on are as good as wide open.
WIDE_OPEN = 0.85


@dataclass(frozen=True, slots=True)
class SetUp:
    """One way to keep the animal, with thermostats, months and reasons.

    ``plan`` is as it is built, ``evaluation`` of it in the room as it is now; ``months`` how it fares, and
    what is changed with the seasons; ``label`` what it is best at, ``why`` two sentences on how it is
    built, ``what_if`` where it ends if a thermostat sticks or the room is hot;
    ``price`` is of the lamps, heaters and thermostats that are still to be bought.
    """

    label: Label
    plan: Plan
    evaluation: Evaluation
    months: tuple[DesignedMonth, ...]
    cost: float
    watts: float
    month_kwh: float
    why: tuple[Phrase, ...]
    year: Year
    from_owned: bool = False
    what_if: tuple[WhatIf, ...] = ()
    price: float = 0.0
    over_budget: bool = False

    @property
    def month_cost(self) -> float:
        """What a month of it costs, in the keeper's money."""
        return self.month_kwh * self.plan.room.tariff_per_kwh

    @property
    def fits(self) -> bool:
        """Whether every required check is in range now, and nothing else fails that is not the room's."""
        return fits_but_for_the_room(self.evaluation)

    @property
    def fits_all_year(self) -> bool:
        """Whether it is in every month of the room as well."""
        return self.fits and all(m.fits for m in self.months)


def finish(found: Found, brief: Brief) -> SetUp | None:
    """A set-up with thermostats, months, what-if tests and reasons.

    Parameters
    ----------
    found : Found
        Settings of an arrangement.
    brief : Brief
        The brief.

    Returns
    -------
    SetUp or None
        None where it cannot be built or regulated.
    """
    done = built(found)
    if done is None:
        return None
    if not fits_but_for_the_room(done) or cost_of(done) > found.cost + WORSE:
        # Large cells are a little off: once more, with what they were off by.
        again = Search(found.arrangement, None, None, offsets_of(found, done)).run(found, rounds=3)
        other = None if again is None else built(again)
        if other is not None and again is not None and cost_of(other) < cost_of(done):
            found, done = again, other
    found, done = surer(*rehung_where_better(found, done))
    months, plan = designed_months(done, found, brief)
    hot = sum(m.failing for m in months)
    closed = found.values.get("openness", 1.0) < WIDE_OPEN and not has_sliding_vents(found)
    if hot and closed and fits_but_for_the_room(done):
        # With vents as wide as they are built it may stay cooler in summer.
        again = Search(found.arrangement, None, {"openness": 1.0}).run(found, rounds=2)
        other = None if again is None else built(again)
        if again is not None and other is not None and fits_but_for_the_room(other):
            cooler, open_plan = designed_months(other, again, brief)
            if sum(m.failing for m in cooler) < hot:
                found, done, months, plan = again, other, cooler, open_plan
    try:
        evaluation = done if plan == done.plan else evaluate(plan)
        month_kwh = _month_kwh(evaluation)
    except ConvergenceError:
        return None
    watts = sum(f.power_w for f in plan.fixtures)
    price = price_to_buy(plan, brief.owned, brief.given)
    return SetUp(
        "another way",
        plan,
        evaluation,
        months,
        cost_of(evaluation) + unasked_cost(found.arrangement) + WATT_COST * watts,
        watts,
        month_kwh,
        reasons_for(evaluation, found.arrangement),
        designed_year(plan, months),
        bool(brief.owned) and lamps_to_buy(found.arrangement) == 0,
        what_if=what_if_tests(evaluation),
        price=price,
        over_budget=brief.budget is not None and price > brief.budget,
    )


def proved(set_up: SetUp) -> SetUp:
    """A set-up whose checks know how likely they are met.

    Parameters
    ----------
    set_up : SetUp
        Without chances.

    Returns
    -------
    SetUp
        The same, its checks with chances.
    """
    evaluation = set_up.evaluation
    if any(c.chance is not None for c in evaluation.checks):
        return set_up
    known = with_chances(evaluation, compute_intervals(evaluation))
    return replace(set_up, evaluation=known)


def _month_kwh(evaluation: Evaluation) -> float:
    """Energy of a month at steady state: mean watts by day and night while timers have them on."""
    plan = evaluation.plan
    by_day = evaluation.day.power_fraction
    by_night = steady_climate(plan, "night", COARSE).power_fraction
    day_h = plan.photoperiod_h
    watt_hours = 0.0
    for fixture in plan.fixtures:
        day, night = by_day.get(fixture.id, 0.0), by_night.get(fixture.id, 0.0)
        if fixture.timer:
            hours = max(day, night) * fixture.hours_a_day(day_h)
        else:
            hours = day * day_h + night * (24.0 - day_h)
        watt_hours += fixture.power_w * hours
    return watt_hours * DAYS_PER_MONTH / 1000.0
