"""Readings at the enclosure and at the desk: a round on a phone, also without a connection, and the fit."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from noonshade.core.uncertainty.multipliers import multipliers_of, with_multipliers
from noonshade.instruments.meters import drawn_kit
from noonshade.instruments.true_enclosure import TrueEnclosure
from tests.browser.conftest import Demo, PageMaker, Watched, opened, saved, settled, stored_slowly
from tests.browser.test_accessibility import violations
from tests.builders import shipped_plan

pytestmark = pytest.mark.browser

PLAN = "collared-lizard"
# The tube gives a third less UV than its catalogue entry, and the room is two kelvins warmer.
TRUTH = {"uv:uv-tube": -0.45, "room": 2.0}


@dataclass
class Keeper:
    """Someone with instruments at the true enclosure."""

    enclosure: TrueEnclosure
    rng: np.random.Generator

    def __post_init__(self) -> None:
        self.kit = drawn_kit(self.rng)

    def typed(self, task: dict[str, Any]) -> str:
        """What the display shows, as it is typed."""
        at = task["at_m"]
        where = None if at is None else (at["x_m"], at["y_m"], at["z_m"])
        value = self.kit.read(self.enclosure, task["kind"], where, self.rng)
        return f"{100 * value:.0f}" if "humidity" in task["kind"] else f"{value:.1f}"


@pytest.fixture(scope="module")
def true_enclosure() -> TrueEnclosure:
    plan = shipped_plan(PLAN)
    return TrueEnclosure(with_multipliers(plan, multipliers_of(plan), TRUTH))


@pytest.fixture
def keeper(true_enclosure: TrueEnclosure) -> Keeper:
    return Keeper(true_enclosure, np.random.default_rng(5))


def begun(page: Page) -> dict[str, Any]:
    """A round begun on this page, as the server has it."""
    page.goto(f"/plans/{PLAN}/readings")
    page.get_by_role("button", name="Propose a round").click()
    page.get_by_test_id("count").wait_for()
    answer = page.request.get(f"/api/plans/{PLAN}/readings").json()
    found: dict[str, Any] = answer["rounds"][0]
    return found


def read(page: Page, task: dict[str, Any], text: str) -> None:
    """Type what the display shows into a task's field."""
    card = page.get_by_test_id(f"task-{task['id']}")
    field = card.get_by_role("textbox").first
    if not field.is_visible():
        card.get_by_role("button").first.click()
    field.fill(text)
    field.press("Enter")
    expect(card.locator("[data-side]")).to_be_visible()


def waiting(page: Page) -> str | None:
    return page.get_by_test_id("outgoing").get_attribute("data-waiting")


def stored_readings(page: Page) -> list[dict[str, Any]]:
    """What the data file holds."""
    rows = page.request.get(f"/api/plans/{PLAN}/readings").json()["readings"]
    return [r["reading"] for r in rows]


# Without a connection the page's own worker answers, which a route of the test would go around.
@pytest.mark.assessed
def test_a_reading_round_on_a_phone_goes_on_without_a_connection(
    new_page: PageMaker, keeper: Keeper, watched: Watched
) -> None:
    watched.forgive("ERR_INTERNET_DISCONNECTED")
    page = new_page(390, 844, has_touch=True, service_workers="allow")
    one = begun(page)
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    tasks = one["tasks"]
    read(page, tasks[0], keeper.typed(tasks[0]))
    expect(page.get_by_text("Every reading is stored")).to_be_visible()
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.wait_for_function("async () => (await (await caches.open('noonshade-1')).keys()).length > 2")

    # Down in the cellar: two readings, and the page is even closed and opened again.
    page.context.set_offline(True)
    read(page, tasks[1], keeper.typed(tasks[1]))
    read(page, tasks[2], keeper.typed(tasks[2]))
    expect(page.get_by_text("2 readings on this device, not stored yet")).to_be_visible()
    assert len(stored_offline(page)) == 2
    page.reload()
    expect(page.get_by_test_id("count")).to_have_text(f"3 of {len(tasks)} read")
    expect(page.get_by_text("Opened from this device")).to_be_visible()
    expect(page.get_by_text("2 readings on this device, not stored yet")).to_be_visible()
    # A slip is corrected before it was ever sent.
    read(page, tasks[2], "99")
    read(page, tasks[2], keeper.typed(tasks[2]))
    for task in tasks[3:]:
        read(page, task, keeper.typed(task))

    page.context.set_offline(False)
    expect(page.get_by_text("Every reading is stored")).to_be_visible()
    stored = stored_readings(page)
    assert sorted(r["task"] for r in stored) == sorted(t["id"] for t in tasks)
    assert len({r["id"] for r in stored}) == len(tasks)
    assert 99.0 not in [r["value"] for r in stored]
    assert stored_offline(page) == []
    page.get_by_role("button", name="Done here").click()
    expect(page.get_by_role("heading", name="Readings against what was expected")).to_be_visible()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def stored_offline(page: Page) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = json.loads(
        page.evaluate("localStorage.getItem('readings-outbox') ?? '[]'")
    )
    return found


