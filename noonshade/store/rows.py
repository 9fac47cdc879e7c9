"""Records stored as one row each: storing again changes one, removing keeps it to be brought back."""

from __future__ import annotations

import sqlite3
from dataclasses import astuple, fields
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from noonshade.store.database import Database, now

if TYPE_CHECKING:
    from _typeshed import DataclassInstance

R = TypeVar("R", bound="DataclassInstance")


class UnknownRowError(LookupError):
    """There is no such thing, or it names something that is not there; the message says which."""


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
        self, where: str = "1", values: tuple[Any, ...] = (), order: str = "id", removed: bool = False
    ) -> list[R]:
        """Those that fit a condition in SQL, which must be the program's own; or ``removed`` ones too."""
        with self.database.reading() as connection:
            rows = connection.execute(
                f"SELECT {', '.join(self.columns)} FROM {self._table} "  # noqa: S608
                f"WHERE (removed_at IS NULL OR ?) AND ({where}) ORDER BY {order}",
                (removed, *values),
            ).fetchall()
        return [self._kind(*row) for row in rows]

    def get(self, key: str, removed: bool = False) -> R:
        """One of them; UnknownRowError if there is none."""
        with self.database.reading() as connection:
            row = connection.execute(
                f"SELECT {', '.join(self.columns)} FROM {self._table} "  # noqa: S608
                "WHERE id = ? AND (removed_at IS NULL OR ?)",
                (key, removed),
            ).fetchone()
        if row is None:
            raise UnknownRowError(f"no {self._what} {key!r}")
        return self._kind(*row)

    def put(self, *records: R) -> None:
        """Store records, new, changed or removed before; all of them or none.

        Raises
        ------
        UnknownRowError
            If one names something that is not there.
        """
        moment = now()
        marks = ", ".join("?" for _ in self.columns)
        changed = ", ".join(f"{name} = excluded.{name}" for name in self.columns[1:])
        with self.database.writing() as connection:
            for record in records:
                try:
                    connection.execute(
                        f"INSERT INTO {self._table} ({', '.join(self.columns)}, stored_at) "  # noqa: S608
                        f"VALUES ({marks}, ?) ON CONFLICT (id) DO UPDATE SET {changed}, "
                        "stored_at = excluded.stored_at, removed_at = NULL",
                        (*astuple(record), moment),
                    )
                except sqlite3.IntegrityError as error:
                    key = getattr(record, self.columns[0])
                    raise UnknownRowError(
                        f"{self._what} {key!r} names something that is not there: {error}"
                    ) from error

    def remove(self, key: str) -> None:
        """Take one out; storing it again brings it back. UnknownRowError if there is none."""
        with self.database.writing() as connection:
            done = connection.execute(
                f"UPDATE {self._table} SET removed_at = ? WHERE id = ? AND removed_at IS NULL",  # noqa: S608
                (now(), key),
            )
            if done.rowcount == 0:
                raise UnknownRowError(f"no {self._what} {key!r}")
