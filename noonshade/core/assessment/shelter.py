"""Faults of shelter and space: hides, cover, the warm patch, the enclosure, company."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

import numpy as np

from noonshade.core.assessment.finding import Finding, FindingContext
from noonshade.core.heat.climate import Climate
from noonshade.core.light.exposure import UV_FREE_UVI
from noonshade.core.phrase import Measure
from noonshade.core.places import basking_patch, warm_side
from noonshade.core.plan import Branch, Hide, Leaves, Plan, Slab, Wall

# Open ground an animal that lives on the ground crosses without cover: this many body lengths, and at
# least this far, m. Estimates.
BARE_BODY_LENGTHS = 4.0
BARE_LEAST_M = 0.45
# A hide's opening lets a body through that is this share of its length wide. Estimate.
BODY_WIDTH_SHARE = 0.16
# Probes at the warm and the cool end must differ by this much for the animal to have a choice, K: air is
# nearly level in any enclosure (``docs/references.md``), so that it is what an animal sees that differs.
# Estimate.
LEAST_GRADIENT_K = 1.0
# Sides of an enclosure count as too small below this share of what is needed. Estimate.
BOX_SHARE = 0.95


def shelter_findings(context: FindingContext) -> Iterator[Finding]:
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
    yield from _hides(context.plan)
    yield from _cover(context.plan)
    yield from _patch(context)
    yield from _together(context)
    yield from _gradient(context)
    yield from _uv_everywhere(context)
    yield from _enclosure(context.plan)
    yield from _cohabitation(context)


def hides_at(plan: Plan, end: str) -> tuple[Hide, ...]:
    """Hides in the warm or the cool half; all of them where nothing heats one end.

    Parameters
    ----------
    plan : Plan
        The plan.
    end : str
        Which end.

    Returns
    -------
    tuple[Hide, ...]
        Hides in the warm or the cool half.
    """
    middle = plan.enclosure.length_m / 2
    left = (warm_side(plan) == "left") == (end == "warm")
    return tuple(h for h in plan.hides if (h.x_m <= middle) == left)


def shelters(plan: Plan) -> int:
    """Hides and blocks of leaves dense enough to vanish in.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    int
        The number of such places.
    """
    return len(plan.hides) + sum(isinstance(f, Leaves) and f.porosity <= 0.5 for f in plan.furnishings)


def _hides(plan: Plan) -> Iterator[Finding]:
    species = plan.animal.species
    climber = plan.animal.climbs and "ground" not in plan.animal.habits
    if plan.animal.digs and plan.substrate.depth_m >= 2.0 * plan.animal.back_height_m:
        return
    if climber or "aquatic" in plan.animal.habits:
        if shelters(plan) == 0:
            yield Finding(
                "no-cover:enclosure",
                "enclosure",
                "fault",
                ("There is neither a hide nor a block of leaves to vanish into.",),
                "An animal that cannot get out of sight stays on guard, eats badly and falls ill.",
            )
        return
    for end in ("warm", "cool"):
        if not hides_at(plan, end):
            yield Finding(
                f"no-hide:{end}",
                "enclosure",
                "fault",
                (f"There is no hide at the {end} end.",),
                "An insecure animal then chooses between safe and the right temperature.",
            )
    width = BODY_WIDTH_SHARE * plan.animal.body_length_m if species.group != "snake" else 0.0
    for hide in plan.hides:
        if hide.opening_width_m < width or hide.opening_height_m < plan.animal.back_height_m:
            yield Finding(
                f"opening:{hide.id}",
                hide.id,
                "fault",
                (
                    f"The opening of {hide.label} is ",
                    Measure(hide.opening_width_m, "m"),
                    " by ",
                    Measure(hide.opening_height_m, "m"),
                    ": the animal cannot get in.",
                ),
                "An opening just wider than the body feels safe; one it scrapes through wounds it.",
            )


def covered(plan: Plan) -> list[tuple[float, float]]:
    """Stretches of the length over which something offers cover from above, merged and rising.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    list[tuple[float, float]]
        Begin and end of each stretch, m, without overlaps.
    """
    back = plan.animal.back_height_m
    spans = []
    for item in plan.furnishings:
        if isinstance(item, Hide | Leaves) or (isinstance(item, Slab) and item.underside_m >= back):
            spans.append((item.x_m - item.length_m / 2, item.x_m + item.length_m / 2))
        elif isinstance(item, Branch):
            ends = sorted((item.start_m[0], item.end_m[0]))
            spans.append((ends[0], ends[1]))
    merged: list[tuple[float, float]] = []
    for low, high in sorted(spans):
        if merged and low <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(merged[-1][1], high))
        else:
            merged.append((low, high))
    return merged


def _cover(plan: Plan) -> Iterator[Finding]:
    if "ground" not in plan.animal.habits or plan.animal.species.group in ("tortoise",):
        return
    spans = covered(plan)
    limit = max(BARE_LEAST_M, BARE_BODY_LENGTHS * plan.animal.body_length_m)
    gaps = [(b[0] - a[1], a[1], b[0]) for a, b in itertools.pairwise(spans)]
    gap, begin, end = max(gaps, default=(0.0, 0.0, 0.0))
    if gap > limit:
        yield Finding(
            "bare:enclosure",
            "enclosure",
            "care",
            (
                "There is no cover on the way from ",
                Measure(begin, "m"),
                " to ",
                Measure(end, "m"),
                " from the left.",
            ),
            "Many animals do not cross open ground; a branch, cork or leaves make a path.",
        )


def _patch(context: FindingContext) -> Iterator[Finding]:
    plan = context.plan
    patch = basking_patch(context.day)
    basking = context.place("basking")
    body = plan.animal.body_length_m
    if patch is None or basking is None or "climbing" in plan.animal.habits:
        return
    side = min(patch.length_m, patch.width_m)
    if 0 < side < body and patch.area_m2 > 0:
        yield Finding(
            "patch:basking",
            plan.basking_slab.id if plan.basking_slab is not None else "enclosure",
            "fault",
            (
                "The patch of at least ",
                Measure(patch.above_c, "°C"),
                " is ",
                Measure(side, "m"),
                " across, shorter than the animal (",
                Measure(body, "m"),
                ").",
            ),
            "Part of the animal stays cold while a small spot burns: several weaker floods warm all of it.",
        )


def _together(context: FindingContext) -> Iterator[Finding]:
    """Heat at one place and UV at another."""
    plan = context.plan
    basking = context.place("basking")
    want = plan.animal.need("basking", "uvi")
    if basking is None or want is None or want.low is None or want.offered or basking.uvi_level is None:
        return
    if basking.uvi_level >= want.low or basking.surface_c is None:
        return
    best = float(np.max(np.where(context.ground.free, context.ground.uvi, 0.0), initial=0.0))
    if best >= max(want.low, 1.5 * basking.uvi_level):
        i, _ = np.unravel_index(
            int(np.argmax(np.where(context.ground.free, context.ground.uvi, 0.0))), context.ground.uvi.shape
        )
        yield Finding(
            "apart:uv",
            "enclosure",
            "fault",
            (
                "UV is strongest ",
                Measure(float(context.ground.x_m[i]), "m"),
                " from the left and heat ",
                Measure(basking.position_m[0], "m"),
                ": the animal cannot have both.",
            ),
            "Warmth draws it away from the UV it needs; hang the UV lamp where it basks.",
        )


def _gradient(context: FindingContext) -> Iterator[Finding]:
    plan = context.plan
    warm, cool = context.place("warm_end"), context.place("cool_end")
    wants = {n.place: n for n in plan.animal.needs if n.quantity == "air_temperature"}
    if warm is None or cool is None or not {"warm_end", "cool_end"} <= wants.keys():
        return
    species = plan.animal.species
    if species.heat != "needed" or species.is_cool_climate or "climbing" in plan.animal.habits:
        return
    difference = warm.probe_c - cool.probe_c
    if difference < LEAST_GRADIENT_K and context.day.power_w > 0:
        yield Finding(
            "gradient:enclosure",
            "enclosure",
            "care",
            (
                "The ends differ by only ",
                Measure(difference, "K"),
                ": the animal has no real choice.",
            ),
            "A longer enclosure, more vents at the cool end or less power give the animal a choice.",
        )


def _uv_everywhere(context: FindingContext) -> Iterator[Finding]:
    """UV above what any such animal should be able to reach."""
    species = context.plan.animal.species
    uvi, free = context.ground.uvi, context.ground.free
    strongest = float(np.max(np.where(free, uvi, 0.0), initial=0.0))
    for place in context.places:
        if place.uvi_facing is not None:
            strongest = max(strongest, place.uvi_facing)
    if strongest > species.most_uvi:
        yield Finding(
            "glare:enclosure",
            "enclosure",
            "danger",
            (
                "The animal can get to UV index ",
                Measure(strongest, "UVI"),
                f", above {species.most_uvi:g}.",
            ),
            "Such light burns eyes and skin, yours too: do not look into the lamp.",
            "veterinarian",
        )
    if species.uv == "avoided" and strongest > UV_FREE_UVI:
        yield Finding(
            "uv-avoided:enclosure",
            "enclosure",
            "fault",
            (f"This animal is kept without UV: {species.uv_reason}.",),
            "In doubt about UV, ask before the lamp goes in.",
            "veterinarian",
        )


def _enclosure(plan: Plan) -> Iterator[Finding]:
    want, enclosure = plan.animal.species.enclosure, plan.enclosure
    share = min(1.0, plan.animal.body_length_m / plan.animal.species.stage("adult").body_length_m)
    sides = [
        ("long", enclosure.length_m, want.length_m),
        ("deep", enclosure.depth_m, want.depth_m),
        ("high", enclosure.height_m, want.height_m),
    ]
    if enclosure.walls["top"] == Wall():
        # An open table is as high as the room.
        sides.pop()
    now = [s for s in sides if s[1] < BOX_SHARE * share * s[2]]
    grown = [s for s in sides if s[1] < BOX_SHARE * s[2]]
    if now:
        yield Finding(
            "box-small:now",
            "enclosure",
            "fault",
            ("The enclosure is too small for this animal: ", *_sides(now, share), "."),
            f"{want.grade}: {want.source}.",
        )
    elif grown:
        yield Finding(
            "box-small:adult",
            "enclosure",
            "note",
            ("The enclosure will be too small for the adult: ", *_sides(grown, 1.0), "."),
            f"{want.grade}: {want.source}.",
        )


def _sides(sides: list[tuple[str, float, float]], share: float) -> list[str | Measure]:
    parts: list[str | Measure] = []
    for name, has, wants in sides:
        parts += [
            ", " * bool(parts),
            Measure(has, "m"),
            f" {name}, ",
            Measure(share * wants, "m"),
            " asked",
        ]
    return parts


def basking_spots(plan: Plan, day: Climate) -> int | None:
    """How many animals find room on the warm patch, each its length apart; None without a basking spot.

    Parameters
    ----------
    plan : Plan
        The plan.
    day : Climate
        The climate of the day.

    Returns
    -------
    int | None
        How many animals find room on the warm patch, each its length apart.
    """
    if plan.basking_slab is None:
        return None
    patch, body = basking_patch(day), plan.animal.body_length_m
    if patch is None or patch.area_m2 <= 0:
        return 0
    along, across = max(patch.length_m, patch.width_m), min(patch.length_m, patch.width_m)
    return int(along / body) * max(1, int(across / body))


def _cohabitation(context: FindingContext) -> Iterator[Finding]:
    plan, count = context.plan, context.plan.animal.count
    if count < 2:
        return
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
