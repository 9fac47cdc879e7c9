"""What the compiled light code takes and works in."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.compiled import compiled

SHAPE_STRIP, SHAPE_DISC, SHAPE_PANEL = 0, 1, 2
PATTERN_BEAM, PATTERN_LINE, PATTERN_TABLE = 0, 1, 2
SCREEN_MESH, SCREEN_PANE, SCREEN_MIRROR, SCREEN_WOVEN = 0.0, 1.0, 2.0, 3.0
# A woven mesh's row of screens goes on with what passes it at this many angles from 0 to 90° each way.
WOVEN_ANGLES = 19
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
# Where there are many of them: places of patches and nodes, and shares of light.
Indices = NDArray[np.int32]
Shares = NDArray[np.float32]
# A polygon of a strip cut by the faces and the outline of a solid has at most 4 + 20 corners or so.
MOST_CORNERS = 40
MOST_POLYGONS = 32
MOST_BREAKS = 160
BLOCK = 48


class Source(NamedTuple):
    """A lamp where it hangs.

    ``frame`` (3, 3) are the unit vectors along it (u), across (v), and where it aims; ``half`` (2,) its
    half sizes along u and v in m. ``density`` is the intensity on the aim axis per metre of a strip, or per
    m² of a disc or panel. ``pattern`` and ``exponent``: ``PATTERN_BEAM`` cosᵐ about the aim;
    ``PATTERN_LINE`` sin φ to the axis, times cosⁿ about the axis for n ≥ 0, or all round for a negative
    exponent; ``PATTERN_TABLE`` by ``table`` (c, g) over ``c_deg`` and ``gamma_deg``. ``curve`` (k + 1,) is
    xⁿ for x from 0 to 1 in k steps, since powers are slow. ``gauss`` (n, 2, n - 1)
    holds the nodes and weights on 0–1 of every rule; ``fineness`` multiplies the nodes taken, and ``sharp``
    (≥ 1) says how much more of them a narrow beam or a wide panel needs.
    ``bright`` (6,) are its bounds.
    """

    centre: Floats
    frame: Floats
    half: Floats
    shape: int
    density: float
    pattern: int
    exponent: float
    curve: Floats
    c_deg: Floats
    gamma_deg: Floats
    table: Floats
    gauss: Floats
    fineness: int
    sharp: float
    bright: Floats


class Occluders(NamedTuple):
    """What is in the way.

    ``planes`` (f, 4) are the faces n·x ≤ c of convex solids, ``corners`` (k, 3) and ``edges`` (e, 4) their
    corners and, for each edge, its two corners and two faces, so that going from the first corner to the
    second has the first face on the left seen from outside; ``plane_starts`` and ``edge_starts`` (b + 1,)
    say which belong to which solid, ``bounds`` (b, 6) where each is. ``groups`` (g, 6) and ``runs`` (g, 2)
    are bounds of runs of solids, to pass over many at once; where ``hulls`` (g,) is 1, the first solid of a
    run stands for all of it when seen from outside. ``leaves`` (l, 7) are boxes of foliage: bounds and
    attenuation per metre; ``leaf_solids`` (l,) are the same boxes as solids. ``widths`` (g,) is how thick a
    group is, m, or 0 if it is one of boxes along the axes, whose ``groups`` bounds tell. ``slices`` (s, 6)
    are closer bounds, of pieces of a group that lies askew, and ``slice_starts`` (g + 1,) say whose: none
    where the bounds are close enough. ``rounds`` (b, 8) are the solids that are round rods: where the axis
    begins, its direction, length and radius, which is 0 for others.
    """

    planes: Floats
    plane_starts: Ints
    corners: Floats
    edges: Ints
    edge_starts: Ints
    bounds: Floats
    groups: Floats
    runs: Ints
    hulls: Ints
    leaves: Floats
    leaf_solids: Ints
    widths: Floats
    slices: Floats
    slice_starts: Ints
    rounds: Floats


class Sheets(NamedTuple):
    """Flat rectangles that send light back, cut into patches along both sides.

    ``frames`` (s, 3, 3) are where each begins and its unit vectors along and across; ``cuts`` (c,) are the
    edges of its patches from there in m, of which those along begin at ``starts`` (s, 2) and those across
    at its second column, and ``counts`` (s, 2) patches lie between them. ``patches`` (k,) names the patch
    of each cell, across first, from ``firsts`` (s,) on: −1 where nothing is sent back. The first six are
    the ground, the lid, the left, right, front and back of the enclosure, whose inside is ``box`` (6,); for
    others, ``of_plane`` (f,) is the sheet on each face of the occluders, or −1. ``panes`` (p, 4) says of
    each patch whether it mirrors: refractive index (0: it does not), and what is left of UV, radiant heat
    and light after one way through the sheet.
    """

    frames: Floats
    cuts: Floats
    starts: Ints
    counts: Ints
    patches: Ints
    firsts: Ints
    of_plane: Ints
    box: Floats
    panes: Floats


class Scratch(NamedTuple):
    """Room to work in, made once for many points: see where each is used."""

    polygons: Floats
    sizes: Ints
    spans: Floats
    work: Floats
    front: Floats
    breaks: Floats
    gaps: Floats
    ways: Ints
    seen: Floats


@compiled
def make_scratch(occluders: Occluders) -> Scratch:  # pragma: no cover - compiled
    """Make room to work in, once for many points.

    Parameters
    ----------
    occluders : Occluders
        What is in the way; its leaves say how much room is needed.

    Returns
    -------
    Scratch
        Zeroed arrays.
    """
    leaves = occluders.leaves.shape[0]
    return Scratch(
        np.zeros((MOST_POLYGONS + leaves, 2, MOST_CORNERS)),
        np.zeros(MOST_POLYGONS + leaves, dtype=np.int64),
        np.zeros((MOST_POLYGONS + leaves, 2)),
        np.zeros((5, MOST_CORNERS)),
        np.zeros(MOST_CORNERS),
        np.zeros(MOST_BREAKS),
        np.zeros((4, MOST_POLYGONS + 2)),
        np.zeros(leaves, dtype=np.int64),
        np.zeros(6),
    )
