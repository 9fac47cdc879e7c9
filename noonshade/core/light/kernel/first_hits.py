"""What rays from a point meet first: the patch, and what mirrors and leaves leave of its light."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.bounds import safe_inverse, share_in_box
from noonshade.core.light.kernel.form_factors import is_hidden
from noonshade.core.light.kernel.transmission import sheet_reflectance
from noonshade.core.light.kernel.types import Floats, Indices, Ints, Occluders, Shares, Sheets

# Mirrors a ray follows; after three even a pane at a glance leaves little.
MOST_MIRRORS = 3
_ON_M = 1e-5


@inlined
def entry_into_box(
    px: float, py: float, pz: float, ix: float, iy: float, iz: float, boxes: Floats, row: int
) -> float:  # pragma: no cover - compiled
    """Distance along a ray at which it enters a box, 0 if it begins in it, or a negative number.

    Parameters
    ----------
    px, py, pz : float
        Where the ray begins, m.
    ix, iy, iz : float
        Inverses of its direction.
    boxes : Floats
        Bounds, x0, y0, z0, x1, y1, z1 in m, shape (n, 6).
    row : int
        Row of the box.

    Returns
    -------
    float
        The distance in m; −1 where the ray misses it.
    """
    a, b = (boxes[row, 0] - px) * ix, (boxes[row, 3] - px) * ix
    enter, leave = min(a, b), max(a, b)
    a, b = (boxes[row, 1] - py) * iy, (boxes[row, 4] - py) * iy
    enter, leave = max(enter, min(a, b)), min(leave, max(a, b))
    a, b = (boxes[row, 2] - pz) * iz, (boxes[row, 5] - pz) * iz
    enter, leave = max(enter, min(a, b)), min(leave, max(a, b))
    if enter > leave or leave <= 0.0:
        return -1.0
    return max(enter, 0.0)


@inlined
def way_out_of_box(
    px: float, py: float, pz: float, dx: float, dy: float, dz: float, box: Floats
) -> tuple[float, int]:  # pragma: no cover - compiled
    """Distance along a ray to the inside of a box around it, and which of its faces that is.

    Parameters
    ----------
    px, py, pz : float
        Where the ray begins, m.
    dx, dy, dz : float
        Its direction (unit vector).
    box : Floats
        Bounds of the box, shape (6,), m.

    Returns
    -------
    tuple[float, int]
        The distance, m, and the face: bottom, top, left, right, front, back.
    """
    best, face = 1e300, 0
    if dz != 0.0:
        t = ((box[5] if dz > 0.0 else box[2]) - pz) / dz
        if t < best:
            best, face = t, 1 if dz > 0.0 else 0
    if dx != 0.0:
        t = ((box[3] if dx > 0.0 else box[0]) - px) / dx
        if t < best:
            best, face = t, 3 if dx > 0.0 else 2
    if dy != 0.0:
        t = ((box[4] if dy > 0.0 else box[1]) - py) / dy
        if t < best:
            best, face = t, 5 if dy > 0.0 else 4
    return max(best, 0.0), face


@inlined
def element_at(
    x: float, y: float, z: float, sheet: int, sheets: Sheets
) -> int:  # pragma: no cover - compiled
    """The quarter of a patch at a point of a sheet, four to a patch; −1 where there is none.

    Parameters
    ----------
    x, y, z : float
        The point, m.
    sheet : int
        The sheet it lies on.
    sheets : Sheets
        All sheets.

    Returns
    -------
    int
        Four times the patch and the number of the quarter.
    """
    f = sheets.frames
    rx, ry, rz = x - f[sheet, 0, 0], y - f[sheet, 0, 1], z - f[sheet, 0, 2]
    u = rx * f[sheet, 1, 0] + ry * f[sheet, 1, 1] + rz * f[sheet, 1, 2]
    v = rx * f[sheet, 2, 0] + ry * f[sheet, 2, 1] + rz * f[sheet, 2, 2]
    a, b = sheets.starts[sheet, 0], sheets.starts[sheet, 1]
    along, across = sheets.counts[sheet, 0], sheets.counts[sheet, 1]
    i, j = 0, 0
    while i < along - 1 and u > sheets.cuts[a + i + 1]:
        i += 1
    while j < across - 1 and v > sheets.cuts[b + j + 1]:
        j += 1
    patch = sheets.patches[sheets.firsts[sheet] + i * across + j]
    if patch < 0:
        return -1
    quarter = 0
    if u > 0.5 * (sheets.cuts[a + i] + sheets.cuts[a + i + 1]):
        quarter += 2
    if v > 0.5 * (sheets.cuts[b + j] + sheets.cuts[b + j + 1]):
        quarter += 1
    return 4 * patch + quarter


@inlined
def first_hit(
    px: float,
    py: float,
    pz: float,
    dx: float,
    dy: float,
    dz: float,
    sheets: Sheets,
    occluders: Occluders,
) -> tuple[float, int]:  # pragma: no cover - compiled
    """Distance along a ray to what it meets first, and the sheet there; −1: nothing that sends light back.

    Parameters
    ----------
    px, py, pz : float
        Where the ray begins, m.
    dx, dy, dz : float
        Its direction (unit vector).
    sheets : Sheets
        What sends light back.
    occluders : Occluders
        What is in the way.

    Returns
    -------
    tuple[float, int]
        The distance, m, and the sheet.
    """
    best, sheet = way_out_of_box(px, py, pz, dx, dy, dz, sheets.box)
    ix, iy, iz = safe_inverse(dx), safe_inverse(dy), safe_inverse(dz)
    for g in range(occluders.groups.shape[0]):
        entry = entry_into_box(px, py, pz, ix, iy, iz, occluders.groups, g)
        if entry < 0.0 or entry > best:
            continue
        for b in range(occluders.runs[g, 0] + occluders.hulls[g], occluders.runs[g, 1]):
            entry = entry_into_box(px, py, pz, ix, iy, iz, occluders.bounds, b)
            if entry < 0.0 or entry > best:
                continue
            enter, leave, at = -1e300, best, -1
            for f in range(occluders.plane_starts[b], occluders.plane_starts[b + 1]):
                nx, ny, nz = occluders.planes[f, 0], occluders.planes[f, 1], occluders.planes[f, 2]
                away = nx * px + ny * py + nz * pz - occluders.planes[f, 3]
                slope = nx * dx + ny * dy + nz * dz
                if slope < 0.0:
                    t = -away / slope
                    if t > enter:
                        enter, at = t, f
                elif slope > 0.0:
                    leave = min(leave, -away / slope)
                elif away > 0.0:
                    leave = -1.0
                if enter >= leave:
                    break
            if enter < leave and leave > 0.0 and enter < best and at >= 0:
                if enter < -_ON_M:
                    return 0.0, -1
                best, sheet = max(enter, 0.0), sheets.of_plane[at]
    return best, sheet


@compiled
def seen_elements(
    points: Floats, ways: Floats, sheets: Sheets, occluders: Occluders, elements: Indices, shares: Shares
) -> None:  # pragma: no cover - compiled
    """What rays from points meet first, by the mirrors of panes, and what gets through of each band.

    Parameters
    ----------
    points : (n, 3) float64
        Where they begin, m.
    ways : (m, 3) float64
        Their directions, the same from all points (unit vectors).
    sheets : Sheets
        What sends light back.
    occluders : Occluders
        What is in the way.
    elements : (n, m) int32
        Filled with the quarters of patches they end on, −1 where nothing is sent back.
    shares : (n, m, 3) float32
        Filled with the shares of UV, radiant heat and light that get from there to the point.
    """
    leaves = occluders.leaves
    for n in range(points.shape[0]):
        for m in range(ways.shape[0]):
            px, py, pz = points[n, 0], points[n, 1], points[n, 2]
            dx, dy, dz = ways[m, 0], ways[m, 1], ways[m, 2]
            uv, heat, light = 1.0, 1.0, 1.0
            found = -1
            for _ in range(MOST_MIRRORS + 1):
                far, sheet = first_hit(px, py, pz, dx, dy, dz, sheets, occluders)
                if sheet < 0:
                    break
                qx, qy, qz = px + far * dx, py + far * dy, pz + far * dz
                optical = 0.0
                for k in range(leaves.shape[0]):
                    inside = share_in_box(px, py, pz, qx, qy, qz, leaves, k)
                    if inside > 0.0:
                        optical += leaves[k, 6] * inside
                if optical > 0.0:
                    left = math.exp(-optical * far)
                    uv, heat, light = uv * left, heat * left, light * left
                element = element_at(qx, qy, qz, sheet, sheets)
                if element < 0:
                    break
                patch = element // 4
                index = sheets.panes[patch, 0]
                if index == 0.0:
                    found = element
                    break
                f = sheets.frames
                # Along and across span the pane, so their cross product is its normal.
                nx = f[sheet, 1, 1] * f[sheet, 2, 2] - f[sheet, 1, 2] * f[sheet, 2, 1]
                ny = f[sheet, 1, 2] * f[sheet, 2, 0] - f[sheet, 1, 0] * f[sheet, 2, 2]
                nz = f[sheet, 1, 0] * f[sheet, 2, 1] - f[sheet, 1, 1] * f[sheet, 2, 0]
                cosine = dx * nx + dy * ny + dz * nz
                uv *= sheet_reflectance(index, abs(cosine), sheets.panes[patch, 1])
                heat *= sheet_reflectance(index, abs(cosine), sheets.panes[patch, 2])
                light *= sheet_reflectance(index, abs(cosine), sheets.panes[patch, 3])
                dx, dy, dz = dx - 2.0 * cosine * nx, dy - 2.0 * cosine * ny, dz - 2.0 * cosine * nz
                px, py, pz = qx + 1e-6 * dx, qy + 1e-6 * dy, qz + 1e-6 * dz
            elements[n, m] = found
            shares[n, m, 0], shares[n, m, 1], shares[n, m, 2] = uv, heat, light


@compiled
def covered(points: Floats, box: Floats, occluders: Occluders) -> Ints:  # pragma: no cover - compiled
    """1 for points inside any solid or outside a box, else 0; the hollow of a hide is outside.

    Parameters
    ----------
    points : (n, 3) float64
        The points, m.
    box : (6,) float64
        Bounds of the inside of the enclosure, m.
    occluders : Occluders
        The solids.

    Returns
    -------
    (n,) int64
        0 or 1.
    """
    found = np.zeros(points.shape[0], dtype=np.int64)
    for i in range(points.shape[0]):
        x, y, z = points[i, 0], points[i, 1], points[i, 2]
        if x < box[0] or y < box[1] or z < box[2] or x > box[3] or y > box[4] or z > box[5]:
            found[i] = 1
            continue
        for g in range(occluders.groups.shape[0]):
            e = occluders.groups
            if x < e[g, 0] or y < e[g, 1] or z < e[g, 2] or x > e[g, 3] or y > e[g, 4] or z > e[g, 5]:
                continue
            for b in range(occluders.runs[g, 0] + occluders.hulls[g], occluders.runs[g, 1]):
                inside = 1
                for f in range(occluders.plane_starts[b], occluders.plane_starts[b + 1]):
                    p = occluders.planes
                    if p[f, 0] * x + p[f, 1] * y + p[f, 2] * z > p[f, 3] - 1e-9:
                        inside = 0
                        break
                if inside == 1:
                    found[i] = 1
    return found


@compiled
def weigh_nodes(
    points: Floats,
    columns: int,
    rows_at: Ints,
    columns_at: Ints,
    usable: Ints,
    occluders: Occluders,
    nodes: Indices,
    weights: Shares,
) -> Ints:  # pragma: no cover - compiled
    """Which nodes of a lattice each of its points is filled in from, and how much each counts.

    A node behind something tells nothing of a point, so the others around it count for it.

    Parameters
    ----------
    points : (n, 3) float64
        The lattice, row by row, m.
    columns : int
        Points in a row.
    rows_at, columns_at : (r,), (c,) int64
        Rows and columns of the nodes, rising, from 0 to the last.
    usable : (r · c,) int64
        1 for nodes that are not inside anything.
    occluders : Occluders
        What is in the way.
    nodes : (n, 4) int32
        Filled with the nodes of each point.
    weights : (n, 4) float32
        Filled with their weights, which sum to 1, or to 0 where no node is in sight.

    Returns
    -------
    (n,) int64
        1 for points without a node in sight.
    """
    lonely = np.zeros(points.shape[0], dtype=np.int64)
    r0, c0 = 0, 0
    wide = columns_at.size
    for i in range(points.shape[0]):
        row, column = i // columns, i % columns
        if column == 0:
            c0 = 0
            while r0 < rows_at.size - 2 and rows_at[r0 + 1] <= row:
                r0 += 1
        while c0 < columns_at.size - 2 and columns_at[c0 + 1] <= column:
            c0 += 1
        r1, c1 = min(r0 + 1, rows_at.size - 1), min(c0 + 1, columns_at.size - 1)
        t = 0.0 if r1 == r0 else (row - rows_at[r0]) / (rows_at[r1] - rows_at[r0])
        s = 0.0 if c1 == c0 else (column - columns_at[c0]) / (columns_at[c1] - columns_at[c0])
        total = 0.0
        for k in range(4):
            r, c = r0 if k < 2 else r1, c0 if k % 2 == 0 else c1
            weight = (1.0 - t if k < 2 else t) * (1.0 - s if k % 2 == 0 else s)
            node = r * wide + c
            nodes[i, k], weights[i, k] = node, 0.0
            if weight <= 0.0 or usable[node] == 0:
                continue
            m = rows_at[r] * columns + columns_at[c]
            if m != i and is_hidden(
                points[i, 0],
                points[i, 1],
                points[i, 2],
                points[m, 0],
                points[m, 1],
                points[m, 2],
                occluders,
            ):
                continue
            weights[i, k] = weight
            total += weight
        if total > 1e-6:
            for k in range(4):
                weights[i, k] /= total
        else:
            lonely[i] = 1
    return lonely
