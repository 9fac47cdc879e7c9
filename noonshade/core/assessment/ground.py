"""Faults of the ground: too shallow for what digs in it, no place for a gravid female to lay."""

from __future__ import annotations

from collections.abc import Iterator

from noonshade.core.assessment.finding import Finding, FindingContext
from noonshade.core.phrase import Measure
from noonshade.core.plan import Background, Branch, Hide, Leaves, Plan

# Ground less than this share of the depth it digs is a fault, in heights of its back where its species says
# nothing. Estimates.
SHALLOW_SHARE, DIGS_BACKS = 0.75, 3.0
# A box of soil to lay in is this share of the depth of a nest high inside, at least. Estimate.
NEST_BOX_SHARE = 0.75


def ground_findings(context: FindingContext) -> Iterator[Finding]:
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
    yield from _dug(context.plan)
    yield from _laying(context.plan)


def _dug(plan: Plan) -> Iterator[Finding]:
    animal = plan.animal
    if not animal.digs:
        return
    known = animal.species.ground
    if known is None:
        wanted, source = DIGS_BACKS * animal.back_height_m, "Estimate: three times the height of its back."
    else:
        grown = animal.species.stages[0].body_length_m
        wanted = known.depth_m * min(1.0, animal.body_length_m / grown)
        source = f"{known.mix}. {known.grade.capitalize()}: {known.source}."
    has = plan.substrate.depth_m
    if has < wanted:
        yield Finding(
            "ground-shallow:enclosure",
            "enclosure",
            "fault" if has < SHALLOW_SHARE * wanted else "care",
            (
                "The ground is ",
                Measure(has, "m"),
                " deep, and this animal digs ",
                Measure(wanted, "m"),
                ".",
            ),
            source,
        )


def _laying(plan: Plan) -> Iterator[Finding]:
    """A gravid female without a place to lay holds her eggs back."""
    laying = plan.animal.laying
    if laying is None:
        return
    why = f"{laying.grade.capitalize()}: she {laying.source}."
    risk = "A female that finds no place keeps her eggs, which can kill her: see a reptile veterinarian."
    if laying.place == "plants" and not any(
        isinstance(f, Branch | Leaves | Background) for f in plan.furnishings
    ):
        yield Finding(
            "no-laying-place:enclosure",
            "enclosure",
            "fault",
            ("A gravid female finds no plants, bark or back wall to lay on.",),
            f"{why} {risk}",
        )
    if laying.place != "ground" or plan.substrate.depth_m >= laying.depth_m - 1e-9:
        return
    boxes = [f for f in plan.furnishings if isinstance(f, Hide) and f.moist]
    if any(box.height_m - box.wall_m >= NEST_BOX_SHARE * laying.depth_m for box in boxes):
        return
    if "aquatic" in plan.animal.habits:
        yield Finding(
            "no-laying-place:enclosure",
            "enclosure",
            "care",
            ("A gravid female leaves the water and digs ", Measure(laying.depth_m, "m"), " down."),
            f"{why} Give her a box of moist soil that deep, with a ramp, when she is restless. {risk}",
        )
        return
    yield Finding(
        "no-laying-place:enclosure",
        "enclosure",
        "fault",
        (
            "A gravid female finds nowhere to dig her nest: the ground is ",
            Measure(plan.substrate.depth_m, "m"),
            " deep, and she digs ",
            Measure(laying.depth_m, "m"),
            " down.",
        ),
        f"{why} Moist soil that deep, or a box of it, will do. {risk}",
    )
