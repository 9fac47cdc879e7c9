"""What the animal can reach, and how near lamps come to it and to what burns."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from noonshade.core.plan import (
    FACES,
    Background,
    Branch,
    Face,
    Fixture,
    Furnishing,
    Hide,
    Leaves,
    Plan,
    Point,
    Water,
)

# Nearest a lamp of some tens of watts should come to anything the animal can stand on. Estimate;
# the lamp's own instructions go first.
LEAST_CLEARANCE_M = 0.20
# The same for a heater behind a guard, a panel, or a lamp outside the mesh, whose wires keep it off: less,
# never nothing. Estimates.
LEAST_GUARDED_M = 0.10
# Nearest a hot lamp should come to a wall, lid or background that can burn or melt. Estimate, as above.
LEAST_TO_WALLS_M = 0.10
# Walls a climbing animal holds on to must be as far from a bulb as it can reach. Estimate.
LEAST_TO_CLIMBED_M = 0.15


def nearest_reachable(plan: Plan, fixture: Fixture) -> tuple[float, str]:
    """Distance in m from a lamp to the nearest thing the animal can stand on, and its name.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The fixture.

    Returns
    -------
    tuple[float, str]
        The distance, m, and what the animal would stand on, in words.
    """
    return nearest_thing(plan.furnishings, plan.substrate.depth_m, fixture.position_m)


def nearest_thing(
    furnishings: Iterable[Furnishing], ground_m: float, position_m: Point
) -> tuple[float, str]:
    """Distance in m from a point to the nearest thing an animal can stand on, and its name.

    Parameters
    ----------
    furnishings : Iterable[Furnishing]
        What stands in the enclosure.
    ground_m : float
        Depth of the ground, m.
    position_m : Point
        The point, m.

    Returns
    -------
    tuple[float, str]
        The distance, m, and what the animal would stand on, in words.
    """
    best = (position_m[2] - ground_m, "The substrate")
    for item in furnishings:
        distance = _distance(item, ground_m, position_m)
        if distance < best[0]:
            best = (distance, item.label)
    return best


def _distance(item: Furnishing, ground: float, lamp: Point) -> float:
    """Distance in m from a lamp to what an animal can climb on; backgrounds do not count."""
    if isinstance(item, Background):
        return math.inf
    if isinstance(item, Branch):
        start, end, at = (np.array(p) for p in (item.start_m, item.end_m, lamp))
        way = end - start
        share = float(np.clip(np.dot(at - start, way) / np.dot(way, way), 0.0, 1.0))
        return max(float(np.linalg.norm(at - start - share * way)) - item.diameter_m / 2, 0.0)
    x, y, z = lamp
    if isinstance(item, Hide):
        top = ground + item.height_m
    elif isinstance(item, Water):
        top = ground
    elif isinstance(item, Leaves):
        top = ground + item.underside_m + item.height_m
    else:
        top = ground + item.underside_m + item.thickness_m
    dx = max(abs(x - item.x_m) - item.length_m / 2, 0.0)
    dy = max(abs(y - item.y_m) - item.width_m / 2, 0.0)
    return math.sqrt(dx * dx + dy * dy + max(z - top, 0.0) ** 2)


@dataclass(frozen=True, slots=True)
class Reach:
    """Where the animal can get to beside the ground: ids of things it can stand on, faces it can climb."""

    things: tuple[str, ...]
    faces: tuple[Face, ...]


def reach_of(plan: Plan) -> Reach:
    """All things but linings, as lamps near them are assessed; faces only for an animal that climbs.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    Reach
        All things but linings, as lamps near them are context.
    """
    things = tuple(f.id for f in plan.furnishings if not isinstance(f, Background))
    faces = (
        tuple(f for f in FACES if f != "floor" and can_be_climbed(plan, f)) if plan.animal.climbs else ()
    )
    return Reach(things, faces)


def distances_to_faces(plan: Plan, fixture: Fixture) -> dict[Face, float]:
    """How far a lamp inside the enclosure is from each face, backgrounds taken off, m.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The fixture.

    Returns
    -------
    dict[Face, float]
        Distance to each side and to the lid, m.
    """
    x, y, z = fixture.position_m
    enclosure = plan.enclosure
    found: dict[Face, float] = {
        "left": x,
        "right": enclosure.length_m - x,
        "front": y,
        "back": enclosure.depth_m - y,
        "top": enclosure.height_m - z,
    }
    for item in plan.furnishings:
        if isinstance(item, Background):
            found[item.side] -= item.thickness_m
    return found


def burns(plan: Plan, face: Face) -> bool:
    """Whether what a lamp sees of a face can burn, melt or char.

    Parameters
    ----------
    plan : Plan
        The plan.
    face : Face
        A face of the enclosure.

    Returns
    -------
    bool
        True if so.
    """
    lining = next((f for f in plan.furnishings if isinstance(f, Background) and f.side == face), None)
    material = lining.material if lining is not None else plan.enclosure.walls[face].material
    return material is not None and material.burns


def can_be_climbed(plan: Plan, face: Face) -> bool:
    """Whether a climbing animal finds hold on a face: mesh, or a lining.

    Parameters
    ----------
    plan : Plan
        The plan.
    face : Face
        A face of the enclosure.

    Returns
    -------
    bool
        True if so.
    """
    if any(isinstance(f, Background) and f.side == face for f in plan.furnishings):
        return True
    return plan.enclosure.walls[face].mesh is not None
