"""Several lamps and furnishings at once, and copies between enclosures."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, saved, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser


def where(page: Page, item: str) -> list[float]:
    """Centimetres from the left, and above the floor, of a thing of the drawing."""
    words = page.get_by_test_id(f"move-{item}").get_attribute("aria-label") or ""
    return [float(n) for n in re.findall(r"(\d+(?:\.\d+)?) cm (?:from the left|above)", words)]


def test_items_are_selected_moved_lined_up_and_removed_together(page: Page) -> None:
    hide, dish = page.get_by_test_id("move-cool-hide"), page.get_by_test_id("move-warm-hide")
    before = where(page, "cool-hide"), where(page, "warm-hide")
    hide.click(modifiers=["Shift"])
    dish.click(modifiers=["Shift"])
    expect(page.get_by_test_id("selection-count")).to_have_text("3 selected")
    # The lamp that was selected first is taken out again.
    page.get_by_role("button", name=re.compile("^Take .* out of the selection")).first.click()
    expect(page.get_by_test_id("selection")).to_contain_text("2 items selected")
    assert violations(page) == []
    dish.focus()
    page.keyboard.press("Shift+ArrowLeft")
    for item, (x, _) in zip(("cool-hide", "warm-hide"), before, strict=True):
        expect(page.get_by_test_id(f"move-{item}")).to_have_attribute(
            "aria-label", re.compile(rf"{x - 5:.1f} cm from the left")
        )
    page.get_by_role("button", name="Middles, left to right").click()
    settled(page)
    assert where(page, "cool-hide")[0] == where(page, "warm-hide")[0]
    page.keyboard.press("Control+z")
    dish.focus()
    page.keyboard.press("Delete")
    expect(hide).to_have_count(0)
    expect(dish).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(hide).to_have_count(1)
    saved(page)


def test_by_keys_all_are_selected_and_none(page: Page) -> None:
    page.get_by_test_id("move-cool-hide").focus()
    page.keyboard.press("Space")
    page.get_by_test_id("move-warm-hide").focus()
    page.keyboard.press("Space")
    expect(page.get_by_test_id("selection-count")).to_have_text("2 selected")
    page.keyboard.press("Control+a")
    expect(page.get_by_test_id("selection-count")).not_to_have_text("2 selected")
    expect(page.get_by_role("button", name="Left to right", exact=True)).to_be_enabled()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("selection")).to_have_count(0)


def test_a_rectangle_drawn_with_shift_selects_what_it_touches(page: Page) -> None:
    box = page.get_by_test_id("stage").bounding_box()
    assert box is not None
    page.keyboard.down("Shift")
    page.mouse.move(box["x"] + box["width"] - 24, box["y"] + 6)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] - 3, steps=4)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(page.get_by_test_id("move-cool-hide")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_test_id("move-basking-slab")).to_have_attribute("aria-pressed", "false")
    # A press beside everything ends it.
    page.mouse.click(box["x"] + box["width"] - 24, box["y"] + 6)
    expect(page.get_by_test_id("selection-count")).to_have_count(0)


def test_a_lamp_is_copied_into_another_enclosure_with_its_thermostat(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/collared-lizard")
    settled(page)
    page.get_by_test_id("move-basking-lamp").focus()
    page.keyboard.press("Control+c")
    expect(page.get_by_text("Paste here or in another enclosure").first).to_be_visible()
    page.goto("/plans/corn-snake")
    settled(page)
    tabs = page.get_by_role("tablist", name="Parts of the plan").get_by_role("tab")
    expect(tabs.first).to_be_visible()
    before = tabs.count()
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("menuitem", name="Paste").click()
    expect(page.get_by_text("1 item pasted from “Collared lizard").first).to_be_visible()
    expect(tabs).to_have_count(before + 2)
    saved(page)
    page.keyboard.press("Control+z")
    expect(tabs).to_have_count(before)


def test_on_a_phone_items_are_selected_by_touch(new_page: PageMaker) -> None:
    page = new_page(390, 844, has_touch=True)
    page.goto("/plans/collared-lizard")
    settled(page)
    page.get_by_role("button", name="Settings", exact=True).tap()
    page.get_by_role("button", name="Select others too").first.tap()
    expect(page.get_by_test_id("selection-count")).to_have_text("Choose more items in the drawing")
    page.get_by_test_id("move-cool-hide").tap()
    expect(page.get_by_test_id("selection-count")).to_have_text("2 selected")
    page.get_by_role("button", name="Edit", exact=True).tap()
    expect(page.get_by_test_id("selection")).to_contain_text("2 items selected")
    assert violations(page) == []
