"""Light over all bounces: limit cases 11 and 12, path-traced references, mirrors, what always holds."""

from __future__ import annotations

import json
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.light.field import _BAND, _FACED, QUANTITIES, LightAtPoints, Scene
from noonshade.core.light.kernel import MOMENTS, face_reflectance, gather, metered, sheet_reflectance
from noonshade.core.light.radiosity import form_factors, reflections
from noonshade.core.light.returned import light_sent_back, nodes_at, nodes_on_lattice
from noonshade.core.light.screens import FORWARD, mesh_transmittance
from noonshade.core.light.shade import obstacles
from noonshade.core.light.sources import UP, emitter
from noonshade.core.light.surfaces import MOST_PATCHES, cut, find_surfaces, mirrored_all_around
from noonshade.core.plan import Branch, Face, Hide, LineSource, Mesh, Plan, Wall, Water
from tests.builders import MATERIALS, busy_plan, demo_plan, lamp, plan, shining, timber_enclosure
from tests.reference_scenes import FOLDER, NAMES, Floats, matt, read_scene

BUSY = busy_plan()
# A quantity of each band is read: UV, radiant heat, light.
BANDS = np.array([0, 1, 2])


def closed(reflectance: float, panel_at: float = 0.57) -> Plan:
    """An empty enclosure of one matt material with a small panel under the lid."""
    wall = Wall(matt(reflectance), 0.01)
    box = replace(timber_enclosure(0.6), walls=dict.fromkeys(timber_enclosure().walls, wall), vents=())
    panel = replace(lamp("radiant-panel-40", 40, 0.4, 0.3, panel_at), lamp=shining("radiant-panel-40"))
    made = plan(box, fixtures=(panel,))
    return replace(made, substrate=replace(made.substrate, material=matt(reflectance)))


# -- limit cases ---------------------------------------------------------------------------------------


@given(x=st.floats(0.02, 1.18), y=st.floats(0.02, 0.58), z=st.floats(0.07, 0.58))
@settings(max_examples=25)
def test_a_meter_in_a_uniformly_glowing_enclosure_reads_one_everywhere(
    x: float, y: float, z: float
) -> None:
    """Limit case 11, for a meter that looks up and for one that looks where it likes."""
    reflected = reflections(closed(0.5))
    nodes = nodes_at(reflected, np.array([[x, y, z]]))
    exitance = np.ones((4 * len(reflected.surfaces.area_m2), 3))
    found = np.zeros((1, 3 + 2 * MOMENTS))
    faced = np.array([0, 1])
    gather(nodes.elements, nodes.shares, nodes.ways, exitance, BANDS, faced, found)
    read = metered(np.zeros((0, 1, 4)), np.zeros((0, 3)), found, nodes.nodes, nodes.weights, faced)
    assert read[:, 0] == pytest.approx(np.ones(5), rel=0.02)


@pytest.mark.parametrize("reflectance", [0.05, 0.3, 0.6, 0.8])
@pytest.mark.parametrize("panel_at", [0.57, 0.3])
def test_an_empty_enclosure_absorbs_what_its_lamp_sends(reflectance: float, panel_at: float) -> None:
    """Limit case 12."""
    made = closed(reflectance, panel_at)
    scene = Scene(made, made.fixtures)
    assert scene._reflected is not None
    s = scene._reflected.surfaces
    sent = scene._responses[0].exitance[:, 1].reshape(-1, 4).mean(axis=1)
    absorbed = float(np.sum(sent / reflectance * (1.0 - reflectance) * s.area_m2))
    # For 1 W; the little that the spread of a panel over a patch misses is of the direct light.
    assert absorbed == pytest.approx(1.0, rel=0.005)


# -- against path tracing ------------------------------------------------------------------------------


def off(name: str) -> tuple[Floats, Floats, Floats]:
    """Errors (n,) of level and facing readings, and where direct light falls."""
    made, table = read_scene(name)
    got: LightAtPoints = Scene(made, made.fixtures).at(table.points)
    level, facing = (
        (got.uvi_level, got.uvi_facing)
        if name.endswith("-uv")
        else (got.irradiance_level_w_m2, got.irradiance_facing_w_m2)
    )
    lit = table.direct_level > 0.05 * np.median(table.direct_level[table.direct_level > 0])
    return np.abs(level / table.level - 1), np.abs(facing / table.facing - 1), lit


