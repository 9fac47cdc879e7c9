"""Requests that compute, answered by processes of a real server: as in its own, in nobody's way."""

from __future__ import annotations

import http.client
import json
import re
import socket
import threading
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from noonshade.catalog import load_catalog
from noonshade.core.cost import MOST_S, evaluation_s, refuse_if_costly
from noonshade.core.errors import PlanError
from noonshade.formats.plan_document import plan_from
from noonshade.formats.plan_from_document import resolve
from noonshade.services.application import open_services
from noonshade.services.commissioning import commissioning_test
from noonshade.services.readings import tasks_of_round
from noonshade.services.results import Computation
from noonshade.services.workers import CancelledError
from noonshade.store.database import Database, StoreError, StoreReadOnlyError
from noonshade.store.errors import NotFoundError
from noonshade.web import AppSettings, create_app
from noonshade.web.app import NoonShade
from noonshade.web.http.delegation import MOST_WAITING, QUICK_S, RETRY_AFTER_S, Delegate
from noonshade.web.http.security import LIVE_HEADER
from tests.builders import demo_raw
from tests.shared import Running, seeded

Reply = tuple[int, http.client.HTTPMessage, bytes]


class Server:
    """A server whose requests are computed by one quick process and another."""

    def __init__(self, folder: Path) -> None:
        settings = AppSettings(data_file=seeded(folder / "d.db"))
        self.inside = create_app(settings)
        self.app = create_app(settings, self.inside.services)
        self.app.delegate = Delegate(settings, quick=1, heavy=1)
        self._running = Running(self.app)
        self.port = self._running.port

    @property
    def delegate(self) -> Delegate:
        assert self.app.delegate is not None
        return self.app.delegate

    def close(self) -> None:
        self._running.close()
        self.delegate.close()

    def ask(self, method: str, path: str, body: Any = None, **headers: str) -> Reply:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        try:
            named = {name.replace("_", "-"): value for name, value in headers.items()}
            if body is not None:
                named["Content-Type"] = "application/json"
            connection.request(method, path, None if body is None else json.dumps(body), named)
            answer = connection.getresponse()
            return answer.status, answer.headers, answer.read()
        finally:
            connection.close()


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    made = Server(tmp_path_factory.mktemp("delegated"))
    yield made
    made.close()


def lamps(count: int, furnishings: int = 0) -> dict[str, Any]:
    """A collared lizard under many lamps, all in one place, with many shapes of furniture."""
    raw = demo_raw()
    bulb, hide = raw["fixtures"][0], raw["furnishings"][1]
    raw["fixtures"] = [{**bulb, "id": f"bulb-{i}"} for i in range(count)]
    raw["furnishings"] += [{**hide, "id": f"hide-{i}"} for i in range(furnishings)]
    return {**raw, "year": None, "measured": None}


def test_a_process_answers_as_the_server_itself(server: Server) -> None:
    document = demo_raw()
    grid = {"y_m": 0.3, "nx": 31, "nz": 16}
    broken = {**document, "fixtures": [{**document["fixtures"][0], "power_w": -1}]}
    asked: list[tuple[str, str, Any]] = [
        ("POST", "/api/evaluate", {"document": document, "section": grid}),
        ("POST", "/api/evaluate", {"document": broken}),
        ("GET", "/api/plans/collared-lizard/drawing.svg", None),
        ("GET", "/api/plans/no-such/drawing.svg", None),
    ]
    with server.inside.test_client() as inside:
        for method, path, body in asked:
            status, headers, found = server.ask(method, path, body)
            own = inside.open(path, method=method, json=body, base_url="http://localhost")
            assert (status, headers["Content-Type"]) == (own.status_code, own.headers["Content-Type"])
            assert found == own.data


def test_a_process_computes_what_is_stored(server: Server) -> None:
    results = server.app.services.results
    wanted = results.now().missing()[0]
    found = server.delegate.compute_behind(wanted, lambda: False, 0)
    results.put(found)
    known = next(one for one in results.now().known() if one.plan_id == wanted.plan_id)
    document = server.app.services.plans.get(wanted.plan_id).document
    _, _, evaluated = server.ask("POST", "/api/evaluate", {"document": json.loads(document)})
    assert known.checks is not None
    failing = [
        one
        for kind in ("checks", "findings")
        for one in json.loads(evaluated)[kind]
        if one["severity"] in ("danger", "fault")
    ]
    assert known.checks.failing == len(failing)
    with pytest.raises(CancelledError):
        server.delegate.compute_behind(results.now().missing()[0], lambda: True, 0)
    with pytest.raises(NotFoundError):
        server.delegate.compute_behind(Computation("checks", "no-such", 1), lambda: False, 0)


def test_what_is_stored_afterwards_is_computed_in_a_process(server: Server) -> None:
    asked: list[Any] = []

    def elsewhere(function: Any, arguments: tuple[Any, ...]) -> Any:
        asked.append(function.func)
        return server.delegate.compute(function, arguments, 0)

    computing = server.app.services.computing
    computing.elsewhere = elsewhere
    try:
        status, _, found = server.ask("POST", "/api/plans/corn-snake/rounds", {"most": 3, "needs": []})
        assert status == 201
        assert 0 < len(json.loads(found)["tasks"]) <= 3
        assert asked == [tasks_of_round]
        # An error there is the error here.
        status, _, _ = server.ask("POST", "/api/plans/no-such/commissioning-test/signature", {"by": "M"})
        assert status == 404
        assert asked == [tasks_of_round, commissioning_test]
        server.delegate.pools["heavy"].most_waiting = 0
        status, headers, _ = server.ask("POST", "/api/plans/corn-snake/rounds", {"most": 3, "needs": []})
        assert (status, headers["Retry-After"]) == (503, str(RETRY_AFTER_S))
    finally:
        server.delegate.pools["heavy"].most_waiting = MOST_WAITING["heavy"]
        computing.elsewhere = None


