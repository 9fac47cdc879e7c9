"""Choosing a lamp by its curve, and fitting one's own to readings."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.light.ageing import uv_share
from noonshade.core.light.lamp_curves import (
    FARTHEST_M,
    NEAREST_M,
    LampCondition,
    distance_for,
    find_lamps,
    lamp_curve,
    predict_lamp_readings,
)
from noonshade.core.light.lamp_fit import BAD_MISFIT, LampReading, fit_lamp
from noonshade.core.light.sources import emitter, on_axis
from noonshade.core.plan import BeamSource, LineSource, PanelSource, SourceGeometry
from tests.builders import CATALOG, MATERIALS

UV_LAMPS = [lamp for lamp in CATALOG.lamps.values() if lamp.uv is not None]
SHINING = [lamp for lamp in CATALOG.lamps.values() if lamp.kind != "mat"]
LAMP_IDS = sorted(lamp.id for lamp in UV_LAMPS)
MESH = CATALOG.meshes["fine-0.5-2.0"]


@pytest.mark.parametrize("lamp", SHINING, ids=lambda lamp: lamp.id)
def test_curves_fall_with_distance_and_pass_through_the_reference(lamp) -> None:  # type: ignore[no-untyped-def]
    line = lamp_curve(lamp, LampCondition())
    assert line.distance_m[0] == pytest.approx(NEAREST_M)
    assert line.distance_m[-1] == pytest.approx(FARTHEST_M)
    assert np.all(np.diff(line.irradiance_w_m2) < 0)
    if lamp.uv is None:
        assert not line.uvi.any()
        return
    assert np.all(np.diff(line.uvi) < 0)
    at = predict_lamp_readings(lamp, np.array([lamp.uv.distance_m]), LampCondition())
    assert float(at.uvi[0]) == pytest.approx(lamp.uv.uvi, rel=1e-6)


@settings(max_examples=40)
@given(
    lamp_id=st.sampled_from(LAMP_IDS),
    mesh=st.sampled_from(sorted(CATALOG.meshes)),
    hours=st.floats(100, 20_000),
    distance=st.floats(0.1, 1.2),
)
def test_mesh_and_age_only_take(lamp_id: str, mesh: str, hours: float, distance: float) -> None:
    lamp, at = CATALOG.lamps[lamp_id], np.array([distance])
    bare = float(predict_lamp_readings(lamp, at, LampCondition()).uvi[0])
    screened = predict_lamp_readings(lamp, at, LampCondition(CATALOG.meshes[mesh]))
    assert 0 < float(screened.uvi[0]) < bare
    # Straight down the open share is the most that a mesh passes.
    assert float(screened.uvi[0]) <= CATALOG.meshes[mesh].open_fraction * bare * (1 + 1e-6)
    aged = float(predict_lamp_readings(lamp, at, LampCondition(hours=hours)).uvi[0])
    assert aged == pytest.approx(uv_share(lamp.ageing, hours) * bare)
    assert aged <= bare


def test_power_scales_heat_and_glass_stops_uv_but_not_heat() -> None:
    flood, at = CATALOG.lamps["halogen-flood"], np.array([0.3])
    one, two = (
        predict_lamp_readings(flood, at, LampCondition(), watts).irradiance_w_m2[0]
        for watts in (50.0, 100.0)
    )
    assert two == pytest.approx(2 * one)
    bulb = CATALOG.lamps["mercury-flood-100"]
    behind, bare = (
        predict_lamp_readings(bulb, at, LampCondition(MATERIALS["glass"])),
        predict_lamp_readings(bulb, at, LampCondition()),
    )
    assert float(behind.uvi[0]) == 0.0
    assert 0.6 < float(behind.irradiance_w_m2[0] / bare.irradiance_w_m2[0]) < 0.8


@settings(max_examples=40)
@given(
    lamp_id=st.sampled_from(LAMP_IDS),
    uvi=st.floats(0.3, 8),
    screened=st.booleans(),
    hours=st.sampled_from([100.0, 5000.0]),
)
def test_the_distance_for_a_uv_index_gives_that_index(
    lamp_id: str, uvi: float, screened: bool, hours: float
) -> None:
    lamp, setting = CATALOG.lamps[lamp_id], LampCondition(MESH if screened else None, None, hours)
    far = distance_for(lamp, uvi, setting)
    ends = predict_lamp_readings(lamp, np.array([NEAREST_M, FARTHEST_M]), setting).uvi
    if far is None:
        assert not ends[1] <= uvi <= ends[0]
    else:
        assert float(predict_lamp_readings(lamp, np.array([far]), setting).uvi[0]) == pytest.approx(
            uvi, rel=0.015
        )


def test_distances_that_make_no_sense() -> None:
    assert distance_for(CATALOG.lamps["ceramic-heater"], 3.0, LampCondition()) is None
    with pytest.raises(ValueError, match="above 0"):
        distance_for(UV_LAMPS[0], 0.0, LampCondition())
    with pytest.raises(ValueError, match="lower"):
        find_lamps(UV_LAMPS, 3.0, 2.0, 0.3, LampCondition())


def test_lamps_for_a_place_are_all_and_only_those_that_fit() -> None:
    found = find_lamps(CATALOG.lamps.values(), 1.0, 3.0, 0.4, LampCondition(MESH))
    for lamp in UV_LAMPS:
        uvi = float(predict_lamp_readings(lamp, np.array([0.4]), LampCondition(MESH)).uvi[0])
        assert (lamp.id in {m.lamp.id for m in found}) == (1.0 <= uvi <= 3.0)
    off = [abs(m.uvi - 2.0) for m in found]
    assert off == sorted(off)


GEOMETRIES: list[SourceGeometry] = [
    LineSource(0.55, 1.0),
    LineSource(0.85, None),
    BeamSource(40.0, 0.095),
    PanelSource(0.3, 0.3),
]


@settings(max_examples=40)
@given(
    geometry=st.sampled_from(GEOMETRIES),
    uvi=st.floats(0.5, 12),
    distances=st.lists(st.floats(0.12, 1.0), min_size=2, max_size=6).filter(
        lambda d: max(d) - min(d) > 0.1
    ),
    noise=st.floats(0, 0.1),
    seed=st.integers(0, 1000),
)
def test_a_fit_finds_the_lamp_within_the_noise(
    geometry: SourceGeometry, uvi: float, distances: list[float], noise: float, seed: int
) -> None:
    shape = emitter(geometry)
    at = np.array(distances)
    clean = uvi * on_axis(shape, at) / on_axis(shape, np.array([0.3]))[0]
    noisy = clean * np.exp(np.random.default_rng(seed).uniform(-noise, noise, len(at)))
    fit = fit_lamp(geometry, tuple(LampReading(d, u) for d, u in zip(distances, noisy, strict=True)))
    wanted = uvi * on_axis(shape, np.array([fit.reference.distance_m]))[0]
    wanted /= on_axis(shape, np.array([0.3]))[0]
    assert fit.reference.uvi == pytest.approx(float(wanted), rel=1.1 * noise + 1e-6)
    assert fit.misfit <= 2.3 * noise + 1e-9
    assert min(distances) <= fit.reference.distance_m <= max(distances)
    assert not fit.impossible or fit.misfit > BAD_MISFIT


def test_readings_of_a_shorter_tube_determine_its_length() -> None:
    short, long = LineSource(0.15, 1.0), LineSource(1.15, 1.0)
    at = np.array([0.15, 0.3, 0.6, 0.9])
    read = tuple(
        LampReading(float(d), float(u)) for d, u in zip(at, on_axis(emitter(short), at), strict=True)
    )
    fit = fit_lamp(long, read)
    assert fit.is_bad
    assert not fit.impossible
    assert fit.other_size_m == pytest.approx(0.15, rel=0.15)
    assert fit.fall_off > fit.fall_off_expected + 0.3
    # Nearest too high, farthest too low: that is how it shows.
    assert fit.deviations[0] > 0.15
    assert fit.deviations[-1] < -0.15


@pytest.mark.parametrize(
    ("given_readings", "words"),
    [
        ([(0.3, 5.0)], "at least two"),
        ([(0.3, 5.0), (0.3, 4.0)], "2 cm apart"),
        ([(0.3, 5.0), (0.5, 0.0)], "above 0"),
        ([(0.3, 5.0), (-0.5, 2.0)], "above 0"),
    ],
)
def test_readings_that_determine_nothing_are_refused(
    given_readings: list[tuple[float, float]], words: str
) -> None:
    with pytest.raises(ValueError, match=words):
        fit_lamp(GEOMETRIES[0], tuple(LampReading(*r) for r in given_readings))


def test_a_measured_share_scales_the_whole_curve() -> None:
    lamp = replace(UV_LAMPS[0])
    by_wire, measured = LampCondition(MESH), LampCondition(MESH, MESH.open_fraction / 2)
    ratio = lamp_curve(lamp, measured).uvi / lamp_curve(lamp, by_wire).uvi
    assert ratio == pytest.approx(np.full(ratio.size, 0.5))
