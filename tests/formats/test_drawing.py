"""The drawing as SVG: true to scale, the field as computed, checks marked by shape."""

from __future__ import annotations

import base64
import io
import json
import re
from dataclasses import replace
from importlib.resources import files
from xml.etree import ElementTree as ET

import numpy as np
import pytest
from PIL import Image

from noonshade.core.assessment.shelter import COIL_SHARE
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanGrid, SectionGrid, Views, compute_fields
from noonshade.core.plan import Background, Branch, Hide, Inset, Leaves, Plan, Vent, Wall, Water
from noonshade.demo import DEMO_PLANS
from noonshade.formats.drawing import FIELD_NAMES, above_svg, front_svg
from noonshade.formats.drawing.animals import outline, pose_between
from noonshade.formats.drawing.labels import Box, leader, placed, shared_area
from noonshade.formats.drawing.paper import SVG
from noonshade.formats.drawing.scales import ramp_table, scale_of
from tests.builders import CATALOG, MATERIALS, changed, demo_plan, shipped_plan
from tests.evaluated import evaluate

NS = f"{{{SVG}}}"


@pytest.fixture(scope="module")
def evaluation() -> Evaluation:
    return evaluate(demo_plan())


@pytest.fixture(scope="module")
def views(evaluation: Evaluation) -> Views:
    return compute_fields(evaluation, SectionGrid(nx=60, nz=30), PlanGrid(nx=60, ny=30))


def _front(evaluation: Evaluation, views: Views, **options: object) -> ET.Element:
    assert views.section is not None
    return ET.fromstring(front_svg(evaluation, views.section, **options))  # type: ignore[arg-type]


def _texts(root: ET.Element) -> list[str]:
    return [t.text or "" for t in root.iter(f"{NS}text")]


def _image(root: ET.Element) -> tuple[ET.Element, np.ndarray]:
    image = next(root.iter(f"{NS}image"))
    raw = base64.b64decode(image.attrib["href"].partition(",")[2])
    return image, np.asarray(Image.open(io.BytesIO(raw)))


def test_the_picture_is_true_to_scale(evaluation: Evaluation, views: Views) -> None:
    root = _front(evaluation, views)
    image, _ = _image(root)
    plan = evaluation.plan
    wide, tall = float(image.attrib["width"]), float(image.attrib["height"])
    open_height = plan.enclosure.height_m - plan.substrate.depth_m
    assert wide / tall == pytest.approx(plan.enclosure.length_m / open_height, rel=2e-3)
    slab = plan.basking_slab
    assert slab is not None
    scale = wide / plan.enclosure.length_m
    sizes = [(float(r.attrib["width"]), float(r.attrib["height"])) for r in root.iter(f"{NS}rect")]
    assert any(
        abs(w - scale * slab.length_m) < 0.1 and abs(h - scale * slab.thickness_m) < 0.1 for w, h in sizes
    )


def test_the_brightest_pixel_is_where_the_field_is_highest(evaluation: Evaluation, views: Views) -> None:
    _, pixels = _image(_front(evaluation, views))
    assert views.section is not None
    lightness = pixels.astype(float).sum(axis=2)
    row, column = np.unravel_index(np.argmax(lightness), lightness.shape)
    k, i = np.unravel_index(np.argmax(views.section.uvi), views.section.uvi.shape)
    nz, nx = views.section.uvi.shape
    # Everything over the top of the scale looks alike, so only the neighbourhood is compared.
    high = views.section.uvi >= min(views.section.uvi.max(), 14.0) * 0.95
    at = (nz - 1 - int(row * nz / lightness.shape[0]), int(column * nx / lightness.shape[1]))
    assert high[max(0, at[0] - 1) : at[0] + 2, max(0, at[1] - 1) : at[1] + 2].any()
    assert high[k, i]


@pytest.mark.parametrize("name", FIELD_NAMES)
def test_each_field_has_its_scale_and_says_it_is_predicted(
    evaluation: Evaluation, views: Views, name: str
) -> None:
    assert views.plan_view is not None
    for root in (
        _front(evaluation, views, name=name),
        ET.fromstring(above_svg(evaluation, views.plan_view, name)),  # type: ignore[arg-type]
    ):
        words = " ".join(_texts(root))
        assert "Predicted, not measured." in words
        assert "–" in words or name not in ("uvi", "air")


