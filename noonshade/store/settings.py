"""What is set once for the whole room."""

from __future__ import annotations

from noonshade.store.database import Database, Transaction, now


class SettingsStore:
    """Texts by name."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def get(self, name: str, transaction: Transaction | None = None) -> str | None:
        """The text of a name, None if it was never set."""
        with self.database.reading(transaction) as connection:
            row = connection.execute("SELECT document FROM settings WHERE name = ?", (name,)).fetchone()
        return None if row is None else str(row["document"])

    def put(self, transaction: Transaction, name: str, document: str) -> None:
        """Set the text of a name."""
        transaction.execute(
            "INSERT INTO settings (name, document, updated_at) VALUES (?, ?, ?) "
            "ON CONFLICT (name) DO UPDATE "
            "SET document = excluded.document, updated_at = excluded.updated_at",
            (name, document, now()),
        )
