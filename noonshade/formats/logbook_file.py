"""The logbook as CSV and JSON, one row or object an entry."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable
from dataclasses import asdict, dataclass, fields

from noonshade.formats.text_file import safe_cell

FORMAT, VERSION = "noonshade-logbook", 1


@dataclass(frozen=True, slots=True)
class LogRow:
    """An entry with names in place of ids: a weight in g, a length in cm."""

    at: str
    enclosure: str
    animal: str
    kind: str
    weight_g: float | None
    length_cm: float | None
    food: str
    outcome: str
    text: str
    photographs: int
    id: str


_COLUMNS = [f.name for f in fields(LogRow)]


def logbook_csv(rows: Iterable[LogRow]) -> str:
    """Entries with a heading, as spreadsheets read them."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(_COLUMNS)
    for row in rows:
        cells = (getattr(row, name) for name in _COLUMNS)
        writer.writerow(
            ["" if c is None else f"{c:g}" if isinstance(c, float) else safe_cell(str(c)) for c in cells]
        )
    return text.getvalue()


def logbook_json(rows: Iterable[LogRow]) -> str:
    """Entries as one JSON document."""
    whole = {"format": FORMAT, "version": VERSION, "entries": [asdict(row) for row in rows]}
    return json.dumps(whole, indent=2, ensure_ascii=False) + "\n"
