"""Light that lamps do not send straight: what surfaces scatter and panes mirror, at points and lattices."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.kernel import (
    MOMENTS,
    Indices,
    Shares,
    add_mirrored,
    covered,
    gather,
    screened,
    weigh_nodes,
)
from noonshade.core.light.mirrors import Image, images_of
from noonshade.core.light.radiosity import Reflections, look_around
from noonshade.core.light.screens import LightPath, forward_scatter, screen_rows
from noonshade.core.light.shade import NOTHING
from noonshade.core.light.sources import UP, Emitter, emitter, frame_of, screened_share, sphere
from noonshade.core.light.surfaces import QUARTERS
from noonshade.core.plan import BeamSource, Fixture, LineSource, Mesh, PanelSource, Plan, Point
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

BANDS = 3
# Rays by which a point, and a node of a lattice, looks around.
RAYS = 1024
NODE_RAYS = 192
# How far apart nodes of a lattice are, at least.
NODE_M = 0.05
# A patch nearer to a lamp than this many times its side is looked at in nine places for each quarter.
_CLOSE = 1.5
# A cosine source is half as bright at 60°.
_LAMBERTIAN_DEG = 120.0
_THIRDS = (-1.0 / 3.0, 0.0, 1.0 / 3.0)


class Nodes(NamedTuple):
    """Where light sent back is computed, and how the points asked for are filled in from there.

    ``points`` (k, 3); for each point asked for, ``nodes`` (n, 4) and their ``weights`` (n, 4).
    ``elements`` and ``shares`` are what rays from each node meet, as ``look_around`` tells.
    """

    points: Floats
    nodes: Indices
    weights: Shares
    ways: Floats
    elements: Indices
    shares: Shares


@dataclass(frozen=True, slots=True, eq=False)
class Glow:
    """Wires of a mesh under a lamp as a second source, wide and as large as the lamp.

    It sends ``share`` of what the lamp emits, past the screens ``rows`` and what ``way`` has in the way.
    """

    position_m: Point
    source: Emitter
    frame: Floats
    share: float
    rows: Floats
    way: LightPath

    def at(self, points: Floats, normals: Floats) -> tuple[Floats, Floats]:
        """Vectors (n, 3) and light on normals (n,) per watt the lamp emits.

        Parameters
        ----------
        points : Floats
            Points, shape (n, 3), m.
        normals : Floats
            Unit normals, shape (n, 3).

        Returns
        -------
        tuple[Floats, Floats]
            Both in W/m² per emitted watt.
        """
        vector, on_normal = self.source.at(
            self.position_m, points, normals, self.rows, self.way.obstacles, self.frame
        )
        return vector * self.share, on_normal * self.share


@dataclass(frozen=True, slots=True, eq=False)
class Response:
    """What one lamp, by one way into the enclosure, makes surfaces send out for each watt it emits.

    ``exitance`` (4 p, 3) is of the quarters of all patches, for UV, radiant heat and light apart. ``glow``
    is what the wires of a mesh under the lamp send on.
    """

    fixture: Fixture
    source: Emitter
    frame: Floats
    images: tuple[Image, ...]
    glow: Glow | None
    exitance: Floats


def mirrored_light(
    fixture: Fixture, source: Emitter, frame: Floats, image: Image, points: Floats, normals: Floats
) -> tuple[Floats, Floats, Floats]:
    """Light of a lamp's image at points.

    Parameters
    ----------
    fixture : Fixture
        The lamp where it hangs.
    source : Emitter
        Its bright shape.
    frame : Floats
        Unit vectors along, across and ahead of the source, shape (3, 3).
    image : Image
        The image.
    points : Floats
        Points, shape (n, 3), m.
    normals : Floats
        Unit normals, shape (n, 3).

    Returns
    -------
    tuple[Floats, Floats, Floats]
        Vectors (n, 3) and irradiance on the normals (n,) per emitted watt, and shares by band (n, 3).
    """
    way = image.way
    vector, on_normal = source.at(
        fixture.position_m, image.behind(points), image.turned(normals), way.rows, way.obstacles, frame
    )
    vector = image.turned(vector)
    shares = image.band_shares(vector)
    return vector, on_normal, shares


# Compiled code holds no lock of the interpreter.
_WORKERS = ThreadPoolExecutor(2, thread_name_prefix="mirrors")
_RESPONSES = Remembered[Response](96)


def response(
    plan: Plan, fixture: Fixture, number: int, way: LightPath, source: Emitter, reflected: Reflections
) -> Response:
    """What a lamp by one way makes surfaces send out, remembered while nothing it meets is moved.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The lamp.
    number : int
        Which of its ways.
    way : LightPath
        That way.
    source : Emitter
        Its bright shape.
    reflected : Reflections
        The patches of the enclosure.

    Returns
    -------
    Response
        Per emitted watt.
    """
    hangs = (fixture.position_m, fixture.turn_deg, fixture.lean_deg, fixture.tilt_deg)
    return _RESPONSES.get(
        (reflected, fixture.lamp.geometry, fixture.screen),
        (*hangs, fixture.screen_measured, number, source.fineness),
        partial(_response, plan, fixture, way, source, reflected),
    )


def no_response(fixture: Fixture, source: Emitter, reflected: Reflections) -> Response:
    """Of a lamp whose light nothing sends back.

    Parameters
    ----------
    fixture : Fixture
        The lamp.
    source : Emitter
        Its bright shape.
    reflected : Reflections
        The patches of the enclosure.

    Returns
    -------
    Response
        Without images, glow and exitance.
    """
    exitance = np.zeros((reflected.surfaces.quarters.reshape(-1, 3).shape[0], BANDS))
    return Response(fixture, source, frame_of(fixture), (), None, exitance)


def _response(
    plan: Plan, fixture: Fixture, way: LightPath, source: Emitter, reflected: Reflections
) -> Response:
    s = reflected.surfaces
    frame = frame_of(fixture)
    images = images_of(plan, fixture.position_m, way, s.panes)
    quarters = s.quarters.reshape(-1, 3)
    normals = np.repeat(s.normal, QUARTERS, axis=0)
    used = s.free.ravel() > 0.0
    level = np.zeros(len(quarters))
    _, level[used] = source.at(
        fixture.position_m, quarters[used], normals[used], way.rows, way.obstacles, frame
    )
    near = np.flatnonzero(
        np.repeat(_near(source, fixture, frame, reflected, s.quads.mean(axis=1)), QUARTERS)
        & (s.free.ravel() == 1.0)
    )
    if len(near):
        along = np.repeat(s.quads[:, 1] - s.quads[:, 0], QUARTERS, axis=0)[near] / 2
        across = np.repeat(s.quads[:, 3] - s.quads[:, 0], QUARTERS, axis=0)[near] / 2
        spots = np.stack([quarters[near] + a * along + b * across for a in _THIRDS for b in _THIRDS])
        _, more = source.at(
            fixture.position_m,
            spots.reshape(-1, 3),
            np.tile(normals[near], (len(spots), 1)),
            way.rows,
            way.obstacles,
            frame,
        )
        level[near] = more.reshape(len(spots), -1).mean(axis=0)
    direct = np.repeat(level[:, None], BANDS, axis=1)
    for mirrored in _WORKERS.map(partial(_mirrored, fixture, source, frame, reflected), images):
        direct += mirrored
    glow = _glow_of(fixture, source, frame, way)
    if glow is not None:
        _, on_normal = glow.at(quarters[used], normals[used])
        direct[used] += on_normal[:, None]
    own = _scattered_by_mesh(plan, fixture, source, frame, reflected)
    exitance = reflected.exitance(direct.reshape(-1, QUARTERS, BANDS), own)
    return Response(fixture, source, frame, images, glow, exitance)


def _mirrored(
    fixture: Fixture, source: Emitter, frame: Floats, reflected: Reflections, image: Image
) -> Floats:
    """Light of a lamp's image on the quarters of all patches (4 p, 3), per emitted watt.

    What is mirrored is little and comes from afar: a free patch is looked at in its middle, unless the
    image is near.
    """
    s = reflected.surfaces
    middle = s.quads.mean(axis=1)
    near = _near(source, fixture, frame, reflected, image.behind(middle))
    whole = (s.free.reshape(-1, QUARTERS) == 1.0).all(axis=1) & ~near
    single = np.flatnonzero(~np.repeat(whole, QUARTERS) & (s.free.ravel() > 0.0))
    normals = np.concatenate([s.normal[whole], s.normal[single // QUARTERS]])
    points = np.concatenate([middle[whole], s.quarters.reshape(-1, 3)[single]])
    _, on_normal, shares = mirrored_light(fixture, source, frame, image, points, normals)
    light = on_normal[:, None] * shares
    found = np.zeros((s.free.size, BANDS))
    count = int(whole.sum())
    found[np.repeat(whole, QUARTERS)] = np.repeat(light[:count], QUARTERS, axis=0)
    found[single] = light[count:]
    return found


def _glow_of(fixture: Fixture, source: Emitter, frame: Floats, way: LightPath) -> Glow | None:
    mesh, geometry = fixture.screen, fixture.lamp.geometry
    if not isinstance(mesh, Mesh):
        return None
    own, _ = screen_rows(mesh, None)
    measured = 1.0 if fixture.screen_measured is None else fixture.screen_measured / mesh.open_fraction
    share = forward_scatter(mesh) * measured * (1.0 - screened_share(source, own, frame))
    if isinstance(geometry, LineSource | PanelSource):
        wide = emitter(PanelSource(geometry.length_m, geometry.width_m))
    else:
        wide = emitter(BeamSource(_LAMBERTIAN_DEG, geometry.diameter_m))
    return Glow(fixture.position_m, wide, frame, share, way.rows[len(own) :], way)


def _near(
    source: Emitter, fixture: Fixture, frame: Floats, reflected: Reflections, middle: Floats
) -> NDArray[np.bool_]:
    """Whether patches (p,) with their middles (p, 3) are so near to a lamp that its light changes much
    within a quarter of one.
    """
    s = reflected.surfaces
    bright = source.hung(fixture.position_m, frame).bright
    away = middle - np.clip(middle, bright[:3], bright[3:])
    found: NDArray[np.bool_] = np.linalg.norm(away, axis=1) < _CLOSE * np.sqrt(s.area_m2)
    return found


def _scattered_by_mesh(
    plan: Plan, fixture: Fixture, source: Emitter, frame: Floats, reflected: Reflections
) -> Floats:
    """What the wires of a mesh before a lamp outside send on inwards, (p, 3) per emitted watt."""
    s = reflected.surfaces
    own = np.zeros((len(s.area_m2), BANDS))
    face = plan.enclosure.beyond(fixture.position_m)
    if face is None:
        return own
    rows, bands = screen_rows(fixture.screen, fixture.screen_measured)
    for part, (wall, _) in enumerate(plan.enclosure.parts(face)):
        if wall.mesh is None or (face, part) not in s.part_names:
            continue
        here = np.flatnonzero(s.parts == s.part_names.index((face, part)))
        if not len(here):
            continue
        points, normals = s.quads[here].mean(axis=1), -s.normal[here]
        vector, arriving = source.at(fixture.position_m, points, normals, rows, NOTHING, frame)
        length = np.maximum(np.linalg.norm(vector, axis=1, keepdims=True), 1e-300)
        mesh_rows, _ = screen_rows(wall.mesh, None, face)
        passed = screened(np.ascontiguousarray(-vector / length), frame, mesh_rows)
        # What a keeper measured below the mesh has this light in it, so it counts for both.
        measured = 1.0 if wall.measured_uv is None else wall.measured_uv / wall.mesh.open_fraction
        sent = forward_scatter(wall.mesh) * measured * (1.0 - passed) * arriving
        own[here] = sent[:, None] * np.array([bands.uv, bands.heat_of(fixture.lamp), bands.visible])
    return own


_NODES = Remembered[Nodes](40)


def nodes_at(reflected: Reflections, points: Floats) -> Nodes:
    """A node at every point, remembered while nothing in the enclosure is moved.

    Parameters
    ----------
    reflected : Reflections
        The patches of the enclosure.
    points : Floats
        Points, shape (n, 3), m.

    Returns
    -------
    Nodes
        The points and what they see.
    """

    def made() -> Nodes:
        count = len(points)
        ways = sphere(RAYS)
        weights = np.zeros((count, 4), dtype=np.float32)
        weights[:, 0] = 1.0
        nodes = np.tile(np.arange(count, dtype=np.int32)[:, None], (1, 4))
        inside = _inside(reflected, points)
        return Nodes(inside, nodes, weights, ways, *look_around(reflected, inside, ways))

    return _NODES.get((reflected,), ("points", points.tobytes()), made)


def nodes_on_lattice(reflected: Reflections, lattice: Floats) -> Nodes:
    """Some points of a lattice, and those that see none of them; remembered as ``nodes_at``.

    Parameters
    ----------
    reflected : Reflections
        The patches of the enclosure.
    lattice : Floats
        Points, shape (rows, columns, 3), m.

    Returns
    -------
    Nodes
        The nodes, and how every point is filled in from them.
    """
    corners = tuple(lattice[r, c].tobytes() for r in (0, -1) for c in (0, -1))
    return _NODES.get((reflected,), (lattice.shape, *corners), partial(_on_lattice, reflected, lattice))


def _on_lattice(reflected: Reflections, lattice: Floats) -> Nodes:
    rows, columns = lattice.shape[:2]
    flat = np.ascontiguousarray(lattice.reshape(-1, 3))
    at = [
        _strided(
            count,
            float(
                np.linalg.norm(lattice[-1, -1] - lattice[-1, 0] if k else lattice[-1, 0] - lattice[0, 0])
            ),
        )
        for k, count in enumerate((rows, columns))
    ]
    index = (at[0][:, None] * columns + at[1]).ravel()
    occluders, box = reflected.obstacles.occluders, reflected.surfaces.sheets.box
    points = _inside(reflected, flat)
    usable = 1 - covered(points[index], box, occluders)
    nodes = np.zeros((len(flat), 4), dtype=np.int32)
    weights = np.zeros((len(flat), 4), dtype=np.float32)
    lonely = weigh_nodes(points, columns, at[0], at[1], usable, occluders, nodes, weights)
    alone = np.flatnonzero(lonely)
    alone = alone[covered(points[alone], box, occluders) == 0]
    nodes[alone, 0] = len(index) + np.arange(len(alone))
    weights[alone, 0] = 1.0
    spots = np.ascontiguousarray(np.concatenate([points[index], points[alone]]))
    ways = sphere(NODE_RAYS)
    return Nodes(spots, nodes, weights, ways, *look_around(reflected, spots, ways))


def _inside(reflected: Reflections, points: Floats) -> Floats:
    """Points at least a hair inside the faces of the enclosure."""
    box = reflected.surfaces.sheets.box
    return np.ascontiguousarray(np.clip(points, box[:3] + 1e-6, box[3:] - 1e-6))


def _strided(count: int, length: float) -> Ints:
    """Evenly spaced indices about ``NODE_M`` apart, and the last."""
    spacing = length / max(count - 1, 1)
    stride = max(1, round(NODE_M / max(spacing, 1e-9)))
    return np.unique(np.r_[np.arange(0, count, stride), count - 1]).astype(np.int64)


def light_sent_back(
    nodes: Nodes, responses: Sequence[Response], scales: Floats, bands: Ints, faced: Ints
) -> Floats:
    """Light sent back at nodes: level irradiance of each quantity, then moments of those also faced.

    Parameters
    ----------
    nodes : Nodes
        Where.
    responses : sequence of Response
        Of every lamp by every way.
    scales : Floats
        Strength of each for every quantity, shape (lamps, q).
    bands : Ints
        The band of each quantity, shape (q,).
    faced : Ints
        Quantities also read by a meter turned to the light, shape (f,).

    Returns
    -------
    Floats
        As ``metered`` takes it, shape (k, q + 10 f).
    """
    quantities = len(bands)
    found = np.zeros((len(nodes.points), quantities + MOMENTS * len(faced)))
    if not responses:
        return found
    exitance = np.zeros((len(responses[0].exitance), quantities))
    for one, scale in zip(responses, scales, strict=True):
        exitance += one.exitance[:, bands] * scale
    gather(nodes.elements, nodes.shares, nodes.ways, exitance, bands, faced, found)
    normals = np.tile(UP, (len(nodes.points), 1))
    for one, scale in zip(responses, scales, strict=True):
        if one.glow is not None:
            vector, level = one.glow.at(nodes.points, normals)
            add_mirrored(vector, level, np.tile(scale, (len(vector), 1)), faced, found)
        for image in one.images:
            vector, level, shares = mirrored_light(
                one.fixture, one.source, one.frame, image, nodes.points, normals
            )
            add_mirrored(vector, level, np.ascontiguousarray(shares[:, bands] * scale), faced, found)
    return found
