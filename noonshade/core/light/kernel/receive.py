"""Irradiance of points from one source, past everything in between.

For each point: what solids hide of the source (``hide_by_solids``), which foliage dims it
(``dim_by_foliage``), where to break the source so that quadrature meets no edge (``break_source``), and the
sum over the pieces (``integrate``).
"""

from __future__ import annotations

import math

from noonshade.core.compiled import inlined
from noonshade.core.light.kernel.bounds import (
    is_inside,
    misses_shaft,
    off_plane,
    share_in_box,
    solids_to_test,
)
from noonshade.core.light.kernel.breaks import break_at_foliage, insert_break, node_count, smooth_step
from noonshade.core.light.kernel.emission import (
    emitted,
    is_near_tube,
    on_curve,
    strip_in_closed_form,
    widened,
)
from noonshade.core.light.kernel.shadows import round_shadow, shadow_polygon, visible_intervals
from noonshade.core.light.kernel.transmission import transmitted_share
from noonshade.core.light.kernel.types import (
    MOST_POLYGONS,
    PATTERN_BEAM,
    PATTERN_LINE,
    SHAPE_DISC,
    SHAPE_PANEL,
    SHAPE_STRIP,
    Floats,
    Ints,
    Occluders,
    Scratch,
    Source,
)

# A panel longer to both sides than this many times its distance is cut at that distance from the point's
# foot.
LONG = 1.5
# More leaves than any point stands amid; the share of one that tells of each.
MOST_AMID = 1024.0


@inlined
def keep_polygon(room: Scratch, now: int, corners: int, row: int) -> None:  # pragma: no cover - compiled
    """Copy a polygon from rows ``now`` and ``now + 1`` of the work space to a row of ``polygons``.

    Parameters
    ----------
    room : Scratch
        Work space.
    now : int
        Row of the work space the polygon is in.
    corners : int
        Number of corners.
    row : int
        Row of the result or of the bounds.
    """
    polygons, spans, work = room.polygons, room.spans, room.work
    spans[row, 0], spans[row, 1] = 1e300, -1e300
    for c in range(corners):
        polygons[row, 0, c] = work[now, c]
        polygons[row, 1, c] = work[now + 1, c]
        spans[row, 0] = min(spans[row, 0], work[now, c])
        spans[row, 1] = max(spans[row, 1], work[now, c])
    room.sizes[row] = max(corners, 0)


@inlined
def shadow_of_solid(
    px: float, py: float, pz: float, solid: int, source: Source, occluders: Occluders, room: Scratch
) -> tuple[int, int]:  # pragma: no cover - compiled
    """``shadow_polygon`` of one of the occluders on a source.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    solid : int
        Index of the solid.
    source : Source
        The source.
    occluders : Occluders
        What is in the way.
    room : Scratch
        Work space.

    Returns
    -------
    tuple[int, int]
        The corners of the outline, 0 if clear and -1 if it hides all, and the row of ``work`` they are in.
    """
    body = occluders.rounds[solid]
    if body[7] > 0.0:
        rx, ry, rz = px - body[0], py - body[1], pz - body[2]
        along = rx * body[3] + ry * body[4] + rz * body[5]
        if rx * rx + ry * ry + rz * rz - along * along > body[7] * body[7]:
            return round_shadow(px, py, pz, body, source.centre, source.frame, source.half, room.work)
    return shadow_polygon(
        px,
        py,
        pz,
        solid,
        occluders.planes,
        occluders.plane_starts,
        occluders.corners,
        occluders.edges,
        occluders.edge_starts,
        source.centre,
        source.frame,
        source.half,
        room.work,
        room.front,
    )


