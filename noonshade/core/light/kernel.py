"""The inner loop: light from flat sources to points, past solids that cast shade and leaves that dim.

A source is a flat shape: a strip, a disc or a rectangle. Seen from a point, what a convex solid hides of it
is a convex polygon, found exactly by cutting the source along the planes through the point and the solid's
outline; so the edges of shade come out as soft as the source is large, with no grain. The visible rest is
integrated by Gauss–Legendre quadrature between the corners of those polygons.

Compiled with numba, because every field on the screen is some hundred thousands of such integrals.
The compiled code is kept on disk beside this file, so only the first run ever pays for it; and all of it
stands in one file, because numba only notices changes of the file a function stands in.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, NamedTuple, TypeVar, cast

import numpy as np
from numba import njit
from numpy.typing import NDArray

SHAPE_STRIP, SHAPE_DISC, SHAPE_PANEL = 0, 1, 2
PATTERN_BEAM, PATTERN_LINE, PATTERN_TABLE = 0, 1, 2
SCREEN_MESH, SCREEN_PANE = 0.0, 1.0

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# A polygon of a strip cut by the faces and the outline of a solid has at most 4 + 20 corners or so.
_MOST_CORNERS = 40
_MOST_POLYGONS = 32
_MOST_BREAKS = 160
_BLOCK = 48
# Pieces of a source shorter than this share of it are not told apart.
_GRAIN = 6e-3
# Parts of a source smaller than this, in quarters of it, do not count.
_SMALL = 4e-4
# Cells of a lattice, and how far bilinear interpolation may be off, as a share of the largest value in a
# cell or of this share of what is usual on the lattice; the biquadratic fill is several times better. Where
# the same things hide the lamp all over a cell, there is no edge of shade in it and light varies smoothly.
_COARSEST = 8
_TOLERANCE = 0.02
_TOLERANCE_ALIKE = 0.04
_DARK_SHARE = 0.05
# A jump between neighbours of this share of the largest value may be an edge sharper than their distance.
_STEEP = 0.15
_STEEP_ALIKE = 0.35
# Points two apart, hidden by the same, that differ by no more than this share need none between them.
_EVEN = 0.15
# Nor may a straight line between them be off by more than this share, judged by the next point.
_BENT = 0.003
# More leaves than any point stands amid; the share of one that tells of each.
_MOST_AMID = 1024.0
# A lamp that gives less of the light than one part in this many may be missing a thin thing's shade.
_FAINT = 50.0

# NaN and infinity keep their meaning.
_FAST = {"contract", "arcp", "nsz", "afn", "reassoc"}
_F = TypeVar("_F", bound=Callable[..., Any])


def _compiled(function: _F) -> _F:
    made: Any = njit(cache=True, nogil=True, error_model="numpy", fastmath=_FAST)(function)
    return cast(_F, made)


def _inner(function: _F) -> _F:
    """Compiled into its callers, without reference counting, which it has no need of."""
    options: dict[str, Any] = {"_nrt": False, "forceinline": True}
    made: Any = njit(cache=True, nogil=True, error_model="numpy", fastmath=_FAST, **options)(function)
    return cast(_F, made)


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


class Things(NamedTuple):
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
    where the bounds are close enough.
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


@_compiled
def _scratch(things: Things) -> Scratch:  # pragma: no cover - compiled
    leaves = things.leaves.shape[0]
    return Scratch(
        np.zeros((_MOST_POLYGONS + leaves, 2, _MOST_CORNERS)),
        np.zeros(_MOST_POLYGONS + leaves, dtype=np.int64),
        np.zeros((_MOST_POLYGONS + leaves, 2)),
        np.zeros((5, _MOST_CORNERS)),
        np.zeros(_MOST_CORNERS),
        np.zeros(_MOST_BREAKS),
        np.zeros((4, _MOST_POLYGONS + 2)),
        np.zeros(leaves, dtype=np.int64),
        np.zeros(6),
    )


@_inner
def _inverse(way: float) -> float:  # pragma: no cover - compiled
    """1/way, very large instead of infinite, so that a grazing ray yields no NaN."""
    if abs(way) < 1e-12:
        return 1e12
    return 1.0 / way


@_inner
def _in_box(
    sx: float, sy: float, sz: float, px: float, py: float, pz: float, boxes: Floats, row: int
) -> float:  # pragma: no cover - compiled
    """Share of the way from s to p that lies inside a box x0, y0, z0, x1, y1, z1."""
    enter, leave = 0.0, 1.0
    for k in range(3):
        if k == 0:
            start, inverse = sx, _inverse(px - sx)
        elif k == 1:
            start, inverse = sy, _inverse(py - sy)
        else:
            start, inverse = sz, _inverse(pz - sz)
        near = (boxes[row, k] - start) * inverse
        far = (boxes[row, k + 3] - start) * inverse
        enter = max(enter, min(near, far))
        leave = min(leave, max(near, far))
        if enter >= leave:
            return 0.0
    return leave - enter


@_inner
def _inside(px: float, py: float, pz: float, boxes: Floats, k: int) -> float:  # pragma: no cover - compiled
    """1 if a point lies in one of some boxes, else 0."""
    if px <= boxes[k, 0] or py <= boxes[k, 1] or pz <= boxes[k, 2]:
        return 0.0
    if px >= boxes[k, 3] or py >= boxes[k, 4] or pz >= boxes[k, 5]:
        return 0.0
    return 1.0


@_inner
def _misses_shaft(
    seen: Floats, bright: Floats, boxes: Floats, row: int
) -> bool:  # pragma: no cover - compiled
    """Whether a box certainly lies outside all rays from points in ``seen`` to sources in ``bright``."""
    if boxes[row, 0] > max(seen[3], bright[3]) or boxes[row, 3] < min(seen[0], bright[0]):
        return True
    if boxes[row, 1] > max(seen[4], bright[4]) or boxes[row, 4] < min(seen[1], bright[1]):
        return True
    if boxes[row, 2] >= max(seen[5], bright[5]) or boxes[row, 5] <= min(seen[2], bright[2]):
        return True
    if bright[2] - seen[5] < 0.05:
        return False
    # The source is above: follow the shaft to the heights between which it passes the box. A ray from
    # height p to height s is at height h after the share (h − p)/(s − p), least for the highest of both.
    low = min(max((boxes[row, 2] - seen[5]) / (bright[5] - seen[5]), 0.0), 1.0)
    high = min(max((boxes[row, 5] - seen[2]) / (bright[2] - seen[2]), 0.0), 1.0)
    for k in range(2):
        toward = bright[k] - seen[k]
        if boxes[row, k + 3] < seen[k] + min(low * toward, high * toward) - 1e-9:
            return True
        toward = bright[k + 3] - seen[k + 3]
        if boxes[row, k] > seen[k + 3] + max(low * toward, high * toward) + 1e-9:
            return True
    return False


@_inner
def _beyond_a_face(
    seen: Floats, bright: Floats, planes: Floats, first: int, last: int
) -> bool:  # pragma: no cover - compiled
    """Whether two boxes both lie outside the same face of a solid, so that it cannot come between them."""
    for f in range(first, last):
        least_seen, least_bright = -planes[f, 3], -planes[f, 3]
        for k in range(3):
            n = planes[f, k]
            if n > 0.0:
                least_seen += n * seen[k]
                least_bright += n * bright[k]
            else:
                least_seen += n * seen[k + 3]
                least_bright += n * bright[k + 3]
        if least_seen > 0.0 and least_bright > 0.0:
            return True
    return False


@_inner
def _slips_by(seen: Floats, bright: Floats, things: Things, g: int) -> bool:  # pragma: no cover - compiled
    """Whether all slices of a group that lies askew are outside all rays between two boxes."""
    first, last = things.slice_starts[g], things.slice_starts[g + 1]
    for k in range(first, last):
        if not _misses_shaft(seen, bright, things.slices, k):
            return False
    return last > first


@_inner
def _list_groups(
    seen: Floats, bright: Floats, things: Things, listed: Ints
) -> int:  # pragma: no cover - compiled
    """Groups of solids that may come between the points in ``seen`` and the source; how many."""
    count = 0
    for g in range(things.groups.shape[0]):
        if _misses_shaft(seen, bright, things.groups, g) or _slips_by(seen, bright, things, g):
            continue
        if things.runs[g, 1] - things.runs[g, 0] == 1:
            b = things.runs[g, 0]
            first, last = things.plane_starts[b], things.plane_starts[b + 1]
            if _beyond_a_face(seen, bright, things.planes, first, last):
                continue
        listed[count] = g
        count += 1
    return count


@_inner
def _breadth(seen: Floats, centre: Floats, things: Things, g: int) -> float:  # pragma: no cover - compiled
    """How broad a group of solids is at least, seen from the middle of some points towards a source, m.

    The outline of a box along its axes is narrowest across one of its edges.
    """
    if things.widths[g] > 0.0:
        return things.widths[g]
    dx = centre[0] - 0.5 * (seen[0] + seen[3])
    dy = centre[1] - 0.5 * (seen[1] + seen[4])
    dz = centre[2] - 0.5 * (seen[2] + seen[5])
    ex = things.groups[g, 3] - things.groups[g, 0]
    ey = things.groups[g, 4] - things.groups[g, 1]
    ez = things.groups[g, 5] - things.groups[g, 2]
    along_x = (ey * abs(dz) + ez * abs(dy)) / math.sqrt(dy * dy + dz * dz + 1e-12)
    along_y = (ex * abs(dz) + ez * abs(dx)) / math.sqrt(dx * dx + dz * dz + 1e-12)
    along_z = (ex * abs(dy) + ey * abs(dx)) / math.sqrt(dx * dx + dy * dy + 1e-12)
    return min(along_x, along_y, along_z)


@_inner
def _list_leaves(
    seen: Floats, bright: Floats, leaves: Floats, listed: Ints
) -> int:  # pragma: no cover - compiled
    """Boxes of foliage that may come between the points in ``seen`` and the source; how many."""
    count = 0
    for k in range(leaves.shape[0]):
        if not _misses_shaft(seen, bright, leaves, k):
            listed[count] = k
            count += 1
    return count


@_inner
def _off_plane(
    px: float,
    py: float,
    pz: float,
    nx: float,
    ny: float,
    nz: float,
    reach: float,
    boxes: Floats,
    row: int,
) -> bool:  # pragma: no cover - compiled
    """Whether a box lies to one side of a plane through p with normal n, by more than reach · |n|."""
    x, y, z = boxes[row, 0], boxes[row, 1], boxes[row, 2]
    wide, deep, tall = 0.5 * (boxes[row, 3] - x), 0.5 * (boxes[row, 4] - y), 0.5 * (boxes[row, 5] - z)
    off = abs(nx * (x + wide - px) + ny * (y + deep - py) + nz * (z + tall - pz))
    extent = abs(nx) * wide + abs(ny) * deep + abs(nz) * tall
    return off > extent + reach * math.sqrt(nx * nx + ny * ny + nz * nz)


@_inner
def _run(
    px: float, py: float, pz: float, groups: Floats, g: int, runs: Ints, hulls: Ints
) -> tuple[int, int]:  # pragma: no cover - compiled
    """Which solids of a group to look at from a point: its hull from outside, its parts from inside."""
    first, last = runs[g, 0], runs[g, 1]
    if hulls[g] == 0:
        return first, last
    inside = groups[g, 0] <= px <= groups[g, 3] and groups[g, 1] <= py <= groups[g, 4]
    if inside and groups[g, 2] <= pz <= groups[g, 5]:
        return first + 1, last
    return first, first + 1


@_inner
def _cut(
    alpha: float, beta: float, gamma: float, work: Floats, now: int, count: int
) -> int:  # pragma: no cover - compiled
    """Keep the part of a polygon in rows ``now`` and ``now + 1`` of work where αu + βv ≤ γ.

    The result is in rows ``2 - now`` and ``3 - now``; returns its number of corners, or −1 if nothing
    was cut off and it still is where it was.
    """
    most = -1e300
    least = 1e300
    for i in range(count):
        f = alpha * work[now, i] + beta * work[now + 1, i] - gamma
        work[4, i] = f
        most = max(most, f)
        least = min(least, f)
    if most <= 0.0:
        return -1
    if least >= 0.0:
        return 0
    then = 2 - now
    kept = 0
    before = count - 1
    for i in range(count):
        f0, f1 = work[4, before], work[4, i]
        if (f0 < 0.0) != (f1 < 0.0):
            t = f0 / (f0 - f1)
            work[then, kept] = work[now, before] + t * (work[now, i] - work[now, before])
            work[then + 1, kept] = work[now + 1, before] + t * (work[now + 1, i] - work[now + 1, before])
            kept += 1
        if f1 < 0.0:
            work[then, kept] = work[now, i]
            work[then + 1, kept] = work[now + 1, i]
            kept += 1
        before = i
    return kept


@_inner
def _shadow(
    px: float,
    py: float,
    pz: float,
    solid: int,
    planes: Floats,
    plane_starts: Ints,
    corners: Floats,
    edges: Ints,
    edge_starts: Ints,
    centre: Floats,
    frame: Floats,
    half: Floats,
    work: Floats,
    front: Floats,
) -> tuple[int, int]:  # pragma: no cover - compiled
    """Polygon of the source's rectangle that a convex solid hides from p: its corners and its row of work.

    A ray from p to a point q of the source hits the solid if q lies within the cone of its outline and
    behind every face that p is in front of: all of them half-planes in u and v. No corners: nothing is
    hidden; −1: everything is.
    """
    ox, oy, oz = centre[0], centre[1], centre[2]
    a0, a1, a2 = frame[0, 0], frame[0, 1], frame[0, 2]
    b0, b1, b2 = frame[1, 0], frame[1, 1], frame[1, 2]
    hu, hv = half[0], half[1]
    now, count = 0, 4
    work[0, 0], work[1, 0] = -hu, -hv
    work[0, 1], work[1, 1] = hu, -hv
    work[0, 2], work[1, 2] = hu, hv
    work[0, 3], work[1, 3] = -hu, hv
    first = plane_starts[solid]
    outside = False
    for f in range(first, plane_starts[solid + 1]):
        nx, ny, nz = planes[f, 0], planes[f, 1], planes[f, 2]
        away = nx * px + ny * py + nz * pz - planes[f, 3]
        front[f - first] = away
        if away >= 0.0:
            outside = True
            alpha = nx * a0 + ny * a1 + nz * a2
            beta = nx * b0 + ny * b1 + nz * b2
            gamma = planes[f, 3] - nx * ox - ny * oy - nz * oz
            kept = _cut(alpha, beta, gamma, work, now, count)
            if kept == 0:
                return 0, 0
            if kept > 0:
                count, now = kept, 2 - now
    if not outside:
        return -1, 0
    for e in range(edge_starts[solid], edge_starts[solid + 1]):
        one, two = front[edges[e, 2] - first] >= 0.0, front[edges[e, 3] - first] >= 0.0
        if one == two:
            continue
        i, j = edges[e, 0], edges[e, 1]
        cx, cy, cz = corners[i, 0] - px, corners[i, 1] - py, corners[i, 2] - pz
        dx, dy, dz = corners[j, 0] - px, corners[j, 1] - py, corners[j, 2] - pz
        nx, ny, nz = cy * dz - cz * dy, cz * dx - cx * dz, cx * dy - cy * dx
        if one:
            nx, ny, nz = -nx, -ny, -nz
        alpha = -(nx * a0 + ny * a1 + nz * a2)
        beta = -(nx * b0 + ny * b1 + nz * b2)
        gamma = nx * (ox - px) + ny * (oy - py) + nz * (oz - pz)
        kept = _cut(alpha, beta, gamma, work, now, count)
        if kept == 0:
            return 0, 0
        if kept > 0:
            count, now = kept, 2 - now
    if count < 3:
        return 0, 0
    area = 0.0
    for i in range(count):
        j = i + 1 if i + 1 < count else 0
        area += work[now, i] * work[now + 1, j] - work[now, j] * work[now + 1, i]
    area = 0.5 * abs(area)
    if area < _SMALL * hu * hv:
        return 0, 0
    if area > (4.0 - _SMALL) * hu * hv:
        return -1, 0
    return count, now


@_inner
def _blocked(
    sx: float, sy: float, sz: float, px: float, py: float, pz: float, planes: Floats, first: int, last: int
) -> bool:  # pragma: no cover - compiled
    """Whether the way from s to p passes through a convex solid."""
    enter, leave = 0.0, 1.0
    for f in range(first, last):
        nx, ny, nz = planes[f, 0], planes[f, 1], planes[f, 2]
        start = nx * sx + ny * sy + nz * sz - planes[f, 3]
        end = nx * px + ny * py + nz * pz - planes[f, 3]
        if start >= 0.0 and end >= 0.0:
            return False
        if start > 0.0:
            enter = max(enter, start / (start - end))
        elif end > 0.0:
            leave = min(leave, start / (start - end))
        if enter >= leave:
            return False
    return True


@_inner
def _table_value(
    gamma: float, bearing: float, c_deg: Floats, gamma_deg: Floats, table: Floats
) -> float:  # pragma: no cover - compiled
    """Bilinear value of an angular table at angles in degrees; 0 beyond its last angle."""
    if gamma > gamma_deg[-1]:
        return 0.0
    j = min(int(np.searchsorted(gamma_deg, gamma, side="right")), gamma_deg.size - 1)
    j = max(j, 1)
    t = (gamma - gamma_deg[j - 1]) / (gamma_deg[j] - gamma_deg[j - 1])
    if c_deg.size == 1:
        return table[0, j - 1] * (1.0 - t) + table[0, j] * t
    i = min(int(np.searchsorted(c_deg, bearing, side="right")), c_deg.size - 1)
    i = max(i, 1)
    s = (bearing - c_deg[i - 1]) / (c_deg[i] - c_deg[i - 1])
    first = table[i - 1, j - 1] * (1.0 - t) + table[i - 1, j] * t
    second = table[i, j - 1] * (1.0 - t) + table[i, j] * t
    return first * (1.0 - s) + second * s


@_inner
def _on_curve(x: float, curve: Floats) -> float:  # pragma: no cover - compiled
    """Linear interpolation of a curve over 0–1."""
    steps = curve.size - 1
    at = x * steps
    k = min(int(at), steps - 1)
    return curve[k] + (at - k) * (curve[k + 1] - curve[k])


@_inner
def _mesh_share(ratio: float, tx: float, ty: float) -> float:  # pragma: no cover - compiled
    first = 1.0 - ratio * math.sqrt(1.0 + tx * tx)
    second = 1.0 - ratio * math.sqrt(1.0 + ty * ty)
    return max(0.0, first) * max(0.0, second)


@_inner
def pane_share(index: float, cosine: float) -> float:  # pragma: no cover - compiled
    """Unpolarised transmittance of a clear sheet at a slant, relative to normal incidence (Fresnel)."""
    cosine = min(max(cosine, 1e-6), 1.0)
    inside = math.sqrt(1.0 - (1.0 - cosine * cosine) / (index * index))
    s = ((cosine - index * inside) / (cosine + index * inside)) ** 2
    p = ((inside - index * cosine) / (inside + index * cosine)) ** 2
    straight = ((index - 1.0) / (index + 1.0)) ** 2
    passed = 0.5 * ((1.0 - s) / (1.0 + s) + (1.0 - p) / (1.0 + p))
    return passed / ((1.0 - straight) / (1.0 + straight))


@_inner
def _screened(
    dx: float, dy: float, dz: float, frame: Floats, screens: Floats
) -> float:  # pragma: no cover - compiled
    """Share of light going in direction d that passes all screens.

    A row of ``screens`` is kind, wire ratio or refractive index, factor, and 1 for a screen that turns
    with the lamp or 0 for one that lies level.
    """
    share = 1.0
    for k in range(screens.shape[0]):
        if screens[k, 3] > 0.5:
            along = dx * frame[0, 0] + dy * frame[0, 1] + dz * frame[0, 2]
            across = dx * frame[1, 0] + dy * frame[1, 1] + dz * frame[1, 2]
            ahead = dx * frame[2, 0] + dy * frame[2, 1] + dz * frame[2, 2]
            if ahead <= 0.0:
                continue
        else:
            along, across, ahead = dx, dy, -dz
            if ahead <= 0.0:
                continue
        if screens[k, 0] == SCREEN_MESH:
            share *= screens[k, 2] * _mesh_share(screens[k, 1], along / ahead, across / ahead)
        else:
            share *= screens[k, 2] * pane_share(screens[k, 1], ahead)
        if share <= 0.0:
            return 0.0
    return share


@_compiled
def screened(directions: Floats, frame: Floats, screens: Floats) -> Floats:  # pragma: no cover - compiled
    """Share (n,) of light going in directions (n, 3) that passes all screens."""
    found = np.empty(directions.shape[0])
    for i in range(directions.shape[0]):
        found[i] = _screened(directions[i, 0], directions[i, 1], directions[i, 2], frame, screens)
    return found


@_inner
def _emitted(
    dx: float,
    dy: float,
    dz: float,
    frame: Floats,
    pattern: int,
    exponent: float,
    curve: Floats,
    c_deg: Floats,
    gamma_deg: Floats,
    table: Floats,
) -> float:  # pragma: no cover - compiled
    """Relative intensity of a source element in direction d (unit), 1 along the aim but for tables."""
    ahead = dx * frame[2, 0] + dy * frame[2, 1] + dz * frame[2, 2]
    if pattern == PATTERN_BEAM:
        if ahead <= 0.0:
            return 0.0
        if exponent == 1.0:
            return ahead
        return _on_curve(ahead, curve)
    along = dx * frame[0, 0] + dy * frame[0, 1] + dz * frame[0, 2]
    if pattern == PATTERN_LINE:
        if exponent == 1.0:
            return max(ahead, 0.0)
        sine = math.sqrt(max(0.0, 1.0 - along * along))
        if exponent < 0.0 or sine < 1e-9:
            return sine
        if ahead <= 0.0:
            return 0.0
        return sine * _on_curve(min(ahead / sine, 1.0), curve)
    gamma = math.degrees(math.acos(min(max(ahead, -1.0), 1.0)))
    bearing = 0.0
    if c_deg.size > 1:
        across = dx * frame[1, 0] + dy * frame[1, 1] + dz * frame[1, 2]
        bearing = math.degrees(math.atan2(across, along)) % 360.0
    return _table_value(gamma, bearing, c_deg, gamma_deg, table)


@_compiled
def intensities(local: Floats, source: Source) -> Floats:  # pragma: no cover - compiled
    """Relative intensity (n,) in lamp directions (n, 3): along the axis, across, ahead."""
    upright = np.eye(3)
    found = np.empty(local.shape[0])
    for i in range(local.shape[0]):
        found[i] = _emitted(
            local[i, 0],
            local[i, 1],
            local[i, 2],
            upright,
            source.pattern,
            source.exponent,
            source.curve,
            source.c_deg,
            source.gamma_deg,
            source.table,
        )
    return found


@_inner
def _strip_in_closed_form(
    px: float, py: float, pz: float, nx: float, ny: float, nz: float, source: Source, out: Floats, row: int
) -> bool:  # pragma: no cover - compiled
    """A whole strip with nothing in the way; False where the receiver's horizon cuts it.

    E = I/D ∫ cos ψ (perpendicular cos ψ + along sin ψ) dψ, and I times cosⁿβ about the axis.
    """
    frame, hu = source.frame, source.half[0]
    rx, ry, rz = px - source.centre[0], py - source.centre[1], pz - source.centre[2]
    qx, qy, qz = frame[0, 0], frame[0, 1], frame[0, 2]
    foot = rx * qx + ry * qy + rz * qz
    ox, oy, oz = rx - foot * qx, ry - foot * qy, rz - foot * qz
    apart = max(math.sqrt(ox * ox + oy * oy + oz * oz), 1e-4)
    z0, z1 = -hu - foot, hu - foot
    n0 = -(ox * nx + oy * ny + oz * nz) + z0 * (qx * nx + qy * ny + qz * nz)
    n1 = n0 + (z1 - z0) * (qx * nx + qy * ny + qz * nz)
    if (n0 >= 0.0) != (n1 >= 0.0):
        return False
    k = source.density
    if source.exponent >= 0.0:
        cosine = (ox * frame[2, 0] + oy * frame[2, 1] + oz * frame[2, 2]) / apart
        if cosine <= 0.0:
            return True
        k *= cosine if source.exponent == 1.0 else cosine**source.exponent
    r0, r1 = math.sqrt(apart**2 + z0 * z0), math.sqrt(apart**2 + z1 * z1)
    c0, c1, s0, s1 = apart / r0, apart / r1, z0 / r0, z1 / r1
    across = math.atan2(s1 * c0 - c1 * s0, c1 * c0 + s1 * s0)
    across = 0.5 * (across + s1 * c1 - s0 * c0) * k / apart
    along = 0.5 * (s1 * s1 - s0 * s0) * k / apart
    vx = -across * ox / apart + along * qx
    vy = -across * oy / apart + along * qy
    vz = -across * oz / apart + along * qz
    out[row, 0], out[row, 1], out[row, 2] = vx, vy, vz
    if n0 >= 0.0:
        out[row, 3] = vx * nx + vy * ny + vz * nz
    return True


@_inner
def _visible(
    u: float, edge: float, polygons: Floats, sizes: Ints, spans: Floats, count: int, gaps: Floats
) -> int:  # pragma: no cover - compiled
    """What is seen of the source at u across −edge to edge: intervals in ``gaps`` (2, most); how many."""
    hidden = 0
    # First the hidden intervals, merged and rising, in rows 2 and 3.
    for k in range(count):
        if u < spans[k, 0] or u > spans[k, 1]:
            continue
        n = sizes[k]
        low, high = 1e300, -1e300
        u0, v0 = polygons[k, 0, n - 1], polygons[k, 1, n - 1]
        for i in range(n):
            u1, v1 = polygons[k, 0, i], polygons[k, 1, i]
            if (u0 <= u) != (u1 <= u):
                v = v0 + (u - u0) / (u1 - u0) * (v1 - v0)
                low, high = min(low, v), max(high, v)
            u0, v0 = u1, v1
        low, high = max(low, -edge), min(high, edge)
        if low >= high:
            continue
        if low <= -edge and high >= edge:
            return 0
        kept = 0
        for i in range(hidden):
            if gaps[3, i] < low or gaps[2, i] > high:
                gaps[2, kept], gaps[3, kept] = gaps[2, i], gaps[3, i]
                kept += 1
            else:
                low, high = min(low, gaps[2, i]), max(high, gaps[3, i])
        at = kept
        while at > 0 and gaps[2, at - 1] > low:
            gaps[2, at], gaps[3, at] = gaps[2, at - 1], gaps[3, at - 1]
            at -= 1
        gaps[2, at], gaps[3, at] = low, high
        hidden = kept + 1
    seen = 0
    begin = -edge
    for i in range(hidden):
        if gaps[2, i] > begin + 1e-12:
            gaps[0, seen], gaps[1, seen] = begin, gaps[2, i]
            seen += 1
        begin = gaps[3, i]
    if begin < edge - 1e-12:
        gaps[0, seen], gaps[1, seen] = begin, edge
        seen += 1
    return seen


@_inner
def _smooth_step(x: float) -> float:  # pragma: no cover - compiled
    """The s of x = (3s − s³)/2, for −1 to 1."""
    return 2.0 * math.sin(math.asin(min(max(x, -1.0), 1.0)) / 3.0)


@_inner
def _broken(at: float, breaks: Floats, last: int) -> int:  # pragma: no cover - compiled
    """Put a place among rising ones, unless it is outside or close to one; the number of the last."""
    place = last
    while place > 0 and breaks[place - 1] > at:
        place -= 1
    grain = _GRAIN * (breaks[last] - breaks[0])
    if place == 0 or last >= _MOST_BREAKS - 1:
        return last
    if at - breaks[place - 1] < grain or breaks[place] - at < grain:
        return last
    for m in range(last, place - 1, -1):
        breaks[m + 1] = breaks[m]
    breaks[place] = at
    return last + 1


@_inner
def _ridges(
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
            last = _broken(up + apart * (ux * x + uy * y + uz * z) / ahead, breaks, last)
    return last


@_inner
def _rule(reach: float, more: int, most: int) -> int:  # pragma: no cover - compiled
    """Nodes for an interval that is ``reach`` times as long as it is far away, or as wide in radians."""
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


@_inner
def _receive(
    batch: Floats,
    count: int,
    listed: Ints,
    listed_count: int,
    leafy: Ints,
    leafy_count: int,
    source: Source,
    screens: Floats,
    things: Things,
    out: Floats,
    room: Scratch,
) -> None:  # pragma: no cover - compiled
    """What the first points of a batch receive: vector irradiance and irradiance on the normal.

    ``batch`` (n, 6) are points and normals, ``listed`` the groups and ``leafy`` the leaves that may be in
    the way, ``out`` (n, 5) the result and a number for what hides or dims the source there: its fraction
    tells how many leaves the point is amid, and it is negative for what hides all of it. ``room`` is to
    work in.
    """
    polygons, sizes, spans, work = room.polygons, room.sizes, room.spans, room.work
    front, breaks, gaps, ways, seen = room.front, room.breaks, room.gaps, room.ways, room.seen
    frame, half, shape, fineness = source.frame, source.half, source.shape, source.fineness
    ox, oy, oz = source.centre[0], source.centre[1], source.centre[2]
    ux, uy, uz = frame[0, 0], frame[0, 1], frame[0, 2]
    vx, vy, vz = frame[1, 0], frame[1, 1], frame[1, 2]
    ax, ay, az = frame[2, 0], frame[2, 1], frame[2, 2]
    hu, hv, sharp = half[0], half[1], source.sharp
    pattern, exponent, curve = source.pattern, source.exponent, source.curve
    one_sided = pattern == PATTERN_BEAM or (pattern == PATTERN_LINE and exponent >= 0.0)
    most = source.gauss.shape[0] - 1
    for i in range(count):
        out[i, 0], out[i, 1], out[i, 2], out[i, 3], out[i, 4] = 0.0, 0.0, 0.0, 0.0, 0.0
        px, py, pz = batch[i, 0], batch[i, 1], batch[i, 2]
        nx, ny, nz = batch[i, 3], batch[i, 4], batch[i, 5]
        rx, ry, rz = px - ox, py - oy, pz - oz
        depth = rx * ax + ry * ay + rz * az
        if one_sided and depth <= 0.0:
            continue
        seen[0], seen[1], seen[2] = px, py, pz
        seen[3], seen[4], seen[5] = px, py, pz
        found, dark = 0, False
        for k in range(listed_count):
            g = listed[k]
            if _misses_shaft(seen, source.bright, things.groups, g):
                continue
            if _slips_by(seen, source.bright, things, g):
                continue
            begin_g, end_g = _run(px, py, pz, things.groups, g, things.runs, things.hulls)
            for b in range(begin_g, end_g):
                if end_g - begin_g > 1 and _misses_shaft(seen, source.bright, things.bounds, b):
                    continue
                corners, now = _shadow(
                    px,
                    py,
                    pz,
                    b,
                    things.planes,
                    things.plane_starts,
                    things.corners,
                    things.edges,
                    things.edge_starts,
                    source.centre,
                    frame,
                    half,
                    work,
                    front,
                )
                if corners < 0:
                    dark = True
                    out[i, 4] = -1.0 - b
                    break
                if corners > 0 and found < _MOST_POLYGONS:
                    spans[found, 0], spans[found, 1] = 1e300, -1e300
                    for c in range(corners):
                        polygons[found, 0, c] = work[now, c]
                        polygons[found, 1, c] = work[now + 1, c]
                        spans[found, 0] = min(spans[found, 0], work[now, c])
                        spans[found, 1] = max(spans[found, 1], work[now, c])
                    sizes[found] = corners
                    found += 1
                    out[i, 4] = (31.0 * out[i, 4] + b + 1.0) % 1000003.0
            if dark:
                break
        if dark:
            continue
        foliage, amid = 0, 0.0
        # A plane through the point and the length of the source, and one across it: leaves clear of either
        # dim nothing.
        lx, ly, lz = ry * uz - rz * uy, rz * ux - rx * uz, rx * uy - ry * ux
        cx, cy, cz = ry * vz - rz * vy, rz * vx - rx * vz, rx * vy - ry * vx
        for j in range(leafy_count):
            k = leafy[j]
            if _misses_shaft(seen, source.bright, things.leaves, k):
                continue
            within = _inside(px, py, pz, things.leaves, k)
            if _off_plane(px, py, pz, lx, ly, lz, hv, things.leaves, k):
                continue
            if shape != SHAPE_STRIP and _off_plane(px, py, pz, cx, cy, cz, hu, things.leaves, k):
                continue
            corners, now = _shadow(
                px,
                py,
                pz,
                things.leaf_solids[k],
                things.planes,
                things.plane_starts,
                things.corners,
                things.edges,
                things.edge_starts,
                source.centre,
                frame,
                half,
                work,
                front,
            )
            if corners == 0:
                continue
            # Kept behind the polygons of solids: its corners are where dimming sets in.
            row = found + foliage
            spans[row, 0], spans[row, 1] = 1e300, -1e300
            for c in range(corners):
                polygons[row, 0, c] = work[now, c]
                polygons[row, 1, c] = work[now + 1, c]
                spans[row, 0] = min(spans[row, 0], work[now, c])
                spans[row, 1] = max(spans[row, 1], work[now, c])
            if corners < 0:
                spans[row, 0], spans[row, 1] = -1e300, 1e300
            sizes[row] = max(corners, 0)
            ways[foliage] = k
            foliage += 1
            out[i, 4] = (31.0 * out[i, 4] + 500.0 + k) % 1000003.0
            amid += within
        out[i, 4] += amid / _MOST_AMID
        plain = found == 0 and foliage == 0
        if (
            plain
            and shape == SHAPE_STRIP
            and screens.shape[0] == 0
            and _strip_in_closed_form(px, py, pz, nx, ny, nz, source, out, i)
        ):
            continue
        # Where to break the source along u: at its ends, and at the corners of what is hidden or dimmed.
        if shape == SHAPE_DISC:
            breaks[0], breaks[1] = -1.0, 1.0
        else:
            breaks[0], breaks[1] = -hu, hu
        last = 1
        for k in range(found + foliage):
            if shape != SHAPE_DISC:
                for c in range(sizes[k]):
                    last = _broken(polygons[k, 0, c], breaks, last)
                continue
            # Of a disc, at corners within it and where edges cross its rim.
            before = sizes[k] - 1
            for c in range(sizes[k]):
                u0, v0 = polygons[k, 0, before] / hu, polygons[k, 1, before] / hu
                u1, v1 = polygons[k, 0, c] / hu, polygons[k, 1, c] / hu
                before = c
                if u1 * u1 + v1 * v1 < 1.0:
                    last = _broken(_smooth_step(u1), breaks, last)
                du, dv = u1 - u0, v1 - v0
                square = du * du + dv * dv
                along = -(u0 * du + v0 * dv)
                rest = along * along - square * (u0 * u0 + v0 * v0 - 1.0)
                if rest <= 0.0 or square <= 0.0:
                    continue
                rest = math.sqrt(rest)
                for way in range(2):
                    t = (along - rest if way == 0 else along + rest) / square
                    if 0.0 < t < 1.0:
                        last = _broken(_smooth_step(u0 + t * du), breaks, last)
        up, vp = rx * ux + ry * uy + rz * uz, rx * vx + ry * vy + rz * vz
        # Middle line of a strip, or the nearest point of a disc or panel.
        aside = abs(vp) if shape == SHAPE_STRIP else max(abs(vp) - hv, 0.0)
        beside = max(abs(up) - hu, 0.0)
        apart = max(math.sqrt(aside * aside + depth * depth), 1e-4)
        near = math.sqrt(apart * apart + beside * beside)
        if shape == SHAPE_STRIP and foliage > 0:
            wx, wy, wz = (up * ux - rx) / apart, (up * uy - ry) / apart, (up * uz - rz) / apart
            for way in range(foliage):
                last = _ridges(
                    px,
                    py,
                    pz,
                    lx,
                    ly,
                    lz,
                    ux,
                    uy,
                    uz,
                    wx,
                    wy,
                    wz,
                    up,
                    apart,
                    things.leaves,
                    ways[way],
                    breaks,
                    last,
                )
        # Through mesh at a glance, light ends where the wires close up.
        grazing = 0
        if screens.shape[0] > 0:
            if depth < 0.3 * near:
                grazing = 4
            elif depth < 0.3 * (abs(up) + hu):
                grazing = 2
        whole_disc = shape == SHAPE_DISC and last == 1
        # Four dots serve as well as a whole small disc, to the third order: at R/√2, on both diagonals.
        four_dots = whole_disc and plain and fineness == 1 and near > 4.0 * hu * sharp
        ex, ey, ez, level = 0.0, 0.0, 0.0, 0.0
        for piece in range(last):
            begin, end = breaks[piece], breaks[piece + 1]
            # Paths through foliage have ridges of their own, so discs and panels take more nodes.
            more = 0
            if foliage > 0 and shape != SHAPE_STRIP:
                middle = 0.5 * (begin + end)
                if shape == SHAPE_DISC:
                    middle = 0.5 * hu * middle * (3.0 - middle * middle)
                for way in range(foliage):
                    if spans[found + way, 0] <= middle <= spans[found + way, 1]:
                        more = 1
            by_angle = False
            if shape == SHAPE_STRIP:
                by_angle = end - begin > 0.7 * near
                if by_angle:
                    # By the sine of the angle at the point: in it, a strip's light is nearly even.
                    begin, end = begin - up, end - up
                    begin /= math.sqrt(apart * apart + begin * begin)
                    end /= math.sqrt(apart * apart + end * end)
                    n = _rule(1.5 * (end - begin), grazing, 12) * fineness
                else:
                    n = _rule((end - begin) / near, grazing, 12) * fineness
            elif four_dots:
                n = 2
            elif whole_disc:
                n = max(3 + more, _rule(2.8 * hu * sharp / near, more, 12)) * fineness
            elif shape == SHAPE_DISC:
                n = _rule((end - begin) * max(1.0, hu * sharp / near), more, 12) * fineness
            else:
                n = _rule((end - begin) * sharp / near, more, 12) * fineness
            n = min(n, most)
            for a in range(n):
                u = begin + (end - begin) * source.gauss[n, 0, a]
                weight = (end - begin) * source.gauss[n, 1, a]
                edge = hv
                if four_dots:
                    u, edge = (a - 0.5) * hu, 0.5 * hu
                    weight = 0.5 * math.pi * hu * hu
                elif whole_disc:
                    # Gauss–Chebyshev of the second kind, in place of that node and weight.
                    angle = (a + 1) * math.pi / (n + 1)
                    u, edge = hu * math.cos(angle), hu * math.sin(angle)
                    weight = math.pi / (n + 1) * edge
                elif shape == SHAPE_DISC:
                    # u = R (3s − s³)/2 takes the sting out of the ends, where chords shrink like a root.
                    square = u * u
                    weight *= 1.5 * hu * (1.0 - square)
                    u = 0.5 * hu * u * (3.0 - square)
                    edge = math.sqrt(max(hu * hu - u * u, 0.0))
                elif by_angle:
                    cosine = 1.0 / math.sqrt(max(1.0 - u * u, 1e-12))
                    weight *= apart * cosine * cosine * cosine
                    u = up + apart * u * cosine
                if found > 0:
                    intervals = _visible(u, edge, polygons, sizes, spans, found, gaps)
                else:
                    gaps[0, 0], gaps[1, 0] = -edge, edge
                    intervals = 1
                if shape == SHAPE_STRIP and intervals > 0:
                    # A strip is narrow: its middle line tells where the light comes from.
                    width = 0.0
                    for k in range(intervals):
                        width += gaps[1, k] - gaps[0, k]
                    weight *= width / (2.0 * hv)
                    gaps[0, 0], gaps[1, 0] = -1e-9, 1e-9
                    intervals = 1
                for k in range(intervals):
                    v0, v1 = gaps[0, k], gaps[1, k]
                    nv, across = 1, 1.0
                    if four_dots:
                        nv = 2
                    elif shape != SHAPE_STRIP:
                        across = v1 - v0
                        nv = _rule(across * sharp / near, 0, 12)
                        nv += 2 * more
                        nv = min(nv * fineness, most)
                    for b in range(nv):
                        v = v0 + (v1 - v0) * (b if four_dots else source.gauss[nv, 0, b])
                        dx, dy, dz = rx - u * ux - v * vx, ry - u * uy - v * vy, rz - u * uz - v * vz
                        d2 = dx * dx + dy * dy + dz * dz
                        if d2 < 1e-10:
                            continue
                        d = math.sqrt(d2)
                        closer = 1.0 / d
                        dx, dy, dz = dx * closer, dy * closer, dz * closer
                        if pattern == PATTERN_BEAM:
                            ahead = dx * ax + dy * ay + dz * az
                            if ahead <= 0.0:
                                continue
                            e = ahead if exponent == 1.0 else _on_curve(ahead, curve)
                        else:
                            e = _emitted(
                                dx,
                                dy,
                                dz,
                                frame,
                                pattern,
                                exponent,
                                curve,
                                source.c_deg,
                                source.gamma_deg,
                                source.table,
                            )
                            if e <= 0.0:
                                continue
                        if screens.shape[0] > 0:
                            e *= _screened(dx, dy, dz, frame, screens)
                        if foliage > 0:
                            # Leaves dim a strip differently over its width.
                            rays = 2 if shape == SHAPE_STRIP else 1
                            left = 0.0
                            for ray in range(rays):
                                w = v if rays == 1 else (1.1547 * ray - 0.57735) * hv
                                sx = ox + u * ux + w * vx
                                sy = oy + u * uy + w * vy
                                sz = oz + u * uz + w * vz
                                optical = 0.0
                                for way in range(foliage):
                                    if u < spans[found + way, 0] or u > spans[found + way, 1]:
                                        continue
                                    leaf = ways[way]
                                    inside = _in_box(sx, sy, sz, px, py, pz, things.leaves, leaf)
                                    optical += things.leaves[leaf, 6] * inside
                                left += math.exp(-optical * d) if optical > 0.0 else 1.0
                            e *= left / rays
                        e *= source.density * weight * across * source.gauss[nv, 1, b] / d2
                        ex -= e * dx
                        ey -= e * dy
                        ez -= e * dz
                        facing = -(dx * nx + dy * ny + dz * nz)
                        if facing > 0.0:
                            level += e * facing
        out[i, 0], out[i, 1], out[i, 2], out[i, 3] = ex, ey, ez, level


@_compiled
def trace(
    points: Floats, normals: Floats, source: Source, screens: Floats, things: Things
) -> tuple[Floats, Floats]:  # pragma: no cover - compiled
    """Vector irradiance and irradiance on given normals, per unit of source strength.

    Parameters
    ----------
    points, normals : (n, 3) float64
        Where, and which way the receiver looks (unit vectors).
    source : Source
    screens : (q, 4) float64
        As ``_screened`` takes them.
    things : Things

    Returns
    -------
    vector : (n, 3), on_normal : (n,)
        ``vector`` points towards the light; its length is what a meter facing it reads as long
        as the whole source is in front of the meter.
    """
    n = points.shape[0]
    vector = np.zeros((n, 3))
    on_normal = np.zeros(n)
    batch = np.zeros((_BLOCK, 6))
    out = np.zeros((_BLOCK, 5))
    listed = np.zeros(things.groups.shape[0], dtype=np.int64)
    leafy = np.zeros(things.leaves.shape[0], dtype=np.int64)
    room = _scratch(things)
    box = np.zeros(6)
    for first in range(0, n, _BLOCK):
        count = min(_BLOCK, n - first)
        for k in range(3):
            box[k], box[k + 3] = 1e300, -1e300
        for i in range(count):
            for k in range(3):
                x = points[first + i, k]
                batch[i, k] = x
                batch[i, k + 3] = normals[first + i, k]
                box[k], box[k + 3] = min(box[k], x), max(box[k + 3], x)
        listed_count = _list_groups(box, source.bright, things, listed)
        leafy_count = _list_leaves(box, source.bright, things.leaves, leafy)
        _receive(
            batch,
            count,
            listed,
            listed_count,
            leafy,
            leafy_count,
            source,
            screens,
            things,
            out,
            room,
        )
        for i in range(count):
            vector[first + i, 0] = out[i, 0]
            vector[first + i, 1] = out[i, 1]
            vector[first + i, 2] = out[i, 2]
            on_normal[first + i] = out[i, 3]
    return vector, on_normal


@_inner
def _even(
    values: Floats, r: int, c: int, top: int, left: int, floor: float, slack: float
) -> bool:  # pragma: no cover - compiled
    """Whether a cell of two by two may be filled from its corners.

    That is if the same hides the lamp at all of them, they nearly agree, and light runs nearly straight
    along its sides, on into the next cell: as far as the nine points of the quartered cell at ``top`` and
    ``left`` tell.
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
    bent = 8.0 * _BENT * slack * most
    for q in range(4):
        v0, v1 = values[r, c, q], values[r, c + 2, q]
        v2, v3 = values[r + 2, c, q], values[r + 2, c + 2, q]
        if max(v0, v1, v2, v3) - min(v0, v1, v2, v3) > _EVEN * slack * most:
            return False
        for a in range(0, 3, 2):
            down = values[top, c + a, q] - 2.0 * values[top + 2, c + a, q] + values[top + 4, c + a, q]
            along = values[r + a, left, q] - 2.0 * values[r + a, left + 2, q] + values[r + a, left + 4, q]
            if abs(down) > bent or abs(along) > bent:
                return False
    return True


