"""The box cut into air cells, floor cells, wall strips and plates, with their node numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.grids import AirGrid, Plate, SheetGrid, overlap
from noonshade.core.heat.patches import Patches, PatchList
from noonshade.core.plan import Background, Box, Face, Furnishing, Hide, Plan, Slab, Wall

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

AIR_CELL_M = 0.1
FLOOR_CELL_M = 0.05
PLATE_CELL_M = 0.025
# Roofs of hides are not basked on by plan, so they are drawn coarser.
ROOF_CELLS = 2.0
# Depths of substrate nodes as shares of the whole: fine near the surface, where the gradient is.
SUBSTRATE_LEVELS = (0.0, 0.3, 1.0)
BARE_FLOOR_M = 0.004  # thinner substrate than this is treated as one layer with the panel


def plates_of(furnishings: tuple[Furnishing, ...]) -> tuple[Slab | Hide, ...]:
    """The furnishings that have a flat top the heat model follows.

    Branches, leaves and backgrounds only take the beams' heat from what lies behind them; it joins
    the diffuse pool.
    """
    return tuple(f for f in furnishings if isinstance(f, Slab | Hide))


@dataclass(frozen=True, slots=True)
class Resolution:
    """Cell sizes in metres; ``refined`` divides them all.

    Very large boxes get larger cells: at most ``most`` along any side, and no more than
    ``plate_cells`` on all plates together, so that any plan is answered in seconds.
    """

    air_m: float = AIR_CELL_M
    floor_m: float = FLOOR_CELL_M
    plate_m: float = PLATE_CELL_M
    most: float = 32
    plate_cells: float = 1200

    def refined(self, times: float) -> Resolution:
        """The same cells, each ``times`` smaller."""
        return Resolution(
            self.air_m / times,
            self.floor_m / times,
            self.plate_m / times,
            self.most * times,
            self.plate_cells * times**2,
        )

    def plate_cell_m(self, furnishings: tuple[Furnishing, ...]) -> float:
        """Cell size of plates, larger where there are many or large ones."""
        cells = sum(f.length_m * f.width_m for f in plates_of(furnishings)) / self.plate_m**2
        return self.plate_m * max(1.0, math.sqrt(cells / self.plate_cells))


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
    sheets: dict[Face, Wall]  # what the closed part of each face is made of
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
        np.linspace(0.0, box.length_m, _count(box.length_m, resolution.air_m, 4, resolution.most) + 1),
        np.linspace(
            ground,
            box.height_m,
            _count(box.height_m - ground, resolution.air_m * 0.75, 4, resolution.most) + 1,
        ),
        box.depth_m,
    )
    size = air.size
    depths = (0.0,) if ground < BARE_FLOOR_M else tuple(s * ground for s in SUBSTRATE_LEVELS)
    fx = np.linspace(0.0, box.length_m, _count(box.length_m, resolution.floor_m, 4, resolution.most) + 1)
    fy = np.linspace(0.0, box.depth_m, _count(box.depth_m, resolution.floor_m, 4, resolution.most) + 1)
    floor = []
    for _ in depths:
        floor.append(SheetGrid(fx, fy, size))
        size += (fx.size - 1) * (fy.size - 1)
    plates = []
    plate_cell_m = resolution.plate_cell_m(plan.furnishings)
    for item in plates_of(plan.furnishings):
        plate = _plate(item, ground, size, plate_cell_m, resolution.most)
        plates.append(plate)
        size += 2 * plate.top.nx * plate.top.ny
    patches = PatchList()
    lining = {f.side: f.material for f in plan.furnishings if isinstance(f, Background)}
    wall_nodes: dict[Face, Ints] = {}
    wall_areas: dict[Face, Floats] = {}
    wall_cells: dict[Face, Ints] = {}
    sheets: dict[Face, Wall] = {}
    for face, wall in box.walls.items():
        if face == "floor":
            continue
        cells, areas = _wall_strips(face, air)
        for part, share in _face_parts(box, face, wall, air):
            if part.material is None:
                patches.wall(face, part, air, None, cells, areas * share, box.height_m)
                continue
            wall_cells[face], wall_areas[face], sheets[face] = cells, areas * share, part
            if face in lining:
                # What the inside of the box sees of it is its lining.
                part = replace(part, material=lining[face])
            wall_nodes[face] = size + np.arange(cells.size)
            size += cells.size
            patches.wall(face, part, air, wall_nodes[face], cells, wall_areas[face], box.height_m)
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
        sheets,
        star,
        size,
        patches.build(),
    )


def _count(extent: float, cell: float, least: int, most: float) -> int:
    return int(np.clip(round(extent / cell), least, most))


def _plate(item: Slab | Hide, ground: float, start: int, cell_m: float, most: float) -> Plate:
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
    xe = np.linspace(x0, x1, _count(item.length_m, cell, 3, most) + 1)
    ye = np.linspace(y0, y1, _count(item.width_m, cell, 3, most) + 1)
    top = SheetGrid(xe, ye, start)
    under = SheetGrid(xe, ye, start + top.nx * top.ny)
    return Plate(item, item.material, thickness, bottom, top, under, support, height)


def _face_parts(box: Box, face: Face, wall: Wall, air: AirGrid) -> list[tuple[Wall, Floats]]:
    """Parts of a face with the share each has of every strip: one, but for a lid with insets.

    All closed parts of a lid are taken to be of the first one's sheet.
    """
    strips = air.nx if face == "top" else 1
    if face != "top" or not box.insets:
        return [(wall, np.ones(strips))]
    parts: list[tuple[Wall, Floats]] = []
    left = np.ones(strips)
    for inset in box.insets:
        share = overlap(air.x_edges, inset.x0_m, inset.x1_m) / air.dx
        share *= (inset.y1_m - inset.y0_m) / box.depth_m
        left = left - share
        parts.append((inset.wall, share))
    parts.insert(0, (wall, np.maximum(left, 0.0)))
    sheet = box.lid_sheet
    opened = [(part, share) for part, share in parts if part.material is None]
    if sheet is None:
        return opened
    closed = np.sum([share for part, share in parts if part.material is not None], axis=0)
    # A strip that is all window keeps a trace of sheet, so that its node stays tied to something.
    return [(sheet, np.maximum(closed, 1e-6)), *opened]


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
