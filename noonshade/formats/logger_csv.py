"""What loggers write, in whatever shape it comes: a guess of the shape, and reading by it.

Delimiter, decimal comma, date order, unit, time zone, titles above the rows and again among them: all
of it is guessed from the file, shown to the keeper, and remembered for the logger as a mapping.
"""

from __future__ import annotations

import csv
import math
import re
import string
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from itertools import pairwise
from statistics import median
from typing import Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from noonshade.formats.moments import (
    DateOrder,
    MomentError,
    guess_order,
    in_utc,
    looks_like_moment,
    read_moment,
)
from noonshade.formats.text_file import FileFormatError

LARGEST_BYTES = 8_000_000
MOST_ROWS = 300_000
DELIMITERS = (";", "\t", ",", "|")
# What a logger in a room can show; what lies outside is a slip or a fault. Estimates.
COLDEST_C, HOTTEST_C = -40.0, 90.0
# Sampled for guessing.
_LOOKED_AT = 200
# A gap is a step of more than this many usual ones.
_GAP_STEPS = 2.5
_TIME_ONLY = re.compile(r"\d{1,2}:\d{2}(:\d{2})?( ?[AaPp]\.?[Mm]\.?)?")
_NUMBER = re.compile(r"[+-]?\d+(?:[.,]\d+)?(?: ?(?:° ?)?[CF]| ?%)?")
# What is written behind a number.
_UNITS = "°%CFcf" + string.whitespace + "\u00a0"
# No line of a logger is longer: what is would only cost time to look through.
LONGEST_LINE = 4_000


@dataclass(frozen=True, slots=True)
class LoggerMapping:
    """How a logger's file is read.

    ``first_row`` counts lines from 0; ``time`` and ``clock`` are columns of the date (with the time, or
    the time in ``clock``); ``zone`` is that of times without an offset. A logger without a column for
    temperature or humidity has None there.
    """

    delimiter: str
    decimal: Literal[".", ","]
    first_row: int
    time: int
    clock: int | None
    order: DateOrder
    zone: str
    temperature: int | None
    unit: Literal["C", "F"]
    humidity: int | None


@dataclass(frozen=True, slots=True)
class LoggedRow:
    """One row that could be read: its line (from 1), time in UTC, °C, and humidity as a share."""

    line: int
    at: datetime
    temperature_c: float | None
    relative_humidity: float | None


@dataclass(frozen=True, slots=True)
class RefusedRow:
    """One row that could not, and why."""

    line: int
    text: str
    reason: str


@dataclass(frozen=True, slots=True)
class LoggerFile:
    """A file as read by a mapping; ``skipped`` are empty lines and titles that came again."""

    rows: tuple[LoggedRow, ...]
    refused: tuple[RefusedRow, ...]
    skipped: int
    gaps: tuple[tuple[datetime, datetime], ...]
    step: timedelta | None = None


@dataclass(frozen=True, slots=True)
class Guess:
    """A mapping with the titles of the columns, and what should be looked at, in words."""

    mapping: LoggerMapping
    titles: tuple[str, ...]
    doubts: tuple[str, ...] = field(default=())


def checked_text(text: str) -> str:
    """The text of a file if it can be one of a logger.

    Raises
    ------
    FileFormatError
        If it is empty, too large or not text.
    """
    if len(text) > LARGEST_BYTES:
        raise FileFormatError(f"the file is larger than {LARGEST_BYTES // 1_000_000} MB")
    text = text.removeprefix("\ufeff")
    if "\0" in text:
        raise FileFormatError("this is not a text file")
    if not text.strip():
        raise FileFormatError("the file is empty")
    return text


def guess_mapping(text: str, zone: str) -> Guess:
    """Guess how a file is to be read; ``zone`` is taken for times without an offset.

    Raises
    ------
    FileFormatError
        If no rows with a time and a number are found in it.
    """
    lines = checked_text(text).splitlines()
    delimiter = _delimiter(lines)
    table = [_cells(line, delimiter) for line in lines[: 2 * _LOOKED_AT]]
    first = next((i for i, row in enumerate(table) if _is_data(row)), None)
    if first is None:
        raise FileFormatError("no row with a date and a number was found; is this a logger's file?")
    rows = [row for row in table[first:] if _is_data(row)][:_LOOKED_AT]
    width = Counter(len(r) for r in rows).most_common(1)[0][0]
    rows = [r for r in rows if len(r) == width]
    titles = _titles(table[:first], width)
    time = next(c for c in range(width) if _share(rows, c, looks_like_moment) > 0.8)
    clocks = [c for c in range(width) if c != time and _share(rows, c, _is_clock) > 0.8]
    clock = clocks[0] if clocks and not any(":" in r[time] for r in rows) else None
    order, doubtful = guess_order([_moment_text(r, time, clock) for r in rows])
    numbers = [c for c in range(width) if c not in (time, clock) and _share(rows, c, _is_number) > 0.8]
    decimal: Literal[".", ","] = "."
    if any(re.search(r"\d,\d", r[c]) for r in rows for c in numbers) and delimiter != ",":
        decimal = ","
    temperature, humidity = _columns(rows, numbers, titles, decimal)
    unit, unsure = _unit(rows, temperature, titles, decimal)
    doubts = []
    if doubtful:
        doubts.append("The dates could be day first or month first; check the first rows.")
    if unsure:
        doubts.append("It is not written whether these are °C or °F; check the values.")
    if temperature is None and humidity is None:
        doubts.append("No column was recognised as temperature or humidity; choose one.")
    mapping = LoggerMapping(
        delimiter, decimal, first, time, clock, order, zone, temperature, unit, humidity
    )
    return Guess(mapping, titles, tuple(doubts))


