"""Burrows as places: as warm as the ground around them, dark, and as damp as their walls make them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.linalg import solve_banded

from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import Resolution
from noonshade.core.heat.ground import in_ground
from noonshade.core.moisture.burrow import burrow_vapour
from noonshade.core.moisture.vapour import saturated
from noonshade.core.places import PlaceFigures
from noonshade.core.plan import Burrow, Layer, Plan, Substrate, Zone, mixture
from noonshade.core.plan_errors import plan_errors
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.plan_to_document import plan_document_of
from tests.builders import CATALOG, MATERIALS, lamp, plan, shipped_plan, timber_enclosure
from tests.evaluated import evaluate

GROUND_M = (0.0, 0.01, 0.02, 0.04, 0.06, 0.08, 0.11, 0.14, 0.18, 0.22, 0.28, 0.34, 0.42, 0.5)
OUTSIDE = 0.5 * saturated(25.0)
HOLE = Burrow("hole", "Burrow under the slab", 0.3, 0.3, 0.2, 0.6, 0.3, 0.06)


def deep(*burrows: Burrow, wetness: float = 0.0, below: tuple[Layer, ...] = ()) -> Plan:
    """50 cm of soil with a hot spot at the left, for a lizard with a need for UV."""
    source = plan(
        timber_enclosure(1.1),
        fixtures=(
            lamp("halogen-flood", 75, 0.3, 0.3, 0.9),
            replace(lamp("t5-strong-85", 39, 0.6, 0.4, 1.05), id="tube"),
        ),
    )
    return replace(
        source, substrate=Substrate(MATERIALS["soil"], 0.5, wetness, below=below, burrows=burrows)
    )


def place(source: Plan, key: str = "hole") -> PlaceFigures:
    return next(p for p in evaluate(source).places if p.id == key)


def test_a_burrow_is_as_warm_as_the_ground_around_it_and_dark() -> None:
    source = deep(HOLE)
    found = place(source)
    climate = steady_climate(source)
    ground = in_ground(climate.grid, source.substrate, 0.3, 0.3, 0.2)
    assert found.air_c == pytest.approx(ground.at(climate.temperature_c, climate.room_c), abs=0.05)
    assert found.operative_c == found.air_c == found.probe_c
    assert found.kind == "burrow"
    assert (found.uvi_level, found.uvi_facing, found.irradiance_w_m2, found.illuminance_lx) == (0, 0, 0, 0)


def test_deeper_under_the_lamp_is_cooler_and_beside_it_cooler_still() -> None:
    at = [replace(HOLE, id=f"b{d}", depth_m=d / 100) for d in (5, 15, 30, 45)]
    far = replace(HOLE, id="far", x_m=1.0, depth_m=0.05)
    source = deep(*at, far)
    warm = [place(source, b.id).air_c for b in at]
    assert np.all(np.diff(warm) < 0)
    assert warm[0] > place(source, "far").air_c + 2.0


def test_ground_of_half_a_metre_is_cut_finely_enough() -> None:
    """Under the hot spot and at its edge, against cells half as large and 14 levels."""
    source = deep()
    fine = Resolution(floor_m=0.025, most=64, ground_m=GROUND_M)
    usual, finer = steady_climate(source), steady_climate(source, resolution=fine)
    for x in (0.3, 0.5, 1.0):
        for depth in (0.05, 0.15, 0.25, 0.4):
            a, b = (
                in_ground(c.grid, source.substrate, x, 0.3, depth).at(c.temperature_c, c.room_c)
                for c in (usual, finer)
            )
            assert a == pytest.approx(b, abs=0.7), (x, depth)


def _along(diameter: float, run: float, wetness: float, ground_c: float, outside: float) -> float:
    """The same balance by itself: 2,000 pieces, vapour between them and from their walls."""
    count, diffusivity = 2000, 2.2e-5
    step, area, rim = run / count, np.pi * diameter**2 / 4, np.pi * diameter
    through = diffusivity * area / step
    walls = 3.66 * diffusivity / diameter * wetness * rim * step
    bands = np.zeros((3, count))
    bands[0, 1:] = bands[2, :-1] = -through
    bands[1] = 2 * through + walls
    bands[1, 0] += through
    bands[1, -1] -= through
    right = np.full(count, walls * saturated(ground_c))
    right[0] += 2 * through * outside
    return float(solve_banded((1, 1), bands, right)[-1])


@pytest.mark.parametrize("wetness", [0.001, 0.01, 0.1])
@pytest.mark.parametrize("run", [0.05, 0.3])
def test_vapour_along_a_burrow_is_that_of_many_pieces(wetness: float, run: float) -> None:
    found = burrow_vapour(0.06, run, wetness, 24.0, OUTSIDE)
    assert found == pytest.approx(_along(0.06, run, wetness, 24.0, OUTSIDE), rel=2e-3)


def test_a_burrow_in_dry_ground_has_the_air_outside_and_in_damp_ground_is_full() -> None:
    assert burrow_vapour(0.06, 0.3, 0.0, 24.0, OUTSIDE) == pytest.approx(OUTSIDE)
    assert burrow_vapour(0.06, 0.3, 0.3, 24.0, OUTSIDE) == pytest.approx(saturated(24.0), rel=1e-3)
    assert burrow_vapour(0.06, 1e-6, 0.3, 24.0, OUTSIDE) == pytest.approx(OUTSIDE)
    # Where the ground is colder than what the air outside would turn to dew at, it holds no more.
    assert burrow_vapour(0.06, 0.3, 0.0, 5.0, OUTSIDE) == saturated(5.0)


def test_dry_above_and_damp_below_is_a_damp_burrow() -> None:
    damp = Layer(MATERIALS["soil"], 0.4, wetness=0.4)
    dry = place(deep(HOLE)).relative_humidity
    assert place(deep(HOLE, below=(damp,))).relative_humidity > 0.97 > dry
    shallow = replace(HOLE, depth_m=0.05)
    assert place(deep(shallow, below=(damp,))).relative_humidity == pytest.approx(
        place(deep(shallow)).relative_humidity, abs=0.02
    )


def test_dampness_of_a_point_is_that_of_its_layer_or_of_the_surface_above() -> None:
    soil = MATERIALS["soil"]
    ground = Substrate(
        soil,
        0.3,
        0.1,
        below=(Layer(soil, 0.1, wetness=0.7), Layer(soil, 0.1)),
        zones=(Zone("z", "Corner", 0.2, 0.2, 0.2, 0.2, 0.9),),
    )
    assert ground.wetness_at(0.2, 0.2, 0.05) == 0.9
    assert ground.wetness_at(0.8, 0.2, 0.05) == 0.1
    assert ground.wetness_at(0.2, 0.2, 0.15) == 0.7
    assert ground.wetness_at(0.8, 0.2, 0.25) == 0.1
    wetter = ground.dampened(2.0)
    assert (wetter.wetness, wetter.below[0].wetness, wetter.zones[0].wetness) == (0.2, 1.0, 1.0)
    assert wetter.below[1].wetness is None
    assert not ground.dry().is_damp
    assert ground.dry() == wetter.dry()


def test_one_burrow_it_can_go_to_is_what_it_takes() -> None:
    spider = shipped_plan("giant-vinegaroon")
    depth = spider.substrate.depth_m
    hot = Burrow("near", "Near the top", 0.2, 0.2, 0.03, 0.2, 0.3, 0.04)
    cool = replace(hot, id="deep", label="Deep", x_m=0.35, depth_m=depth - 0.05)
    ground = replace(spider.substrate, burrows=(hot, cool))
    evaluation = evaluate(replace(spider, substrate=ground))
    checks = [c for c in evaluation.checks if c.need.place == "burrow"]
    assert len(checks) == 1
    air = {p.id: p.probe_c for p in evaluation.places if p.kind == "burrow"}
    # Over the mat it is warmer than wanted further down.
    assert air["near"] < air["deep"]
    assert checks[0].place_id == "near"
    assert {p.id for p in evaluation.places if p.kind == "burrow"} == {"near", "deep"}


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"depth_m": 0.49}, "its middle 3 cm to 47 cm below the surface"),
        ({"x_m": -0.1}, "must lie inside the enclosure"),
        ({"mouth_y_m": 0.7}, "must lie inside the enclosure"),
    ],
)
def test_a_burrow_lies_in_the_ground(change: dict[str, float], words: str) -> None:
    wrong = deep(replace(HOLE, **change))  # type: ignore[arg-type]
    assert any(words in str(error) for error in plan_errors(wrong)), plan_errors(wrong)
    assert not plan_errors(deep(HOLE))


def test_layers_zones_and_ids_are_checked() -> None:
    soil = MATERIALS["soil"]
    source = deep()
    size = source.enclosure
    zone = Zone("z", "Corner", 0.1, 0.1, 0.3, 0.1, 0.5)
    for ground, words in (
        (Substrate(soil, 0.1, below=(Layer(soil, 0.1),)), "the layers below take 10 cm"),
        (Substrate(soil, 0.1, zones=(zone,)), "the zone 'Corner' must lie inside"),
        (Substrate(soil, 0.3, burrows=(HOLE, HOLE)), "the id 'hole' is used twice"),
        (
            Substrate(soil, 0.1, zones=2 * (replace(zone, x_m=size.length_m / 2),)),
            "the id 'z' is used twice",
        ),
    ):
        found = [str(e) for e in plan_errors(replace(source, substrate=ground))]
        assert any(words in e for e in found), (words, found)


def test_the_document_keeps_all_of_the_ground() -> None:
    soil, sand = MATERIALS["soil"], MATERIALS["dry-sand"]
    parts = ((soil, 3.0), (sand, 1.0))
    ground = Substrate(
        mixture(parts),
        0.4,
        0.2,
        parts,
        below=(Layer(soil, 0.1, wetness=0.5), Layer(MATERIALS["clay-balls"], 0.05, barrier=True)),
        zones=(Zone("z", "Corner", 0.2, 0.2, 0.2, 0.2, 0.9),),
        burrows=(HOLE,),
    )
    source = replace(shipped_plan("collared-lizard"), substrate=ground)
    back = resolve(plan_document_of(source), CATALOG)
    assert back.substrate == ground
