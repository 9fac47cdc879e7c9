"""The HTTP server with limits: what it reads, how long it waits, how many it serves at a time."""

from __future__ import annotations

import json
import socket
import time
from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

import waitress
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.utilities import Error

# Connections at a time, all together and from one address that is not this machine's.
MOST_CONNECTIONS, MOST_OF_ONE = 500, 40
# A connection that has not sent a whole header after so long is closed, and one that stands still, seconds.
HEADER_S, IDLE_S = 10.0, 120
# How often that is looked after, seconds.
LOOKED_AFTER_S = 2
# After an answer that is given before everything was read, what still arrives is read and dropped, for so
# long and so much at most: closed at once, the connection would be reset and the answer lost on its way.
LINGER_S, LINGER_BYTES = 2.0, 4 << 20
# Many wait for other processes at a time; some are always left for what is answered at once.
THREADS = 80
LOOPBACK = ("127.0.0.1", "::1")

# Why a request is not read: status, problem document, and headers of the answer; None if it is. It gets the
# method, path, headers by their names in capitals (as in ``CONTENT_TYPE``) and address, and how many bytes
# are announced, None if that is not said.
Refusal = tuple[int, dict[str, Any], Mapping[str, str]]
Admits = Callable[[str, str, Mapping[str, str], str, int | None], Refusal | None]
# How many bytes a request to a method and path may send, and the refusal of more.
Largest = Callable[[str, str], int]
RefusesMore = Callable[[str, str], Refusal]


class _Refused(Error):  # type: ignore[misc]
    """An answer that is given before a body is read."""

    def __init__(self, refusal: Refusal) -> None:
        status, problem, headers = refusal
        super().__init__(problem["title"])
        self.code, self.reason = status, problem["title"]
        self._problem, self._headers = problem, headers

    def to_response(self, _ident: str | None = None) -> tuple[str, list[tuple[str, str]], bytes]:
        headers = [("Content-Type", "application/problem+json"), *self._headers.items()]
        return f"{self.code} {self.reason}", headers, json.dumps(self._problem).encode()


def make_server(
    application: Any,
    listener: socket.socket,
    admits: Admits,
    largest: Largest,
    refuses_more: RefusesMore,
) -> Any:
    """A server on a listening socket.

    Parameters
    ----------
    application : WSGI application
        What answers.
    listener : socket.socket
        Bound and listening.
    admits : callable
        Whether a request with a body may send it.
    largest : callable
        How many bytes a request to a method and path may send.
    refuses_more : callable
        The refusal of one that sends more without having announced it.

    Returns
    -------
    waitress server
        Not running yet.
    """
    server = waitress.create_server(
        application,
        sockets=[listener],
        threads=THREADS,
        ident=None,
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=IDLE_S,
        cleanup_interval=LOOKED_AFTER_S,
        # Reads on while a request is answered, to notice that its client has left.
        channel_request_lookahead=1,
        # Each request has its own limit, which is smaller.
        max_request_body_size=1 << 40,
    )
    server.channel_class = _channel_class(admits, largest, refuses_more)
    usual = server.maintenance

    def maintenance(now: float) -> None:
        usual(now)
        _close_silent(server, time.time())

    server.maintenance = maintenance
    return server


def _close_silent(server: Any, now: float) -> None:
    """Close connections that have not sent a whole header in time, and those that linger."""
    for channel in list(server.active_channels.values()):
        if channel.lingers_until is not None and now > channel.lingers_until:
            channel.handle_close()
            continue
        since = channel.waiting_since
        if not channel.requests and since is not None and now - since > HEADER_S:
            channel.will_close = True


def _channel_class(admits: Admits, largest: Largest, refuses_more: RefusesMore) -> type[HTTPChannel]:
    class Parser(HTTPRequestParser):  # type: ignore[misc]
        """Refuses a body before it is read."""

        error: Any = None
        most = 0

        def __init__(self, adj: Any, address: str, refused: Callable[[], None]) -> None:
            super().__init__(adj)
            self.address, self._refused = address, refused

        def parse_header(self, header_plus: bytes) -> None:
            super().parse_header(header_plus)
            if not self.chunked and self.content_length == 0:
                return
            self.most = largest(self.command, self.path)
            announced = None if self.chunked else self.content_length
            refusal = admits(self.command, self.path, self.headers, self.address, announced)
            if refusal is not None:
                self._refuse(refusal)

        def received(self, data: bytes) -> int:
            consumed: int = super().received(data)
            if self.chunked and self.error is None and self.body_bytes_received > self.most:
                self._refuse(refuses_more(self.command, self.path))
            if self.error is not None:
                self._refused()
            return consumed

        def _refuse(self, refusal: Refusal) -> None:
            self.error = _Refused(refusal)
            self.expect_continue = False
            self.completed = True

    class Channel(HTTPChannel):  # type: ignore[misc]
        """Knows since when it waits for a header, and lingers after an early answer."""

        refused = False
        lingers_until: float | None = None
        dropped = 0

        def __init__(self, server: Any, sock: socket.socket, addr: Any, adj: Any, map: Any = None) -> None:
            self.waiting_since: float | None = time.time()
            address = addr[0] if isinstance(addr, tuple) else ""
            self.parser_class = partial(Parser, address=address, refused=self._note_refusal)
            super().__init__(server, sock, addr, adj, map)
            alike = sum(1 for c in server.active_channels.values() if c.addr[:1] == addr[:1])
            if address not in LOOPBACK and alike > MOST_OF_ONE:
                self.will_close = True

        def received(self, data: bytes) -> bool:
            taken: bool = super().received(data)
            if self.request is not None and not self.request.headers_finished:
                self.waiting_since = self.waiting_since or time.time()
            else:
                self.waiting_since = None
            return taken

        def _note_refusal(self) -> None:
            self.refused = True

        def handle_close(self) -> None:
            if self.refused and self.lingers_until is None:
                self.lingers_until = time.time() + LINGER_S
                try:
                    self.socket.shutdown(socket.SHUT_WR)
                except OSError:
                    super().handle_close()
                else:
                    self.will_close = False
                return
            super().handle_close()

        def readable(self) -> bool:
            return self.lingers_until is not None or bool(super().readable())

        def handle_read(self) -> None:
            if self.lingers_until is None:
                super().handle_read()
                return
            # At its end, receiving closes by itself.
            try:
                self.dropped += len(self.recv(self.adj.recv_bytes))
            except OSError:
                self.handle_close()
                return
            if self.dropped > LINGER_BYTES:
                self.handle_close()

    return Channel
