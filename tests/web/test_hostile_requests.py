"""Values no keeper would send: each has its message, and holds up nothing else."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.builders import demo_raw
from tests.formats.test_measurement_files import COSINE, ies
from tests.web.test_loggers_api import LOGGER, PLAN

JSON = {"Content-Type": "application/json"}
SAVED = "/api/plans/collared-lizard"


@pytest.fixture
def key(client: FlaskClient) -> str:
    assert client.put(f"{PLAN}/loggers", json=LOGGER).status_code == 200
    made: str = client.post("/api/loggers/warm/key").get_json()["key"]
    return made


def post(client: FlaskClient, key: str, *rows: dict[str, Any]) -> dict[str, Any]:
    headers = {"Authorization": f"Bearer {key}"}
    answer = client.post("/api/devices/readings", json={"readings": list(rows)}, headers=headers)
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


@pytest.mark.parametrize(
    "at",
    [
        "9999-12-31T23:59:59Z",
        "0001-01-01T00:00:00+10:00",
        "2026-03-14T08:00:00+41:00",
        "2026-03-14T08:00:00",
        "1" * 5000,
        "\ud800",
    ],
)
def test_a_reading_with_a_date_there_is_not_is_refused_and_holds_up_no_other(
    client: FlaskClient, key: str, at: str
) -> None:
    good = {"at": "2026-03-14T08:00:00Z", "temperature_c": 21.0}
    answer = post(client, key, {"at": at, "temperature_c": 22.0}, good)
    assert answer["stored"] == 1
    (refused,) = answer["refused"]
    assert refused["number"] == 0
    assert refused["reason"]
    shown = client.get(f"{PLAN}/loggers")
    assert shown.status_code == 200


def test_a_cell_of_a_device_that_is_too_long_is_named_by_its_line(client: FlaskClient, key: str) -> None:
    text = f"at,temperature_c\n2026-03-14T08:00:00Z,{'1' * 140_000}\n"
    headers = {"Authorization": f"Bearer {key}", "Content-Type": "text/csv"}
    answer = client.post("/api/devices/readings.csv", data=text, headers=headers)
    assert answer.status_code == 422
    assert "line 2" in answer.get_json()["detail"]


@pytest.mark.parametrize("candela", ["1e10", "1e300", "-1", "nan", "9" * 400])
def test_candela_beyond_any_lamp_is_named(client: FlaskClient, candela: str) -> None:
    text = ies([0], [COSINE], row0=" ".join([candela, *("1" for _ in COSINE[1:])]))
    answer = client.post("/api/lamps/read-file", json={"name": "bar.ies", "text": text})
    assert answer.status_code == 422
    assert "candela" in answer.get_json()["detail"]


def test_text_with_half_a_character_is_refused(client: FlaskClient) -> None:
    raw = demo_raw() | {"name": "half \ud83d of one"}
    body = {"document": raw, "base_revision": 1, "summary": "x"}
    answer = client.put(SAVED, data=json.dumps(body), headers=JSON)
    assert answer.status_code == 422
    assert "must be text of whole characters" in answer.get_json()["detail"]
    again = {"document": demo_raw(), "base_revision": 1, "summary": "half \udc00"}
    answer = client.put(SAVED, data=json.dumps(again), headers=JSON)
    assert answer.status_code == 422
    assert "whole characters" in answer.get_json()["detail"]


def test_a_number_of_thousands_of_digits_is_refused(client: FlaskClient) -> None:
    for body in (b'{"document": ' + b"9" * 5000 + b"}", b'{"base_revision": ' + b"9" * 5000 + b"}"):
        answer = client.post("/api/evaluate", data=body, headers=JSON)
        assert answer.status_code in (400, 422)
        assert "digits" in answer.get_json()["detail"]


def test_a_revision_no_counter_reaches_is_not_found(client: FlaskClient) -> None:
    for number in ("9" * 30, "9" * 5000):
        answer = client.get(f"{SAVED}/revisions/{number}")
        assert answer.status_code in (404, 414)
    body = {"document": demo_raw(), "base_revision": 10**30, "summary": "x"}
    assert client.put(SAVED, json=body).status_code in (409, 422)


@pytest.mark.parametrize(
    "origin", ["http://[", "http://[::1", "null", "://", "\u00e9", "http://a:b@[v1.x]:99999"]
)
def test_an_origin_that_is_none_is_foreign(client: FlaskClient, origin: str) -> None:
    answer = client.delete(SAVED, headers={"Origin": origin})
    assert answer.status_code == 403
    assert client.get(SAVED).status_code == 200


@pytest.mark.parametrize("host", ["[", "[::1", "a]b", "127.0.0.1:x", ""])
def test_a_host_that_is_none_is_not_served(client: FlaskClient, host: str) -> None:
    assert client.get("/api/health", headers={"Host": host}).status_code in (200, 400, 403)


@pytest.mark.parametrize(
    "readings",
    [
        [(1e-9, 1e300), (1e9, 1e-300)],
        [(0.2, 1e9), (0.3, 1e-9)],
        [(0.2, 0.0), (0.3, 0.0)],
        [(1e-6, 1.0), (2e-6, 1.0), (3e-6, 1.0)],
        [(5.0, 1e-12), (0.05, 1e12)],
    ],
)
def test_extreme_readings_of_a_lamp_are_fitted_or_refused(
    client: FlaskClient, readings: list[tuple[float, float]]
) -> None:
    for shape in (
        {"shape": "line", "length_m": 0.85, "reflector_exponent": 1.0},
        {"shape": "line", "length_m": 0.01, "reflector_exponent": 50.0},
    ):
        body = {"geometry": shape, "readings": [{"distance_m": d, "uvi": u} for d, u in readings]}
        assert client.post("/api/lamps/fit", json=body).status_code in (200, 422)
