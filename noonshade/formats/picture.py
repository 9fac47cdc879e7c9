"""One layer of one or two views as bytes: small, and read without parsing numbers.

Little-endian: the length of a header (uint32), the header as JSON padded with blanks to a multiple of four,
then for each of its ``views`` the values as float32, row by row from the bottom, or from the front.
"""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping

import numpy as np

from noonshade.core.live import Picture

MEDIA_TYPE = "application/octet-stream"


def packed_pictures(pictures: Mapping[str, Picture]) -> bytes:
    """The layer on each view, which is ``front`` or ``above``."""
    views = [
        {
            "from": view,
            "nx": picture.values.shape[1],
            "nz": picture.values.shape[0],
            "x0": picture.first_m[0],
            "x1": picture.first_m[1],
            "z0": picture.second_m[0],
            "z1": picture.second_m[1],
        }
        for view, picture in pictures.items()
    ]
    layer = next((p.layer for p in pictures.values()), None)
    header = json.dumps({"layer": layer, "views": views}).encode()
    header += b" " * (-len(header) % 4)
    values = b"".join(np.ascontiguousarray(p.values, dtype="<f4").tobytes() for p in pictures.values())
    return struct.pack("<I", len(header)) + header + values
