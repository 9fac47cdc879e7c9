"""Faces of the enclosure cut into strips of one air cell each, and the parts they are made of."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.films import OUTSIDE_FILM
from noonshade.core.heat.grids import AirGrid, overlap
from noonshade.core.plan import Background, Enclosure, Face, Inset, Wall

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# A part has no surface in a strip of which it is less than this share.
LEAST_SHARE = 1e-9


class FacePart(NamedTuple):
    """A part of a face: its wall, the share (s,) it has of every strip, and the inset it is, if any."""

    wall: Wall
    share: Floats
    inset: Inset | None

    @property
    def there(self) -> Ints:
        """Numbers (k,) of the strips it has a share of."""
        return np.flatnonzero(self.share > LEAST_SHARE)


@dataclass(frozen=True, slots=True)
class SheetStrips:
    """A closed part of a face in strips of one air cell each: its sheet, or a window, door or pane in it.

    ``number`` is 0 for the sheet and counts the insets of the face from 1. Of each strip it has a share of,
    (k,): ``node``, ``strip`` (its number on the face), ``cell`` beside it, ``area_m2``, ``loss_w_k`` to
    what it stands against, and ``storage_j_k``.
    """

    face: Face
    number: int
    node: Ints
    strip: Ints
    cell: Ints
    area_m2: Floats
    loss_w_k: Floats
    storage_j_k: Floats


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


def face_parts(enclosure: Enclosure, face: Face, air: AirGrid) -> list[FacePart]:
    """Parts of a face: what is no inset first, then its insets.

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
    list of FacePart
        The parts.
    """
    insets = [FacePart(i.wall, inset_share(i, air), i) for i in enclosure.insets_of(face)]
    left = np.ones(strips(face, air)[0].size)
    for part in insets:
        left -= part.share
    return [FacePart(enclosure.walls[face], np.maximum(left, 0.0), None), *insets]


def sheet_strips(
    face: Face, number: int, part: FacePart, lined: Background | None, air: AirGrid, first: int
) -> SheetStrips:
    """Strips of a closed part of a face.

    Parameters
    ----------
    face : Face
        A face of the enclosure.
    number : int
        0 for the sheet, insets from 1.
    part : FacePart
        The part.
    lined : Background or None
        What lines the face inside.
    air : AirGrid
        The air cells.
    first : int
        Number of its first node.

    Returns
    -------
    SheetStrips
        The strips it has a share of, none where it has none.
    """
    cells, areas = strips(face, air)
    there = part.there
    area, wall = (areas * part.share)[there], part.wall
    resistance = wall.resistance_m2k_w + 1.0 / OUTSIDE_FILM
    if lined is not None:
        resistance += lined.thickness_m / lined.material.conductivity_w_mk
    # The inner half of a sheet follows the inside; the outer half the room.
    stored = 0.0 if wall.material is None else wall.material.storage_j_m3k * wall.thickness_m / 2
    node = first + np.arange(there.size)
    return SheetStrips(face, number, node, there, cells[there], area, area / resistance, stored * area)


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
    shares = (enclosure.open_share("top", p.wall) * p.share for p in parts)
    found: Floats = sum(shares, np.zeros(air.nx))
    return np.minimum(found, 1.0)
