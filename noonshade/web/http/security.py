"""Who may talk to the program: Host, Origin, passphrase, and the headers every answer carries."""

from __future__ import annotations

import secrets
from urllib.parse import urlsplit

from flask import Flask, Response, g, request

from noonshade.web.http import sign_in
from noonshade.web.http.front_door import FrontDoor
from noonshade.web.http.problems import problem_model, respond

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
# Header of a page of ours that watches one plan.
LIVE_HEADER = "Noonshade-Live"
# Key of the environment of a request that was passed on with its nonce.
NONCE_KEY = "noonshade.nonce"
SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})


def is_loopback(host: str) -> bool:
    """Whether a bind address can only be reached from this machine."""
    return host in LOOPBACK


def register(app: Flask, allowed_hosts: frozenset[str] | None, door: FrontDoor) -> None:
    """Check every request, and add security headers to every response.

    ``allowed_hosts`` are host names without port; None accepts any (then ``door`` asks for a passphrase,
    which stops rebinding attacks as well).
    """

    @app.before_request
    def _check() -> Response | None:
        # Where another process passed the request on, the page it makes needs the nonce of that one.
        g.nonce = request.environ.get(NONCE_KEY) or secrets.token_urlsafe(16)
        host = _hostname(f"//{request.host}")
        if allowed_hosts is not None and host not in allowed_hosts:
            return respond(
                problem_model(
                    403,
                    "host",
                    "This host name is not served",
                    f"{host!r} was asked for; served are {', '.join(sorted(allowed_hosts))}.",
                )
            )
        if request.method not in SAFE_METHODS:
            origin = request.headers.get("Origin")
            if origin is not None and _place(origin) != request.host:
                return respond(
                    problem_model(
                        403,
                        "origin",
                        "Changes are only taken from Noon Shade's own pages",
                        f"The request came from {origin[:100]}.",
                    )
                )
        authorization = request.headers.get("Authorization")
        address = request.remote_addr or ""
        problem = door.problem(request.path, authorization, address, request.headers.get("Cookie"))
        if problem is None:
            return None
        if sign_in.wants_page(request.path, request.headers.get("Accept", "")):
            return sign_in.page(None if problem.status == 401 else problem)
        answer = respond(problem)
        answer.headers.update(door.headers(problem, address))
        if LIVE_HEADER in request.headers:
            # The page itself asks: it leads to where one signs in, without a window of the browser's.
            answer.headers.pop("WWW-Authenticate", None)
        return answer

    @app.after_request
    def _headers(response: Response) -> Response:
        nonce = g.get("nonce", "")
        response.headers["Content-Security-Policy"] = (
            "default-src 'none'; script-src 'self'; "
            f"style-src 'self' 'nonce-{nonce}'; img-src 'self' data: blob:; font-src 'self'; "
            "connect-src 'self'; worker-src 'self'; manifest-src 'self'; base-uri 'none'; "
            "form-action 'self'; frame-ancestors 'none'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        # With "no-referrer" a form would send the origin "null".
        response.headers["Referrer-Policy"] = "same-origin"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        response.headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=()"
        if request.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        return response


def _hostname(address: str) -> str:
    """The name of a host in an address; none of what cannot be one."""
    try:
        return urlsplit(address).hostname or ""
    except ValueError:
        return ""


def _place(origin: str) -> str | None:
    """Host and port of an origin; None of what cannot be one."""
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None
