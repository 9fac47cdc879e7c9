"""The plan document: the JSON a plan is stored, exported and imported as, version 1.

Positions and sizes are in metres, temperatures in °C, power in watts. Reference data is named by its
catalogue id; ``resolve`` looks it up and makes the core plan.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field

from noonshade.catalog import Catalog
from noonshade.core.needs.model import Species
from noonshade.core.plan import (
    Animal,
    Background,
    Box,
    Branch,
    ColdPack,
    Fan,
    Fixture,
    Furnishing,
    Hide,
    Inset,
    Lamp,
    Leaves,
    Misting,
    Neighbour,
    Plan,
    Room,
    RoomClimate,
    Screen,
    Slab,
    SolidMaterial,
    Stack,
    Substrate,
    Thermostat,
    Vent,
    Wall,
    Water,
)
from noonshade.core.validate import plan_errors
from noonshade.formats.document import (
    DocumentError,
    Id,
    Label,
    Part,
    Problem,
    json_text,
    read_document,
    read_json,
    schema_of,
)
from noonshade.formats.lamp_document import LampDocument, lamp_from_document
from noonshade.formats.species_document import SpeciesDocument, species_from_document

FORMAT = "noonshade-plan"
VERSION = 1
LARGEST_BYTES = 1_000_000
T = TypeVar("T")


Temperature = Annotated[float, Field(ge=-30, le=60)]
SetPoint = Annotated[float, Field(ge=0, le=60)]
Size = Annotated[float, Field(ge=0.005, le=5)]
Coordinate = Annotated[float, Field(ge=-1, le=6)]
Passed = Annotated[
    float, Field(gt=0, le=1, description="share of UV found to pass, by the keeper's own meter")
]


class PointDocument(Part):
    """A position in the box, metres from the inner lower front left corner."""

    x_m: Coordinate
    y_m: Coordinate
    z_m: Coordinate

    def as_tuple(self) -> tuple[float, float, float]:
        """x, y, z in metres."""
        return (self.x_m, self.y_m, self.z_m)


class AnimalDocument(Part):
    """Who lives in the box."""

    species_id: Id
    body_length_m: Annotated[float, Field(ge=0.01, le=3, description="snout to vent, m")]
    back_height_m: Annotated[float, Field(ge=0.002, le=1, description="back above the ground, m")]
    stage: Literal["adult", "young", "larva"] = "adult"
    count: Annotated[int, Field(ge=1, le=50, description="animals that share the box")] = 1
    school: Annotated[
        Literal["overlap", "average", "careful", "home"],
        Field(description="how sources that disagree are settled"),
    ] = "overlap"
    low_pigment: Annotated[bool, Field(description="low pigment, or hurt eyes or skin: half the UV")] = (
        False
    )


Humidity = Annotated[float, Field(ge=0.05, le=1, description="share, 0.05 to 1")]
Hour = Annotated[float, Field(ge=0, le=24, description="hour of the day")]


class RoomClimateDocument(Part):
    """The room in one season: highest by day, lowest by night."""

    day_temperature_c: Temperature
    night_temperature_c: Temperature
    relative_humidity: Humidity


class RoomDocument(Part):
    """The room around the box, and in its coldest and warmest month."""

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
    """What stands against a face in place of the room: another box, an outside wall."""

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
    """The six faces of the box."""

    front: WallDocument
    back: WallDocument
    left: WallDocument
    right: WallDocument
    top: WallDocument
    floor: WallDocument


class VentDocument(Part):
    """A vent in a side wall: its middle and its free area."""

    side: Literal["front", "back", "left", "right"]
    x_m: Annotated[float, Field(ge=0, le=5)]
    z_m: Annotated[float, Field(ge=0, le=5)]
    area_m2: Annotated[float, Field(gt=0, le=1)]


class InsetDocument(Part):
    """A rectangle of the lid or a side made otherwise than the rest: a window, a closed part, a door.

    On a side y runs up from the floor; on the left and right x runs from the front.
    """

    x0_m: Annotated[float, Field(ge=0, le=5)]
    y0_m: Annotated[float, Field(ge=0, le=3)]
    x1_m: Annotated[float, Field(ge=0, le=5)]
    y1_m: Annotated[float, Field(ge=0, le=3)]
    wall: WallDocument
    face: Literal["top", "front", "back", "left", "right"] = "top"
    gap_m: Annotated[float, Field(ge=0, le=0.02, description="open slit around a door")] = 0.0


BoxLength = Annotated[float, Field(ge=0.15, le=5)]
BoxSide = Annotated[float, Field(ge=0.15, le=3)]


class BoxDocument(Part):
    """The box by its inside size."""

    length_m: BoxLength
    depth_m: BoxSide
    height_m: BoxSide
    walls: WallsDocument
    vents: Annotated[list[VentDocument], Field(max_length=20)] = []
    insets: Annotated[list[InsetDocument], Field(max_length=12)] = []
    neighbours: Annotated[list[NeighbourDocument], Field(max_length=6)] = []


class SubstrateDocument(Part):
    """What covers the floor."""

    material_id: Id
    depth_m: Annotated[float, Field(ge=0, le=1)]
    wetness: Annotated[float, Field(ge=0, le=1, description="0 dry, 1 like open water")] = 0.0


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
    mount: Literal["air", "floor", "front", "back", "left", "right"] = "air"
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
    """A fan that moves room air through the box."""

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


class PlanDocument(Part):
    """A whole plan."""

    format: Literal["noonshade-plan"]
    version: Literal[1]
    name: Label
    animal: AnimalDocument
    room: RoomDocument
    box: BoxDocument
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
    return read_document(raw, PlanDocument, FORMAT, VERSION, "plan")


def resolve(
    document: PlanDocument,
    catalog: Catalog,
    shelf: Mapping[str, Lamp] | None = None,
    kinds: Mapping[str, Species] | None = None,
) -> Plan:
    """The core plan of a document, with reference data looked up and geometry checked.

    A lamp id is looked up on the keeper's own ``shelf``, then among the lamps the document brings
    along, then in the catalogue; a species likewise, among the keeper's own ``kinds`` first.

    Raises
    ------
    DocumentError
        With every unknown id, or every reason why the plan cannot be built.
    """
    brought = {lamp.id: lamp_from_document(lamp) for lamp in document.lamps}
    carried = {} if document.species is None else {document.species.id: document.species}
    species = {key: species_from_document(own) for key, own in carried.items()}
    found = _Lookup(
        catalog,
        {**catalog.lamps, **brought, **(shelf or {})},
        {**catalog.species, **species, **(kinds or {})},
    )
    plan = found.plan(document)
    if found.problems:
        raise DocumentError(found.problems)
    errors = plan_errors(plan)
    if errors:
        raise DocumentError([Problem(e.path, e.message) for e in errors])
    return plan


def plan_json(document: PlanDocument) -> str:
    """The document as indented JSON text."""
    return json_text(document)


def plan_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the plan document."""
    return schema_of(PlanDocument, "Noon Shade plan, version 1")


