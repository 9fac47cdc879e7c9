"""Photographs as files beside the data file, each named by the SHA-256 of what is in it.

A file that is there never changes, so a backup and a page that shows it can rely on it. Files are never
deleted here: an entry that is brought back, or an older backup, may still name them.
"""

from __future__ import annotations

import hashlib
import os
import re
import tempfile
from pathlib import Path

from noonshade.store.database import StoreError, StoreFullError, StoreReadOnlyError
from noonshade.store.errors import NotFoundError

_HASH = re.compile(r"[0-9a-f]{64}")


class PhotoFiles:
    """The folder of photographs."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def path(self, key: str) -> Path:
        """Where the file of a hash lies; ValueError if it is no hash, so that no name leads elsewhere."""
        if not _HASH.fullmatch(key):
            raise ValueError(f"{key!r} is not the hash of a photograph")
        return self.folder / key[:2] / f"{key}.jpg"

    def add(self, data: bytes) -> str:
        """Store a picture and return its hash; one that is there already is left as it is.

        Raises
        ------
        StoreError
            If it cannot be written; nothing is left half written.
        """
        key = hashlib.sha256(data).hexdigest()
        target = self.path(key)
        if target.is_file():
            return key
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            handle, name = tempfile.mkstemp(dir=target.parent, suffix=".part")
            try:
                with os.fdopen(handle, "wb") as file:
                    file.write(data)
                    file.flush()
                    os.fsync(file.fileno())
                os.replace(name, target)
            except BaseException:
                Path(name).unlink(missing_ok=True)
                raise
        except OSError as error:
            kind = StoreFullError if error.errno == 28 else StoreReadOnlyError
            raise kind(
                f"the photograph cannot be written to {target.parent}: {error.strerror}; "
                "nothing was changed"
            ) from error
        return key

    def read(self, key: str) -> bytes:
        """The picture of a hash, checked against it.

        Raises
        ------
        NotFoundError
            If there is none.
        StoreError
            If the file is damaged.
        """
        try:
            data = self.path(key).read_bytes()
        except (ValueError, OSError) as error:
            raise NotFoundError(
                "photograph", key, f"the photograph {key[:12]} is not among the files"
            ) from error
        if hashlib.sha256(data).hexdigest() != key:
            raise StoreError(f"{self.path(key)} is damaged; restore a backup to have it again")
        return data
