"""Records stored as one row each: storing again changes one, removing keeps it to be brought back."""

from __future__ import annotations

import sqlite3
from dataclasses import astuple, fields
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError

if TYPE_CHECKING:
    from _typeshed import DataclassInstance

R = TypeVar("R", bound="DataclassInstance")


class Rows(Generic[R]):
    """Rows of one table whose columns are the fields of ``kind``, with ``stored_at`` and ``removed_at``.

    The first field is the id. It is made where the thing was first written down, so that sending it twice
    stores it once. ``what`` names one of them in messages.
    """

    def __init__(self, database: Database, table: str, kind: type[R], what: str) -> None:
        self.database = database
        self._table, self._kind, self._what = table, kind, what
        self.columns = tuple(f.name for f in fields(kind))

    def all(
        self,
        where: str = "1",
        values: tuple[Any, ...] = (),
        order: str = "id",
        removed: bool = False,
        transaction: Transaction | None = None,
    ) -> list[R]:
        """Those that fit a condition in SQL, which must be the program's own; or ``removed`` ones too."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {', '.join(self.columns)} FROM {self._table} "  # noqa: S608
                f"WHERE (removed_at IS NULL OR ?) AND ({where}) ORDER BY {order}",
                (removed, *values),
            ).fetchall()
        return [self._kind(*row) for row in rows]

    def get(self, key: str, removed: bool = False, transaction: Transaction | None = None) -> R:
        """One of them; NotFoundError if there is none."""
        with self.database.reading(transaction) as connection:
            row = connection.execute(
                f"SELECT {', '.join(self.columns)} FROM {self._table} "  # noqa: S608
                "WHERE id = ? AND (removed_at IS NULL OR ?)",
                (key, removed),
            ).fetchone()
        if row is None:
            raise NotFoundError(self._what, key)
        return self._kind(*row)

    def put(self, transaction: Transaction, *records: R) -> None:
        """Store records, new, changed or removed before; all of them or none.

        Raises
        ------
        NotFoundError
            If one names something that is not there.
        """
        moment = now()
        marks = ", ".join("?" for _ in self.columns)
        changed = ", ".join(f"{name} = excluded.{name}" for name in self.columns[1:])
        for record in records:
            try:
                transaction.execute(
                    f"INSERT INTO {self._table} ({', '.join(self.columns)}, stored_at) "  # noqa: S608
                    f"VALUES ({marks}, ?) ON CONFLICT (id) DO UPDATE SET {changed}, "
                    "stored_at = excluded.stored_at, removed_at = NULL",
                    (*astuple(record), moment),
                )
            except sqlite3.IntegrityError as error:
                key = getattr(record, self.columns[0])
                raise NotFoundError(
                    self._what, key, f"{self._what} {key!r} refers to a record that does not exist: {error}"
                ) from error

    def remove(self, transaction: Transaction, key: str) -> None:
        """Take one out; storing it again brings it back. NotFoundError if there is none."""
        done = transaction.execute(
            f"UPDATE {self._table} SET removed_at = ? WHERE id = ? AND removed_at IS NULL",  # noqa: S608
            (now(), key),
        )
        if done.rowcount == 0:
            raise NotFoundError(self._what, key)
