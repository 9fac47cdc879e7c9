"""Furnishings as opaque boxes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from noonshade.core.plan import Hide, Plan, Slab

Floats = NDArray[np.float64]
Extent = tuple[float, float, float, float, float, float]


def opaque_boxes(plan: Plan) -> Floats:
    """Everything that casts hard shade, as (b, 6) rows x0, y0, z0, x1, y1, z1 in metres."""
    ground = plan.substrate.depth_m
    rows: list[Extent] = []
    for item in plan.furnishings:
        rows += _slab(item, ground) if isinstance(item, Slab) else _hide(item, ground)
    return np.array(rows, dtype=np.float64).reshape(-1, 6)


def _slab(slab: Slab, ground: float) -> list[Extent]:
    bottom = ground + slab.underside_m
    rows = [_centred(slab.x_m, slab.y_m, slab.length_m, slab.width_m, bottom, slab.thickness_m)]
    if slab.stack is not None and slab.underside_m > 0:
        rows.append(
            _centred(
                slab.x_m,
                slab.y_m,
                slab.stack.length_m,
                slab.stack.width_m,
                ground,
                slab.underside_m,
            )
        )
    return rows


def _centred(x: float, y: float, length: float, width: float, bottom: float, height: float) -> Extent:
    return (x - length / 2, y - width / 2, bottom, x + length / 2, y + width / 2, bottom + height)


def _hide(hide: Hide, ground: float) -> list[Extent]:
    x0, x1 = hide.x_m - hide.length_m / 2, hide.x_m + hide.length_m / 2
    y0, y1 = hide.y_m - hide.width_m / 2, hide.y_m + hide.width_m / 2
    t, top = hide.wall_m, ground + hide.height_m
    eaves = top - t
    rows: list[Extent] = [(x0, y0, eaves, x1, y1, top)]
    sides: dict[str, Extent] = {
        "left": (x0, y0, ground, x0 + t, y1, eaves),
        "right": (x1 - t, y0, ground, x1, y1, eaves),
        "front": (x0, y0, ground, x1, y0 + t, eaves),
        "back": (x0, y1 - t, ground, x1, y1, eaves),
    }
    for side, wall in sides.items():
        rows += [wall] if side != hide.opening else _with_doorway(wall, hide, ground)
    return rows


def _with_doorway(wall: Extent, hide: Hide, ground: float) -> list[Extent]:
    """The opening's wall as jambs on both sides and a lintel above."""
    x0, y0, z0, x1, y1, z1 = wall
    half = hide.opening_width_m / 2
    lintel = min(ground + hide.opening_height_m, z1)
    if hide.opening in ("left", "right"):
        a, b = hide.y_m - half, hide.y_m + half
        parts = [(x0, y0, z0, x1, a, z1), (x0, b, z0, x1, y1, z1), (x0, a, lintel, x1, b, z1)]
    else:
        a, b = hide.x_m - half, hide.x_m + half
        parts = [(x0, y0, z0, a, y1, z1), (b, y0, z0, x1, y1, z1), (a, y0, lintel, b, y1, z1)]
    return [p for p in parts if p[3] > p[0] and p[4] > p[1] and p[5] > p[2]]
