"""Growth, company and new arrivals over HTTP."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient

from tests.web.test_logbook_api import animal, write

BOX, ON = "collared-lizard", "2026-03-14"


def document(client: FlaskClient, **values: Any) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/plans/{BOX}").get_json()["document"]
    found["animal"] |= values
    return found


def test_growth_follows_the_logbook(client: FlaskClient) -> None:
    young = document(client, stage="young", body_length_m=0.045, back_height_m=0.013)
    body = {"document": young, "on": ON}
    plain = client.post(f"/api/plans/{BOX}/growth", json=body).get_json()
    assert (plain["animal"], plain["basis"], plain["grown"]) == (None, "plan", False)
    assert plain["curve"][0]["length_m"] == 0.045
    ends = plain["curve"][-1]
    assert ends["low_m"] < ends["length_m"] < ends["high_m"] <= plain["adult_m"]
    animal(client, hatched_on="2025-12-01")
    aged = client.post(f"/api/plans/{BOX}/growth", json=body).get_json()
    assert (aged["animal"], aged["basis"]) == ("Ember", "age")
    write(client, "l1", "length", value=0.08, animal_id="ember", plan_id=BOX, at="2026-03-10T10:00:00Z")
    measured = client.post(f"/api/plans/{BOX}/growth", json=body).get_json()
    assert measured["basis"] == "measured"
    assert 0.08 <= measured["length_m"] < 0.082
    write(client, "l2", "length", value=0.1, animal_id="ember", plan_id=BOX, at="2026-03-13T10:00:00Z")
    grown = client.post(
        f"/api/plans/{BOX}/growth", json={"document": document(client), "on": ON}
    ).get_json()
    assert (grown["grown"], grown["curve"], grown["milestones"]) == (True, [], [])


def test_cohabitation_names_spare_enclosures(client: FlaskClient) -> None:
    animal(client)
    found = client.get(f"/api/plans/{BOX}/cohabitation").get_json()
    assert (found["count"], found["registered"], found["together"], found["spares"]) == (1, 1, False, [])
    client.put("/api/plans/corn-snake/role", json={"role": "spare"})
    client.put("/api/plans/gargoyle-gecko/role", json={"role": "spare"})
    spares = {
        s["plan_id"]: s["is_large_enough"]
        for s in client.get(f"/api/plans/{BOX}/cohabitation").get_json()["spares"]
    }
    assert spares == {"corn-snake": True, "gargoyle-gecko": False}
    assert client.get("/api/plans/corn-snake/cohabitation").get_json()["role"] == "spare"
    client.put("/api/plans/corn-snake/role", json={"role": "home"})
    assert len(client.get(f"/api/plans/{BOX}/cohabitation").get_json()["spares"]) == 1
    assert client.put("/api/plans/corn-snake/role", json={"role": "zoo"}).status_code == 422
    assert client.put("/api/plans/nowhere/role", json={"role": "home"}).status_code == 404


def test_a_new_arrival_goes_through_quarantine_and_is_released(client: FlaskClient) -> None:
    animal(client)
    listed = client.get(f"/api/plans/{BOX}/arrivals?on={ON}").get_json()
    assert (listed["arrivals"], listed["usual_days"]) == ([], 60)
    begin = {"animal_id": "ember", "on": ON, "days": 30}
    begun = client.post(f"/api/plans/{BOX}/arrivals", json=begin).get_json()
    assert begun["steps"][0]["task"]["title"] == "Look it over before it goes in: Ember"
    assert begun["steps"][-1]["task"]["starts_on"] == "2026-04-13"
    assert client.get(f"/api/plans/{BOX}/cohabitation").get_json()["role"] == "quarantine"
    # Its steps are in the day's round, not among the tasks that come back.
    today = client.get(f"/api/today?on={ON}").get_json()
    mine = next(g for g in today["groups"] if g["plan_id"] == BOX)
    assert len(mine["open"]) == 4
    assert client.get(f"/api/tasks?plan={BOX}&on={ON}").get_json()["tasks"] == []
    # Over the end of February: days, not dates, are counted.
    leap = client.post(f"/api/plans/{BOX}/arrivals", json=begin | {"on": "2028-02-20"}).get_json()
    assert leap["steps"][-1]["task"]["starts_on"] == "2028-03-21"
    assert (
        client.post("/api/animals/ember/release", json={"on": "2028-03-25", "text": "Eats"}).status_code
        == 204
    )
    after = client.get(f"/api/plans/{BOX}/arrivals?on=2028-03-25").get_json()["arrivals"]
    assert [a["released"] for a in after] == [True]
    assert client.get(f"/api/plans/{BOX}/cohabitation").get_json()["role"] == "home"
    log = client.get("/api/logbook?animal=ember&kinds=move").get_json()["entries"]
    assert [e["entry"]["text"] for e in log] == ["Eats"]
    assert client.delete("/api/animals/ember/arrival").status_code == 204
    assert client.delete("/api/animals/ember/arrival").status_code == 404


def test_released_by_a_task_of_the_day_its_enclosure_is_a_home_again(client: FlaskClient) -> None:
    animal(client)
    begun = client.post(
        f"/api/plans/{BOX}/arrivals", json={"animal_id": "ember", "on": ON, "days": 14}
    ).get_json()
    last = begun["steps"][-1]["task"]
    mark = {"due_on": last["starts_on"], "done_on": last["starts_on"], "kind": "done"}
    client.put(f"/api/tasks/{last['id']}/marks", json=mark)
    assert client.get(f"/api/plans/{BOX}/cohabitation").get_json()["role"] == "home"


def test_what_cannot_be_in_quarantine_is_refused(client: FlaskClient) -> None:
    animal(client, plan_id="corn-snake")
    wrong = client.post(f"/api/plans/{BOX}/arrivals", json={"animal_id": "ember", "on": ON, "days": 30})
    assert "does not live in this enclosure" in wrong.get_json()["detail"]
    short = client.post("/api/plans/corn-snake/arrivals", json={"animal_id": "ember", "on": ON, "days": 3})
    assert "at least 14" in short.get_json()["detail"]
    assert client.post("/api/animals/ember/release", json={"on": ON}).status_code == 404
    assert client.post("/api/animals/none/release", json={"on": ON}).status_code == 404
