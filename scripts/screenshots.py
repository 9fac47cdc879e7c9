"""Make the pictures in docs/screenshots from the demo data."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Browser, Page, expect, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.browser.conftest import FLAGS, NO_TOUR, saved, settled  # noqa: E402

PORT = 8644
URL = f"http://127.0.0.1:{PORT}"
OUT = ROOT / "docs" / "screenshots"


def blank(browser: Browser, width: int, height: int, theme: str = "light") -> Page:
    """An empty page of someone who has been here before."""
    page = browser.new_page(viewport={"width": width, "height": height}, color_scheme=theme)  # type: ignore[arg-type]
    page.add_init_script(NO_TOUR)
    return page


def opened(browser: Browser, width: int, height: int, theme: str, path: str) -> Page:
    """A page of the demo, ready."""
    page = blank(browser, width, height, theme)
    page.goto(URL + path)
    if path != "/":
        judged(page)
    return page


def judged(page: Page) -> None:
    """Wait until intervals are there and changes have been looked for."""
    settled(page)
    page.get_by_text("Likely ").first.wait_for(timeout=60_000)
    page.get_by_text("Looking for a change").first.wait_for(state="detached", timeout=60_000)


def pictures(browser: Browser) -> None:
    """One picture of each main view."""
    plan = "/plans/collared-lizard"
    page = opened(browser, 1280, 800, "light", "/")
    page.get_by_test_id("boxes-found").wait_for()
    expect(page.get_by_text("Working it out")).to_have_count(0, timeout=60_000)
    expect(page.get_by_test_id("year")).to_have_count(8, timeout=120_000)
    page.screenshot(path=OUT / "room.png")
    page = blank(browser, 1280, 1000)
    page.goto(f"{URL}/new")
    page.get_by_label("Species, by any of its names").fill("furcifer pardalis")
    page.get_by_role("button", name="Furcifer pardalis").click()
    page.get_by_label("Height inside").wait_for()
    page.get_by_text("the same room").wait_for()
    page.screenshot(path=OUT / "new-plan.png")
    page = opened(browser, 1280, 800, "light", plan)
    page.screenshot(path=OUT / "plan-uv.png")
    page.get_by_role("radio", name="Air", exact=True).click()
    page.screenshot(path=OUT / "plan-temperature.png")
    page.get_by_role("tab", name="UV tube").click()
    page.get_by_label("Screen below it").select_option("fine-0.5-2.0")
    page.get_by_role("radio", name="UV").click()
    page.get_by_text("Take the mesh away").first.wait_for()
    judged(page)
    page.screenshot(path=OUT / "plan-mesh-forgotten.png")
    page.locator("body").press("Control+z")
    saved(page)
    page = opened(browser, 1280, 800, "light", plan)
    page.get_by_test_id("move-cool-hide").focus()
    judged(page)
    page.screenshot(path=OUT / "furnishing.png")
    page = opened(browser, 1280, 800, "dark", plan)
    page.get_by_role("tab", name="Thermostat").click()
    page.screenshot(path=OUT / "plan-dark.png")
    page = opened(browser, 390, 844, "light", plan)
    page.screenshot(path=OUT / "plan-phone.png")
    page = opened(browser, 1280, 1340, "light", plan)
    page.get_by_role("radio", name="Air", exact=True).click()
    page.get_by_role("radio", name="The day").click()
    page.locator('[data-testid="day"][data-pending="false"] [data-testid="day-chart"]').wait_for()
    page.get_by_text("As it is at 13:00").wait_for()
    page.screenshot(path=OUT / "day.png")
    page = opened(browser, 1280, 1100, "light", plan)
    page.get_by_role("radio", name="Over time").click()
    page.get_by_test_id("over-time-summary").wait_for()
    page.screenshot(path=OUT / "over-time.png")
    page = blank(browser, 1280, 1100)
    page.goto(f"{URL}/species/pogona-vitticeps")
    page.get_by_test_id("species-sheet").wait_for()
    page.screenshot(path=OUT / "species.png")
    page = blank(browser, 1280, 1000)
    page.goto(f"{URL}/plans/gargoyle-gecko")
    settled(page)
    page.get_by_role("radio", name="What if").click()
    page.get_by_text("each for a day and a night").wait_for(timeout=60_000)
    page.locator('[data-testid="drills"] summary').first.click()
    page.screenshot(path=OUT / "drills.png")
    for name in ("panther-chameleon", "corn-snake"):
        page = blank(browser, 1280, 800)
        page.goto(f"{URL}/plans/{name}")
        settled(page)
        if name == "panther-chameleon":
            page.get_by_role("tab", name="UV tube").click()
        judged(page)
        page.evaluate("() => scrollTo(0, 0)")
        page.screenshot(path=OUT / f"{name}.png")
    page = blank(browser, 1280, 800)
    page.goto(f"{URL}/plans/whites-tree-frog")
    settled(page)
    page.get_by_role("radio", name="Above").click()
    page.get_by_test_id("stage-above").wait_for()
    judged(page)
    page.screenshot(path=OUT / "plan-above.png")
    page = opened(browser, 1280, 800, "light", "/plans/crocodile-lizard")
    page.get_by_role("radio", name="Both").click()
    page.get_by_role("radio", name="Air", exact=True).click()
    page.get_by_role("button", name="Pin a place").click()
    judged(page)
    page.screenshot(path=OUT / "plan-both.png")
    page = blank(browser, 900, 1270)
    page.goto(f"{URL}/api/plans/gargoyle-gecko/report")
    page.screenshot(path=OUT / "report.png")
    shelf = "/lamps?lamps=t5-strong-85,mercury-flood-100&screen=fine-0.5-2.0"
    for name, width, height in (("lamps", 1280, 1500), ("lamps-phone", 390, 844)):
        page = blank(browser, width, height)
        page.goto(URL + shelf)
        page.get_by_test_id("curves").wait_for()
        page.get_by_test_id("which-lamp").get_by_role("listitem").first.wait_for()
        page.screenshot(path=OUT / f"{name}.png")


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
                browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
                pictures(browser)
                browser.close()
        finally:
            process.terminate()
            process.wait(timeout=20)
    print(f"pictures are in {OUT.relative_to(ROOT)}")


if __name__ == "__main__":
    main()
