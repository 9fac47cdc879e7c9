"""Whole journeys through the real interface."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect

from noonshade.demo import DEMO_PLANS
from tests.browser.conftest import (
    ROOT,
    PageMaker,
    RealDemo,
    Watched,
    do,
    drag,
    figure,
    free_port,
    open_tab,
    opened,
    saved,
    settled,
    show,
    status,
)

pytestmark = pytest.mark.browser

UVI = "basking:uvi"
SURFACE = "basking:surface_temperature"


def test_from_the_room_to_the_checks(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/")
    card = page.get_by_test_id("plan-collared-lizard")
    expect(card).to_contain_text("Crotaphytus collaris")
    expect(card).to_contain_text("2 to change")
    card.click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Collared lizard")
    settled(page)
    expect(page.get_by_test_id("headline")).to_have_text("2 of 14 checks need a change")
    assert status(page, SURFACE) == "high"
    assert status(page, UVI) == "ok"
    expect(page.get_by_text("predicted, not measured")).to_be_visible()
    # It opens with what fails: the surface, not UV.
    expect(page.get_by_role("radio", name="Surfaces")).to_be_checked()
    stage = page.get_by_test_id("stage")
    expect(stage).to_contain_text("63°")
    page.get_by_role("radio", name="UV", exact=True).click()
    expect(stage).to_contain_text("UVI 4.5")


def test_dragging_the_tube_away_lowers_uvi(page: Page) -> None:
    before = figure(page, UVI)
    drag(page, "move-uv-tube", 180, 0)
    settled(page)
    assert figure(page, UVI) < before - 0.5
    saved(page)
    expect(page.get_by_role("button", name=re.compile("^Undo: UV tube to"))).to_be_enabled()


def test_raising_the_tube_by_typing_lowers_uvi(page: Page) -> None:
    open_tab(page, "UV tube")
    before = figure(page, UVI)
    field = page.get_by_label("Height above the enclosure floor", exact=True)
    field.fill("45")
    field.press("Enter")
    settled(page)
    lower = figure(page, UVI)
    assert lower > before
    field.fill("59 cm")
    field.press("Enter")
    settled(page)
    assert figure(page, UVI) < before


def test_mesh_turns_the_check_undo_turns_it_back_and_reload_keeps_it(page: Page) -> None:
    open_tab(page, "UV tube")
    page.get_by_label("Screen below it").select_option("fine-0.5-2.0")
    expect(page.get_by_test_id(f"check-{UVI}")).to_have_attribute("data-status", "low")
    expect(opened(page, f"check-{UVI}")).to_contain_text("the mesh stops 44 %")
    page.locator("body").press("Control+z")
    expect(page.get_by_test_id(f"check-{UVI}")).to_have_attribute("data-status", "ok")
    saved(page)
    page.reload()
    settled(page)
    assert status(page, UVI) == "ok"
    open_tab(page, "UV tube")
    expect(page.get_by_label("Screen below it")).to_have_value("")
    page.get_by_label("Screen below it").select_option("fine-0.5-2.0")
    expect(page.get_by_test_id(f"check-{UVI}")).to_have_attribute("data-status", "low")
    saved(page)
    page.reload()
    settled(page)
    assert status(page, UVI) == "low"


def test_an_edit_undone_while_it_is_being_saved_is_saved_as_undone(page: Page) -> None:
    waiting: list[Route] = []

    def hold(route: Route) -> None:
        if route.request.method == "PUT" and not waiting:
            waiting.append(route)
        else:
            route.continue_()

    page.route("**/api/plans/*", hold)
    open_tab(page, "Room")
    field = page.get_by_label("Room by day", exact=True)
    field.fill("25")
    with page.expect_request(lambda r: r.method == "PUT"):
        field.press("Enter")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(field).to_have_value("21")
    waiting[0].continue_()
    saved(page)
    page.reload()
    settled(page)
    open_tab(page, "Room")
    expect(page.get_by_label("Room by day", exact=True)).to_have_value("21")


def test_redo_brings_an_undone_change_back(page: Page) -> None:
    open_tab(page, "Room")
    field = page.get_by_label("Room by day", exact=True)
    field.fill("25")
    field.press("Enter")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(field).to_have_value("21")
    page.get_by_role("button", name=re.compile("^Redo")).click()
    expect(field).to_have_value("25")
    # With nothing half typed in the field, the shortcut means the plan.
    field.press("Control+z")
    expect(field).to_have_value("21")
    field.press("Control+Shift+z")
    expect(field).to_have_value("25")


@pytest.mark.assessed
def test_trying_a_fix_puts_it_right_and_can_be_undone(page: Page) -> None:
    row = opened(page, f"check-{SURFACE}")
    fix = row.get_by_test_id("fix").first
    expect(fix).to_contain_text("Set the thermostat to")
    promised = re.search(r"→ ([\d.]+) °C", fix.inner_text())
    assert promised
    row.get_by_role("button", name="Try it for Basking spot").click()
    expect(page.get_by_test_id("headline")).to_have_text("1 of 14 checks needs a change")
    assert figure(page, SURFACE) == pytest.approx(float(promised[1]), abs=0.05)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_test_id("headline")).to_have_text("2 of 14 checks need a change")


def test_keyboard_moves_lamp_probe_and_ground(page: Page) -> None:
    lamp = page.get_by_test_id("move-basking-lamp")
    lamp.focus()
    before = figure(page, SURFACE)
    page.keyboard.press("Shift+ArrowUp")
    expect(lamp).to_have_attribute("aria-label", re.compile(r"55\.0 cm above the floor"))
    settled(page)
    assert figure(page, SURFACE) < before
    page.get_by_test_id("move-probe-main").focus()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_test_id("move-probe-main")).to_have_attribute(
        "aria-label", re.compile(r"104\.0 cm from the left")
    )
    uvi = figure(page, UVI)
    page.get_by_test_id("move-substrate").focus()
    page.keyboard.press("Shift+ArrowUp")
    settled(page)
    # Deeper ground lifts the slab towards the tube.
    assert figure(page, UVI) > uvi


def test_probe_and_substrate_can_be_dragged(page: Page) -> None:
    drag(page, "move-probe-main", -300, 60)
    settled(page)
    open_tab(page, "Thermostat")
    value = page.get_by_label("Probe, from the left wall", exact=True).input_value()
    assert float(value) < 80
    drag(page, "move-substrate", 0, -30)
    settled(page)
    open_tab(page, "Substrate")
    assert float(page.get_by_label("Depth", exact=True).input_value()) > 11


def test_both_unit_systems_in_and_out(page: Page) -> None:
    page.get_by_role("radio", name="°F, in").click()
    expect(page.get_by_test_id(f"check-{SURFACE}")).to_contain_text("needs 109–126 °F")
    open_tab(page, "UV tube")
    field = page.get_by_label("Height above the enclosure floor", exact=True)
    expect(field).to_have_value("22")
    field.fill("50 cm")
    field.press("Enter")
    expect(field).to_have_value("19.7")
    open_tab(page, "Room")
    room = page.get_by_label("Room by day", exact=True)
    room.fill("75")
    room.press("Enter")
    page.get_by_role("radio", name="°C, cm").click()
    expect(room).to_have_value("23.9")
    page.reload()
    expect(page.get_by_role("radio", name="°C, cm")).to_have_attribute("data-state", "on")


def test_numbers_out_of_range_are_refused_with_what_is_allowed(page: Page) -> None:
    field = page.get_by_label("Power", exact=True)
    field.fill("-20")
    field.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="Allowed: 20 W to 150 W")).to_be_visible()
    field.fill("many")
    field.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="Type a number")).to_be_visible()
    field.press("Escape")
    expect(field).to_have_value("75")
    saved(page)


def test_lamp_kind_and_control_can_be_changed(page: Page) -> None:
    page.get_by_label("Lamp", exact=True).select_option("ceramic-heater")
    settled(page)
    danger = page.get_by_test_id("finding-pairing:basking-lamp")
    expect(danger).to_contain_text("must not be dimmed")
    open_tab(page, "Thermostat")
    page.get_by_role("radio", name="On and off").click()
    expect(danger).to_have_count(0)
    set_point = page.get_by_label("Set point by day", exact=True)
    set_point.fill("24")
    set_point.press("Enter")
    expect(page.get_by_test_id("thermostat-state")).to_contain_text("% of full power")


@pytest.mark.assessed
def test_an_old_tube_loses_its_uv_and_a_new_one_fixes_it(page: Page) -> None:
    open_tab(page, "UV tube")
    height = page.get_by_label("Height above the enclosure floor", exact=True)
    height.fill("59")
    height.press("Enter")
    hours = page.get_by_label("Hours burned", exact=True)
    hours.fill("9800")
    hours.press("Enter")
    row = page.get_by_test_id(f"check-{UVI}")
    expect(row).to_have_attribute("data-status", "low")
    opened(page, f"check-{UVI}")
    expect(row).to_contain_text("after 9800 h it gives")
    row.get_by_role("button", name="Try it for Basking spot").click()
    expect(row).to_have_attribute("data-status", "ok")
    expect(hours).to_have_value("100")


def test_lamps_can_be_seen_worn(page: Page) -> None:
    before = figure(page, UVI)
    show(page).get_by_role("radio", name="Worn out").click()
    opened(page, f"check-{SURFACE}")
    expect(page.get_by_text("As if the UV lamps were at the end of their life")).to_be_visible()
    assert figure(page, UVI) < 0.8 * before
    expect(page.get_by_text("Changes are proposed for the lamps as they are now.").first).to_be_visible()
    show(page).get_by_role("radio", name="As they are").click()
    settled(page)
    assert figure(page, UVI) == before
    expect(page.get_by_test_id("save-status")).to_have_text("Saved, revision 1")


def test_three_fields_and_the_pointer(page: Page) -> None:
    stage = page.get_by_test_id("stage")
    for name, words in (
        ("Air", "surface 63°"),
        ("Surfaces", "63°"),
        ("Radiant heat", "W/m²"),
        ("Visible light", "lx"),
        ("Humidity", "%"),
        ("UV", "UVI 4.5"),
    ):
        page.get_by_role("radio", name=name).click()
        expect(stage).to_contain_text(words)
    enclosure = stage.bounding_box()
    assert enclosure is not None
    page.mouse.move(enclosure["x"] + enclosure["width"] / 2, enclosure["y"] + enclosure["height"] / 2)
    expect(page.get_by_test_id("pointer-reading")).to_contain_text(re.compile(r"UVI \d"))


def test_export_import_and_the_same_figures_in_the_terminal(page: Page, tmp_path: Path) -> None:
    open_tab(page, "UV tube")
    page.get_by_label("Screen below it").select_option("coarse-1.0-12.5")
    settled(page)
    with page.expect_download() as download:
        page.get_by_role("button", name="Print and export").click()
        page.get_by_role("menuitem", name="The plan as a file").click()
    path = tmp_path / download.value.suggested_filename
    download.value.save_as(path)
    assert path.name == "collared-lizard-timber-enclosure-by-the-race-window.noonshade.json"
    assert json.loads(path.read_text(encoding="utf-8"))["fixtures"][1]["screen_id"] == "coarse-1.0-12.5"
    shown = {key: figure(page, key) for key in (UVI, SURFACE, "cool_end:air_temperature")}
    printed = subprocess.run(
        [sys.executable, "-m", "noonshade", "evaluate", str(path), "--format", "json"],
        capture_output=True,
        text=True,
        check=True,
        cwd=ROOT,
    )
    values = {v["id"]: v["value"] for v in json.loads(printed.stdout)["checks"]}
    assert shown == {key: round(values[key], 1) for key in shown}
    page.get_by_role("link", name="Noon Shade").click()
    page.get_by_test_id("import-file").set_input_files(path)
    expect(page).to_have_url(re.compile(r"/plans/[0-9a-f]{12}$"))
    settled(page)
    assert {key: figure(page, key) for key in shown} == shown


def test_a_bad_file_is_refused_by_name(new_page: PageMaker, watched: Watched) -> None:
    watched.forgive("422 (UNPROCESSABLE ENTITY)")
    page = new_page()
    page.goto("/")
    for content, words in (
        (b"{", "It is not JSON"),
        (b"{}", "not a Noon Shade plan"),
        (b'{"format": "noonshade-plan", "version": 3}', "version 3 is not known"),
        (b"x" * 1_000_001, "at most 1 MB"),
    ):
        file = {"name": "odd.json", "mimeType": "application/json", "buffer": content}
        page.get_by_test_id("import-file").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_text(words).first).to_be_visible()
        expect(page.get_by_text("odd.json was not imported").first).to_be_visible()
        expect(page).to_have_url(re.compile(r"/$"))


def test_old_revisions_open_again(page: Page) -> None:
    open_tab(page, "Room")
    field = page.get_by_label("Room by day", exact=True)
    field.fill("26")
    field.press("Enter")
    saved(page)
    page.get_by_role("button", name="Revisions", exact=True).click()
    expect(page.get_by_role("dialog")).to_contain_text("Room 26.0 °C by day")
    page.get_by_role("button", name="Open revision 1").click()
    expect(field).to_have_value("21")
    page.wait_for_timeout(800)
    saved(page)
    expect(page.get_by_test_id("save-status")).to_have_text("Saved, revision 3")


def test_two_windows_conflict_and_nothing_is_lost(new_page: PageMaker, watched: Watched) -> None:
    watched.forgive("409 (CONFLICT)")
    first, second = new_page(), new_page()
    for page in (first, second):
        page.goto("/plans/collared-lizard")
        settled(page)
        open_tab(page, "Room")
    for page, degrees in ((first, "23"), (second, "27")):
        field = page.get_by_label("Room by day", exact=True)
        field.fill(degrees)
        field.press("Enter")
        page.wait_for_timeout(1500)
    trouble = second.get_by_role("alert").filter(has_text="Changed in another window")
    expect(trouble).to_contain_text("yours is saved as revision 3")
    second.get_by_role("button", name="Save mine as the newest").click()
    saved(second)
    first.reload()
    open_tab(first, "Room")
    expect(first.get_by_label("Room by day", exact=True)).to_have_value("27")


def test_a_save_that_fails_says_so_and_is_tried_again(page: Page, watched: Watched) -> None:
    watched.forgive("net::ERR_FAILED")
    page.route("**/api/plans/collared-lizard", lambda route: route.abort())
    open_tab(page, "Room")
    field = page.get_by_label("Room by day", exact=True)
    field.fill("22")
    field.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="Not saved")).to_be_visible()
    page.unroute("**/api/plans/collared-lizard")
    page.get_by_role("button", name="Try again").click()
    saved(page)
    page.reload()
    open_tab(page, "Room")
    expect(page.get_by_label("Room by day", exact=True)).to_have_value("22")


def test_work_survives_a_restart_of_the_program(
    new_page: PageMaker, tmp_path: Path, watched: Watched
) -> None:
    # Changes that help are asked for in the background, also while it is away.
    watched.forgive("ERR_CONNECTION_REFUSED")
    watched.forgive("ERR_EMPTY_RESPONSE")
    # What is being computed when the program is stopped ends with it.
    watched.forgive("503 (SERVICE UNAVAILABLE)")
    real = RealDemo(tmp_path / "real", free_port())
    real.start()
    try:
        page = new_page()
        page.goto(f"{real.url}/plans/collared-lizard")
        settled(page)
        open_tab(page, "Room")
        field = page.get_by_label("Room by day", exact=True)
        field.fill("24")
        field.press("Enter")
        page.wait_for_timeout(900)
        saved(page)
        real.stop()
        real.start()
        page.reload()
        open_tab(page, "Room")
        expect(field).to_have_value("24")
        expect(page.get_by_test_id("save-status")).to_have_text("Saved, revision 4")
    finally:
        real.stop()


def test_removing_an_enclosure_can_be_taken_back(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/")
    do(page, "Archive", "Collared lizard, timber enclosure by the race window")
    expect(page.get_by_test_id("plan-collared-lizard")).to_have_count(0)
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_test_id("plan-collared-lizard")).to_be_visible()
    for left in range(len(DEMO_PLANS) - 1, -1, -1):
        page.get_by_role("button", name=re.compile("^Actions for ")).first.click()
        page.get_by_role("menuitem", name="Archive").click()
        expect(page.get_by_role("button", name=re.compile("^Actions for "))).to_have_count(left)
    expect(page.get_by_test_id("welcome")).to_be_visible()


def test_unknown_plan_and_address(new_page: PageMaker, watched: Watched) -> None:
    watched.forgive("404 (NOT FOUND)")
    watched.forgive("No route matches")
    page = new_page()
    page.goto("/plans/nobody")
    expect(page.get_by_role("heading", name="This plan does not exist")).to_be_visible()
    page.goto("/elsewhere")
    expect(page.get_by_role("heading", name="There is nothing at this address")).to_be_visible()
    page.get_by_role("link", name="Back to the room").click()
    expect(page.get_by_role("heading", name="The room")).to_be_visible()
