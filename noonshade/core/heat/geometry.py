"""The enclosure cut into air cells, floor cells, wall strips, plates and rods, with their node numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.faces import SheetStrips, face_parts, sheet_strips
from noonshade.core.heat.grids import AirGrid, Plate, SheetGrid
from noonshade.core.heat.patches import PatchList, SurfacePatches
from noonshade.core.heat.rods import Rod, rod_of
from noonshade.core.plan import Background, Branch, Face, Furnishing, Hide, Plan, Slab, Substrate

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

AIR_CELL_M = 0.1
FLOOR_CELL_M = 0.05
PLATE_CELL_M = 0.025
# Roofs of hides are not basked on by plan, so they are drawn coarser.
ROOF_CELLS = 2.0
# Branches are cut along their axis only.
PIECE_CELLS = 4.0
# Depths of substrate nodes at steady state, as shares of the whole: heat passes evenly.
SUBSTRATE_LEVELS = (0.0, 0.3, 1.0)
# In ground deeper than this they are depths, m: what is warmed at one place spreads sideways below it.
DEEP_GROUND_M = 0.15
DEEP_LEVELS_M = (0.0, 0.03, 0.08, 0.16, 0.3)
# Nodes lie where one layer ends; one that is nearer to that than this share of its depth moves there.
NEAR_LAYER = 0.2
# Depths of substrate nodes through a day, m: its wave dies away within some cm, most of it in the first.
DAILY_DEPTHS_M = (0.0, 0.01, 0.02, 0.04, 0.08, 0.15, 0.30)
# A depth nearer to the bottom than this share of it is left out.
NEAR_BOTTOM = 0.25
BARE_FLOOR_M = 0.004  # thinner substrate than this is treated as one layer with the panel


def plates_of(furnishings: tuple[Furnishing, ...]) -> tuple[Slab | Hide, ...]:
    """The furnishings that have a flat top the heat model follows.

    Leaves and backgrounds only take the beams' heat from what lies behind them; it joins the diffuse pool.

    Parameters
    ----------
    furnishings : tuple[Furnishing, ...]
        The furnishings.

    Returns
    -------
    tuple[Slab | Hide, ...]
        The furnishings in the order of the plan.
    """
    return tuple(f for f in furnishings if isinstance(f, Slab | Hide))


@dataclass(frozen=True, slots=True)
class Resolution:
    """Cell sizes in metres; ``refined`` divides them all.

    Very large enclosures get larger cells: at most ``most`` along any side, and no more than
    ``plate_cells`` on all plates together, so that any plan is answered in seconds. ``ground_m`` are
    depths of nodes in the ground, as far as it is that deep; without them they are shares of it.
    """

    air_m: float = AIR_CELL_M
    floor_m: float = FLOOR_CELL_M
    plate_m: float = PLATE_CELL_M
    most: float = 32
    plate_cells: float = 1200
    ground_m: tuple[float, ...] | None = None

    def refined(self, times: float) -> Resolution:
        """The same cells, each ``times`` smaller.

        Parameters
        ----------
        times : float
            Factor.

        Returns
        -------
        Resolution
            The finer resolution.
        """
        return Resolution(
            self.air_m / times,
            self.floor_m / times,
            self.plate_m / times,
            self.most * times,
            self.plate_cells * times**2,
            self.ground_m,
        )

    def ground_depths_m(self, ground: Substrate) -> tuple[float, ...]:
        """Depths of the nodes in the ground: as usual for its depth, and where layers end.

        Parameters
        ----------
        ground : Substrate
            The ground.

        Returns
        -------
        tuple of float
            Depths below the surface, m: the first 0, the last that of the ground.
        """
        whole = ground.depth_m
        if whole < BARE_FLOOR_M:
            return (0.0,)
        clear = (1.0 - NEAR_BOTTOM) * whole
        given = self.ground_m
        if given is None and whole <= DEEP_GROUND_M:
            inner = [share * whole for share in SUBSTRATE_LEVELS[1:-1]]
        else:
            inner = [d for d in given or DEEP_LEVELS_M if 0.0 < d < clear]
        below = np.cumsum([layer.depth_m for layer in ground.layers])[:-1]
        ends = [float(end) for end in below if BARE_FLOOR_M < end < whole - BARE_FLOOR_M]
        inner = [d for d in inner if all(abs(d - end) > NEAR_LAYER * d for end in ends)]
        return (0.0, *sorted({*inner, *ends}), whole)

    def plate_cell_m(self, furnishings: tuple[Furnishing, ...]) -> float:
        """Cell size of plates, larger where there are many or large ones.

        Parameters
        ----------
        furnishings : tuple[Furnishing, ...]
            The furnishings.

        Returns
        -------
        float
            The cell size, m.
        """
        cells = sum(f.length_m * f.width_m for f in plates_of(furnishings)) / self.plate_m**2
        return self.plate_m * max(1.0, math.sqrt(cells / self.plate_cells))


# For the night, of which only means are taken, and for plans that differ little from one that has been
# solved finely.
COARSE = Resolution(air_m=0.1, floor_m=0.1, plate_m=0.05, most=20, plate_cells=300)
# For the day, which is solved some thousand times.
DAILY = replace(COARSE, ground_m=DAILY_DEPTHS_M)


@dataclass(frozen=True, slots=True)
class EnclosureGrid:
    """Everything the network is built on."""

    air: AirGrid
    floor: tuple[SheetGrid, ...]  # substrate levels from the surface down
    floor_depths_m: tuple[float, ...]
    plates: tuple[Plate, ...]
    rods: tuple[Rod, ...]
    sheets: tuple[SheetStrips, ...]
    star: int
    size: int
    patches: SurfacePatches

    def wall_nodes(self, face: Face) -> Ints:
        """Nodes of all closed parts of a face.

        Parameters
        ----------
        face : Face
            A face of the enclosure.

        Returns
        -------
        (k,) int
            The nodes, none where the face is open or mesh.
        """
        none = np.zeros(0, dtype=np.int64)
        return np.concatenate([none, *(s.node for s in self.sheets if s.face == face)])

    def plate_of(self, item_id: str) -> Plate | None:
        """The plate of a furnishing, by its id.

        Parameters
        ----------
        item_id : str
            Id of the item.

        Returns
        -------
        Plate | None
            The plate, or None if the furnishing has none.
        """
        return next((p for p in self.plates if p.item.id == item_id), None)


def build_grid(plan: Plan, resolution: Resolution | None = None) -> EnclosureGrid:
    """Cut a plan into cells, number the nodes and list the surface patches.

    Parameters
    ----------
    plan : Plan
        The plan.
    resolution : Resolution | None
        How fine the grid is, None for the usual one.

    Returns
    -------
    EnclosureGrid
        Cells, nodes, patches and openings of the enclosure.
    """
    resolution = resolution or Resolution()
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    air = AirGrid(
        np.linspace(
            0.0, enclosure.length_m, _count(enclosure.length_m, resolution.air_m, 4, resolution.most) + 1
        ),
        np.linspace(
            ground,
            enclosure.height_m,
            _count(enclosure.height_m - ground, resolution.air_m * 0.75, 4, resolution.most) + 1,
        ),
        enclosure.depth_m,
    )
    size = air.size
    depths = resolution.ground_depths_m(plan.substrate)
    fx = np.linspace(
        0.0, enclosure.length_m, _count(enclosure.length_m, resolution.floor_m, 4, resolution.most) + 1
    )
    fy = np.linspace(
        0.0, enclosure.depth_m, _count(enclosure.depth_m, resolution.floor_m, 4, resolution.most) + 1
    )
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
    rods = []
    for branch in (f for f in plan.furnishings if isinstance(f, Branch)):
        rod = rod_of(branch, size, PIECE_CELLS * resolution.plate_m, resolution.most)
        rods.append(rod)
        size += rod.nodes.size
    patches = PatchList()
    lining: dict[Face, Background] = {f.side: f for f in plan.furnishings if isinstance(f, Background)}
    sheets: list[SheetStrips] = []
    for face in enclosure.walls:
        if face == "floor":
            continue
        for number, part in enumerate(face_parts(enclosure, face, air)):
            if part.wall.material is None:
                patches.wall(face, part, air, None, enclosure.height_m)
                continue
            lined = lining.get(face)
            found = sheet_strips(face, number, part, lined, air, size)
            size += found.node.size
            sheets.append(found)
            # What the inside of the enclosure sees of it is its lining.
            material = part.wall.material if lined is None else lined.material
            seen = part._replace(wall=replace(part.wall, material=material))
            patches.wall(face, seen, air, found.node, enclosure.height_m)
    star = size
    size += 1
    supports = [p.support for p in plates if p.support is not None]
    patches.floor(plan, air, floor[0], supports)
    for plate in plates:
        patches.plate(air, plate)
    for rod in rods:
        patches.rod(air, rod)
    return EnclosureGrid(
        air,
        tuple(floor),
        depths,
        tuple(plates),
        tuple(rods),
        tuple(s for s in sheets if s.node.size),
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