@pytest.mark.parametrize("name", [n for n in NAMES if n.startswith("empty")])
def test_light_in_empty_enclosures_agrees_with_path_tracing(name: str) -> None:
    level, facing, _ = off(name)
    assert np.median(level) < 0.01
    assert np.median(facing) < 0.01
    assert max(level.max(), facing.max()) < 0.15


@pytest.mark.parametrize("name", [n for n in NAMES if n.startswith("furnished")])
def test_light_among_furnishings_agrees_with_path_tracing(name: str) -> None:
    level, facing, lit = off(name)
    assert np.median(level[lit]) < 0.01
    assert np.median(facing[lit]) < 0.01
    assert np.sum(~lit) >= 10
    assert np.median(level[~lit]) < 0.05
    assert np.median(facing[~lit]) < 0.05


@pytest.mark.parametrize("name", [n for n in NAMES if n.startswith("glass")])
def test_light_beside_panes_agrees_with_path_tracing(name: str) -> None:
    level, facing, lit = off(name)
    assert np.median(level[lit]) < 0.01
    assert np.median(facing[lit]) < 0.01
    assert level[lit].max() < 0.06


def test_panes_and_pale_walls_matter_in_those_tables() -> None:
    """Or agreement with them would say little."""
    for name, least in (("empty-long-60", 1.3), ("glass-four", 1.03), ("furnished-walls-60", 1.3)):
        _, table = read_scene(name)
        lit = table.direct_level > 0
        assert np.median(table.level[lit] / table.direct_level[lit]) > least


# -- form factors --------------------------------------------------------------------------------------


def test_form_factors_of_an_empty_enclosure_sum_to_one_and_are_reciprocal() -> None:
    made = closed(0.5)
    surfaces = find_surfaces(made)
    factors = form_factors(surfaces, obstacles(made))
    assert factors.sum(axis=1) == pytest.approx(np.ones(len(factors)), abs=5e-3)
    flow = surfaces.free_m2[:, None] * factors
    assert flow == pytest.approx(flow.T, abs=1e-12)


def test_the_form_factor_between_opposite_faces_of_a_cube_is_the_known_one() -> None:
    """0.19982 for faces of a unit cube, 0.20004 between neighbours (Howell, catalogue of factors)."""
    box = replace(timber_enclosure(), length_m=1.0, depth_m=1.0, height_m=1.0, vents=())
    made = replace(plan(box), substrate=replace(plan(box).substrate, depth_m=0.0))
    surfaces = find_surfaces(made)
    factors = form_factors(surfaces, obstacles(made))
    ground = surfaces.normal[:, 2] > 0.5
    lid, left = surfaces.normal[:, 2] < -0.5, surfaces.normal[:, 0] > 0.5

    def between(one: Floats, other: Floats) -> float:
        area = surfaces.area_m2[one]
        return float((area[:, None] * factors[np.ix_(one, other)]).sum() / area.sum())

    assert between(ground, lid) == pytest.approx(0.19982, rel=2e-3)
    assert between(ground, left) == pytest.approx(0.20004, rel=2e-3)


def test_what_stands_between_patches_hides_them_from_each_other() -> None:
    surfaces = find_surfaces(BUSY)
    factors = form_factors(surfaces, obstacles(BUSY))
    bare = replace(BUSY, furnishings=())
    empty = form_factors(find_surfaces(bare), obstacles(bare))
    assert np.all(factors >= 0.0)
    # Leaves keep some light, so rows sum to 1 or less; in the bare enclosure all arrives.
    assert factors.sum(axis=1).max() < 1.1
    assert np.median(factors.sum(axis=1)) > 0.9
    assert empty.sum(axis=1) == pytest.approx(np.ones(len(empty)), abs=5e-3)


