"""The folder of a keeper's data: used by one program at a time, and readable by its owner only."""

from __future__ import annotations

import fcntl
import os
import stat
from contextlib import suppress
from pathlib import Path
from typing import IO

from noonshade.store.database import StoreError

LOCK_FILE = "noonshade.lock"
OWNER_ONLY = 0o700


class FolderInUseError(StoreError):
    """Another running program uses the folder."""


def can_write(folder: Path, data_file: str) -> bool:
    """Whether a folder, and a data file that is there, may be written."""
    path = folder / data_file
    return os.access(folder, os.W_OK) and (not path.exists() or os.access(path, os.W_OK))


def prepare_folder(folder: Path, data_file: str) -> None:
    """Make a folder, or make one that is ours readable by its owner only.

    A folder that holds something else is left as it is. What is written from now on is readable by its
    owner only as well.

    Raises
    ------
    StoreError
        If it cannot be made.
    """
    os.umask(0o077)
    try:
        folder.mkdir(mode=OWNER_ONLY, parents=True, exist_ok=True)
    except OSError as error:
        raise StoreError(f"the folder {folder} cannot be used: {error.strerror or error}") from error
    ours = (folder / data_file).exists() or not any(folder.iterdir())
    info = folder.stat()
    if ours and info.st_uid == os.geteuid() and stat.S_IMODE(info.st_mode) & 0o077:
        # What may only be read stays as it is.
        with suppress(OSError):
            folder.chmod(OWNER_ONLY)


def lock_folder(folder: Path) -> IO[str] | None:
    """Take a folder for this program, until the file that is returned is closed.

    None where nothing can be written there: then nothing can be lost either.

    Raises
    ------
    FolderInUseError
        If another program has it, naming its process.
    """
    path = folder / LOCK_FILE
    try:
        held = path.open("a+", encoding="utf-8")
    except OSError:
        return None
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        held.seek(0)
        other = held.read(20).strip()
        held.close()
        by = f" (process {other})" if other.isdecimal() else ""
        raise FolderInUseError(
            f"another Noon Shade{by} uses the folder {folder}; stop it, or choose another with --data"
        ) from error
    held.truncate(0)
    held.write(str(os.getpid()))
    held.flush()
    return held
