"""The inner loop: rays from source samples to points, past boxes that cast hard shade.

Compiled with numba, because every field on the screen is some millions of ray–box tests. The
compiled code is kept on disk beside this file, so only the first run ever pays for it.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

PATTERN_BEAM = 0
PATTERN_LINE = 1

Floats = NDArray[np.float64]


@njit(cache=True, nogil=True, fastmath=False, inline="always")
def _clip(
    start: float, inverse: float, low: float, high: float, enter: float, leave: float
) -> tuple[float, float]:  # pragma: no cover - compiled
    """Part of a segment between two parallel planes; empty when it enters after it leaves."""
    near = (low - start) * inverse
    far = (high - start) * inverse
    return max(enter, min(near, far)), min(leave, max(near, far))


@njit(cache=True, nogil=True, fastmath=False, inline="always")
def _inverse(way: float) -> float:  # pragma: no cover - compiled
    """1/way, very large instead of infinite, so that a grazing ray yields no NaN."""
    if abs(way) < 1e-12:
        return 1e12
    return 1.0 / way


@njit(cache=True, nogil=True, fastmath=False)
def _blocked(
    sx: float, sy: float, sz: float, px: float, py: float, pz: float, boxes: Floats
) -> bool:  # pragma: no cover - compiled
    ix, iy, iz = _inverse(px - sx), _inverse(py - sy), _inverse(pz - sz)
    for b in range(boxes.shape[0]):
        # Height first: lamps hang above most things, so this settles most rays.
        if sz >= boxes[b, 5] and pz >= boxes[b, 5]:
            continue
        enter, leave = _clip(sz, iz, boxes[b, 2], boxes[b, 5], 1e-7, 1.0 - 1e-7)
        if enter >= leave:
            continue
        enter, leave = _clip(sx, ix, boxes[b, 0], boxes[b, 3], enter, leave)
        if enter >= leave:
            continue
        enter, leave = _clip(sy, iy, boxes[b, 1], boxes[b, 4], enter, leave)
        if enter < leave:
            return True
    return False


@njit(cache=True, nogil=True, fastmath=False)
def trace(
    points: Floats,
    normals: Floats,
    samples: Floats,
    weights: Floats,
    aim: Floats,
    axis: Floats,
    pattern: int,
    exponent: float,
    screens: Floats,
    boxes: Floats,
) -> tuple[Floats, Floats]:  # pragma: no cover - compiled
    """Vector irradiance and irradiance on given normals, per unit of source strength.

    Parameters
    ----------
    points, normals : (n, 3) float64
        Where, and which way the receiver looks (unit vectors).
    samples, weights : (s, 3), (s,) float64
        Source elements and their intensity on the aim axis.
    aim, axis : (3,) float64
        Unit vectors: where the source aims, and along which a line source lies.
    pattern, exponent : int, float
        ``PATTERN_BEAM``: cosᵐ about the aim. ``PATTERN_LINE``: sin φ to the axis, times cosⁿ about
        the axis for n ≥ 0, or all round for a negative exponent.
    screens : (k,) float64
        Wire-to-pitch ratios of the horizontal meshes below the source.
    boxes : (b, 6) float64
        Opaque boxes as x0, y0, z0, x1, y1, z1.

    Returns
    -------
    vector : (n, 3), on_normal : (n,)
        ``vector`` points towards the light; its length is what a meter facing it reads as long
        as the whole source is in front of the meter.
    """
    n = points.shape[0]
    vector = np.zeros((n, 3))
    on_normal = np.zeros(n)
    for i in range(n):
        px, py, pz = points[i, 0], points[i, 1], points[i, 2]
        for s in range(samples.shape[0]):
            rx = px - samples[s, 0]
            ry = py - samples[s, 1]
            rz = pz - samples[s, 2]
            d2 = rx * rx + ry * ry + rz * rz
            if d2 < 1e-12:
                continue
            d = math.sqrt(d2)
            ux, uy, uz = rx / d, ry / d, rz / d
            ahead = ux * aim[0] + uy * aim[1] + uz * aim[2]
            if pattern == PATTERN_BEAM:
                if ahead <= 0.0:
                    continue
                strength = ahead**exponent
            else:
                along = ux * axis[0] + uy * axis[1] + uz * axis[2]
                sine = math.sqrt(max(0.0, 1.0 - along * along))
                if sine < 1e-9:
                    continue
                strength = sine
                if exponent >= 0.0:
                    if ahead <= 0.0:
                        continue
                    if exponent == 1.0:
                        strength = ahead
                    else:
                        strength *= (ahead / sine) ** exponent
            if uz < 0.0:
                for k in range(screens.shape[0]):
                    tx = ux / uz
                    ty = uy / uz
                    first = 1.0 - screens[k] * math.sqrt(1.0 + tx * tx)
                    second = 1.0 - screens[k] * math.sqrt(1.0 + ty * ty)
                    strength *= max(0.0, first) * max(0.0, second)
            if strength <= 0.0:
                continue
            if _blocked(samples[s, 0], samples[s, 1], samples[s, 2], px, py, pz, boxes):
                continue
            e = weights[s] * strength / d2
            vector[i, 0] -= e * ux
            vector[i, 1] -= e * uy
            vector[i, 2] -= e * uz
            facing = -(ux * normals[i, 0] + uy * normals[i, 1] + uz * normals[i, 2])
            if facing > 0.0:
                on_normal[i] += e * facing
    return vector, on_normal