def test_either_unit_wrong_input_and_a_reading_that_is_refused(
    new_page: PageMaker, watched: Watched
) -> None:
    page = new_page(390, 844)
    one = begun(page)
    room = next(t for t in one["tasks"] if t["kind"] == "room_air")
    card = page.get_by_test_id(f"task-{room['id']}")
    field = card.get_by_role("textbox").first
    field.fill("warm")
    field.press("Enter")
    expect(card.get_by_role("alert")).to_contain_text("Type what the display shows")
    field.fill("900")
    field.press("Enter")
    expect(card.get_by_role("alert")).to_contain_text("Between -20 and 150 °C")
    # A unit behind the number goes before the one that is chosen.
    field.fill("70 F")
    field.press("Enter")
    expect(card).to_contain_text("21.1 °C")
    page.get_by_role("radio", name="°F").click()
    expect(card).to_contain_text("70.0 °F")
    card.get_by_role("button").first.click()
    card.get_by_role("textbox").first.fill("71.6")
    card.get_by_role("button", name="Save").click()
    expect(card).to_contain_text("71.6 °F")
    expect(page.get_by_text("Every reading is stored")).to_be_visible()
    assert [round(r["value"], 3) for r in stored_readings(page)] == [22.0]
    # A reading the server refuses is named and stays until it is dropped.
    page.evaluate(
        """() => localStorage.setItem('readings-outbox', JSON.stringify([{
           planId: 'collared-lizard', stamp: 1,
           reading: {id: 'x', revision: 1, kind: 'air', value: 500, place: 'Cool end', source: 'hand',
                     at_m: {x_m: 1, y_m: 0.3, z_m: 0.2}, taken_at: '2026-03-14T10:00:00+01:00'}}]))"""
    )
    page.reload()
    expect(page.get_by_role("alert")).to_contain_text("Cool end cannot be stored")
    page.get_by_role("button", name="Discard it").click()
    expect(page.get_by_text("Every reading is stored")).to_be_visible()


