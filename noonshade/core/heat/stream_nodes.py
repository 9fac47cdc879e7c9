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
from noonshade.core.heat.streams import MOST_CARRIED, Streams, rising_plumes, wall_films
from noonshade.core.plan import Face

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Keeps the node of a stream that rests as warm as the air beside it, W/K; one that may get a heater's watts
# while it rests passes them on with more.
_RESTING, _RESTING_SOURCE = 1e-6, 1.0
# A stream comes no closer to the surface that feeds it than this share of their difference.
_LEAST_DIFFERENCE = 0.15
# One that begins in a cooler layer than the surface's own air is at most so many times as far from it.
# Estimate: keeps a round from overshooting.
_MOST_DIFFERENCE = 3.0
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
        self.wall_nodes = start + np.arange(self.strip_cells.size).reshape(self.strip_cells.shape)
        start += self.strip_cells.size
        count = self.column.size
        self.plume_nodes = start + np.arange(count * nz).reshape(count, nz)
        self.size = self.strip_cells.size + count * nz

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
        self.strip_cells: Ints = np.concatenate([empty.astype(np.int64), *cells])
        self.strip_area: Floats = np.concatenate([empty, *areas])
        self.width_m: Floats = np.concatenate([np.zeros(0), *widths])
        # A strip may be part sheet, part window or pane: each has a node, one film runs along all.
        self.part: Ints = np.concatenate([none, *(s.node for s in sheets)])
        self.of_strip: Ints = np.concatenate([none, *at])
        part_area = np.concatenate([np.zeros(0), *(s.area_m2 for s in sheets)])
        self.part_share: Floats = part_area / self.strip_area.ravel()[self.of_strip]
        patches = grid.patches
        closed = patches.node >= 0
        self.node, self.cell = patches.node[closed], patches.cell[closed]
        self.higher, self.higher_share = patches.higher[closed], patches.higher_share[closed]
        self.is_strip = np.isin(self.node, self.part)

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
        plumes, driving = self._connect_plumes(net, temperature, film_w_k, emitted_w, films_w)
        self._rising, self._power_w = plumes, driving.power_w
        air = self.grid.air
        taken, given = np.zeros(air.size), np.zeros(air.size)
        np.add.at(taken, self.strip_cells, walls.taken)
        np.add.at(given, self.strip_cells, walls.given)
        np.add.at(taken, self.plume_cells, plumes.taken)
        inside = plumes.given.copy()
        opened = self.lid_open[self.column]
        inside[:, -1] *= 1.0 - opened
        np.add.at(given, self.plume_cells, inside)
        # What plumes carry out comes in again wherever the lid is open.
        total = float(opened @ plumes.given[:, -1])
        out = total * self.lid_open / max(float(np.sum(self.lid_open)), 1e-12)
        shape = (air.nx, air.nz)
        return CellFlows(taken.reshape(shape), given.reshape(shape), out), driving

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
        cells, nodes, part, at = self.strip_cells, self.wall_nodes, self.part, self.of_strip
        air = temperature[cells]
        warmer = temperature[part] - air.ravel()[at]
        wall = air + np.bincount(at, self.part_share * warmer, air.size).reshape(air.shape)
        dz = np.diff(self.grid.air.z_edges)
        found, g = wall_films(air, wall, self.strip_area, self.width_m, dz)
        flow = found.taken.copy()
        flow[:, :-1] += np.maximum(-found.risen, 0.0)
        flow[:, 1:] += np.maximum(found.risen, 0.0)
        carried = np.minimum(g, MOST_CARRIED * AIR_VOLUMETRIC_J_M3K * flow)
        film, into = self.part_share * g.ravel()[at], self.part_share * carried.ravel()[at]
        net.link(part, cells.ravel()[at], film - into)
        stream = found.excess_c.ravel()[at]
        net.link(part, nodes.ravel()[at], _fed(into, warmer, warmer - stream))
        self._add_flows(net, nodes, cells, found, _RESTING)
        return found, float(np.sum(film * np.abs(warmer)))

    def _connect_plumes(
        self,
        net: NetworkBuilder,
        temperature: Floats,
        film: Floats,
        emitted_w: Floats,
        films_w: float,
    ) -> tuple[Streams, Driving]:
        fed = self.is_fed
        node, cell, slot, g = self.node[fed], self.cell[fed], self.slot_of[fed], film[fed]
        higher, upper = self.higher[fed], self.higher_share[fed]
        # What lies between the middles of two levels is between their temperatures.
        air = (1.0 - upper) * temperature[cell] + upper * temperature[higher]
        warmer = np.maximum(temperature[node] - air, 0.0)
        count = self.column.size
        power: Floats = np.bincount(slot, weights=g * warmer, minlength=count).astype(np.float64)
        size, share, driving = self.size_m.copy(), np.ones(count), power.copy()
        self._merge_ground(slot, g * warmer, power, size, share, driving)
        for slots, shares, watts in zip(self.emitter_slots, self.emitter_shares, emitted_w, strict=True):
            driving[slots], power[slots], share[slots] = watts, watts * shares, shares
        around = temperature[self.plume_cells]
        alone = rising_plumes(around, self.grid.air.z_edges, self.start_m, size, driving)
        scale = share[:, None]
        found = Streams(alone.taken * scale, alone.given * scale, alone.risen * scale, alone.excess_c)
        # What the foot of each plume can carry, against the films that feed it.
        at_foot = np.arange(count), self.level
        capacity = AIR_VOLUMETRIC_J_M3K * found.taken[at_foot]
        feeding = np.bincount(slot, weights=np.where(warmer > 0.0, g, 0.0), minlength=count)
        most = np.minimum(1.0, MOST_CARRIED * capacity / np.maximum(feeding, 1e-12))
        carried = np.where(warmer > 0.0, g * most[slot], 0.0)
        net.link(node, cell, (1.0 - upper) * (g - carried))
        between = upper > 0.0
        net.link(node[between], higher[between], (upper * (g - carried))[between])
        into = self.plume_nodes[slot, self.level[slot]]
        # It carries that share of the heat that drives it.
        stream = temperature[self.plume_cells[at_foot]] + most * found.excess_c[at_foot]
        net.link(node, into, _fed(carried, warmer, temperature[node] - stream[slot]))
        resting = np.full((count, self.nz), _RESTING)
        idle = np.flatnonzero(driving[self.first_emitter :] <= 0.0) + self.first_emitter
        resting[idle, self.level[idle]] = _RESTING_SOURCE
        self._add_flows(net, self.plume_nodes, self.plume_cells, found, resting, self.lid_open[self.column])
        top = alone.excess_c[:, -1] * AIR_VOLUMETRIC_J_M3K * alone.given[:, -1]
        return found, Driving(power, np.maximum(top, 0.0), share, films_w)

    def _merge_ground(
        self, slot: Ints, watts: Floats, power: Floats, size: Floats, share: Floats, driving: Floats
    ) -> None:
        """One plume above all that is warm of the ground, risen in the columns that feed it."""
        ground = slice(self.ground, self.ground + self.grid.air.nx)
        total = float(np.sum(power[ground]))
        if total <= 0.0:
            return
        mine = (slot >= ground.start) & (slot < ground.stop)
        cell = self.grid.floor[0].dx * self.grid.floor[0].dy
        # Area that would give the same heat if all of it were equally warm.
        area = total**2 / float(np.sum(watts[mine] ** 2)) * cell
        size[ground] = np.sqrt(area)
        share[ground] = power[ground] / total
        driving[ground] = total

    def _add_flows(
        self,
        net: NetworkBuilder,
        nodes: Ints,
        cells: Ints,
        found: Streams,
        resting: Floats | float,
        lid_open: Floats | None = None,
    ) -> None:
        rho_c = AIR_VOLUMETRIC_J_M3K
        net.link(nodes, cells, np.broadcast_to(resting, nodes.shape))
        net.flow(cells, nodes, rho_c * found.taken)
        given = rho_c * found.given
        if lid_open is not None:
            net.outflow(nodes[:, -1], lid_open * given[:, -1])
            given = given.copy()
            given[:, -1] *= 1.0 - lid_open
        net.flow(nodes, cells, given)
        net.flow(nodes[:, :-1], nodes[:, 1:], rho_c * np.maximum(found.risen, 0.0))
        net.flow(nodes[:, 1:], nodes[:, :-1], rho_c * np.maximum(-found.risen, 0.0))


def _fed(carried_w_k: Floats, difference_c: Floats, to_stream_c: Floats) -> Floats:
    """Conductance from a surface to its stream that passes what the film passes to the air around it.

    ``difference_c`` surface less surrounding air, ``to_stream_c`` surface less stream.
    """
    safe = np.where(np.abs(difference_c) > 1e-9, difference_c, 1.0)
    left = np.clip(to_stream_c / safe, _LEAST_DIFFERENCE, _MOST_DIFFERENCE)
    fed: Floats = carried_w_k / left
    return fed
