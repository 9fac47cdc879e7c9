"""Where needs of an animal and facts of the keeper do not go together, by how much, and what would help."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.wording import STATUS_WORDS, figure_name, measure_of, said
from noonshade.core.design.brief import Brief
from noonshade.core.design.options import least_size
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Need
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.summary import MONTHS

if TYPE_CHECKING:
    from noonshade.core.design.set_up import SetUp


# Figures that change with warmth and moisture: what raises one too low may raise another too high.
OPPOSED = ("surface_temperature", "air_temperature", "gradient", "humidity")
# What so many arrangements miss, each at its best settings, cannot be done with what is sold. Estimate.
ENOUGH_COMPUTED = 6


@dataclass(frozen=True, slots=True)
class Conflict:
    """A need against a fact: ``sentence`` says both and by how much, ``way_out`` what would make it
    possible.

    ``true`` is whether the fact alone shows that no set-up can do it, or none of the ways computed does.
    """

    id: str
    sentence: Phrase
    way_out: Phrase
    true: bool


def find_conflicts(
    brief: Brief,
    set_ups: Iterable[SetUp],
    computed: Sequence[Evaluation] = (),
    extremes: tuple[Sequence[Evaluation], Sequence[Evaluation]] = ((), ()),
) -> tuple[Conflict, ...]:
    """What prevents an animal in a room, and what the nearest set-up misses.

    Parameters
    ----------
    brief : Brief
        The brief.
    set_ups : Iterable[SetUp]
        The nearest set-ups, the best first.
    computed : Sequence[Evaluation]
        The best of every arrangement that was searched: what all of them miss is no fault of one.
    extremes : tuple of two Sequence[Evaluation]
        The best of each in the coldest and in the warmest month of the room.

    Returns
    -------
    tuple[Conflict, ...]
        Facts first, then what is merely missed.
    """
    nearest = next(iter(set_ups), None)
    found = {} if nearest is None else {c.id: c for c in _of_the_room(brief, nearest)}
    if nearest is not None:
        for finding in nearest.evaluation.findings:
            if finding.kind == "summer-hot" and not any(c.true for c in found.values()):
                found[finding.id] = Conflict(finding.id, finding.message, (finding.caution,), True)
        for check in nearest.evaluation.checks:
            if check.required and check.status in ("low", "high", "unknown") and not check.need.offered:
                if check.status == "high" and "temperature" in check.need.quantity and _is_hot(found):
                    # The room has said it already.
                    continue
                one = _missed(brief, check, computed)
                found.setdefault(one.id, one)
        if not any(c.true for c in found.values()):
            found |= {c.id: c for c in _exclude_each_other(brief, nearest, computed)}
        if not _is_hot(found):
            found |= {c.id: c for c in _of_months(brief, nearest, extremes)}
        if nearest.over_budget and brief.budget is not None:
            found["budget"] = Conflict(
                "budget",
                (
                    f"What is to be bought costs about {nearest.price:.0f} (estimate), and the budget is "
                    f"{brief.budget:.0f}.",
                ),
                ("Lamps that lie ready, or an animal that needs fewer, would keep to it.",),
                False,
            )
    return tuple(found.values())


def _of_months(
    brief: Brief, nearest: SetUp, extremes: tuple[Sequence[Evaluation], Sequence[Evaluation]]
) -> Iterable[Conflict]:
    """Months in which something fails that is right now, by what it is."""
    by_cause: dict[str, list[int]] = {}
    for month in nearest.months:
        if not month.fits:
            by_cause.setdefault(month.cause or "too little chance", []).append(month.number)
    for cause, numbers in by_cause.items():
        climates = {n: brief.room.months[n - 1] for n in numbers}
        middle = sum(c.day_temperature_c for c in brief.room.months) / len(brief.room.months)
        warm = sum(c.day_temperature_c for c in climates.values()) / len(climates) > middle
        worst = (max if warm else min)(
            climates, key=lambda n: climates[n].day_temperature_c + climates[n].night_temperature_c
        )
        names = [MONTHS[n - 1] for n in numbers]
        listed = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
        ways = extremes[1 if warm else 0]
        why = _of_every_way(nearest.months[worst - 1].fails, ways)
        yield Conflict(
            f"months:{cause}",
            (
                f"In {listed}: {cause}. The room is then {'up' if warm else 'down'} to ",
                Measure(climates[worst].day_temperature_c, "°C"),
                " by day and ",
                Measure(climates[worst].night_temperature_c, "°C"),
                " by night",
                *(
                    (".",)
                    if why is None
                    else (f", and each of {len(ways)} ways that were computed misses ", *why, ".")
                ),
            ),
            ("See what its forecast by month proposes for these.",)
            if why is None
            else (
                f"A room that is {'cooler' if warm else 'warmer'} then would do it, or a larger enclosure.",
            ),
            why is not None,
        )


def _of_every_way(missed: Iterable[str], ways: Sequence[Evaluation]) -> Phrase | None:
    """A need, or one of two that exclude each other, that every way misses; None where one does not."""
    if len(ways) < ENOUGH_COMPUTED:
        return None
    for check in _misses_of(ways):
        if check.id not in missed:
            continue
        if all(misses(one, check) for one in ways):
            return wanted(check)
        second = excluded_by(check, ways)
        if second is not None:
            return (*wanted(check), " or ", *wanted(second))
    return None


def _is_hot(found: dict[str, Conflict]) -> bool:
    return any(key.startswith("room-too-warm") for key in found)


def _of_the_room(brief: Brief, nearest: SetUp) -> Iterable[Conflict]:
    """The room by itself is warmer than the animal may have it, and the nearest set-up is too: nothing but
    cooling helps. Damp ground cools a little, so the room alone does not prove it.
    """
    animal = brief.animal
    cool = animal.need(animal.cool_place, "air_temperature")
    night = animal.need("night", "air_temperature")
    months = list(zip(nearest.months, brief.room.months, strict=False))
    too_warm = {c.need.place for c in nearest.evaluation.checks if c.status == "high"}
    water = animal.need("water", "water_temperature")
    kinds = (
        (cool, "day", "by day"),
        (night, "night", "by night"),
        (water, "water", "on the mean of a day"),
    )
    for need, key, what in kinds:
        if need is None or need.high is None:
            continue
        room_c = _room_c(brief.room.day_temperature_c, brief.room.night_temperature_c, key)
        hot = []
        for month, climate in months:
            at = _room_c(climate.day_temperature_c, climate.night_temperature_c, key)
            if at > need.high and f"{need.place}:{need.quantity}" in month.fails:
                hot.append((at, month.number))
        when = "now"
        if hot:
            room_c, number = max(hot)
            when = f"in {MONTHS[number - 1]}"
        elif room_c <= need.high or need.place not in too_warm:
            continue
        name = figure_name(need.place, _place(need), need.quantity)
        yield Conflict(
            f"room-too-warm:{key}",
            (
                "Your room is at ",
                Measure(room_c, "°C"),
                f" {what} {when}; this animal's {name} may be at most ",
                Measure(need.high, "°C"),
                ": no enclosure without cooling can do it.",
            ),
            ("A cooler room, a cellar or an air conditioner would do it; or an animal of warmer places.",),
            True,
        )


def _room_c(day_c: float, night_c: float, key: str) -> float:
    """What the room makes of a place that nothing warms: water takes the mean of day and night."""
    return day_c if key == "day" else night_c if key == "night" else (day_c + night_c) / 2


def _missed(brief: Brief, check: Check, computed: Sequence[Evaluation]) -> Conflict:
    need = check.need
    by_all = len(computed) >= ENOUGH_COMPUTED and all(misses(one, check) for one in computed)
    name = figure_name(need.place, check.place_label, need.quantity)
    if check.value is None:
        return Conflict(
            f"missed:{check.id}",
            (f"{name}: nothing in this enclosure gives it.",),
            ("A larger enclosure.",),
            False,
        )
    limit = need.low if check.status == "low" else need.high
    room = brief.room
    because: Phrase = ()
    least = least_size(brief.species, brief.count, brief.stage)
    size = brief.size
    small = size is not None and (
        size.length_m < 0.95 * least.length_m
        or size.depth_m < 0.95 * least.depth_m
        or size.height_m < 0.95 * least.height_m
    )
    way_out: Phrase = ("The nearest set-up is shown; measure it, and ask a keeper of the species.",)
    if need.quantity == "humidity" and check.status == "low":
        because = (" in a room at ", Measure(100 * room.relative_humidity, "%"))
        way_out = ("Damper air in the room, or spraying more often, would make it possible.",)
    elif "temperature" in need.quantity and check.status == "high":
        because = (" in a room at ", Measure(room.day_temperature_c, "°C"))
        way_out = ("A cooler room, or a larger and more open enclosure, would make it possible.",)
    elif need.quantity == "air_temperature" and check.status == "low":
        by_night = need.place == "night"
        room_c = room.night_temperature_c if by_night else room.day_temperature_c
        because = (" in a room at ", Measure(room_c, "°C"))
        # What is inside follows the room degree by degree.
        warmer = math.ceil(2.0 * (room_c + (limit or 0.0) - check.value)) / 2.0
        loses = brief.given is None and brief.kind in ("mesh", "table", "glass")
        closed = "A closed enclosure of wood or PVC keeps more of its warmth; or a" if loses else "A"
        way_out = (f"{closed} room at about ", Measure(warmer, "°C"), " would do it.")
    elif small:
        way_out = (
            "A larger enclosure would make it possible: at least "
            f"{100 * least.length_m:.0f} × {100 * least.depth_m:.0f} × {100 * least.height_m:.0f} cm.",
        )
    return Conflict(
        f"missed:{check.id}",
        (
            f"{name} is {STATUS_WORDS[check.status]}, ",
            *said(need.quantity, check.value),
            " where " + ("at least " if check.status == "low" else "at most "),
            measure_of(need.quantity, limit or 0.0),
            " is wanted",
            *because,
            f", in all of {len(computed)} ways that were computed." if by_all else ".",
        ),
        way_out,
        by_all,
    )


def _exclude_each_other(brief: Brief, nearest: SetUp, computed: Sequence[Evaluation]) -> Iterable[Conflict]:
    """Two needs of which every way that was computed misses one or the other; none below six ways."""
    if len(computed) < ENOUGH_COMPUTED:
        return
    for first in nearest.evaluation.checks:
        if not first.required or first.status not in ("low", "high"):
            continue
        second = excluded_by(first, computed)
        if second is None:
            continue
        yield Conflict(
            f"pair:{first.id}+{second.id}",
            (
                *wanted(first),
                " and ",
                *wanted(second),
                " exclude each other in a room at ",
                Measure(brief.room.day_temperature_c, "°C"),
                " by day and ",
                Measure(brief.room.night_temperature_c, "°C"),
                f" by night: each of {len(computed)} ways that were computed misses one of them.",
            ),
            ("A room of another temperature, or a larger enclosure, leaves more between the two.",),
            True,
        )
        return


def _misses_of(computed: Iterable[Evaluation]) -> list[Check]:
    """Each need that is missed on a side by some way, once."""
    found = {
        (c.id, c.status): c
        for one in computed
        for c in one.checks
        if c.required and c.status in ("low", "high")
    }
    return list(found.values())


def excluded_by(first: Check, computed: Sequence[Evaluation]) -> Check | None:
    """The need that every way misses that meets the first, and whose help harms it.

    Parameters
    ----------
    first : Check
        A check that is missed, on the side of its status.
    computed : Sequence[Evaluation]
        The best of every arrangement that was searched.

    Returns
    -------
    Check or None
        The one that fewest ways miss; None where there is none.
    """
    left = [one for one in computed if not misses(one, first)]
    against = [
        other
        for other in _misses_of(computed)
        if _against(first, other) and left and all(misses(one, other) for one in left)
    ]
    return min(against, key=lambda other: sum(misses(one, other) for one in computed), default=None)


def _against(first: Check, second: Check) -> bool:
    """Whether what helps one need of warmth or moisture harms another: one too low, one too high."""
    kinds = {first.need.quantity, second.need.quantity}
    return first.id != second.id and first.status != second.status and kinds <= set(OPPOSED)


def wanted(check: Check) -> Phrase:
    """A need in words, such as "cool end air of at most 26 °C".

    Parameters
    ----------
    check : Check
        The need, missed on a side.

    Returns
    -------
    Phrase
        With the limit of that side.
    """
    need = check.need
    name = figure_name(need.place, check.place_label, need.quantity)
    limit = need.low if check.status == "low" else need.high
    side = " of at least " if check.status == "low" else " of at most "
    return (f"{name}{side}", measure_of(need.quantity, limit or 0.0))


def misses(evaluation: Evaluation, check: Check) -> bool:
    """Whether an evaluation misses a need on the same side.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    check : Check
        The need, missed on a side.

    Returns
    -------
    bool
        True where its status is the same.
    """
    same = next((c for c in evaluation.checks if c.id == check.id), None)
    return same is not None and same.status == check.status


def _place(need: Need) -> str:
    names = {"night": "Night", "cool_end": "Cool end", "lower": "Lower perches", "water": "Water"}
    return names.get(need.place, need.place)
