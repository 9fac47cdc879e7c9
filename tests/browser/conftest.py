"""A running demo and a page in headless Chromium that must not log errors."""

from __future__ import annotations

import logging
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

import pytest
from flask import request
from playwright.sync_api import (
    Browser,
    BrowserContext,
    ConsoleMessage,
    Locator,
    Page,
    Playwright,
    Route,
    expect,
    sync_playwright,
)
from werkzeug.serving import BaseWSGIServer, WSGIRequestHandler, make_server

from noonshade.demo import seed_room
from noonshade.services.application import open_services
from noonshade.services.background_results import BackgroundResults
from noonshade.services.results import Computation, ResultService
from noonshade.services.workers import CancelledError
from noonshade.store.results import StoredResult
from noonshade.web import AppSettings, create_app
from noonshade.web.app import NoonShade
from tests.shared import CACHES, seeded

ROOT = Path(__file__).resolve().parents[2]
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]

# Shared machines stall now and then, and a fit or a PDF takes seconds even on one that does not.
PATIENCE_MS = 60_000
# A page shows the room that asked for its results so short a time ago, s.
SHOWN_S = 3.0
expect.set_options(timeout=PATIENCE_MS)


class _Quiet(WSGIRequestHandler):
    """Keeps connections open, as browsers expect, and its log to itself."""

    protocol_version = "HTTP/1.1"

    def log(self, type: str, message: str, *args: object) -> None:
        """Nothing."""


@dataclass
class Demo:
    """The demo, served from this process; it can be stopped and started again on the same data and port."""

    data: Path
    port: int
    # The demo room, or a room without enclosures.
    furnished: bool = True
    server: BaseWSGIServer | None = None
    app: NoonShade | None = None
    background: BackgroundResults | None = None
    results_asked_at: float = 0.0

    @property
    def url(self) -> str:
        """Its address."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Serve it."""
        data_file = self.data / "noonshade.db"
        if self.furnished:
            seeded(data_file)
        app = create_app(
            AppSettings(data_file=data_file, demo=self.furnished), open_services(data_file, caches=CACHES)
        )
        if self.furnished:
            seed_room(app.services.settings)
        self.app = app
        results = app.services.results
        self.background = BackgroundResults(results, partial(self._compute, results))
        self.background.start()
        app.before_request(self._note_asked)
        self.server = make_server("127.0.0.1", self.port, app, threaded=True, request_handler=_Quiet)
        self.server.daemon_threads = True  # type: ignore[attr-defined]
        # It looks that often whether it shall stop: by default it takes half a second to.
        threading.Thread(target=self.server.serve_forever, args=(0.02,), daemon=True).start()

    def _note_asked(self) -> None:
        if request.path == "/api/room/results":
            self.results_asked_at = time.monotonic()

    def _compute(
        self, results: ResultService, wanted: Computation, gone: Callable[[], bool]
    ) -> StoredResult:
        """Compute a result of the room, but only while a page shows it: most tests show others."""
        while time.monotonic() - self.results_asked_at > SHOWN_S:
            if gone():
                raise CancelledError("the room is not shown")
            time.sleep(0.05)
        return results.compute(wanted)

    def stop(self) -> None:
        """Answer no more."""
        if self.background is not None:
            self.background.close()
        if self.server is not None:
            self.server.shutdown()
            self.server.server_close()
            self.server = None


