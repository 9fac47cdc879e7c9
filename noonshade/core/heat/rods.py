"""Branches cut into pieces with four nodes around each, since their wood keeps a lit side hot.

The four quarters of a piece face up, to one side, down and to the other. Heat passes between
neighbouring quarters as in a long cylinder whose surface is warmer above than below by a cosine: the
upper quarter gives √2 k T₁ W for each metre to a surface that differs by T₁, so each of its two links
carries k/√2 for each metre and kelvin.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.plan import Branch

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

QUARTERS = 4
# Directions in which each quarter is looked at, in degrees from its middle: two flat faces catch a beam
# from any side as the round branch does, to 3 %.
FACETS_DEG = (-22.5, 22.5)


@dataclass(frozen=True, slots=True)
class Rod:
    """A branch as pieces along its axis; node of quarter q of piece s is ``start + s · 4 + q``.

    ``centres`` (s, 3) of the pieces, ``axis`` (3,), ``upwards`` (3,) and ``aside`` (3,) unit vectors.
    """

    item: Branch
    centres: Floats
    piece_m: float
    axis: Floats
    upwards: Floats
    aside: Floats
    start: int

    @property
    def pieces(self) -> int:
        """How many pieces there are."""
        return int(self.centres.shape[0])

    @property
    def nodes(self) -> Ints:
        """Node numbers (s, 4): up, one side, down, the other side."""
        return self.start + np.arange(self.pieces * QUARTERS).reshape(self.pieces, QUARTERS)

    @property
    def top_m(self) -> Floats:
        """Height of the upper side of each piece (s,), m."""
        found: Floats = self.centres[:, 2] + self.item.diameter_m / 2 * self.upwards[2]
        return found

    def normal(self, quarter: int, facet: int) -> Floats:
        """Direction (3,) a flat face of a quarter looks in.

        Parameters
        ----------
        quarter : int
            Which quarter of the perimeter.
        facet : int
            Index of a side of the rod.

        Returns
        -------
        Floats
            Unit vector (3,).
        """
        angle = math.radians(90.0 * quarter + FACETS_DEG[facet])
        found: Floats = math.cos(angle) * self.upwards + math.sin(angle) * self.aside
        return found

    def nearest(self, x_m: float, y_m: float, z_m: float) -> int:
        """The piece nearest to a point.

        Parameters
        ----------
        x_m : float
            Position along the length, m.
        y_m : float
            Position from the front to the back, m.
        z_m : float
            Height above the floor, m.

        Returns
        -------
        int
            Index of the piece.
        """
        return int(np.argmin(np.linalg.norm(self.centres - np.array([x_m, y_m, z_m]), axis=1)))

    def links(self) -> list[tuple[Ints, Ints, Floats]]:
        """Conduction around each piece and along the axis, as pairs of nodes and W/K.

        Returns
        -------
        list[tuple[Ints, Ints, Floats]]
            Nodes of both ends and conductances (k,), W/K, for each kind of link.
        """
        k, nodes = self.item.material.conductivity_w_mk, self.nodes
        around = np.full(nodes.size, k / math.sqrt(2.0) * self.piece_m)
        found = [(nodes.ravel(), np.roll(nodes, -1, axis=1).ravel(), around)]
        section = math.pi * self.item.diameter_m**2 / 4.0 / QUARTERS
        along = np.full(nodes[:-1].size, k * section / self.piece_m)
        found.append((nodes[:-1].ravel(), nodes[1:].ravel(), along))
        return found

    @property
    def capacity_j_k(self) -> float:
        """Heat capacity of one quarter of a piece, J/K."""
        volume = math.pi * self.item.diameter_m**2 / 4.0 * self.piece_m / QUARTERS
        return self.item.material.storage_j_m3k * volume


def rod_of(branch: Branch, start: int, piece_m: float, most: float) -> Rod:
    """Cut a branch into pieces of about a length, with nodes from ``start`` on.

    Parameters
    ----------
    branch : Branch
        The branch.
    start : int
        First node.
    piece_m : float
        Length of a piece, m.
    most : float
        Upper limit.

    Returns
    -------
    Rod
        The pieces with their nodes, areas and neighbours.
    """
    first, last = np.array(branch.start_m), np.array(branch.end_m)
    length = float(np.linalg.norm(last - first))
    axis = (last - first) / length
    count = int(np.clip(round(length / piece_m), 1, most))
    centres = first + (np.arange(count)[:, None] + 0.5) / count * (last - first)
    # A branch that stands has no upper side; its first quarter then looks along the enclosure.
    wanted = np.array([0.0, 0.0, 1.0]) if abs(axis[2]) < 0.99 else np.array([1.0, 0.0, 0.0])
    upwards = wanted - float(wanted @ axis) * axis
    upwards /= np.linalg.norm(upwards)
    return Rod(branch, centres, length / count, axis, upwards, np.cross(axis, upwards), start)
