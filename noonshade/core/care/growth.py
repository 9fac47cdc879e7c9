"""How an animal grows, and when its enclosure stops fitting it.

Length follows the curve of von Bertalanffy, L(t) = A − (A − L₀) exp(−k t), from a hatchling to the adult's
usual length A. k follows from how long such animals take to be grown; measured lengths put the animal on
the curve where it is, and two or more of them say how fast it goes for this one.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.errors import ConvergenceError, PlanError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.needs.species import Group, Species
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.plan import Animal, Branch, Plan

# Months from hatching to 95 % of the adult's length, by group. Estimates: keepers' usual figures; feeding
# and warmth make a factor of about one and a half either way.
GROWN_MONTHS: dict[Group, float] = {
    "lizard": 14.0,
    "gecko": 15.0,
    "snake": 40.0,
    "tortoise": 130.0,
    "turtle": 80.0,
    "frog": 14.0,
    "salamander": 24.0,
    "invertebrate": 40.0,
}
PACE = 1.5
# The limits within which measured lengths may change the pace: what lies outside is a slip of the ruler.
SLOWEST, FASTEST = 0.3, 3.0
# A hatchling's length against that of the young stage, or against the adult's where there is none.
# Estimates.
HATCHLING_OF_YOUNG, HATCHLING_OF_ADULT = 0.8, 0.35
# From this share of the adult's length on it lives, and needs, as an adult. Estimate.
ADULT_SHARE = 0.75
# Counted as grown from here on.
GROWN_SHARE = 0.97
# A perch carries an animal whose body is this many times as long as the perch is thick, at most. Estimate.
PERCH_LENGTHS = 9.0
STEPS = 6

Evidence = Literal["measured", "age", "plan"]


@dataclass(frozen=True, slots=True)
class Growth:
    """An animal on its curve: how long it is on a day, and how sure its pace is.

    ``rate`` is k in 1/day; ``spread`` the factor by which it may be faster or slower.
    """

    adult_m: float
    today: date
    length_m: float
    rate: float
    spread: float
    basis: Evidence

    @property
    def grown(self) -> bool:
        """Whether it has its adult length, or next to it."""
        return self.length_m >= GROWN_SHARE * self.adult_m

    def length_on(self, day: date, pace: float = 1.0) -> float:
        """Its length on a day from today on, at a pace against the most likely one, m.

        Parameters
        ----------
        day : date
            The day.
        pace : float
            How fast it grows against the usual.

        Returns
        -------
        float
            The length, m, never above that of an adult.
        """
        left = max(0.0, self.adult_m - self.length_m)
        return self.adult_m - left * math.exp(-self.rate * pace * max(0, (day - self.today).days))

    def day_of(self, length_m: float, pace: float = 1.0) -> date | None:
        """The day it has grown to a length; None where it does not get that long.

        Parameters
        ----------
        length_m : float
            Length, m.
        pace : float
            How fast it grows against the usual.

        Returns
        -------
        date | None
            The day it has grown to a length.
        """
        if length_m <= self.length_m:
            return self.today
        if length_m >= self.adult_m:
            return None
        ratio = (self.adult_m - self.length_m) / (self.adult_m - length_m)
        return self.today + timedelta(days=math.ceil(math.log(ratio) / (self.rate * pace)))


def hatchling_m(species: Species) -> float:
    """Length of a hatchling, m.

    Parameters
    ----------
    species : Species
        The species.

    Returns
    -------
    float
        The length, m, snout to vent or of the shell.
    """
    adult = species.stage("adult").body_length_m
    young = next((s for s in species.stages if s.id == "young"), None)
    return HATCHLING_OF_ADULT * adult if young is None else HATCHLING_OF_YOUNG * young.body_length_m


def usual_rate(species: Species) -> float:
    """k of the curve in 1/day: grown to 95 % in the time such animals take.

    Parameters
    ----------
    species : Species
        The species.

    Returns
    -------
    float
        k of the curve in 1/day.
    """
    adult = species.stage("adult").body_length_m
    days = GROWN_MONTHS[species.group] * DAYS_PER_MONTH
    return math.log((adult - hatchling_m(species)) / (0.05 * adult)) / days


def predict_growth(
    animal: Animal,
    today: date,
    measured: Sequence[tuple[date, float]] = (),
    hatched_on: date | None = None,
) -> Growth:
    """Put an animal on its curve.

    Parameters
    ----------
    animal : Animal
        Of the plan; its length counts where nothing better is known.
    today : date
        The day the prediction is made.
    measured : sequence of (date, float)
        Lengths in m, in any order; those after today are ignored.
    hatched_on : date, optional
        The day it hatched, if known.

    Returns
    -------
    Growth
        The curve from its present length on, with its spread.
    """
    species = animal.species
    longest = max((m for _, m in measured), default=animal.body_length_m)
    # An animal that is longer than usual has grown to more than the usual.
    adult = max(species.stage("adult").body_length_m, longest, animal.body_length_m)
    rate, spread = usual_rate(species), PACE
    known = sorted((day, length) for day, length in measured if day <= today)
    if known:
        day, length = known[-1]
        rate, spread = _paced(known, adult, rate)
        left = max(0.0, adult - length)
        now = adult - left * math.exp(-rate * (today - day).days)
        return Growth(adult, today, now, rate, spread, "measured")
    if hatched_on is not None and hatched_on <= today:
        start = hatchling_m(species)
        now = adult - (adult - start) * math.exp(-rate * (today - hatched_on).days)
        return Growth(adult, today, now, rate, spread, "age")
    return Growth(adult, today, animal.body_length_m, rate, spread, "plan")


def _paced(known: Sequence[tuple[date, float]], adult: float, rate: float) -> tuple[float, float]:
    """The pace that first and last length say, where they are far enough apart to say any."""
    (first, a), (last, b) = known[0], known[-1]
    days = (last - first).days
    # Differences of a few per cent are the ruler's.
    if days < 28 or b - a < 0.03 * adult or b >= GROWN_SHARE * adult:
        return rate, PACE
    found = math.log((adult - a) / (adult - b)) / days
    return min(max(found, SLOWEST * rate), FASTEST * rate), math.sqrt(PACE)


def grown_to(plan: Plan, length_m: float) -> Plan:
    """The plan with its animal at a length: its back as much higher, its stage that of the length.

    Parameters
    ----------
    plan : Plan
        The plan.
    length_m : float
        Length, m.

    Returns
    -------
    Plan
        The plan.
    """
    animal = plan.animal
    adult = animal.species.stage("adult")
    stage = "adult" if length_m >= ADULT_SHARE * adult.body_length_m else animal.stage
    shape = animal.species.stage(stage)
    back = shape.back_height_m * length_m / shape.body_length_m
    return replace(plan, animal=replace(animal, body_length_m=length_m, back_height_m=back, stage=stage))


@dataclass(frozen=True, slots=True)
class Milestone:
    """Something that stops fitting, at which length and between which days; None: never."""

    id: str
    description: Phrase
    length_m: float
    day: date | None
    earliest: date | None
    latest: date | None


def find_milestones(
    plan: Plan, course: Growth, progress: Callable[[int], None] | None = None
) -> tuple[Milestone, ...]:
    """When parts of an enclosure stop fitting the growing animal, by the full model, earliest first.

    ``progress`` is called with the number of lengths looked at.

    Parameters
    ----------
    plan : Plan
        The plan.
    course : Growth
        The predicted growth.
    progress : Callable[[int], None] | None
        Called with how much is done.

    Returns
    -------
    tuple[Milestone, ...]
        The milestones with their length, m, and the likely, earliest and latest day.
    """
    if course.grown:
        return ()
    lengths = [course.length_m + (course.adult_m - course.length_m) * i / STEPS for i in range(STEPS + 1)]
    failing = [_failing(plan, lengths[0])]
    found: dict[str, tuple[float, Phrase]] = {}
    for i, length in enumerate(lengths[1:], 1):
        failing.append(_failing(plan, length))
        if progress is not None:
            progress(i)
        for key, phrase in failing[i].items():
            if key not in failing[0] and key not in found:
                found[key] = (_where(plan, key, lengths[i - 1], length), phrase)
    ordered = sorted(found.items(), key=lambda item: item[1][0])
    return tuple(
        Milestone(
            key,
            phrase,
            length,
            course.day_of(length),
            course.day_of(length, course.spread),
            course.day_of(length, 1.0 / course.spread),
        )
        for key, (length, phrase) in ordered
    )


def _where(plan: Plan, key: str, low: float, high: float) -> float:
    """The length at which something stops fitting, between one that fits and one that does not."""
    for _ in range(2):
        middle = (low + high) / 2
        low, high = (low, middle) if key in _failing(plan, middle) else (middle, high)
    return high


def _failing(plan: Plan, length_m: float) -> dict[str, Phrase]:
    """What fails for an animal of a length, by id, in words."""
    there = grown_to(plan, length_m)
    try:
        result = evaluate(there)
    except (PlanError, ConvergenceError) as error:
        return {"plan": (str(error),)}
    found = {one.id: _said(one) for one in result.failing}
    found.update(_perches(result))
    return found


def _said(one: Check | Finding) -> Phrase:
    if isinstance(one, Finding):
        return one.message
    what = one.need.quantity.replace("_", " ")
    return (
        f"{one.place_label}: {what} {'too low' if one.status == 'low' else 'too high'}. ",
        *one.reason,
    )


def _perches(result: Evaluation) -> Iterator[tuple[str, Phrase]]:
    plan = result.plan
    branches = [f for f in plan.furnishings if isinstance(f, Branch)]
    if not plan.animal.climbs or not branches or plan.animal.species.group == "snake":
        return
    thickest = max(b.diameter_m for b in branches)
    if plan.animal.body_length_m > PERCH_LENGTHS * thickest:
        yield (
            "perch:thin",
            (
                "No branch is thicker than ",
                Measure(thickest, "m"),
                ": it wants a perch as broad as its body.",
            ),
        )
