"""Tasks over HTTP: what is usual, what is due, done, skipped and taken back; the round of a day."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.core.care.routine import propose_tasks
from noonshade.demo import seed_room
from noonshade.web.app import NoonShade
from tests.builders import shipped_plan
from tests.evaluated import evaluate
from tests.web.test_logbook_api import animal

BOX = "collared-lizard"
ON = "2026-03-14"


def put(client: FlaskClient, **values: Any) -> Any:
    task = {"id": "t1", "plan_id": BOX, "kind": "own", "title": "Oil the hinge", "starts_on": ON, **values}
    return client.put("/api/tasks", json=task)


def mark(client: FlaskClient, due: str, done: str | None = None, kind: str = "done", **values: Any) -> Any:
    body = {"due_on": due, "done_on": done or due, "kind": kind, **values}
    return client.put("/api/tasks/t1/marks", json=body)


def standing(client: FlaskClient, on: str = ON) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/tasks?plan={BOX}&on={on}").get_json()["tasks"][0]["status"]
    return found


def usual(client: FlaskClient, enclosure: str) -> dict[str, dict[str, Any]]:
    found = client.get(f"/api/plans/{enclosure}/usual-tasks?on={ON}").get_json()["tasks"]
    return {u["task"]["origin"].removeprefix("usual:"): u for u in found}


def test_a_task_is_due_done_overdue_and_taken_back(client: FlaskClient) -> None:
    put(client, rule="FREQ=WEEKLY")
    assert standing(client) == {"state": "due", "due_on": ON, "missed": 0}
    assert mark(client, ON).get_json()["status"]["due_on"] == "2026-03-21"
    assert standing(client, "2026-04-05") == {"state": "overdue", "due_on": "2026-04-04", "missed": 3}
    mark(client, "2026-04-04", "2026-04-05", "skipped", reason="no time")
    assert standing(client, "2026-04-05")["state"] == "coming"
    assert client.delete("/api/tasks/t1/marks/2026-04-04").status_code == 204
    assert client.delete("/api/tasks/t1/marks/2026-04-04").status_code == 404
    assert standing(client, "2026-04-05")["state"] == "overdue"
    client.delete("/api/tasks/t1")
    assert client.get(f"/api/tasks?plan={BOX}&on={ON}").get_json()["tasks"] == []
    put(client, rule="FREQ=WEEKLY")
    assert len(client.get(f"/api/tasks?plan={BOX}&on={ON}").get_json()["tasks"][0]["marks"]) == 1


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ({"rule": "FREQ=HOURLY"}, "FREQ must be one of"),
        ({"rule": "FREQ=WEEKLY;BYDAY=MO", "after_done": True}, "plain interval"),
        ({"starts_on": "2026-02-30"}, "day of the calendar"),
        ({"ends_on": "2026-01-01"}, "before the first"),
        ({"title": ""}, "must not be empty"),
        ({"kind": "polish"}, "must be one of"),
    ],
)
def test_what_cannot_come_back_is_refused_by_name(
    client: FlaskClient, values: dict[str, Any], said: str
) -> None:
    answer = put(client, **values)
    assert answer.status_code == 422
    assert said in answer.get_json()["detail"]


def test_only_its_own_days_are_marked_and_a_skip_says_why(client: FlaskClient) -> None:
    put(client, rule="FREQ=WEEKLY")
    assert "is no day of this task" in mark(client, "2026-03-15").get_json()["detail"]
    assert "say why" in mark(client, ON, kind="skipped").get_json()["detail"]
    assert put(client, plan_id="nowhere").status_code == 404
    assert client.put("/api/tasks/none/marks", json={}).status_code == 422


def test_what_is_written_along_with_a_mark_is_written_or_nothing_is(client: FlaskClient) -> None:
    animal(client)
    put(client, rule="FREQ=DAILY", kind="feeding")
    entry = {"id": "m1", "animal_id": "ember", "kind": "meal", "outcome": "eaten", "at": f"{ON}T10:00:00Z"}
    wrong = mark(client, ON, entries=[entry | {"outcome": "complete"}])
    assert "/entries/0" in wrong.get_json()["detail"]
    assert mark(client, ON, entries=[entry | {"animal_id": "nobody"}]).status_code == 404
    assert standing(client)["state"] == "due"
    assert mark(client, ON, entries=[entry]).status_code == 200
    assert client.get("/api/logbook?animal=ember").get_json()["total"] == 1


def test_what_is_usual_follows_animal_and_stage(client: FlaskClient) -> None:
    lizard = usual(client, BOX)
    assert lizard["feed"]["task"]["rule"] == "FREQ=DAILY;INTERVAL=3"
    assert "thermostat" in lizard
    assert usual(client, "corn-snake")["feed"]["task"]["rule"] == "FREQ=DAILY;INTERVAL=14"
    assert "calcium" not in usual(client, "corn-snake")
    assert "misting" in usual(client, "panther-chameleon")
    assert usual(client, "crocodile-lizard")["pool"]["task"]["kind"] == "water"
    made = client.post("/api/usual-tasks", json={"on": ON, "plan_ids": [BOX]}).get_json()["made"]
    assert len(made) == len(lizard) + 2
    assert {u["state"] for u in usual(client, BOX).values()} == {"taken"}
    # Once more makes nothing twice.
    assert client.post("/api/usual-tasks", json={"on": ON, "plan_ids": [BOX]}).get_json()["made"] == []
    # A young one eats daily: the response says that the tasks of the enclosure differ from the usual ones.
    plan = client.get(f"/api/plans/{BOX}").get_json()
    plan["document"]["animal"].update(stage="young", body_length_m=0.05, back_height_m=0.013)
    body = {"document": plan["document"], "base_revision": plan["revision"], "summary": "Young"}
    assert client.put(f"/api/plans/{BOX}", json=body).status_code == 200
    young = usual(client, BOX)
    assert (young["feed"]["state"], young["feed"]["task"]["rule"]) == ("changed", "FREQ=DAILY")
    assert young["water"]["state"] == "taken"
    assert "veterinarian" in young["d3"]["task"]["note"]


def test_the_dusting_of_d3_follows_what_the_light_gives(client: FlaskClient) -> None:
    # The tube of the tortoise is worn out, that of the collared lizard is not.
    assert usual(client, BOX)["d3"]["task"]["rule"] == "FREQ=WEEKLY;INTERVAL=4"
    note = usual(client, BOX)["d3"]["task"]["note"]
    assert "one budget" in note
    assert "By this plan" in note
    document = client.get(f"/api/plans/{BOX}").get_json()["document"]
    dark = [f for f in document["fixtures"] if f["id"] != "uv-tube"]
    body = {"document": document | {"fixtures": dark}, "base_revision": 1, "summary": "No UV"}
    client.put(f"/api/plans/{BOX}", json=body)
    assert usual(client, BOX)["d3"]["task"]["rule"] == "FREQ=WEEKLY"


def test_every_species_has_a_routine_that_can_be() -> None:
    for name in (BOX, "giant-vinegaroon", "whites-tree-frog"):
        suggest_fixes = propose_tasks(evaluate(shipped_plan(name)))
        assert len({p.key for p in suggest_fixes}) == len(suggest_fixes)
        assert all(p.why for p in suggest_fixes)


def test_the_tasks_of_a_day_are_in_the_order_of_the_racks(client: FlaskClient, app: NoonShade) -> None:
    seed_room(app.services.settings)
    animal(client)
    empty = client.get(f"/api/today?on={ON}").get_json()
    assert not empty["has_tasks"]
    put(client, rule="FREQ=DAILY")
    put(client, id="t2", plan_id=None, rule="FREQ=WEEKLY", title="Press the button")
    put(client, id="t3", rule="FREQ=WEEKLY", title="Wash", starts_on="2026-03-17")
    round_ = client.get(f"/api/today?on={ON}").get_json()
    racks = client.get("/api/room").get_json()["layout"]["racks"]
    walk = [enclosure for rack in racks for shelf in reversed(rack["shelves"]) for enclosure in shelf]
    assert [g["plan_id"] for g in round_["groups"]][: len(walk)] == walk
    assert round_["groups"][-1]["plan_id"] is None
    mine = next(g for g in round_["groups"] if g["plan_id"] == BOX)
    assert [k["task"]["id"] for k in mine["open"]] == ["t1"]
    assert mine["animals"] == [{"id": "ember", "name": "Ember"}]
    # The tortoise's tube has burned for 9000 h.
    tortoise = next(g for g in round_["groups"] if g["plan_id"] == "hermanns-tortoise")
    assert [d["kind"] for d in tortoise["lamps"]] == ["replace_lamp"]
    ahead = {d["day"]: d for d in round_["coming"]}
    assert ahead["2026-03-17"]["count"] == 2
    assert ahead["2026-03-21"]["titles"] == ["Press the button"]
    mark(client, ON)
    later = client.get(f"/api/today?on={ON}").get_json()
    mine = next(g for g in later["groups"] if g["plan_id"] == BOX)
    assert (mine["open"], mine["done"][0]["task"]["id"]) == ([], "t1")
    # What belongs to an archived enclosure waits with it.
    client.delete(f"/api/plans/{BOX}")
    assert BOX not in [g["plan_id"] for g in client.get(f"/api/today?on={ON}").get_json()["groups"]]


def test_food_rests_with_its_animal(client: FlaskClient) -> None:
    put(client, rule="FREQ=DAILY", kind="feeding", starts_on="2026-03-01")
    put(client, id="t2", rule="FREQ=DAILY", kind="water", title="Water", starts_on="2026-03-01")
    document = client.get(f"/api/plans/{BOX}").get_json()["document"]
    # Weeks 50 to 7; the first two after it are on the way out.
    document["year"] = {"brumation": {"begins_week": 50, "weeks": 10, "low_c": 7.0, "high_c": 14.0}}
    body = {"document": document, "base_revision": 1, "summary": "Rest"}
    assert client.put(f"/api/plans/{BOX}", json=body).status_code == 200

    def group(day: str) -> Any:
        groups = client.get(f"/api/today?on={day}").get_json()["groups"]
        return next(g for g in groups if g["plan_id"] == BOX)

    for day, phase, due in (
        ("2026-11-20", "usual", ["t1", "t2"]),
        ("2026-12-03", "winding_down", ["t2"]),
        ("2026-12-20", "brumation", ["t2"]),
        ("2027-02-20", "winding_up", ["t1", "t2"]),
    ):
        found = group(day)
        assert found["phase"] == phase
        assert sorted(k["task"]["id"] for k in found["open"]) == due, day
    listed = client.get(f"/api/tasks?on=2026-12-20&plan={BOX}").get_json()["tasks"]
    feeding = next(k for k in listed if k["task"]["id"] == "t1")
    assert (feeding["status"]["state"], feeding["status"]["missed"]) == ("coming", 0)
    assert feeding["status"]["due_on"] == "2027-02-19"
    ahead = client.get("/api/today?on=2026-12-20").get_json()["coming"]
    assert {d["count"] for d in ahead} == {1}


def test_the_room_has_tasks_without_a_plan(client: FlaskClient) -> None:
    found = client.get(f"/api/room/usual-tasks?on={ON}").get_json()["tasks"]
    assert {u["task"]["kind"] for u in found} == {"smoke_alarm", "residual_current"}
    assert any("qualified electrician" in u["task"]["note"] for u in found)
