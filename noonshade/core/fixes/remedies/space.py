"""Repairs of shelter and space: hides, leaves, vents, the enclosure."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.shelter import covered
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Add, Candidate, Change
from noonshade.core.fixes.remedies.edits import with_item
from noonshade.core.phrase import Measure, Phrase, named
from noonshade.core.places import warm_side
from noonshade.core.plan import (
    Branch,
    Hide,
    Leaves,
    Plan,
    Slab,
    SolidMaterial,
    Vent,
    Water,
)

# Cork bark, of which hides and ledges that are proposed are made. ISO 10456 for cork; optics estimate.
CORK = SolidMaterial(
    "cork",
    "Cork bark",
    0.05,
    150.0,
    1560.0,
    0.75,
    0.0,
    0.92,
    0.03,
    "ISO 10456 for cork; optics estimate",
    visible=0.18,
)
FOLIAGE = SolidMaterial(
    "foliage",
    "Foliage",
    0.10,
    200.0,
    3000.0,
    0.5,
    0.0,
    0.95,
    0.03,
    "estimate: living leaves; UVB reflectance about 0.03",
    visible=0.10,
)
# Free area of a vent that is proposed, m². Estimate: a row of small holes or a plastic grille.
VENT_M2 = 0.004


def _unused(plan: Plan, prefix: str) -> str:
    taken = {f.id for f in plan.furnishings}
    return next(f"{prefix}-{n}" for n in range(1, 99) if f"{prefix}-{n}" not in taken)


def _free_places(
    plan: Plan, length: float, width: float, left: float, right: float
) -> Iterator[tuple[float, float]]:
    """Middles of free places on a stretch of the ground, the ends of the enclosure first."""
    enclosure = plan.enclosure
    taken = [
        (f.x_m - f.length_m / 2, f.x_m + f.length_m / 2, f.y_m - f.width_m / 2, f.y_m + f.width_m / 2)
        for f in plan.furnishings
        if isinstance(f, Hide | Water) or (isinstance(f, Slab) and f.underside_m < 0.25)
    ]
    xs = [left + length / 2 + i * 0.01 for i in range(500) if left + length + i * 0.01 <= right + 1e-9]
    xs.sort(key=lambda x: -abs(x - enclosure.length_m / 2))
    for x in xs:
        for y in (enclosure.depth_m - width / 2 - 0.04, enclosure.depth_m / 2, width / 2 + 0.04):
            spot = (x - length / 2, x + length / 2, y - width / 2, y + width / 2)
            if spot[2] < 0 or spot[3] > enclosure.depth_m:
                continue
            if not any(a < spot[1] and b > spot[0] and c < spot[3] and d > spot[2] for a, b, c, d in taken):
                yield round(x, 3), round(y, 3)


def _hide_at(plan: Plan, left: float, right: float, label: str) -> Iterator[Candidate]:
    """A hide on a stretch of ground, as roomy as there is place for."""
    species, body = plan.animal.species, plan.animal.body_length_m
    high = max(1.6 * plan.animal.back_height_m, 0.05)
    height = min(high + 0.02, plan.enclosure.height_m - plan.substrate.depth_m - 0.06)
    if height < plan.animal.back_height_m + 0.015:
        return
    inward = "right" if left < 0.1 * plan.enclosure.length_m else "left"
    for roomy in (1.3, 1.15, 1.02):
        length = min(max(0.12, (0.3 if species.group == "snake" else roomy) * body), 0.45)
        width = min(length, 0.8 * plan.enclosure.depth_m)
        door = min(max(0.35 * length, 0.05), 0.8 * width)
        place = next(_free_places(plan, length, width, left, right), None)
        if place is None:
            continue
        made = Hide(
            _unused(plan, "hide"),
            label,
            *place,
            round(length, 3),
            round(width, 3),
            round(height, 3),
            0.01,
            inward,  # type: ignore[arg-type]
            round(door, 3),
            round(min(high, height - 0.012), 3),
            CORK,
        )
        words: Phrase = (f"Add a {label.lower()} ", Measure(place[0], "m"), " from the left")
        yield Candidate(
            replace(plan, furnishings=(*plan.furnishings, made)), words, (Add("furnishing", made),)
        )
        return


def new_hide(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A hide at the end that has none."""
    plan = evaluation.plan
    middle = plan.enclosure.length_m / 2
    end = finding.id.partition(":")[2]
    left = (warm_side(plan) == "left") == (end == "warm")
    span = (0.02, middle - 0.02) if left else (middle + 0.02, plan.enclosure.length_m - 0.02)
    yield from _hide_at(plan, *span, f"{end.capitalize()} hide")