def test_figures_are_those_of_the_evaluation_in_either_unit(evaluation: Evaluation, views: Views) -> None:
    surface = evaluation.places[0].surface_c
    assert surface is not None
    assert f"surface {surface:.0f} °C" in _texts(_front(evaluation, views, name="air"))
    fahrenheit = surface * 1.8 + 32
    texts = _texts(_front(evaluation, views, name="air", units="imperial"))
    assert f"surface {fahrenheit:.0f} °F" in texts
    assert "in" in texts
    assert "cm" not in texts


def test_what_fails_points_up_or_down(evaluation: Evaluation, views: Views) -> None:
    # The demo's slab is too hot: its mark is a triangle with its point up.
    marks = [
        [tuple(map(float, p.split(","))) for p in m.attrib["points"].split()]
        for m in _front(evaluation, views, name="air").iter(f"{NS}polygon")
    ]
    assert len(marks) == 1
    (_, base, _), tip = marks[0], marks[0][2]
    assert tip[1] < base[1]
    assert not list(_front(evaluation, views, name="uvi").iter(f"{NS}polygon"))


@pytest.mark.parametrize("name", ["crocodile-lizard", "panther-chameleon"])
def test_every_kind_of_thing_is_drawn_from_both_sides(name: str) -> None:
    result = evaluate(shipped_plan(name))
    seen = compute_fields(result, SectionGrid(nx=30, nz=20), PlanGrid(nx=30, ny=20))
    assert seen.section is not None
    assert seen.plan_view is not None
    front = ET.fromstring(front_svg(result, seen.section))
    above = ET.fromstring(above_svg(result, seen.plan_view))
    branches = sum(isinstance(f, Branch) for f in result.plan.furnishings)
    assert branches
    for root in (front, above):
        thick = [e for e in root.iter(f"{NS}line") if e.attrib.get("stroke-linecap") == "round"]
        assert len(thick) == branches
    assert all(p.label in _texts(above) for p in result.places)


def _with_enclosure(plan: Plan, **values: object) -> Plan:
    return replace(plan, enclosure=replace(plan.enclosure, **values))  # type: ignore[arg-type]


def _with_item(plan: Plan, item: object) -> Plan:
    return replace(plan, furnishings=(*plan.furnishings, item))  # type: ignore[arg-type]


MESH = Wall(mesh=CATALOG.meshes["medium-0.7-4.0"])
GLASS = Wall(MATERIALS["glass"], 0.004)
BARE = demo_plan()
# What is put into the enclosure, and how many shapes it adds in front and above; none where it is not seen.
PUT_IN: dict[str, tuple[Plan, int, int]] = {
    "mesh in the lid": (_with_enclosure(BARE, insets=(Inset(0.3, 0.1, 0.7, 0.5, MESH),)), 2, 1),
    "mesh in the left wall": (
        _with_enclosure(BARE, insets=(Inset(0.1, 0.3, 0.5, 0.5, MESH, "left"),)),
        2,
        0,
    ),
    "pane in the right wall": (
        _with_enclosure(BARE, insets=(Inset(0.1, 0.3, 0.5, 0.5, GLASS, "right"),)),
        2,
        0,
    ),
    "door in the front": (
        _with_enclosure(BARE, insets=(Inset(0.1, 0.1, 0.5, 0.5, GLASS, "front", 0.002),)),
        1,
        0,
    ),
    "vent in the back": (
        _with_enclosure(BARE, vents=(*BARE.enclosure.vents, Vent("back", 0.6, 0.3, 0.004))),
        1,
        0,
    ),
    "cork on the left": (_with_item(BARE, Background("c", "Cork", "left", 0.03, MATERIALS["cork"])), 1, 1),
    "cork on the right": (
        _with_item(BARE, Background("c", "Cork", "right", 0.03, MATERIALS["cork"])),
        1,
        1,
    ),
    "cork at the back": (_with_item(BARE, Background("c", "Cork", "back", 0.03, MATERIALS["cork"])), 0, 1),
    "a pool": (_with_item(BARE, Water("w", "Pool", 0.9, 0.3, 0.2, 0.2, 0.05, MATERIALS["plastic"])), 1, 1),
    "leaves": (
        _with_item(BARE, Leaves("l", "Leaves", 0.9, 0.3, 0.2, 0.2, 0.2, 0.1, 0.1, MATERIALS["foliage"])),
        *(1, 1),
    ),
    "a hide with its door in front": (
        _with_item(
            BARE,
            Hide(
                *("h", "Hide", 0.9, 0.3, 0.15, 0.12, 0.08, 0.01, "front", 0.06, 0.05),
                MATERIALS["cork"],
            ),
        ),
        *(2, 1),
    ),
    "a guard": (changed(BARE, "basking-lamp", guard=True), 1, 0),
    "a mesh under the tube": (changed(BARE, "uv-tube", screen=CATALOG.meshes["fine-0.5-2.0"]), 1, 0),
}


