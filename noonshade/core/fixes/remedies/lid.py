"""Covering a part of a mesh lid: warmth and moisture stay inside."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.fixes.candidate import Add, Candidate
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.plan import Fixture, Inset, LineSource, PanelSource, Plan, SolidMaterial, Wall

# From and to: x0, y0, x1, y1, m.
Rectangle = tuple[float, float, float, float]

# Panes that are laid on a lid: EN 410 and ISO 10456 as in the catalogue, 4 mm.
GLASS = SolidMaterial(
    "glass",
    "Float glass",
    1.0,
    2500.0,
    750.0,
    0.15,
    0.77,
    0.84,
    0.05,
    "ISO 10456 and EN 410 typical 4 mm clear float glass; optics for lamp light estimate; "
    "next to no UVB passes",
    uvb_transmittance=0.0,
    visible_transmittance=0.89,
    burns=False,
)
# Beside a lamp over the lid so much stays open: beside a bulb or a heater, beside a tube, m. Estimates.
BESIDE_BULB_M, BESIDE_TUBE_M = 0.10, 0.04
# What is covered is at least this share of the lid, and first no more than that one.
LEAST_SHARE, FIRST_SHARE = 0.2, 0.5


def lid_covered(plan: Plan) -> Iterator[Candidate]:
    """A pane over the part of a mesh lid no lamp shines through, half of the lid first.

    Parameters
    ----------
    plan : Plan
        The plan as it is.

    Yields
    ------
    Candidate
        None where the lid is no mesh, has parts already, or lamps leave too little of it.
    """
    enclosure = plan.enclosure
    if enclosure.walls["top"].mesh is None or any(i.face == "top" for i in enclosure.insets):
        return
    long, deep = enclosure.length_m, enclosure.depth_m
    lamps = [_footprint(f) for f in plan.fixtures if f.position_m[2] >= enclosure.height_m]
    free = [(0.0, 0.0, long, deep)]
    if lamps:
        free = [
            (max(0.0, max(x1 for _, _, x1, _ in lamps)), 0.0, long, deep),
            (0.0, 0.0, min(x0 for x0, _, _, _ in lamps), deep),
            (0.0, 0.0, long, min(y0 for _, y0, _, _ in lamps)),
            (0.0, max(0.0, max(y1 for _, _, _, y1 in lamps)), long, deep),
        ]
    x0, y0, x1, y1 = max(free, key=lambda r: max(r[2] - r[0], 0.0) * max(r[3] - r[1], 0.0))
    share = max(x1 - x0, 0.0) * max(y1 - y0, 0.0) / (long * deep)
    if share < LEAST_SHARE:
        return
    if share > FIRST_SHARE + 0.05:
        yield _covered(plan, _part_of((x0, y0, x1, y1), FIRST_SHARE / share, long, deep))
    yield _covered(plan, (x0, y0, x1, y1))


def _part_of(free: Rectangle, share: float, long: float, deep: float) -> Rectangle:
    """A share of a free part of the lid, the side away from the lamps; the right side without any."""
    x0, y0, x1, y1 = free
    if y0 > 0:
        return x0, y1 - share * (y1 - y0), x1, y1
    if y1 < deep:
        return x0, y0, x1, share * y1
    if x1 < long:
        return x0, y0, share * x1, y1
    return x1 - share * (x1 - x0), y0, x1, y1


def _covered(plan: Plan, sides: Rectangle) -> Candidate:
    x0, y0, x1, y1 = (round(side, 3) for side in sides)
    pane = Inset(x0, y0, x1, y1, Wall(GLASS, GLASS.usual_thickness_m))
    enclosure = replace(plan.enclosure, insets=(*plan.enclosure.insets, pane))
    words: Phrase = (
        "Cover a part of the mesh lid with a pane of glass, ",
        Measure(x1 - x0, "m"),
        " long and ",
        Measure(y1 - y0, "m"),
        " deep, away from the lamps",
    )
    return Candidate(replace(plan, enclosure=enclosure), words, (Add("inset", pane),))


def _footprint(fixture: Fixture) -> Rectangle:
    """What a lamp over the lid needs open: from and to along the length and the depth, m."""
    x, y, _ = fixture.position_m
    shape = fixture.lamp.geometry
    if isinstance(shape, LineSource):
        along, across = shape.length_m / 2 + BESIDE_TUBE_M, BESIDE_TUBE_M
    elif isinstance(shape, PanelSource):
        along, across = shape.length_m / 2 + BESIDE_TUBE_M, shape.width_m / 2 + BESIDE_TUBE_M
    else:
        along = across = shape.diameter_m / 2 + BESIDE_BULB_M
    return x - along, y - across, x + along, y + across
