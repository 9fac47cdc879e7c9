"""The year of an enclosure: stored, changed, checked by month, fixed, printed and exported."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, saved
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser


# Months other tests have asked for are there at once; looking for them is to be stopped here.
SLOW_MONTHS = """const straight = window.fetch;
window.fetch = async (request, ...rest) => {
  if (request.url?.endsWith("/api/year/month")) await new Promise((go) => setTimeout(go, 700));
  return straight(request, ...rest);
};"""


def opened(page: Page) -> None:
    page.add_init_script(SLOW_MONTHS)
    page.goto("/plans/collared-lizard/keeping")
    page.get_by_test_id("year-picture").wait_for()


def test_a_year_is_stored_checked_corrected_and_printed_on_a_card(new_page: PageMaker) -> None:
    page = new_page()
    opened(page)
    year, week = page.get_by_test_id("year"), page.get_by_test_id("week")
    expect(page.get_by_test_id("limit-rest_too_warm")).to_contain_text("December to February")
    months = page.get_by_test_id("months")
    take = months.get_by_role("button", name="Apply it for April")
    take.wait_for()
    months.get_by_role("button", name="Stop").click()
    assert violations(page) == []
    year.get_by_role("button", name="Save this year").click()
    saved(page)

    # No rest, and one fix taken: it is in the plan, and undone by undo.
    year.get_by_text("How it follows the seasons").click()
    year.get_by_label("A winter rest").uncheck()
    expect(page.get_by_test_id("limit-rest_too_warm")).to_have_count(0)
    months.get_by_role("button", name="Go on").click()
    take.click()
    months.get_by_role("button", name="Stop").click()
    saved(page)
    document = page.request.get("/api/plans/collared-lizard").json()["document"]
    assert {w["week"] for w in document["year"]["weeks"]} <= set(range(13, 19))
    assert document["year"]["brumation"] is None
    page.get_by_role("button", name="Undo").click()
    saved(page)
    assert page.request.get("/api/plans/collared-lizard").json()["document"]["year"]["weeks"] == []

    # One week by hand, and as computed again.
    slider = page.get_by_role("slider", name="Week of the year")
    slider.press("Home")
    expect(week).to_contain_text("Week from January 1")
    slider.press("PageUp")
    week.get_by_label("Lamps on, a day").fill("9")
    week.get_by_label("Lamps on, a day").press("Enter")
    expect(week).to_contain_text("lamps 07:30 to 16:30")
    week.get_by_role("button", name="As computed").click()
    expect(week.get_by_role("button", name="As computed")).to_have_count(0)
    saved(page)

    outputs = page.get_by_test_id("year-outputs")
    card = outputs.get_by_role("link", name="Card for").first.get_attribute("href")
    with page.expect_download() as download:
        outputs.get_by_role("link", name="Calendar file").click()
    assert download.value.suggested_filename.endswith("-calendar.ics")
    outputs.get_by_text("Follow the whole room").click()
    outputs.get_by_role("button", name="Make an address").click()
    address = outputs.get_by_label("Address to subscribe to").input_value()
    assert page.request.get(address).text().startswith("BEGIN:VCALENDAR")
    assert card is not None
    page.goto(card)
    expect(page.get_by_role("heading")).to_contain_text("timers and thermostats")
    assert violations(page) == []


def test_the_year_on_a_phone_in_the_dark(new_page: PageMaker) -> None:
    page = new_page(width=390, height=844, color_scheme="dark")
    opened(page)
    page.get_by_test_id("months").get_by_role("button", name="Stop").click()
    expect(page.get_by_test_id("months").get_by_role("button", name="Go on")).to_be_visible()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
