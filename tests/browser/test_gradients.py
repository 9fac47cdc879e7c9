"""Vents and holes, the ground and the heights of a tall enclosure."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, open_tab, saved, settled

pytestmark = pytest.mark.browser


def test_holes_are_drilled_into_the_lid_and_taken_back(page: Page) -> None:
    open_tab(page, "Lid")
    page.get_by_role("button", name="A vent or holes in it").click()
    form = page.get_by_test_id("vent")
    expect(form).to_be_visible()
    holes = form.get_by_label("Holes")
    holes.fill("12")
    holes.press("Enter")
    width = form.get_by_label("Width of each")
    width.fill("1")
    width.press("Enter")
    saved(page)
    vents = page.request.get("/api/plans/collared-lizard").json()["document"]["enclosure"]["vents"]
    assert (vents[-1]["side"], vents[-1]["holes"]) == ("top", 12)
    assert vents[-1]["area_m2"] == pytest.approx(12 * 3.1416 * 0.005**2, rel=1e-3)
    drawn = page.get_by_role("button", name=re.compile("^Holes in the lid"))
    drawn.focus()
    page.keyboard.press("ArrowRight")
    saved(page)
    vents = page.request.get("/api/plans/collared-lizard").json()["document"]["enclosure"]["vents"]
    assert vents[-1]["x_m"] > 0.6
    page.locator("body").press("Control+z")
    page.get_by_role("button", name="Remove vent 1").click()
    expect(form).to_have_count(0)


def test_the_ground_is_coloured_and_read_in_its_depth(page: Page) -> None:
    page.get_by_role("radio", name="Surfaces").click()
    ground = page.get_by_test_id("ground-colours")
    expect(ground).to_be_attached()
    box = ground.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 0.3 * box["width"], box["y"] + 0.5 * box["height"])
    expect(page.get_by_test_id("pointer-reading")).to_contain_text(
        re.compile(r"from the left, 4(\.\d)? cm deep in the ground: \d\d\.\d °C")
    )


def test_a_tall_enclosure_is_read_from_the_top_down(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/panther-chameleon")
    settled(page)
    page.get_by_role("radio", name="Air").click()
    marks = page.get_by_test_id("height-marks")
    expect(marks).to_contain_text(re.compile(r"95 cm up.*52 cm up.*11 cm up"))
    expect(page.get_by_test_id("plumes")).to_be_attached()
    table = page.get_by_test_id("by-height")
    table.locator("summary").click()
    expect(table.get_by_role("row")).to_have_count(5)
    expect(table).to_contain_text(re.compile(r"Top perch.*Middle perch.*Low perch.*Ground"))
