"""What a plan is: animal, room, enclosure, furnishings, fixtures and controls.

Everything is in SI units (metres, watts, degrees Celsius for temperatures). ``x`` runs along the
length from left to right, ``y`` from the front glass to the back, ``z`` up from the inside floor;
the origin is the inner lower front left corner. Reference data (lamps, materials, species) is
already resolved: a plan holds the objects, not their names.
"""

from __future__ import annotations

from noonshade.core.plan.enclosure import Enclosure, Inset, Neighbour, Vent, Wall
from noonshade.core.plan.equipment import ColdPack, Fan, Fixture, Misting, Thermostat, Timer, hours_on_timer
from noonshade.core.plan.furnishings import (
    Background,
    Branch,
    Furnishing,
    Hide,
    Leaves,
    Slab,
    Stack,
    Water,
)
from noonshade.core.plan.ground import Burrow, Layer, Parts, Substrate, Zone
from noonshade.core.plan.lamps import (
    HOT_KINDS,
    LAMP_KINDS,
    STRAY_SHARE,
    Ageing,
    BeamSource,
    Lamp,
    LampSpread,
    LineSource,
    PanelSource,
    SourceGeometry,
    TableSource,
    UvReference,
)
from noonshade.core.plan.materials import Finish, Mesh, Screen, SolidMaterial, mixture
from noonshade.core.plan.plan import Animal, Measured, Member, Plan, Sex
from noonshade.core.plan.room import WARMEST_HOUR, Room, RoomClimate, daily_cycle
from noonshade.core.plan.types import (
    FACES,
    ControlKind,
    Face,
    LampControl,
    LitPeriod,
    Moment,
    Mount,
    Point,
    Season,
    Side,
    VentFace,
)

__all__ = [
    "FACES",
    "HOT_KINDS",
    "LAMP_KINDS",
    "STRAY_SHARE",
    "WARMEST_HOUR",
    "Ageing",
    "Animal",
    "Background",
    "BeamSource",
    "Branch",
    "Burrow",
    "ColdPack",
    "ControlKind",
    "Enclosure",
    "Face",
    "Fan",
    "Finish",
    "Fixture",
    "Furnishing",
    "Hide",
    "Inset",
    "Lamp",
    "LampControl",
    "LampSpread",
    "Layer",
    "Leaves",
    "LineSource",
    "LitPeriod",
    "Measured",
    "Member",
    "Mesh",
    "Misting",
    "Moment",
    "Mount",
    "Neighbour",
    "PanelSource",
    "Parts",
    "Plan",
    "Point",
    "Room",
    "RoomClimate",
    "Screen",
    "Season",
    "Sex",
    "Side",
    "Slab",
    "SolidMaterial",
    "SourceGeometry",
    "Stack",
    "Substrate",
    "TableSource",
    "Thermostat",
    "Timer",
    "UvReference",
    "Vent",
    "VentFace",
    "Wall",
    "Water",
    "Zone",
    "daily_cycle",
    "hours_on_timer",
    "mixture",
]