def test_patches_have_edges_where_they_must() -> None:
    edges = cut(1.0, 0.3, (0.45, 0.5, 1.2))
    assert {0.0, 0.45, 0.5, 1.0} <= set(edges.tolist())
    assert np.all(np.diff(edges) > 0)
    assert len(cut(0.2, 0.3, least=2)) == 3


# -- mirrors -------------------------------------------------------------------------------------------


def test_reflectance_of_glass_is_fresnels() -> None:
    assert face_reflectance(1.5, 1.0) == pytest.approx(0.04)
    # Both faces of a clear sheet: 2R/(1 + R).
    assert sheet_reflectance(1.5, 1.0, 1.0) == pytest.approx(0.08 / 1.04)
    assert sheet_reflectance(1.5, 0.5, 0.0) == pytest.approx(face_reflectance(1.5, 0.5))
    assert sheet_reflectance(1.5, 1e-6, 1.0) == pytest.approx(1.0, abs=1e-3)
    # 0.0918 for one face of n = 1.5 lit from all around (Duffie and Beckman's integral, by hand).
    one, _, both = mirrored_all_around(1.5, (0.0, 0.5, 1.0))
    assert one == pytest.approx(0.0918, abs=5e-4)
    assert both > 1.6 * one


@pytest.mark.parametrize("face", ["left", "right", "front", "back"])
def test_a_pane_adds_what_a_lamp_behind_it_would(face: Face) -> None:
    black = Wall(matt(0.0), 0.01)
    box = timber_enclosure(0.6)
    walls = dict.fromkeys(box.walls, black) | {face: Wall(MATERIALS["glass"], 0.004)}
    made = plan(replace(box, walls=walls, vents=()), fixtures=(lamp("halogen-spot", 50, 0.6, 0.3, 0.5),))
    wide = replace(made.fixtures[0].lamp, geometry=replace(made.fixtures[0].lamp.geometry, fwhm_deg=120.0))
    dark = replace(made.substrate, material=matt(0.0))
    made = replace(made, fixtures=(replace(made.fixtures[0], lamp=wide),), substrate=dark)
    point = np.array([0.5, 0.25, 0.2])
    axis, at = {"left": (0, 0.0), "right": (0, 1.2), "front": (1, 0.0), "back": (1, 0.6)}[face]
    image = np.array([0.6, 0.3, 0.5])
    image[axis] = 2.0 * at - image[axis]
    way = point - image
    far = float(np.linalg.norm(way))
    cosine = abs(way[axis]) / far
    r = face_reflectance(1.5, cosine)
    through = MATERIALS["glass"].transmittance / 0.96**2
    mirrored = sheet_reflectance(1.5, cosine, through)
    assert mirrored > r
    down = -way[2] / far
    watts = 50 * wide.forward_radiant
    expected = watts / math.pi * down * down / far**2 * mirrored
    bare = Scene(made, made.fixtures, bounce=False).at(point[None]).irradiance_level_w_m2[0]
    with_pane = Scene(made, made.fixtures).at(point[None]).irradiance_level_w_m2[0]
    # The slant of the source's disc and what is mirrored to and fro are the rest.
    assert with_pane - bare == pytest.approx(expected, rel=0.03)


def test_milky_plastic_is_no_mirror() -> None:
    assert MATERIALS["glass"].is_clear
    assert MATERIALS["acrylic-uvt"].is_clear
    assert MATERIALS["polypropylene"].is_pane
    assert not MATERIALS["polypropylene"].is_clear


def test_water_mirrors_what_falls_on_it_up_again() -> None:
    def up(wet: bool) -> float:
        made = closed(0.0)
        if wet:
            pool = Water("w", "Pool", 0.4, 0.3, 0.5, 0.4, 0.05, matt(0.0))
            made = replace(made, furnishings=(pool,))
        scene = Scene(made, made.fixtures)
        assert scene._reflected is not None
        nodes = nodes_at(scene._reflected, np.array([[0.4, 0.3, 0.2]]))
        found = light_sent_back(nodes, scene._responses, scene._scales, _BAND, _FACED)
        return -float(found[0, QUANTITIES + MOMENTS + 3])

    made = closed(0.0)
    falling = Scene(made, made.fixtures, bounce=False).at(np.array([[0.4, 0.3, 0.05]]))
    assert up(False) == 0.0
    # 2 % straight down for n = 1.33, more at a slant; as far behind the water as the lamp is before it.
    assert 0.005 < up(True) / falling.irradiance_level_w_m2[0] < 0.03


