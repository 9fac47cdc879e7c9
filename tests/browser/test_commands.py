"""The palette: enclosures, screens and actions found by their words, with the keyboard alone."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import PageMaker, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser


def test_what_can_be_done_is_found_by_its_words_and_chosen_by_keys(page: Page) -> None:
    page.keyboard.press("Control+k")
    field = page.get_by_role("combobox", name="Find an enclosure or an action")
    expect(field).to_be_focused()
    assert violations(page) == []
    page.keyboard.type("humid")
    expect(page.get_by_role("option", name="Show: Humidity")).to_have_attribute("aria-selected", "true")
    page.keyboard.press("Enter")
    expect(field).to_have_count(0)
    expect(page.get_by_role("radio", name="Humidity")).to_be_checked()
    page.keyboard.press("Control+k")
    page.keyboard.type("edit cool hide")
    page.keyboard.press("Enter")
    expect(page.get_by_role("tab", name="Furnishings")).to_have_attribute("aria-selected", "true")
    expect(page.get_by_role("button", name="Cool hide", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    page.keyboard.press("Control+k")
    page.keyboard.type("no such thing at all")
    expect(page.get_by_text("Nothing here is called that")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_another_enclosure_is_opened_by_its_animal(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/today")
    page.get_by_role("button", name="Find").click()
    expect(page.get_by_role("combobox", name="Find an enclosure or an action")).to_be_focused()
    page.keyboard.type("furcifer")
    page.get_by_role("option", name=re.compile("^Panther chameleon")).click()
    settled(page)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Panther chameleon")


def test_what_arrives_after_typing_is_found_too(new_page: PageMaker) -> None:
    page = new_page()
    held: list[Route] = []
    page.route("**/api/catalog", lambda route: held.append(route))
    page.goto("/today")
    page.get_by_role("button", name="Find").click()
    page.get_by_role("combobox", name="Find an enclosure or an action").fill("furcifer")
    expect(page.get_by_text("Nothing here is called that")).to_be_visible()
    assert held
    for route in held:
        route.continue_()
    expect(page.get_by_role("option", name=re.compile("^Panther chameleon"))).to_be_visible()
