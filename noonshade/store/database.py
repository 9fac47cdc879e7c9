"""Opening, migrating, backing up and restoring the data file."""

from __future__ import annotations

import os
import sqlite3
import threading
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path
from typing import Concatenate, ParamSpec, TypeVar

P = ParamSpec("P")
R = TypeVar("R")

# An open write transaction, as ``Database.transaction`` yields it.
Transaction = sqlite3.Connection

APPLICATION_ID = 0x4E534864  # marks the file as ours
BUSY_TIMEOUT_S = 5.0
# Copies made before restoring that stay; older ones go.
SAFETY_COPIES = 5


class StoreError(RuntimeError):
    """The data file cannot be used as asked; the message says what to do."""


class StoreFullError(StoreError):
    """No room on the disk; nothing was changed."""


class StoreReadOnlyError(StoreError):
    """The data file or its folder may not be written; nothing was changed."""


class StoreBusyError(StoreError):
    """Another program holds the data file; nothing was changed."""


@dataclass(frozen=True, slots=True)
class Migration:
    """One numbered step of the schema."""

    number: int
    name: str
    sql: str


def migrations() -> list[Migration]:
    """All shipped migrations in order."""
    found = []
    for item in (files("noonshade.store") / "migrations").iterdir():
        if item.name.endswith(".sql"):
            number = int(item.name.split("_", 1)[0])
            found.append(Migration(number, item.name, item.read_text(encoding="utf-8")))
    return sorted(found, key=lambda m: m.number)


def now() -> str:
    """The present time as ISO 8601 in UTC."""
    return datetime.now(UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")


class Database:
    """The data file. Each thread reads over a separate connection; every change opens another."""

    def __init__(self, path: Path, reads_only: bool = False) -> None:
        self.path = path
        self.reads_only = reads_only
        # Beside a file that nobody may write, SQLite can make none of the files it needs for a log.
        self.is_fixed = reads_only and not os.access(path.parent, os.W_OK)
        # Writes of this program one after the other, and none while a backup is restored.
        self._writing = threading.RLock()
        self._own = threading.local()
        # Called after every change, by the thread that made it.
        self.on_change: list[Callable[[], None]] = []

    @classmethod
    def open(cls, path: Path, reads_only: bool = False) -> Database:
        """Open or create a data file and bring its schema up to date.

        A backup is written beside the file before an existing schema is changed. One that is opened only to
        be read must be there and up to date; what tries to write it gets a StoreReadOnlyError.

        Raises
        ------
        StoreError
            If it is no data file of ours, is damaged, is from a newer version, or cannot be
            written.
        """
        database = cls(path, reads_only)
        if reads_only:
            database._check_readable()
            return database
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreReadOnlyError(
                f"the data folder {path.parent} cannot be made: {error.strerror}"
            ) from error
        with database.reading() as connection:
            version = _checked_version(connection, path)
        newest = migrations()[-1].number
        if version > newest:
            raise StoreError(
                f"{path} is from a newer version of Noon Shade (schema {version}, this program "
                f"knows {newest}); update the program, the file was not touched"
            )
        if version < newest:
            if version > 0:
                database.backup(path.with_name(f"{path.stem}-before-schema-{newest}{path.suffix}"))
            database._migrate(version)
        return database

    def _check_readable(self) -> None:
        if not self.path.is_file():
            raise StoreError(f"{self.path} does not exist")
        with self.reading() as connection:
            version, newest = _checked_version(connection, self.path), migrations()[-1].number
        if version != newest:
            raise StoreError(
                f"{self.path} has schema {version}, this program needs {newest}, and it may not be changed"
            )

    def _migrate(self, version: int) -> None:
        with closing(self._connect()) as connection, translated(self.path):
            connection.execute("PRAGMA journal_mode = WAL")
            for step in migrations():
                if step.number <= version:
                    continue
                script = (
                    f"BEGIN IMMEDIATE;\n{step.sql}\n"
                    f"PRAGMA user_version = {step.number};\n"
                    f"PRAGMA application_id = {APPLICATION_ID};\nCOMMIT;"
                )
                try:
                    connection.executescript(script)
                except sqlite3.Error:
                    connection.rollback()
                    raise

    def _connect(self) -> sqlite3.Connection:
        with translated(self.path):
            where, is_uri = str(self.path), False
            if self.is_fixed:
                where, is_uri = f"{self.path.resolve().as_uri()}?immutable=1", True
            connection = sqlite3.connect(
                where, timeout=BUSY_TIMEOUT_S, isolation_level=None, check_same_thread=True, uri=is_uri
            )
            connection.row_factory = sqlite3.Row
            connection.execute("PRAGMA foreign_keys = ON")
            if self.reads_only:
                connection.execute("PRAGMA query_only = ON")
            return connection

    @contextmanager
    def reading(self, transaction: Transaction | None = None) -> Iterator[sqlite3.Connection]:
        """A connection for reading: the open transaction if one is given, to see its writes."""
        if transaction is not None:
            yield transaction
            return
        with translated(self.path):
            connection = self._reader()
            try:
                yield connection
            except sqlite3.Error:
                # What it stumbled over may be gone when the next one is opened.
                self._close_reader()
                raise

    def _reader(self) -> sqlite3.Connection:
        """This thread's connection, to the file that is there now: opening one takes milliseconds."""
        file = self._file()
        if file is None or getattr(self._own, "file", None) != file:
            self._close_reader()
            self._own.connection = self._connect()
            self._own.file = self._file()
        connection: sqlite3.Connection = self._own.connection
        return connection

    def _file(self) -> tuple[int, int] | None:
        try:
            found = self.path.stat()
        except OSError:
            return None
        return found.st_dev, found.st_ino

    def _close_reader(self) -> None:
        connection = getattr(self._own, "connection", None)
        self._own.connection = self._own.file = None
        if connection is not None:
            connection.close()

    @contextmanager
    def transaction(self) -> Iterator[Transaction]:
        """One write transaction, which the stores' functions take: all of it happens, or nothing."""
        with self._writing, closing(self._connect()) as connection, translated(self.path):
            connection.execute("BEGIN IMMEDIATE")
            try:
                yield connection
            except BaseException:
                connection.rollback()
                raise
            connection.execute("COMMIT")
        self._announce_change()

    def _announce_change(self) -> None:
        for listener in self.on_change:
            listener()

    def write(
        self, action: Callable[Concatenate[Transaction, P], R], *args: P.args, **kwargs: P.kwargs
    ) -> R:
        """Run one function of a store in its own transaction."""
        with self.transaction() as transaction:
            return action(transaction, *args, **kwargs)

    def backup(self, target: Path) -> None:
        """Write a consistent copy, also while the program is running.

        Raises
        ------
        StoreError
            If the target exists or cannot be written.
        """
        if target.exists():
            raise StoreError(f"{target} exists already; name a new file")
        try:
            with (
                self.reading() as source,
                closing(sqlite3.connect(target)) as copy,
                translated(target),
            ):
                source.backup(copy)
                copy.execute("PRAGMA journal_mode = DELETE")
        except StoreError:
            target.unlink(missing_ok=True)
            raise

    def restore(self, source: Path) -> Path:
        """Replace the contents by a backup; the present contents are backed up first.

        Returns the path of that safety copy.

        Raises
        ------
        StoreError
            If the source is missing, damaged, not ours or from a newer version.
        """
        if not source.is_file():
            raise StoreError(f"{source} does not exist")
        newest = migrations()[-1].number
        with closing(_read_only(source)) as incoming, translated(source):
            version = _checked_version(incoming, source)
            if version == 0:
                raise StoreError(f"{source} is not a Noon Shade backup")
            if version > newest:
                raise StoreError(f"{source} is from a newer version of Noon Shade; update first")
            stamp = now().replace(":", "").replace(".", "-")
            named = f"{self.path.stem}-before-restore"
            safety = self.path.with_name(f"{named}-{stamp}{self.path.suffix}")
            # What is written until then is in the copy, what is written from then on in the restored data.
            with self._writing:
                self.backup(safety)
                with closing(self._connect()) as target, translated(self.path):
                    incoming.backup(target)
                    target.execute("PRAGMA journal_mode = WAL")
                Database.open(self.path)
        self._announce_change()
        for old in sorted(self.path.parent.glob(f"{named}-*{self.path.suffix}"))[:-SAFETY_COPIES]:
            old.unlink(missing_ok=True)
        return safety


def _read_only(path: Path) -> sqlite3.Connection:
    return sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)


