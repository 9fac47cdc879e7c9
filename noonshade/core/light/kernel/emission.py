"""Angular distribution of a source."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.types import PATTERN_BEAM, PATTERN_LINE, Floats, Source

# Nearer to its axis than this many times half its width, the width of a tube with a reflector counts:
# farther off it is below 0.5 %. That of a bare tube, whose skin is nearer than its axis, always does.
WIDE = 8.0


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
def line_in_closed_form(
    ox: float,
    oy: float,
    oz: float,
    qx: float,
    qy: float,
    qz: float,
    ax: float,
    ay: float,
    az: float,
    foot: float,
    hu: float,
    exponent: float,
    density: float,
) -> tuple[float, float, float]:  # pragma: no cover - compiled
    """Vector irradiance of a whole line with nothing in the way.

    E = I/D ∫ cos ψ (perpendicular cos ψ + along sin ψ) dψ, and I times cosⁿβ about the axis.

    Parameters
    ----------
    ox, oy, oz : float
        From the nearest point of the line's axis to the point, m.
    qx, qy, qz : float
        Direction of the line (unit vector).
    ax, ay, az : float
        Where it aims (unit vector).
    foot : float
        Where the point stands along the line, from its middle, m.
    hu : float
        Half its length, m.
    exponent : float
        Exponent of its beam about the axis; negative for all round.
    density : float
        Intensity on the aim axis per metre.

    Returns
    -------
    tuple[float, float, float]
        The vector, towards the light.
    """
    apart = max(math.sqrt(ox * ox + oy * oy + oz * oz), 1e-4)
    z0, z1 = -hu - foot, hu - foot
    k = density
    if exponent >= 0.0:
        cosine = (ox * ax + oy * ay + oz * az) / apart
        if cosine <= 0.0:
            return 0.0, 0.0, 0.0
        k *= cosine if exponent == 1.0 else cosine**exponent
    r0, r1 = math.sqrt(apart**2 + z0 * z0), math.sqrt(apart**2 + z1 * z1)
    c0, c1, s0, s1 = apart / r0, apart / r1, z0 / r0, z1 / r1
    across = math.atan2(s1 * c0 - c1 * s0, c1 * c0 + s1 * s0)
    across = 0.5 * (across + s1 * c1 - s0 * c0) * k / apart
    along = 0.5 * (s1 * s1 - s0 * s0) * k / apart
    return (
        -across * ox / apart + along * qx,
        -across * oy / apart + along * qy,
        -across * oz / apart + along * qz,
    )


@inlined
def tube_in_closed_form(
    px: float, py: float, pz: float, source: Source, as_wide: bool
) -> tuple[float, float, float]:  # pragma: no cover - compiled
    """Vector irradiance of a whole tube with nothing in the way.

    Near it, a tube with a reflector is three lines across its bright width, from afar it is one. A bare one
    is four or ten lines on the round it turns to the point, each Lambertian; its ends are dark.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    source : Source
        The tube.
    as_wide : bool
        Whether its width counts; if not it is one line.

    Returns
    -------
    tuple[float, float, float]
        The vector, towards the light.
    """
    frame, hu, hv = source.frame, source.half[0], source.half[1]
    rx, ry, rz = px - source.centre[0], py - source.centre[1], pz - source.centre[2]
    qx, qy, qz = frame[0, 0], frame[0, 1], frame[0, 2]
    ax, ay, az = frame[2, 0], frame[2, 1], frame[2, 2]
    foot = rx * qx + ry * qy + rz * qz
    ox, oy, oz = rx - foot * qx, ry - foot * qy, rz - foot * qz
    if not as_wide:
        return line_in_closed_form(
            ox, oy, oz, qx, qy, qz, ax, ay, az, foot, hu, source.exponent, source.density
        )
    vx, vy, vz = 0.0, 0.0, 0.0
    if source.exponent >= 0.0:
        sx, sy, sz = frame[1, 0], frame[1, 1], frame[1, 2]
        for k in range(3):
            # Gauss–Legendre of three nodes.
            at = (k - 1) * 0.774596669 * hv
            share = source.density * (4.0 / 9.0 if k == 1 else 5.0 / 18.0)
            x, y, z = line_in_closed_form(
                ox - at * sx,
                oy - at * sy,
                oz - at * sz,
                qx,
                qy,
                qz,
                ax,
                ay,
                az,
                foot,
                hu,
                source.exponent,
                share,
            )
            vx, vy, vz = vx + x, vy + y, vz + z
        return vx, vy, vz
    away = math.sqrt(ox * ox + oy * oy + oz * oz)
    if away <= hv:
        return 0.0, 0.0, 0.0
    nx, ny, nz = ox / away, oy / away, oz / away
    sx, sy, sz = qy * nz - qz * ny, qz * nx - qx * nz, qx * ny - qy * nx
    seen = math.acos(hv / away)
    count = 4 if away > 5.0 * hv else 10
    for k in range(count):
        angle = seen * (2.0 * source.gauss[count, 0, k] - 1.0)
        c, s = math.cos(angle), math.sin(angle)
        ux, uy, uz = c * nx + s * sx, c * ny + s * sy, c * nz + s * sz
        # A skin of density I/2 per radian.
        share = source.density * seen * source.gauss[count, 1, k]
        x, y, z = line_in_closed_form(
            ox - hv * ux, oy - hv * uy, oz - hv * uz, qx, qy, qz, ux, uy, uz, foot, hu, 1.0, share
        )
        vx, vy, vz = vx + x, vy + y, vz + z
    return vx, vy, vz


@inlined
def is_near_tube(px: float, py: float, pz: float, source: Source) -> bool:  # pragma: no cover - compiled
    """Whether a point is so near to a tube that its width counts.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    source : Source
        The tube.

    Returns
    -------
    bool
        True if so.
    """
    if source.exponent < 0.0:
        return True
    frame = source.frame
    rx, ry, rz = px - source.centre[0], py - source.centre[1], pz - source.centre[2]
    foot = rx * frame[0, 0] + ry * frame[0, 1] + rz * frame[0, 2]
    apart = rx * rx + ry * ry + rz * rz - foot * foot
    return apart < (WIDE * source.half[1]) ** 2


@inlined
def strip_in_closed_form(
    px: float, py: float, pz: float, nx: float, ny: float, nz: float, source: Source, out: Floats, row: int
) -> bool:  # pragma: no cover - compiled
    """A whole tube with nothing in the way; False where the receiver's horizon cuts it.

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
    frame, hu, hv = source.frame, source.half[0], source.half[1]
    rx, ry, rz = source.centre[0] - px, source.centre[1] - py, source.centre[2] - pz
    middle = rx * nx + ry * ny + rz * nz
    reach = hu * abs(frame[0, 0] * nx + frame[0, 1] * ny + frame[0, 2] * nz)
    wide = is_near_tube(px, py, pz, source)
    if wide:
        reach += hv
    if abs(middle) < reach:
        return False
    vx, vy, vz = tube_in_closed_form(px, py, pz, source, wide)
    out[row, 0], out[row, 1], out[row, 2] = vx, vy, vz
    if middle >= 0.0:
        out[row, 3] = vx * nx + vy * ny + vz * nz
    return True


@inlined
def widened(px: float, py: float, pz: float, source: Source) -> float:  # pragma: no cover - compiled
    """How much more light a tube gives a point near it for its width than if it were a line, unshaded.

    Parameters
    ----------
    px, py, pz : float
        The point, m.
    source : Source
        The tube.

    Returns
    -------
    float
        The ratio.
    """
    x, y, z = tube_in_closed_form(px, py, pz, source, False)
    thin = x * x + y * y + z * z
    x, y, z = tube_in_closed_form(px, py, pz, source, True)
    return math.sqrt((x * x + y * y + z * z) / thin) if thin > 0.0 else 1.0
