"""Which version of the model computes: a fingerprint of everything a result may depend on."""

from __future__ import annotations

import hashlib
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable

# The physics and the rules, the reference data, and how documents are read and results written.
PARTS = ("core", "catalog", "formats")


@cache
def model_version() -> str:
    """A fingerprint of the program's own sources and data, the same wherever they are the same.

    A number that someone has to raise would once be forgotten, and old results shown as those of the model.
    """
    found = hashlib.sha256()
    for part in PARTS:
        for name, data in sorted(_contents(files("noonshade") / part, part)):
            found.update(f"{name}:{len(data)}:".encode())
            found.update(data)
    return found.hexdigest()


def _contents(folder: Traversable, name: str) -> list[tuple[str, bytes]]:
    found = []
    for item in folder.iterdir():
        inner = f"{name}/{item.name}"
        if item.is_dir():
            if item.name != "__pycache__":
                found += _contents(item, inner)
        elif not item.name.endswith((".pyc", ".nbi", ".nbc")):
            found.append((inner, item.read_bytes()))
    return found
