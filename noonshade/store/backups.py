"""Backups made by themselves: when the next is due, and which of the older ones stay."""

from __future__ import annotations

import logging
import re
import sqlite3
import threading
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Literal

from noonshade.store.archive import Contents, write_archive
from noonshade.store.database import Database, StoreError
from noonshade.store.errors import NotFoundError
from noonshade.store.photo_files import PhotoFiles

Interval = Literal["off", "day", "week"]
_NAME = re.compile(r"noonshade-(\d{8}-\d{6})\.zip")
_EVERY: dict[Interval, timedelta] = {"day": timedelta(days=1), "week": timedelta(days=7)}
# How often it is looked whether a backup is due, seconds.
LOOK_S = 600.0
log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class Policy:
    """How often, and how many stay: of the newest, and one for each of some weeks and months."""

    every: Interval = "day"
    newest: int = 7
    weeks: int = 4
    months: int = 12


@dataclass(frozen=True, slots=True)
class Archive:
    """A backup in the folder."""

    name: str
    made_at: datetime
    bytes: int


def archives_to_keep(made: Iterable[datetime], policy: Policy) -> set[datetime]:
    """Which backups stay: the newest, and the newest of each of the last weeks and months."""
    falling = sorted(set(made), reverse=True)
    found = set(falling[: max(1, policy.newest)])
    for count, of in (
        (policy.weeks, lambda t: t.isocalendar()[:2]),
        (policy.months, lambda t: (t.year, t.month)),
    ):
        groups: dict[tuple[int, int], datetime] = {}
        for moment in falling:
            groups.setdefault(of(moment), moment)
        found |= set(list(groups.values())[:count])
    return found


class Backups:
    """The folder of backups that are made by themselves or by one press."""

    def __init__(self, database: Database, files: PhotoFiles, folder: Path) -> None:
        self.database, self.files, self.folder = database, files, folder
        self.failure: str | None = None
        self._lock = threading.Lock()

    def all(self) -> list[Archive]:
        """Backups in the folder, the newest first; other files there are left alone."""
        found = []
        for path in self.folder.glob("noonshade-*.zip") if self.folder.is_dir() else ():
            made = _moment_of(path.name)
            if made is not None:
                found.append(Archive(path.name, made, path.stat().st_size))
        return sorted(found, key=lambda a: a.made_at, reverse=True)

    def path(self, name: str) -> Path:
        """A backup by its name; NotFoundError if there is none, so no name leads out of the folder."""
        path = self.folder / name
        if _moment_of(name) is None or not path.is_file():
            raise NotFoundError("backup", name)
        return path

    def make(self, policy: Policy, at: datetime | None = None) -> tuple[Archive, Contents]:
        """Make one now, check it, and let go of those that need not stay."""
        moment = (at or datetime.now(UTC)).replace(microsecond=0)
        with self._lock:
            while self._named(moment).exists():
                moment += timedelta(seconds=1)
            target = self._named(moment)
            try:
                contents = write_archive(self.database, self.files, target)
            except StoreError as error:
                self.failure = str(error)
                raise
            self.failure = None
            self._let_go(policy)
        return Archive(target.name, moment, contents.bytes), contents

    def due(self, policy: Policy, at: datetime) -> bool:
        """Whether one is due."""
        if policy.every == "off":
            return False
        made = self.all()
        return not made or at - made[0].made_at >= _EVERY[policy.every]

    def _named(self, moment: datetime) -> Path:
        return self.folder / f"noonshade-{moment.astimezone(UTC):%Y%m%d-%H%M%S}.zip"

    def _let_go(self, policy: Policy) -> None:
        made = self.all()
        stay = archives_to_keep((a.made_at for a in made), policy)
        for archive in made:
            if archive.made_at not in stay:
                (self.folder / archive.name).unlink(missing_ok=True)


def _moment_of(name: str) -> datetime | None:
    """When a backup of a name was made; None for what is no name of one."""
    match = _NAME.fullmatch(name)
    try:
        return None if match is None else datetime.strptime(match[1], "%Y%m%d-%H%M%S").replace(tzinfo=UTC)
    except ValueError:
        # Digits that are no date.
        return None


def keep_backing_up(backups: Backups, policy: Callable[[], Policy], stop: threading.Event) -> None:
    """Make backups when they are due, until stopped; one that fails is repeated later."""
    while not stop.is_set():
        try:
            now = policy()
            if backups.due(now, datetime.now(UTC)):
                archive, _ = backups.make(now)
                log.info("backup: %s, %d bytes", archive.name, archive.bytes)
        except (StoreError, OSError, sqlite3.Error) as error:
            log.error("backup: %s", error)
        except Exception:
            # Whatever it was, the next one must still be made.
            log.exception("backup: unexpected error")
        stop.wait(LOOK_S)
