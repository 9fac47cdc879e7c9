"""Lamps as things, and where each hung, as rows of the data file."""

from __future__ import annotations

import secrets
from dataclasses import astuple, dataclass, fields, replace

from noonshade.store.database import Database, Transaction, now
from noonshade.store.rows import Rows


@dataclass(frozen=True, slots=True)
class InstalledLampRecord:
    """A lamp as a thing; days are ISO 8601."""

    id: str
    label: str
    lamp_id: str
    power_w: float
    installed_on: str | None
    hours_before: float
    retired_on: str | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class InstallationRecord:
    """Where a lamp hung from a day to a day; ``ended_on`` None while it hangs there."""

    id: str
    installed_lamp_id: str
    plan_id: str
    fixture_id: str
    began_on: str
    ended_on: str | None = None


_INSTALLATION = ", ".join(f.name for f in fields(InstallationRecord))


class InstallationStore:
    """Lamps in use and spares."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.installed_lamps = Rows(database, "installed_lamps", InstalledLampRecord, "lamp")
        self.installations = Rows(database, "installations", InstallationRecord, "installation")

    def install(
        self,
        transaction: Transaction,
        installed_lamp_id: str,
        plan_id: str,
        fixture_id: str,
        on: str,
        retire: bool,
    ) -> InstallationRecord:
        """Hang a lamp into a fixture from a day on, all in one step.

        It comes off where it hung before; what hung in the fixture comes off and is retired, or stays as a
        spare. NotFoundError if there is no such lamp.
        """
        lamp = self.installed_lamps.get(installed_lamp_id, transaction=transaction)
        made = InstallationRecord(secrets.token_hex(6), installed_lamp_id, plan_id, fixture_id, on)
        replaced = transaction.execute(
            "SELECT installed_lamp_id FROM installations WHERE plan_id = ? AND fixture_id = ? "
            "AND ended_on IS NULL "
            "AND removed_at IS NULL AND installed_lamp_id != ?",
            (plan_id, fixture_id, installed_lamp_id),
        ).fetchone()
        transaction.execute(
            "UPDATE installations SET ended_on = max(began_on, ?) WHERE ended_on IS NULL "
            "AND removed_at IS NULL AND (installed_lamp_id = ? OR (plan_id = ? AND fixture_id = ?))",
            (on, installed_lamp_id, plan_id, fixture_id),
        )
        if replaced is not None and retire:
            transaction.execute("UPDATE installed_lamps SET retired_on = ? WHERE id = ?", (on, replaced[0]))
        transaction.execute(
            f"INSERT INTO installations ({_INSTALLATION}, stored_at) VALUES (?, ?, ?, ?, ?, ?, ?)",  # noqa: S608
            (*astuple(made), now()),
        )
        transaction.execute(
            "UPDATE installed_lamps SET retired_on = NULL, installed_on = ? WHERE id = ?",
            (lamp.installed_on or on, installed_lamp_id),
        )
        return made

    def take_down(self, transaction: Transaction, installed_lamp_id: str, on: str, retire: bool) -> None:
        """Take a lamp down, to keep it as a spare or for good; NotFoundError if there is no such lamp."""
        lamp = self.installed_lamps.get(installed_lamp_id, transaction=transaction)
        transaction.execute(
            "UPDATE installations SET ended_on = max(began_on, ?) WHERE installed_lamp_id = ? "
            "AND ended_on IS NULL",
            (on, installed_lamp_id),
        )
        self.installed_lamps.put(transaction, replace(lamp, retired_on=on if retire else None))
