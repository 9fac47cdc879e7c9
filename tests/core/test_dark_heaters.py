"""Heaters without light send long waves: glass stops and takes them, mesh lets them by."""

from __future__ import annotations

import numpy as np
import pytest

from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE, build_grid
from noonshade.core.heat.radiation import LampHeat, lamp_heat
from noonshade.core.light.field import light_at
from noonshade.core.light.screens import Bands
from noonshade.core.plan import Enclosure, Face, Plan, Wall
from tests.builders import CATALOG, lamp, plan

GLASS = Wall(CATALOG.materials["glass"], 0.004)
MESH = Wall(mesh=CATALOG.meshes["medium-0.7-4.0"])
SIDES: tuple[Face, ...] = ("front", "back", "left", "right", "floor")
AT = (0.3, 0.225, 0.56)


def tank(lid: Wall, lamp_id: str = "ceramic-heater", z_m: float = AT[2]) -> Plan:
    """A box of glass with a lid, 60 × 45 × 45 cm, and a heater over the middle of it."""
    box = Enclosure(0.6, 0.45, 0.45, {**dict.fromkeys(SIDES, GLASS), "top": lid})
    return plan(box, fixtures=(lamp(lamp_id, 60.0, AT[0], AT[1], z_m),))


def heat(of: Plan) -> LampHeat:
    return lamp_heat(of, build_grid(of, COARSE), of.fixtures[0])


def test_a_ceramic_over_a_glass_lid_warms_nothing_below_it_and_a_bulb_does() -> None:
    assert heat(tank(GLASS)).absorbed_w.sum() == 0.0
    assert heat(tank(GLASS, "halogen-flood")).absorbed_w.sum() > 5.0
    point = np.array([[0.3, 0.225, 0.1]])
    over = tank(GLASS)
    assert light_at(over, point, over.fixtures).irradiance_level_w_m2[0] == 0.0
    under_mesh = tank(MESH)
    assert light_at(under_mesh, point, under_mesh.fixtures).irradiance_level_w_m2[0] > 10.0


def test_glass_walls_take_what_a_ceramic_sends_and_pass_what_a_bulb_sends() -> None:
    dark, bright = heat(tank(MESH)), heat(tank(MESH, "halogen-flood"))
    passed = 60.0 - dark.absorbed_w.sum() - dark.diffuse_w - dark.air_w - dark.outside_w
    assert passed == pytest.approx(0.0, abs=1e-9)
    # Of what comes in by the mesh, walls, ground and lid take nearly all.
    entered = dark.absorbed_w.sum() + dark.diffuse_w
    assert dark.absorbed_w.sum() > 0.8 * entered
    assert bright.absorbed_w.sum() < 0.8 * (bright.absorbed_w.sum() + bright.diffuse_w)


def test_the_watts_of_a_ceramic_inside_a_closed_box_all_stay_in_it() -> None:
    within = tank(GLASS, z_m=0.30)
    found = heat(within)
    assert found.outside_w == pytest.approx(0.0, abs=1e-6)
    climate = steady_climate(within, "day", COARSE)
    assert climate.balance.heat_in_w == pytest.approx(60.0, rel=1e-6)


def test_bands_multiply_and_a_lamp_takes_its_own() -> None:
    both = Bands(0.5, 0.8, 0.9, 0.0).times(Bands(0.5, 0.5, 1.0, 0.6))
    assert (both.uv, both.radiant, both.visible, both.infrared) == (0.25, 0.4, 0.9, 0.0)
    assert both.heat_of(CATALOG.lamps["ceramic-heater"]) == 0.0
    assert both.heat_of(CATALOG.lamps["halogen-flood"]) == 0.4
