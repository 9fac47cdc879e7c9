"""Processes beside the web's threads for work that takes more than a moment.

Each process is served by a thread of this one, which hands it the most urgent job that waits. A job can be
cancelled while it waits or runs, and ends at its deadline; what does not stop is killed and replaced.
"""

from __future__ import annotations

import bisect
import ctypes
import itertools
import logging
import multiprocessing
import os
import pickle
import signal
import threading
import time
import traceback
import zlib
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from enum import IntEnum
from itertools import islice
from multiprocessing.connection import Connection
from multiprocessing.context import SpawnProcess
from types import FrameType
from typing import Any, Generic, TypeVar, cast

from noonshade.core.checkpoint import Stopped, clear_stop, request_stop

A = TypeVar("A")
B = TypeVar("B")
R = TypeVar("R")

log = logging.getLogger(__name__)

# How many processes work at a time: more than the machine has makes nothing faster.
MOST_WORKERS = 4
# How often a process looks whether its parent is still there, and a thread whether its job is to end, s.
WATCHED_S, POLLED_S = 1.0, 0.05
# How long a cancelled job may take to stop before its process is killed, s.
STOPS_WITHIN_S = 2.0
# Of <linux/prctl.h>: which signal a process gets when its parent ends.
_PR_SET_PDEATHSIG = 1


class Priority(IntEnum):
    """Which job goes first."""

    SHOWN = 0
    ASKED = 1
    BEHIND = 2
    DESIGN = 3
    AHEAD = 4


class WorkersError(RuntimeError):
    """A job has no result; the message says why."""


class BusyError(WorkersError):
    """As many jobs wait as may."""


class CancelledError(WorkersError):
    """Nobody waits for the job any more."""


class DeadlineError(WorkersError):
    """The job took longer than it may."""


class LostError(WorkersError):
    """The process of the job ended."""


@dataclass(eq=False)
class Job(Generic[R]):
    """What was handed in; ``result`` waits for it."""

    number: int
    priority: Priority
    function: Callable[..., R]
    arguments: tuple[Any, ...]
    deadline_s: float | None
    affinity: str | None
    done: threading.Event = field(default_factory=threading.Event)
    value: R | None = None
    error: BaseException | None = None
    stopped_because: WorkersError | None = None

    def cancel(self, why: WorkersError | None = None) -> None:
        """End the job without a result; ``why`` is what ``result`` then raises."""
        if self.stopped_because is None:
            self.stopped_because = why or CancelledError("nobody waits for it")

    def result(self, gone: Callable[[], bool] | None = None, every_s: float = 0.1) -> R:
        """What the function returned, or raised. Cancelled once ``gone`` says that nobody waits."""
        while not self.done.wait(None if gone is None else every_s):
            if gone is not None and gone():
                self.cancel()
                raise CancelledError("nobody waits for it")
        if self.error is not None:
            raise self.error
        return cast(R, self.value)

    def finish(self, value: R | None, error: BaseException | None) -> None:
        """Set what came of it."""
        self.value, self.error = value, error
        self.done.set()


