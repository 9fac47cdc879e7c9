"""Processes for heavy work: in order, only as far as wanted, and never left behind."""

from __future__ import annotations

import multiprocessing
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from noonshade.services.workers import Workers

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
    children = [child.pid for child in multiprocessing.active_children()]
    assert children
    workers.close()
    _wait_until_gone([pid for pid in children if pid is not None])
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
