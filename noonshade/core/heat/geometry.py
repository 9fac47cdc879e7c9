"""The box cut into air cells, floor cells, wall strips and plates, with their node numbers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.films import FACING_DOWN, FACING_UP, VERTICAL
from noonshade.core.plan import Face, Hide, Plan, Slab, SolidMaterial, Wall

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

AIR_CELL_M = 0.1
FLOOR_CELL_M = 0.05
PLATE_CELL_M = 0.03
# Roofs of hides are not basked on by plan, so they are drawn coarser.
ROOF_CELLS = 2.0
# Depths of substrate nodes as shares of the whole: fine near the surface, where the gradient is.
SUBSTRATE_LEVELS = (0.0, 0.3, 1.0)
BARE_FLOOR_M = 0.004  # thinner substrate than this is treated as one layer with the panel


@dataclass(frozen=True, slots=True)
class Resolution:
    """Cell sizes in metres; ``refined`` divides them all."""

    air_m: float = AIR_CELL_M
    floor_m: float = FLOOR_CELL_M
    plate_m: float = PLATE_CELL_M

    def refined(self, times: float) -> Resolution:
        """The same cells, each ``times`` smaller."""
        return Resolution(self.air_m / times, self.floor_m / times, self.plate_m / times)


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
        """Column that holds x, clipped to the box."""
        return min(max(int((x_m - self.x_edges[0]) / self.dx), 0), self.nx - 1)

    def level(self, z_m: float) -> int:
        """Level that holds z, clipped to the box."""
        return min(max(int((z_m - self.z_edges[0]) / self.dz), 0), self.nz - 1)

    def cell(self, x_m: float, z_m: float) -> int:
        """Node of the cell that holds a point."""
        return self.column(x_m) * self.nz + self.level(z_m)

    def interpolation(self, x_m: Floats, z_m: Floats) -> tuple[Ints, Floats]:
        """Bilinear nodes (n, 4) and weights (n, 4) at points, constant beyond the outer centres."""
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
        """Cell (i, j) nearest to a point."""
        return int(np.argmin(np.abs(self.x - x_m))), int(np.argmin(np.abs(self.y - y_m)))


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


@dataclass(frozen=True, slots=True)
class Patches:
    """Surface elements that exchange heat with the inside of the box; arrays of shape (p,) or (p, 3).

    ``node`` is −1 for openings, which only let radiation out. ``half_u`` and ``half_v`` are the
    half extents of the rectangle, used to sample the lamps' radiation over it.
    """

    node: Ints
    cell: Ints
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


@dataclass(frozen=True, slots=True)
class BoxGrid:
    """Everything the network is built on."""

    air: AirGrid
    floor: tuple[SheetGrid, ...]  # substrate levels from the surface down
    floor_depths_m: tuple[float, ...]
    plates: tuple[Plate, ...]
    wall_nodes: dict[Face, Ints]
    wall_areas: dict[Face, Floats]
    wall_cells: dict[Face, Ints]
    star: int
    size: int
    patches: Patches

    def plate_of(self, item_id: str) -> Plate | None:
        """The plate of a furnishing, by its id."""
        return next((p for p in self.plates if p.item.id == item_id), None)


def build_grid(plan: Plan, resolution: Resolution | None = None) -> BoxGrid:
    """Cut a plan into cells, number the nodes and list the surface patches."""
    resolution = resolution or Resolution()
    box, ground = plan.box, plan.substrate.depth_m
    air = AirGrid(
        np.linspace(0.0, box.length_m, _count(box.length_m, resolution.air_m, 4, 48) + 1),
        np.linspace(
            ground, box.height_m, _count(box.height_m - ground, resolution.air_m * 0.75, 4, 48) + 1
        ),
        box.depth_m,
    )
    size = air.size
    depths = (0.0,) if ground < BARE_FLOOR_M else tuple(s * ground for s in SUBSTRATE_LEVELS)
    fx = np.linspace(0.0, box.length_m, _count(box.length_m, resolution.floor_m, 4, 96) + 1)
    fy = np.linspace(0.0, box.depth_m, _count(box.depth_m, resolution.floor_m, 4, 96) + 1)
    floor = []
    for _ in depths:
        floor.append(SheetGrid(fx, fy, size))
        size += (fx.size - 1) * (fy.size - 1)
    plates = []
    for item in plan.furnishings:
        plate = _plate(item, ground, size, resolution.plate_m)
        plates.append(plate)
        size += 2 * plate.top.nx * plate.top.ny
    patches = _PatchList()
    wall_nodes: dict[Face, Ints] = {}
    wall_areas: dict[Face, Floats] = {}
    wall_cells: dict[Face, Ints] = {}
    for face, wall in box.walls.items():
        if face == "floor":
            continue
        cells, areas = _wall_strips(face, air)
        wall_cells[face], wall_areas[face] = cells, areas
        if wall.material is not None:
            wall_nodes[face] = size + np.arange(cells.size)
            size += cells.size
        patches.wall(face, wall, air, wall_nodes.get(face), cells, areas, box.height_m)
    star = size
    size += 1
    supports = [p.support for p in plates if p.support is not None]
    patches.floor(plan, air, floor[0], supports)
    for plate in plates:
        patches.plate(air, plate)
    return BoxGrid(
        air,
        tuple(floor),
        depths,
        tuple(plates),
        wall_nodes,
        wall_areas,
        wall_cells,
        star,
        size,
        patches.build(),
    )


def overlap(edges: Floats, low: float, high: float) -> Floats:
    """Length of each cell of ``edges`` (n + 1,) that lies within an interval, (n,)."""
    length: Floats = np.maximum(0.0, np.minimum(edges[1:], high) - np.maximum(edges[:-1], low))
    return length


def _count(extent: float, cell: float, least: int, most: int) -> int:
    return int(np.clip(round(extent / cell), least, most))


def _plate(item: Slab | Hide, ground: float, start: int, cell_m: float) -> Plate:
    x0, x1 = item.x_m - item.length_m / 2, item.x_m + item.length_m / 2
    y0, y1 = item.y_m - item.width_m / 2, item.y_m + item.width_m / 2
    support: tuple[float, float, float, float] | None = None
    height = 0.0
    if isinstance(item, Slab):
        bottom, thickness = ground + item.underside_m, item.thickness_m
        if item.underside_m < 1e-3:
            support = (x0, x1, y0, y1)
        elif item.stack is not None:
            sx, sy = item.stack.length_m / 2, item.stack.width_m / 2
            support = (item.x_m - sx, item.x_m + sx, item.y_m - sy, item.y_m + sy)
            height = item.underside_m
    else:
        bottom, thickness = ground + item.height_m - item.wall_m, item.wall_m
    cell = cell_m if isinstance(item, Slab) else ROOF_CELLS * cell_m
    xe = np.linspace(x0, x1, _count(item.length_m, cell, 3, 40) + 1)
    ye = np.linspace(y0, y1, _count(item.width_m, cell, 3, 40) + 1)
    top = SheetGrid(xe, ye, start)
    under = SheetGrid(xe, ye, start + top.nx * top.ny)
    return Plate(item, item.material, thickness, bottom, top, under, support, height)


def _wall_strips(face: Face, air: AirGrid) -> tuple[Ints, Floats]:
    """Air cells (s,) next to each strip of a wall and the strips' areas (s,), m²."""
    k, i = np.arange(air.nz), np.arange(air.nx)
    if face == "left":
        return k.astype(np.int64), np.full(air.nz, air.depth_m * air.dz)
    if face == "right":
        return (air.nx - 1) * air.nz + k, np.full(air.nz, air.depth_m * air.dz)
    if face == "top":
        return i * air.nz + air.nz - 1, np.full(air.nx, air.depth_m * air.dx)
    return np.arange(air.size), np.full(air.size, air.dx * air.dz)


