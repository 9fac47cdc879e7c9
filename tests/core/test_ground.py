"""Heat in the ground through a day: limit case 15."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.heat.day_simulator import DaySimulator
from noonshade.core.heat.day_trace import DayTrace, Watch
from noonshade.core.heat.geometry import BARE_FLOOR_M, DAILY, Resolution
from noonshade.core.plan import Plan, Substrate
from tests.builders import MATERIALS, lamp, plan, timber_enclosure

DEPTHS_M = (0.0, 0.05, 0.15, 0.25)
# Large cells sideways, since it is the depth that counts.
USUAL = replace(DAILY, air_m=0.2, floor_m=0.3)
FINE = replace(USUAL, ground_m=tuple(np.linspace(0.0, 0.3, 46)))


def deep(material: str) -> Plan:
    source = plan(timber_enclosure(0.9), fixtures=(lamp("halogen-flood", 75, 0.3, 0.3, 0.8),))
    return replace(source, substrate=Substrate(MATERIALS[material], 0.3))


def at_depths(source: Plan, resolution: Resolution) -> DayTrace:
    """A repeating day, followed below the lamp and far from it."""
    simulator = DaySimulator(source, resolution=resolution)
    grid = simulator.model.grid
    levels = np.array(grid.floor_depths_m)
    watches = []
    for x in (0.3, 1.0):
        for depth in DEPTHS_M:
            k = min(int(np.searchsorted(levels, depth, side="right")) - 1, levels.size - 2)
            share = (depth - levels[k]) / (levels[k + 1] - levels[k])
            cell = grid.floor[0].nearest(x, 0.3)
            nodes = np.array([grid.floor[k].nodes[cell], grid.floor[k + 1].nodes[cell]])
            watches.append(Watch(f"{x}:{depth}", nodes, np.array([1.0 - share, share])))
    return simulator.repeating_day(tuple(watches))


@pytest.mark.parametrize("material", ["soil", "dry-sand", "coir"])
def test_deep_ground_follows_the_day_as_a_fine_one_does(material: str) -> None:
    """At 0, 5, 15 and 25 cm, at every hour, lights on and off included."""
    usual, fine = (at_depths(deep(material), r) for r in (USUAL, FINE))
    hourly = slice(59, None, 60)
    assert np.max(np.abs(usual.watched - fine.watched)[:, hourly]) < 1.0
    swing = np.ptp(fine.watched[:4], axis=1)
    assert swing[0] > 10.0
    assert np.all(np.diff(swing) < 0.0)


def test_nodes_of_the_ground_lie_where_they_are_needed() -> None:
    assert DAILY.ground_depths_m(0.3) == (0.0, 0.01, 0.02, 0.04, 0.08, 0.15, 0.3)
    assert DAILY.ground_depths_m(0.05) == (0.0, 0.01, 0.02, 0.05)
    assert DAILY.ground_depths_m(0.6) == (0.0, 0.01, 0.02, 0.04, 0.08, 0.15, 0.3, 0.6)
    assert DAILY.ground_depths_m(BARE_FLOOR_M / 2) == (0.0,)
    assert Resolution().ground_depths_m(0.1) == pytest.approx((0.0, 0.03, 0.1))
