"""Backups: everything comes back, nothing damaged or tricky is let in, and the right ones stay."""

from __future__ import annotations

import hashlib
import io
import json
import sqlite3
import stat
import threading
import zipfile
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.store import archive as archive_module
from noonshade.store import backups as backups_module
from noonshade.store.archive import ArchiveError, check_archive, restore_archive, row_counts, write_archive
from noonshade.store.backups import Backups, Policy, archives_to_keep, keep_backing_up
from noonshade.store.database import Database, StoreError, migrations
from noonshade.store.errors import NotFoundError
from noonshade.store.logbook import EntryRecord, LogbookStore, PhotoRecord, Wanted
from noonshade.store.photo_files import PhotoFiles
from noonshade.store.plans import PlanStore
from tests.web.pictures import jpeg


class Keeper:
    """A data folder with a plan, an entry and a photograph of it."""

    def __init__(self, folder: Path) -> None:
        self.database = Database.open(folder / "noonshade.db")
        self.files = PhotoFiles(folder / "photos")
        self.book = LogbookStore(self.database, self.files)
        self.plans = PlanStore(self.database)

    def write(self, text: str, picture: bytes | None = None) -> None:
        number = len(self.book.entries.all())
        at = f"2026-03-14T10:00:{number:02}Z"
        self.database.write(
            self.book.entries.put, EntryRecord(f"e{number}", None, None, "note", at, at, text=text)
        )
        if picture is not None:
            key = self.files.add(picture)
            self.database.write(self.book.photos.put, PhotoRecord(f"p{number}", f"e{number}", key, 9, 9))

    @property
    def state(self) -> tuple[Any, ...]:
        """What a keeper would miss."""
        entries = self.book.find(Wanted())
        pictures = [self.files.read(p.hash) for some in entries.photos.values() for p in some]
        return row_counts(self.database.path), [e.text for e in entries.entries], sorted(pictures)


@pytest.fixture
def keeper(tmp_path: Path) -> Keeper:
    made = Keeper(tmp_path / "data")
    made.database.write(made.plans.create, "Enclosure", '{"name": "Enclosure"}', plan_id="enclosure")
    made.write("first", jpeg(9, 9))
    made.write("second")
    return made


@pytest.fixture
def packed(keeper: Keeper, tmp_path: Path) -> Path:
    write_archive(keeper.database, keeper.files, tmp_path / "backup.zip")
    return tmp_path / "backup.zip"


def test_everything_comes_back_also_on_another_machine(
    keeper: Keeper, packed: Path, tmp_path: Path
) -> None:
    before = keeper.state
    contents = check_archive(packed)
    assert (contents.rows["plans"], contents.rows["entries"], contents.photos) == (1, 2, 1)
    keeper.write("third", jpeg(20, 9))
    keeper.database.write(keeper.plans.remove, "enclosure")
    safety = restore_archive(keeper.database, keeper.files, packed)
    assert keeper.state == before
    # The data from before the restore stay, and can be restored themselves.
    keeper.database.restore(safety)
    assert len(keeper.state[1]) == 3
    elsewhere = Keeper(tmp_path / "elsewhere")
    restore_archive(elsewhere.database, elsewhere.files, packed)
    assert elsewhere.state == before
    # Its words are found again.
    assert [e.text for e in elsewhere.book.find(Wanted(words="second")).entries] == ["second"]


def test_an_archive_is_open(packed: Path) -> None:
    with zipfile.ZipFile(packed) as packed_files:
        names = packed_files.namelist()
        assert "Noon Shade" in packed_files.read("README.txt").decode()
        assert json.loads(packed_files.read("plans/enclosure.json")) == {"name": "Enclosure"}
    assert sum(name.startswith("photos/") for name in names) == 1


def test_a_lost_photograph_is_told_and_holds_up_nothing(keeper: Keeper, tmp_path: Path) -> None:
    next((tmp_path / "data" / "photos").rglob("*.jpg")).write_bytes(b"worn")
    contents = write_archive(keeper.database, keeper.files, tmp_path / "b.zip")
    assert (contents.photos, contents.missing_photos) == (0, 1)


def test_a_name_that_is_taken_is_not_written_over(keeper: Keeper, packed: Path) -> None:
    with pytest.raises(StoreError, match="exists already"):
        write_archive(keeper.database, keeper.files, packed)
    assert list(packed.parent.glob("*.part")) == []


Edit = Callable[[dict[str, bytes], dict[str, Any]], None]