def read_logger(text: str, mapping: LoggerMapping) -> LoggerFile:
    """Read a file by a mapping; rows that cannot be read are named.

    Raises
    ------
    FileFormatError
        If the file cannot be one of a logger, the zone is unknown or there are too many rows.
    """
    lines = checked_text(text).splitlines()
    if len(lines) > MOST_ROWS:
        raise FileFormatError(f"the file has more than {MOST_ROWS} lines; split it")
    try:
        zone = ZoneInfo(mapping.zone)
    except (ZoneInfoNotFoundError, ValueError) as error:
        raise FileFormatError(f"there is no time zone {mapping.zone[:60]!r}") from error
    rows: list[LoggedRow] = []
    refused: list[RefusedRow] = []
    skipped = 0
    for number, line in enumerate(lines[mapping.first_row :], start=mapping.first_row + 1):
        if len(line) > LONGEST_LINE:
            reason = f"has {len(line):,} characters; at most {LONGEST_LINE:,}"
            refused.append(RefusedRow(number, line[:120], reason))
            continue
        cells = _cells(line, mapping.delimiter)
        if not any(cells) or _is_title(cells, mapping):
            skipped += 1
            continue
        try:
            rows.append(_row(number, cells, mapping, zone, rows[-1].at if rows else None))
        except (MomentError, FileFormatError) as error:
            refused.append(RefusedRow(number, line[:120], str(error)))
    steps = [(b.at - a.at).total_seconds() for a, b in pairwise(rows) if b.at > a.at]
    usual = timedelta(seconds=median(steps)) if steps else None
    gaps = tuple(
        (a.at, b.at) for a, b in pairwise(rows) if usual is not None and b.at - a.at > _GAP_STEPS * usual
    )
    return LoggerFile(tuple(rows), tuple(refused), skipped, gaps, usual)


def _row(
    number: int, cells: Sequence[str], mapping: LoggerMapping, zone: ZoneInfo, before: datetime | None
) -> LoggedRow:
    wanted = [
        c for c in (mapping.time, mapping.clock, mapping.temperature, mapping.humidity) if c is not None
    ]
    if max(wanted) >= len(cells):
        raise FileFormatError(f"has {len(cells)} columns, {max(wanted) + 1} are needed")
    moment = read_moment(_moment_text(cells, mapping.time, mapping.clock), mapping.order)
    at = in_utc(moment, zone, before)
    temperature = humidity = None
    if mapping.temperature is not None:
        shown = _number(cells[mapping.temperature], mapping.decimal, "temperature")
        temperature = shown if mapping.unit == "C" else (shown - 32.0) / 1.8
        if not COLDEST_C <= temperature <= HOTTEST_C:
            raise FileFormatError(f"{shown:g} °{mapping.unit} is no temperature of a room")
    if mapping.humidity is not None:
        shown = _number(cells[mapping.humidity], mapping.decimal, "humidity")
        if not 0.0 <= shown <= 100.0:
            raise FileFormatError(f"{shown:g} % is no humidity")
        humidity = shown / 100.0
    if temperature is None and humidity is None:
        raise FileFormatError("no column was chosen for temperature or humidity")
    return LoggedRow(number, at, temperature, humidity)


def _number(text: str, decimal: str, what: str) -> float:
    bare = text.strip().rstrip(_UNITS)
    try:
        value = float(bare.replace(",", ".") if decimal == "," else bare)
    except ValueError as error:
        raise FileFormatError(f"{text.strip()[:40]!r} is no {what}") from error
    if not math.isfinite(value):
        raise FileFormatError(f"{text.strip()[:40]!r} is no {what}")
    return value


