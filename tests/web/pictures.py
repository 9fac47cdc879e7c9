"""Picture files for tests: sound ones, and ones that lie."""

from __future__ import annotations

import io
import struct
import zlib
from typing import Any

from PIL import Image


def jpeg(width: int, height: int, rotated: bool = False, place: bool = False) -> bytes:
    """A JPEG, perhaps taken with the camera on its side, perhaps with the place it was taken at."""
    exif = Image.Exif()
    if rotated:
        exif[0x0112] = 6
    if place:
        exif[0x010E] = "GPSVersion-mark"
        exif.get_ifd(0x8825)[1] = "N"
    out = io.BytesIO()
    Image.new("RGB", (width, height), "green").save(out, "JPEG", exif=exif)
    return out.getvalue()


def png(
    width: int,
    height: int,
    mode: str = "RGB",
    colour: Any = (10, 90, 200),
    claimed: tuple[int, int] | None = None,
) -> bytes:
    """A PNG; one that claims another size than it has is small as a file and huge once opened."""
    out = io.BytesIO()
    Image.new(mode, (width, height), colour).save(out, "PNG")
    data = bytearray(out.getvalue())
    if claimed is not None:
        data[16:24] = struct.pack(">II", *claimed)
        data[29:33] = struct.pack(">I", zlib.crc32(bytes(data[12:29])))
    return bytes(data)
