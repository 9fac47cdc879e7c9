"""Photographs as they are taken in: checked, turned upright, made smaller, and rid of all but the picture.

What comes out is drawn anew from the pixels, so neither the place it was taken at nor anything else the
camera wrote into the file is kept.
"""

from __future__ import annotations

import io
import struct
import threading
import warnings
import zlib
from dataclasses import dataclass

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from noonshade.formats.text_file import FileFormatError

LARGEST_BYTES = 25_000_000
LARGEST_PIXELS = 80_000_000
# Panoramas are long; nothing a camera makes is longer.
LARGEST_SIDE_PX = 30_000
LONGEST_SIDE = 1600
SMALL_SIDE = 320
QUALITY = 85
# One picture at a time: unpacked they are large.
_LOADING = threading.Lock()
# The kinds that are read; others, animations and vector files among them, are refused by name.
KINDS = ("JPEG", "PNG", "WEBP")


@dataclass(frozen=True, slots=True)
class Photograph:
    """A picture as JPEG, and its size in pixels."""

    jpeg: bytes
    width: int
    height: int


def make_photograph(data: bytes) -> Photograph:
    """A picture file made ready for storing.

    Raises
    ------
    FileFormatError
        If it is too large, of another kind, damaged, or has more pixels than a camera makes.
    """
    if len(data) > LARGEST_BYTES:
        raise FileFormatError(f"the picture is larger than {LARGEST_BYTES // 1_000_000} MB")
    try:
        with _LOADING, warnings.catch_warnings():
            # Its size is checked below, before any pixel is read.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            opened = Image.open(io.BytesIO(data), formats=KINDS)
            _check_size(*opened.size)
            if opened.format == "PNG":
                _check_all_rows(data, *opened.size)
            _load_whole(opened)
            return _saved(opened, LONGEST_SIDE)
    except Image.DecompressionBombError as error:
        raise FileFormatError("the picture has far more pixels than a camera makes") from error
    except UnidentifiedImageError as error:
        raise FileFormatError("this is not a JPEG, PNG or WebP picture") from error
    except (OSError, ValueError, SyntaxError, EOFError, struct.error, zlib.error) as error:
        raise FileFormatError(f"the picture is damaged: {error}") from error


def _check_size(width: int, height: int) -> None:
    if max(width, height) > LARGEST_SIDE_PX:
        raise FileFormatError(
            f"the picture has {width} × {height} pixels; at most {LARGEST_SIDE_PX:,} are read on a side"
        )
    if width * height > LARGEST_PIXELS:
        raise FileFormatError(
            f"the picture has {width} × {height} pixels; at most "
            f"{LARGEST_PIXELS // 1_000_000} million are read"
        )


# Of a PNG: samples a pixel by its colour type, and the seven passes of a picture that comes in passes,
# each from column and row on, every so many columns and rows.
_SAMPLES = {0: 1, 2: 3, 3: 1, 4: 2, 6: 4}
_PASSES = (
    *((0, 0, 8, 8), (4, 0, 8, 8), (0, 4, 4, 8), (2, 0, 4, 4)),
    *((0, 2, 2, 4), (1, 0, 2, 2), (0, 1, 1, 2)),
)


def _check_all_rows(png: bytes, width: int, height: int) -> None:
    """OSError if the packed rows of a PNG end too early: its reader takes them for black.

    They are unpacked piece by piece, and no further than the picture is large.
    """
    bits = png[24] * _SAMPLES.get(png[25], 1)
    passes = _PASSES if png[28] else ((0, 0, 1, 1),)
    wanted = 0
    for x0, y0, dx, dy in passes:
        columns, rows = -(-(width - x0) // dx), -(-(height - y0) // dy)
        if columns > 0 and rows > 0:
            wanted += rows * (1 + (columns * bits + 7) // 8)
    unpack, found, at = zlib.decompressobj(), 0, 8
    while at + 12 <= len(png) and found < wanted:
        (length,) = struct.unpack_from(">I", png, at)
        if png[at + 4 : at + 8] == b"IDAT":
            packed = png[at + 8 : at + 8 + length]
            while packed and found < wanted and not unpack.eof:
                found += len(unpack.decompress(packed, 1 << 20))
                packed = unpack.unconsumed_tail
        at += 12 + length
    if found < wanted:
        raise OSError("rows are missing")


def _load_whole(image: Image.Image) -> None:
    """Read all pixels; OSError if some are missing.

    Other libraries tell Pillow to fill torn pictures with grey, for the whole process.
    """
    before = ImageFile.LOAD_TRUNCATED_IMAGES
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    try:
        image.load()
    finally:
        ImageFile.LOAD_TRUNCATED_IMAGES = before


def small(jpeg: bytes) -> bytes:
    """A stored picture, small enough for a list."""
    with Image.open(io.BytesIO(jpeg), formats=("JPEG",)) as picture:
        return _saved(picture, SMALL_SIDE).jpeg


def _saved(image: Image.Image, side: int) -> Photograph:
    if image.mode in ("P", "PA", "1"):
        image = image.convert("RGBA")
    # Made smaller first: what follows copies it.
    image.thumbnail((side, side), Image.Resampling.LANCZOS)
    flat = ImageOps.exif_transpose(image)
    if flat.mode == "LA":
        flat = flat.convert("RGBA")
    if flat.mode == "RGBA":
        ground = Image.new("RGB", flat.size, "white")
        ground.paste(flat, mask=flat.getchannel("A"))
        flat = ground
    flat = flat.convert("RGB")
    bare = Image.new("RGB", flat.size)
    bare.paste(flat)
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=QUALITY, optimize=True)
    return Photograph(out.getvalue(), *bare.size)
