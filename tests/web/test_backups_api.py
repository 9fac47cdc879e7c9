"""Backups over HTTP: made, handed out, checked, gone back to; what is wrong with one is named."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

from flask.testing import FlaskClient

from noonshade.web.app import NoonShade
from noonshade.web.backups.routes import backup_policy
from tests.web.test_logbook_api import found, write


def test_a_backup_is_made_checked_handed_out_and_gone_back_to(client: FlaskClient) -> None:
    write(client, "a", text="first")
    made = client.post("/api/backups").get_json()
    assert (made["plans"], made["entries"], made["photos"]) == (8, 1, 0)
    name = made["archive"]["name"]
    assert client.post(f"/api/backups/{name}/check").get_json() == made
    with client.get(f"/api/backups/{name}") as answer:
        assert answer.content_type == "application/zip"
        content = answer.data
    write(client, "b", text="second")
    client.delete("/api/plans/corn-snake")
    answer = client.post(f"/api/backups/{name}/restore")
    assert Path(answer.get_json()["safety_copy"]).is_file()
    assert found(client) == ["a"]
    assert client.get("/api/plans/corn-snake").status_code == 200
    # The same from a file that is sent.
    write(client, "c", text="third")
    sent = client.post("/api/restore", data=content, content_type="application/zip")
    assert sent.status_code == 200
    assert found(client) == ["a"]
    listed = client.get("/api/backups").get_json()
    assert [a["name"] for a in listed["archives"]] == [name]
    assert listed["failure"] is None


def test_what_is_known_of_own_lamps_is_forgotten_with_the_data(client: FlaskClient) -> None:
    document = client.get("/api/lamps/t5-mild-55/export").get_json()
    mine = client.post("/api/lamps", json={"document": document}).get_json()["document"]["id"]
    name = client.post("/api/backups").get_json()["archive"]["name"]
    client.put(f"/api/lamps/{mine}", json={"document": document | {"label": "Later"}, "base_revision": 1})
    client.post(f"/api/backups/{name}/restore")
    client.put(f"/api/lamps/{mine}", json={"document": document | {"label": "Other"}, "base_revision": 1})
    labels = [lamp["label"] for lamp in client.get("/api/catalog").get_json()["lamps"]]
    assert "Other" in labels
    assert "Later" not in labels


def test_a_damaged_or_foreign_file_changes_nothing(client: FlaskClient) -> None:
    write(client, "a", text="first")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("../evil", "x")
    for data, said in (
        (b"", "no ZIP archive"),
        (b"PK" * 90, "no ZIP archive"),
        (out.getvalue(), "no backup"),
    ):
        answer = client.post("/api/restore", data=data, content_type="application/zip")
        assert answer.status_code == 422
        assert said in answer.get_json()["detail"]
        assert "Nothing was changed" in answer.get_json()["detail"]
    for name in ("none.zip", "noonshade-20260101-000000.zip", "..%2Fnoonshade.db"):
        assert client.post(f"/api/backups/{name}/restore").status_code in (404, 405)
        assert client.get(f"/api/backups/{name}").status_code == 404
    assert found(client) == ["a"]


def test_the_schedule_is_set_and_one_that_cannot_be_read_still_makes_backups(
    client: FlaskClient, app: NoonShade
) -> None:
    assert client.get("/api/backups").get_json()["schedule"]["every"] == "day"
    client.put("/api/backups/schedule", json={"every": "week", "newest": 3, "weeks": 0, "months": 6})
    assert backup_policy(app.services.settings).every == "week"
    wrong = client.put("/api/backups/schedule", json={"every": "hour"})
    assert wrong.status_code == 422
    app.services.write(app.services.settings.put, "backup-schedule", "{broken")
    assert backup_policy(app.services.settings).every == "day"


def test_a_folder_that_cannot_be_written_is_named(client: FlaskClient, app: NoonShade) -> None:
    backups = app.services.backups
    backups.folder.write_text("in the way")
    assert client.post("/api/backups").status_code == 503
    assert "cannot be written" in client.get("/api/backups").get_json()["failure"]