def rewritten(packed: Path, edit: Edit, sums: bool = True) -> Path:
    """An archive with something else in it; ``sums`` makes the manifest agree with it."""
    with zipfile.ZipFile(packed) as packed_files:
        files = {name: packed_files.read(name) for name in packed_files.namelist()}
    manifest = json.loads(files.pop("manifest.json"))
    edit(files, manifest)
    if sums:
        manifest["files"] = {
            name: {"sha256": hashlib.sha256(data).hexdigest(), "bytes": len(data)}
            for name, data in files.items()
            if name != "README.txt"
        }
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as packed_files:
        for name, data in files.items():
            packed_files.writestr(name, data)
        packed_files.writestr("manifest.json", json.dumps(manifest))
    return packed


def put(name: str, data: bytes) -> Edit:
    return lambda files, _: files.update({name: data})


def say(**values: Any) -> Edit:
    return lambda _, manifest: manifest.update(values)


def swapped(files: dict[str, bytes], _: dict[str, Any]) -> None:
    name = next(n for n in files if n.startswith("photos/"))
    files[name] = b"another picture"


@pytest.mark.parametrize(
    ("edit", "sums", "said"),
    [
        (put("../../evil.py", b"x"), True, "which no backup of ours does"),
        (put("/etc/cron.d/evil", b"x"), True, "which no backup of ours does"),
        (put("photos/../../evil.jpg", b"x"), True, "which no backup of ours does"),
        (put("photos/" + "a" * 63 + ".jpg", b"x"), True, "which no backup of ours does"),
        (put("plans/..json", b"x"), True, "which no backup of ours does"),
        (put("noonshade.db", b"SQLite format 3\0" + bytes(4000)), True, "cannot be used"),
        (put("noonshade.db", b"not a database at all"), True, "cannot be used"),
        (put("noonshade.db", b"x"), False, "not what its manifest says"),
        (swapped, True, "not what its manifest says"),
        (swapped, False, "not what its manifest says"),
        (put("plans/extra.json", b"{}"), False, "is not in its manifest"),
        (lambda files, _: files.pop("noonshade.db"), False, "is missing"),
        (lambda files, _: files.pop("noonshade.db"), True, "does not say what it should"),
        (put("plans/bomb.json", bytes(90_000_000)), True, "would unpack to"),
        (say(format="other"), True, "no backup of Noon Shade"),
        (say(version=2), True, "Update the program"),
        (say(schema=migrations()[-1].number + 1), True, "newer version"),
        (say(schema=1), True, "damaged"),
        (say(rows="many"), True, "does not say what it should"),
        (lambda _, manifest: manifest["rows"].update(entries=9), True, "not those its manifest counts"),
    ],
)
def test_what_is_not_ours_to_the_byte_is_refused(
    keeper: Keeper, packed: Path, edit: Edit, sums: bool, said: str, tmp_path: Path
) -> None:
    before = keeper.state
    with pytest.raises(ArchiveError, match=said):
        check_archive(rewritten(packed, edit, sums))
    if "manifest counts" not in said:
        with pytest.raises(ArchiveError):
            restore_archive(keeper.database, keeper.files, packed)
    assert keeper.state == before
    assert not list(tmp_path.rglob("evil*"))
    assert not list(tmp_path.rglob(".noonshade-*"))


@pytest.mark.parametrize("where", [0.0, 0.01, 0.3, 0.6, 0.9, 0.999])
def test_one_wrong_byte_or_a_torn_file_changes_nothing(keeper: Keeper, packed: Path, where: float) -> None:
    before, whole = keeper.state, packed.read_bytes()
    at = int(where * len(whole))
    for harmed in (whole[:at], whole[:at] + bytes([whole[at] ^ 0xFF]) + whole[at + 1 :]):
        packed.write_bytes(harmed)
        try:
            restore_archive(keeper.database, keeper.files, packed)
        except ArchiveError:
            pass
        else:
            # The byte was of a date or a name that counts for nothing.
            assert len(harmed) == len(whole)
        assert keeper.state == before


def test_links_doubles_and_locked_files_are_refused(keeper: Keeper, packed: Path) -> None:
    with zipfile.ZipFile(packed) as packed_files:
        files = {i: packed_files.read(i) for i in packed_files.infolist()}

    def again(change: Callable[[zipfile.ZipInfo], None], double: bool = False) -> io.BytesIO:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as made:
            for info, data in files.items():
                fresh = zipfile.ZipInfo(info.filename)
                if info.filename == "noonshade.db":
                    change(fresh)
                made.writestr(fresh, data)
            if double:
                with pytest.warns(UserWarning, match="Duplicate"):
                    made.writestr("noonshade.db", b"x")
        return out

    def link(info: zipfile.ZipInfo) -> None:
        info.external_attr = (stat.S_IFLNK | 0o777) << 16

    for made, said in ((again(link), "is a link"), (again(lambda _: None, double=True), "twice")):
        packed.write_bytes(made.getvalue())
        with pytest.raises(ArchiveError, match=said):
            restore_archive(keeper.database, keeper.files, packed)
    packed.write_bytes(b"PK\x05\x06" + bytes(18))
    with pytest.raises(ArchiveError, match="has no manifest"):
        check_archive(packed)
    packed.write_text("hello")
    with pytest.raises(ArchiveError, match="no ZIP archive"):
        check_archive(packed)
    with pytest.raises(ArchiveError, match="does not exist"):
        check_archive(packed.with_name("none.zip"))


