"""Fields on cuts and surfaces, and refuges, against the same light taken point by point."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanGrid, SectionGrid, compute_fields, plan_view, section, surface_field
from noonshade.core.light.exposure import UV_FREE_UVI
from noonshade.core.light.field import Scene
from noonshade.core.places.uv_refuge import find_uv_refuge, uv_within_reach
from noonshade.core.plan import Leaves, Slab
from tests.builders import MATERIALS, demo_plan
from tests.evaluated import evaluate


@pytest.fixture(scope="module")
def demo() -> Evaluation:
    return evaluate(demo_plan())


def test_a_section_is_the_light_of_its_points(demo: Evaluation) -> None:
    cut = section(demo, 0.2, 50, 30)
    gz, gx = np.meshgrid(cut.z_m, cut.x_m, indexing="ij")
    points = np.column_stack([gx.ravel(), np.full(gx.size, 0.2), gz.ravel()])
    singly = demo.scene.at(points).uvi_facing.reshape(gx.shape)
    assert np.percentile(np.abs(cut.uvi - singly), 99) < 0.02 * singly.max()
    assert cut.z_m[0] == pytest.approx(demo.plan.substrate.depth_m, abs=1e-3)
    assert {s.id for s in cut.surfaces} == {"substrate", "basking-slab", "warm-hide", "cool-hide"}


def test_views_together_are_the_views_alone(demo: Evaluation) -> None:
    both = compute_fields(demo, SectionGrid(0.3, 40, 20), PlanGrid(0.25, 40, 20))
    assert both.section is not None
    assert both.plan_view is not None
    assert np.array_equal(both.section.uvi, section(demo, 0.3, 40, 20).uvi)
    assert np.array_equal(both.plan_view.uvi, plan_view(demo, 0.25, 40, 20).uvi)
    # They cross along a line, where they agree.
    line = both.plan_view.uvi[np.argmin(np.abs(both.plan_view.y_m - 0.3))]
    level = both.section.uvi[np.argmin(np.abs(both.section.z_m - 0.25))]
    assert np.median(np.abs(line - level) / level) < 0.1
    assert compute_fields(demo) == type(both)(None, None)


def test_a_surface_carries_its_light_and_its_temperature(demo: Evaluation) -> None:
    slab = surface_field(demo, "basking-slab", 0.02)
    assert slab.z_m == pytest.approx(0.2)
    assert slab.uvi.shape == slab.temperature_c.shape == (slab.y_m.size, slab.x_m.size)
    assert 3 < slab.uvi.mean() < 7
    basking = next(p for p in demo.places if p.id == "basking")
    assert slab.temperature_c.max() == pytest.approx(basking.surface_max_c, abs=0.5)
    ground = surface_field(demo, "substrate", 0.03)
    assert ground.uvi.min() < 0.1 < ground.uvi.max()
    assert ground.temperature_c.max() < slab.temperature_c.max()


def test_cuts_outside_the_enclosure_and_unknown_surfaces_are_named(demo: Evaluation) -> None:
    with pytest.raises(PlanError, match=r"section/y_m.*0.7 m lies outside the enclosure: 0 to 0.6 m"):
        section(demo, 0.7)
    with pytest.raises(PlanError, match="plan_view/z_m"):
        plan_view(demo, 0.01)
    with pytest.raises(PlanError, match="no surface 'attic'; known: substrate"):
        surface_field(demo, "attic")


def test_free_ground_grows_with_a_roof_over_it(demo: Evaluation) -> None:
    plan = demo.plan
    lit = tuple(f for f in plan.fixtures if f.lit_at("day"))
    roof = Slab("roof", "Roof", 0.85, 0.3, 0.6, 0.56, 0.02, 0.12, MATERIALS["cork"])
    covered = replace(plan, furnishings=(*plan.furnishings, roof))
    shares = [uv_within_reach(p, Scene(p, lit)).free_share for p in (plan, covered)]
    assert 0.03 < shares[0] < shares[1] < 1
    dark = replace(plan, fixtures=())
    assert uv_within_reach(dark, Scene(dark, ())).free_share == 1.0


def test_the_darkest_place_holds_the_whole_animal() -> None:
    """A strip of shade narrower than the body does not count, dense leaves do."""
    plan = replace(demo_plan(), furnishings=())
    animal = replace(plan.animal, body_length_m=0.24)
    narrow = Slab("board", "Board", 0.6, 0.3, 0.8, 0.1, 0.02, 0.05, MATERIALS["cork"])
    lit = plan.fixtures

    def darkest(*things: Slab | Leaves, length: float) -> float:
        p = replace(plan, animal=replace(animal, body_length_m=length), furnishings=things)
        scene = Scene(p, lit)
        return float(scene.at(np.array([find_uv_refuge(p, scene)])).uvi_facing[0])

    assert darkest(narrow, length=0.04) <= UV_FREE_UVI
    small, large = (darkest_place_uvi(plan, narrow, length) for length in (0.04, 0.30))
    assert small < large
    fig = Leaves("fig", "Fig", 0.9, 0.3, 0.4, 0.5, 0.4, 0.02, 0.001, MATERIALS["foliage"])
    assert darkest(fig, length=0.30) < 0.3 * large


def darkest_place_uvi(plan, thing: Slab, length: float) -> float:  # type: ignore[no-untyped-def]
    """The brightest point within half a body length of the darkest place."""
    p = replace(plan, animal=replace(plan.animal, body_length_m=length), furnishings=(thing,))
    scene = Scene(p, p.fixtures)
    x, y, z = find_uv_refuge(p, scene)
    half = length / 2
    spots = [(x + a * half, y + b * half, z) for a in (-1, 0, 1) for b in (-1, 0, 1)]
    inside = [s for s in spots if 0 < s[0] < p.enclosure.length_m and 0 < s[1] < p.enclosure.depth_m]
    return float(scene.at(np.array(inside)).uvi_facing.max())
