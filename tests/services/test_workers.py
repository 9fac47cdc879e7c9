"""Processes for heavy work: in order, only as far as wanted, and never left behind."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from noonshade.core.errors import PlanError
from noonshade.services import workers as pool
from noonshade.services.workers import (
    BusyError,
    CancelledError,
    DeadlineError,
    LostError,
    Priority,
    Workers,
    WorkersError,
)
from tests.services import worker_jobs

# A script that prints which processes work for it, then waits.
ORPHAN = """
import multiprocessing, time
from noonshade.services.workers import Workers
if __name__ == "__main__":
    found = list(Workers(2).map(abs, [1, 2]))
    print(*found, *(child.pid for child in multiprocessing.active_children()), flush=True)
    time.sleep(60)
"""


@pytest.fixture
def workers() -> Iterator[Workers]:
    made = Workers(2)
    yield made
    made.close()


def test_results_come_in_order_and_lazily(workers: Workers) -> None:
    asked: list[int] = []

    def numbers() -> Iterator[int]:
        for number in range(-1000, 0):
            asked.append(number)
            yield number

    found = workers.map(abs, numbers())
    assert [next(found) for _ in range(5)] == [1000, 999, 998, 997, 996]
    found.close()  # type: ignore[attr-defined]
    # No further ahead than there are processes to keep busy.
    assert len(asked) <= 5 + workers.count + 1


def test_one_alone_needs_no_other_process() -> None:
    assert list(Workers(1).map(lambda number: number + 1, [1, 2])) == [2, 3]


def test_closing_ends_the_processes(workers: Workers) -> None:
    assert list(workers.map(abs, [-1, -2, -3])) == [1, 2, 3]
    children = list(workers.processes)
    assert children
    workers.close()
    _wait_until_gone(children)
    # It can be used again.
    assert list(workers.map(abs, [-4])) == [4]


def test_processes_end_when_their_parent_is_killed(tmp_path: Path) -> None:
    script = tmp_path / "orphan.py"
    script.write_text(ORPHAN, encoding="utf-8")
    with subprocess.Popen([sys.executable, str(script)], stdout=subprocess.PIPE, text=True) as parent:
        assert parent.stdout is not None
        first, second, *children = parent.stdout.readline().split()
        assert {first, second} == {"1", "2"}
        assert children
        parent.send_signal(signal.SIGKILL)
    _wait_until_gone([int(child) for child in children])


@pytest.fixture
def one() -> Iterator[Workers]:
    made = Workers(1, most_waiting=3)
    yield made
    made.close()


def test_what_is_on_show_goes_first(one: Workers, tmp_path: Path) -> None:
    go, written = tmp_path / "go", str(tmp_path / "order")
    blocking = one.submit(worker_jobs.wait_for, str(go))
    _wait_until(lambda: not one._waiting)
    for word, priority in (("ahead", Priority.AHEAD), ("asked", Priority.ASKED), ("shown", Priority.SHOWN)):
        one.submit(worker_jobs.note, written, word, priority=priority)
    with pytest.raises(BusyError, match="3 computations wait already"):
        one.submit(worker_jobs.where)
    # What comes as a whole is taken however many wait.
    last = one.submit(worker_jobs.where, priority=Priority.AHEAD, always=True)
    go.touch()
    assert blocking.result() == last.result()
    assert Path(written).read_text(encoding="utf-8").split() == ["shown", "asked", "ahead"]


def test_a_job_ends_when_nobody_waits_for_it(one: Workers, tmp_path: Path) -> None:
    began = tmp_path / "began"
    process = one.submit(worker_jobs.where).result()
    running = one.submit(worker_jobs.begin_and_wait, str(began))
    waiting = one.submit(worker_jobs.begin_and_wait, str(tmp_path / "never"))
    _wait_until(began.exists)
    begun = time.monotonic()
    for job in (waiting, running):
        with pytest.raises(CancelledError):
            job.result(gone=lambda: True)
    # The same process takes the next job, without the one that was cancelled while it waited.
    assert one.submit(worker_jobs.where).result() == process
    assert time.monotonic() - begun < 2.0
    assert not (tmp_path / "never").exists()


def test_a_deadline_ends_a_job_and_a_deaf_process_is_replaced(
    one: Workers, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    process = one.submit(worker_jobs.where).result()
    with pytest.raises(DeadlineError, match=r"longer than 0\.2 s"):
        one.submit(worker_jobs.begin_and_wait, str(tmp_path / "a"), deadline_s=0.2).result()
    assert one.submit(worker_jobs.where).result() == process
    monkeypatch.setattr(pool, "STOPS_WITHIN_S", 0.3)
    with pytest.raises(DeadlineError):
        one.submit(worker_jobs.deaf, str(tmp_path / "b"), deadline_s=0.2).result()
    assert one.submit(worker_jobs.where).result() != process
    _wait_until_gone([process])


def test_a_process_that_ends_is_replaced_and_its_job_is_answered(one: Workers) -> None:
    with pytest.raises(LostError):
        one.submit(worker_jobs.vanish).result()
    assert one.submit(worker_jobs.where).result() > 0


def test_errors_come_back_as_they_were_raised(one: Workers) -> None:
    with pytest.raises(PlanError, match="/fixtures/0: is too hot") as caught:
        one.submit(worker_jobs.refuse).result()
    assert (caught.value.path, caught.value.message) == ("/fixtures/0", "is too hot")
    with pytest.raises(WorkersError, match="Awkward: 1 and 2") as other:
        one.submit(worker_jobs.refuse_awkwardly).result()
    assert "refuse_awkwardly" in other.value.__notes__[0]
    with pytest.raises(Exception, match=r"lambda|pickle"):
        one.submit(lambda: 1).result()
    assert one.submit(worker_jobs.where).result() > 0


def test_a_beginning_that_fails_is_told() -> None:
    made = Workers(1, begin=worker_jobs.cannot_begin)
    try:
        with pytest.raises(ValueError, match="no data file"):
            made.submit(worker_jobs.where).result()
    finally:
        made.close()


def test_jobs_of_one_affinity_share_a_process_that_is_free(workers: Workers, tmp_path: Path) -> None:
    first = workers.submit(worker_jobs.where, affinity="plan").result()
    assert {workers.submit(worker_jobs.where, affinity="plan").result() for _ in range(5)} == {first}
    go = tmp_path / "go"
    blocking = workers.submit(worker_jobs.wait_for, str(go), affinity="plan")
    _wait_until(lambda: not workers._waiting)
    assert workers.submit(worker_jobs.where, affinity="plan").result() != first
    go.touch()
    assert blocking.result() == first


def _wait_until(holds: Callable[[], bool]) -> None:
    until = time.monotonic() + 20.0
    while not holds():
        assert time.monotonic() < until
        time.sleep(0.01)


def _wait_until_gone(pids: list[int]) -> None:
    until = time.monotonic() + 20.0
    while any(map(_lives, pids)):
        assert time.monotonic() < until
        time.sleep(0.2)


def _lives(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    state = Path(f"/proc/{pid}/stat").read_text(encoding="utf-8").rsplit(")", 1)[1].split()[0]
    return state != "Z"
