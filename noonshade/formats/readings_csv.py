"""Readings as CSV, out and in: one row each, in °C, UV index and per cent."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from noonshade.core.readings import Reading
from noonshade.core.readings.instrument import INSTRUMENTS, SHARE_KINDS
from noonshade.formats.text_file import FileFormatError, named_rows, number, safe_cell

COLUMNS = (
    *("taken_at", "place", "kind", "value", "unit", "x_m", "y_m", "z_m"),
    *("instrument", "source", "excluded", "note", "revision", "id"),
)
_READ = ("kind", "value")
_AT = ("x_m", "y_m", "z_m")


class Row(Protocol):
    """A reading as it is stored."""

    @property
    def id(self) -> str: ...
    @property
    def kind(self) -> str: ...
    @property
    def value(self) -> float: ...
    @property
    def x_m(self) -> float | None: ...
    @property
    def y_m(self) -> float | None: ...
    @property
    def z_m(self) -> float | None: ...
    @property
    def place(self) -> str: ...
    @property
    def taken_at(self) -> str: ...
    @property
    def instrument_id(self) -> str | None: ...
    @property
    def source(self) -> str: ...
    @property
    def note(self) -> str: ...
    @property
    def excluded(self) -> bool: ...
    @property
    def revision(self) -> int: ...


def readings_csv(rows: Iterable[Row], instruments: Mapping[str, str]) -> str:
    """Readings with a heading; ``instruments`` are their labels by id."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for row in rows:
        value, unit = _shown(row.kind, row.value)
        at = ["" if v is None else f"{v:g}" for v in (row.x_m, row.y_m, row.z_m)]
        writer.writerow(
            [
                row.taken_at,
                safe_cell(row.place),
                row.kind,
                f"{value:g}",
                unit,
                *at,
                safe_cell(instruments.get(row.instrument_id or "", "")),
                row.source,
                "yes" if row.excluded else "no",
                safe_cell(row.note),
                row.revision,
                row.id,
            ]
        )
    return text.getvalue()


@dataclass(frozen=True, slots=True)
class ReadingsFile:
    """Readings of a file, and the last day one was taken on; None where the file does not say."""

    readings: tuple[Reading, ...]
    last_day: str | None


def read_readings_csv(text: str) -> ReadingsFile:
    """Readings from such a file, those that are not excluded; other columns are passed over.

    Raises
    ------
    FileFormatError
        If a column is missing, or naming the line and what is wrong there.
    """
    columns, rows = named_rows(text)
    missing = [c for c in _READ if c not in columns]
    if missing:
        raise FileFormatError(f"the columns {', '.join(missing)} are missing")
    found, days = [], []
    for line, row in rows:
        # Files written before version 2 of the documents call the column by its older name.
        if (row.get("excluded") or row.get("left_out") or "no") == "yes":
            continue
        kind = row["kind"]
        if kind not in INSTRUMENTS:
            raise FileFormatError(f"{kind[:40]!r}; known: {', '.join(INSTRUMENTS)}", line, "kind")
        value = number(row["value"], line, "value")
        shown = _shown(kind, 1.0)[1]
        if (row.get("unit") or shown) != shown:
            raise FileFormatError(f"{row['unit'][:20]!r}; it is {shown}", line, "unit")
        if row.get("taken_at"):
            days.append(_day(row["taken_at"], line))
        at = None
        if all(row.get(c) for c in _AT):
            x, y, z = (number(row[c], line, c) for c in _AT)
            at = (x, y, z)
        share = kind in SHARE_KINDS
        key = row.get("id") or f"line {line}"
        found.append(Reading(key, kind, value / 100.0 if share else value, at, row.get("instrument") or ""))
    return ReadingsFile(tuple(found), max(days, default=None))


def _day(text: str, line: int) -> str:
    try:
        return datetime.fromisoformat(text).date().isoformat()
    except ValueError as error:
        raise FileFormatError(f"{text[:40]!r} is no date and time (ISO 8601)", line, "taken_at") from error


def _shown(kind: str, value: float) -> tuple[float, str]:
    if kind.startswith("uvi"):
        return value, "UVI"
    return (100.0 * value, "%") if "humidity" in kind else (value, "°C")