def _checked_version(connection: sqlite3.Connection, path: Path) -> int:
    tables = connection.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
    version = int(connection.execute("PRAGMA user_version").fetchone()[0])
    ours = int(connection.execute("PRAGMA application_id").fetchone()[0]) == APPLICATION_ID
    if tables and not ours:
        raise StoreError(f"{path} is an SQLite file of another program; name another file")
    result = connection.execute("PRAGMA quick_check(1)").fetchone()[0]
    if result != "ok":
        raise StoreError(f"{path} is damaged ({result}); restore a backup")
    return version


@contextmanager
def translated(path: Path) -> Iterator[None]:
    """Turn SQLite's errors into ours, with the file named."""
    try:
        yield
    except sqlite3.IntegrityError:
        raise
    except sqlite3.Error as error:
        name = getattr(error, "sqlite_errorname", "") or ""
        if name.startswith("SQLITE_FULL"):
            raise StoreFullError(
                f"the disk that holds {path} is full; nothing was changed. Make room and save again"
            ) from error
        if name.startswith(("SQLITE_READONLY", "SQLITE_CANTOPEN", "SQLITE_PERM")):
            raise StoreReadOnlyError(
                f"{path} cannot be written; nothing was changed. Check the folder's permissions"
            ) from error
        if name.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
            raise StoreBusyError(
                f"{path} is in use by another program; nothing was changed. Try again"
            ) from error
        if name.startswith(("SQLITE_CORRUPT", "SQLITE_NOTADB")):
            raise StoreError(f"{path} is damaged or not a data file; restore a backup") from error
        raise StoreError(f"{path}: {error}") from error