@inlined
def hide_by_solids(
    px: float,
    py: float,
    pz: float,
    listed: Ints,
    listed_count: int,
    source: Source,
    occluders: Occluders,
    room: Scratch,
) -> tuple[int, float]:  # pragma: no cover - compiled
    """Polygons of the source that solids hide, in the first rows of ``polygons``; their count and a mark.

    The mark tells what hides the source, and is negative where one solid hides all of it.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    listed : Ints
        Groups of solids that may be in the way.
    listed_count : int
        How many of ``listed`` count.
    source : Source
        The source.
    occluders : Occluders
        What is in the way.
    room : Scratch
        Work space.

    Returns
    -------
    tuple[int, float]
        Polygons of the source that solids hide, in the first rows of ``polygons``.
    """
    seen = room.seen
    found, mark = 0, 0.0
    for k in range(listed_count):
        g = listed[k]
        if misses_shaft(seen, source.bright, occluders.groups, g):
            continue
        first, last = solids_to_test(px, py, pz, occluders.groups, g, occluders.runs, occluders.hulls)
        for b in range(first, last):
            if last - first > 1 and misses_shaft(seen, source.bright, occluders.bounds, b):
                continue
            corners, now = shadow_of_solid(px, py, pz, b, source, occluders, room)
            if corners < 0:
                return found, -1.0 - b
            if corners > 0 and found < MOST_POLYGONS:
                keep_polygon(room, now, corners, found)
                found += 1
                mark = (31.0 * mark + b + 1.0) % 1000003.0
    return found, mark


@inlined
def dim_by_foliage(
    px: float,
    py: float,
    pz: float,
    leafy: Ints,
    leafy_count: int,
    found: int,
    mark: float,
    source: Source,
    occluders: Occluders,
    room: Scratch,
) -> tuple[int, float]:  # pragma: no cover - compiled
    """Foliage in front of the source, listed in ``ways``, its outlines behind those of solids.

    Returns how many boxes of leaves there are and the mark, whose fraction tells how many the point is
    amid.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    leafy : Ints
        Boxes of leaves that may be in the way.
    leafy_count : int
        How many of ``leafy`` count.
    found : int
        How many polygons solids cast.
    mark : float
        Number for what hides the source so far.
    source : Source
        The source.
    occluders : Occluders
        What is in the way.
    room : Scratch
        Work space.

    Returns
    -------
    tuple[int, float]
        The number of pieces, and the mark by which points behind the same foliage are told apart.
    """
    spans, seen, frame, half = room.spans, room.seen, source.frame, source.half
    rx, ry, rz = px - source.centre[0], py - source.centre[1], pz - source.centre[2]
    ux, uy, uz = frame[0, 0], frame[0, 1], frame[0, 2]
    vx, vy, vz = frame[1, 0], frame[1, 1], frame[1, 2]
    # A plane through the point and the length of the source, and one across it: leaves clear of either
    # dim nothing.
    lx, ly, lz = ry * uz - rz * uy, rz * ux - rx * uz, rx * uy - ry * ux
    cx, cy, cz = ry * vz - rz * vy, rz * vx - rx * vz, rx * vy - ry * vx
    foliage, amid = 0, 0.0
    for j in range(leafy_count):
        k = leafy[j]
        if misses_shaft(seen, source.bright, occluders.leaves, k):
            continue
        within = is_inside(px, py, pz, occluders.leaves, k)
        if off_plane(px, py, pz, lx, ly, lz, half[1], occluders.leaves, k):
            continue
        if source.shape != SHAPE_STRIP and off_plane(px, py, pz, cx, cy, cz, half[0], occluders.leaves, k):
            continue
        corners, now = shadow_of_solid(px, py, pz, occluders.leaf_solids[k], source, occluders, room)
        if corners == 0:
            continue
        row = found + foliage
        keep_polygon(room, now, corners, row)
        if corners < 0:
            spans[row, 0], spans[row, 1] = -1e300, 1e300
        room.ways[foliage] = k
        foliage += 1
        mark = (31.0 * mark + 500.0 + k) % 1000003.0
        amid += within
    return foliage, mark + amid / MOST_AMID


