"""From an empty table to a plan, by mouse and by keyboard."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, Watched, saved, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser

# Choosing lamps and putting things right is computed with the full model.
LONG_MS = 90_000


def test_from_nothing_to_an_enclosure_where_everything_fits(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/")
    page.get_by_role("link", name="New plan").click()
    propose = page.get_by_role("button", name="Propose a layout")
    expect(propose).to_be_disabled()
    page.get_by_label("Species, by any of its names").fill("crotaph")
    page.get_by_role("button", name="Crotaphytus collaris").click()
    expect(page.get_by_test_id("chosen-species")).to_contain_text("Crotaphytus collaris")
    expect(page.get_by_label("Length inside")).to_have_value("120")
    field = page.get_by_label("Warmest by day")
    field.fill("72 F")
    field.press("Tab")
    propose.click()
    expect(page.get_by_test_id("headline")).to_have_text(
        re.compile("^All .* checks pass|^Nothing fails, "), timeout=LONG_MS
    )
    settled(page)
    # It is a plan like any other: saved, changed, undone.
    page.get_by_test_id("move-warm-hide").focus()
    page.keyboard.press("ArrowRight")
    saved(page)
    page.goto("/")
    expect(page.get_by_role("heading", name="Eastern collared lizard", exact=True)).to_be_visible()


def test_by_keyboard_alone_and_stopped_half_way(page: Page) -> None:
    page.goto("/new")
    page.get_by_label("Species, by any of its names").focus()
    page.keyboard.type("anolis carol")
    page.get_by_role("button", name="Anolis carolinensis").wait_for()
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("chosen-species")).to_contain_text("Anolis carolinensis")
    assert violations(page) == []
    page.get_by_label("Height inside").focus()
    page.keyboard.type("30")
    page.keyboard.press("Tab")
    expect(page.get_by_text("Smaller than the least at this stage")).to_be_visible()
    page.get_by_role("button", name="Take the least").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Height inside")).not_to_have_value("30")
    page.get_by_role("button", name="Propose a layout").focus()
    page.keyboard.press("Enter")
    stop = page.get_by_role("button", name="Stop and take it as it is")
    stop.wait_for(timeout=LONG_MS)
    stop.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1, name="Green anole")).to_be_visible(timeout=LONG_MS)
    settled(page)


def test_an_enclosure_that_cannot_be_furnished_is_refused_and_nothing_is_lost(
    new_page: PageMaker, watched: Watched
) -> None:
    watched.forgive("422 (UNPROCESSABLE ENTITY)")
    page = new_page(width=390, height=844)
    page.goto("/new")
    page.get_by_label("Species, by any of its names").fill("python regius")
    page.get_by_role("button", name="Python regius").click()
    for label in ("Length inside", "Depth inside"):
        field = page.get_by_label(label)
        field.fill("30")
        field.press("Tab")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("button", name="Propose a layout").click()
    expect(page.get_by_role("alert")).to_contain_text("is too small for an animal", timeout=LONG_MS)
    assert violations(page) == []
    expect(page.get_by_label("Length inside")).to_have_value("30")
