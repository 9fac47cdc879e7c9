"""Who may talk to the program: Host, Origin, passphrase, and the headers every answer carries."""

from __future__ import annotations

import hmac
import secrets
from urllib.parse import urlsplit

from flask import Flask, Response, g, request

from noonshade.web.http.problems import problem_model, respond

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
DEVICES = "/api/devices/"
# A calendar on the network has an address that nobody guesses, and no way to give a passphrase.
CALENDARS = "/api/calendar/"
SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})


def is_loopback(host: str) -> bool:
    """Whether a bind address can only be reached from this machine."""
    return host in LOOPBACK


def register(app: Flask, allowed_hosts: frozenset[str] | None, passphrase: str | None) -> None:
    """Check every request, and add security headers to every response.

    ``allowed_hosts`` are host names without port; None accepts any (then a passphrase is asked for,
    which stops rebinding attacks as well).
    """

    @app.before_request
    def _check() -> Response | None:
        g.nonce = secrets.token_urlsafe(16)
        host = urlsplit(f"//{request.host}").hostname or ""
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
            if origin is not None and urlsplit(origin).netloc != request.host:
                return respond(
                    problem_model(
                        403,
                        "origin",
                        "Changes are only taken from Noon Shade's own pages",
                        f"The request came from {origin[:100]}.",
                    )
                )
        # A device or calendar has its own key, which its operation checks.
        by_key = request.path.startswith((DEVICES, CALENDARS))
        if passphrase is not None and not by_key and not _knows(passphrase):
            answer = respond(
                problem_model(
                    401,
                    "passphrase",
                    "A passphrase is needed",
                    "Noon Shade is open to the network and asks for its passphrase (any user name).",
                )
            )
            answer.headers["WWW-Authenticate"] = 'Basic realm="Noon Shade", charset="UTF-8"'
            return answer
        return None

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
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        response.headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=()"
        if request.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        return response


def _knows(passphrase: str) -> bool:
    given = request.authorization
    if given is None or given.type != "basic" or given.password is None:
        return False
    return hmac.compare_digest(given.password.encode(), passphrase.encode())