@pytest.mark.assessed
def test_readings_are_fitted_applied_and_taken_back(
    new_page: PageMaker, keeper: Keeper, demo: Demo
) -> None:
    page = new_page()
    one = begun(page)
    for task in one["tasks"]:
        read(page, task, keeper.typed(task))
    expect(page.get_by_text("Every reading is stored")).to_be_visible()
    page.get_by_role("button", name="Done here").click()
    page.get_by_role("button", name="Fit the plan to").click()
    result = page.get_by_test_id("fit-result")
    expect(result).to_contain_text("Plan and readings agree")
    expect(page.get_by_test_id("fitted-uv:uv-tube")).to_contain_text("less UV than its catalogue entry")
    expect(page.get_by_test_id("fitted-room")).to_contain_text("warmer than in the plan")
    expect(result).to_contain_text("The reading that would help most now")
    assert violations(page) == []

    # Saved without applying it, then applied, undone, and applied again.
    page.get_by_role("button", name="Save it without applying").click()
    fit = page.get_by_test_id("stored-fit")
    expect(fit).to_have_attribute("data-applied", "false")
    page.get_by_role("button", name="Use what was measured").click()
    expect(fit).to_have_attribute("data-applied", "true")
    page.locator("body").press("Control+z")
    expect(fit).to_have_attribute("data-applied", "false")
    page.locator("body").press("Control+y")
    expect(fit).to_have_attribute("data-applied", "true")
    saved(page)
    # What was read agrees with the plan as measured.
    expect(page.get_by_test_id("readings").locator('[data-side="ok"]')).to_have_count(len(one["tasks"]))

    page.get_by_role("link", name="Plan", exact=True).click()
    settled(page)
    expect(page.get_by_test_id("evidence")).to_contain_text("measured")
    uvi = opened(page, "check-basking:uvi")
    expect(uvi.get_by_test_id("interval")).to_contain_text("Measured on")
    expect(opened(page, "check-warm-hide:uvi").get_by_test_id("interval")).to_contain_text(
        "Predicted from readings of"
    )
    # A new tube: that reading is due again, and what was measured of the old one is out of date.
    page.get_by_role("tab", name="UV tube").click()
    hours = page.get_by_label("Hours burned", exact=True)
    hours.fill("0")
    hours.press("Enter")
    saved(page)
    page.get_by_role("link", name="Measure").click()
    expect(fit).to_contain_text("the lamp was replaced since")
    expect(page.get_by_test_id("readings")).to_contain_text("Due again: UV tube changed since")
    page.get_by_role("button", name="Remove the fit").click()
    expect(fit).to_have_count(0)


def test_a_stray_reading_is_named_and_excluded(new_page: PageMaker, keeper: Keeper) -> None:
    page = new_page()
    one = begun(page)
    for task in one["tasks"]:
        # Read in the beam, with a bare probe.
        wrong = task["kind"] == "air" and task["at_m"]["x_m"] > 0.6
        read(page, task, f"{float(keeper.typed(task)) + 12:.1f}" if wrong else keeper.typed(task))
    expect(page.get_by_text("Every reading is stored")).to_be_visible()
    page.get_by_role("button", name="Done here").click()
    fit = page.get_by_role("button", name="Fit the plan to")
    fit.click()
    expect(page.get_by_test_id("strays")).to_contain_text("Cool end, probe reading")
    expect(page.get_by_test_id("fit-result")).to_contain_text("do not agree well")
    enclosure = page.get_by_role("checkbox", name="Use Cool end, Probe reading, for fitting")
    enclosure.uncheck()
    expect(fit).to_have_text(f"Fit the plan to {len(one['tasks']) - 1} readings")
    fit.click()
    expect(page.get_by_test_id("fit-result")).to_contain_text("Plan and readings agree")
    rows = page.get_by_test_id("readings").get_by_role("listitem")
    count = rows.count()
    page.get_by_role("button", name="Take out Cool end").click()
    expect(rows).to_have_count(count - 1)
    page.get_by_role("button", name="Put it back").click()
    expect(rows).to_have_count(count)
    with page.expect_download() as download:
        page.get_by_role("link", name="As CSV").click()
    text = download.value.path().read_text(encoding="utf-8")
    assert text.startswith("taken_at,place,kind,value,unit")
    assert len(text.splitlines()) == count + 1


