"""From an animal and a room to set-ups worth building, each with its proof."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal, Protocol, TypeVar

from noonshade.core.care.year import Year
from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.design.aims import NOT_OURS, cost_of, failures_of
from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.brief import Brief
from noonshade.core.design.conflicts import Conflict, find_conflicts
from noonshade.core.design.given import given_arrangements, given_site, kind_of
from noonshade.core.design.heaters import Site
from noonshade.core.design.months import (
    DesignedMonth,
    coldest_room,
    designed_months,
    designed_year,
    fits_but_for_the_room,
    search_in,
)
from noonshade.core.design.options import arrangements_for, sites_for
from noonshade.core.design.regulation import regulate
from noonshade.core.design.search import Found, Search, computed
from noonshade.core.design.shells import Stock
from noonshade.core.design.what_if import WhatIf, what_if_tests
from noonshade.core.design.why import reasons_for
from noonshade.core.errors import ConvergenceError, DesignError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.phrase import Phrase
from noonshade.core.plan import Plan, Room
from noonshade.core.plan_errors import plan_errors
from noonshade.core.uncertainty.chances import with_chances
from noonshade.core.uncertainty.intervals import compute_intervals

# How many arrangements of each site are searched first, and of how many sites the rest.
FIRST, PROMISING = 2, 2
# Evaluations of the search at most, how many good arrangements are enough, and how many candidates that is
# about, for showing how far it is.
MOST_EVALUATED, QUICK_EVALUATED = 160, 60
GOOD, GOOD_ENOUGH = 4, 1.3
EXPECTED = 25_000
# Of a room with months, arrangements that are tried in the coldest, with how many rounds, and what that may
# cost at most.
LEADING, COLD_ROUNDS, MOST_COLD_COST = 6, 2, 15.0
# Set-ups that are completed, and shown.
FINALISTS, SHOWN = 3, 3
# What each lamp or heater must be worth, in the units of a cost.
PART_COST = 0.06
# What a watt must be worth that is connected: strong lamps cost more, and harm more when they fail.
WATT_COST = 0.003
# What a step away from what is usual must be worth.
UNUSUAL_COST = 0.06
# What each must be worth that the keeper would have to buy, where some lie ready.
BUY_COST = 0.35
# What warmth without light must be worth to an animal that basks in bright patches. Estimate.
DARK_COST = 0.6
# What a heater must be worth to an animal that is offered heat and needs none. Estimate.
NEEDLESS_COST = 0.4
# Vents opened from this on are as good as wide open.
WIDE_OPEN = 0.85
# A set-up counts as cheaper to run below this share of another's energy.
CHEAPER = 0.8

Label = Literal["steadiest", "cheapest to run", "another way", "from what you own"]
_A = TypeVar("_A")
_B = TypeVar("_B")


class Mapper(Protocol):
    """Computes as ``map`` does, in the same order, perhaps several at a time."""

    def __call__(self, function: Callable[[_A], _B], items: Iterable[_A], /) -> Iterator[_B]:
        """Results of a function of each item, in their order."""


@dataclass(frozen=True, slots=True)
class SetUp:
    """One way to keep the animal, with thermostats, months and reasons.

    ``plan`` is as it is built, ``evaluation`` of it in the room as it is now; ``months`` how it fares, and
    what is changed with the seasons; ``label`` what it is best at, ``why`` two sentences on how it is
    built, ``what_if`` where it ends if a thermostat sticks or the room is hot.
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


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a design is: candidates screened, of about how many, the best plan so far, what it misses."""

    screened: int
    expected: int
    best: Plan | None
    failing: int | None


@dataclass(frozen=True, slots=True)
class Design:
    """Set-ups, the best first, and what prevents more where none fits all year.

    ``stopped`` is whether it was ended before its time.
    """

    set_ups: tuple[SetUp, ...]
    conflicts: tuple[Conflict, ...]
    screened: int
    evaluated: int
    stopped: bool = False


def run_search(arrangement: Arrangement) -> Found | None:
    """The best settings of an arrangement.

    Parameters
    ----------
    arrangement : Arrangement
        The arrangement.

    Returns
    -------
    Found or None
        None where nothing of it can be computed.
    """
    return Search(arrangement).run()


def design(
    brief: Brief,
    stock: Stock,
    mapper: Mapper = map,
    report: Callable[[Progress], bool] | None = None,
    quick: bool = False,
) -> Design:
    """Set-ups for a brief.

    Parameters
    ----------
    brief : Brief
        The animal, the room and the keeper's wishes.
    stock : Stock
        What can be used.
    mapper : callable
        As ``map``: may compute several arrangements at a time.
    report : callable or None
        Called with the progress; what it returns is whether to go on.
    quick : bool
        Only the best set-up, from a shorter search, without chances.

    Returns
    -------
    Design
        Up to three set-ups that really differ, the steadiest first; none of them a danger.

    Raises
    ------
    PlanError
        If the enclosure cannot be furnished, naming what does not fit.
    DesignError
        If nothing at all can be computed.
    """
    work = _Work(report, QUICK_EVALUATED if quick else MOST_EVALUATED)
    explored = []
    sites = list(sites_for(brief, stock)) if brief.given is None else [given_site(brief, stock)]
    for one in mapper(explore, sites):
        explored.append(one)
        if not work.add(one.found):
            break
    # What is left of the most promising sites.
    explored.sort(key=lambda one: min(map(_rank, one.found), default=math.inf))
    rest = [a for one in explored[:PROMISING] for a in one.left]
    if not work.stopped and not work.is_enough:
        for found_one in mapper(run_search, rest):
            if not work.add([] if found_one is None else [found_one]) or work.is_enough:
                break
    found, screened, evaluated, stopped = work.found, work.screened, work.evaluated, work.stopped
    if not found:
        raise DesignError("no set-up could be computed for this enclosure")
    leading = sorted(found, key=_rank)
    if brief.room.months and not stopped:
        leading = _through_the_cold(leading, brief, mapper)
    finalists = _finalists(leading, 1 if stopped or quick else FINALISTS)
    finished = [one for one in mapper(partial(finish, brief=brief), finalists) if one is not None]
    set_ups = _different(finished)
    ranked = sorted(set_ups if quick else mapper(proved, set_ups), key=_order)
    # What is a danger or too hot to lie on is not proposed, but for what the keeper wants left alone.
    known = _dangers_outside(brief)
    chosen = _chosen([one for one in ranked if _unfit(one.evaluation) <= known])
    conflicts: tuple[Conflict, ...] = ()
    if not (chosen and chosen[0].fits_all_year):
        conflicts = find_conflicts(brief, ranked, [f.evaluation for f in found])
    return Design(chosen, conflicts, screened, evaluated, stopped)


@dataclass(frozen=True, slots=True)
class Explored:
    """A site with its first arrangements searched, and those that are left."""

    found: tuple[Found, ...]
    left: tuple[Arrangement, ...]


def explore(site: Site) -> Explored:
    """Search the first arrangements of a site.

    Parameters
    ----------
    site : Site
        The site.

    Returns
    -------
    Explored
        What was found, and what is left to look at.
    """
    given = site.brief.given is not None
    arrangements = list(given_arrangements(site) if given else arrangements_for(site))
    first = [one for one in map(run_search, arrangements[:FIRST]) if one is not None]
    return Explored(tuple(first), tuple(arrangements[FIRST:]))


class _Work:
    """What a design has found so far, reported to who asked for it."""

    def __init__(self, report: Callable[[Progress], bool] | None, most: int) -> None:
        self.report, self.most = report, most
        self.found: list[Found] = []
        self.screened = self.evaluated = 0
        self.stopped = False

    @property
    def is_enough(self) -> bool:
        """Whether more would hardly make it better."""
        good = sum(f.cost < GOOD_ENOUGH for f in self.found)
        return self.evaluated >= self.most or good >= GOOD

    def add(self, found: Iterable[Found]) -> bool:
        """Take in what was found, and tell; whether to go on."""
        for one in found:
            self.found.append(one)
            self.screened += one.screened
            self.evaluated += one.evaluated
        best = min(self.found, key=_rank, default=None)
        plan = None if best is None else best.evaluation.plan
        failing = None if best is None else len(failures_of(best.evaluation, NOT_OURS))
        expected = max(EXPECTED, self.screened)
        if self.report is not None and not self.report(Progress(self.screened, expected, plan, failing)):
            self.stopped = True
        return not self.stopped


def _rank(found: Found) -> float:
    return (
        found.cost
        + UNUSUAL_COST * found.arrangement.unusual
        + PART_COST * found.arrangement.parts
        + BUY_COST * _to_buy(found.arrangement)
        + _unasked_cost(found.arrangement)
    )


def _unasked_cost(arrangement: Arrangement) -> float:
    """What it costs to warm an animal as it does not want to be, or one that needs no warming."""
    heaters = sum(one is not None for one in (arrangement.basking, arrangement.air))
    needless = arrangement.site.animal.species.heat != "needed"
    return NEEDLESS_COST * heaters * needless + _dark_cost(arrangement)


def _dark_cost(arrangement: Arrangement) -> float:
    """What it costs an animal that seeks light and warmth together to be warmed without light."""
    species, basking = arrangement.site.animal.species, arrangement.basking
    seeks = species.active == "day" and species.uv_school == "sunbeam"
    return DARK_COST if seeks and basking is not None and not basking.lamp.gives_light else 0.0


def _to_buy(arrangement: Arrangement) -> int:
    """How many lamps and heaters do not lie ready, where the keeper has said what does."""
    owned = dict(arrangement.site.brief.owned)
    if not owned:
        return 0
    missing = 0
    for lamp_id in lamps_of(arrangement):
        if owned.get(lamp_id, 0) > 0:
            owned[lamp_id] -= 1
        else:
            missing += 1
    return missing


def lamps_of(arrangement: Arrangement) -> list[str]:
    """Ids of all lamps and heaters of an arrangement, each as often as it hangs there.

    Parameters
    ----------
    arrangement : Arrangement
        The arrangement.

    Returns
    -------
    list[str]
        Ids of the catalogue.
    """
    found = [f.lamp.id for f in arrangement.lights]
    for choice in (arrangement.basking, arrangement.air):
        found += [] if choice is None else [choice.lamp.id] * len(choice.positions)
    return found


def _through_the_cold(ranked: list[Found], brief: Brief, mapper: Mapper) -> list[Found]:
    """The best arrangements in an order that knows what they come to in the coldest month."""
    leading = ranked[:LEADING]
    costs = list(mapper(partial(cold_cost, room=coldest_room(brief.room)), leading))
    order = sorted(zip(leading, costs, strict=True), key=lambda pair: _rank(pair[0]) + pair[1])
    return [*(found for found, _ in order), *ranked[LEADING:]]


def cold_cost(found: Found, room: Room) -> float:
    """What an arrangement costs at its best in another room.

    Parameters
    ----------
    found : Found
        Its settings now.
    room : Room
        The room in its coldest month.

    Returns
    -------
    float
        In the units of a cost, at most ``MOST_COLD_COST``.
    """
    one = search_in(found, room, COLD_ROUNDS)
    return MOST_COLD_COST if one is None else min(one.cost, MOST_COLD_COST)


def _different(set_ups: list[SetUp]) -> list[SetUp]:
    """Set-ups of other lamps, heaters or walls than those before them."""
    found: list[SetUp] = []
    seen: list[object] = []
    for one in set_ups:
        lamps = sorted((f.lamp.id, f.mount) for f in one.plan.fixtures)
        built = (lamps, kind_of(one.plan.enclosure))
        if built not in seen:
            seen.append(built)
            found.append(one)
    return found


def _finalists(ranked: list[Found], most: int) -> list[Found]:
    """The best of each kind."""
    found: list[Found] = []
    seen: list[tuple[object, ...]] = []
    for one in ranked:
        key = _kind_of(one.arrangement)
        if key not in seen and len(found) < most:
            seen.append(key)
            found.append(one)
    return found


def _kind_of(arrangement: Arrangement) -> tuple[object, ...]:
    """What makes a set-up really different: what it is built of, and what warms it from where."""
    basking = arrangement.basking
    warmed = None if basking is None else (basking.lamp.kind, basking.mount in ("floor", "screwed"))
    # Boards of wood or of PVC make no difference worth choosing between.
    walls = "closed" if arrangement.site.closed else arrangement.site.kind
    return walls, warmed, arrangement.air is None


def finish(found: Found, brief: Brief) -> SetUp | None:
    """A set-up with thermostats, months and reasons.

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
    done = _built(found)
    if done is None:
        return None
    if not fits_but_for_the_room(done[1]):
        # Large cells are a little off: once more, with what they were off by.
        coarse = {c.id: c.value for c in found.evaluation.checks if c.value is not None}
        offsets = {c.id: c.value - coarse[c.id] for c in done[1].checks if c.value and c.id in coarse}
        again = Search(found.arrangement, None, None, offsets).run(found.values, rounds=3)
        other = None if again is None else _built(again)
        if other is not None and again is not None and cost_of(other[1]) < cost_of(done[1]):
            found, done = again, other
    months, plan = designed_months(done[0], found, brief)
    hot = sum(m.failing for m in months)
    if hot and found.values.get("openness", 1.0) < WIDE_OPEN:
        # With vents as wide as they are built it may stay cooler in summer.
        again = Search(found.arrangement, None, {"openness": 1.0}).run(found.values, rounds=2)
        other = None if again is None else _built(again)
        as_well = other is not None and (
            fits_but_for_the_room(other[1]) or not fits_but_for_the_room(done[1])
        )
        if again is not None and other is not None and as_well:
            cooler, built = designed_months(other[0], again, brief)
            if sum(m.failing for m in cooler) < hot:
                found, done, months, plan = again, other, cooler, built
    try:
        evaluation = done[1] if plan == done[0] else evaluate(plan)
        month_kwh = _month_kwh(evaluation)
    except ConvergenceError:
        return None
    watts = sum(f.power_w for f in plan.fixtures)
    return SetUp(
        "another way",
        plan,
        evaluation,
        months,
        cost_of(evaluation) + _unasked_cost(found.arrangement) + WATT_COST * watts,
        watts,
        month_kwh,
        reasons_for(evaluation, found.arrangement),
        designed_year(plan, months),
        bool(brief.owned) and _to_buy(found.arrangement) == 0,
    )


