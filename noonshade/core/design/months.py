"""A set-up through the months of its room: how it fares, and what is set differently in which months."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

from noonshade.core.care.seasonal_settings import CareSetting, cared_for
from noonshade.core.design.aims import cost_of, failures_of, unfit_in
from noonshade.core.design.brief import Brief
from noonshade.core.design.dials import turned
from noonshade.core.design.other_rooms import search_in
from noonshade.core.design.regulation import GROUPS, regulate, with_set_points
from noonshade.core.design.search import Found, computed
from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Phrase
from noonshade.core.plan import Misting, Plan, Room, RoomClimate, Thermostat, Vent
from noonshade.core.plan_errors import plan_errors
from noonshade.core.summary import cause_of, summarize

# A month is set differently only where that gains so much, in the units of a cost.
WORTH = 0.5
# Settings of another month that fit are kept up to so much above the cost now: dials are turned seldom.
LEAVE_ALONE = 1.5
# Settings of other months that are computed before a search.
MOST_TRIED = 4
# Rounds of the search for a month.
ROUNDS = 3
# Months in a row that are searched in vain before the others are only set as those.
MOST_IN_VAIN = 3
# Places for the probe of a heater that is added, and what as built may cost more than as found.
PROBES, NO_WORSE = 3, 0.3
Dials = tuple[
    tuple[tuple[str, float | None, float | None], ...], tuple[Misting, ...], float, tuple[Vent, ...]
]


@dataclass(frozen=True, slots=True)
class DesignedMonth:
    """One month, 1 to 12: its set points, and what fails in it with them.

    ``changed`` is whether it is set differently from the plan; ``cause`` in a word or two what is wrong;
    ``care`` how it is sprayed, watered and aired where that is not as planned.
    """

    number: int
    thermostats: tuple[Thermostat, ...]
    changed: bool
    failing: int
    fits: bool
    cause: str
    description: Phrase
    fails: tuple[str, ...] = ()
    care: CareSetting | None = None


def designed_months(now: Evaluation, found: Found, brief: Brief) -> tuple[tuple[DesignedMonth, ...], Plan]:
    """Each month of the room, and the plan with lamps strong enough for all of them.

    Parameters
    ----------
    now : Evaluation
        Of the plan with thermostats, as set now.
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
        return (), now.plan
    year = _Months(now, found, brief)
    year.look()
    return year.as_built()


@dataclass(frozen=True, slots=True)
class _Known:
    """What a month is set to, with what that comes to and costs there."""

    settings: Plan
    evaluation: Evaluation
    cost: float
    values: Mapping[str, float] = field(default_factory=dict)

    @property
    def fits(self) -> bool:
        return fits_but_for_the_room(self.evaluation)

    @property
    def order(self) -> tuple[int, float]:
        """What it is compared by: nothing makes up for what burns the animal or endangers it."""
        return len(unfit_in(self.evaluation)), self.cost


