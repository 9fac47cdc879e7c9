"""Limit cases 1–5 and 9 of the light model, and what must always hold."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.light.action import erythema, uv_index
from noonshade.core.light.screens import mesh_transmittance, screen_rows
from noonshade.core.light.sources import UP, beam_exponent, emitter, on_axis, reference_response
from noonshade.core.light.sun import clear_sky_uvi
from noonshade.core.plan import BeamSource, LineSource, Mesh, PanelSource
from tests.builders import CATALOG

FINE = Mesh("fine", "Fine", 0.0005, 0.0020, "test")


@pytest.mark.parametrize(
    ("length", "expected"),
    [
        (0.85, [2.1655, 1.5935, 1.2411, 0.6909, 0.5036, 0.3811]),
        (0.55, [2.4061, 1.7148, 1.2877, 0.6466, 0.4476, 0.3260]),
    ],
)
def test_tube_falls_off_as_its_closed_form(length: float, expected: list[float]) -> None:
    distances = (0.15, 0.20, 0.25, 0.40, 0.50, 0.60)
    # A line, and a tube of 16 mm, whose skin is nearer than its axis.
    for width, within in ((0.0, 5e-4), (0.016, 0.005)):
        source = emitter(LineSource(length, None, width))
        at_reference = reference_response(source, 0.30)
        ratios = [reference_response(source, d) / at_reference for d in distances]
        assert ratios == pytest.approx(expected, rel=within)


def test_short_line_is_inverse_square_and_long_line_inverse() -> None:
    short = emitter(LineSource(0.001, None, 0.0))
    long = emitter(LineSource(400.0, None, 0.0))
    assert reference_response(short, 0.3) / reference_response(short, 0.6) == pytest.approx(4, rel=0.005)
    assert reference_response(long, 0.3) / reference_response(long, 0.6) == pytest.approx(2, rel=0.005)


@pytest.mark.parametrize("fwhm", [12.0, 40.0, 90.0])
def test_beam_halves_at_half_its_width_and_keeps_its_watts(fwhm: float) -> None:
    m = beam_exponent(fwhm)
    assert math.cos(math.radians(fwhm / 2)) ** m == pytest.approx(0.5)
    source = emitter(BeamSource(fwhm, 0.001))
    assert source.density * math.pi * source.half_m[0] ** 2 == pytest.approx((m + 1) / (2 * math.pi))
    assert _captured(source, 5.0) == pytest.approx(1.0, rel=0.005)


@pytest.mark.parametrize(
    "geometry",
    [
        LineSource(0.85, 1.0),
        LineSource(0.55, 0.4),
        BeamSource(40.0, 0.09),
        PanelSource(0.6, 0.3),
    ],
)
def test_every_forward_source_gives_its_watts_to_a_half_sphere(geometry: object) -> None:
    source = emitter(geometry)  # type: ignore[arg-type]
    assert _captured(source, 30.0) == pytest.approx(1.0, rel=0.005)


def test_bare_tube_gives_half_its_watts_down() -> None:
    assert _captured(emitter(LineSource(0.85, None)), 30.0) == pytest.approx(0.5, rel=0.005)


def _captured(source, radius: float) -> float:  # type: ignore[no-untyped-def]
    """Watts through a half sphere below the source, by Fibonacci quadrature."""
    n = 40000
    i = np.arange(n) + 0.5
    z = -i / n
    bearing = i * math.pi * (1 + math.sqrt(5))
    r = np.sqrt(1 - z * z)
    outward = np.column_stack([r * np.cos(bearing), r * np.sin(bearing), z])
    _, on_normal = source.at((0.0, 0.0, 0.0), outward * radius, -outward)
    return float(np.mean(on_normal) * 2 * math.pi * radius**2)


def test_erythema_action_spectrum() -> None:
    values = erythema([298, 310, 320, 330, 350, 400])
    assert values == pytest.approx([1, 0.07447, 0.00855, 0.001413, 7.079e-4, 1.259e-4], rel=1e-3)
    assert erythema(249.0) == 0
    assert erythema(401.0) == 0


def test_uv_index_of_a_known_spectrum() -> None:
    # 0.1 W/m²/nm from 250 to 298 nm, where the action spectrum is 1: 40 × 0.1 × 48.
    assert uv_index([250, 274, 298], [0.1, 0.1, 0.1]) == pytest.approx(192)


@pytest.mark.parametrize(
    ("nm", "watts", "words"),
    [
        ([300, 300], [1, 1], "rise"),
        ([300, 310], [1, -1], "negative"),
        ([300, 310], [1, math.nan], "finite"),
        ([300], [1], "two"),
        ([300, 310, 320], [1, 1], "equally long"),
    ],
)
def test_uv_index_refuses_a_broken_spectrum(nm: list[float], watts: list[float], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        uv_index(nm, watts)


def test_mesh_passes_its_open_area_and_less_at_a_slant() -> None:
    assert mesh_transmittance(FINE, 0.0) == pytest.approx(0.5625)
    assert FINE.open_fraction == pytest.approx(0.5625)
    # Along a wire direction: (1 − w/p)(1 − w/(p cos θ)).
    assert mesh_transmittance(FINE, 60.0) == pytest.approx(0.75 * 0.5)
    assert mesh_transmittance(FINE, 60.0, 90.0) == pytest.approx(0.75 * 0.5)
    assert mesh_transmittance(FINE, 85.0) == 0.0


@given(
    zenith=st.floats(0, 80), bearing=st.floats(0, 360), ratio=st.floats(0.02, 0.6), more=st.floats(0.1, 9)
)
def test_mesh_never_gains_from_slant_and_stays_a_share(
    zenith: float, bearing: float, ratio: float, more: float
) -> None:
    mesh = Mesh("m", "m", ratio * 0.002, 0.002, "test")
    passed = mesh_transmittance(mesh, zenith, bearing)
    assert 0.0 <= passed <= 1.0
    assert mesh_transmittance(mesh, zenith + more, bearing) <= passed + 1e-12


@given(
    zenith=st.floats(0, 75),
    bearing=st.floats(0, 360),
)
@settings(max_examples=40)
def test_kernel_and_formula_agree_on_mesh(zenith: float, bearing: float) -> None:
    source = emitter(LineSource(1e-6, None))
    t, b = math.radians(zenith), math.radians(bearing)
    point = np.array([[math.sin(t) * math.cos(b), math.sin(t) * math.sin(b), -math.cos(t)]])
    screens = screen_rows(FINE, None, "top")[0]
    bare, _ = source.at((0, 0, 0), point, UP[None])
    passed, _ = source.at((0, 0, 0), point, UP[None], screens)
    share = float(np.linalg.norm(passed) / np.linalg.norm(bare))
    assert share == pytest.approx(mesh_transmittance(FINE, zenith, bearing), abs=1e-9)


@pytest.mark.parametrize(("zenith", "expected"), [(0, 12.5), (30, 8.83), (60, 2.34)])
def test_clear_sky(zenith: float, expected: float) -> None:
    assert clear_sky_uvi(zenith) == pytest.approx(expected, abs=0.006)


def test_clear_sky_at_night_and_with_nonsense() -> None:
    assert clear_sky_uvi(95) == 0
    assert clear_sky_uvi(30, 350) < clear_sky_uvi(30, 300)
    with pytest.raises(ValueError, match="ozone"):
        clear_sky_uvi(30, 0)


def test_two_half_tubes_make_a_whole_one() -> None:
    """Superposition: two tubes end to end, half the watts each, read as one of twice the length."""
    whole, half = emitter(LineSource(0.80, 1.0)), emitter(LineSource(0.40, 1.0))
    rng = np.random.default_rng(3)
    points = rng.uniform([-1, -0.3, -0.6], [1, 0.3, -0.1], (50, 3))
    normals = np.tile(UP, (50, 1))
    vector, level = whole.at((0, 0, 0), points, normals)
    left, left_level = half.at((-0.2, 0, 0), points, normals)
    right, right_level = half.at((0.2, 0, 0), points, normals)
    assert np.allclose(vector, 0.5 * (left + right))
    assert np.allclose(level, 0.5 * (left_level + right_level))
    assert not np.allclose(left, right)


def test_mirror_symmetry_about_the_tube() -> None:
    source = emitter(LineSource(0.85, 1.0))
    left = np.array([[-0.3, 0.1, -0.25]])
    right = np.array([[0.3, -0.1, -0.25]])
    a, _ = source.at((0, 0, 0), left, UP[None])
    b, _ = source.at((0, 0, 0), right, UP[None])
    assert np.linalg.norm(a) == pytest.approx(np.linalg.norm(b))


def test_strong_tube_of_the_catalogue() -> None:
    """Section 11: UVI 4.5–7 at 30 cm; through 0.5/2.0 mm mesh 45–60 % of that."""
    lamp = CATALOG.lamps["t5-strong-85"]
    assert lamp.uv is not None
    assert lamp.uv.distance_m == 0.30
    assert 4.5 <= lamp.uv.uvi <= 7
    source = emitter(lamp.geometry)
    below = np.array([[0.0, 0.0, -0.30]])
    _, bare = source.at((0, 0, 0), below, UP[None])
    _, meshed = source.at((0, 0, 0), below, UP[None], screen_rows(FINE, None, "top")[0])
    assert 0.45 <= float(meshed[0] / bare[0]) <= 0.60


def test_dimming_changes_heat_but_not_uv() -> None:
    """A documented simplification: dimmed lamps of the catalogue give no UV."""
    assert all(not lamp.controls for lamp in CATALOG.lamps.values() if lamp.uv is not None)


@pytest.mark.parametrize("lamp", CATALOG.lamps.values(), ids=lambda lamp: lamp.id)
def test_near_field_is_integrated_not_taken_for_a_point(lamp) -> None:  # type: ignore[no-untyped-def]
    """From 10 cm on, twelve times the nodes change a reading by at most a hundredth and a half."""
    at = np.geomspace(0.10, 1.5, 40)
    coarse, fine = (on_axis(emitter(lamp.geometry, fineness), at) for fineness in (1, 12))
    assert np.all(np.diff(coarse) < 0)
    assert np.abs(coarse / fine - 1).max() < 0.015
    point = fine[-1] * at[-1] ** 2 / at**2
    if not isinstance(lamp.geometry, BeamSource) or lamp.geometry.diameter_m > 0.05:
        assert fine[0] < 0.99 * point[0]
