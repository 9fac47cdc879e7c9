"""An enclosure as a thermal network: constant links, and those that depend on its temperatures."""

from __future__ import annotations

import itertools
from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.built import built_parts, unit_fixture
from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K
from noonshade.core.heat.airflow import AirFlow
from noonshade.core.heat.films import UNDERSIDE_FILM, radiation
from noonshade.core.heat.geometry import EnclosureGrid, Resolution, build_grid
from noonshade.core.heat.grids import Plate, SheetGrid, overlap
from noonshade.core.heat.ground import in_ground
from noonshade.core.heat.local_radiation import LocalRadiation
from noonshade.core.heat.network import Network, NetworkBuilder, Pattern
from noonshade.core.heat.openings import Openings, openings_of
from noonshade.core.heat.patches import INWARDS
from noonshade.core.heat.probe_reading import (
    CONTACT_M,
    beam_rise_per_irradiance,
    shaded_reading,
)
from noonshade.core.heat.radiation import LampHeat, lamp_heat
from noonshade.core.heat.seen import NodeMean
from noonshade.core.heat.surface_films import SurfaceFilms
from noonshade.core.light.field import light_at
from noonshade.core.plan import (
    ColdPack,
    Face,
    Fixture,
    LineSource,
    PanelSource,
    Plan,
    Point,
)
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
# Nodes of each link's ends, and its conductance, W/K.
Links = tuple[Ints, Ints, Floats]

# Stone on soil or slab on stack touches at grains and bumps only, W/(m² K). Estimate.
CONTACT_CONDUCTANCE = 60.0
# Air to what stands against a mesh, through its wires and the calm gap behind, W/(m² K). Estimate.
COVERED_FILM = 2.0
WATER_STORAGE_J_M3K = 4.18e6  # volumetric heat capacity of water near 20 °C