def test_a_plan_full_of_things_has_no_more_patches_than_can_be_computed() -> None:
    twigs = tuple(
        Branch(
            f"b{k}",
            "Twig",
            (0.1 + 0.005 * k, 0.1, 0.1),
            (0.1 + 0.005 * k, 0.5, 0.5),
            0.01,
            MATERIALS["timber"],
        )
        for k in range(120)
    )
    made = replace(closed(0.5), furnishings=twigs)
    assert len(find_surfaces(made).area_m2) <= MOST_PATCHES


# -- meshes --------------------------------------------------------------------------------------------


def test_welded_and_woven_mesh_agree_with_rays_through_their_wires() -> None:
    rows = json.loads((FOLDER / "woven-mesh.table.json").read_text())
    assert {row["woven"] for row in rows} == {True, False}
    for row in rows:
        mesh = Mesh("m", "m", row["ratio"], 1.0, "test", woven=row["woven"])
        share = mesh_transmittance(mesh, row["zenith_deg"], row["bearing_deg"])
        # The table's grid of rays is good to 0.015.
        assert share == pytest.approx(row["passed"], abs=0.016)


def test_bright_wires_send_light_on_and_black_ones_hardly_any() -> None:
    def lit(finish: str, bounce: bool = True) -> LightAtPoints:
        mesh = Mesh("m", "m", 0.0005, 0.002, "test", True, finish)  # type: ignore[arg-type]
        box = replace(timber_enclosure(0.6, top=Wall(mesh=mesh)))
        made = plan(box, fixtures=(lamp("halogen-flood", 75, 0.6, 0.3, 0.65),))
        return Scene(made, made.fixtures, bounce=bounce).at(np.array([[0.6, 0.3, 0.3], [0.2, 0.3, 0.3]]))

    bright, black = (lit(f).irradiance_level_w_m2 for f in ("bright", "black"))
    straight = lit("black", bounce=False).irradiance_level_w_m2
    assert np.all(bright > black)
    # Wide: it tells most beside the beam.
    assert bright[1] / black[1] > bright[0] / black[0]
    assert (bright - black)[0] < 0.1 * straight[0]
    assert FORWARD["black"] < FORWARD["matt"] < FORWARD["bright"] < 0.3


def test_wires_of_a_guard_under_a_lamp_send_light_on_too() -> None:
    bare = closed(0.0)
    points = np.array([[0.4, 0.3, 0.3], [1.0, 0.3, 0.3]])
    read = []
    for finish in ("black", "bright"):
        mesh = Mesh("m", "m", 0.0005, 0.002, "test", False, finish)  # type: ignore[arg-type]
        made = replace(bare, fixtures=tuple(replace(f, screen=mesh) for f in bare.fixtures))
        read.append(Scene(made, made.fixtures).at(points).irradiance_level_w_m2)
    without = Scene(bare, bare.fixtures).at(points).irradiance_level_w_m2
    gained = (read[1] - read[0]) / without
    # Of the panel's light, wires catch half or more, and send a fifth of that on as wide as the panel does.
    assert np.all(gained > 0.07)
    assert np.all(gained < 0.16)


def test_wires_of_a_lid_send_light_back_and_an_open_one_none() -> None:
    def lit(lid: Wall) -> float:
        made = closed(0.5)
        made = replace(made, enclosure=replace(made.enclosure, walls={**made.enclosure.walls, "top": lid}))
        return float(Scene(made, made.fixtures).at(np.array([[0.9, 0.3, 0.1]])).irradiance_level_w_m2[0])

    def mesh(finish: str) -> Wall:
        return Wall(mesh=Mesh("m", "m", 0.0005, 0.002, "test", True, finish))  # type: ignore[arg-type]

    assert lit(Wall()) < lit(mesh("black")) < lit(mesh("bright")) < lit(Wall(matt(0.5), 0.01))


