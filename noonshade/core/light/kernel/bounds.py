"""Bounding boxes: what certainly cannot come between points and a source."""

from __future__ import annotations

import math

from noonshade.core.compiled import inlined
from noonshade.core.light.kernel.types import Floats, Ints, Occluders


@inlined
def safe_inverse(way: float) -> float:  # pragma: no cover - compiled
    """1/way, very large instead of infinite, so that a grazing ray yields no NaN.

    Parameters
    ----------
    way : float
        Component of a direction.

    Returns
    -------
    float
        The inverse, at most 1e12 in size.
    """
    if abs(way) < 1e-12:
        return 1e12
    return 1.0 / way


@inlined
def share_in_box(
    sx: float, sy: float, sz: float, px: float, py: float, pz: float, boxes: Floats, row: int
) -> float:  # pragma: no cover - compiled
    """Share of the way from s to p that lies inside a box x0, y0, z0, x1, y1, z1.

    Parameters
    ----------
    sx, sy, sz : float
        A point of the source, m.
    px, py, pz : float
        The point, m.
    boxes : Floats
        Bounds, x0, y0, z0, x1, y1, z1 in m, shape (n, 6).
    row : int
        Row of the result or of the bounds.

    Returns
    -------
    float
        The share, 0–1.
    """
    enter, leave = 0.0, 1.0
    for k in range(3):
        if k == 0:
            start, inverse = sx, safe_inverse(px - sx)
        elif k == 1:
            start, inverse = sy, safe_inverse(py - sy)
        else:
            start, inverse = sz, safe_inverse(pz - sz)
        near = (boxes[row, k] - start) * inverse
        far = (boxes[row, k + 3] - start) * inverse
        enter = max(enter, min(near, far))
        leave = min(leave, max(near, far))
        if enter >= leave:
            return 0.0
    return leave - enter


@inlined
def is_inside(
    px: float, py: float, pz: float, boxes: Floats, k: int
) -> float:  # pragma: no cover - compiled
    """1 if a point lies in one of some boxes, else 0.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    boxes : Floats
        Bounds, x0, y0, z0, x1, y1, z1 in m, shape (n, 6).
    k : int
        Row of the box.

    Returns
    -------
    float
        0.0 or 1.0.
    """
    if px <= boxes[k, 0] or py <= boxes[k, 1] or pz <= boxes[k, 2]:
        return 0.0
    if px >= boxes[k, 3] or py >= boxes[k, 4] or pz >= boxes[k, 5]:
        return 0.0
    return 1.0


@inlined
def misses_shaft(
    seen: Floats, bright: Floats, boxes: Floats, row: int
) -> bool:  # pragma: no cover - compiled
    """Whether a box certainly lies outside all rays from points in ``seen`` to sources in ``bright``.

    Parameters
    ----------
    seen : Floats
        Bounds of the points, shape (6,), m.
    bright : Floats
        Bounds of the source, shape (6,), m.
    boxes : Floats
        Bounds, x0, y0, z0, x1, y1, z1 in m, shape (n, 6).
    row : int
        Row of the result or of the bounds.

    Returns
    -------
    bool
        True if so.
    """
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


@inlined
def beyond_a_face(
    seen: Floats, bright: Floats, planes: Floats, first: int, last: int
) -> bool:  # pragma: no cover - compiled
    """Whether two boxes both lie outside the same face of a solid, so that it cannot come between them.

    Parameters
    ----------
    seen : Floats
        Bounds of the points, shape (6,), m.
    bright : Floats
        Bounds of the source, shape (6,), m.
    planes : Floats
        Faces n·x ≤ c of the solids, shape (f, 4).
    first : int
        First index or node.
    last : int
        Number of the last break.

    Returns
    -------
    bool
        True if so.
    """
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


@inlined
def slips_by(
    seen: Floats, bright: Floats, occluders: Occluders, g: int
) -> bool:  # pragma: no cover - compiled
    """Whether all slices of a group that lies askew are outside all rays between two boxes.

    Parameters
    ----------
    seen : Floats
        Bounds of the points, shape (6,), m.
    bright : Floats
        Bounds of the source, shape (6,), m.
    occluders : Occluders
        What is in the way.
    g : int
        Index of the group of solids.

    Returns
    -------
    bool
        True if so.
    """
    first, last = occluders.slice_starts[g], occluders.slice_starts[g + 1]
    for k in range(first, last):
        if not misses_shaft(seen, bright, occluders.slices, k):
            return False
    return last > first


