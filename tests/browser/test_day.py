"""The day under the drawing, and what may go wrong, in a real browser."""

from __future__ import annotations

import csv
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, add, figure, pane, saved, settled
from tests.browser.test_accessibility import DESK_AND_PHONE, violations

pytestmark = pytest.mark.browser


def day(page: Page, plan: str = "collared-lizard") -> Page:
    page.goto(f"/plans/{plan}")
    settled(page)
    pane(page, "Day, year")
    if page.get_by_role("radio", name="The day").get_attribute("data-state") == "off":
        page.get_by_role("radio", name="The day").click()
    ready(page)
    return page


def ready(page: Page) -> None:
    page.locator('[data-testid="day"][data-pending="false"] [data-testid="day-chart"]').wait_for()


def surface(page: Page) -> float:
    """Surface temperature at the marked hour."""
    found = re.search(r"surface (-?[\d.]+) °C", page.get_by_test_id("marked-hour").inner_text())
    assert found is not None
    return float(found[1])


def test_the_marker_moves_the_drawing_through_the_day(new_page: PageMaker) -> None:
    page = day(new_page())
    page.get_by_role("radio", name="Air", exact=True).click()
    expect(page.get_by_test_id("evaluation-state")).to_have_text("At 13:00")
    noon = surface(page)
    chart = page.get_by_role("slider", name="Hour of the day")
    chart.focus()
    page.keyboard.press("Home")
    expect(chart).to_have_attribute("aria-valuetext", "00:00")
    expect(page.get_by_test_id("evaluation-state")).to_have_text("At 00:00")
    assert surface(page) < noon - 20
    # Marks in the drawing tell that hour too.
    label = f"{round(surface(page))}°"
    expect(page.get_by_test_id("stage").get_by_text(label).first).to_be_visible()
    enclosure = page.get_by_test_id("day-chart").bounding_box()
    assert enclosure is not None
    page.mouse.click(enclosure["x"] + 46 + (enclosure["width"] - 56) * 0.75, enclosure["y"] + 60)
    expect(chart).to_have_attribute("aria-valuetext", "18:00")
    expect(page.get_by_test_id("evaluation-state")).to_have_text("At 18:00")


def test_seasons_places_sums_and_the_file(new_page: PageMaker, tmp_path: Path) -> None:
    page = day(new_page())
    panel = page.get_by_test_id("day")
    expect(panel.get_by_role("row", name=re.compile("^Together"))).to_contain_text("41.6")
    warm = surface(page)
    page.get_by_role("radio", name="coldest month").click()
    expect(panel).to_have_attribute("data-pending", "true")
    ready(page)
    assert surface(page) < warm - 1
    page.get_by_role("radio", name="Cool hide").click()
    expect(page.get_by_test_id("marked-hour")).to_contain_text("Cool hide")
    with page.expect_download() as download:
        page.get_by_role("button", name="CSV, every minute").click()
    assert download.value.suggested_filename.endswith("-day-winter.csv")
    path = tmp_path / "day.csv"
    download.value.save_as(path)
    assert len(list(csv.DictReader(path.read_text(encoding="utf-8").splitlines()))) == 1440


def test_a_longer_day_is_simulated_saved_and_undone(new_page: PageMaker) -> None:
    page = day(new_page(), "giant-vinegaroon")
    page.get_by_label("or as outside at latitude").fill("52")
    page.get_by_label("on", exact=True).fill("2026-06-21")
    page.get_by_role("button", name="Use that day").click()
    expect(page.get_by_label("Lamps' day", exact=True)).to_have_value("16.7")
    saved(page)
    page.get_by_role("button", name=re.compile("^Undo: Lamps 16.7 h")).click()
    expect(page.get_by_label("Lamps' day", exact=True)).to_have_value("12")


