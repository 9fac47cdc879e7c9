"""An enclosure as a thermal network: constant links, and those that depend on its temperatures."""

from __future__ import annotations

import itertools
from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K
from noonshade.core.heat.airflow import AirFlow
from noonshade.core.heat.films import UNDERSIDE_FILM, convection, radiation
from noonshade.core.heat.geometry import Resolution, build_grid
from noonshade.core.heat.grids import Plate, SheetGrid, overlap
from noonshade.core.heat.ground import in_ground
from noonshade.core.heat.local_radiation import LocalRadiation
from noonshade.core.heat.network import Network, NetworkBuilder, Pattern
from noonshade.core.heat.openings import openings_of
from noonshade.core.heat.patches import INWARDS
from noonshade.core.heat.probe_reading import (
    CONTACT_M,
    beam_rise_per_irradiance,
    shaded_reading,
)
from noonshade.core.heat.radiation import LampHeat, lamp_heat
from noonshade.core.heat.seen import NodeMean
from noonshade.core.light.field import light_at
from noonshade.core.moisture.vapour import (
    LATENT_HEAT_J_KG,
    Exchange,
    buoyant_lift,
    giving_share,
    mass_transfer,
    saturation_density,
    saturation_slope,
)
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

# Stone on soil or slab on stack touches at grains and bumps only, W/(m² K). Estimate.
CONTACT_CONDUCTANCE = 60.0
# A wet leaf of some cm in calm air, h of 4 W/(m² K), passes vapour with 3.7 mm/s (see ``mass_transfer``);
# as it cools towards its wet bulb, with 9.5 W/(m² K) of convection and radiation to warm it, about half
# of what a leaf as warm as the air would. Estimate.
SPRAYED_TRANSFER_M_S = 0.0019
# Air to what stands against a mesh, through its wires and the calm gap behind, W/(m² K). Estimate.
COVERED_FILM = 2.0
WATER_STORAGE_J_M3K = 4.18e6  # volumetric heat capacity of water near 20 °C

# Step of a temperature by which it is found how a film grows with it, K.
_STEP_K = 0.05

