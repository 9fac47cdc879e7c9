"""Shared fixtures."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from hypothesis import settings

from noonshade.services.application import open_services
from noonshade.web import AppSettings, create_app
from noonshade.web.app import NoonShade
from tests.shared import CACHES, MEASURED, seeded

# A shared machine may stall in any example; each test as a whole has a time limit.
settings.register_profile("any machine", deadline=None)
settings.load_profile("any machine")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Long modules first, so that no worker is left with one at the end: the package, then the browser."""
    items.sort(key=lambda item: ("test_wheel" not in item.nodeid, "tests/browser" not in item.nodeid))


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Show what tests measured, and why one had to be run once more: it is to be looked into."""
    for report in terminalreporter.stats.get("passed", []):
        for name, value in report.user_properties:
            if name == MEASURED:
                terminalreporter.write_line(f"Measured: {value}")
    for report in terminalreporter.stats.get("rerun", []):
        terminalreporter.section(f"run once more: {report.nodeid}")
        terminalreporter.line(report.longreprtext)


@pytest.fixture(scope="session")
def routed(tmp_path_factory: pytest.TempPathFactory) -> tuple[NoonShade, AppSettings]:
    """An application whose routes are made once; every test gives it a separate data file."""
    folder = tmp_path_factory.mktemp("routed")
    front = folder / "dist"
    (front / "assets").mkdir(parents=True)
    (front / "index.html").write_text('<meta name="style-nonce" content="__STYLE_NONCE__">')
    (front / "assets" / "app-1.js").write_text("export {}")
    settings = AppSettings(data_file=folder / "unused.db", front_end=front, demo=True)
    return create_app(settings), settings


@pytest.fixture
def app(routed: tuple[NoonShade, AppSettings], tmp_path: Path) -> NoonShade:
    made, _ = routed
    data_file = seeded(tmp_path / "data" / "noonshade.db")
    made.services = open_services(data_file, caches=CACHES)
    return made


@pytest.fixture
def client(app: NoonShade) -> Iterator[FlaskClient]:
    with app.test_client() as made:
        yield made
