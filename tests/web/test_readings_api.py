"""Readings over HTTP: rounds, storing without loss or doubles, what is predicted, the fit, and CSV."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.formats.readings_csv import COLUMNS
from noonshade.instruments.meters import drawn_kit
from noonshade.instruments.true_enclosure import TrueEnclosure
from tests.builders import shipped_plan

URL = "/api/plans/collared-lizard"
AT = {"x_m": 1.05, "y_m": 0.3, "z_m": 0.18}
TAKEN = "2026-03-14T14:20:00+01:00"


def reading(key: str, **values: Any) -> dict[str, Any]:
    return {"id": key, "revision": 1, "kind": "air", "value": 26.0, "at_m": AT, "taken_at": TAKEN, **values}


def put(client: FlaskClient, *readings: dict[str, Any]) -> dict[str, Any]:
    answer = client.put(f"{URL}/readings", json={"readings": list(readings)})
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def listed(client: FlaskClient) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"{URL}/readings").get_json()["readings"]
    return found


def document(client: FlaskClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get(URL).get_json()["document"]
    return found


def saved(client: FlaskClient, changed: dict[str, Any]) -> int:
    head = client.get(URL).get_json()["revision"]
    body = {"document": changed, "base_revision": head, "summary": "Edit"}
    answer = client.put(URL, json=body)
    assert answer.status_code == 200, answer.get_json()
    revision: int = answer.get_json()["revision"]
    return revision


# -- storing -------------------------------------------------------------------------


def test_a_reading_sent_twice_is_stored_once_and_may_be_changed(client: FlaskClient) -> None:
    assert put(client, reading("a")) == {"stored": ["a"], "refused": []}
    put(client, reading("a"), reading("b", value=27.0))
    assert [r["reading"]["id"] for r in listed(client)] == ["a", "b"]
    put(client, reading("a", value=25.5, note="door was open"))
    first = listed(client)[0]["reading"]
    assert (first["value"], first["note"]) == (25.5, "door was open")


def test_a_wrong_reading_is_named_and_holds_up_no_other(client: FlaskClient) -> None:
    answer = put(
        client,
        reading("good"),
        reading("hot", value=400.0),
        reading("nowhere", at_m=None),
        reading("when", taken_at="yesterday"),
        reading("local", taken_at="2026-03-14T14:20:00"),
        reading("what", kind="colour"),
        reading("damp", kind="humidity", value=55.0),
        {"id": "empty"},
    )
    assert answer["stored"] == ["good"]
    reasons = {r["id"]: r["reason"] for r in answer["refused"]}
    assert "between -20 and 80 (°C)" in reasons["hot"]
    assert "needs the place" in reasons["nowhere"]
    assert "/taken_at" in reasons["when"]
    assert "with its offset" in reasons["local"]
    assert "/kind" in reasons["what"]
    assert "between 0 and 1 (as a share)" in reasons["damp"]
    assert "empty" in reasons
    assert [r["reading"]["id"] for r in listed(client)] == ["good"]


def test_what_a_reading_was_taken_for_may_be_gone_when_it_arrives(client: FlaskClient) -> None:
    put(client, reading("late", round_id="gone", instrument_id="lost", revision=7))
    stored = listed(client)[0]["reading"]
    assert (stored["round_id"], stored["instrument_id"], stored["revision"]) == (None, None, 1)


def test_a_reading_of_one_enclosure_is_not_taken_for_another(client: FlaskClient) -> None:
    put(client, reading("a"))
    answer = client.put("/api/plans/corn-snake/readings", json={"readings": [reading("a")]}).get_json()
    assert answer["stored"] == []
    assert "belongs to another plan" in answer["refused"][0]["reason"]
    assert client.get("/api/plans/nobody/readings").status_code == 404
    assert client.put("/api/plans/nobody/readings", json={"readings": [reading("a")]}).status_code == 404


def test_a_removed_reading_can_be_brought_back(client: FlaskClient) -> None:
    put(client, reading("a"))
    assert client.delete("/api/readings/a").status_code == 204
    assert listed(client) == []
    assert client.delete("/api/readings/a").status_code == 404
    put(client, reading("a"))
    assert len(listed(client)) == 1


def test_a_reading_keeps_an_instrument_that_was_removed(client: FlaskClient) -> None:
    probe = {"id": "probe", "label": "Grey probe", "kind": "air probe", "accuracy": 0.1}
    client.put("/api/instruments", json=probe)
    put(client, reading("a", instrument_id="probe"))
    client.delete("/api/instruments/probe")
    # Changing it afterwards does not lose what it was read with.
    put(client, reading("a", instrument_id="probe", excluded=True))
    assert listed(client)[0]["reading"]["instrument_id"] == "probe"
    assert "Grey probe" in client.get(f"{URL}/readings.csv").text


def test_an_accuracy_counts_for_what_the_instrument_is_made_for(client: FlaskClient) -> None:
    client.put("/api/instruments", json={"id": "p", "label": "P", "kind": "air probe", "accuracy": 5})
    pairs = [("air", "p"), ("air", None), ("uvi_facing", "p"), ("uvi_facing", None)]
    asked = [{"kind": kind, "at_m": AT, "instrument_id": key} for kind, key in pairs]
    body = {"document": document(client), "readings": asked}
    found = [f["expected"] for f in client.post("/api/predictions", json=body).get_json()["predictions"]]
    assert found[0]["high"] > found[1]["high"] + 1.0
    assert found[2] == found[3]


def test_readings_as_csv(client: FlaskClient) -> None:
    probe = {"id": "probe", "label": "Grey probe", "kind": "air probe", "accuracy": 0.5}
    client.put("/api/instruments", json=probe)
    put(
        client,
        reading("a", place="Cool end", instrument_id="probe", note="=1+1"),
        reading("b", kind="humidity", value=0.42, excluded=True),
        reading("c", kind="room_air", value=21.0, at_m=None),
    )
    answer = client.get(f"{URL}/readings.csv")
    assert answer.mimetype == "text/csv"
    rows = list(csv.DictReader(io.StringIO(answer.text)))
    assert tuple(rows[0]) == COLUMNS
    assert (rows[0]["value"], rows[0]["unit"], rows[0]["instrument"]) == ("26", "°C", "Grey probe")
    assert rows[0]["note"] == "'=1+1"
    assert (rows[1]["value"], rows[1]["unit"], rows[1]["excluded"]) == ("42", "%", "yes")
    assert rows[2]["x_m"] == ""
    # Every stored number can be had back from the file.
    assert [float(r["z_m"] or 0) for r in rows] == [0.18, 0.18, 0.0]


# -- instruments ---------------------------------------------------------------------


def test_instruments_are_stored_changed_removed_and_brought_back(client: FlaskClient) -> None:
    meter = {"id": "m", "label": "Blue meter", "kind": "UV meter", "calibrated": "2026-01-10"}
    assert client.put("/api/instruments", json=meter).status_code == 200
    client.put("/api/instruments", json={**meter, "accuracy": 0.1})
    (found,) = client.get("/api/instruments").get_json()["instruments"]
    assert (found["accuracy"], found["calibrated"]) == (0.1, "2026-01-10")
    assert client.delete("/api/instruments/m").status_code == 204
    assert client.get("/api/instruments").get_json()["instruments"] == []
    client.put("/api/instruments", json=meter)
    assert len(client.get("/api/instruments").get_json()["instruments"]) == 1
    for wrong in ({"kind": "ruler"}, {"accuracy": 0}, {"calibrated": "May"}, {"id": "a/b"}):
        assert client.put("/api/instruments", json={**meter, **wrong}).status_code == 422


# -- rounds --------------------------------------------------------------------------


def test_a_reading_round_is_proposed_stored_closed_and_opened(client: FlaskClient) -> None:
    made = client.post(f"{URL}/rounds", json={"most": 5})
    assert made.status_code == 201
    one = made.get_json()
    assert 3 <= len(one["tasks"]) <= 5
    for task in one["tasks"]:
        assert task["expected"]["low"] < task["expected"]["value"] < task["expected"]["high"]
        assert task["why"]
    assert client.get(f"/api/rounds/{one['id']}").get_json() == one
    # What a task predicts is what the same reading is compared with later.
    asked = [{"kind": t["kind"], "at_m": t["at_m"]} for t in one["tasks"]]
    body = {"document": document(client), "readings": asked}
    ahead = client.post("/api/predictions", json=body).get_json()["predictions"]
    assert [a["expected"]["value"] for a in ahead] == pytest.approx(
        [t["expected"]["value"] for t in one["tasks"]]
    )
    # One that nothing was read for gives way to the next; one with readings stays.
    two = client.post(f"{URL}/rounds", json={}).get_json()
    assert client.get(f"/api/rounds/{one['id']}").status_code == 404
    put(client, reading("a", round_id=two["id"], task=two["tasks"][0]["id"]))
    three = client.post(f"{URL}/rounds", json={}).get_json()
    rounds = client.get(f"{URL}/readings").get_json()["rounds"]
    assert {r["id"] for r in rounds} == {two["id"], three["id"]}
    closed = client.put(f"/api/rounds/{two['id']}", json={"closed": True}).get_json()
    assert closed["closed_at"]
    assert client.put(f"/api/rounds/{two['id']}", json={"closed": False}).get_json()["closed_at"] is None
    assert client.put("/api/rounds/none", json={"closed": True}).status_code == 404


# -- what is predicted ----------------------------------------------------------------


def test_what_is_foreseen_of_readings_and_why_not(client: FlaskClient) -> None:
    asked = [
        {"kind": "air", "at_m": AT},
        {"kind": "room_air"},
        {"kind": "air", "at_m": {**AT, "x_m": 3.0}},
        {"kind": "surface"},
    ]
    body = {"document": document(client), "readings": asked}
    found = client.post("/api/predictions", json=body).get_json()["predictions"]
    assert found[0]["expected"]["low"] < found[0]["expected"]["value"] < found[0]["expected"]["high"]
    assert found[1]["expected"]["value"] == pytest.approx(21.0)
    assert "outside the enclosure" in found[2]["why_not"]
    assert "needs a place" in found[3]["why_not"]
    # A surer instrument narrows what it should show.
    client.put("/api/instruments", json={"id": "p", "label": "P", "kind": "air probe", "accuracy": 0.05})
    body["readings"] = [{"kind": "air", "at_m": AT, "instrument_id": "p"}]
    sure = client.post("/api/predictions", json=body).get_json()["predictions"][0]["expected"]
    assert sure["high"] - sure["low"] < found[0]["expected"]["high"] - found[0]["expected"]["low"]


# -- readings out of date -----------------------------------------------------------


@pytest.mark.parametrize(
    ("change", "air", "uv"),
    [
        (lambda d: d.update(name="Another name"), None, None),
        (lambda d: d["room"].update(day_temperature_c=25.0), None, None),
        (lambda d: d["fixtures"][1].update(hours=9000.0), None, None),
        (lambda d: d["fixtures"][1].update(hours=0.0), "UV tube", "UV tube"),
        (lambda d: d["thermostats"][0].update(day_set_point_c=33.5), "Thermostat", None),
        (lambda d: d["substrate"].update(depth_m=0.05), "the substrate", "the substrate"),
    ],
)
def test_a_change_says_which_readings_are_due_again(
    client: FlaskClient, change: Any, air: str | None, uv: str | None
) -> None:
    put(client, reading("a"), reading("b", kind="uvi_facing", value=3.0))
    changed = document(client)
    change(changed)
    revision = saved(client, changed)
    assert [r["due"] for r in listed(client)] == [air, uv]
    put(client, reading("c", revision=revision))
    assert next(r["due"] for r in listed(client) if r["reading"]["id"] == "c") is None


# -- the fit ---------------------------------------------------------------------------


def test_without_readings_there_is_nothing_to_fit(client: FlaskClient) -> None:
    answer = client.post(f"{URL}/fit", json={"document": document(client)})
    assert answer.status_code == 422
    assert "take a round first" in answer.get_json()["detail"]


def test_a_reading_round_is_fitted_applied_reported_and_undone(client: FlaskClient) -> None:
    import numpy as np

    from noonshade.core.uncertainty.multipliers import multipliers_of, with_multipliers

    plan = shipped_plan("collared-lizard")
    true = with_multipliers(plan, multipliers_of(plan), {"uv:uv-tube": -0.5, "room": 2.0})
    enclosure, rng = TrueEnclosure(true), np.random.default_rng(5)
    kit = drawn_kit(rng)
    one = client.post(f"{URL}/rounds", json={}).get_json()
    taken = []
    for task in one["tasks"]:
        at = task["at_m"]
        where = None if at is None else (at["x_m"], at["y_m"], at["z_m"])
        value = round(kit.read(enclosure, task["kind"], where, rng), 4)
        made = reading(task["id"].replace(":", "."), kind=task["kind"], value=value, at_m=at)
        taken.append({**made, "round_id": one["id"], "task": task["id"]})
    assert put(client, *taken)["refused"] == []
    # One reading is excluded, and one is of a place that is not there: neither is fitted.
    put(client, reading("aside", value=60.0, excluded=True), reading("far", at_m={**AT, "x_m": 5.0}))
    found = client.post(f"{URL}/fit", json={"document": document(client)}).get_json()
    assert set(found["used"]) == {t["id"] for t in taken}
    by_id = {m["id"]: m for m in found["multipliers"]}
    assert by_id["uv:uv-tube"]["factor"] == pytest.approx(0.607, rel=0.15)
    text = by_id["uv:uv-tube"]["description"]
    assert text[0]["text"] == "UV tube gives "
    assert "UV than its catalogue entry" in text[2]["text"]
    assert by_id["room"]["value"] == pytest.approx(2.0, abs=0.6)
    assert not any(r["stray"] for r in found["residuals"])
    assert found["next"]
    assert found["measured"]["on"] == "2026-03-14"
    assert "basking:uvi" in found["measured"]["measured_checks"]

    # Applied, the plan says of each figure what it rests on.
    fitted = {**document(client), "measured": found["measured"]}
    saved(client, fitted)
    checks = client.post("/api/evaluate", json={"document": document(client)}).get_json()["checks"]
    bases = {v["id"]: v["evidence"] for v in checks}
    assert bases["basking:uvi"] == {"kind": "measured", "on": "2026-03-14"}
    assert {b["kind"] for b in bases.values()} == {"measured", "fitted"}
    picture = client.get(f"{URL}/drawing.svg").text
    assert "Fitted to readings of 2026-03-14." in picture
    assert "not measured" not in picture
    shown = client.post("/api/measured", json={"document": fitted}).get_json()
    assert shown["description"]
    assert shown["stale"] == []
    # Kept beside the catalogue's values, it changes nothing.
    beside = {**fitted, "measured": {**found["measured"], "applied": False}}
    plain = client.post("/api/evaluate", json={"document": {**fitted, "measured": None}}).get_json()
    aside = client.post("/api/evaluate", json={"document": beside}).get_json()
    assert aside["checks"] == plain["checks"]
    assert {v["evidence"]["kind"] for v in aside["checks"]} == {"predicted"}
    # A new tube: what was measured of the old one is gone, the rest holds.
    fitted["fixtures"][1]["hours"] = 0.0
    shown = client.post("/api/measured", json={"document": fitted}).get_json()
    assert [one["id"] for one in shown["stale"]] == ["uv:uv-tube"]


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        (lambda m: m["covariance"].pop(), "/measured/covariance"),
        (lambda m: m["covariance"][0].__setitem__(0, -1.0), "/measured/covariance"),
        (lambda m: m["covariance"][0].__setitem__(1, 50.0), "/measured/covariance"),
        (lambda m: m["values"][1].update(id=m["values"][0]["id"]), "/measured/values"),
        (lambda m: m.update(on="in March"), "/measured/on"),
        (lambda m: m["values"][0].update(value=1e9), "/measured/values/0/value"),
    ],
)
def test_what_was_measured_is_checked(client: FlaskClient, change: Any, pointer: str) -> None:
    measured = {
        "on": "2026-03-14",
        "values": [
            {"id": "room", "about": "21 17", "value": 1.0},
            {"id": "walls", "about": "", "value": 0.1},
        ],
        "covariance": [[0.1, 0.0], [0.0, 0.01]],
    }
    body = {"document": {**document(client), "measured": measured}}
    assert client.post("/api/evaluate", json=body).status_code == 200
    change(measured)
    answer = client.post("/api/evaluate", json=body)
    assert answer.status_code == 422
    assert answer.get_json()["fields"][0]["pointer"] == pointer
