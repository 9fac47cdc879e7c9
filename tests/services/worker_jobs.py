"""What the tests of worker processes have them do; a process finds functions by their module."""

from __future__ import annotations

import os
import time
from pathlib import Path

from noonshade.core.checkpoint import checkpoint
from noonshade.core.errors import PlanError


def where() -> int:
    """The process it runs in."""
    return os.getpid()


def wait_for(path: str) -> int:
    """Run in Python until a file is there."""
    while not Path(path).exists():
        time.sleep(0.005)
    return os.getpid()


def begin_and_wait(began: str) -> None:
    """Say that it began, then run on for a minute."""
    Path(began).touch()
    end = time.monotonic() + 60.0
    while time.monotonic() < end:
        checkpoint()
        time.sleep(0.005)


def deaf(began: str) -> None:
    """Never pass a checkpoint, as a long call of compiled code."""
    Path(began).touch()
    end = time.monotonic() + 60.0
    while time.monotonic() < end:
        time.sleep(0.005)


def vanish() -> None:
    """End the process without a word."""
    os._exit(3)


def refuse() -> None:
    """Raise an error of the core."""
    raise PlanError("/fixtures/0", "is too hot")


class Awkward(Exception):
    """An error that cannot be made again in another process."""

    def __init__(self, one: int, two: int) -> None:
        super().__init__(f"{one} and {two}")


def refuse_awkwardly() -> None:
    """Raise it."""
    raise Awkward(1, 2)


def note(path: str, word: str) -> None:
    """Add a word to a file."""
    with Path(path).open("a", encoding="utf-8") as file:
        file.write(f"{word} ")


def cannot_begin() -> None:
    """A beginning that fails."""
    raise ValueError("no data file")
