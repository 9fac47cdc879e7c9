"""Pictures of plans in 3D, for their reports."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class PictureRecord:
    """A picture as JPEG and the revision it shows."""

    plan_id: str
    revision: int
    jpeg: bytes


class PictureStore:
    """One picture of each plan, as rows of the data file."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def find(self, plan_id: str, transaction: Transaction | None = None) -> PictureRecord | None:
        """The picture of a plan; None if there is none."""
        with self.database.reading(transaction) as connection:
            row = connection.execute(
                "SELECT plan_id, revision, jpeg FROM pictures WHERE plan_id = ?", (plan_id,)
            ).fetchone()
        return None if row is None else PictureRecord(**dict(row))

    def get(self, plan_id: str) -> PictureRecord:
        """The picture of a plan; NotFoundError if there is none."""
        found = self.find(plan_id)
        if found is None:
            raise NotFoundError("picture", plan_id, f"plan {plan_id!r} has no picture in 3D")
        return found

    def put(self, transaction: Transaction, picture: PictureRecord) -> None:
        """Store a picture in the place of an older one."""
        transaction.execute(
            "INSERT OR REPLACE INTO pictures (plan_id, revision, jpeg, taken_at) VALUES (?, ?, ?, ?)",
            (picture.plan_id, picture.revision, picture.jpeg, now()),
        )

    def remove(self, transaction: Transaction, plan_id: str) -> None:
        """Remove the picture of a plan, if there is one."""
        transaction.execute("DELETE FROM pictures WHERE plan_id = ?", (plan_id,))
