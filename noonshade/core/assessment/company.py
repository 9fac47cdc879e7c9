"""Faults of company: animals that must not share, rivals, unequal sizes, more than the plan counts."""

from __future__ import annotations

from collections.abc import Iterator

from noonshade.core.assessment.finding import Finding, FindingContext
from noonshade.core.assessment.shelter import basking_spots, shelters
from noonshade.core.phrase import Measure, one_of
from noonshade.core.plan import Plan

# The larger may be so many times as long as the smaller: beyond, it takes the best places, flips the other
# or eats it. Estimates: for those that only rival, and for those that take prey of that size.
UNEQUAL, PREY = 1.3, 1.6
_EATS_SMALLER = ("snake", "frog", "salamander", "invertebrate")


def company_findings(context: FindingContext) -> Iterator[Finding]:
    """All of them.

    Parameters
    ----------
    context : FindingContext
        What the findings are drawn from.

    Yields
    ------
    Finding
        All of them.
    """
    plan = context.plan
    yield from _counted(plan)
    if plan.animal.count < 2:
        return
    yield from _by_rule(plan)
    yield from _unequal(plan)
    yield from _room_for_each(context)


def _finding(kind: str, severity: str, message: str, caution: str) -> Finding:
    return Finding(f"{kind}:enclosure", "enclosure", severity, (message,), caution)  # type: ignore[arg-type]


def _counted(plan: Plan) -> Iterator[Finding]:
    known, count = len(plan.animal.members), plan.animal.count
    if known > count:
        yield _finding(
            "too-many",
            "fault",
            f"{known} animals are listed, and the plan is made for {count}.",
            "Plan for all of them: basking, refuges and space are counted for each.",
        )


def _by_rule(plan: Plan) -> Iterator[Finding]:
    animal = plan.animal
    company, name = animal.species.company, one_of(animal.species.common_name)
    males = sum(m.sex == "male" for m in animal.members)
    females = sum(m.sex == "female" for m in animal.members)
    rule = "alone" if company is None else company.rule
    if rule == "alone":
        yield _finding(
            "company-alone",
            "fault",
            f"{animal.count} animals share an enclosure, and {name} is kept alone.",
            "The stronger takes the warmth and the food; the weaker starves in silence or is wounded.",
        )
    if males > 1 and rule != "groups":
        yield _finding(
            "company-males",
            "danger",
            f"{males} males share an enclosure: they fight, and one may be killed.",
            "Part them now; out of sight of each other.",
        )
    if males and females and rule == "females":
        yield _finding(
            "company-male",
            "fault",
            "A male lives with females, and never lets them rest.",
            "Keep the females by themselves.",
        )
    if rule == "pairs" and animal.count > 2:
        yield _finding(
            "company-pairs",
            "fault",
            f"{animal.count} animals share an enclosure, and {name} is kept alone or as a pair.",
            "A third animal is driven off or killed.",
        )
    if company is not None and company.season and males and females:
        yield _finding(
            "company-season",
            "care",
            "Male and female are put together only in the breeding season.",
            "Part them afterwards; a spare enclosure stands ready.",
        )
    if rule in ("one male", "females", "pairs") and len(animal.members) < animal.count:
        yield _finding(
            "company-sexes",
            "care",
            "The plan does not say which sex each animal is, and that decides who may live together.",
            "List the animals with sex and size.",
        )


def _unequal(plan: Plan) -> Iterator[Finding]:
    sizes = [m.body_length_m for m in plan.animal.members if m.body_length_m is not None]
    if len(sizes) < 2 or max(sizes) <= UNEQUAL * min(sizes):
        return
    eaten = plan.animal.species.group in _EATS_SMALLER and max(sizes) > PREY * min(sizes)
    yield Finding(
        "company-sizes:enclosure",
        "enclosure",
        "danger" if eaten else "fault",
        (
            "The largest animal is ",
            Measure(max(sizes), "m"),
            " long and the smallest ",
            Measure(min(sizes), "m"),
            ": the small one is eaten." if eaten else ": the small one goes without.",
        ),
        "Keep animals of one size together, or each alone.",
    )


def _room_for_each(context: FindingContext) -> Iterator[Finding]:
    plan, count = context.plan, context.plan.animal.count
    fits, slab = basking_spots(plan, context.day), plan.basking_slab
    if slab is not None and fits is not None and fits < count:
        yield Finding(
            "cohabitation:basking",
            slab.id,
            "fault",
            (f"{count} animals share a basking spot for {max(fits, 1)}: the weaker goes without.",),
            "Give each its own basking spot in sight of none of the others, or keep them apart.",
        )
    if shelters(plan) < count:
        yield Finding(
            "cohabitation:hides",
            "enclosure",
            "fault",
            (f"{count} animals have {shelters(plan)} refuges; each needs its own at both ends.",),
            "Keep a spare enclosure ready for the day they must be parted.",
        )