def room_of(d: RoomDocument) -> Room:
    """The room of a document, as the core takes it."""

    def season(s: RoomClimateDocument | None) -> RoomClimate | None:
        return None if s is None else RoomClimate(**s.model_dump())

    return Room(
        d.day_temperature_c,
        d.night_temperature_c,
        d.relative_humidity,
        season(d.winter),
        season(d.summer),
        d.tariff_per_kwh,
        tuple(RoomClimate(**m.model_dump()) for m in d.months),
    )


class _Lookup:
    """Looks ids up in the catalogue and gathers the unknown ones."""

    def __init__(self, catalog: Catalog, lamps: Mapping[str, Lamp], species: Mapping[str, Species]) -> None:
        self.catalog = catalog
        self.lamps = lamps
        self.species = species
        self.problems: list[Problem] = []

    def _find(self, table: Mapping[str, T], key: str, pointer: str, what: str) -> T:
        if key in table:
            return table[key]
        known = ", ".join(sorted(table))
        self.problems.append(Problem(pointer, f"no {what} {key!r} in the catalogue; known: {known}"))
        return next(iter(table.values()))

    def _present_id(self, key: str) -> str:
        """The id a species has now, where plans may know it by an older name."""
        if key in self.species:
            return key
        for species in self.species.values():
            if key in (name.lower().replace(" ", "-") for name in species.synonyms):
                return species.id
        return key

    def _material(self, key: str, use: str, pointer: str) -> SolidMaterial:
        uses = self.catalog.material_uses
        table = {k: m for k, m in self.catalog.materials.items() if use in uses[k]}
        return self._find(table, key, pointer, f"{use} material")

    def plan(self, d: PlanDocument) -> Plan:
        species = self._find(
            self.species, self._present_id(d.animal.species_id), "/animal/species_id", "species"
        )
        return Plan(
            name=d.name,
            animal=Animal(
                species,
                d.animal.body_length_m,
                d.animal.back_height_m,
                d.animal.stage,
                d.animal.count,
                d.animal.school,
                d.animal.low_pigment,
            ),
            room=room_of(d.room),
            box=self._box(d.box),
            substrate=Substrate(
                self._material(d.substrate.material_id, "substrate", "/substrate/material_id"),
                d.substrate.depth_m,
                d.substrate.wetness,
            ),
            furnishings=tuple(self._furnishing(f, i) for i, f in enumerate(d.furnishings)),
            fixtures=tuple(self._fixture(f, i) for i, f in enumerate(d.fixtures)),
            thermostats=tuple(
                Thermostat(
                    t.id,
                    t.label,
                    t.kind,
                    t.day_set_point_c,
                    t.night_set_point_c,
                    t.differential_k,
                    t.probe_m.as_tuple(),
                    t.time_constant_s,
                    t.ramp_h,
                    t.cut_out_c,
                )
                for t in d.thermostats
            ),
            photoperiod_h=d.photoperiod_h,
            fog_per_m=d.fog_per_m,
            fog_kg_h=d.fog_kg_h,
            mistings=tuple(Misting(tuple(m.hours), m.litres) for m in d.mistings),
            fans=tuple(Fan(**f.model_dump()) for f in d.fans),
            cold_packs=tuple(ColdPack(**p.model_dump()) for p in d.cold_packs),
        )

    def _box(self, box: BoxDocument) -> Box:
        return Box(
            box.length_m,
            box.depth_m,
            box.height_m,
            {
                "front": self._wall(box.walls.front, "/box/walls/front"),
                "back": self._wall(box.walls.back, "/box/walls/back"),
                "left": self._wall(box.walls.left, "/box/walls/left"),
                "right": self._wall(box.walls.right, "/box/walls/right"),
                "top": self._wall(box.walls.top, "/box/walls/top"),
                "floor": self._wall(box.walls.floor, "/box/walls/floor"),
            },
            tuple(Vent(v.side, v.x_m, v.z_m, v.area_m2) for v in box.vents),
            tuple(
                Inset(
                    *(i.x0_m, i.y0_m, i.x1_m, i.y1_m),
                    self._wall(i.wall, f"/box/insets/{k}/wall"),
                    i.face,
                    i.gap_m,
                )
                for k, i in enumerate(box.insets)
            ),
            {
                n.face: Neighbour(n.label, n.day_temperature_c, n.night_temperature_c)
                for n in box.neighbours
            },
        )

    def _wall(self, wall: SolidWallDocument | MeshWallDocument | OpenWallDocument, pointer: str) -> Wall:
        if isinstance(wall, SolidWallDocument):
            material = self._material(wall.material_id, "wall", f"{pointer}/material_id")
            insulation = None
            if wall.insulation_id is not None:
                insulation = self._material(wall.insulation_id, "wall", f"{pointer}/insulation_id")
            return Wall(
                material=material,
                thickness_m=wall.thickness_m,
                measured_uv=wall.measured_uv,
                insulation=insulation,
                insulation_m=wall.insulation_m,
            )
        if isinstance(wall, MeshWallDocument):
            mesh = self._find(self.catalog.meshes, wall.mesh_id, f"{pointer}/mesh_id", "mesh")
            return Wall(mesh=mesh, measured_uv=wall.measured_uv)
        return Wall()

    def _screen(self, key: str, pointer: str) -> Screen:
        panes = {k: m for k, m in self.catalog.materials.items() if m.is_pane}
        table: dict[str, Screen] = {**self.catalog.meshes, **panes}
        return self._find(table, key, pointer, "mesh or pane")

    def _furnishing(self, item: AnyFurnishing, i: int) -> Furnishing:
        material = self._material(item.material_id, "furnishing", f"/furnishings/{i}/material_id")
        values = item.model_dump(exclude={"type", "material_id", "stack", "start_m", "end_m", "locked"})
        if isinstance(item, BranchDocument):
            start, end = item.start_m.as_tuple(), item.end_m.as_tuple()
            return Branch(material=material, start_m=start, end_m=end, **values)
        if isinstance(item, LeavesDocument):
            return Leaves(material=material, **values)
        if isinstance(item, BackgroundDocument):
            return Background(material=material, **values)
        if isinstance(item, WaterDocument):
            return Water(material=material, **values)
        if isinstance(item, HideDocument):
            return Hide(material=material, **values)
        stack = None if item.stack is None else Stack(item.stack.length_m, item.stack.width_m)
        return Slab(material=material, stack=stack, **values)

    def _fixture(self, f: FixtureDocument, i: int) -> Fixture:
        lamp = self._find(self.lamps, f.lamp_id, f"/fixtures/{i}/lamp_id", "lamp")
        screen = None
        if f.screen_id is not None:
            pointer = f"/fixtures/{i}/screen_id"
            screen = self._screen(f.screen_id, pointer)
        return Fixture(
            f.id,
            f.label,
            lamp,
            f.power_w,
            f.position_m.as_tuple(),
            f.lit,
            screen,
            f.thermostat_id,
            f.hours,
            f.turn_deg,
            f.lean_deg,
            f.tilt_deg,
            f.screen_measured,
            f.mount,
            tuple((t.on_h, t.off_h) for t in f.timer),
            f.guard,
        )
