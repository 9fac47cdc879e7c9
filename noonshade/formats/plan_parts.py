"""Parts of a plan, made by the core, as parts of its document."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from noonshade.core.plan import (
    Background,
    Branch,
    ColdPack,
    Fan,
    Fixture,
    Furnishing,
    Hide,
    Inset,
    Leaves,
    Slab,
    Thermostat,
    Vent,
    Wall,
    Water,
)

_TYPES: dict[type, str] = {
    Slab: "slab",
    Hide: "hide",
    Branch: "branch",
    Leaves: "leaves",
    Water: "water",
    Background: "background",
}


def part_document(
    thing: Fixture | Furnishing | Thermostat | Vent | Inset | Fan | ColdPack,
) -> dict[str, Any]:
    """A fixture, a thing or another part as JSON has it in a plan document."""
    plain: dict[str, Any] = asdict(thing)
    if isinstance(thing, Inset):
        plain["wall"] = wall_document(thing.wall)
    for name in ("start_m", "end_m", "probe_m", "position_m"):
        if name in plain:
            plain[name] = dict(zip(("x_m", "y_m", "z_m"), plain[name], strict=True))
    if isinstance(thing, Fixture):
        plain["lamp_id"] = plain.pop("lamp")["id"]
        screen = plain.pop("screen")
        plain["screen_id"] = None if screen is None else screen["id"]
        plain["timer"] = [{"on_h": on, "off_h": off} for on, off in thing.timer]
    if type(thing) in _TYPES:
        material = plain.pop("material")
        plain = {"type": _TYPES[type(thing)], **plain, "material_id": material["id"]}
    return plain


def wall_document(wall: Wall) -> dict[str, Any]:
    """A wall as JSON has it in a plan document."""
    if wall.material is not None:
        return {
            "kind": "solid",
            "material_id": wall.material.id,
            "thickness_m": wall.thickness_m,
            "measured_uv": wall.measured_uv,
            "insulation_id": None if wall.insulation is None else wall.insulation.id,
            "insulation_m": wall.insulation_m,
        }
    if wall.mesh is not None:
        return {"kind": "mesh", "mesh_id": wall.mesh.id, "measured_uv": wall.measured_uv}
    return {"kind": "open"}
