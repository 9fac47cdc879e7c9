"""The steady climate of a box: network, films and flows iterated until they agree."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.constants import AIR_VOLUMETRIC_J_M3K
from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.airflow import AirFlow, PlumeSource, air_flow
from noonshade.core.heat.control import (
    CONTACT_M,
    PROBE_CONVECTION,
    PROBE_RADIATION,
    bead_rise_per_irradiance,
    holding_fractions,
)
from noonshade.core.heat.films import FACING_UP, OUTSIDE_FILM, convection, radiation
from noonshade.core.heat.geometry import BoxGrid, Resolution, build_grid
from noonshade.core.heat.grids import Plate, SheetGrid, overlap
from noonshade.core.heat.network import HeatBalance, Network, NetworkBuilder
from noonshade.core.heat.radiation import LampHeat, lamp_heat
from noonshade.core.light.field import light_at
from noonshade.core.plan import (
    Fixture,
    LineSource,
    Moment,
    PanelSource,
    Plan,
    Point,
    SolidMaterial,
    Thermostat,
)

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

# Largest movement in the last round, K. Each round is closer by a factor of about three, so what is
# left is well below a reading's resolution.
CONVERGED_K = 0.03
MAX_ITERATIONS = 60
# Stone on soil or slab on stack touches at grains and bumps only, W/(m² K). Estimate.
CONTACT_CONDUCTANCE = 60.0
# A box on a table or shelf loses heat downwards through a poorly ventilated gap, W/(m² K). ISO 6946
# downward flow, 1/0.17.
UNDERSIDE_FILM = 5.9


_ORDERS: dict[tuple[bytes, ...], Ints] = {}


@dataclass(frozen=True, slots=True)
class ThermostatState:
    """What a thermostat does at steady state.

    ``fraction`` is the mean power of its heaters, 0–1. ``holds`` tells whether the probe is held at
    the set point; otherwise the heater runs at full power, or not at all.
    """

    thermostat: Thermostat
    fraction: float
    probe_c: float
    set_point_c: float | None
    holds: bool


@dataclass(frozen=True, slots=True)
class Climate:
    """Temperatures everywhere at steady state, °C, with who heats how much."""

    plan: Plan
    moment: Moment
    grid: BoxGrid
    temperature_c: Floats
    network: Network
    power_fraction: dict[str, float]
    thermostats: tuple[ThermostatState, ...]
    balance: HeatBalance
    power_w: float
    outside_w: float
    iterations: int

    @property
    def air_c(self) -> Floats:
        """Air temperatures (nx, nz)."""
        air = self.grid.air
        return self.temperature_c[: air.size].reshape(air.nx, air.nz)

    @property
    def room_c(self) -> float:
        """Room temperature of this moment."""
        return room_temperature(self.plan, self.moment)

    def air_at(self, x_m: Floats, z_m: Floats) -> Floats:
        """Air temperature at points (n,), bilinear between cell centres."""
        nodes, weights = self.grid.air.interpolation(np.atleast_1d(x_m), np.atleast_1d(z_m))
        mean: Floats = np.sum(self.temperature_c[nodes] * weights, axis=-1)
        return mean

    def sheet_c(self, sheet: SheetGrid) -> Floats:
        """Temperatures of a floor level or plate face, (nx, ny)."""
        return self.temperature_c[sheet.nodes]


def room_temperature(plan: Plan, moment: Moment) -> float:
    """Room temperature by day or by night, °C."""
    return plan.room.day_temperature_c if moment == "day" else plan.room.night_temperature_c


def steady_climate(plan: Plan, moment: Moment = "day", resolution: Resolution | None = None) -> Climate:
    """Solve a plan's heat balance at steady state.

    Raises
    ------
    ConvergenceError
        If films and flows do not settle, or heat in and out differ by more than 1e-6.
    """
    return _Solver(plan, moment, resolution).solve()


class _Solver:
    def __init__(self, plan: Plan, moment: Moment, resolution: Resolution | None) -> None:
        self.plan = plan
        self.moment: Moment = moment
        self.room_c = room_temperature(plan, moment)
        self.grid = build_grid(plan, resolution)
        lit = tuple(f for f in plan.fixtures if f.lit_at(moment))
        self.heats = [lamp_heat(plan, self.grid, f) for f in lit]
        used = {f.thermostat_id for f in lit}
        self.thermostats = [t for t in plan.thermostats if t.id in used]
        self.control_of = {t.id: i for i, t in enumerate(self.thermostats)}
        self.closed = self.grid.patches.node >= 0
        self.base = self._base()
        self.order = self._first_order()
        self.probes = [self._probe(t.probe_m) for t in self.thermostats]

    def solve(self) -> Climate:
        temperature = np.full(self.grid.size, self.room_c + 3.0)
        fractions = np.ones(len(self.thermostats))
        change = np.inf
        relax = 1.0
        for iteration in range(1, MAX_ITERATIONS + 1):
            network = self._network(temperature, fractions, self.order)
            response = network.responses()
            fractions = self._fractions(response)
            solved = response @ np.concatenate([[1.0], fractions])
            step = solved - temperature
            latest = float(np.max(np.abs(step)))
            if latest < CONVERGED_K:
                balance = network.balance(solved, fractions)
                return self._result(solved, network, response, fractions, balance, iteration)
            if iteration > 3 and latest > 0.7 * change:
                relax = max(0.3, relax * 0.8)
            change = latest
            temperature = temperature + relax * step
        raise ConvergenceError(
            f"the heat balance did not settle in {MAX_ITERATIONS} rounds "
            f"(still moving by {change:.2g} K); check for extreme sizes or powers"
        )

    # -- parts that do not change while iterating ------------------------------------------------

    def _base(self) -> NetworkBuilder:
        """Conduction, walls, lamps and storage, which no temperature changes."""
        net = NetworkBuilder(self.grid.size, len(self.thermostats))
        for first, second, g in self._fixed_links():
            net.link(first, second, g)
        self._walls(net)
        self._lamps(net)
        self._capacities(net)
        return net

    def _first_order(self) -> Ints:
        """Order of elimination; it depends on the pattern of links only, so it is remembered.

        The links that change while iterating run between the same nodes in every box whose fixed
        links and openings are alike, so those are the key.
        """
        pattern = self.base.build()
        key = (pattern.rows.tobytes(), pattern.cols.tobytes(), self.grid.patches.node.tobytes())
        if key not in _ORDERS:
            if len(_ORDERS) >= 16:
                _ORDERS.clear()
            start = np.full(self.grid.size, self.room_c + 3.0)
            network = self._network(start, np.ones(len(self.thermostats)), None)
            _ORDERS[key] = network.elimination_order()
        return _ORDERS[key]

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

    def _probe(self, position: Point) -> tuple[Ints, Floats, Floats]:
        """Nodes and weights a probe averages, and its rise by each lamp's direct beam, K."""
        x, y, z = position
        surface = self._surface_below(position)
        rise = np.zeros(len(self.heats))
        if surface is not None:
            return np.array([surface]), np.array([1.0]), rise
        nodes, weights = self.grid.air.interpolation(np.array([x]), np.array([z]))
        total = PROBE_CONVECTION + PROBE_RADIATION
        all_nodes = np.append(nodes[0], self.grid.star)
        all_weights = np.append(weights[0] * PROBE_CONVECTION, PROBE_RADIATION) / total
        for i, heat in enumerate(self.heats):
            beam = light_at(self.plan, np.array([[x, y, z]]), (heat.fixture,))
            rise[i] = bead_rise_per_irradiance() * float(beam.irradiance_facing_w_m2[0])
        return all_nodes, all_weights, rise

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

    # -- one iteration -------------------------------------------------------------------------------

    def _network(
        self,
        temperature: Floats,
        fractions: Floats,
        order: Ints | None,
    ) -> Network:
        grid, room = self.grid, self.room_c
        net = self.base.fork()
        powers = self._films(net, temperature)
        plumes = self._plumes(powers, fractions)
        self._air(net, air_flow(self.plan.box, grid.air, self._air_c(temperature), room, plumes))
        return net.build(order)

    def _air_c(self, temperature: Floats) -> Floats:
        air = self.grid.air
        return temperature[: air.size].reshape(air.nx, air.nz)

    def _films(self, net: NetworkBuilder, temperature: Floats) -> Floats:
        """Convection and longwave links of all surfaces; returns the convected power per patch."""
        p, closed, star = self.grid.patches, self.closed, self.grid.star
        node, cell, area = p.node[closed], p.cell[closed], p.area_m2[closed]
        higher, share = p.higher[closed], p.higher_share[closed]
        air = (1.0 - share) * temperature[cell] + share * temperature[higher]
        h = convection(temperature[node], air, p.orientation[closed], p.length_m[closed])
        net.link(node, cell, (1.0 - share) * h * area)
        between = share > 0.0
        net.link(node[between], higher[between], (share * h * area)[between])
        hr = radiation(temperature[node], float(temperature[star]), p.emissivity[closed])
        net.link(node, np.full(node.size, star), hr * area)
        opening = ~closed
        if np.any(opening):
            sky = radiation(
                np.full(int(np.sum(opening)), temperature[star]), self.room_c, p.emissivity[opening]
            )
            net.to_boundary(star, float(np.sum(sky * p.area_m2[opening])), self.room_c)
        return np.asarray(h * area * (temperature[node] - air))

    def _plumes(self, powers: Floats, fractions: Floats) -> list[PlumeSource]:
        p = self.grid.patches
        up = p.orientation[self.closed] == FACING_UP
        node = p.node[self.closed]
        plumes = []
        for heat in self.heats:
            share = self._share(heat, fractions)
            z = heat.fixture.position_m[2]
            columns = self._columns_of(heat.fixture)
            for x, part in columns:
                plumes.append(PlumeSource(x, z, heat.air_w * share * part, 0.1))
        for plate in self.grid.plates:
            mine = up & np.isin(node, plate.top.nodes)
            power = float(np.sum(powers[mine]))
            size = float(np.sqrt(plate.item.length_m * plate.item.width_m))
            top = plate.bottom_m + plate.thickness_m
            plumes.append(PlumeSource(plate.item.x_m, top, power, size))
        mine = up & np.isin(node, self.grid.floor[0].nodes)
        column = p.cell[self.closed][mine] // self.grid.air.nz
        by_column = np.bincount(column, weights=powers[mine], minlength=self.grid.air.nx)
        ground = self.plan.substrate.depth_m
        for x, power in zip(self.grid.air.x, by_column, strict=True):
            plumes.append(PlumeSource(float(x), ground, float(power), self.grid.air.dx))
        return plumes

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

    def _share(self, heat: LampHeat, fractions: Floats) -> float:
        control = self.control_of.get(heat.fixture.thermostat_id or "")
        return 1.0 if control is None else float(fractions[control])

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
        net.inflow(cells[:, -1], np.maximum(-top, 0.0), self.room_c)
        net.outflow(cells, flow.vent_out)
        net.inflow(cells, flow.vent_in, self.room_c)
        net.to_boundary(cells, flow.exchange, self.room_c)

    def _walls(self, net: NetworkBuilder) -> None:
        for face, nodes in self.grid.wall_nodes.items():
            wall = self.grid.sheets[face]
            assert wall.material is not None
            u = 1.0 / (wall.thickness_m / wall.material.conductivity_w_mk + 1.0 / OUTSIDE_FILM)
            net.to_boundary(nodes, u * self.grid.wall_areas[face], self.room_c)
        panel = self.plan.box.walls["floor"]
        resistance = 1.0 / UNDERSIDE_FILM
        if panel.material is not None:
            resistance += panel.thickness_m / panel.material.conductivity_w_mk
        lowest = self.grid.floor[-1]
        nodes = lowest.nodes.ravel()
        area = np.full(nodes.size, lowest.dx * lowest.dy)
        net.to_boundary(nodes, area / resistance, self.room_c)

    def _lamps(self, net: NetworkBuilder) -> None:
        p = self.grid.patches
        for heat in self.heats:
            control = self.control_of.get(heat.fixture.thermostat_id or "")
            closed = self.closed
            net.source(p.node[closed], heat.absorbed_w[closed], control)
            z = heat.fixture.position_m[2]
            for x, part in self._columns_of(heat.fixture):
                net.source(self.grid.air.cell(x, z), heat.air_w * part, control)
            net.source(self.grid.star, heat.diffuse_w, control)

    def _capacities(self, net: NetworkBuilder) -> None:
        grid = self.grid
        air = grid.air
        net.capacity[: air.size] = AIR_VOLUMETRIC_J_M3K * air.dx * air.dz * air.depth_m
        soil = self.plan.substrate.material
        depths = grid.floor_depths_m
        bounds = [0.0, *[(a + b) / 2 for a, b in itertools.pairwise(depths)], depths[-1]]
        for level, sheet in enumerate(grid.floor):
            volume = (bounds[level + 1] - bounds[level]) * sheet.dx * sheet.dy
            net.capacity[sheet.nodes] = soil.density_kg_m3 * soil.heat_capacity_j_kgk * volume
        panel = self.plan.box.walls["floor"]
        if panel.material is not None:
            lowest = grid.floor[-1]
            net.capacity[lowest.nodes] += _storage(panel.material) * (
                panel.thickness_m / 2 * lowest.dx * lowest.dy
            )
        for plate in grid.plates:
            half = plate.thickness_m / 2 * plate.top.dx * plate.top.dy
            net.capacity[plate.top.nodes] = _storage(plate.material) * half
            net.capacity[plate.bottom.nodes] = _storage(plate.material) * half
        for face, nodes in grid.wall_nodes.items():
            wall = self.grid.sheets[face]
            assert wall.material is not None
            # The inner half of the sheet follows the inside; the outer half the room.
            volumes = wall.thickness_m / 2 * grid.wall_areas[face]
            net.capacity[nodes] = _storage(wall.material) * volumes

    def _fractions(self, response: Floats) -> Floats:
        m = len(self.thermostats)
        if m == 0:
            return np.zeros(0)
        base, rise = self._probe_response(response)
        targets = [t.set_point_c(self.moment) for t in self.thermostats]
        wanted = np.array([-np.inf if t is None else t for t in targets])
        return holding_fractions(base, rise, wanted)

    def _probe_response(self, response: Floats) -> tuple[Floats, Floats]:
        m = len(self.thermostats)
        base, rise = np.zeros(m), np.zeros((m, m))
        for i, (nodes, weights, beam) in enumerate(self.probes):
            read = weights @ response[nodes]
            base[i], rise[i] = read[0], read[1:]
            for heat, warm in zip(self.heats, beam, strict=True):
                control = self.control_of.get(heat.fixture.thermostat_id or "")
                if control is None:
                    base[i] += warm
                else:
                    rise[i, control] += warm
        return base, rise

    def _result(
        self,
        temperature: Floats,
        network: Network,
        response: Floats,
        fractions: Floats,
        balance: HeatBalance,
        iterations: int,
    ) -> Climate:
        base, rise = self._probe_response(response)
        reads = base + rise @ fractions
        states = []
        for i, thermostat in enumerate(self.thermostats):
            target = thermostat.set_point_c(self.moment)
            holds = target is not None and abs(reads[i] - target) < 0.05
            states.append(ThermostatState(thermostat, float(fractions[i]), float(reads[i]), target, holds))
        shares = {h.fixture.id: self._share(h, fractions) for h in self.heats}
        for fixture in self.plan.fixtures:
            shares.setdefault(fixture.id, 0.0)
        power = sum(h.fixture.power_w * shares[h.fixture.id] for h in self.heats)
        outside = sum(h.outside_w * shares[h.fixture.id] for h in self.heats)
        return Climate(
            self.plan,
            self.moment,
            self.grid,
            temperature,
            network,
            shares,
            tuple(states),
            balance,
            power,
            outside,
            iterations,
        )


def _storage(material: SolidMaterial) -> float:
    """Volumetric heat capacity, J/(m³ K)."""
    return material.density_kg_m3 * material.heat_capacity_j_kgk


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