def test_a_reading_of_ones_own_and_instruments(new_page: PageMaker) -> None:
    page = new_page()
    # A second change is made before the first is stored; neither may be lost.
    stored_slowly(page, "/api/instruments")
    page.goto(f"/plans/{PLAN}/readings")
    shelf = page.get_by_test_id("instruments")
    shelf.get_by_label("Another one").select_option("air probe")
    shelf.get_by_role("button", name="Add it").click()
    name = shelf.get_by_label("air probe", exact=True)
    name.fill("Grey probe")
    name.press("Enter")
    stated = shelf.get_by_label("± as stated")
    stated.fill("0.3")
    stated.press("Enter")
    page.get_by_role("button", name="Add a reading").click()
    panel = page.get_by_role("dialog")
    panel.get_by_label("What", exact=True).select_option("air")
    panel.get_by_label("With").select_option(label="Grey probe")
    panel.get_by_label("Where, in words").fill("Under the ledge")
    panel.get_by_label("Above the ground").fill("12")
    shown = panel.get_by_label("The display shows")
    shown.fill("27.3")
    shown.press("Enter")
    assert violations(page) == []
    panel.get_by_role("button", name="Save the reading").click()
    row = page.get_by_test_id("readings").get_by_role("listitem").first
    expect(row).to_contain_text("Under the ledge")
    expect(row).to_contain_text("Probe reading, Grey probe")
    expect(row.locator("[data-side]")).to_be_visible()
    shelf.get_by_role("button", name="Take Grey probe off the list").click()
    expect(shelf.get_by_label("air probe", exact=True)).to_have_count(0)
    # Offered once it is taken off, after every change before it was stored.
    back = page.get_by_role("button", name="Put it back")
    back.wait_for()
    with page.expect_response(lambda r: r.url.endswith("/api/instruments") and r.request.method == "PUT"):
        back.click()
    page.reload()
    expect(shelf.get_by_label("air probe", exact=True)).to_have_value("Grey probe")
    expect(shelf.get_by_label("± as stated")).to_have_value("0.3")


LOGGED = "Datum;Zeit;Temperatur °C;Feuchte %rF\n" + "".join(
    f"{day}.11.2026;{hour:02d}:{tens}0;{'27,0' if 8 <= hour < 20 else '21,0'};48,0\n"
    for day in (20, 21)
    for hour in range(24)
    for tens in range(6)
)


def test_a_loggers_file_is_looked_at_taken_in_once_and_used(new_page: PageMaker, watched: Watched) -> None:
    watched.forgive("422 (UNPROCESSABLE ENTITY)")
    page = new_page(timezone_id="Europe/London")
    page.goto(f"/plans/{PLAN}/readings")
    page.get_by_role("button", name="Add a logger").click()
    panel = page.get_by_role("dialog")
    panel.get_by_label("Name").fill("Logger 3")
    panel.get_by_label("Where, in words").fill("Warm end")
    panel.get_by_role("button", name="Add it").click()
    shelf = page.get_by_test_id("loggers")
    expect(shelf).to_contain_text("Logger 3")
    choose = page.get_by_test_id("logger-file-input")

    def look(text: str) -> None:
        file = {"name": "november.csv", "mimeType": "text/csv", "buffer": text.encode()}
        choose.set_input_files(file)  # type: ignore[arg-type]

    look("nothing of use\n")
    expect(page.get_by_role("alert")).to_contain_text("no row with a date and a number")
    page.get_by_role("button", name="Close").click()
    look(LOGGED + "22.11.2026;00:00;Fehler;48,0\n")
    seen = page.get_by_test_id("logger-file")
    expect(seen).to_contain_text("288 rows can be read")
    expect(seen).to_contain_text("Line 290: 'Fehler' is no temperature")
    expect(seen.get_by_label("Time zone")).to_have_value("Europe/London")
    assert violations(page) == []
    # Read as °F the values would be those of a cellar; corrected.
    seen.get_by_label("It is in").select_option("F")
    expect(seen).to_contain_text("-6.1 °C")
    seen.get_by_label("It is in").select_option("C")
    expect(seen).to_contain_text("21.0 °C")
    seen.get_by_label("Import nothing if a row cannot be read").check()
    page.get_by_role("button", name="Take in 288 rows").click()
    expect(seen.get_by_role("alert")).to_contain_text("'Fehler' is no temperature")
    seen.get_by_label("Import nothing if a row cannot be read").uncheck()
    page.get_by_role("button", name="Take in 288 rows").click()
    expect(shelf).to_contain_text("2026-11-21")
    look(LOGGED)
    expect(seen).to_contain_text("288 of them are stored already")
    expect(page.get_by_role("button", name="Nothing new in it")).to_be_visible()
    page.get_by_role("button", name="Close").click()

    for _ in range(2):
        page.get_by_role("button", name="Use 2026-11-21 of Logger 3 as readings").click()
    rows = page.get_by_test_id("readings").get_by_role("listitem")
    expect(rows).to_have_count(4)
    expect(page.get_by_test_id("readings")).to_contain_text("Lowest probe reading of the night")
    page.get_by_role("button", name="Key for a device that posts for Logger 3").click()
    key = page.get_by_test_id("device-key").inner_text()
    posted = page.request.post(
        "/api/devices/readings",
        headers={"Authorization": f"Bearer {key}"},
        data={"readings": [{"at": "2026-11-22T09:00:00Z", "temperature_c": 24.5}]},
    )
    assert posted.json()["stored"] == 1


