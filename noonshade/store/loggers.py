"""Loggers, the files taken in from them, and what they recorded."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields
from datetime import UTC, datetime

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class LoggerRecord:
    """A logger in an enclosure; ``mapping`` is JSON text, None before its first file."""

    id: str
    plan_id: str
    label: str
    place: str
    x_m: float
    y_m: float
    z_m: float
    zone: str
    mapping: str | None = None


@dataclass(frozen=True, slots=True)
class ImportRecord:
    """An imported file: rows stored, rows stored before, rows that could not be read."""

    id: str
    logger_id: str
    name: str
    stored: int
    repeated: int
    refused: int
    taken_at: str


@dataclass(frozen=True, slots=True)
class LoggedRecord:
    """What a logger recorded at a time: °C, and humidity as a share."""

    at: datetime
    temperature_c: float | None
    relative_humidity: float | None


_LOGGER = ", ".join(f.name for f in fields(LoggerRecord))
_IMPORT = ", ".join(f.name for f in fields(ImportRecord))


class LoggerStore:
    """Loggers and what they recorded, as rows of the data file."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def of_plan(self, plan_id: str, transaction: Transaction | None = None) -> list[LoggerRecord]:
        """Loggers of a plan that were not removed, by label."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {_LOGGER} FROM loggers WHERE plan_id = ? AND removed_at IS NULL "  # noqa: S608
                "ORDER BY label COLLATE NOCASE, id",
                (plan_id,),
            ).fetchall()
        return [LoggerRecord(*row) for row in rows]

    def get(self, logger_id: str, transaction: Transaction | None = None) -> LoggerRecord:
        """One logger; NotFoundError if there is none."""
        return self._one("id = ?", logger_id, f"no logger {logger_id!r}", transaction)

    def by_key(self, key: str) -> LoggerRecord:
        """The logger a key belongs to; NotFoundError if it is none of ours."""
        return self._one("key_hash = ?", _hashed(key), "no logger has this key")

    def _one(
        self, condition: str, value: str, otherwise: str, transaction: Transaction | None = None
    ) -> LoggerRecord:
        with self.database.reading(transaction) as connection:
            row = connection.execute(
                f"SELECT {_LOGGER} FROM loggers WHERE {condition} AND removed_at IS NULL",  # noqa: S608
                (value,),
            ).fetchone()
        if row is None:
            raise NotFoundError("logger", value, otherwise)
        return LoggerRecord(*row)

    def put(self, transaction: Transaction, record: LoggerRecord) -> None:
        """Store a logger, new, changed or removed before; its mapping stays unless one is given."""
        transaction.execute(
            f"INSERT INTO loggers ({_LOGGER}, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) "  # noqa: S608
            "ON CONFLICT (id) DO UPDATE SET label = excluded.label, place = excluded.place, "
            "x_m = excluded.x_m, y_m = excluded.y_m, z_m = excluded.z_m, zone = excluded.zone, "
            "mapping = coalesce(excluded.mapping, loggers.mapping), removed_at = NULL",
            (*astuple(record), now()),
        )

    def remove(self, transaction: Transaction, logger_id: str) -> None:
        """Take a logger off the list; what it recorded stays. NotFoundError if there is none."""
        done = transaction.execute(
            "UPDATE loggers SET removed_at = ? WHERE id = ? AND removed_at IS NULL", (now(), logger_id)
        )
        if done.rowcount == 0:
            raise NotFoundError("logger", logger_id)

    def new_key(self, transaction: Transaction, logger_id: str) -> str:
        """Give a logger a key for its device; an older one is void. Only its hash is stored."""
        self.get(logger_id, transaction)
        key = secrets.token_urlsafe(24)
        transaction.execute("UPDATE loggers SET key_hash = ? WHERE id = ?", (_hashed(key), logger_id))
        return key

    def take_in(
        self,
        transaction: Transaction,
        logger_id: str,
        name: str,
        rows: Iterable[LoggedRecord],
        refused: int,
        mapping: str | None,
    ) -> ImportRecord:
        """Store rows of a file under its name, those that are there already left as they are."""
        identity, moment = secrets.token_hex(6), now()
        transaction.execute(
            f"INSERT INTO imports ({_IMPORT}) VALUES (?, ?, ?, 0, 0, ?, ?)",  # noqa: S608
            (identity, logger_id, name, refused, moment),
        )
        stored = given = 0
        for row in rows:
            given += 1
            stored += transaction.execute(
                "INSERT OR IGNORE INTO logged VALUES (?, ?, ?, ?, ?)",
                (logger_id, _stamp(row.at), row.temperature_c, row.relative_humidity, identity),
            ).rowcount
        transaction.execute(
            "UPDATE imports SET stored = ?, repeated = ? WHERE id = ?",
            (stored, given - stored, identity),
        )
        if mapping is not None:
            transaction.execute("UPDATE loggers SET mapping = ? WHERE id = ?", (mapping, logger_id))
        return ImportRecord(identity, logger_id, name, stored, given - stored, refused, moment)

    def post(
        self, transaction: Transaction, logger_id: str, rows: Iterable[LoggedRecord]
    ) -> tuple[int, int]:
        """Store rows a device sent; returns how many are new, and how many were there already."""
        stored = given = 0
        for row in rows:
            given += 1
            stored += transaction.execute(
                "INSERT OR IGNORE INTO logged VALUES (?, ?, ?, ?, NULL)",
                (logger_id, _stamp(row.at), row.temperature_c, row.relative_humidity),
            ).rowcount
        return stored, given - stored

    def known(
        self, logger_id: str, moments: Iterable[datetime], transaction: Transaction | None = None
    ) -> int:
        """How many of some times are stored already."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute("SELECT at FROM logged WHERE logger_id = ?", (logger_id,))
            there = {row["at"] for row in rows}
        return sum(_stamp(m) in there for m in moments)

    def imports(self, logger_id: str, transaction: Transaction | None = None) -> list[ImportRecord]:
        """Files taken in from a logger, the newest first."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {_IMPORT} FROM imports WHERE logger_id = ? ORDER BY taken_at DESC, id",  # noqa: S608
                (logger_id,),
            ).fetchall()
        return [ImportRecord(*row) for row in rows]

    def take_out(self, transaction: Transaction, import_id: str) -> None:
        """Take a file out again with the rows it brought; NotFoundError if there is none."""
        if transaction.execute("DELETE FROM imports WHERE id = ?", (import_id,)).rowcount == 0:
            raise NotFoundError("file", import_id)

    def logged(
        self, logger_id: str, since: datetime | None = None, transaction: Transaction | None = None
    ) -> list[LoggedRecord]:
        """What a logger recorded, from a time on, in order."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                "SELECT at, temperature_c, relative_humidity FROM logged "
                "WHERE logger_id = ? AND at >= ? ORDER BY at",
                (logger_id, "" if since is None else _stamp(since)),
            ).fetchall()
        return [LoggedRecord(datetime.fromisoformat(r["at"]), r[1], r[2]) for r in rows]

    def newest(self, logger_id: str, transaction: Transaction | None = None) -> datetime | None:
        """When a logger last recorded something that is stored."""
        with self.database.reading(transaction) as connection:
            row = connection.execute(
                "SELECT max(at) FROM logged WHERE logger_id = ?", (logger_id,)
            ).fetchone()
        return None if row[0] is None else datetime.fromisoformat(row[0])

    def latest(
        self, since: datetime, until: datetime, transaction: Transaction | None = None
    ) -> list[tuple[LoggerRecord, LoggedRecord]]:
        """The newest record of each logger between two times; by plan and label."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {_LOGGER}, at, temperature_c, relative_humidity FROM loggers "  # noqa: S608
                "JOIN logged ON logged.logger_id = loggers.id AND logged.at = "
                # By the key, logger by logger: all that is stored would be read otherwise.
                "(SELECT max(at) FROM logged AS theirs "
                "WHERE theirs.logger_id = loggers.id AND theirs.at BETWEEN ? AND ?) "
                "WHERE removed_at IS NULL ORDER BY plan_id, label COLLATE NOCASE, loggers.id",
                (_stamp(since), _stamp(until)),
            ).fetchall()
        width = len(fields(LoggerRecord))
        return [
            (
                LoggerRecord(*row[:width]),
                LoggedRecord(datetime.fromisoformat(row[width]), row[width + 1], row[width + 2]),
            )
            for row in rows
        ]


def _hashed(key: str) -> str:
    # Keys are long and random: a plain hash suffices.
    return hashlib.sha256(key.encode()).hexdigest()


def _stamp(moment: datetime) -> str:
    return moment.astimezone(UTC).isoformat(timespec="seconds")
