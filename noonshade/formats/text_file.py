"""Reading small text files of measurements with messages that name line and field."""

from __future__ import annotations

import math

LARGEST_BYTES = 900_000
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
