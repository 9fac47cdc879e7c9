"""Days and moments as the interface takes them."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime, BeforeValidator, Field

from noonshade.formats.moments import FIRST_YEAR, LAST_YEAR


def _day(text: str) -> str:
    try:
        found = date.fromisoformat(text)
    except ValueError:
        found = None
    if found is None or not FIRST_YEAR <= found.year <= LAST_YEAR or len(text) != 10:
        raise ValueError("must be a day of the calendar, as 2026-03-14")
    return text


def _moment(text: str) -> str:
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        found = None
    if found is None or found.tzinfo is None or not FIRST_YEAR <= found.year <= LAST_YEAR:
        raise ValueError("must be a date and time with its offset, as 2026-03-14T16:20:00+01:00")
    return text


Day = Annotated[str, Field(description="a day, ISO 8601"), AfterValidator(_day)]
Instant = Annotated[str, Field(description="ISO 8601 with its offset from UTC"), AfterValidator(_moment)]


def _recorded(moment: datetime) -> datetime:
    # A year more on either side would leave the calendar in another time zone.
    if not FIRST_YEAR <= moment.year <= LAST_YEAR:
        raise ValueError(f"must be a date and time of the years {FIRST_YEAR} to {LAST_YEAR}")
    return moment


def _read(value: object) -> object:
    if isinstance(value, datetime):
        return value
    try:
        return datetime.fromisoformat(value if isinstance(value, str) else "")
    except ValueError:
        raise ValueError("must be a date and time with its offset, as 2026-03-14T16:20:00+01:00") from None


RecordedAt = Annotated[AwareDatetime, BeforeValidator(_read), AfterValidator(_recorded)]