@inlined
def break_disc(row: int, radius: float, last: int, room: Scratch) -> int:  # pragma: no cover - compiled
    """Break a disc at corners of a polygon within it and where the polygon's edges cross its rim.

    Parameters
    ----------
    row : int
        Row of the result or of the bounds.
    radius : float
        Radius, m.
    last : int
        Number of the last break.
    room : Scratch
        Work space.

    Returns
    -------
    int
        The number of the last break.
    """
    polygons, sizes, breaks = room.polygons, room.sizes, room.breaks
    before = sizes[row] - 1
    for c in range(sizes[row]):
        u0, v0 = polygons[row, 0, before] / radius, polygons[row, 1, before] / radius
        u1, v1 = polygons[row, 0, c] / radius, polygons[row, 1, c] / radius
        before = c
        if u1 * u1 + v1 * v1 < 1.0:
            last = insert_break(smooth_step(u1), breaks, last)
        du, dv = u1 - u0, v1 - v0
        square = du * du + dv * dv
        along = -(u0 * du + v0 * dv)
        rest = along * along - square * (u0 * u0 + v0 * v0 - 1.0)
        if rest <= 0.0 or square <= 0.0:
            continue
        rest = math.sqrt(rest)
        for side in range(2):
            t = (along - rest if side == 0 else along + rest) / square
            if 0.0 < t < 1.0:
                last = insert_break(smooth_step(u0 + t * du), breaks, last)
    return last


@inlined
def break_source(count: int, source: Source, room: Scratch) -> int:  # pragma: no cover - compiled
    """Break the source along u at its ends and at corners of what is hidden or dimmed; the last break.

    Parameters
    ----------
    count : int
        How many.
    source : Source
        The source.
    room : Scratch
        Work space.

    Returns
    -------
    int
        Break the source along u at its ends and at corners of what is hidden or dimmed.
    """
    breaks, half = room.breaks, source.half[0]
    if source.shape == SHAPE_DISC:
        breaks[0], breaks[1] = -1.0, 1.0
    else:
        breaks[0], breaks[1] = -half, half
    last = 1
    for k in range(count):
        if source.shape == SHAPE_DISC:
            last = break_disc(k, half, last, room)
            continue
        for c in range(room.sizes[k]):
            last = insert_break(room.polygons[k, 0, c], breaks, last)
    return last


@inlined
def foliage_share(
    px: float,
    py: float,
    pz: float,
    u: float,
    v: float,
    distance: float,
    found: int,
    foliage: int,
    source: Source,
    occluders: Occluders,
    room: Scratch,
) -> float:  # pragma: no cover - compiled
    """Share of the light from (u, v) of the source that foliage lets through.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    u : float
        Place along the source, m.
    v : float
        Place across the source, m.
    distance : float
        Distance from the source, m.
    found : int
        How many polygons solids cast.
    foliage : int
        Boxes of leaves.
    source : Source
        The source.
    occluders : Occluders
        What is in the way.
    room : Scratch
        Work space.

    Returns
    -------
    float
        The share, 0–1.
    """
    centre, frame, spans, ways = source.centre, source.frame, room.spans, room.ways
    # Leaves dim a strip differently over its width.
    rays = 2 if source.shape == SHAPE_STRIP else 1
    left = 0.0
    for ray in range(rays):
        w = v if rays == 1 else (1.1547 * ray - 0.57735) * source.half[1]
        sx = centre[0] + u * frame[0, 0] + w * frame[1, 0]
        sy = centre[1] + u * frame[0, 1] + w * frame[1, 1]
        sz = centre[2] + u * frame[0, 2] + w * frame[1, 2]
        optical = 0.0
        for k in range(foliage):
            if u < spans[found + k, 0] or u > spans[found + k, 1]:
                continue
            leaf = ways[k]
            optical += occluders.leaves[leaf, 6] * share_in_box(
                sx, sy, sz, px, py, pz, occluders.leaves, leaf
            )
        left += math.exp(-optical * distance) if optical > 0.0 else 1.0
    return left / rays


