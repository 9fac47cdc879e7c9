"""The server ends cleanly on SIGINT and SIGTERM: also where SIGINT was ignored at its start."""

import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

import pytest
import waitress

from noonshade.cli.serving import serve_until_stopped

ROOT = Path(__file__).parents[1]


@pytest.mark.parametrize("number", [signal.SIGINT, signal.SIGTERM])
def test_started_with_sigint_ignored_it_still_stops_at_once(tmp_path: Path, number: signal.Signals) -> None:
    command = [sys.executable, "-m", "noonshade", "serve", "--port", "0", "--data", str(tmp_path / "data")]
    before = signal.signal(signal.SIGINT, signal.SIG_IGN)  # The server inherits it, as under nohup.
    try:
        server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=ROOT)
    finally:
        signal.signal(signal.SIGINT, before)
    with server:
        try:
            assert server.stdout is not None
            assert "ready at http://127.0.0.1:" in server.stdout.readline()
            server.send_signal(number)
            assert server.wait(timeout=20) == 0
        finally:
            server.kill()
    assert not list((tmp_path / "data").glob("*-wal"))  # The database is closed, its log written back.


def terminate() -> None:
    """Send SIGTERM to the thread that serves; sent to the process, this one might get it instead."""
    main = threading.main_thread().ident
    assert main is not None
    signal.pthread_kill(main, signal.SIGTERM)


def is_listening(port: int) -> bool:
    """Whether new connections are accepted."""
    try:
        socket.create_connection(("127.0.0.1", port), timeout=1).close()
    except OSError:
        return False
    return True


class SlowApplication:
    """Answers once it is released."""

    def __init__(self) -> None:
        self.entered, self.release = threading.Event(), threading.Event()

    def __call__(self, _: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        self.entered.set()
        self.release.wait(20)
        start("200 OK", [("Content-Type", "text/plain")])
        return [b"finished"]


class Client(threading.Thread):
    """Asks once, and calls ``then`` while its request is under way."""

    def __init__(self, application: SlowApplication, then: Callable[[], None]) -> None:
        super().__init__(daemon=True)
        self.application, self.then, self.port = application, then, 0
        self.answer: bytes | None = None

    def run(self) -> None:
        threading.Thread(target=self._then, daemon=True).start()
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/", timeout=20) as answer:
                self.answer = answer.read()
        except OSError:
            pass

    def _then(self) -> None:
        self.application.entered.wait(20)
        self.then()


def serve(application: SlowApplication, client: Client) -> float:
    """Serve the client until a signal; how long that took, seconds."""
    server = waitress.create_server(application, listen="127.0.0.1:0", threads=2)
    client.port = server.effective_port
    handlers = [signal.getsignal(n) for n in (signal.SIGINT, signal.SIGTERM)]
    start = time.monotonic()
    serve_until_stopped(server, ready=client.start)
    assert [signal.getsignal(n) for n in (signal.SIGINT, signal.SIGTERM)] == handlers
    client.join(20)
    return time.monotonic() - start


def test_a_request_under_way_is_answered_before_the_server_ends() -> None:
    application = SlowApplication()

    def stop_then_answer() -> None:
        terminate()
        time.sleep(0.3)
        application.release.set()

    client = Client(application, stop_then_answer)
    serve(application, client)
    assert client.answer == b"finished"


def test_a_second_signal_does_not_wait_for_a_request() -> None:
    application = SlowApplication()

    def stop_twice() -> None:
        terminate()
        # Two signals before the first is noticed are one.
        while is_listening(client.port):
            time.sleep(0.05)
        terminate()

    client = Client(application, stop_twice)
    assert serve(application, client) < 8
    application.release.set()
    assert client.answer is None
