"""The data file: migrations, versions, backup, restore, damage."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from noonshade.store import database as database_module
from noonshade.store.database import (
    Database,
    Migration,
    StoreError,
    StoreReadOnlyError,
    migrations,
)
from noonshade.store.plans import PlanRecord, PlanStore


def opened(path: Path) -> PlanStore:
    return PlanStore(Database.open(path))


def _create(store: PlanStore) -> PlanRecord:
    return store.database.write(store.create, "Enclosure", "{}")


def test_new_file_has_the_newest_schema_and_wal(tmp_path: Path) -> None:
    path = tmp_path / "sub" / "noonshade.db"
    opened(path)
    with sqlite3.connect(path) as connection:
        assert connection.execute("PRAGMA user_version").fetchone()[0] == migrations()[-1].number
        assert connection.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    connection.close()


def test_plans_survive_a_restart(tmp_path: Path) -> None:
    path = tmp_path / "noonshade.db"
    made = _create(opened(path))
    store = opened(path)
    store.database.write(store.save, made.id, 1, "Enclosure two", '{"a": 1}', "Edit")
    again = opened(path).get(made.id)
    assert (again.name, again.revision, again.document) == ("Enclosure two", 2, '{"a": 1}')


def test_file_from_a_newer_version_is_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "noonshade.db"
    opened(path)
    with sqlite3.connect(path) as connection:
        connection.execute("PRAGMA user_version = 99")
    connection.close()
    with pytest.raises(StoreError, match=r"newer version .*schema 99"):
        Database.open(path)


def test_foreign_and_damaged_files_are_named(tmp_path: Path) -> None:
    foreign = tmp_path / "foreign.db"
    with sqlite3.connect(foreign) as connection:
        connection.execute("CREATE TABLE birds (name TEXT)")
    connection.close()
    with pytest.raises(StoreError, match="another program"):
        Database.open(foreign)
    noise = tmp_path / "noise.db"
    noise.write_bytes(b"\x00\x01noise" * 1000)
    with pytest.raises(StoreError, match="damaged or not a data file"):
        Database.open(noise)
    path = tmp_path / "cut.db"
    store = opened(path)
    for i in range(40):
        store.database.write(store.create, f"Enclosure {i}", "x" * 3000)
    with sqlite3.connect(path) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    connection.close()
    content = bytearray(path.read_bytes())
    content[8192:40960] = b"\xab" * (40960 - 8192)
    path.write_bytes(bytes(content))
    with pytest.raises(StoreError, match="damaged"):
        Database.open(path)


def test_unwritable_folder_is_named() -> None:
    with pytest.raises(StoreReadOnlyError, match="/proc/nowhere"):
        Database.open(Path("/proc/nowhere/noonshade.db"))


def test_migration_backs_up_first_and_failing_one_changes_nothing(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "noonshade.db"
    plan = _create(opened(path))
    real = migrations()
    number = real[-1].number + 1
    bad = Migration(number, "bad.sql", "CREATE TABLE extra (a); INSERT INTO nowhere VALUES (1);")
    monkeypatch.setattr(database_module, "migrations", lambda: [*real, bad])
    with pytest.raises(StoreError, match="nowhere"):
        Database.open(path)
    assert (tmp_path / f"noonshade-before-schema-{number}.db").is_file()
    monkeypatch.setattr(database_module, "migrations", lambda: real)
    assert opened(path).get(plan.id).name == "Enclosure"
    (tmp_path / f"noonshade-before-schema-{number}.db").unlink()
    good = Migration(number, "good.sql", "CREATE TABLE extra (a INTEGER) STRICT;")
    monkeypatch.setattr(database_module, "migrations", lambda: [*real, good])
    assert opened(path).get(plan.id).name == "Enclosure"


def test_backup_and_restore(tmp_path: Path) -> None:
    path, copy = tmp_path / "noonshade.db", tmp_path / "copy.db"
    store = opened(path)
    plan = _create(store)
    store.database.backup(copy)
    store.database.write(store.save, plan.id, 1, "Changed", "{}1", "Edit")
    safety = store.database.restore(copy)
    assert store.get(plan.id).name == "Enclosure"
    assert opened(safety).get(plan.id).name == "Changed"
    with pytest.raises(StoreError, match="exists already"):
        store.database.backup(copy)
    with pytest.raises(StoreError, match="does not exist"):
        store.database.restore(tmp_path / "missing.db")
    empty = tmp_path / "empty.db"
    empty.write_bytes(b"")
    with pytest.raises(StoreError, match="not a Noon Shade backup"):
        store.database.restore(empty)
    assert store.get(plan.id).name == "Enclosure"


def test_interrupted_write_leaves_nothing(tmp_path: Path) -> None:
    store = opened(tmp_path / "noonshade.db")

    def interrupted() -> None:
        with store.database.transaction() as connection:
            connection.execute(
                "INSERT INTO plans (id, name, head, created_at, updated_at) VALUES ('a','b',1,'c','d')"
            )
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        interrupted()
    assert store.all() == []
