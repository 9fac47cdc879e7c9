"""Shared fixtures."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from noonshade.web import AppSettings, create_app, open_data
from tests.shared import MEMORY, seeded


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Show why a test had to be run once more: it passed in the end, and is to be looked into."""
    for report in terminalreporter.stats.get("rerun", []):
        terminalreporter.section(f"run once more: {report.nodeid}")
        terminalreporter.line(report.longreprtext)


@pytest.fixture(scope="session")
def routed(tmp_path_factory: pytest.TempPathFactory) -> tuple[Flask, AppSettings]:
    """An application whose routes are made once; every test gives it a data file of its own."""
    folder = tmp_path_factory.mktemp("routed")
    front = folder / "dist"
    (front / "assets").mkdir(parents=True)
    (front / "index.html").write_text('<meta name="style-nonce" content="__STYLE_NONCE__">')
    (front / "assets" / "app-1.js").write_text("export {}")
    settings = AppSettings(data_file=folder / "unused.db", front_end=front, demo=True)
    return create_app(settings), settings


@pytest.fixture
def app(routed: tuple[Flask, AppSettings], tmp_path: Path) -> Flask:
    made, settings = routed
    data_file = seeded(tmp_path / "data" / "noonshade.db")
    made.extensions.update(open_data(replace(settings, data_file=data_file), memory=MEMORY))
    return made


@pytest.fixture
def client(app: Flask) -> Iterator[FlaskClient]:
    with app.test_client() as made:
        yield made
