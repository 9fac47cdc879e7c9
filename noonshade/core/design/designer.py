"""From an animal and a room to set-ups worth building, each with its proof."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from functools import partial
from itertools import zip_longest
from typing import Protocol, TypeVar

from noonshade.core.design.aims import NOT_OURS, failures_of, unfit_in
from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.brief import Brief
from noonshade.core.design.choice import chosen_of, different, order_of
from noonshade.core.design.conflicts import Conflict, find_conflicts
from noonshade.core.design.doubts import find_doubts
from noonshade.core.design.given import given_arrangements, given_site
from noonshade.core.design.idle import without_idle
from noonshade.core.design.improvements import (
    is_doubtful,
    others_like,
    several_lamps,
    sprayed_by_night,
    with_night_heater,
)
from noonshade.core.design.options import arrangements_for, sites_for
from noonshade.core.design.other_rooms import extreme_rooms, search_in
from noonshade.core.design.ranking import finalists_of, rank
from noonshade.core.design.search import Found, Search
from noonshade.core.design.set_up import SetUp, finish, proved
from noonshade.core.design.shells import Stock
from noonshade.core.design.site import Site
from noonshade.core.design.warmth import LARGE_M2
from noonshade.core.errors import DesignError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.plan import Plan, Room

# How many arrangements of each site are searched first, and of how many sites the rest.
FIRST, PROMISING = 1, 3
# Evaluations of the search at most, how many good arrangements are enough, and how many candidates that is
# about, for showing how far it is.
MOST_EVALUATED, LARGE_EVALUATED, QUICK_EVALUATED = 150, 64, 60
GOOD, GOOD_ENOUGH = 4, 1.3
# Where the best is in doubt, so many more heaters are looked at with it.
OTHERS, LARGE_OTHERS = 6, 2
EXPECTED = 25_000
# So many of the best that are only too cold at night are given a heater for it, and so many that are only
# too dry then are sprayed once more, with so many rounds.
BY_NIGHT, NIGHT_ROUNDS = 2, 2
# Of a room with months, arrangements that are tried in the coldest and the warmest, with how many rounds,
# and what each may cost at most.
LEADING, SEASON_ROUNDS, MOST_SEASON_COST = 6, 3, 15.0
# Of so many of the best, heaters that do nothing are left out.
TRIMMED = 6
# Set-ups that are completed, and what a third may cost more than the best.
FINALISTS, LARGE_FINALISTS, FAR_WORSE = 3, 2, 6.0
# And so many more where none of them fits.
SECOND_TRIES = 2

_A = TypeVar("_A")
_B = TypeVar("_B")


class Mapper(Protocol):
    """Computes as ``map`` does, in the same order, perhaps several at a time."""

    def __call__(self, function: Callable[[_A], _B], items: Iterable[_A], /) -> Iterator[_B]:
        """Results of a function of each item, in their order."""


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
    sites = list(sites_for(brief, stock)) if brief.given is None else [given_site(brief, stock)]
    # A large enclosure takes two or three times as long to compute.
    large = sites[0].size.length_m * sites[0].size.depth_m >= LARGE_M2
    most = LARGE_EVALUATED if large else MOST_EVALUATED
    work = _Work(report, QUICK_EVALUATED if quick else most)
    explored = []
    for one in mapper(explore, sites):
        explored.append(one)
        if not work.add(one.found):
            break
    # What is left of the most promising sites.
    explored.sort(key=lambda one: min(map(rank, one.found), default=math.inf))
    in_turn = zip_longest(*(one.left for one in explored[:PROMISING]))
    rest = [one for several in in_turn for one in several if one is not None]
    if not work.stopped and not work.is_enough:
        for found_one in mapper(run_search, rest):
            if not work.add([] if found_one is None else [found_one]) or work.is_enough:
                break
    if not work.stopped and work.found and not quick:
        tried = [f.arrangement for f in work.found]
        more = others_like(min(work.found, key=rank), tried)[: LARGE_OTHERS if large else OTHERS]
        for found_one in mapper(run_search, more):
            if not work.add([] if found_one is None else [found_one]):
                break
    if not work.stopped and work.found and not quick and is_doubtful(min(work.found, key=rank)):
        for found_one in mapper(changed_for_nights, _for_nights(sorted(work.found, key=rank))):
            if not work.add([] if found_one is None else [found_one]):
                break
    found, screened, evaluated, stopped = work.found, work.screened, work.evaluated, work.stopped
    if not found:
        raise DesignError("no set-up could be computed for this enclosure")
    leading = sorted(found, key=rank)
    leading = sorted([*mapper(without_idle, leading[:TRIMMED]), *leading[TRIMMED:]], key=rank)
    extremes: tuple[tuple[Evaluation, ...], tuple[Evaluation, ...]] = ((), ())
    if brief.room.months and not stopped:
        leading, extremes = _through_the_year(leading, brief, mapper)
    number = 1 if stopped or quick else LARGE_FINALISTS if large else FINALISTS
    promising = _promising(leading)
    finalists = finalists_of(promising, number)
    # What is a danger or too hot to lie on is not proposed, but for what the keeper wants left alone.
    known = _dangers_outside(brief)
    finishes = partial(finish, brief=brief)
    finished = [one for one in mapper(finishes, finalists) if one is not None]
    ranked, chosen = _compared(finished, known, mapper, quick)
    if not (quick or stopped or (chosen and chosen[0].fits)):
        # As built the best is not sure: the next best of the same kinds may be.
        rest = [one for one in promising if all(one is not other for other in finalists)]
        extra = [one for one in mapper(finishes, rest[:SECOND_TRIES]) if one is not None]
        if extra:
            ranked, chosen = _compared([*ranked, *extra], known, mapper, quick)
    conflicts: tuple[Conflict, ...] = ()
    if not (chosen and chosen[0].fits_all_year and not chosen[0].over_budget):
        computed = [f.evaluation for f in found]
        conflicts = find_conflicts(brief, ranked, computed, extremes)
        if chosen:
            conflicts += find_doubts(brief, chosen[0], computed)
    return Design(chosen, conflicts, screened, evaluated, stopped)


def _compared(
    finished: Iterable[SetUp], known: set[str], mapper: Mapper, quick: bool
) -> tuple[list[SetUp], tuple[SetUp, ...]]:
    """Set-ups that really differ in their order, and those to show."""
    ranked = different(sorted(finished, key=order_of))
    chosen = chosen_of([one for one in ranked if unfit_in(one.evaluation) <= known])
    return (ranked, chosen) if quick else _with_chances(ranked, chosen, known, mapper)


def _with_chances(
    ranked: list[SetUp], chosen: tuple[SetUp, ...], known: set[str], mapper: Mapper
) -> tuple[list[SetUp], tuple[SetUp, ...]]:
    """Set-ups in their order, and those to show, whose checks know how likely they are met.

    That takes a while, and is computed of the others only where the best turns out to be less sure.
    """
    shown = {id(one.plan) for one in chosen}
    first = [one for one in ranked if id(one.plan) in shown]
    others = [one for one in ranked if id(one.plan) not in shown]
    done = list(mapper(proved, first))
    if any(before.fits and not after.fits for before, after in zip(first, done, strict=True)):
        done += mapper(proved, others)
        others = []
    ranked = sorted([*done, *others], key=order_of)
    sure = sorted(done, key=order_of)
    return ranked, chosen_of([one for one in sure if unfit_in(one.evaluation) <= known])


@dataclass(frozen=True, slots=True)
class Explored:
    """A site with its first arrangements searched, and those that are left."""

    found: tuple[Found, ...]
    left: tuple[Arrangement, ...]


def _for_nights(leading: list[Found]) -> list[tuple[Found, Arrangement]]:
    """What of the best is given a heater or a spraying for its nights, each with what it becomes."""
    pairs = []
    for better_by_night in (with_night_heater, sprayed_by_night):
        changed = ((one, better_by_night(one)) for one in leading)
        pairs += [(one, other) for one, other in changed if other is not None][:BY_NIGHT]
    return pairs


def changed_for_nights(pair: tuple[Found, Arrangement]) -> Found | None:
    """What is right by day, with a heater or a spraying for the nights alone.

    Parameters
    ----------
    pair : tuple of (Found, Arrangement)
        What was found, and the arrangement that ``with_night_heater`` or ``sprayed_by_night`` makes of it.

    Returns
    -------
    Found or None
        None where nothing of it can be computed.
    """
    found, arrangement = pair
    fixed = {"air_w": 0.0} if arrangement.air is not found.arrangement.air else {}
    return Search(arrangement, fixed=fixed).run(replace(found, responses={}), NIGHT_ROUNDS)


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
    arrangements = list(given_arrangements(site)) if given else arrangements_for(site)
    first = [one for one in map(run_search, arrangements[:FIRST]) if one is not None]
    left = arrangements[FIRST:]
    broader = several_lamps(first[0], left) if first else None
    if broader is not None:
        # A site is no less promising for a spot that one lamp cannot fill.
        left = [one for one in left if one is not broader]
        found = run_search(broader)
        first += [] if found is None else [found]
    return Explored(tuple(first), tuple(left))


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
        best = min(self.found, key=rank, default=None)
        plan = None if best is None else best.evaluation.plan
        failing = None if best is None else len(failures_of(best.evaluation, NOT_OURS))
        expected = max(EXPECTED, self.screened)
        if self.report is not None and not self.report(Progress(self.screened, expected, plan, failing)):
            self.stopped = True
        return not self.stopped


def _through_the_year(
    ranked: list[Found], brief: Brief, mapper: Mapper
) -> tuple[list[Found], tuple[tuple[Evaluation, ...], tuple[Evaluation, ...]]]:
    """The best arrangements in an order that knows what they come to in the coldest and the warmest month,
    and what they come to there.
    """
    leading = ranked[:LEADING]
    rooms = extreme_rooms(brief.room)
    found = [list(mapper(partial(searched_in, room=room), leading)) for room in rooms]
    costs = [
        sum(MOST_SEASON_COST if one is None else min(one.cost, MOST_SEASON_COST) for one in both)
        for both in zip(*found, strict=True)
    ]
    order = sorted(zip(leading, costs, strict=True), key=lambda pair: rank(pair[0]) + pair[1])
    cold, warm = (tuple(one.evaluation for one in part if one is not None) for part in found)
    return [*(one for one, _ in order), *ranked[LEADING:]], (cold, warm)


def searched_in(found: Found, room: Room) -> Found | None:
    """What an arrangement is best set to in another room.

    Parameters
    ----------
    found : Found
        Its settings now.
    room : Room
        The room in another month.

    Returns
    -------
    Found or None
        None where nothing could be computed.
    """
    return search_in(found, room, SEASON_ROUNDS)


def _promising(leading: list[Found]) -> list[Found]:
    """Without what is far worse than the best, but for the next best, which stands in where that fails."""
    most = rank(leading[0]) + FAR_WORSE
    return [one for i, one in enumerate(leading) if i < 2 or rank(one) < most]


def _dangers_outside(brief: Brief) -> set[str]:
    """Dangers a given plan has already, where only its heating or only its light is chosen anew."""
    if brief.given is None or brief.scope == "equipment":
        return set()
    return unfit_in(evaluate(brief.given))
