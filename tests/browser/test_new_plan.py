"""From an empty table to a plan, by mouse and by keyboard."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Demo, PageMaker, saved, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser

# Choosing lamps and putting things right is computed with the full model.
LONG_MS = 90_000


def choose(page: Page, name: str) -> None:
    """Take a species by its name, with the keyboard."""
    field = page.get_by_label("Species, by any of its names")
    field.fill(name)
    page.get_by_role("option").first.wait_for()
    field.press("ArrowDown")
    field.press("Enter")


def test_from_nothing_to_a_set_up_that_fits(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/")
    page.get_by_role("link", name="New plan").click()
    find = page.get_by_role("button", name="Find set-ups")
    expect(find).to_be_disabled()
    choose(page, "red knee")
    expect(page.get_by_test_id("chosen-species")).to_contain_text("Brachypelma")
    field = page.get_by_label("Warmest by day")
    field.fill("72 F")
    field.press("Tab")
    find.click()
    best = page.get_by_test_id("set-up").first
    expect(best).to_contain_text("required checks are in range", timeout=LONG_MS)
    expect(best).to_contain_text("kWh a month")
    assert violations(page) == []
    best.get_by_text(re.compile(r"All \d+ checks")).click()
    expect(best.get_by_role("table")).to_be_visible()
    best.get_by_role("button", name="Use this set-up").click()
    expect(page.get_by_test_id("headline")).to_have_text(
        re.compile("^All .* checks pass|^Nothing fails"), timeout=LONG_MS
    )
    settled(page)
    # It is a plan like any other: saved, changed, undone.
    page.get_by_test_id("move-cool-hide").focus()
    page.keyboard.press("ArrowRight")
    saved(page)


def test_a_design_is_stopped_and_what_was_asked_is_changed(page: Page, demo: Demo) -> None:
    spare = {"id": "shelf", "label": "On the shelf", "lamp_id": "t5-medium-55", "power_w": 24.0}
    page.request.put("/api/installed-lamps", data=spare, headers={"Origin": demo.url})
    page.goto("/new")
    choose(page, "anolis carolinensis")
    expect(page.get_by_test_id("chosen-species")).to_contain_text("Anolis carolinensis")
    assert violations(page) == []
    page.get_by_role("radio", name="The one I have or want").click()
    page.get_by_label("Height inside").fill("30")
    page.get_by_label("Height inside").press("Tab")
    expect(page.get_by_text("Smaller than the least size at this stage")).to_be_visible()
    page.get_by_role("button", name="Use the proposed size").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Height inside")).not_to_have_value("30")
    page.get_by_text("Budget, spare lamps, what is never to be used").click()
    expect(page.get_by_label("Use spares of the register first")).to_be_checked()
    expect(page.get_by_text("T5 tube, medium, 55 cm, reflector. They are used")).to_be_visible()
    page.get_by_label("Heat mats and cables").check()
    page.get_by_role("button", name="Find set-ups").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("The best so far", exact=True)).to_be_visible(timeout=LONG_MS)
    page.get_by_role("button", name="Stop and take the best").click()
    expect(page.get_by_test_id("set-ups")).to_contain_text("then stopped", timeout=LONG_MS)
    page.get_by_role("button", name="Change the request").click()
    expect(page.get_by_label("Heat mats and cables")).to_be_checked()


def test_an_enclosure_that_cannot_be_furnished_is_refused_and_nothing_is_lost(
    new_page: PageMaker,
) -> None:
    page = new_page(width=390, height=844)
    page.goto("/new")
    choose(page, "python regius")
    page.get_by_role("radio", name="The one I have or want").click()
    for label in ("Length inside", "Depth inside", "Height inside"):
        field = page.get_by_label(label)
        field.fill("20")
        field.press("Tab")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("button", name="Find set-ups").click()
    expect(page.get_by_role("alert")).to_contain_text("does not fit", timeout=LONG_MS)
    assert violations(page) == []
    expect(page.get_by_label("Length inside")).to_have_value("20")


@pytest.mark.assessed
def test_everything_is_fixed_at_once_and_one_change_is_left_out(page: Page) -> None:
    failing = page.get_by_test_id("headline")
    expect(failing).to_contain_text("need a change")
    page.get_by_role("button", name="Fix everything").click()
    changes = page.get_by_test_id("repair-changes").get_by_role("listitem")
    expect(changes.first).to_be_visible(timeout=LONG_MS)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("nothing fails as computed")
    assert violations(page) == []
    changes.last.get_by_role("checkbox").uncheck()
    expect(dialog.get_by_role("status")).to_contain_text(" left", timeout=LONG_MS)
    changes.last.get_by_role("checkbox").check()
    dialog.get_by_role("button", name=re.compile("^Make th")).click()
    settled(page)
    expect(failing).to_have_text(re.compile("^Nothing fails|^All .* checks pass"))
    page.locator("body").press("Control+z")
    settled(page)
    expect(failing).to_contain_text("need a change")


def test_only_the_light_of_an_enclosure_is_designed_anew(page: Page) -> None:
    page.get_by_role("link", name="Design").click()
    page.get_by_role("radio", name="Only the light").click()
    assert violations(page) == []
    page.get_by_role("button", name="Find set-ups").click()
    best = page.get_by_test_id("set-up").first
    expect(best).to_contain_text("Halogen flood", timeout=LONG_MS)
    best.get_by_role("button", name="Use this set-up").click()
    settled(page)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    saved(page)
