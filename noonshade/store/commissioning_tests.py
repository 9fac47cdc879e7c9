"""Enclosures under test, and the sheets they were signed off with."""

from __future__ import annotations

import secrets
from dataclasses import dataclass, fields

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class CommissioningTestRecord:
    """A test of an enclosure; signed, it holds the sheet (JSON text) and the revision it was signed for."""

    id: str
    plan_id: str
    started_on: str
    days: int
    signed_at: str | None = None
    signed_by: str | None = None
    remarks: str = ""
    revision: int | None = None
    sheet: str | None = None


_COLUMNS = ", ".join(f.name for f in fields(CommissioningTestRecord))


class CommissioningTestStore:
    """Tests as rows of the data file; the newest of a plan is the one that counts."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def newest(
        self, plan_id: str, transaction: Transaction | None = None
    ) -> CommissioningTestRecord | None:
        """The newest test of a plan, None if there never was one."""
        with self.database.reading(transaction) as connection:
            row = connection.execute(
                f"SELECT {_COLUMNS} FROM commissioning_tests WHERE plan_id = ? "  # noqa: S608
                "ORDER BY created_at DESC, rowid DESC LIMIT 1",
                (plan_id,),
            ).fetchone()
        return None if row is None else CommissioningTestRecord(*row)

    def begin(
        self, transaction: Transaction, plan_id: str, started_on: str, days: int
    ) -> CommissioningTestRecord:
        """Begin a test; one that was not signed is changed instead, one that was stays as it is."""
        known = self.newest(plan_id, transaction)
        if known is not None and known.signed_at is None:
            transaction.execute(
                "UPDATE commissioning_tests SET started_on = ?, days = ? WHERE id = ?",
                (started_on, days, known.id),
            )
        else:
            transaction.execute(
                "INSERT INTO commissioning_tests (id, plan_id, started_on, days, created_at) "
                "VALUES (?, ?, ?, ?, ?)",
                (secrets.token_hex(6), plan_id, started_on, days, now()),
            )
        found = self.newest(plan_id, transaction)
        assert found is not None
        return found

    def sign(
        self, transaction: Transaction, plan_id: str, by: str, remarks: str, revision: int, sheet: str
    ) -> CommissioningTestRecord:
        """Sign the newest test off; NotFoundError if there is none that is open."""
        known = self._open(transaction, plan_id, signed=False)
        transaction.execute(
            "UPDATE commissioning_tests SET signed_at = ?, signed_by = ?, remarks = ?, revision = ?, "
            "sheet = ? "
            "WHERE id = ?",
            (now(), by, remarks, revision, sheet, known.id),
        )
        return self._open(transaction, plan_id, signed=True)

    def take_back(self, transaction: Transaction, plan_id: str) -> CommissioningTestRecord:
        """Take a signature back; NotFoundError if there is none."""
        known = self._open(transaction, plan_id, signed=True)
        transaction.execute(
            "UPDATE commissioning_tests SET signed_at = NULL, signed_by = NULL, remarks = '', "
            "revision = NULL, "
            "sheet = NULL WHERE id = ?",
            (known.id,),
        )
        return self._open(transaction, plan_id, signed=False)

    def _open(self, transaction: Transaction, plan_id: str, signed: bool) -> CommissioningTestRecord:
        known = self.newest(plan_id, transaction)
        if known is None or (known.signed_at is not None) != signed:
            raise NotFoundError(
                "move-in test",
                plan_id,
                f"plan {plan_id!r} has no test that is {'signed off' if signed else 'open'}",
            )
        return known
