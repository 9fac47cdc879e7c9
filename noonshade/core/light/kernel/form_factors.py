"""How much of what one patch sends out reaches another."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.bounds import misses_shaft, share_in_box
from noonshade.core.light.kernel.shadows import is_blocked
from noonshade.core.light.kernel.types import Floats, Occluders

# Patches nearer than this many times their sizes are taken as polygons, others as four points each.
NEAR = 1.5


@inlined
def polygon_share(
    px: float,
    py: float,
    pz: float,
    nx: float,
    ny: float,
    nz: float,
    quad: Floats,
    patch: int,
    work: Floats,
) -> float:  # pragma: no cover - compiled
    """Form factor from a small face at a point to a rectangle, exact (Lambert 1760).

    What lies behind the face is cut off first.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    nx, ny, nz : float
        Normal of the receiver (unit vector).
    quad : Floats
        Corners of the rectangles, shape (p, 4, 3), m.
    patch : int
        Which of them.
    work : Floats
        Work space, shape (4, 8).

    Returns
    -------
    float
        The form factor, 0–1.
    """
    count = 0
    bx, by, bz = quad[patch, 3, 0] - px, quad[patch, 3, 1] - py, quad[patch, 3, 2] - pz
    before = bx * nx + by * ny + bz * nz
    for k in range(4):
        cx, cy, cz = quad[patch, k, 0] - px, quad[patch, k, 1] - py, quad[patch, k, 2] - pz
        height = cx * nx + cy * ny + cz * nz
        if (before > 0.0) != (height > 0.0):
            t = before / (before - height)
            work[0, count], work[1, count] = bx + t * (cx - bx), by + t * (cy - by)
            work[2, count] = bz + t * (cz - bz)
            count += 1
        if height > 0.0:
            work[0, count], work[1, count], work[2, count] = cx, cy, cz
            count += 1
        bx, by, bz, before = cx, cy, cz, height
    if count < 3:
        return 0.0
    for k in range(count):
        work[3, k] = 1.0 / max(
            math.sqrt(work[0, k] * work[0, k] + work[1, k] * work[1, k] + work[2, k] * work[2, k]), 1e-12
        )
    total = 0.0
    j = count - 1
    for k in range(count):
        ax, ay, az = work[0, j], work[1, j], work[2, j]
        cx, cy, cz = work[0, k], work[1, k], work[2, k]
        scale = work[3, j] * work[3, k]
        gx, gy, gz = (ay * cz - az * cy) * scale, (az * cx - ax * cz) * scale, (ax * cy - ay * cx) * scale
        sine = math.sqrt(gx * gx + gy * gy + gz * gz)
        if sine > 1e-12:
            angle = math.atan2(sine, (ax * cx + ay * cy + az * cz) * scale)
            total += angle / sine * (gx * nx + gy * ny + gz * nz)
        j = k
    return abs(total) / (2.0 * math.pi)


@inlined
def is_hidden(
    px: float, py: float, pz: float, qx: float, qy: float, qz: float, occluders: Occluders
) -> bool:  # pragma: no cover - compiled
    """Whether any solid lies between two points; into hides it looks by their openings.

    Parameters
    ----------
    px, py, pz : float
        One point, m.
    qx, qy, qz : float
        The other, m.
    occluders : Occluders
        What is in the way.

    Returns
    -------
    bool
        True if so.
    """
    for g in range(occluders.groups.shape[0]):
        if share_in_box(px, py, pz, qx, qy, qz, occluders.groups, g) <= 0.0:
            continue
        for b in range(occluders.runs[g, 0] + occluders.hulls[g], occluders.runs[g, 1]):
            first, last = occluders.plane_starts[b], occluders.plane_starts[b + 1]
            if is_blocked(px, py, pz, qx, qy, qz, occluders.planes, first, last):
                return True
    return False


@compiled
def exchange(
    quads: Floats,
    normals: Floats,
    samples: Floats,
    free: Floats,
    area: Floats,
    occluders: Occluders,
    first: int,
    last: int,
    result: Floats,
) -> None:  # pragma: no cover - compiled
    """Form factors times area between patches, for some rows above the diagonal and their mirror images.

    Near patches are exact polygons seen from the middles of each other's quarters; far ones are the
    quarters themselves. What hides them from each other is found by rays between the quarters.

    Parameters
    ----------
    quads : (p, 4, 3) float64
        Corners of the patches, m.
    normals : (p, 3) float64
        Unit normals, away from what they lie on.
    samples : (p, 4, 3) float64
        Middles of the quarters, a little off the surface, m.
    free : (p, 4) float64
        Share of each quarter that nothing covers, 0–1.
    area : (p,) float64
        Areas, m², covered parts included.
    occluders : Occluders
        What is in the way.
    first, last : int
        Rows to fill.
    result : (p, p) float64
        Where they go, m².
    """
    count = quads.shape[0]
    work = np.zeros((4, 8))
    boxes = np.zeros((count, 6))
    sizes = np.zeros(count)
    groups = occluders.groups.shape[0]
    between = np.zeros(groups, dtype=np.int64)
    mine = np.zeros(6)
    theirs = np.zeros(6)
    for i in range(count):
        for k in range(3):
            low, high = 1e300, -1e300
            for c in range(4):
                low, high = min(low, samples[i, c, k]), max(high, samples[i, c, k])
            boxes[i, k], boxes[i, k + 3] = low, high
        sizes[i] = math.sqrt(area[i])
    for i in range(first, last):
        nx, ny, nz = normals[i, 0], normals[i, 1], normals[i, 2]
        for k in range(6):
            mine[k] = boxes[i, k]
        for j in range(i + 1, count):
            ox, oy, oz = normals[j, 0], normals[j, 1], normals[j, 2]
            # The farthest corners tell whether any part of one is before the other.
            ahead, behind = -1e300, -1e300
            for c in range(4):
                ahead = max(
                    ahead,
                    (quads[j, c, 0] - quads[i, 0, 0]) * nx
                    + (quads[j, c, 1] - quads[i, 0, 1]) * ny
                    + (quads[j, c, 2] - quads[i, 0, 2]) * nz,
                )
                behind = max(
                    behind,
                    (quads[i, c, 0] - quads[j, 0, 0]) * ox
                    + (quads[i, c, 1] - quads[j, 0, 1]) * oy
                    + (quads[i, c, 2] - quads[j, 0, 2]) * oz,
                )
            if ahead <= 1e-9 or behind <= 1e-9:
                continue
            for k in range(6):
                theirs[k] = boxes[j, k]
            listed = 0
            for g in range(groups):
                if not misses_shaft(mine, theirs, occluders.groups, g):
                    between[listed] = g
                    listed += 1
            seen = 0.0
            if listed == 0:
                for c in range(4):
                    for e in range(4):
                        seen += free[i, c] * free[j, e]
                seen /= 16.0
            else:
                for c in range(4):
                    for e in range(4):
                        # Half of the pairs, as a chequerboard, tell as much.
                        if (c + e) % 2 == 1:
                            continue
                        weight = free[i, c] * free[j, e]
                        if weight > 0.0 and not is_hidden(
                            samples[i, c, 0],
                            samples[i, c, 1],
                            samples[i, c, 2],
                            samples[j, e, 0],
                            samples[j, e, 1],
                            samples[j, e, 2],
                            occluders,
                        ):
                            seen += weight
                seen /= 8.0
            if seen <= 0.0:
                continue
            dx = 0.5 * (quads[j, 0, 0] + quads[j, 2, 0] - quads[i, 0, 0] - quads[i, 2, 0])
            dy = 0.5 * (quads[j, 0, 1] + quads[j, 2, 1] - quads[i, 0, 1] - quads[i, 2, 1])
            dz = 0.5 * (quads[j, 0, 2] + quads[j, 2, 2] - quads[i, 0, 2] - quads[i, 2, 2])
            total = 0.0
            if math.sqrt(dx * dx + dy * dy + dz * dz) < NEAR * (sizes[i] + sizes[j]):
                for c in range(4):
                    total += (
                        0.125
                        * area[i]
                        * polygon_share(
                            samples[i, c, 0],
                            samples[i, c, 1],
                            samples[i, c, 2],
                            nx,
                            ny,
                            nz,
                            quads,
                            j,
                            work,
                        )
                    )
                    total += (
                        0.125
                        * area[j]
                        * polygon_share(
                            samples[j, c, 0],
                            samples[j, c, 1],
                            samples[j, c, 2],
                            ox,
                            oy,
                            oz,
                            quads,
                            i,
                            work,
                        )
                    )
            else:
                for c in range(4):
                    for e in range(2):
                        # Opposite quarters of the other patch, by turns.
                        m = (c + 1 + 2 * e) % 4
                        dx = samples[j, m, 0] - samples[i, c, 0]
                        dy = samples[j, m, 1] - samples[i, c, 1]
                        dz = samples[j, m, 2] - samples[i, c, 2]
                        d2 = dx * dx + dy * dy + dz * dz
                        one = dx * nx + dy * ny + dz * nz
                        two = -(dx * ox + dy * oy + dz * oz)
                        if one > 0.0 and two > 0.0:
                            total += one * two / (d2 * d2)
                total *= area[i] * area[j] / (8.0 * math.pi)
            result[i, j] = result[j, i] = total * seen


@compiled
def foliage_between(middles: Floats, leaves: Floats, result: Floats) -> None:  # pragma: no cover - compiled
    """Thin out what patches exchange by the leaves between their middles.

    Parameters
    ----------
    middles : (p, 3) float64
        Middles of the patches, m.
    leaves : (l, 7) float64
        Boxes of leaves: bounds, m, and attenuation per metre.
    result : (p, p) float64
        What they exchange; thinned in place.
    """
    count = middles.shape[0]
    for i in range(count):
        for j in range(i + 1, count):
            if result[i, j] <= 0.0:
                continue
            ax, ay, az = middles[i, 0], middles[i, 1], middles[i, 2]
            bx, by, bz = middles[j, 0], middles[j, 1], middles[j, 2]
            optical = 0.0
            for k in range(leaves.shape[0]):
                inside = share_in_box(ax, ay, az, bx, by, bz, leaves, k)
                if inside > 0.0:
                    optical += leaves[k, 6] * inside
            if optical > 0.0:
                way = math.sqrt((bx - ax) ** 2 + (by - ay) ** 2 + (bz - az) ** 2)
                result[i, j] *= math.exp(-optical * way)
                result[j, i] = result[i, j]
