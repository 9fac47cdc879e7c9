"""The year over HTTP: weeks, months, the card, and calendars on the network."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from icalendar import Calendar

from noonshade.demo import seed
from noonshade.web import AppSettings, create_app
from noonshade.web.app import NoonShade
from tests.web.test_tasks_api import put

BOX = "collared-lizard"


def document(client: FlaskClient, **year: Any) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/plans/{BOX}").get_json()["document"]
    return found | ({"year": year} if year else {})


def save(client: FlaskClient, made: dict[str, Any], base: int = 1) -> Any:
    body = {"document": made, "base_revision": base, "summary": "Year"}
    return client.put(f"/api/plans/{BOX}", json=body)


def events(data: bytes) -> list[Any]:
    return list(Calendar.from_ical(data).walk("VEVENT"))


def test_a_plan_without_a_year_is_shown_the_usual_one(client: FlaskClient) -> None:
    found = client.post("/api/year", json={"document": document(client)}).get_json()
    assert found["year"] == found["usual"]
    assert len(found["weeks"]) == 52
    assert found["room_known"]
    assert {w["phase"] for w in found["weeks"]} == {"usual", "brumation", "winding_down", "winding_up"}
    assert next(one["id"] for one in found["limits"]) == "rest_too_warm"
    own = client.post("/api/year", json={"document": document(client, days_follow=0.0)}).get_json()
    assert {w["photoperiod_h"] for w in own["weeks"]} == {12.0}
    assert own["usual"] == found["usual"]


@pytest.mark.parametrize(
    ("year", "said"),
    [
        ({"days_follow": 2.0}, "must be at most 1"),
        ({"brumation": {"begins_week": 60, "weeks": 8, "low_c": 5.0, "high_c": 9.0}}, "must be at most 52"),
        (
            {"brumation": {"begins_week": 50, "weeks": 8, "low_c": 9.0, "high_c": 5.0}},
            "low_c must be below",
        ),
        (
            {"brumation": {"begins_week": 1, "weeks": 40, "ramp_weeks": 7, "low_c": 1.0, "high_c": 5.0}},
            "at most 6",
        ),
        ({"weeks": [{"week": 3}, {"week": 3}]}, "a week is set twice"),
        ({"swaps": [{"fixture_id": "x", "from_month": 0, "to_month": 3, "power_w": 50.0}]}, "at least 1"),
    ],
)
def test_a_year_that_cannot_be_is_refused_by_name(
    client: FlaskClient, year: dict[str, Any], said: str
) -> None:
    answer = client.post("/api/year", json={"document": document(client, **year)})
    assert answer.status_code == 422
    assert said in answer.get_json()["detail"]


def test_a_month_says_what_fails_and_offers_what_the_season_changes(client: FlaskClient) -> None:
    body = {"document": document(client, days_follow=1.0), "month": 4}
    april = client.post("/api/year/month", json=body).get_json()
    assert april["month"] == 4
    assert april["failing"]
    offer = april["fix"]["offer"]
    assert offer["kind"] in ("power", "set_point")
    # Taken into the year, the month has one fault less.
    if offer["kind"] == "power":
        made = document(
            client,
            swaps=[
                {"fixture_id": offer["part_id"], "from_month": 4, "to_month": 4, "power_w": offer["value"]}
            ],
        )
    else:
        shift = offer["value"] - 30.0
        made = document(client, weeks=[{"week": w, "day_shift_k": shift} for w in range(13, 18)])
    after = client.post("/api/year/month", json={"document": made, "month": 4}).get_json()
    assert len(after["failing"]) < len(april["failing"])
    loose = document(client)
    loose["room"] |= {"months": [], "follows": False}
    refused = client.post("/api/year/month", json={"document": loose, "month": 4})
    assert "set the climate of the room" in refused.get_json()["detail"]


def test_the_card_says_when_to_set_what(client: FlaskClient) -> None:
    save(client, document(client, day_swing_k=4.0, standard_time=True))
    page = client.get(f"/api/plans/{BOX}/card?year=2027&zone=Europe/Berlin")
    text = page.get_data(as_text=True)
    assert page.content_type.startswith("text/html")
    assert "Clocks go forward 1 h" in text
    assert "lamps keep winter time" in text
    assert "qualified electrician" in text
    assert "28 Mar" in text
    fahrenheit = client.get(f"/api/plans/{BOX}/card?year=2027&units=imperial").get_data(as_text=True)
    assert "86.0 °F" in fahrenheit
    assert client.get(f"/api/plans/{BOX}/card?year=2027&zone=Mars").status_code == 422
    assert client.get(f"/api/plans/{BOX}/card").status_code == 422
    assert client.get(f"/api/plans/{BOX}/card.pdf?year=2028").data.startswith(b"%PDF")


def test_an_enclosure_is_a_calendar_file_that_is_read_back(client: FlaskClient) -> None:
    put(client, rule="FREQ=WEEKLY", starts_on="2026-03-14")
    bare = events(client.get(f"/api/plans/{BOX}/calendar.ics").data)
    # Of 4500 hours 100 are gone, 12 a day.
    assert [str(e["summary"]).split(":")[0] for e in bare] == ["Replace UV tube", "Oil the hinge"]
    today = datetime.now(UTC).date()
    replaced = bare[0].decoded("dtstart")
    assert (replaced - today).days == pytest.approx(366, abs=1)
    due_on = (today - timedelta(days=(today - date(2026, 3, 14)).days % 7)).isoformat()
    done = {"kind": "done", "due_on": due_on, "done_on": today.isoformat()}
    assert client.put("/api/tasks/t1/marks", json=done).status_code == 200
    again = events(client.get(f"/api/plans/{BOX}/calendar.ics").data)[1]
    assert [d.dt.isoformat() for d in again["exdate"].dts] == [due_on]
    save(client, document(client, days_follow=1.0))
    whole = events(client.get(f"/api/plans/{BOX}/calendar.ics?zone=Europe/London").data)
    years = {e.decoded("dtstart").year for e in whole if "settings" in str(e["categories"].to_ical())}
    assert years == {datetime.now(UTC).year, datetime.now(UTC).year + 1}
    assert all(isinstance(e.decoded("dtstart"), date) for e in whole)


def test_calendars_on_the_network_need_the_address_and_nothing_else(tmp_path: Path) -> None:
    app = create_app(
        AppSettings(data_file=tmp_path / "noonshade.db", allowed_hosts=None, passphrase="correct horse")
    )
    seed(app.services.plans)
    client = app.test_client()
    owner = {"Authorization": "Basic " + "eDpjb3JyZWN0IGhvcnNl"}
    assert client.get("/api/calendar-address").status_code == 401
    assert client.get("/api/calendar-address", headers=owner).get_json() == {"path": None}
    assert client.get("/api/calendar/guess.ics").status_code == 404
    first = client.post("/api/calendar-address", headers=owner).get_json()["path"]
    answer = client.get(first)
    assert answer.status_code == 200
    assert answer.content_type.startswith("text/calendar")
    assert Calendar.from_ical(answer.data)["version"] == "2.0"
    second = client.post("/api/calendar-address", headers=owner).get_json()["path"]
    assert client.get(first).status_code == 404
    assert client.get(second).status_code == 200
    assert client.get("/api/plans").status_code == 401


def test_an_enclosure_that_cannot_be_read_is_missing_from_the_calendar_alone(
    client: FlaskClient, app: NoonShade
) -> None:
    app.services.write(
        app.services.plans.create, "Torn", '{"format": "noonshade-plan", "version": 1}', plan_id="torn"
    )
    save(client, document(client, days_follow=1.0))
    put(client, rule="FREQ=WEEKLY", starts_on="2026-03-14")
    path = client.post("/api/calendar-address").get_json()["path"]
    answer = client.get(path)
    assert answer.status_code == 200
    said = {str(e["summary"]) for e in events(answer.data)}
    assert not any("Torn" in s for s in said)
    assert any(s.startswith("Set Collared lizard") for s in said)
    assert any(s.startswith("Oil the hinge") for s in said)


def test_lamps_burn_by_the_weeks_of_the_year(client: FlaskClient, app: NoonShade) -> None:
    save(client, document(client, days_follow=1.0))
    today = datetime.now(UTC).date()
    on = {"on": today.isoformat(), "plan_ids": [BOX]}
    client.post("/api/installed-lamps/register", json=on)
    year_on = today.replace(day=1, year=today.year + 1).isoformat()
    units = client.get(f"/api/installed-lamps?on={year_on}").get_json()["installed_lamps"]
    tube = next(u for u in units if u["installed_lamp"]["lamp_id"] == "t5-strong-85")
    days = (date.fromisoformat(year_on) - today).days
    # Days of a whole year are twelve hours on average, whatever the latitude.
    assert (tube["hours"] - 100.0) / days == pytest.approx(12.1, abs=0.4)
