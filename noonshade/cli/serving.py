"""Running the HTTP server until a signal, and ending it cleanly."""

from __future__ import annotations

import signal
import threading
import time
from collections.abc import Callable
from types import FrameType
from typing import Any

from waitress import wasyncore

# How long requests that are being answered may take once the server has to stop, seconds.
GRACE_S = 8.0
_POLL_S = 1.0


def serve_until_stopped(
    server: Any,
    ready: Callable[[], None],
    grace_s: float = GRACE_S,
    stopping: Callable[[], None] = lambda: None,
) -> None:
    """Serve until SIGINT or SIGTERM, then finish the requests that are under way.

    The handlers are set here, because a process started with SIGINT ignored (under ``nohup``, or in the
    background of a script) would otherwise inherit that and could not be stopped. A second signal ends the
    waiting. ``ready`` is called once signals are handled, ``stopping`` once no connections are accepted.
    """
    stopped, at_once = threading.Event(), threading.Event()

    def stop(_number: int, _frame: FrameType | None) -> None:
        (at_once if stopped.is_set() else stopped).set()
        # Wakes the loop, which would otherwise wait on: a signal does not interrupt its poll. By a second
        # signal the loop may have ended, and its trigger with it.
        if not server.trigger._closed:
            server.pull_trigger()

    before = {number: signal.signal(number, stop) for number in (signal.SIGINT, signal.SIGTERM)}
    try:
        ready()
        serve_until(server, stopped, at_once, grace_s, stopping)
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


def serve_until(
    server: Any,
    stopped: threading.Event,
    at_once: threading.Event,
    grace_s: float = GRACE_S,
    stopping: Callable[[], None] = lambda: None,
) -> None:
    """Serve in this thread until ``stopped`` is set, then finish what is under way unless ``at_once`` is.

    Another thread sets an event through ``server.trigger.pull_trigger(event.set)``: this one then wakes and
    sets it, and cannot have closed the trigger before. Connections are closed by this thread only: closed
    by another one, they would end the poll that waits for them with an error.
    """
    while not stopped.is_set():
        _poll(server, _POLL_S)
    # No new connections; those there are finish.
    wasyncore.dispatcher.close(server)
    end = time.monotonic() + grace_s
    stopping()
    while _is_busy(server) and not at_once.is_set() and time.monotonic() < end:
        _poll(server, 0.1)
    server.task_dispatcher.shutdown(cancel_pending=True, timeout=0.0 if at_once.is_set() else 1.0)
    wasyncore.close_all(server._map)


def _poll(server: Any, timeout: float) -> None:
    wasyncore.loop(timeout=timeout, map=server._map, use_poll=server.adj.asyncore_use_poll, count=1)


def _is_busy(server: Any) -> bool:
    return any(c.requests or c.total_outbufs_len for c in server.active_channels.values())