def _built(found: Found) -> tuple[Plan, Evaluation] | None:
    """With thermostats, evaluated in full; None where that cannot be."""
    best: tuple[float, Plan] | None = None
    for probe in range(3):
        plan = regulate(found.arrangement, found.values, probe=probe)
        if plan is None or plan_errors(plan):
            continue
        after = computed(plan, near=found.evaluation)
        if after is None:
            continue
        cost = cost_of(after)
        if best is None or cost < best[0] - 0.05:
            best = (cost, plan)
        if cost < found.cost + 0.3:
            break
    if best is None:
        return None
    try:
        return best[1], evaluate(best[1])
    except ConvergenceError:
        return None


def proved(set_up: SetUp) -> SetUp:
    """A set-up whose checks know how likely they are met, with its what-if tests.

    Parameters
    ----------
    set_up : SetUp
        Without chances.

    Returns
    -------
    SetUp
        The same, its checks with chances, tested.
    """
    evaluation = set_up.evaluation
    known = with_chances(evaluation, compute_intervals(evaluation))
    return replace(set_up, evaluation=known, what_if=what_if_tests(evaluation))


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


def _dangers(evaluation: Evaluation) -> set[str]:
    return {one.id for one in failures_of(evaluation) if one.severity == "danger"}


def _unfit(evaluation: Evaluation) -> set[str]:
    """Dangers, and surfaces above their ceiling."""
    hot = {
        c.id for c in evaluation.checks if c.need.quantity == "surface_temperature" and c.status == "high"
    }
    return _dangers(evaluation) | hot


