"""Meshes and panes in front of a lamp."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled, inlined
from noonshade.core.light.kernel.types import (
    SCREEN_MESH,
    SCREEN_MIRROR,
    SCREEN_WOVEN,
    WOVEN_ANGLES,
    Floats,
)


@inlined
def mesh_share(ratio: float, tx: float, ty: float) -> float:  # pragma: no cover - compiled
    """Transmittance of a wire mesh for light at a slant.

    Parameters
    ----------
    ratio : float
        Wire diameter over pitch.
    tx, ty : float
        Tangents of the angle along and across the wires.

    Returns
    -------
    float
        Share that passes, 0 to 1.
    """
    first = 1.0 - ratio * math.sqrt(1.0 + tx * tx)
    second = 1.0 - ratio * math.sqrt(1.0 + ty * ty)
    return max(0.0, first) * max(0.0, second)


@inlined
def woven_share(screens: Floats, row: int, tx: float, ty: float) -> float:  # pragma: no cover - compiled
    """Transmittance of a woven mesh for light at a slant, from the table in its row of screens.

    Parameters
    ----------
    screens : Floats
        Screens, as ``transmitted_share`` takes them.
    row : int
        Row of the mesh.
    tx, ty : float
        Tangents of the angle along and across the wires.

    Returns
    -------
    float
        Share that passes, 0 to 1.
    """
    last = WOVEN_ANGLES - 1
    a, b = math.atan(abs(tx)) * (2.0 * last / math.pi), math.atan(abs(ty)) * (2.0 * last / math.pi)
    i, j = min(int(a), last - 1), min(int(b), last - 1)
    s, t = a - i, b - j
    at = 4 + i * WOVEN_ANGLES + j
    near = (1.0 - t) * screens[row, at] + t * screens[row, at + 1]
    at += WOVEN_ANGLES
    far = (1.0 - t) * screens[row, at] + t * screens[row, at + 1]
    return (1.0 - s) * near + s * far


@inlined
def polarised_reflectances(
    index: float, cosine: float
) -> tuple[float, float]:  # pragma: no cover - compiled
    """Reflectances of one face of a clear body for both polarisations (Fresnel).

    Parameters
    ----------
    index : float
        Refractive index.
    cosine : float
        Cosine of the angle to the normal.

    Returns
    -------
    tuple[float, float]
        At right angles to the plane of incidence and in it, 0–1.
    """
    cosine = min(max(cosine, 1e-6), 1.0)
    inside = math.sqrt(1.0 - (1.0 - cosine * cosine) / (index * index))
    across = ((cosine - index * inside) / (cosine + index * inside)) ** 2
    along = ((inside - index * cosine) / (inside + index * cosine)) ** 2
    return across, along


@inlined
def pane_share(index: float, cosine: float) -> float:  # pragma: no cover - compiled
    """Unpolarised transmittance of a clear sheet at a slant, relative to normal incidence (Fresnel).

    Parameters
    ----------
    index : float
        Refractive index.
    cosine : float
        Cosine of the angle to the normal.

    Returns
    -------
    float
        The ratio, 0–1.
    """
    s, p = polarised_reflectances(index, cosine)
    straight = ((index - 1.0) / (index + 1.0)) ** 2
    passed = 0.5 * ((1.0 - s) / (1.0 + s) + (1.0 - p) / (1.0 + p))
    return passed / ((1.0 - straight) / (1.0 + straight))


@inlined
def face_reflectance(index: float, cosine: float) -> float:  # pragma: no cover - compiled
    """Unpolarised reflectance of one face of a clear body (Fresnel).

    Parameters
    ----------
    index : float
        Refractive index.
    cosine : float
        Cosine of the angle to the normal.

    Returns
    -------
    float
        The share sent back, 0–1.
    """
    s, p = polarised_reflectances(index, cosine)
    return 0.5 * (s + p)


@inlined
def sheet_reflectance(index: float, cosine: float, through: float) -> float:  # pragma: no cover - compiled
    """Unpolarised reflectance of both faces of a clear sheet, with all passes to and fro between them.

    Parameters
    ----------
    index : float
        Refractive index.
    cosine : float
        Cosine of the angle to the normal.
    through : float
        What is left of the light after one way through the sheet, 0–1; 0 where only one face mirrors.

    Returns
    -------
    float
        The share sent back, 0–1.
    """
    s, p = polarised_reflectances(index, cosine)
    kept = through * through
    s += (1.0 - s) * (1.0 - s) * s * kept / (1.0 - s * s * kept)
    p += (1.0 - p) * (1.0 - p) * p * kept / (1.0 - p * p * kept)
    return 0.5 * (s + p)


@inlined
def transmitted_share(
    dx: float, dy: float, dz: float, frame: Floats, screens: Floats
) -> float:  # pragma: no cover - compiled
    """Share of light going in direction d that passes all screens, or that mirrors among them send on.

    A row of ``screens`` is kind, wire ratio or refractive index, factor, and how it lies: 1 for one that
    turns with the lamp, 0 level, 2 and 3 in the left and right side, 4 and 5 in the front and back; then,
    for a woven mesh, what passes it by angle.

    Parameters
    ----------
    dx, dy, dz : float
        Direction of the light (unit vector).
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    screens : Floats
        Screens: kind, ratio or index, factor, how it lies; shape (q, 4).

    Returns
    -------
    float
        The share, 0–1.
    """
    share = 1.0
    for k in range(screens.shape[0]):
        lies = screens[k, 3]
        if lies == 1.0:
            along = dx * frame[0, 0] + dy * frame[0, 1] + dz * frame[0, 2]
            across = dx * frame[1, 0] + dy * frame[1, 1] + dz * frame[1, 2]
            ahead = dx * frame[2, 0] + dy * frame[2, 1] + dz * frame[2, 2]
        elif lies == 0.0:
            along, across, ahead = dx, dy, -dz
        elif lies <= 3.0:
            along, across, ahead = dy, dz, dx if lies == 2.0 else -dx
        else:
            along, across, ahead = dx, dz, dy if lies == 4.0 else -dy
        if screens[k, 0] == SCREEN_MIRROR:
            share *= screens[k, 2] * face_reflectance(screens[k, 1], abs(ahead))
            continue
        if ahead <= 0.0:
            continue
        if screens[k, 0] == SCREEN_MESH:
            share *= screens[k, 2] * mesh_share(screens[k, 1], along / ahead, across / ahead)
        elif screens[k, 0] == SCREEN_WOVEN:
            share *= screens[k, 2] * woven_share(screens, k, along / ahead, across / ahead)
        else:
            share *= screens[k, 2] * pane_share(screens[k, 1], ahead)
        if share <= 0.0:
            return 0.0
    return share


@compiled
def screened(directions: Floats, frame: Floats, screens: Floats) -> Floats:  # pragma: no cover - compiled
    """Share (n,) of light going in directions (n, 3) that passes all screens.

    Parameters
    ----------
    directions : Floats
        Unit vectors, shape (n, 3).
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    screens : Floats
        Screens: kind, ratio or index, factor, how it lies; shape (q, 4).

    Returns
    -------
    Floats
        The shares (n,), 0–1.
    """
    found = np.empty(directions.shape[0])
    for i in range(directions.shape[0]):
        found[i] = transmitted_share(directions[i, 0], directions[i, 1], directions[i, 2], frame, screens)
    return found