def test_what_if_tests_run_one_after_another_and_can_be_stopped(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/gargoyle-gecko")
    settled(page)
    # Stopped before it is even known which there are.
    page.route("**/api/day/failure-scenarios", lambda _: None)
    page.get_by_role("radio", name="What if").click()
    panel = page.get_by_test_id("what-if")
    # While the day is simulated, the only Stop on the page may be that of the search for fixes.
    panel.get_by_role("button", name="Stop").click()
    expect(panel).to_have_attribute("data-running", "false")
    expect(panel).to_contain_text("Stopped before the first test was run")
    page.unroute("**/api/day/failure-scenarios")
    page.get_by_role("button", name="Run them again").click()
    page.locator('[data-testid="what-if"][data-running="false"]').wait_for(timeout=60_000)
    expect(panel.get_by_role("status")).to_contain_text("6 of 6 tests run")
    # A heat wave leaves a gecko of cool forests nowhere to go; that comes first.
    first = panel.get_by_role("listitem").first
    expect(first).to_contain_text("Room 10 °C warmer")
    expect(first).to_contain_text("no safe place after")
    first.locator("summary").click()
    expect(first.get_by_role("table")).to_contain_text("too hot after")
    assert violations(page) == []


def test_a_mat_is_put_under_the_floor_and_moved_behind(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/collared-lizard")
    settled(page)
    add(page, "Lamp or heater")
    page.get_by_label("Lamp", exact=True).select_option("mat-28")
    expect(page.get_by_label("Lies", exact=True)).to_have_value("floor")
    expect(page.get_by_label("Screen below it")).to_have_count(0)
    page.get_by_label("Lies", exact=True).select_option("back")
    page.get_by_label("Comes on").select_option("timer")
    expect(page.get_by_label("On at", exact=True)).to_have_value("9")
    settled(page)
    expect(page.get_by_role("alert")).to_have_count(0)
    saved(page)


@pytest.mark.parametrize(("theme", "width"), DESK_AND_PHONE)
def test_the_day_is_clean(new_page: PageMaker, theme: str, width: int) -> None:
    page = day(new_page(color_scheme=theme, width=width), "panther-chameleon")
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    pane(page, "Settings")
    for tab in ("Moisture", "Room", "Thermostat") if theme == "light" else ("Room",):
        page.get_by_role("tab", name=tab).click()
        assert violations(page) == [], tab


def test_walls_cooling_and_a_second_thermostat(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/collared-lizard")
    settled(page)
    page.get_by_role("tab", name="Enclosure").click()
    before = figure(page, "warm_end:air_temperature")
    page.get_by_label("Insulated outside with").select_option("insulation-board")
    settled(page)
    assert figure(page, "warm_end:air_temperature") > before
    page.get_by_role("button", name="A fan").click()
    page.get_by_label("Fan 1, air an hour", exact=True).fill("30")
    page.get_by_label("Fan 1, air an hour", exact=True).press("Enter")
    settled(page)
    assert figure(page, "warm_end:air_temperature") < before - 1
    assert violations(page) == []
    add(page, "Thermostat")
    page.get_by_role("radio", name="Pulse").click()
    page.get_by_label("Has one").check()
    expect(page.get_by_label("Cut-out above", exact=True)).to_have_value("45")
    assert violations(page) == []
    page.get_by_role("button", name="Remove this thermostat").click()
    expect(page.get_by_role("tab", name="Thermostat 2")).to_have_count(0)
    saved(page)


def test_warmth_by_place_and_the_warm_patch(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/crocodile-lizard")
    settled(page)
    page.get_by_text("Warmth and moisture, place by place").click()
    patch = page.get_by_test_id("warm-patch")
    expect(patch).to_contain_text("body lengths at its shorter side")
    page.get_by_label("Warm patch of at least", exact=True).fill("29")
    page.get_by_label("Warm patch of at least", exact=True).press("Enter")
    expect(patch).to_contain_text("Too small")
    page.get_by_label("Warm patch of at least", exact=True).fill("90")
    page.get_by_label("Warm patch of at least", exact=True).press("Enter")
    expect(patch).to_have_text("No part of the slab is that warm.")
    assert violations(page) == []
