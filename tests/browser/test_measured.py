"""What can be measured of every screen: targets, contrast, layout shift, nothing wider than the window."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import Page

from tests.browser.conftest import PageMaker
from tests.browser.test_accessibility import AXE
from tests.shared import MEASURED

pytestmark = pytest.mark.browser

PLAN = "/plans/collared-lizard"
SCREENS = (
    "/",
    "/today",
    "/logbook",
    "/lamps",
    "/species",
    "/practice",
    "/backups",
    "/register",
    "/compare",
    "/new",
    "/help",
    PLAN,
    f"{PLAN}/readings",
    f"{PLAN}/keeping",
    f"{PLAN}/design",
)
# What a pointer and a finger are given at least, px.
POINTER_PX, FINGER_PX = 24, 44
# Shifts of a hundredth are a line of text moved by a pixel or two.
MOST_SHIFT = 0.01

WATCH_SHIFTS = """window.shifts = 0;
new PerformanceObserver((list) => {
  for (const e of list.getEntries()) if (!e.hadRecentInput) window.shifts += e.value;
}).observe({ type: "layout-shift", buffered: true });"""

# All that is pressed, but for words within a text, whose size is that of the text.
# A box to tick is as large as its label.
SMALL = """(least) => {
  const pressed = "a[href], button, input:not([type=range]), select, textarea, [role=tab]";
  const withinText = (e) =>
    e.matches("a, button") &&
    getComputedStyle(e).display.startsWith("inline") &&
    [...e.parentElement.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
  return [...document.querySelectorAll(pressed)].flatMap((e) => {
    const style = getComputedStyle(e);
    const box = e.getBoundingClientRect();
    const hidden = style.visibility !== "visible" || style.opacity === "0" || e.closest(".sr-only, svg");
    if (hidden || box.width < 2 || box.height < 2 || e.matches(".in-text") || withinText(e)) return [];
    let { width, height } = box;
    for (const label of e.labels ?? []) {
      const beside = label.getBoundingClientRect();
      width = Math.max(width, beside.width);
      height = Math.max(height, beside.height);
    }
    if (width > least - 0.5 && height > least - 0.5) return [];
    const name = (e.getAttribute("aria-label") || e.textContent || e.name || e.tagName).trim();
    return [`${name.slice(0, 40)}: ${Math.round(width)} × ${Math.round(height)}`];
  });
}"""
CONTRAST = """axe.run(document, { runOnly: ["color-contrast"] })
  .then((r) => r.violations.flatMap((v) => v.nodes.map((n) => `${n.target}: ${n.any[0]?.message}`)))"""


def shown(page: Page, screen: str) -> None:
    """Open a screen and wait until it does not ask for anything more."""
    page.goto(screen)
    page.locator("main:not([aria-busy=true])").first.wait_for()
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(400)


@pytest.mark.parametrize(
    "theme", ["light", pytest.param("dark", marks=pytest.mark.thorough)], ids=["light", "dark"]
)
@pytest.mark.parametrize("by", ["pointer", "finger"])
def test_every_screen_by_pointer_and_by_finger(
    new_page: PageMaker, by: str, theme: str, record_property: Callable[[str, object], None]
) -> None:
    touch = by == "finger"
    size = (390, 844) if touch else (1280, 800)
    page = new_page(*size, has_touch=touch, is_mobile=touch, color_scheme=theme)
    page.add_init_script(WATCH_SHIFTS)
    worst, faults = (0.0, ""), []
    for screen in SCREENS:
        shown(page, screen)
        shift = page.evaluate("window.shifts")
        worst = max(worst, (shift, screen))
        faults += [f"{screen}: {s}" for s in page.evaluate(SMALL, FINGER_PX if touch else POINTER_PX)]
        page.evaluate(AXE)
        faults += [f"{screen}: {c}" for c in page.evaluate(CONTRAST)]
        if page.evaluate("document.documentElement.scrollWidth > innerWidth"):
            faults.append(f"{screen} is wider than the window")
    record_property(
        MEASURED, f"{len(SCREENS)} screens by {by}: layout shift at most {worst[0]:.3f} ({worst[1]})"
    )
    assert faults == []
    assert worst[0] < MOST_SHIFT, worst
