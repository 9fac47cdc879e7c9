"""What a first layout is made of and how large it is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from noonshade.core.plan import Lamp, Mesh, SolidMaterial

EnclosureKind = Literal["timber", "pvc", "glass", "mesh", "table"]
BOX_KINDS: tuple[EnclosureKind, ...] = ("timber", "pvc", "glass", "mesh", "table")


@dataclass(frozen=True, slots=True)
class Stock:
    """What an enclosure can be made of: materials, meshes and lamps by id."""

    materials: Mapping[str, SolidMaterial]
    meshes: Mapping[str, Mesh]
    lamps: Mapping[str, Lamp]


@dataclass(frozen=True, slots=True)
class Size:
    """Inside sizes of an enclosure, m."""

    length_m: float
    depth_m: float
    height_m: float
