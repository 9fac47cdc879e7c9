"""axe on every screen and state, phone width, and the page's own limits."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ROOT, PageMaker, opened, pane, settled

pytestmark = pytest.mark.browser

AXE = (ROOT / "frontend/node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]


# The same screens on a phone in the dark are looked at when all tests are asked for.
DESK_AND_PHONE = [("light", 1280), pytest.param("dark", 390, marks=pytest.mark.thorough)]


# Whether the page itself, not a pane of it, can be scrolled.
PAGE_SCROLLS = """() => {
  const all = document.documentElement;
  return all.scrollWidth > innerWidth || all.scrollHeight > innerHeight;
}"""


def violations(page: Page) -> list[str]:
    """What axe finds, one line each, once the main part of the screen is shown."""
    page.locator("main[aria-busy=true]").wait_for(state="detached")
    page.evaluate(AXE)
    found = page.evaluate(
        "tags => axe.run(document, {runOnly: {type: 'tag', values: tags}})"
        ".then(r => r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.target + ' '"
        " + n.failureSummary).join(' | ')))",
        TAGS,
    )
    return list(found)


@pytest.mark.assessed
@pytest.mark.parametrize("theme", ["light", pytest.param("dark", marks=pytest.mark.thorough)])
def test_plan_screen_is_clean(new_page: PageMaker, theme: str) -> None:
    page = new_page(color_scheme=theme)
    page.goto("/plans/collared-lizard")
    settled(page)
    opened(page, "check-basking:surface_temperature")
    expect(page.get_by_test_id("fix").first).to_be_visible()
    # The forms are the same in the dark; their colours are seen in two of them.
    tabs = ("Basking lamp", "UV tube", "Thermostat", "Animal", "Enclosure", "Lid", "Substrate", "Room")
    for tab in tabs if theme == "light" else ("Thermostat", "Room"):
        page.get_by_role("tab", name=tab).click()
        assert violations(page) == [], tab
    page.get_by_role("radio", name="Air", exact=True).click()
    assert violations(page) == []
    page.get_by_role("radio", name="Above").click()
    page.get_by_test_id("stage-above").wait_for()
    page.get_by_text("Light, place by place").click()
    assert violations(page) == []


@pytest.mark.parametrize(("theme", "width"), DESK_AND_PHONE)
def test_lamp_library_is_clean(new_page: PageMaker, theme: str, width: int) -> None:
    page = new_page(color_scheme=theme, width=width)
    page.goto("/lamps?lamps=t5-strong-85,ceramic-heater&screen=fine-0.5-2.0")
    page.get_by_test_id("curves").wait_for()
    page.get_by_test_id("which-lamp").get_by_role("listitem").first.wait_for()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("button", name="Add my lamp").click()
    page.get_by_role("button", name="Add a reading").click()
    assert violations(page) == []


@pytest.mark.parametrize(("theme", "width"), DESK_AND_PHONE)
def test_species_desk_is_clean(new_page: PageMaker, theme: str, width: int) -> None:
    page = new_page(color_scheme=theme, width=width)
    page.goto("/species/pogona-vitticeps")
    page.get_by_test_id("species-sheet").wait_for()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_label("Find a species").fill("green tree frog")
    page.get_by_text("Which is it?").wait_for()
    page.get_by_role("button", name="Edit its needs").click()
    page.get_by_label("Lower limit").first.wait_for()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_all_conditions_are_clean(new_page: PageMaker) -> None:
    page = new_page(color_scheme="dark")
    page.goto("/plans/collared-lizard")
    settled(page)
    page.get_by_role("radio", name="All conditions").click()
    page.get_by_test_id("scenarios-summary").wait_for()
    assert violations(page) == []


@pytest.mark.parametrize("theme", ["light", pytest.param("dark", marks=pytest.mark.thorough)])
def test_room_and_dialogs_are_clean(new_page: PageMaker, theme: str) -> None:
    page = new_page(color_scheme=theme)
    page.goto("/")
    expect(page.get_by_text("2 to change").first).to_be_visible()
    assert violations(page) == []
    page.goto("/plans/collared-lizard")
    settled(page)
    page.get_by_role("button", name="Revisions", exact=True).click()
    expect(page.get_by_role("dialog")).to_contain_text("Demo plan")
    assert violations(page) == []


def test_on_a_phone_each_pane_fits_and_the_headline_is_above_the_drawing(new_page: PageMaker) -> None:
    page = new_page(390, 844)
    page.goto("/plans/collared-lizard")
    settled(page)
    width = page.evaluate("document.documentElement.scrollWidth")
    assert width <= 390
    headline = page.get_by_test_id("headline").bounding_box()
    assert headline is not None
    assert headline["y"] < 200
    for name in ("Drawing", "Checks", "Settings", "Day, year"):
        pane(page, name)
        page.wait_for_timeout(300)
        assert page.evaluate(PAGE_SCROLLS) is False, name
        assert violations(page) == [], name


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1920, 1080)])
def test_the_drawing_takes_most_of_the_window_and_the_page_does_not_scroll(
    new_page: PageMaker, width: int, height: int
) -> None:
    page = new_page(width, height)
    page.goto("/plans/panther-chameleon")
    settled(page)
    assert page.evaluate(PAGE_SCROLLS) is False
    drawing = page.get_by_role("region", name="Drawing").bounding_box()
    assert drawing is not None
    assert drawing["height"] >= 0.6 * height
    assert drawing["width"] >= (0.6 if width == 1280 else 0.5) * width
    for name in ("Checks", "Settings"):
        box = page.get_by_role("region", name=name, exact=True).bounding_box()
        assert box is not None
        assert box["y"] + box["height"] <= height
    # In a tall cage the stage is as high as its pane, not as some fixed share of the window.
    stage = page.get_by_test_id("stage").bounding_box()
    assert stage is not None
    assert stage["height"] > 0.7 * drawing["height"]


def test_panes_are_resized_by_keys_and_stay_so(page: Page) -> None:
    divider = page.get_by_role("separator", name="Width of checks and settings")
    before = page.get_by_role("region", name="Checks", exact=True).bounding_box()
    divider.focus()
    page.keyboard.press("ArrowLeft")
    after = page.get_by_role("region", name="Checks", exact=True).bounding_box()
    assert before is not None
    assert after is not None
    assert after["width"] > before["width"] + 40
    page.wait_for_timeout(300)
    page.reload()
    settled(page)
    again = page.get_by_role("region", name="Checks", exact=True).bounding_box()
    assert again is not None
    assert again["width"] == pytest.approx(after["width"], abs=2)


def test_focus_goes_through_the_page_in_order(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/plans/collared-lizard")
    settled(page)
    seen = []
    for _ in range(38):
        page.keyboard.press("Tab")
        seen.append(
            page.evaluate(
                "document.activeElement.getAttribute('data-testid') || document.activeElement.tagName"
            )
        )
    movables = [name for name in seen if name.startswith(("move-", "stretch-"))]
    # What stands in the enclosure, with the edges of the selected thing; then the ground, lamps and probe.
    assert movables == [
        "move-basking-slab",
        "move-warm-hide",
        "move-cool-hide",
        "stretch-cool-hide-left-edge",
        "stretch-cool-hide-right-edge",
        "stretch-cool-hide-top",
        "move-vent-0",
        "move-vent-1",
        "move-substrate",
        "move-basking-lamp",
        "move-uv-tube",
        "move-probe-main",
    ]


def test_nothing_comes_from_elsewhere(new_page: PageMaker) -> None:
    page = new_page()
    hosts: set[str] = set()
    page.on("request", lambda request: hosts.add(request.url.split("/")[2].split(":")[0]))
    page.goto("/plans/collared-lizard")
    settled(page)
    assert hosts == {"127.0.0.1"}


def test_first_load_of_script_is_small() -> None:
    import gzip

    dist = Path(ROOT) / "noonshade/web/static"
    # What the page names; the rest is fetched when its screen is opened.
    names = re.findall(r"/assets/[^\"]+\.js", (dist / "index.html").read_text(encoding="utf-8"))
    assert names
    size = sum(len(gzip.compress((dist / name[1:]).read_bytes())) for name in names)
    assert size < 250_000


# Shifts of what is shown without the keeper's doing, by the browser's own measure.
SHIFTS = """window.shifted = 0;
new PerformanceObserver((list) => {
  for (const one of list.getEntries()) if (!one.hadRecentInput) window.shifted += one.value;
}).observe({ type: 'layout-shift', buffered: true });"""


def test_nothing_jumps_while_a_plan_opens(new_page: PageMaker) -> None:
    page = new_page()
    page.add_init_script(SHIFTS)
    page.goto("/plans/collared-lizard")
    settled(page)
    page.wait_for_timeout(1500)
    # Lines of text that get longer as chances come are all that moves.
    assert page.evaluate("window.shifted") < 0.01
