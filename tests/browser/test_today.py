"""The day's round on a phone, and the tasks behind it."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Demo, PageMaker, stored_slowly
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser

BOX = "today-collared-lizard"


def animal_in(demo: Demo, page: Page) -> None:
    page.request.put(
        "/api/animals",
        headers={"Origin": demo.url},
        data={
            "id": "ember",
            "name": "Ember",
            "plan_id": "collared-lizard",
            "species_id": "crotaphytus-collaris",
        },
    )


def test_the_tasks_of_a_day_from_first_to_last_on_a_phone(new_page: PageMaker, demo: Demo) -> None:
    page = new_page(width=390, height=844)
    # What takes a mark back is often quicker than the mark; it may not overtake it.
    stored_slowly(page, "/marks")
    animal_in(demo, page)
    page.goto("/today")
    expect(page.get_by_text("No tasks yet")).to_be_visible()
    page.get_by_role("button", name="Set up the usual tasks").click()
    enclosure = page.get_by_test_id(BOX)
    water = enclosure.get_by_role("button", name="Done: Offer water")
    expect(water).to_be_visible()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")

    water.click()
    expect(enclosure.get_by_role("list", name="Done")).to_contain_text("✓ Offer water")
    page.get_by_role("button", name="Undo").click()
    expect(water).to_be_visible()
    # Skipped with a reason, and taken back in the list.
    enclosure.get_by_role("button", name="Offer water", exact=True).click()
    enclosure.get_by_role("button", name="no time").click()
    expect(enclosure).to_contain_text("skipped: no time")
    enclosure.get_by_role("button", name="Not skipped: Offer water").click()
    expect(water).to_be_visible()
    water.click()

    # A day on, what was left open is listed; feeding writes the meal down.
    page.get_by_role("button", name="The day after").click()
    page.get_by_role("button", name="The day after").click()
    page.get_by_role("button", name="The day after").click()
    expect(enclosure).to_contain_text("missed")
    meal = enclosure.get_by_role("button", name="Refused: Feed insects")
    meal.click()
    done = page.locator("li", has_text="Feed insects: done")
    done.wait_for()
    expect(enclosure.get_by_role("list", name="Done")).to_contain_text("✓ Feed insects")
    entries = page.request.get("/api/logbook?animal=ember").json()["entries"]
    assert [(e["entry"]["kind"], e["entry"]["outcome"]) for e in entries] == [("meal", "refused")]
    done.get_by_role("button", name="Undo").click()
    expect(meal).to_be_visible()
    page.wait_for_load_state("networkidle")
    assert page.request.get("/api/logbook?animal=ember").json()["total"] == 0


def test_weighing_writes_the_weight_and_a_task_is_changed(new_page: PageMaker, demo: Demo) -> None:
    page = new_page(color_scheme="dark")
    animal_in(demo, page)
    page.goto("/plans/collared-lizard/keeping")
    tasks = page.get_by_test_id("tasks")
    tasks.get_by_role("button", name="Add it: Weigh").click()
    tasks.get_by_role("button", name="Change: Weigh").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Every how many weeks").fill("1")
    dialog.get_by_label("Every how many weeks").press("Tab")
    for day in ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"):
        dialog.get_by_role("checkbox", name=day).check(force=True)
    first = page.evaluate("new Date(Date.now() - 8*864e5).toISOString().slice(0, 10)")
    dialog.get_by_label("First on").fill(first)
    assert violations(page) == []
    dialog.get_by_role("button", name="Change it").click()
    expect(tasks).to_contain_text("every week on Monday, Tuesday")
    expect(tasks).to_contain_text("overdue since")
    # It is different from usual now, and can be as usual again.
    expect(tasks.get_by_role("button", name="As usual: Weigh")).to_be_visible()
    assert violations(page) == []

    page.goto("/today")
    page.get_by_label("Ember, g").fill("x")
    page.get_by_role("button", name="Weighed").click()
    expect(page.get_by_role("alert")).to_contain_text("Type a weight")
    page.get_by_label("Ember, g").fill("41.5")
    page.get_by_role("button", name="Weighed").click()
    expect(page.get_by_test_id("today-state")).to_contain_text("All done")
    page.goto("/logbook?animal=ember")
    expect(page.get_by_role("region", name="Entries")).to_contain_text("41.5 g")

    page.goto("/plans/collared-lizard/keeping")
    tasks.get_by_role("button", name="Change: Weigh").click()
    dialog.get_by_role("button", name="Delete").click()
    expect(tasks).to_contain_text("None yet")
    page.get_by_role("button", name="Put it back").click()
    expect(tasks.get_by_role("button", name="Change: Weigh")).to_be_visible()
