"""Light that diffuse patches send to points."""

from __future__ import annotations

import math

import numpy as np

from noonshade.core.compiled import compiled
from noonshade.core.light.kernel.bounds import misses_shaft, share_in_box, solids_to_test
from noonshade.core.light.kernel.shadows import is_blocked
from noonshade.core.light.kernel.types import Floats, Occluders


@compiled
def bounced(
    points: Floats, patches: Floats, facing: Floats, size: Floats, exitance: Floats, occluders: Occluders
) -> Floats:  # pragma: no cover - compiled
    """Light that diffuse patches send to points, past the same obstacles.

    From a patch inside a hide, which is not lit, nothing comes; so its hull serves here too.

    Parameters
    ----------
    points : (n, 3) float64
        Where, m.
    patches, facing : (p, 3) float64
        Centres and unit normals.
    size : (p,) float64
        Areas, m².
    exitance : (p, q) float64
        What leaves each patch, per area, for q quantities.
    occluders : Occluders
        What is in the way.

    Returns
    -------
    (n, q, 4) float64
        Vector irradiance towards the light (3), and irradiance on an upward face.
    """
    n, quantities = points.shape[0], exitance.shape[1]
    result = np.zeros((n, quantities, 4))
    spot = np.zeros(6)
    seen = np.zeros(6)
    for i in range(n):
        px, py, pz = points[i, 0], points[i, 1], points[i, 2]
        seen[0], seen[1], seen[2] = px, py, pz
        seen[3], seen[4], seen[5] = px, py, pz
        for p in range(patches.shape[0]):
            sx, sy, sz = patches[p, 0], patches[p, 1], patches[p, 2]
            dx, dy, dz = px - sx, py - sy, pz - sz
            d2 = dx * dx + dy * dy + dz * dz
            d = math.sqrt(d2)
            if d < 1e-6:
                continue
            dx, dy, dz = dx / d, dy / d, dz / d
            leaving = dx * facing[p, 0] + dy * facing[p, 1] + dz * facing[p, 2]
            if leaving <= 0.0:
                continue
            spot[0], spot[1], spot[2] = sx, sy, sz
            spot[3], spot[4], spot[5] = sx, sy, sz
            blocked = False
            for g in range(occluders.groups.shape[0]):
                if blocked:
                    break
                if misses_shaft(seen, spot, occluders.groups, g):
                    continue
                begin_g, end_g = solids_to_test(
                    px, py, pz, occluders.groups, g, occluders.runs, occluders.hulls
                )
                for b in range(begin_g, end_g):
                    first, last = occluders.plane_starts[b], occluders.plane_starts[b + 1]
                    if is_blocked(sx, sy, sz, px, py, pz, occluders.planes, first, last):
                        blocked = True
                        break
            if blocked:
                continue
            # A disc of the patch's area seen on its axis: E = M r²/(r² + d²).
            share = size[p] * leaving / (math.pi * d2 + size[p])
            for k in range(occluders.leaves.shape[0]):
                inside = share_in_box(sx, sy, sz, px, py, pz, occluders.leaves, k)
                if inside > 0.0:
                    share *= math.exp(-occluders.leaves[k, 6] * inside * d)
            for q in range(quantities):
                e = share * exitance[p, q]
                result[i, q, 0] -= e * dx
                result[i, q, 1] -= e * dy
                result[i, q, 2] -= e * dz
                if dz < 0.0:
                    result[i, q, 3] -= e * dz
    return result
