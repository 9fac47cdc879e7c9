"""The light of all lamps together at points: UV index, radiant irradiance, illuminance, PPFD."""

from __future__ import annotations

from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.ageing import REFERENCE_H, uv_share
from noonshade.core.light.kernel import MOMENTS, cell_corners, metered
from noonshade.core.light.radiosity import HEAT_BAND, LIGHT_BAND, UV_BAND, reflections
from noonshade.core.light.returned import (
    Nodes,
    Response,
    light_sent_back,
    no_response,
    nodes_at,
    nodes_on_lattice,
    response,
)
from noonshade.core.light.screens import LightPath, light_paths
from noonshade.core.light.shade import NOTHING, Obstacles, obstacles
from noonshade.core.light.sources import UP, Emitter, emitter, frame_of, reference_response
from noonshade.core.plan import Fixture, Lamp, Plan

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

UV, RADIANT, LUMENS, PAR = range(4)
QUANTITIES = 4

# Two threads share large fields: the compiled loops let go of the interpreter.
_WORKERS = ThreadPoolExecutor(2, thread_name_prefix="light")
_FACED = np.array([UV, RADIANT])
_BAND = np.array([UV_BAND, HEAT_BAND, LIGHT_BAND, LIGHT_BAND])
# A lamp that gives less than this share of the light at a place is drawn no more coarsely for it.
_LEAST_SHARE = 0.01


@dataclass(frozen=True, slots=True)
class LampStrength:
    """What multiplies the geometric response (per emitted watt) of one fixture."""

    uvi: float
    radiant_w: float
    lumens: float
    par_umol_s: float = 0.0


@dataclass(frozen=True, slots=True)
class LightAtPoints:
    """Light at n points; every array has shape (n,).

    ``facing`` is a meter turned to the strongest light, ``level`` one that looks straight up.
    Irradiance and illuminance are of the lamps' own radiation. ``ppfd_umol_m2_s`` is level, of lamps
    meant for plants alone.
    """

    uvi_facing: Floats
    uvi_level: Floats
    irradiance_facing_w_m2: Floats
    irradiance_level_w_m2: Floats
    illuminance_level_lx: Floats
    ppfd_umol_m2_s: Floats


def strength(lamp: Lamp, source: Emitter, power_w: float, hours: float = REFERENCE_H) -> LampStrength:
    """Scale factors of a lamp at a power and age: UVI from its reference reading, the rest from watts.

    Parameters
    ----------
    lamp : Lamp
        The lamp.
    source : Emitter
        The source.
    power_w : float
        Power, W.
    hours : float
        Hours the lamp has burned, or those by fixture.

    Returns
    -------
    LampStrength
        Scale factors of a lamp at a power and age.
    """
    radiant = power_w * lamp.forward_radiant
    uvi = 0.0
    if lamp.uv is not None:
        uvi = lamp.uv.uvi / reference_response(source, lamp.uv.distance_m)
        uvi *= power_w / lamp.power_w * uv_share(lamp.ageing, hours)
    lumens = radiant * lamp.lumens_per_radiant_watt
    return LampStrength(uvi, radiant, lumens, lumens / lamp.lux_per_ppfd if lamp.lux_per_ppfd else 0.0)


@dataclass(frozen=True, slots=True)
class _LitSource:
    """One lamp by one way into the enclosure: geometry, and its scale for the four quantities."""

    fixture: Fixture
    source: Emitter
    frame: Floats
    number: int
    way: LightPath
    scale: Floats

    def at(self, points: Floats, normals: Floats) -> tuple[Floats, Floats]:
        return self.source.at(
            self.fixture.position_m, points, normals, self.way.rows, self.way.obstacles, self.frame
        )

    def on_lattice(self, points: Floats, shape: tuple[int, int], slack: Floats) -> Floats:
        return self.source.on_lattice(
            self.fixture.position_m, points, shape, self.way.rows, self.way.obstacles, self.frame, slack
        )

    def unshaded(self, points: Floats) -> Floats:
        """Length of the vector irradiance at points (n, 3) with nothing in the way but screens."""
        normals = np.tile(UP, (len(points), 1))
        vector, _ = self.source.at(
            self.fixture.position_m, points, normals, self.way.rows, NOTHING, self.frame
        )
        length: Floats = np.linalg.norm(vector, axis=1)
        return length


