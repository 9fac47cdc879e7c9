"""Animals, the logbook and its photographs, over HTTP."""

from __future__ import annotations

import io
import json
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image

from noonshade.formats import photograph as photograph_module
from noonshade.web.app import NoonShade
from tests.web.pictures import jpeg, png

ANIMAL = {
    "id": "ember",
    "name": "Ember",
    "plan_id": "collared-lizard",
    "species_id": "crotaphytus-collaris",
}


def animal(client: FlaskClient, **values: Any) -> Any:
    return client.put("/api/animals", json={**ANIMAL, **values})


def write(client: FlaskClient, key: str, kind: str = "note", **values: Any) -> Any:
    at = values.pop("at", "2026-03-14T13:00:00+01:00")
    return client.put("/api/logbook", json={"id": key, "kind": kind, "at": at, **values})


def found(client: FlaskClient, **query: Any) -> list[str]:
    answer = client.get("/api/logbook", query_string=query)
    assert answer.status_code == 200, answer.get_json()
    return [stored["entry"]["id"] for stored in answer.get_json()["entries"]]


def test_entries_are_written_changed_taken_out_and_brought_back(client: FlaskClient) -> None:
    animal(client)
    assert write(client, "a", text="Moved the slab").status_code == 200
    write(client, "b", "weight", value=41.5, animal_id="ember", plan_id="collared-lizard")
    write(client, "a", text="Moved the slab back")
    assert found(client) == ["b", "a"]
    first = client.get("/api/logbook?animal=ember").get_json()
    assert first["total"] == 1
    assert first["entries"][0]["entry"]["value"] == 41.5
    assert client.delete("/api/logbook/a").status_code == 204
    assert client.delete("/api/logbook/a").status_code == 404
    assert found(client) == ["b"]
    write(client, "a", text="Moved the slab back")
    assert found(client) == ["b", "a"]


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ({"kind": "weight"}, "0.01 and 500000 g"),
        ({"kind": "weight", "value": -3}, "0.01 and 500000 g"),
        ({"kind": "note", "text": " "}, "write what there is to say"),
        ({"kind": "meal", "food": "crickets"}, "eaten or partly or refused"),
        ({"kind": "shed", "outcome": "eaten"}, "cannot be said of kind shed"),
        ({"kind": "note", "text": "x", "value": 3.0}, "has no value"),
        ({"kind": "note", "text": "x", "at": "2026-02-30T10:00:00+00:00"}, "a date and time"),
        ({"kind": "note", "text": "x", "at": "2026-02-28T10:00:00"}, "with its offset"),
        ({"kind": "dance", "text": "x"}, "must be one of"),
    ],
)
def test_what_cannot_be_is_refused_by_name(client: FlaskClient, values: dict[str, Any], said: str) -> None:
    answer = write(client, "a", **values)
    assert answer.status_code == 422
    assert said in answer.get_json()["detail"]
    assert found(client) == []


def test_an_entry_of_nobody_is_refused(client: FlaskClient) -> None:
    answer = write(client, "a", text="x", animal_id="nobody")
    assert answer.status_code == 404
    assert "refers to a record that does not exist" in answer.get_json()["detail"]


def test_words_are_found_by_their_beginnings_in_text_food_and_names(client: FlaskClient) -> None:
    animal(client, name="Ember")
    write(client, "a", text="Ate nothing; slept in the höhle", at="2026-03-01T10:00:00+01:00")
    write(client, "b", "meal", food="five crickets", outcome="eaten", animal_id="ember")
    write(client, "c", text="A cricket ran away", at="2026-03-20T10:00:00+01:00")
    assert found(client, words="cricket") == ["c", "b"]
    assert found(client, words="Crick Five") == ["b"]
    assert found(client, words="HOHLE") == ["a"]
    assert found(client, words="ember") == ["b"]
    # What a search means to the database stays a word.
    for odd in ('" OR 1', "text:", "a NEAR b", "*", "'); DROP", "-"):
        found(client, words=odd)
    assert found(client, words="zebra") == []
    # Changed and removed words are no longer found.
    write(client, "c", text="All quiet", at="2026-03-20T10:00:00+01:00")
    assert found(client, words="cricket") == ["b"]


def test_entries_are_found_by_kind_and_by_day_of_a_time_zone(client: FlaskClient) -> None:
    # Half past midnight in summer time is still the day before in UTC.
    write(client, "late", text="x", at="2026-07-02T00:30:00+02:00")
    write(client, "early", "shed", at="2026-07-01T23:30:00+02:00")
    day = {"since": "2026-07-02", "until": "2026-07-02"}
    assert found(client, **day, zone="Europe/Berlin") == ["late"]
    assert found(client, **day, zone="UTC") == []
    assert found(client, kinds="shed,illness") == ["early"]
    assert client.get("/api/logbook?zone=Moon/Crater").status_code == 422
    assert client.get("/api/logbook?kinds=dance").status_code == 422
    assert "calendar" in client.get("/api/logbook?since=2026-02-29").get_json()["detail"]


