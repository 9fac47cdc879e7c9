"""The plan document: the JSON a plan is stored, exported and imported as, version 1.

Positions and sizes are in metres, temperatures in °C, power in watts. Reference data is named by its
catalogue id; ``resolve`` looks it up and makes the core plan.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from noonshade.catalog import Catalog
from noonshade.core.plan import (
    Animal,
    Box,
    Fixture,
    Furnishing,
    Hide,
    Plan,
    Room,
    Slab,
    SolidMaterial,
    Stack,
    Substrate,
    Thermostat,
    Vent,
    Wall,
)
from noonshade.core.validate import plan_errors

FORMAT = "noonshade-plan"
VERSION = 1
LARGEST_BYTES = 1_000_000
T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing wrong with a document: a JSON Pointer and a sentence saying what is allowed."""

    pointer: str
    message: str


class DocumentError(ValueError):
    """A document that cannot be used, with every problem found in it."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        super().__init__(
            "; ".join(f"{p.pointer}: {p.message}" if p.pointer else p.message for p in problems)
        )


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, strict=True)


Id = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[A-Za-z0-9][A-Za-z0-9_.-]*$")]
Label = Annotated[str, Field(min_length=1, max_length=80)]
Temperature = Annotated[float, Field(ge=-30, le=60)]
SetPoint = Annotated[float, Field(ge=0, le=60)]
Size = Annotated[float, Field(ge=0.005, le=5)]
Coordinate = Annotated[float, Field(ge=-1, le=6)]


class PointDocument(_Part):
    """A position in the box, metres from the inner lower front left corner."""

    x_m: Coordinate
    y_m: Coordinate
    z_m: Coordinate

    def as_tuple(self) -> tuple[float, float, float]:
        """x, y, z in metres."""
        return (self.x_m, self.y_m, self.z_m)


class AnimalDocument(_Part):
    """Who lives in the box."""

    species_id: Id
    body_length_m: Annotated[float, Field(ge=0.01, le=3, description="snout to vent, m")]
    back_height_m: Annotated[float, Field(ge=0.002, le=1, description="back above the ground, m")]


class RoomDocument(_Part):
    """The room around the box."""

    day_temperature_c: Temperature
    night_temperature_c: Temperature
    relative_humidity: Annotated[float, Field(ge=0.05, le=1, description="share, 0.05 to 1")]


class SolidWallDocument(_Part):
    """A wall of sheet material."""

    kind: Literal["solid"]
    material_id: Id
    thickness_m: Annotated[float, Field(ge=0.001, le=0.3)]


class MeshWallDocument(_Part):
    """A wall of wire mesh."""

    kind: Literal["mesh"]
    mesh_id: Id


class OpenWallDocument(_Part):
    """No wall at all, such as an open top."""

    kind: Literal["open"]


WallDocument = Annotated[
    SolidWallDocument | MeshWallDocument | OpenWallDocument, Field(discriminator="kind")
]


class WallsDocument(_Part):
    """The six faces of the box."""

    front: WallDocument
    back: WallDocument
    left: WallDocument
    right: WallDocument
    top: WallDocument
    floor: WallDocument


class VentDocument(_Part):
    """A vent in a side wall: its middle and its free area."""

    side: Literal["front", "back", "left", "right"]
    x_m: Annotated[float, Field(ge=0, le=5)]
    z_m: Annotated[float, Field(ge=0, le=5)]
    area_m2: Annotated[float, Field(gt=0, le=1)]


class BoxDocument(_Part):
    """The box by its inside size."""

    length_m: Annotated[float, Field(ge=0.15, le=5)]
    depth_m: Annotated[float, Field(ge=0.15, le=3)]
    height_m: Annotated[float, Field(ge=0.15, le=3)]
    walls: WallsDocument
    vents: Annotated[list[VentDocument], Field(max_length=20)] = []


class SubstrateDocument(_Part):
    """What covers the floor."""

    material_id: Id
    depth_m: Annotated[float, Field(ge=0, le=1)]


class StackDocument(_Part):
    """A pile under the middle of a slab."""

    length_m: Size
    width_m: Size


class SlabDocument(_Part):
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


class HideDocument(_Part):
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


FurnishingDocument = Annotated[SlabDocument | HideDocument, Field(discriminator="type")]


class FixtureDocument(_Part):
    """A lamp or heater as it hangs, aimed straight down."""

    id: Id
    label: Label
    lamp_id: Id
    power_w: Annotated[float, Field(gt=0, le=2000)]
    position_m: PointDocument
    lit: Literal["day", "night", "always"] = "day"
    hours: Annotated[float, Field(ge=0, le=100_000, description="burned so far")] = 100.0
    screen_id: Id | None = None
    thermostat_id: Id | None = None


class ThermostatDocument(_Part):
    """A thermostat with its probe; a set point of null means off in that period."""

    id: Id
    label: Label
    kind: Literal["on_off", "dimming"]
    day_set_point_c: SetPoint | None
    night_set_point_c: SetPoint | None = None
    differential_k: Annotated[float, Field(ge=0, le=10)] = 1.0
    probe_m: PointDocument


class PlanDocument(_Part):
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


def parse_plan(text: str | bytes) -> PlanDocument:
    """Read a plan document from JSON text.

    Raises
    ------
    DocumentError
        If it is too large, not JSON, not a plan, of another version, or has values out of range.
    """
    if len(text) > LARGEST_BYTES:
        raise DocumentError(
            [Problem("", f"the file is larger than {LARGEST_BYTES // 1000} kB; a plan is far smaller")]
        )
    try:
        raw = json.loads(text, parse_constant=_no_constant)
    except UnicodeDecodeError as error:
        raise DocumentError([Problem("", "the file is not UTF-8 text")]) from error
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise DocumentError([Problem("", f"not valid JSON at {where}: {error.msg}")]) from error
    except RecursionError as error:
        raise DocumentError([Problem("", "the JSON is nested too deeply")]) from error
    return plan_from(raw)


def plan_from(raw: object) -> PlanDocument:
    """Check parsed JSON and make a plan document of it; errors as in ``parse_plan``."""
    if not isinstance(raw, dict):
        raise DocumentError([Problem("", "a plan is a JSON object")])
    if raw.get("format") != FORMAT:
        raise DocumentError([Problem("/format", f'not a Noon Shade plan: must be "{FORMAT}"')])
    if raw.get("version") != VERSION:
        raise DocumentError(
            [
                Problem(
                    "/version",
                    f"version {raw.get('version')!r} is not known; this program reads version {VERSION}",
                )
            ]
        )
    try:
        return PlanDocument.model_validate(raw)
    except ValidationError as error:
        raise DocumentError(problems_of(error, raw)) from error


def resolve(document: PlanDocument, catalog: Catalog) -> Plan:
    """The core plan of a document, with reference data looked up and geometry checked.

    Raises
    ------
    DocumentError
        With every unknown id, or every reason why the plan cannot be built.
    """
    found = _Lookup(catalog)
    plan = found.plan(document)
    if found.problems:
        raise DocumentError(found.problems)
    errors = plan_errors(plan)
    if errors:
        raise DocumentError([Problem(e.path, e.message) for e in errors])
    return plan


def plan_json(document: PlanDocument) -> str:
    """The document as indented JSON text."""
    return json.dumps(document.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n"


def plan_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the plan document."""
    schema = PlanDocument.model_json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Noon Shade plan, version 1",
        **{k: v for k, v in schema.items() if k != "title"},
    }


