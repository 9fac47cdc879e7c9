"""Light that comes back from everything in an enclosure, over all bounces."""

from __future__ import annotations

import math
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from noonshade.core.built import built_parts
from noonshade.core.light.kernel import (
    Indices,
    Shares,
    exchange,
    foliage_between,
    seen_elements,
)
from noonshade.core.light.shade import Obstacles, obstacles
from noonshade.core.light.surfaces import Surfaces, find_surfaces
from noonshade.core.plan import Plan
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]

UV_BAND, HEAT_BAND, LIGHT_BAND = range(3)
# Passes that make what every patch sends out arrive somewhere, and how far one may change a patch.
_CLOSING = 4
_MOST_CLOSING = 2.0
# A bounce that changes no patch by more than this share of the brightest is the last.
_LAST_BOUNCE = 1e-4
_MOST_BOUNCES = 200

# Two threads share the form factors: the compiled loops let go of the interpreter.
_WORKERS = ThreadPoolExecutor(2, thread_name_prefix="form factors")


@dataclass(frozen=True, slots=True, eq=False)
class Reflections:
    """The patches of an enclosure and what they send each other.

    ``factors`` (p, p): of what falls on patch i, the part that patch j sends, for each unit of its
    exitance.
    """

    surfaces: Surfaces
    factors: Floats
    obstacles: Obstacles

    def exitance(self, direct: Floats, own: Floats) -> Floats:
        """What the quarters of all patches send out, of each band, after all bounces.

        Parameters
        ----------
        direct : Floats
            Irradiance of the quarters by lamps and by lamps in mirrors, shape (p, 4, 3).
        own : Floats
            What they send out besides, shape (p, 3).

        Returns
        -------
        Floats
            Exitance (4 p, 3).
        """
        s = self.surfaces
        weight = s.free / np.maximum(s.free.sum(axis=1, keepdims=True), 1e-300)
        first = s.reflectance * np.einsum("pq,pqb->pb", weight, direct) + own
        # Panes mirror lamps, which are in ``direct``, and here, as if they were matt, what others send
        # them.
        back = s.reflectance + s.mirrored
        sent = first
        for _ in range(_MOST_BOUNCES):
            arrived = self.factors @ sent
            then = first + back * arrived
            change = np.abs(then - sent).max(axis=0, initial=0.0)
            sent = then
            if np.all(change <= _LAST_BOUNCE * np.maximum(sent.max(axis=0, initial=0.0), 1e-300)):
                break
        arrived = self.factors @ sent
        found: Floats = s.reflectance[:, None, :] * (direct + arrived[:, None, :]) + own[:, None, :]
        return found.reshape(-1, 3)


_REFLECTIONS = Remembered[Reflections](12)


def reflections(plan: Plan, inner_reflectance: float | None = None) -> Reflections:
    """The patches of an enclosure and their form factors, remembered while nothing in it is moved.

    Parameters
    ----------
    plan : Plan
        The plan.
    inner_reflectance : float, optional
        As ``find_surfaces`` takes it.

    Returns
    -------
    Reflections
        The patches and factors.
    """
    return _REFLECTIONS.get(
        built_parts(plan),
        (plan.fog_per_m, inner_reflectance),
        partial(_reflections, plan, inner_reflectance),
    )


def _reflections(plan: Plan, inner_reflectance: float | None) -> Reflections:
    surfaces = find_surfaces(plan, inner_reflectance)
    inside = obstacles(plan)
    return Reflections(surfaces, form_factors(surfaces, inside), inside)


def form_factors(surfaces: Surfaces, inside: Obstacles) -> Floats:
    """Form factors (p, p) of the patches of an enclosure: row i says where the light on patch i is from.

    Everything in an enclosure is some patch, open faces included, so each row sums to 1, but for leaves.

    Parameters
    ----------
    surfaces : Surfaces
        The patches.
    inside : Obstacles
        What is in the way.

    Returns
    -------
    Floats
        The factors.
    """
    count = len(surfaces.area_m2)
    given = np.zeros((count, count))
    fill = partial(
        exchange,
        np.ascontiguousarray(surfaces.quads),
        np.ascontiguousarray(surfaces.normal),
        surfaces.quarters,
        surfaces.free,
        surfaces.area_m2,
        inside.occluders,
    )
    # Rows above the diagonal: the first rows are the longest.
    half = int(count * (1.0 - math.sqrt(0.5)))
    jobs = [_WORKERS.submit(fill, a, b, given) for a, b in ((0, half), (half, count))]
    for job in jobs:
        job.result()
    free = surfaces.free_m2
    for _ in range(_CLOSING):
        scale = np.sqrt(np.clip(free / np.maximum(given.sum(axis=1), 1e-300), 0.0, _MOST_CLOSING**2))
        given *= scale[:, None] * scale
    if len(inside.occluders.leaves):
        foliage_between(surfaces.quads.mean(axis=1), inside.occluders.leaves, given)
    given /= free[:, None]
    return given


def look_around(reflected: Reflections, points: Floats, ways: Floats) -> tuple[Indices, Shares]:
    """What rays from points meet first: places (n, m) and what gets from there to the point (n, m, 3).

    Parameters
    ----------
    reflected : Reflections
        The patches.
    points : Floats
        Points, shape (n, 3), m.
    ways : Floats
        Directions, shape (m, 3).

    Returns
    -------
    tuple[Indices, Shares]
        Quarters of patches, −1 where nothing is sent back, and shares by band.
    """
    shape = (len(points), len(ways))
    elements = np.empty(shape, dtype=np.int32)
    shares = np.empty((*shape, 3), dtype=np.float32)
    sheets, occluders = reflected.surfaces.sheets, reflected.obstacles.occluders
    half = len(points) // 2
    jobs = [
        _WORKERS.submit(seen_elements, points[a:b], ways, sheets, occluders, elements[a:b], shares[a:b])
        for a, b in ((0, half), (half, len(points)))
        if b > a
    ]
    for job in jobs:
        job.result()
    return elements, shares
