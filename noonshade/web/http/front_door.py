"""Who is let in from a network, before anything they send is read."""

from __future__ import annotations

import hashlib
import hmac
import logging
import math
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass

from itsdangerous import BadSignature, TimestampSigner
from werkzeug.datastructures import Authorization
from werkzeug.http import parse_cookie

from noonshade.web.http.problems import ProblemModel, problem_model

DEVICES = "/api/devices/"
# A calendar on the network has an address that nobody guesses, and no way to give a passphrase.
CALENDARS = "/api/calendar/"
SIGN_IN = "/sign-in"
COOKIE = "noonshade-keeper"
# How long a browser is remembered, s.
LASTS_S = 30 * 24 * 3600
_SALT, _WHO = "noonshade sign-in", b"keeper"
CHALLENGE = 'Basic realm="Noon Shade", charset="UTF-8"'
# So many wrong words cost nothing; each further one doubles the wait, up to the longest, seconds.
FREE_TRIES, FIRST_WAIT_S, LONGEST_WAIT_S = 4, 1.0, 300.0
# Addresses that are remembered; the oldest go first.
MOST_ADDRESSES = 2_000

log = logging.getLogger(__name__)


@dataclass(slots=True)
class _Tries:
    wrong: int = 0
    until: float = 0.0


class WrongTries:
    """Wrong passphrases and keys by the address they came from: each makes the next wait longer."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._known: OrderedDict[str, _Tries] = OrderedDict()
        self._lock = threading.Lock()

    def wait_s(self, address: str) -> float:
        """How long an address has to wait until it may try again, seconds; 0 if it need not."""
        with self._lock:
            tries = self._known.get(address)
            return 0.0 if tries is None else max(0.0, tries.until - self._clock())

    def wrong(self, address: str, what: str) -> None:
        """Another wrong word from an address; ``what`` it was meant for."""
        with self._lock:
            tries = self._known.pop(address, None) or _Tries()
            self._known[address] = tries
            while len(self._known) > MOST_ADDRESSES:
                self._known.popitem(last=False)
            tries.wrong += 1
            beyond = tries.wrong - FREE_TRIES
            if beyond > 0:
                wait = min(LONGEST_WAIT_S, FIRST_WAIT_S * 2.0 ** min(beyond - 1, 20))
                tries.until = self._clock() + wait
        log.warning("wrong %s from %s, number %d", what, address, tries.wrong)

    def right(self, address: str) -> None:
        """The right word came from an address."""
        with self._lock:
            self._known.pop(address, None)


class FrontDoor:
    """Asks for the passphrase of a program that is open to the network.

    ``passphrase`` is None where nobody is asked.
    """

    def __init__(self, passphrase: str | None, tries: WrongTries | None = None) -> None:
        self.passphrase = passphrase
        self.tries = tries or WrongTries()

    def problem(
        self, path: str, authorization: str | None, address: str, cookie: str | None = None
    ) -> ProblemModel | None:
        """Why a request is not let in; None if it is. ``cookie`` is the header of that name.

        A device or a calendar has a separate key, which its operation checks, and so does signing in.
        """
        if self.passphrase is None or path == SIGN_IN or path.startswith((DEVICES, CALENDARS)):
            return None
        if self.knows(cookie):
            return None
        waiting = self.waiting(address)
        if waiting is not None:
            return waiting
        given = None if authorization is None else Authorization.from_header(authorization)
        if given is not None and given.type == "basic" and given.password is not None:
            return self.tried(given.password, address)
        return self._unknown()

    def token(self) -> str:
        """What the cookie of a browser holds that has signed in."""
        return self._signer().sign(_WHO).decode()

    def knows(self, cookie: str | None) -> bool:
        """Whether a ``Cookie`` header holds a token signed with this passphrase, and not too long ago."""
        token = parse_cookie(cookie or "").get(COOKIE)
        if not token or self.passphrase is None:
            return False
        try:
            return self._signer().unsign(token, max_age=LASTS_S) == _WHO
        except BadSignature:
            return False

    def _signer(self) -> TimestampSigner:
        assert self.passphrase is not None
        return TimestampSigner(self.passphrase, salt=_SALT, digest_method=hashlib.sha256)

    def tried(self, passphrase: str, address: str) -> ProblemModel | None:
        """Why a passphrase from an address lets nobody in; None if it does."""
        assert self.passphrase is not None
        waiting = self.waiting(address)
        if waiting is not None:
            return waiting
        if hmac.compare_digest(passphrase.encode(), self.passphrase.encode()):
            self.tries.right(address)
            return None
        self.tries.wrong(address, "passphrase")
        return self._unknown()

    @staticmethod
    def _unknown() -> ProblemModel:
        return problem_model(
            401,
            "passphrase",
            "A passphrase is needed",
            "Noon Shade is open to the network and asks for its passphrase (any user name).",
        )

    def headers(self, problem: ProblemModel, address: str) -> dict[str, str]:
        """What an answer says beside a problem: how to be let in, or when to try again."""
        if problem.status == 401:
            return {"WWW-Authenticate": CHALLENGE}
        if problem.status == 429:
            return {"Retry-After": str(max(1, math.ceil(self.tries.wait_s(address))))}
        return {}

    def waiting(self, address: str) -> ProblemModel | None:
        """Why an address has to wait; None if it need not."""
        wait = math.ceil(self.tries.wait_s(address))
        if wait == 0:
            return None
        return problem_model(
            429,
            "too-many-tries",
            "Too many wrong passphrases or keys",
            f"Try again in {wait} s.",
        )
