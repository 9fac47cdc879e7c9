"""The simulated day and its what-if tests over HTTP."""

from __future__ import annotations

import base64
import csv
import io
from functools import cache
from typing import Any

import numpy as np
import pytest
from flask.testing import FlaskClient

from noonshade.core.day import Day, simulate_day
from tests.builders import demo_plan, demo_raw
from tests.evaluated import evaluate

SAME = {"day_temperature_c": 20, "night_temperature_c": 20}


def unpacked(layer: dict[str, Any]) -> np.ndarray:
    codes = np.frombuffer(base64.b64decode(layer["data"]), dtype="<u2")
    return np.asarray(layer["offset"] + layer["scale"] * codes)


@cache
def core_day() -> Day:
    return simulate_day(evaluate(demo_plan()))


def test_the_day_is_that_of_the_core(client: FlaskClient) -> None:
    answer = client.post("/api/day", json={"document": demo_raw()}).get_json()
    day = core_day()
    assert answer["samples"] == 288
    assert (answer["dawn_h"], answer["dusk_h"]) == (6.0, 18.0)
    assert [p["id"] for p in answer["places"]] == [p.id for p in day.places]
    for shown, place in zip(answer["places"], day.places, strict=True):
        for name in ("air_c", "surface_c", "uvi", "relative_humidity"):
            exact = getattr(place, name)[4::5]
            assert np.max(np.abs(unpacked(shown[name]) - exact)) <= shown[name]["scale"]
    assert answer["month_cost"] == pytest.approx(day.month_cost)
    assert answer["warm_up_min"] == day.warm_up_min
    assert answer["misted"] is False
    assert answer["dry_min"] is None
    assert answer["energy_error"] < 1e-6
    power = unpacked(answer["fixtures"][1]["power"])
    assert power.mean() == pytest.approx(0.5, abs=0.01)


def test_seasons_differ_and_unknown_ones_are_refused(client: FlaskClient) -> None:
    found = {
        season: client.post("/api/day", json={"document": demo_raw(), "season": season}).get_json()
        for season in ("now", "winter", "summer")
    }
    lowest = {k: unpacked(v["places"][2]["air_c"]).min() for k, v in found.items()}
    assert lowest["winter"] < lowest["now"] < lowest["summer"]
    wrong = client.post("/api/day", json={"document": demo_raw(), "season": "monsoon"})
    assert wrong.status_code == 422
    assert wrong.get_json()["fields"][0]["pointer"] == "/season"


def test_csv_has_every_minute(client: FlaskClient) -> None:
    answer = client.post("/api/day/csv", json={"document": demo_raw()})
    assert answer.content_type.startswith("text/csv")
    rows = list(csv.DictReader(io.StringIO(answer.get_data(as_text=True))))
    assert len(rows) == 1440
    assert float(rows[780]["basking_air_c"]) == pytest.approx(core_day().places[0].air_c[780], abs=0.01)
    assert rows[60]["main_set_point_c"] == ""
    assert float(rows[780]["main_set_point_c"]) == 30.0
    assert float(rows[780]["basking-lamp_power_w"]) == pytest.approx(75.0, abs=0.01)


@pytest.mark.parametrize(("hour", "lit"), [(13.1, True), (3.0, False)])
def test_a_moment_is_drawn_as_it_then_is(client: FlaskClient, hour: float, lit: bool) -> None:
    body = {
        "document": demo_raw(),
        "hour": hour,
        "section": {"nx": 24, "nz": 12},
        "plan_view": {"nx": 24, "ny": 12},
    }
    answer = client.post("/api/day/moment", json=body).get_json()
    assert answer["hour"] == round(hour * 2) / 2
    section, above = answer["section"], answer["plan_view"]
    assert bool(unpacked(section["uvi"]).max() > 3) is lit
    assert bool(unpacked(above["uvi"]).max() > 1) is lit
    places = core_day().places
    i = round(answer["hour"] * 60) - 1
    warm = max(float(p.air_c[i]) for p in places)
    assert unpacked(section["air_c"]).max() > warm - 0.3
    assert bool(unpacked(section["air_c"]).max() > 28) is lit


def test_what_if_tests_are_listed_and_run_one_by_one(client: FlaskClient) -> None:
    body = {"document": demo_raw()}
    failure_scenarios = client.post("/api/day/failure-scenarios", json=body).get_json()["failure_scenarios"]
    assert {"id": "heat-wave", "label": "Room 10 °C warmer", "by_night": False} in failure_scenarios
    outcome = client.post(
        "/api/day/failure-scenario", json={**body, "failure_scenario_id": "dead:uv-tube"}
    ).get_json()
    assert outcome["label"] == "UV tube failed"
    assert outcome["always_somewhere"] is True
    assert {p["id"] for p in outcome["places"]} == {p.id for p in core_day().places}
    assert outcome["places"][0]["uvi_highest"] == 0
    unknown = client.post("/api/day/failure-scenario", json={**body, "failure_scenario_id": "flood"})
    assert unknown.status_code == 404
    assert "heat-wave" in unknown.get_json()["detail"]


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"fixtures": {"mount": "floor"}}, "/fixtures/0/mount"),
        ({"substrate": {"wetness": 2.0}}, "/substrate/wetness"),
        ({"mistings": [{"hours": [25.0], "litres": 0.1}]}, "/mistings/0/hours/0"),
        ({"thermostats": {"ramp_h": 9.0}}, "/thermostats/0/ramp_h"),
        (
            {
                "enclosure": {
                    "neighbours": [
                        {"face": "roof", "label": "x", "day_temperature_c": 1, "night_temperature_c": 1}
                    ]
                }
            },
            "/enclosure/neighbours/0/face",
        ),
    ],
)
def test_impossible_plans_are_refused_by_field(
    client: FlaskClient, change: dict[str, Any], pointer: str
) -> None:
    raw = demo_raw()
    for part, values in change.items():
        if part in ("fixtures", "thermostats"):
            raw[part][0].update(values)
        elif isinstance(values, dict):
            raw[part].update(values)
        else:
            raw[part] = values
    answer = client.post("/api/day", json={"document": raw})
    assert answer.status_code == 422
    assert pointer in [field["pointer"] for field in answer.get_json()["fields"]]


def test_day_length_by_latitude_and_date(client: FlaskClient) -> None:
    def hours(latitude: float, date: str) -> float:
        answer = client.get("/api/day-length", query_string={"latitude": latitude, "date": date})
        return float(answer.get_json()["hours"])

    assert hours(0, "2026-03-20") == pytest.approx(12.1, abs=0.1)
    assert hours(52, "2026-06-21") == pytest.approx(16.8, abs=0.2)
    assert hours(52, "2026-12-21") == pytest.approx(7.7, abs=0.2)
    assert hours(-35, "2026-12-21") == pytest.approx(14.5, abs=0.2)
    assert hours(80, "2026-06-21") == 24
    assert hours(80, "2026-12-21") == 0


@pytest.mark.parametrize(
    ("query", "word"),
    [
        ({"latitude": "91", "date": "2026-06-21"}, "latitude"),
        ({"latitude": "52", "date": "midsummer"}, "date"),
        ({"date": "2026-06-21"}, "latitude"),
    ],
)
def test_day_length_says_what_is_wrong(client: FlaskClient, query: dict[str, str], word: str) -> None:
    answer = client.get("/api/day-length", query_string=query)
    assert answer.status_code == 422
    assert word in answer.get_json()["detail"]
