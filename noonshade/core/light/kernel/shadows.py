"""Polygons of a source that convex solids hide, and what stays visible of it."""

from __future__ import annotations

import math

from noonshade.core.compiled import inlined
from noonshade.core.light.kernel.types import Floats, Ints

# Parts of a source smaller than this, in quarters of it, do not count.
SMALL = 4e-4
# Sides of the outline of a round end between the lines along it; corners between them lie a little out, so
# that the outline is as long as the round one (estimate, within 1 % of the radius).
RIM = 4
RIM_OUT = 1.03


@inlined
def cut_polygon(
    alpha: float, beta: float, gamma: float, work: Floats, now: int, count: int
) -> int:  # pragma: no cover - compiled
    """Keep the part of a polygon in rows ``now`` and ``now + 1`` of work where αu + βv ≤ γ.

    The result is in rows ``2 - now`` and ``3 - now``; returns its number of corners, or −1 if nothing
    was cut off and it still is where it was.

    Parameters
    ----------
    alpha, beta, gamma : float
        Coefficients of the half-plane αu + βv ≤ γ.
    work : Floats
        Work space, shape (5, corners).
    now : int
        Row of the work space the polygon is in.
    count : int
        How many.

    Returns
    -------
    int
        Number of corners left, 0 if nothing is.
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


@inlined
def shadow_polygon(
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

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    solid : int
        Index of the solid.
    planes : Floats
        Faces n·x ≤ c of the solids, shape (f, 4).
    plane_starts : Ints
        First face of each solid.
    corners : Floats
        Corners of the solids, shape (k, 3), m.
    edges : Ints
        Edges: two corners and two faces each, shape (e, 4).
    edge_starts : Ints
        First edge of each solid.
    centre : Floats
        Centre of the source, shape (3,), m.
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    half : Floats
        Half sizes of the source along and across, m.
    work : Floats
        Work space, shape (5, corners).
    front : Floats
        Distance of the point in front of each face, m.

    Returns
    -------
    tuple[int, int]
        Polygon of the source's rectangle that a convex solid hides from p.
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
            kept = cut_polygon(alpha, beta, gamma, work, now, count)
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
        kept = cut_polygon(alpha, beta, gamma, work, now, count)
        if kept == 0:
            return 0, 0
        if kept > 0:
            count, now = kept, 2 - now
    return settled(work, now, count, hu, hv)


@inlined
def settled(
    work: Floats, now: int, count: int, hu: float, hv: float
) -> tuple[int, int]:  # pragma: no cover - compiled
    """A hidden polygon of a source: next to nothing of it is nothing, next to all of it is all.

    Parameters
    ----------
    work : Floats
        Work space, shape (5, corners).
    now : int
        Row of the work space the polygon is in.
    count : int
        Its corners.
    hu, hv : float
        Half sizes of the source, m.

    Returns
    -------
    tuple[int, int]
        Corners and row; 0 corners where nothing is hidden, −1 where all is.
    """
    if count < 3:
        return 0, 0
    area = 0.0
    for i in range(count):
        j = i + 1 if i + 1 < count else 0
        area += work[now, i] * work[now + 1, j] - work[now, j] * work[now + 1, i]
    area = 0.5 * abs(area)
    if area < SMALL * hu * hv:
        return 0, 0
    if area > (4.0 - SMALL) * hu * hv:
        return -1, 0
    return count, now


@inlined
def cut_by_plane(
    nx: float,
    ny: float,
    nz: float,
    level: float,
    centre: Floats,
    frame: Floats,
    work: Floats,
    now: int,
    count: int,
) -> int:  # pragma: no cover - compiled
    """``cut_polygon`` by the half-space n·x ≤ level.

    Parameters
    ----------
    nx, ny, nz : float
        Normal of the plane.
    level : float
        Where it lies along that.
    centre : Floats
        Centre of the source, shape (3,), m.
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    work : Floats
        Work space, shape (5, corners).
    now : int
        Row of the work space the polygon is in.
    count : int
        Its corners.

    Returns
    -------
    int
        As ``cut_polygon``.
    """
    alpha = nx * frame[0, 0] + ny * frame[0, 1] + nz * frame[0, 2]
    beta = nx * frame[1, 0] + ny * frame[1, 1] + nz * frame[1, 2]
    gamma = level - nx * centre[0] - ny * centre[1] - nz * centre[2]
    return cut_polygon(alpha, beta, gamma, work, now, count)


@inlined
def is_within(
    nx: float,
    ny: float,
    nz: float,
    level: float,
    centre: Floats,
    frame: Floats,
    work: Floats,
    now: int,
    count: int,
) -> bool:  # pragma: no cover - compiled
    """Whether all of a polygon of the source lies in the half-space n·x ≤ level.

    Parameters
    ----------
    nx, ny, nz : float
        Normal of the plane.
    level : float
        Where it lies along that.
    centre : Floats
        Centre of the source, shape (3,), m.
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    work : Floats
        Work space, shape (5, corners).
    now : int
        Row of the work space the polygon is in.
    count : int
        Its corners.

    Returns
    -------
    bool
        True if so.
    """
    alpha = nx * frame[0, 0] + ny * frame[0, 1] + nz * frame[0, 2]
    beta = nx * frame[1, 0] + ny * frame[1, 1] + nz * frame[1, 2]
    gamma = level - nx * centre[0] - ny * centre[1] - nz * centre[2]
    most = -1e300
    for i in range(count):
        most = max(most, alpha * work[now, i] + beta * work[now + 1, i])
    return most <= gamma


@inlined
def round_shadow(
    px: float,
    py: float,
    pz: float,
    body: Floats,
    centre: Floats,
    frame: Floats,
    half: Floats,
    work: Floats,
) -> tuple[int, int]:  # pragma: no cover - compiled
    """Polygon of the source's rectangle that a round rod hides from a point beside it.

    Its sides are exact: the planes through the point that touch the rod, and the plane through both lines
    where they touch. A round end is a polygon.

    Parameters
    ----------
    px, py, pz : float
        The point, farther from the axis than the rod is thick, m.
    body : Floats
        The rod: where its axis begins, its direction (unit vector), length and radius, shape (8,).
    centre : Floats
        Centre of the source, shape (3,), m.
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    half : Floats
        Half sizes of the source along and across, m.
    work : Floats
        Work space, shape (5, corners).

    Returns
    -------
    tuple[int, int]
        As ``shadow_polygon``.
    """
    hu, hv = half[0], half[1]
    work[0, 0], work[1, 0] = -hu, -hv
    work[0, 1], work[1, 1] = hu, -hv
    work[0, 2], work[1, 2] = hu, hv
    work[0, 3], work[1, 3] = -hu, hv
    now, count = 0, 4
    ax, ay, az, length, radius = body[3], body[4], body[5], body[6], body[7]
    rx, ry, rz = px - body[0], py - body[1], pz - body[2]
    along = rx * ax + ry * ay + rz * az
    # From the axis to the point, and at right angles to both.
    nx, ny, nz = rx - along * ax, ry - along * ay, rz - along * az
    away = math.sqrt(nx * nx + ny * ny + nz * nz)
    nx, ny, nz = nx / away, ny / away, nz / away
    sx, sy, sz = ay * nz - az * ny, az * nx - ax * nz, ax * ny - ay * nx
    cosine = radius / away
    sine = math.sqrt(max(0.0, 1.0 - cosine * cosine))
    base = nx * body[0] + ny * body[1] + nz * body[2]
    kept = cut_by_plane(nx, ny, nz, base + radius * cosine, centre, frame, work, now, count)
    if kept == 0:
        return 0, 0
    if kept > 0:
        count, now = kept, 2 - now
    for k in range(2):
        side = sine if k == 0 else -sine
        tx, ty, tz = cosine * nx + side * sx, cosine * ny + side * sy, cosine * nz + side * sz
        level = tx * body[0] + ty * body[1] + tz * body[2] + radius
        kept = cut_by_plane(tx, ty, tz, level, centre, frame, work, now, count)
        if kept == 0:
            return 0, 0
        if kept > 0:
            count, now = kept, 2 - now
    touching = math.acos(min(cosine, 1.0))
    middle = 0.5 * length
    mx, my, mz = body[0] + middle * ax - px, body[1] + middle * ay - py, body[2] + middle * az - pz
    for end in range(2):
        at, sign = (0.0, -1.0) if end == 0 else (length, 1.0)
        beyond = sign * (along - at) > 0.0
        if beyond:
            level = sign * (ax * body[0] + ay * body[1] + az * body[2] + at)
            kept = cut_by_plane(sign * ax, sign * ay, sign * az, level, centre, frame, work, now, count)
            if kept == 0:
                return 0, 0
            if kept > 0:
                count, now = kept, 2 - now
        # Mostly the rod goes on beyond what is left: then no side of the end's outline cuts anything.
        inside = True
        for k in range(2):
            out = radius if k == 0 else -radius
            cx = body[0] + at * ax + out * nx - px
            cy = body[1] + at * ay + out * ny - py
            cz = body[2] + at * az + out * nz - pz
            ox, oy, oz = sy * cz - sz * cy, sz * cx - sx * cz, sx * cy - sy * cx
            if ox * mx + oy * my + oz * mz > 0.0:
                ox, oy, oz = -ox, -oy, -oz
            if not is_within(ox, oy, oz, ox * px + oy * py + oz * pz, centre, frame, work, now, count):
                inside = False
                break
        if inside:
            continue
        # Of an end turned to the point the far half of the rim is its outline, of one turned away the near.
        first, last = (touching, 2.0 * math.pi - touching) if beyond else (-touching, touching)
        bx, by, bz = 0.0, 0.0, 0.0
        for k in range(RIM + 1):
            angle = first + (last - first) * k / RIM
            out = radius if k in (0, RIM) else radius * RIM_OUT
            c, s = out * math.cos(angle), out * math.sin(angle)
            cx = body[0] + at * ax + c * nx + s * sx - px
            cy = body[1] + at * ay + c * ny + s * sy - py
            cz = body[2] + at * az + c * nz + s * sz - pz
            if k > 0:
                ox, oy, oz = by * cz - bz * cy, bz * cx - bx * cz, bx * cy - by * cx
                if ox * mx + oy * my + oz * mz > 0.0:
                    ox, oy, oz = -ox, -oy, -oz
                level = ox * px + oy * py + oz * pz
                kept = cut_by_plane(ox, oy, oz, level, centre, frame, work, now, count)
                if kept == 0:
                    return 0, 0
                if kept > 0:
                    count, now = kept, 2 - now
            bx, by, bz = cx, cy, cz
    return settled(work, now, count, hu, hv)


@inlined
def is_blocked(
    sx: float, sy: float, sz: float, px: float, py: float, pz: float, planes: Floats, first: int, last: int
) -> bool:  # pragma: no cover - compiled
    """Whether the way from s to p passes through a convex solid.

    Parameters
    ----------
    sx, sy, sz : float
        A point of the source, m.
    px, py, pz : float
        The point, m.
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


@inlined
def visible_intervals(
    u: float, edge: float, polygons: Floats, sizes: Ints, spans: Floats, count: int, gaps: Floats
) -> int:  # pragma: no cover - compiled
    """What is seen of the source at u across −edge to edge: intervals in ``gaps`` (2, most); how many.

    Parameters
    ----------
    u : float
        Place along the source, m.
    edge : float
        Half width of the source there, m.
    polygons : Floats
        Hidden polygons of the source.
    sizes : Ints
        Corners of each polygon.
    spans : Floats
        Extent of each polygon along the source.
    count : int
        How many.
    gaps : Floats
        Work space: intervals across the source, shape (4, most).

    Returns
    -------
    int
        What is seen of the source at u across −edge to edge.
    """
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