@_inner
def _surprises(v: Floats, floor: float, slack: float) -> bool:  # pragma: no cover - compiled
    """Whether bilinear interpolation of the corners of nine points may miss what lies between them.

    ``slack`` (≥ 1) is how much brighter it is there by all lamps together than by this one.
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
    allowed = (_TOLERANCE_ALIKE if alike else _TOLERANCE) * most * slack
    steep = (_STEEP_ALIKE if alike else _STEEP) * most
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
    """How many cells ``trace_lattice`` takes a lattice of rows and columns in, down and across."""
    rows, columns = shape
    return max(1, -(-(rows - 1) // _COARSEST)), max(1, -(-(columns - 1) // _COARSEST))


def cell_corners(shape: tuple[int, int]) -> tuple[Ints, Ints]:
    """Rows and columns of a lattice where its cells meet."""
    down, across = cells_of(shape)
    rows = np.minimum(np.arange(down + 1) * _COARSEST, shape[0] - 1)
    return rows, np.minimum(np.arange(across + 1) * _COARSEST, shape[1] - 1)


@_compiled
def trace_lattice(
    points: Floats,
    rows: int,
    columns: int,
    source: Source,
    screens: Floats,
    things: Things,
    slack: Floats,
) -> Floats:  # pragma: no cover - compiled
    """Vector irradiance and level irradiance (rows · columns, 4) on a plane lattice.

    Light varies slowly but at the edges of shade and close to lamps, so the lattice is taken in cells of
    eight by eight points. A cell is filled from nine of them by a biquadratic surface if bilinear
    interpolation of its corners already foretells the other five, and quartered if not. A cell that
    something thin may throw its shade on is quartered at least once, as that shade may pass between
    its nine points.

    Parameters
    ----------
    points : (rows · columns, 3) float64
        Row by row.
    rows, columns : int
        At least one each.
    source, screens, things
        As ``trace`` takes them.
    slack : float64 of the shape ``cells_of`` tells
        For every cell, how much more light there is by all lamps together than by this one, ≥ 1: what is
        a large error to one lamp is a small one to all of them.
    """
    # Cells are whole: the last of a row or column overlaps the one before, the only one of a short lattice
    # reaches past its end.
    high, wide = max(rows, _COARSEST + 1), max(columns, _COARSEST + 1)
    down, across = slack.shape
    values = np.zeros((high, wide, 5))
    known = np.zeros((high, wide), dtype=np.bool_)
    box = np.zeros(6)
    stack = np.zeros((64, 3), dtype=np.int64)
    lit = np.zeros((down + 1) * (across + 1))
    floor = 0.0
    nine = np.zeros((3, 3, 5))
    batch = np.zeros((_BLOCK, 6))
    out = np.zeros((_BLOCK, 5))
    places = np.zeros((_BLOCK, 2), dtype=np.int64)
    listed = np.zeros(things.groups.shape[0], dtype=np.int64)
    leafy = np.zeros(things.leaves.shape[0], dtype=np.int64)
    room = _scratch(things)
    for i in range(_BLOCK):
        batch[i, 5] = 1.0
    for sweep in range(2):
        counted = 0
        # First the corners of all cells, to learn how bright it is where it is bright.
        corner_only = sweep == 0
        beyond = 1 if corner_only else 0
        for cell in range((down + beyond) * (across + beyond)):
            j, m = cell // (across + beyond), cell % (across + beyond)
            r0 = min(j * _COARSEST, high - 1 if corner_only else high - 1 - _COARSEST)
            c0 = min(m * _COARSEST, wide - 1 if corner_only else wide - 1 - _COARSEST)
            first = min(r0, rows - 1) * columns + min(c0, columns - 1)
            last = first
            if not corner_only:
                last = min(r0 + _COARSEST, rows - 1) * columns + min(c0 + _COARSEST, columns - 1)
            for k in range(3):
                box[k] = min(points[first, k], points[last, k])
                box[k + 3] = max(points[first, k], points[last, k])
            listed_count = _list_groups(box, source.bright, things, listed)
            leafy_count = _list_leaves(box, source.bright, things.leaves, leafy)
            # How far apart the nine points of the whole cell are: what is thicker cannot hide between.
            apart = 0.75 * max(box[3] - box[0], box[4] - box[1], box[5] - box[2])
            thin, loose = False, 1.0 if corner_only else slack[j, m]
            for k in range(listed_count):
                thin = thin or _breadth(box, source.centre, things, listed[k]) < apart
            stack[0, 0], stack[0, 1], stack[0, 2] = r0, c0, _COARSEST
            depth = 1
            while depth > 0:
                depth -= 1
                r, c, size = stack[depth, 0], stack[depth, 1], stack[depth, 2]
                half = size // 2
                if half == 1 and _even(values, r, c, r - (r - r0) % 4, c - (c - c0) % 4, floor, loose):
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
                    _receive(
                        batch,
                        count,
                        listed,
                        listed_count,
                        leafy,
                        leafy_count,
                        source,
                        screens,
                        things,
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
                if (thin and loose < _FAINT and size == _COARSEST) or _surprises(nine, floor, loose):
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
            floor = _DARK_SHARE * np.sort(lit)[3 * counted // 4]
    result = np.empty((rows * columns, 4))
    for r in range(rows):
        for c in range(columns):
            for q in range(4):
                result[r * columns + c, q] = values[r, c, q]
    return result


@_inner
def _facing(parts: Floats, count: int) -> float:  # pragma: no cover - compiled
    """Largest reading of a cosine meter turned to the sum of some vectors, or to one of them.

    Light from behind the meter does not count. Where all vectors are within a right angle of each other
    there is none, and the meter faces their sum.
    """
    sx, sy, sz = 0.0, 0.0, 0.0
    together = True
    for k in range(count):
        x, y, z = parts[k, 0], parts[k, 1], parts[k, 2]
        sx, sy, sz = sx + x, sy + y, sz + z
        for m in range(k):
            together = together and x * parts[m, 0] + y * parts[m, 1] + z * parts[m, 2] >= 0.0
    best = math.sqrt(sx * sx + sy * sy + sz * sz)
    if together:
        return best
    for k in range(-1, count):
        dx, dy, dz = sx, sy, sz
        if k >= 0:
            dx, dy, dz = parts[k, 0], parts[k, 1], parts[k, 2]
        norm = math.sqrt(dx * dx + dy * dy + dz * dz)
        if norm < 1e-300:
            continue
        reading = 0.0
        for m in range(count):
            reading += max(0.0, dx * parts[m, 0] + dy * parts[m, 1] + dz * parts[m, 2])
        best = max(best, reading / norm)
    return best


@_compiled
def metered(
    parts: Floats, scales: Floats, back: Floats, rows: Ints, columns: Ints, faced: Ints
) -> Floats:  # pragma: no cover - compiled
    """What meters read at points: level for every quantity, and turned to the light for some.

    Parameters
    ----------
    parts : (lamps, n, 4) float64
        Vector and level irradiance of each lamp, per unit of its strength.
    scales : (lamps, q) float64
        Strength of each lamp for every quantity.
    back : (r, c, q, 4) float64
        What floor and walls send back at some rows and columns of a lattice of n points given row by row:
        vector and level. It is filled in between them.
    rows, columns : (r,), (c,) int64
        Those rows and columns, rising, from 0 to the last of the lattice.
    faced : (f,) int64
        Quantities also read by a meter turned to the light.

    Returns
    -------
    (q + f, n) float64
        Level readings, then those facing the light, which are never less.
    """
    lamps, n, quantities = parts.shape[0], parts.shape[1], scales.shape[1]
    result = np.empty((quantities + faced.size, n))
    vectors = np.zeros((lamps + 1, 3))
    here = np.zeros((quantities, 4))
    across = columns[-1] + 1
    r0, c0 = 0, 0
    for i in range(n):
        row, column = i // across, i % across
        if column == 0:
            c0 = 0
            while r0 < rows.size - 2 and rows[r0 + 1] <= row:
                r0 += 1
        while c0 < columns.size - 2 and columns[c0 + 1] <= column:
            c0 += 1
        r1, c1 = min(r0 + 1, rows.size - 1), min(c0 + 1, columns.size - 1)
        t = 0.0 if r1 == r0 else (row - rows[r0]) / (rows[r1] - rows[r0])
        s = 0.0 if c1 == c0 else (column - columns[c0]) / (columns[c1] - columns[c0])
        for q in range(quantities):
            for m in range(4):
                upper = (1.0 - s) * back[r0, c0, q, m] + s * back[r0, c1, q, m]
                lower = (1.0 - s) * back[r1, c0, q, m] + s * back[r1, c1, q, m]
                here[q, m] = (1.0 - t) * upper + t * lower
        for q in range(quantities):
            level = here[q, 3]
            for k in range(lamps):
                level += parts[k, i, 3] * scales[k, q]
            result[q, i] = level
        for f in range(faced.size):
            q, count = faced[f], 1
            for m in range(3):
                vectors[0, m] = here[q, m]
            for k in range(lamps):
                scale = scales[k, q]
                if scale > 0.0:
                    for m in range(3):
                        vectors[count, m] = parts[k, i, m] * scale
                    count += 1
            result[quantities + f, i] = max(_facing(vectors, count), result[q, i])
    return result


@_compiled
def bounced(
    points: Floats, patches: Floats, facing: Floats, size: Floats, exitance: Floats, things: Things
) -> Floats:  # pragma: no cover - compiled
    """Light that diffuse patches send to points, past the same obstacles.

    From a patch inside a hide, which is not lit, nothing comes; so its hull serves here too.

    Parameters
    ----------
    points : (n, 3) float64
    patches, facing : (p, 3) float64
        Centres and unit normals.
    size : (p,) float64
        Areas, m².
    exitance : (p, q) float64
        What leaves each patch, per area, for q quantities.
    things : Things

    Returns
    -------
    (n, q, 4) float64
        Vector irradiance towards the light (3), and irradiance on an upward face.
    """
    n, quantities = points.shape[0], exitance.shape[1]
    result = np.zeros((n, quantities, 4))
    spot = np.zeros(6)
    seen = np.zeros(6)
    for i in range(n):
        px, py, pz = points[i, 0], points[i, 1], points[i, 2]
        seen[0], seen[1], seen[2] = px, py, pz
        seen[3], seen[4], seen[5] = px, py, pz
        for p in range(patches.shape[0]):
            sx, sy, sz = patches[p, 0], patches[p, 1], patches[p, 2]
            dx, dy, dz = px - sx, py - sy, pz - sz
            d2 = dx * dx + dy * dy + dz * dz
            d = math.sqrt(d2)
            if d < 1e-6:
                continue
            dx, dy, dz = dx / d, dy / d, dz / d
            leaving = dx * facing[p, 0] + dy * facing[p, 1] + dz * facing[p, 2]
            if leaving <= 0.0:
                continue
            spot[0], spot[1], spot[2] = sx, sy, sz
            spot[3], spot[4], spot[5] = sx, sy, sz
            blocked = False
            for g in range(things.groups.shape[0]):
                if blocked:
                    break
                if _misses_shaft(seen, spot, things.groups, g):
                    continue
                begin_g, end_g = _run(px, py, pz, things.groups, g, things.runs, things.hulls)
                for b in range(begin_g, end_g):
                    first, last = things.plane_starts[b], things.plane_starts[b + 1]
                    if _blocked(sx, sy, sz, px, py, pz, things.planes, first, last):
                        blocked = True
                        break
            if blocked:
                continue
            # A disc of the patch's area seen on its axis: E = M r²/(r² + d²).
            share = size[p] * leaving / (math.pi * d2 + size[p])
            for k in range(things.leaves.shape[0]):
                inside = _in_box(sx, sy, sz, px, py, pz, things.leaves, k)
                if inside > 0.0:
                    share *= math.exp(-things.leaves[k, 6] * inside * d)
            for q in range(quantities):
                e = share * exitance[p, q]
                result[i, q, 0] -= e * dx
                result[i, q, 1] -= e * dy
                result[i, q, 2] -= e * dz
                if dz < 0.0:
                    result[i, q, 3] -= e * dz
    return result