@inlined
def list_groups(
    seen: Floats, bright: Floats, occluders: Occluders, listed: Ints
) -> int:  # pragma: no cover - compiled
    """Groups of solids that may come between the points in ``seen`` and the source; how many.

    Parameters
    ----------
    seen : Floats
        Bounds of the points, shape (6,), m.
    bright : Floats
        Bounds of the source, shape (6,), m.
    occluders : Occluders
        What is in the way.
    listed : Ints
        Groups of solids that may be in the way.

    Returns
    -------
    int
        Groups of solids that may come between the points in ``seen`` and the source.
    """
    count = 0
    for g in range(occluders.groups.shape[0]):
        if misses_shaft(seen, bright, occluders.groups, g) or slips_by(seen, bright, occluders, g):
            continue
        if occluders.runs[g, 1] - occluders.runs[g, 0] == 1:
            b = occluders.runs[g, 0]
            first, last = occluders.plane_starts[b], occluders.plane_starts[b + 1]
            if beyond_a_face(seen, bright, occluders.planes, first, last):
                continue
        listed[count] = g
        count += 1
    return count


@inlined
def breadth(
    seen: Floats, centre: Floats, occluders: Occluders, g: int
) -> float:  # pragma: no cover - compiled
    """How broad a group of solids is at least, seen from the middle of some points towards a source, m.

    The outline of a box along its axes is narrowest across one of its edges.

    Parameters
    ----------
    seen : Floats
        Bounds of the points, shape (6,), m.
    centre : Floats
        Centre of the source, shape (3,), m.
    occluders : Occluders
        What is in the way.
    g : int
        Index of the group of solids.

    Returns
    -------
    float
        The width, m.
    """
    if occluders.widths[g] > 0.0:
        return occluders.widths[g]
    dx = centre[0] - 0.5 * (seen[0] + seen[3])
    dy = centre[1] - 0.5 * (seen[1] + seen[4])
    dz = centre[2] - 0.5 * (seen[2] + seen[5])
    ex = occluders.groups[g, 3] - occluders.groups[g, 0]
    ey = occluders.groups[g, 4] - occluders.groups[g, 1]
    ez = occluders.groups[g, 5] - occluders.groups[g, 2]
    along_x = (ey * abs(dz) + ez * abs(dy)) / math.sqrt(dy * dy + dz * dz + 1e-12)
    along_y = (ex * abs(dz) + ez * abs(dx)) / math.sqrt(dx * dx + dz * dz + 1e-12)
    along_z = (ex * abs(dy) + ey * abs(dx)) / math.sqrt(dx * dx + dy * dy + 1e-12)
    return min(along_x, along_y, along_z)


@inlined
def list_leaves(
    seen: Floats, bright: Floats, leaves: Floats, listed: Ints
) -> int:  # pragma: no cover - compiled
    """Boxes of foliage that may come between the points in ``seen`` and the source; how many.

    Parameters
    ----------
    seen : Floats
        Bounds of the points, shape (6,), m.
    bright : Floats
        Bounds of the source, shape (6,), m.
    leaves : Floats
        Boxes of leaves: bounds in m and attenuation per m, shape (l, 7).
    listed : Ints
        Groups of solids that may be in the way.

    Returns
    -------
    int
        Boxes of foliage that may come between the points in ``seen`` and the source.
    """
    count = 0
    for k in range(leaves.shape[0]):
        if not misses_shaft(seen, bright, leaves, k):
            listed[count] = k
            count += 1
    return count


@inlined
def off_plane(
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
    """Whether a box lies to one side of a plane through p with normal n, by more than reach · |n|.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    nx, ny, nz : float
        Normal of the receiver (unit vector).
    reach : float
        Length over distance, or width in radians.
    boxes : Floats
        Bounds, x0, y0, z0, x1, y1, z1 in m, shape (n, 6).
    row : int
        Row of the result or of the bounds.

    Returns
    -------
    bool
        True if so.
    """
    x, y, z = boxes[row, 0], boxes[row, 1], boxes[row, 2]
    wide, deep, tall = 0.5 * (boxes[row, 3] - x), 0.5 * (boxes[row, 4] - y), 0.5 * (boxes[row, 5] - z)
    off = abs(nx * (x + wide - px) + ny * (y + deep - py) + nz * (z + tall - pz))
    extent = abs(nx) * wide + abs(ny) * deep + abs(nz) * tall
    return off > extent + reach * math.sqrt(nx * nx + ny * ny + nz * nz)


@inlined
def solids_to_test(
    px: float, py: float, pz: float, groups: Floats, g: int, runs: Ints, hulls: Ints
) -> tuple[int, int]:  # pragma: no cover - compiled
    """Which solids of a group to look at from a point: its hull from outside, its parts from inside.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    groups : Floats
        Bounds of groups of solids, shape (g, 6), m.
    g : int
        Index of the group of solids.
    runs : Ints
        First and last solid of each group, shape (g, 2).
    hulls : Ints
        1 where the first solid of a group is its hull.

    Returns
    -------
    tuple[int, int]
        Which solids of a group to look at from a point.
    """
    first, last = runs[g, 0], runs[g, 1]
    if hulls[g] == 0:
        return first, last
    inside = groups[g, 0] <= px <= groups[g, 3] and groups[g, 1] <= py <= groups[g, 4]
    if inside and groups[g, 2] <= pz <= groups[g, 5]:
        return first + 1, last
    return first, first + 1
