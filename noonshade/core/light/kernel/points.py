"""Irradiance at any points."""

from __future__ import annotations

import numpy as np

from noonshade.core.compiled import compiled
from noonshade.core.light.kernel.bounds import list_groups, list_leaves
from noonshade.core.light.kernel.receive import receive
from noonshade.core.light.kernel.types import BLOCK, Floats, Occluders, Source, make_scratch


@compiled
def trace(
    points: Floats, normals: Floats, source: Source, screens: Floats, occluders: Occluders
) -> tuple[Floats, Floats]:  # pragma: no cover - compiled
    """Vector irradiance and irradiance on given normals, per unit of source strength.

    Parameters
    ----------
    points, normals : (n, 3) float64
        Where, and which way the receiver looks (unit vectors).
    source : Source
        The source.
    screens : (q, 4) float64
        As ``transmitted_share`` takes them.
    occluders : Occluders
        What is in the way.

    Returns
    -------
    vector : (n, 3), on_normal : (n,)
        ``vector`` points towards the light; its length is what a meter facing it reads as long
        as the whole source is in front of the meter.
    """
    n = points.shape[0]
    vector = np.zeros((n, 3))
    on_normal = np.zeros(n)
    batch = np.zeros((BLOCK, 6))
    out = np.zeros((BLOCK, 5))
    listed = np.zeros(occluders.groups.shape[0], dtype=np.int64)
    leafy = np.zeros(occluders.leaves.shape[0], dtype=np.int64)
    room = make_scratch(occluders)
    box = np.zeros(6)
    for first in range(0, n, BLOCK):
        count = min(BLOCK, n - first)
        for k in range(3):
            box[k], box[k + 3] = 1e300, -1e300
        for i in range(count):
            for k in range(3):
                x = points[first + i, k]
                batch[i, k] = x
                batch[i, k + 3] = normals[first + i, k]
                box[k], box[k + 3] = min(box[k], x), max(box[k + 3], x)
        listed_count = list_groups(box, source.bright, occluders, listed)
        leafy_count = list_leaves(box, source.bright, occluders.leaves, leafy)
        receive(
            batch,
            count,
            listed,
            listed_count,
            leafy,
            leafy_count,
            source,
            screens,
            occluders,
            out,
            room,
        )
        for i in range(count):
            vector[first + i, 0] = out[i, 0]
            vector[first + i, 1] = out[i, 1]
            vector[first + i, 2] = out[i, 2]
            on_normal[first + i] = out[i, 3]
    return vector, on_normal
