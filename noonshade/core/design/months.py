"""A set-up through the months of its room: how it fares, and what is set differently in which months."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from noonshade.core.care.seasonal_settings import MonthSetting
from noonshade.core.care.year import Year, default_year
from noonshade.core.design.aims import cost_of, failures_of
from noonshade.core.design.brief import Brief
from noonshade.core.design.regulation import regulate, with_set_points
from noonshade.core.design.search import Found, Search, computed
from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Phrase
from noonshade.core.plan import Fixture, Plan, Room, RoomClimate, Thermostat
from noonshade.core.plan_errors import plan_errors
from noonshade.core.summary import cause_of, summarize

# A month is set differently only where that gains so much, in the units of a cost.
WORTH = 0.5
# Settings of another month that fit are kept up to so much above the cost now: dials are turned seldom.
LEAVE_ALONE = 1.5
# Settings of other months that are computed before a search.
MOST_TRIED = 3
# Rounds of the search for a month.
ROUNDS = 3
# Of its watts now, a basking lamp burns with so much in any month.
LEAST_BASKING = 0.4
# What is left alone between months: it is built, or takes more than turning a dial.
_BUILT = ("openness", "wetness", "spray_l_m2")


@dataclass(frozen=True, slots=True)
class DesignedMonth:
    """One month, 1 to 12: its set points, and what fails in it with them.

    ``changed`` is whether it is set differently from the plan; ``cause`` in a word or two what is wrong.
    """

    number: int
    thermostats: tuple[Thermostat, ...]
    changed: bool
    failing: int
    fits: bool
    cause: str
    description: Phrase
    fails: tuple[str, ...] = ()


def designed_months(plan: Plan, found: Found, brief: Brief) -> tuple[tuple[DesignedMonth, ...], Plan]:
    """Each month of the room, and the plan with lamps strong enough for all of them.

    Parameters
    ----------
    plan : Plan
        With thermostats, as set now.
    found : Found
        The settings behind it.
    brief : Brief
        The brief, for the room's months.

    Returns
    -------
    tuple of (tuple[DesignedMonth, ...], Plan)
        No months where the room's are not known.
    """
    if not brief.room.months:
        return (), plan
    known: dict[RoomClimate, tuple[Plan, Evaluation]] = {}
    tried: list[Plan] = [plan]
    values: dict[RoomClimate, Mapping[str, float]] = {}
    gave_up = False
    # From the coldest month on: what is strong enough there is so always.
    for climate in sorted(set(brief.room.months), key=lambda c: c.day_temperature_c):
        room = brief.room.with_climate(climate)
        best: tuple[float, Plan, Evaluation] | None = None
        # What the last month was set to comes first, so that dials are turned seldom.
        for settings in tried:
            after = computed(replace(settings, room=room))
            if after is None:
                continue
            cost = cost_of(after)
            if best is None or cost < best[0] - WORTH:
                best = (cost, settings, after)
            if fits_but_for_the_room(best[2]) and best[0] < found.cost + LEAVE_ALONE:
                break
        # Where the room is too warm by itself, one search is enough for all such months.
        hopeless = is_too_warm(brief, climate)
        if best is None or (not fits_but_for_the_room(best[2]) and not (hopeless and gave_up)):
            gave_up = hopeless
            better = _searched(plan, found, room)
            if better is not None and (
                best is None
                or better[0] < best[0] - WORTH
                or (fits_but_for_the_room(better[2]) and better[0] < best[0])
            ):
                best = better[:3]
                values[climate] = better[3]
        if best is not None:
            known[climate] = (best[1], best[2])
            tried = [best[1], *(t for t in tried if t is not best[1])][:MOST_TRIED]
    plan = _most_used(plan, known, brief)
    # Lamps as strong as the month that takes the most.
    plan = _no_stronger(plan, _strong_enough(plan, found, values), known, brief)
    planned = {t.id: t for t in plan.thermostats}
    months = []
    for number, climate in enumerate(brief.room.months, 1):
        if climate not in known:
            months.append(
                DesignedMonth(
                    number, (), False, 1, False, "not computed", ("No steady climate was found.",)
                )
            )
            continue
        settings, after = known[climate]
        months.append(
            DesignedMonth(
                number,
                settings.thermostats,
                any(planned.get(t.id) != t for t in settings.thermostats),
                len(failures_of(after)),
                fits_but_for_the_room(after),
                cause_of(after),
                summarize(after),
                tuple(f.id for f in failures_of(after)),
            )
        )
    return tuple(months), plan


def is_too_warm(brief: Brief, climate: RoomClimate) -> bool:
    """Whether the room of a month is by itself warmer than the animal may have it.

    Parameters
    ----------
    brief : Brief
        The brief, for the animal.
    climate : RoomClimate
        The room.

    Returns
    -------
    bool
        By day at the cool place, or by night.
    """
    animal = brief.animal
    cool = animal.need(animal.cool_place, "air_temperature")
    night = animal.need("night", "air_temperature")
    by_day = cool is not None and cool.high is not None and climate.day_temperature_c > cool.high
    by_night = night is not None and night.high is not None and climate.night_temperature_c > night.high
    return by_day or by_night


def fits_but_for_the_room(evaluation: Evaluation) -> bool:
    """Whether a set-up fits, whatever the room does by itself in other months.

    Parameters
    ----------
    evaluation : Evaluation
        Of a set-up.

    Returns
    -------
    bool
        True if every required check is in range and nothing else fails.
    """
    return not failures_of(evaluation) and all(c.fits for c in evaluation.checks)


def _most_used(plan: Plan, known: Mapping[RoomClimate, tuple[Plan, Evaluation]], brief: Brief) -> Plan:
    """The plan set as in most months, where that does as well now: fewer dials are turned over the year."""
    counts: dict[int, tuple[int, Plan]] = {}
    for climate in brief.room.months:
        if climate in known:
            used = known[climate][0]
            counts[id(used)] = (counts.get(id(used), (0, used))[0] + 1, used)
    most = max(counts.values(), key=lambda one: one[0], default=(0, plan))[1]
    if most.thermostats == plan.thermostats:
        return plan
    now, then = computed(plan), computed(replace(most, room=plan.room))
    if now is None or then is None or cost_of(then) > cost_of(now) + WORTH:
        return plan
    return replace(most, room=plan.room)


def coldest_room(room: Room) -> Room:
    """A room as it is in its coldest month.

    Parameters
    ----------
    room : Room
        With its months.

    Returns
    -------
    Room
        With that month's climate.
    """
    return room.with_climate(min(room.months, key=lambda c: c.day_temperature_c + c.night_temperature_c))


def search_in(found: Found, room: Room, rounds: int) -> Found | None:
    """What an arrangement is best set to in another room, built as it is now.

    Parameters
    ----------
    found : Found
        Its settings now.
    room : Room
        The other room.
    rounds : int
        Of the search, at most.

    Returns
    -------
    Found or None
        None where nothing could be computed.
    """
    fixed = {k: v for k, v in found.values.items() if k in _BUILT}
    # A basking lamp stays on all year.
    lamp = found.arrangement.basking
    least = {}
    if lamp is not None and lamp.lamp.gives_light:
        least["basking_w"] = LEAST_BASKING * found.values.get("basking_w", 0.0)
    return Search(found.arrangement, room, fixed, None, least).run(found, rounds=rounds)


def _searched(
    plan: Plan, found: Found, room: Room
) -> tuple[float, Plan, Evaluation, Mapping[str, float]] | None:
    """The same set-up with the watts that suit another room best, as set points."""
    one = search_in(found, room, ROUNDS)
    if one is None:
        return None
    there = replace(plan, room=room)
    set_for = with_set_points(there, found.arrangement, one.values)
    if set_for is None:
        return None
    rebuilt = regulate(found.arrangement, _joined(found.values, one.values))
    if rebuilt is not None and _is_stronger(rebuilt, plan):
        # A heater that is idle or weak now is wanted then: the plan is built with it.
        set_for = with_set_points(replace(rebuilt, room=room), found.arrangement, one.values)
        if set_for is None:
            return None
    after = computed(set_for)
    if after is None:
        return None
    return cost_of(after) + 0.1, replace(set_for, room=plan.room), after, one.values


def _is_stronger(one: Plan, other: Plan) -> bool:
    """Whether a plan has a lamp or heater the other has not, or a stronger one."""
    power = {f.id: f.power_w for f in other.fixtures}
    return any(f.power_w > power.get(f.id, 0.0) for f in one.fixtures)


def _joined(first: Mapping[str, float], second: Mapping[str, float]) -> dict[str, float]:
    """The more of each setting."""
    return {key: max(first[key], second.get(key, 0.0)) for key in first}


def _strong_enough(plan: Plan, found: Found, values: Mapping[RoomClimate, Mapping[str, float]]) -> Plan:
    """The plan with heaters of watts that all months can be held with, idle ones of now among them."""
    most: dict[str, float] = {}
    for one in (found.values, *values.values()):
        for name, watts in one.items():
            if name.endswith("_w"):
                most[name] = max(most.get(name, 0.0), watts)
    stronger = regulate(found.arrangement, found.values, most)
    own = {f.id: f for f in plan.fixtures}
    if stronger is None or not set(own) <= {f.id for f in stronger.fixtures}:
        return plan
    fixtures = tuple(
        f if f.id not in own else replace(f, power_w=max(f.power_w, own[f.id].power_w))
        for f in stronger.fixtures
    )
    kept = {t.id: t for t in plan.thermostats}
    thermostats = tuple(kept.get(t.id, t) for t in stronger.thermostats)
    built = replace(plan, fixtures=fixtures, thermostats=thermostats)
    return plan if plan_errors(built) else built


def _no_stronger(
    plan: Plan, strong: Plan, known: Mapping[RoomClimate, tuple[Plan, Evaluation]], brief: Brief
) -> Plan:
    """Heaters no stronger than the coldest month takes: reserves of a search are not always needed.

    Parameters
    ----------
    plan, strong : Plan
        As built for now, and strong enough for all months.
    known : Mapping
        Settings of each climate with what they come to.
    brief : Brief
        The brief, for its room.

    Returns
    -------
    Plan
        With the least watts that are sold and do as well in the coldest month that was computed.
    """
    if not known:
        return strong
    coldest = min(known, key=lambda c: c.day_temperature_c + c.night_temperature_c)
    settings = known[coldest][0]
    room = brief.room.with_climate(coldest)
    dials = {t.id: t for t in settings.thermostats}
    now = {f.id: f.power_w for f in plan.fixtures}

    def there(fixtures: tuple[Fixture, ...]) -> Evaluation | None:
        set_so = tuple(dials.get(t.id, t) for t in strong.thermostats)
        return computed(replace(strong, fixtures=fixtures, thermostats=set_so, room=room))

    best = there(strong.fixtures)
    if best is None:
        return strong
    most = len(failures_of(best))
    fixtures = strong.fixtures
    for group in sorted({f.thermostat_id for f in fixtures if f.thermostat_id is not None}):
        lamp = next(f for f in fixtures if f.thermostat_id == group)
        for watts in sorted(lamp.lamp.power_choices_w):
            if not now.get(lamp.id, 0.0) <= watts < lamp.power_w:
                continue
            weaker = tuple(replace(f, power_w=watts) if f.thermostat_id == group else f for f in fixtures)
            after = there(weaker)
            if (
                after is not None
                and len(failures_of(after)) <= most
                and cost_of(after) < cost_of(best) + WORTH
            ):
                fixtures = weaker
                break
    return replace(strong, fixtures=fixtures)


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
    return replace(usual, day_swing_k=0.0, night_swing_k=0.0, misting_follow=0.0, settings=tuple(found))


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