class Scene:
    """The lamps of a plan, what is in their way, and the light that comes back from everything else.

    Parameters
    ----------
    plan : Plan
    fixtures : tuple of Fixture
        Those that are lit.
    dimming : mapping, optional
        Mean power as a fraction of full, by fixture id; 1 where absent. It scales radiant heat
        and light, not UV: dimmed lamps in the catalogue give none.
    fineness : int
        Multiplies the resolution of sources, for reference solutions.
    bounce : bool
        Whether anything sends light back.
    inner_reflectance : float, optional
        What the ground and all closed faces of the enclosure send back of every band, in place of their
        materials.
    """

    def __init__(
        self,
        plan: Plan,
        fixtures: tuple[Fixture, ...],
        dimming: Mapping[str, float] | None = None,
        fineness: int = 1,
        bounce: bool = True,
        inner_reflectance: float | None = None,
    ) -> None:
        self.obstacles: Obstacles = obstacles(plan)
        self.uv_fixtures = tuple(f for f in fixtures if f.lamp.uv is not None)
        self.shining: list[_LitSource] = []
        for fixture in fixtures:
            if fixture.against is not None:
                continue
            source = emitter(fixture.lamp.geometry, fineness)
            share = 1.0 if dimming is None else dimming.get(fixture.id, 1.0)
            s = strength(fixture.lamp, source, fixture.power_w, fixture.hours)
            for number, way in enumerate(light_paths(plan, fixture, self.obstacles)):
                band = way.bands
                scale = np.array(
                    [
                        s.uvi * band.uv,
                        s.radiant_w * share * band.heat_of(fixture.lamp),
                        s.lumens * share * band.visible,
                        s.par_umol_s * share * band.visible,
                    ]
                )
                self.shining.append(_LitSource(fixture, source, frame_of(fixture), number, way, scale))
        self._scales = np.array([s.scale for s in self.shining]).reshape(-1, QUANTITIES)
        self._reflected = reflections(plan, inner_reflectance) if bounce and self.shining else None
        self._responses: list[Response] = []
        if self._reflected is not None:
            self._responses = [
                response(plan, s.fixture, s.number, s.way, s.source, self._reflected)
                if s.fixture.lamp.gives_light or inner_reflectance is not None
                # Surfaces send back less than a tenth of long-wave heat.
                else no_response(s.fixture, s.source, self._reflected)
                for s in self.shining
            ]

    def at(self, points: Floats) -> LightAtPoints:
        """Light at points (n, 3) in m.

        Parameters
        ----------
        points : Floats
            Points, shape (n, 3), m.

        Returns
        -------
        LightAtPoints
            UV index, irradiance, W/m², and illuminance, lx, at each point.
        """
        points = np.ascontiguousarray(points, dtype=np.float64).reshape(-1, 3)
        vectors, levels = self._direct(points, np.tile(UP, (len(points), 1)))
        parts = np.concatenate([vectors, levels[:, :, None]], axis=2)
        nodes = None if self._reflected is None else nodes_at(self._reflected, points)
        return self._combined(parts, nodes)

    def on_lattice(self, points: Floats) -> LightAtPoints:
        """Light at a lattice of points (rows, columns, 3) in a plane; arrays (rows · columns,).

        Parameters
        ----------
        points : Floats
            Points, shape (n, 3), m.

        Returns
        -------
        LightAtPoints
            Light at a lattice of points (rows, columns, 3) in a plane.
        """
        return self.on_lattices([points])[0]

    def on_lattices(self, lattices: list[Floats]) -> list[LightAtPoints]:
        """Light on several lattices, computed together.

        Parameters
        ----------
        lattices : list[Floats]
            Lattices of points, each shape (n, 3), m.

        Returns
        -------
        list[LightAtPoints]
            One result for each lattice, in their order.
        """
        jobs = []
        for points in lattices:
            flat = np.ascontiguousarray(points, dtype=np.float64).reshape(-1, 3)
            shape = points.shape[:2]
            slack = self._slack(points)
            direct = [
                _WORKERS.submit(s.on_lattice, flat, shape, loose)
                for s, loose in zip(self.shining, slack, strict=True)
            ]
            jobs.append((direct, _WORKERS.submit(self._nodes_on, points)))
        found = []
        for points, (direct, nodes) in zip(lattices, jobs, strict=True):
            parts = np.array([job.result() for job in direct])
            parts = parts.reshape(len(direct), points.shape[0] * points.shape[1], 4)
            found.append(_WORKERS.submit(self._combined, parts, nodes.result()))
        return [job.result() for job in found]

    def _nodes_on(self, lattice: Floats) -> Nodes | None:
        return None if self._reflected is None else nodes_on_lattice(self._reflected, lattice)

    def _combined(self, parts: Floats, nodes: Nodes | None) -> LightAtPoints:
        """All quantities from unscaled vectors and levels (lamps, n, 4), and what is sent back at nodes."""
        if nodes is None:
            shape = (parts.shape[1], 4)
            back = np.zeros((1, QUANTITIES + MOMENTS * len(_FACED)))
            at, weights = np.zeros(shape, dtype=np.int32), np.zeros(shape, dtype=np.float32)
        else:
            back = light_sent_back(nodes, self._responses, self._scales, _BAND, _FACED)
            at, weights = nodes.nodes, nodes.weights
        read = metered(np.ascontiguousarray(parts), self._scales, back, at, weights, _FACED)
        return LightAtPoints(
            uvi_facing=read[QUANTITIES],
            uvi_level=read[UV],
            irradiance_facing_w_m2=read[QUANTITIES + 1],
            irradiance_level_w_m2=read[RADIANT],
            illuminance_level_lx=read[LUMENS],
            ppfd_umol_m2_s=read[PAR],
        )

    def _slack(self, lattice: Floats) -> list[Floats]:
        """For each lamp and cell of a lattice: light of all lamps over its own, unshaded, ≥ 1.

        Of the quantities it is that of which the lamp gives most.
        """
        rows, columns = cell_corners(lattice.shape[:2])
        corners = np.ascontiguousarray(lattice[np.ix_(rows, columns)].reshape(-1, 3))
        lengths = np.array([s.unshaded(corners) for s in self.shining]).reshape(-1, len(corners))
        own = lengths[:, :, None] * self._scales[:, None, :]
        share = (own / np.maximum(own.sum(axis=0), 1e-300)).max(axis=2, initial=0.0)
        share = share.reshape(-1, len(rows), len(columns))
        for axis in (1, 2):
            first, last = share.shape[axis] - 1, share.shape[axis]
            share = np.maximum(np.take(share, range(first), axis), np.take(share, range(1, last), axis))
        return list(np.ascontiguousarray(1.0 / np.clip(share, _LEAST_SHARE, 1.0)))

    def _direct(self, points: Floats, normals: Floats) -> tuple[Floats, Floats]:
        """Unscaled vector irradiance (lamps, n, 3) and irradiance on the normals (lamps, n) by lamp."""
        parts = [shining.at(points, normals) for shining in self.shining]
        n = len(points)
        vectors = np.array([vector for vector, _ in parts]).reshape(len(parts), n, 3)
        return vectors, np.array([level for _, level in parts]).reshape(len(parts), n)


def light_at(
    plan: Plan,
    points: Floats,
    fixtures: tuple[Fixture, ...],
    dimming: Mapping[str, float] | None = None,
) -> LightAtPoints:
    """Light at a few points (n, 3) from the given fixtures; see ``Scene``.

    Parameters
    ----------
    plan : Plan
        The plan.
    points : Floats
        Points, shape (n, 3), m.
    fixtures : tuple[Fixture, ...]
        The fixtures.
    dimming : Mapping[str, float] | None
        Fractions of full power, by fixture.

    Returns
    -------
    LightAtPoints
        Light at a few points (n, 3) from the given fixtures.
    """
    return Scene(plan, fixtures, dimming).at(points)
