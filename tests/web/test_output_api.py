"""Report, drawing and field of a stored plan, by revision and in either unit."""

from __future__ import annotations

import csv
import io

import pytest
from flask.testing import FlaskClient
from PIL import Image

from tests.builders import demo_raw

URL = "/api/plans/collared-lizard"


def _second_revision(client: FlaskClient) -> None:
    raw = demo_raw()
    raw["name"] = "Collared lizard, second try"
    raw["thermostats"][0]["day_set_point_c"] = 27.0
    body = {"document": raw, "base_revision": 1, "summary": "Cooler"}
    assert client.put(URL, json=body).get_json()["revision"] == 2


def test_the_report_page_keeps_the_content_policy(client: FlaskClient) -> None:
    answer = client.get(f"{URL}/report?units=imperial")
    assert answer.status_code == 200
    assert answer.mimetype == "text/html"
    html = answer.get_data(as_text=True)
    nonce = answer.headers["Content-Security-Policy"].partition("'nonce-")[2].partition("'")[0]
    assert f'<style nonce="{nonce}">' in html
    assert " style=" not in html
    assert "°F" in html
    assert client.get("/api/fonts/text.woff2").mimetype == "font/woff2"


def test_an_old_revision_is_reported_with_its_own_values(client: FlaskClient) -> None:
    _second_revision(client)
    newest = client.get(f"{URL}/report").get_data(as_text=True)
    assert "second try" in newest
    assert "revision 2" in newest
    old = client.get(f"{URL}/report?revision=1").get_data(as_text=True)
    assert "second try" not in old
    assert "revision 1" in old
    assert "revision=1" in old


def test_pdf_and_pictures_come_as_files(client: FlaskClient) -> None:
    for path, media, start in (
        ("report.pdf", "application/pdf", b"%PDF"),
        ("drawing.svg?field=air&view=above", "image/svg+xml", b"<svg"),
        ("drawing.png?width=400", "image/png", b"\x89PNG"),
    ):
        answer = client.get(f"{URL}/{path}")
        assert answer.status_code == 200, path
        assert answer.mimetype == media
        assert answer.data.startswith(start)
        assert "collared-lizard-timber-enclosure" in answer.headers["Content-Disposition"]


def test_a_field_as_csv_is_the_field_of_the_evaluation(client: FlaskClient) -> None:
    rows = list(csv.DictReader(io.StringIO(client.get(f"{URL}/field.csv?at=0.3").get_data(as_text=True))))
    assert {"x_m", "z_m", "y_m", "uvi", "air_c"} <= rows[0].keys()
    assert all(float(r["y_m"]) == pytest.approx(0.3) for r in rows)
    above = client.get(f"{URL}/field.csv?view=above").get_data(as_text=True)
    assert len({r["z_m"] for r in csv.DictReader(io.StringIO(above))}) == 1


@pytest.mark.parametrize(
    ("query", "pointer"),
    [
        ("report?units=cubits", "/units"),
        ("report?revision=0", "/revision"),
        ("report?colour=red", "/colour"),
        ("drawing.svg?field=sound", "/field"),
        ("drawing.png?width=99999", "/width"),
        ("field.csv?at=nan", "/at"),
    ],
)
def test_what_cannot_be_asked_is_named(client: FlaskClient, query: str, pointer: str) -> None:
    answer = client.get(f"{URL}/{query}")
    assert answer.status_code == 422
    assert answer.get_json()["fields"][0]["pointer"] == pointer


def test_a_cut_outside_the_enclosure_is_refused(client: FlaskClient) -> None:
    answer = client.get(f"{URL}/drawing.svg?at=2.5")
    assert answer.status_code == 422
    assert "0.6" in answer.get_json()["detail"]


def test_what_is_not_there_is_not_found(client: FlaskClient) -> None:
    assert client.get("/api/plans/nowhere/report").status_code == 404
    assert client.get(f"{URL}/report?revision=99").status_code == 404


def test_building_names_parts_steps_and_cautions(client: FlaskClient) -> None:
    found = client.post("/api/building", json={"document": demo_raw()}).get_json()
    assert {"enclosure", "lamps", "control", "ground", "safety"} <= {p["group"] for p in found["parts"]}
    assert found["running"]["connected_w"] == 114.0
    assert found["running"]["regulated"]
    assert [s["id"] for s in found["steps"]][-1] == "animal"
    assert "predicted" in {c["id"] for c in found["cautions"]}
    bad = client.post("/api/building", json={"document": {**demo_raw(), "name": ""}})
    assert bad.status_code == 422


def _picture(colour: str) -> bytes:
    made = io.BytesIO()
    Image.new("RGB", (320, 200), colour).save(made, "PNG")
    return made.getvalue()


def test_a_picture_in_3d_is_in_the_report_until_it_is_removed(client: FlaskClient) -> None:
    assert "The enclosure in 3D" not in client.get(f"{URL}/report").get_data(as_text=True)
    for colour in ("green", "red"):
        put = client.put(f"{URL}/picture?revision=1", data=_picture(colour), content_type="image/png")
        assert put.status_code == 204
    with Image.open(io.BytesIO(client.get(f"{URL}/picture").data)) as shown:
        assert shown.format == "JPEG"
        red, green, _ = shown.convert("RGB").getpixel((100, 100))  # type: ignore[misc]
        assert red > 200 > green
    _second_revision(client)
    report = client.get(f"{URL}/report").get_data(as_text=True)
    assert "In 3D, as of revision 1" in report
    assert client.get(f"{URL}/report.pdf").data.startswith(b"%PDF")
    assert client.delete(f"{URL}/picture").status_code == 204
    assert client.get(f"{URL}/picture").status_code == 404
    assert "The enclosure in 3D" not in client.get(f"{URL}/report").get_data(as_text=True)


def test_a_picture_that_is_none_or_of_no_revision_is_refused(client: FlaskClient) -> None:
    none = client.put(f"{URL}/picture?revision=1", data=b"no picture", content_type="image/png")
    assert none.status_code == 422
    assert "JPEG, PNG or WebP" in none.get_json()["detail"]
    late = client.put(f"{URL}/picture?revision=9", data=_picture("red"), content_type="image/png")
    assert late.status_code == 404
    assert client.get(f"{URL}/picture").status_code == 404