def test_an_enclosure_is_tested_and_signed_off(new_page: PageMaker, keeper: Keeper) -> None:
    page = new_page(390, 844)
    page.goto(f"/plans/{PLAN}/readings")
    commissioning_test = page.get_by_test_id("commissioning-test")
    expect(commissioning_test).to_have_attribute("data-state", "none")
    commissioning_test.get_by_label("over").fill("1")
    commissioning_test.get_by_role("button", name="Begin the test today").click()
    expect(commissioning_test).to_have_attribute("data-state", "running")
    commissioning_test.get_by_role("button", name=re.compile("Read the .* that are not yet")).click()
    page.get_by_test_id("count").wait_for()
    tasks = page.request.get(f"/api/plans/{PLAN}/readings").json()["rounds"][0]["tasks"]
    for task in tasks[:-1]:
        read(page, task, keeper.typed(task))
    expect(page.get_by_text("Every reading is stored")).to_be_visible()
    page.get_by_role("button", name="Done here").click()
    expect(commissioning_test.locator('[data-state="not_yet"]')).to_have_count(1)
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    commissioning_test.get_by_role("button", name="Sign it off").click()
    panel = page.get_by_role("dialog")
    panel.get_by_label("Name").fill("Keeper of the mill")
    panel.get_by_label("Why you sign it all the same").fill("The lamp goes up tomorrow.")
    panel.get_by_role("button", name="Sign", exact=True).click()
    expect(commissioning_test).to_have_attribute("data-state", "signed")
    expect(commissioning_test).to_contain_text("Signed by Keeper of the mill")
    commissioning_test.get_by_role("link", name="The sheet").click()
    expect(page.get_by_text("The lamp goes up tomorrow.")).to_be_visible()
    assert violations(page) == []
    page.go_back()
    commissioning_test.get_by_role("button", name="Take the signature back").click()
    expect(commissioning_test).to_have_attribute("data-state", "running")


def test_where_the_animal_sits_is_tapped_and_read(new_page: PageMaker) -> None:
    page = new_page(390, 844, has_touch=True)
    page.goto(f"/plans/{PLAN}/readings")
    panel = page.get_by_test_id("behaviour")
    drawing = panel.get_by_test_id("tap")
    # The test above it must be there, or the drawing moves away under the finger.
    expect(page.get_by_test_id("commissioning-test")).to_be_visible()
    enclosure = drawing.bounding_box()
    assert enclosure is not None
    drawing.tap(position={"x": 0.33 * enclosure["width"], "y": 0.57 * enclosure["height"]})
    expect(panel.get_by_role("listitem")).to_have_count(1)
    expect(panel).to_contain_text("Predicted there at that hour")
    expect(panel.get_by_test_id("hint-too_few")).to_be_visible()
    for _ in range(5):
        panel.get_by_role("button", name="On the basking spot").click()
    expect(panel.get_by_test_id("hint-always_basking")).to_contain_text("A hint, not a diagnosis")
    panel.get_by_label("Seen just now").select_option("basking")
    panel.get_by_role("button", name="Note it").click()
    expect(panel).to_contain_text("Basking for 20 min of the hour")
    assert violations(page) == []
    panel.get_by_role("button", name="Delete this sighting").first.click()
    expect(panel.get_by_role("listitem")).to_have_count(6)
    page.get_by_role("button", name="Put it back").click()
    expect(panel.get_by_role("listitem")).to_have_count(7)
