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
    depth = page.get_by_label("Depth", exact=True)
    before = float(depth.input_value())
    page.get_by_role("button", name="Add a layer below").click()
    whole = page.get_by_label("Depth of all layers", exact=True)
    expect(whole).to_have_value(f"{before + 4:g}")
    drainage = page.get_by_test_id("layer-1")
    expect(drainage.get_by_label("Material", exact=True)).to_have_value("clay-balls")
    expect(drainage.get_by_label("A sheet lies on it", exact=True)).to_be_checked()
    top = page.get_by_test_id("layer-0")
    top.get_by_role("button", name="Mix something in").click()
    top.get_by_label("Material 2", exact=True).select_option("coir")
    top.get_by_label("Parts of material 1", exact=True).fill("3")
    top.get_by_label("Parts of material 1", exact=True).press("Enter")
    expect(top).to_contain_text("1 coir")
    page.get_by_role("button", name="Add a damp corner").click()
    page.get_by_role("button", name="Add a burrow").click()
    settled(page)
    saved(page)
    burrow = page.get_by_role("listitem", name="Burrow", exact=True)
    below = burrow.get_by_label("Middle below the surface", exact=True)
    expect(page.get_by_test_id("check-burrow-1:air_temperature")).to_contain_text("Burrow")
    deep = figure(page, "burrow-1:air_temperature")
    below.fill("6")
    below.press("Enter")
    settled(page)
    assert figure(page, "burrow-1:air_temperature") < deep, "nearer to the mat it is warmer"
    assert violations(page) == []
    for view in ("Front", "Above"):
        page.get_by_role("radio", name=view, exact=True).click()
    expect(page.get_by_test_id("ground-zone-1")).to_have_count(1)
    page.get_by_role("radio", name="Front", exact=True).click()
    layer(page, "Surfaces")
    expect(page.get_by_test_id("ground-outlines").locator("ellipse")).to_have_count(1)
    page.get_by_role("radio", name="To build").click()
    drawer = page.get_by_test_id("build")
    expect(drawer).to_contain_text("Fleece or fine mesh")
    expect(drawer).to_contain_text(re.compile(r"Soak the coir, \d+ bricks? of 0.65 kg"))
    expect(drawer).to_contain_text("a handful, squeezed")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Remove layer 2").click()
    expect(page.get_by_label("Depth", exact=True)).to_have_value(f"{before:g}")
    page.keyboard.press("Control+z")
    expect(whole).to_have_value(f"{before + 4:g}")


def test_branches_rise_with_the_ground_and_the_lid_stops_it(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/whites-tree-frog")
    settled(page)
    open_tab(page, "Substrate")
    depth = page.get_by_label("Depth", exact=True)
    depth.fill("12")
    depth.press("Enter")
    settled(page)
    expect(depth).to_have_value("12")
    page.get_by_role("button", name="Help: depth").click()
    expect(page.get_by_text(re.compile("Deeper than .* it would meet"))).to_be_visible()
    page.keyboard.press("Escape")
    depth.fill("300")
    depth.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("Allowed: 0.0 cm to")
