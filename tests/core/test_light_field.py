"""The light field of whole enclosures against an independent reference, and what must hold of its parts."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from noonshade.core.light.exposure import BEYOND, daily_light_integral, exposure_class, exposure_classes
from noonshade.core.light.field import _BAND, _FACED, QUANTITIES, Scene
from noonshade.core.light.kernel import MOMENTS, pane_share
from noonshade.core.light.returned import light_sent_back, nodes_at
from noonshade.core.light.sources import UP, emitter, frame_of
from noonshade.core.plan import (
    Background,
    BeamSource,
    Branch,
    Fixture,
    Furnishing,
    Inset,
    Leaves,
    LineSource,
    Plan,
    TableSource,
    Wall,
)
from tests.builders import CATALOG, MATERIALS, busy_plan, demo_plan, lamp, plan, shining, timber_enclosure
from tests.reference_light import vector_per_lamp

Floats = NDArray[np.float64]
BUSY = busy_plan()
MESH_LID = Wall(mesh=CATALOG.meshes["coarse-1.0-12.5"])
TUBE = "t5-strong-85"


def scene(p: Plan, *fixtures: Fixture, bounce: bool = False) -> Scene:
    return Scene(p, fixtures or p.fixtures, bounce=bounce)


def uvi(p: Plan, *point: float, bounce: bool = False) -> float:
    return float(scene(p, bounce=bounce).at(np.array([point])).uvi_facing[0])


def enclosure_of(*fixtures: Fixture, furnishings: tuple[Furnishing, ...] = (), **walls: Wall) -> Plan:
    return plan(timber_enclosure(0.6, **walls), fixtures=fixtures, furnishings=furnishings)


# -- against the reference ---------------------------------------------------------------------------


@pytest.mark.parametrize("kind", ["t5-strong-85", "mercury-flood-100", "led-uvb-bar-60"])
def test_every_kind_of_source_agrees_with_bright_dots_and_straight_rays(kind: str) -> None:
    fixture = next(f for f in BUSY.fixtures if f.lamp.id == kind)
    rng = np.random.default_rng(4)
    points = rng.uniform([0.04, 0.01, 0.06], [1.19, 0.56, 0.5], (60, 3))
    mine = scene(BUSY, fixture)
    vectors, _ = mine._direct(points, np.tile(UP, (60, 1)))
    tube = isinstance(fixture.lamp.geometry, LineSource)
    exact = vector_per_lamp(BUSY, fixture, points, *((400, 12) if tube else (48, 24)))
    unshaded = scene(replace(BUSY, furnishings=()), fixture).at(points).uvi_facing
    off = np.linalg.norm(vectors[0] * mine.shining[0].scale[0] - exact, axis=1) / unshaded
    assert np.percentile(off, 95) < 0.015
    assert off.max() < 0.05
    # The scene does hide something, or this would say little.
    assert np.mean(np.linalg.norm(exact, axis=1) < 0.9 * unshaded) > 0.3


def test_lattice_agrees_with_points_taken_one_by_one() -> None:
    x, z = np.meshgrid(np.linspace(0, 1.2, 121), np.linspace(0.051, 0.85, 61))
    lattice = np.stack([x, np.full(x.shape, 0.3), z], axis=2)
    whole = scene(BUSY)
    flat = lattice.reshape(-1, 3)
    singly, together = whole.at(flat).uvi_level, whole.on_lattice(lattice).uvi_level
    unshaded = scene(replace(BUSY, furnishings=())).at(flat).uvi_level
    off = np.abs(singly - together) / unshaded.clip(1e-3 * unshaded.max())
    assert np.percentile(off, 99) < 0.01
    assert np.percentile(off, 99.9) < 0.02


@pytest.mark.parametrize("columns", [9, 12, 120, 240])
def test_the_last_points_of_a_lattice_are_as_right_as_the_first(columns: int) -> None:
    x, z = np.meshgrid(np.linspace(0.05, 1.15, columns), np.linspace(0.1, 0.7, 60))
    lattice = np.stack([x, np.full(x.shape, 0.3), z], axis=2)
    bare = scene(replace(BUSY, furnishings=()))
    singly, together = bare.at(lattice.reshape(-1, 3)).uvi_level, bare.on_lattice(lattice).uvi_level
    off = np.abs(together / singly - 1).reshape(x.shape)
    assert off[:, -1].max() < 3e-3
    assert off[-1].max() < 3e-3


def test_a_lattice_may_be_a_single_row_or_point() -> None:
    row = np.stack([np.linspace(0.1, 1.1, 17), np.full(17, 0.3), np.full(17, 0.5)], axis=1)
    whole = scene(BUSY)
    assert whole.on_lattice(row[None]).uvi_level == pytest.approx(whole.at(row).uvi_level, rel=0.02)
    assert whole.on_lattice(row[None, :1]).uvi_level == pytest.approx(whole.at(row[:1]).uvi_level)


def test_the_kink_where_leaves_end_is_followed() -> None:
    bush = Leaves("b", "Bush", 0.6, 0.3, 0.33, 0.3, 0.3, 0.2, 0.2, MATERIALS["foliage"])
    enclosure = scene(replace(BUSY, furnishings=(bush,)))
    x, z = np.meshgrid(np.linspace(0.4, 0.8, 81), np.linspace(0.2, 0.6, 81))
    lattice = np.stack([x, np.full(x.shape, 0.3), z], axis=2)
    flat = lattice.reshape(-1, 3)
    singly, together = enclosure.at(flat).uvi_level, enclosure.on_lattice(lattice).uvi_level
    assert np.abs(together - singly).max() < 0.012 * singly.max()


def test_several_lattices_at_once_are_the_same_as_one_by_one() -> None:
    x, y = np.meshgrid(np.linspace(0, 1.2, 24), np.linspace(0, 0.6, 12))
    low, high = (np.stack([x, y, np.full(x.shape, z)], axis=2) for z in (0.1, 0.3))
    whole = scene(BUSY, bounce=True)
    a, b = whole.on_lattices([low, high])
    assert np.array_equal(a.uvi_facing, whole.on_lattice(low).uvi_facing)
    assert np.array_equal(b.uvi_facing, whole.on_lattice(high).uvi_facing)
    assert not np.allclose(a.uvi_facing, b.uvi_facing)


def test_shade_is_softer_for_a_wider_source_and_darkest_behind_the_middle() -> None:
    twig = Branch("b", "Branch", (0.6, 0.05, 0.3), (0.6, 0.55, 0.3), 0.03, MATERIALS["timber"])
    below = [(0.6 + dx, 0.3, 0.15) for dx in (0.0, 0.03, 0.06, 0.2)]

    def shade(diameter: float) -> list[float]:
        made = CATALOG.lamps["mercury-flood-100"]
        source = replace(made, geometry=BeamSource(60.0, diameter))
        fixture = replace(lamp("mercury-flood-100", made.power_w, 0.6, 0.3, 0.55), lamp=source)
        with_it, bare = enclosure_of(fixture, furnishings=(twig,)), enclosure_of(fixture)
        return [uvi(with_it, *p) / uvi(bare, *p) for p in below]

    narrow, wide = shade(0.01), shade(0.12)
    assert narrow[0] == pytest.approx(0.0, abs=1e-9)
    assert 0.2 < wide[0] < 0.9
    assert narrow[3] == wide[3] == pytest.approx(1.0)
    assert wide[0] <= wide[1] <= wide[2]


# -- lamps turned and tilted --------------------------------------------------------------------------


@given(turn=st.floats(-180, 180), lean=st.floats(-89, 89), tilt=st.floats(-89, 89))
def test_a_turned_lamp_keeps_its_axes_square(turn: float, lean: float, tilt: float) -> None:
    frame = frame_of(lamp(TUBE, 39, 0.6, 0.3, 0.5, turn_deg=turn, lean_deg=lean, tilt_deg=tilt))
    assert np.allclose(frame @ frame.T, np.eye(3), atol=1e-12)


def test_directions_of_turning() -> None:
    lean = frame_of(lamp(TUBE, 39, 0, 0, 0, lean_deg=30))
    assert lean[2, 0] > 0.4  # the beam goes to the right
    assert lean[0, 2] > 0.4  # and the right end comes up
    assert frame_of(lamp(TUBE, 39, 0, 0, 0, tilt_deg=30))[2, 1] > 0.4  # to the back
    assert frame_of(lamp(TUBE, 39, 0, 0, 0, turn_deg=90))[0] == pytest.approx([0, 1, 0], abs=1e-12)


def test_a_tube_turned_by_a_right_angle_lights_the_enclosure_turned_with_it() -> None:
    straight = enclosure_of(lamp("t5-strong-55", 24, 0.6, 0.3, 0.5))
    turned = enclosure_of(lamp("t5-strong-55", 24, 0.6, 0.3, 0.5, turn_deg=90))
    assert uvi(turned, 0.6, 0.5, 0.2) == pytest.approx(uvi(straight, 0.8, 0.3, 0.2))
    assert uvi(turned, 0.8, 0.3, 0.2) < uvi(straight, 0.8, 0.3, 0.2)


def test_tilting_a_lamp_away_takes_its_light_along() -> None:
    made = CATALOG.lamps["mercury-flood-100"]
    upright = enclosure_of(lamp("mercury-flood-100", made.power_w, 0.6, 0.3, 0.5))
    tilted = enclosure_of(lamp("mercury-flood-100", made.power_w, 0.6, 0.3, 0.5, lean_deg=30))
    assert uvi(tilted, 0.77, 0.3, 0.2) > uvi(upright, 0.77, 0.3, 0.2)
    assert uvi(tilted, 0.43, 0.3, 0.2) < uvi(upright, 0.43, 0.3, 0.2)


# -- angular tables -----------------------------------------------------------------------------------


def test_a_table_of_a_cosine_is_a_cosine() -> None:
    gamma = np.linspace(0, 90, 91)
    row = tuple(np.cos(np.radians(gamma)).clip(0).tolist())
    table = emitter(TableSource(0.1, (0.0,), tuple(gamma.tolist()), (row,)))
    plain = emitter(BeamSource(120.0, 0.1))  # cos¹: half at 60°
    points = np.array([[0.0, 0.0, -0.3], [0.2, 0.1, -0.3], [0.5, -0.4, -0.2]])
    normals = np.tile(UP, (3, 1))
    assert table.at((0, 0, 0), points, normals)[0] == pytest.approx(
        plain.at((0, 0, 0), points, normals)[0], rel=2e-3
    )


def test_a_table_by_bearing_turns_with_the_lamp() -> None:
    bearing, gamma = (0.0, 90.0, 180.0, 270.0, 360.0), (0.0, 45.0, 90.0)
    rows = ((1.0, 1.0, 0.0), (1.0, 0.2, 0.0), (1.0, 1.0, 0.0), (1.0, 0.2, 0.0), (1.0, 1.0, 0.0))
    source = emitter(TableSource(0.02, bearing, gamma, rows))
    along, across = np.array([[0.3, 0.0, -0.3]]), np.array([[0.0, 0.3, -0.3]])
    ratio = [np.linalg.norm(source.at((0, 0, 0), p, UP[None])[0]) for p in (along, across)]
    # A little less than 1 : 0.2, as the source is not a point and the table linear in between.
    assert ratio[0] / ratio[1] == pytest.approx(5.0, rel=0.1)
    turned = np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 0.0, -1.0]])
    swung = np.linalg.norm(source.at((0, 0, 0), along, UP[None], frame=turned)[0])
    assert swung == pytest.approx(ratio[1], rel=1e-6)


# -- screens ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("pane", "passes"), [("glass", 0.0), ("polycarbonate", 0.0), ("acrylic-uvt", 0.75)]
)
def test_panes_pass_uvb_as_the_catalogue_says(pane: str, passes: float) -> None:
    bare = enclosure_of(lamp("mercury-flood-100", 100, 0.6, 0.3, 0.5))
    behind = enclosure_of(lamp("mercury-flood-100", 100, 0.6, 0.3, 0.5, screen=MATERIALS[pane]))
    assert uvi(behind, 0.6, 0.3, 0.2) == pytest.approx(passes * uvi(bare, 0.6, 0.3, 0.2), rel=0.01)
    lux = [scene(p).at(np.array([[0.6, 0.3, 0.2]])).illuminance_level_lx[0] for p in (behind, bare)]
    assert 0.8 < lux[0] / lux[1] < 0.95


def test_a_pane_passes_less_at_a_slant_and_never_more() -> None:
    shares = [float(pane_share(1.5, math.cos(math.radians(a)))) for a in (0, 30, 60, 75, 85)]
    assert shares[0] == pytest.approx(1.0)
    assert all(a > b for a, b in pairwise(shares))
    # Fresnel for n = 1.5 by hand: 0.9231 passes both faces at 0°; (0.6998 + 0.9964)/2 at 60°.
    assert shares[2] == pytest.approx(0.8481 / 0.9231, abs=1e-3)


def test_a_measured_share_replaces_the_catalogue_straight_through() -> None:
    mesh = CATALOG.meshes["fine-0.5-2.0"]
    far = (0.6, 0.3, 0.1)
    spot = replace(CATALOG.lamps["mercury-flood-100"], geometry=BeamSource(20.0, 0.01))
    bare = enclosure_of(replace(lamp("mercury-flood-100", 100, 0.6, 0.3, 0.58), lamp=spot))
    screened = replace(bare.fixtures[0], screen=mesh, screen_measured=0.3)
    assert uvi(replace(bare, fixtures=(screened,)), *far) == pytest.approx(0.3 * uvi(bare, *far), rel=0.01)


def test_a_lid_partly_closed_lets_light_in_by_its_window_alone() -> None:
    window = Inset(0.1, 0.1, 0.5, 0.5, MESH_LID)
    above = lamp(TUBE, 39, 0.6, 0.3, 0.63)
    closed = plan(timber_enclosure(), fixtures=(above,))
    part = replace(closed, enclosure=replace(closed.enclosure, insets=(window,)))
    whole = plan(timber_enclosure(top=MESH_LID), fixtures=(above,))
    assert uvi(closed, 0.3, 0.3, 0.3) == 0.0
    assert 0 < uvi(part, 0.3, 0.3, 0.3) < uvi(whole, 0.3, 0.3, 0.3)
    # Under the board, far from the window, hardly anything arrives.
    assert uvi(part, 1.1, 0.3, 0.55) < 0.02 * uvi(whole, 1.1, 0.3, 0.55)
    # A lid in two parts of the same mesh is the same as one whole.
    both = replace(whole, enclosure=replace(whole.enclosure, insets=(window,)))
    assert uvi(both, 0.55, 0.3, 0.3) == pytest.approx(uvi(whole, 0.55, 0.3, 0.3), rel=2e-3)


# -- leaves, walls, bounce ----------------------------------------------------------------------------


def test_leaves_dim_by_their_porosity_and_more_at_a_slant() -> None:
    leaves = Leaves("l", "Leaves", 0.6, 0.3, 0.5, 0.5, 0.1, 0.15, 0.4, MATERIALS["foliage"])
    spot = replace(CATALOG.lamps["mercury-flood-100"], geometry=BeamSource(170.0, 0.01))
    bare = enclosure_of(replace(lamp("mercury-flood-100", 100, 0.6, 0.3, 0.58), lamp=spot))
    green = replace(bare, furnishings=(leaves,))
    assert uvi(green, 0.6, 0.3, 0.1) == pytest.approx(0.4 * uvi(bare, 0.6, 0.3, 0.1), rel=0.01)
    slanted = uvi(green, 0.7, 0.3, 0.1) / uvi(bare, 0.7, 0.3, 0.1)
    assert slanted < 0.4
    # Below the top of the leaves there is less of them overhead.
    assert uvi(green, 0.6, 0.3, 0.25) / uvi(bare, 0.6, 0.3, 0.25) == pytest.approx(0.4**0.5, rel=0.02)


def test_fog_dims_by_beer_and_lambert() -> None:
    spot = replace(CATALOG.lamps["mercury-flood-100"], geometry=BeamSource(60.0, 0.01))
    clear = enclosure_of(replace(lamp("mercury-flood-100", 100, 0.6, 0.3, 0.5), lamp=spot))
    foggy = replace(clear, fog_per_m=2.0)
    for z in (0.1, 0.3):
        share = uvi(foggy, 0.6, 0.3, z) / uvi(clear, 0.6, 0.3, z)
        assert share == pytest.approx(math.exp(-2.0 * (0.5 - z)), rel=2e-3)


def test_a_background_is_a_wall_nearer_by() -> None:
    board = Background("b", "Back", "back", 0.05, MATERIALS["bark-board"])
    lined = enclosure_of(lamp(TUBE, 39, 0.6, 0.3, 0.5), furnishings=(board,))
    assert uvi(lined, 0.6, 0.58, 0.3) == 0.0
    assert uvi(lined, 0.6, 0.5, 0.3) > 1.0


def test_bounce_is_small_over_soil_large_in_polished_aluminium_and_never_takes_light() -> None:
    p = enclosure_of(lamp(TUBE, 39, 0.6, 0.3, 0.5))
    shiny = replace(
        p,
        enclosure=replace(
            p.enclosure, walls={f: Wall(MATERIALS["aluminium"], 0.002) for f in p.enclosure.walls}
        ),
    )
    places = np.random.default_rng(2).uniform([0.1, 0.1, 0.1], [1.1, 0.5, 0.45], (40, 3))
    direct = scene(p).at(places).uvi_level
    soil, bright = (scene(q, bounce=True).at(places).uvi_level for q in (p, shiny))
    assert np.all(soil >= direct)
    assert np.all(bright >= soil)
    assert np.median(soil / direct) < 1.02
    assert np.median(bright / direct) > 1.03


def test_light_comes_back_up_from_a_white_floor_by_its_reflectance() -> None:
    """Above the middle of an evenly lit floor, what comes up is at most its reflectance of what falls."""
    p = enclosure_of(
        replace(lamp("radiant-panel-80", 80, 0.6, 0.3, 0.59), lamp=shining("radiant-panel-80"))
    )
    black = replace(p.substrate.material, absorptance=1.0)
    point = np.array([[0.6, 0.3, 0.2]])
    up = []
    for absorptance in (0.2, 0.6):
        ground = replace(p.substrate, material=replace(black, absorptance=absorptance))
        lit = scene(replace(p, substrate=ground), bounce=True)
        dark = scene(replace(p, substrate=replace(ground, material=black)), bounce=True)
        seen = [_moments(s, point)[1:4] for s in (lit, dark)]
        # Half of the vector is what a meter gains by turning to it: see ``read_moments``.
        up.append(-(seen[0] - seen[1])[2])
    falling = float(scene(p).at(np.array([[0.6, 0.3, 0.051]])).irradiance_level_w_m2[0])
    assert 0.5 * 0.8 < up[0] / falling < 0.8
    assert 0.4 < up[1] / up[0] < 0.55


def _moments(lit: Scene, point: Floats) -> Floats:
    """Moments of the radiant heat sent back to a point."""
    assert lit._reflected is not None
    nodes = nodes_at(lit._reflected, point)
    found = light_sent_back(nodes, lit._responses, lit._scales, _BAND, _FACED)
    row: Floats = found[0, QUANTITIES + MOMENTS :]
    return row


# -- superposition, classes, plants -------------------------------------------------------------------


@settings(max_examples=15)
@given(x=st.floats(0.05, 1.15), y=st.floats(0.02, 0.55), z=st.floats(0.06, 0.5))
def test_lamps_add_up_behind_any_furniture(x: float, y: float, z: float) -> None:
    point = np.array([[x, y, z]])
    whole = scene(BUSY, bounce=True).at(point)
    parts = [scene(BUSY, f, bounce=True).at(point) for f in BUSY.fixtures]
    assert float(whole.uvi_level[0]) == pytest.approx(sum(float(q.uvi_level[0]) for q in parts), abs=1e-9)
    # A meter is turned to the best of some ways, so to a thousandth.
    assert float(whole.uvi_facing[0]) <= 1.001 * sum(float(q.uvi_facing[0]) for q in parts) + 1e-9


@settings(max_examples=15)
@given(x=st.floats(0.05, 1.15), z=st.floats(0.06, 0.5))
def test_furnishings_only_take_light_away(x: float, z: float) -> None:
    point = np.array([[x, 0.3, z]])
    bare = scene(replace(BUSY, furnishings=())).at(point).uvi_level[0]
    some = scene(replace(BUSY, furnishings=BUSY.furnishings[:6])).at(point).uvi_level[0]
    # To the precision of the quadrature, which is broken at other places.
    assert scene(BUSY).at(point).uvi_level[0] <= some + 0.01 * bare
    assert some <= 1.01 * bare


def test_mirrored_enclosures_are_lit_alike() -> None:
    p = demo_plan()
    length = p.enclosure.length_m

    def mirrored(item):  # type: ignore[no-untyped-def]
        swap = {"left": "right", "right": "left"}
        turned = replace(item, x_m=length - item.x_m)
        return (
            replace(turned, opening=swap.get(item.opening, item.opening))
            if hasattr(item, "opening")
            else turned
        )

    other = replace(
        p,
        furnishings=tuple(mirrored(f) for f in p.furnishings),
        fixtures=tuple(
            replace(f, position_m=(length - f.position_m[0], *f.position_m[1:]), turn_deg=-f.turn_deg)
            for f in p.fixtures
        ),
    )
    rng = np.random.default_rng(8)
    points = rng.uniform([0.02, 0.02, 0.1], [1.18, 0.58, 0.55], (60, 3))
    there = points * [-1, 1, 1] + [length, 0, 0]
    a, b = scene(p).at(points).uvi_facing, scene(other).at(there).uvi_facing
    assert a == pytest.approx(b, rel=2e-3, abs=1e-6)


def test_exposure_classes_by_the_highest_voluntary_exposure() -> None:
    assert [exposure_class(u) for u in (0.0, 0.1, 0.5, 1.4, 2.9, 7.0, 9.5, 9.6)] == [
        0,
        0,
        1,
        1,
        2,
        3,
        4,
        BEYOND,
    ]
    values = np.array([0.05, 0.2, 1.4, 1.5, 8.0, 20.0])
    assert exposure_classes(values).tolist() == [exposure_class(float(v)) for v in values]


def test_photosynthetic_light_of_plant_lamps_alone() -> None:
    point = np.array([[0.6, 0.3, 0.2]])
    grow = next(entry for entry in CATALOG.lamps.values() if entry.lux_per_ppfd)
    lit = scene(enclosure_of(lamp(grow.id, grow.power_w, 0.6, 0.3, 0.5))).at(point)
    assert lit.ppfd_umol_m2_s[0] == pytest.approx(lit.illuminance_level_lx[0] / grow.lux_per_ppfd)
    assert scene(enclosure_of(lamp(TUBE, 39, 0.6, 0.3, 0.5))).at(point).ppfd_umol_m2_s[0] == 0.0
    assert daily_light_integral(100.0, 12.0) == pytest.approx(4.32)
