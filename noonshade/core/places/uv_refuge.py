"""Where an animal can get away from UV: computed from the light, not declared."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter

from noonshade.core.built import built_parts
from noonshade.core.light.exposure import UV_FREE_UVI
from noonshade.core.light.field import Scene
from noonshade.core.light.shade import obstacles
from noonshade.core.places.perches import perch_points
from noonshade.core.plan import Leaves, Plan, Point
from noonshade.core.remembered import Remembered

Floats = NDArray[np.float64]

SPACING_M = 0.04
MOST_POINTS = 60


# Lamps that warm and give no UV come and go without changing it.
_WITHIN = Remembered["UvWithinReach"](32)
_DARKEST = Remembered[Point](32)


@dataclass(frozen=True, slots=True)
class UvWithinReach:
    """UV facing the light where the animal can be, at the height of its back.

    Over the ground: x (n,), y (m,), uvi and free of solids (n, m). On perches and in cover: points (k, 3)
    and uvi (k,); none for animals that do not climb.
    """

    x_m: Floats
    y_m: Floats
    uvi: Floats
    free: NDArray[np.bool_]
    perches_m: Floats
    perches_uvi: Floats
    by_height: bool = False

    @property
    def free_share(self) -> float:
        """Share of where the animal can be that is free of UV, 0–1.

        Animals that live by height are on perches and in cover; the ground counts where there are none.
        """
        ground = self.uvi[self.free]
        if self.perches_uvi.size == 0:
            used = ground
        else:
            used = self.perches_uvi if self.by_height else np.concatenate([ground, self.perches_uvi])
        return float(np.mean(used <= UV_FREE_UVI)) if used.size else 0.0

    @property
    def strongest(self) -> float:
        """The highest UV index it can get to."""
        return max(
            float(np.max(self.uvi[self.free], initial=0.0)), float(np.max(self.perches_uvi, initial=0.0))
        )


def uv_within_reach(plan: Plan, scene: Scene) -> UvWithinReach:
    """UV over the ground, under slabs and in hides too but not inside a solid, and on perches.

    Parameters
    ----------
    plan : Plan
        The plan.
    scene : Scene
        The lit scene.

    Returns
    -------
    UvWithinReach
        UV facing the light wherever the animal can be.
    """
    animal = plan.animal
    return _WITHIN.get(
        (*built_parts(plan), scene.uv_fixtures),
        (plan.fog_per_m, animal.back_height_m, animal.climbs, animal.lives_by_height),
        lambda: _within_reach(plan, scene),
    )


def _within_reach(plan: Plan, scene: Scene) -> UvWithinReach:
    raised = np.array(_raised(plan)).reshape(-1, 3) if plan.animal.climbs else np.empty((0, 3))
    uvi = scene.at(raised).uvi_facing if len(raised) else np.empty(0)
    return UvWithinReach(*_ground(plan, scene), raised, uvi, plan.animal.lives_by_height)


def find_uv_refuge(plan: Plan, scene: Scene) -> Point:
    """Middle of the place with the least UV that the animal's body fits into, m.

    Places are the ground, the heart of every block of leaves, and the upper side of branches and
    slabs. A place counts by its worst point within half a body length, facing the light.

    Parameters
    ----------
    plan : Plan
        The plan.
    scene : Scene
        The lit scene, None to build it.

    Returns
    -------
    Point
        The point (x, y, z) at back height, m.
    """
    animal = plan.animal
    return _DARKEST.get(
        (*built_parts(plan), scene.uv_fixtures),
        (plan.fog_per_m, animal.back_height_m, animal.body_length_m),
        lambda: _darkest(plan, scene),
    )


def _darkest(plan: Plan, scene: Scene) -> Point:
    x, y, uvi, free = _ground(plan, scene)
    step = float(x[1] - x[0]), float(y[1] - y[0])
    half = plan.animal.body_length_m / 2
    window = [2 * math.ceil(half / s - 1e-9) + 1 for s in step]
    worst = maximum_filter(np.where(free, uvi, np.inf), size=window, mode="nearest")
    i, j = np.unravel_index(int(np.argmin(worst)), worst.shape)
    best = float(worst[i, j])
    place: Point = (float(x[i]), float(y[j]), _back(plan))
    raised = np.array(_raised(plan)).reshape(-1, 3)
    if len(raised):
        # Where bodies fit on the ground and above it alike, the ground is taken.
        above = scene.at(raised).uvi_facing
        k = int(np.argmin(above))
        if not math.isfinite(best) or above[k] < best - 1e-6:
            place = (float(raised[k, 0]), float(raised[k, 1]), float(raised[k, 2]))
    return place


def _back(plan: Plan) -> float:
    ground = plan.substrate.depth_m
    return min(ground + plan.animal.back_height_m, plan.enclosure.height_m - 1e-3)


def _ground(plan: Plan, scene: Scene) -> tuple[Floats, Floats, Floats, NDArray[np.bool_]]:
    """Lattice x (n,), y (m,), UVI facing (n, m), and where it is not inside a solid (n, m)."""
    enclosure = plan.enclosure
    n, m = (
        int(np.clip(round(side / SPACING_M), 6, MOST_POINTS))
        for side in (enclosure.length_m, enclosure.depth_m)
    )
    x, y = (
        (np.arange(k) + 0.5) / k * side for k, side in ((n, enclosure.length_m), (m, enclosure.depth_m))
    )
    gx, gy = np.meshgrid(x, y, indexing="ij")
    points = np.stack([gx, gy, np.full(gx.shape, _back(plan))], axis=2)
    uvi = scene.on_lattice(points).uvi_facing.reshape(n, m)
    solid = obstacles(plan).contains(points.reshape(-1, 3)).reshape(n, m)
    return x, y, uvi, ~solid


def _raised(plan: Plan) -> list[Point]:
    """Perches and the cover of leaves, at the height of the animal's back."""
    ground, lift = plan.substrate.depth_m, plan.animal.back_height_m
    found = [(x, y, z + lift) for x, y, z in (p.position_m for p in perch_points(plan))]
    for item in plan.furnishings:
        if isinstance(item, Leaves):
            found.append((item.x_m, item.y_m, ground + item.underside_m + item.height_m / 2))
            found.append((item.x_m, item.y_m, ground + item.underside_m + lift))
    height = plan.enclosure.height_m - 1e-3
    return [(x, y, min(z, height)) for x, y, z in found]
