"""Designs over HTTP: started, asked after, stopped."""

from __future__ import annotations

import time
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.builders import demo_raw, flawless_raw
from tests.web.patches import applied

ASK: dict[str, Any] = {
    "name": "Start",
    "species_id": "brachypelma-hamorii",
    "kind": "glass",
    "room": {"day_temperature_c": 21, "night_temperature_c": 17, "relative_humidity": 0.45},
}
LONGEST_S = 120.0


def ended(client: FlaskClient, job: dict[str, Any]) -> dict[str, Any]:
    """A job once it has ended."""
    until = time.monotonic() + LONGEST_S
    while job["state"] == "running":
        assert time.monotonic() < until
        time.sleep(0.1)
        job = client.get(f"/api/designs/{job['id']}").get_json()
    return job


def test_the_proposed_enclosure_is_larger_for_more_animals(client: FlaskClient) -> None:
    one = client.post("/api/designs/enclosure", json={"species_id": "testudo-hermanni"}).get_json()
    two = client.post(
        "/api/designs/enclosure", json={"species_id": "testudo-hermanni", "count": 2}
    ).get_json()
    assert one["kind"] == "table"
    assert one["source"]
    floor = [a["size"]["length_m"] * a["size"]["depth_m"] for a in (one, two)]
    assert floor[1] == pytest.approx(1.5 * floor[0], rel=0.03)


def test_a_design_can_be_stopped_stored_and_evaluates_to_the_checks_it_showed(client: FlaskClient) -> None:
    begun = client.post("/api/designs", json=ASK)
    assert begun.status_code == 202
    job = begun.get_json()
    busy = client.post("/api/designs", json=ASK)
    assert busy.status_code == 503
    assert "stop it" in busy.get_json()["detail"]
    while job["best"] is None and job["state"] == "running":
        time.sleep(0.1)
        job = client.get(f"/api/designs/{job['id']}").get_json()
    client.post(f"/api/designs/{job['id']}/stop")
    job = ended(client, job)
    assert job["state"] == "done"
    best = job["result"]["set_ups"][0]
    assert best["plan"]["name"] == "Start"
    assert best["plan"]["room"]["day_temperature_c"] == 21
    assert best["plan"]["year"] is not None
    stored = client.post("/api/plans", json={"document": best["plan"], "summary": "Designed"})
    assert stored.status_code == 201
    checks = client.post("/api/evaluate", json={"document": best["plan"]}).get_json()["checks"]
    shown = {c["id"]: c["value"] for c in best["checks"]}
    assert {c["id"]: pytest.approx(c["value"], abs=1e-6) for c in checks} == shown


@pytest.mark.parametrize(
    ("change", "status", "word"),
    [
        ({"species_id": "nobody"}, 404, "species does not exist"),
        ({"stage": "larva"}, 422, "adult"),
        ({"size": {"length_m": 0.1, "depth_m": 1, "height_m": 1}}, 422, "length_m"),
        ({"kind": "tin"}, 422, "kind"),
        ({"never": ["fun"]}, 422, "never"),
    ],
)
def test_what_cannot_be_designed_says_why(
    client: FlaskClient, change: dict[str, Any], status: int, word: str
) -> None:
    answer = client.post("/api/designs", json={**ASK, **change})
    assert answer.status_code == status
    assert word in answer.get_data(as_text=True)


def test_an_enclosure_that_cannot_be_furnished_fails_with_what_does_not_fit(client: FlaskClient) -> None:
    small = {"species_id": "python-regius", "size": {"length_m": 0.2, "depth_m": 0.2, "height_m": 0.2}}
    job = ended(client, client.post("/api/designs", json={**ASK, **small}).get_json())
    assert job["state"] == "failed"
    assert "does not fit" in job["problem"]
    assert job["problem_at"] == "/enclosure"


def test_a_design_that_never_was_is_not_found(client: FlaskClient) -> None:
    assert client.get("/api/designs/0123").status_code == 404
    assert client.post("/api/designs/0123/stop").status_code == 404


def test_everything_is_fixed_by_patches_on_the_document(client: FlaskClient) -> None:
    raw = demo_raw()
    found = client.post("/api/repairs", json={"document": raw}).get_json()
    assert found["failing_before"] > found["failing_after"] == 0
    assert found["left"] == []
    for change in found["changes"]:
        raw = applied(raw, change["patch"])
    checks = client.post("/api/evaluate", json={"document": raw}).get_json()["checks"]
    assert not [c["id"] for c in checks if c["severity"] in ("fault", "danger")]
    done = client.post("/api/repairs", json={"document": flawless_raw()}).get_json()
    assert done == {"changes": [], "failing_before": 0, "failing_after": 0, "left": []}


def test_the_light_alone_is_designed_anew_over_http(client: FlaskClient) -> None:
    job = client.post("/api/designs/again", json={"document": demo_raw(), "scope": "light"}).get_json()
    best = ended(client, job)["result"]["set_ups"][0]["plan"]
    hot = [f for f in demo_raw()["fixtures"] if f["lamp_id"].startswith("halogen")]
    kept = [f for f in best["fixtures"] if f["lamp_id"].startswith("halogen")]
    assert [f["position_m"] for f in kept] == [f["position_m"] for f in hot]
    assert best["room"]["day_temperature_c"] == demo_raw()["room"]["day_temperature_c"]


def test_too_many_animals_are_refused_with_the_floor_they_need(client: FlaskClient) -> None:
    asked = {"species_id": "centrochelys-sulcata", "count": 4}
    refused = client.post("/api/designs/enclosure", json=asked)
    assert refused.status_code == 422
    (field,) = refused.get_json()["fields"]
    assert field["pointer"] == "/count"
    assert "4 of them need about" in field["message"]
    assert "the largest enclosure computed here is 500 × 300 cm: plan for fewer" in field["message"]
    # Nor does a design of so many end in anything else.
    begun = client.post("/api/designs", json={**ASK, **asked, "kind": None})
    assert begun.status_code == 202
    assert ended(client, begun.get_json())["problem_at"] == "/count"


def test_every_animal_in_any_number_is_answered(client: FlaskClient) -> None:
    species = [s["id"] for s in client.get("/api/catalog").get_json()["species"]]
    for number, species_id in enumerate(species):
        for count in (1, 2 + number % 7, 50):
            asked = {"species_id": species_id, "count": count}
            answer = client.post("/api/designs/enclosure", json=asked)
            assert answer.status_code in (200, 422), (asked, answer.get_json())
            assert answer.status_code == 200 or count > 1
