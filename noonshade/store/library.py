"""The keeper's own lamps and species: whole documents, with every document they ever had."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from typing import Literal

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError

Kind = Literal["lamp", "species"]


class ItemTakenError(RuntimeError):
    """The id belongs to another one, perhaps a removed one."""


class StaleItemError(RuntimeError):
    """A change was based on an older state; nothing was changed."""

    def __init__(self, base: int, head: int) -> None:
        super().__init__(f"based on revision {base}, but the newest is {head}")
        self.base, self.head = base, head


@dataclass(frozen=True, slots=True)
class LibraryRecord:
    """A lamp or species with its newest document as JSON text."""

    id: str
    label: str
    revision: int
    updated_at: str
    document: str


@dataclass(frozen=True, slots=True)
class LibraryRevision:
    """One document of the past."""

    number: int
    created_at: str
    document: str


class LibraryStore:
    """Own things of one kind as rows of the data file."""

    def __init__(self, database: Database, kind: Kind) -> None:
        self.database = database
        self.kind: Kind = kind
        # Table names cannot be parameters; these come from the two kinds alone.
        self._table = {"lamp": "lamps", "species": "species"}[kind]
        self._revisions, self._key = f"{kind}_revisions", f"{kind}_id"
        self._select = f"""
            SELECT t.id, t.label, t.head, t.updated_at, r.document
            FROM {self._table} t JOIN {self._revisions} r ON r.{self._key} = t.id AND r.number = t.head
            WHERE t.removed_at IS NULL
        """  # noqa: S608

    def all(self, transaction: Transaction | None = None) -> list[LibraryRecord]:
        """Those that were not removed, by label."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(f"{self._select} ORDER BY t.label COLLATE NOCASE, t.id").fetchall()
        return [_record(row) for row in rows]

    def get(self, item_id: str, transaction: Transaction | None = None) -> LibraryRecord:
        """One of them; NotFoundError if there is none."""
        with self.database.reading(transaction) as connection:
            return self._get(connection, item_id)

    def revisions(self, item_id: str, transaction: Transaction | None = None) -> list[LibraryRevision]:
        """Every document one ever had, newest first; NotFoundError if there is none."""
        with self.database.reading(transaction) as connection:
            self._get(connection, item_id)
            rows = connection.execute(
                f"SELECT number, created_at, document FROM {self._revisions} "  # noqa: S608
                f"WHERE {self._key} = ? ORDER BY number DESC",
                (item_id,),
            ).fetchall()
        return [LibraryRevision(row["number"], row["created_at"], row["document"]) for row in rows]

    def create(self, transaction: Transaction, item_id: str, label: str, document: str) -> LibraryRecord:
        """Store a new one.

        Raises
        ------
        ItemTakenError
            If the id is in use.
        """
        moment = now()
        taken = f"SELECT 1 FROM {self._table} WHERE id = ?"  # noqa: S608
        if transaction.execute(taken, (item_id,)).fetchone():
            raise ItemTakenError(f"the id {item_id!r} is in use")
        transaction.execute(
            f"INSERT INTO {self._table} (id, label, head, updated_at) VALUES (?, ?, 1, ?)",  # noqa: S608
            (item_id, label, moment),
        )
        self._insert(transaction, item_id, 1, document, moment)
        return self._get(transaction, item_id)

    def save(
        self, transaction: Transaction, item_id: str, base: int, label: str, document: str
    ) -> LibraryRecord:
        """Store a change based on the newest state.

        Raises
        ------
        NotFoundError
        StaleItemError
            If ``base`` is not the newest revision.
        """
        current = self._get(transaction, item_id)
        if current.document == document:
            return current
        if base != current.revision:
            raise StaleItemError(base, current.revision)
        moment = now()
        self._insert(transaction, item_id, base + 1, document, moment)
        transaction.execute(
            f"UPDATE {self._table} SET head = ?, label = ?, updated_at = ? WHERE id = ?",  # noqa: S608
            (base + 1, label, moment, item_id),
        )
        return self._get(transaction, item_id)

    def remove(self, transaction: Transaction, item_id: str) -> None:
        """Take one out of the library; it can be brought back."""
        self._get(transaction, item_id)
        transaction.execute(
            f"UPDATE {self._table} SET removed_at = ? WHERE id = ?",  # noqa: S608
            (now(), item_id),
        )

    def bring_back(self, transaction: Transaction, item_id: str) -> LibraryRecord:
        """Put a removed one back."""
        transaction.execute(
            f"UPDATE {self._table} SET removed_at = NULL WHERE id = ?",  # noqa: S608
            (item_id,),
        )
        return self._get(transaction, item_id)

    def _get(self, connection: sqlite3.Connection, item_id: str) -> LibraryRecord:
        row = connection.execute(f"{self._select} AND t.id = ?", (item_id,)).fetchone()
        if row is None:
            raise NotFoundError(self.kind, item_id, f"no {self.kind} {item_id!r} of your own")
        return _record(row)

    def _insert(
        self, connection: sqlite3.Connection, item_id: str, number: int, document: str, moment: str
    ) -> None:
        connection.execute(
            f"INSERT INTO {self._revisions} ({self._key}, number, document, created_at) "  # noqa: S608
            "VALUES (?, ?, ?, ?)",
            (item_id, number, document, moment),
        )


def _record(row: sqlite3.Row) -> LibraryRecord:
    return LibraryRecord(row["id"], row["label"], row["head"], row["updated_at"], row["document"])
