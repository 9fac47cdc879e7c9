"""Faces of the enclosure cut into strips of one air cell each, and the parts they are made of."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.grids import AirGrid, overlap
from noonshade.core.plan import Enclosure, Face, Inset, Wall

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# A strip that is all window keeps this share of sheet, so that its node stays tied to something.
TRACE_OF_SHEET = 1e-6


def strips(face: Face, air: AirGrid) -> tuple[Ints, Floats]:
    """Air cells (s,) next to each strip of a face and the strips' areas (s,), m².

    Parameters
    ----------
    face : Face
        A face of the enclosure.
    air : AirGrid
        The air cells.

    Returns
    -------
    tuple[Ints, Floats]
        Nodes (s,) and areas (s,), m².
    """
    k, i = np.arange(air.nz), np.arange(air.nx)
    if face == "left":
        return k.astype(np.int64), np.full(air.nz, air.depth_m * air.dz)
    if face == "right":
        return (air.nx - 1) * air.nz + k, np.full(air.nz, air.depth_m * air.dz)
    if face == "top":
        return i * air.nz + air.nz - 1, np.full(air.nx, air.depth_m * air.dx)
    return np.arange(air.size), np.full(air.size, air.dx * air.dz)


def inset_share(inset: Inset, air: AirGrid) -> Floats:
    """Share (s,) of each strip of its face that an inset takes, 0–1.

    Parameters
    ----------
    inset : Inset
        A part of a face.
    air : AirGrid
        The air cells.

    Returns
    -------
    Floats
        Shares (s,), 0–1.
    """
    if inset.face == "top":
        share = overlap(air.x_edges, inset.x0_m, inset.x1_m) / air.dx
        return share * (inset.y1_m - inset.y0_m) / air.depth_m
    up = overlap(air.z_edges, inset.y0_m, inset.y1_m) / air.dz
    if inset.face in ("left", "right"):
        return up * (inset.x1_m - inset.x0_m) / air.depth_m
    along = overlap(air.x_edges, inset.x0_m, inset.x1_m) / air.dx
    return np.outer(along, up).ravel()


def face_parts(enclosure: Enclosure, face: Face, air: AirGrid) -> list[tuple[Wall, Floats]]:
    """Parts of a face with the share (s,) each has of every strip; its closed parts first.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure.
    face : Face
        A face of the enclosure.
    air : AirGrid
        The air cells.

    Returns
    -------
    list[tuple[Wall, Floats]]
        Parts of a face with the share (s,) each has of every strip.
    """
    insets = enclosure.insets_of(face)
    shares = [inset_share(inset, air) for inset in insets]
    left = np.ones(strips(face, air)[0].size) - np.sum(shares, axis=0) if shares else None
    base = np.ones(strips(face, air)[0].size) if left is None else np.maximum(left, 0.0)
    parts = [(enclosure.walls[face], base), *zip((i.wall for i in insets), shares, strict=True)]
    closed = [(wall, share) for wall, share in parts if wall.material is not None]
    opened = [(wall, share) for wall, share in parts if wall.material is None]
    if closed:
        sheet, share = closed[0]
        closed[0] = sheet, np.maximum(share, TRACE_OF_SHEET)
    return closed + opened


def lid_share(enclosure: Enclosure, air: AirGrid) -> Floats:
    """Share (nx,) of the lid above each column that lets air through, 0–1.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure.
    air : AirGrid
        The air cells.

    Returns
    -------
    Floats
        Shares (nx,), 0–1.
    """
    parts = face_parts(enclosure, "top", air)
    shares = (enclosure.open_share("top", wall) * share for wall, share in parts)
    found: Floats = sum(shares, np.zeros(air.nx))
    return np.minimum(found, 1.0)
