"""Irradiance on a plane lattice, refined only where light changes."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.bounds import breadth, list_groups, list_leaves
from noonshade.core.light.kernel.receive import receive
from noonshade.core.light.kernel.types import BLOCK, Floats, Ints, Occluders, Source, make_scratch

# Cells of a lattice, and how far bilinear interpolation may be off, as a share of the largest value in a
# cell or of this share of what is usual on the lattice; the biquadratic fill is several times better. Where
# the same occluders hide the lamp all over a cell, there is no edge of shade in it and light varies
# smoothly.
COARSEST = 8
TOLERANCE = 0.02
TOLERANCE_ALIKE = 0.04
DARK_SHARE = 0.05
# A jump between neighbours of this share of the largest value may be an edge sharper than their distance.
STEEP = 0.15
STEEP_ALIKE = 0.35
# Points two apart, hidden by the same, that differ by no more than this share need none between them.
EVEN = 0.15
# Nor may a straight line between them be off by more than this share, assessed by the next point.
BENT = 0.003
# A lamp that gives less of the light than one part in this many may be missing a thin thing's shade.
FAINT = 50.0


@inlined
def is_even(
    values: Floats, r: int, c: int, top: int, left: int, floor: float, slack: float
) -> bool:  # pragma: no cover - compiled
    """Whether a cell of two by two may be filled from its corners.

    That is if the same hides the lamp at all of them, they nearly agree, and light runs nearly straight
    along its sides, on into the next cell: as far as the nine points of the quartered cell at ``top`` and
    ``left`` tell.

    Parameters
    ----------
    values : Floats
        The values.
    r : int
        Upper row of the cell.
    c : int
        Left column of the cell.
    top : int
        Row of the quartered cell.
    left : int
        Column of the quartered cell.
    floor : float
        What counts as dark.
    slack : float
        How much more light all lamps give than this one, at least 1.

    Returns
    -------
    bool
        True if so.
    """
    most, alike = floor, True
    for a in range(0, 3, 2):
        for b in range(0, 3, 2):
            alike = alike and values[r + a, c + b, 4] == values[r, c, 4]
            for q in range(4):
                most = max(most, abs(values[r + a, c + b, q]))
    if not alike:
        return False
    # Between two points of three, the middle is off a straight line by an eighth of the second difference.
    bent = 8.0 * BENT * slack * most
    for q in range(4):
        v0, v1 = values[r, c, q], values[r, c + 2, q]
        v2, v3 = values[r + 2, c, q], values[r + 2, c + 2, q]
        if max(v0, v1, v2, v3) - min(v0, v1, v2, v3) > EVEN * slack * most:
            return False
        for a in range(0, 3, 2):
            down = values[top, c + a, q] - 2.0 * values[top + 2, c + a, q] + values[top + 4, c + a, q]
            along = values[r + a, left, q] - 2.0 * values[r + a, left + 2, q] + values[r + a, left + 4, q]
            if abs(down) > bent or abs(along) > bent:
                return False
    return True


@inlined
def surprises(v: Floats, floor: float, slack: float) -> bool:  # pragma: no cover - compiled
    """Whether bilinear interpolation of the corners of nine points may miss what lies between them.

    ``slack`` (≥ 1) is how much brighter it is there by all lamps together than by this one.

    Parameters
    ----------
    v : Floats
        Place across the source, m.
    floor : float
        What counts as dark.
    slack : float
        How much more light all lamps give than this one, at least 1.

    Returns
    -------
    bool
        True if so.
    """
    most, alike = floor, True
    for a in range(3):
        for b in range(3):
            alike = alike and v[a, b, 4] == v[0, 0, 4]
            for q in range(4):
                most = max(most, abs(v[a, b, q]))
    amid = v[0, 0, 4] - math.floor(v[0, 0, 4])
    for a in range(3):
        for b in range(3):
            # Where leaves end, light has a kink.
            if v[a, b, 4] - math.floor(v[a, b, 4]) != amid:
                return True
    allowed = (TOLERANCE_ALIKE if alike else TOLERANCE) * most * slack
    steep = (STEEP_ALIKE if alike else STEEP) * most
    for q in range(4):
        for a in range(3):
            for b in range(2):
                if abs(v[a, b, q] - v[a, b + 1, q]) > steep or abs(v[b, a, q] - v[b + 1, a, q]) > steep:
                    return True
        top, bottom = 0.5 * (v[0, 0, q] + v[0, 2, q]), 0.5 * (v[2, 0, q] + v[2, 2, q])
        left, right = 0.5 * (v[0, 0, q] + v[2, 0, q]), 0.5 * (v[0, 2, q] + v[2, 2, q])
        if abs(v[0, 1, q] - top) > allowed or abs(v[2, 1, q] - bottom) > allowed:
            return True
        if abs(v[1, 0, q] - left) > allowed or abs(v[1, 2, q] - right) > allowed:
            return True
        if abs(v[1, 1, q] - 0.5 * (left + right)) > allowed:
            return True
    return False


def cells_of(shape: tuple[int, int]) -> tuple[int, int]:
    """How many cells ``trace_lattice`` takes a lattice of rows and columns in, down and across.

    Parameters
    ----------
    shape : tuple[int, int]
        Rows and columns of the lattice.

    Returns
    -------
    tuple[int, int]
        Cells down and across.
    """
    rows, columns = shape
    return max(1, -(-(rows - 1) // COARSEST)), max(1, -(-(columns - 1) // COARSEST))


def cell_corners(shape: tuple[int, int]) -> tuple[Ints, Ints]:
    """Rows and columns of a lattice where its cells meet.

    Parameters
    ----------
    shape : tuple[int, int]
        Rows and columns of the lattice.

    Returns
    -------
    tuple[Ints, Ints]
        Row and column indices, rising.
    """
    down, across = cells_of(shape)
    rows = np.minimum(np.arange(down + 1) * COARSEST, shape[0] - 1)
    return rows, np.minimum(np.arange(across + 1) * COARSEST, shape[1] - 1)


@compiled
def trace_lattice(
    points: Floats,
    rows: int,
    columns: int,
    source: Source,
    screens: Floats,
    occluders: Occluders,
    slack: Floats,
) -> Floats:  # pragma: no cover - compiled
    """Vector irradiance and level irradiance (rows · columns, 4) on a plane lattice.

    Light varies slowly but at the edges of shade and close to lamps, so the lattice is taken in cells of
    eight by eight points. A cell is filled from nine of them by a biquadratic surface if bilinear
    interpolation of its corners already predicts the other five, and quartered if not. A cell that
    something thin may throw its shade on is quartered at least once, as that shade may pass between
    its nine points.

    Parameters
    ----------
    points : (rows · columns, 3) float64
        Row by row.
    rows, columns : int
        At least one each.
    source, screens, occluders
        As ``trace`` takes them.
    slack : float64 of the shape ``cells_of`` tells
        For every cell, how much more light there is by all lamps together than by this one, ≥ 1: what is
        a large error to one lamp is a small one to all of them.

    Returns
    -------
    Floats
        x, y, z of the vector irradiance and the level irradiance, W/m² per emitted watt.
    """
    # Cells are whole: the last of a row or column overlaps the one before, the only one of a short lattice
    # reaches past its end.
    high, wide = max(rows, COARSEST + 1), max(columns, COARSEST + 1)
    down, across = slack.shape
    values = np.zeros((high, wide, 5))
    known = np.zeros((high, wide), dtype=np.bool_)
    box = np.zeros(6)
    stack = np.zeros((64, 3), dtype=np.int64)
    lit = np.zeros((down + 1) * (across + 1))
    floor = 0.0
    nine = np.zeros((3, 3, 5))
    batch = np.zeros((BLOCK, 6))
    out = np.zeros((BLOCK, 5))
    places = np.zeros((BLOCK, 2), dtype=np.int64)
    listed = np.zeros(occluders.groups.shape[0], dtype=np.int64)
    leafy = np.zeros(occluders.leaves.shape[0], dtype=np.int64)
    room = make_scratch(occluders)
    for i in range(BLOCK):
        batch[i, 5] = 1.0
    for sweep in range(2):
        counted = 0
        # First the corners of all cells, to learn how bright it is where it is bright.
        corner_only = sweep == 0
        beyond = 1 if corner_only else 0
        for cell in range((down + beyond) * (across + beyond)):
            j, m = cell // (across + beyond), cell % (across + beyond)
            r0 = min(j * COARSEST, high - 1 if corner_only else high - 1 - COARSEST)
            c0 = min(m * COARSEST, wide - 1 if corner_only else wide - 1 - COARSEST)
            first = min(r0, rows - 1) * columns + min(c0, columns - 1)
            last = first
            if not corner_only:
                last = min(r0 + COARSEST, rows - 1) * columns + min(c0 + COARSEST, columns - 1)
            for k in range(3):
                box[k] = min(points[first, k], points[last, k])
                box[k + 3] = max(points[first, k], points[last, k])
            listed_count = list_groups(box, source.bright, occluders, listed)
            leafy_count = list_leaves(box, source.bright, occluders.leaves, leafy)
            # How far apart the nine points of the whole cell are: what is thicker cannot hide between.
            apart = 0.75 * max(box[3] - box[0], box[4] - box[1], box[5] - box[2])
            thin, loose = False, 1.0 if corner_only else slack[j, m]
            for k in range(listed_count):
                thin = thin or breadth(box, source.centre, occluders, listed[k]) < apart
            stack[0, 0], stack[0, 1], stack[0, 2] = r0, c0, COARSEST
            depth = 1
            while depth > 0:
                depth -= 1
                r, c, size = stack[depth, 0], stack[depth, 1], stack[depth, 2]
                half = size // 2
                if half == 1 and is_even(values, r, c, r - (r - r0) % 4, c - (c - c0) % 4, floor, loose):
                    for a in range(3):
                        for b in range(3):
                            if known[r + a, c + b]:
                                continue
                            a0, a1, b0, b1 = (
                                r + a // 2 * 2,
                                r + (a + 1) // 2 * 2,
                                b // 2 * 2,
                                (b + 1) // 2 * 2,
                            )
                            for q in range(4):
                                values[r + a, c + b, q] = 0.25 * (
                                    values[a0, c + b0, q]
                                    + values[a0, c + b1, q]
                                    + values[a1, c + b0, q]
                                    + values[a1, c + b1, q]
                                )
                    continue
                count = 0
                for a in range(1 if corner_only else 3):
                    for b in range(1 if corner_only else 3):
                        rr, cc = r + a * half, c + b * half
                        if known[rr, cc]:
                            continue
                        known[rr, cc] = True
                        i = min(rr, rows - 1) * columns + min(cc, columns - 1)
                        for k in range(3):
                            batch[count, k] = points[i, k]
                        places[count, 0], places[count, 1] = rr, cc
                        count += 1
                if count > 0:
                    receive(
                        batch,
                        count,
                        listed,
                        listed_count,
                        leafy,
                        leafy_count,
                        source,
                        screens,
                        occluders,
                        out,
                        room,
                    )
                    for i in range(count):
                        for q in range(5):
                            values[places[i, 0], places[i, 1], q] = out[i, q]
                if corner_only:
                    v = values[r0, c0]
                    lit[counted] = math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
                    counted += 1
                    continue
                if half == 1:
                    continue
                for a in range(3):
                    for b in range(3):
                        for q in range(5):
                            nine[a, b, q] = values[r + a * half, c + b * half, q]
                # What one convex body hides from nine points, it hides from all between them.
                hidden = nine[0, 0, 4] < 0.0
                for a in range(3):
                    for b in range(3):
                        hidden = hidden and nine[a, b, 4] == nine[0, 0, 4]
                if hidden:
                    continue
                if (thin and loose < FAINT and size == COARSEST) or surprises(nine, floor, loose):
                    for a in range(2):
                        for b in range(2):
                            stack[depth, 0], stack[depth, 1] = r + a * half, c + b * half
                            stack[depth, 2] = half
                            depth += 1
                    continue
                for a in range(size + 1):
                    t = a / size
                    w0, w1, w2 = (2 * t - 1) * (t - 1), 4 * t * (1 - t), t * (2 * t - 1)
                    for b in range(size + 1):
                        if known[r + a, c + b]:
                            continue
                        u = b / size
                        x0, x1, x2 = (2 * u - 1) * (u - 1), 4 * u * (1 - u), u * (2 * u - 1)
                        for q in range(4):
                            values[r + a, c + b, q] = (
                                w0 * (x0 * nine[0, 0, q] + x1 * nine[0, 1, q] + x2 * nine[0, 2, q])
                                + w1 * (x0 * nine[1, 0, q] + x1 * nine[1, 1, q] + x2 * nine[1, 2, q])
                                + w2 * (x0 * nine[2, 0, q] + x1 * nine[2, 1, q] + x2 * nine[2, 2, q])
                            )
        if sweep == 0:
            floor = DARK_SHARE * np.sort(lit)[3 * counted // 4]
    result = np.empty((rows * columns, 4))
    for r in range(rows):
        for c in range(columns):
            for q in range(4):
                result[r * columns + c, q] = values[r, c, q]
    return result
