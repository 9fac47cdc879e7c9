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
    Leaves,
    Slab,
    Thermostat,
    Vent,
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


def part_document(thing: Fixture | Furnishing | Thermostat | Vent | Fan | ColdPack) -> dict[str, Any]:
    """A fixture, furnishing, thermostat, vent, fan or cold pack as JSON has it in a plan document."""
    plain: dict[str, Any] = asdict(thing)
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
