"""The server ends cleanly on SIGINT and SIGTERM: also where SIGINT was ignored at its start."""

import base64
import json
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.error
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


def children_of(pid: int) -> list[int]:
    """Processes that were started by one."""
    text = Path(f"/proc/{pid}/task/{pid}/children").read_text(encoding="utf-8")
    threads = Path(f"/proc/{pid}/task").iterdir()
    found = set(text.split())
    for thread in threads:
        found |= set((thread / "children").read_text(encoding="utf-8").split())
    return sorted(int(child) for child in found)


def is_alive(pid: int) -> bool:
    """Whether a process runs; one that only waits to be buried does not."""
    try:
        state = Path(f"/proc/{pid}/stat").read_text(encoding="utf-8").rsplit(")", 1)[1].split()[0]
    except OSError:
        return False
    return state != "Z"


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGKILL])
def test_work_under_way_neither_delays_the_end_nor_outlives_it(
    tmp_path: Path, number: signal.Signals
) -> None:
    command = [sys.executable, "-m", "noonshade", "serve", "--demo", "--port", "0", "--data", str(tmp_path)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=ROOT) as server:
        try:
            assert server.stdout is not None
            address = server.stdout.readline().split()[-1]
            plan = urllib.request.urlopen(f"{address}api/plans/corn-snake", timeout=20).read()
            body = json.dumps({"document": json.loads(plan)["document"]}).encode()
            headers = {"Content-Type": "application/json"}
            request = urllib.request.Request(f"{address}api/intervals", body, headers)
            ends: list[int] = []

            def ask() -> None:
                try:
                    urllib.request.urlopen(request, timeout=60)
                except urllib.error.HTTPError as error:
                    ends.append(error.code)
                except OSError:
                    ends.append(0)

            asking = threading.Thread(target=ask, daemon=True)
            asking.start()
            time.sleep(1.0)
            children = children_of(server.pid)
            assert len(children) >= 2
            server.send_signal(number)
            begun = time.monotonic()
            server.wait(timeout=20)
            assert time.monotonic() - begun < 10.0
        finally:
            server.kill()
    asking.join(10)
    # It is told, where there is still somebody to tell it.
    assert ends == [503] if number == signal.SIGTERM else ends == [0]
    until = time.monotonic() + 10.0
    while any(map(is_alive, children)):
        assert time.monotonic() < until, "left behind"
        time.sleep(0.1)


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


def test_beside_a_proxy_it_takes_any_name_with_its_passphrase(tmp_path: Path) -> None:
    words = tmp_path / "words"
    words.write_text("under the mill wheel", encoding="utf-8")
    command = [sys.executable, "-m", "noonshade", "serve", "--port", "0", "--data", str(tmp_path / "data")]
    command += ["--host", "127.0.0.2", "--passphrase-file", str(words)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=ROOT) as server:
        try:
            assert server.stdout is not None
            said = server.stdout.readline()
            assert "ready at http://127.0.0.2:" in said
            known = "Basic " + base64.b64encode(b"keeper:under the mill wheel").decode()
            for headers, status in (({}, 401), ({"Authorization": known}, 200)):
                asked = urllib.request.Request(
                    f"{said.split()[-1]}api/health", headers={"Host": "mill.example", **headers}
                )
                try:
                    with urllib.request.urlopen(asked, timeout=10) as answer:
                        found = answer.status
                except urllib.error.HTTPError as error:
                    found = error.code
                assert found == status
        finally:
            server.terminate()
            server.wait(30)