# Of the lamps at the probes of a few plans.
_BEAMS = Remembered[float](32)
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
        self.grid = build_grid(plan, resolution)
        self.heats = [lamp_heat(plan, self.grid, f) for f in fixtures]
        self.closed = self.grid.patches.node >= 0
        self.local = None if one_radiant_node else LocalRadiation(plan, self.grid)
        normal = self.grid.patches.normal
        self._opened = {
            face: np.flatnonzero(~self.closed & np.all(normal == inwards, axis=1))
            for face, inwards in INWARDS.items()
        }
        self.openings = openings_of(plan.enclosure, self.grid.air)
        self.size = self.grid.size + self._add_nodes()
        self.wet = self._wetness()
        # How much wet surface spraying has left, m².
        self.sprayed_m2 = 0.0
        self._by_spray = np.zeros(0)
        self.base = self._base()
        self._enclosed: tuple[object, NetworkBuilder] | None = None
        self.pattern: Pattern | None = None
        self.flow: AirFlow | None = None
        self.evaporation: Exchange | None = None

    @abstractmethod
    def _add_nodes(self) -> int:
        """Add what the air needs beside its cells; how many nodes that is, after those of the grid."""

    # -- parts that do not change ----------------------------------------------------------------

    def _base(self) -> NetworkBuilder:
        """Conduction, lamps and storage, which no temperature changes."""
        net = NetworkBuilder(self.size, self.columns)
        for first, second, g in self._fixed_links():
            net.link(first, second, g)
        self._lamps(net)
        self._capacities(net)
        return net

    def _fixed_links(self) -> list[tuple[Ints, Ints, Floats]]:
        links: list[tuple[Ints, Ints, Floats]] = []
        substrate = self.plan.substrate
        k = substrate.material.conductivity_w_mk
        depths = self.grid.floor_depths_m
        for level, sheet in enumerate(self.grid.floor):
            above = depths[level] - depths[level - 1] if level > 0 else 0.0
            below = depths[level + 1] - depths[level] if level + 1 < len(depths) else 0.0
            links += _lateral(sheet, k * (above + below) / 2)
            if level > 0:
                upper = self.grid.floor[level - 1]
                g = np.full(sheet.nx * sheet.ny, k * sheet.dx * sheet.dy / above)
                links.append((upper.nodes.ravel(), sheet.nodes.ravel(), g))
        for plate in self.grid.plates:
            links += self._plate_links(plate)
        for rod in self.grid.rods:
            links += rod.links()
        return links

    def _plate_links(self, plate: Plate) -> list[tuple[Ints, Ints, Floats]]:
        k, t = plate.material.conductivity_w_mk, plate.thickness_m
        links = _lateral(plate.top, k * t / 2) + _lateral(plate.bottom, k * t / 2)
        cell = plate.top.dx * plate.top.dy
        through = np.full(plate.top.nx * plate.top.ny, k * cell / t)
        links.append((plate.top.nodes.ravel(), plate.bottom.nodes.ravel(), through))
        if plate.support is None:
            return links
        x0, x1, y0, y1 = plate.support
        floor = self.grid.floor[0]
        resistance = plate.support_height_m / k + 1.0 / CONTACT_CONDUCTANCE
        shared_x = _shared(plate.bottom.x_edges, floor.x_edges, x0, x1)
        shared_y = _shared(plate.bottom.y_edges, floor.y_edges, y0, y1)
        area = np.einsum("af,bg->abfg", shared_x, shared_y)
        a, b, f, g = np.nonzero(area > 1e-9)
        links.append((plate.bottom.nodes[a, b], floor.nodes[f, g], area[a, b, f, g] / resistance))
        return links

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
            return in_ground(self.grid, x, y, depth), rise
        surface = self._surface_below(position)
        if surface is not None:
            return NodeMean(np.array([surface]), np.array([1.0]), 0.0), rise
        for i, heat in enumerate(self.heats):
            rise[i] = beam_rise_per_irradiance() * self._beam(heat.fixture, position)
        return shaded_reading(self.plan, self.grid, np.array([position], dtype=np.float64)), rise

    def _beam(self, fixture: Fixture, position: Point) -> float:
        """Irradiance of one lamp facing it at a point, W/m²."""
        plan = self.plan
        return _BEAMS.get(
            (fixture, plan.enclosure, plan.furnishings, plan.substrate),
            (plan.fog_per_m, position),
            lambda: float(light_at(plan, np.array([position]), (fixture,)).irradiance_facing_w_m2[0]),
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
        share = np.full((sheet.nx, sheet.ny), self.plan.substrate.wetness)
        share = np.maximum(share, self._water_share())
        floor = np.isin(self.grid.patches.node, sheet.nodes)
        wet[floor] = share.ravel()[self.grid.patches.node[floor] - sheet.start]
        return wet

    def _water_share(self) -> Floats:
        """Share (nx, ny) of each floor cell that is open water."""
        sheet = self.grid.floor[0]
        share = np.zeros((sheet.nx, sheet.ny))
        for water in self.plan.waters:
            share += self._within(water.x_m, water.y_m, water.length_m, water.width_m)
        return np.minimum(share, 1.0)

    def _within(self, x_m: float, y_m: float, length_m: float, width_m: float) -> Floats:
        """Share (nx, ny) of each floor cell that lies in a rectangle."""
        sheet = self.grid.floor[0]
        along = overlap(sheet.x_edges, x_m - length_m / 2, x_m + length_m / 2) / sheet.dx
        across = overlap(sheet.y_edges, y_m - width_m / 2, y_m + width_m / 2) / sheet.dy
        return np.outer(along, across)

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
        film = self._films(net, temperature)
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

    def _films(self, net: NetworkBuilder, temperature: Floats) -> Floats:
        """Longwave links and evaporation of all surfaces; returns their films of convection (p,), W/K."""
        p, closed = self.grid.patches, self.closed
        node, cell, area = p.node[closed], p.cell[closed], p.area_m2[closed]
        higher, share = p.higher[closed], p.higher_share[closed]
        air = (1.0 - share) * temperature[cell] + share * temperature[higher]
        vapour, surface = self.surroundings.vapour_kg_m3, temperature[node]
        orientation, length = p.orientation[closed], p.length_m[closed]
        if vapour is None:
            h = convection(surface, air, orientation, length)
        else:
            giving = giving_share(surface, self.wet[closed], vapour)
            h = convection(surface + buoyant_lift(surface, giving, vapour), air, orientation, length)
            # A surface that cools gives off less also because its air is lifted less.
            damp = np.flatnonzero(giving)
            cooler = surface[damp] - _STEP_K
            lifted = cooler + buoyant_lift(cooler, giving[damp], vapour)
            less = convection(lifted, air[damp], orientation[damp], length[damp])
            steeper = np.zeros(h.size)
            steeper[damp] = np.maximum(h[damp] - less, 0.0) / _STEP_K
            self._latent(net, temperature, h, steeper, vapour)
        self._longwave(net, temperature)
        return np.asarray(h * area)

    def _longwave(self, net: NetworkBuilder, temperature: Floats) -> None:
        """Links of all surfaces with the one node, and what their own views add to that."""
        p, closed, star = self.grid.patches, self.closed, self.grid.star
        node = p.node[closed]
        hr = radiation(temperature[node], float(temperature[star]), p.emissivity[closed])
        net.link(node, np.full(node.size, star), hr * p.area_m2[closed])
        outside, opening = self._behind_openings(), ~closed
        sky = radiation(outside[opening], float(temperature[star]), p.emissivity[opening])
        g = sky * p.area_m2[opening]
        if self.local is None:
            net.to_boundary(np.full(g.size, star), g, outside[opening])
            return
        added, star_c, out_w = self.local.beside_star(temperature, outside)
        net.source(node, added[closed])
        if np.any(opening):
            # Its surroundings are as warm as makes it lose what the surfaces do.
            total = float(np.sum(g))
            net.to_boundary(star, total, star_c - out_w / total)

    def _behind_openings(self) -> Floats:
        """What stands behind each opening (p,), °C."""
        found = np.full(self.closed.size, self.surroundings.room_c)
        for face, mine in self._opened.items():
            found[mine] = self.surroundings.against(face)
        return found

    def sprayed_share(self) -> Floats:
        """Share (k,) of what each node of ``evaporation`` gives off that is sprayed water.

        Returns
        -------
        Floats
            Shares (k,), 0–1.
        """
        return self._by_spray

    def _latent(
        self, net: NetworkBuilder, temperature: Floats, film: Floats, steeper: Floats, vapour: float
    ) -> None:
        """Heat taken by evaporation, and given back where vapour condenses.

        ``steeper`` (p,) is how much the films (p,) grow with the temperature of their surfaces, W/(m² K²).
        """
        p, closed = self.grid.patches, self.closed
        # Drops on leaves and walls take their heat from the air, so they belong to its cells.
        air = np.arange(self.grid.air.size)
        drops = np.full(air.size, SPRAYED_TRANSFER_M_S * self.sprayed_m2 / air.size)
        node = np.concatenate([p.node[closed], air])
        wet = np.concatenate([self.wet[closed], np.full(air.size, float(self.sprayed_m2 > 0))])
        ground = self.wet[closed] > 0.0
        passing = np.concatenate([mass_transfer(film, ground) * p.area_m2[closed], drops])
        growing = np.concatenate([mass_transfer(steeper, ground) * p.area_m2[closed], np.zeros(air.size)])
        surface = temperature[node]
        saturated = saturation_density(surface)
        share = giving_share(surface, wet, vapour)
        taking = (share > 0) & (passing > 0)
        self.evaporation = Exchange(node[taking], (share * passing)[taking], wet[taking] > 0)
        self._by_spray = np.concatenate([np.zeros(p.node[closed].size), np.ones(air.size)])[taking]
        if not np.any(taking):
            return
        given = saturated[taking] - vapour
        passed, more = (share * passing)[taking], (share * growing)[taking] * np.maximum(given, 0.0)
        g = LATENT_HEAT_J_KG * (passed * saturation_slope(surface[taking]) + more)
        net.to_boundary(node[taking], g, surface[taking] - LATENT_HEAT_J_KG * passed * given / g)

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
        air = self.grid.air
        cells = np.arange(air.size).reshape(air.nx, air.nz)
        net.link(cells[:-1], cells[1:], flow.mix_x)
        net.link(cells[:, :-1], cells[:, 1:], flow.mix_z)
        inner = flow.up[:, 1:-1]
        net.flow(cells[:, :-1], cells[:, 1:], np.maximum(inner, 0.0))
        net.flow(cells[:, 1:], cells[:, :-1], np.maximum(-inner, 0.0))
        across = flow.right[1:-1]
        net.flow(cells[:-1], cells[1:], np.maximum(across, 0.0))
        net.flow(cells[1:], cells[:-1], np.maximum(-across, 0.0))
        top = flow.up[:, -1]
        net.outflow(cells[:, -1], np.maximum(top, 0.0))
        net.inflow(cells[:, -1], np.maximum(-top, 0.0), self.surroundings.room_c)
        net.outflow(cells, flow.vent_out)
        net.inflow(cells, flow.vent_in, self.surroundings.room_c)
        net.to_boundary(cells, flow.exchange, self.surroundings.room_c)

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
            if heat.fixture.mount != "air":
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
        soil = self.plan.substrate.material
        depths = grid.floor_depths_m
        bounds = [0.0, *[(a + b) / 2 for a, b in itertools.pairwise(depths)], depths[-1]]
        for level, sheet in enumerate(grid.floor):
            volume = (bounds[level + 1] - bounds[level]) * sheet.dx * sheet.dy
            net.capacity[sheet.nodes] = soil.storage_j_m3k * volume
        top = grid.floor[0]
        for water in self.plan.waters:
            share = self._within(water.x_m, water.y_m, water.length_m, water.width_m)
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


def _pattern_of(network: Network) -> Pattern:
    """Pattern of a matrix; it depends on what is linked to what only, so it is remembered."""
    key = (network.rows.tobytes(), network.cols.tobytes())
    if key not in _PATTERNS:
        if len(_PATTERNS) >= 16:
            _PATTERNS.clear()
        _PATTERNS[key] = network.found_pattern()
    return _PATTERNS[key]


def _lateral(sheet: SheetGrid, sheet_conductance: float) -> list[tuple[Ints, Ints, Floats]]:
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
