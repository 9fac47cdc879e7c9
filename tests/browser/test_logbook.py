"""The logbook from the first animal to a photograph found again, and everything gone back to."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Demo, PageMaker, Watched
from tests.browser.test_accessibility import violations
from tests.web.pictures import jpeg

pytestmark = pytest.mark.browser


def kind(page: Page, name: str) -> None:
    page.get_by_test_id("new-entry").get_by_text(name, exact=True).click()


def write(page: Page) -> None:
    page.get_by_role("button", name="Write it down").click()


def test_an_animal_is_weighed_fed_photographed_and_found_again(new_page: PageMaker, tmp_path: Path) -> None:
    page = new_page()
    page.goto("/logbook")
    expect(page.get_by_text("Here your entries will be")).to_be_visible()
    page.get_by_role("button", name="Add one").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("Ember")
    dialog.get_by_label("Lives in").select_option(
        label="Collared lizard, timber enclosure by the race window"
    )
    dialog.get_by_role("button", name="Add it").click()
    page.get_by_role("button", name="Ember").click()
    expect(page.get_by_test_id("timeline")).to_be_visible()

    kind(page, "Weight")
    page.get_by_label("Weight in g").fill("abc")
    write(page)
    expect(page.get_by_role("alert")).to_contain_text("Type a weight from")
    page.get_by_label("Weight in g").fill("1.5 oz")
    write(page)
    expect(page.get_by_text("42.5 g").first).to_be_visible()

    kind(page, "Meal")
    page.get_by_label("Food").fill("5 crickets")
    write(page)
    expect(page.get_by_role("alert")).to_contain_text("Was it eaten?")
    page.get_by_role("radio", name="Refused").click()
    picture = tmp_path / "lizard.jpg"
    picture.write_bytes(jpeg(300, 200))
    page.get_by_test_id("photo-file").set_input_files(picture)
    write(page)
    expect(page.get_by_text("5 crickets: refused")).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="2 entries")).to_be_visible()

    # Found by a word, changed, taken out and put back.
    page.get_by_label("Find entries").fill("crick")
    expect(page.get_by_test_id("entries-found")).to_have_text("1 entry")
    page.get_by_role("button", name="Change this entry").click()
    form = page.get_by_test_id("edit-entry")
    form.get_by_label("Anything to add").fill("Hid at once")
    form.get_by_role("button", name="Change it").click()
    expect(page.get_by_text("Hid at once", exact=True)).to_be_visible()
    page.get_by_role("button", name="Photograph 1").click()
    expect(page.get_by_role("dialog").get_by_role("img")).to_be_visible()
    page.get_by_role("dialog").get_by_role("button", name="Delete this photograph").click()
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("button", name="Photograph 1")).to_be_visible()
    page.get_by_role("button", name="Delete this entry").click()
    expect(page.get_by_text("No entry matches")).to_be_visible()
    page.get_by_role("button", name="Put it back").last.click()
    expect(page.get_by_text("Hid at once", exact=True)).to_be_visible()

    # What was changed before it, on the line of time.
    page.get_by_role("button", name="The one before").click()
    expect(page.get_by_test_id("timeline")).to_contain_text("Before it")
    page.get_by_role("button", name="What was written that day").click()
    expect(page).to_have_url(re.compile("since="))
    assert violations(page) == []


def test_the_logbook_on_a_phone_in_the_dark(new_page: PageMaker) -> None:
    page = new_page(width=390, height=844, color_scheme="dark")
    page.goto("/logbook?enclosure=collared-lizard")
    page.get_by_test_id("timeline").wait_for()
    kind(page, "Illness")
    expect(page.get_by_text("a veterinarian with reptile experience")).to_be_visible()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_backup_is_made_and_restored_and_a_damaged_one_is_refused(
    new_page: PageMaker, demo: Demo, watched: Watched, tmp_path: Path
) -> None:
    watched.forgive("422")
    page = new_page()
    page.goto("/backups")
    expect(page.get_by_test_id("last-backup")).to_have_text("No backup yet")
    page.get_by_role("button", name="Back up now").click()
    expect(page.get_by_test_id("checked")).to_contain_text("complete: 8 enclosures")
    expect(page.get_by_test_id("last-backup")).to_have_text("Backed up today")
    assert violations(page) == []
    with page.expect_download() as download:
        page.get_by_role("link", name="Download the backup").click()
    backup = tmp_path / "backup.zip"
    download.value.save_as(backup)

    page.request.delete("/api/plans/corn-snake", headers={"Origin": demo.url})
    page.get_by_test_id("restore-file").set_input_files(backup)
    dialog = page.get_by_role("alertdialog")
    expect(dialog).to_contain_text("Restore the backup “backup.zip”?")
    dialog.get_by_role("button", name="Restore").click()
    expect(page.get_by_text("Everything is as in the backup")).to_be_visible()
    assert page.request.get("/api/plans/corn-snake").ok

    damaged = tmp_path / "damaged.zip"
    damaged.write_bytes(backup.read_bytes()[:-3000])
    page.get_by_test_id("restore-file").set_input_files(damaged)
    dialog.get_by_role("button", name="Restore").click()
    expect(page.get_by_text("The backup cannot be used", exact=True)).to_be_visible()
    page.get_by_role("radio", name="Every week").click()
    page.reload()
    expect(page.get_by_role("radio", name="Every week")).to_be_checked()