def _shapes(svg: str) -> tuple[int, list[str]]:
    """How many shapes there are, and all numbers of their places."""
    root = ET.fromstring(svg)
    kinds = {f"{NS}{k}" for k in ("rect", "line", "path", "ellipse", "circle", "polygon")}
    shapes = [e for e in root.iter() if e.tag in kinds]
    numbers = [
        v for e in shapes for k, v in e.attrib.items() if k in ("x", "y", "x1", "y1", "width", "height")
    ]
    return len(shapes), numbers


@pytest.mark.parametrize("name", PUT_IN)
def test_what_is_put_in_is_drawn(name: str, evaluation: Evaluation, views: Views) -> None:
    plan, more_in_front, more_above = PUT_IN[name]
    assert views.section is not None
    assert views.plan_view is not None
    there = replace(evaluation, plan=plan)
    for before, after, more in (
        (front_svg(evaluation, views.section), front_svg(there, views.section), more_in_front),
        (above_svg(evaluation, views.plan_view), above_svg(there, views.plan_view), more_above),
    ):
        (had, _), (has, numbers) = _shapes(before), _shapes(after)
        assert has == had + more
        assert all(-200.0 < float(v) < 2000.0 for v in numbers)
        assert all(float(v) >= 0.0 for e in ET.fromstring(after).iter(f"{NS}rect") for v in _sizes(e))


def _sizes(rect: ET.Element) -> tuple[str, str]:
    return rect.attrib["width"], rect.attrib["height"]


def test_names_are_escaped(evaluation: Evaluation, views: Views) -> None:
    plan = replace(evaluation.plan, name='<script>"&')
    assert views.section is not None
    svg = front_svg(replace(evaluation, plan=plan), views.section)
    assert "<script" not in svg
    title = ET.fromstring(svg).find(f"{NS}title")
    assert title is not None
    assert title.text is not None
    assert title.text.startswith('<script>"&')


def test_ramps_rise_in_lightness_from_end_to_end() -> None:
    for name in ("uv", "heat", "damp"):
        table = ramp_table(name).astype(float) / 255
        linear = np.where(table <= 0.04045, table / 12.92, ((table + 0.055) / 1.055) ** 2.4)
        luminance = linear @ [0.2126, 0.7152, 0.0722]
        assert np.all(np.diff(luminance) > -1e-3)
        assert luminance[-1] - luminance[0] > 0.8


def test_scales_keep_their_ends() -> None:
    uvi = scale_of("uvi")
    assert float(uvi.share(0.0)) == 0.0
    assert float(uvi.share(99.0)) == 1.0
    assert float(uvi.share(uvi.high / 4)) == pytest.approx(0.5)
    air = scale_of("air", np.array([18.0, 33.2]), 21.0)
    assert (air.low, air.high) == (20.0, 35.0)
    assert air.levels[0] == 21.0


def test_every_number_in_the_picture_is_finite(evaluation: Evaluation, views: Views) -> None:
    assert views.plan_view is not None
    for svg in (above_svg(evaluation, views.plan_view), ET.tostring(_front(evaluation, views)).decode()):
        assert not re.search(r'"[^"]*\b(nan|inf)\b[^"]*"', svg)


