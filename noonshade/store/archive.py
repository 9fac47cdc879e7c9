"""Backups as one open archive, and the way back.

An archive is a ZIP file: ``manifest.json`` with the SHA-256 and size of everything, ``noonshade.db``
(SQLite), ``photos/`` with the pictures, and ``plans/`` with a readable copy of each plan. An archive is
looked through to its last byte before anything of it is used, and whatever is wrong with it leaves the data
as they were.
"""

from __future__ import annotations

import errno
import hashlib
import json
import os
import re
import shutil
import sqlite3
import stat
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from noonshade.store.database import (
    Database,
    StoreError,
    StoreFullError,
    StoreReadOnlyError,
    migrations,
    now,
    translated,
)
from noonshade.store.errors import NotFoundError
from noonshade.store.photo_files import PhotoFiles

FORMAT, VERSION = "noonshade-backup", 1
DATA, MANIFEST, ABOUT = "noonshade.db", "manifest.json", "README.txt"
LARGEST_MANIFEST = 20_000_000
LARGEST_FILE = 4_000_000_000
LARGEST_WHOLE = 20_000_000_000
# Nothing of ours is pressed together more than this: databases about ten times, pictures hardly.
MOST_PRESSED = 400
MOST_FILES = 500_000
_PHOTO = re.compile(r"photos/([0-9a-f]{64})\.jpg")
_PLAN = re.compile(r"plans/[A-Za-z0-9][A-Za-z0-9_.-]{0,63}\.json")
_CHUNK = 1 << 20
_TEXT = """A backup of Noon Shade.

noonshade.db   everything, as an SQLite database
photos/        the photographs of the logbook, named by the SHA-256 of their contents
plans/         a readable copy of each plan (JSON)
manifest.json  what is in here, with sizes and SHA-256

To go back to it: python -m noonshade restore THIS-FILE, or the screen "Backups".
"""


class ArchiveError(StoreError):
    """An archive that cannot be used; nothing was changed."""


@dataclass(frozen=True, slots=True)
class Contents:
    """What an archive holds: when it was made, rows by table, how many photographs.

    ``missing_photos`` were lost or damaged already when it was made.
    """

    made_at: str
    schema: int
    rows: dict[str, int]
    photos: int
    bytes: int
    missing_photos: int = 0


def write_archive(database: Database, files: PhotoFiles, target: Path) -> Contents:
    """Write everything to one archive, restore it beside to check it, and only then give it its name.

    Raises
    ------
    StoreError
        If the target exists or cannot be written, a photograph is missing or damaged, or what was
        restored from it is not what went in.
    """
    if target.exists():
        raise StoreError(f"{target} exists already; name a new file")
    with _os_errors(target.parent):
        target.parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=target.parent, prefix=".noonshade-", suffix=".part")
        os.close(handle)
        part = Path(name)
    try:
        with _os_errors(target.parent), tempfile.TemporaryDirectory(dir=target.parent) as beside:
            _write(database, files, part, Path(beside))
            contents = check_archive(part)
            # Another writer may have taken the name meanwhile.
            if target.exists():
                raise StoreError(f"{target} exists already; name a new file")
            os.replace(part, target)
    finally:
        part.unlink(missing_ok=True)
    return contents


def check_archive(source: Path) -> Contents:
    """Restore an archive into a separate folder, look at all of it, and throw that away.

    Raises
    ------
    ArchiveError
        If anything is damaged, missing, unknown or not as its manifest says.
    """
    with unpacked(source, source.parent) as (folder, manifest):
        rows = row_counts(folder / DATA)
        if rows != manifest["rows"]:
            raise ArchiveError(f"{source.name}: its data are not those its manifest counts")
        return Contents(
            manifest["made_at"],
            manifest["schema"],
            rows,
            len(list((folder / "photos").glob("*.jpg"))),
            source.stat().st_size,
            len(manifest.get("missing_photos", ())),
        )


def restore_archive(database: Database, files: PhotoFiles, source: Path) -> Path:
    """Replace everything by the contents of an archive; the previous data are moved to a folder beside.

    Photographs are added first, which changes nothing, since no file of another content has their names;
    then the data are replaced in one step. Returns the path of the safety copy of the data.

    Raises
    ------
    StoreError
        If the archive is damaged, not ours or from a newer version; the data are unchanged.
    """
    with unpacked(source, database.path.parent) as (folder, _):
        for picture in sorted((folder / "photos").glob("*.jpg")):
            files.add(picture.read_bytes())
        return database.restore(folder / DATA)