def problems_of(error: ValidationError, raw: object) -> list[Problem]:
    """Pydantic's errors as pointers into the document and sentences."""
    return [Problem(_pointer(e["loc"], raw), _sentence(dict(e))) for e in error.errors()]


def _pointer(location: tuple[int | str, ...], raw: object) -> str:
    """JSON Pointer of a location, leaving out the union tags pydantic puts into it."""
    here: Any = raw
    path = ""
    for depth, step in enumerate(location):
        last = depth == len(location) - 1
        if isinstance(here, Mapping) and (step in here or last):
            here = here.get(step)
        elif isinstance(here, list) and isinstance(step, int) and step < len(here):
            here = here[step]
        else:
            continue
        path += "/" + str(step).replace("~", "~0").replace("/", "~1")
    return path


def _sentence(error: dict[str, Any]) -> str:
    kind, context = error["type"], error.get("ctx", {})
    given = error.get("input")
    shown = repr(given) if isinstance(given, int | float | str | bool) else ""
    shown = f"{shown[:40]} given; " if shown else ""
    limits = {
        "greater_than": f"must be above {context.get('gt')}",
        "greater_than_equal": f"must be at least {context.get('ge')}",
        "less_than": f"must be below {context.get('lt')}",
        "less_than_equal": f"must be at most {context.get('le')}",
        "missing": "is missing",
        "extra_forbidden": "is not a known field",
        "finite_number": "must be a finite number",
        "float_type": "must be a number",
        "float_parsing": "must be a number",
        "literal_error": f"must be one of {context.get('expected')}",
        "string_pattern_mismatch": "may hold letters, digits, dot, dash and underscore only",
        "string_too_short": "must not be empty",
        "string_too_long": f"must have at most {context.get('max_length')} characters",
        "too_long": f"must have at most {context.get('max_length')} entries",
        "string_type": "must be text",
        "bool_type": "must be true or false",
        "list_type": "must be a list",
        "model_type": "must be a JSON object",
        "model_attributes_type": "must be a JSON object",
        "dict_type": "must be a JSON object",
        "int_type": "must be a whole number",
        "int_from_float": "must be a whole number",
        "int_parsing": "must be a whole number",
        "union_tag_invalid": f"must be one of {context.get('expected_tags')}",
        "union_tag_not_found": f"needs a {context.get('discriminator')}",
    }
    if kind in ("missing", "extra_forbidden"):
        return limits[kind]
    return shown + limits.get(kind, str(error["msg"]))


