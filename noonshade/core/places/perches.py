"""Where a climbing animal rests: points on branches, ledges and hides, sorted by height."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from noonshade.core.places.ends import points_over_ground
from noonshade.core.plan import Branch, Hide, Plan, Point, Slab

Floats = NDArray[np.float64]
Level = Literal["upper", "middle", "lower"]
LEVELS: tuple[Level, ...] = ("upper", "middle", "lower")
LEVEL_LABELS: dict[Level, str] = {
    "upper": "Upper perches",
    "middle": "Middle perches",
    "lower": "Lower perches and ground",
}

# Points along a branch are this far apart, m.
SPACING_M = 0.1
# At most so many seats of a level are measured, evenly over its perches.
MOST_SEATS = 8
# What lies lower than this above the ground is no perch, m. Estimate.
LOWEST_PERCH_M = 0.10
# Perches within this of the highest count as upper ones where none reaches the upper third, m. Estimate.
NEAR_TOP_M = 0.06


@dataclass(frozen=True, slots=True)
class PerchPoint:
    """A point an animal can rest on: the upper side of a branch, slab or hide, and which thing it is."""

    thing_id: str
    label: str
    position_m: Point


def perch_points(plan: Plan) -> tuple[PerchPoint, ...]:
    """Every point above the ground a climbing animal rests on, the highest first.

    Points under the lid count only where the animal fits between.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[PerchPoint, ...]
        Points on the upper sides of branches, slabs and hides; empty without any.
    """
    ground, found = plan.substrate.depth_m, []
    for item in plan.furnishings:
        if isinstance(item, Branch):
            found += [PerchPoint(item.id, item.label, at) for at in _along(item)]
        elif isinstance(item, Slab):
            found.append(PerchPoint(item.id, item.label, (item.x_m, item.y_m, plan.top_of(item))))
        elif isinstance(item, Hide):
            top = ground + item.height_m
            found.append(PerchPoint(item.id, item.label, (item.x_m, item.y_m, top)))
    lowest, highest = ground + LOWEST_PERCH_M, plan.enclosure.height_m - plan.animal.back_height_m
    fitting = [p for p in found if lowest <= p.position_m[2] <= highest + 1e-9]
    return tuple(sorted(fitting, key=lambda p: -p.position_m[2]))


def _along(branch: Branch) -> list[Point]:
    start, end = np.array(branch.start_m), np.array(branch.end_m)
    way = end - start
    length = float(np.linalg.norm(way))
    # The upper side of a leaning branch is less than its radius above its axis.
    lift = branch.diameter_m / 2 * math.sqrt(max(1.0 - (way[2] / length) ** 2, 0.0))
    count = max(2, round(length / SPACING_M))
    points = start + (np.arange(count)[:, None] + 0.5) / count * way
    return [(float(x), float(y), float(z) + lift) for x, y, z in points]


@dataclass(frozen=True, slots=True)
class LevelPoints:
    """Where one level of a tall enclosure is measured: points at the animal's back, and its perches.

    ``low_m`` and ``high_m`` bound the heights of the level; ``perches`` is empty where it has none;
    ``seats`` of the points, the first, are on them.
    """

    level: Level
    label: str
    points: Floats
    low_m: float
    high_m: float
    perches: tuple[PerchPoint, ...]
    seats: int = 0


def level_points(plan: Plan) -> tuple[LevelPoints, ...]:
    """The thirds of an enclosure from the top down, each with where an animal sits in it.

    The upper third without a perch is that of the highest perches; without any perch, of the free air. The
    middle third is listed only with a perch in it. The ground belongs to the lower third.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[LevelPoints, ...]
        Upper, middle (if there is one) and lower.
    """
    ground, height = plan.substrate.depth_m, plan.enclosure.height_m
    third = (height - ground) / 3.0
    perches = perch_points(plan)
    low, high = ground + third, ground + 2.0 * third
    upper = tuple(p for p in perches if p.position_m[2] >= high)
    if not upper and perches and perches[0].position_m[2] > low:
        high = perches[0].position_m[2] - NEAR_TOP_M
        upper = tuple(p for p in perches if p.position_m[2] >= high)
    middle = tuple(p for p in perches if low <= p.position_m[2] < high)
    lower = tuple(p for p in perches if p.position_m[2] < low)
    length = plan.enclosure.length_m
    over_ground = points_over_ground(plan, (np.arange(4) + 0.5) / 4 * length)
    found = [
        _level(plan, "upper", upper, _free_air(plan, ground + 2.5 * third), high, height),
        _level(plan, "middle", middle, np.empty((0, 3)), low, high),
        _level(plan, "lower", lower, over_ground, ground, low),
    ]
    return tuple(level for level in found if len(level.points))


def _level(
    plan: Plan, level: Level, perches: tuple[PerchPoint, ...], beside: Floats, low_m: float, high_m: float
) -> LevelPoints:
    top = plan.enclosure.height_m - 1e-3
    back = plan.animal.back_height_m
    some = perches[:: max(1, math.ceil(len(perches) / MOST_SEATS))]
    seats = np.array([(x, y, min(z + back, top)) for x, y, z in (p.position_m for p in some)])
    parts = [seats.reshape(-1, 3)]
    if level == "lower" or not perches:
        parts.append(beside)
    label = LEVEL_LABELS[level]
    if level == "upper" and not perches:
        label = "Upper third"
    elif level == "lower" and not perches:
        label = "Ground"
    return LevelPoints(level, label, np.concatenate(parts), low_m, high_m, perches, len(some))


def _free_air(plan: Plan, z: float) -> Floats:
    length, depth = plan.enclosure.length_m, plan.enclosure.depth_m
    return np.array([(share * length, depth / 2, z) for share in (0.2, 0.5, 0.8)])
