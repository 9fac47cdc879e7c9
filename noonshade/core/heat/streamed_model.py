"""An enclosure whose air is level layers and the streams that rise and sink through them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.airflow import AirFlow
from noonshade.core.heat.enclosure_model import EnclosureModel, Surroundings
from noonshade.core.heat.faces import lid_share
from noonshade.core.heat.films import jets_along
from noonshade.core.heat.geometry import Resolution
from noonshade.core.heat.layered_air import Exchanges, layered_flow
from noonshade.core.heat.network import NetworkBuilder
from noonshade.core.heat.radiation import LampHeat
from noonshade.core.heat.stream_nodes import Driving, Emitted, StreamNodes
from noonshade.core.plan import Fixture, LineSource, PanelSource, Plan, Point

Floats = NDArray[np.float64]

# Size of a bulb or a heater, as its plume begins, m. Estimate.
LAMP_SIZE_M = 0.1
# Points across the depth over which the film of the lid is averaged.
LID_SAMPLES = 6


@dataclass(frozen=True, slots=True)
class AbsorbedHeat:
    """Heat absorbed by a rectangle of the ground: left, right, front and back edge in m, W."""

    rect_m: tuple[float, float, float, float]
    watts: float


@dataclass(frozen=True, slots=True)
class ReleasedHeat:
    """Heat given to the air by something about as large as a lamp, with its middle at a point, W."""

    at_m: Point
    watts: float


@dataclass(frozen=True, slots=True)
class PrescribedHeat:
    """Heat beside that of lamps, whether joints and cables leak air, and how surfaces see each other."""

    absorbed: tuple[AbsorbedHeat, ...] = ()
    to_air: tuple[ReleasedHeat, ...] = ()
    leaks: bool = True
    one_radiant_node: bool = False


class StreamedModel(EnclosureModel):
    """A plan cut into nodes, with plumes and wall films as separate streams.

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
    prescribed : PrescribedHeat, optional
        Heat beside that of the fixtures.
    """

    def __init__(
        self,
        plan: Plan,
        fixtures: tuple[Fixture, ...],
        controls: dict[str, int],
        surroundings: Surroundings,
        resolution: Resolution | None = None,
        prescribed: PrescribedHeat | None = None,
    ) -> None:
        self.prescribed = prescribed or PrescribedHeat()
        one = self.prescribed.one_radiant_node
        super().__init__(plan, fixtures, controls, surroundings, resolution, one_radiant_node=one)

    def _add_nodes(self) -> int:
        self.airborne = [h for h in self.heats if h.fixture.against is None]
        opened = lid_share(self.plan.enclosure, self.grid.air)
        self.streams = StreamNodes(self.grid, self.grid.size, self._emitted(), opened)
        self._is_lid = np.isin(self.streams.node, self.grid.wall_nodes("top"))
        self._to_lid_m, self._from_axis_m = self._under_lid()
        return self.streams.size

    def _emitted(self) -> tuple[Emitted, ...]:
        """What gives heat to the air: lamps that hang in it, then prescribed heat."""
        found = []
        for heat in self.airborne:
            geometry = heat.fixture.lamp.geometry
            long = geometry.length_m if isinstance(geometry, LineSource | PanelSource) else LAMP_SIZE_M
            wide = geometry.width_m if isinstance(geometry, PanelSource) else LAMP_SIZE_M
            columns = tuple((self.grid.air.column(x), part) for x, part in self._columns_of(heat.fixture))
            _, y, z = heat.fixture.position_m
            found.append(Emitted(columns, y, z, float(np.sqrt(long * wide))))
        for released in self.prescribed.to_air:
            x, y, z = released.at_m
            found.append(Emitted(((self.grid.air.column(x), 1.0),), y, z - LAMP_SIZE_M / 2, LAMP_SIZE_M))
        return tuple(found)

    def _base(self) -> NetworkBuilder:
        net = super()._base()
        for absorbed in self.prescribed.absorbed:
            x0, x1, y0, y1 = absorbed.rect_m
            area = self.grid.floor[0].share_within((x0 + x1) / 2, (y0 + y1) / 2, x1 - x0, y1 - y0)
            net.source(self.grid.floor[0].nodes, absorbed.watts * area / np.sum(area))
        for i, released in enumerate(self.prescribed.to_air, start=len(self.airborne)):
            nodes, share = self.streams.foot(i)
            net.source(nodes, released.watts * share)
        return net

    def _air_heat(self, net: NetworkBuilder, heat: LampHeat, column: int | None) -> None:
        number = next(i for i, one in enumerate(self.airborne) if one is heat)
        nodes, part = self.streams.foot(number)
        net.source(nodes, heat.air_w * part, column)

    def _moving_air(
        self, net: NetworkBuilder, temperature: Floats, film_w_k: Floats, power: Floats
    ) -> AirFlow:
        p, closed, streams = self.grid.patches, self.closed, self.streams
        node, cell = p.node[closed], p.cell[closed]
        higher, share = p.higher[closed], p.higher_share[closed]
        alone = ~(streams.is_strip | streams.is_fed | self._is_lid)
        net.link(node[alone], cell[alone], ((1.0 - share) * film_w_k)[alone])
        between = alone & (share > 0.0)
        net.link(node[between], higher[between], (share * film_w_k)[between])
        emitted = [h.air_w * self.share(h.fixture, power) for h in self.airborne]
        emitted += [released.watts for released in self.prescribed.to_air]
        flows, driving = streams.connect(net, temperature, film_w_k, np.array(emitted))
        self._lid(net, film_w_k, driving)
        around = self.surroundings
        return layered_flow(
            self.plan.enclosure,
            self.grid.air,
            self.air_c(temperature),
            around.room_c,
            flows,
            float(np.sum(driving.power_w)) + driving.films_w,
            Exchanges(self.openings, around.fan_m3_s, self.prescribed.leaks),
        )

    def _under_lid(self) -> tuple[Floats, Floats]:
        """Way of each plume (m,) to the lid, and distance (nx, samples, m) of the lid from its axis, m."""
        air, streams = self.grid.air, self.streams
        across = (np.arange(LID_SAMPLES) + 0.5) / LID_SAMPLES * air.depth_m
        aside = air.x[:, None, None] - air.x[streams.column][None, None, :]
        radius = np.hypot(aside, across[None, :, None] - streams.y_m[None, None, :])
        return float(air.z_edges[-1]) - streams.start_m, radius

    def _lid(self, net: NetworkBuilder, film: Floats, driving: Driving) -> None:
        """Convection of a closed lid: free, and that of the jets that plumes make under it."""
        if not np.any(self._is_lid):
            return
        air, streams = self.grid.air, self.streams
        jet = jets_along(driving.under_lid_w, self._to_lid_m, self._from_axis_m, driving.share)
        patches = self.grid.patches
        node, cell = streams.node[self._is_lid], streams.cell[self._is_lid]
        area = patches.area_m2[self.closed][self._is_lid]
        free = film[self._is_lid] / area
        net.link(node, cell, np.hypot(free, jet[cell // air.nz]) * area)