@dataclass
class RealDemo:
    """The demo as its command starts it, in a separate process."""

    data: Path
    port: int
    process: subprocess.Popen[str] | None = None

    @property
    def url(self) -> str:
        """Its address."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start and wait until it answers."""
        command = [sys.executable, "-m", "noonshade", "serve", "--demo", "--port", str(self.port)]
        self.process = subprocess.Popen(
            [*command, "--data", str(self.data)],
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            cwd=ROOT,
            env={**os.environ, "PYTHONUNBUFFERED": "1"},
        )
        assert self.process.stdout is not None
        assert "is ready" in self.process.stdout.readline()

    def stop(self) -> None:
        """Stop as Ctrl-C would."""
        if self.process is None:
            return
        self.process.send_signal(signal.SIGINT)
        self.process.wait(timeout=20)
        if self.process.stdout is not None:
            self.process.stdout.close()
        self.process = None


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        found: int = probe.getsockname()[1]
    return found


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """A browser test that failed is run once more, which is said at the end of the run.

    One click in some thousands is lost by a browser on a busy machine. What fails twice is a fault of ours;
    what fails once in a while is one too, so that a test named there is to be looked into.
    """
    for item in items:
        if item.get_closest_marker("browser"):
            item.add_marker(pytest.mark.flaky(reruns=1))