# -- tubes ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("x", "z"), [(0.0, -0.05), (0.0, -0.3), (0.325, -0.03), (0.475, -0.05), (0.27, -0.1)]
)
def test_a_bare_tube_is_a_round_lambertian_rod(x: float, z: float) -> None:
    length, radius = 0.55, 0.013
    point = np.array([x, 0.0, z])
    along = ((np.arange(1500) + 0.5) / 1500 - 0.5) * length
    angle = 2.0 * math.pi * (np.arange(300) + 0.5) / 300
    a, b = np.meshgrid(along, angle)
    normal = np.stack([0.0 * a, np.cos(b), np.sin(b)], axis=-1)
    skin = np.stack([a, radius * np.cos(b), radius * np.sin(b)], axis=-1)
    way = point - skin
    far = np.linalg.norm(way, axis=-1)
    light = np.maximum((way * normal).sum(axis=-1) / far, 0.0) / far**2 / math.pi / a.size
    exact = -(way / far[..., None] * light[..., None]).sum(axis=(0, 1))
    tube = emitter(LineSource(length, None, 2.0 * radius))
    vector, _ = tube.at((0.0, 0.0, 0.0), point[None], UP[None])
    assert vector[0] == pytest.approx(exact, abs=0.005 * float(np.linalg.norm(exact)))


# -- what must always hold -----------------------------------------------------------------------------


def test_paler_walls_make_no_place_darker() -> None:
    points = np.random.default_rng(3).uniform([0.05, 0.05, 0.08], [1.15, 0.55, 0.55], (40, 3))
    before = np.zeros(40)
    for reflectance in (0.0, 0.05, 0.2, 0.5, 0.8):
        made = closed(reflectance)
        now = Scene(made, made.fixtures).at(points).irradiance_level_w_m2
        assert np.all(now >= before)
        before = now


def test_a_hide_is_dim_and_not_black() -> None:
    hide = Hide("h", "Hide", 0.9, 0.3, 0.25, 0.2, 0.12, 0.01, "left", 0.1, 0.08, MATERIALS["cork"])
    made = replace(closed(0.6), furnishings=(hide,))
    scene = Scene(made, made.fixtures)
    heat = scene.at(np.array([[0.9, 0.3, 0.08], [0.6, 0.3, 0.08]])).irradiance_level_w_m2
    assert 0.001 < heat[0] / heat[1] < 0.2


def test_the_reflectance_of_every_inner_face_can_be_given() -> None:
    made = demo_plan()
    lit = tuple(f for f in made.fixtures if f.lit_at("day"))
    points = np.array([[0.3, 0.3, 0.3], [0.9, 0.3, 0.2]])
    dull, pale = (
        Scene(made, lit, inner_reflectance=r).at(points).irradiance_level_w_m2 for r in (0.05, 0.6)
    )
    assert np.all(pale > dull)
    assert not find_surfaces(made, 0.3).panes


def test_lattices_are_filled_in_from_nodes_that_see_their_points() -> None:
    made = replace(closed(0.6), furnishings=BUSY.furnishings[:5])
    x, z = np.meshgrid(np.linspace(0.02, 1.18, 117), np.linspace(0.06, 0.58, 53))
    lattice = np.stack([x, np.full(x.shape, 0.17), z], axis=2)
    scene = Scene(made, made.fixtures)
    flat = lattice.reshape(-1, 3)
    free = ~obstacles(made).contains(flat)
    assert scene._reflected is not None
    nodes = nodes_on_lattice(scene._reflected, lattice)
    assert nodes.weights[free].sum(axis=1) == pytest.approx(np.ones(int(free.sum())), abs=1e-5)
    some = np.flatnonzero(free)[::23]
    whole = scene.on_lattice(lattice).irradiance_level_w_m2[some]
    singly = scene.at(flat[some]).irradiance_level_w_m2
    assert np.mean(singly > 0) > 0.98
    apart = np.abs(whole - singly)[singly > 0] / singly[singly > 0]
    assert np.median(apart) < 0.01
    assert np.percentile(apart, 95) < 0.15
