"""Angular distribution of a source."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.types import PATTERN_BEAM, PATTERN_LINE, Floats, Source


@inlined
def table_value(
    gamma: float, bearing: float, c_deg: Floats, gamma_deg: Floats, table: Floats
) -> float:  # pragma: no cover - compiled
    """Bilinear value of an angular table at angles in degrees; 0 beyond its last angle.

    Parameters
    ----------
    gamma : float
        Angle from the aim, degrees.
    bearing : float
        Angle about the aim, degrees.
    c_deg : Floats
        Angles about the aim of the table, degrees.
    gamma_deg : Floats
        Angles from the aim of the table, degrees.
    table : Floats
        Intensities over the angles.

    Returns
    -------
    float
        Bilinear value of an angular table at angles in degrees.
    """
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


@inlined
def on_curve(x: float, curve: Floats) -> float:  # pragma: no cover - compiled
    """Linear interpolation of a curve over 0–1.

    Parameters
    ----------
    x : float
        The value.
    curve : Floats
        xⁿ for x from 0 to 1, shape (k + 1,).

    Returns
    -------
    float
        The value at that place of the curve.
    """
    steps = curve.size - 1
    at = x * steps
    k = min(int(at), steps - 1)
    return curve[k] + (at - k) * (curve[k + 1] - curve[k])


@inlined
def emitted(
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
    """Relative intensity of a source element in direction d (unit), 1 along the aim but for tables.

    Parameters
    ----------
    dx, dy, dz : float
        Direction of the light (unit vector).
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    pattern : int
        Angular pattern of the source.
    exponent : float
        Exponent of the beam or reflector.
    curve : Floats
        xⁿ for x from 0 to 1, shape (k + 1,).
    c_deg : Floats
        Angles about the aim of the table, degrees.
    gamma_deg : Floats
        Angles from the aim of the table, degrees.
    table : Floats
        Intensities over the angles.

    Returns
    -------
    float
        The relative intensity, at least 0.
    """
    ahead = dx * frame[2, 0] + dy * frame[2, 1] + dz * frame[2, 2]
    if pattern == PATTERN_BEAM:
        if ahead <= 0.0:
            return 0.0
        if exponent == 1.0:
            return ahead
        return on_curve(ahead, curve)
    along = dx * frame[0, 0] + dy * frame[0, 1] + dz * frame[0, 2]
    if pattern == PATTERN_LINE:
        if exponent == 1.0:
            return max(ahead, 0.0)
        sine = math.sqrt(max(0.0, 1.0 - along * along))
        if exponent < 0.0 or sine < 1e-9:
            return sine
        if ahead <= 0.0:
            return 0.0
        return sine * on_curve(min(ahead / sine, 1.0), curve)
    gamma = math.degrees(math.acos(min(max(ahead, -1.0), 1.0)))
    bearing = 0.0
    if c_deg.size > 1:
        across = dx * frame[1, 0] + dy * frame[1, 1] + dz * frame[1, 2]
        bearing = math.degrees(math.atan2(across, along)) % 360.0
    return table_value(gamma, bearing, c_deg, gamma_deg, table)


@compiled
def intensities(local: Floats, source: Source) -> Floats:  # pragma: no cover - compiled
    """Relative intensity (n,) in lamp directions (n, 3): along the axis, across, ahead.

    Parameters
    ----------
    local : Floats
        Unit vectors in the frame of the lamp, shape (n, 3).
    source : Source
        The source.

    Returns
    -------
    Floats
        Relative intensity (n,) in lamp directions (n, 3).
    """
    upright = np.eye(3)
    found = np.empty(local.shape[0])
    for i in range(local.shape[0]):
        found[i] = emitted(
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


@inlined
def strip_in_closed_form(
    px: float, py: float, pz: float, nx: float, ny: float, nz: float, source: Source, out: Floats, row: int
) -> bool:  # pragma: no cover - compiled
    """A whole strip with nothing in the way; False where the receiver's horizon cuts it.

    E = I/D ∫ cos ψ (perpendicular cos ψ + along sin ψ) dψ, and I times cosⁿβ about the axis.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    nx, ny, nz : float
        Normal of the receiver (unit vector).
    source : Source
        The source.
    out : Floats
        Where the result goes.
    row : int
        Row of the result or of the bounds.

    Returns
    -------
    bool
        True if so.
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