@pytest.fixture
def demo(tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[Demo]:
    """The demo room; a test marked ``empty_room`` gets a room without enclosures."""
    assert (ROOT / "noonshade/web/static/index.html").is_file(), "the front end is not built: make build"
    furnished = request.node.get_closest_marker("empty_room") is None
    made = Demo(tmp_path / "demo", free_port(), furnished)
    try:
        made.start()
        yield made
    finally:
        made.stop()


def chromium() -> str:
    """Where Debian's Chromium is, without a window if there is one."""
    path = shutil.which("chromium-headless-shell") or shutil.which("chromium")
    assert path, "Chromium is missing: run scripts/ensure-chromium.sh"
    return path


def launched(playwright: Playwright) -> Browser:
    """Debian's Chromium without a window.

    The package made for that leaves out the window's own pages, which otherwise take a process for every
    page that is opened, a third of the time of these tests. The whole browser does too.
    """
    return playwright.chromium.launch(executable_path=chromium(), args=FLAGS)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        made = launched(playwright)
        yield made
        made.close()
    # What is still being computed for pages that are gone breaks off as the process ends.
    logging.disable()


@dataclass
class Watched:
    """Complaints of a page; expected ones can be forgiven by a word in them."""

    complaints: list[str] = field(default_factory=list)
    forgiven: list[str] = field(default_factory=list)

    def forgive(self, word: str) -> None:
        self.forgiven.append(word)


@pytest.fixture
def watched() -> Iterator[Watched]:
    made = Watched()
    yield made
    bad = [c for c in made.complaints if not any(word in c for word in made.forgiven)]
    assert bad == []


PageMaker = Callable[..., Page]
# Only the test of the tour is here for the first time.
NO_TOUR = "localStorage.getItem('tour') ?? localStorage.setItem('tour', 'done')"


def _nothing_found(route: Route) -> None:
    """Answer for the server that there is neither interval nor fix: they take many evaluations."""
    asked = route.request.post_data_json or {}
    empty = (
        {"intervals": []}
        if "intervals" in route.request.url
        else {"about_id": asked["about_id"], "fixes": []}
    )
    route.fulfill(json=empty)


@pytest.fixture
def new_page(
    browser: Browser, demo: Demo, watched: Watched, request: pytest.FixtureRequest
) -> Iterator[PageMaker]:
    contexts: list[BrowserContext] = []
    assessed = request.node.get_closest_marker("assessed") is not None

    def make(width: int = 1280, height: int = 800, **options: object) -> Page:
        # The worker that opens pages without a connection fetches every script a second time.
        options.setdefault("service_workers", "block")
        context = browser.new_context(
            viewport={"width": width, "height": height},
            base_url=demo.url,
            accept_downloads=True,
            **options,  # type: ignore[arg-type]
        )
        context.set_default_timeout(PATIENCE_MS)
        context.add_init_script(NO_TOUR)
        contexts.append(context)
        if not assessed:
            context.route(re.compile(r"/api/(intervals|fixes)$"), _nothing_found)
        page = context.new_page()

        def heard(message: ConsoleMessage) -> None:
            blocked = message.text.startswith("Service Worker registration blocked")
            if message.type in ("error", "warning") and not blocked:
                watched.complaints.append(message.text)

        page.on("console", heard)
        page.on("pageerror", lambda error: watched.complaints.append(str(error)))
        return page

    yield make
    for context in contexts:
        for page in context.pages:
            print(f"The page was at {page.url}")  # shown when the test failed
        context.close()


@pytest.fixture
def page(new_page: PageMaker) -> Page:
    made = new_page()
    made.goto("/plans/collared-lizard")
    settled(made)
    return made


def stored_slowly(page: Page, ending: str) -> None:
    """Let what is put at addresses that end so take its time: the next change is made before that."""
    page.add_init_script(f"""const straight = window.fetch;
window.fetch = async (request, ...rest) => {{
  const late = request.url?.endsWith({ending!r}) && request.method === "PUT";
  if (late) await new Promise((go) => setTimeout(go, 400));
  return straight(request, ...rest);
}};""")


def settled(page: Page) -> None:
    """Wait until the newest evaluation is shown."""
    done = page.locator('[data-testid="evaluation-state"][data-pending="false"]')
    # On a phone the drawing may be out of sight.
    done.wait_for(state="attached")


def saved(page: Page) -> None:
    """Wait until everything is saved."""
    page.locator('[data-testid="save-status"][data-state="saved"]').wait_for()


def figure(page: Page, check: str) -> float:
    """The figure shown for a check."""
    text = page.locator(f'[data-testid="check-{check}"] [data-testid="figure"]').inner_text()
    return float(text.split()[0])


def status(page: Page, check: str) -> str:
    """low, ok, high or unknown, as shown."""
    value = page.locator(f'[data-testid="check-{check}"]').get_attribute("data-status")
    assert value is not None
    return value


def opened(page: Page, line: str) -> Locator:
    """Open a line of the checks, as "check-basking:uvi": its reason, chance and fixes."""
    row = page.get_by_test_id(line)
    head = row.get_by_role("button").first
    if head.get_attribute("aria-expanded") == "false":
        head.click()
    return row


def pane(page: Page, name: str) -> None:
    """Where only one pane is seen at a time: that of the name; elsewhere all are."""
    panes = page.get_by_role("navigation", name="Panes")
    if panes.count():
        panes.get_by_role("button", name=re.compile(f"^{name}")).click()


def layer(page: Page, name: str) -> None:
    """Show a layer in the drawing: by its button, or on a phone from the list of them."""
    listed = page.get_by_role("combobox", name="Field shown")
    if listed.count():
        listed.select_option(name)
    else:
        page.get_by_role("radio", name=name, exact=True).click()


def add(page: Page, what: str) -> None:
    """Add something to the enclosure."""
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("menuitem", name=re.compile(f"^{what}")).click()


def show(page: Page) -> Locator:
    """Open what is seldom changed about the drawing; Escape closes it."""
    page.get_by_role("button", name=re.compile("^Show(, changed)?$")).click()
    return page.get_by_role("dialog", name="What the drawing shows")


def do(page: Page, action: str, name: str) -> None:
    """Choose an action from the menu of an enclosure in the room."""
    page.get_by_role("button", name=f"Actions for {name}", exact=True).click()
    page.get_by_role("menuitem", name=action).click()


def drag(page: Page, test_id: str, dx: float, dy: float) -> None:
    """Drag the middle of a movable thing by pixels, in small steps."""
    thing = page.get_by_test_id(test_id)
    thing.scroll_into_view_if_needed()
    enclosure = thing.bounding_box()
    assert enclosure is not None
    x, y = enclosure["x"] + enclosure["width"] / 2, enclosure["y"] + enclosure["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(1, 9):
        page.mouse.move(x + dx * i / 8, y + dy * i / 8)
        page.wait_for_timeout(30)
    page.mouse.up()


def open_tab(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name).click()