class Workers:
    """A bounded pool of processes that is started when it is first needed.

    Parameters
    ----------
    count : int | None
        How many processes; None for as many as the machine has, at most four. With one, ``map`` computes in
        the caller's thread.
    nice : int
        By how much they give way to other processes, as ``os.nice``.
    most_waiting : int
        How many jobs may wait before ``submit`` refuses another.
    begin : callable, optional
        Called with ``arguments`` in each process before its first job.
    arguments : tuple
        What ``begin`` gets.
    """

    def __init__(
        self,
        count: int | None = None,
        *,
        nice: int = 0,
        most_waiting: int = 1000,
        begin: Callable[..., object] | None = None,
        arguments: tuple[Any, ...] = (),
    ) -> None:
        self.count = count or max(1, min(MOST_WORKERS, os.cpu_count() or 1))
        self.nice, self.most_waiting = nice, most_waiting
        self.begin, self.arguments = begin, arguments
        # Whether a process is started, or replaced, before there is a job for it.
        self.is_eager = False
        self._numbers = itertools.count(1)
        self._wake = threading.Condition()
        self._waiting: list[tuple[int, int, Job[Any]]] = []
        self._attendants: list[_Attendant] = []

    def submit(
        self,
        function: Callable[..., R],
        *arguments: Any,
        priority: Priority = Priority.ASKED,
        deadline_s: float | None = None,
        affinity: str | None = None,
        always: bool = False,
    ) -> Job[R]:
        """Hand in a function of a module, to be called in a process.

        ``deadline_s`` counts from when it begins. Jobs of the same ``affinity`` go to the same process
        where that is not busy. ``always`` takes the job however many wait.

        Raises
        ------
        BusyError
            If as many jobs wait as may.
        """
        job = Job(next(self._numbers), priority, function, arguments, deadline_s, affinity)
        with self._wake:
            self._start()
            if (
                not always
                and sum(j.stopped_because is None for _, _, j in self._waiting) >= self.most_waiting
            ):
                raise BusyError(f"{self.most_waiting} computations wait already")
            bisect.insort(self._waiting, (priority, job.number, job))
            self._wake.notify_all()
        return job

    def map(
        self, function: Callable[[A], B], items: Iterable[A], /, priority: Priority = Priority.DESIGN
    ) -> Iterator[B]:
        """Results of a function of each item in their order; what is left is dropped with the iterator."""
        if self.count == 1:
            yield from map(function, items)
            return
        rest = iter(items)

        def submitted(item: A) -> Job[B]:
            return self.submit(function, item, priority=priority, always=True)

        waiting = deque(submitted(item) for item in islice(rest, self.count + 1))
        try:
            while waiting:
                result = waiting.popleft().result()
                waiting.extend(submitted(item) for item in islice(rest, 1))
                yield result
        finally:
            for job in waiting:
                job.cancel()

    def start(self) -> None:
        """Start the processes, each of which calls ``begin``, before their first jobs; does not wait."""
        self.is_eager = True
        with self._wake:
            self._start()

    @property
    def processes(self) -> tuple[int, ...]:
        """Ids of the processes that run."""
        with self._wake:
            found = [a.process for a in self._attendants]
        return tuple(p.pid for p in found if p is not None and p.pid is not None and p.is_alive())

    def close(self) -> None:
        """End the processes, finishing nothing."""
        with self._wake:
            attendants, self._attendants = self._attendants, []
            waiting, self._waiting = self._waiting, []
            for one in attendants:
                one.closing = True
            self._wake.notify_all()
        for _, _, job in waiting:
            job.finish(None, CancelledError("the program is ending"))
        for one in attendants:
            one.kill()
        for one in attendants:
            one.join(STOPS_WITHIN_S)

    def _start(self) -> None:
        if not self._attendants:
            self._attendants = [_Attendant(self, number) for number in range(self.count)]
            for one in self._attendants:
                one.start()

    def next_for(self, attendant: _Attendant) -> Job[Any] | None:
        """The most urgent job for a process, waiting for one; None when it has to end."""
        with self._wake:
            while not attendant.closing:
                job = self._taken(attendant)
                if job is not None:
                    return job
                self._wake.wait()
            return None

    def _taken(self, attendant: _Attendant) -> Job[Any] | None:
        for entry in list(self._waiting):
            job = entry[2]
            if job.stopped_because is not None:
                self._waiting.remove(entry)
                job.finish(None, job.stopped_because)
            elif self._is_for(job, attendant):
                self._waiting.remove(entry)
                attendant.job = job
                return job
        return None

    def _is_for(self, job: Job[Any], attendant: _Attendant) -> bool:
        """Whether a job may go to a process: its own, or any while that is busy."""
        if job.affinity is None:
            return True
        own = self._attendants[zlib.crc32(job.affinity.encode()) % len(self._attendants)]
        return own is attendant or own.job is not None