def test_a_day_of_a_changed_clock_has_23_or_25_hours(client: FlaskClient) -> None:
    for hour in range(27):
        # From midnight of 29 March on, when clocks go forward, by the hour.
        day, clock = divmod(hour + 23, 24)
        write(client, f"h{hour}", text="x", at=f"2026-03-{28 + day}T{clock:02}:00:00+00:00")
    day = {"since": "2026-03-29", "until": "2026-03-29", "zone": "Europe/Berlin"}
    assert len(found(client, **day)) == 23


def test_pages_follow_each_other_without_gap(client: FlaskClient) -> None:
    for i in range(7):
        write(client, f"e{i}", text="x")
    pages = [found(client, most=3, skip=skip) for skip in (0, 3, 6)]
    assert [len(p) for p in pages] == [3, 3, 1]
    assert sorted(key for page in pages for key in page) == [f"e{i}" for i in range(7)]


def test_the_logbook_is_had_as_csv_and_json(client: FlaskClient) -> None:
    animal(client)
    write(client, "a", "weight", value=41.5, animal_id="ember", plan_id="collared-lizard", text="=SUM(A1)")
    write(client, "b", "length", value=0.105, animal_id="ember")
    rows = client.get("/api/logbook.csv").get_data(as_text=True).splitlines()
    assert rows[0].startswith("at,enclosure,animal,kind,weight_g,length_cm")
    assert any(",Ember,weight,41.5," in row and "'=SUM(A1)" in row for row in rows)
    assert any(",length,,10.5," in row for row in rows)
    whole = json.loads(client.get("/api/logbook.json?kinds=weight").get_data())
    assert (whole["format"], whole["version"]) == ("noonshade-logbook", 1)
    assert [e["animal"] for e in whole["entries"]] == ["Ember"]


# -- animals -----------------------------------------------------------------------


def test_animals_have_a_course_of_weights_and_what_it_says(client: FlaskClient) -> None:
    animal(client, came_on="2026-01-10")
    for day, grams in ((1, 40.0), (15, 38.0), (28, 35.5)):
        write(client, f"w{day}", "weight", value=grams, animal_id="ember", at=f"2026-02-{day:02}T10:00:00Z")
    known = client.get("/api/animals").get_json()["animals"][0]
    assert [p["value"] for p in known["weights"]] == [40.0, 38.0, 35.5]
    assert known["trend"]["id"] == "losing"
    assert "within the last 60 days: see a veterinarian" in known["trend"]["text"]
    # The same weights in the rest of its enclosure are described differently, and no less earnestly.
    document = client.get("/api/plans/collared-lizard").get_json()["document"]
    document["year"] = {"brumation": {"begins_week": 50, "weeks": 12, "low_c": 7.0, "high_c": 14.0}}
    body = {"document": document, "base_revision": 1, "summary": "Rest"}
    assert client.put("/api/plans/collared-lizard", json=body).status_code == 200
    resting = client.get("/api/animals").get_json()["animals"][0]["trend"]
    assert resting["id"] == "losing"
    assert "in its rest" in resting["text"]
    assert "end the rest and see a veterinarian" in resting["text"]
    assert client.delete("/api/animals/ember").status_code == 204
    assert client.get("/api/animals").get_json()["animals"] == []
    assert len(found(client)) == 3


def test_an_animal_is_refused_where_it_cannot_be(client: FlaskClient) -> None:
    assert animal(client, species_id="draco-volans-magnus").status_code == 422
    assert animal(client, plan_id="nowhere").status_code == 404
    wrong = animal(client, hatched_on="2026-03-01", came_on="2026-02-01")
    assert "in that order" in wrong.get_json()["detail"]


# -- photographs -------------------------------------------------------------------


def send(client: FlaskClient, data: bytes, key: str = "p1") -> Any:
    return client.post(f"/api/logbook/a/photos?id={key}", data=data, content_type="image/jpeg")


