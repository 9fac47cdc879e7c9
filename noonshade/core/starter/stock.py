"""What a first layout is made of and how large it is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from noonshade.core.plan import Lamp, Mesh, SolidMaterial

BoxKind = Literal["timber", "pvc", "glass", "mesh", "table"]
BOX_KINDS: tuple[BoxKind, ...] = ("timber", "pvc", "glass", "mesh", "table")


@dataclass(frozen=True, slots=True)
class Stock:
    """What a box can be made of: materials, meshes and lamps by id."""

    materials: Mapping[str, SolidMaterial]
    meshes: Mapping[str, Mesh]
    lamps: Mapping[str, Lamp]


@dataclass(frozen=True, slots=True)
class Size:
    """Inside sizes of a box, m."""

    length_m: float
    depth_m: float
    height_m: float
