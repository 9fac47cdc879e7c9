"""Plans over HTTP: list, create, save, revisions, conflicts, export, import."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.demo import DEMO_PLANS
from tests.builders import demo_raw

URL = "/api/plans/collared-lizard"


def edited(**room: float) -> dict[str, Any]:
    raw = demo_raw()
    raw["room"].update(room)
    return raw


def save(client: FlaskClient, base: int, document: dict[str, Any], summary: str = "Edit"):  # type: ignore[no-untyped-def]
    body = {"document": document, "base_revision": base, "summary": summary}
    return client.put(URL, json=body)


def test_demo_plan_is_listed(client: FlaskClient) -> None:
    listed = client.get("/api/plans").get_json()["plans"]
    assert sorted(p["id"] for p in listed) == sorted(DEMO_PLANS)
    assert listed[0]["id"] == "collared-lizard"
    assert listed[0]["revision"] == 1
    assert listed[0]["document"]["enclosure"]["length_m"] == 1.2


def test_save_adds_a_revision_and_old_ones_can_be_reopened(client: FlaskClient) -> None:
    assert save(client, 1, edited(day_temperature_c=23.0), "Room 23 °C").get_json()["revision"] == 2
    assert save(client, 2, edited(day_temperature_c=24.0), "Room 24 °C").get_json()["revision"] == 3
    listed = client.get(f"{URL}/revisions").get_json()
    assert listed["head"] == 3
    assert [(r["number"], r["summary"], r["kind"]) for r in listed["revisions"]] == [
        (3, "Room 24 °C", "saved"),
        (2, "Room 23 °C", "saved"),
        (1, "Demo plan", "saved"),
    ]
    first = client.get(f"{URL}/revisions/1").get_json()
    assert first["document"]["room"]["day_temperature_c"] == 21.0
    assert client.get(URL).get_json()["document"]["room"]["day_temperature_c"] == 24.0


def test_saving_the_same_again_adds_nothing(client: FlaskClient) -> None:
    assert save(client, 1, demo_raw()).get_json()["revision"] == 1


def test_save_on_an_old_revision_is_refused_and_both_are_stored(client: FlaskClient) -> None:
    save(client, 1, edited(day_temperature_c=23.0), "First")
    refused = save(client, 1, edited(day_temperature_c=30.0), "Second")
    assert refused.status_code == 409
    assert refused.content_type == "application/problem+json"
    problem = refused.get_json()
    assert problem["head_revision"] == 2
    assert problem["refused_as"] == 3
    assert "Both are stored" in problem["detail"]
    assert client.get(URL).get_json()["document"]["room"]["day_temperature_c"] == 23.0
    refused = client.get(f"{URL}/revisions/3").get_json()
    assert refused["kind"] == "refused"
    assert refused["document"]["room"]["day_temperature_c"] == 30.0
    # Trying again does not pile up copies; saving on the newest works.
    assert save(client, 1, edited(day_temperature_c=30.0)).get_json()["refused_as"] == 3
    assert save(client, 2, edited(day_temperature_c=30.0)).get_json()["revision"] == 4


def test_export_is_the_document_and_imports_as_a_new_plan(client: FlaskClient) -> None:
    exported = client.get(f"{URL}/export")
    assert (
        "collared-lizard-timber-enclosure-by-the-race-window.noonshade.json"
        in exported.headers["Content-Disposition"]
    )
    document = json.loads(exported.data)
    made = client.post("/api/plans", json={"document": document, "summary": "Imported"})
    assert made.status_code == 201
    assert made.get_json()["document"] == client.get(URL).get_json()["document"]
    assert len(client.get("/api/plans").get_json()["plans"]) == len(DEMO_PLANS) + 1


def test_remove_and_bring_back(client: FlaskClient) -> None:
    assert client.delete(URL).status_code == 204
    left = [p["id"] for p in client.get("/api/plans").get_json()["plans"]]
    assert len(left) == len(DEMO_PLANS) - 1
    assert "collared-lizard" not in left
    assert client.get(URL).status_code == 404
    assert client.post(f"{URL}/bring-back").get_json()["id"] == "collared-lizard"
    assert client.get(URL).status_code == 200


def test_unknown_ids_are_named(client: FlaskClient) -> None:
    for response in (
        client.get("/api/plans/nobody"),
        client.get("/api/plans/nobody/revisions"),
        client.get("/api/plans/nobody/export"),
        client.delete("/api/plans/nobody"),
        client.put("/api/plans/nobody", json={"document": demo_raw(), "base_revision": 1, "summary": "x"}),
    ):
        assert response.status_code == 404
        assert "'nobody'" in response.get_json()["detail"]
    missing = client.get(f"{URL}/revisions/99")
    assert missing.status_code == 404
    assert "no revision 99" in missing.get_json()["detail"]


def test_refused_plan_changes_nothing(client: FlaskClient) -> None:
    bad = edited()
    bad["fixtures"][0]["power_w"] = 400
    response = save(client, 1, bad)
    assert response.status_code == 422
    assert response.get_json()["fields"][0]["pointer"] == "/fixtures/0/power_w"
    assert client.get(URL).get_json()["revision"] == 1


def test_what_is_archived_is_listed_the_last_first_and_restored(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert client.get("/api/archive").get_json() == {"plans": []}
    # Later in the alphabet is archived first, so that the order is that of time.
    moments = iter(["2031-05-01T08:00:00.000Z", "2031-05-01T08:00:00.001Z"])
    monkeypatch.setattr("noonshade.store.plans.now", lambda: next(moments))
    for name in ("corn-snake", "collared-lizard"):
        assert client.delete(f"/api/plans/{name}").status_code == 204
    archived = client.get("/api/archive").get_json()["plans"]
    assert [p["id"] for p in archived] == ["collared-lizard", "corn-snake"]
    listed = {p["id"] for p in client.get("/api/plans").get_json()["plans"]}
    assert not listed & {"collared-lizard", "corn-snake"}
    client.post("/api/plans/corn-snake/bring-back")
    assert [p["id"] for p in client.get("/api/archive").get_json()["plans"]] == ["collared-lizard"]


def test_the_sample_is_opened_once_and_is_in_no_list(client: FlaskClient) -> None:
    shipped = client.get("/api/sample").get_json()
    opened = client.post("/api/sample").get_json()
    assert opened["id"] == shipped["id"]
    assert opened["document"] == shipped["document"]
    changed = {**opened["document"], "photoperiod_h": 13.0}
    body = {"document": changed, "base_revision": 1, "summary": "Longer days"}
    assert client.put(f"/api/plans/{opened['id']}", json=body).get_json()["revision"] == 2
    assert client.post("/api/sample").get_json()["document"]["photoperiod_h"] == 13.0
    assert client.get("/api/sample").get_json() == shipped
    client.delete(f"/api/plans/{opened['id']}")
    for list_of in ("plans", "archive"):
        listed = client.get(f"/api/{list_of}").get_json()["plans"]
        assert opened["id"] not in [p["id"] for p in listed]
