"""Starting a plan over HTTP."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.builders import demo_raw, flawless_raw

ASK: dict[str, Any] = {
    "name": "Start",
    "species_id": "crotaphytus-collaris",
    "room": {"day_temperature_c": 22, "night_temperature_c": 18, "relative_humidity": 0.45},
}


def test_the_proposed_enclosure_is_larger_for_more_animals(client: FlaskClient) -> None:
    one = client.post("/api/starter/enclosure", json={"species_id": "testudo-hermanni"}).get_json()
    two = client.post(
        "/api/starter/enclosure", json={"species_id": "testudo-hermanni", "count": 2}
    ).get_json()
    assert one["kind"] == "table"
    assert one["source"]
    floor = [a["size"]["length_m"] * a["size"]["depth_m"] for a in (one, two)]
    assert floor[1] == pytest.approx(1.5 * floor[0], rel=0.03)


def test_a_layout_is_a_plan_that_can_be_stored_and_keeps_its_room(client: FlaskClient) -> None:
    ask = {**ASK, "room": {**ASK["room"], "winter": {**ASK["room"], "day_temperature_c": 17}}}
    document = client.post("/api/starter", json=ask).get_json()["document"]
    assert document["name"] == "Start"
    assert document["room"]["winter"]["day_temperature_c"] == 17
    stored = client.post("/api/plans", json={"document": document, "summary": "Started"})
    assert stored.status_code == 201
    assert client.post("/api/evaluate", json={"document": document}).get_json()["checks"]


@pytest.mark.parametrize(
    ("change", "status", "word"),
    [
        ({"species_id": "nobody"}, 404, "species does not exist"),
        ({"stage": "larva"}, 422, "adult"),
        (
            {"species_id": "python-regius", "size": {"length_m": 0.3, "depth_m": 0.3, "height_m": 0.3}},
            422,
            "too small",
        ),
        ({"size": {"length_m": 0.1, "depth_m": 1, "height_m": 1}}, 422, "length_m"),
        ({"kind": "tin"}, 422, "kind"),
    ],
)
def test_what_cannot_be_started_says_why(
    client: FlaskClient, change: dict[str, Any], status: int, word: str
) -> None:
    answer = client.post("/api/starter", json={**ASK, **change})
    assert answer.status_code == status
    assert word in answer.get_data(as_text=True)


def test_one_change_at_a_time_until_nothing_fails(client: FlaskClient) -> None:
    first = client.post("/api/improve", json={"document": demo_raw()}).get_json()
    assert first["failing"] > 0
    assert first["fix"]["patch"]
    done = client.post("/api/improve", json={"document": flawless_raw()}).get_json()
    assert done == {"failing": 0, "fix": None}
