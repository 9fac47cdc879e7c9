"""The plan document: the JSON a plan is stored, exported and imported as, version 1.

Positions and sizes are in metres, temperatures in °C, power in watts. Reference data is named by its
catalogue id; ``resolve`` looks it up and makes the core plan.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field

from noonshade.core.constants import BEAD_M
from noonshade.core.needs.species import StageId
from noonshade.core.plan import Mount
from noonshade.formats.document import (
    Id,
    Label,
    Part,
    json_text,
    read_document,
    read_json,
    schema_of,
)
from noonshade.formats.ground_document import Coordinate, SubstrateDocument
from noonshade.formats.lamp_document import LampDocument
from noonshade.formats.species_document import SpeciesDocument
from noonshade.formats.versions import PLAN_UPGRADES
from noonshade.formats.year_document import YearDocument

FORMAT = "noonshade-plan"
VERSION = 2
LARGEST_BYTES = 1_000_000
T = TypeVar("T")


Temperature = Annotated[float, Field(ge=-30, le=60)]
SetPoint = Annotated[float, Field(ge=0, le=60)]
Size = Annotated[float, Field(ge=0.005, le=5)]
Passed = Annotated[
    float, Field(gt=0, le=1, description="share of UV found to pass, by the keeper's own meter")
]


class PointDocument(Part):
    """A position in the enclosure, metres from the inner lower front left corner."""

    x_m: Coordinate
    y_m: Coordinate
    z_m: Coordinate

    def as_tuple(self) -> tuple[float, float, float]:
        """x, y, z in metres."""
        return (self.x_m, self.y_m, self.z_m)


class MemberDocument(Part):
    """One of the animals that share an enclosure."""

    name: Annotated[str, Field(max_length=80)] = ""
    sex: Literal["male", "female", "unknown"] = "unknown"
    body_length_m: Annotated[float | None, Field(ge=0.01, le=8, description="snout to vent, m")] = None


class AnimalDocument(Part):
    """Who lives in the enclosure."""

    species_id: Id
    body_length_m: Annotated[float, Field(ge=0.01, le=8, description="snout to vent, m")]
    back_height_m: Annotated[float, Field(ge=0.002, le=1, description="back above the ground, m")]
    stage: StageId = "adult"
    count: Annotated[int, Field(ge=1, le=50, description="animals that share the enclosure")] = 1
    school: Annotated[
        Literal["overlap", "average", "careful", "home"],
        Field(description="how sources that disagree are settled"),
    ] = "overlap"
    low_pigment: Annotated[bool, Field(description="low pigment, or hurt eyes or skin: half the UV")] = (
        False
    )
    members: Annotated[
        list[MemberDocument], Field(max_length=50, description="the animals that are known, if any")
    ] = []


Humidity = Annotated[float, Field(ge=0.05, le=1, description="share, 0.05 to 1")]
Hour = Annotated[float, Field(ge=0, le=24, description="hour of the day")]


class RoomClimateDocument(Part):
    """The room in one season: highest by day, lowest by night."""

    day_temperature_c: Temperature
    night_temperature_c: Temperature
    relative_humidity: Humidity


class RoomDocument(Part):
    """The room around the enclosure, and in its coldest and warmest month."""

    day_temperature_c: Temperature
    night_temperature_c: Temperature
    relative_humidity: Humidity
    winter: RoomClimateDocument | None = None
    summer: RoomClimateDocument | None = None
    tariff_per_kwh: Annotated[float, Field(ge=0, le=1000, description="price of electricity")] = 0.30
    months: Annotated[
        list[RoomClimateDocument], Field(max_length=12, description="January to December, or none")
    ] = []
    follows: Annotated[bool, Field(description="whether the climate set for the whole room is taken")] = (
        False
    )


class NeighbourDocument(Part):
    """What stands against a face in place of the room: another enclosure, an outside wall."""

    face: Literal["front", "back", "left", "right", "top", "floor"]
    label: Label
    day_temperature_c: Temperature
    night_temperature_c: Temperature


class SolidWallDocument(Part):
    """A wall of sheet material."""

    kind: Literal["solid"]
    material_id: Id
    thickness_m: Annotated[float, Field(ge=0.001, le=0.3)]
    measured_uv: Passed | None = None
    insulation_id: Id | None = None
    insulation_m: Annotated[float, Field(ge=0, le=0.3, description="outer layer, m")] = 0.0


class MeshWallDocument(Part):
    """A wall of wire mesh."""

    kind: Literal["mesh"]
    mesh_id: Id
    measured_uv: Passed | None = None


class OpenWallDocument(Part):
    """No wall at all, such as an open top."""

    kind: Literal["open"]


WallDocument = Annotated[
    SolidWallDocument | MeshWallDocument | OpenWallDocument, Field(discriminator="kind")
]


class WallsDocument(Part):
    """The six faces of the enclosure."""

    front: WallDocument
    back: WallDocument
    left: WallDocument
    right: WallDocument
    top: WallDocument
    floor: WallDocument


class VentDocument(Part):
    """A vent or holes in a side or in the lid: the middle and the free area of all together.

    In the lid, y runs from the front and z is not used.
    """

    side: Literal["front", "back", "left", "right", "top"]
    x_m: Annotated[float, Field(ge=0, le=5)]
    z_m: Annotated[float, Field(ge=0, le=5)]
    area_m2: Annotated[float, Field(gt=0, le=1)]
    holes: Annotated[int, Field(ge=1, le=1000, description="how many make up the area")] = 1
    y_m: Annotated[float, Field(ge=0, le=3)] = 0.0


class InsetDocument(Part):
    """A rectangle of the lid or a side made differently from the rest: a window, a closed part, a door.

    On a side y runs up from the floor; on the left and right x runs from the front.
    """

    x0_m: Annotated[float, Field(ge=0, le=5)]
    y0_m: Annotated[float, Field(ge=0, le=3)]
    x1_m: Annotated[float, Field(ge=0, le=5)]
    y1_m: Annotated[float, Field(ge=0, le=3)]
    wall: WallDocument
    face: Literal["top", "front", "back", "left", "right"] = "top"
    gap_m: Annotated[float, Field(ge=0, le=0.02, description="open slit around a door")] = 0.0


EnclosureLength = Annotated[float, Field(ge=0.15, le=5)]
EnclosureSide = Annotated[float, Field(ge=0.15, le=3)]


class EnclosureDocument(Part):
    """The enclosure by its inside size."""

    length_m: EnclosureLength
    depth_m: EnclosureSide
    height_m: EnclosureSide
    walls: WallsDocument
    vents: Annotated[list[VentDocument], Field(max_length=20)] = []
    insets: Annotated[list[InsetDocument], Field(max_length=12)] = []
    neighbours: Annotated[list[NeighbourDocument], Field(max_length=6)] = []


class FurnishingPart(Part):
    """What all furnishings have; one that is locked is not moved by hand."""

    locked: bool = False


class StackDocument(Part):
    """A pile under the middle of a slab."""

    length_m: Size
    width_m: Size


class SlabDocument(FurnishingPart):
    """A flat slab, tile, ledge or thick perch."""

    type: Literal["slab"]
    id: Id
    label: Label
    x_m: Coordinate
    y_m: Coordinate
    length_m: Size
    width_m: Size
    thickness_m: Annotated[float, Field(ge=0.003, le=0.3)]
    underside_m: Annotated[float, Field(ge=0, le=3, description="above the substrate, m")]
    material_id: Id
    basking: bool = False
    stack: StackDocument | None = None


class HideDocument(FurnishingPart):
    """A hollow hide with an opening in one side."""

    type: Literal["hide"]
    id: Id
    label: Label
    x_m: Coordinate
    y_m: Coordinate
    length_m: Size
    width_m: Size
    height_m: Size
    wall_m: Annotated[float, Field(ge=0.002, le=0.2)]
    opening: Literal["front", "back", "left", "right"]
    opening_width_m: Size
    opening_height_m: Size
    material_id: Id
    moist: bool = False


class WaterDocument(FurnishingPart):
    """A dish or pool: the sizes of its surface and the depth of the water."""

    type: Literal["water"]
    id: Id
    label: Label
    x_m: Coordinate
    y_m: Coordinate
    length_m: Size
    width_m: Size
    depth_m: Annotated[float, Field(ge=0.002, le=1)]
    material_id: Id


class BranchDocument(FurnishingPart):
    """A straight round branch between two points of its axis."""

    type: Literal["branch"]
    id: Id
    label: Label
    start_m: PointDocument
    end_m: PointDocument
    diameter_m: Annotated[float, Field(ge=0.003, le=0.4)]
    material_id: Id


class LeavesDocument(FurnishingPart):
    """A block of foliage or netting; ``porosity`` of the light passes straight down through it."""

    type: Literal["leaves"]
    id: Id
    label: Label
    x_m: Coordinate
    y_m: Coordinate
    length_m: Size
    width_m: Size
    height_m: Size
    underside_m: Annotated[float, Field(ge=0, le=3, description="above the substrate, m")]
    porosity: Annotated[float, Field(ge=0, le=0.99)]
    material_id: Id


class BackgroundDocument(FurnishingPart):
    """A panel that lines a side wall on the inside."""

    type: Literal["background"]
    id: Id
    label: Label
    side: Literal["front", "back", "left", "right"]
    thickness_m: Annotated[float, Field(ge=0.001, le=0.3)]
    material_id: Id


AnyFurnishing = (
    SlabDocument | HideDocument | BranchDocument | LeavesDocument | BackgroundDocument | WaterDocument
)
FurnishingDocument = Annotated[AnyFurnishing, Field(discriminator="type")]


class TimerDocument(Part):
    """Hours of the day between which something is on; past midnight if the end is earlier."""

    on_h: Hour
    off_h: Hour


class FixtureDocument(Part):
    """A lamp or heater as it hangs; with no angles it aims straight down and a tube lies along x."""

    id: Id
    label: Label
    lamp_id: Id
    power_w: Annotated[float, Field(gt=0, le=2000)]
    position_m: PointDocument
    lit: Literal["day", "night", "always"] = "day"
    hours: Annotated[float, Field(ge=0, le=100_000, description="burned so far")] = 100.0
    screen_id: Id | None = None
    screen_measured: Passed | None = None
    thermostat_id: Id | None = None
    turn_deg: Annotated[float, Field(ge=-180, le=180, description="about the vertical")] = 0.0
    lean_deg: Annotated[float, Field(ge=-90, le=90, description="beam to the right")] = 0.0
    tilt_deg: Annotated[float, Field(ge=-90, le=90, description="beam to the back")] = 0.0
    mount: Annotated[
        Mount,
        Field(description="how it is fixed (air: not said), or the face a mat lies against"),
    ] = "air"
    timer: Annotated[list[TimerDocument], Field(max_length=8, description="on between, not lit")] = []
    guard: Annotated[bool, Field(description="a cage keeps the animal off it")] = False
    locked: Annotated[bool, Field(description="not moved by hand")] = False


class ThermostatDocument(Part):
    """A thermostat with its probe; a set point of null means off in that period."""

    id: Id
    label: Label
    kind: Literal["on_off", "dimming", "pulse"]
    day_set_point_c: SetPoint | None
    night_set_point_c: SetPoint | None = None
    differential_k: Annotated[float, Field(ge=0, le=10)] = 1.0
    probe_m: PointDocument
    time_constant_s: Annotated[float, Field(ge=0, le=1800, description="of the probe")] = 60.0
    ramp_h: Annotated[float, Field(ge=0, le=6, description="night to day and back")] = 0.0
    cut_out_c: SetPoint | None = None


class MistingDocument(Part):
    """Water sprayed at some hours of the day."""

    hours: Annotated[list[Hour], Field(min_length=1, max_length=24)]
    litres: Annotated[float, Field(gt=0, le=20, description="each time")]


class FanDocument(Part):
    """A fan that moves room air through the enclosure."""

    id: Id
    label: Label
    flow_m3_h: Annotated[float, Field(gt=0, le=500)]
    lit: Literal["day", "night", "always"] = "always"


class ColdPackDocument(Part):
    """A frozen pack that takes heat from the air at a place for some hours."""

    id: Id
    label: Label
    x_m: Coordinate
    z_m: Coordinate
    power_w: Annotated[float, Field(gt=0, le=500)]
    start_hour: Hour
    hours: Annotated[float, Field(gt=0, le=24)]


class PinDocument(Part):
    """A place of the keeper's own whose figures are shown."""

    id: Id
    label: Label
    at_m: PointDocument
    bead_m: Annotated[
        float, Field(ge=0.0005, le=0.05, description="diameter of the temperature probe held there")
    ] = BEAD_M