def _no_constant(name: str) -> float:
    raise DocumentError([Problem("", f"{name} is not a number a plan can hold")])


class _Lookup:
    """Looks ids up in the catalogue and gathers the unknown ones."""

    def __init__(self, catalog: Catalog) -> None:
        self.catalog = catalog
        self.problems: list[Problem] = []

    def _find(self, table: Mapping[str, T], key: str, pointer: str, what: str) -> T:
        if key in table:
            return table[key]
        known = ", ".join(sorted(table))
        self.problems.append(Problem(pointer, f"no {what} {key!r} in the catalogue; known: {known}"))
        return next(iter(table.values()))

    def _material(self, key: str, use: str, pointer: str) -> SolidMaterial:
        uses = self.catalog.material_uses
        table = {k: m for k, m in self.catalog.materials.items() if use in uses[k]}
        return self._find(table, key, pointer, f"{use} material")

    def plan(self, d: PlanDocument) -> Plan:
        species = self._find(self.catalog.species, d.animal.species_id, "/animal/species_id", "species")
        return Plan(
            name=d.name,
            animal=Animal(species, d.animal.body_length_m, d.animal.back_height_m),
            room=Room(**d.room.model_dump()),
            box=self._box(d.box),
            substrate=Substrate(
                self._material(d.substrate.material_id, "substrate", "/substrate/material_id"),
                d.substrate.depth_m,
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
                )
                for t in d.thermostats
            ),
        )

    def _box(self, box: BoxDocument) -> Box:
        return Box(
            box.length_m,
            box.depth_m,
            box.height_m,
            {
                "front": self._wall(box.walls.front, "front"),
                "back": self._wall(box.walls.back, "back"),
                "left": self._wall(box.walls.left, "left"),
                "right": self._wall(box.walls.right, "right"),
                "top": self._wall(box.walls.top, "top"),
                "floor": self._wall(box.walls.floor, "floor"),
            },
            tuple(Vent(v.side, v.x_m, v.z_m, v.area_m2) for v in box.vents),
        )

    def _wall(self, wall: SolidWallDocument | MeshWallDocument | OpenWallDocument, face: str) -> Wall:
        pointer = f"/box/walls/{face}"
        if isinstance(wall, SolidWallDocument):
            material = self._material(wall.material_id, "wall", f"{pointer}/material_id")
            return Wall(material=material, thickness_m=wall.thickness_m)
        if isinstance(wall, MeshWallDocument):
            mesh = self._find(self.catalog.meshes, wall.mesh_id, f"{pointer}/mesh_id", "mesh")
            return Wall(mesh=mesh)
        return Wall()

    def _furnishing(self, item: SlabDocument | HideDocument, i: int) -> Furnishing:
        material = self._material(item.material_id, "furnishing", f"/furnishings/{i}/material_id")
        values = item.model_dump(exclude={"type", "material_id", "stack"})
        if isinstance(item, HideDocument):
            return Hide(material=material, **values)
        stack = None if item.stack is None else Stack(item.stack.length_m, item.stack.width_m)
        return Slab(material=material, stack=stack, **values)

    def _fixture(self, f: FixtureDocument, i: int) -> Fixture:
        lamp = self._find(self.catalog.lamps, f.lamp_id, f"/fixtures/{i}/lamp_id", "lamp")
        screen = None
        if f.screen_id is not None:
            pointer = f"/fixtures/{i}/screen_id"
            screen = self._find(self.catalog.meshes, f.screen_id, pointer, "mesh")
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
        )
