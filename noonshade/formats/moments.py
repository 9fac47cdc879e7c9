"""Dates and times as loggers write them: in any order of day and month, with or without an offset."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta, timezone
from itertools import pairwise
from typing import Literal
from zoneinfo import ZoneInfo

DateOrder = Literal["ymd", "dmy", "mdy"]
ORDERS: tuple[DateOrder, ...] = ("ymd", "dmy", "mdy")

_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_DATE = r"(?P<a>\d{1,4})[./\- ](?P<b>\d{1,2}|[A-Za-z]{3,9})[./\- ](?P<c>\d{1,4})"
_TIME = (
    r"(?P<h>\d{1,2})[:.](?P<m>\d{2})(?:[:.](?P<s>\d{2})(?:[.,]\d{1,9})?)?(?: ?(?P<half>[AaPp]\.?[Mm]\.?))?"
)
_OFFSET = r"(?: ?(?P<offset>Z|UTC|GMT|[+-]\d{2}:?\d{2}))?"
# Of text with single blanks: no part of these can take what another could, so they take no time to fail.
_WHOLE = re.compile(rf"{_DATE}(?:(?:,? |[T,]){_TIME}{_OFFSET})?")
_EPOCH = re.compile(r"1\d{9}(?:\.\d{1,9})?")
# No date and time is longer.
LONGEST = 60
# Nothing of a keeper's lies before or after these years; what does is a slip, or a clock never set.
FIRST_YEAR, LAST_YEAR = 1900, 2200
# The largest offset there is, minutes.
MOST_OFFSET_MIN = 14 * 60


class MomentError(ValueError):
    """Text that is no date and time in the order that was taken; the message says why."""


def looks_like_moment(text: str) -> bool:
    """Whether a text is written like a date, perhaps with a time."""
    plain = _plain(text)
    return bool(_WHOLE.fullmatch(plain) or _EPOCH.fullmatch(plain))


def _plain(text: str) -> str:
    """With single blanks, and none around it; nothing of what is too long to be one."""
    plain = " ".join(text[: 4 * LONGEST].split())
    return plain if len(text) <= 4 * LONGEST and len(plain) <= LONGEST else ""


def read_moment(text: str, order: DateOrder) -> datetime:
    """A date and time, with its offset if one is written, else without any.

    Raises
    ------
    MomentError
        If it is none, or there is no such day or time.
    """
    plain = _plain(text)
    if _EPOCH.fullmatch(plain):
        return datetime.fromtimestamp(float(plain), UTC)
    match = _WHOLE.fullmatch(plain)
    if match is None:
        raise MomentError(f"{text.strip()[:40]!r} is no date and time")
    year, month, day = _ordered(match, order)
    hour, minute, second = (int(match[k] or 0) for k in ("h", "m", "s"))
    half = (match["half"] or "").lower().replace(".", "")
    if half:
        if not 1 <= hour <= 12:
            raise MomentError(f"{text.strip()[:40]!r}: no hour {hour} {half}")
        hour = hour % 12 + (12 if half == "pm" else 0)
    if not FIRST_YEAR <= year <= LAST_YEAR:
        raise MomentError(f"{text.strip()[:40]!r}: the year must be {FIRST_YEAR} to {LAST_YEAR}")
    zone = _zone(match["offset"])
    try:
        return datetime(year, month, day, hour, minute, second, tzinfo=zone)
    except ValueError as error:
        raise MomentError(f"{text.strip()[:40]!r}: {error}") from error


def _ordered(match: re.Match[str], order: DateOrder) -> tuple[int, int, int]:
    a, b, c = match["a"], match["b"], match["c"]
    if not b.isdigit():
        name = b[:3].lower()
        if name not in _MONTHS:
            raise MomentError(f"{b!r} is no month")
        month = _MONTHS.index(name) + 1
        return (int(a), month, int(c)) if len(a) == 4 else (_full(int(c)), month, int(a))
    if len(a) == 4:
        return int(a), int(b), int(c)
    if order == "ymd":
        return _full(int(a)), int(b), int(c)
    first, second = int(a), int(b)
    return (_full(int(c)), second, first) if order == "dmy" else (_full(int(c)), first, second)


def _full(year: int) -> int:
    return year + 2000 if year < 100 else year


def _zone(offset: str | None) -> timezone | None:
    if offset is None:
        return None
    if offset in ("Z", "UTC", "GMT"):
        return UTC
    minutes = int(offset[1:3]) * 60 + int(offset[-2:])
    if minutes > MOST_OFFSET_MIN:
        raise MomentError(f"{offset!r} is no offset from UTC; at most 14 hours")
    return timezone(timedelta(minutes=-minutes if offset[0] == "-" else minutes))


def guess_order(texts: Sequence[str]) -> tuple[DateOrder, bool]:
    """The order in which the dates are written, and whether another one would do as well.

    An order that cannot be read is none; of those that can, the one in which time runs on most evenly.
    """
    found: list[tuple[tuple[int, float], DateOrder]] = []
    for order in ORDERS:
        try:
            moments = [read_moment(t, order).replace(tzinfo=None) for t in texts]
        except MomentError:
            continue
        steps = [(b - a).total_seconds() for a, b in pairwise(moments)]
        back = sum(s < 0 for s in steps)
        found.append(((back, max((abs(s) for s in steps), default=0.0)), order))
    if not found:
        return "ymd", True
    found.sort(key=lambda f: f[0])
    written = any(len(part) == 4 for part in re.split(r"[./\- ]", texts[0])[:1])
    tied = len(found) > 1 and found[0][0] == found[1][0]
    best = found[0][1]
    if tied and not written and any(order == "dmy" for score, order in found if score == found[0][0]):
        # Most of the world writes the day first.
        best = "dmy"
    return best, tied and not written


def in_utc(moment: datetime, zone: ZoneInfo, before: datetime | None) -> datetime:
    """A time as UTC; one without an offset is in ``zone``.

    The hour that comes twice in autumn is the first one unless time would run back behind ``before``.
    """
    if moment.tzinfo is not None:
        return moment.astimezone(UTC)
    first = moment.replace(tzinfo=zone, fold=0).astimezone(UTC)
    if before is not None and first <= before:
        second = moment.replace(tzinfo=zone, fold=1).astimezone(UTC)
        if second > before:
            return second
    return first
