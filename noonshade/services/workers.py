"""Processes beside the web's threads for work that takes seconds."""

from __future__ import annotations

import multiprocessing
import os
import signal
import threading
import time
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from itertools import islice
from typing import TypeVar

A = TypeVar("A")
B = TypeVar("B")

# How many processes work at a time: more than the machine has makes nothing faster.
MOST_WORKERS = 4
# How often a process looks whether its parent is still there, s.
WATCHED_S = 1.0


class Workers:
    """A pool of processes that is started when it is first needed."""

    def __init__(self, count: int | None = None) -> None:
        self.count = count or max(1, min(MOST_WORKERS, os.cpu_count() or 1))
        self._lock = threading.Lock()
        self._pool: ProcessPoolExecutor | None = None

    def map(self, function: Callable[[A], B], items: Iterable[A], /) -> Iterator[B]:
        """Results of a function of each item in their order; what is left is dropped with the iterator."""
        if self.count == 1:
            yield from map(function, items)
            return
        pool, rest = self._started(), iter(items)
        waiting: deque[Future[B]] = deque(
            pool.submit(function, item) for item in islice(rest, self.count + 1)
        )
        try:
            while waiting:
                result = waiting.popleft().result()
                waiting.extend(pool.submit(function, item) for item in islice(rest, 1))
                yield result
        except BrokenProcessPool:
            # A process was killed; the next call starts others.
            with self._lock:
                if self._pool is pool:
                    self._pool = None
            raise
        finally:
            for job in waiting:
                job.cancel()

    def warm(self, function: Callable[[], object]) -> None:
        """Start the processes and have each call a function, which loads what they need; does not wait."""
        if self.count > 1:
            pool = self._started()
            for _ in range(self.count):
                pool.submit(function)

    def _started(self) -> ProcessPoolExecutor:
        with self._lock:
            if self._pool is None:
                # Neither threads nor open files of this process are taken over.
                context = multiprocessing.get_context("spawn")
                self._pool = ProcessPoolExecutor(self.count, context, _begin, (os.getpid(),))
            return self._pool

    def close(self) -> None:
        """End the processes, finishing nothing."""
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
            self._pool = None
            for child in multiprocessing.active_children():
                child.terminate()


def _begin(parent: int) -> None:
    """What a process does first: leave interrupts to its parent, and end when that is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(WATCHED_S)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