def more_hides(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """Fewer animals, or more refuges."""
    plan = evaluation.plan
    yield from _alone(evaluation, finding)
    yield from _hide_at(plan, 0.02, plan.enclosure.length_m - 0.02, "Spare hide")


def leaves(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """A block of leaves to vanish into, away from the lamps, or a hide."""
    plan = evaluation.plan
    yield from _leaf_blocks(plan)
    yield from _hide_at(plan, 0.02, plan.enclosure.length_m - 0.02, "Hide")


def _leaf_blocks(plan: Plan) -> Iterator[Candidate]:
    enclosure, body = plan.enclosure, plan.animal.body_length_m
    size = min(max(2.0 * body, 0.18), 0.5 * enclosure.length_m, 0.7 * enclosure.depth_m)
    tall = min(max(2.0 * body, 0.15), 0.5 * (enclosure.height_m - plan.substrate.depth_m))
    left = warm_side(plan) == "left"
    for share in (0.45, 0.3, 0.6):
        under = round(share * (enclosure.height_m - plan.substrate.depth_m) - tall / 2, 3)
        x = enclosure.length_m - size / 2 - 0.02 if left else size / 2 + 0.02
        made = Leaves(
            _unused(plan, "leaves"),
            "Leaves",
            round(x, 3),
            round(enclosure.depth_m - size / 2 - 0.02, 3),
            round(size, 3),
            round(size, 3),
            round(tall, 3),
            max(under, 0.02),
            0.1,
            FOLIAGE,
        )
        words: Phrase = ("Add a dense block of leaves ", Measure(size, "m"), " wide at the cool end")
        yield Candidate(
            replace(plan, furnishings=(*plan.furnishings, made)), words, (Add("furnishing", made),)
        )


def somewhere_dark(plan: Plan) -> Iterator[Candidate]:
    """A hide at the cool end, or leaves for an animal that climbs."""
    middle = plan.enclosure.length_m / 2
    left = warm_side(plan) == "right"
    span = (0.02, middle - 0.02) if left else (middle + 0.02, plan.enclosure.length_m - 0.02)
    yield from _hide_at(plan, *span, "Cool hide")
    if plan.animal.climbs:
        yield from _leaf_blocks(plan)


def path(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """A low branch over the bare stretch."""
    plan = evaluation.plan
    spans = covered(plan)
    gaps = [(b[0] - a[1], a[1], b[0]) for a, b in itertools.pairwise(spans)]
    _gap, begin, end = max(gaps)
    z = plan.substrate.depth_m + 1.5 * plan.animal.back_height_m + 0.03
    y = 0.75 * plan.enclosure.depth_m
    made = Branch(
        _unused(plan, "branch"),
        "Low branch",
        (round(begin, 3), round(y, 3), round(z, 3)),
        (round(end, 3), round(y, 3), round(z, 3)),
        0.05,
        CORK,
    )
    words = ("Lay a thick branch over the bare stretch",)
    yield Candidate(replace(plan, furnishings=(*plan.furnishings, made)), words, (Add("furnishing", made),))


def opening(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A larger opening."""
    plan = evaluation.plan
    hide = next(h for h in plan.hides if h.id == finding.about_id)
    side = hide.width_m if hide.opening in ("left", "right") else hide.length_m
    wide = round(min(max(hide.opening_width_m, 0.3 * plan.animal.body_length_m, 0.05), 0.9 * side), 3)
    room = hide.height_m - hide.wall_m
    high = round(min(max(hide.opening_height_m, 1.3 * plan.animal.back_height_m), room), 3)
    larger = replace(hide, opening_width_m=wide, opening_height_m=high)
    yield Candidate(
        with_item(plan, hide, larger),
        (f"Cut the opening of {named(hide.label)} to ", Measure(wide, "m"), " by ", Measure(high, "m")),
        (
            Change("furnishing", hide.id, "opening_width_m", wide),
            Change("furnishing", hide.id, "opening_height_m", high),
        ),
    )


def larger_enclosure(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """The enclosure an adult needs."""
    plan = evaluation.plan
    want, enclosure = plan.animal.species.enclosure, plan.enclosure
    made = replace(
        enclosure,
        length_m=max(enclosure.length_m, want.length_m),
        depth_m=max(enclosure.depth_m, want.depth_m),
        height_m=max(enclosure.height_m, want.height_m),
    )
    words: Phrase = (
        "Build the enclosure ",
        Measure(made.length_m, "m"),
        " long, ",
        Measure(made.depth_m, "m"),
        " deep and ",
        Measure(made.height_m, "m"),
        " high",
    )
    steps = tuple(Change("enclosure", "", n, getattr(made, n)) for n in ("length_m", "depth_m", "height_m"))
    yield Candidate(replace(plan, enclosure=made), words, steps)


def _alone(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    plan = evaluation.plan
    yield Candidate(
        replace(plan, animal=replace(plan.animal, count=1)),
        ("Keep one animal in this enclosure",),
        (Change("animal", "", "count", 1),),
    )


def vented(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """Two vents, low at the cool end and high at the warm one, or one more pair."""
    yield from vents_added(evaluation.plan)


def vents_added(plan: Plan) -> Iterator[Candidate]:
    """A vent low at the cool end and one high at the warm end, in sheets that can be cut."""
    ends = [plan.enclosure.walls["left"].material, plan.enclosure.walls["right"].material]
    if any(sheet is None or sheet.is_pane for sheet in ends):
        return
    left = warm_side(plan) == "left"
    low = Vent("right" if left else "left", plan.enclosure.length_m if left else 0.0, 0.0, VENT_M2)
    low = replace(low, z_m=round(plan.substrate.depth_m + 0.06, 3))
    high = Vent("left" if left else "right", 0.0 if left else plan.enclosure.length_m, 0.0, VENT_M2)
    high = replace(high, z_m=round(plan.enclosure.height_m - 0.06, 3))
    enclosure = replace(plan.enclosure, vents=(*plan.enclosure.vents, low, high))
    words: Phrase = ("Cut a vent low at the cool end and one high at the warm end",)
    yield Candidate(replace(plan, enclosure=enclosure), words, (Add("vent", low), Add("vent", high)))
