"""The practice bench: a keeper finds out what is wrong, by mouse, by keyboard, and on a phone."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser


def read(page: Page, what: str, where: str, count: int) -> None:
    """Hold an instrument at a named place."""
    page.get_by_label("Read", exact=True).select_option(label=what)
    page.get_by_role("button", name=where, exact=True).first.click()
    expect(page.get_by_test_id("taken").get_by_role("listitem")).to_have_count(count)


def test_a_puzzle_is_solved_corrected_and_explained(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/")
    page.get_by_role("link", name="Practice").click()
    expect(page.get_by_role("heading", name="Practice bench")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("link", name="A new lid").click()
    read(page, "Surface", "Basking spot", 1)
    read(page, "UV index, facing the lamp", "Basking spot", 2)
    read(page, "Air of the room", "Room", 3)
    taken = page.get_by_test_id("taken")
    expect(taken.locator('[data-side="low"]')).to_have_count(2)
    expect(taken.locator('[data-side="ok"]')).to_have_count(1)
    # A wrong fix leaves the enclosure as it is, and tells no more than that.
    page.get_by_label("The UV lamp is worn out").check()
    page.get_by_role("button", name="Fit a new UV lamp").click()
    outcome = page.get_by_test_id("outcome")
    expect(outcome).to_have_attribute("data-right", "false")
    expect(outcome).not_to_contain_text("finer than planned")
    page.get_by_label("The UV lamp is worn out").uncheck()
    page.get_by_label("The mesh of the lid is finer than planned").check()
    page.get_by_role("button", name="Put the planned mesh on the lid").click()
    expect(outcome).to_have_attribute("data-right", "true")
    expect(outcome).to_contain_text("UV and heat fall by the same share")
    expect(outcome).to_contain_text("What a fit makes of your readings")
    assert violations(page) == []
    page.get_by_role("link", name="All puzzles").click()
    expect(page.get_by_role("link", name="A new lid")).to_contain_text("solved with 3 readings")


def test_the_bench_on_a_phone_by_pointing_and_a_bare_probe(new_page: PageMaker) -> None:
    page = new_page(390, 844, has_touch=True)
    page.goto("/practice/still-bright")
    enclosure = page.get_by_test_id("bench-enclosure")
    enclosure.wait_for()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_label("Read", exact=True).select_option("air")
    page.get_by_label("Probe shaded with a card").uncheck()
    frame = enclosure.bounding_box()
    assert frame is not None
    # Just above the stone, in the beam.
    enclosure.tap(position={"x": 0.33 * frame["width"], "y": 0.53 * frame["height"]})
    taken = page.get_by_test_id("taken").get_by_role("listitem")
    expect(taken).to_have_count(1)
    expect(taken.locator('[data-side="high"]')).to_have_count(1)
    page.get_by_label("Probe shaded with a card").check()
    enclosure.tap(position={"x": 0.33 * frame["width"], "y": 0.53 * frame["height"]})
    expect(taken).to_have_count(2)
    expect(taken.first.locator('[data-side="ok"]')).to_have_count(1)
    page.get_by_role("button", name="By day").click()
    expect(page.get_by_role("status").first).to_contain_text("by day")
    page.get_by_label("The heat lamp has too few watts").check()
    page.get_by_role("button", name="Fit the planned bulb").click()
    page.get_by_role("button", name="Show what it is").click()
    expect(page.get_by_test_id("outcome")).to_contain_text("The UV lamp is worn out")
    assert violations(page) == []
