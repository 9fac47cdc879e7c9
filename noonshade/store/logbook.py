"""Animals, the logbook and its photographs."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from noonshade.store.database import Database
from noonshade.store.photo_files import PhotoFiles
from noonshade.store.rows import Rows


@dataclass(frozen=True, slots=True)
class AnimalRecord:
    """One animal; dates are ISO 8601 days."""

    id: str
    name: str
    plan_id: str | None
    species_id: str
    sex: str
    hatched_on: str | None
    came_on: str | None
    left_on: str | None
    note: str = ""


@dataclass(frozen=True, slots=True)
class EntryRecord:
    """One entry. ``at`` is ISO 8601 with its offset; ``value`` is g for a weight, m for a length."""

    id: str
    plan_id: str | None
    animal_id: str | None
    kind: str
    at: str
    at_utc: str
    value: float | None = None
    food: str = ""
    outcome: str = ""
    text: str = ""


@dataclass(frozen=True, slots=True)
class PhotoRecord:
    """A photograph of an entry; ``hash`` names its file."""

    id: str
    entry_id: str
    hash: str
    width: int
    height: int
    caption: str = ""


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which entries are asked for; None or empty leaves it open. Moments are as ``utc`` gives them."""

    plan_id: str | None = None
    animal_id: str | None = None
    kinds: tuple[str, ...] = ()
    words: str = ""
    since: str | None = None
    before: str | None = None
    most: int | None = None
    skip: int = 0


@dataclass(frozen=True, slots=True)
class EntryPage:
    """Entries, the newest first, with their photographs, and how many there are in all."""

    entries: list[EntryRecord]
    photos: dict[str, list[PhotoRecord]] = field(default_factory=dict)
    total: int = 0


def utc(moment: datetime) -> str:
    """A moment as it orders entries: UTC to the second."""
    return moment.astimezone(UTC).isoformat(timespec="seconds").replace("+00:00", "Z")


class LogbookStore:
    """Animals, entries and photographs."""

    def __init__(self, database: Database, files: PhotoFiles) -> None:
        self.database, self.files = database, files
        self.animals = Rows(database, "animals", AnimalRecord, "animal")
        self.entries = Rows(database, "entries", EntryRecord, "entry")
        self.photos = Rows(database, "photos", PhotoRecord, "photograph")

    def find(self, wanted: Wanted) -> EntryPage:
        """Entries that fit, the newest first.

        Words are searched by their beginnings in the text and the food, and in the names of the animal
        and the enclosure; every word must be found.
        """
        where, values = _conditions(wanted)
        columns = ", ".join(f"e.{name}" for name in self.entries.columns)
        source = (
            "FROM entries e LEFT JOIN animals a ON a.id = e.animal_id "
            "LEFT JOIN plans p ON p.id = e.plan_id "
            f"WHERE e.removed_at IS NULL{where}"
        )
        limit = -1 if wanted.most is None else wanted.most
        with self.database.reading() as connection:
            total = connection.execute(f"SELECT count(*) {source}", values).fetchone()[0]
            rows = connection.execute(
                f"SELECT {columns} {source} ORDER BY e.at_utc DESC, e.number DESC LIMIT ? OFFSET ?",
                (*values, limit, wanted.skip),
            ).fetchall()
        entries = [EntryRecord(*row) for row in rows]
        return EntryPage(entries, self.photos_of([e.id for e in entries]), int(total))

    def photos_of(self, entry_ids: list[str]) -> dict[str, list[PhotoRecord]]:
        """Photographs by entry, in the order they were added."""
        found: dict[str, list[PhotoRecord]] = {}
        for i in range(0, len(entry_ids), 500):
            some = entry_ids[i : i + 500]
            marks = ", ".join("?" for _ in some)
            for photo in self.photos.all(f"entry_id IN ({marks})", tuple(some), "stored_at, id"):
                found.setdefault(photo.entry_id, []).append(photo)
        return found

    def hashes(self) -> list[str]:
        """Every photograph that any entry names, also removed ones: a backup keeps them all."""
        with self.database.reading() as connection:
            return [row[0] for row in connection.execute("SELECT DISTINCT hash FROM photos ORDER BY hash")]


def _conditions(wanted: Wanted) -> tuple[str, list[Any]]:
    where, values = "", []
    for name in ("plan_id", "animal_id"):
        value = getattr(wanted, name)
        if value is not None:
            where += f" AND e.{name} = ?"
            values.append(value)
    if wanted.kinds:
        where += f" AND e.kind IN ({', '.join('?' for _ in wanted.kinds)})"
        values += wanted.kinds
    for comparison, moment in ((">=", wanted.since), ("<", wanted.before)):
        if moment is not None:
            where += f" AND e.at_utc {comparison} ?"
            values.append(moment)
    for word in re.findall(r"\w+", wanted.words)[:12]:
        where += (
            " AND (e.number IN (SELECT rowid FROM entry_words WHERE entry_words MATCH ?) "
            "OR a.name LIKE ? OR p.name LIKE ?)"
        )
        values += [f'"{word}"*', f"%{word}%", f"%{word}%"]
    return where, values
