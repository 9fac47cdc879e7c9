"""Temperature at a depth in the ground."""

from __future__ import annotations

import numpy as np

from noonshade.core.heat.geometry import EnclosureGrid
from noonshade.core.heat.seen import NodeMean
from noonshade.core.plan import Substrate


def in_ground(grid: EnclosureGrid, ground: Substrate, x_m: float, y_m: float, depth_m: float) -> NodeMean:
    """What a probe buried in the ground reads: between the levels above and below it.

    Parameters
    ----------
    grid : EnclosureGrid
        The nodes.
    ground : Substrate
        The ground: between two levels the temperature falls as its resistance grows.
    x_m, y_m : float
        Where, m.
    depth_m : float
        How far below the surface, m; below the last level it is as warm as that.

    Returns
    -------
    NodeMean
        Shares of two levels.
    """
    depths = np.array(grid.floor_depths_m)
    i, j = grid.floor[0].nearest(x_m, y_m)
    lower = int(np.clip(np.searchsorted(depths, depth_m), 1, max(depths.size - 1, 1)))
    if depths.size == 1:
        return NodeMean(np.array([grid.floor[0].nodes[i, j]]), np.ones(1), 0.0)
    upper_m, lower_m = float(depths[lower - 1]), float(depths[lower])
    there = ground.resistance_m2k_w(upper_m, min(depth_m, lower_m))
    share = float(np.clip(there / ground.resistance_m2k_w(upper_m, lower_m), 0.0, 1.0))
    nodes = [grid.floor[level].nodes[i, j] for level in (lower - 1, lower)]
    return NodeMean(np.array(nodes), np.array([1.0 - share, share]), 0.0)
