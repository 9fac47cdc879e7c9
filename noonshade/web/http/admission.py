"""Which requests may send a body, and how large: decided by their headers, before it is read."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import Any

from noonshade.web.app import BODY_LIMIT_BYTES, NoonShade
from noonshade.web.http.front_door import SIGN_IN
from noonshade.web.http.problems import ProblemModel, too_large_problem
from noonshade.web.http.routing import OPERATIONS
from noonshade.web.http.sign_in import LARGEST_FORM

Refusal = tuple[int, dict[str, Any], Mapping[str, str]]


def largest_body(method: str, path: str) -> int:
    """How many bytes a request may send: of files what their operation takes, else what is usual."""
    if path == SIGN_IN:
        return LARGEST_FORM
    for one in OPERATIONS:
        if one.largest is not None and one.method == method:
            pattern = re.sub(r"<[^>]+>", "[^/]+", f"/api{one.path}")
            if re.fullmatch(pattern, path):
                return one.largest
    return BODY_LIMIT_BYTES


def admits_to(
    app: NoonShade,
) -> Callable[[str, str, Mapping[str, str], str, int | None], Refusal | None]:
    """Whether a request to an application may send its body, by method, path, headers, address and length.

    What it gives is None, or the status, problem document and headers of the answer.
    """

    def admits(
        method: str, path: str, headers: Mapping[str, str], address: str, length: int | None
    ) -> Refusal | None:
        problem = app.door.problem(path, headers.get("AUTHORIZATION"), address, headers.get("COOKIE"))
        if problem is not None:
            return _refusal(problem, app.door.headers(problem, address))
        most = largest_body(method, path)
        return _refusal(too_large_problem(most)) if length is not None and length > most else None

    return admits


def refuse_too_large(method: str, path: str) -> Refusal:
    """The refusal of a body that turned out to be larger than its request may send."""
    return _refusal(too_large_problem(largest_body(method, path)))


def _refusal(problem: ProblemModel, headers: Mapping[str, str] | None = None) -> Refusal:
    return problem.status, problem.model_dump(exclude_none=True), headers or {}
