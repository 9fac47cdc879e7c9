"""What was computed lately: once, for all who ask, and never an error."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from noonshade.services.cache import SingleFlightCache


def test_many_who_ask_at_once_wait_for_one_answer() -> None:
    known: SingleFlightCache[str, object] = SingleFlightCache(3)
    begun, go_on = threading.Event(), threading.Event()
    made: list[object] = []

    def make() -> object:
        begun.set()
        assert go_on.wait(10)
        made.append(object())
        return made[-1]

    with ThreadPoolExecutor(8) as threads:
        first = threads.submit(known.get_or_compute, "lizard", make)
        assert begun.wait(10)
        rest = [threads.submit(known.get_or_compute, "lizard", make) for _ in range(6)]
        # Another key does not wait.
        assert known.get_or_compute("frog", lambda: "at once") == "at once"
        go_on.set()
        assert {id(f.result(10)) for f in (first, *rest)} == {id(made[0])}
    assert len(made) == 1


def test_the_one_not_asked_for_longest_goes_first() -> None:
    known: SingleFlightCache[int, list[int]] = SingleFlightCache(2)
    one = known.get_or_compute(1, lambda: [1])
    known.get_or_compute(2, lambda: [2])
    assert known.get_or_compute(1, lambda: [0]) is one
    known.get_or_compute(3, lambda: [3])
    assert known.get_or_compute(1, lambda: [0]) is one
    assert known.get_or_compute(2, lambda: [20]) == [20]
    known.clear()
    assert known.get_or_compute(2, lambda: [21]) == [21]


def test_an_error_is_passed_on_and_not_cached() -> None:
    known: SingleFlightCache[str, float] = SingleFlightCache(2)
    with pytest.raises(ZeroDivisionError):
        known.get_or_compute("night", lambda: 1 / 0)
    assert known.get_or_compute("night", lambda: 0.5) == 0.5
