"""Words for places and times used throughout a plan."""

from __future__ import annotations

from typing import Literal

Point = tuple[float, float, float]
Face = Literal["front", "back", "left", "right", "top", "floor"]
FACES: tuple[Face, ...] = ("front", "back", "left", "right", "top", "floor")
Side = Literal["front", "back", "left", "right"]
VentFace = Literal["front", "back", "left", "right", "top"]
Season = Literal["now", "winter", "summer"]
# A mat or cable lies against a face; a lamp is screwed to the lid, hung on a chain, laid on mesh, clamped
# or fixed to a wall; ``air`` leaves open how.
Mount = Literal[
    "air",
    "screwed",
    "hung",
    "on_mesh",
    "clamped",
    "on_wall",
    "floor",
    "front",
    "back",
    "left",
    "right",
]
AGAINST: tuple[Face, ...] = ("floor", "front", "back", "left", "right")
ControlKind = Literal["on_off", "dimming", "pulse"]
LampControl = Literal["on_off", "dimming", "pulse"]
LitPeriod = Literal["day", "night", "always"]
Moment = Literal["day", "night"]
