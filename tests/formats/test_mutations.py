"""Files with damage in them, for every reader: refused with a message of ours or read, never for long."""

from __future__ import annotations

import os
import random
import time
from collections.abc import Callable
from pathlib import Path

import pytest

from noonshade.formats.document import DocumentError
from noonshade.formats.lamp_document import document_from_lamp, lamp_json, parse_lamp
from noonshade.formats.logger_csv import guess_mapping, read_logger
from noonshade.formats.photograph import make_photograph
from noonshade.formats.photometric import parse_photometric
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.readings_csv import read_readings_csv
from noonshade.formats.species_document import document_from_species, parse_species, species_json
from noonshade.formats.spectrum_csv import parse_spectrum
from noonshade.formats.text_file import FileFormatError, decoded
from noonshade.store.archive import ArchiveError, check_archive, write_archive
from noonshade.store.database import Database
from noonshade.store.photo_files import PhotoFiles
from tests.builders import CATALOG, demo_text
from tests.formats.test_long_runs import DATA
from tests.formats.test_measurement_files import COSINE, ies, ldt
from tests.shared import seeded
from tests.web.pictures import jpeg, png

# Files over all readers; ``make fuzz`` takes 10,000.
FILES = int(os.environ.get("NOONSHADE_MUTATIONS", "500"))
SEED = int(os.environ.get("NOONSHADE_SEED", "20261201"))
LONGEST_S = 3.0
SPECIES = "crotaphytus-collaris"
REFUSED = (DocumentError, FileFormatError, ArchiveError)
PIECES = (
    b"\x00",
    b"\xff\xfe",
    b"\xed\xa0\x80",
    b"\xe2\x80\xa8",
    b'"',
    b"'",
    b",",
    b";",
    b"\n",
    b"\r",
    b"{",
    b"[",
    b"}",
    b"-",
    b"1e400",
    b"-1e10",
    b"NaN",
    b"Infinity",
    b"null",
    b"true",
    b"9" * 5000,
    b"9999-12-31T00:00:00Z",
    b"0001-01-01",
    b"+41:00",
    b"1e-320",
    b"0",
    b"=1+1",
    b" " * 300,
    b"\\ud800",
)


def logger(data: bytes) -> object:
    text = decoded(data)
    return read_logger(text, guess_mapping(text, "UTC").mapping)


def _species() -> bytes:
    return species_json(document_from_species(CATALOG.species[SPECIES])).encode()


READERS: dict[str, tuple[Callable[[bytes], object], Callable[[], bytes]]] = {
    "plan": (parse_plan, lambda: demo_text().encode()),
    "species": (
        parse_species,
        _species,
    ),
    "lamp": (parse_lamp, lambda: lamp_json(document_from_lamp(CATALOG.lamps["halogen-flood"])).encode()),
    "logger": (logger, lambda: DATA.encode()),
    "readings": (
        lambda d: read_readings_csv(decoded(d)),
        lambda: b"kind,value,x_m,y_m,z_m\nuvi_level,2.1,0.2,0.3,0.1\nair,31.5,0.2,0.3,0.2\n",
    ),
    "spectrum": (parse_spectrum, lambda: "\n".join(f"{n},{n % 7}.5" for n in range(280, 420, 5)).encode()),
    "light distribution, IES": (parse_photometric, lambda: ies([0], [COSINE]).encode()),
    "light distribution, EULUMDAT": (
        parse_photometric,
        lambda: ldt(1, [0.0], [COSINE]).encode(),
    ),
    "picture, JPEG": (make_photograph, lambda: jpeg(64, 48)),
    "picture, PNG": (make_photograph, lambda: png(32, 24)),
}


def damaged(data: bytes, chance: random.Random) -> bytes:
    """A file with one to eight changes."""
    found = bytearray(data)
    for _ in range(chance.choice((1, 1, 2, 3, 8))):
        at = chance.randrange(len(found) + 1)
        what = chance.randrange(6)
        length = chance.choice((1, 1, 4, 40, 400))
        if what == 0 and at < len(found):
            found[at] ^= 1 << chance.randrange(8)
        elif what == 1:
            del found[at : at + length]
        elif what == 2:
            found[at:at] = found[at : at + length] * chance.choice((1, 2, 20))
        elif what == 3:
            found[at:at] = chance.choice(PIECES)
        elif what == 4:
            found[at : at + length] = chance.randbytes(length)
        else:
            other = chance.randrange(len(found) + 1)
            found[at : at + length] = found[other : other + length]
        if not found:
            found += b"\n"
    return bytes(found)


def assert_survived(name: str, read: Callable[[bytes], object], data: bytes, number: int) -> None:
    begun = time.process_time()
    try:
        read(data)
    except REFUSED:
        pass
    except Exception as error:
        where = f"{name}, file {number} of seed {SEED}"
        raise AssertionError(f"{where}: {error!r} for {data[:300]!r}") from error
    assert time.process_time() - begun < LONGEST_S, (name, number)


# The library says so and goes on.
@pytest.mark.filterwarnings("ignore:Corrupt EXIF data")
@pytest.mark.parametrize("name", READERS)
def test_a_damaged_file_is_read_or_refused(name: str) -> None:
    read, make = READERS[name]
    whole, chance = make(), random.Random(f"{SEED} {name}")
    read(whole)
    for number in range(FILES // (len(READERS) + 1)):
        assert_survived(name, read, damaged(whole, chance), number)


def test_a_damaged_archive_is_refused(tmp_path: Path) -> None:
    database = Database.open(seeded(tmp_path / "d.db"))
    whole = tmp_path / "whole.zip"
    write_archive(database, PhotoFiles(tmp_path / "photos"), whole)
    data, chance = whole.read_bytes(), random.Random(f"{SEED} archive")
    broken = tmp_path / "broken.zip"
    for number in range(FILES // (len(READERS) + 1)):
        broken.write_bytes(damaged(data, chance))
        assert_survived("archive", lambda _: check_archive(broken), b"", number)
