"""What the model says of stored revisions, so that it need not be computed again."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Literal, get_args

from noonshade.store.database import Database, Transaction, now

ResultKind = Literal["checks", "forecast"]
RESULT_KINDS: tuple[ResultKind, ...] = get_args(ResultKind)


@dataclass(frozen=True, slots=True)
class StoredResult:
    """A result of a revision as JSON text.

    ``fingerprint`` is of everything it was computed from; ``uses`` names the own lamps and species that may
    be among it.
    """

    plan_id: str
    revision: int
    kind: ResultKind
    fingerprint: str
    uses: tuple[str, ...]
    document: str


class ResultStore:
    """Results of revisions as rows of the data file."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def newest(self, transaction: Transaction | None = None) -> list[StoredResult]:
        """Those of the newest revisions of all plans that were not removed."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                """
                SELECT r.plan_id, r.revision, r.kind, r.fingerprint, r.uses, r.document
                FROM results r JOIN plans p ON r.plan_id = p.id AND r.revision = p.head
                WHERE p.removed_at IS NULL
                """
            ).fetchall()
        return [
            StoredResult(
                row["plan_id"],
                row["revision"],
                row["kind"],
                row["fingerprint"],
                tuple(json.loads(row["uses"])),
                row["document"],
            )
            for row in rows
        ]

    def put(self, transaction: Transaction, result: StoredResult) -> None:
        """Store a result in the place of an older one; without its revision, as after restoring, not."""
        transaction.execute(
            "INSERT OR REPLACE INTO results "
            "(plan_id, revision, kind, fingerprint, uses, document, computed_at) "
            "SELECT plan_id, number, ?, ?, ?, ?, ? FROM revisions WHERE plan_id = ? AND number = ?",
            (
                result.kind,
                result.fingerprint,
                json.dumps(result.uses),
                result.document,
                now(),
                result.plan_id,
                result.revision,
            ),
        )
