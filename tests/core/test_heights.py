"""Figures by height, and in the ground."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import section
from noonshade.core.heat.climate import surroundings_of
from noonshade.core.heat.streamed_model import StreamedModel
from noonshade.core.heights import figures_by_height
from noonshade.core.plan import Branch, Thermostat
from noonshade.core.plan_errors import plan_errors
from noonshade.core.probe import probe
from noonshade.core.readings.reading import Reading, predict_values
from tests.builders import MATERIALS, demo_plan, lamp, plan, timber_enclosure
from tests.evaluated import evaluate


@pytest.fixture(scope="module")
def deep() -> Evaluation:
    """The demo enclosure on 20 cm of ground."""
    return evaluate(
        plan(timber_enclosure(), fixtures=(lamp("halogen-flood", 75, 0.3, 0.3, 0.55),), substrate_m=0.2)
    )


def climber() -> Evaluation:
    tall = replace(timber_enclosure(), length_m=0.6, height_m=1.2, vents=())
    branches = tuple(
        Branch(f"b{i}", f"Branch {i}", (0.05, 0.3, z), (0.55, 0.3, z), 0.04, MATERIALS["hardwood"])
        for i, z in enumerate((0.3, 0.6, 1.0))
    )
    return evaluate(
        plan(tall, furnishings=branches, fixtures=(lamp("ceramic-heater", 60, 0.3, 0.3, 1.12),))
    )


def test_a_tall_enclosure_is_read_at_its_perches_from_the_top_down() -> None:
    found = figures_by_height(climber())
    assert [h.label for h in found] == ["Top perch", "Middle perch", "Low perch", "Ground"]
    assert [h.thing for h in found] == ["Branch 2", "Branch 1", "Branch 0", ""]
    assert all(a.above_ground_m > b.above_ground_m for a, b in itertools.pairwise(found))
    # A heater under the lid warms the top most, and each perch has another surface temperature.
    assert all(a.figures.air_c > b.figures.air_c for a, b in itertools.pairwise(found))
    assert len({round(h.figures.surface_c, 2) for h in found}) == 4


def test_without_perches_the_air_of_a_tall_enclosure_is_read() -> None:
    tall = replace(timber_enclosure(), height_m=1.2, vents=())
    found = figures_by_height(evaluate(plan(tall, fixtures=(lamp("ceramic-heater", 60, 0.6, 0.3, 1.1),))))
    assert [h.label for h in found] == ["Under the lid", "Half way up", "A quarter up", "Ground"]
    assert figures_by_height(evaluate(plan(replace(timber_enclosure(), height_m=0.4, vents=())))) == ()


def test_the_ground_is_read_at_any_depth(deep: Evaluation) -> None:
    depths = (0.02, 0.05, 0.1, 0.15, 0.19)
    found = [probe(deep, (0.3, 0.3, 0.2 - depth)) for depth in depths]
    assert [f.depth_m for f in found] == pytest.approx(depths)
    # Under the lamp it is warmer the nearer to the surface.
    assert all(a.probe_c > b.probe_c for a, b in itertools.pairwise(found))
    assert all(f.uvi_facing == 0 and f.relative_humidity is None for f in found)
    surface = probe(deep, (0.3, 0.3, 0.2)).surface_c
    assert surface > found[0].probe_c > surface - 8
    with pytest.raises(PlanError, match="outside the enclosure"):
        probe(deep, (0.3, 0.3, -0.01))


def test_a_section_shows_the_ground_as_a_probe_reads_it(deep: Evaluation) -> None:
    ground = section(deep, 0.3).ground
    assert ground.z_m[0] == pytest.approx(0.0)
    assert ground.z_m[-1] == pytest.approx(0.2)
    for k in (1, -2):
        i = 5
        read = probe(deep, (float(ground.x_m[i]), 0.3, float(ground.z_m[k]) - 1e-6))
        assert read.probe_c == pytest.approx(float(ground.temperature_c[k, i]), abs=0.05)


def test_a_buried_probe_is_predicted_as_the_ground_and_no_humidity_is(deep: Evaluation) -> None:
    buried = (0.3, 0.3, 0.1)
    read = predict_values(deep, (Reading("r", "air", 25.0, buried),))
    assert float(read[0]) == pytest.approx(probe(deep, buried).probe_c)
    with pytest.raises(PlanError, match="not computed"):
        predict_values(deep, (Reading("r", "humidity", 0.5, buried),))


def test_a_thermostat_feels_the_ground_its_probe_lies_in() -> None:
    source = demo_plan()
    deep = replace(source, substrate=replace(source.substrate, depth_m=0.15))
    buried = Thermostat("main", "Thermostat", "on_off", 30.0, 24.0, 1.0, (0.3, 0.3, 0.05))
    held = replace(deep, thermostats=(buried,))
    assert [e for e in plan_errors(held) if "probe" in e.path] == []
    model = StreamedModel(held, (), {}, surroundings_of(held, "day"))
    mean, rise = model.probe(buried.probe_m)
    assert np.isin(mean.node, np.concatenate([s.nodes.ravel() for s in model.grid.floor])).all()
    assert float(np.abs(rise).sum()) == 0