@inlined
def intensity_toward(
    dx: float, dy: float, dz: float, source: Source
) -> float:  # pragma: no cover - compiled
    """Relative intensity of the source in a direction (unit).

    Parameters
    ----------
    dx, dy, dz : float
        Direction of the light (unit vector).
    source : Source
        The source.

    Returns
    -------
    float
        The relative intensity, at least 0.
    """
    frame = source.frame
    if source.pattern == PATTERN_BEAM:
        ahead = dx * frame[2, 0] + dy * frame[2, 1] + dz * frame[2, 2]
        if ahead <= 0.0:
            return 0.0
        return ahead if source.exponent == 1.0 else on_curve(ahead, source.curve)
    return emitted(
        dx,
        dy,
        dz,
        frame,
        source.pattern,
        source.exponent,
        source.curve,
        source.c_deg,
        source.gamma_deg,
        source.table,
    )


@inlined
def is_dimmed_piece(
    begin: float, end: float, found: int, foliage: int, source: Source, room: Scratch
) -> int:  # pragma: no cover - compiled
    """1 if foliage dims the middle of a piece of a disc or panel, else 0.

    Parameters
    ----------
    begin : float
        Start of the piece.
    end : float
        End of the piece.
    found : int
        How many polygons solids cast.
    foliage : int
        Boxes of leaves.
    source : Source
        The source.
    room : Scratch
        Work space.

    Returns
    -------
    int
        0 or 1.
    """
    middle = 0.5 * (begin + end)
    if source.shape == SHAPE_DISC:
        middle = 0.5 * source.half[0] * middle * (3.0 - middle * middle)
    for k in range(foliage):
        if room.spans[found + k, 0] <= middle <= room.spans[found + k, 1]:
            return 1
    return 0


@inlined
def integrate(
    px: float,
    py: float,
    pz: float,
    nx: float,
    ny: float,
    nz: float,
    found: int,
    foliage: int,
    last: int,
    up: float,
    apart: float,
    near: float,
    grazing: int,
    source: Source,
    screens: Floats,
    occluders: Occluders,
    out: Floats,
    row: int,
    room: Scratch,
) -> None:  # pragma: no cover - compiled
    """Sum what the visible pieces of the source send to a point, into four columns of ``out``.

    ``up`` is the foot of the point along u, ``apart`` its distance from the middle line or plane and
    ``near`` from the source, m; ``grazing`` counts nodes to add for mesh seen at a glance.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    nx, ny, nz : float
        Normal of the receiver (unit vector).
    found : int
        How many polygons solids cast.
    foliage : int
        Boxes of leaves.
    last : int
        Number of the last break.
    up : float
        Foot of the point along the source, m.
    apart : float
        Distance from the line or plane of the source, m.
    near : float
        Distance from the source, m.
    grazing : int
        Nodes to add for mesh seen at a glance.
    source : Source
        The source.
    screens : Floats
        Screens: kind, ratio or index, factor, turns; shape (q, 4).
    occluders : Occluders
        What is in the way.
    out : Floats
        Where the result goes.
    row : int
        Row of the result or of the bounds.
    room : Scratch
        Work space.
    """
    polygons, sizes, spans, gaps, breaks = room.polygons, room.sizes, room.spans, room.gaps, room.breaks
    frame, shape, fineness, sharp = source.frame, source.shape, source.fineness, source.sharp
    rx, ry, rz = px - source.centre[0], py - source.centre[1], pz - source.centre[2]
    ux, uy, uz = frame[0, 0], frame[0, 1], frame[0, 2]
    vx, vy, vz = frame[1, 0], frame[1, 1], frame[1, 2]
    hu, hv = source.half[0], source.half[1]
    most = source.gauss.shape[0] - 1
    whole_disc = shape == SHAPE_DISC and last == 1
    # Four dots serve as well as a whole small disc, to the third order: at R/√2, on both diagonals.
    four_dots = whole_disc and found + foliage == 0 and fineness == 1 and near > 4.0 * hu * sharp
    ex, ey, ez, level = 0.0, 0.0, 0.0, 0.0
    for piece in range(last):
        begin, end = breaks[piece], breaks[piece + 1]
        # Paths through foliage have ridges of their own, so discs and panels take more nodes.
        more = 0
        if foliage > 0 and shape != SHAPE_STRIP:
            more = is_dimmed_piece(begin, end, found, foliage, source, room)
        by_angle = False
        if shape == SHAPE_STRIP:
            by_angle = end - begin > 0.7 * near
            if by_angle:
                # By the sine of the angle at the point: in it, a strip's light is nearly even.
                begin, end = begin - up, end - up
                begin /= math.sqrt(apart * apart + begin * begin)
                end /= math.sqrt(apart * apart + end * end)
                n = node_count(1.5 * (end - begin), grazing, 12) * fineness
            else:
                n = node_count((end - begin) / near, grazing, 12) * fineness
        elif four_dots:
            n = 2
        elif whole_disc:
            n = max(3 + more, node_count(2.8 * hu * sharp / near, more, 12)) * fineness
        elif shape == SHAPE_DISC:
            n = node_count((end - begin) * max(1.0, hu * sharp / near), more, 12) * fineness
        else:
            n = node_count((end - begin) * sharp / near, more, 12) * fineness
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
                intervals = visible_intervals(u, edge, polygons, sizes, spans, found, gaps)
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
                    nv = node_count(across * sharp / near, 0, 12)
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
                    e = intensity_toward(dx, dy, dz, source)
                    if e <= 0.0:
                        continue
                    if screens.shape[0] > 0:
                        e *= transmitted_share(dx, dy, dz, frame, screens)
                    if foliage > 0:
                        e *= foliage_share(px, py, pz, u, v, d, found, foliage, source, occluders, room)
                    e *= source.density * weight * across * source.gauss[nv, 1, b] / d2
                    ex -= e * dx
                    ey -= e * dy
                    ez -= e * dz
                    facing = -(dx * nx + dy * ny + dz * nz)
                    if facing > 0.0:
                        level += e * facing
    out[row, 0], out[row, 1], out[row, 2], out[row, 3] = ex, ey, ez, level


