"""What meters read from the vectors of several lamps and from light sent back all around."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.types import Floats, Indices, Ints, Shares

# Of light sent back, for each of the quantities the level irradiance; then for each of those that are also
# read facing the light, its moments over all directions ω: ∫L, ∫Lω (3), and of ∫Lωω the xx, yy, zz, xy, xz
# and yz parts.
MOMENTS = 10
# Light sent back from all around of more than this share of what a meter reads: worth turning it twice
# more.
MOSTLY = 0.5


@inlined
def add_moments(
    x: float, y: float, z: float, light: float, row: Floats, start: int
) -> None:  # pragma: no cover - compiled
    """Add light from a direction (unit vector towards it) to the moments that begin at a column.

    Parameters
    ----------
    x, y, z : float
        The direction.
    light : float
        Irradiance of a meter that faces it.
    row : Floats
        What is known of one point.
    start : int
        Column of the first moment.
    """
    row[start] += light
    row[start + 1] += light * x
    row[start + 2] += light * y
    row[start + 3] += light * z
    row[start + 4] += light * x * x
    row[start + 5] += light * y * y
    row[start + 6] += light * z * z
    row[start + 7] += light * x * y
    row[start + 8] += light * x * z
    row[start + 9] += light * y * z


@inlined
def read_moments(x: float, y: float, z: float, row: Floats, start: int) -> float:  # pragma: no cover
    """What a cosine meter that looks along a unit vector reads of light known by its moments.

    Spherical harmonics up to the second order carry all but 1 % of a cosine's weight (Ramamoorthi and
    Hanrahan 2001, J. Opt. Soc. Am. A 18:2448).

    Parameters
    ----------
    x, y, z : float
        The direction.
    row : Floats
        What is known of one point.
    start : int
        Column of the first moment.

    Returns
    -------
    float
        The reading, at least 0.
    """
    second = (
        row[start + 4] * x * x
        + row[start + 5] * y * y
        + row[start + 6] * z * z
        + 2.0 * (row[start + 7] * x * y + row[start + 8] * x * z + row[start + 9] * y * z)
    )
    first = row[start + 1] * x + row[start + 2] * y + row[start + 3] * z
    found = 0.25 * row[start] + 0.5 * first + 0.15625 * (3.0 * second - row[start])
    return max(found, 0.0)


@inlined
def reading(
    dx: float, dy: float, dz: float, parts: Floats, count: int, row: Floats, start: int
) -> float:  # pragma: no cover - compiled
    """What a cosine meter that looks along a unit vector reads of lamps and of light sent back.

    Parameters
    ----------
    dx, dy, dz : float
        The direction.
    parts : Floats
        Irradiance vectors of lamps, shape (k, 3).
    count : int
        How many.
    row : Floats
        Light sent back.
    start : int
        Column of its first moment.

    Returns
    -------
    float
        The reading, in the unit of the vectors.
    """
    found = read_moments(dx, dy, dz, row, start)
    for m in range(count):
        found += max(0.0, dx * parts[m, 0] + dy * parts[m, 1] + dz * parts[m, 2])
    return found


@inlined
def steepest(
    dx: float, dy: float, dz: float, parts: Floats, count: int, row: Floats, start: int
) -> tuple[float, float, float]:  # pragma: no cover - compiled
    """Which way the reading of a cosine meter rises most as it turns from a direction: its gradient.

    Parameters
    ----------
    dx, dy, dz : float
        The direction (unit vector).
    parts : Floats
        Irradiance vectors of lamps, shape (k, 3).
    count : int
        How many.
    row : Floats
        Light sent back.
    start : int
        Column of its first moment.

    Returns
    -------
    tuple[float, float, float]
        The gradient.
    """
    xx, yy, zz = row[start + 4], row[start + 5], row[start + 6]
    xy, xz, yz = row[start + 7], row[start + 8], row[start + 9]
    gx = 0.5 * row[start + 1] + 0.9375 * (xx * dx + xy * dy + xz * dz)
    gy = 0.5 * row[start + 2] + 0.9375 * (xy * dx + yy * dy + yz * dz)
    gz = 0.5 * row[start + 3] + 0.9375 * (xz * dx + yz * dy + zz * dz)
    for k in range(count):
        x, y, z = parts[k, 0], parts[k, 1], parts[k, 2]
        if dx * x + dy * y + dz * z > 0.0:
            gx, gy, gz = gx + x, gy + y, gz + z
    return gx, gy, gz


@inlined
def facing(parts: Floats, count: int, row: Floats, start: int) -> float:  # pragma: no cover - compiled
    """Largest reading of a cosine meter turned to all light together, or to one of the lamps.

    Light from behind the meter does not count. Where all lamps are within a right angle of each other, the
    brightest way is to face their sum.

    Parameters
    ----------
    parts : Floats
        Irradiance vectors of lamps, shape (k, 3).
    count : int
        How many.
    row : Floats
        Light sent back.
    start : int
        Column of its first moment.

    Returns
    -------
    float
        The reading, in the unit of the vectors.
    """
    vx, vy, vz = 0.0, 0.0, 0.0
    together = True
    for k in range(count):
        x, y, z = parts[k, 0], parts[k, 1], parts[k, 2]
        for m in range(k):
            together = together and x * parts[m, 0] + y * parts[m, 1] + z * parts[m, 2] >= 0.0
        vx, vy, vz = vx + x, vy + y, vz + z
    # Uneven light sent back turns the meter by half its vector: see read_moments.
    bx, by, bz = vx + 0.5 * row[start + 1], vy + 0.5 * row[start + 2], vz + 0.5 * row[start + 3]
    norm = math.sqrt(bx * bx + by * by + bz * bz)
    best = 0.0
    if norm > 1e-300:
        bx, by, bz = bx / norm, by / norm, bz / norm
        best = read_moments(bx, by, bz, row, start)
        if together:
            best += max(0.0, bx * vx + by * vy + bz * vz)
        else:
            best = reading(bx, by, bz, parts, count, row, start)
    else:
        bx, by, bz = 0.0, 0.0, 1.0
    for k in range(0 if together else count):
        dx, dy, dz = parts[k, 0], parts[k, 1], parts[k, 2]
        norm = math.sqrt(dx * dx + dy * dy + dz * dz)
        if norm < 1e-300:
            continue
        dx, dy, dz = dx / norm, dy / norm, dz / norm
        found = reading(dx, dy, dz, parts, count, row, start)
        if found > best:
            best, bx, by, bz = found, dx, dy, dz
    # Where most light is sent back, the brightest way is found by turning as the reading rises.
    for _ in range(2 if row[start] > MOSTLY * best else 0):
        gx, gy, gz = steepest(bx, by, bz, parts, count, row, start)
        norm = math.sqrt(gx * gx + gy * gy + gz * gz)
        if norm < 1e-300:
            break
        bx, by, bz = gx / norm, gy / norm, gz / norm
        best = max(best, reading(bx, by, bz, parts, count, row, start))
    return best


@compiled
def gather(
    elements: Indices,
    shares: Shares,
    ways: Floats,
    exitance: Floats,
    bands: Ints,
    faced: Ints,
    found: Floats,
) -> None:  # pragma: no cover - compiled
    """Sum up what rays bring from the patches they end on.

    Parameters
    ----------
    elements : (n, m) int32
        Where each ray of each point ends, −1 for nowhere.
    shares : (n, m, 3) float32
        What gets from there to the point, by band.
    ways : (m, 3) float64
        Their directions, evenly over the sphere.
    exitance : (e, q) float64
        What each place sends out, per area, of each quantity.
    bands : (q,) int64
        The band of each quantity.
    faced : (f,) int64
        Quantities of which moments are wanted.
    found : (n, q + 10 f) float64
        Added to: level irradiance of each quantity, then moments.
    """
    quantities = exitance.shape[1]
    light = np.zeros(quantities)
    # Radiance is exitance over π, and each ray stands for 4π/m of directions.
    scale = 4.0 / ways.shape[0]
    for n in range(elements.shape[0]):
        row = found[n]
        for m in range(ways.shape[0]):
            e = elements[n, m]
            if e < 0:
                continue
            x, y, z = ways[m, 0], ways[m, 1], ways[m, 2]
            for q in range(quantities):
                light[q] = scale * exitance[e, q] * shares[n, m, bands[q]]
                if z > 0.0:
                    row[q] += light[q] * z
            for f in range(faced.size):
                add_moments(x, y, z, light[faced[f]], row, quantities + MOMENTS * f)


@compiled
def add_mirrored(
    vectors: Floats, level: Floats, scale: Floats, faced: Ints, found: Floats
) -> None:  # pragma: no cover - compiled
    """Add light that comes from one direction at each point, as from a lamp in a mirror.

    Parameters
    ----------
    vectors : (n, 3) float64
        Irradiance vectors per unit of strength, towards the light.
    level : (n,) float64
        Level irradiance per unit of strength.
    scale : (n, q) float64
        Strength of each quantity at each point.
    faced : (f,) int64
        Quantities of which moments are wanted.
    found : (n, q + 10 f) float64
        Added to: level irradiance of each quantity, then moments.
    """
    quantities = scale.shape[1]
    for n in range(vectors.shape[0]):
        x, y, z = vectors[n, 0], vectors[n, 1], vectors[n, 2]
        length = math.sqrt(x * x + y * y + z * z)
        if length <= 0.0:
            continue
        row = found[n]
        for q in range(quantities):
            row[q] += level[n] * scale[n, q]
        for f in range(faced.size):
            light = length * scale[n, faced[f]]
            add_moments(x / length, y / length, z / length, light, row, quantities + MOMENTS * f)


@compiled
def metered(
    parts: Floats, scales: Floats, back: Floats, nodes: Indices, weights: Shares, faced: Ints
) -> Floats:  # pragma: no cover - compiled
    """What meters read at points: level for every quantity, and turned to the light for some.

    Parameters
    ----------
    parts : (lamps, n, 4) float64
        Vector and level irradiance of each lamp, per unit of its strength.
    scales : (lamps, q) float64
        Strength of each lamp for every quantity.
    back : (k, q + 10 f) float64
        Light sent back at some nodes: level irradiance of each quantity, then moments.
    nodes : (n, 4) int32
        The nodes each point is filled in from.
    weights : (n, 4) float32
        How much each counts.
    faced : (f,) int64
        Quantities also read by a meter turned to the light.

    Returns
    -------
    (q + f, n) float64
        Level readings, then those facing the light, which are never less.
    """
    lamps, n, quantities = parts.shape[0], parts.shape[1], scales.shape[1]
    result = np.empty((quantities + faced.size, n))
    vectors = np.zeros((max(lamps, 1), 3))
    here = np.zeros(back.shape[1])
    for i in range(n):
        for m in range(here.size):
            here[m] = 0.0
        for k in range(4):
            weight = weights[i, k]
            if weight > 0.0:
                for m in range(here.size):
                    here[m] += weight * back[nodes[i, k], m]
        for q in range(quantities):
            level = here[q]
            for k in range(lamps):
                level += parts[k, i, 3] * scales[k, q]
            result[q, i] = level
        for f in range(faced.size):
            q, count = faced[f], 0
            for k in range(lamps):
                scale = scales[k, q]
                if scale > 0.0:
                    for m in range(3):
                        vectors[count, m] = parts[k, i, m] * scale
                    count += 1
            most = facing(vectors, count, here, quantities + MOMENTS * f)
            result[quantities + f, i] = max(most, result[q, i])
    return result
