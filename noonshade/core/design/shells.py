"""Walls, lid and vents of the kinds of enclosure keepers use, from well closed to wide open."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from noonshade.core.needs.species import Species, StageId
from noonshade.core.plan import Enclosure, Face, Inset, Lamp, Mesh, SolidMaterial, Vent, Wall

EnclosureKind = Literal["timber", "pvc", "glass", "mesh", "table"]
BOX_KINDS: tuple[EnclosureKind, ...] = ("timber", "pvc", "glass", "mesh", "table")
SIDES: tuple[Face, ...] = ("front", "back", "left", "right")
# Vents of closed enclosures as a share of the floor, from nearly closed to as many as are ever cut; and the
# slit under the front panes of one of glass, m. Estimates from how such boxes are sold and built.
VENT_SHARE = (0.002, 0.12)
SLIT_M = (0.001, 0.02)
# How much of a mesh lid is left open: all, the part over the warm end, only where lamps shine in, a strip
# at the back, a slit there.
OPEN_LID, HALF_LID, LAMP_LID, STRIP_LID, SLIT_LID = 1.0, 0.45, 0.3, 0.12, 0.06


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


# Enclosures of glass are no longer or higher than this, m. Estimate.
LARGE_GLASS_M = 1.6
# In closed boxes less deep or high than this a bulb is too near to walls that burn, m. Estimate.
SMALL_BOX_M = 0.42


def usual_kind(species: Species, stage: StageId = "adult", size: Size | None = None) -> EnclosureKind:
    """The kind of enclosure keepers most often build for such an animal.

    Parameters
    ----------
    species : Species
        The species.
    stage : StageId
        Stage of life.
    size : Size or None
        Inside sizes, m, where they are known.

    Returns
    -------
    EnclosureKind
        By its group, habits, warmth and size: lamps have no room in small closed boxes, and hang over a
        lid of mesh.
    """
    habits = species.habits_at(stage)
    if species.group == "tortoise":
        return "table"
    if "aquatic" in habits:
        return "glass"
    if "half aquatic" in habits:
        # Large ones of glass are not built, and do not hold warmth.
        return "pvc" if size is not None and max(size.length_m, size.height_m) > LARGE_GLASS_M else "glass"
    if species.group == "snake":
        return "pvc"
    if species.group == "lizard":
        if size is not None and min(size.depth_m, size.height_m) < SMALL_BOX_M:
            return "glass"
        return "mesh" if "climbing" in habits and "ground" not in habits else "timber"
    return "glass"


def shell(
    size: Size,
    kind: EnclosureKind,
    openness: float,
    ground_m: float,
    stock: Stock,
    lid_share: float = OPEN_LID,
) -> Enclosure:
    """An enclosure of a kind.

    Parameters
    ----------
    size : Size
        Inside sizes, m.
    kind : EnclosureKind
        What it is built of.
    openness : float
        From 0, as closed as is built, to 1, as open as is built; meshes and tables know no other.
    ground_m : float
        Depth of the ground, m: vents lie above it.
    stock : Stock
        Materials and meshes.
    lid_share : float
        How much of the mesh lid of one of glass is left open.

    Returns
    -------
    Enclosure
        Its walls, vents and the covered part of its lid.
    """
    sheet, mesh = stock.materials, stock.meshes
    length, depth, height = size.length_m, size.depth_m, size.height_m
    clear = height - ground_m
    low = round(ground_m + 0.15 * clear, 3)
    high = round(height - min(0.08, 0.2 * clear), 3)
    glass = Wall(sheet["glass"], 0.004)
    if kind == "mesh":
        screen = Wall(mesh=mesh["aluminium-0.28-1.6"])
        walls = {**dict.fromkeys(SIDES, screen), "top": screen, "floor": Wall(sheet["pvc"], 0.005)}
        return Enclosure(length, depth, height, walls)
    if kind == "glass":
        lid = Wall(mesh=mesh["medium-0.7-4.0"])
        walls = {**dict.fromkeys(SIDES, glass), "top": lid, "floor": glass}
        gap = SLIT_M[0] * (SLIT_M[1] / SLIT_M[0]) ** openness
        slit = Vent("front", round(length / 2, 3), low, round(gap * 0.9 * length, 5))
        if lid_share >= OPEN_LID:
            return Enclosure(length, depth, height, walls, (slit,))
        # Lamps shine through the mesh that is left.
        if lid_share >= LAMP_LID:
            cover = Inset(round(lid_share * length, 3), 0.0, length, depth, glass)
        else:
            cover = Inset(0.0, 0.0, length, round((1.0 - lid_share) * depth, 3), glass)
        return Enclosure(length, depth, height, walls, (slit,), (cover,))
    if kind == "table":
        board = Wall(sheet["timber"], 0.018)
        return Enclosure(
            length, depth, height, {**dict.fromkeys(SIDES, board), "top": Wall(), "floor": board}
        )
    board = Wall(sheet["timber"], 0.015) if kind == "timber" else Wall(sheet["pvc-foam"], 0.01)
    walls = {**dict.fromkeys(SIDES, board), "front": glass, "top": board, "floor": board}
    share = VENT_SHARE[0] * (VENT_SHARE[1] / VENT_SHARE[0]) ** openness
    area = round(max(share * length * depth / 2, 2e-4), 5)
    return Enclosure(
        length, depth, height, walls, (Vent("right", length, low, area), Vent("left", 0.0, high, area))
    )
