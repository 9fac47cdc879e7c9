"""The committed interface files are those the code makes."""

from __future__ import annotations

import json
import re
from pathlib import Path

from flask.testing import FlaskClient

from noonshade.web.http.openapi import openapi

ROOT = Path(__file__).resolve().parents[2]


def test_openapi_file_is_current(client: FlaskClient) -> None:
    committed = json.loads((ROOT / "frontend/src/api/openapi.json").read_text(encoding="utf-8"))
    assert committed == openapi()
    assert client.get("/api/openapi.json").get_json() == committed


def test_every_reference_resolves() -> None:
    document = openapi()
    assert document["openapi"] == "3.1.0"
    schemas = document["components"]["schemas"]
    wanted = set(re.findall(r'"#/components/schemas/([^"]+)"', json.dumps(document)))
    assert wanted <= set(schemas)
    assert "PlanDocument" in schemas


def test_typescript_types_name_every_path() -> None:
    """A cheap check here; `make lint` compares the generated file byte for byte."""
    text = (ROOT / "frontend/src/api/schema.ts").read_text(encoding="utf-8")
    for path in openapi()["paths"]:
        assert f'"{path}"' in text


def test_plan_schema_is_published(client: FlaskClient) -> None:
    answer = client.get("/api/schemas/plan-1.json")
    assert answer.get_json()["title"] == "Noon Shade plan, version 2"
