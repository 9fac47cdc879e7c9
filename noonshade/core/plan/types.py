"""Words for places and times used throughout a plan."""

from __future__ import annotations

from typing import Literal

Point = tuple[float, float, float]
Face = Literal["front", "back", "left", "right", "top", "floor"]
FACES: tuple[Face, ...] = ("front", "back", "left", "right", "top", "floor")
Side = Literal["front", "back", "left", "right"]
VentFace = Literal["front", "back", "left", "right", "top"]
Season = Literal["now", "winter", "summer"]
Mount = Literal["air", "floor", "front", "back", "left", "right"]
ControlKind = Literal["on_off", "dimming", "pulse"]
LampControl = Literal["on_off", "dimming", "pulse"]
LitPeriod = Literal["day", "night", "always"]
Moment = Literal["day", "night"]
