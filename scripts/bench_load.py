"""What a server answers, and when, while many clients compute: health, pages and ordinary evaluations.

Starts a separate demo server, then twenty clients that evaluate demo plans with a lamp moved
each time and four that evaluate plans of thirty lamps, as fast as they are answered.
"""

from __future__ import annotations

import argparse
import http.client
import json
import random
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from typing import Any

ORDINARY, COSTLY = 20, 4
# What is aimed at: 95 % within so many seconds.
AIM_S = {"health": 0.2, "page": 0.2, "evaluation": 1.0}


def fetch(
    port: int, method: str, path: str, body: bytes | None = None, live: str = ""
) -> tuple[int, bytes]:
    """Status and body of one request."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
    try:
        headers = {"Content-Type": "application/json", "Noonshade-Live": live} if body else {}
        connection.request(method, path, body, headers)
        answer = connection.getresponse()
        return answer.status, answer.read()
    finally:
        connection.close()


def thirty_lamps(document: dict[str, Any]) -> dict[str, Any]:
    """A plan with its bulbs spread thirty times over the enclosure, under no thermostat."""
    size = document["enclosure"]
    bulb = next(f for f in document["fixtures"] if "flood" in f["lamp_id"])
    found = []
    for i in range(30):
        x = 0.1 + i % 6 * (size["length_m"] - 0.2) / 5
        y = 0.1 + i // 6 * (size["depth_m"] - 0.2) / 5
        place = {**bulb["position_m"], "x_m": x, "y_m": y}
        found.append({**bulb, "id": f"bulb-{i}", "position_m": place})
    return {**document, "fixtures": found, "year": None, "measured": None}


class Clients:
    """Threads that ask again and again until told to end, and how long each answer took."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.ending = threading.Event()
        self.seconds: dict[str, list[float]] = {name: [] for name in (*AIM_S, "costly")}
        self.refused = 0
        self.threads: list[threading.Thread] = []

    def ask(self, name: str, method: str, path: str, body: bytes | None = None, live: str = "") -> None:
        """One request."""
        begun = time.monotonic()
        status, _ = fetch(self.port, method, path, body, live)
        if status == 503:
            self.refused += 1
            time.sleep(0.5)
            return
        assert status == 200, (path, status)
        self.seconds[name].append(time.monotonic() - begun)

    def evaluate(self, name: str, document: dict[str, Any], number: int, pause_s: float) -> None:
        """Evaluate a plan with one lamp moved a little, until the end."""
        chance = random.Random(number)
        while not self.ending.is_set():
            one = json.loads(json.dumps(document))
            one["fixtures"][0]["position_m"]["x_m"] += chance.uniform(-0.004, 0.004)
            grid = {"y_m": one["enclosure"]["depth_m"] / 2, "nx": 61, "nz": 31}
            body = json.dumps({"document": one, "section": grid}).encode()
            self.ask(name, "POST", "/api/evaluate", body, f"bench-{number}")
            self.ending.wait(pause_s)

    def look(self, name: str, path: str) -> None:
        """Ask for one page ten times a second."""
        while not self.ending.is_set():
            self.ask(name, "GET", path)
            self.ending.wait(0.1)

    def begin(self, action: Any, *arguments: Any) -> None:
        """Start one."""
        self.threads.append(threading.Thread(target=action, args=arguments, daemon=True))
        self.threads[-1].start()


def main(seconds: float, pause_s: float) -> bool:
    """Measure; whether every aim holds."""
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "noonshade", "serve", "--demo", "--port", "0", "--data", folder]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
            try:
                assert server.stdout is not None
                port = int(server.stdout.readline().rsplit(":", 1)[1].strip("/\n"))
                return _measured(port, seconds, pause_s)
            finally:
                server.terminate()


def _measured(port: int, seconds: float, pause_s: float) -> bool:
    plans = [p["document"] for p in json.loads(fetch(port, "GET", "/api/plans")[1])["plans"]]
    plans = [p for p in plans if p["fixtures"]]
    shallow = next(p for p in plans if any("flood" in f["lamp_id"] for f in p["fixtures"]))
    clients = Clients(port)
    # Each process is ready and every plan was computed once.
    for plan in plans:
        clients.ask("evaluation", "POST", "/api/evaluate", json.dumps({"document": plan}).encode())
    clients.seconds["evaluation"].clear()
    for number in range(ORDINARY):
        clients.begin(clients.evaluate, "evaluation", plans[number % len(plans)], number, pause_s)
    for number in range(COSTLY):
        clients.begin(clients.evaluate, "costly", thirty_lamps(shallow), 100 + number, 0.0)
    clients.begin(clients.look, "health", "/api/health")
    clients.begin(clients.look, "page", "/")
    time.sleep(seconds)
    clients.ending.set()
    for thread in clients.threads:
        thread.join(130)
    good = True
    for name, found in clients.seconds.items():
        found.sort()
        late = found[min(len(found) - 1, int(0.95 * len(found)))]
        held = name not in AIM_S or late <= AIM_S[name]
        good = good and held
        aim = f"aim {AIM_S[name]:g} s, {'held' if held else 'missed'}" if name in AIM_S else ""
        print(
            f"{name:11} {len(found):6} answers  median {statistics.median(found):.3f} s  "
            f"95 % {late:.3f} s  worst {found[-1]:.3f} s  {aim}"
        )
    print(f"refused for now (503): {clients.refused}")
    return good


if __name__ == "__main__":
    reader = argparse.ArgumentParser(description=__doc__)
    reader.add_argument("--seconds", type=float, default=20.0, help="how long (default %(default)s)")
    reader.add_argument(
        "--pause", type=float, default=1.0, help="of each ordinary client between answers, s"
    )
    chosen = reader.parse_args()
    sys.exit(0 if main(chosen.seconds, chosen.pause) else 1)
