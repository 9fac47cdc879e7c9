"""An independent, slow reference for the light model: bright dots and straight rays, in plain numpy.

It shares neither the cutting of outlines nor the quadrature with the kernel. A source is cut into small
equal pieces; from each a ray goes to each point, and whatever solid it crosses stops it.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from noonshade.core.light.field import strength
from noonshade.core.light.screens import straight_through
from noonshade.core.light.shade import Obstacles, Solid, obstacles
from noonshade.core.light.sources import emitter, frame_of
from noonshade.core.plan import BeamSource, Fixture, LineSource, Mesh, PanelSource, Plan, TableSource

Floats = NDArray[np.float64]
MOST_RAYS = 400_000


def dots(fixture: Fixture, along: int, across: int) -> tuple[Floats, Floats]:
    """Middles (n, 3) of equal pieces of a lamp where it hangs, and the share (n,) of each."""
    g = fixture.lamp.geometry
    axis, side, _ = frame_of(fixture)
    if isinstance(g, BeamSource | TableSource):
        ring = (np.arange(across) + 0.5) / across
        radius, angle = np.meshgrid(
            g.diameter_m / 2 * np.sqrt(ring), 2 * math.pi * (np.arange(along) + 0.5) / along
        )
        u, v = (radius * np.cos(angle)).ravel(), (radius * np.sin(angle)).ravel()
    else:
        a = ((np.arange(along) + 0.5) / along - 0.5) * g.length_m
        b = ((np.arange(across) + 0.5) / across - 0.5) * g.width_m
        u, v = (m.ravel() for m in np.meshgrid(a, b, indexing="ij"))
    middle = np.array(fixture.position_m)
    return middle + u[:, None] * axis + v[:, None] * side, np.full(u.size, 1.0 / u.size)


def crosses(solid: Solid, start: Floats, way: Floats) -> NDArray[np.bool_]:
    """Whether rays start + t way, 0 < t < 1, pass through a convex solid; arrays (n, 3)."""
    if solid.rod is not None:
        return crosses_rod(solid.rod, start, way)
    at = start @ solid.planes[:, :3].T - solid.planes[:, 3]
    slope = way @ solid.planes[:, :3].T
    with np.errstate(divide="ignore", invalid="ignore"):
        t = -at / slope
    enter = np.where(slope < 0, t, -np.inf).max(axis=1)
    leave = np.where(slope > 0, t, np.inf).min(axis=1)
    apart = np.any((slope == 0) & (at > 0), axis=1)
    return (np.maximum(enter, 0.0) < np.minimum(leave, 1.0) - 1e-12) & ~apart


def crosses_rod(rod: Floats, start: Floats, way: Floats) -> NDArray[np.bool_]:
    """``crosses`` of a round rod, by the quadratic equation of its cylinder and the planes of its ends."""
    base, axis, length, radius = rod[:3], rod[3:6], rod[6], rod[7]
    off = start - base
    along, speed = off @ axis, way @ axis
    flat, drift = off - along[:, None] * axis, way - speed[:, None] * axis
    a = np.maximum((drift**2).sum(axis=1), 1e-30)
    b, c = (flat * drift).sum(axis=1), (flat**2).sum(axis=1) - radius**2
    root = b**2 - a * c
    with np.errstate(divide="ignore", invalid="ignore"):
        width = np.sqrt(np.maximum(root, 0.0))
        ends = np.stack([-along / speed, (length - along) / speed])
    enter = np.maximum((-b - width) / a, ends.min(axis=0))
    leave = np.minimum((-b + width) / a, ends.max(axis=0))
    return (root > 0) & (np.maximum(enter, 0.0) < np.minimum(leave, 1.0) - 1e-12)


def passed(things: Obstacles, start: Floats, way: Floats) -> Floats:
    """Share of light that gets along rays past solids and leaves."""
    share = np.ones(len(start))
    for group in things.groups:
        for solid in group.solids[1 if group.hull else 0 :]:
            share[crosses(solid, start, way)] = 0.0
    length = np.linalg.norm(way, axis=1)
    for leaf in things.foliage:
        low, high = np.array(leaf.box.bounds[:3]), np.array(leaf.box.bounds[3:])
        with np.errstate(divide="ignore"):
            a, b = (low - start) / way, (high - start) / way
        enter = np.maximum(np.minimum(a, b).max(axis=1), 0.0)
        leave = np.minimum(np.maximum(a, b).min(axis=1), 1.0)
        share *= np.exp(-leaf.per_m * np.maximum(leave - enter, 0.0) * length)
    return share


def intensity(fixture: Fixture, direction: Floats) -> Floats:
    """Relative intensity (n,) on the lamp's pattern, 1 along the aim; written out anew from the plan."""
    g = fixture.lamp.geometry
    axis, _, aim = frame_of(fixture)
    ahead = np.maximum(direction @ aim, 0.0)
    if isinstance(g, PanelSource):
        return ahead
    if isinstance(g, BeamSource):
        return ahead ** (math.log(0.5) / math.log(math.cos(math.radians(g.fwhm_deg / 2))))
    assert isinstance(g, LineSource)
    sine = np.sqrt(np.maximum(1.0 - (direction @ axis) ** 2, 1e-30))
    return sine if g.reflector_exponent is None else sine * (ahead / sine) ** g.reflector_exponent


