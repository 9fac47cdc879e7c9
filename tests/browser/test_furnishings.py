"""Furnishing an enclosure in the drawing, by mouse, by keyboard and by typing."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, add, drag, figure, open_tab, saved, settled
from tests.browser.test_accessibility import DESK_AND_PHONE, violations

pytestmark = pytest.mark.browser

HEIGHT_CM = 60


def left_of(page: Page, test_id: str) -> float:
    """Where something stands on the screen, px."""
    enclosure = page.get_by_test_id(test_id).bounding_box()
    assert enclosure is not None
    return enclosure["x"]


def furnish(page: Page, kind: str) -> None:
    add(page, kind)
    settled(page)


def test_a_hide_is_dragged_snaps_to_the_wall_and_comes_back_by_undo(page: Page) -> None:
    before = left_of(page, "move-warm-hide")
    drag(page, "move-warm-hide", 60, 0)
    settled(page)
    assert left_of(page, "move-warm-hide") > before + 40
    expect(page.get_by_test_id("dimensions")).to_be_visible()
    # Far past the wall it stops at it.
    drag(page, "move-warm-hide", 600, 0)
    settled(page)
    expect(page.get_by_label("Middle, from the left", exact=True)).to_have_value("110")
    page.locator("body").press("Control+z")
    page.locator("body").press("Control+z")
    assert left_of(page, "move-warm-hide") == pytest.approx(before, abs=1)
    saved(page)


def test_adding_a_slab_over_the_basking_place_shades_it(page: Page) -> None:
    before = figure(page, "basking:uvi")
    furnish(page, "Slab")
    expect(page.get_by_role("tab", name="Furnishings")).to_have_attribute("data-state", "active")
    expect(page.get_by_label("This is a basking spot")).not_to_be_checked()
    for label, value in (
        ("Middle, from the left", "28 cm"),
        ("Underside, above the enclosure floor", "40"),
        ("Length, left to right", "20 in"),
        ("Depth, front to back", "50"),
    ):
        field = page.get_by_label(label, exact=True)
        field.fill(value)
        field.press("Enter")
    settled(page)
    assert figure(page, "basking:uvi") < 0.7 * before
    expect(page.get_by_label("Length, left to right", exact=True)).to_have_value("50.8")
    saved(page)
    page.reload()
    settled(page)
    assert figure(page, "basking:uvi") < 0.7 * before


def test_by_keyboard_alone_a_branch_is_added_moved_turned_copied_locked_and_removed(page: Page) -> None:
    button = page.get_by_role("button", name="Add", exact=True)
    button.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("menuitem", name="Lamp or heater")).to_be_focused()
    page.keyboard.type("bran")
    expect(page.get_by_role("menuitem", name="Branch")).to_be_focused()
    page.keyboard.press("Enter")
    settled(page)
    branch = page.get_by_test_id("move-branch-1")
    branch.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowUp")
    expect(branch).to_have_attribute("aria-label", re.compile("61.0 cm from the left"))
    where = left_of(page, "move-branch-1")
    page.keyboard.press("r")
    settled(page)
    # Seen end on, it is narrow.
    assert left_of(page, "move-branch-1") > where + 50
    page.keyboard.press("r")
    page.keyboard.press("Control+d")
    twin = page.get_by_test_id("move-branch-2")
    expect(twin).to_be_attached()
    expect(twin).to_have_attribute("aria-pressed", "true")
    branch.focus()
    page.keyboard.press("l")
    expect(branch).to_have_attribute("aria-roledescription", "locked")
    gripped = branch.get_attribute("aria-label")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Delete")
    expect(branch).to_have_attribute("aria-label", gripped or "")
    page.keyboard.press("l")
    page.keyboard.press("Delete")
    expect(branch).to_have_count(0)
    settled(page)
    saved(page)
    page.reload()
    settled(page)
    expect(page.get_by_test_id("move-branch-2")).to_be_attached()
    expect(page.get_by_test_id("move-branch-1")).to_have_count(0)


def test_a_slab_is_stretched_by_its_edge_and_stacked_on_another(page: Page) -> None:
    furnish(page, "Slab")
    length = page.get_by_label("Length, left to right", exact=True)
    before = float(length.input_value())
    drag(page, "stretch-slab-1-right-edge", 60, 0)
    settled(page)
    assert float(length.input_value()) > before + 5
    page.get_by_test_id("stretch-slab-1-right-edge").press("ArrowLeft")
    # Lowered on to the warm hide, whose top is at 18 cm, it comes to rest on it.
    underside = page.get_by_label("Underside, above the enclosure floor", exact=True)
    underside.fill("21")
    underside.press("Enter")
    # Along x it stands over the hide; along y as well.
    page.get_by_label("Middle, from the front", exact=True).fill("42")
    page.get_by_label("Middle, from the front", exact=True).press("Enter")
    settled(page)
    drag(page, "move-slab-1", 0, 16)
    settled(page)
    assert float(underside.input_value()) == pytest.approx(18, abs=0.05)


def test_lamps_are_copied_and_locked_too(page: Page) -> None:
    open_tab(page, "UV tube")
    page.get_by_role("button", name="Duplicate", exact=True).click()
    expect(page.get_by_role("tab", name="UV tube (copy)")).to_have_attribute("data-state", "active")
    page.get_by_role("button", name="Lock in place").click()
    copy = page.get_by_role("button", name=re.compile(r"^UV tube \(copy\),"))
    expect(copy).to_have_attribute("aria-roledescription", "locked")
    gripped = copy.get_attribute("aria-label")
    copy.focus()
    page.keyboard.press("ArrowLeft")
    expect(copy).to_have_attribute("aria-label", gripped or "")
    page.keyboard.press("l")
    page.keyboard.press("Delete")
    expect(copy).to_have_count(0)


def test_from_above_a_hide_moves_back_and_forth(page: Page) -> None:
    page.get_by_role("radio", name="Above").click()
    page.get_by_test_id("stage-above").wait_for()
    settled(page)
    page.get_by_test_id("above-cool-hide").focus()
    front = page.get_by_label("Middle, from the front", exact=True)
    before = float(front.input_value())
    page.keyboard.press("Shift+ArrowUp")
    expect(front).to_have_value(f"{min(before + 5, HEIGHT_CM):g}")
    drag(page, "stretch-cool-hide-front-edge", 0, 20)
    settled(page)
    assert float(page.get_by_label("Depth, front to back", exact=True).input_value()) > 20


@pytest.mark.parametrize(("theme", "width"), DESK_AND_PHONE)
def test_the_forms_are_clean_and_fit_a_phone(new_page: PageMaker, theme: str, width: int) -> None:
    page = new_page(width=width, color_scheme=theme)
    page.goto("/plans/panther-chameleon")
    settled(page)
    page.get_by_role("tab", name="Furnishings").click()
    chips = page.get_by_role("group", name="Furnishings of this enclosure").get_by_role("button").all()
    # The same forms in the dark: two of them show its colours.
    for chip in chips if theme == "light" else chips[:2]:
        chip.click()
        settled(page)
        assert violations(page) == [], chip.inner_text()
    furnish(page, "Background")
    furnish(page, "Water")
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_finger_selects_before_it_drags(new_page: PageMaker) -> None:
    page = new_page(width=390, height=844, has_touch=True, is_mobile=True)
    page.goto("/plans/collared-lizard")
    settled(page)
    hide = page.get_by_test_id("move-cool-hide")
    enclosure = hide.bounding_box()
    assert enclosure is not None
    x, y = enclosure["x"] + enclosure["width"] / 2, enclosure["y"] + enclosure["height"] / 2
    finger = page.context.new_cdp_session(page)

    def swipe(dx: float) -> None:
        finger.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]})
        for i in range(1, 7):
            at = [{"x": x + dx * i / 6, "y": y}]
            finger.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": at})
            page.wait_for_timeout(20)
        finger.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})

    swipe(-60)
    page.wait_for_timeout(200)
    assert left_of(page, "move-cool-hide") == pytest.approx(enclosure["x"], abs=1)
    page.touchscreen.tap(x, y)
    expect(hide).to_have_attribute("aria-pressed", "true")
    swipe(-60)
    settled(page)
    assert left_of(page, "move-cool-hide") < enclosure["x"] - 30


def test_a_locked_thing_keeps_its_place_under_every_button(page: Page) -> None:
    page.get_by_test_id("move-warm-hide").click()
    page.get_by_role("button", name="Lock in place").click()
    for name in ("Turn by a quarter", "Remove"):
        expect(page.get_by_role("button", name=name, exact=True)).to_be_disabled()
    expect(page.get_by_label("Middle, from the left", exact=True)).to_be_disabled()
    expect(page.get_by_test_id("stretch-warm-hide-top")).to_have_count(0)
    before = left_of(page, "move-warm-hide")
    drag(page, "move-warm-hide", 60, 0)
    assert left_of(page, "move-warm-hide") == pytest.approx(before, abs=1)
    saved(page)
    page.reload()
    settled(page)
    page.get_by_test_id("move-warm-hide").click()
    page.get_by_role("button", name="Unlock", exact=True).click()
    drag(page, "move-warm-hide", 60, 0)
    settled(page)
    assert left_of(page, "move-warm-hide") > before + 40


def test_a_thing_snaps_under_the_lamp_and_reads_its_distance(page: Page) -> None:
    furnish(page, "Slab")
    across = page.get_by_label("Middle, from the left", exact=True)
    across.fill("29.5")
    across.press("Enter")
    settled(page)
    # A nudge to the left is within reach of the lamp's middle, 28 cm from the left.
    drag(page, "move-slab-1", -4, 0)
    settled(page)
    expect(across).to_have_value("28")
    expect(page.get_by_test_id("dimensions")).to_contain_text("cm")
    page.get_by_role("radio", name="°F, in").click()
    expect(page.get_by_test_id("dimensions")).to_contain_text("in")


def test_backgrounds_line_one_side_and_take_its_light(page: Page) -> None:
    furnish(page, "Background")
    expect(page.get_by_label("Side it lines")).to_have_value("back")
    page.get_by_role("button", name="Turn by a quarter").click()
    expect(page.get_by_label("Side it lines")).to_have_value("left")
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.get_by_text("Choose one here or in the drawing")).to_be_visible()