@inlined
def receive_at(
    px: float,
    py: float,
    pz: float,
    nx: float,
    ny: float,
    nz: float,
    listed: Ints,
    listed_count: int,
    leafy: Ints,
    leafy_count: int,
    source: Source,
    screens: Floats,
    occluders: Occluders,
    out: Floats,
    row: int,
    room: Scratch,
) -> None:  # pragma: no cover - compiled
    """What one point receives; see ``receive``.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    nx, ny, nz : float
        Normal of the receiver (unit vector).
    listed : Ints
        Groups of solids that may be in the way.
    listed_count : int
        How many of ``listed`` count.
    leafy : Ints
        Boxes of leaves that may be in the way.
    leafy_count : int
        How many of ``leafy`` count.
    source : Source
        The source.
    screens : Floats
        Screens: kind, ratio or index, factor, turns; shape (q, 4).
    occluders : Occluders
        What is in the way.
    out : Floats
        Where the result goes.
    row : int
        Row of the result or of the bounds.
    room : Scratch
        Work space.
    """
    out[row, 0], out[row, 1], out[row, 2], out[row, 3], out[row, 4] = 0.0, 0.0, 0.0, 0.0, 0.0
    frame, half, seen = source.frame, source.half, room.seen
    rx, ry, rz = px - source.centre[0], py - source.centre[1], pz - source.centre[2]
    depth = rx * frame[2, 0] + ry * frame[2, 1] + rz * frame[2, 2]
    one_sided = source.pattern == PATTERN_BEAM or (
        source.pattern == PATTERN_LINE and source.exponent >= 0.0
    )
    if one_sided and depth <= 0.0:
        return
    seen[0], seen[1], seen[2] = px, py, pz
    seen[3], seen[4], seen[5] = px, py, pz
    found, mark = hide_by_solids(px, py, pz, listed, listed_count, source, occluders, room)
    out[row, 4] = mark
    if mark < 0.0:
        return
    foliage, mark = dim_by_foliage(px, py, pz, leafy, leafy_count, found, mark, source, occluders, room)
    out[row, 4] = mark
    if (
        found + foliage == 0
        and source.shape == SHAPE_STRIP
        and screens.shape[0] == 0
        and strip_in_closed_form(px, py, pz, nx, ny, nz, source, out, row)
    ):
        return
    last = break_source(found + foliage, source, room)
    ux, uy, uz = frame[0, 0], frame[0, 1], frame[0, 2]
    up = rx * ux + ry * uy + rz * uz
    vp = rx * frame[1, 0] + ry * frame[1, 1] + rz * frame[1, 2]
    # Middle line of a strip, or the nearest point of a disc or panel.
    aside = abs(vp) if source.shape == SHAPE_STRIP else max(abs(vp) - half[1], 0.0)
    beside = max(abs(up) - half[0], 0.0)
    apart = max(math.sqrt(aside * aside + depth * depth), 1e-4)
    near = math.sqrt(apart * apart + beside * beside)
    if source.shape == SHAPE_PANEL and half[0] > LONG * near:
        # A long panel near by is brightest at the foot of the point: more of the nodes go there.
        for k in range(-1, 2):
            last = insert_break(up + k * LONG * near, room.breaks, last)
    if source.shape == SHAPE_STRIP and foliage > 0:
        lx, ly, lz = ry * uz - rz * uy, rz * ux - rx * uz, rx * uy - ry * ux
        wx, wy, wz = (up * ux - rx) / apart, (up * uy - ry) / apart, (up * uz - rz) / apart
        for k in range(foliage):
            last = break_at_foliage(
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
                occluders.leaves,
                room.ways[k],
                room.breaks,
                last,
            )
    # Through mesh at a glance, light ends where the wires close up.
    grazing = 0
    if screens.shape[0] > 0:
        if depth < 0.3 * near:
            grazing = 4
        elif depth < 0.3 * (abs(up) + half[0]):
            grazing = 2
    integrate(
        px,
        py,
        pz,
        nx,
        ny,
        nz,
        found,
        foliage,
        last,
        up,
        apart,
        near,
        grazing,
        source,
        screens,
        occluders,
        out,
        row,
        room,
    )
    if source.shape == SHAPE_STRIP and is_near_tube(px, py, pz, source):
        more = widened(px, py, pz, source)
        for k in range(4):
            out[row, k] *= more


