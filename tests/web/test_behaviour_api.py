"""Behaviour as a reading: beside the predicted climate of the hour, and in words that are hints."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.core.plan import Point
from noonshade.core.readings.behaviour import Sighting, find_hints, find_seat
from tests.builders import flawless
from tests.evaluated import evaluate

URL = "/api/plans/collared-lizard/behaviour"
PLACES = evaluate(flawless()).places
AT: dict[str, Point] = {p.id: p.position_m for p in PLACES}


def seats(place: str, count: int) -> list[Sighting]:
    return [Sighting("seat", position_m=AT[place])] * count


@pytest.mark.parametrize(
    ("sightings", "expected"),
    [
        (seats("basking", 4), ["too_few"]),
        (seats("basking", 6), ["always_basking"]),
        ([Sighting("basking", 55.0)] * 5, ["always_basking"]),
        (seats("cool_end", 6), ["never_basking"]),
        ([Sighting("basking", 0.0)] * 5, ["never_basking"]),
        (seats("warm-hide", 6), ["never_basking", "hides"]),
        ([Sighting("hidden")] * 6, ["never_basking", "hides"]),
        ([*seats("basking", 3), *seats("cool_end", 3)], ["moves"]),
        ([*seats("basking", 3), *seats("cool_end", 3), *[Sighting("gaping")] * 2], ["gapes"]),
    ],
)
def test_what_sightings_may_mean(sightings: list[Sighting], expected: list[str]) -> None:
    assert [h.id for h in find_hints(sightings, PLACES)] == expected


def test_one_sits_at_the_nearest_place_or_at_none() -> None:
    x, y, z = AT["basking"]
    near = find_seat(PLACES, (x + 0.02, y, z))
    assert near is not None
    assert near.id == "basking"
    assert find_seat(PLACES, (0.75, 0.05, 0.58)) is None
    assert find_seat([], AT["basking"]) is None


def test_no_hint_is_a_diagnosis_and_illness_goes_to_a_veterinarian() -> None:
    gapes = find_hints([Sighting("gaping")] * 6, PLACES)[0]
    assert "veterinarian" in gapes.text


def put(client: FlaskClient, key: str, **values: Any) -> Any:
    return client.put(URL, json={"id": key, "at": "2026-03-14T13:00:00+01:00", **values})


def test_sightings_stand_beside_the_climate_of_their_hour(client: FlaskClient) -> None:
    assert client.get(URL).get_json() == {"seen": [], "hints": []}
    x, y, z = AT["basking"]
    where = {"x_m": x, "y_m": y, "z_m": z}
    assert put(client, "noon", kind="seat", at_m=where).status_code == 200
    put(client, "night", kind="seat", at_m=where, at="2026-03-14T03:00:00+01:00")
    put(client, "hour", kind="basking", minutes=20)
    found = client.get(URL).get_json()
    seen = {s["sighting"]["id"]: s for s in found["seen"]}
    assert seen["noon"]["place_label"] == "Basking spot"
    assert seen["noon"]["surface_c"] > seen["night"]["surface_c"] + 15
    assert seen["night"]["uvi"] == 0.0
    assert seen["hour"]["place_label"] == "Basking spot"
    assert found["hints"][0]["id"] == "too_few"
    # Sent again it is changed; taken out it can be brought back.
    put(client, "hour", kind="basking", minutes=25)
    assert len(client.get(URL).get_json()["seen"]) == 3
    assert client.delete("/api/sightings/hour").status_code == 204
    assert client.delete("/api/sightings/hour").status_code == 404
    assert len(client.get(URL).get_json()["seen"]) == 2
    put(client, "hour", kind="basking", minutes=25)
    assert len(client.get(URL).get_json()["seen"]) == 3


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"kind": "seat"}, "the place it sat at"),
        ({"kind": "basking"}, "minutes basking"),
        ({"kind": "basking", "minutes": 70}, "/minutes"),
        ({"kind": "dancing"}, "/kind"),
        ({"kind": "gaping", "at": "2026-03-14T13:00:00"}, "/at"),
    ],
)
def test_a_wrong_sighting_is_named(client: FlaskClient, wrong: dict[str, Any], words: str) -> None:
    answer = put(client, "x", **wrong)
    assert answer.status_code == 422
    assert words in answer.get_json()["detail"]
    assert client.put("/api/plans/nobody/behaviour", json={}).status_code == 422
