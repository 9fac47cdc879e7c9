"""Longwave exchange by view factors."""

from __future__ import annotations

from dataclasses import replace
from math import atan, pi, sqrt

import numpy as np
import pytest
from numpy.typing import NDArray

from noonshade.core.heat import local_radiation
from noonshade.core.heat.geometry import COARSE, build_grid
from noonshade.core.heat.local_radiation import LocalRadiation, zones_of
from noonshade.core.plan import Plan
from noonshade.core.remembered import Remembered
from tests.builders import demo_plan, plan, shipped_plan, timber_enclosure, walls


def empty() -> Plan:
    """An enclosure with nothing in it and nothing open: 1.2 × 0.6 × 0.6 m."""
    enclosure = replace(timber_enclosure(), vents=(), walls=walls("timber", 0.015), insets=())
    bare = plan(enclosure)
    return replace(bare, furnishings=(), substrate=replace(bare.substrate, depth_m=0.0))


def opposite(x: float, y: float) -> float:
    """View factor between equal rectangles, sides x and y of their distance: Howell's catalogue, C-11."""
    a, b = sqrt(1 + x * x), sqrt(1 + y * y)
    found = np.log(sqrt((a * b) ** 2 / (a * a + b * b - 1)))
    found += x * b * atan(x / b) + y * a * atan(y / a) - x * atan(x) - y * atan(y)
    return float(2 / (pi * x * y) * found)


def test_ground_and_lid_see_each_other_as_rectangles_do() -> None:
    source = empty()
    grid = build_grid(source)
    zones = zones_of(source, grid)
    ground = np.unique(zones.of_patch[np.isin(grid.patches.node, grid.floor[0].nodes)])
    lid = np.unique(zones.of_patch[np.isin(grid.patches.node, grid.wall_nodes("top"))])
    seen = zones.area_m2[ground] @ zones.seen[np.ix_(ground, lid)].sum(axis=1) / zones.area_m2[ground].sum()
    assert float(seen) == pytest.approx(opposite(1.2 / 0.6, 0.6 / 0.6), rel=0.02)
    # Flat zones see nothing of themselves.
    assert float(zones.seen[np.ix_(ground, ground)].sum()) < 0.02


@pytest.mark.parametrize("resolution", [None, COARSE])
def test_views_are_reciprocal_and_add_up(resolution: object) -> None:
    source = demo_plan()
    grid = build_grid(source, resolution)  # type: ignore[arg-type]
    zones = zones_of(source, grid)
    exchange = zones.area_m2[:, None] * zones.seen
    assert np.allclose(exchange, exchange.T, atol=1e-12)
    assert np.allclose(zones.seen.sum(axis=1), 1.0)
    assert float(zones.seen.min()) > -1e-9


def test_nothing_is_exchanged_at_one_temperature_and_no_heat_is_made() -> None:
    source = demo_plan()
    grid = build_grid(source)
    local = LocalRadiation(source, grid)
    outside = np.full(grid.patches.node.size, 25.0)
    added, star, out = local.beside_star(np.full(grid.size, 25.0), outside)
    assert float(np.abs(added).max()) < 1e-9
    assert (star, out) == (pytest.approx(25.0), pytest.approx(0.0))
    some = 20.0 + 20.0 * np.random.default_rng(3).random(grid.size)
    added, _, _ = local.beside_star(some, outside)
    assert float(added.sum()) == pytest.approx(0.0, abs=1e-9)
    assert float(np.abs(added).max()) > 0.01


def test_two_plates_exchange_as_gray_plates_do() -> None:
    """A wide, low enclosure: ground and lid see next to nothing but each other."""
    low = replace(timber_enclosure(), vents=(), walls=walls("timber", 0.015), height_m=0.02)
    source = replace(empty(), enclosure=low)
    grid = build_grid(source)
    local = LocalRadiation(source, grid)
    temperature = np.full(grid.size, 30.0)
    temperature[grid.floor[0].nodes] = 40.0
    temperature[grid.wall_nodes("top")] = 20.0
    added, star, _ = local.beside_star(temperature, np.full(grid.patches.node.size, 30.0))
    ground = np.isin(grid.patches.node, grid.floor[0].nodes)
    emissivity = float(grid.patches.emissivity[ground][0])
    lid = float(grid.patches.emissivity[np.isin(grid.patches.node, grid.wall_nodes("top"))][0])
    sigma = 5.670374e-8
    by_star = emissivity * sigma * (313.15**4 - (star + 273.15) ** 4)
    given = by_star - float(added[ground].sum()) / float(grid.patches.area_m2[ground].sum())
    expected = sigma * (313.15**4 - 293.15**4) / (1 / emissivity + 1 / lid - 1)
    assert given == pytest.approx(expected, rel=0.05)


@pytest.mark.parametrize("name", ["collared-lizard", "hermanns-tortoise"])
def test_views_do_not_depend_on_which_cells_ask_first(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    source = shipped_plan(name)
    grids = [build_grid(source), build_grid(source, COARSE)]

    def asked(order: list[int]) -> dict[int, NDArray[np.float64]]:
        monkeypatch.setattr(local_radiation, "_VIEWS", Remembered[NDArray[np.float64]](8))
        return {i: zones_of(source, grids[i]).seen for i in order}

    one, other = asked([0, 1]), asked([1, 0])
    for i in (0, 1):
        assert np.array_equal(one[i], other[i])
