"""Shared fixtures."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from noonshade.demo import seed
from noonshade.web import Settings, create_app
from tests.shared import MEMORY, SHARED


@pytest.fixture
def app(tmp_path: Path) -> Flask:
    front = tmp_path / "dist"
    (front / "assets").mkdir(parents=True)
    (front / "index.html").write_text('<meta name="style-nonce" content="__STYLE_NONCE__">')
    (front / "assets" / "app-1.js").write_text("export {}")
    made = create_app(
        Settings(data_file=tmp_path / "data" / "noonshade.db", front_end=front, demo=True), memory=MEMORY
    )
    made.extensions.update(SHARED)
    seed(made.extensions["plans"])
    return made


@pytest.fixture
def client(app: Flask) -> Iterator[FlaskClient]:
    with app.test_client() as made:
        yield made
