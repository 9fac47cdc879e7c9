"""Loggers: looking at their files, importing them, and the days they recorded."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from noonshade.core.readings.logger_days import LoggedDay, days_of
from noonshade.formats.logger_csv import (
    LoggerFile,
    LoggerMapping,
    RefusedRow,
    guess_mapping,
    read_logger,
)
from noonshade.formats.text_file import FileFormatError
from noonshade.services.application import Services
from noonshade.store.loggers import ImportRecord, LoggedRecord, LoggerRecord

DAYS_SHOWN = 60
# A remembered mapping fits a new file if it reads this share of its rows. Estimate.
FITTING_SHARE = 0.9


class UnreadableRowsError(ValueError):
    """Some rows of a file that was to be imported completely or not at all cannot be read."""

    def __init__(self, file: LoggerFile) -> None:
        self.refused: tuple[RefusedRow, ...] = file.refused
        self.row_count = len(file.refused) + len(file.rows)
        super().__init__(
            f"{len(file.refused)} of {self.row_count} rows cannot be read, so none was imported."
        )


@dataclass(frozen=True, slots=True)
class FilePreview:
    """What importing a file would store.

    ``mapping`` is the one asked for, remembered from the logger's last file, or guessed, with ``doubts``
    about the guess; ``titles`` are the columns' titles; ``known`` rows are stored already.
    """

    mapping: LoggerMapping
    is_remembered: bool
    titles: tuple[str, ...]
    doubts: tuple[str, ...]
    file: LoggerFile
    known: int


def preview_file(
    services: Services, logger_id: str, text: str, zone: str, mapping: LoggerMapping | None
) -> FilePreview:
    """Read a file without storing it; NotFoundError if there is no such logger."""
    record = services.loggers.get(logger_id)
    guess = guess_mapping(text, zone)
    used, doubts, is_remembered = guess.mapping, guess.doubts, False
    if mapping is not None:
        used, doubts = mapping, ()
    elif record.mapping is not None:
        last = LoggerMapping(**json.loads(record.mapping))
        # The mapping of the last file, unless this one has another shape.
        before = read_logger(text, last)
        if len(before.rows) > FITTING_SHARE * (len(before.rows) + len(before.refused)) > 0:
            used, doubts, is_remembered = last, (), True
    file = read_logger(text, used)
    known = services.loggers.known(logger_id, (r.at for r in file.rows))
    return FilePreview(used, is_remembered, tuple(guess.titles), tuple(doubts), file, known)


def import_file(
    services: Services, logger_id: str, name: str, text: str, mapping: LoggerMapping, complete: bool
) -> tuple[ImportRecord, LoggerFile]:
    """Store the rows of a file that are not stored yet, and remember the mapping.

    UnreadableRowsError if ``complete`` and a row cannot be read, FileFormatError if none can,
    NotFoundError if there is no such logger.
    """
    services.loggers.get(logger_id)
    file = read_logger(text, mapping)
    if complete and file.refused:
        raise UnreadableRowsError(file)
    if not file.rows:
        raise FileFormatError("No row can be read.")
    rows = [LoggedRecord(r.at, r.temperature_c, r.relative_humidity) for r in file.rows]
    record = services.write(
        services.loggers.take_in, logger_id, name, rows, len(file.refused), json.dumps(asdict(mapping))
    )
    return record, file


def recent_days(
    services: Services, record: LoggerRecord, zone: ZoneInfo
) -> tuple[datetime | None, list[LoggedDay]]:
    """When a logger last recorded, and its days up to then, newest first."""
    newest = services.loggers.newest(record.id)
    since = None if newest is None else newest - timedelta(days=DAYS_SHOWN)
    return newest, list(reversed(days_of(services.loggers.logged(record.id, since), zone)))
