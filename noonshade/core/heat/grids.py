"""Air cells, sheets of surface cells and plates, with their node numbers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.plan import Hide, Slab, SolidMaterial

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class AirGrid:
    """Air cells over length and height, well mixed over the depth. Node = i · nz + k."""

    x_edges: Floats
    z_edges: Floats
    depth_m: float

    @property
    def nx(self) -> int:
        """Columns along the length."""
        return self.x_edges.size - 1

    @property
    def nz(self) -> int:
        """Levels over the height."""
        return self.z_edges.size - 1

    @property
    def x(self) -> Floats:
        """Column centres, m."""
        return 0.5 * (self.x_edges[1:] + self.x_edges[:-1])

    @property
    def z(self) -> Floats:
        """Level centres, m."""
        return 0.5 * (self.z_edges[1:] + self.z_edges[:-1])

    @property
    def dx(self) -> float:
        """Column width, m."""
        return float(self.x_edges[1] - self.x_edges[0])

    @property
    def dz(self) -> float:
        """Level height, m."""
        return float(self.z_edges[1] - self.z_edges[0])

    @property
    def size(self) -> int:
        """Number of cells."""
        return self.nx * self.nz

    def column(self, x_m: float) -> int:
        """Column that holds x, clipped to the enclosure.

        Parameters
        ----------
        x_m : float
            Position along the length, m.

        Returns
        -------
        int
            Index of the column.
        """
        return min(max(int((x_m - self.x_edges[0]) / self.dx), 0), self.nx - 1)

    def level(self, z_m: float) -> int:
        """Level that holds z, clipped to the enclosure.

        Parameters
        ----------
        z_m : float
            Height above the floor, m.

        Returns
        -------
        int
            Index of the level.
        """
        return min(max(int((z_m - self.z_edges[0]) / self.dz), 0), self.nz - 1)

    def cell(self, x_m: float, z_m: float) -> int:
        """Node of the cell that holds a point.

        Parameters
        ----------
        x_m : float
            Position along the length, m.
        z_m : float
            Height above the floor, m.

        Returns
        -------
        int
            Number of the node.
        """
        return self.column(x_m) * self.nz + self.level(z_m)

    def level_shares(self, z_m: float) -> list[tuple[int, float]]:
        """The two levels a height lies between, as (level, share), so that figures move smoothly.

        Parameters
        ----------
        z_m : float
            Height above the floor, m.

        Returns
        -------
        list[tuple[int, float]]
            One or two pairs of level and share; the shares sum to 1.
        """
        position = min(max((z_m - float(self.z[0])) / self.dz, 0.0), self.nz - 1.0)
        low = min(int(position), self.nz - 2)
        return [(low, 1.0 - (position - low)), (low + 1, position - low)]

    def levels_at(self, z_m: Floats) -> tuple[Ints, Floats]:
        """The lower of the two levels each height (n,) lies between, and the share of the upper one.

        Parameters
        ----------
        z_m : Floats
            Height above the floor, m.

        Returns
        -------
        tuple[Ints, Floats]
            Lower levels (n,) and shares (n,), 0–1.
        """
        position = np.clip((z_m - self.z[0]) / self.dz, 0.0, self.nz - 1.0)
        low = np.minimum(position.astype(np.int64), self.nz - 2)
        return low, position - low

    def interpolation(self, x_m: Floats, z_m: Floats) -> tuple[Ints, Floats]:
        """Bilinear nodes (n, 4) and weights (n, 4) at points, constant beyond the outer centres.

        Parameters
        ----------
        x_m : Floats
            Position along the length, m.
        z_m : Floats
            Height above the floor, m.

        Returns
        -------
        tuple[Ints, Floats]
            Nodes (n, 4) and weights (n, 4), which sum to 1 for each point.
        """
        fx = np.clip((np.asarray(x_m) - self.x[0]) / self.dx, 0.0, self.nx - 1.0)
        fz = np.clip((np.asarray(z_m) - self.z[0]) / self.dz, 0.0, self.nz - 1.0)
        i = np.minimum(fx.astype(np.int64), max(self.nx - 2, 0))
        k = np.minimum(fz.astype(np.int64), max(self.nz - 2, 0))
        u, v = fx - i, fz - k
        i1, k1 = np.minimum(i + 1, self.nx - 1), np.minimum(k + 1, self.nz - 1)
        nodes = np.stack([i * self.nz + k, i1 * self.nz + k, i * self.nz + k1, i1 * self.nz + k1], axis=-1)
        weights = np.stack([(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v], axis=-1)
        return nodes, weights


@dataclass(frozen=True, slots=True)
class SheetGrid:
    """A horizontal rectangle of cells; the node of cell (i, j) is ``start + i · ny + j``."""

    x_edges: Floats
    y_edges: Floats
    start: int

    @property
    def nx(self) -> int:
        """Cells along x."""
        return self.x_edges.size - 1

    @property
    def ny(self) -> int:
        """Cells along y."""
        return self.y_edges.size - 1

    @property
    def x(self) -> Floats:
        """Cell centres along x, m."""
        return 0.5 * (self.x_edges[1:] + self.x_edges[:-1])

    @property
    def y(self) -> Floats:
        """Cell centres along y, m."""
        return 0.5 * (self.y_edges[1:] + self.y_edges[:-1])

    @property
    def dx(self) -> float:
        """Cell size along x, m."""
        return float(self.x_edges[1] - self.x_edges[0])

    @property
    def dy(self) -> float:
        """Cell size along y, m."""
        return float(self.y_edges[1] - self.y_edges[0])

    @property
    def nodes(self) -> Ints:
        """Node numbers, (nx, ny)."""
        return self.start + np.arange(self.nx * self.ny).reshape(self.nx, self.ny)

    def nearest(self, x_m: float, y_m: float) -> tuple[int, int]:
        """Cell (i, j) nearest to a point.

        Parameters
        ----------
        x_m : float
            Position along the length, m.
        y_m : float
            Position from the front to the back, m.

        Returns
        -------
        tuple[int, int]
            Column i and row j.
        """
        return int(np.argmin(np.abs(self.x - x_m))), int(np.argmin(np.abs(self.y - y_m)))

    def share_within(self, x_m: float, y_m: float, length_m: float, width_m: float) -> Floats:
        """Share of each cell that lies in a rectangle.

        Parameters
        ----------
        x_m, y_m : float
            Middle of the rectangle, m.
        length_m, width_m : float
            Its sides along x and y, m.

        Returns
        -------
        (nx, ny) float
            Shares, 0 to 1.
        """
        along = overlap(self.x_edges, x_m - length_m / 2, x_m + length_m / 2) / self.dx
        across = overlap(self.y_edges, y_m - width_m / 2, y_m + width_m / 2) / self.dy
        return np.outer(along, across)


@dataclass(frozen=True, slots=True)
class Plate:
    """A slab or the roof of a hide: upper and lower face as sheets of the same cells."""

    item: Slab | Hide
    material: SolidMaterial
    thickness_m: float
    bottom_m: float
    top: SheetGrid
    bottom: SheetGrid
    support: tuple[float, float, float, float] | None  # x0, x1, y0, y1 of what it stands on
    support_height_m: float


def overlap(edges: Floats, low: float, high: float) -> Floats:
    """Length of each cell of ``edges`` (n + 1,) that lies within an interval, (n,).

    Parameters
    ----------
    edges : Floats
        Edges of the cells, m.
    low : float
        Lower limit.
    high : float
        Upper limit.

    Returns
    -------
    Floats
        Lengths (n,), m.
    """
    length: Floats = np.maximum(0.0, np.minimum(edges[1:], high) - np.maximum(edges[:-1], low))
    return length
