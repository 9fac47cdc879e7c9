"""Whatever is sent, the answer is a problem that names the thing; never a 500."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from noonshade.store.database import Database
from noonshade.web import AppSettings, create_app
from noonshade.web.app import NoonShade
from noonshade.web.http.routing import OPERATIONS
from tests.builders import demo_raw

JSON = {"Content-Type": "application/json"}


@pytest.mark.parametrize(
    ("data", "headers", "status", "words"),
    [
        (b"{", JSON, 400, "Expecting property name"),
        (b"\xff\xfe", JSON, 400, ""),
        (b"[" * 50_000, JSON, 400, "recursion"),
        (b"[]", JSON, 422, "object"),
        (b"{}", JSON, 422, "/document: is missing"),
        (b'{"document": 7}', JSON, 422, "a plan is a JSON object"),
        (b'{"document": {}}', JSON, 422, "not a Noon Shade plan"),
        (b'{"document": NaN}', JSON, 422, "NaN"),
        (b"a=1", {"Content-Type": "text/plain"}, 415, "text/plain was sent"),
        (b"", {}, 415, "none was sent"),
        (b" " * 1_000_001, JSON, 413, "At most 1000 kB"),
    ],
)
def test_broken_bodies(
    client: FlaskClient, data: bytes, headers: dict[str, str], status: int, words: str
) -> None:
    response = client.post("/api/evaluate", data=data, headers=headers)
    assert response.status_code == status
    assert response.content_type == "application/problem+json"
    problem = response.get_json()
    assert problem["status"] == status
    found_text = problem["detail"] + str(problem["fields"])
    assert words.lower() in found_text.lower()


def test_unknown_version_and_newer_fields(client: FlaskClient) -> None:
    raw = demo_raw() | {"version": 9}
    problem = client.post("/api/plans", json={"document": raw}).get_json()
    assert problem["fields"] == [
        {"pointer": "/version", "message": "version 9 is not known; this program reads versions 1 and 2"}
    ]


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/api/nothing", 404),
        ("POST", "/api/health", 405),
        ("DELETE", "/api/catalog", 405),
        ("GET", "/api/plans/collared-lizard/revisions/minus", 404),
    ],
)
def test_wrong_addresses_and_methods(client: FlaskClient, method: str, path: str, status: int) -> None:
    response = client.open(path, method=method)
    assert response.status_code == status
    assert response.content_type == "application/problem+json"


base_revisions = st.one_of(
    st.integers(), st.floats(allow_nan=False, allow_infinity=False), st.text(max_size=5), st.none()
)


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(base=base_revisions, summary=st.one_of(st.text(max_size=300), st.integers(), st.none()))
def test_any_save_request_is_answered(client: FlaskClient, base: Any, summary: Any) -> None:
    body = {"document": demo_raw(), "base_revision": base, "summary": summary}
    assert client.put("/api/plans/collared-lizard", json=body).status_code in (200, 409, 422)


def test_full_disk(app: NoonShade, client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    limit_pages(monkeypatch)
    raw = demo_raw()
    raw["name"] = "x" * 80
    raw["furnishings"] = [raw["furnishings"][1] | {"id": f"h{i}"} for i in range(60)]
    before = client.get("/api/plans/collared-lizard").get_json()
    body = {"document": raw, "base_revision": 1, "summary": "Too much"}
    response = client.put("/api/plans/collared-lizard", json=body)
    assert response.status_code == 507
    assert "full; nothing was changed" in response.get_json()["detail"]
    assert client.get("/api/plans/collared-lizard").get_json() == before


def limit_pages(monkeypatch: pytest.MonkeyPatch) -> None:
    """Stand-in for a full disk: SQLite may not grow the file."""
    connect = Database._connect

    def limited(self: Database) -> sqlite3.Connection:
        connection = connect(self)
        connection.execute("PRAGMA max_page_count = 1")
        return connection

    monkeypatch.setattr(Database, "_connect", limited)


def test_read_only_file(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    connect = Database._connect

    def read_only(self: Database) -> sqlite3.Connection:
        connection = connect(self)
        connection.execute("PRAGMA query_only = ON")
        return connection

    monkeypatch.setattr(Database, "_connect", read_only)
    raw = demo_raw()
    raw["name"] = "Other"
    body = {"document": raw, "base_revision": 1, "summary": "Rename"}
    response = client.put("/api/plans/collared-lizard", json=body)
    assert response.status_code == 503
    assert "cannot be written; nothing was changed" in response.get_json()["detail"]
    assert client.get("/api/plans").status_code == 200


def test_file_damaged_while_running(app: NoonShade, client: FlaskClient) -> None:
    store = app.services.plans
    path: Path = store.database.path
    for extra in ("-wal", "-shm"):
        path.with_name(path.name + extra).unlink(missing_ok=True)
    path.write_bytes(b"not a database at all " * 400)
    response = client.get("/api/plans")
    assert response.status_code == 503
    assert "damaged" in response.get_json()["detail"]


def test_a_method_an_address_does_not_know_is_refused_with_those_it_knows(client: FlaskClient) -> None:
    for method, path, allowed in (
        ("get", "/api/evaluate", "POST"),
        ("delete", "/api/evaluate", "POST"),
        ("patch", "/api/plans", "GET"),
        ("get", "/api/plans/collared-lizard/role", "PUT"),
    ):
        answer = getattr(client, method)(path)
        assert answer.status_code == 405, path
        assert allowed in answer.headers["Allow"]
        assert answer.get_json()["status"] == 405
    assert client.get("/api/nothing").status_code == 404


def test_busy_file(app: NoonShade, client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("noonshade.store.database.BUSY_TIMEOUT_S", 0.05)
    path = app.services.plans.database.path
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    try:
        response = client.delete("/api/plans/collared-lizard")
    finally:
        other.execute("ROLLBACK")
        other.close()
    assert response.status_code == 503
    assert "in use by another program" in response.get_json()["detail"]
    assert client.delete("/api/plans/collared-lizard").status_code == 204


def test_every_documented_operation_answers_a_problem_for_an_unknown_id(client: FlaskClient) -> None:
    with_id = [o for o in OPERATIONS if "<plan_id>" in o.path and o.request is None]
    assert len(with_id) >= 5
    for entry in with_id:
        path = "/api" + entry.path.replace("<plan_id>", "nobody").replace("<int:number>", "1")
        # What is asked for must be whole, or that is complained of first.
        query = {"on": "2026-03-14", "year": 2027, "revision": 1} if entry.query is not None else {}
        known = {} if entry.query is None else entry.query.model_fields
        response = client.open(
            path, method=entry.method, query_string={k: v for k, v in query.items() if k in known}
        )
        assert response.status_code == 404, entry
        assert 404 in entry.problems


def test_passphrase_is_needed_for_any_host(tmp_path: Path) -> None:
    with pytest.raises(ValueError, match="passphrase"):
        create_app(AppSettings(data_file=tmp_path / "d.db", allowed_hosts=None))
