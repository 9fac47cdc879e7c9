"""Faults of shelter and space: hides, cover, perches, ground, the warm patch, the enclosure."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from noonshade.core.assessment.checks import gradient_k
from noonshade.core.assessment.finding import Finding, FindingContext
from noonshade.core.assessment.reach import can_be_climbed
from noonshade.core.heat.climate import Climate
from noonshade.core.light.exposure import UV_FREE_UVI
from noonshade.core.needs.derived import GRADIENT_K
from noonshade.core.phrase import Measure, named, named_first
from noonshade.core.places import basking_patch, warm_side
from noonshade.core.places.perches import perch_points
from noonshade.core.places.surfaces import GROUND
from noonshade.core.plan import Animal, Background, Branch, Hide, Leaves, Plan, Slab, Wall

# Open ground an animal that lives on the ground crosses without cover: this many body lengths, and at
# least this far, m. Estimates.
BARE_BODY_LENGTHS = 4.0
BARE_LEAST_M = 0.45
# A hide's opening lets a body through that is this share of its length wide. Estimate.
BODY_WIDTH_SHARE = 0.16
# A snake lies in coils this share of its length across. Estimate.
COIL_SHARE = 0.22
# The room under a slab is a hide up to this many times the height of the animal's back, and one for animals
# that want to be touched up to so many. Estimates.
SLAB_HIDE_BACKS, SNUG_BACKS = 4.0, 3.0
# The patch an animal lies on may be cooler than its need by so much at its edge, K: half of what a range of
# surface temperatures is wide at least.
PATCH_SLACK_K = 2.0
# The thinnest perch an animal rests on at ease, as a share of its body's width. Estimate.
PERCH_SHARE = 0.5
# The room above what an animal sits on, as a share of the height of its back. Estimate.
HEADROOM_SHARE = 1.2
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
    yield from _perches(context.plan)
    yield from _headroom(context.plan)


@dataclass(frozen=True, slots=True)
class Shelter:
    """Something to hide in: a hide, or the room under a slab. Inner sizes in m."""

    id: str
    label: str
    x_m: float
    length_m: float
    width_m: float
    height_m: float
    is_hide: bool


def shelters_of(plan: Plan) -> tuple[Shelter, ...]:
    """Hides, and slabs an animal fits under with little room above its back.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[Shelter, ...]
        In plan order.
    """
    back, body = plan.animal.back_height_m, resting_length_m(plan.animal)
    found = []
    for item in plan.furnishings:
        if isinstance(item, Hide):
            inside = (item.length_m - 2 * item.wall_m, item.width_m - 2 * item.wall_m)
            tall = item.height_m - item.wall_m
            found.append(Shelter(item.id, item.label, item.x_m, *inside, tall, True))
        elif isinstance(item, Slab) and back <= item.underside_m <= SLAB_HIDE_BACKS * back + 0.02:
            # What it stands on takes some of the room.
            stack = 0.0 if item.stack is None else item.stack.length_m
            if max(item.length_m - stack, item.width_m) >= body:
                sizes = (item.length_m - stack, item.width_m, item.underside_m)
                found.append(Shelter(item.id, f"Under {item.label}", item.x_m, *sizes, False))
    return tuple(found)


def hides_at(plan: Plan, end: str) -> tuple[Shelter, ...]:
    """Hides, slabs to hide under among them, in the warm or the cool half.

    Parameters
    ----------
    plan : Plan
        The plan.
    end : str
        'warm' or 'cool'.

    Returns
    -------
    tuple[Shelter, ...]
        Those of that half; where nothing heats one end, the left half counts as warm.
    """
    middle = plan.enclosure.length_m / 2
    left = (warm_side(plan) == "left") == (end == "warm")
    return tuple(h for h in shelters_of(plan) if (h.x_m <= middle) == left)


def shelters(plan: Plan) -> int:
    """Hides, slabs to hide under, and blocks of leaves dense enough to vanish in.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    int
        The number of such places.
    """
    leaves = sum(isinstance(f, Leaves) and f.porosity <= 0.5 for f in plan.furnishings)
    return len(shelters_of(plan)) + leaves


def resting_length_m(animal: Animal) -> float:
    """How long an animal lies: a snake in coils, others stretched, m.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    float
        The length, m.
    """
    coiled = animal.species.group == "snake"
    return COIL_SHARE * animal.body_length_m if coiled else animal.body_length_m


def body_width_m(animal: Animal) -> float:
    """How wide its body is: as it is high for a snake, a share of its length for others, m.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    float
        The width, m.
    """
    if animal.species.group == "snake":
        return animal.back_height_m
    return BODY_WIDTH_SHARE * animal.body_length_m


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
    yield from _roomy(plan)
    width = BODY_WIDTH_SHARE * plan.animal.body_length_m if species.group != "snake" else 0.0
    for hide in plan.hides:
        if hide.opening_width_m < width or hide.opening_height_m < plan.animal.back_height_m:
            yield Finding(
                f"opening:{hide.id}",
                hide.id,
                "fault",
                (
                    f"The opening of {named(hide.label)} is ",
                    Measure(hide.opening_width_m, "m"),
                    " by ",
                    Measure(hide.opening_height_m, "m"),
                    ": the animal cannot get in.",
                ),
                "An opening just wider than the body feels safe; one it scrapes through wounds it.",
            )


def _roomy(plan: Plan) -> Iterator[Finding]:
    """No hide that touches an animal that wants to be touched."""
    found = shelters_of(plan)
    most = SNUG_BACKS * plan.animal.back_height_m + 0.01
    if not plan.animal.species.likes_contact or not found or any(h.height_m <= most for h in found):
        return
    least = min(found, key=lambda h: h.height_m)
    yield Finding(
        f"roomy:{least.id}",
        least.id,
        "care",
        (
            f"{named_first(least.label)} is ",
            Measure(least.height_m, "m"),
            " high inside, and no hide is lower: this animal feels safe only where its back touches.",
        ),
        "Give it one tight hide at each end, no higher than three times its back.",
    )


def _perches(plan: Plan) -> Iterator[Finding]:
    if not plan.animal.lives_by_height:
        return
    branches = [f for f in plan.furnishings if isinstance(f, Branch)]
    if not perch_points(plan):
        climbable = any(can_be_climbed(plan, face) for face in ("front", "back", "left", "right"))
        if not climbable:
            yield Finding(
                "no-perch:enclosure",
                "enclosure",
                "fault",
                ("There is nothing to climb: no branch, ledge or climbable wall.",),
                "A climber on the ground stays on guard and cannot choose its warmth.",
            )
        return
    ledges = any(isinstance(f, Slab | Background) for f in plan.furnishings)
    width = body_width_m(plan.animal)
    if branches and not ledges and all(f.diameter_m < PERCH_SHARE * width for f in branches):
        thickest = max(branches, key=lambda f: f.diameter_m)
        yield Finding(
            f"perch-thin:{thickest.id}",
            thickest.id,
            "fault" if plan.animal.species.group == "snake" else "care",
            (
                "The thickest perch is ",
                Measure(thickest.diameter_m, "m"),
                " across, and the animal's body ",
                Measure(width, "m"),
                ".",
            ),
            "It rests with strain: perches about as thick as the body.",
        )


def _headroom(plan: Plan) -> Iterator[Finding]:
    if plan.enclosure.walls["top"] == Wall():
        return
    least = HEADROOM_SHARE * plan.animal.back_height_m
    for slab in plan.basking_slabs:
        gap = plan.enclosure.height_m - plan.top_of(slab)
        if gap < least:
            yield Finding(
                f"headroom:{slab.id}",
                slab.id,
                "fault",
                (
                    f"Between {named(slab.label)} and the lid are ",
                    Measure(gap, "m"),
                    ", and the animal is ",
                    Measure(plan.animal.back_height_m, "m"),
                    " high.",
                ),
                "It cannot sit there, or presses its back against a hot lid: lower the basking spot.",
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
    wanted = plan.animal.need("basking", "surface_temperature")
    basking = context.place("basking")
    if wanted is None or wanted.low is None or basking is None or "climbing" in plan.animal.habits:
        return
    patch = basking_patch(context.day, wanted.low - PATCH_SLACK_K, basking.thing_id)
    if patch is None:
        return
    side, body = min(patch.length_m, patch.width_m), resting_length_m(plan.animal)
    if 0 < side < body and patch.area_m2 > 0:
        yield Finding(
            "patch:basking",
            "enclosure" if basking.thing_id == GROUND else basking.thing_id,
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
    on_ground = np.where(context.uv.free, context.uv.uvi, 0.0)
    best = float(np.max(on_ground, initial=0.0))
    if best >= max(want.low, 1.5 * basking.uvi_level):
        i, _ = np.unravel_index(int(np.argmax(on_ground)), on_ground.shape)
        yield Finding(
            "apart:uv",
            "enclosure",
            "fault",
            (
                "UV is strongest ",
                Measure(float(context.uv.x_m[i]), "m"),
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
    if species.heat != "needed" or species.is_cool_climate or plan.animal.lives_by_height:
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
                ": the animal has no real choice."
                if gradient_k(context.places) < GRADIENT_K
                else ": only the warm spot itself is warmer.",
            ),
            "A longer enclosure, more vents at the cool end or less power give the animal a choice.",
        )


def _uv_everywhere(context: FindingContext) -> Iterator[Finding]:
    """UV above what any such animal should be able to reach."""
    species = context.plan.animal.species
    strongest, harmful = context.uv.strongest, context.plan.animal.harmful_uvi
    for place in context.places:
        if place.uvi_facing is not None:
            strongest = max(strongest, place.uvi_facing)
    if strongest > harmful:
        yield Finding(
            "glare:enclosure",
            "enclosure",
            "danger",
            (
                "The animal can get to UV index ",
                Measure(strongest, "UVI"),
                f", above {harmful:g}.",
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
    species, enclosure = plan.animal.species, plan.enclosure
    adult, now_wanted = species.enclosure, species.enclosure_at(plan.animal.stage)
    # More than is usual at its stage, for one that is longer than is usual.
    usual = species.stage(plan.animal.stage).body_length_m
    longer = max(1.0, math.sqrt(plan.animal.body_length_m / usual))
    sides = [
        ("long", enclosure.length_m, now_wanted.length_m, adult.length_m),
        ("deep", enclosure.depth_m, now_wanted.depth_m, adult.depth_m),
        ("high", enclosure.height_m, now_wanted.height_m, adult.height_m),
    ]
    if enclosure.walls["top"] == Wall():
        # An open table is as high as the room.
        sides.pop()
    now = [(name, has, min(longer * wants, most)) for name, has, wants, most in sides]
    now = [s for s in now if s[1] < BOX_SHARE * s[2]]
    grown = [(name, has, most) for name, has, _, most in sides if has < BOX_SHARE * most]
    if now:
        yield Finding(
            "box-small:now",
            "enclosure",
            "fault",
            ("The enclosure is too small for this animal: ", *_sides(now), "."),
            f"{now_wanted.grade}: {now_wanted.source}.",
        )
    elif grown:
        yield Finding(
            "box-small:adult",
            "enclosure",
            "note",
            ("The enclosure will be too small for the adult: ", *_sides(grown), "."),
            f"{adult.grade}: {adult.source}.",
        )


def _sides(sides: list[tuple[str, float, float]]) -> list[str | Measure]:
    parts: list[str | Measure] = []
    for name, has, wants in sides:
        parts += [
            ", " * bool(parts),
            Measure(has, "m"),
            f" {name}, ",
            Measure(wants, "m"),
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
    wanted = plan.animal.need("basking", "surface_temperature")
    above = None if wanted is None or wanted.low is None else wanted.low - PATCH_SLACK_K
    patch, body = basking_patch(day, above), resting_length_m(plan.animal)
    if patch is None or patch.area_m2 <= 0:
        return 0
    along, across = max(patch.length_m, patch.width_m), min(patch.length_m, patch.width_m)
    return int(along / body) * max(1, int(across / body))