def _dangers_outside(brief: Brief) -> set[str]:
    """Dangers a given plan has already, where only its heating or only its light is chosen anew."""
    if brief.given is None or brief.scope == "equipment":
        return set()
    return _unfit(evaluate(brief.given))


def _order(set_up: SetUp) -> tuple[bool, bool, int, int, float]:
    missed = sum(m.failing for m in set_up.months) + len(failures_of(set_up.evaluation))
    unsafe = sum(not test.safe for test in set_up.what_if)
    return bool(_dangers(set_up.evaluation)), not set_up.fits, missed, unsafe, set_up.cost


def _chosen(ranked: list[SetUp]) -> tuple[SetUp, ...]:
    """The steadiest, the cheapest to run, and another that really differs; none where all are dangers."""
    if not ranked:
        return ()
    steady = replace(ranked[0], label="steadiest")
    # Another is worth showing only if it does about as well.
    most = len(failures_of(steady.evaluation)) + (not steady.fits)
    rest = [s for s in ranked[1:] if len(failures_of(s.evaluation)) <= most]
    chosen = [steady]
    cheaper = min(rest, key=lambda s: s.month_kwh, default=None)
    if cheaper is not None and cheaper.month_kwh < CHEAPER * steady.month_kwh:
        chosen.append(replace(cheaper, label="cheapest to run"))
        rest.remove(cheaper)
    ready = next((s for s in rest if s.from_owned), None)
    if ready is not None and not steady.from_owned:
        chosen.append(replace(ready, label="from what you own"))
        rest.remove(ready)
    chosen += rest[: SHOWN - len(chosen)]
    return tuple(chosen)
