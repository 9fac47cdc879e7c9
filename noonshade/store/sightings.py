"""What animals were seen to do, as rows of the data file."""

from __future__ import annotations

from dataclasses import astuple, dataclass, fields

from noonshade.core.readings.behaviour import SightingKind
from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class SightingRecord:
    """One sighting; ``at`` is ISO 8601 with its offset."""

    id: str
    plan_id: str
    kind: SightingKind
    at: str
    minutes: float | None
    x_m: float | None
    y_m: float | None
    z_m: float | None
    note: str = ""


_ROW = ", ".join(f.name for f in fields(SightingRecord))


class SightingStore:
    """Sightings of the animals of plans."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def of_plan(self, plan_id: str, transaction: Transaction | None = None) -> list[SightingRecord]:
        """Those of a plan that were not removed, earliest first."""
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {_ROW} FROM sightings WHERE plan_id = ? AND removed_at IS NULL ORDER BY at, id",  # noqa: S608
                (plan_id,),
            ).fetchall()
        return [SightingRecord(*row) for row in rows]

    def put(self, transaction: Transaction, record: SightingRecord) -> None:
        """Store one, new, changed or removed before; its id is made where it was seen."""
        transaction.execute(
            f"INSERT INTO sightings ({_ROW}, stored_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) "  # noqa: S608
            "ON CONFLICT (id) DO UPDATE SET kind = excluded.kind, at = excluded.at, "
            "minutes = excluded.minutes, x_m = excluded.x_m, y_m = excluded.y_m, z_m = excluded.z_m, "
            "note = excluded.note, removed_at = NULL WHERE sightings.plan_id = excluded.plan_id",
            (*astuple(record), now()),
        )

    def remove(self, transaction: Transaction, sighting_id: str) -> None:
        """Take one out; storing it again brings it back. NotFoundError if there is none."""
        done = transaction.execute(
            "UPDATE sightings SET removed_at = ? WHERE id = ? AND removed_at IS NULL",
            (now(), sighting_id),
        )
        if done.rowcount == 0:
            raise NotFoundError("sighting", sighting_id)
