"""Section 11 of the science notes: wide ranges a real set-up would show, with catalogue numbers."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.heat.climate import Climate, steady_climate
from noonshade.core.plan import Enclosure, Plan, Wall
from tests.builders import CATALOG, lamp, plan, slab, timber_enclosure, walls

FINE = Wall(mesh=CATALOG.meshes["fine-0.5-2.0"])
SCREEN = Wall(mesh=CATALOG.meshes["insect-0.25-1.4"])


def ends(climate: Climate) -> tuple[float, float]:
    """Air 10 cm above the substrate in the outer quarter at the left and right end."""
    length = climate.plan.enclosure.length_m
    x = (np.arange(10) + 0.5) / 10 * length / 4
    z = np.full(10, climate.plan.substrate.depth_m + 0.10)
    return float(np.mean(climate.air_at(x, z))), float(np.mean(climate.air_at(length - x, z)))


def top(climate: Climate) -> np.ndarray:
    return climate.sheet_c(climate.grid.plates[0].top)


def timber(fixtures: tuple, furnishings: tuple = ()) -> Plan:  # type: ignore[type-arg]
    return plan(timber_enclosure(), 21.0, fixtures, furnishings, substrate_m=0.08)


def test_glass_enclosure_with_flood_on_its_mesh_lid() -> None:
    enclosure = Enclosure(0.9, 0.45, 0.45, walls("glass", 0.004, top=FINE))
    source = plan(
        enclosure,
        22.0,
        (lamp("halogen-flood", 50, 0.2, 0.22, 0.46),),
        (slab(0.2, 0.22, 0.25, 0.25, 0.02, 0.09),),
    )
    climate = steady_climate(source)
    warm, cool = ends(climate)
    assert 32 <= float(np.mean(top(climate))) <= 44
    # Fluid dynamics has the air within 0.3 K of the room with 25 W on the ground (mesh-lid).
    assert 22 <= cool <= 23
    assert 22 <= warm <= 24


def test_timber_enclosure_with_flood_inside() -> None:
    source = timber((lamp("halogen-flood", 75, 0.25, 0.3, 0.52),), (slab(0.25, 0.3, 0.3, 0.3, 0.02, 0.10),))
    climate = steady_climate(source)
    warm, cool = ends(climate)
    surface = top(climate)
    assert 42 <= float(np.mean(surface)) <= 58
    assert 5 <= float(np.max(surface) - np.mean(surface)) <= 20
    # Fluid dynamics has 24.9 and 25.5 °C with the same watts, the patch on the ground (timber-lamp).
    assert 23.5 <= cool <= 26.5
    assert 24.5 <= warm <= 27.5


def test_timber_enclosure_after_a_night_without_heat() -> None:
    day = steady_climate(
        timber((lamp("halogen-flood", 75, 0.25, 0.3, 0.52),), (slab(0.25, 0.3, 0.3, 0.3, 0.02, 0.10),))
    )
    cooling = steady_climate(replace(day.plan, room=replace(day.plan.room, day_temperature_c=17.0)))
    network = replace(cooling.network, sources=np.zeros_like(cooling.network.sources))
    after = network.advance(day.temperature_c, 10 * 3600.0)
    air = after[: day.grid.air.size]
    soil = after[day.grid.floor[-1].nodes]
    assert float(np.max(np.abs(air - 17.0))) <= 1.5
    # Deep substrate is later than the air.
    assert float(np.mean(soil)) > float(np.mean(air))


def test_timber_enclosure_with_a_radiant_panel_only() -> None:
    climate = steady_climate(timber((lamp("radiant-panel-80", 80, 0.4, 0.3, 0.58),)))
    floor = climate.grid.floor[0]
    beneath = climate.sheet_c(floor)[np.ix_(np.abs(floor.x - 0.4) < 0.3, np.abs(floor.y - 0.3) < 0.15)]
    assert 27 <= float(np.mean(beneath)) <= 34
    assert 25 <= float(np.mean(climate.air_c)) <= 30


def test_mesh_cage_with_flood_on_top() -> None:
    cage = dict.fromkeys(("front", "back", "left", "right", "top"), SCREEN)
    enclosure = Enclosure(0.6, 0.6, 1.2, walls("pvc", 0.006, **cage))
    source = plan(
        enclosure,
        23.0,
        (lamp("halogen-flood", 60, 0.3, 0.3, 1.21),),
        (slab(0.3, 0.3, 0.5, 0.04, 0.04, 0.87, "hardwood", on_stack=False),),
    )
    climate = steady_climate(source)
    surface = top(climate)
    assert 34 <= float(np.mean(surface)) <= 50
    assert float(np.max(surface)) > float(np.mean(surface)) + 8
    x, z = climate.grid.air.x, np.full(climate.grid.air.nx, 0.10)
    assert float(np.max(np.abs(climate.air_at(x, z) - 23.0))) <= 1.5


def test_open_topped_table_with_flood() -> None:
    table = Enclosure(1.2, 0.6, 0.3, walls("timber", 0.015, top=Wall()))
    source = plan(
        table,
        20.0,
        (lamp("halogen-flood", 100, 0.25, 0.3, 0.55),),
        (slab(0.25, 0.3, 0.3, 0.3, 0.02, 0.08),),
    )
    climate = steady_climate(source)
    _, far = ends(climate)
    assert 38 <= float(np.mean(top(climate))) <= 56
    assert abs(far - 20.0) <= 2.0


@pytest.mark.parametrize("material", ["timber", "pvc", "glass"])
def test_better_insulated_walls_keep_more_heat(material: str) -> None:
    thin = Enclosure(1.2, 0.6, 0.6, walls(material, 0.004))
    thick = Enclosure(1.2, 0.6, 0.6, walls(material, 0.04))
    heater = (lamp("ceramic-heater", 60, 0.4, 0.3, 0.5),)
    mean = [float(np.mean(steady_climate(plan(b, 20.0, heater)).air_c)) for b in (thin, thick)]
    assert mean[1] > mean[0] + 0.3
