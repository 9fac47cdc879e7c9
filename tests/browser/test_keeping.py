"""A growing animal and its next enclosure, company and a spare, and a new arrival until its release."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Demo, PageMaker
from tests.browser.test_accessibility import violations
from tests.browser.test_today import animal_in

pytestmark = pytest.mark.browser

BOX = "collared-lizard"


def changed(page: Page, demo: Demo, **values: Any) -> None:
    """The enclosure with another animal in its plan, and its year stopped before it is checked."""
    plan = page.request.get(f"/api/plans/{BOX}").json()
    document = plan["document"]
    document["animal"] |= values
    # Without months of the room nothing is checked, which is not what is looked at here.
    document["room"] |= {"months": [], "follows": False}
    page.request.put(
        f"/api/plans/{BOX}",
        headers={"Origin": demo.url},
        data={"document": document, "base_revision": plan["revision"], "summary": "Changed"},
    )


def test_a_young_one_grows_out_of_its_enclosure_and_into_the_next(new_page: PageMaker, demo: Demo) -> None:
    page = new_page()
    changed(page, demo, stage="young", body_length_m=0.045, back_height_m=0.013, count=5)
    page.goto(f"/plans/{BOX}/keeping")
    growth, company = page.get_by_test_id("growth"), page.get_by_test_id("cohabitation")
    expect(growth).to_contain_text("4.5 cm long, by the length in the plan")
    expect(company).to_contain_text("5 animals together")
    expect(company).to_contain_text("for 5")
    expect(company).to_contain_text("No spare enclosure is ready")
    expect(page.get_by_test_id("year")).to_contain_text("set the climate of the room")
    assert violations(page) == []
    company.get_by_role("button", name="Make a spare like this one").click()
    expect(company.get_by_role("link", name="Spare for Collared lizard")).to_be_visible()
    expect(company).not_to_contain_text("No spare enclosure is ready")

    growth.get_by_role("link", name="Design the next enclosure").click()
    expect(page.get_by_test_id("chosen-species")).to_contain_text("Crotaphytus collaris")
    expect(page.get_by_label("Stage")).to_have_value("adult")
    expect(page.get_by_label("Name of the plan")).to_have_value(re.compile("grown$"))


def test_a_new_arrival_is_settled_and_let_into_the_room(new_page: PageMaker, demo: Demo) -> None:
    page = new_page(width=390, height=844, color_scheme="dark")
    animal_in(demo, page)
    changed(page, demo)
    page.goto(f"/plans/{BOX}/keeping")
    arrivals = page.get_by_test_id("arrivals")
    arrivals.get_by_label("Days in quarantine").fill("30")
    arrivals.get_by_label("Days in quarantine").press("Tab")
    arrivals.get_by_role("button", name="Begin quarantine").click()
    step = arrivals.get_by_role("button", name="Done: Look it over before it goes in")
    step.click()
    expect(arrivals.get_by_role("button", name="Not done: Look it over")).to_have_attribute(
        "aria-pressed", "true"
    )
    expect(page.get_by_test_id("cohabitation").get_by_role("radio", name="Quarantine")).to_be_checked()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    arrivals.get_by_label("What was found").fill("Clean, eats")
    arrivals.get_by_role("button", name="Let it into the room").click()
    expect(arrivals).to_contain_text("was let into the room")
    expect(page.get_by_test_id("cohabitation").get_by_role("radio", name="A home")).to_be_checked()
    page.goto("/logbook?animal=ember")
    expect(page.get_by_role("region", name="Entries")).to_contain_text("Clean, eats")