_NORMALS: dict[Face, tuple[float, float, float]] = {
    "left": (1.0, 0.0, 0.0),
    "right": (-1.0, 0.0, 0.0),
    "front": (0.0, 1.0, 0.0),
    "back": (0.0, -1.0, 0.0),
    "top": (0.0, 0.0, -1.0),
}


class _PatchList:
    """Gathers patches group by group."""

    def __init__(self) -> None:
        self._groups: list[tuple[Floats | Ints, ...]] = []

    def _append(
        self,
        node: Ints,
        cell: Ints,
        area: Floats,
        centre: Floats,
        normal: tuple[float, float, float],
        half_u: tuple[float, float, float],
        half_v: tuple[float, float, float],
        orientation: int,
        length: float,
        optics: tuple[float, float, float],
    ) -> None:
        n = area.size

        def same(value: float) -> Floats:
            return np.full(n, value)

        self._groups.append(
            (
                node,
                cell,
                area,
                centre,
                np.tile(normal, (n, 1)),
                np.tile(half_u, (n, 1)),
                np.tile(half_v, (n, 1)),
                np.full(n, orientation),
                same(length),
                same(optics[0]),
                same(optics[1]),
                same(optics[2]),
            )
        )

    def wall(
        self,
        face: Face,
        wall: Wall,
        air: AirGrid,
        nodes: Ints | None,
        cells: Ints,
        areas: Floats,
        height_m: float,
    ) -> None:
        i, k = cells // air.nz, cells % air.nz
        middle = air.depth_m / 2
        x, y, z = air.x[i], np.full(cells.size, middle), air.z[k]
        half_u, half_v = (air.dx / 2, 0.0, 0.0), (0.0, 0.0, air.dz / 2)
        orientation = VERTICAL
        length = height_m
        if face in ("left", "right"):
            x = np.full(cells.size, air.x_edges[0 if face == "left" else -1])
            half_u = (0.0, middle, 0.0)
        elif face == "top":
            z = np.full(cells.size, height_m)
            half_v = (0.0, middle, 0.0)
            orientation, length = FACING_DOWN, min(float(air.x_edges[-1]), air.depth_m)
        else:
            y = np.full(cells.size, 0.0 if face == "front" else air.depth_m)
        m = wall.material
        self._append(
            np.full(cells.size, -1) if nodes is None else nodes,
            cells,
            areas,
            np.column_stack([x, y, z]),
            _NORMALS[face],
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
        covered = np.zeros((sheet.nx, sheet.ny))
        for x0, x1, y0, y1 in supports:
            covered += np.outer(overlap(sheet.x_edges, x0, x1), overlap(sheet.y_edges, y0, y1))
        area = np.maximum(sheet.dx * sheet.dy - covered, 0.0)
        ground = plan.substrate.depth_m
        m = plan.substrate.material
        self._sheet(
            air, sheet, ground, ground, area, FACING_UP, min(plan.box.length_m, plan.box.depth_m), m
        )

    def plate(self, air: AirGrid, plate: Plate) -> None:
        size = min(plate.item.length_m, plate.item.width_m)
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
        k = air.level(max(air_z_m, float(air.z_edges[0])))
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
        )

    def build(self) -> Patches:
        columns = [np.concatenate(parts) for parts in zip(*self._groups, strict=True)]
        node, cell, area, centre, normal, half_u, half_v, orientation, length, *optics = columns
        return Patches(
            node.astype(np.int64),
            cell.astype(np.int64),
            area,
            centre,
            normal,
            half_u,
            half_v,
            orientation.astype(np.int64),
            length,
            *optics,
        )


def sub_samples(patches: Patches, spacing_m: float) -> tuple[Floats, Floats, Ints]:
    """Points over all patches no further apart than ``spacing_m``.

    Returns points (n, 3) just off the surface, normals (n, 3), and the patch index (n,) of each;
    points of one patch have equal weight.
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
