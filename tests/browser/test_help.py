"""Help: the way to go about it, the words, and words explained where they are used."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, opened
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser


@pytest.mark.parametrize("size", [(1280, 800), (390, 844)])
def test_words_are_found_in_the_help(new_page: PageMaker, size: tuple[int, int]) -> None:
    page = new_page(*size)
    page.goto("/help")
    expect(page.get_by_role("heading", name="Help")).to_be_visible()
    assert violations(page) == []
    words = page.get_by_role("region", name="Words", exact=True)
    expect(words.get_by_text("Basking spot", exact=True)).to_be_visible()
    page.get_by_label("Find a word").fill("thermostat probe")
    expect(words.get_by_text("Set point", exact=True)).to_be_visible()
    expect(words.get_by_text("Basking spot", exact=True)).to_have_count(0)
    page.get_by_label("Find a word").fill("nothing like it")
    expect(page.get_by_text("No word matches")).to_be_visible()


def test_a_word_is_explained_where_it_is_used(page: Page) -> None:
    opened(page, "check-basking:uvi")
    row = page.get_by_test_id("check-basking:uvi")
    row.get_by_role("button", name="UV index", exact=True).click()
    word = page.get_by_role("dialog")
    expect(word).to_contain_text("How strongly UV acts on skin")
    assert violations(page) == []
    word.get_by_role("link", name="All words").click()
    expect(page).to_have_url(re.compile("/help#uv-index$"))
    expect(page.locator("#uv-index")).to_be_in_viewport()
