"""The enclosure in 3D: drawn, turned, cut by slices, selected in, saved; in words where it cannot be."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import PageMaker, Watched, layer, open_tab, settled
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser

# Reading pixels back stalls a graphics processor that is simulated; the browser warns of it.
READS_BACK = "GL Driver Message"
PICTURE = "() => document.querySelector('[data-testid=stage-space] canvas').toDataURL()"


@pytest.fixture
def space(new_page: PageMaker, watched: Watched) -> Page:
    watched.forgive(READS_BACK)
    page = new_page()
    page.goto("/plans/collared-lizard")
    settled(page)
    layer(page, "UV")
    page.get_by_role("radio", name="3D").click()
    page.locator("[data-testid=stage-space] canvas").wait_for()
    settled(page)
    page.wait_for_timeout(1500)
    return page


def colours(page: Page, path: Path) -> int:
    """How many colours a picture of the 3D view has."""
    page.locator("[data-testid=stage-space] canvas").screenshot(path=path)
    with Image.open(path) as picture:
        found = picture.convert("RGB").resize((200, 150)).getcolors(40_000)
    assert found is not None
    return len(found)


def test_it_is_drawn_turned_by_keys_and_cut_by_slices(space: Page, tmp_path: Path) -> None:
    assert colours(space, tmp_path / "uv.png") > 300
    before = space.evaluate(PICTURE)
    stage = space.get_by_test_id("stage-space")
    stage.focus()
    space.keyboard.press("ArrowLeft")
    space.wait_for_timeout(800)
    turned = space.evaluate(PICTURE)
    assert turned != before
    space.get_by_label("Upright slice", exact=True).uncheck()
    space.wait_for_timeout(800)
    assert space.evaluate(PICTURE) != turned
    space.get_by_label("Level slice", exact=True).check()
    place = space.get_by_role("slider", name="Level slice, place")
    place.focus()
    height = place.get_attribute("aria-valuetext")
    space.keyboard.press("ArrowRight")
    expect(place).not_to_have_attribute("aria-valuetext", height or "")
    settled(space)
    assert violations(space) == []


def test_what_is_clicked_is_selected_in_all_views(space: Page) -> None:
    open_tab(space, "Room")
    space.get_by_role("button", name="From above", exact=True).click()
    space.wait_for_timeout(800)
    stage = space.get_by_test_id("stage-space").bounding_box()
    assert stage is not None
    # Where the middle of the enclosure is there is but ground.
    space.mouse.click(stage["x"] + 0.5 * stage["width"], stage["y"] + 0.56 * stage["height"])
    expect(space.get_by_role("tab", name="Substrate")).to_have_attribute("aria-selected", "true")


def test_a_still_picture_is_saved(space: Page) -> None:
    with space.expect_download() as download:
        space.get_by_role("button", name="Save as a picture").click()
    assert download.value.suggested_filename == "collared-lizard-timber-enclosure-by-the-race-window-3d.png"
    with Image.open(download.value.path()) as picture:
        assert min(picture.size) > 300


def test_where_webgl_is_missing_words_say_so(new_page: PageMaker) -> None:
    page = new_page()
    page.add_init_script(
        "const get = HTMLCanvasElement.prototype.getContext;"
        "HTMLCanvasElement.prototype.getContext = function (kind, ...more) {"
        " return kind.startsWith('webgl') ? null : get.call(this, kind, ...more); };"
    )
    page.goto("/plans/collared-lizard")
    settled(page)
    page.get_by_role("radio", name="3D").click()
    expect(page.get_by_text("This browser cannot draw in 3D")).to_be_visible()
    page.get_by_role("radio", name="Front").click()
    expect(page.get_by_test_id("stage")).to_be_visible()


def test_a_picture_goes_into_the_report_and_out_of_it(space: Page) -> None:
    space.get_by_role("button", name="Put into the report").click()
    expect(space.get_by_text("The report shows this picture").first).to_be_visible()
    url = "/api/plans/collared-lizard"
    with Image.open(io.BytesIO(space.request.get(f"{url}/picture").body())) as picture:
        assert picture.format == "JPEG"
        found = picture.convert("RGB").resize((200, 150)).getcolors(40_000)
    assert found is not None
    assert len(found) > 300
    assert "The enclosure in 3D" in space.request.get(f"{url}/report").text()
    space.get_by_role("button", name="Remove it", exact=True).click()
    expect(space.get_by_text("The report has no picture in 3D").first).to_be_visible()
    assert space.request.get(f"{url}/picture").status == 404
