"""The lamp library, and lamps, lids and views of a plan, in a real browser."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, Watched, add, figure, opened, saved, settled, show
from tests.formats.test_measurement_files import COSINE, ies

TUBE = "T5 tube, strong, 85 cm, reflector"


def library(page: Page, query: str = "") -> Page:
    page.goto(f"/lamps{query}")
    page.get_by_test_id("curves").wait_for()
    return page


def test_the_question_of_distance_is_answered_bare_and_through_a_mesh(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/")
    page.get_by_role("link", name="Lamps").click()
    table = page.get_by_test_id("how-far")
    expect(table.get_by_role("row").nth(1)).to_contain_text(TUBE)
    bare = int(table.get_by_role("cell").nth(0).inner_text().split()[0])
    page.get_by_label("Seen through").select_option("fine-0.5-2.0")
    expect(table.get_by_role("columnheader")).to_have_count(4)
    through = table.get_by_role("cell").nth(1).inner_text()
    assert int(through.split()[0]) < bare
    expect(page).to_have_url(re.compile("screen=fine-0.5-2.0"))
    page.get_by_label("UV index wanted", exact=True).fill("1.5")
    page.get_by_label("UV index wanted", exact=True).press("Enter")
    expect(table.get_by_role("cell").nth(1)).not_to_have_text(through)


def test_lamps_side_by_side_and_the_lamp_for_a_place(new_page: PageMaker) -> None:
    page = library(new_page())
    enclosure = page.get_by_test_id("which-lamp")
    expect(enclosure.get_by_role("listitem").first).to_contain_text("UVI 2.")
    page.get_by_label("at a distance of", exact=True).fill("60")
    page.get_by_label("at a distance of", exact=True).press("Enter")
    expect(enclosure).to_contain_text("115 cm")
    page.get_by_role("button", name="show: T5 tube, strong, 115 cm, reflector").click()
    page.get_by_label("Mercury vapour flood, 100 W").check()
    expect(page.get_by_test_id("readings").get_by_role("row")).to_have_count(4)
    expect(page.get_by_label("Compact lamp, mild, 13 W")).to_be_disabled()
    page.get_by_role("radio", name="Heat and light").click()
    expect(page.get_by_role("img", name=re.compile("^Irradiance against distance"))).to_be_visible()
    # All of it is in the address, so going back and forth keeps it.
    page.reload()
    expect(page.get_by_test_id("readings").get_by_role("row")).to_have_count(4)


def test_own_lamp_fitted_to_readings_used_in_a_plan_removed_and_brought_back(new_page: PageMaker) -> None:
    page = library(new_page())
    page.get_by_role("button", name="Add my lamp").click()
    form = page.get_by_role("dialog")
    form.get_by_label("Name").fill("Bench tube")
    for number, (distance, uvi) in enumerate(((20, "9"), (40, "3.6")), start=1):
        form.get_by_role("button", name="Add a reading").click()
        form.get_by_label(f"Distance {number}", exact=True).fill(str(distance))
        form.get_by_label(f"UV index {number}", exact=True).fill(uvi)
        form.get_by_label(f"UV index {number}", exact=True).press("Enter")
    form.get_by_role("button", name="Fit the lamp to them").click()
    expect(form.get_by_test_id("fit-check")).to_contain_text("Lamp and readings agree")
    form.get_by_label("UV index 2", exact=True).fill("0.9")
    form.get_by_label("UV index 2", exact=True).press("Enter")
    form.get_by_role("button", name="Fit the lamp to them").click()
    expect(form.get_by_test_id("fit-check")).to_contain_text("No lamp of this kind gives these readings")
    form.get_by_label("UV index 2", exact=True).fill("3.6")
    form.get_by_label("UV index 2", exact=True).press("Enter")
    form.get_by_role("button", name="Fit the lamp to them").click()
    expect(form.get_by_test_id("fit-check")).to_contain_text("Lamp and readings agree")
    form.get_by_role("button", name="Add it to the library").click()
    expect(form).to_be_hidden()
    expect(page.get_by_role("group", name="Your own")).to_contain_text("Bench tube")
    expect(page.get_by_test_id("readings")).to_contain_text("Bench tube")

    page.goto("/plans/collared-lizard")
    settled(page)
    page.get_by_role("tab", name="UV tube").click()
    page.get_by_label("Lamp", exact=True).select_option(label="Bench tube")
    settled(page)
    saved(page)
    library(page)
    page.get_by_label("Bench tube").check()
    details = page.get_by_role("region", name="Bench tube")
    expect(details.get_by_role("link")).to_have_count(2)
    expect(details).to_contain_text("Collared lizard, timber enclosure by the race window as UV tube")
    details.get_by_role("button", name="Edit").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Old bench tube")
    page.get_by_role("dialog").get_by_role("button", name="Save").click()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("group", name="Your own")).not_to_contain_text("Old bench tube")
    page.get_by_role("region", name="Bench tube").get_by_role("button", name="Edit").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Old bench tube")
    page.get_by_role("dialog").get_by_role("button", name="Save").click()
    page.get_by_role("region", name="Old bench tube").get_by_role("button", name="Remove").click()
    expect(page.get_by_text("Plans that use it keep it.", exact=True)).to_be_visible()
    expect(page.get_by_role("group", name="Your own")).to_have_count(0)
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_role("group", name="Your own")).to_contain_text("Old bench tube")


def test_lamp_files_come_in_and_go_out(new_page: PageMaker, watched: Watched, tmp_path: Path) -> None:
    page = library(new_page())
    good, broken, spectrum = tmp_path / "bar.ies", tmp_path / "broken.ies", tmp_path / "lamp.csv"
    good.write_text(ies([0], [COSINE]))
    broken.write_text(ies([0], [COSINE], gamma="0 30 20 90"))
    # Energy at 270 nm, which no sun at the ground has.
    spectrum.write_text(
        "nm,W\n" + "\n".join(f"{nm},{1.0 if nm in (270, 310) else 0}" for nm in range(250, 401))
    )
    watched.forgive("422")
    page.get_by_test_id("lamp-file").set_input_files(broken)
    expect(page.get_by_text("broken.ies was not read", exact=True)).to_be_visible()
    expect(page.get_by_text("line 6, vertical angle: 20 does not rise above 30").first).to_be_visible()
    page.get_by_test_id("lamp-file").set_input_files(good)
    form = page.get_by_role("dialog")
    expect(form).to_contain_text("A light distribution has no information on UV")
    form.get_by_label("gives UVB").check()
    form.get_by_test_id("spectrum-file").set_input_files(spectrum)
    expect(form.get_by_test_id("spectrum-result")).to_contain_text("comes from below 290 nm")
    form.get_by_role("button", name="Add it to the library").click()
    details = page.get_by_role("region", name="Bench bar of the Millrace room")
    expect(details).to_contain_text("do not use it over animals")
    with page.expect_download() as download:
        details.get_by_role("link", name="Export").click()
    exported = json.loads(Path(download.value.path()).read_text(encoding="utf-8"))
    assert exported["geometry"]["shape"] == "table"
    assert exported["below_290_share"] > 0.3


def test_from_above_and_at_other_depths(page: Page) -> None:
    page.get_by_role("radio", name="Above").click()
    expect(page.get_by_test_id("stage-above")).to_contain_text("Basking spot")
    settled(page)
    before = figure(page, "basking:uvi")
    lamp = page.get_by_test_id("above-uv-tube")
    lamp.focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowUp")
    settled(page)
    assert figure(page, "basking:uvi") < before - 0.3
    page.keyboard.press("Control+z")
    page.get_by_role("radio", name="Front").click()
    expect(page.get_by_test_id("stage")).to_be_visible()
    shown = show(page)
    depth = shown.get_by_label("Section depth, from the front", exact=True)
    depth.fill("5")
    depth.press("Enter")
    settled(page)
    shown.get_by_role("button", name="At the basking spot").click()
    expect(depth).to_have_value("30")
    page.keyboard.press("Escape")
    expect(shown).to_have_count(0)
    page.get_by_role("radio", name="Visible light", exact=True).click()
    expect(page.get_by_role("figure", name="Visible light, lx on a level face")).to_be_visible()
    page.get_by_text("Light, place by place").click()
    expect(page.get_by_test_id("light-by-place")).to_contain_text("of the ground is free of UV")


def test_a_lamp_is_added_tilted_screened_and_removed(page: Page) -> None:
    add(page, "Lamp or heater")
    settled(page)
    expect(page.get_by_role("tab", name="Lamp 3")).to_have_attribute("aria-selected", "true")
    page.get_by_label("Screen below it").select_option("glass")
    expect(page.get_by_label("UV that passes it", exact=True)).to_have_value("0")
    page.get_by_label("Tilted", exact=True).fill("30")
    page.get_by_label("Tilted", exact=True).press("Enter")
    settled(page)
    saved(page)
    page.get_by_role("button", name="Remove this lamp").click()
    expect(page.get_by_role("tab", name="Lamp 3")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("tab", name="Lamp 3")).to_be_visible()


@pytest.mark.assessed
def test_the_fine_mesh_forgotten_is_found_and_corrected_on_the_lid(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/gargoyle-gecko")
    settled(page)
    expect(opened(page, "check-basking:uvi")).to_contain_text("the mesh stops 52 % of its UV")
    page.get_by_role("button", name="Try it for Basking spot").first.click()
    settled(page)
    expect(page.get_by_test_id("check-basking:uvi")).to_have_attribute("data-status", "ok")
    page.get_by_role("tab", name="Lid").click()
    page.get_by_role("button", name="Close part of it").click()
    settled(page)
    expect(page.get_by_label("Part 1 made of")).to_have_value("white-board")
    page.get_by_role("button", name="Remove part 1").click()
    expect(page.get_by_label("Part 1 made of")).to_have_count(0)
