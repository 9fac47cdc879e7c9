"""What the commands share: exit statuses, bad input, files."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from noonshade.core.needs.species import Species
    from noonshade.core.plan import Plan
    from noonshade.formats.plan_document import PlanDocument

OK, FAILS_CHECKS, BAD_INPUT, NOTHING_FITS = 0, 1, 2, 3
DEFAULT_PORT = 8620
DATA_FILE, PHOTO_FOLDER = "noonshade.db", "photos"


class BadInput(Exception):
    """Something the user gave cannot be used; its text is the one line shown."""


def read_plan(path: Path, species_files: Sequence[Path] = ()) -> tuple[PlanDocument, Plan]:
    """The document and core plan of a file, with species of the keeper's own from other files."""
    from noonshade.catalog import load_catalog
    from noonshade.formats.plan_document import LARGEST_BYTES, parse_plan
    from noonshade.formats.plan_from_document import resolve

    document = parse_plan(_read(path, LARGEST_BYTES, "plan"))
    own = {one.id: one for one in map(read_species, species_files)}
    return document, resolve(document, load_catalog(), None, own)


def read_species(path: Path) -> Species:
    """A species of the keeper's own from a file."""
    from noonshade.formats.species_document import LARGEST_BYTES, parse_species, species_from_document

    return species_from_document(parse_species(_read(path, LARGEST_BYTES, "species")))


def _read(path: Path, largest: int, what: str) -> bytes:
    try:
        if path.is_file() and path.stat().st_size > largest:
            raise BadInput(f"{path} is larger than {largest // 1000} kB; a {what} is far smaller")
        return path.read_bytes()
    except OSError as error:
        raise BadInput(f"{path}: {error.strerror}") from error


def ending(path: Path, allowed: tuple[str, ...]) -> str:
    """The ending of an output file; BadInput if it is none of those."""
    if path.suffix.lower() not in allowed:
        raise BadInput(f"--output {path}: must end in {' or '.join(allowed)}")
    return path.suffix.lower()


def write(path: Path, content: bytes) -> None:
    """Write a file; BadInput where that cannot be."""
    try:
        path.write_bytes(content)
    except OSError as error:
        raise BadInput(f"{path}: {error.strerror}") from error


def point_of(text: str) -> tuple[float, float, float]:
    """A point from ``X,Y,Z`` in metres; BadInput if it is none."""
    parts = text.split(",")
    try:
        x, y, z = (float(part) for part in parts)
    except ValueError as error:
        raise BadInput(f"--at {text}: three numbers in metres are needed, as in 0.3,0.3,0.2") from error
    if not all(abs(v) < 1e6 for v in (x, y, z)):
        raise BadInput(f"--at {text}: the numbers must be finite")
    return x, y, z
