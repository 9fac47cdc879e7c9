"""Plumes and wall films as nodes of the network: who feeds them, what they carry, where they give it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K
from noonshade.core.heat.faces import strips
from noonshade.core.heat.films import FACING_UP
from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.network import NetworkBuilder
from noonshade.core.heat.streams import PlumeSources, Streams, WallParts, fed_films, fed_plumes
from noonshade.core.plan import Face

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Keeps the node of a stream that rests as warm as the air beside it, W/K; one that may get a heater's watts
# while it rests passes them on with more.
_RESTING, _RESTING_SOURCE = 1e-6, 1.0
# A plume is drawn from this much heat on, W; a little above what is warm it is this much narrower, and a
# plume widens by 6/5 of its entrainment of 0.1 (Morton, Taylor & Turner 1956). The first two are estimates.
LEAST_SEEN_W, NECK, WIDENING = 1.0, 0.6, 0.12
SIDES: tuple[Face, ...] = ("left", "right", "front", "back")


@dataclass(frozen=True, slots=True)
class Emitted:
    """Heat given to the air at a point by a lamp or heater: in columns, with the share of each."""

    columns: tuple[tuple[int, float], ...]
    y_m: float
    z_m: float
    size_m: float


@dataclass(frozen=True, slots=True)
class Plume:
    """A plume as it is seen: its axis, and by level (k,) its height and radius, m, and temperature, °C."""

    x_m: float
    y_m: float
    z_m: Floats
    radius_m: Floats
    air_c: Floats
    power_w: float


@dataclass(frozen=True, slots=True)
class Driving:
    """What drives plumes (m,): the heat each takes up, and what it brings under the lid were it alone, W.

    ``share`` is the part of each, where several columns share one plume; ``films_w`` the heat that walls
    take from the air or give to it.
    """

    power_w: Floats
    under_lid_w: Floats
    share: Floats
    films_w: float


@dataclass(frozen=True, slots=True)
class CellFlows:
    """What streams take from and give to air cells (nx, nz), and lose through an open lid (nx,), m³/s."""

    taken: Floats
    given: Floats
    out: Floats


class StreamNodes:
    """All streams of an enclosure, numbered after its other nodes.

    Parameters
    ----------
    grid : EnclosureGrid
    start : int
        Number of the first node.
    emitted : tuple of Emitted
        Lamps and heaters in the air.
    lid_open : (nx,) float64
        Share of the lid above each column that is open, 0 to 1.
    """

    def __init__(
        self, grid: EnclosureGrid, start: int, emitted: tuple[Emitted, ...], lid_open: Floats
    ) -> None:
        self.grid, self.lid_open = grid, lid_open
        self.nz = nz = grid.air.nz
        self._find_walls()
        self._find_warm_things()
        self._find_emitters(emitted)
        shape = self.walls.cell.shape
        self.wall_nodes = start + np.arange(self.walls.cell.size).reshape(shape)
        start += self.walls.cell.size
        count = self.column.size
        self.plume_nodes = start + np.arange(count * nz).reshape(count, nz)
        self.size = self.walls.cell.size + count * nz
        # What each round links again.
        self._dz_m = np.diff(grid.air.z_edges)
        self._part_cells = self.walls.cell.ravel()[self.walls.strip]
        self._part_streams = self.wall_nodes.ravel()[self.walls.strip]
        self._resting_films = np.full(shape, _RESTING)
        self._films_carry = _Carrying(self.wall_nodes, self.walls.cell)
        self._plumes_carry = _Carrying(self.plume_nodes, self.plume_cells)
        self._beside = np.concatenate([self.walls.cell, self.plume_cells]).ravel()
        self._opened = lid_open[self.column]
        self.plumes_from = self._sources()
        self._between = np.flatnonzero(self.plumes_from.upper > 0.0)
        slot = self.plumes_from.slot
        self._fed_streams = self.plume_nodes[slot, self.level[slot]]

    # -- what there is ---------------------------------------------------------------------------

    def _find_walls(self) -> None:
        """Strips of the closed sides as stacks (s, nz) with the cells beside them, and their parts (m,)."""
        air, grid = self.grid.air, self.grid
        cells, areas, widths = [], [], []
        at, first = [], 0
        sheets = [s for face in SIDES for s in grid.sheets if s.face == face]
        for face in SIDES:
            beside = strips(face, air)[0]
            area = np.zeros(beside.size)
            mine = [s for s in sheets if s.face == face]
            for sheet in mine:
                area[sheet.strip] += sheet.area_m2
                at.append(first + sheet.strip)
            if mine:
                cells.append(beside.reshape(-1, air.nz))
                areas.append(area.reshape(-1, air.nz))
                width = air.depth_m if face in ("left", "right") else air.dx
                widths.append(np.full(len(cells[-1]), width))
                first += beside.size
        none, empty = np.zeros(0, dtype=np.int64), np.zeros((0, air.nz))
        strip_area = np.concatenate([empty, *areas])
        strip = np.concatenate([none, *at])
        part_area = np.concatenate([np.zeros(0), *(s.area_m2 for s in sheets)])
        # A strip may be part sheet, part window or pane: each has a node, one film runs along all.
        self.walls = WallParts(
            np.concatenate([empty.astype(np.int64), *cells]),
            strip_area,
            np.concatenate([np.zeros(0), *widths]),
            np.concatenate([none, *(s.node for s in sheets)]),
            strip,
            part_area / strip_area.ravel()[strip],
        )
        patches = grid.patches
        closed = patches.node >= 0
        self.node, self.cell = patches.node[closed], patches.cell[closed]
        self.higher, self.higher_share = patches.higher[closed], patches.higher_share[closed]
        self.is_strip = np.isin(self.node, self.walls.node)

    def _find_warm_things(self) -> None:
        """Plumes above slabs, roofs, branches and each column of the ground: which patches feed which."""
        grid, air = self.grid, self.grid.air
        closed = grid.patches.node >= 0
        up = grid.patches.orientation[closed] == FACING_UP
        self.slot_of = np.full(self.node.size, -1)
        columns: list[int] = []
        places: list[float] = []
        depths: list[float] = []
        starts: list[float] = []
        sizes: list[float] = []
        for plate in grid.plates:
            mine = up & np.isin(self.node, plate.top.nodes)
            self.slot_of[mine] = len(columns)
            depths.append(plate.item.y_m)
            columns.append(air.column(plate.item.x_m))
            places.append(plate.item.x_m)
            starts.append(plate.bottom_m + plate.thickness_m)
            sizes.append(float(np.sqrt(plate.item.length_m * plate.item.width_m)))
        for rod in grid.rods:
            mine = (self.node >= rod.start) & (self.node < rod.start + rod.nodes.size)
            self.slot_of[mine] = len(columns)
            x, y, z = np.mean(rod.centres, axis=0)
            depths.append(float(y))
            columns.append(air.column(float(x)))
            places.append(float(x))
            starts.append(float(z))
            sizes.append(rod.item.diameter_m)
        self.ground = len(columns)
        mine = up & np.isin(self.node, grid.floor[0].nodes)
        self.slot_of[mine] = self.ground + self.cell[mine] // air.nz
        columns += list(range(air.nx))
        places += air.x.tolist()
        starts += [float(air.z_edges[0])] * air.nx
        sizes += [0.0] * air.nx
        depths += [air.depth_m / 2] * air.nx
        self.x_m, self.y_m = np.array(places), np.array(depths)
        self.column = np.array(columns, dtype=np.int64)
        self.start_m, self.size_m = np.array(starts), np.array(sizes)
        self.is_fed = self.slot_of >= 0

    def _find_emitters(self, emitted: tuple[Emitted, ...]) -> None:
        air = self.grid.air
        self.emitter_slots: list[Ints] = []
        self.emitter_shares: list[Floats] = []
        first = self.column.size
        columns: list[int] = []
        depths: list[float] = []
        starts: list[float] = []
        sizes: list[float] = []
        for one in emitted:
            self.emitter_slots.append(first + len(columns) + np.arange(len(one.columns)))
            self.emitter_shares.append(np.array([share for _, share in one.columns]))
            for column, _ in one.columns:
                columns.append(column)
                starts.append(min(max(one.z_m, float(air.z_edges[0])), float(air.z_edges[-1])))
                sizes.append(one.size_m)
                depths.append(one.y_m)
        self.first_emitter = first
        self.column = np.concatenate([self.column, np.array(columns, dtype=np.int64)])
        self.x_m = np.concatenate([self.x_m, air.x[np.array(columns, dtype=np.int64)]])
        self.y_m = np.concatenate([self.y_m, depths])
        self.start_m = np.concatenate([self.start_m, starts])
        self.size_m = np.concatenate([self.size_m, sizes])
        self.level = np.array([air.level(z) for z in self.start_m], dtype=np.int64)
        self.plume_cells = self.column[:, None] * air.nz + np.arange(air.nz)[None, :]

    def _sources(self) -> PlumeSources:
        fed, floor = self.is_fed, self.grid.floor[0]
        none, empty = np.zeros(0, dtype=np.int64), np.zeros(0)
        return PlumeSources(
            self.node[fed],
            self.cell[fed],
            self.higher[fed],
            self.higher_share[fed],
            self.slot_of[fed],
            self.column,
            self.level,
            self.start_m,
            self.size_m,
            self.ground,
            self.first_emitter,
            floor.dx * floor.dy,
            np.concatenate([none, *(np.full(s.size, i) for i, s in enumerate(self.emitter_slots))]),
            np.concatenate([empty, *self.emitter_shares]),
        )

    def foot(self, emitter: int) -> tuple[Ints, Floats]:
        """Nodes an emitter's heat goes into, and the share of each.

        Parameters
        ----------
        emitter : int
            Which of ``emitted``.

        Returns
        -------
        tuple of (k,) int and (k,) float64
            Nodes and shares.
        """
        slots = self.emitter_slots[emitter]
        return self.plume_nodes[slots, self.level[slots]], self.emitter_shares[emitter]

    # -- what depends on the moment --------------------------------------------------------------

    def connect(
        self, net: NetworkBuilder, temperature: Floats, film_w_k: Floats, emitted_w: Floats
    ) -> tuple[CellFlows, Driving]:
        """Add all streams to a network.

        Parameters
        ----------
        net : NetworkBuilder
            The network to add them to.
        temperature : (n,) float64
            Of the last round, °C.
        film_w_k : (p,) float64
            Film coefficient times area of each closed patch, W/K.
        emitted_w : (e,) float64
            Heat each emitter gives to the air, W.

        Returns
        -------
        tuple of CellFlows and Driving
            What the air around them loses and gains, and what drives the plumes.
        """
        walls, films_w = self._connect_walls(net, temperature)
        plumes, driving, lost = self._connect_plumes(net, temperature, film_w_k, emitted_w, films_w)
        self._rising, self._power_w = plumes, driving.power_w
        air = self.grid.air

        def beside(of_walls: Floats, of_plumes: Floats) -> Floats:
            both = np.concatenate([of_walls, of_plumes]).ravel()
            return np.bincount(self._beside, both, air.size).astype(np.float64).reshape(air.nx, air.nz)

        # What plumes carry out comes in again wherever the lid is open.
        out = lost * self.lid_open / max(float(np.sum(self.lid_open)), 1e-12)
        taken, given = beside(walls.taken, plumes.taken), beside(walls.given, plumes.given)
        return CellFlows(taken, given, out), driving

    def plumes(self, temperature: Floats) -> tuple[Plume, ...]:
        """Plumes of the last round that carry enough to be seen.

        Parameters
        ----------
        temperature : (n,) float64
            Of all nodes, °C.

        Returns
        -------
        tuple of Plume
            From the foot of each to where it comes to rest.
        """
        air = self.grid.air
        found = []
        for i in np.flatnonzero(self._power_w >= LEAST_SEEN_W):
            first, risen = int(self.level[i]), self._rising.risen[i]
            last = first
            while last < self.nz - 1 and risen[last] > 0.0:
                last += 1
            levels = np.arange(first, last + 1)
            foot = float(self.start_m[i])
            z = np.concatenate([[foot], np.maximum(air.z[levels], foot), air.z_edges[last + 1 : last + 2]])
            stream = temperature[self.plume_nodes[i, levels]]
            half = 0.5 * float(max(self.size_m[i], air.dx if i < self.first_emitter else 0.0))
            found.append(
                Plume(
                    float(self.x_m[i]),
                    float(self.y_m[i]),
                    z,
                    half * NECK + WIDENING * (z - foot),
                    np.concatenate([stream[:1], stream, stream[-1:]]),
                    float(self._power_w[i]),
                )
            )
        return tuple(found)

    def _connect_walls(self, net: NetworkBuilder, temperature: Floats) -> tuple[Streams, float]:
        found = fed_films(self.walls, temperature, self._dz_m)
        net.link(self.walls.node, self._part_cells, found.to_air)
        net.link(self.walls.node, self._part_streams, found.to_stream)
        flows = found.flows
        self._films_carry.connect(net, flows, flows.given, self._resting_films)
        return flows, found.passed_w

    def _connect_plumes(
        self,
        net: NetworkBuilder,
        temperature: Floats,
        film: Floats,
        emitted_w: Floats,
        films_w: float,
    ) -> tuple[Streams, Driving, float]:
        """Add plumes; what they give inside, what drives them, and what leaves through the lid, m³/s."""
        fed, z_edges = self.plumes_from, self.grid.air.z_edges
        found = fed_plumes(fed, temperature, film[self.is_fed], emitted_w, z_edges)
        net.link(fed.node, fed.cell, found.to_air)
        between = self._between
        net.link(fed.node[between], fed.higher[between], found.to_higher[between])
        net.link(fed.node, self._fed_streams, found.to_stream)
        resting = np.full(self.plume_nodes.shape, _RESTING)
        idle = np.flatnonzero(found.driving_w[self.first_emitter :] <= 0.0) + self.first_emitter
        resting[idle, self.level[idle]] = _RESTING_SOURCE
        flows = found.flows
        out = self._opened * flows.given[:, -1]
        inside = flows.given.copy()
        inside[:, -1] -= out
        net.outflow(self.plume_nodes[:, -1], AIR_VOLUMETRIC_J_M3K * out)
        self._plumes_carry.connect(net, flows, inside, resting)
        driving = Driving(found.power_w, found.under_lid_w, found.share, films_w)
        return flows._replace(given=inside), driving, float(np.sum(out))


class _Carrying:
    """What streams with nodes (s, nz) take from cells beside them, carry and give back, link by link."""

    def __init__(self, nodes: Ints, cells: Ints) -> None:
        self._nodes, self._cells = nodes.ravel(), cells.ravel()
        low, high = nodes[:, :-1].ravel(), nodes[:, 1:].ravel()
        self._from = np.concatenate([self._cells, self._nodes, low, high])
        self._to = np.concatenate([self._nodes, self._cells, high, low])

    def connect(self, net: NetworkBuilder, found: Streams, inside: Floats, resting: Floats) -> None:
        """Add flows; ``inside`` (s, nz) are those of ``found.given`` that stay inside, m³/s."""
        up = np.maximum(found.risen, 0.0).ravel()
        down = np.maximum(-found.risen, 0.0).ravel()
        flow = np.concatenate([found.taken.ravel(), inside.ravel(), up, down])
        net.link(self._nodes, self._cells, resting.ravel())
        net.flow(self._from, self._to, AIR_VOLUMETRIC_J_M3K * flow)
