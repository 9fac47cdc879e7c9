"""Limits of the HTTP server on an open network: credentials first, small bodies, no half-open hold-ups."""

from __future__ import annotations

import base64
import json
import logging
import re
import select
import socket
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from noonshade.cli import guarded
from noonshade.cli.inputs import BadInput
from noonshade.cli.server import _passphrase
from noonshade.web import AppSettings, create_app
from noonshade.web.app import BODY_LIMIT_BYTES
from noonshade.web.http.admission import largest_body
from noonshade.web.http.front_door import COOKIE, FREE_TRIES, LASTS_S, FrontDoor, WrongTries
from noonshade.web.http.security import LIVE_HEADER
from tests.shared import Running

WORDS = "under the mill wheel"
KNOWN = "Basic " + base64.b64encode(f"keeper:{WORDS}".encode()).decode()
WRONG = "Basic " + base64.b64encode(b"keeper:guess").decode()


class Served:
    """A real server of an open application, on a free port of this machine."""

    def __init__(self, data_file: Path) -> None:
        self.app = create_app(AppSettings(data_file=data_file, allowed_hosts=None, passphrase=WORDS))
        self._running = Running(self.app)
        self.port, self.close = self._running.port, self._running.close

    def send(self, *pieces: bytes, timeout: float = 10.0) -> bytes:
        """Send over a new connection and read until it is closed, or 0.5 s after the first answer."""
        with socket.create_connection(("127.0.0.1", self.port), timeout=timeout) as connection:
            for piece in pieces:
                connection.sendall(piece)
            found = b""
            try:
                while piece := connection.recv(65536):
                    found += piece
                    connection.settimeout(0.5)
            except TimeoutError:
                pass
            return found

    def health(self) -> float:
        """Seconds until the health of the program is answered."""
        begun = time.monotonic()
        url = f"http://127.0.0.1:{self.port}/api/health"
        with urllib.request.urlopen(
            urllib.request.Request(url, headers={"Authorization": KNOWN})
        ) as answer:
            assert answer.status == 200
        return time.monotonic() - begun


@pytest.fixture
def served(tmp_path: Path) -> Iterator[Served]:
    one = Served(tmp_path / "d.db")
    yield one
    one.close()


def head(method: str, path: str, *lines: str) -> bytes:
    return "\r\n".join([f"{method} {path} HTTP/1.1", "Host: mill", *lines, "", ""]).encode()


def whole_answer(connection: socket.socket) -> bytes:
    """An answer up to its announced length: it may come in pieces."""
    raw = b""
    while True:
        start, end, body = raw.partition(b"\r\n\r\n")
        announced = re.search(rb"content-length: *(\d+)", start, re.IGNORECASE)
        if end and announced and len(body) >= int(announced[1]):
            return raw
        piece = connection.recv(65536)
        assert piece, raw
        raw += piece


def answer_of(raw: bytes) -> tuple[int, dict[str, Any]]:
    """Status and problem document of an answer."""
    first, _, rest = raw.partition(b"\r\n")
    return int(first.split()[1]), json.loads(rest.partition(b"\r\n\r\n")[2])


def test_without_the_passphrase_no_body_is_read(served: Served) -> None:
    for lines in ([], [f"Authorization: {WRONG}"]):
        announced = [*lines, "Content-Type: application/json", "Content-Length: 400000000"]
        # What is still under way when the answer is given must not cost the answer.
        status, problem = answer_of(
            served.send(head("POST", "/api/backups/restore", *announced), *[b"x" * 100_000] * 20)
        )
        assert status == 401
        assert problem["type"] == "/problems/passphrase"
    # With it, an ordinary request may not be large either; files may as their operation takes them.
    large = ["Content-Type: application/json", f"Content-Length: {BODY_LIMIT_BYTES + 1}"]
    raw = served.send(head("POST", "/api/evaluate", f"Authorization: {KNOWN}", *large), b"x" * 1000)
    assert answer_of(raw)[0] == 413
    assert "At most 1000 kB" in answer_of(raw)[1]["detail"]


def test_a_body_without_an_end_is_cut_off(served: Served) -> None:
    start = head("POST", "/api/evaluate", f"Authorization: {KNOWN}", "Transfer-Encoding: chunked")
    piece = b"10000\r\n" + b" " * 0x10000 + b"\r\n"
    with socket.create_connection(("127.0.0.1", served.port), timeout=10) as connection:
        connection.sendall(start)
        sent = 0
        while not select.select([connection], [], [], 0.05)[0]:
            connection.sendall(piece)
            sent += 1
            assert sent < 40
        status, problem = answer_of(whole_answer(connection))
    assert (status, problem["title"]) == (413, "The request is too large")
    assert sent * 0x10000 > BODY_LIMIT_BYTES