def test_a_photograph_is_stored_small_upright_and_without_its_place(
    client: FlaskClient, app: NoonShade
) -> None:
    write(client, "a", text="Shed")
    sent = jpeg(4000, 2000, rotated=True, place=True)
    assert b"GPSVersion-mark" in sent
    answer = send(client, sent)
    assert answer.status_code == 201, answer.get_json()
    # It was taken with the camera on its side.
    assert (answer.get_json()["width"], answer.get_json()["height"]) == (800, 1600)
    stored = client.get("/api/photos/p1")
    assert stored.content_type == "image/jpeg"
    with Image.open(io.BytesIO(stored.data)) as image:
        assert image.size == (800, 1600)
        assert not image.getexif()
        assert "exif" not in image.info
    assert b"GPSVersion-mark" not in stored.data
    with Image.open(io.BytesIO(client.get("/api/photos/p1?size=small").data)) as image:
        assert max(image.size) == 320
    listed = client.get("/api/logbook").get_json()["entries"][0]["photos"]
    assert [p["id"] for p in listed] == ["p1"]
    client.delete("/api/photos/p1")
    assert client.get("/api/logbook").get_json()["entries"][0]["photos"] == []
    assert client.post("/api/photos/p1/bring-back").status_code == 200
    assert len(client.get("/api/logbook").get_json()["entries"][0]["photos"]) == 1


def test_a_picture_with_a_clear_ground_is_laid_on_white(client: FlaskClient) -> None:
    write(client, "a", text="x")
    assert send(client, png(40, 30, "RGBA", (255, 0, 0, 0))).status_code == 201
    with Image.open(io.BytesIO(client.get("/api/photos/p1").data)) as image:
        pixel = image.getpixel((5, 5))
    assert isinstance(pixel, tuple)
    assert min(pixel) > 250


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "not a JPEG, PNG or WebP"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not a JPEG, PNG or WebP"),
        (b"GIF89a" + bytes(40), "not a JPEG, PNG or WebP"),
        (jpeg(400, 300)[:400], "damaged"),
        (png(400, 300)[:200], "damaged"),
        (png(2, 2, claimed=(60000, 60000)), "pixels"),
    ],
)
def test_what_is_no_photograph_is_refused(client: FlaskClient, data: bytes, said: str) -> None:
    write(client, "a", text="x")
    answer = send(client, data)
    assert answer.status_code == 422
    assert said in answer.get_json()["detail"]
    assert client.get("/api/logbook").get_json()["entries"][0]["photos"] == []


def test_a_picture_that_is_too_large_is_refused(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    write(client, "a", text="x")
    assert send(client, bytes(photograph_module.LARGEST_BYTES + 1)).status_code == 413
    monkeypatch.setattr(photograph_module, "LARGEST_PIXELS", 100)
    answer = send(client, jpeg(20, 20))
    assert "20 × 20 pixels" in answer.get_json()["detail"]
    assert client.post("/api/logbook/none/photos?id=p1", data=jpeg(9, 9)).status_code == 404


def test_a_damaged_or_missing_file_is_named_and_never_shown(client: FlaskClient, app: NoonShade) -> None:
    write(client, "a", text="x")
    send(client, jpeg(20, 20))
    book = app.services.logbook
    path = book.files.path(book.photos.get("p1").hash)
    whole = path.read_bytes()
    path.write_bytes(whole[:-5])
    assert "damaged" in client.get("/api/photos/p1").get_json()["detail"]
    path.unlink()
    assert client.get("/api/photos/p1").status_code == 404
    # The same picture, sent again, is a file again.
    send(client, jpeg(20, 20), "p2")
    assert client.get("/api/photos/p1").data == whole
    for trick in ("../../etc/passwd", "..%2f..%2fnoonshade.db", "p1/../../noonshade.db"):
        assert client.get(f"/api/photos/{trick}").status_code == 404
    with pytest.raises(ValueError, match="not the hash"):
        book.files.path("../../noonshade.db")


# -- the line of time --------------------------------------------------------------


def test_everything_that_happened_to_an_enclosure_stands_on_one_line(client: FlaskClient) -> None:
    animal(client)
    write(
        client,
        "a",
        "meal",
        food="crickets",
        outcome="refused",
        animal_id="ember",
        plan_id="collared-lizard",
    )
    write(client, "b", "equipment", text="New lid", plan_id="collared-lizard")
    client.put(
        "/api/plans/collared-lizard/readings",
        json={
            "readings": [
                {
                    "id": "r1",
                    "revision": 1,
                    "kind": "room_air",
                    "value": 20.0,
                    "place": "the room",
                    "taken_at": "2026-03-13T12:00:00+01:00",
                }
            ]
        },
    )
    events = client.get("/api/plans/collared-lizard/timeline").get_json()["events"]
    by_lane = {e["lane"]: e for e in events}
    assert [e["at"] for e in events] == sorted(e["at"] for e in events)
    assert by_lane["plan"]["text"] == "Demo plan"
    assert by_lane["readings"]["text"] == "1 reading: the room"
    assert (by_lane["meals"]["text"], by_lane["meals"]["worry"]) == ("crickets, refused", True)
    assert by_lane["care"]["entry_id"] == "b"
    assert client.get("/api/plans/nowhere/timeline").status_code == 404