class _Attendant(threading.Thread):
    """Hands one process its jobs, and ends or replaces it."""

    def __init__(self, workers: Workers, number: int) -> None:
        super().__init__(name=f"worker-{number}", daemon=True)
        self.workers = workers
        self.process: SpawnProcess | None = None
        self.job: Job[Any] | None = None
        self.closing = False
        self._connection: Connection | None = None
        # Number of the job that has to stop.
        self._stopped: Any = None

    def run(self) -> None:
        self._make_ready()
        while (job := self.workers.next_for(self)) is not None:
            try:
                self._do(job)
            except Exception as error:  # whatever it is, who waits must be answered
                log.warning("a process of the pool cannot be used: %r", error)
                self.kill()
                job.finish(None, error)
            self.job = None
            self._make_ready()
        self.kill()

    def _make_ready(self) -> None:
        if self.workers.is_eager and not self.closing:
            try:
                self._connected()
            except Exception as error:  # the next job finds out, and answers with it
                if not self.closing:
                    log.warning("a process of the pool cannot begin: %r", error)

    def kill(self) -> None:
        """End the process at once."""
        process, self.process = self.process, None
        if process is not None:
            process.kill()
            process.join()

    def _do(self, job: Job[Any]) -> None:
        try:
            connection = self._connected()
            # What cannot be handed over is an error of the caller, which leaves the process as it is.
            connection.send((job.number, job.function, job.arguments))
            found = self._answer(job, connection)
        except (EOFError, OSError) as error:
            ended = self.process
            self.kill()
            log.warning("a process of the pool ended (%s): %r", ended and ended.exitcode, error)
            job.finish(None, job.stopped_because or LostError("its process ended"))
            return
        if found is None or job.stopped_because is not None:
            job.finish(None, job.stopped_because)
        else:
            job.finish(*found)

    def _answer(self, job: Job[Any], connection: Connection) -> tuple[Any, BaseException | None] | None:
        """Result and error; None if the process had to be killed."""
        end = None if job.deadline_s is None else time.monotonic() + job.deadline_s
        stopped_at: float | None = None
        while not connection.poll(POLLED_S):
            now = time.monotonic()
            if end is not None and now > end:
                job.cancel(DeadlineError(f"it took longer than {job.deadline_s:g} s"))
            if job.stopped_because is None:
                continue
            if stopped_at is None:
                stopped_at = now
                self._interrupt(job)
            elif now - stopped_at > STOPS_WITHIN_S:
                log.warning("a process of the pool did not stop and is replaced")
                self.kill()
                return None
        found: tuple[Any, BaseException | None] = connection.recv()
        return found

    def _interrupt(self, job: Job[Any]) -> None:
        process = self.process
        if process is not None and process.pid is not None:
            self._stopped.value = job.number
            os.kill(process.pid, signal.SIGUSR1)

    def _connected(self) -> Connection:
        if self.process is None or self._connection is None or not self.process.is_alive():
            # Neither threads nor open files of this process are taken over.
            context = multiprocessing.get_context("spawn")
            self._connection, theirs = context.Pipe()
            self._stopped = context.Value("q", 0)
            workers = self.workers
            # Unpacked once it gives way: what it names takes a second to import.
            packed = None if workers.begin is None else pickle.dumps((workers.begin, workers.arguments))
            first = (theirs, os.getpid(), self._stopped, workers.nice, packed)
            process = context.Process(target=_serve, args=first, daemon=True)
            process.start()
            self.process = process
            theirs.close()
            if self.closing:
                self.kill()
            if (error := self._connection.recv()) is not None:
                self.kill()
                raise error
        return self._connection


def _serve(
    connection: Connection,
    parent: int,
    stopped: Any,
    nice: int,
    packed: bytes | None,
) -> None:
    """What a process does: leave interrupts to its parent, end when that is gone, and do its jobs."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    _end_with(parent)
    os.nice(nice)
    current = 0

    def stop(_number: int, _frame: FrameType | None) -> None:
        if current and stopped.value == current:
            request_stop()

    signal.signal(signal.SIGUSR1, stop)

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(WATCHED_S)
        os._exit(1)

    # Where the system does not tell it.
    threading.Thread(target=watch, daemon=True).start()
    connection.send(None if packed is None else _begun(packed))
    error: BaseException | None
    while True:
        try:
            number, function, given = connection.recv()
        except EOFError:
            return
        value, error = None, None
        try:
            try:
                clear_stop()
                current = number
                value = function(*given)
            finally:
                current = 0
        except Stopped:
            error = CancelledError("it was stopped")
        except Exception as found:
            error = _portable(found)
        try:
            connection.send((value, error))
        except OSError:
            return
        except Exception as found:
            connection.send((None, _portable(found)))


def _begun(packed: bytes) -> BaseException | None:
    """Call what a process begins with; the error if it fails."""
    try:
        begin, arguments = pickle.loads(packed)  # noqa: S301 - its own
        begin(*arguments)
    except Exception as error:
        return _portable(error)
    return None


def _end_with(parent: int) -> None:
    """Have the system end this process with its parent, where it can (Linux)."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() != parent:
        os._exit(1)


def _portable(error: Exception) -> Exception:
    """An error that can be handed to another process, with where it was raised as a note."""
    error.add_note("".join(traceback.format_exception(error)))
    try:
        pickle.loads(pickle.dumps(error))  # noqa: S301 - its own
    except Exception:
        told = WorkersError(f"{type(error).__name__}: {error}")
        told.__notes__ = error.__notes__
        return told
    return error