def test_half_open_connections_hold_up_nobody_and_are_closed(
    served: Served, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(guarded, "HEADER_S", 1.0)
    waiting = [socket.create_connection(("127.0.0.1", served.port), timeout=15) for _ in range(120)]
    try:
        for i, one in enumerate(waiting):
            if i % 2:
                one.sendall(b"GET /api/health HTTP/1.1\r\nHost: mi")
        assert served.health() < 2.0
        begun = time.monotonic()
        for one in waiting:
            assert one.recv(10) == b""
        assert time.monotonic() - begun < 12.0
    finally:
        for one in waiting:
            one.close()
    assert served.health() < 2.0


def test_a_header_that_comes_letter_by_letter_is_not_waited_for(
    served: Served, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(guarded, "HEADER_S", 1.0)
    begun, closed = time.monotonic(), False
    with socket.create_connection(("127.0.0.1", served.port), timeout=15) as connection:
        connection.sendall(b"GET /api/health HTTP/1.1\r\nHost: mill")
        while not closed and time.monotonic() - begun < 12.0:
            closed = bool(select.select([connection], [], [], 0.2)[0])
            if not closed:
                connection.sendall(b"l")
    assert closed


def test_connections_of_one_address_are_limited(served: Served, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(guarded, "LOOPBACK", ())
    monkeypatch.setattr(guarded, "MOST_OF_ONE", 5)
    many = [socket.create_connection(("127.0.0.1", served.port), timeout=5) for _ in range(8)]
    try:
        closed = 0
        for one in many:
            one.settimeout(1.0)
            try:
                closed += one.recv(10) == b""
            except TimeoutError:
                continue
        assert closed == 3
    finally:
        for one in many:
            one.close()


def test_wrong_words_make_an_address_wait_longer_and_longer(caplog: pytest.LogCaptureFixture) -> None:
    now = [100.0]
    door = FrontDoor(WORDS, WrongTries(lambda: now[0]))
    with caplog.at_level(logging.WARNING):
        for _ in range(FREE_TRIES):
            problem = door.problem("/api/plans", WRONG, "192.0.2.7")
            assert problem is not None
            assert problem.status == 401
    assert caplog.text.count("wrong passphrase from 192.0.2.7") == FREE_TRIES
    assert WORDS not in caplog.text
    assert "guess" not in caplog.text
    for wait in (1, 2, 4, 8):
        problem = door.problem("/api/plans", WRONG, "192.0.2.7")
        assert problem is not None
        problem = door.problem("/api/plans", KNOWN, "192.0.2.7")
        assert problem is not None
        assert (problem.status, problem.detail) == (429, f"Try again in {wait} s.")
        # Others need not wait, nor does who asks nothing.
        assert door.problem("/api/plans", KNOWN, "192.0.2.8") is None
        now[0] += wait
    assert door.problem("/api/plans", KNOWN, "192.0.2.7") is None
    assert door.tries.wait_s("192.0.2.7") == 0.0


def test_a_browser_signs_in_on_a_page_and_is_remembered(tmp_path: Path) -> None:
    app = create_app(AppSettings(data_file=tmp_path / "d.db", allowed_hosts=None, passphrase=WORDS))
    html = {"Accept": "text/html,*/*"}
    with app.test_client() as client:
        asked = client.get("/", headers=html)
        assert asked.status_code == 401
        assert b"Passphrase" in asked.data
        # No window of the browser's own.
        assert "WWW-Authenticate" not in asked.headers
        assert client.get("/api/plans").headers["WWW-Authenticate"].startswith("Basic")
        assert "WWW-Authenticate" not in client.get("/api/plans", headers={LIVE_HEADER: "a"}).headers
        wrong = client.post("/sign-in", data={"passphrase": "guess"})
        assert wrong.status_code == 401
        assert b"This is not the passphrase" in wrong.data
        right = client.post("/sign-in", data={"passphrase": WORDS})
        assert (right.status_code, right.headers["Location"]) == (303, "/")
        cookie = right.headers["Set-Cookie"]
        assert "HttpOnly" in cookie
        assert "SameSite=Strict" in cookie
        assert WORDS not in cookie
        assert "Secure" not in cookie
        behind_tls = {"Origin": "https://mill.example", "Host": "mill.example"}
        assert (
            "Secure"
            in client.post("/sign-in", data={"passphrase": WORDS}, headers=behind_tls).headers["Set-Cookie"]
        )
        assert client.get("/api/plans").status_code == 200
        assert b"Sign out" in client.get("/sign-in", headers=html).data
        assert client.post("/sign-out").status_code == 303
        assert client.get("/api/plans").status_code == 401


def test_a_cookie_of_another_passphrase_or_too_old_lets_nobody_in(monkeypatch: pytest.MonkeyPatch) -> None:
    door, other = FrontDoor(WORDS), FrontDoor("another passphrase")
    cookie = f"{COOKIE}={door.token()}"
    assert door.problem("/api/plans", None, "192.0.2.7", cookie) is None
    for bad in (f"{COOKIE}={other.token()}", f"{cookie}x", f"{COOKIE}=", "", None):
        problem = door.problem("/api/plans", None, "192.0.2.7", bad)
        assert problem is not None
        assert problem.status == 401
    later = time.time() + LASTS_S + 60
    monkeypatch.setattr(time, "time", lambda: later)
    assert door.problem("/api/plans", None, "192.0.2.7", cookie) is not None


def test_guessing_on_the_page_is_slowed_as_well(tmp_path: Path) -> None:
    app = create_app(AppSettings(data_file=tmp_path / "d.db", allowed_hosts=None, passphrase=WORDS))
    with app.test_client() as client:
        for _ in range(FREE_TRIES + 1):
            client.post("/sign-in", data={"passphrase": "guess"})
        slowed = client.post("/sign-in", data={"passphrase": WORDS})
        assert slowed.status_code == 429
        assert int(slowed.headers["Retry-After"]) >= 1
        assert b"Try again in" in slowed.data


def test_the_application_answers_as_the_door_does(tmp_path: Path) -> None:
    app = create_app(AppSettings(data_file=tmp_path / "d.db", allowed_hosts=None, passphrase=WORDS))
    client = app.test_client()
    for _ in range(FREE_TRIES + 1):
        assert client.get("/api/health", headers={"Authorization": WRONG}).status_code == 401
    waiting = client.get("/api/health", headers={"Authorization": KNOWN})
    assert waiting.status_code == 429
    assert int(waiting.headers["Retry-After"]) >= 1


def test_wrong_device_keys_make_an_address_wait(client: FlaskClient) -> None:
    headers = {"Authorization": "Bearer guess"}
    sent = {"readings": [{"at": "2026-03-14T08:00:00Z", "temperature_c": 21.0}]}
    statuses = [
        client.post("/api/devices/readings", json=sent, headers=headers).status_code
        for _ in range(FREE_TRIES + 2)
    ]
    assert statuses == [401] * (FREE_TRIES + 1) + [429]
    waiting = client.post("/api/devices/readings", json=sent, headers=headers)
    assert int(waiting.headers["Retry-After"]) >= 1
    assert waiting.get_json()["type"] == "/problems/too-many-tries"
    # The keeper's own pages are not held up by it.
    assert client.get("/api/health").status_code == 200


def test_a_passphrase_is_as_long_from_wherever_it_comes(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    short = tmp_path / "words"
    short.write_text("mill\n", encoding="utf-8")
    with pytest.raises(BadInput, match="at least 8 characters"):
        _passphrase(short)
    monkeypatch.setenv("NOONSHADE_PASSPHRASE", "mill")
    with pytest.raises(BadInput, match="NOONSHADE_PASSPHRASE must have at least 8 characters"):
        _passphrase(None)
    monkeypatch.setenv("NOONSHADE_PASSPHRASE", f"  {WORDS} ")
    assert _passphrase(None) == WORDS
    monkeypatch.delenv("NOONSHADE_PASSPHRASE")
    assert _passphrase(None) is None


@pytest.mark.parametrize(
    ("method", "path", "most"),
    [
        ("POST", "/api/evaluate", BODY_LIMIT_BYTES),
        ("POST", "/api/logbook/a/photos", 25_000_000),
        ("POST", "/api/logbook/a/b/photos", BODY_LIMIT_BYTES),
        ("GET", "/api/logbook/a/photos", BODY_LIMIT_BYTES),
        ("POST", "/nowhere", BODY_LIMIT_BYTES),
    ],
)
def test_only_what_takes_files_takes_large_ones(method: str, path: str, most: int) -> None:
    assert largest_body(method, path) == most
