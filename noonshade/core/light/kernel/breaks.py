"""Where to break a source for quadrature, and how many nodes a piece needs."""

from __future__ import annotations

import math

from noonshade.core.compiled import inlined
from noonshade.core.light.kernel.types import MOST_BREAKS, Floats

# Pieces of a source shorter than this share of it are not separated.
GRAIN = 6e-3


@inlined
def smooth_step(x: float) -> float:  # pragma: no cover - compiled
    """The s of x = (3s − s³)/2, for −1 to 1.

    Parameters
    ----------
    x : float
        The value.

    Returns
    -------
    float
        The root, −1 to 1.
    """
    return 2.0 * math.sin(math.asin(min(max(x, -1.0), 1.0)) / 3.0)


@inlined
def insert_break(at: float, breaks: Floats, last: int) -> int:  # pragma: no cover - compiled
    """Put a place among rising ones, unless it is outside or close to one; the number of the last.

    Parameters
    ----------
    at : float
        Where to break, in units of the breaks.
    breaks : Floats
        Breaks along the source, rising.
    last : int
        Number of the last break.

    Returns
    -------
    int
        Put a place among rising ones, unless it is outside or close to one.
    """
    place = last
    while place > 0 and breaks[place - 1] > at:
        place -= 1
    grain = GRAIN * (breaks[last] - breaks[0])
    if place == 0 or last >= MOST_BREAKS - 1:
        return last
    if at - breaks[place - 1] < grain or breaks[place] - at < grain:
        return last
    for m in range(last, place - 1, -1):
        breaks[m + 1] = breaks[m]
    breaks[place] = at
    return last + 1


@inlined
def break_at_foliage(
    px: float,
    py: float,
    pz: float,
    lx: float,
    ly: float,
    lz: float,
    ux: float,
    uy: float,
    uz: float,
    wx: float,
    wy: float,
    wz: float,
    up: float,
    apart: float,
    leaves: Floats,
    row: int,
    breaks: Floats,
    last: int,
) -> int:  # pragma: no cover - compiled
    """Break a strip where rays from p to its middle line change faces of a box of foliage; the last break.

    The plane through p and the line, with normal l, cuts the box in a polygon; at its corners the way
    through the box has a kink. ``w`` is the unit vector in that plane from p straight to the line,
    ``apart`` away, which it meets at ``up`` along u.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    lx, ly, lz : float
        Normal of the plane through the point and the source.
    ux, uy, uz : float
        Direction of the source (unit vector).
    wx, wy, wz : float
        Direction from the point to the line, in their plane (unit vector).
    up : float
        Foot of the point along the source, m.
    apart : float
        Distance from the line or plane of the source, m.
    leaves : Floats
        Boxes of leaves: bounds in m and attenuation per m, shape (l, 7).
    row : int
        Row of the result or of the bounds.
    breaks : Floats
        Breaks along the source, rising.
    last : int
        Number of the last break.

    Returns
    -------
    int
        Break a strip where rays from p to its middle line change faces of a box of foliage.
    """
    for axis in range(3):
        for side in range(4):
            # One of the four edges along this axis: its ends share the other two coordinates.
            ax, ay, az = leaves[row, 0] - px, leaves[row, 1] - py, leaves[row, 2] - pz
            bx, by, bz = ax, ay, az
            one, two = side & 1, side >> 1
            if axis == 0:
                bx = leaves[row, 3] - px
                if one == 1:
                    ay = by = leaves[row, 4] - py
                if two == 1:
                    az = bz = leaves[row, 5] - pz
            elif axis == 1:
                by = leaves[row, 4] - py
                if one == 1:
                    ax = bx = leaves[row, 3] - px
                if two == 1:
                    az = bz = leaves[row, 5] - pz
            else:
                bz = leaves[row, 5] - pz
                if one == 1:
                    ax = bx = leaves[row, 3] - px
                if two == 1:
                    ay = by = leaves[row, 4] - py
            from_a, from_b = lx * ax + ly * ay + lz * az, lx * bx + ly * by + lz * bz
            if (from_a > 0.0) == (from_b > 0.0):
                continue
            t = from_a / (from_a - from_b)
            x, y, z = ax + t * (bx - ax), ay + t * (by - ay), az + t * (bz - az)
            ahead = wx * x + wy * y + wz * z
            if ahead <= 0.0:
                continue
            last = insert_break(up + apart * (ux * x + uy * y + uz * z) / ahead, breaks, last)
    return last


@inlined
def node_count(reach: float, more: int, most: int) -> int:  # pragma: no cover - compiled
    """Nodes for an interval that is ``reach`` times as long as it is far away, or as wide in radians.

    Parameters
    ----------
    reach : float
        Length over distance, or width in radians.
    more : int
        Nodes to add.
    most : int
        At most this many.

    Returns
    -------
    int
        The number of Gauss-Legendre nodes.
    """
    if reach < 0.08:
        n = 1
    elif reach < 0.6:
        n = 2
    elif reach < 1.6:
        n = 3
    elif reach < 2.8:
        n = 5
    else:
        n = 11
    return min(n + more, most)
