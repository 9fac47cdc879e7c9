"""Fixes, intervals and all conditions, over HTTP."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.builders import demo_raw, flawless_raw
from tests.web.patches import applied


def fixes(client: FlaskClient, raw: dict[str, Any], about: str) -> list[dict[str, Any]]:
    answer = client.post("/api/fixes", json={"document": raw, "about_id": about})
    assert answer.status_code == 200
    found: list[dict[str, Any]] = answer.get_json()["fixes"]
    return found


def cured(client: FlaskClient, raw: dict[str, Any], about: str) -> dict[str, Any]:
    """The evaluation after the first fix, which must fix what it is about."""
    first = fixes(client, raw, about)[0]
    assert first["breaks"] == []
    after: dict[str, Any] = client.post(
        "/api/evaluate", json={"document": applied(raw, first["patch"])}
    ).get_json()
    assert about not in [f["id"] for f in after["findings"]]
    assert about not in [v["id"] for v in after["checks"] if v["severity"] in ("fault", "danger")]
    return after


def test_a_failing_check_is_fixed_by_moving_the_probe(client: FlaskClient) -> None:
    cured(client, demo_raw(), "probe-far:main")


def test_a_hide_is_added(client: FlaskClient) -> None:
    raw = flawless_raw()
    raw["furnishings"] = [f for f in raw["furnishings"] if f["id"] != "cool-hide"]
    first = fixes(client, raw, "no-hide:cool")[0]
    assert [s["op"] for s in first["patch"]] == ["add"]
    assert first["patch"][0]["path"] == "/furnishings/-"
    assert first["value"] is None
    cured(client, raw, "no-hide:cool")


def test_a_thermostat_is_added_and_bound(client: FlaskClient) -> None:
    raw = flawless_raw()
    raw["thermostats"] = []
    raw["fixtures"][0]["thermostat_id"] = None
    raw["fixtures"][0]["power_w"] = 50.0
    first = fixes(client, raw, "uncontrolled:basking-lamp")[0]
    assert {s["path"] for s in first["patch"]} == {"/thermostats/-", "/fixtures/0/thermostat_id"}
    cured(client, raw, "uncontrolled:basking-lamp")


def test_a_lamp_is_taken_out(client: FlaskClient) -> None:
    raw = flawless_raw()
    raw["animal"].update(species_id="salamandra-salamandra", body_length_m=0.10, back_height_m=0.02)
    first = fixes(client, raw, "heat-avoided:enclosure")[0]
    assert [s["op"] for s in first["patch"]] == ["remove"]


def test_up_to_three_changes_come_with_their_intervals(client: FlaskClient) -> None:
    raw = flawless_raw()
    raw["fixtures"][1]["screen_id"] = "fine-0.5-2.0"
    found = fixes(client, raw, "basking:uvi")
    assert 2 <= len(found) <= 3
    for fix in found:
        assert fix["interval"]["low"] < fix["value"] < fix["interval"]["high"]
        assert fix["sentence"][-1]["text"] == ")."
    one = client.post("/api/fixes", json={"document": raw, "about_id": "basking:uvi", "most": 1})
    assert len(one.get_json()["fixes"]) == 1


def test_intervals_are_seeded_and_cover_the_figure(client: FlaskClient) -> None:
    first = client.post("/api/intervals", json={"document": demo_raw()}).get_json()
    again = client.post("/api/intervals", json={"document": demo_raw()}).get_json()
    assert first == again
    assert first["draws"] >= 200
    answer = client.post("/api/evaluate", json={"document": demo_raw()}).get_json()
    values = {v["id"]: v["value"] for v in answer["checks"]}
    assert {i["check_id"] for i in first["intervals"]} == set(values)
    for one in first["intervals"]:
        assert one["low"] - 1e-9 <= values[one["check_id"]] <= one["high"] + 1e-9
        assert 0 <= one["probability"] <= 1


def test_scenarios_name_their_conditions_and_what_was_ignored(client: FlaskClient) -> None:
    table = client.post("/api/scenarios", json={"document": flawless_raw()}).get_json()
    assert table["situations"] == ["now", "day", "winter", "summer", "worn"]
    assert table["not_applicable"] == [{"situation": "grown", "why": "The animal is adult."}]
    night = next(r for r in table["rows"] if r["check_id"] == "night:air_temperature")
    assert night["met"] == "sometimes"
    assert [c["met"] for c in night["cells"]] == [True, True, False, True, True]


def test_the_summary_and_the_order_of_checks(client: FlaskClient) -> None:
    answer = client.post("/api/evaluate", json={"document": demo_raw()}).get_json()
    said = "".join(p.get("text", "") for p in answer["summary"])
    assert said.startswith("Do not put the animal in: the basking spot surface is too hot")
    assert answer["checks"][0]["id"] == "basking:surface_temperature"
    assert answer["checks"][0]["severity"] == "danger"
    assert 0 < answer["night_humidity"] < 1


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"stage": "egg"}, "/animal/stage"),
        ({"count": 0}, "/animal/count"),
        ({"school": "hearsay"}, "/animal/school"),
        ({"species_id": "nessie"}, "/animal/species_id"),
    ],
)
def test_animals_that_cannot_be_are_named(
    client: FlaskClient, change: dict[str, object], pointer: str
) -> None:
    raw = demo_raw()
    raw["animal"].update(change)
    refused = client.post("/api/evaluate", json={"document": raw})
    assert refused.status_code == 422
    assert pointer in [f["pointer"] for f in refused.get_json()["fields"]]


def test_a_school_and_a_stage_change_what_is_needed(client: FlaskClient) -> None:
    def night(**animal: object) -> tuple[float, float]:
        raw = demo_raw()
        raw["animal"].update(animal)
        answer = client.post("/api/evaluate", json={"document": raw}).get_json()
        need = next(v["need"] for v in answer["checks"] if v["id"] == "night:air_temperature")
        return need["low"], need["high"]

    assert night() == (15.0, 24.0)
    assert night(stage="young") == (17.0, 24.0)
    # From a night of March to one of July on the southern plains.
    assert night(school="home") == (3.0, 22.0)
