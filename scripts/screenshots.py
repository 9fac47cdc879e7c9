"""Make the pictures in docs/screenshots from the demo data."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.browser.conftest import FLAGS, saved, settled  # noqa: E402

PORT = 8644
URL = f"http://127.0.0.1:{PORT}"
OUT = ROOT / "docs" / "screenshots"


def opened(browser: Browser, width: int, height: int, theme: str, path: str) -> Page:
    """A page of the demo, ready."""
    page = browser.new_page(viewport={"width": width, "height": height}, color_scheme=theme)  # type: ignore[arg-type]
    page.goto(URL + path)
    if path != "/":
        settled(page)
        page.get_by_test_id("mend").first.wait_for()
    return page


def pictures(browser: Browser) -> None:
    """One picture of each main view."""
    plan = "/plans/collared-lizard"
    page = opened(browser, 1280, 800, "light", "/")
    page.get_by_text("to change").wait_for()
    page.screenshot(path=OUT / "room.png")
    page = opened(browser, 1280, 800, "light", plan)
    page.screenshot(path=OUT / "plan-uv.png")
    page.get_by_role("radio", name="Temperature").click()
    page.screenshot(path=OUT / "plan-temperature.png")
    page.get_by_role("tab", name="UV tube").click()
    page.get_by_label("Screen below it").select_option("fine-0.5-2.0")
    page.get_by_role("radio", name="UV").click()
    settled(page)
    page.get_by_text("Take the mesh away").wait_for()
    page.screenshot(path=OUT / "plan-mesh-forgotten.png")
    page.locator("body").press("Control+z")
    saved(page)
    page = opened(browser, 1280, 800, "dark", plan)
    page.get_by_role("tab", name="Thermostat").click()
    page.screenshot(path=OUT / "plan-dark.png")
    page = opened(browser, 390, 844, "light", plan)
    page.screenshot(path=OUT / "plan-phone.png")


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
