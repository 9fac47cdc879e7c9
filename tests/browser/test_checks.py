"""The assessment in a real browser: findings and fixes, time, the animal, the species desk."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, opened, saved, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser

SURFACE = "basking:surface_temperature"


@pytest.fixture
def page(new_page: PageMaker) -> Page:
    made = new_page()
    made.goto("/plans/collared-lizard")
    settled(made)
    return made


@pytest.mark.assessed
def test_two_fixes_make_the_demo_fit_and_undo_brings_both_back(page: Page) -> None:
    headline = page.get_by_test_id("headline")
    expect(page.get_by_test_id("summary")).to_contain_text("Do not put the animal in")
    opened(page, "finding-probe-far:main").get_by_role("button", name="Try it").click()
    expect(page.get_by_test_id("finding-probe-far:main")).to_have_count(0)
    settled(page)
    opened(page, f"check-{SURFACE}").get_by_role("button", name="Try it for Basking spot").first.click()
    expect(headline).to_have_text("Nothing fails, 1 of 13 checks uncertain")
    expect(page.get_by_test_id("summary")).to_contain_text("uncertain until measured: basking spot surface")
    for _ in range(2):
        page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(headline).to_have_text("2 of 14 checks need a change")


@pytest.mark.assessed
def test_intervals_come_by_themselves_and_name_what_is_unsure(page: Page) -> None:
    row = opened(page, f"check-{SURFACE}")
    expect(row.get_by_test_id("interval")).to_contain_text("% chance of being in range")
    expect(row.get_by_test_id("interval")).to_contain_text("the beam of Basking lamp")
    uvi = opened(page, "check-basking:uvi")
    expect(uvi.get_by_test_id("interval")).to_contain_text(re.compile(r"likely 3\.\d–5\.\d"))


def test_each_line_points_at_its_place(page: Page) -> None:
    expect(page.get_by_test_id("pointed")).to_have_count(0)
    page.get_by_test_id("finding-probe-far:main").hover()
    page.get_by_test_id("pointed").wait_for()
    ring = page.get_by_test_id("pointed").bounding_box()
    probe = page.get_by_test_id("move-probe-main").bounding_box()
    assert ring is not None
    assert probe is not None
    assert abs(ring["x"] + ring["width"] / 2 - probe["x"] - probe["width"] / 2) < 6
    page.get_by_test_id("check-warm-hide:uvi").hover()
    page.get_by_test_id("pointed").wait_for()
    hide = page.get_by_test_id("pointed").bounding_box()
    assert hide is not None
    assert hide["x"] + hide["width"] < ring["x"]
    page.get_by_test_id("headline").hover()
    expect(page.get_by_test_id("pointed")).to_have_count(0)


@pytest.mark.assessed
def test_a_hide_that_is_missing_is_added_by_its_fix(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/hermanns-tortoise")
    settled(page)
    missing = page.get_by_test_id("finding-no-hide:warm")
    expect(missing).to_contain_text("There is no hide at the warm end.")
    opened(page, "finding-no-hide:warm").get_by_role("button", name=re.compile("^Try it")).first.click()
    expect(missing).to_have_count(0)
    settled(page)
    expect(page.get_by_test_id("check-hide-1:uvi")).to_contain_text("Warm hide")
    saved(page)
    page.reload()
    settled(page)
    expect(page.get_by_test_id("check-hide-1:uvi")).to_be_visible()


def test_what_holds_over_time_in_one_table(page: Page) -> None:
    page.get_by_role("radio", name="All conditions").click()
    table = page.get_by_test_id("scenarios")
    expect(page.get_by_test_id("scenarios-summary")).to_contain_text("of 13 needs are always met")
    night = table.get_by_role("row", name=re.compile("^Night air"))
    expect(night).to_contain_text("sometimes")
    expect(night).to_contain_text("13.0 °C")
    page.get_by_role("button", name="Run the what-if tests as well").click()
    expect(table.get_by_role("row", name=re.compile("Power cut"))).to_be_visible()
    page.get_by_role("button", name="Stop").click()


def test_the_animal_is_changed_by_any_of_its_names(page: Page) -> None:
    page.get_by_role("tab", name="Animal").click()
    page.get_by_role("combobox", name="Change to").fill("bearded dragon")
    found = page.get_by_test_id("species-found")
    expect(found).to_contain_text("Several species are called")
    found.get_by_role("option", name=re.compile("Pogona vitticeps")).click()
    expect(page.get_by_role("heading", level=1).locator("xpath=..")).to_contain_text("Pogona vitticeps")
    settled(page)
    expect(page.get_by_test_id("check-basking:surface_temperature")).to_contain_text("needs 39.5–43.5 °C")
    page.get_by_label("Sources that differ").select_option("careful")
    settled(page)
    expect(page.get_by_test_id("check-basking:surface_temperature")).to_contain_text("needs 36–43 °C")
    page.get_by_label("Stage").select_option("young")
    settled(page)
    expect(page.get_by_test_id("check-night:air_temperature")).to_contain_text("needs 16–24 °C")
    for _ in range(3):
        page.locator("body").press("Control+z")
    settled(page)
    expect(page.get_by_test_id("check-basking:surface_temperature")).to_contain_text("needs 43–52 °C")


def test_sources_are_weighed_saved_and_reset_on_the_desk(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/species/crotaphytus-collaris")
    need = page.get_by_test_id("need-basking-surface_temperature")
    expect(need).to_have_text("43–52 °C")
    page.get_by_role("button", name="Edit its needs").click()
    page.get_by_role("button", name="Add a source for Basking spot, surface").click()
    second = page.get_by_role("group", name="Basking spot, surface: source 2")
    # Typed in the other unit.
    second.get_by_label("Upper limit", exact=True).fill("118 F")
    second.get_by_label("Upper limit", exact=True).press("Enter")
    expect(second.get_by_label("Upper limit", exact=True)).to_have_value("47.8")
    expect(need).to_have_text("43–47.8 °C")
    # A slip is refused before it does harm.
    second.get_by_label("Lower limit", exact=True).fill("430")
    second.get_by_label("Lower limit", exact=True).press("Enter")
    expect(second.get_by_role("alert")).to_contain_text("Allowed:")
    second.get_by_label("Lower limit", exact=True).press("Escape")
    page.get_by_role("button", name="Save your needs").click()
    page.get_by_role("button", name="Undo").click()
    expect(need).to_have_text("43–52 °C")
    page.get_by_role("button", name="Edit its needs").click()
    high = page.get_by_role("group", name="Basking spot, surface: source 1").get_by_label(
        "Upper limit", exact=True
    )
    high.fill("118 F")
    high.press("Enter")
    page.get_by_role("button", name="Save your needs").click()
    expect(page.get_by_text(re.compile("Your own needs for a shipped species"))).to_be_visible()
    page.get_by_role("link", name=re.compile("Collared lizard, timber enclosure")).click()
    settled(page)
    expect(page.get_by_test_id("check-basking:surface_temperature")).to_contain_text("needs 43–47.8 °C")
    page.goto("/species/crotaphytus-collaris")
    page.get_by_role("button", name="Back to the shipped needs").click()
    expect(page.get_by_test_id("need-basking-surface_temperature")).to_have_text("43–52 °C")


def test_a_claim_under_the_wrong_figure_is_moved(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/species/eublepharis-macularius")
    need = page.get_by_test_id("need-basking-surface_temperature")
    expect(need).to_have_text("31.5–35.5 °C")
    page.get_by_role("button", name="Edit its needs").click()
    first = page.get_by_role("group", name="Basking spot, surface: source 1")
    first.get_by_label("It is about").select_option("warm_end air_temperature ")
    expect(need).to_have_text("33–40 °C")
    expect(page.get_by_role("group", name="Warm end, probe reading: source 2")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    expect(need).to_have_text("31.5–35.5 °C")


def test_an_own_species_is_made_exported_and_brought_in_again(new_page: PageMaker, tmp_path: Path) -> None:
    page = new_page()
    page.goto("/species/agama-agama")
    page.get_by_role("button", name="Copy as my own species").click()
    name = page.get_by_label("Scientific name")
    name.fill("Agama millracensis")
    name.press("Enter")
    young = page.get_by_role("region", name="Young")
    young.get_by_label("Enclosure by its size").uncheck()
    young.get_by_label("Its enclosure, long").fill("24 in")
    young.get_by_label("Its enclosure, long").press("Enter")
    page.get_by_text("Climate at home, month by month").click()
    rain = page.get_by_label("July rain")
    rain.fill("much")
    rain.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("July rain: “much” is not between 0 and 2000 mm.")
    rain.fill("77")
    rain.press("Tab")
    page.get_by_label("July lowest by night").fill("70 F")
    page.get_by_label("July lowest by night").press("Tab")
    expect(page.get_by_label("July lowest by night")).to_have_value("21.1")
    assert violations(page) == []
    page.get_by_role("button", name="Save as your own").click()
    expect(page.get_by_text("Your own species, revision 1")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export").click()
    target = tmp_path / "own.species.json"
    download.value.save_as(target)
    own = json.loads(target.read_text())
    assert own["home"]["rain_mm"][6] == 77
    young_size = next(s["enclosure"] for s in own["stages"] if s["id"] == "young")
    assert young_size["length_m"] == pytest.approx(0.6096)
    page.get_by_role("button", name="Remove").click()
    expect(page.get_by_text("was removed").first).to_be_visible()
    page.goto("/species")
    page.get_by_test_id("species-file").set_input_files(target)
    expect(page.get_by_text("Your own species, revision 1")).to_be_visible()
    broken = tmp_path / "broken.json"
    broken.write_text("{", encoding="utf-8")
    page.get_by_test_id("species-file").set_input_files(broken)
    expect(page.get_by_text("broken.json cannot be read").first).to_be_visible()
