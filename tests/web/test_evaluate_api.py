"""Evaluation over HTTP."""

from __future__ import annotations

import base64

import numpy as np
import pytest
from flask.testing import FlaskClient

from noonshade.core.fields import section
from tests.builders import CATALOG, demo_plan, demo_raw
from tests.evaluated import evaluate


def test_figures_are_those_of_the_core(client: FlaskClient) -> None:
    answer = client.post("/api/evaluate", json={"document": demo_raw()}).get_json()
    core = evaluate(demo_plan())
    assert answer["section"] is None
    assert answer["fits"] is False
    assert {v["id"]: v["value"] for v in answer["checks"]} == {v.id: v.value for v in core.checks}
    assert answer["places"][0]["surface_c"] == core.places[0].surface_c
    assert answer["balance_relative_error"] < 1e-6
    reason = answer["checks"][0]["reason"]
    assert {part["kind"] for part in reason} == {"text", "figure"}


def test_fields_survive_quantisation(client: FlaskClient) -> None:
    body = {"document": demo_raw(), "section": {"nx": 40, "nz": 20}}
    drawn = client.post("/api/evaluate", json=body).get_json()["section"]
    exact = section(evaluate(demo_plan()), nx=40, nz=20)
    for name, values in (("uvi", exact.uvi), ("air_c", exact.air_c)):
        layer = drawn[name]
        codes = np.frombuffer(base64.b64decode(layer["data"]), dtype="<u2")
        decoded = layer["offset"] + layer["scale"] * codes.reshape(20, 40)
        assert np.max(np.abs(decoded - values)) <= layer["scale"]
    assert drawn["surfaces"][0]["id"] == "substrate"


def test_fix_comes_as_a_patch_that_works(client: FlaskClient) -> None:
    body = {"document": demo_raw(), "about_id": "basking:surface_temperature"}
    fix = client.post("/api/fixes", json=body).get_json()["fixes"][0]
    assert fix["patch"][0]["path"] == "/thermostats/0/day_set_point_c"
    raw = demo_raw()
    raw["thermostats"][0]["day_set_point_c"] = fix["patch"][0]["value"]
    after = client.post("/api/evaluate", json={"document": raw}).get_json()
    again = next(v for v in after["checks"] if v["id"] == "basking:surface_temperature")
    assert again["value"] == pytest.approx(fix["value"])
    assert not any(v["severity"] in ("fault", "danger") for v in after["checks"])
    assert fix["interval"]["low"] < fix["value"] < fix["interval"]["high"]


def test_lamps_seen_worn_give_less_uv(client: FlaskClient) -> None:
    def uvi(age: str) -> float:
        body = {"document": demo_raw(), "lamp_age": age}
        answer = client.post("/api/evaluate", json=body).get_json()
        return float(next(v["value"] for v in answer["checks"] if v["id"] == "basking:uvi"))

    assert uvi("worn") / uvi("new") == pytest.approx(0.55 + 0.45 * np.exp(-4400 / 5000), rel=1e-6)
    assert uvi("present") == uvi("new")
    assert client.post("/api/evaluate", json={"document": demo_raw(), "lamp_age": "x"}).status_code == 422


def test_no_fix_for_what_fits_and_unknown_checks_are_named(client: FlaskClient) -> None:
    fits = {"document": demo_raw(), "about_id": "basking:uvi"}
    assert client.post("/api/fixes", json=fits).get_json()["fixes"] == []
    unknown = client.post("/api/fixes", json={"document": demo_raw(), "about_id": "tail:uvi"})
    assert unknown.status_code == 404
    assert "basking:uvi" in unknown.get_json()["detail"]


def test_catalogue(client: FlaskClient) -> None:
    answer = client.get("/api/catalog").get_json()
    assert {lamp["id"] for lamp in answer["lamps"]} == set(CATALOG.lamps)
    shapes = {lamp["shape"] for lamp in answer["lamps"]}
    assert shapes == {"line", "beam", "panel"}
    assert "Crotaphytus collaris" in [s["scientific_name"] for s in answer["species"]]
    assert len(answer["species"]) >= 48
    assert answer["meshes"][0]["open_fraction"] == pytest.approx(0.5625)


def test_section_outside_the_enclosure_is_refused(client: FlaskClient) -> None:
    body = {"document": demo_raw(), "section": {"y_m": 2.0}}
    response = client.post("/api/evaluate", json=body)
    assert response.status_code == 422
    assert "0 to 0.6 m" in response.get_json()["detail"]
