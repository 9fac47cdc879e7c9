"""Reading small text files of measurements with messages that name line and field."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator

LARGEST_BYTES = 900_000
# No cell of a table of ours is longer; a longer one is a fault, and costs time to look through.
LONGEST_CELL = 2_000
# A leading sign of these makes some spreadsheets compute a cell.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


class FileFormatError(ValueError):
    """A file that cannot be used; the message names the line and the field."""

    def __init__(self, message: str, line: int | None = None, field: str = "") -> None:
        where = "" if line is None else f"line {line}"
        where += f", {field}" if field and where else field
        super().__init__(f"{where}: {message}" if where else message)
        self.line, self.field = line, field


def decoded(data: bytes | str) -> str:
    """Text of a file: UTF-8 with or without a mark, else Latin-1, as old photometric files are.

    Raises
    ------
    FileFormatError
        If it is too large, empty or binary.
    """
    if len(data) > LARGEST_BYTES:
        raise FileFormatError(f"the file is larger than {LARGEST_BYTES // 1000} kB")
    if isinstance(data, str):
        text = data.removeprefix("\ufeff")
    else:
        try:
            text = data.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = data.decode("latin-1")
    if "\0" in text:
        raise FileFormatError("this is not a text file")
    if not text.strip():
        raise FileFormatError("the file is empty")
    return text


def table_rows(text: str, delimiter: str = ",") -> Iterator[tuple[int, list[str]]]:
    """Lines of a table as cells, with the number of the line, from 1; empty ones are passed over.

    Raises
    ------
    FileFormatError
        Naming the line, if a cell is longer than ``LONGEST_CELL``, or the line is not written as a table.
    """
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    while True:
        line = reader.line_num + 1
        try:
            cells = next(reader, None)
        except csv.Error as error:
            raise FileFormatError(f"not written as a table: {error}", line) from error
        if cells is None:
            return
        for cell in cells:
            if len(cell) > LONGEST_CELL:
                raise FileFormatError(
                    f"a cell has {len(cell):,} characters; at most {LONGEST_CELL:,}", line
                )
        if cells:
            yield line, cells


def named_rows(text: str) -> tuple[tuple[str, ...], Iterator[tuple[int, dict[str, str]]]]:
    """The columns of a table with a heading, and its rows by their names, with the number of the line.

    Cells that a row lacks are empty; those beyond the heading are passed over.

    Raises
    ------
    FileFormatError
        As ``table_rows``.
    """
    rows = table_rows(text.removeprefix("\ufeff"))
    _, names = next(rows, (1, []))

    def named() -> Iterator[tuple[int, dict[str, str]]]:
        for line, cells in rows:
            short = [""] * (len(names) - len(cells))
            yield line, dict(zip(names, [*cells, *short], strict=False))

    return tuple(names), named()


def number(text: str, line: int, field: str, low: float = -math.inf, high: float = math.inf) -> float:
    """A finite number within limits, else a message naming line and field."""
    try:
        value = float(text)
    except ValueError as error:
        raise FileFormatError(f"{text.strip()[:40]!r} is not a number", line, field) from error
    if not math.isfinite(value):
        raise FileFormatError(f"{text.strip()[:40]} is not a finite number", line, field)
    if not low <= value <= high:
        allowed = f"must be {low:g} to {high:g}" if math.isfinite(high) else f"must be at least {low:g}"
        raise FileFormatError(f"{value:g}; {allowed}", line, field)
    return value


def whole(text: str, line: int, field: str, low: int, high: int) -> int:
    """A whole number within limits."""
    value = number(text, line, field, low, high)
    if value != int(value):
        raise FileFormatError(f"{text.strip()[:40]} is not a whole number", line, field)
    return int(value)


def safe_cell(text: str) -> str:
    """Text that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(_FORMULA) else text
