"""What is usually done for an enclosure and how often, from the animal, its stage and how it is kept.

How often is keepers' consensus where nothing else is said, and an estimate for any one animal: a start to
be changed. Doses of supplements are a veterinarian's business; what is listed here is how often the tub is
opened.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal
from zlib import crc32

from noonshade.core.assessment.checks import Check
from noonshade.core.care.recurrence import Rule, days_of, every
from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.evaluate import Evaluation
from noonshade.core.forecast import lamp_days_left
from noonshade.core.moisture.watering import LONGEST_DAYS, WaterUse
from noonshade.core.needs.species import Diet
from noonshade.core.phrase import clock
from noonshade.core.plan import Animal, Leaves, Plan

TaskKind = Literal[
    "water",
    "spot_clean",
    "full_clean",
    "substrate",
    "misting",
    "feeding",
    "dusting",
    "weighing",
    "readings",
    "lamp",
    "thermostat",
    "smoke_alarm",
    "residual_current",
    "timer",
    "arrival",
    "own",
]
UvState = Literal["met", "short", "none"]

# A pool of this area is part of the enclosure, and changed in part; smaller ones are dishes, m². Estimate.
POOL_M2 = 0.06
# Ground this deep is kept and topped up rather than changed, m. Estimate.
DEEP_M = 0.10
# Ground this wet with leaves in it is taken for a planted enclosure.
PLANTED_WETNESS = 0.25
# The longest interval a rule takes.
MOST_MONTHS = 120


@dataclass(frozen=True, slots=True)
class TaskProposal:
    """A task as it is usually done: ``rule`` is an RRULE, ``why`` what it is for and what to look at.

    ``first_in_days`` is from today to its first day, where that is known.
    """

    key: str
    kind: TaskKind
    title: str
    rule: str
    why: str
    after_done: bool = False
    first_in_days: int | None = None


def uv_state(checks: tuple[Check, ...]) -> UvState:
    """Whether the animal gets the UV it should at its basking spot, by prediction or as measured.

    Parameters
    ----------
    checks : tuple[Check, ...]
        The checks.

    Returns
    -------
    UvState
        ``none`` without UV, ``short`` if the check is low, else ``met``.
    """
    uv = next((v for v in checks if v.need.place == "basking" and v.need.quantity == "uvi"), None)
    if uv is None or uv.value is None or uv.value < 0.1:
        return "none"
    return "short" if uv.status == "low" else "met"


def propose_tasks(
    evaluation: Evaluation, hours: Mapping[str, float] | None = None
) -> tuple[TaskProposal, ...]:
    """Tasks that are usual for an enclosure; ``hours`` of fixtures override the plan's lamp hours.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.
    hours : Mapping[str, float] | None
        Hours the lamp has burned, or those by fixture.

    Returns
    -------
    tuple[TaskProposal, ...]
        Tasks that are usual for an enclosure.
    """
    plan = evaluation.plan
    known = hours or {}
    worn = replace(plan, fixtures=tuple(replace(f, hours=known.get(f.id, f.hours)) for f in plan.fixtures))
    return (*_all(worn, uv_state(evaluation.checks)), *_watering(evaluation.water))


def propose_room_tasks() -> tuple[TaskProposal, ...]:
    """What is done once for the whole room.

    Returns
    -------
    tuple[TaskProposal, ...]
        The proposed tasks, with their rules.
    """
    return (
        TaskProposal(
            "smoke-alarm",
            "smoke_alarm",
            "Press the smoke alarm's test button",
            every(1, "month"),
            "Lamps and heaters run while nobody looks. Change its battery when it asks, the alarm itself "
            "when its "
            "maker says.",
        ),
        TaskProposal(
            "residual-current",
            "residual_current",
            "Press the residual-current device's test button",
            every(6, "month"),
            "It must trip at once; all lamps go off, so set clocks and timers afterwards. If it does not "
            "trip: a "
            "qualified electrician, before anything else is done with water and mains.",
        ),
    )


def _all(plan: Plan, uv: UvState) -> Iterator[TaskProposal]:
    animal = plan.animal
    yield from _water(plan)
    yield from _feeding(animal)
    yield from _dusting(animal, uv)
    if plan.mistings:
        hours = ", ".join(clock(h) for h in sorted(h for m in plan.mistings for h in m.hours))
        yield TaskProposal(
            "misting",
            "misting",
            f"Mist, {hours}",
            every(1, "day"),
            "By hand, or look that the sprayer did and has water. It should dry again before the next "
            "time.",
        )
    yield from _cleaning(plan)
    yield _weighing(animal)
    yield TaskProposal(
        "readings",
        "readings",
        "Take a round of readings",
        every(3, "month"),
        "Lamps fade and rooms change; the round proposes the few readings that tell most.",
        after_done=True,
    )
    yield from _lamps(plan)
    if plan.thermostats:
        yield TaskProposal(
            "thermostat",
            "thermostat",
            "Test the thermostat: does it switch off?",
            every(1, "month"),
            "Warm the probe in the hand: the heater must go off within minutes, and on again when it "
            "cools. See "
            "that the probe is where the plan has it and has not slipped.",
        )


def lamp_key(fixture_id: str) -> str:
    """The key of the task that replaces a fixture's lamp.

    Parameters
    ----------
    fixture_id : str
        Id of the fixture.

    Returns
    -------
    str
        The key; the same for the same fixture.
    """
    return f"lamp-{crc32(fixture_id.encode()):08x}"


def _lamps(plan: Plan) -> Iterator[TaskProposal]:
    """New UV lamps at the end of the usual life of the old ones, by the hours of their timers."""
    for fixture, left in lamp_days_left(plan):
        ageing = fixture.lamp.ageing
        if ageing is None or not math.isfinite(left):
            continue
        months = round(ageing.life_h / fixture.hours_a_day(plan.photoperiod_h) / DAYS_PER_MONTH)
        yield TaskProposal(
            lamp_key(fixture.id),
            "lamp",
            f"Replace {fixture.label}",
            every(min(max(months, 1), MOST_MONTHS), "month"),
            "It may still look bright when most of its UV is gone. Lamp off and cold first; say so in the "
            "lamp register, and read UV again.",
            after_done=True,
            first_in_days=min(max(0, math.floor(left)), MOST_MONTHS * 28),
        )


def _water(plan: Plan) -> Iterator[TaskProposal]:
    pools = [w for w in plan.waters if w.length_m * w.width_m >= POOL_M2]
    dishes = [w for w in plan.waters if w not in pools]
    if dishes or not plan.waters:
        yield TaskProposal(
            "water",
            "water",
            "Fresh water in a clean dish" if dishes else "Offer water",
            every(1, "day"),
            "Scrub the dish with hot water; a film on it is where germs live.",
        )
    if pools:
        yield TaskProposal(
            "pool",
            "water",
            "Change a third of the pool",
            every(1, "week"),
            "With water of the same temperature; rinse the filter in pool water. No cable may lie where "
            "it gets wet.",
        )


def _feeding(animal: Animal) -> Iterator[TaskProposal]:
    diet, young = animal.species.diet, animal.stage != "adult"
    width = "prey no longer than its head is wide"
    for key, title, days, note in _meals(diet, young, animal):
        text = note.format(width=width)
        if animal.count > 1:
            text += f" {animal.count} share the enclosure: see that each eats; feed apart if one does not."
        yield TaskProposal(key, "feeding", title, every(days, "day"), text)


def _meals(diet: Diet | None, young: bool, animal: Animal) -> Iterator[tuple[str, str, int, str]]:
    insects = "{width}, as many as it takes in about ten minutes; take out what is left."
    greens = (
        "A heap as large as its shell or body of varied leaves, more fibre than fruit; clear away by night."
    )
    if animal.stage == "larva":
        yield "feed", "Feed the larva", 1, "Little and often; what is left spoils the water."
    elif diet == "insects":
        if animal.species.group == "invertebrate":
            yield "feed", "Feed", 3 if young else 7, "One or two, {width}; none around a moult."
        else:
            yield "feed", "Feed insects", 1 if young else 3, f"Varied and well fed themselves, {insects}"
    elif diet == "plants":
        yield "greens", "Greens", 1, greens
    elif diet == "plants and insects":
        yield "greens", "Greens", 1, greens
        yield "feed", "Feed insects", 1 if young else 4, f"Varied and well fed themselves, {insects}"
    elif diet == "fruit and insects":
        yield "mix", "Fruit mix", 2, "A spoonful, fresh in the evening; take it out after a day."
        yield "feed", "Feed insects", 3 if young else 7, f"Varied and well fed themselves, {insects}"
    elif diet == "rodents":
        yield (
            "feed",
            "Feed",
            7 if young else 14,
            "One animal, thawed and warm, no thicker than its body at the thickest. Do not handle it for "
            "two days. "
            "Not while it sheds.",
        )
    elif diet == "water animals":
        yield "feed", "Feed", 1 if young else 3, "Worms, snails, small fish or insects, {width}."
    elif diet == "litter":
        yield (
            "litter",
            "Leaf litter and rotten wood",
            14,
            "They eat the ground they live in: never let it run out.",
        )
    else:
        yield "feed", "Feed", 1 if young else 3, "What this species eats, and how much, by its care sheet."


def _dusting(animal: Animal, uv: UvState) -> Iterator[TaskProposal]:
    diet, young = animal.species.diet, animal.stage != "adult"
    if diet not in ("insects", "plants", "plants and insects", "fruit and insects"):
        return
    if animal.species.group == "invertebrate" or animal.stage == "larva":
        return
    budget = (
        "Vitamin D₃ in food and UVB in light are one budget: too much harms as too little does. A "
        "veterinarian who "
        "knows reptiles says how much; a reading with a UV meter says what the light gives."
    )
    yield TaskProposal(
        "calcium",
        "dusting",
        "Plain calcium on the food",
        every(1 if young else 3, "day"),
        "A thin veil, without vitamin D₃.",
    )
    weeks, seen = {
        "met": (4, "By this plan its light gives the UVB it needs, so seldom"),
        "short": (
            2,
            "By this plan its light gives less UVB than it needs: fix that first; this often till then",
        ),
        "none": (1, "This plan has no UVB at its place, so the food must bring it"),
    }[uv]
    yield TaskProposal(
        "d3",
        "dusting",
        "Calcium with vitamin D₃ on one meal",
        every(weeks, "week"),
        f"{seen}. {budget}",
    )
    yield TaskProposal(
        "vitamins",
        "dusting",
        "Multivitamin on one meal",
        every(2, "week"),
        f"Not on the day of the D₃; many hold D₃ themselves: read the label. {budget}",
    )


def _cleaning(plan: Plan) -> Iterator[TaskProposal]:
    moist = plan.substrate.wetness >= PLANTED_WETNESS
    planted = moist and any(isinstance(f, Leaves) for f in plan.furnishings)
    often = plan.animal.species.group in ("tortoise", "turtle", "frog") or plan.animal.count > 1
    yield TaskProposal(
        "spot-clean",
        "spot_clean",
        "Spot clean",
        every(1 if often else 2, "day"),
        "Droppings, skin, leftovers. Look the animal over while you are there; wash your hands after it "
        "(Salmonella).",
    )
    if planted:
        yield from _planted()
        return
    months = 3 if plan.substrate.depth_m >= DEEP_M else 1 if moist else 2
    yield TaskProposal(
        "full-clean",
        "full_clean",
        "Full clean and disinfect",
        every(months, "month"),
        "Everything out, hot water, a disinfectant that is safe for reptiles as long as it says, rinse, "
        "dry. Lamps off "
        "and cold first; nothing wet near a socket. Set hides and slab back by the drawing.",
        after_done=True,
    )
    if plan.substrate.depth_m >= DEEP_M:
        yield TaskProposal(
            "substrate",
            "substrate",
            "Loosen and top up the ground",
            every(1, "month"),
            "Keep its depth as planned: each centimetre more brings the animal nearer to the lamp.",
            after_done=True,
        )
    else:
        yield TaskProposal(
            "substrate",
            "substrate",
            "Change the ground",
            every(3, "month"),
            "Back to the depth of the plan: each centimetre more brings the animal nearer to the lamp.",
            after_done=True,
        )


def _planted() -> Iterator[TaskProposal]:
    """A planted enclosure is not disinfected: what lives in its ground cleans it."""
    yield TaskProposal(
        "renew-ground",
        "substrate",
        "Renew a third of the litter and of the ground's top",
        every(6, "month"),
        "Not all at once, and without a disinfectant: springtails, isopods and roots live in it and clean "
        "it. Glass and water dish with hot water. After an illness everything comes out: ask a "
        "veterinarian who knows reptiles.",
        after_done=True,
    )
    yield TaskProposal(
        "crew",
        "substrate",
        "Look after springtails and isopods",
        every(1, "month"),
        "Turn a leaf where it is damp: are there any? Give dry leaves. Mould that stays is too wet or too "
        "little air; no crew is too dry.",
        after_done=True,
    )


def _watering(uses: tuple[WaterUse, ...]) -> Iterator[TaskProposal]:
    """Damp ground and zones, as often as they dry by prediction; pools are seen to with the water."""
    for use in uses:
        if use.kind == "pool" or use.every_days is None or use.pour_l is None:
            continue
        what = "the ground" if use.kind == "ground" else f"“{use.label}”"
        title = f"Water {what}: about {_water_text(use.pour_l)}"
        if use.every_days >= LONGEST_DAYS:
            title = f"Look whether {what} is still damp"
        yield TaskProposal(
            f"watering-{use.id}",
            "substrate",
            title,
            every(max(1, round(use.every_days)), "day"),
            f"It loses about {_water_text(use.short_l_day)} a day by prediction, more in a dry room. Feel "
            "it first; pour slowly, away from lamps and sockets, and let the surface dry before the next "
            "time.",
            after_done=True,
        )


def _water_text(litres: float) -> str:
    """Water to two digits, in millilitres below a litre."""
    rounded = float(f"{litres:.2g}")
    return f"{rounded:.1f} L" if rounded >= 1.0 else f"{1000 * rounded:.0f} ml"


def _weighing(animal: Animal) -> TaskProposal:
    young = animal.stage != "adult"
    slow = animal.species.group in ("snake", "invertebrate", "tortoise")
    if young:
        rule = every(1, "week")
    elif animal.species.group == "invertebrate":
        rule = every(2, "month")
    else:
        rule = every(4 if slow else 2, "week")
    return TaskProposal(
        "weighing",
        "weighing",
        "Weigh",
        rule,
        "At the same hour, before food. A tenth less within two months is a matter for a veterinarian.",
    )


def first_day(proposal: TaskProposal, enclosure: str, today: date) -> date:
    """The day a usual task begins on when it is taken up.

    Daily ones today; what is done by the day after it was last done, an interval from now, since an
    enclosure that is taken up is fresh; others spread over their interval, so that not all enclosures are
    weighed on one day.

    Parameters
    ----------
    proposal : TaskProposal
        The proposed task.
    enclosure : str
        Id of the enclosure.
    today : date
        The day it is.

    Returns
    -------
    date
        The first day it is due.
    """
    if proposal.first_in_days is not None:
        return today + timedelta(days=proposal.first_in_days)
    second = days_of(Rule(proposal.rule, today), today + timedelta(days=1), today + timedelta(days=400), 1)
    interval = (second[0] - today).days if second else 1
    if proposal.after_done:
        return today + timedelta(days=interval)
    return today + timedelta(days=crc32(f"{enclosure} {proposal.key}".encode()) % min(interval, 28))