def test_a_page_that_a_process_makes_keeps_its_own_styles(server: Server) -> None:
    status, headers, page = server.ask("GET", "/api/plans/collared-lizard/report")
    assert status == 200
    nonce = re.search(r"'nonce-([^']+)'", headers["Content-Security-Policy"])
    assert nonce is not None
    assert f'nonce="{nonce[1]}"'.encode() in page
    assert len(headers.get_all("Content-Security-Policy") or []) == 1


def test_a_process_may_read_the_data_and_not_write_them(tmp_path: Path) -> None:
    data_file = seeded(tmp_path / "d.db")
    services = open_services(data_file, reads_only=True)
    assert services.plans.get("collared-lizard").name
    with pytest.raises(StoreReadOnlyError, match="nothing was changed"):
        services.write(services.settings.put, "room", "{}")
    with pytest.raises(StoreError, match="does not exist"):
        Database.open(tmp_path / "none.db", reads_only=True)
    assert not (tmp_path / "none.db").exists()


def test_a_process_sees_what_was_written_since(server: Server) -> None:
    path = "/api/plans/collared-lizard"
    record = json.loads(server.ask("GET", path)[2])
    changed = {"document": {**record["document"], "name": "Other"}, "base_revision": record["revision"]}
    assert server.ask("PUT", path, {**changed, "summary": "Named"})[0] == 200
    assert b"Other" in server.ask("GET", f"{path}/report")[2]


def test_what_takes_longer_is_left_to_the_other_processes(server: Server) -> None:
    costly = lamps(30, 20)
    plan = resolve(plan_from(costly), load_catalog())
    assert evaluation_s(plan) > QUICK_S
    began = threading.Event()

    def ask() -> None:
        began.set()
        assert server.ask("POST", "/api/evaluate", {"document": costly})[0] == 200

    thread = threading.Thread(target=ask)
    thread.start()
    began.wait()
    time.sleep(0.3)
    # While it is computed, an ordinary plan is answered.
    assert server.ask("POST", "/api/evaluate", {"document": demo_raw()})[0] == 200
    assert thread.is_alive()
    assert len(server.delegate.pools["heavy"].processes) == 1
    thread.join(60)


def test_work_ends_when_its_client_leaves(server: Server) -> None:
    # The process is there already, whatever ran before.
    assert server.ask("GET", "/api/plans/collared-lizard/field.csv")[0] == 200
    body = json.dumps({"document": lamps(20, 8)})
    head = f"POST /api/intervals HTTP/1.1\r\nHost: localhost\r\nContent-Length: {len(body)}\r\n"
    with socket.create_connection(("127.0.0.1", server.port)) as leaving:
        leaving.sendall(f"{head}Content-Type: application/json\r\n\r\n{body}".encode())
        attendant = server.delegate.pools["heavy"]._attendants[0]
        until = time.monotonic() + 10.0
        while attendant.job is None:
            assert time.monotonic() < until
            time.sleep(0.01)
        time.sleep(0.5)
        assert attendant.job is not None
    begun = time.monotonic()
    while attendant.job is not None:
        assert time.monotonic() - begun < 4.0, "it goes on though nobody waits"
        time.sleep(0.01)
    assert server.ask("GET", "/api/plans/collared-lizard/field.csv")[0] == 200


def test_what_would_take_minutes_is_refused_by_name(server: Server) -> None:
    absurd = lamps(30, 50)
    absurd["enclosure"].update(length_m=5.0, depth_m=3.0, height_m=2.0)
    status, _, answer = server.ask("POST", "/api/intervals", {"document": absurd})
    detail = json.loads(answer)["detail"]
    assert status == 422
    assert "30 fixtures and 53 furnishings in an enclosure of 500 × 300 × 200 cm" in detail
    assert "at most 2.5 are allowed" in detail


def test_the_cost_of_a_plan_rises_with_all_that_takes_time() -> None:
    catalog = load_catalog()
    small, lit, full = (resolve(plan_from(raw), catalog) for raw in (demo_raw(), lamps(15), lamps(15, 5)))
    large = replace(small, enclosure=replace(small.enclosure, length_m=4.0, depth_m=2.0, height_m=2.0))
    assert evaluation_s(small) < evaluation_s(lit) < evaluation_s(full)
    assert evaluation_s(small) < evaluation_s(large)
    refuse_if_costly(full, 0.99 * MOST_S / evaluation_s(full))
    with pytest.raises(PlanError, match=r"15 fixtures and 8 furnishings .* minutes to compute"):
        refuse_if_costly(full, 1.01 * MOST_S / evaluation_s(full))


def test_too_many_are_asked_to_come_again(server: Server, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(server.delegate.pools["quick"], "most_waiting", 0)
    status, headers, answer = server.ask(
        "POST", "/api/evaluate", {"document": demo_raw()}, **{LIVE_HEADER: "one"}
    )
    assert (status, headers["Retry-After"]) == (503, str(RETRY_AFTER_S))
    assert json.loads(answer)["title"] == "Too much is being computed"


def test_a_lost_process_is_said_and_replaced(server: Server) -> None:
    (lost,) = server.delegate.pools["quick"].processes
    attendant = server.delegate.pools["quick"]._attendants[0]
    assert attendant.process is not None
    attendant.process.kill()
    attendant.process.join()
    assert server.ask("POST", "/api/evaluate", {"document": demo_raw()})[0] == 200
    assert server.delegate.pools["quick"].processes != (lost,)


def test_an_application_alone_needs_no_processes(app: NoonShade) -> None:
    assert app.delegate is None
