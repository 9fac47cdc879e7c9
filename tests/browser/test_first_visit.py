"""Who has never been here: the sample enclosure, and the way to a first plan."""

from __future__ import annotations

import re
import time
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import PageMaker, saved, settled
from tests.browser.test_accessibility import violations
from tests.shared import MEASURED

pytestmark = [pytest.mark.browser, pytest.mark.empty_room]

# The way to a plan of one's own is announced as two minutes.
ANNOUNCED_S = 120
LONG_MS = 90_000


class Clicks:
    """Clicks, counted."""

    def __init__(self) -> None:
        self.count = 0

    def __call__(self, on: Locator) -> None:
        on.click(timeout=LONG_MS)
        self.count += 1


def test_the_first_visit_opens_an_enclosure_that_fits_and_leads_to_ones_own(
    new_page: PageMaker, record_property: Callable[[str, object], None]
) -> None:
    page = new_page()
    click = Clicks()
    began = time.monotonic()
    page.goto("/")
    expect(page.get_by_test_id("tour")).to_contain_text("sample enclosure in which everything fits")
    expect(page.get_by_test_id("headline")).to_have_text(re.compile("^All .* checks pass|^Nothing fails"))
    click(page.get_by_role("link", name="Plan your own"))
    click(page.get_by_role("button", name="Leopard gecko"))
    click(page.get_by_role("button", name="Find set-ups"))
    click(page.get_by_test_id("set-up").first.get_by_role("button", name="Use this set-up"))
    expect(page.get_by_test_id("headline")).to_have_text(
        re.compile("^All .* checks pass|^Nothing fails"), timeout=LONG_MS
    )
    seconds = time.monotonic() - began
    record_property(MEASURED, f"first visit to a plan that fits: {click.count} clicks, {seconds:.0f} s")
    assert click.count <= 5
    assert seconds < ANNOUNCED_S
    # The room has the plan, and not the sample.
    page.goto("/")
    expect(page.get_by_test_id("enclosures-found")).to_have_text("1 of 1")


def moved(page: Page) -> None:
    page.get_by_test_id("move-cool-hide").focus()
    page.keyboard.press("ArrowLeft")
    saved(page)


def where(page: Page) -> str:
    return page.get_by_test_id("move-cool-hide").get_attribute("aria-label") or ""


def test_the_sample_is_changed_reset_and_the_reset_undone(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/sample")
    settled(page)
    assert violations(page) == []
    shipped = where(page)
    moved(page)
    changed = where(page)
    assert changed != shipped
    # What was changed is there again later.
    page.goto("/sample")
    settled(page)
    assert where(page) == changed
    page.get_by_test_id("tour").get_by_role("button", name="Reset").click()
    expect(page.get_by_test_id("move-cool-hide")).to_have_attribute("aria-label", shipped)
    page.get_by_role("button", name=re.compile("^Undo")).first.click()
    expect(page.get_by_test_id("move-cool-hide")).to_have_attribute("aria-label", changed)


def test_a_room_without_enclosures_says_what_will_be_there(new_page: PageMaker) -> None:
    page = new_page(390, 844)
    page.goto("/sample")
    settled(page)
    # The first visit is remembered, wherever it led.
    page.add_init_script("localStorage.setItem('visited', 'yes')")
    page.goto("/")
    expect(page.get_by_test_id("welcome")).to_contain_text("in about two minutes")
    assert violations(page) == []
    for path, text in (
        ("/today", "Plan an enclosure first"),
        ("/logbook", "Here your entries will be"),
        ("/compare", "will stand side by side"),
    ):
        page.goto(path)
        expect(page.get_by_text(re.compile(text))).to_be_visible()
        assert violations(page) == []
    page.goto("/today")
    page.get_by_role("link", name="Plan an enclosure").click()
    expect(page.get_by_role("heading", name="A new plan")).to_be_visible()
