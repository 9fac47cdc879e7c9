"""Lamps that stand outside a side and shine in."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import build_grid
from noonshade.core.heat.radiation import lamp_heat
from noonshade.core.light.field import light_at
from noonshade.core.plan import Face, Fixture, Inset, Plan, Point, Wall
from noonshade.core.plan_errors import plan_errors
from tests.builders import CATALOG, MATERIALS, lamp, plan, timber_enclosure, walls
from tests.evaluated import evaluate

MESH = Wall(mesh=CATALOG.meshes["medium-0.7-4.0"])
GLASS = Wall(material=MATERIALS["glass"], thickness_m=0.004)
# Where a lamp stands 20 cm outside each face of a cube of 1 m, and how it is turned to shine in.
OUTSIDE: dict[Face, tuple[Point, float, float]] = {
    "top": ((0.5, 0.5, 1.2), 0.0, 0.0),
    "left": ((-0.2, 0.5, 0.5), 90.0, 0.0),
    "right": ((1.2, 0.5, 0.5), -90.0, 0.0),
    "front": ((0.5, -0.2, 0.5), 0.0, 90.0),
    "back": ((0.5, 1.2, 0.5), 0.0, -90.0),
}


def cube(face: Face, wall: Wall, insets: tuple[Inset, ...] = (), kind: str = "mercury-flood-100") -> Plan:
    """A cube with one face made otherwise and a lamp outside that."""
    made = replace(
        timber_enclosure(),
        length_m=1.0,
        depth_m=1.0,
        height_m=1.0,
        vents=(),
        insets=insets,
        walls={**walls("timber", 0.015), face: wall},
    )
    at, lean, tilt = OUTSIDE[face]
    source = replace(lamp(kind, 100.0, *at), lean_deg=lean, tilt_deg=tilt)
    return plan(made, fixtures=(source,), substrate_m=0.0)


def middle(source: Plan, at: Point = (0.5, 0.5, 0.5)) -> tuple[float, float]:
    """UVI and irradiance facing the lamp at a point."""
    found = light_at(source, np.array([at]), source.fixtures)
    return float(found.uvi_facing[0]), float(found.irradiance_facing_w_m2[0])


@pytest.mark.parametrize("face", ["left", "right", "front", "back"])
def test_a_lamp_outside_a_side_shines_in_as_one_above_the_lid_does(face: Face) -> None:
    above, beside = middle(cube("top", MESH)), middle(cube(face, MESH))
    assert above[0] > 0.5
    # What bounces differs a little: the ground is not as dark as the sides.
    assert beside == pytest.approx(above, rel=0.03)
    assert plan_errors(cube(face, MESH)) == []


def test_glass_stops_its_uv_and_passes_most_of_its_warmth() -> None:
    open_side, glazed = middle(cube("left", Wall())), middle(cube("left", GLASS))
    assert glazed[0] == pytest.approx(0.0, abs=1e-6)
    assert 0.6 * open_side[1] < glazed[1] < 0.85 * open_side[1]


def test_through_a_window_only_what_lies_in_its_beam_is_lit() -> None:
    window = Inset(0.4, 0.4, 0.6, 0.6, Wall(), "left")
    source = cube("left", timber_enclosure().walls["left"], (window,))
    lit, shaded = middle(source), middle(source, (0.3, 0.9, 0.5))
    assert lit[1] == pytest.approx(middle(cube("left", Wall()))[1], rel=0.05)
    assert shaded[1] < 0.05 * lit[1]


def test_its_watts_add_up_and_its_own_warmth_stays_in_the_room() -> None:
    source = cube("left", GLASS)
    shares = lamp_heat(source, build_grid(source), source.fixtures[0])
    assert float(np.sum(shares.absorbed_w)) + shares.diffuse_w + shares.outside_w == pytest.approx(100.0)
    assert shares.air_w == 0
    assert 20.0 < float(np.sum(shares.absorbed_w)) + shares.diffuse_w < 80.0
    air = float(np.mean(steady_climate(source).air_c))
    inside = replace(source, fixtures=(replace(source.fixtures[0], position_m=(0.1, 0.5, 0.5)),))
    assert source.room.day_temperature_c + 0.5 < air < float(np.mean(steady_climate(inside).air_c))


def test_only_where_light_gets_in_can_a_lamp_stand_outside() -> None:
    closed = cube("left", timber_enclosure().walls["left"])
    assert [e.path for e in plan_errors(closed)] == ["/fixtures/0/position_m/x_m"]
    corner = cube("left", MESH)
    away: Fixture = replace(corner.fixtures[0], position_m=(-0.2, 0.5, 1.1))
    paths = [e.path for e in plan_errors(replace(corner, fixtures=(away,)))]
    assert paths == ["/fixtures/0/position_m/z_m"]


def test_above_a_corner_it_shines_through_the_lid() -> None:
    both = cube("top", MESH)
    sides = replace(both.enclosure, walls={**both.enclosure.walls, "left": MESH})
    away = replace(both.fixtures[0], position_m=(-0.2, 0.5, 1.3), lean_deg=40.0)
    source = replace(both, enclosure=sides, fixtures=(away,))
    assert plan_errors(source) == []
    assert sides.beyond(away.position_m) == "top"
    assert middle(source)[1] > 1.0


def test_mesh_beside_a_lamp_is_named_for_animals_that_climb_it() -> None:
    source = cube("left", MESH)
    climber = replace(source, animal=replace(source.animal, species=CATALOG.species["furcifer-pardalis"]))
    near = replace(source.fixtures[0], position_m=(-0.03, 0.5, 0.5))
    found = evaluate(replace(climber, fixtures=(near,))).findings
    assert f"mesh-clamped:{near.id}" in {f.id for f in found}
