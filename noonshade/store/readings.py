"""Instruments, rounds and readings as rows of the data file."""

from __future__ import annotations

import sqlite3
from dataclasses import astuple, dataclass, fields

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class InstrumentRecord:
    """An instrument of the keeper's; ``accuracy`` is ± in the unit of its readings, None if not stated."""

    id: str
    label: str
    kind: str
    accuracy: float | None
    calibrated: str | None


@dataclass(frozen=True, slots=True)
class RoundRecord:
    """A proposed round; ``tasks`` is JSON text."""

    id: str
    plan_id: str
    revision: int
    tasks: str
    started_at: str
    closed_at: str | None


@dataclass(frozen=True, slots=True)
class ReadingRecord:
    """One reading: °C, UV index or a share of 1; no position for what is of the room or of no one place."""

    id: str
    plan_id: str
    round_id: str | None
    task: str | None
    revision: int
    kind: str
    value: float
    x_m: float | None
    y_m: float | None
    z_m: float | None
    place: str
    taken_at: str
    instrument_id: str | None
    source: str
    note: str
    excluded: bool


_READING = [f.name for f in fields(ReadingRecord)]
_ROUND = ", ".join(f.name for f in fields(RoundRecord))
_INSTRUMENT = ", ".join(f.name for f in fields(InstrumentRecord))


class ReadingStore:
    """Instruments, rounds and readings."""

    def __init__(self, database: Database) -> None:
        self.database = database

    # -- instruments ---------------------------------------------------------

    def instruments(
        self, removed: bool = False, transaction: Transaction | None = None
    ) -> list[InstrumentRecord]:
        """Those that were not removed, by label; or those too, for readings that were taken with them."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {_INSTRUMENT} FROM instruments WHERE removed_at IS NULL OR ? "  # noqa: S608
                "ORDER BY label COLLATE NOCASE, id",
                (removed,),
            ).fetchall()
        return [InstrumentRecord(*row) for row in rows]

    def put_instrument(self, transaction: Transaction, record: InstrumentRecord) -> None:
        """Store an instrument, new, changed or removed before."""
        transaction.execute(
            f"INSERT INTO instruments ({_INSTRUMENT}, updated_at) VALUES (?, ?, ?, ?, ?, ?) "  # noqa: S608
            "ON CONFLICT (id) DO UPDATE SET label = excluded.label, kind = excluded.kind, "
            "accuracy = excluded.accuracy, calibrated = excluded.calibrated, "
            "updated_at = excluded.updated_at, removed_at = NULL",
            (*astuple(record), now()),
        )

    def remove_instrument(self, transaction: Transaction, instrument_id: str) -> None:
        """Take one off the list; its readings stay. NotFoundError if there is none."""
        self._remove(transaction, "instruments", instrument_id, "instrument")

    # -- rounds --------------------------------------------------------------

    def rounds(self, plan_id: str, transaction: Transaction | None = None) -> list[RoundRecord]:
        """Rounds of a plan, the newest first."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {_ROUND} FROM rounds WHERE plan_id = ? ORDER BY started_at DESC, id",  # noqa: S608
                (plan_id,),
            ).fetchall()
        return [RoundRecord(*row) for row in rows]

    def round(self, round_id: str, transaction: Transaction | None = None) -> RoundRecord:
        """One round; NotFoundError if there is none."""
        with self.database.reading(transaction) as connection:
            row = connection.execute(
                f"SELECT {_ROUND} FROM rounds WHERE id = ?",  # noqa: S608
                (round_id,),
            ).fetchone()
        if row is None:
            raise NotFoundError("round", round_id)
        return RoundRecord(*row)

    def start_round(self, transaction: Transaction, record: RoundRecord) -> None:
        """Store a round; a round of the same plan that is still open and empty is dropped for it."""
        transaction.execute(
            "DELETE FROM rounds WHERE plan_id = ? AND closed_at IS NULL AND NOT EXISTS "
            "(SELECT 1 FROM readings WHERE round_id = rounds.id)",
            (record.plan_id,),
        )
        transaction.execute(
            f"INSERT INTO rounds ({_ROUND}) VALUES (?, ?, ?, ?, ?, ?)",  # noqa: S608
            astuple(record),
        )

    def close_round(self, transaction: Transaction, round_id: str, closed_at: str | None) -> RoundRecord:
        """Close a round, or with None open it again; NotFoundError if there is none."""
        transaction.execute("UPDATE rounds SET closed_at = ? WHERE id = ?", (closed_at, round_id))
        return self.round(round_id, transaction)

    # -- readings ------------------------------------------------------------

    def readings(self, plan_id: str, transaction: Transaction | None = None) -> list[ReadingRecord]:
        """Readings of a plan that were not removed, in the order they were taken."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {', '.join(_READING)} FROM readings "  # noqa: S608
                "WHERE plan_id = ? AND removed_at IS NULL ORDER BY taken_at, id",
                (plan_id,),
            ).fetchall()
        return [_reading(row) for row in rows]

    def put(self, transaction: Transaction, records: list[ReadingRecord]) -> None:
        """Store readings, all or none; one of the same id is replaced, and brought back if it was removed.

        Raises
        ------
        NotFoundError
            If one names a plan, round or instrument that is not there, or is of another plan already.
        """
        moment = now()
        fixed = ("id", "plan_id")
        changed = ", ".join(f"{name} = excluded.{name}" for name in _READING if name not in fixed)
        marks = ", ".join("?" for _ in _READING)
        for record in records:
            try:
                done = transaction.execute(
                    f"INSERT INTO readings ({', '.join(_READING)}, stored_at) VALUES ({marks}, ?) "  # noqa: S608
                    f"ON CONFLICT (id) DO UPDATE SET {changed}, stored_at = excluded.stored_at, "
                    "removed_at = NULL WHERE readings.plan_id = excluded.plan_id",
                    (*astuple(record), moment),
                )
            except sqlite3.IntegrityError as error:
                message = f"reading {record.id!r} names a plan, round or instrument that is not there"
                raise NotFoundError("reading", record.id, message) from error
            if done.rowcount == 0:
                raise NotFoundError("reading", record.id, f"reading {record.id!r} belongs to another plan")

    def remove(self, transaction: Transaction, reading_id: str) -> None:
        """Take a reading out; storing it again brings it back. NotFoundError if there is none."""
        self._remove(transaction, "readings", reading_id, "reading")

    def _remove(self, transaction: Transaction, table: str, key: str, what: str) -> None:
        done = transaction.execute(
            f"UPDATE {table} SET removed_at = ? WHERE id = ? AND removed_at IS NULL",  # noqa: S608
            (now(), key),
        )
        if done.rowcount == 0:
            raise NotFoundError(what, key)


def _reading(row: sqlite3.Row) -> ReadingRecord:
    values = dict(row)
    return ReadingRecord(**{**values, "excluded": bool(values["excluded"])})
