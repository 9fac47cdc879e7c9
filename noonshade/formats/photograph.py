"""Photographs as they are taken in: checked, turned upright, made smaller, and rid of all but the picture.

What comes out is drawn anew from the pixels, so neither the place it was taken at nor anything else the
camera wrote into the file is kept.
"""

from __future__ import annotations

import io
import threading
import warnings
from dataclasses import dataclass

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from noonshade.formats.text_file import FileFormatError

LARGEST_BYTES = 25_000_000
LARGEST_PIXELS = 80_000_000
LONGEST_SIDE = 1600
SMALL_SIDE = 320
QUALITY = 85
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
        with warnings.catch_warnings():
            # Its size is checked below, before any pixel is read.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            opened = Image.open(io.BytesIO(data), formats=KINDS)
            width, height = opened.size
            if width * height > LARGEST_PIXELS:
                raise FileFormatError(
                    f"the picture has {width} × {height} pixels; at most "
                    f"{LARGEST_PIXELS // 1_000_000} million are read"
                )
            _load_whole(opened)
            upright = ImageOps.exif_transpose(opened)
    except Image.DecompressionBombError as error:
        raise FileFormatError("the picture has far more pixels than a camera makes") from error
    except UnidentifiedImageError as error:
        raise FileFormatError("this is not a JPEG, PNG or WebP picture") from error
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise FileFormatError(f"the picture is damaged: {error}") from error
    return _saved(upright, LONGEST_SIDE)


def _load_whole(image: Image.Image) -> None:
    """Read all pixels; OSError if some are missing.

    Other libraries tell Pillow to fill torn pictures with grey, for the whole process.
    """
    with _LOADING:
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
    flat = image.convert("RGBA") if image.mode in ("P", "LA", "PA") else image
    if flat.mode == "RGBA":
        ground = Image.new("RGB", flat.size, "white")
        ground.paste(flat, mask=flat.getchannel("A"))
        flat = ground
    flat = flat.convert("RGB")
    flat.thumbnail((side, side), Image.Resampling.LANCZOS)
    bare = Image.new("RGB", flat.size)
    bare.paste(flat)
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=QUALITY, optimize=True)
    return Photograph(out.getvalue(), *bare.size)
