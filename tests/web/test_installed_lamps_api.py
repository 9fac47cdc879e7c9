"""The lamp register over HTTP: hours, replacing, moving, spares, what is due after it, and the forecast."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

BOX, ON = "collared-lizard", "2026-03-14"
LATER = "2026-06-22"


def register(client: FlaskClient, *enclosures: str, on: str = ON) -> list[str]:
    made: list[str] = client.post(
        "/api/installed-lamps/register", json={"on": on, "plan_ids": enclosures}
    ).get_json()["made"]
    return made


def installed_lamps(client: FlaskClient, on: str = ON) -> dict[str, dict[str, Any]]:
    found = client.get(f"/api/installed-lamps?on={on}").get_json()["installed_lamps"]
    return {u["installed_lamp"]["id"]: u for u in found}


def spare(client: FlaskClient, **values: Any) -> Any:
    unit = {"id": "spare", "label": "Spare tube", "lamp_id": "t5-strong-85", "power_w": 39.0, **values}
    return client.put("/api/installed-lamps", json=unit)


def hang(
    client: FlaskClient, unit: str, fixture: str = "uv-tube", enclosure: str = BOX, **values: Any
) -> Any:
    body = {"plan_id": enclosure, "fixture_id": fixture, "on": LATER, **values}
    return client.post(f"/api/installed-lamps/{unit}/install", json=body)


def test_lamps_of_plans_are_registered_and_burn_by_their_timers(client: FlaskClient) -> None:
    whole = client.get(f"/api/installed-lamps?on={ON}").get_json()
    assert whole["installed_lamps"] == []
    assert {u["plan_id"] for u in whole["unregistered"]} >= {BOX, "corn-snake"}
    assert len(register(client, BOX)) == 2
    assert register(client, BOX) == []
    known = installed_lamps(client, LATER)
    tube = next(u for u in known.values() if u["installed_lamp"]["lamp_id"] == "t5-strong-85")
    # A hundred days of twelve hours, and the hundred the plan had.
    assert tube["hours"] == 100.0 + 100 * 12.0
    assert (tube["state"], tube["plan_hours"], tube["hours_a_day"]) == ("installed", 100.0, 12.0)
    assert 0.5 < tube["output"]["low"] < tube["output"]["share"] < 1.0
    bulb = next(u for u in known.values() if u is not tube)
    assert bulb["output"] is None
    # The plan is brought up to date as a revision, once.
    done = client.put(f"/api/plans/{BOX}/lamp-hours", json={"on": LATER}).get_json()
    assert (done["revision"], done["changed"]) == (2, True)
    assert client.put(f"/api/plans/{BOX}/lamp-hours", json={"on": LATER}).get_json()["changed"] is False
    document = client.get(f"/api/plans/{BOX}").get_json()["document"]
    assert {f["id"]: f["hours"] for f in document["fixtures"]}["uv-tube"] == 1300.0


def test_a_lamp_is_replaced_and_asks_for_its_readings_again(client: FlaskClient) -> None:
    register(client, BOX)
    old = next(
        k for k, u in installed_lamps(client).items() if u["installed_lamp"]["lamp_id"] == "t5-strong-85"
    )
    client.put(
        f"/api/plans/{BOX}/readings",
        json={
            "readings": [
                {
                    "id": "r1",
                    "revision": 1,
                    "kind": "uvi_facing",
                    "value": 4.2,
                    "place": "the slab",
                    "at_m": {"x_m": 0.3, "y_m": 0.3, "z_m": 0.25},
                    "taken_at": "2026-04-01T12:00:00+02:00",
                }
            ]
        },
    )
    client.put(f"/api/plans/{BOX}/lamp-hours", json={"on": LATER})
    spare(client)
    answer = hang(client, "spare").get_json()
    assert (answer["revision"], answer["readings_due"]) == (3, 1)
    assert "basking:uvi" in answer["due"]
    known = installed_lamps(client, LATER)
    assert (known[old]["state"], known["spare"]["state"]) == ("retired", "installed")
    assert known[old]["installations"][0]["ended_on"] == LATER
    assert known[old]["hours"] == 1300.0
    assert [r["uvi"] for r in known[old]["readings"]] == [4.2]
    assert known["spare"]["readings"] == []
    assert known["spare"]["installed_lamp"]["installed_on"] == LATER
    fixtures = client.get(f"/api/plans/{BOX}").get_json()["document"]["fixtures"]
    assert next(f for f in fixtures if f["id"] == "uv-tube")["hours"] == 0.0
    assert (
        client.get(f"/api/plans/{BOX}/revisions").get_json()["revisions"][0]["summary"]
        == "UV tube: Spare tube installed"
    )


def test_replacing_is_a_task_that_is_done_with_the_register(client: FlaskClient) -> None:
    client.post("/api/usual-tasks", json={"on": ON, "plan_ids": [BOX, "hermanns-tortoise"]})

    def task(enclosure: str, on: str) -> Any:
        listed = client.get(f"/api/tasks?on={on}&plan={enclosure}").get_json()["tasks"]
        return next(k for k in listed if k["task"]["kind"] == "lamp")

    # The tortoise's tube is overdue by its hours, so its task is due at once, and no line says it twice.
    assert task("hermanns-tortoise", ON)["status"] == {"state": "due", "due_on": ON, "missed": 0}
    groups = client.get(f"/api/today?on={ON}").get_json()["groups"]
    tortoise = next(g for g in groups if g["plan_id"] == "hermanns-tortoise")
    assert tortoise["lamps"] == []
    assert "lamp" in [k["task"]["kind"] for k in tortoise["open"]]
    calendar = client.get("/api/plans/hermanns-tortoise/calendar.ics").get_data(as_text=True)
    assert calendar.count("SUMMARY:Replace UV tube") == 1
    # Hung anew, it is done, and due again when the new one has burned as long.
    spare(client)
    assert task(BOX, LATER)["status"]["state"] == "coming"
    assert hang(client, "spare").status_code == 200
    after = task(BOX, LATER)
    assert [(m["kind"], m["done_on"]) for m in after["marks"]] == [("done", LATER)]
    assert after["status"]["due_on"] == "2027-06-22"


def test_a_lamp_moves_with_its_hours_and_can_become_a_spare(client: FlaskClient) -> None:
    register(client, BOX, "whites-tree-frog")
    spare(client, hours_before=500.0)
    hang(client, "spare", old="spare", on="2026-04-01")
    assert sum(u["state"] == "spare" for u in installed_lamps(client).values()) == 1
    moved = hang(client, "spare", enclosure="whites-tree-frog", on=LATER)
    assert moved.status_code == 200
    known = installed_lamps(client, LATER)["spare"]
    assert [h["plan_id"] for h in known["installations"]] == [BOX, "whites-tree-frog"]
    assert known["hours"] == 500.0 + 82 * 12.0
    document = client.get("/api/plans/whites-tree-frog").get_json()["document"]
    fixture = next(f for f in document["fixtures"] if f["id"] == "uv-tube")
    assert (fixture["lamp_id"], fixture["hours"]) == ("t5-strong-85", known["hours"])
    loose = client.get(f"/api/installed-lamps?on={LATER}").get_json()["unregistered"]
    assert (BOX, "uv-tube") in {(u["plan_id"], u["fixture_id"]) for u in loose}
    client.post("/api/installed-lamps/spare/take-down", json={"on": LATER, "retire": True})
    assert installed_lamps(client, LATER)["spare"]["state"] == "retired"
    client.delete("/api/installed-lamps/spare")
    assert "spare" not in installed_lamps(client)
    spare(client, hours_before=500.0)
    assert len(installed_lamps(client)["spare"]["installations"]) == 2


def test_what_cannot_hang_is_refused_and_changes_nothing(client: FlaskClient) -> None:
    register(client, BOX)
    before = installed_lamps(client)
    assert spare(client, lamp_id="moon").status_code == 422
    assert spare(client, power_w=-1.0).status_code == 422
    spare(client)
    wrong = hang(client, "spare", fixture="nowhere")
    assert wrong.status_code == 404
    assert "basking-lamp" in wrong.get_json()["detail"]
    assert hang(client, "none").status_code == 404
    assert hang(client, "spare", enclosure="none").status_code == 404
    after = installed_lamps(client)
    after.pop("spare")
    assert after == before


@pytest.mark.parametrize(("enclosure", "short"), [(BOX, False), ("hermanns-tortoise", True)])
def test_the_day_a_plan_falls_short(client: FlaskClient, enclosure: str, short: bool) -> None:
    found = client.get(f"/api/plans/{enclosure}/lamp-forecast?on={ON}").get_json()["shortfall"]
    assert found["short_now"] is short
    if short:
        assert found["day"] == ON
    else:
        assert found["earliest"] <= (found["day"] or "9") <= (found["latest"] or "9")
    none = client.get(f"/api/plans/giant-vinegaroon/lamp-forecast?on={ON}").get_json()
    assert none["shortfall"] is None
