"""The practice bench: every puzzle can be solved by its readings, and tells nothing before."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.core.plan_errors import plan_errors
from noonshade.instruments.practice import FAULTS, PUZZLES, Puzzle, true_plan
from tests.builders import shipped_plan
from tests.evaluated import evaluate

URL = "/api/practice"


@pytest.mark.parametrize("puzzle", PUZZLES, ids=lambda p: p.id)
def test_every_fault_and_choice_makes_another_enclosure_that_can_be_built(puzzle: Puzzle) -> None:
    plan = shipped_plan(puzzle.plan_id)
    assert set(puzzle.faults) <= set(puzzle.choices)
    for choice in puzzle.choices:
        other = true_plan(plan, (choice,))
        assert plan_errors(other) == []
        assert other != plan, choice
    base = {v.id: v.value for v in evaluate(plan).checks}
    real = {v.id: v.value for v in evaluate(true_plan(plan, puzzle.faults)).checks}
    # What is wrong shows in some assessed figure, by more than instruments are off.
    off = [abs(real[k] - v) / max(abs(v), 1.0) for k, v in base.items() if v and real.get(k) is not None]
    assert max(off) > 0.08


def test_puzzles_get_harder_and_do_not_name_their_mistake(client: FlaskClient) -> None:
    listed = client.get(URL).get_json()["puzzles"]
    levels = [p["level"] for p in listed]
    assert levels == sorted(levels)
    assert levels[0] < levels[-1]
    one = client.get(f"{URL}/still-bright").get_json()
    assert "faults" not in one
    assert one["count"] == 1
    assert {c["id"] for c in one["choices"]} == {"old_tube", "weak_bulb", "draught", "low_lamps"}
    assert len(one["places"]) >= 8
    sheets = {i["kind"]: i for i in one["instruments"]}
    assert len(sheets) == 5
    assert sheets["UV meter"]["digit"] == 0.1
    assert "bias" not in sheets["UV meter"]


def read(client: FlaskClient, puzzle: str, **body: Any) -> dict[str, Any]:
    answer = client.post(f"{URL}/{puzzle}/read", json=body)
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def test_readings_are_of_the_true_enclosure_and_repeat_with_noise(client: FlaskClient) -> None:
    place = next(
        t for t in client.get(f"{URL}/still-bright").get_json()["places"] if t["id"] == "basking:uvi"
    )
    first = read(client, "still-bright", kind="uvi_facing", at_m=place["at_m"])
    assert first["value"] < first["expected"]["low"]
    assert read(client, "still-bright", kind="uvi_facing", at_m=place["at_m"]) == first
    many = {
        read(client, "still-bright", kind="surface", at_m=place["at_m"], number=n)["value"]
        for n in range(6)
    }
    assert len(many) > 1
    bare = read(client, "still-bright", kind="air", at_m=place["at_m"], shaded=False)["value"]
    shaded = read(client, "still-bright", kind="air", at_m=place["at_m"])["value"]
    assert bare > shaded + 1.0


def test_a_puzzle_is_solved_corrected_and_explained(client: FlaskClient) -> None:
    puzzle = client.get(f"{URL}/still-bright").get_json()
    taken = []
    for task in puzzle["places"]:
        value = read(client, "still-bright", kind=task["kind"], at_m=task["at_m"])["value"]
        taken.append({"kind": task["kind"], "at_m": task["at_m"], "value": value})
    answer = client.post(
        f"{URL}/still-bright/answer", json={"causes": ["old_tube"], "readings": taken}
    ).get_json()
    assert answer["right"]
    assert "still shines" in answer["tells"][0]
    uvi = next(f for f in answer["figures"] if f["quantity"] == "uvi" and f["planned"] > 1)
    assert uvi["was"] < 0.5 * uvi["planned"]
    assert uvi["now"] == pytest.approx(uvi["planned"])
    words = ["".join(p.get("text", "") for p in phrase) for phrase in answer["fit"]]
    assert any("UV tube gives" in w and "less UV than" in w for w in words)
    wrong = client.post(
        f"{URL}/still-bright/answer", json={"causes": ["weak_bulb"], "readings": []}
    ).get_json()
    assert not wrong["right"]
    assert wrong["causes"] == ["old_tube"]
    uvi = next(f for f in wrong["figures"] if f["quantity"] == "uvi" and f["planned"] > 1)
    assert uvi["now"] == pytest.approx(uvi["was"])


def test_a_thermostats_display_and_a_wide_spot(client: FlaskClient) -> None:
    url = f"{URL}/dial-says-thirty"
    plan = shipped_plan("collared-lizard")
    name, point = plan.thermostats[0].id, plan.thermostats[0].day_set_point_c
    by_day = client.post(f"{url}/display", json={"thermostat_id": name, "hour": 15}).get_json()["value"]
    assert by_day == pytest.approx(point, abs=3.0)
    assert client.post(f"{url}/display", json={"thermostat_id": "x", "hour": 15}).status_code == 404
    assert client.post(f"{url}/display", json={"thermostat_id": name, "hour": 25}).status_code == 422
    places = client.get(f"{URL}/one-hot-point").get_json()["places"]
    spot = next(t for t in places if t["id"] == "basking:surface")
    near, far = (
        read(client, "one-hot-point", kind="surface", at_m=spot["at_m"], distance_m=d)["value"]
        for d in (0.05, 2.0)
    )
    assert near != far


def test_half_of_two_is_not_solved(client: FlaskClient) -> None:
    half = client.post(f"{URL}/two-at-once/answer", json={"causes": ["old_tube"], "readings": []})
    assert not half.get_json()["right"]
    both = {"causes": ["weak_bulb", "old_tube"], "readings": []}
    assert client.post(f"{URL}/two-at-once/answer", json=both).get_json()["right"]


def test_bad_requests_are_named(client: FlaskClient) -> None:
    assert client.get(f"{URL}/nothing").status_code == 404
    assert client.post(f"{URL}/nothing/read", json={"kind": "room_air"}).status_code == 404
    missing = client.post(f"{URL}/still-bright/read", json={"kind": "air"})
    assert missing.status_code == 422
    assert "needs a place" in missing.get_json()["detail"]
    far = {"kind": "air", "at_m": {"x_m": 5.0, "y_m": 0.1, "z_m": 0.2}}
    assert "outside the enclosure" in client.post(f"{URL}/still-bright/read", json=far).get_json()["detail"]
    for causes in (["spot"], ["__class__"]):
        answer = client.post(f"{URL}/still-bright/answer", json={"causes": causes, "readings": []})
        assert answer.status_code == 404
    assert client.post(f"{URL}/still-bright/answer", json={"causes": [], "readings": []}).status_code == 422
    assert all(f.label and f.fix and f.tell for f in FAULTS.values())
