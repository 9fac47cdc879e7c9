"""Furnishings."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.plan.materials import SolidMaterial
from noonshade.core.plan.types import Point, Side


@dataclass(frozen=True, slots=True)
class Stack:
    """A solid pile under the middle of a slab, of the slab's own material."""

    length_m: float
    width_m: float


@dataclass(frozen=True, slots=True)
class Slab:
    """A flat plate: basking slab, tile, ledge or a thick straight perch.

    ``underside_m`` is the height of its underside above the substrate surface.
    """

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    thickness_m: float
    underside_m: float
    material: SolidMaterial
    basking: bool = False
    stack: Stack | None = None


@dataclass(frozen=True, slots=True)
class Hide:
    """A hollow shelter standing on the substrate, outside sizes, open on part of one side."""

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    height_m: float
    wall_m: float
    opening: Side
    opening_width_m: float
    opening_height_m: float
    material: SolidMaterial
    moist: bool = False


@dataclass(frozen=True, slots=True)
class Water:
    """A dish or pool on the substrate: sizes of its surface, and how deep the water is, in metres."""

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    depth_m: float
    material: SolidMaterial


@dataclass(frozen=True, slots=True)
class Branch:
    """A straight round branch between two points of its axis."""

    id: str
    label: str
    start_m: Point
    end_m: Point
    diameter_m: float
    material: SolidMaterial


@dataclass(frozen=True, slots=True)
class Leaves:
    """A block of foliage or netting, of which ``porosity`` passes light straight down, 0–1.

    ``underside_m`` is above the substrate surface. Light at a slant goes through more of it.
    """

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    height_m: float
    underside_m: float
    porosity: float
    material: SolidMaterial


@dataclass(frozen=True, slots=True)
class Background:
    """A panel that lines the whole of one side wall on the inside."""

    id: str
    label: str
    side: Side
    thickness_m: float
    material: SolidMaterial


Furnishing = Slab | Hide | Branch | Leaves | Background | Water
