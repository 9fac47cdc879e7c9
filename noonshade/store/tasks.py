"""Tasks and their marks as rows of the data file."""

from __future__ import annotations

import sqlite3
from dataclasses import astuple, dataclass, fields

from noonshade.store.database import Database, Transaction, now
from noonshade.store.errors import NotFoundError
from noonshade.store.rows import Rows


@dataclass(frozen=True, slots=True)
class TaskRecord:
    """A task; days are ISO 8601, ``after_done`` is 0 or 1."""

    id: str
    plan_id: str | None
    animal_id: str | None
    kind: str
    title: str
    note: str
    rule: str
    starts_on: str
    after_done: int
    ends_on: str | None = None
    origin: str = ""


@dataclass(frozen=True, slots=True)
class MarkRecord:
    """That a task was done or skipped."""

    task_id: str
    due_on: str
    kind: str
    done_on: str
    reason: str = ""


_MARK = ", ".join(f.name for f in fields(MarkRecord))


class TaskStore:
    """Tasks and marks."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.tasks = Rows(database, "tasks", TaskRecord, "task")

    def marks(self, since: str = "", transaction: Transaction | None = None) -> dict[str, list[MarkRecord]]:
        """Marks by task, earliest first; those of a day and later if one is given.

        With a day, the last mark before it is there for each task too: what a task waits for follows from
        it.
        """
        with self.database.reading(transaction) as connection:
            rows = connection.execute(
                f"SELECT {_MARK} FROM marks m WHERE done_on >= ? OR due_on = "  # noqa: S608
                "(SELECT max(due_on) FROM marks WHERE task_id = m.task_id) "
                "ORDER BY task_id, due_on",
                (since,),
            ).fetchall()
        found: dict[str, list[MarkRecord]] = {}
        for row in rows:
            found.setdefault(row["task_id"], []).append(MarkRecord(*row))
        return found

    def mark(self, transaction: Transaction, *records: MarkRecord) -> None:
        """Mark days of tasks; one that has a mark gets the new one. NotFoundError if there is no task."""
        for record in records:
            try:
                transaction.execute(
                    f"INSERT INTO marks ({_MARK}, stored_at) VALUES (?, ?, ?, ?, ?, ?) "  # noqa: S608
                    "ON CONFLICT (task_id, due_on) DO UPDATE SET kind = excluded.kind, "
                    "done_on = excluded.done_on, reason = excluded.reason, stored_at = "
                    "excluded.stored_at",
                    (*astuple(record), now()),
                )
            except sqlite3.IntegrityError as error:
                raise NotFoundError("task", record.task_id) from error

    def unmark(self, transaction: Transaction, task_id: str, due_on: str) -> None:
        """Take a mark back; NotFoundError if there is none."""
        done = transaction.execute("DELETE FROM marks WHERE task_id = ? AND due_on = ?", (task_id, due_on))
        if done.rowcount == 0:
            raise NotFoundError("mark", due_on, f"task {task_id!r} has no mark for {due_on}")