@contextmanager
def unpacked(source: Path, beside: Path) -> Iterator[tuple[Path, dict[str, Any]]]:
    """An archive unpacked into a new folder in ``beside``, wholly checked, with its manifest."""
    if not source.is_file():
        raise ArchiveError(f"{source} does not exist")
    try:
        with (
            zipfile.ZipFile(source) as packed,
            tempfile.TemporaryDirectory(prefix=".noonshade-", dir=beside) as name,
        ):
            folder = Path(name)
            (folder / "photos").mkdir()
            manifest = _manifest(packed, source)
            known = _members(packed, source)
            _same_names(set(known), set(manifest["files"]), source)
            for path, said in manifest["files"].items():
                _unpack(packed, known[path], said, folder, source)
            _sound(folder, manifest, source)
            yield folder, manifest
    except StoreError:
        raise
    except OSError as error:
        # Of a place in the file that cannot be, not of the disk.
        if error.errno != errno.EINVAL:
            raise
        raise ArchiveError(f"{source.name} is damaged ({error.strerror}); use another backup") from error
    except zipfile.BadZipFile as error:
        raise ArchiveError(f"{source.name} is damaged or no ZIP archive ({error})") from error
    except zlib.error as error:
        raise ArchiveError(f"{source.name} is damaged ({error}); use another backup") from error
    except (NotImplementedError, RuntimeError, EOFError, UnicodeDecodeError) as error:
        raise ArchiveError(f"{source.name} is packed in a way that is not read here ({error})") from error


def _write(database: Database, files: PhotoFiles, part: Path, beside: Path) -> None:
    copy = beside / DATA
    database.backup(copy)
    with closing(sqlite3.connect(copy)) as connection, translated(copy):
        hashes = [r[0] for r in connection.execute("SELECT DISTINCT hash FROM photos ORDER BY hash")]
        plans = connection.execute(
            "SELECT p.id, r.document FROM plans p "
            "JOIN revisions r ON r.plan_id = p.id AND r.number = p.head"
        ).fetchall()
        schema = int(connection.execute("PRAGMA user_version").fetchone()[0])
    said: dict[str, dict[str, Any]] = {}
    missing: list[str] = []
    with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as packed:

        def add(name: str, data: bytes, how: int = zipfile.ZIP_DEFLATED) -> None:
            packed.writestr(zipfile.ZipInfo(name, _when()), data, how)
            said[name] = {"sha256": hashlib.sha256(data).hexdigest(), "bytes": len(data)}

        packed.writestr(zipfile.ZipInfo(ABOUT, _when()), _TEXT)
        add(DATA, copy.read_bytes())
        for key in hashes:
            try:
                add(f"photos/{key}.jpg", files.read(key), zipfile.ZIP_STORED)
            except (NotFoundError, StoreError):
                # Lost before this backup: it is mentioned, and what remains is still worth backing up.
                missing.append(key)
        for plan_id, document in plans:
            if _PLAN.fullmatch(f"plans/{plan_id}.json"):
                add(f"plans/{plan_id}.json", document.encode())
        manifest = {
            "format": FORMAT,
            "version": VERSION,
            "made_at": now(),
            "schema": schema,
            "rows": row_counts(copy),
            "missing_photos": missing,
            "files": said,
        }
        packed.writestr(zipfile.ZipInfo(MANIFEST, _when()), json.dumps(manifest, indent=1))


def row_counts(path: Path) -> dict[str, int]:
    """Rows of each table of a data file."""
    with closing(sqlite3.connect(path)) as connection, translated(path):
        names = [
            row[0]
            for row in connection.execute(
                "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' "
                "AND name NOT LIKE 'entry_words%' ORDER BY name"
            )
        ]
        return {
            name: int(connection.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0])  # noqa: S608
            for name in names
        }


def _manifest(packed: zipfile.ZipFile, source: Path) -> dict[str, Any]:
    try:
        info = packed.getinfo(MANIFEST)
    except KeyError as error:
        raise ArchiveError(f"{source.name} is no backup of Noon Shade: it has no {MANIFEST}") from error
    if info.file_size > LARGEST_MANIFEST:
        raise ArchiveError(f"{source.name}: its {MANIFEST} is far too large")
    with packed.open(info) as file:
        text = file.read(LARGEST_MANIFEST + 1)
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ArchiveError(f"{source.name}: its {MANIFEST} is not JSON") from error
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise ArchiveError(f"{source.name} is no backup of Noon Shade")
    if found.get("version") != VERSION:
        raise ArchiveError(
            f"{source.name} is a backup of version {found.get('version')!r}; this program reads {VERSION}. "
            "Update the program"
        )
    schema = found.get("schema")
    if not isinstance(schema, int) or schema > migrations()[-1].number:
        raise ArchiveError(f"{source.name} is from a newer version of Noon Shade; update the program")
    files = found.get("files")
    sound = (
        isinstance(files, dict)
        and DATA in files
        and isinstance(found.get("rows"), dict)
        and isinstance(found.get("made_at"), str)
        and all(
            isinstance(one, dict)
            and isinstance(one.get("sha256"), str)
            and isinstance(one.get("bytes"), int)
            and not isinstance(one.get("bytes"), bool)
            for one in files.values()
        )
    )
    if not sound:
        raise ArchiveError(f"{source.name}: its {MANIFEST} does not say what it should")
    return found


