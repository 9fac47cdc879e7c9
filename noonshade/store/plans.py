"""Plans and their revisions."""

from __future__ import annotations

import secrets
import sqlite3
from dataclasses import dataclass

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError

# The sample enclosure is opened by its id only: it is none of the keeper's, so no list has it.
SAMPLE_ID = "sample"


class StaleRevisionError(RuntimeError):
    """A save was based on a revision that is no longer the newest.

    ``refused_as`` is the revision the refused document was stored as, None where it was not.
    """

    def __init__(self, base: int, head: int, refused_as: int | None = None) -> None:
        super().__init__(f"based on revision {base}, but the newest is {head}")
        self.base, self.head, self.refused_as = base, head, refused_as


@dataclass(frozen=True, slots=True)
class PlanRecord:
    """A plan with its newest document as JSON text."""

    id: str
    name: str
    revision: int
    created_at: str
    updated_at: str
    document: str


@dataclass(frozen=True, slots=True)
class RevisionRecord:
    """A revision; ``document`` is empty in listings."""

    number: int
    base: int | None
    kind: str
    summary: str
    created_at: str
    document: str = ""
    name: str = ""


class PlanStore:
    """Plans as rows of the data file."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def all(self, transaction: Transaction | None = None) -> list[PlanRecord]:
        """Plans that were not removed, by name; the sample is not among them."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                """
                SELECT p.id, p.name, p.head, p.created_at, p.updated_at, r.document
                FROM plans p JOIN revisions r ON r.plan_id = p.id AND r.number = p.head
                WHERE p.removed_at IS NULL AND p.id <> ? ORDER BY p.name COLLATE NOCASE, p.id
                """,
                (SAMPLE_ID,),
            ).fetchall()
        return [_plan(row) for row in rows]

    def archived(self, transaction: Transaction | None = None) -> list[PlanRecord]:
        """Plans that were taken off the list, the last first."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                """
                SELECT p.id, p.name, p.head, p.created_at, p.updated_at, r.document
                FROM plans p JOIN revisions r ON r.plan_id = p.id AND r.number = p.head
                WHERE p.removed_at IS NOT NULL AND p.id <> ? ORDER BY p.removed_at DESC, p.id
                """,
                (SAMPLE_ID,),
            ).fetchall()
        return [_plan(row) for row in rows]

    def get(self, plan_id: str, transaction: Transaction | None = None) -> PlanRecord:
        """One plan; NotFoundError if there is none."""
        with self.database.reading(transaction) as connection:
            return _get(connection, plan_id)

    def create(
        self,
        transaction: Transaction,
        name: str,
        document: str,
        summary: str = "Created",
        plan_id: str | None = None,
        at: str | None = None,
    ) -> PlanRecord:
        """Store a new plan with its first revision, of now or of a moment that is given."""
        identity = plan_id or secrets.token_hex(6)
        moment = at or now()
        transaction.execute(
            "INSERT INTO plans (id, name, head, created_at, updated_at) VALUES (?, ?, 1, ?, ?)",
            (identity, name, moment, moment),
        )
        _insert_revision(transaction, identity, 1, None, "saved", summary, document, moment)
        return _get(transaction, identity)

    def save(
        self,
        transaction: Transaction,
        plan_id: str,
        base: int,
        name: str,
        document: str,
        summary: str,
        at: str | None = None,
    ) -> PlanRecord:
        """Store a new revision based on the newest one, of now or of a moment that is given.

        A document equal to the newest is not stored again.

        Raises
        ------
        NotFoundError
        StaleRevisionError
            If ``base`` is not the newest revision; nothing is stored. See ``store_refused``.
        """
        current = _get(transaction, plan_id)
        if current.document == document:
            return current
        moment = at or now()
        if base != current.revision:
            raise StaleRevisionError(base, current.revision)
        number = _next_number(transaction, plan_id)
        _insert_revision(transaction, plan_id, number, base, "saved", summary, document, moment)
        transaction.execute(
            "UPDATE plans SET head = ?, name = ?, updated_at = ? WHERE id = ?",
            (number, name, moment, plan_id),
        )
        return _get(transaction, plan_id)

    def store_refused(
        self, transaction: Transaction, plan_id: str, base: int, document: str, summary: str
    ) -> int:
        """Store a document that was refused as stale beside the newest; returns the number it has."""
        known = _same_refused(transaction, plan_id, document)
        if known is not None:
            return known
        number = _next_number(transaction, plan_id)
        _insert_revision(transaction, plan_id, number, base, "refused", summary, document, now())
        return number

    def remove(self, transaction: Transaction, plan_id: str) -> None:
        """Take a plan off the list; it stays in the file and can be brought back."""
        self._set_removed(transaction, plan_id, now())

    def bring_back(self, transaction: Transaction, plan_id: str) -> PlanRecord:
        """Put a removed plan back on the list."""
        self._set_removed(transaction, plan_id, None)
        return _get(transaction, plan_id)

    def _set_removed(self, transaction: Transaction, plan_id: str, moment: str | None) -> None:
        changed = transaction.execute("UPDATE plans SET removed_at = ? WHERE id = ?", (moment, plan_id))
        if changed.rowcount == 0:
            raise NotFoundError("plan", plan_id)

    def revisions(self, plan_id: str, transaction: Transaction | None = None) -> list[RevisionRecord]:
        """All revisions, newest first, without their documents."""
        with self.database.reading(transaction) as connection:
            _get(connection, plan_id)
            rows = connection.execute(
                "SELECT number, base, kind, summary, created_at, '' AS document, name FROM revisions "
                "WHERE plan_id = ? ORDER BY number DESC",
                (plan_id,),
            ).fetchall()
        return [RevisionRecord(**dict(row)) for row in rows]

    def revision(self, plan_id: str, number: int, transaction: Transaction | None = None) -> RevisionRecord:
        """One revision with its document; NotFoundError if there is none."""
        with self.database.reading(transaction) as connection:
            _get(connection, plan_id)
            row = connection.execute(
                "SELECT number, base, kind, summary, created_at, document, name FROM revisions "
                "WHERE plan_id = ? AND number = ?",
                (plan_id, number),
            ).fetchone()
        if row is None:
            raise NotFoundError("revision", str(number), f"plan {plan_id!r} has no revision {number}")
        return RevisionRecord(**dict(row))

    def name_revision(self, transaction: Transaction, plan_id: str, number: int, name: str) -> None:
        """Give a revision a name; an empty one takes it off. NotFoundError if there is none."""
        _get(transaction, plan_id)
        changed = transaction.execute(
            "UPDATE revisions SET name = ? WHERE plan_id = ? AND number = ?", (name, plan_id, number)
        )
        if changed.rowcount == 0:
            raise NotFoundError("revision", str(number), f"plan {plan_id!r} has no revision {number}")


def _get(connection: sqlite3.Connection, plan_id: str) -> PlanRecord:
    row = connection.execute(
        """
        SELECT p.id, p.name, p.head, p.created_at, p.updated_at, r.document
        FROM plans p JOIN revisions r ON r.plan_id = p.id AND r.number = p.head
        WHERE p.id = ? AND p.removed_at IS NULL
        """,
        (plan_id,),
    ).fetchone()
    if row is None:
        raise NotFoundError("plan", plan_id)
    return _plan(row)


def _plan(row: sqlite3.Row) -> PlanRecord:
    return PlanRecord(
        row["id"], row["name"], row["head"], row["created_at"], row["updated_at"], row["document"]
    )


def _next_number(connection: sqlite3.Connection, plan_id: str) -> int:
    row = connection.execute("SELECT max(number) FROM revisions WHERE plan_id = ?", (plan_id,)).fetchone()
    return int(row[0]) + 1


def _same_refused(connection: sqlite3.Connection, plan_id: str, document: str) -> int | None:
    row = connection.execute(
        "SELECT number FROM revisions WHERE plan_id = ? AND kind = 'refused' AND document = ?",
        (plan_id, document),
    ).fetchone()
    return None if row is None else int(row[0])


def _insert_revision(
    connection: sqlite3.Connection,
    plan_id: str,
    number: int,
    base: int | None,
    kind: str,
    summary: str,
    document: str,
    moment: str,
) -> None:
    connection.execute(
        "INSERT INTO revisions (plan_id, number, base, kind, summary, document, created_at) "
        "VALUES (?, ?, ?, ?, ?, ?, ?)",
        (plan_id, number, base, kind, summary, document, moment),
    )
