"""Restoring loses nothing that was acknowledged, and rotten archives are refused by name."""

from __future__ import annotations

import sqlite3
import threading
import zipfile
from contextlib import closing
from pathlib import Path

import pytest

from noonshade.store.archive import ArchiveError, check_archive, write_archive
from noonshade.store.backups import Backups, Policy, keep_backing_up
from noonshade.store.database import SAFETY_COPIES, Database, Transaction
from noonshade.store.photo_files import PhotoFiles


def note(transaction: Transaction, number: int) -> None:
    transaction.execute("INSERT INTO settings VALUES (?, '1', '')", (f"n{number}",))


def noted(path: Path) -> set[int]:
    with closing(sqlite3.connect(path)) as connection:
        keys = connection.execute("SELECT name FROM settings WHERE name LIKE 'n%'").fetchall()
    return {int(key[1:]) for (key,) in keys}


def test_what_is_acknowledged_while_restoring_is_in_the_copy_or_in_the_restored_data(
    tmp_path: Path,
) -> None:
    database = Database.open(tmp_path / "noonshade.db")
    old = tmp_path / "old.db"
    database.backup(old)
    acknowledged: set[int] = set()
    stop = threading.Event()

    def write_on(first: int) -> None:
        number = first
        while not stop.is_set():
            database.write(note, number)
            acknowledged.add(number)
            number += 4

    writers = [threading.Thread(target=write_on, args=(i,)) for i in range(4)]
    for one in writers:
        one.start()
    copies = []
    try:
        for _ in range(4):
            while len(acknowledged) < 25 * (len(copies) + 1):
                stop.wait(0.005)
            copies.append(database.restore(old))
    finally:
        stop.set()
        for one in writers:
            one.join(20)
    found = noted(database.path)
    for copy in copies:
        found |= noted(copy)
    assert len(acknowledged) >= 100
    assert acknowledged - found == set()


def test_copies_made_before_restoring_are_rotated(tmp_path: Path) -> None:
    database = Database.open(tmp_path / "noonshade.db")
    old = tmp_path / "old.db"
    database.backup(old)
    made = [database.restore(old) for _ in range(SAFETY_COPIES + 3)]
    assert sorted(p for p in made if p.exists()) == sorted(made[-SAFETY_COPIES:])


def test_a_rotten_archive_is_refused_by_name(tmp_path: Path) -> None:
    archive = tmp_path / "backup.zip"
    database = Database.open(tmp_path / "noonshade.db")
    write_archive(database, PhotoFiles(tmp_path / "photos"), archive)
    whole = archive.read_bytes()
    with zipfile.ZipFile(archive) as packed:
        start = packed.getinfo("noonshade.db").header_offset
    refused = 0
    for at in range(start + 45, start + 445, 20):
        rotten = bytearray(whole)
        rotten[at] ^= 0xFF
        archive.write_bytes(rotten)
        with pytest.raises(ArchiveError, match=r"backup\.zip"):
            check_archive(archive)
        refused += 1
    assert refused == 20


def test_the_thread_of_backups_survives_what_nobody_thought_of(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    monkeypatch.setattr("noonshade.store.backups.LOOK_S", 0.01)
    database = Database.open(tmp_path / "noonshade.db")
    backups = Backups(database, PhotoFiles(tmp_path / "photos"), tmp_path / "backups")
    stop, asked = threading.Event(), []

    def policy() -> Policy:
        asked.append(1)
        if len(asked) < 3:
            raise ValueError("rot")
        stop.set()
        return Policy(every="off")

    keep_backing_up(backups, policy, stop)
    assert len(asked) == 3
    assert caplog.text.count("backup: unexpected error") == 2
