"""The lamp library over HTTP."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.catalog import load_catalog
from noonshade.formats.lamp_document import document_from_lamp, lamp_from_document, lamp_json, parse_lamp
from tests.builders import demo_raw
from tests.formats.test_measurement_files import COSINE, ies, ldt

TUBE = "t5-strong-85"
LAMPS = load_catalog().lamps


def document(**changes: Any) -> dict[str, Any]:
    raw: dict[str, Any] = json.loads(lamp_json(document_from_lamp(LAMPS[TUBE])))
    raw.update(id="own-bench", label="Bench tube", **changes)
    return raw


def added(client: FlaskClient, **changes: Any) -> dict[str, Any]:
    answer = client.post("/api/lamps", json={"document": document(**changes)})
    assert answer.status_code == 201, answer.json
    made: dict[str, Any] = answer.json
    return made


@pytest.mark.parametrize("lamp_id", sorted(LAMPS))
def test_every_shipped_lamp_survives_export_and_import(lamp_id: str) -> None:
    lamp = LAMPS[lamp_id]
    again = lamp_from_document(parse_lamp(lamp_json(document_from_lamp(lamp))))
    assert again == lamp


def test_the_library_lists_own_lamps_first_and_says_where_lamps_are_used(client: FlaskClient) -> None:
    plan = client.post("/api/plans", json={"document": demo_raw(), "summary": "x"}).json
    own = added(client)
    rows = client.get("/api/lamps").json["lamps"]
    assert rows[0]["lamp"]["id"] == own["lamp"]["id"]
    assert rows[0]["lamp"]["own"]
    assert len(rows) == 1 + len(LAMPS)
    tube = next(r for r in rows if r["lamp"]["id"] == TUBE)
    assert {"plan_id": plan["id"], "name": plan["name"], "fixtures": ["UV tube"]} in tube["used_in"]
    assert len(tube["used_in"]) == 4
    assert tube["revision"] is None
    assert tube["document"]["sources"]["uv"]


def test_an_own_lamp_is_changed_removed_and_brought_back(client: FlaskClient) -> None:
    own = added(client)
    path = f"/api/lamps/{own['lamp']['id']}"
    changed = {"document": {**own["document"], "label": "Renamed"}, "base_revision": 1}
    assert client.put(path, json=changed).json["revision"] == 2
    stale = client.put(path, json={**changed, "document": {**own["document"], "label": "Third"}})
    assert stale.status_code == 409
    assert stale.json["head_revision"] == 2
    assert client.get("/api/lamps").json["lamps"][0]["lamp"]["label"] == "Renamed"
    assert client.delete(path).status_code == 204
    assert not client.get("/api/lamps").json["lamps"][0]["lamp"]["own"]
    assert client.put(path, json=changed).status_code == 404
    assert client.post(f"{path}/bring-back").json["lamp"]["label"] == "Renamed"


def test_an_imported_lamp_never_replaces_another(client: FlaskClient) -> None:
    first, second = added(client), added(client)
    assert first["lamp"]["id"] == "own-bench"
    assert second["lamp"]["id"] != "own-bench"
    shipped = json.loads(lamp_json(document_from_lamp(LAMPS[TUBE])))
    third = client.post("/api/lamps", json={"document": shipped}).json
    assert third["lamp"]["id"].startswith("own-")
    back = client.get(f"/api/lamps/{first['lamp']['id']}/export")
    assert json.loads(back.data)["label"] == "Bench tube"
    assert "bench-tube.lamp.json" in back.headers["Content-Disposition"]


def test_a_plan_keeps_its_own_lamp_when_that_leaves_the_library(client: FlaskClient) -> None:
    own = added(client, uv={"uvi": 12.0, "distance_m": 0.3})
    raw = demo_raw()
    raw["fixtures"][1]["lamp_id"] = own["lamp"]["id"]
    plan = client.post("/api/plans", json={"document": raw, "summary": "x"}).json
    assert [lamp["id"] for lamp in plan["document"]["lamps"]] == [own["lamp"]["id"]]

    def uvi(document: dict[str, Any]) -> float:
        places = client.post("/api/evaluate", json={"document": document}).json["places"]
        return float(next(p["uvi_level"] for p in places if p["id"] == "basking"))

    strong = uvi(plan["document"])
    assert strong > 1.9 * uvi(demo_raw())
    # A change in the library reaches the plan at once; what was packed into it is older.
    weaker = {**own["document"], "uv": {"uvi": 6.0, "distance_m": 0.3}}
    client.put(f"/api/lamps/{own['lamp']['id']}", json={"document": weaker, "base_revision": 1})
    assert uvi(plan["document"]) == pytest.approx(strong / 2, rel=0.01)
    client.delete(f"/api/lamps/{own['lamp']['id']}")
    assert uvi(plan["document"]) == pytest.approx(strong)


def test_curves_and_the_distance_for_a_uv_index(client: FlaskClient) -> None:
    body = {"lamp_ids": [TUBE, "ceramic-heater"], "screen_id": "fine-0.5-2.0", "uvi": 3.0}
    made = client.post("/api/lamps/curves", json=body).json
    tube, heater = made["lamps"]
    assert len(tube["bare"]["uvi"]) == len(made["distance_m"])
    for better, worse in (("bare", "screened"), ("bare", "aged_bare"), ("screened", "aged_screened")):
        assert all(a > b for a, b in zip(tube[better]["uvi"], tube[worse]["uvi"], strict=True))
        assert tube[better]["distance_for_m"] > tube[worse]["distance_for_m"]
    assert tube["aged_hours"] == 4500
    assert heater["aged_bare"] is None
    assert heater["bare"]["distance_for_m"] is None
    assert max(heater["bare"]["uvi"]) == 0 < heater["bare"]["irradiance_w_m2"][0]
    # What is said of the distance holds: asked again there, it is the UV index.
    far = tube["screened"]["distance_for_m"]
    found = {"low": 2.98, "high": 3.02, "distance_m": far, "screen_id": "fine-0.5-2.0"}
    assert TUBE in [m["lamp_id"] for m in client.post("/api/lamps/find", json=found).json["lamps"]]
    measured = client.post("/api/lamps/curves", json={**body, "measured": 0.28125}).json["lamps"][0]
    assert measured["screened"]["uvi"][30] == pytest.approx(tube["screened"]["uvi"][30] / 2, rel=1e-3)


def test_a_draft_has_curves_before_it_is_stored(client: FlaskClient) -> None:
    draft = document(uv={"uvi": 11.2, "distance_m": 0.3})
    made = client.post("/api/lamps/curves", json={"lamp_ids": [TUBE], "draft": draft}).json["lamps"]
    assert made[1]["bare"]["uvi"][20] == pytest.approx(2 * made[0]["bare"]["uvi"][20], rel=1e-3)


def test_which_lamps_give_a_range_at_a_distance(client: FlaskClient) -> None:
    ask = {"low": 2.0, "high": 3.0, "distance_m": 0.35}
    new = client.post("/api/lamps/find", json=ask).json["lamps"]
    assert new
    assert all(2 <= m["uvi"] <= 3 for m in new)
    off = [abs(m["uvi"] - 2.5) for m in new]
    assert off == sorted(off)
    worn = client.post("/api/lamps/find", json={**ask, "worn": True}).json["lamps"]
    assert {m["lamp_id"] for m in worn} != {m["lamp_id"] for m in new}
    assert client.post("/api/lamps/find", json={**ask, "low": 4.0}).status_code == 422


def test_fit_is_good_of_another_size_or_impossible(client: FlaskClient) -> None:
    line = {"shape": "line", "length_m": 0.85, "reflector_exponent": 1.0}

    def fit(*readings: tuple[float, float]) -> dict[str, Any]:
        body = {"geometry": line, "readings": [{"distance_m": d, "uvi": u} for d, u in readings]}
        answer: dict[str, Any] = client.post("/api/lamps/fit", json=body).json
        return answer

    good = fit((0.2, 8.4), (0.3, 5.4), (0.5, 2.6))
    assert good["quality"] == "good"
    assert good["distance_m"] == 0.3
    assert good["uvi"] == pytest.approx(5.3, abs=0.3)
    assert len(good["deviations"]) == 3
    short = fit((0.2, 9.0), (0.4, 2.3))
    assert short["quality"] == "other_size"
    assert short["other_size_m"] < 0.3
    assert short["misfit"] > 0.15
    wrong = fit((0.2, 9.0), (0.4, 1.0))
    assert wrong["quality"] == "impossible"
    assert wrong["fall_off"] > 3 > 2 > wrong["fall_off_expected"]
    assert fit((0.3, 5.0), (0.31, 4.9))["detail"].startswith("the readings must be at distances")


def test_files_are_read_into_drafts_and_figures(client: FlaskClient) -> None:
    def read(name: str, text: str) -> Any:
        return client.post("/api/lamps/read-file", json={"name": name, "text": text})

    photometric = read("bar.ies", ies([0], [COSINE])).json
    assert photometric["kind"] == "photometric"
    assert photometric["draft"]["geometry"]["shape"] == "table"
    assert photometric["draft"]["power_w"] == 20
    assert any("no information on UV" in note for note in photometric["notes"])
    stored = client.post("/api/lamps", json={"document": photometric["draft"]}).json
    assert stored["lamp"]["shape"] == "table"
    raw = demo_raw()
    raw["fixtures"][1].update(lamp_id=stored["lamp"]["id"], power_w=20.0)
    assert client.post("/api/evaluate", json={"document": raw}).status_code == 200
    assert read("bar.LDT", ldt(1, [0.0, 90.0, 180.0, 270.0], [COSINE])).json["draft"]["power_w"] == 20
    rows = "\n".join(f"{nm},{1e-3 if nm > 290 else 0}" for nm in range(280, 401))
    spectrum = read("lamp.csv", "nm,W/m2/nm\n" + rows).json["spectrum"]
    assert spectrum["uvi"] == pytest.approx(0.486, abs=0.003)
    # 0.506 by the exact integrals from 290 nm on, less the slope up to 291 nm: 40 × 0.5 mW/m².
    assert not spectrum["unlike_sunlight"]
    assert spectrum["rows"] == 121
    own = json.dumps(document())
    assert read("mine.json", own).json["draft"]["label"] == "Bench tube"


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("lamp.pdf", "x", "must end in .json"),
        ("lamp.csv", "nm,W\n290,0.1\n291,x\n", "line 3, irradiance: 'x' is not a number"),
        ("lamp.csv", "nm,W\n280,0\n320,0\n", "no energy between 250 and 400 nm"),
        ("lamp.ies", "IESNA:LM-63-2002\nTILT=NONE\n1 2", "the file ends before this"),
        ("lamp.ldt", "a\nb\n", "line 2, type of luminaire: 'b' is not a number"),
        ("lamp.json", "{", "not valid JSON at line 1"),
        ("lamp.json", '{"format": "noonshade-plan"}', 'must be "noonshade-lamp"'),
    ],
)
def test_broken_files_are_named(client: FlaskClient, name: str, text: str, words: str) -> None:
    answer = client.post("/api/lamps/read-file", json={"name": name, "text": text})
    assert answer.status_code == 422
    assert words in answer.json["detail"]


@pytest.mark.parametrize(
    ("changes", "pointer"),
    [
        ({"forward_radiant": 0.95}, "/forward_radiant"),
        ({"kind": "torch"}, "/kind"),
        ({"power_w": 0}, "/power_w"),
        ({"uv": None}, "/uv"),
        ({"geometry": {"shape": "line", "length_m": 9, "reflector_exponent": 1}}, "/geometry/length_m"),
        ({"geometry": {"shape": "star"}}, "/geometry"),
        ({"format": "noonshade-plan"}, "/format"),
        ({"version": 2}, "/version"),
        ({"glow": 1}, "/glow"),
    ],
)
def test_bad_lamps_are_refused_by_field(client: FlaskClient, changes: Any, pointer: str) -> None:
    answer = client.post("/api/lamps", json={"document": {**document(), **changes}})
    assert answer.status_code == 422
    assert answer.json["fields"][0]["pointer"].startswith(pointer)
    assert len(client.get("/api/lamps").json["lamps"]) == len(LAMPS)


def test_tables_are_checked(client: FlaskClient) -> None:
    table = {"shape": "table", "diameter_m": 0.1, "c_deg": [0], "gamma_deg": [0, 90], "intensity": [[1, 0]]}
    for change, words in (
        ({"gamma_deg": [10, 90]}, "must rise from 0"),
        ({"c_deg": [0, 90], "intensity": [[1, 0], [1, 0]]}, "must be 0 alone, or rise from 0 to 360"),
        ({"intensity": [[1, 0, 0]]}, "must have 1 rows of 2 values"),
        ({"intensity": [[0, 0]]}, "must not be 0 everywhere"),
    ):
        geometry = {**table, **change}
        answer = client.post("/api/lamps", json={"document": document(geometry=geometry)})
        assert answer.status_code == 422
        assert words in answer.json["detail"]


def test_unknown_lamps_and_screens_are_not_found(client: FlaskClient) -> None:
    assert client.post("/api/lamps/curves", json={"lamp_ids": ["nope"]}).status_code == 404
    body = {"lamp_ids": [TUBE], "screen_id": "timber"}
    answer = client.post("/api/lamps/curves", json=body)
    assert answer.status_code == 404
    assert "known: " in answer.json["detail"]
    assert client.delete(f"/api/lamps/{TUBE}").status_code == 404
    assert client.get("/api/lamps/nope/export").status_code == 404


def test_views_from_the_front_and_from_above(client: FlaskClient) -> None:
    raw = demo_raw()
    wanted = {"section": {"y_m": 0.1, "nx": 40, "nz": 20}, "plan_view": {"z_m": 0.3, "nx": 30, "ny": 16}}
    made = client.post("/api/evaluate", json={"document": raw, **wanted}).json
    assert (made["section"]["y_m"], made["section"]["nx"], made["section"]["nz"]) == (0.1, 40, 20)
    assert (made["plan_view"]["z_m"], made["plan_view"]["ny"]) == (0.3, 16)
    assert made["plan_view"]["uvi"]["scale"] > 0
    assert 0 < made["uv_free_share"] < 1
    basking = next(p for p in made["places"] if p["id"] == "basking")
    assert basking["exposure_class"] == 3
    assert basking["daily_light_mol_m2"] == 0
    for part, value, words in (
        ("section", {"y_m": 0.9}, "section/y_m"),
        ("plan_view", {"z_m": 2.9}, "plan_view/z_m"),
    ):
        answer = client.post("/api/evaluate", json={"document": raw, part: value})
        assert answer.status_code == 422
        assert words in answer.json["detail"]
