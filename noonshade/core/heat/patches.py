"""Surface elements that exchange heat with the inside of the enclosure."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.faces import FacePart, strips
from noonshade.core.heat.films import AROUND, FACING_DOWN, FACING_UP, VERTICAL
from noonshade.core.heat.grids import AirGrid, Plate, SheetGrid, overlap
from noonshade.core.heat.rods import FACETS_DEG, QUARTERS, Rod
from noonshade.core.plan import Face, Plan, SolidMaterial

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class SurfacePatches:
    """Surface elements that exchange heat with the inside of the enclosure; arrays of shape (p,) or (p, 3).

    ``node`` is −1 for openings, which only let radiation out. A patch meets the air of ``cell`` and, where
    it lies between the middles of two levels, by ``higher_share`` that of ``higher``. ``half_u`` and
    ``half_v`` are the half extents of the rectangle, used to sample the lamps' radiation over it.
    """

    node: Ints
    cell: Ints
    higher: Ints
    higher_share: Floats
    area_m2: Floats
    centre: Floats
    normal: Floats
    half_u: Floats
    half_v: Floats
    orientation: Ints
    length_m: Floats
    absorptance: Floats
    transmittance: Floats
    emissivity: Floats


# Unit vectors from each face into the enclosure.
INWARDS: dict[Face, tuple[float, float, float]] = {
    "left": (1.0, 0.0, 0.0),
    "right": (-1.0, 0.0, 0.0),
    "front": (0.0, 1.0, 0.0),
    "back": (0.0, -1.0, 0.0),
    "top": (0.0, 0.0, -1.0),
}


# Light sees a branch as a prism whose edges stand out by 2.6 % (``light.shade``).
CLEAR_OF_PRISM = 1.03


class PatchList:
    """Gathers patches group by group: walls, floor, plates, branches."""

    def __init__(self) -> None:
        self._groups: list[tuple[Floats | Ints, ...]] = []

    def _append(
        self,
        node: Ints,
        cell: Ints,
        area: Floats,
        centre: Floats,
        normal: tuple[float, float, float] | Floats,
        half_u: tuple[float, float, float] | Floats,
        half_v: tuple[float, float, float] | Floats,
        orientation: int,
        length: float,
        optics: tuple[float, float, float],
        higher_share: float | Floats = 0.0,
    ) -> None:
        n = area.size

        def same(value: float | Floats) -> Floats:
            return np.full(n, value)

        self._groups.append(
            (
                node,
                cell,
                cell + (np.asarray(higher_share) > 0.0),
                same(higher_share),
                area,
                centre,
                np.tile(normal, (n, 1)),
                np.broadcast_to(half_u, (n, 3)),
                np.broadcast_to(half_v, (n, 3)),
                np.full(n, orientation),
                same(length),
                same(optics[0]),
                same(optics[1]),
                same(optics[2]),
            )
        )

    def wall(self, face: Face, part: FacePart, air: AirGrid, nodes: Ints | None, height_m: float) -> None:
        """Add a part of a face strip by strip.

        Parameters
        ----------
        face : Face
            A face of the enclosure.
        part : FacePart
            The part.
        air : AirGrid
            The air cells.
        nodes : Ints | None
            A node for each strip it has a share of; None for mesh and open faces.
        height_m : float
            Height of the enclosure, m.
        """
        cells, areas = strips(face, air)
        there = part.there
        cells, area = cells[there], (areas * part.share)[there]
        i, k = cells // air.nz, cells % air.nz
        # Where each begins and ends along the face and across it, as insets count them.
        across = np.array([0.0, air.depth_m])
        one = np.zeros(cells.size, dtype=np.int64)
        u, iu = (across, one) if face in ("left", "right") else (air.x_edges, i)
        v, iv = (across, one) if face == "top" else (air.z_edges, k)
        bounds = [u[iu], u[iu + 1], v[iv], v[iv + 1]]
        if part.inset is not None:
            inset = part.inset
            bounds[:2] = [np.clip(b, inset.x0_m, inset.x1_m) for b in bounds[:2]]
            bounds[2:] = [np.clip(b, inset.y0_m, inset.y1_m) for b in bounds[2:]]
        u0, u1, v0, v1 = bounds
        orientation, length = VERTICAL, height_m
        if face == "top":
            orientation, length = FACING_DOWN, min(float(air.x_edges[-1]), air.depth_m)
        # Axes of the space along the face, across it, and out of it.
        axes = (1, 2, 0) if face in ("left", "right") else (0, 1, 2) if face == "top" else (0, 2, 1)
        at = {"left": 0.0, "right": float(air.x_edges[-1]), "front": 0.0, "back": air.depth_m}
        centre, half_u, half_v = (np.zeros((cells.size, 3)) for _ in range(3))
        centre[:, axes[0]], centre[:, axes[1]] = (u0 + u1) / 2, (v0 + v1) / 2
        centre[:, axes[2]] = at.get(face, height_m)
        half_u[:, axes[0]], half_v[:, axes[1]] = (u1 - u0) / 2, (v1 - v0) / 2
        m, wall = part.wall.material, part.wall
        self._append(
            np.full(cells.size, -1) if nodes is None else nodes,
            cells,
            area,
            centre,
            INWARDS[face],
            half_u,
            half_v,
            orientation,
            length,
            (m.absorptance, m.transmittance, m.emissivity)
            if m is not None
            else (0.0, wall.open_fraction, wall.open_fraction),
        )

    def floor(
        self,
        plan: Plan,
        air: AirGrid,
        sheet: SheetGrid,
        supports: list[tuple[float, float, float, float]],
    ) -> None:
        """Add the substrate surface, less the footprints on it (x0, x1, y0, y1 each).

        Parameters
        ----------
        plan : Plan
            The plan.
        air : AirGrid
            The air cells.
        sheet : SheetGrid
            The sheet.
        supports : list[tuple[float, float, float, float]]
            Footprints that hold the item up, m.
        """
        covered = np.zeros((sheet.nx, sheet.ny))
        for x0, x1, y0, y1 in supports:
            covered += np.outer(overlap(sheet.x_edges, x0, x1), overlap(sheet.y_edges, y0, y1))
        area = np.maximum(sheet.dx * sheet.dy - covered, 0.0)
        ground = plan.substrate.depth_m
        m = plan.substrate.material
        self._sheet(
            air,
            sheet,
            ground,
            ground,
            area,
            FACING_UP,
            min(plan.enclosure.length_m, plan.enclosure.depth_m),
            m,
        )

    def plate(self, air: AirGrid, plate: Plate) -> None:
        """Add the upper face of a plate and the free part of its lower face.

        Parameters
        ----------
        air : AirGrid
            The air cells.
        plate : Plate
            The plate.
        """
        # Air comes to a plate over its edges: area over perimeter (Goldstein, Sparrow & Jones 1973, Int. J.
        # Heat Mass Transfer 16:1025). Ground and lid end at walls and have none.
        item = plate.item
        size = item.length_m * item.width_m / (2.0 * (item.length_m + item.width_m))
        cell = np.full((plate.top.nx, plate.top.ny), plate.top.dx * plate.top.dy)
        top_m = plate.bottom_m + plate.thickness_m
        self._sheet(air, plate.top, top_m, top_m, cell, FACING_UP, size, plate.material)
        under = cell
        if plate.support is not None:
            x0, x1, y0, y1 = plate.support
            under = np.maximum(
                cell
                - np.outer(overlap(plate.bottom.x_edges, x0, x1), overlap(plate.bottom.y_edges, y0, y1)),
                0.0,
            )
        self._sheet(
            air,
            plate.bottom,
            plate.bottom_m,
            plate.bottom_m - 1e-3,
            under,
            FACING_DOWN,
            size,
            plate.material,
        )

    def rod(self, air: AirGrid, rod: Rod) -> None:
        """Add a branch: two flat faces for each quarter of each piece, touching the round of it.

        Parameters
        ----------
        air : AirGrid
            The air cells.
        rod : Rod
            The rod.
        """
        m, radius = rod.item.material, rod.item.diameter_m / 2
        width = math.pi * radius / QUARTERS
        area = np.full(rod.pieces, width * rod.piece_m)
        for quarter in range(QUARTERS):
            for facet in range(len(FACETS_DEG)):
                normal = rod.normal(quarter, facet)
                centre = rod.centres + CLEAR_OF_PRISM * radius * normal
                column = np.clip(
                    np.searchsorted(air.x_edges, centre[:, 0], side="right") - 1, 0, air.nx - 1
                )
                level, share = air.levels_at(centre[:, 2])
                self._append(
                    rod.nodes[:, quarter],
                    column * air.nz + level,
                    area,
                    centre,
                    normal,
                    rod.axis * rod.piece_m / 2,
                    np.cross(rod.axis, normal) * width / 2,
                    AROUND,
                    rod.item.diameter_m,
                    (m.absorptance, m.transmittance, m.emissivity),
                    share,
                )

    def _sheet(
        self,
        air: AirGrid,
        sheet: SheetGrid,
        z_m: float,
        air_z_m: float,
        area: Floats,
        orientation: int,
        length: float,
        m: SolidMaterial,
    ) -> None:
        gx, gy = np.meshgrid(sheet.x, sheet.y, indexing="ij")
        (k, _), (_, higher_share) = air.level_shares(max(air_z_m, float(air.z_edges[0])))
        column = np.clip(np.searchsorted(air.x_edges, gx.ravel(), side="right") - 1, 0, air.nx - 1)
        up = orientation == FACING_UP
        self._append(
            sheet.nodes.ravel(),
            column * air.nz + k,
            area.ravel(),
            np.column_stack([gx.ravel(), gy.ravel(), np.full(gx.size, z_m)]),
            (0.0, 0.0, 1.0 if up else -1.0),
            (sheet.dx / 2, 0.0, 0.0),
            (0.0, sheet.dy / 2, 0.0),
            orientation,
            length,
            (m.absorptance, m.transmittance, m.emissivity),
            higher_share,
        )

    def build(self) -> SurfacePatches:
        """All groups as one set of arrays.

        Returns
        -------
        SurfacePatches
            The patches in the order of the groups.
        """
        columns = [np.concatenate(parts) for parts in zip(*self._groups, strict=True)]
        node, cell, higher, share, area, centre, normal, half_u, half_v, orientation, length, *optics = (
            columns
        )
        return SurfacePatches(
            node.astype(np.int64),
            cell.astype(np.int64),
            higher.astype(np.int64),
            share,
            area,
            centre,
            normal,
            half_u,
            half_v,
            orientation.astype(np.int64),
            length,
            *optics,
        )


def sub_samples(patches: SurfacePatches, spacing_m: float) -> tuple[Floats, Floats, Ints]:
    """Points over all patches no further apart than ``spacing_m``.

    Returns points (n, 3) just off the surface, normals (n, 3), and the patch index (n,) of each;
    points of one patch have equal weight.

    Parameters
    ----------
    patches : SurfacePatches
        Surface patches.
    spacing_m : float
        Distance between samples, m.

    Returns
    -------
    tuple[Floats, Floats, Ints]
        Points (k, 3), m, their normals (k, 3), and the patch (k,) each lies on.
    """
    nu = np.ceil(2 * np.linalg.norm(patches.half_u, axis=1) / spacing_m).astype(np.int64)
    nv = np.ceil(2 * np.linalg.norm(patches.half_v, axis=1) / spacing_m).astype(np.int64)
    points, normals, index = [], [], []
    for u, v in sorted(set(zip(nu.tolist(), nv.tolist(), strict=True))):
        chosen = np.flatnonzero((nu == u) & (nv == v))
        a = (2 * (np.arange(u) + 0.5) / u - 1)[:, None, None]
        b = (2 * (np.arange(v) + 0.5) / v - 1)[None, :, None]
        offset = (
            a[..., None] * patches.half_u[chosen]
            + b[..., None] * patches.half_v[chosen]
            + patches.centre[chosen]
            + 1e-5 * patches.normal[chosen]
        )
        points.append(offset.reshape(-1, 3))
        repeated = np.broadcast_to(chosen, (u, v, chosen.size))
        index.append(repeated.reshape(-1))
        normals.append(patches.normal[repeated.reshape(-1)])
    return np.concatenate(points), np.concatenate(normals), np.concatenate(index)
