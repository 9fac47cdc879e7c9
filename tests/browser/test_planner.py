"""What the planner shows and hands out: both views, pins, shade, what to build, revisions, report."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pypdfium2
import pytest
from playwright.sync_api import Page, expect

from noonshade.demo import DEMO_PLANS
from tests.browser.conftest import PageMaker, add, do, drag, figure, open_tab, opened, saved, settled, show
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser

UVI = "basking:uvi"
SURFACE = "basking:surface_temperature"

# What the headline says when nothing fails, before and after chances are known.
PASSES = re.compile("^Nothing fails|^All .* checks pass")


def _choose(page: Page, name: str) -> None:
    page.get_by_role("radio", name=name, exact=True).click()


def test_both_views_of_a_long_enclosure_lie_one_above_the_other_and_move_together(page: Page) -> None:
    _choose(page, "Both")
    settled(page)
    front = page.get_by_test_id("stage").bounding_box()
    above = page.get_by_test_id("stage-above").bounding_box()
    assert front is not None
    assert above is not None
    assert front["y"] + front["height"] <= above["y"]
    before = page.get_by_test_id("above-basking-lamp").get_attribute("aria-label")
    page.get_by_test_id("move-basking-lamp").focus()
    page.keyboard.press("Shift+ArrowRight")
    expect(page.get_by_test_id("above-basking-lamp")).not_to_have_attribute("aria-label", before or "")
    page.mouse.move(above["x"] + above["width"] / 2, above["y"] + above["height"] / 2)
    expect(page.get_by_test_id("pointer-reading-above")).to_contain_text(
        re.compile(r"UVI \d.*humidity \d+ %")
    )
    assert violations(page) == []


def test_a_pin_keeps_its_figures_while_the_plan_changes(page: Page) -> None:
    stage = page.get_by_test_id("stage").bounding_box()
    assert stage is not None
    page.mouse.dblclick(stage["x"] + 0.45 * stage["width"], stage["y"] + 0.5 * stage["height"])
    row = page.get_by_test_id("pins").get_by_role("row").nth(1)
    settled(page)
    expect(row).to_contain_text("°C")
    before = row.inner_text()
    name = row.get_by_role("textbox")
    name.fill("Ledge to be")
    name.press("Enter")
    expect(page.get_by_test_id("pin-1")).to_contain_text("Ledge to be")
    open_tab(page, "UV tube")
    page.get_by_label("Screen below it").select_option("fine-0.5-2.0")
    expect(row).not_to_have_text(before)
    saved(page)
    page.reload()
    settled(page)
    expect(page.get_by_test_id("pin-1")).to_contain_text("Ledge to be")
    page.get_by_test_id("pin-1").focus()
    page.keyboard.press("Delete")
    expect(page.get_by_test_id("pins")).to_have_count(0)
    page.locator("body").press("Control+z")
    expect(page.get_by_test_id("pins")).to_be_visible()


def test_what_is_outside_the_need_is_hatched_and_shade_and_reach_are_drawn(page: Page) -> None:
    _choose(page, "UV")
    expect(page.get_by_test_id("outside-need")).to_have_count(0)
    _choose(page, "Air")
    expect(page.get_by_test_id("outside-need")).to_be_visible()
    show(page).get_by_role("button", name="Shade", exact=True).click()
    page.get_by_role("button", name="Reach", exact=True).click()
    expect(page.get_by_test_id("shade")).to_be_attached()
    expect(page.get_by_test_id("reach")).to_be_attached()
    assert violations(page) == []


def test_a_layer_without_anything_to_show_says_so_and_is_not_dark(page: Page) -> None:
    page.goto("/plans/giant-vinegaroon")
    settled(page)
    # No lamp gives UV: it does not open with it.
    expect(page.get_by_role("radio", name="UV", exact=True)).not_to_be_checked()
    _choose(page, "UV")
    expect(page.get_by_text("No UV here")).to_be_visible()
    expect(page.get_by_test_id("field")).to_have_count(0)
    assert violations(page) == []
    _choose(page, "Air")
    expect(page.get_by_text("No UV here")).to_have_count(0)
    expect(page.get_by_test_id("field")).to_be_visible()


def test_vents_guards_and_probes_are_moved_in_the_drawing(page: Page) -> None:
    vent = page.get_by_test_id("move-vent-0")
    before = vent.get_attribute("aria-label")
    vent.focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(vent).not_to_have_attribute("aria-label", before or "")
    lamp = page.get_by_test_id("move-basking-lamp")
    lamp.focus()
    page.keyboard.press("g")
    expect(page.get_by_test_id("guard-basking-lamp")).to_be_attached()
    page.locator("body").press("Control+z")
    expect(page.get_by_test_id("guard-basking-lamp")).to_have_count(0)
    page.locator("body").press("Control+z")
    expect(vent).to_have_attribute("aria-label", before or "")
    _choose(page, "Above")
    settled(page)
    probe = page.get_by_test_id("above-probe-main")
    where = probe.get_attribute("aria-label")
    drag(page, "above-probe-main", -60, 0)
    expect(probe).not_to_have_attribute("aria-label", where or "")


def test_what_to_build_follows_the_plan(page: Page) -> None:
    _choose(page, "To build")
    build = page.get_by_test_id("build")
    expect(build).to_contain_text("58 L in place")
    expect(page.get_by_test_id("running-cost")).to_contain_text("114 W")
    expect(build).to_contain_text("Residual-current device")
    substrate = page.get_by_test_id("move-substrate")
    substrate.focus()
    page.keyboard.press("ArrowUp")
    expect(build).to_contain_text("65 L in place")
    assert violations(page) == []


@pytest.mark.assessed
def test_a_revision_is_named_compared_and_linked(page: Page) -> None:
    open_tab(page, "Thermostat")
    row = opened(page, f"check-{SURFACE}")
    row.get_by_role("button", name=re.compile("^Try it for Basking spot")).first.click()
    settled(page)
    saved(page)
    page.get_by_role("button", name="Revisions", exact=True).click()
    page.get_by_role("button", name="Name revision 1").click()
    page.get_by_label("Name of revision 1").fill("As found")
    page.get_by_label("Name of revision 1").press("Enter")
    _choose(page, "Named")
    expect(page.get_by_role("dialog")).to_contain_text("As found")
    page.get_by_role("link", name="Compare revision 1 with the newest").click()
    table = page.get_by_test_id("differences")
    expect(table).to_contain_text("−")
    expect(page.get_by_text("How the plans differ")).to_be_visible()
    for image in page.get_by_role("img").all():
        image.scroll_into_view_if_needed()
    assert violations(page) == []
    page.goto("/plans/collared-lizard/revisions/1")
    expect(page.get_by_role("heading", level=1)).to_contain_text("“As found”")
    expect(page.get_by_test_id(f"check-{SURFACE}")).to_have_attribute("data-status", "high")
    assert violations(page) == []
    page.get_by_role("button", name="Restore this revision").click()
    settled(page)
    expect(page.get_by_test_id("save-status")).to_have_text("Saved, revision 3")


def test_the_report_is_a_page_a_pdf_and_on_paper(page: Page, tmp_path: Path) -> None:
    with page.expect_download() as download:
        page.get_by_role("button", name="Print and export").click()
        page.get_by_role("menuitem", name="Report as PDF").click()
    path = tmp_path / "report.pdf"
    download.value.save_as(path)
    document = pypdfium2.PdfDocument(path)
    assert 1 <= len(document) <= 3
    document.close()
    page.get_by_role("button", name="Print and export").click()
    page.get_by_role("menuitem", name="Report, to read and print").click()
    page.wait_for_url("**/report?**")
    expect(page.get_by_role("heading", name="What it needs, and what it gets")).to_be_visible()
    assert violations(page) == []
    bar = page.get_by_role("navigation", name="Report")
    expect(bar).to_be_visible()
    page.emulate_media(media="print")
    expect(bar).to_be_hidden()
    expect(page.get_by_role("heading", name="Cautions")).to_be_visible()


def test_drawing_and_field_are_handed_out(page: Page) -> None:
    _choose(page, "UV")
    for item, ending in (
        ("This drawing as SVG", "front-uvi.svg"),
        ("This drawing as PNG", "front-uvi.png"),
        ("The field on this section as CSV", "front-field.csv"),
    ):
        with page.expect_download() as download:
            page.get_by_role("button", name="Print and export").click()
            page.get_by_role("menuitem", name=item).click()
        assert download.value.suggested_filename.endswith(ending)


def test_looking_for_changes_can_be_stopped(page: Page) -> None:
    page.route("**/api/fixes", lambda route: None)
    page.reload()
    settled(page)
    page.get_by_test_id("search-progress").get_by_role("button", name="Stop").click()
    expect(page.get_by_test_id("search-progress")).to_have_count(0)
    opened(page, f"check-{SURFACE}")
    expect(page.get_by_text("The search for changes was stopped").first).to_be_visible()


def test_the_keys_are_on_a_sheet(page: Page) -> None:
    page.locator("body").press("?")
    sheet = page.get_by_test_id("shortcuts")
    expect(sheet).to_contain_text("Turn by a quarter")
    assert violations(page) == []
    page.keyboard.press("Escape")
    expect(sheet).to_have_count(0)
    # In a field it is a question mark.
    open_tab(page, "Room")
    field = page.get_by_label("Room by day", exact=True)
    field.press("?")
    expect(sheet).to_have_count(0)


def test_the_tour_can_be_taken_or_skipped_once(new_page: PageMaker) -> None:
    page = new_page()
    page.add_init_script("sessionStorage.getItem('met') || localStorage.removeItem('tour')")
    page.goto("/plans/collared-lizard")
    settled(page)
    page.evaluate("() => sessionStorage.setItem('met', 'yes')")
    tour = page.get_by_test_id("tour")
    tour.get_by_role("button", name="Take the tour").click()
    expect(tour).to_contain_text("1 of 6: The enclosure, to scale")
    assert violations(page) == []
    for _ in range(5):
        tour.get_by_role("button", name="Next").click()
    expect(tour).to_contain_text("6 of 6")
    tour.get_by_role("button", name="Done").click()
    expect(tour).to_have_count(0)
    page.reload()
    settled(page)
    expect(tour).to_have_count(0)


def _empty_room(new_page: PageMaker) -> Page:
    """The room with every enclosure put away."""
    page = new_page()
    page.goto("/")
    expect(page.get_by_test_id("enclosures-found")).to_have_text("8 of 8")
    for plan in DEMO_PLANS:
        assert page.request.delete(f"/api/plans/{plan}").ok
    page.reload()
    expect(page.get_by_test_id("welcome")).to_be_visible()
    return page


def test_from_an_empty_room_to_a_passing_plan_and_undo_across_it(new_page: PageMaker) -> None:
    page = _empty_room(new_page)
    page.get_by_role("link", name="New plan").click()
    page.get_by_label("Species, by any of its names").fill("brachypelma smithi")
    page.get_by_role("option", name="Brachypelma smithi").click()
    page.get_by_role("button", name="Find set-ups").click()
    page.get_by_role("button", name="Use this set-up").first.click(timeout=120_000)
    page.wait_for_url(re.compile(r"/plans/[0-9a-f]{12}$"), timeout=120_000)
    settled(page)
    expect(page.get_by_test_id("headline")).to_have_text(PASSES)
    first = page.get_by_test_id("headline").inner_text()
    page.get_by_test_id("move-substrate").focus()
    page.keyboard.press("ArrowUp")
    settled(page)
    page.locator("body").press("Control+z")
    settled(page)
    expect(page.get_by_test_id("headline")).to_have_text(first)
    saved(page)


def _tab_to(page: Page, name: str, role: str | None = None) -> None:
    """Press Tab until what has the focus is called so, by its label or its text."""
    for _ in range(250):
        page.keyboard.press("Tab")
        here = page.evaluate(
            """() => { const e = document.activeElement;
                 const label = e.labels?.[0]?.textContent ?? '';
                 const name = e.getAttribute('aria-label') || label || e.textContent;
                 return [name, e.tagName.toLowerCase()]; }"""
        )
        if here[0].strip().startswith(name) and role in (None, here[1]):
            return
    pytest.fail(f"Tab never comes to {name!r}")


def test_the_same_by_keyboard_alone(new_page: PageMaker) -> None:
    page = _empty_room(new_page)
    _tab_to(page, "New plan")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("A new plan")
    _tab_to(page, "Species, by any of its names")
    page.keyboard.type("brachypelma smithi")
    page.get_by_role("option", name="Brachypelma smithi").wait_for()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    _tab_to(page, "Find set-ups")
    page.keyboard.press("Enter")
    page.get_by_test_id("set-ups").wait_for(timeout=120_000)
    _tab_to(page, "Use this set-up")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile(r"/plans/[0-9a-f]{12}$"), timeout=120_000)
    settled(page)
    expect(page.get_by_test_id("headline")).to_have_text(PASSES)
    _tab_to(page, "Substrate")
    deep = page.get_by_test_id("move-substrate").get_attribute("aria-label")
    page.keyboard.press("ArrowUp")
    expect(page.get_by_test_id("move-substrate")).not_to_have_attribute("aria-label", deep or "")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("move-substrate")).to_have_attribute("aria-label", deep or "")
    settled(page)
    expect(page.get_by_test_id("headline")).to_have_text(PASSES)
    saved(page)


def test_the_room_keeps_its_racks_and_its_climate_is_set_once(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/")
    name = "Corn snake, PVC enclosure under the gear loft"
    page.get_by_role("button", name="Add a rack").click()
    do(page, "Move", name)
    page.get_by_role("menuitem", name="To “Rack 4”").click()
    rack = page.get_by_role("region", name="Rack 4")
    expect(rack.get_by_test_id("plan-corn-snake")).to_be_visible()
    page.get_by_role("button", name="Undo").first.click()
    expect(rack.get_by_test_id("plan-corn-snake")).to_have_count(0)
    page.get_by_role("button", name="Climate of the room").click()
    june = page.get_by_label("June by day")
    june.fill("83 F")
    june.press("Tab")
    expect(june).to_have_value("28.3")
    june.fill("hot")
    june.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("June by day")
    expect(june).to_have_value("28.3")
    assert violations(page) == []
    page.get_by_label("Month the checks are for").select_option("6")
    page.get_by_role("button", name="Set it").click()
    expect(page.get_by_text("The climate of the room is set").first).to_be_visible()
    card = page.get_by_test_id("plan-corn-snake")
    expect(card.get_by_test_id("year")).to_be_visible(timeout=60_000)
    expect(card.get_by_test_id("due")).to_contain_text("Not measured yet")
    assert violations(page) == []
    page.goto("/plans/corn-snake")
    settled(page)
    open_tab(page, "Room")
    expect(page.get_by_label("Room by day", exact=True)).to_have_value("28.3")
    follows = page.get_by_label("Follows the climate set for the whole room")
    expect(follows).to_be_checked()
    field = page.get_by_label("Room by day", exact=True)
    field.fill("20")
    field.press("Enter")
    expect(follows).not_to_be_checked()


def test_a_drawing_on_a_large_screen_uses_it(new_page: PageMaker) -> None:
    small, large = new_page(), new_page(2200, 1300)
    widths = []
    for page in (small, large):
        page.goto("/plans/collared-lizard")
        settled(page)
        enclosure = page.get_by_test_id("stage").bounding_box()
        assert enclosure is not None
        widths.append(enclosure["width"])
        assert violations(page) == []
    assert widths[1] > 1.6 * widths[0]


def test_the_plan_file_holds_pins(page: Page, tmp_path: Path) -> None:
    add(page, "Pinned place")
    with page.expect_download() as download:
        page.get_by_role("button", name="Print and export").click()
        page.get_by_role("menuitem", name="The plan as a file").click()
    path = tmp_path / "plan.json"
    download.value.save_as(path)
    assert [p["label"] for p in json.loads(path.read_text(encoding="utf-8"))["pins"]] == ["Pin 1"]
    assert figure(page, UVI) > 0


def test_a_lamp_snaps_over_the_slab_shows_its_distances_and_turns(page: Page) -> None:
    lamp = page.get_by_test_id("move-basking-lamp")
    lamp.focus()
    distances = page.get_by_test_id("distances-front")
    expect(distances).to_contain_text("28.0 cm")
    # Away from over the slab, then near it again: it comes to rest over its middle.
    page.keyboard.press("Shift+ArrowRight")
    expect(distances).to_contain_text("33.0 cm")
    stage = page.get_by_test_id("stage").bounding_box()
    assert stage is not None
    enclosure = lamp.bounding_box()
    assert enclosure is not None
    # By its lower half: the tube hangs over the upper.
    x, y = enclosure["x"] + enclosure["width"] / 2, enclosure["y"] + 0.75 * enclosure["height"]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 0.033 * stage["width"], y, steps=6)
    page.mouse.up()
    expect(lamp).to_have_attribute("aria-label", re.compile(r"28\.0 cm from the left"))
    # A tube stops where its end meets the glass.
    page.get_by_test_id("move-uv-tube").focus()
    drag(page, "move-uv-tube", -300, 0)
    expect(page.get_by_test_id("move-uv-tube")).to_have_attribute(
        "aria-label", re.compile(r"42\.5 cm from the left")
    )
    settled(page)
    # The tube is longer than the enclosure is deep; the bulb turns.
    page.get_by_test_id("move-basking-lamp").focus()
    page.keyboard.press("r")
    open_tab(page, "Basking lamp")
    expect(page.get_by_label("Turned", exact=True)).to_have_value("90")


@pytest.mark.parametrize(
    "path", ["/compare", "/plans/corn-snake/revisions/1", "/api/plans/corn-snake/report"]
)
def test_the_new_screens_are_clean_in_the_dark_and_on_a_phone(new_page: PageMaker, path: str) -> None:
    page = new_page(390, 844, color_scheme="dark")
    page.goto(path)
    page.get_by_role("heading", level=1).wait_for()
    page.wait_for_load_state("networkidle")
    assert violations(page) == []
    wide = page.evaluate("() => document.documentElement.scrollWidth")
    assert wide <= 390


def test_the_drawing_is_enlarged_by_wheel_and_keys_and_panned(page: Page) -> None:
    stage = page.get_by_test_id("stage")
    box = stage.bounding_box()
    slab = page.get_by_test_id("move-basking-slab")
    before = slab.bounding_box()
    assert box is not None
    assert before is not None
    x, y = before["x"] + before["width"] / 2, before["y"] + before["height"] / 2
    page.mouse.move(x, y)
    page.mouse.wheel(0, -400)
    expect(page.get_by_role("button", name="Show all")).to_be_visible()
    near = slab.bounding_box()
    assert near is not None
    assert near["width"] > 1.5 * before["width"]
    # What was under the pointer still is.
    assert near["x"] < x < near["x"] + near["width"]
    page.mouse.move(box["x"] + 0.7 * box["width"], box["y"] + 0.3 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.7 * box["width"] - 80, box["y"] + 0.3 * box["height"], steps=4)
    page.mouse.up()
    moved = slab.bounding_box()
    assert moved is not None
    assert moved["x"] == pytest.approx(near["x"] - 80, abs=2)
    # Things are dragged in the enlarged drawing as in the whole.
    page.mouse.move(x, y)
    stage.focus()
    page.keyboard.press("0")
    expect(page.get_by_role("button", name="Show all")).to_have_count(0)
    page.keyboard.press("+")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name="Show all")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("button", name="Show all").click()
    again = slab.bounding_box()
    assert again is not None
    assert again["width"] == pytest.approx(before["width"], abs=0.5)


def test_the_range_wanted_is_marked_in_the_picture(page: Page) -> None:
    _choose(page, "UV")
    lines = page.get_by_test_id("wanted-line")
    expect(lines).to_have_count(2)
    expect(lines.first).to_contain_text("from 3")
    _choose(page, "Radiant heat")
    expect(lines).to_have_count(0)
