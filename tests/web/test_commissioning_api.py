"""Testing an enclosure before the animal moves in: what is covered, signing, and what opens it again."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.core.evaluate import Evaluation
from noonshade.core.readings import Reading, predict_values
from noonshade.core.readings.commissioning import Taken, check_coverage, is_complete
from tests.builders import flawless, flawless_raw
from tests.evaluated import evaluate

PLAN = "/api/plans/collared-lizard"
URL = f"{PLAN}/commissioning-test"
DAYS = ("2026-03-14", "2026-03-15", "2026-03-16")


@pytest.fixture
def enclosure(client: FlaskClient) -> FlaskClient:
    """The demo enclosure with its fault fixed, so that it can be tested."""
    head = client.get(PLAN).get_json()["revision"]
    body = {"document": flawless_raw(), "base_revision": head, "summary": "Corrected"}
    assert client.put(PLAN, json=body).status_code == 200
    return client


def places(result: Evaluation) -> dict[str, Any]:
    return {p.id: p for p in result.places}


def all_readings(result: Evaluation, off: float = 0.0) -> list[tuple[str, str, float, Any]]:
    """Key, kind, value and place of a reading for every need that can be read; surfaces are ``off``."""

    found: list[tuple[str, str, float, Any]] = []
    for v in result.checks:
        kind = {"surface_temperature": "surface", "air_temperature": "air", "uvi": "uvi_facing"}.get(
            v.need.quantity
        )
        if v.need.quantity == "humidity":
            kind = "humidity"
        if kind is None or v.value is None:
            continue
        if v.place_id == "night":
            damp = v.need.quantity == "humidity"
            value = result.night_humidity if damp else result.night_air_c
            found.append((v.id, "humidity_night" if damp else "air_min", value, None))
            continue
        if v.place_id == "reachable":
            at = result.whole.hottest.surface.position_m
        else:
            at = places(result)[v.place_id].position_m
        said = float(predict_values(result, (Reading("x", kind, 0.0, at),))[0])  # type: ignore[arg-type]
        found.append((v.id, kind, said + (off if kind == "surface" else 0.0), at))
    return found


def put_all(client: FlaskClient, day: str, revision: int, off: float = 0.0) -> None:
    rows = []
    for key, kind, value, at in all_readings(evaluate(flawless()), off):
        rows.append(
            {
                "id": f"{key}.{day}".replace(":", "."),
                "revision": revision,
                "kind": kind,
                "value": value,
                "at_m": None if at is None else dict(zip(("x_m", "y_m", "z_m"), at, strict=True)),
                "taken_at": f"{day}T14:00:00+00:00",
            }
        )
    answer = client.put(f"{PLAN}/readings", json={"readings": rows}).get_json()
    assert answer["refused"] == []


def test_every_need_is_covered_listed_or_off() -> None:
    result = evaluate(flawless())
    taken = [
        Taken(Reading(key, kind, value, at), day)  # type: ignore[arg-type]
        for day in DAYS
        for key, kind, value, at in all_readings(result)
    ]
    needs = check_coverage(result, taken)
    assert {n.state for n in needs} == {"ok", "not_readable"}
    assert is_complete(needs, 3)
    assert not is_complete(needs, 4)
    assert all(n.days == DAYS for n in needs if n.state == "ok")
    # Without one of them it is listed as not yet; one that is off is a deviation, and stays one.
    some = check_coverage(result, [t for t in taken if not t.reading.id.startswith("basking:uvi")])
    assert [n.check.id for n in some if n.state == "not_yet"] == ["basking:uvi"]
    hot = Taken(Reading("hot", "surface", 70.0, places(result)["basking"].position_m), DAYS[0])
    off = check_coverage(result, [*taken, hot])
    assert [n.check.id for n in off if n.state == "high"] == ["basking:surface_temperature"]
    assert not is_complete(off, 3)
    # What was changed since does not count, and says what it was.
    old = check_coverage(result, [Taken(t.reading, t.day, "UV tube") for t in taken])
    assert {n.due for n in old if n.state == "not_yet"} == {"UV tube"}


def test_a_reading_beside_the_judged_figure_is_carried_over_to_it() -> None:
    """The meter faces the lamp, the need is of the back: the same share is missing from both."""
    result = evaluate(flawless())
    place = places(result)["basking"]
    half = Reading("a", "uvi_facing", 0.5 * place.uvi_facing, place.position_m)
    need = next(n for n in check_coverage(result, [Taken(half, DAYS[0])]) if n.check.id == "basking:uvi")
    assert need.check.value is not None
    assert need.value == pytest.approx(0.5 * need.check.value, rel=1e-6)


def test_an_enclosure_is_tested_signed_and_opened_again_by_a_change(enclosure: FlaskClient) -> None:
    assert enclosure.get(URL).get_json()["state"] == "none"
    begun = enclosure.put(URL, json={"started_on": DAYS[0]}).get_json()
    assert (begun["state"], begun["days"], begun["days_read"]) == ("running", 3, [])
    put_all(enclosure, "2026-03-10", 2)
    assert enclosure.get(URL).get_json()["days_read"] == []
    for day in DAYS[:2]:
        put_all(enclosure, day, 2)
    assert enclosure.get(URL).get_json()["state"] == "running"
    put_all(enclosure, DAYS[2], 2)
    ready = enclosure.get(URL).get_json()
    assert (ready["state"], ready["not_yet"], ready["deviations"]) == ("ready", 0, 0)
    signed = enclosure.post(f"{URL}/signature", json={"by": "Keeper of the mill"}).get_json()
    assert signed["state"] == "signed"
    assert signed["signature"]["revision"] == 2
    again = enclosure.post(f"{URL}/signature", json={"by": "Someone else"})
    assert again.status_code == 409
    assert "signed already" in again.get_json()["detail"]

    changed = flawless_raw()
    changed["fixtures"][1]["hours"] = 0.0
    enclosure.put(PLAN, json={"document": changed, "base_revision": 2, "summary": "New tube"})
    opened = enclosure.get(URL).get_json()
    assert (opened["state"], opened["changed"]) == ("reopened", ["UV tube"])
    due = {n["check_id"]: n["due"] for n in opened["needs"]}
    assert due["basking:uvi"] == "UV tube"
    page = enclosure.get(f"{URL}/sheet").text
    assert "Open again: UV tube changed" in page
    assert "Keeper of the mill" in page
    # The sheet itself stays in the signed state; a new test begins beside it.
    assert "Every need that can be read" not in page
    new = enclosure.put(URL, json={"started_on": "2026-03-20"}).get_json()
    assert (new["state"], new["signature"]) == ("running", None)


def test_what_is_not_met_is_signed_with_a_remark_only(enclosure: FlaskClient) -> None:
    assert enclosure.post(f"{URL}/signature", json={"by": "K"}).get_json()["detail"] == "No test was begun."
    enclosure.put(URL, json={"started_on": DAYS[0], "days": 2})
    nothing = enclosure.post(f"{URL}/signature", json={"by": "K", "remarks": "now"})
    assert "no valid reading" in nothing.get_json()["detail"]
    put_all(enclosure, DAYS[0], 2, off=25.0)
    found = enclosure.get(URL).get_json()
    off = [n for n in found["needs"] if n["state"] == "high"]
    assert found["deviations"] == len(off) > 0
    bare = enclosure.post(f"{URL}/signature", json={"by": "K"})
    assert bare.status_code == 409
    assert "1 of 2 days" in bare.get_json()["detail"]
    signed = enclosure.post(f"{URL}/signature", json={"by": "K", "remarks": "<b>Lamp</b> goes up tomorrow"})
    assert signed.get_json()["state"] == "signed"
    page = enclosure.get(f"{URL}/sheet?units=imperial").text
    assert "&lt;b&gt;Lamp&lt;/b&gt; goes up tomorrow" in page
    assert "too high" in page
    assert "°F" in page
    pdf = enclosure.get(f"{URL}/sheet.pdf")
    assert pdf.data.startswith(b"%PDF")
    back = enclosure.delete(f"{URL}/signature").get_json()
    assert (back["state"], back["signature"]) == ("running", None)
    assert enclosure.delete(f"{URL}/signature").status_code == 404


def test_bad_requests_and_unknown_enclosures(client: FlaskClient) -> None:
    assert client.put(URL, json={"started_on": "in March"}).status_code == 422
    assert client.put(URL, json={"started_on": DAYS[0], "days": 0}).status_code == 422
    assert client.get("/api/plans/nobody/commissioning-test").status_code == 404
    assert (
        client.put("/api/plans/nobody/commissioning-test", json={"started_on": DAYS[0]}).status_code == 404
    )
    assert client.get(f"{URL}/sheet").status_code == 404