def mesh_passes(mesh: Mesh, direction: Floats) -> Floats:
    """Share (n,) of light going down in a direction that passes a level mesh."""
    ratio = mesh.wire_m / mesh.pitch_m
    tangent = direction[:, :2] / np.minimum(direction[:, 2:], -1e-9)
    families = np.maximum(0.0, 1.0 - ratio * np.sqrt(1.0 + tangent**2))
    return np.asarray(families.prod(axis=1))


def vector_per_lamp(plan: Plan, fixture: Fixture, points: Floats, along: int, across: int) -> Floats:
    """Vector UV irradiance in units of UV index (n, 3) of one lamp, without bounce.

    A tube must have a reflector: it is bright all over its width.

    A lamp above the lid must be over a lid that is one mesh, or open.
    """
    middles, shares = dots(fixture, along, across)
    things = obstacles(plan)
    source = emitter(fixture.lamp.geometry)
    area = 4.0 * source.half_m[0] * source.half_m[1]
    if isinstance(fixture.lamp.geometry, BeamSource):
        area *= math.pi / 4
    elif isinstance(fixture.lamp.geometry, LineSource):
        area = 2.0 * source.half_m[0]
    scale = strength(fixture.lamp, source, fixture.power_w, fixture.hours).uvi * source.density * area
    top = plan.enclosure.walls["top"]
    outside = fixture.position_m[2] > plan.enclosure.height_m
    result = np.zeros((len(points), 3))
    block = max(1, MOST_RAYS // len(middles))
    for first in range(0, len(points), block):
        some = points[first : first + block]
        way = (some[:, None, :] - middles[None, :, :]).reshape(-1, 3)
        start = np.tile(middles, (len(some), 1))
        length = np.linalg.norm(way, axis=1)
        direction = way / length[:, None]
        light = passed(things, start, way) * np.tile(shares, len(some))
        light *= intensity(fixture, direction) / length**2
        if outside:
            reach = (plan.enclosure.height_m - start[:, 2]) / np.minimum(way[:, 2], -1e-12)
            hole = start + reach[:, None] * way
            size = (plan.enclosure.length_m, plan.enclosure.depth_m)
            light *= np.all((hole[:, :2] >= 0) & (hole[:, :2] <= size), axis=1)
            if top.mesh is not None:
                light *= mesh_passes(top.mesh, direction)
        light *= straight_through(fixture.screen).uv if fixture.screen is not None else 1.0
        towards = -direction * light[:, None]
        result[first : first + block] = scale * towards.reshape(len(some), len(middles), 3).sum(axis=1)
    return result
