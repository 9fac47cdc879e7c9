"""Pictures are taken whole or refused by name, without much memory."""

from __future__ import annotations

import io
import struct
import tracemalloc
import zlib

import pytest
from PIL import Image

from noonshade.formats.photograph import LONGEST_SIDE, make_photograph
from noonshade.formats.text_file import FileFormatError


def chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def png_of(width: int, height: int, rows: bytes, bits: int = 8, colour: int = 0, passes: int = 0) -> bytes:
    """A PNG that claims a size, with rows of our own."""
    head = struct.pack(">IIBBBBB", width, height, bits, colour, 0, 0, passes)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(rows))
        + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("width", "height", "words"),
    [
        (1, 80_000_000, "at most 30,000 are read on a side"),
        (80_000_000, 1, "at most 30,000 are read on a side"),
        (10_000, 10_000, "at most 80 million are read"),
    ],
)
def test_a_small_file_of_a_huge_picture_is_refused_before_it_is_unpacked(
    width: int, height: int, words: str
) -> None:
    tracemalloc.start()
    with pytest.raises(FileFormatError, match=words):
        make_photograph(png_of(width, height, b"\0\0"))
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert most < 10_000_000


@pytest.mark.parametrize(("bits", "colour", "row"), [(8, 0, 41), (8, 2, 121), (16, 6, 321), (1, 0, 6)])
def test_rows_that_are_missing_are_said(bits: int, colour: int, row: int) -> None:
    whole = bytes(row * 30)
    assert make_photograph(png_of(40, 30, whole, bits, colour)).width == 40
    with pytest.raises(FileFormatError, match="damaged: rows are missing"):
        make_photograph(png_of(40, 30, whole[:-1], bits, colour))


def test_a_picture_that_comes_in_passes_is_counted_by_them() -> None:
    # 5 × 5 grey: passes of 1, 1, 2, 2 rows of 2, and so on; each row has one byte more.
    sizes = [(1, 1), (1, 1), (2, 1), (1, 2), (3, 1), (2, 3), (5, 2)]
    whole = bytes(sum(rows * (1 + columns) for columns, rows in sizes))
    assert make_photograph(png_of(5, 5, whole, passes=1)).width == 5
    with pytest.raises(FileFormatError, match="rows are missing"):
        make_photograph(png_of(5, 5, whole[:-1], passes=1))


@pytest.mark.parametrize("mode", ["1", "L", "LA", "P", "RGB", "RGBA", "CMYK", "I;16"])
def test_pictures_of_every_mode_become_small_ones_in_colour(mode: str) -> None:
    out = io.BytesIO()
    Image.new(mode, (2000, 500)).save(out, "JPEG" if mode == "CMYK" else "PNG")
    made = make_photograph(out.getvalue())
    assert (made.width, made.height) == (LONGEST_SIDE, 400)
    with Image.open(io.BytesIO(made.jpeg)) as picture:
        assert picture.mode == "RGB"
