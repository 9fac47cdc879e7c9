"""Time zones as they are asked for."""

from __future__ import annotations

from zoneinfo import ZoneInfo

from noonshade.formats.document import Problem
from noonshade.web.http.problems import RequestProblem


def zone_of(name: str) -> ZoneInfo:
    """A time zone by its name; a problem that names the field if there is none."""
    try:
        return ZoneInfo(name)
    except (OSError, ValueError, LookupError) as error:
        found = [Problem("/zone", f"there is no time zone {name[:60]!r}; one is named as Europe/London")]
        raise RequestProblem(
            422, "invalid-request", "A value cannot be used", found[0].message, found
        ) from error
