"""The keeper's own lamps."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from noonshade.store.database import Database, now


class UnknownLampError(LookupError):
    """No lamp of the keeper's has this id."""


class LampTakenError(RuntimeError):
    """The id belongs to another lamp, perhaps a removed one."""


class StaleLampError(RuntimeError):
    """A change was based on an older state of the lamp; nothing was changed."""

    def __init__(self, base: int, head: int) -> None:
        super().__init__(f"based on revision {base}, but the newest is {head}")
        self.base, self.head = base, head


@dataclass(frozen=True, slots=True)
class LampRecord:
    """A lamp with its newest document as JSON text."""

    id: str
    label: str
    revision: int
    updated_at: str
    document: str


class LampStore:
    """Own lamps as rows of the data file."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def all(self) -> list[LampRecord]:
        """Lamps that were not removed, by label."""
        with self.database.reading() as connection:
            rows = connection.execute(
                """
                SELECT l.id, l.label, l.head, l.updated_at, r.document
                FROM lamps l JOIN lamp_revisions r ON r.lamp_id = l.id AND r.number = l.head
                WHERE l.removed_at IS NULL ORDER BY l.label COLLATE NOCASE, l.id
                """
            ).fetchall()
        return [_record(row) for row in rows]

    def get(self, lamp_id: str) -> LampRecord:
        """One lamp; UnknownLampError if there is none."""
        with self.database.reading() as connection:
            return _get(connection, lamp_id)

    def create(self, lamp_id: str, label: str, document: str) -> LampRecord:
        """Store a new lamp.

        Raises
        ------
        LampTakenError
            If the id is in use.
        """
        moment = now()
        with self.database.writing() as connection:
            if connection.execute("SELECT 1 FROM lamps WHERE id = ?", (lamp_id,)).fetchone():
                raise LampTakenError(f"the id {lamp_id!r} is in use")
            connection.execute(
                "INSERT INTO lamps (id, label, head, updated_at) VALUES (?, ?, 1, ?)",
                (lamp_id, label, moment),
            )
            _insert(connection, lamp_id, 1, document, moment)
            return _get(connection, lamp_id)

    def save(self, lamp_id: str, base: int, label: str, document: str) -> LampRecord:
        """Store a change based on the newest state.

        Raises
        ------
        UnknownLampError
        StaleLampError
            If ``base`` is not the newest revision.
        """
        with self.database.writing() as connection:
            current = _get(connection, lamp_id)
            if current.document == document:
                return current
            if base != current.revision:
                raise StaleLampError(base, current.revision)
            moment = now()
            _insert(connection, lamp_id, base + 1, document, moment)
            connection.execute(
                "UPDATE lamps SET head = ?, label = ?, updated_at = ? WHERE id = ?",
                (base + 1, label, moment, lamp_id),
            )
            return _get(connection, lamp_id)

    def remove(self, lamp_id: str) -> None:
        """Take a lamp off the shelf; it can be brought back."""
        with self.database.writing() as connection:
            _get(connection, lamp_id)
            connection.execute("UPDATE lamps SET removed_at = ? WHERE id = ?", (now(), lamp_id))

    def bring_back(self, lamp_id: str) -> LampRecord:
        """Put a removed lamp back."""
        with self.database.writing() as connection:
            connection.execute("UPDATE lamps SET removed_at = NULL WHERE id = ?", (lamp_id,))
            return _get(connection, lamp_id)


def _get(connection: sqlite3.Connection, lamp_id: str) -> LampRecord:
    row = connection.execute(
        """
        SELECT l.id, l.label, l.head, l.updated_at, r.document
        FROM lamps l JOIN lamp_revisions r ON r.lamp_id = l.id AND r.number = l.head
        WHERE l.id = ? AND l.removed_at IS NULL
        """,
        (lamp_id,),
    ).fetchone()
    if row is None:
        raise UnknownLampError(f"no lamp {lamp_id!r} of your own")
    return _record(row)


def _record(row: sqlite3.Row) -> LampRecord:
    return LampRecord(row["id"], row["label"], row["head"], row["updated_at"], row["document"])


def _insert(connection: sqlite3.Connection, lamp_id: str, number: int, document: str, moment: str) -> None:
    connection.execute(
        "INSERT INTO lamp_revisions (lamp_id, number, document, created_at) VALUES (?, ?, ?, ?)",
        (lamp_id, number, document, moment),
    )
