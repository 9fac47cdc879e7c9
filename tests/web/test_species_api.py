"""The species desk over HTTP: finding, weighing, own views, revisions, files."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.formats.species_document import document_from_species, species_from_document
from tests.builders import CATALOG, demo_raw

POGONA = "pogona-vitticeps"


def document(client: FlaskClient, species_id: str = POGONA) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/species/{species_id}").get_json()["document"]
    return found


def hotter(raw: dict[str, Any]) -> dict[str, Any]:
    """One source more: far hotter than the others."""
    surface = next(w for w in raw["needs"] if w["quantity"] == "surface_temperature")
    surface["claims"].append(
        {"low": 55.0, "high": 60.0, "grade": "estimate", "source": "a note on a cage door"}
    )
    return raw


def surface_need(sheet: dict[str, Any], school: str = "overlap") -> dict[str, Any]:
    settled = next(s for s in sheet["settled"] if (s["stage"], s["school"]) == ("adult", school))
    return next(n for n in settled["needs"] if n["quantity"] == "surface_temperature")


def test_a_sheet_has_claims_schools_and_its_plans(client: FlaskClient) -> None:
    sheet = client.get("/api/species/crotaphytus-collaris").get_json()
    assert sheet["revision"] is None
    assert sheet["shipped"] is True
    assert {(s["stage"], s["school"]) for s in sheet["settled"]} == {
        (stage, school)
        for stage in ("adult", "young", "gravid")
        for school in ("overlap", "average", "careful", "home")
    }
    assert len(sheet["species"]["home"]["day_h"]) == 12
    assert sheet["document"]["format"] == "noonshade-species"
    assert client.get("/api/species/nessie").status_code == 404


@pytest.mark.parametrize("species_id", ["crotaphytus-collaris", "salamandra-salamandra", POGONA])
def test_documents_and_species_are_the_same_thing(species_id: str) -> None:
    species = CATALOG.species[species_id]
    assert species_from_document(document_from_species(species)) == species


def test_names_are_found_and_shared_ones_ask(client: FlaskClient) -> None:
    one = client.post("/api/species/find", json={"text": "Litoria caerulea"}).get_json()
    assert [f["id"] for f in one["found"]] == ["ranoidea-caerulea"]
    assert one["found"][0]["by"] == "synonym"
    shared = client.post("/api/species/find", json={"text": "bearded dragon"}).get_json()
    assert shared["ambiguous"] is True
    assert len(shared["found"]) == 2
    assert client.post("/api/species/find", json={"text": ""}).status_code == 422


def test_a_draft_is_weighed_without_being_stored(client: FlaskClient) -> None:
    draft = hotter(document(client))
    answer = client.post("/api/species/settle", json={"document": draft}).get_json()
    need = surface_need(answer)
    assert need["outliers"] == [2]
    assert "share no range" in need["note"]
    assert (need["low"], need["high"]) == (36.0, 43.0)
    assert surface_need(client.get(f"/api/species/{POGONA}").get_json())["low"] == 39.5


def test_an_own_view_goes_before_the_shipped_one_and_back(client: FlaskClient) -> None:
    made = client.post("/api/species", json={"document": hotter(document(client))})
    assert made.status_code == 201
    sheet = made.get_json()
    assert (sheet["revision"], sheet["shipped"]) == (1, True)
    assert sheet["species"]["own"] is True
    plan = demo_raw()
    plan["animal"]["species_id"] = POGONA
    answer = client.post("/api/evaluate", json={"document": plan}).get_json()
    surface = next(v for v in answer["checks"] if v["need"]["quantity"] == "surface_temperature")
    assert surface["need"]["high"] == 43.0
    assert len(surface["need"]["claims"]) == 3
    assert client.delete(f"/api/species/{POGONA}").status_code == 204
    again = client.get(f"/api/species/{POGONA}").get_json()
    assert again["revision"] is None
    assert surface_need(again)["high"] == 43.5
    assert len(surface_need(again)["claims"]) == 2
    # Kept again, it is a new revision of what was there before.
    back = client.post("/api/species", json={"document": document(client)}).get_json()
    assert back["revision"] == 2


def test_a_plan_carries_the_own_species_it_is_for(client: FlaskClient) -> None:
    raw = document(client)
    raw["id"], raw["scientific_name"] = "own-1", "Pogona millracensis"
    raw["common_names"] = ["Millrace dragon"]
    assert client.post("/api/species", json={"document": raw}).status_code == 201
    plan = demo_raw()
    plan["animal"]["species_id"] = "own-1"
    created = client.post("/api/plans", json={"document": plan}).get_json()
    assert created["document"]["species"]["scientific_name"] == "Pogona millracensis"
    used = client.get("/api/species/own-1").get_json()["used_in"]
    assert [u["plan_id"] for u in used] == [created["id"]]
    # Off the desk, the plan still knows whom it is for.
    client.delete("/api/species/own-1")
    assert client.get("/api/species/own-1").status_code == 404
    stored = client.get(f"/api/plans/{created['id']}").get_json()["document"]
    assert client.post("/api/evaluate", json={"document": stored}).status_code == 200
    alone = {**stored, "species": None}
    refused = client.post("/api/evaluate", json={"document": alone})
    assert refused.status_code == 422
    assert refused.get_json()["fields"][0]["pointer"] == "/animal/species_id"
    assert client.post("/api/species/own-1/bring-back").get_json()["revision"] == 1


def test_changes_are_versioned_and_stale_ones_refused(client: FlaskClient) -> None:
    raw = document(client)
    client.post("/api/species", json={"document": raw})
    raw["highest_safe_c"] = 43.0
    saved = client.put(f"/api/species/{POGONA}", json={"document": raw, "base_revision": 1})
    assert saved.get_json()["revision"] == 2
    raw["highest_safe_c"] = 44.0
    stale = client.put(f"/api/species/{POGONA}", json={"document": raw, "base_revision": 1})
    assert stale.status_code == 409
    assert stale.get_json()["head_revision"] == 2
    revisions = client.get(f"/api/species/{POGONA}/revisions").get_json()["revisions"]
    assert [(r["number"], r["document"]["highest_safe_c"]) for r in revisions] == [(2, 43.0), (1, 42.0)]
    taken = client.post("/api/species", json={"document": raw})
    assert taken.status_code == 409


def test_export_and_import_round_trip(client: FlaskClient) -> None:
    out = client.get(f"/api/species/{POGONA}/export")
    assert "pogona-vitticeps.species.json" in out.headers["Content-Disposition"]
    raw = json.loads(out.data)
    assert raw == document(client)
    made = client.post("/api/species", json={"document": raw}).get_json()
    assert made["document"] == raw


@pytest.mark.parametrize(
    ("change", "pointer", "words"),
    [
        (lambda d: d.update(format="other"), "/format", "not a Noon Shade species"),
        (lambda d: d.update(version=9), "/version", "version 9 is not known"),
        (lambda d: d.update(group="bird"), "/group", "must be one of"),
        (lambda d: d["needs"][0]["claims"].clear(), "/needs/0/claims", "at least 1"),
        (lambda d: d["needs"][0]["claims"][0].update(low=104.0), "/needs/0", "was 104 °F meant"),
        (
            lambda d: d["needs"][0]["claims"][0].update(low=None, high=None),
            "/needs/0",
            "at least one limit",
        ),
        (lambda d: d["home"].update(rain_mm=[1.0]), "/home/rain_mm", "at least 12"),
        (lambda d: d["stages"].reverse(), "", "the adult comes first"),
        (lambda d: d.update(lowest_safe_c=60.0), "", "below highest_safe_c"),
        (lambda d: d.update(colour="red"), "/colour", "not a known field"),
    ],
)
def test_what_cannot_be_is_named(client: FlaskClient, change: Any, pointer: str, words: str) -> None:
    raw = document(client)
    change(raw)
    refused = client.post("/api/species", json={"document": raw})
    assert refused.status_code == 422
    fields = refused.get_json()["fields"]
    assert any(f["pointer"] == pointer and words in f["message"] for f in fields), fields


def test_plans_know_species_by_their_former_names(client: FlaskClient) -> None:
    plan = demo_raw()
    plan["animal"]["species_id"] = "litoria-caerulea"
    answer = client.post("/api/evaluate", json={"document": plan})
    assert answer.status_code == 200
