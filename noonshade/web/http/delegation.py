"""Requests that compute are answered in other processes, so that all others are answered at once.

There are two pools: a quick one for what is on show while a keeper changes a plan, and one for longer
work that gives way to it. A process of either answers a whole request with a separate application, which
may read the data file but not write it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Literal

from flask import Response, g, has_request_context, request
from werkzeug.test import EnvironBuilder, run_wsgi_app

from noonshade.services.results import Computation
from noonshade.services.workers import (
    BusyError,
    CancelledError,
    DeadlineError,
    LostError,
    Priority,
    Workers,
    WorkersError,
)
from noonshade.store.results import StoredResult
from noonshade.web.http.problems import COSTLY_STATUS, problem_model, respond
from noonshade.web.http.security import LIVE_HEADER, NONCE_KEY

if TYPE_CHECKING:
    from noonshade.web.app import AppSettings, NoonShade

# Which pool answers an operation.
Pool = Literal["quick", "heavy"]

# By how much the processes for what takes longer give way to all others.
NICE = 10
# Requests that may wait at a time, and how long one may take, s.
MOST_WAITING: dict[Pool, int] = {"quick": 40, "heavy": 24}
DEADLINE_S: dict[Pool, float] = {"quick": 20.0, "heavy": 180.0}
# The longest evaluation by the estimate of its cost that a quick process computes, s.
QUICK_S = 0.5
# When a client may try again if too many wait, s.
RETRY_AFTER_S = 3
# Levels of urgency of the header "Priority" (RFC 9218), from which a request is computed ahead.
AHEAD_FROM = 5


@dataclass(frozen=True, slots=True)
class Forwarded:
    """A request for another process; ``generation`` of the library it is about."""

    method: str
    path: str
    query: str
    content_type: str
    body: bytes
    nonce: str
    generation: int
    live: str | None


@dataclass(frozen=True, slots=True)
class Answer:
    """What another process answered."""

    status: int
    headers: tuple[tuple[str, str], ...]
    body: bytes


class Delegate:
    """Hands requests to the pools and waits for their answers.

    Parameters
    ----------
    settings : AppSettings
        Of the application that serves; the processes open the same data file.
    quick, heavy : int | None
        How many processes each pool has, as ``Workers``.
    """

    def __init__(self, settings: AppSettings, quick: int | None = None, heavy: int | None = None) -> None:
        inner = replace(settings, allowed_hosts=frozenset({"localhost"}), passphrase=None)
        self.pools: dict[Pool, Workers] = {
            "quick": Workers(
                quick, most_waiting=MOST_WAITING["quick"], begin=open_in_process, arguments=(inner, True)
            ),
            "heavy": Workers(
                heavy,
                nice=NICE,
                most_waiting=MOST_WAITING["heavy"],
                begin=open_in_process,
                arguments=(inner, False),
            ),
        }

    def start(self) -> None:
        """Start the processes; does not wait for them."""
        for pool in self.pools.values():
            pool.start()

    def close(self) -> None:
        """End the processes."""
        for pool in self.pools.values():
            pool.close()

    def answer(self, pool: Pool, priority: Priority, generation: int) -> Response:
        """The answer of a process to the present request; a problem if there is none.

        ``generation`` is of the library: how often the data were replaced.
        """
        forwarded = Forwarded(
            request.method,
            request.path,
            request.query_string.decode("latin-1"),
            request.content_type or "",
            request.get_data(),
            g.nonce,
            generation,
            request.headers.get(LIVE_HEADER, "")[:64] or None,
        )
        if _urgency() >= AHEAD_FROM:
            priority = Priority.AHEAD
        gone: Callable[[], bool] | None = request.environ.get("waitress.client_disconnected")
        try:
            found = self._asked(pool, priority, forwarded, gone)
            if found.status == COSTLY_STATUS:
                found = self._asked("heavy", priority, forwarded, gone)
        except WorkersError as error:
            return failed(error)
        return Response(found.body, found.status, list(found.headers))

    def compute(self, function: Callable[..., Any], arguments: tuple[Any, ...], generation: int) -> Any:
        """What a function of the services and of arguments returns in a process of the heavy pool.

        It is given up once the client of the present request has left.

        Raises
        ------
        WorkersError
            If it was cancelled, too many wait, it took too long or its process ended; else as the function.
        """
        gone = request.environ.get("waitress.client_disconnected") if has_request_context() else None
        job = self.pools["heavy"].submit(
            call_in_process, function, arguments, generation, deadline_s=DEADLINE_S["heavy"]
        )
        return job.result(gone)

    def compute_behind(
        self, wanted: Computation, gone: Callable[[], bool], generation: int
    ) -> StoredResult:
        """Compute a result of a stored revision in a process, behind everything a keeper waits for.

        Raises
        ------
        WorkersError
            If it was cancelled, took too long, or its process ended.
        NotFoundError
            If the revision is gone.
        """
        job = self.pools["heavy"].submit(
            compute_in_process,
            wanted,
            generation,
            priority=Priority.BEHIND,
            deadline_s=DEADLINE_S["heavy"],
            always=True,
        )
        return job.result(gone)

    def _asked(
        self, pool: Pool, priority: Priority, forwarded: Forwarded, gone: Callable[[], bool] | None
    ) -> Answer:
        job = self.pools[pool].submit(
            answer_in_process,
            forwarded,
            priority=priority,
            deadline_s=DEADLINE_S[pool],
            affinity=forwarded.live,
        )
        return job.result(gone)


def _urgency() -> int:
    """The urgency a client asks for, 0 (most) to 7; 3 if it does not say."""
    for part in request.headers.get("Priority", "").split(","):
        name, _, value = part.strip().partition("=")
        if name == "u" and value in set("01234567"):
            return int(value)
    return 3


def failed(error: WorkersError) -> Response:
    """The answer where a process gave none."""
    if isinstance(error, BusyError):
        title, detail = "Too much is being computed", f"Try again in {RETRY_AFTER_S} s."
        kind = "busy"
    elif isinstance(error, DeadlineError):
        kind, title = "deadline", "The computation took too long"
        detail = f"It was ended: {error}. A smaller enclosure or fewer lamps take less."
    elif isinstance(error, LostError | CancelledError):
        kind, title, detail = "ended", "The computation was ended", "Try again."
    else:
        raise error
    response = respond(problem_model(503, kind, title, detail))
    response.headers["Retry-After"] = str(RETRY_AFTER_S)
    return response


_app: NoonShade | None = None
_generation = 0


def open_in_process(settings: AppSettings, is_quick: bool) -> None:
    """Open the application in a process of a pool, and load what the first request would wait for."""
    global _app
    from noonshade.services.application import open_services
    from noonshade.services.loading import load_model
    from noonshade.web.app import create_app

    services = open_services(settings.data_file, settings.backups, reads_only=True)
    if is_quick:
        services.evaluation.most_s = QUICK_S
    _app = create_app(settings, services)
    load_model()


def call_in_process(function: Callable[..., Any], arguments: tuple[Any, ...], generation: int) -> Any:
    """Call a function with the services of a process of a pool and arguments."""
    return function(_opened(generation).services, *arguments)


def compute_in_process(wanted: Computation, generation: int) -> StoredResult:
    """Compute a result of a stored revision in a process of a pool."""
    return _opened(generation).services.results.compute(wanted)


def _opened(generation: int) -> NoonShade:
    """The application of this process, without what it knew of data that were replaced."""
    global _generation
    assert _app is not None
    if generation != _generation:
        _app.services.forget()
        _generation = generation
    return _app


def answer_in_process(forwarded: Forwarded) -> Answer:
    """Answer a request in a process of a pool."""
    app = _opened(forwarded.generation)
    builder = EnvironBuilder(
        path=forwarded.path,
        query_string=forwarded.query,
        method=forwarded.method,
        content_type=forwarded.content_type or None,
        data=forwarded.body or None,
        base_url="http://localhost/",
        environ_overrides={NONCE_KEY: forwarded.nonce},
    )
    if forwarded.live:
        builder.headers[LIVE_HEADER] = forwarded.live
    body, status, headers = run_wsgi_app(app.wsgi_app, builder.get_environ(), buffered=True)
    return Answer(int(status.split()[0]), tuple(headers), b"".join(body))