def test_a_size_that_lies_is_not_believed(
    keeper: Keeper, packed: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(archive_module, "LARGEST_WHOLE", 1000)
    with pytest.raises(ArchiveError, match="would unpack to more"):
        check_archive(packed)
    monkeypatch.setattr(archive_module, "MOST_FILES", 1)
    with pytest.raises(ArchiveError, match="more files"):
        check_archive(packed)


# -- rotation ----------------------------------------------------------------------

T0 = datetime(2026, 1, 1, 3, tzinfo=UTC)
moments = st.lists(st.integers(0, 3000).map(lambda h: T0 + timedelta(hours=h)), max_size=60)
policies = st.builds(Policy, newest=st.integers(1, 9), weeks=st.integers(0, 9), months=st.integers(0, 9))


@given(moments, policies)
def test_the_newest_stay_and_so_does_one_a_week_and_a_month(made: list[datetime], policy: Policy) -> None:
    stay = archives_to_keep(made, policy)
    falling = sorted(set(made), reverse=True)
    assert stay <= set(made)
    assert set(falling[: policy.newest]) <= stay
    assert len(stay) <= policy.newest + policy.weeks + policy.months
    months = list(dict.fromkeys((t.year, t.month) for t in falling))[: policy.months]
    assert {max(t for t in made if (t.year, t.month) == m) for m in months} <= stay
    # What stayed once stays when it is looked at again.
    assert archives_to_keep(stay, policy) == stay


def test_backups_are_made_when_due_and_old_ones_go(keeper: Keeper, tmp_path: Path) -> None:
    backups = Backups(keeper.database, keeper.files, tmp_path / "backups")
    policy = Policy("day", newest=2, weeks=0, months=1)
    assert backups.due(policy, T0)
    assert not backups.due(Policy("off"), T0)
    (tmp_path / "backups").mkdir()
    (tmp_path / "backups" / "noonshade-mine.zip").write_text("the keeper's own")
    for day in range(4):
        backups.make(policy, T0 + timedelta(days=day))
    assert [a.made_at.day for a in backups.all()] == [4, 3]
    assert (tmp_path / "backups" / "noonshade-mine.zip").exists()
    newest = backups.all()[0].made_at
    assert not backups.due(policy, newest + timedelta(hours=23))
    assert backups.due(policy, newest + timedelta(hours=24))
    assert not backups.due(Policy("week"), newest + timedelta(days=6))
    # Two in one second have two names.
    first, second = (backups.make(policy, T0 + timedelta(days=9))[0].name for _ in range(2))
    assert first != second


def test_a_backup_that_fails_is_told(keeper: Keeper, tmp_path: Path) -> None:
    (tmp_path / "backups").write_text("a file where the folder should be")
    backups = Backups(keeper.database, keeper.files, tmp_path / "backups")
    with pytest.raises(StoreError, match="cannot be written"):
        backups.make(Policy())
    assert backups.failure is not None


def test_a_file_whose_name_is_no_date_is_left_alone(keeper: Keeper, tmp_path: Path) -> None:
    backups = Backups(keeper.database, keeper.files, tmp_path / "backups")
    backups.make(Policy(), datetime(2026, 3, 1, 12, tzinfo=UTC))
    odd = tmp_path / "backups" / "noonshade-20261399-996199.zip"
    odd.write_bytes(b"")
    assert [a.name for a in backups.all()] == ["noonshade-20260301-120000.zip"]
    with pytest.raises(NotFoundError, match="20261399"):
        backups.path(odd.name)


def test_backing_up_goes_on_after_a_failure(
    keeper: Keeper, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    monkeypatch.setattr(backups_module, "LOOK_S", 0.01)
    backups = Backups(keeper.database, keeper.files, tmp_path / "backups")
    stop, asked = threading.Event(), 0

    def policy() -> Policy:
        nonlocal asked
        asked += 1
        if asked == 1:
            raise sqlite3.OperationalError("database is locked")
        if asked == 4:
            stop.set()
        return Policy()

    with caplog.at_level("INFO", logger=backups_module.__name__):
        keep_backing_up(backups, policy, stop)
    assert "backup: database is locked" in caplog.text
    # Made at the second look, and not due at the next.
    assert len(backups.all()) == 1
    assert asked == 4