def _members(packed: zipfile.ZipFile, source: Path) -> dict[str, zipfile.ZipInfo]:
    """Files of an archive by name, every name and size looked at before anything is unpacked."""
    found: dict[str, zipfile.ZipInfo] = {}
    infos = packed.infolist()
    if len(infos) > MOST_FILES:
        raise ArchiveError(f"{source.name} holds more files than any backup of ours")
    for info in infos:
        name = info.filename
        if name in (MANIFEST, ABOUT):
            continue
        if name != DATA and not _PHOTO.fullmatch(name) and not _PLAN.fullmatch(name):
            raise ArchiveError(f"{source.name} holds {name[:80]!r}, which no backup of ours does")
        if name in found:
            raise ArchiveError(f"{source.name} holds {name!r} twice")
        if stat.S_ISLNK(info.external_attr >> 16):
            raise ArchiveError(f"{source.name}: {name!r} is a link")
        if info.file_size > LARGEST_FILE or info.file_size > MOST_PRESSED * max(info.compress_size, 1000):
            raise ArchiveError(f"{source.name}: {name!r} would unpack to {info.file_size:,} bytes")
        found[name] = info
    if sum(info.file_size for info in found.values()) > LARGEST_WHOLE:
        raise ArchiveError(f"{source.name} would unpack to more than {LARGEST_WHOLE // 10**9} GB")
    return found


def _same_names(packed: set[str], said: set[str], source: Path) -> None:
    for names, what in ((said - packed, "is missing"), (packed - said, "is not in its manifest")):
        if names:
            raise ArchiveError(f"{source.name}: {min(names)[:80]!r} {what}")


def _unpack(
    packed: zipfile.ZipFile, info: zipfile.ZipInfo, said: dict[str, Any], folder: Path, source: Path
) -> None:
    """Unpack one file if it is what the manifest says, to the byte."""
    wrong = ArchiveError(f"{source.name}: {info.filename!r} is not what its manifest says; it is damaged")
    if info.file_size != said["bytes"]:
        raise wrong
    photo = _PHOTO.fullmatch(info.filename)
    keep = info.filename == DATA or photo is not None
    # The names are ours by now: no path of the archive's own is followed.
    target = folder / (f"photos/{photo[1]}.jpg" if photo else DATA)
    digest, size = hashlib.sha256(), 0
    with packed.open(info) as file, _os_errors(folder), open(target if keep else os.devnull, "wb") as out:
        while piece := file.read(_CHUNK):
            size += len(piece)
            if size > said["bytes"]:
                raise wrong
            digest.update(piece)
            out.write(piece)
    named = photo is None or photo[1] == digest.hexdigest()
    if size != said["bytes"] or digest.hexdigest() != said["sha256"] or not named:
        raise wrong


def _sound(folder: Path, manifest: dict[str, Any], source: Path) -> None:
    """The database of an unpacked archive, opened and brought up to date where it lies."""
    path = folder / DATA
    try:
        with closing(sqlite3.connect(f"{path.as_uri()}?mode=ro", uri=True)) as connection, translated(path):
            check = connection.execute("PRAGMA integrity_check(1)").fetchone()[0]
            loose = connection.execute("PRAGMA foreign_key_check").fetchone()
            schema = int(connection.execute("PRAGMA user_version").fetchone()[0])
        if check != "ok" or loose is not None or schema != manifest["schema"]:
            raise ArchiveError(f"{source.name}: the data in it are damaged")
        # As it will be once restored; a copy, so that the packed rows are counted.
        rehearsal = folder / "rehearsal.db"
        shutil.copyfile(path, rehearsal)
        Database.open(rehearsal)
    except ArchiveError:
        raise
    except StoreError as error:
        raise ArchiveError(f"{source.name}: the data in it cannot be used ({error})") from error


def _when() -> tuple[int, int, int, int, int, int]:
    text = now()
    return (
        max(1980, int(text[:4])),
        int(text[5:7]),
        int(text[8:10]),
        int(text[11:13]),
        int(text[14:16]),
        int(text[17:19]),
    )


@contextmanager
def _os_errors(folder: Path) -> Iterator[None]:
    try:
        yield
    except OSError as error:
        kind = StoreFullError if error.errno == 28 else StoreReadOnlyError
        raise kind(f"{folder} cannot be written: {error.strerror}; nothing was changed") from error
