"""Make the pictures in docs/screenshots from the demo data."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, Page, expect, sync_playwright

from noonshade.core.uncertainty.multipliers import multipliers_of, with_multipliers
from noonshade.instruments.meters import drawn_kit
from noonshade.instruments.true_enclosure import TrueEnclosure

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.browser.conftest import NO_TOUR, launched, settled  # noqa: E402
from tests.builders import shipped_plan  # noqa: E402

PORT = 8644
URL = f"http://127.0.0.1:{PORT}"
OUT = ROOT / "docs" / "screenshots"


# Narrower than this it is a phone, with a finger.
PHONE_PX = 500


def blank(browser: Browser, width: int, height: int, theme: str = "light") -> Page:
    """An empty page of someone who has been here before."""
    is_phone = width < PHONE_PX
    page = browser.new_page(
        viewport={"width": width, "height": height},
        color_scheme=theme,  # type: ignore[arg-type]
        has_touch=is_phone,
        is_mobile=is_phone,
    )
    page.add_init_script(NO_TOUR)
    return page


def opened(browser: Browser, width: int, height: int, theme: str, path: str) -> Page:
    """A page of the demo, ready."""
    page = blank(browser, width, height, theme)
    page.goto(URL + path)
    if path != "/":
        assessed(page)
    return page


def assessed(page: Page) -> None:
    """Wait until intervals are there and fixes have been searched."""
    settled(page)
    # The search begins when the figures have been at rest for a moment.
    page.wait_for_timeout(1500)
    page.get_by_test_id("search-progress").wait_for(state="detached", timeout=90_000)


def pictures(browser: Browser) -> None:
    """One picture of each main view."""
    plan = "/plans/collared-lizard"
    page = opened(browser, 1280, 800, "light", "/")
    page.get_by_test_id("enclosures-found").wait_for()
    expect(page.get_by_text("Computing…")).to_have_count(0, timeout=60_000)
    expect(page.get_by_test_id("year")).to_have_count(8, timeout=120_000)
    page.screenshot(path=OUT / "room.png")
    page = blank(browser, 1280, 1000)
    page.goto(f"{URL}/new")
    page.get_by_label("Species, by any of its names").fill("furcifer pardalis")
    page.get_by_role("option", name="Furcifer pardalis").click()
    page.get_by_text("the same room").wait_for()
    page.get_by_role("button", name="Find set-ups").click()
    page.get_by_test_id("set-ups").wait_for(timeout=180_000)
    page.screenshot(path=OUT / "new-plan.png")
    page = opened(browser, 1280, 800, "light", plan)
    page.get_by_role("radio", name="UV", exact=True).click()
    page.screenshot(path=OUT / "plan-uv.png")
    page = opened(browser, 1280, 800, "dark", plan)
    page.get_by_role("radio", name="3D").click()
    page.locator("[data-testid=stage-space] canvas").wait_for()
    settled(page)
    page.wait_for_timeout(3000)
    page.screenshot(path=OUT / "plan-space.png")
    page = opened(browser, 390, 844, "light", plan)
    page.screenshot(path=OUT / "plan-phone.png")
    page = opened(browser, 1280, 900, "light", plan)
    page.get_by_role("radio", name="Air", exact=True).click()
    page.get_by_role("radio", name="The day").click()
    page.locator('[data-testid="day"][data-pending="false"] [data-testid="day-chart"]').wait_for()
    page.get_by_text("At 13:00").wait_for()
    page.screenshot(path=OUT / "day.png")
    page = opened(browser, 1280, 900, "light", plan)
    page.get_by_role("radio", name="All conditions").click()
    page.get_by_test_id("scenarios-summary").wait_for()
    page.screenshot(path=OUT / "scenarios.png")
    page = blank(browser, 1280, 1100)
    page.goto(f"{URL}/species/pogona-vitticeps")
    page.get_by_test_id("species-sheet").wait_for()
    page.screenshot(path=OUT / "species.png")
    page = blank(browser, 1280, 900)
    page.goto(f"{URL}/plans/gargoyle-gecko")
    settled(page)
    page.get_by_role("radio", name="What if").click()
    page.get_by_text("each over a day and a night").wait_for(timeout=60_000)
    page.locator('[data-testid="what-if"] summary').first.click()
    page.screenshot(path=OUT / "what-if.png")
    page = blank(browser, 1280, 800)
    page.goto(f"{URL}/plans/whites-tree-frog")
    settled(page)
    page.get_by_role("radio", name="Above").click()
    page.get_by_test_id("stage-above").wait_for()
    assessed(page)
    page.screenshot(path=OUT / "plan-above.png")
    page = blank(browser, 900, 1270)
    page.goto(f"{URL}/api/plans/gargoyle-gecko/report")
    page.screenshot(path=OUT / "report.png")
    page = blank(browser, 1280, 1500)
    page.goto(f"{URL}/lamps?lamps=t5-strong-85,mercury-flood-100&screen=fine-0.5-2.0")
    page.get_by_test_id("curves").wait_for()
    page.get_by_test_id("which-lamp").get_by_role("listitem").first.wait_for()
    page.screenshot(path=OUT / "lamps.png")
    measured(browser)
    puzzle(browser)
    keeping(browser)


# A tube that gives a third less UV than the catalogue has it, in a room that is two kelvins warmer.
TRUTH = {"uv:uv-tube": -0.45, "room": 2.0}


def measured(browser: Browser) -> None:
    """A round taken on a phone with simulated instruments, and what it says of the enclosure."""
    plan = shipped_plan("collared-lizard")
    enclosure = TrueEnclosure(with_multipliers(plan, multipliers_of(plan), TRUTH))
    rng = np.random.default_rng(5)
    kit = drawn_kit(rng)
    page = blank(browser, 390, 844)
    page.goto(f"{URL}/plans/collared-lizard/readings")
    page.get_by_role("button", name="Propose a round").click()
    page.get_by_test_id("count").wait_for(timeout=60_000)
    tasks = page.request.get(f"{URL}/api/plans/collared-lizard/readings").json()["rounds"][0]["tasks"]
    for number, task in enumerate(tasks):
        card = page.get_by_test_id(f"task-{task['id']}")
        field = card.get_by_role("textbox").first
        field.wait_for()
        if number == len(tasks) - 1:
            card.scroll_into_view_if_needed()
            page.wait_for_timeout(300)
            page.screenshot(path=OUT / "round-phone.png")
        at = task["at_m"]
        where = None if at is None else (at["x_m"], at["y_m"], at["z_m"])
        value = kit.read(enclosure, task["kind"], where, rng)
        field.fill(f"{100 * value:.0f}" if "humidity" in task["kind"] else f"{value:.1f}")
        field.press("Enter")
        card.locator("[data-side]").wait_for()
    page.get_by_text("Every reading is stored").wait_for()
    page.get_by_role("button", name="Done here").click()
    page.get_by_test_id("readings").wait_for()
    page.set_viewport_size({"width": 1280, "height": 1000})
    page.get_by_role("button", name="Fit the plan to").click()
    page.get_by_test_id("fit-result").wait_for(timeout=60_000)
    page.get_by_role("button", name="Propose a round").hover()
    page.screenshot(path=OUT / "readings.png")


def puzzle(browser: Browser) -> None:
    """A puzzle of the practice bench, found out."""
    page = blank(browser, 1280, 1000)
    page.goto(f"{URL}/practice/new-lid")
    for number, kind in enumerate(("surface", "uvi_facing"), start=1):
        page.get_by_label("Read", exact=True).select_option(kind)
        page.get_by_role("button", name="Basking spot", exact=True).first.click()
        expect(page.get_by_test_id("taken").get_by_role("listitem")).to_have_count(number)
    page.get_by_label("The mesh of the lid is finer than planned").check()
    page.get_by_role("button", name="Put the planned mesh on the lid").click()
    page.get_by_test_id("outcome").wait_for(timeout=60_000)
    page.screenshot(path=OUT / "practice.png")


def keeping(browser: Browser) -> None:
    """The year of an enclosure, the lamp register, the logbook, and the day's round on a phone."""
    page = blank(browser, 1280, 900)
    page.goto(f"{URL}/plans/panther-chameleon/keeping")
    page.get_by_text("What fails, and the fix").wait_for(timeout=90_000)
    page.screenshot(path=OUT / "keeping.png")
    page = blank(browser, 1280, 900)
    page.goto(f"{URL}/register")
    page.get_by_test_id("until").first.wait_for(timeout=60_000)
    page.get_by_text("Looking three years ahead").first.wait_for(state="detached", timeout=90_000)
    page.screenshot(path=OUT / "register.png")
    page = blank(browser, 1280, 1300)
    page.goto(f"{URL}/logbook?animal=fettle")
    page.get_by_test_id("timeline").wait_for()
    page.get_by_test_id("entries-found").get_by_text("entries").wait_for()
    page.screenshot(path=OUT / "logbook.png")
    page = blank(browser, 390, 844)
    page.goto(f"{URL}/today")
    page.get_by_test_id("today-state").wait_for()
    page.screenshot(path=OUT / "today-phone.png")


def main() -> None:
    """Serve the demo from a fresh folder and take the pictures."""
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "noonshade", "serve", "--demo", "--port", str(PORT)]
        process = subprocess.Popen(
            [*command, "--data", folder], stdout=subprocess.PIPE, text=True, cwd=ROOT
        )
        try:
            assert process.stdout is not None
            assert "ready" in process.stdout.readline()
            with sync_playwright() as playwright:
                browser = launched(playwright)
                pictures(browser)
                browser.close()
        finally:
            process.terminate()
            process.wait(timeout=20)
    print(f"pictures are in {OUT.relative_to(ROOT)}")


if __name__ == "__main__":
    main()
