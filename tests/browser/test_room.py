"""The room: finding enclosures, copying them, putting them away and taking them back."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from noonshade.demo import DEMO_PLANS
from tests.browser.conftest import PageMaker, do, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser

NAME = "Collared lizard, timber enclosure by the race window"


@pytest.fixture
def room(new_page: PageMaker) -> Page:
    page = new_page()
    page.goto("/")
    expect(page.get_by_test_id("enclosures-found")).to_have_text(f"{len(DEMO_PLANS)} of {len(DEMO_PLANS)}")
    return page


def test_enclosures_are_found_by_animal_and_by_check(room: Page) -> None:
    search = room.get_by_label("Find an enclosure by name or animal")
    search.fill("furcifer")
    expect(room.get_by_test_id("enclosures-found")).to_have_text(f"1 of {len(DEMO_PLANS)}")
    expect(room.get_by_test_id("plan-panther-chameleon")).to_be_visible()
    search.fill("enclosure glass")
    expect(room.get_by_test_id("plan-gargoyle-gecko")).to_be_visible()
    search.fill("no such enclosure")
    room.get_by_role("button", name="Show all").click()
    expect(search).to_have_value("")
    expect(room.get_by_text("Checked: ")).to_have_count(0)
    room.get_by_role("radio", name="To change").click()
    expect(room.get_by_test_id("enclosures-found")).to_contain_text(f"of {len(DEMO_PLANS)}")
    cards = room.locator('a[data-testid^="plan-"]')
    expect(cards.first).to_contain_text("to change")
    change = cards.count()
    room.get_by_role("radio", name="Nothing fails").click()
    expect(room.get_by_test_id("enclosures-found")).to_contain_text(f"of {len(DEMO_PLANS)}")
    expect(cards).to_have_count(len(DEMO_PLANS) - change)
    for card in cards.all():
        expect(card).to_contain_text("nothing fails as computed")


def test_a_copy_is_a_separate_enclosure(room: Page) -> None:
    for name in (f"{NAME} (copy)", f"{NAME} (copy 2)"):
        do(room, "Duplicate", NAME)
        expect(room.get_by_role("heading", name=name, exact=True)).to_be_visible()
    room.get_by_role("heading", name=f"{NAME} (copy)", exact=True).click()
    settled(room)
    room.get_by_role("tab", name="Furnishings").click()
    room.get_by_test_id("move-warm-hide").focus()
    room.keyboard.press("Delete")
    room.locator('[data-testid="save-status"][data-state="saved"]').wait_for()
    room.goto("/plans/collared-lizard")
    settled(room)
    expect(room.get_by_test_id("move-warm-hide")).to_be_attached()


def test_the_archive_keeps_what_is_put_away(room: Page) -> None:
    do(room, "Archive", NAME)
    expect(room.get_by_test_id("plan-collared-lizard")).to_have_count(0)
    room.reload()
    room.get_by_role("radio", name="Archive").click()
    assert violations(room) == []
    search = room.get_by_label("Find an enclosure by name or animal")
    search.fill("furcifer")
    expect(room.get_by_text("Nothing in the archive matches")).to_be_visible()
    search.fill("crotaphytus window")
    room.get_by_role("button", name=f"Restore {NAME}").click()
    expect(room.get_by_text("Nothing is archived")).to_be_visible()
    room.get_by_role("radio", name="All", exact=True).click()
    expect(room.get_by_test_id("enclosures-found")).to_have_text(f"1 of {len(DEMO_PLANS)}")
    expect(room.get_by_test_id("plan-collared-lizard")).to_be_visible()
    assert violations(room) == []
