"""The warm and the cool end of an enclosure: which side each is, and where it is measured."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from noonshade.core.plan import Plan, Slab

Floats = NDArray[np.float64]
End = Literal["left", "right"]

# Air at an end: mean over the outer quarter of the length, this high above the substrate, give or take.
END_HEIGHT_M = 0.10
END_HEIGHT_SPREAD_M = 0.05
END_SHARE = 0.25
# Where probes lie at an end: columns and rows of points over its ground, and their least height, m.
# Estimates.
END_POINTS = (4, 3)
LEAST_PROBE_M = 0.02


def warm_side(plan: Plan) -> End:
    """The end with the basking slab, else with the mean heater position.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    End
        'left' or 'right'.
    """
    middle = plan.enclosure.length_m / 2
    slab = plan.basking_slab
    if slab is not None:
        return "left" if slab.x_m <= middle else "right"
    weight = sum(f.power_w for f in plan.fixtures)
    if weight <= 0:
        return "left"
    mean = sum(f.power_w * f.position_m[0] for f in plan.fixtures) / weight
    return "left" if mean <= middle else "right"


def cool_side(plan: Plan) -> End:
    """The end across from the warm one.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    End
        'left' or 'right'.
    """
    return "right" if warm_side(plan) == "left" else "left"


def end_air(plan: Plan, side: str) -> tuple[Floats, Floats]:
    """Where the air of an end is averaged.

    Parameters
    ----------
    plan : Plan
        The plan.
    side : str
        'left' or 'right'.

    Returns
    -------
    tuple of (n,) float64
        Positions along the length and heights, m.
    """
    length = plan.enclosure.length_m
    offset = (np.arange(8) + 0.5) / 8 * length * END_SHARE
    x = offset if side == "left" else length - offset
    z = plan.substrate.depth_m + END_HEIGHT_M + END_HEIGHT_SPREAD_M * np.linspace(-1.0, 1.0, 9)
    gx, gz = np.meshgrid(x, np.minimum(z, plan.enclosure.height_m))
    return gx.ravel(), gz.ravel()


def end_points(plan: Plan, side: str) -> Floats:
    """Where probes lie at an end: over its ground, at the height of the animal's back, clear of slabs.

    Parameters
    ----------
    plan : Plan
        The plan.
    side : str
        'left' or 'right'.

    Returns
    -------
    (n, 3) float64
        Points, m.
    """
    length = plan.enclosure.length_m
    columns, _ = END_POINTS
    offset = (np.arange(columns) + 0.5) / columns * length * END_SHARE
    return points_over_ground(plan, offset if side == "left" else length - offset)


def points_over_ground(plan: Plan, x_m: Floats) -> Floats:
    """Points at the height of the animal's back over columns of the ground, clear of slabs.

    Parameters
    ----------
    plan : Plan
        The plan.
    x_m : (k,) float64
        Positions of the columns along the length, m.

    Returns
    -------
    (n, 3) float64
        Points, m.
    """
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    rows = END_POINTS[1]
    y = (np.arange(rows) + 0.5) / rows * enclosure.depth_m
    z = min(ground + max(plan.animal.back_height_m, LEAST_PROBE_M), enclosure.height_m - LEAST_PROBE_M)
    gx, gy = np.meshgrid(x_m, y)
    points = np.column_stack([gx.ravel(), gy.ravel(), np.full(gx.size, z)])
    taken = np.zeros(len(points), dtype=bool)
    for slab in (f for f in plan.furnishings if isinstance(f, Slab)):
        bottom = ground + slab.underside_m
        inside = (np.abs(points[:, 0] - slab.x_m) < slab.length_m / 2) & (
            np.abs(points[:, 1] - slab.y_m) < slab.width_m / 2
        )
        taken |= inside & (bottom <= z) & (z <= bottom + slab.thickness_m)
    return points if np.all(taken) else points[~taken]
