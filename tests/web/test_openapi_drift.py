"""The committed interface files are those the code makes."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
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


@pytest.mark.parametrize("path", sorted((ROOT / "docs").glob("*.schema.json")), ids=lambda p: p.stem)
def test_each_schema_of_the_documents_is_served_under_its_name(client: FlaskClient, path: Path) -> None:
    answer = client.get(f"/api/schemas/{path.name.removesuffix('.schema.json')}.json")
    assert answer.get_json() == json.loads(path.read_text(encoding="utf-8"))


def test_a_schema_that_does_not_exist_names_those_that_do(client: FlaskClient) -> None:
    answer = client.get("/api/schemas/plan-1.json")
    assert answer.status_code == 404
    assert "plan-2" in answer.get_json()["detail"]
