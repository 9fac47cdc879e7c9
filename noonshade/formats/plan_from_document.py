"""The core plan of a plan document: reference data looked up, geometry checked, readings put in."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

import numpy as np

from noonshade.catalog import Catalog
from noonshade.core.needs.species import Species
from noonshade.core.plan import (
    Animal,
    Background,
    Branch,
    Burrow,
    ColdPack,
    Enclosure,
    Fan,
    Fixture,
    Furnishing,
    Hide,
    Inset,
    Lamp,
    Layer,
    Leaves,
    Member,
    Misting,
    Neighbour,
    Parts,
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
    Zone,
    mixture,
)
from noonshade.core.plan_errors import plan_errors
from noonshade.core.uncertainty.measured import Fitted, FittedValue, with_measured
from noonshade.formats.document import DocumentError, Problem
from noonshade.formats.ground_document import MixDocument, SubstrateDocument
from noonshade.formats.lamp_document import lamp_from_document
from noonshade.formats.plan_document import (
    AnyFurnishing,
    BackgroundDocument,
    BranchDocument,
    EnclosureDocument,
    FittedValueDocument,
    FixtureDocument,
    HideDocument,
    LeavesDocument,
    MeasuredDocument,
    MeshWallDocument,
    OpenWallDocument,
    PlanDocument,
    RoomClimateDocument,
    RoomDocument,
    SolidWallDocument,
    WaterDocument,
)
from noonshade.formats.species_document import species_from_document

T = TypeVar("T")


def resolve(
    document: PlanDocument,
    catalog: Catalog,
    own_lamps: Mapping[str, Lamp] | None = None,
    own_species: Mapping[str, Species] | None = None,
) -> Plan:
    """The core plan of a document, with reference data looked up and geometry checked.

    A lamp id is looked up on the keeper's ``own_lamps``, then among the lamps the document brings
    along, then in the catalogue; a species likewise, among the keeper's ``own_species`` first.

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
        {**catalog.lamps, **brought, **(own_lamps or {})},
        {**catalog.species, **species, **(own_species or {})},
    )
    plan = found.plan(document)
    if found.problems:
        raise DocumentError(found.problems)
    errors = plan_errors(plan)
    if errors:
        raise DocumentError([Problem(e.path, e.message) for e in errors])
    if document.measured is None:
        return plan
    fitted = fitted_from(document.measured)
    return with_measured(plan, fitted) if document.measured.applied else plan


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


def fitted_from(document: MeasuredDocument) -> Fitted:
    """What was measured, as the core takes it.

    Raises
    ------
    DocumentError
        If the covariance does not fit the values or is no covariance.
    """
    count = len(document.values)
    rows = document.covariance
    if len({v.id for v in document.values}) != count:
        raise DocumentError([Problem("/measured/values", "each multiplier may be named once")])
    if len(rows) != count or any(len(row) != count for row in rows):
        message = f"must have {count} rows of {count} numbers, as many as there are values"
        raise DocumentError([Problem("/measured/covariance", message)])
    matrix = np.array(rows).reshape(count, count)
    if (
        not np.allclose(matrix, matrix.T, atol=1e-9)
        or np.min(np.linalg.eigvalsh(matrix), initial=0) < -1e-9
    ):
        message = "must be symmetric and have no negative variance in any direction"
        raise DocumentError([Problem("/measured/covariance", message)])
    return Fitted(
        document.on,
        tuple(FittedValue(v.id, v.about, v.value, v.hours) for v in document.values),
        tuple(tuple(row) for row in rows),
        tuple(document.measured_checks),
    )


def measured_document(fitted: Fitted, applied: bool = True) -> MeasuredDocument:
    """The stored fit of a plan document."""
    return MeasuredDocument(
        on=fitted.on,
        applied=applied,
        values=[
            FittedValueDocument(id=v.id, about=v.about, value=v.value, hours=v.hours) for v in fitted.values
        ],
        covariance=[list(row) for row in fitted.covariance],
        measured_checks=list(fitted.measured_checks),
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

    def _substrate(self, d: SubstrateDocument) -> Substrate:
        material, parts = self._mix(d, "/substrate")
        below = []
        for i, layer in enumerate(d.below):
            of, mixed = self._mix(layer, f"/substrate/below/{i}")
            below.append(Layer(of, layer.depth_m, mixed, layer.barrier, layer.wetness))
        zones = tuple(Zone(z.id, z.label, z.x_m, z.y_m, z.length_m, z.width_m, z.wetness) for z in d.zones)
        burrows = tuple(Burrow(**b.model_dump()) for b in d.burrows)
        return Substrate(material, d.depth_m, d.wetness, parts, tuple(below), zones, burrows)

    def _mix(self, d: MixDocument, pointer: str) -> tuple[SolidMaterial, Parts]:
        """What a layer is as a whole, and its parts if it is mixed."""
        first = self._material(d.material_id, "substrate", f"{pointer}/material_id")
        others = [
            (self._material(m.material_id, "substrate", f"{pointer}/mixed/{i}/material_id"), m.parts)
            for i, m in enumerate(d.mixed)
        ]
        if not others:
            return first, ()
        parts = ((first, d.parts), *others)
        return mixture(parts), parts

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
                tuple(Member(m.name, m.sex, m.body_length_m) for m in d.animal.members),
            ),
            room=room_of(d.room),
            enclosure=self._enclosure(d.enclosure),
            substrate=self._substrate(d.substrate),
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

    def _enclosure(self, enclosure: EnclosureDocument) -> Enclosure:
        return Enclosure(
            enclosure.length_m,
            enclosure.depth_m,
            enclosure.height_m,
            {
                "front": self._wall(enclosure.walls.front, "/enclosure/walls/front"),
                "back": self._wall(enclosure.walls.back, "/enclosure/walls/back"),
                "left": self._wall(enclosure.walls.left, "/enclosure/walls/left"),
                "right": self._wall(enclosure.walls.right, "/enclosure/walls/right"),
                "top": self._wall(enclosure.walls.top, "/enclosure/walls/top"),
                "floor": self._wall(enclosure.walls.floor, "/enclosure/walls/floor"),
            },
            tuple(Vent(v.side, v.x_m, v.z_m, v.area_m2, v.holes, v.y_m) for v in enclosure.vents),
            tuple(
                Inset(
                    *(i.x0_m, i.y0_m, i.x1_m, i.y1_m),
                    self._wall(i.wall, f"/enclosure/insets/{k}/wall"),
                    i.face,
                    i.gap_m,
                )
                for k, i in enumerate(enclosure.insets)
            ),
            {
                n.face: Neighbour(n.label, n.day_temperature_c, n.night_temperature_c)
                for n in enclosure.neighbours
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