class FittedValueDocument(Part):
    """One multiplier as readings settled it: what it was found on, and how long that lamp had burned."""

    id: Annotated[str, Field(min_length=1, max_length=80)]
    about: Annotated[str, Field(max_length=1000)]
    value: Annotated[float, Field(ge=-20, le=20, description="K, or the logarithm of a factor")]
    hours: Annotated[float, Field(ge=0, le=100_000)] | None = None


Covariances = Annotated[list[Annotated[float, Field(ge=-100, le=100)]], Field(max_length=120)]


class MeasuredDocument(Part):
    """Results of fitting readings; they replace the catalogue's values while ``applied``."""

    on: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$", description="the day of the last reading")]
    applied: bool = True
    values: Annotated[list[FittedValueDocument], Field(max_length=120)]
    covariance: Annotated[list[Covariances], Field(max_length=120, description="of the values, by rows")]
    measured_checks: Annotated[
        list[Annotated[str, Field(max_length=120)]],
        Field(max_length=200, description="checks whose figure was read, as place:quantity"),
    ] = []


class PlanDocument(Part):
    """A whole plan."""

    format: Literal["noonshade-plan"]
    version: Literal[2]
    name: Label
    animal: AnimalDocument
    room: RoomDocument
    enclosure: EnclosureDocument
    substrate: SubstrateDocument
    furnishings: Annotated[list[FurnishingDocument], Field(max_length=60)] = []
    fixtures: Annotated[list[FixtureDocument], Field(max_length=30)] = []
    thermostats: Annotated[list[ThermostatDocument], Field(max_length=12)] = []
    photoperiod_h: Annotated[float, Field(ge=0, le=24, description="the day's lamps are on")] = 12.0
    fog_per_m: Annotated[float, Field(ge=0, le=50, description="light lost to fog, 1/m")] = 0.0
    fog_kg_h: Annotated[float, Field(ge=0, le=5, description="water brought by fog, kg/h")] = 0.0
    mistings: Annotated[list[MistingDocument], Field(max_length=4)] = []
    fans: Annotated[list[FanDocument], Field(max_length=4)] = []
    cold_packs: Annotated[list[ColdPackDocument], Field(max_length=4)] = []
    pins: Annotated[
        list[PinDocument], Field(max_length=20, description="places whose figures are shown")
    ] = []
    lamps: Annotated[list[LampDocument], Field(max_length=30, description="own lamps used")] = []
    species: Annotated[SpeciesDocument | None, Field(description="the own species it is for")] = None
    measured: Annotated[MeasuredDocument | None, Field(description="what readings say of it")] = None
    year: Annotated[YearDocument | None, Field(description="how it goes through the year")] = None


def parse_plan(text: str | bytes) -> PlanDocument:
    """Read a plan document from JSON text.

    Raises
    ------
    DocumentError
        If it is too large, not JSON, not a plan, of another version, or has values out of range.
    """
    return plan_from(read_json(text, LARGEST_BYTES, "a plan"))


def plan_from(raw: object) -> PlanDocument:
    """Check parsed JSON and make a plan document of it; errors as in ``parse_plan``."""
    return read_document(raw, PlanDocument, FORMAT, VERSION, "plan", PLAN_UPGRADES)


def locked_in(document: PlanDocument) -> frozenset[str]:
    """Ids of the things and lamps of a document that stay as they are."""
    return frozenset(thing.id for thing in (*document.furnishings, *document.fixtures) if thing.locked)


def plan_json(document: PlanDocument) -> str:
    """The document as indented JSON text."""
    return json_text(document)


def plan_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the plan document."""
    return schema_of(PlanDocument, "Noon Shade plan, version 2")