# Of the lamps at the probes of a few plans.
_BEAMS = Remembered[float](96)
_PATTERNS: dict[tuple[bytes, bytes], Pattern] = {}


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What is outside the enclosure at a moment: air of the room, and what stands against closed faces, °C.

    ``fan_m3_s`` is moved by fans; ``cold`` are the packs that still take heat; ``vapour_kg_m3`` is what
    the air of the enclosure holds, None where moisture plays no part yet.
    """

    room_c: float
    faces: Mapping[Face, float]
    fan_m3_s: float = 0.0
    cold: tuple[ColdPack, ...] = ()
    vapour_kg_m3: float | None = None

    def against(self, face: Face) -> float:
        """Temperature against a face, °C.

        Parameters
        ----------
        face : Face
            A face of the enclosure.

        Returns
        -------
        float
            The temperature outside that face, °C.
        """
        return self.faces.get(face, self.room_c)


class Structure(NamedTuple):
    """What of an enclosure neither lamps, vents nor the room change: nodes, views and conduction."""

    grid: EnclosureGrid
    local: LocalRadiation | None
    links: list[Links]


# Of a few plans, by day and by night and through the day.
_STRUCTURES = Remembered[Structure](32)
_OPENINGS = Remembered[Openings](32)


class EnclosureModel(ABC):
    """A plan cut into nodes: ground, furnishings, walls, radiation and moisture; how its air moves is open.

    Parameters
    ----------
    plan : Plan
    fixtures : tuple of Fixture
        Those that may be on.
    controls : mapping
        Column of heater power, by fixture id; a fixture without one is on at full power.
    surroundings : Surroundings
        To start from.
    resolution : Resolution, optional
    one_radiant_node : bool
        All surfaces see one node and not each other, as tables of other simulations may have it.
    """

    def __init__(
        self,
        plan: Plan,
        fixtures: tuple[Fixture, ...],
        controls: Mapping[str, int],
        surroundings: Surroundings,
        resolution: Resolution | None = None,
        one_radiant_node: bool = False,
    ) -> None:
        self.plan = plan
        self.controls = dict(controls)
        self.columns = 1 + max(self.controls.values(), default=-1)
        self.surroundings = surroundings
        structure = _structure(plan, resolution, one_radiant_node)
        self.grid = structure.grid
        self.heats = [lamp_heat(plan, self.grid, f) for f in fixtures]
        patches = self.grid.patches
        self.closed = patches.node >= 0
        self._opening = np.flatnonzero(~self.closed)
        self._closed_node = patches.node[self.closed]
        self._to_star = np.full(self._closed_node.size, self.grid.star)
        self._emissive_m2 = patches.emissivity * patches.area_m2
        self.local, self._links = structure.local, structure.links
        edges = (self.grid.air.x_edges.tobytes(), self.grid.air.z_edges.tobytes())
        self.openings = _OPENINGS.get(
            (plan.enclosure,), edges, lambda: openings_of(plan.enclosure, self.grid.air)
        )
        normal = patches.normal[self._opening]
        self._opened = {
            face: self._opening[np.all(normal == inwards, axis=1)] for face, inwards in INWARDS.items()
        }
        cells = np.arange(self.grid.air.size).reshape(self.grid.air.nx, self.grid.air.nz)
        # Cells beside and above each other.
        self._neighbours = (
            np.concatenate([cells[:-1].ravel(), cells[:, :-1].ravel()]),
            np.concatenate([cells[1:].ravel(), cells[:, 1:].ravel()]),
        )
        self.size = self.grid.size + self._add_nodes()
        self.films = SurfaceFilms(self.grid.patches, self._wetness(), self.grid.air.size)
        self.base = self._base()
        self._enclosed: tuple[object, NetworkBuilder] | None = None
        self.pattern: Pattern | None = None
        self.flow: AirFlow | None = None

    @abstractmethod
    def _add_nodes(self) -> int:
        """Add what the air needs beside its cells; how many nodes that is, after those of the grid."""

    # -- parts that do not change ----------------------------------------------------------------

    def _base(self) -> NetworkBuilder:
        """Conduction, lamps and storage, which no temperature changes."""
        net = NetworkBuilder(self.size, self.columns)
        for first, second, g in self._links:
            net.link(first, second, g)
        self._lamps(net)
        self._capacities(net)
        return net

    def probe(self, position: Point) -> tuple[NodeMean, Floats]:
        """What a probe reads apart from the lamps, and its rise by each lamp's direct beam, K.

        Parameters
        ----------
        position : Point
            Position, m. On a surface or in the ground, a probe reads that and no beam.

        Returns
        -------
        tuple of NodeMean and (f,) float64
            Weights of nodes and room, and rises, K.
        """
        rise = np.zeros(len(self.heats))
        x, y, z = position
        depth = self.plan.substrate.depth_m - z
        if depth > CONTACT_M:
            return in_ground(self.grid, self.plan.substrate, x, y, depth), rise
        surface = self._surface_below(position)
        if surface is not None:
            return NodeMean(np.array([surface]), np.array([1.0]), 0.0), rise
        for i, heat in enumerate(self.heats):
            rise[i] = beam_rise_per_irradiance() * self._beam(heat.fixture, position)
        return shaded_reading(self.plan, self.grid, np.array([position], dtype=np.float64)), rise

    def _beam(self, fixture: Fixture, position: Point) -> float:
        """Irradiance of one lamp facing it at a point, W/m²."""
        plan, unit = self.plan, unit_fixture(fixture)
        return fixture.power_w * _BEAMS.get(
            (unit, *built_parts(plan)),
            (plan.fog_per_m, position),
            lambda: float(light_at(plan, np.array([position]), (unit,)).irradiance_facing_w_m2[0]),
        )

    def _surface_below(self, position: Point) -> int | None:
        x, y, z = position
        best: tuple[float, int] | None = None
        sheets = [(self.plan.substrate.depth_m, self.grid.floor[0])]
        sheets += [(p.bottom_m + p.thickness_m, p.top) for p in self.grid.plates]
        for height, sheet in sheets:
            inside = sheet.x_edges[0] <= x <= sheet.x_edges[-1]
            inside = inside and sheet.y_edges[0] <= y <= sheet.y_edges[-1]
            if inside and -CONTACT_M <= z - height <= CONTACT_M:
                i, j = sheet.nearest(x, y)
                if best is None or height > best[0]:
                    best = (height, int(sheet.nodes[i, j]))
        return None if best is None else best[1]

    def _wetness(self) -> Floats:
        """How readily each patch (p,) gives off water: the substrate as stated, dishes and pools wholly."""
        wet = np.zeros(self.grid.patches.node.size)
        sheet = self.grid.floor[0]
        ground = self.plan.substrate
        share = np.full((sheet.nx, sheet.ny), ground.wetness)
        for zone in ground.zones:
            here = sheet.share_within(zone.x_m, zone.y_m, zone.length_m, zone.width_m)
            share += here * (zone.wetness - share)
        share = np.maximum(share, self._water_share())
        floor = np.isin(self.grid.patches.node, sheet.nodes)
        wet[floor] = share.ravel()[self.grid.patches.node[floor] - sheet.start]
        return wet

    def _water_share(self) -> Floats:
        """Share (nx, ny) of each floor cell that is open water."""
        sheet = self.grid.floor[0]
        share = np.zeros((sheet.nx, sheet.ny))
        for water in self.plan.waters:
            share += sheet.share_within(water.x_m, water.y_m, water.length_m, water.width_m)
        return np.minimum(share, 1.0)

    # -- what depends on the moment --------------------------------------------------------------

    def network(self, temperature_c: Floats, power: Floats, surroundings: Surroundings) -> Network:
        """The network at temperatures (n,), with heater powers (m,) as fractions of full.

        Parameters
        ----------
        temperature_c : Floats
            Temperatures, °C.
        power : Floats
            Fractions of full power, shape (f,).
        surroundings : Surroundings
            What lies outside each face.

        Returns
        -------
        Network
            The network, ready to be solved or stepped.
        """
        self.surroundings = surroundings
        found = self._network(temperature_c, power)
        if self.pattern is None:
            self.pattern = _pattern_of(found)
            found = replace(found, pattern=self.pattern)
        return found

    def _outer(self) -> NetworkBuilder:
        """The base with what is beside its walls, cached as long as its temperature does not change."""
        around = self.surroundings
        against = (around.room_c, tuple(sorted(around.faces.items())))
        if self._enclosed is None or self._enclosed[0] != against:
            net = self.base.fork()
            self._walls(net)
            self._enclosed = (against, net)
        return self._enclosed[1]

    def _network(self, temperature: Floats, power: Floats) -> Network:
        net = self._outer().fork()
        film = self.films.connect(net, temperature, self.surroundings.vapour_kg_m3)
        self._longwave(net, temperature)
        self.flow = self._moving_air(net, temperature, film, power)
        self._air(net, self.flow)
        for pack in self.surroundings.cold:
            net.source(self.grid.air.cell(pack.x_m, pack.z_m), -pack.power_w)
        return net.build(self.pattern)

    @abstractmethod
    def _moving_air(
        self, net: NetworkBuilder, temperature: Floats, film_w_k: Floats, power: Floats
    ) -> AirFlow:
        """Convection of all surfaces, by their films (p,), and the flow of the air it drives."""

    def air_c(self, temperature: Floats) -> Floats:
        """Air temperatures (nx, nz) among those of all nodes.

        Parameters
        ----------
        temperature : Floats
            Temperatures, °C.

        Returns
        -------
        Floats
            Temperatures (nx, nz), °C, a view of the given ones.
        """
        air = self.grid.air
        return temperature[: air.size].reshape(air.nx, air.nz)

    def _longwave(self, net: NetworkBuilder, temperature: Floats) -> None:
        """Links of all surfaces with the one node, and what their own views add to that."""
        star, node, opening = self.grid.star, self._closed_node, self._opening
        star_c = float(temperature[star])
        emissive, outside = self._emissive_m2, self._behind_openings()
        g = radiation(temperature[node], star_c, emissive[self.closed])
        net.link(node, self._to_star, g)
        g = radiation(outside[opening], star_c, emissive[opening])
        if self.local is None:
            net.to_boundary(np.full(g.size, star), g, outside[opening])
            return
        added, star_c, out_w = self.local.beside_star(temperature, outside)
        net.source(node, added[self.closed])
        if g.size:
            # Its surroundings are as warm as makes it lose what the surfaces do.
            total = float(np.sum(g))
            net.to_boundary(star, total, star_c - out_w / total)

    def _behind_openings(self) -> Floats:
        """What stands behind each opening (p,), °C."""
        found = np.full(self.closed.size, self.surroundings.room_c)
        for face, mine in self._opened.items():
            found[mine] = self.surroundings.against(face)
        return found

    def _columns_of(self, fixture: Fixture) -> list[tuple[float, float]]:
        """Air columns a lamp warms, as (x, share): a tube or panel spreads over its length."""
        geometry, air = fixture.lamp.geometry, self.grid.air
        half = geometry.length_m / 2 if isinstance(geometry, LineSource | PanelSource) else 0.0
        x = fixture.position_m[0]
        share = overlap(air.x_edges, x - half, x + half)
        total = float(np.sum(share))
        if total <= 0:
            return [(x, 1.0)]
        return [(float(c), float(s) / total) for c, s in zip(air.x, share, strict=True) if s > 0]

    def share(self, fixture: Fixture, power: Floats) -> float:
        """Power of a fixture as a fraction of full.

        Parameters
        ----------
        fixture : Fixture
            The fixture.
        power : Floats
            Fractions of full power, shape (f,).

        Returns
        -------
        float
            The fraction, 0–1.
        """
        column = self.controls.get(fixture.id)
        return 1.0 if column is None else float(power[column])

    def _air(self, net: NetworkBuilder, flow: AirFlow) -> None:
        room, (low, high) = self.surroundings.room_c, self._neighbours
        net.link(low, high, np.concatenate([flow.mix_x.ravel(), flow.mix_z.ravel()]))
        across = np.concatenate([flow.right[1:-1].ravel(), flow.up[:, 1:-1].ravel()])
        net.flow(low, high, np.maximum(across, 0.0))
        net.flow(high, low, np.maximum(-across, 0.0))
        out, into = flow.vent_out.copy(), flow.vent_in.copy()
        out[:, -1] += np.maximum(flow.up[:, -1], 0.0)
        into[:, -1] += np.maximum(-flow.up[:, -1], 0.0)
        cells = np.arange(out.size)
        net.outflow(cells, out.ravel())
        net.inflow(cells, into.ravel(), room)
        net.to_boundary(cells, flow.exchange.ravel(), room)

    def _walls(self, net: NetworkBuilder) -> None:
        p = self.grid.patches
        for face, mine in self._opened.items():
            if face in self.plan.enclosure.neighbours:
                net.to_boundary(
                    p.cell[mine], COVERED_FILM * p.area_m2[mine], self.surroundings.against(face)
                )
        for sheet in self.grid.sheets:
            net.to_boundary(sheet.node, sheet.loss_w_k, self.surroundings.against(sheet.face))
        resistance = 1.0 / UNDERSIDE_FILM + self.plan.enclosure.walls["floor"].resistance_m2k_w
        lowest = self.grid.floor[-1]
        nodes = lowest.nodes.ravel()
        area = np.full(nodes.size, lowest.dx * lowest.dy)
        net.to_boundary(nodes, area / resistance, self.surroundings.against("floor"))

    def _lamps(self, net: NetworkBuilder) -> None:
        p = self.grid.patches
        for heat in self.heats:
            column = self.controls.get(heat.fixture.id)
            closed = self.closed
            net.source(p.node[closed], heat.absorbed_w[closed], column)
            if heat.fixture.against is not None:
                net.source(heat.against_node, heat.against_w, column)
                continue
            self._air_heat(net, heat, column)
            net.source(self.grid.star, heat.diffuse_w, column)

    @abstractmethod
    def _air_heat(self, net: NetworkBuilder, heat: LampHeat, column: int | None) -> None:
        """What a lamp gives to the air, at its full power."""

    def _capacities(self, net: NetworkBuilder) -> None:
        grid = self.grid
        air = grid.air
        net.capacity[: air.size] = AIR_VOLUMETRIC_J_M3K * air.dx * air.dz * air.depth_m
        ground = self.plan.substrate
        depths = grid.floor_depths_m
        bounds = _halfway(depths)
        for level, sheet in enumerate(grid.floor):
            storage = ground.storage_j_m2k(bounds[level], bounds[level + 1])
            net.capacity[sheet.nodes] = storage * sheet.dx * sheet.dy
        top = grid.floor[0]
        for water in self.plan.waters:
            share = top.share_within(water.x_m, water.y_m, water.length_m, water.width_m)
            storage = WATER_STORAGE_J_M3K * water.depth_m * top.dx * top.dy
            net.capacity[top.nodes] += storage * share
        panel = self.plan.enclosure.walls["floor"]
        if panel.material is not None:
            lowest = grid.floor[-1]
            net.capacity[lowest.nodes] += panel.material.storage_j_m3k * (
                panel.thickness_m / 2 * lowest.dx * lowest.dy
            )
        for plate in grid.plates:
            half = plate.thickness_m / 2 * plate.top.dx * plate.top.dy
            net.capacity[plate.top.nodes] = plate.material.storage_j_m3k * half
            net.capacity[plate.bottom.nodes] = plate.material.storage_j_m3k * half
        for rod in grid.rods:
            net.capacity[rod.nodes] = rod.capacity_j_k
        for wall in grid.sheets:
            net.capacity[wall.node] = wall.storage_j_k


def _structure(plan: Plan, resolution: Resolution | None, one_radiant_node: bool) -> Structure:
    def made() -> Structure:
        grid = build_grid(plan, resolution)
        local = None if one_radiant_node else LocalRadiation(plan, grid)
        return Structure(grid, local, _fixed_links(plan, grid))

    return _STRUCTURES.get(built_parts(plan), (resolution, one_radiant_node), made)


def _fixed_links(plan: Plan, grid: EnclosureGrid) -> list[Links]:
    """Conduction in ground, slabs, hides and branches."""
    links: list[Links] = []
    ground, depths = plan.substrate, grid.floor_depths_m
    bounds = _halfway(depths)
    for level, sheet in enumerate(grid.floor):
        links += _lateral(sheet, ground.conductance_w_k(bounds[level], bounds[level + 1]))
        if level > 0:
            upper = grid.floor[level - 1]
            resistance = ground.resistance_m2k_w(depths[level - 1], depths[level])
            g = np.full(sheet.nx * sheet.ny, sheet.dx * sheet.dy / resistance)
            links.append((upper.nodes.ravel(), sheet.nodes.ravel(), g))
    for plate in grid.plates:
        links += _plate_links(plate, grid.floor[0])
    for rod in grid.rods:
        links += rod.links()
    return links


def _halfway(depths: tuple[float, ...]) -> list[float]:
    """Where what belongs to a level of the ground ends and that of the next begins, m."""
    return [0.0, *[(a + b) / 2 for a, b in itertools.pairwise(depths)], depths[-1]]


def _plate_links(plate: Plate, floor: SheetGrid) -> list[Links]:
    k, t = plate.material.conductivity_w_mk, plate.thickness_m
    links = _lateral(plate.top, k * t / 2) + _lateral(plate.bottom, k * t / 2)
    cell = plate.top.dx * plate.top.dy
    through = np.full(plate.top.nx * plate.top.ny, k * cell / t)
    links.append((plate.top.nodes.ravel(), plate.bottom.nodes.ravel(), through))
    if plate.support is None:
        return links
    x0, x1, y0, y1 = plate.support
    resistance = plate.support_height_m / k + 1.0 / CONTACT_CONDUCTANCE
    shared_x = _shared(plate.bottom.x_edges, floor.x_edges, x0, x1)
    shared_y = _shared(plate.bottom.y_edges, floor.y_edges, y0, y1)
    area = np.einsum("af,bg->abfg", shared_x, shared_y)
    a, b, f, g = np.nonzero(area > 1e-9)
    links.append((plate.bottom.nodes[a, b], floor.nodes[f, g], area[a, b, f, g] / resistance))
    return links


def _pattern_of(network: Network) -> Pattern:
    """Pattern of a matrix; it depends on what is linked to what only, so it is remembered."""
    key = (network.rows.tobytes(), network.cols.tobytes())
    if key not in _PATTERNS:
        if len(_PATTERNS) >= 16:
            _PATTERNS.clear()
        _PATTERNS[key] = network.found_pattern()
    return _PATTERNS[key]


def _lateral(sheet: SheetGrid, sheet_conductance: float) -> list[Links]:
    """Sideways links of a sheet with conductivity times thickness in W/K."""
    nodes = sheet.nodes
    along = np.full(nodes[:-1].size, sheet_conductance * sheet.dy / sheet.dx)
    across = np.full(nodes[:, :-1].size, sheet_conductance * sheet.dx / sheet.dy)
    return [
        (nodes[:-1].ravel(), nodes[1:].ravel(), along),
        (nodes[:, :-1].ravel(), nodes[:, 1:].ravel(), across),
    ]


def _shared(first: Floats, second: Floats, low: float, high: float) -> Floats:
    """Shared length of each pair of cells of two sets of edges within an interval, (n, m)."""
    return np.array([overlap(second, max(a, low), min(b, high)) for a, b in itertools.pairwise(first)])
