"""What meters read from the vectors of several lamps."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.types import Floats, Ints


@inlined
def facing(parts: Floats, count: int) -> float:  # pragma: no cover - compiled
    """Largest reading of a cosine meter turned to the sum of some vectors, or to one of them.

    Light from behind the meter does not count. Where all vectors are within a right angle of each other
    there is none, and the meter faces their sum.

    Parameters
    ----------
    parts : Floats
        Irradiance vectors, shape (k, 3).
    count : int
        How many.

    Returns
    -------
    float
        The reading, in the unit of the vectors.
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


@compiled
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
            result[quantities + f, i] = max(facing(vectors, count), result[q, i])
    return result