class _Months:
    """How a set-up is set in each month. What is built grows with what the months take."""

    def __init__(self, now: Evaluation, found: Found, brief: Brief) -> None:
        self.now, self.found, self.brief = now.plan, found, brief
        self.built = now.plan
        # Large cells, which searches use, are a little off.
        coarse = {c.id: c.value for c in found.evaluation.checks if c.value is not None}
        self.offsets = {c.id: c.value - coarse[c.id] for c in now.checks if c.value and c.id in coarse}
        self.near = now
        # Those of lamps that stay are the keeper's.
        self.dials = set(GROUPS) - {f.thermostat_id for f in found.arrangement.lights}
        # The most watts of each setting that any month takes.
        self.most = _watts(found.values)
        self.known: dict[RoomClimate, _Known] = {}
        self.fits_now = fits_but_for_the_room(now)

    def look(self) -> None:
        """Settings for each climate: the coldest first, for what is strong enough there is so always; then
        the warmest, and so on inwards, for what holds at both ends mostly holds between them.
        """
        in_vain = {True: 0, False: 0}
        climates = sorted(set(self.brief.room.months), key=lambda c: c.day_temperature_c)
        for i in range(len(climates)):
            cold = i % 2 == 0
            climate = climates[i // 2 if cold else -1 - i // 2]
            room = self.brief.room.with_climate(climate)
            best = self._as_tried(room, climate)
            # One search is enough for all months that are too warm by themselves, and for what never fits.
            most = MOST_IN_VAIN if self.fits_now and not is_too_warm(self.brief, climate) else 1
            if best is not None and best.fits:
                in_vain[cold] = 0
            elif in_vain[cold] < most:
                better = self._searched(room)
                in_vain[cold] = 0 if better is not None and better.fits else in_vain[cold] + 1
                if better is not None and (
                    best is None
                    or better.order < (best.order[0], best.cost - WORTH)
                    or (better.fits and better.order < best.order)
                ):
                    best = better
                    self._build(better)
            if best is not None:
                self.known[climate] = best

    def as_built(self) -> tuple[tuple[DesignedMonth, ...], Plan]:
        """The months, and the plan with what is built for all of them."""
        plan = self._no_stronger(self._most_used())
        shown: dict[RoomClimate, tuple[Plan, Evaluation]] = {}
        months = []
        for number, climate in enumerate(self.brief.room.months, 1):
            if climate in self.known and climate not in shown:
                there = self._as_written(plan, self.known[climate], climate)
                if there is not None:
                    shown[climate] = there
            if climate not in shown:
                words: Phrase = ("No steady climate was found.",)
                months.append(DesignedMonth(number, (), False, 1, False, "not computed", words))
                continue
            settings, after = shown[climate]
            care = _care_in(plan, settings)
            months.append(
                DesignedMonth(
                    number,
                    settings.thermostats,
                    care is not None or settings.thermostats != plan.thermostats,
                    len(failures_of(after)),
                    fits_but_for_the_room(after),
                    cause_of(after),
                    summarize(after),
                    tuple(f.id for f in failures_of(after)),
                    None if care is None else replace(care, from_month=number, to_month=number),
                )
            )
        return tuple(months), plan

    def _as_written(
        self, plan: Plan, known: _Known, climate: RoomClimate
    ) -> tuple[Plan, Evaluation] | None:
        """A month as its plan and its year have it, rounded and built for all months, computed as it is
        shown; its dials turned once more where that is what it takes.
        """
        settings = _set_as(plan, known.settings)
        care = _care_in(plan, settings)
        if care is not None:
            settings = replace(cared_for(plan, (care,), 1), thermostats=settings.thermostats)
        there = replace(settings, room=self.brief.room.with_climate(climate))
        # What is shown and stored is computed anew; where that does not settle, from what is known.
        after = computed(there, None) or self._computed(there)
        if after is not None and not fits_but_for_the_room(after) and (known.fits or unfit_in(after)):
            after = turned(after, self.dials)
            settings = replace(settings, thermostats=after.plan.thermostats)
        if after is not None and unfit_in(after):
            # Rather as it is now than too hot to lie on.
            planned = computed(replace(plan, room=there.room), None)
            if planned is not None and len(unfit_in(planned)) < len(unfit_in(after)):
                return plan, planned
        return None if after is None else (settings, after)

    def _computed(self, plan: Plan) -> Evaluation | None:
        """As it is shown, on cells of the usual size."""
        after = computed(plan, None, self.near)
        if after is not None:
            self.near = after
        return after

    def _as_tried(self, room: Room, climate: RoomClimate) -> _Known | None:
        """The best of the settings other months have, those of the most alike first: dials are turned
        seldom.
        """
        now = self.brief.room
        here = RoomClimate(now.day_temperature_c, now.night_temperature_c, now.relative_humidity)
        used = [(_unlike(climate, here), _set_as(self.built, self.now))]
        used += [
            (_unlike(climate, other), _set_as(self.built, one.settings))
            for other, one in self.known.items()
        ]
        tried: dict[Dials, Plan] = {}
        for _, settings in sorted(used, key=lambda one: one[0]):
            tried.setdefault(_dials(settings), settings)
        best: _Known | None = None
        for settings in list(tried.values())[:MOST_TRIED]:
            after = self._computed(replace(settings, room=room))
            if after is None:
                continue
            one = _Known(settings, after, cost_of(after))
            if best is None or one.order < (best.order[0], best.cost - WORTH):
                best = one
            if best.fits and best.cost < self.found.cost + LEAVE_ALONE:
                break
        return best

    def _searched(self, room: Room) -> _Known | None:
        """The same set-up with the watts that suit another room best, as set points; built stronger where
        it takes that.
        """
        one = search_in(self.found, room, ROUNDS, self.offsets)
        if one is None:
            return None
        best: _Known | None = None
        for built in self._strong_enough(one.values):
            cared = _cared_as(built, self.found.arrangement.at(one.values))
            set_for = with_set_points(replace(cared, room=room), self.found.arrangement, one.values)
            after = None if set_for is None else self._computed(set_for)
            if set_for is None or after is None:
                continue
            after = turned(after, self.dials)
            cost = cost_of(after) + 0.1
            known = _Known(replace(after.plan, room=self.now.room), after, cost, one.values)
            if best is None or known.order < best.order:
                best = known
            if cost < one.cost + NO_WORSE:
                break
        return best

    def _strong_enough(self, values: Mapping[str, float]) -> Iterator[Plan]:
        """What is built, with heaters strong enough for some values too, new probes in several places."""
        most = {**self.most, **{k: max(self.most.get(k, 0.0), v) for k, v in _watts(values).items()}}
        own = {f.id: f for f in self.built.fixtures}
        dials = {t.id: t for t in self.built.thermostats}
        for probe in range(PROBES):
            stronger = regulate(self.found.arrangement, self.found.values, most, probe)
            if stronger is None or not set(own) <= {f.id for f in stronger.fixtures}:
                break
            fixtures = tuple(
                replace(own[f.id], power_w=max(f.power_w, own[f.id].power_w), lit=f.lit)
                if f.id in own
                else f
                for f in stronger.fixtures
            )
            if fixtures == self.built.fixtures:
                break
            thermostats = tuple(dials.get(t.id, t) for t in stronger.thermostats)
            grown = replace(self.built, fixtures=fixtures, thermostats=thermostats)
            if plan_errors(grown):
                continue
            yield grown
            if len(thermostats) == len(dials):
                return
        else:
            return
        yield self.built

    def _build(self, known: _Known) -> None:
        """Take in what a month takes; other months are set as they were."""
        if known.settings.fixtures == self.built.fixtures:
            return
        self.most = {
            **self.most,
            **{k: max(self.most.get(k, 0.0), v) for k, v in _watts(known.values).items()},
        }
        self.built = _set_as(known.settings, self.now)

    def _most_used(self) -> Plan:
        """The plan set as in most months, where that does as well now: fewer dials are turned over the
        year.
        """
        used = [
            _set_as(self.built, self.known[c].settings) for c in self.brief.room.months if c in self.known
        ]
        plan = self.built
        if not used:
            return plan
        counts = Counter(map(_dials, used))
        dials = counts.most_common(1)[0][0]
        if dials == _dials(plan):
            return plan
        most = next(one for one in used if _dials(one) == dials)
        now, then = self._computed(plan), self._computed(most)
        if now is None or then is None or cost_of(then) > cost_of(now) + WORTH:
            return plan
        return most if fits_but_for_the_room(then) or not fits_but_for_the_room(now) else plan

    def _no_stronger(self, strong: Plan) -> Plan:
        """Heaters no stronger than the coldest month takes: reserves of a search are not always needed.

        The least watts that are sold and do as well in the coldest month that was computed.
        """
        if not self.known or strong.fixtures == self.now.fixtures:
            return strong
        coldest = min(self.known, key=lambda c: c.day_temperature_c + c.night_temperature_c)
        settings = _set_as(strong, self.known[coldest].settings)
        room = self.brief.room.with_climate(coldest)
        now = {f.id: f.power_w for f in self.now.fixtures}
        best = self._computed(replace(settings, room=room))
        if best is None:
            return strong
        most = len(failures_of(best))
        fixtures = strong.fixtures
        for group in sorted({f.thermostat_id for f in fixtures if f.thermostat_id is not None}):
            lamp = next(f for f in fixtures if f.thermostat_id == group)
            for watts in sorted(lamp.lamp.power_choices_w):
                if not now.get(lamp.id, 0.0) <= watts < lamp.power_w:
                    continue
                weaker = tuple(
                    replace(f, power_w=watts) if f.thermostat_id == group else f for f in fixtures
                )
                after = self._computed(replace(settings, fixtures=weaker, room=room))
                if (
                    after is not None
                    and len(failures_of(after)) <= most
                    and cost_of(after) < cost_of(best) + WORTH
                ):
                    fixtures = weaker
                    break
        return replace(strong, fixtures=fixtures)


def _unlike(one: RoomClimate, other: RoomClimate) -> float:
    """How different two climates are, K."""
    return abs(one.day_temperature_c - other.day_temperature_c) + abs(
        one.night_temperature_c - other.night_temperature_c
    )


def _watts(values: Mapping[str, float]) -> dict[str, float]:
    """Those settings that are watts."""
    return {name: value for name, value in values.items() if name.endswith("_w")}


def _dials(plan: Plan) -> Dials:
    """All that is set differently by season."""
    points = tuple((t.id, t.day_set_point_c, t.night_set_point_c) for t in plan.thermostats)
    return points, plan.mistings, plan.substrate.wetness, plan.enclosure.vents


def _cared_as(built: Plan, other: Plan) -> Plan:
    """What is built, sprayed, watered and aired as another plan of it."""
    return replace(built, mistings=other.mistings, substrate=other.substrate, enclosure=other.enclosure)


def _care_in(plan: Plan, settings: Plan) -> CareSetting | None:
    """How settings are sprayed, watered and aired beside the plan, as of January; None where alike."""
    litres = max((m.litres for m in plan.mistings), default=0.0)
    area = sum(v.area_m2 for v in plan.enclosure.vents)
    misting = sum(m.litres for m in settings.mistings[:1]) / litres if litres > 0.0 else 1.0
    vents = sum(v.area_m2 for v in settings.enclosure.vents) / area if area > 0.0 else 1.0
    same = settings.substrate.wetness == plan.substrate.wetness
    care = CareSetting(
        1, 1, round(misting, 3), None if same else settings.substrate.wetness, round(vents, 3)
    )
    return None if care == CareSetting(1, 1) else care


def _set_as(built: Plan, settings: Plan) -> Plan:
    """What is built with the dials of other settings; thermostats those do not have are off."""
    dials = {t.id: t for t in settings.thermostats}
    thermostats = tuple(
        replace(t, day_set_point_c=None, night_set_point_c=None)
        if t.id not in dials
        else replace(
            t,
            day_set_point_c=dials[t.id].day_set_point_c,
            night_set_point_c=dials[t.id].night_set_point_c,
        )
        for t in built.thermostats
    )
    return replace(_cared_as(built, settings), thermostats=thermostats)


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
