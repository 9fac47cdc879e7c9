"""The ground in layers, zones and burrows, by hand."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import PageMaker, figure, layer, open_tab, saved, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser


def test_drainage_a_mix_a_damp_corner_and_a_burrow_are_planned_and_bought(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/giant-vinegaroon")
    settled(page)
    open_tab(page, "Substrate")
    whole = page.get_by_label("Depth of all layers", exact=True)
    before = float(whole.input_value())
    page.get_by_role("button", name="Add a layer below").click()
    expect(whole).to_have_value(f"{before + 4:g}")
    drainage = page.get_by_test_id("layer-2")
    expect(drainage.get_by_label("Material", exact=True)).to_have_value("clay-balls")
    expect(drainage.get_by_label("A sheet lies on it", exact=True)).to_be_checked()
    soil = page.get_by_test_id("layer-1")
    soil.get_by_role("button", name="Mix something in").click()
    soil.get_by_label("Material 4", exact=True).select_option("coir")
    soil.get_by_label("Parts of material 1", exact=True).fill("5")
    soil.get_by_label("Parts of material 1", exact=True).press("Enter")
    expect(soil).to_contain_text("5 forest soil, 1 clay, 1 dry sand, 1 coir")
    page.get_by_role("button", name="Add a damp corner").click()
    settled(page)
    # The burrow of the plan, nearer to the surface and farther from the mat.
    deep = figure(page, "burrow:air_temperature")
    burrow = page.get_by_role("listitem", name="Burrow under the bark")
    below = burrow.get_by_label("Middle below the surface", exact=True)
    below.fill("6")
    below.press("Enter")
    settled(page)
    assert figure(page, "burrow:air_temperature") < deep - 1.0
    page.get_by_role("button", name="Add a burrow").click()
    settled(page)
    saved(page)
    assert violations(page) == []
    page.get_by_role("radio", name="Above", exact=True).click()
    expect(page.get_by_test_id("ground-zone-1")).to_have_count(1)
    page.get_by_role("radio", name="Front", exact=True).click()
    layer(page, "Surfaces")
    expect(page.get_by_test_id("ground-outlines").locator("ellipse")).to_have_count(2)
    page.get_by_role("radio", name="To build").click()
    drawer = page.get_by_test_id("build")
    expect(drawer).to_contain_text("Fleece or fine mesh")
    expect(drawer).to_contain_text(re.compile(r"Soak the coir, \d+ bricks? of 0.65 kg"))
    expect(drawer).to_contain_text("a handful, squeezed")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Remove layer 3").click()
    expect(whole).to_have_value(f"{before:g}")
    page.keyboard.press("Control+z")
    expect(whole).to_have_value(f"{before + 4:g}")


def test_branches_rise_with_the_ground_and_the_lid_stops_it(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/whites-tree-frog")
    settled(page)
    open_tab(page, "Substrate")
    depth = page.get_by_label("Depth of all layers", exact=True)
    depth.fill("16")
    depth.press("Enter")
    settled(page)
    expect(depth).to_have_value("16")
    page.get_by_role("button", name="Help: depth").click()
    expect(page.get_by_text(re.compile("Deeper than .* it would meet"))).to_be_visible()
    page.keyboard.press("Escape")
    depth.fill("300")
    depth.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("Allowed: 3.5 cm to")