def _cells(line: str, delimiter: str) -> list[str]:
    """The cells of a line, each with single blanks; one that is too long has none."""
    if len(line) > LONGEST_LINE:
        return []
    return [" ".join(c.split()) for c in next(csv.reader([line], delimiter=delimiter), [])]


def _delimiter(lines: Sequence[str]) -> str:
    """The one that cuts most lines into the same number of cells, at least two, with a date among them."""
    some = [line for line in lines[: 2 * _LOOKED_AT] if line.strip()]

    def score(delimiter: str) -> tuple[int, int]:
        widths = Counter(len(row) for row in (_cells(x, delimiter) for x in some) if _is_data(row))
        return (0, 0) if not widths else (widths.most_common(1)[0][1], widths.most_common(1)[0][0])

    return max(DELIMITERS, key=score)


def _is_number(text: str) -> bool:
    return bool(_NUMBER.fullmatch(text))


def _is_clock(text: str) -> bool:
    return bool(_TIME_ONLY.fullmatch(text))


def _is_data(row: Sequence[str]) -> bool:
    return any(looks_like_moment(c) for c in row) and any(
        _is_number(c) for c in row if not looks_like_moment(c)
    )


def _is_title(cells: Sequence[str], mapping: LoggerMapping) -> bool:
    """Whether a line among the rows is a title again: words where there should be a date and numbers."""
    return not any(any(ch.isdigit() for ch in c) for c in cells) or (
        mapping.time < len(cells)
        and not any(ch.isdigit() for ch in cells[mapping.time])
        and not any(_is_number(c) for c in cells)
    )


def _share(rows: Sequence[Sequence[str]], column: int, holds: object) -> float:
    assert callable(holds)
    return sum(bool(holds(r[column])) for r in rows) / len(rows)


def _moment_text(cells: Sequence[str], time: int, clock: int | None) -> str:
    return cells[time] if clock is None else f"{cells[time]} {cells[clock]}"


def _titles(above: Sequence[Sequence[str]], width: int) -> tuple[str, ...]:
    for row in reversed(above):
        if len(row) == width and any(row):
            return tuple(row)
    return tuple(f"Column {c + 1}" for c in range(width))


_HEAT = re.compile(r"temp|°\s*[cf]|\bt\b|celsius|fahrenheit", re.I)
_DAMP = re.compile(r"hum|r\.?\s?h|feuch|%", re.I)
# Titles of what is written beside and must not be taken for it.
_OTHER = re.compile(r"dew|battery|volt|signal|index|no\.?$|^#", re.I)


def _columns(
    rows: Sequence[Sequence[str]], numbers: Sequence[int], titles: Sequence[str], decimal: str
) -> tuple[int | None, int | None]:
    """Columns of temperature and humidity, by their titles, else by what the values can be."""
    open_ones = [c for c in numbers if not _OTHER.search(titles[c])]
    described = {c: f"{titles[c]} {rows[0][c].lstrip('+-0123456789.,')}" for c in open_ones}
    heat = next((c for c in open_ones if _HEAT.search(described[c])), None)
    damp = next((c for c in open_ones if c != heat and _DAMP.search(described[c])), None)
    if heat is None and damp is None and all(t.startswith("Column ") for t in titles):
        # A running number stands first and grows by one a row.
        left = [c for c in open_ones if c > 0 or not _counts(rows, c, decimal)]
        heat = left[0] if left else None
        damp = left[1] if len(left) > 1 else None
    return heat, damp


def _values(rows: Sequence[Sequence[str]], column: int, decimal: str) -> Iterator[float]:
    for row in rows:
        try:
            yield _number(row[column], decimal, "number")
        except FileFormatError:
            continue


def _mean(rows: Sequence[Sequence[str]], column: int, decimal: str) -> float:
    values = list(_values(rows, column, decimal))
    return sum(values) / len(values)


def _counts(rows: Sequence[Sequence[str]], column: int, decimal: str) -> bool:
    values = list(_values(rows, column, decimal))
    return len(values) > 2 and all(b - a == 1 for a, b in pairwise(values))


def _unit(
    rows: Sequence[Sequence[str]], column: int | None, titles: Sequence[str], decimal: str
) -> tuple[Literal["C", "F"], bool]:
    """The unit of a temperature, and whether it had to be guessed from the values."""
    if column is None:
        return "C", False
    text = f"{titles[column]} {rows[0][column]}"
    if re.search(r"°\s*F|fahrenheit|\(F\)|\bF\b", text, re.I):
        return "F", False
    if re.search(r"°\s*C|celsius|\(C\)|\bC\b", text, re.I):
        return "C", False
    # No enclosure of reptiles is at 50 °C all day, and none at 10 °C in °F.
    mean = _mean(rows, column, decimal)
    return ("F" if mean > 50.0 else "C"), True
