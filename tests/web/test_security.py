"""Who may talk to the program, and what every answer carries."""

from __future__ import annotations

from pathlib import Path

from flask.testing import FlaskClient

from noonshade.version import __version__
from noonshade.web import AppSettings, create_app
from noonshade.web.app import NoonShade


def test_foreign_host_names_are_refused(client: FlaskClient) -> None:
    refused = client.get("/api/health", headers={"Host": "evil.example"})
    assert refused.status_code == 403
    assert "'evil.example' was asked for" in refused.get_json()["detail"]
    for host in ("127.0.0.1:8620", "localhost", "[::1]:9000"):
        assert client.get("/api/health", headers={"Host": host}).status_code == 200


def test_changes_from_other_pages_are_refused(client: FlaskClient) -> None:
    url = "/api/plans/collared-lizard"
    headers = {"Host": "localhost:8620", "Origin": "http://evil.example"}
    assert client.delete(url, headers=headers).status_code == 403
    assert client.get(url).status_code == 200
    own = {"Host": "localhost:8620", "Origin": "http://localhost:8620"}
    assert client.delete(url, headers=own).status_code == 204


def test_security_headers_and_nonce(client: FlaskClient) -> None:
    page = client.get("/plans/anything")
    policy = page.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self';" in policy
    nonce = policy.split("'nonce-")[1].split("'")[0]
    assert f'content="{nonce}"' in page.text
    assert nonce != client.get("/").headers["Content-Security-Policy"].split("'nonce-")[1].split("'")[0]
    assert page.headers["X-Content-Type-Options"] == "nosniff"
    assert client.get("/api/health").headers["Cache-Control"] == "no-store"
    with client.get("/assets/app-1.js") as asset:
        assert "immutable" in asset.headers["Cache-Control"]
    assert client.get("/assets/%2e%2e/%2e%2e/data/noonshade.db").status_code == 404


def test_open_to_the_network_asks_for_the_passphrase(tmp_path: Path) -> None:
    app = create_app(
        AppSettings(data_file=tmp_path / "d.db", allowed_hosts=None, passphrase="under the mill wheel")
    )
    client = app.test_client()
    asked = client.get("/api/health", headers={"Host": "192.0.2.7"})
    assert asked.status_code == 401
    assert asked.headers["WWW-Authenticate"].startswith("Basic")
    assert client.get("/api/health", auth=("keeper", "wrong")).status_code == 401
    assert client.get("/api/health", auth=("keeper", "under the mill wheel")).status_code == 200


def test_missing_front_end_is_said(tmp_path: Path) -> None:
    app = create_app(AppSettings(data_file=tmp_path / "d.db", front_end=tmp_path / "none"))
    page = app.test_client().get("/")
    assert page.status_code == 503
    assert "make build" in page.text


def test_health_names_the_version(client: FlaskClient) -> None:
    assert client.get("/api/health").get_json() == {
        "status": "ok",
        "version": __version__,
        "demo": True,
        "reads_only": False,
    }


def test_unexpected_errors_show_nothing_secret(app: NoonShade, client: FlaskClient) -> None:
    def fail() -> str:
        raise RuntimeError("secret path /home/someone")

    app._got_first_request = False
    app.add_url_rule("/api/fail", view_func=fail)
    response = client.get("/api/fail")
    assert response.status_code == 500
    assert "secret" not in response.text
