"""The room over HTTP: climate, racks, forecast; named revisions and comparisons."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.services.results import Computation
from noonshade.web.app import NoonShade
from tests.builders import demo_raw, flawless_raw

URL = "/api/plans/collared-lizard"


def climate(warmest: float = 30.0, month: int = 1) -> dict[str, Any]:
    return {
        "months": [
            {
                "day_temperature_c": warmest if n == 7 else 20.0,
                "night_temperature_c": 16.0,
                "relative_humidity": 0.5,
            }
            for n in range(1, 13)
        ],
        "month": month,
        "tariff_per_kwh": 0.25,
    }


def test_the_room_is_not_set_at_first(client: FlaskClient) -> None:
    room = client.get("/api/room").get_json()
    assert room["climate"] is None
    assert room["followed"] is None
    assert room["layout"]["racks"] == []


def test_plans_that_follow_take_the_climate_as_a_revision(client: FlaskClient) -> None:
    # Of the demo plans two follow the room.
    answer = client.put("/api/room/climate", json={"climate": climate(31.0, month=7)}).get_json()
    assert sorted(answer["changed"]) == ["collared-lizard", "corn-snake"]
    plan = client.get(URL).get_json()
    room = plan["document"]["room"]
    assert plan["revision"] == 2
    assert room["day_temperature_c"] == 31.0
    assert room["summer"]["day_temperature_c"] == 31.0
    assert room["winter"]["day_temperature_c"] == 20.0
    assert room["tariff_per_kwh"] == 0.25
    assert len(room["months"]) == 12
    assert client.get("/api/plans/whites-tree-frog").get_json()["revision"] == 1
    # Nothing new, nothing written.
    again = client.put("/api/room/climate", json={"climate": climate(31.0, month=7)}).get_json()
    assert again["changed"] == []
    everyone = client.put(
        "/api/room/climate", json={"climate": climate(31.0, month=7), "every_plan": True}
    ).get_json()
    assert len(everyone["changed"]) == 6
    assert client.get("/api/room").get_json()["followed"] == room


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"months": []}, "/climate/months"),
        ({"month": 13}, "/climate/month"),
        ({"tariff_per_kwh": -1}, "/climate/tariff_per_kwh"),
    ],
)
def test_a_climate_that_cannot_be_is_refused(
    client: FlaskClient, change: dict[str, Any], pointer: str
) -> None:
    answer = client.put("/api/room/climate", json={"climate": {**climate(), **change}})
    assert answer.status_code == 422
    assert answer.get_json()["fields"][0]["pointer"] == pointer
    assert client.get("/api/room").get_json()["climate"] is None


def test_enclosures_stand_where_they_were_put_and_in_one_place_only(client: FlaskClient) -> None:
    rack = {"id": "a", "label": "Left", "shelves": [["corn-snake"], ["collared-lizard"]]}
    layout = {"format": "noonshade-room", "version": 2, "racks": [rack]}
    assert client.put("/api/room/layout", json=layout).status_code == 200
    assert client.get("/api/room").get_json()["layout"] == layout
    twice = {**layout, "racks": [rack, {**rack, "id": "b"}]}
    answer = client.put("/api/room/layout", json=twice)
    assert answer.status_code == 422
    assert "more than one place" in answer.get_json()["detail"]
    assert client.get("/api/room").get_json()["layout"] == layout


def test_the_outlook_has_twelve_months_and_what_is_due(client: FlaskClient) -> None:
    raw = flawless_raw()
    raw["room"]["months"] = climate(38.0)["months"]
    raw["fixtures"][1]["hours"] = 20000
    found = client.post("/api/forecast", json={"document": raw}).get_json()
    assert [m["number"] for m in found["months"]] == list(range(1, 13))
    assert found["months"][6]["failing"] > found["months"][0]["failing"]
    assert [d["kind"] for d in found["due"]] == ["replace_lamp", "measure"]


def test_a_revision_gets_a_name_and_keeps_it(client: FlaskClient) -> None:
    body = {"document": flawless_raw(), "base_revision": 1, "summary": "Corrected"}
    assert client.put(URL, json=body).get_json()["revision"] == 2
    assert client.put(f"{URL}/revisions/1/name", json={"name": "  As found "}).status_code == 204
    names = {r["number"]: r["name"] for r in client.get(f"{URL}/revisions").get_json()["revisions"]}
    assert names == {1: "As found", 2: ""}
    assert client.get(f"{URL}/revisions/1").get_json()["name"] == "As found"
    assert "“As found”" in client.get(f"{URL}/report?revision=1").get_data(as_text=True)
    assert client.put(f"{URL}/revisions/9/name", json={"name": "x"}).status_code == 404
    assert client.put(f"{URL}/revisions/1/name", json={"name": "x" * 81}).status_code == 422
    client.put(f"{URL}/revisions/1/name", json={"name": ""})
    assert client.get(f"{URL}/revisions/1").get_json()["name"] == ""


def test_comparing_lists_differences_by_place_and_what_was_changed(client: FlaskClient) -> None:
    body = {"before": demo_raw(), "after": flawless_raw()}
    found = client.post("/api/compare", json=body).get_json()
    assert found["before"]["failing"] == 2
    assert found["after"]["fits"]
    basking = next(p for p in found["places"] if p["id"] == "basking")
    surface = next(f for f in basking["figures"] if f["figure"] == "surface")
    assert surface["difference"] == pytest.approx(surface["after"] - surface["before"])
    assert surface["difference"] < 0
    assert {c["thing"] for c in found["changes"]} == {"Thermostat"}
    assert found["findings_gone"]
    wrong = client.post("/api/compare", json={"before": demo_raw(), "after": {}})
    assert wrong.status_code == 422
    assert wrong.get_json()["fields"][0]["pointer"].startswith("/after")


def test_pins_have_values_also_in_the_ground_and_one_outside_is_empty(client: FlaskClient) -> None:
    raw = demo_raw()
    at = {"x_m": 0.28, "y_m": 0.3, "z_m": 0.3}
    raw["pins"] = [
        {"id": "a", "label": "Over the slab", "at_m": at},
        {"id": "b", "label": "In the ground", "at_m": {**at, "z_m": 0.01}},
        {"id": "c", "label": "Above the lid", "at_m": {**at, "z_m": 0.7}},
    ]
    answer = client.post("/api/evaluate", json={"document": raw}).get_json()
    over, under, outside = answer["pins"]
    for pin in raw["pins"]:
        pin["bead_m"] = 0.02
    thick = client.post("/api/evaluate", json={"document": raw}).get_json()["pins"][0]
    assert thick["air_c"] == over["air_c"]
    # A thick probe follows the air less, and lamps warm it more.
    warmed = [pin["probe_in_beam_c"] - pin["probe_c"] for pin in (over, thick)]
    assert warmed[1] > 1.2 * warmed[0] > 0
    assert thick["probe_c"] - thick["air_c"] > over["probe_c"] - over["air_c"]
    assert over["uvi_facing"] > 3
    assert over["surface_c"] > over["air_c"]
    assert under["depth_m"] == pytest.approx(0.07)
    assert (under["uvi_facing"], under["relative_humidity"]) == (0.0, None)
    assert answer["room_c"] < under["probe_c"] < over["surface_c"]
    assert {v for k, v in outside.items() if k != "id"} == {None}
    assert answer["uv_free_below"] > 0
    assert answer["reach"]["faces"] == []


def test_humidity_and_surfaces_are_among_the_fields(client: FlaskClient) -> None:
    body = {
        "document": demo_raw(),
        "section": {"nx": 20, "nz": 10},
        "plan_view": {"nx": 120, "ny": 60},
    }
    answer = client.post("/api/evaluate", json=body).get_json()
    assert set(answer["section"]["relative_humidity"]) == {"offset", "scale", "data"}
    surface = answer["plan_view"]["surface_c"]
    basking = next(p for p in answer["places"] if p["kind"] == "basking")
    highest = surface["offset"] + surface["scale"] * 65535
    assert highest >= basking["surface_c"] - 1


def test_results_are_shown_as_far_as_they_are_known(app: NoonShade, client: FlaskClient) -> None:
    found = client.get("/api/room/results").get_json()
    assert found["checks_missing"] == found["forecasts_missing"] == len(found["enclosures"]) == 8
    assert all(one["checks"] is None and one["forecast"] is None for one in found["enclosures"])
    results = app.services.results
    results.put(results.compute(Computation("checks", "collared-lizard", 1)))
    results.hold_failure(Computation("forecast", "collared-lizard", 1), "it took too long")
    found = client.get("/api/room/results?shown=corn-snake,collared-lizard").get_json()
    assert (found["checks_missing"], found["forecasts_missing"]) == (7, 7)
    assert results.shown == {"corn-snake", "collared-lizard"}
    lizard = next(one for one in found["enclosures"] if one["plan_id"] == "collared-lizard")
    assert lizard["checks"]["failing"] > 0
    assert lizard["checks"]["cause"]
    assert lizard["forecast"] == {"months": [], "due": [], "problem": "it took too long"}
    assert client.get(f"/api/room/results?shown={'a' * 5000}").status_code == 422
