"""Shade, and light in a whole enclosure."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.light.field import Scene, light_at
from noonshade.core.light.shade import obstacles
from noonshade.core.plan import Branch, Hide, Plan
from tests.builders import CATALOG, MATERIALS, changed, demo_plan, lifted

DEMO = demo_plan()


def uvi(plan: Plan, *point: float) -> float:
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    return float(light_at(plan, np.array([point]), lit).uvi_facing[0])


def test_under_the_slab_is_dark() -> None:
    slab = DEMO.basking_slab
    assert slab is not None
    ground = DEMO.substrate.depth_m
    # Just outside the stack, close under the overhanging slab, near its edge of the enclosure.
    assert uvi(DEMO, slab.x_m, slab.y_m - 0.12, ground + slab.underside_m - 0.005) < 0.05
    assert uvi(DEMO, slab.x_m, slab.y_m, DEMO.top_of(slab) + 0.01) > 4


def test_hide_lets_light_in_only_by_its_opening() -> None:
    hide = Hide("h", "Hide", 0.45, 0.36, 0.2, 0.2, 0.1, 0.01, "right", 0.1, 0.08, MATERIALS["cork"])
    plan = replace(DEMO, furnishings=(hide,))
    ground = plan.substrate.depth_m
    # Deep inside, only what floor and walls send in through the doorway is left.
    assert uvi(plan, 0.45, 0.36, ground + 0.02) < 0.05
    # In the doorway the sky of the tube is partly in view.
    assert uvi(plan, 0.545, 0.36, ground + 0.02) > 0.1
    # The same place with the opening turned away is dark.
    turned = replace(plan, furnishings=(replace(hide, opening="left"),))
    assert uvi(turned, 0.525, 0.36, ground + 0.02) < 0.05


def test_closed_hide_reads_nothing_anywhere_inside() -> None:
    hide = Hide("h", "Hide", 0.45, 0.36, 0.3, 0.3, 0.15, 0.01, "front", 0.005, 0.005, MATERIALS["cork"])
    plan = replace(DEMO, furnishings=(hide,))
    rng = np.random.default_rng(5)
    ground = plan.substrate.depth_m
    low = [0.32, 0.24, ground + 0.012]
    points = rng.uniform(low, [0.58, 0.48, ground + 0.13], (200, 3))
    straight = Scene(plan, plan.fixtures, bounce=False).at(points)
    assert float(straight.uvi_facing.max()) == 0.0
    # By the chink comes a hair of what soil and walls scatter, far below what a meter shows.
    assert float(light_at(plan, points, plan.fixtures).uvi_facing.max()) < 0.05


@settings(max_examples=25)
@given(x=st.floats(0.44, 0.76), raise_by=st.floats(0.01, 0.2))
def test_raising_the_tube_always_lowers_what_is_beneath(x: float, raise_by: float) -> None:
    """Limit case 10, directly beneath the lamp."""
    open_enclosure = replace(DEMO, furnishings=())
    low = changed(open_enclosure, "uv-tube", position_m=(x, 0.3, 0.30))
    high = changed(open_enclosure, "uv-tube", position_m=(x, 0.3, 0.30 + raise_by))
    assert uvi(high, x, 0.3, 0.1) < uvi(low, x, 0.3, 0.1)


@settings(max_examples=25)
@given(
    x=st.floats(0.0, 1.2),
    y=st.floats(0.0, 0.6),
    z=st.floats(0.2, 0.5),
    mesh=st.sampled_from(sorted(CATALOG.meshes)),
)
def test_mesh_lowers_light_everywhere(x: float, y: float, z: float, mesh: str) -> None:
    """Limit case 10."""
    meshed = changed(DEMO, "uv-tube", screen=CATALOG.meshes[mesh])
    bare = uvi(DEMO, x, y, z)
    assert uvi(meshed, x, y, z) < bare or bare == 0.0


def test_deeper_substrate_brings_the_animal_nearer() -> None:
    slab = DEMO.basking_slab
    assert slab is not None
    deeper = replace(DEMO, substrate=replace(DEMO.substrate, depth_m=0.15))
    assert deeper.top_of(slab) == pytest.approx(DEMO.top_of(slab) + 0.07)
    shallow = uvi(DEMO, slab.x_m, slab.y_m, DEMO.top_of(slab) + 0.03)
    assert uvi(deeper, slab.x_m, slab.y_m, deeper.top_of(slab) + 0.03) > shallow


def test_facing_is_never_less_than_level_and_lamps_add() -> None:
    rng = np.random.default_rng(11)
    points = rng.uniform([0, 0, 0.25], [1.2, 0.6, 0.5], (300, 3))
    both = light_at(DEMO, points, DEMO.fixtures)
    assert np.all(both.uvi_facing >= both.uvi_level - 1e-9)
    assert np.all(both.irradiance_facing_w_m2 >= both.irradiance_level_w_m2 - 1e-9)
    parts = [light_at(DEMO, points, (f,)) for f in DEMO.fixtures]
    total = parts[0].irradiance_level_w_m2 + parts[1].irradiance_level_w_m2
    assert np.allclose(both.irradiance_level_w_m2, total)
    lux = parts[0].illuminance_level_lx + parts[1].illuminance_level_lx
    assert np.allclose(both.illuminance_level_lx, lux)


def test_no_lamps_no_light() -> None:
    dark = light_at(DEMO, np.array([[0.3, 0.3, 0.3]]), ())
    assert float(dark.uvi_facing[0]) == 0.0
    assert float(dark.illuminance_level_lx[0]) == 0.0


def test_mesh_lid_counts_for_a_lamp_above_it() -> None:
    walls = {**DEMO.enclosure.walls, "top": replace(DEMO.enclosure.walls["top"], material=None)}
    walls["top"] = replace(walls["top"], mesh=CATALOG.meshes["fine-0.5-2.0"])
    lidded = replace(DEMO, enclosure=replace(DEMO.enclosure, walls=walls))
    above = lifted(lidded, "uv-tube", 0.61)
    open_top = replace(above.enclosure, walls={**walls, "top": replace(walls["top"], mesh=None)})
    bare = replace(above, enclosure=open_top)
    # A fixed point below the middle of the tube.
    share = uvi(above, 0.45, 0.36, 0.35) / uvi(bare, 0.45, 0.36, 0.35)
    assert 0.40 < share < 0.5625


def test_solids_have_corners_on_their_faces_and_edges_between_two() -> None:
    twig = Branch("b", "Branch", (0.1, 0.2, 0.2), (0.8, 0.4, 0.5), 0.04, MATERIALS["timber"])
    for group in obstacles(replace(DEMO, furnishings=(*DEMO.furnishings, twig))).groups:
        for solid in group.solids:
            height = solid.corners @ solid.planes[:, :3].T - solid.planes[:, 3]
            assert np.all(height < 1e-9)
            # Euler: corners - edges + faces = 2.
            assert len(solid.corners) - len(solid.edges) + len(solid.planes) == 2
            for a, b, one, other in solid.edges:
                assert height[a, one] == pytest.approx(0, abs=1e-9)
                assert height[b, other] == pytest.approx(0, abs=1e-9)
                # The first face has them counter-clockwise seen from outside.
                middle = solid.corners[np.abs(height[:, one]) < 1e-9].mean(axis=0)
                along = solid.corners[b] - solid.corners[a]
                turn = np.cross(along, middle - solid.corners[a])
                assert turn @ solid.planes[one, :3] > 0


@pytest.mark.parametrize("end", [(0.8, 0.4, 0.5), (0.8, 0.2, 0.2), (0.1, 0.2, 0.7), (0.8, 0.4, 0.2)])
def test_slices_of_a_body_hold_all_of_it_and_no_more_than_its_bounds(
    end: tuple[float, float, float],
) -> None:
    twig = Branch("b", "Branch", (0.1, 0.2, 0.2), end, 0.04, MATERIALS["timber"])
    (group,) = obstacles(replace(DEMO, furnishings=(twig,))).groups
    (solid,) = group.solids
    slices = np.array(solid.slices(7))
    # Points of the body are mixtures of its corners.
    rng = np.random.default_rng(5)
    points = rng.dirichlet(np.full(len(solid.corners), 0.2), 500) @ solid.corners
    within_slice = [np.all((points >= s[:3] - 1e-9) & (points <= s[3:] + 1e-9), axis=1) for s in slices]
    assert np.all(np.any(within_slice, axis=0))
    ends = (*slices[:, :3].min(axis=0), *slices[:, 3:].max(axis=0))
    # To a tenth of the radius: pieces are widened by the roundness of the rod.
    assert ends == pytest.approx(solid.bounds, abs=0.002)
    # What lies askew is held closer by them; what lies along an axis needs none.
    volume = np.prod(slices[:, 3:] - slices[:, :3], axis=1).sum()
    askew = end != (0.8, 0.2, 0.2) and end != (0.1, 0.2, 0.7)
    assert bool(group.slices) == askew
    assert not askew or volume < 0.6 * np.prod(np.subtract(solid.bounds[3:], solid.bounds[:3]))