@inlined
def receive(
    batch: Floats,
    count: int,
    listed: Ints,
    listed_count: int,
    leafy: Ints,
    leafy_count: int,
    source: Source,
    screens: Floats,
    occluders: Occluders,
    out: Floats,
    room: Scratch,
) -> None:  # pragma: no cover - compiled
    """What the first points of a batch receive: vector irradiance and irradiance on the normal.

    ``batch`` (n, 6) are points and normals, ``listed`` the groups and ``leafy`` the leaves that may be in
    the way, ``out`` (n, 5) the result and a number for what hides or dims the source there: its fraction
    tells how many leaves the point is amid, and it is negative for what hides all of it. ``room`` is to
    work in.

    Parameters
    ----------
    batch : Floats
        Points and unit normals, shape (n, 6).
    count : int
        How many.
    listed : Ints
        Groups of solids that may be in the way.
    listed_count : int
        How many of ``listed`` count.
    leafy : Ints
        Boxes of leaves that may be in the way.
    leafy_count : int
        How many of ``leafy`` count.
    source : Source
        The source.
    screens : Floats
        Screens: kind, ratio or index, factor, turns; shape (q, 4).
    occluders : Occluders
        What is in the way.
    out : Floats
        Where the result goes.
    room : Scratch
        Work space.
    """
    for i in range(count):
        receive_at(
            batch[i, 0],
            batch[i, 1],
            batch[i, 2],
            batch[i, 3],
            batch[i, 4],
            batch[i, 5],
            listed,
            listed_count,
            leafy,
            leafy_count,
            source,
            screens,
            occluders,
            out,
            i,
            room,
        )