def _boxes(root: ET.Element, kind: str) -> list[Box]:
    found = [r for r in root.iter(f"{NS}rect") if r.attrib.get("class") == kind]
    return [Box(*(float(r.attrib[side]) for side in ("x", "y", "width", "height"))) for r in found]


@pytest.mark.parametrize("plan_id", DEMO_PLANS)
@pytest.mark.parametrize("width", [760.0, 360.0])
def test_no_plate_lies_on_another_in_any_demo_plan(plan_id: str, width: float) -> None:
    made = evaluate(shipped_plan(plan_id))
    section = compute_fields(made, SectionGrid(nx=20, nz=12), None).section
    assert section is not None
    plates = _boxes(ET.fromstring(front_svg(made, section, "air", width=width, highest=260)), "plate")
    assert len(plates) >= 3
    for i, a in enumerate(plates):
        for b in plates[i + 1 :]:
            assert shared_area(a, b, apart=0) == 0, (a, b)


def test_labels_move_aside_and_stay_within_bounds() -> None:
    bounds = Box(0, 0, 200, 100)
    wanted = {name: Box(150, 40, 60, 20) for name in "abc"}
    found = placed(wanted, bounds, taken=[Box(140, 0, 60, 30)])
    for i, a in enumerate(found.values()):
        assert a.x >= 0
        assert a.x + a.width <= 200
        assert a.y + a.height <= 100
        assert shared_area(a, Box(140, 0, 60, 30)) == 0
        assert all(shared_area(a, b) == 0 for b in list(found.values())[i + 1 :])
    assert leader(Box(50, 50, 20, 10), (60, 20)) == (60, 50)
    assert leader(Box(50, 50, 20, 10), (60, 45)) is None
    # Where there is no room at all it still says what it says.
    assert placed({"a": Box(0, 0, 300, 200)}, bounds, [bounds])["a"].width == 300


@pytest.mark.parametrize("plan_id", DEMO_PLANS)
def test_animals_are_drawn_by_group_inside_the_walls(plan_id: str) -> None:
    made = evaluate(shipped_plan(plan_id))
    section = compute_fields(made, SectionGrid(nx=20, nz=12), None).section
    assert section is not None
    root = ET.fromstring(front_svg(made, section, "air"))
    image, _ = _image(root)
    left, right = float(image.attrib["x"]), float(image.attrib["x"]) + float(image.attrib["width"])
    paths = [p.attrib["d"] for p in root.iter(f"{NS}path") if p.attrib.get("class") == "animal"]
    basks = any(p.kind == "basking" for p in made.places)
    assert len(paths) == (1 if basks and made.plan.animal.species.group != "snake" else 0)
    for path in paths:
        across = [float(pair.split()[0]) for pair in re.findall(r"-?[\d.]+ -?[\d.]+", path)]
        assert min(across) >= left - 1
        assert max(across) <= right + 1


def test_a_tail_turns_round_or_is_bent() -> None:
    points = outline("lizard", "side")
    assert pose_between(points, 0.6, 0.2, 0.0, 1.2) == pytest.approx((0.5, 1, 1.0))
    assert pose_between(points, 0.2, 0.2, 0.0, 1.2)[1:] == (-1, 1.0)
    bent = pose_between(points, 0.3, 0.3, 0.0, 0.6)
    assert 0 < bent.tail < 1
    assert outline("worm of no group", "side") == points


def test_coils_are_as_wide_on_paper_and_screens_as_in_the_model() -> None:
    shipped = json.loads((files("noonshade.shared") / "silhouettes.json").read_text(encoding="utf-8"))
    assert shipped["coil_share"] == COIL_SHARE


def test_a_layer_without_anything_to_show_is_light_and_says_so() -> None:
    made = evaluate(shipped_plan("giant-vinegaroon"))
    views = compute_fields(made, SectionGrid(nx=20, nz=12), None)
    assert views.section is not None
    root = ET.fromstring(front_svg(made, views.section, "uvi"))
    assert next(root.iter(f"{NS}image"), None) is None
    assert "No UV here" in _texts(root)
    assert "No UV here" not in _texts(ET.fromstring(front_svg(made, views.section, "air")))
