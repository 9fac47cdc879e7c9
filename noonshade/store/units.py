"""Lamps as things, and where each hung, as rows of the data file."""

from __future__ import annotations

import secrets
from dataclasses import astuple, dataclass, fields, replace

from noonshade.store.database import Database, now
from noonshade.store.rows import Rows


@dataclass(frozen=True, slots=True)
class UnitRecord:
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
class HangingRecord:
    """Where a lamp hung from a day to a day; ``ended_on`` None while it hangs there."""

    id: str
    unit_id: str
    plan_id: str
    fixture_id: str
    began_on: str
    ended_on: str | None = None


_HANGING = ", ".join(f.name for f in fields(HangingRecord))


class UnitStore:
    """Lamps in use and spares."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.units = Rows(database, "units", UnitRecord, "lamp")
        self.hangings = Rows(database, "hangings", HangingRecord, "hanging")

    def hang(self, unit_id: str, plan_id: str, fixture_id: str, on: str, retire: bool) -> HangingRecord:
        """Hang a lamp into a fixture from a day on, all in one step.

        It comes off where it hung before; what hung in the fixture comes off and is retired, or kept as a
        spare. UnknownRowError if there is no such lamp.
        """
        unit = self.units.get(unit_id)
        made = HangingRecord(secrets.token_hex(6), unit_id, plan_id, fixture_id, on)
        with self.database.writing() as connection:
            replaced = connection.execute(
                "SELECT unit_id FROM hangings WHERE plan_id = ? AND fixture_id = ? AND ended_on IS NULL "
                "AND removed_at IS NULL AND unit_id != ?",
                (plan_id, fixture_id, unit_id),
            ).fetchone()
            connection.execute(
                "UPDATE hangings SET ended_on = max(began_on, ?) WHERE ended_on IS NULL "
                "AND removed_at IS NULL AND (unit_id = ? OR (plan_id = ? AND fixture_id = ?))",
                (on, unit_id, plan_id, fixture_id),
            )
            if replaced is not None and retire:
                connection.execute("UPDATE units SET retired_on = ? WHERE id = ?", (on, replaced[0]))
            connection.execute(
                f"INSERT INTO hangings ({_HANGING}, stored_at) VALUES (?, ?, ?, ?, ?, ?, ?)",  # noqa: S608
                (*astuple(made), now()),
            )
            connection.execute(
                "UPDATE units SET retired_on = NULL, installed_on = ? WHERE id = ?",
                (unit.installed_on or on, unit_id),
            )
        return made

    def take_down(self, unit_id: str, on: str, retire: bool) -> None:
        """Take a lamp down, to keep it as a spare or for good; UnknownRowError if there is no such lamp."""
        unit = self.units.get(unit_id)
        with self.database.writing() as connection:
            connection.execute(
                "UPDATE hangings SET ended_on = max(began_on, ?) WHERE unit_id = ? AND ended_on IS NULL",
                (on, unit_id),
            )
        self.units.put(replace(unit, retired_on=on if retire else None))
