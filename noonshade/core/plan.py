"""What a plan is: animal, room, box, furnishings, fixtures and controls.

Everything is in SI units (metres, watts, degrees Celsius for temperatures). ``x`` runs along the
length from left to right, ``y`` from the front glass to the back, ``z`` up from the inside floor;
the origin is the inner lower front left corner. Reference data (lamps, materials, species) is
already resolved: a plan holds the objects, not their names.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from noonshade.core.needs.model import Habit, Need, PlaceKind, Quantity, School, Species, StageId
from noonshade.core.needs.weighing import needs_for

Point = tuple[float, float, float]
Face = Literal["front", "back", "left", "right", "top", "floor"]
FACES: tuple[Face, ...] = ("front", "back", "left", "right", "top", "floor")
Side = Literal["front", "back", "left", "right"]
Season = Literal["now", "winter", "summer"]
Mount = Literal["air", "floor", "front", "back", "left", "right"]
ControlKind = Literal["on_off", "dimming", "pulse"]
LampControl = Literal["on_off", "dimming", "pulse"]
LitPeriod = Literal["day", "night", "always"]


@dataclass(frozen=True, slots=True)
class SolidMaterial:
    """A wall, furnishing or substrate material, or a pane in front of a lamp.

    ``conductivity_w_mk`` thermal conductivity, ``density_kg_m3``, ``heat_capacity_j_kgk``,
    ``absorptance`` and ``transmittance`` for lamp radiation (visible and near infrared; the rest
    is reflected), ``emissivity`` for thermal infrared, ``uvb_reflectance`` diffuse,
    ``uvb_transmittance`` and ``visible_transmittance`` of a sheet as it is sold, at normal
    incidence; ``burns`` whether it burns, melts or chars beside a lamp; ``source`` says where the
    numbers are from.
    """

    id: str
    label: str
    conductivity_w_mk: float
    density_kg_m3: float
    heat_capacity_j_kgk: float
    absorptance: float
    transmittance: float
    emissivity: float
    uvb_reflectance: float
    source: str
    uvb_transmittance: float = 0.0
    visible_transmittance: float = 0.0
    burns: bool = True

    @property
    def storage_j_m3k(self) -> float:
        """Volumetric heat capacity, J/(m³ K)."""
        return self.density_kg_m3 * self.heat_capacity_j_kgk

    @property
    def is_pane(self) -> bool:
        """Whether lamp light passes through it."""
        return max(self.transmittance, self.visible_transmittance, self.uvb_transmittance) > 0

    @property
    def reflectance(self) -> float:
        """Share of lamp radiation sent back, 0–1."""
        return 1.0 - self.absorptance - self.transmittance


@dataclass(frozen=True, slots=True)
class Mesh:
    """Square wire mesh: wire diameter and pitch (centre to centre), both in metres."""

    id: str
    label: str
    wire_m: float
    pitch_m: float
    source: str

    @property
    def open_fraction(self) -> float:
        """Open area share at normal incidence, (1 − w/p)²."""
        return (1.0 - self.wire_m / self.pitch_m) ** 2


Screen = Mesh | SolidMaterial


@dataclass(frozen=True, slots=True)
class Wall:
    """One face of the box: a solid sheet, wire mesh, or nothing at all (open).

    ``measured_uv`` is the share of UV the keeper found to pass straight through, 0–1, when known;
    ``insulation`` an outer layer of ``insulation_m`` over a sheet.
    """

    material: SolidMaterial | None = None
    thickness_m: float = 0.0
    mesh: Mesh | None = None
    measured_uv: float | None = None
    insulation: SolidMaterial | None = None
    insulation_m: float = 0.0

    @property
    def resistance_m2k_w(self) -> float:
        """Thermal resistance of the sheet and its insulation without air films, m² K/W."""
        found = 0.0
        if self.material is not None:
            found += self.thickness_m / self.material.conductivity_w_mk
        if self.insulation is not None:
            found += self.insulation_m / self.insulation.conductivity_w_mk
        return found

    @property
    def screen(self) -> Screen | None:
        """What light passing this face meets: mesh, pane or closed sheet; None when open."""
        return self.material if self.material is not None else self.mesh

    @property
    def lets_light_in(self) -> bool:
        """Whether a lamp outside this face can shine through it."""
        return self.material is None or self.material.is_pane

    @property
    def open_fraction(self) -> float:
        """Share of the face that lets air and light through, 0–1."""
        if self.material is not None:
            return 0.0
        return self.mesh.open_fraction if self.mesh is not None else 1.0


@dataclass(frozen=True, slots=True)
class Vent:
    """An opening in a side wall: centre position in m, free area in m²."""

    side: Side
    x_m: float
    z_m: float
    area_m2: float


@dataclass(frozen=True, slots=True)
class Inset:
    """A rectangle of the lid or a side made otherwise: a mesh window, a closed part of a mesh lid, a door.

    ``x0_m`` to ``x1_m`` along the length, ``y0_m`` to ``y1_m`` across: on the lid from the front, on a side
    from the floor; along the left and right sides x runs from the front. ``gap_m`` is the open slit all
    around a door or a pane that slides.
    """

    x0_m: float
    y0_m: float
    x1_m: float
    y1_m: float
    wall: Wall
    face: Face = "top"
    gap_m: float = 0.0

    @property
    def area_m2(self) -> float:
        """Its area, m²."""
        return (self.x1_m - self.x0_m) * (self.y1_m - self.y0_m)

    @property
    def is_door(self) -> bool:
        """Whether it is a closed part of a side with a gap around it."""
        return self.gap_m > 0 and self.wall.material is not None

    @property
    def gap_m2(self) -> float:
        """Area of the slit around it, m²."""
        return 2.0 * self.gap_m * (self.x1_m - self.x0_m + self.y1_m - self.y0_m)


@dataclass(frozen=True, slots=True)
class Neighbour:
    """What a closed face stands against where that is not the room: another box, an outside wall."""

    label: str
    day_temperature_c: float
    night_temperature_c: float

    def at(self, hour: float) -> float:
        """Temperature at an hour of the day, °C."""
        return daily_cycle(self.day_temperature_c, self.night_temperature_c, hour)


@dataclass(frozen=True, slots=True)
class Box:
    """The enclosure by its inside size in metres; ``insets`` do not overlap.

    ``neighbours`` says what stands against a face in place of the room's air.
    """

    length_m: float
    depth_m: float
    height_m: float
    walls: Mapping[Face, Wall]
    vents: tuple[Vent, ...] = ()
    insets: tuple[Inset, ...] = ()
    neighbours: Mapping[Face, Neighbour] = field(default_factory=dict)

    def size_of(self, face: Face) -> tuple[float, float]:
        """Length along a face and across it, as ``Inset`` counts them, m."""
        if face in ("left", "right"):
            return self.depth_m, self.height_m
        return self.length_m, self.height_m if face in ("front", "back") else self.depth_m

    def insets_of(self, face: Face) -> tuple[Inset, ...]:
        """The parts of one face that are made otherwise than the rest."""
        return tuple(i for i in self.insets if i.face == face)

    def parts(self, face: Face) -> tuple[tuple[Wall, float], ...]:
        """Every part of a face with its share of the area; what is no inset first."""
        along, across = self.size_of(face)
        parts = [(inset.wall, inset.area_m2 / (along * across)) for inset in self.insets_of(face)]
        base = max(0.0, 1.0 - sum(share for _, share in parts))
        return ((self.walls[face], base), *parts)

    @property
    def lid_open_fraction(self) -> float:
        """Share of the lid that lets air through, 0–1."""
        return sum(wall.open_fraction * share for wall, share in self.parts("top"))


# A room is warmest in the middle of the afternoon and coolest twelve hours later. Estimate.
WARMEST_HOUR = 15.0


def daily_cycle(day_c: float, night_c: float, hour: float) -> float:
    """Temperature at an hour between a highest by day and a lowest by night, °C."""
    swing = math.cos(2.0 * math.pi * (hour - WARMEST_HOUR) / 24.0)
    return 0.5 * (day_c + night_c) + 0.5 * (day_c - night_c) * swing


@dataclass(frozen=True, slots=True)
class RoomClimate:
    """The room in one season: highest by day, lowest by night, humidity as in ``Room``."""

    day_temperature_c: float
    night_temperature_c: float
    relative_humidity: float


@dataclass(frozen=True, slots=True)
class Room:
    """The room around the box. Relative humidity as a fraction at the day temperature.

    ``winter`` and ``summer`` are its extremes over the year, if given; ``tariff_per_kwh`` is what
    electricity costs, in the keeper's money. ``months`` is its climate from January to December, or empty.
    """

    day_temperature_c: float
    night_temperature_c: float
    relative_humidity: float
    winter: RoomClimate | None = None
    summer: RoomClimate | None = None
    tariff_per_kwh: float = 0.30
    months: tuple[RoomClimate, ...] = ()

    def at(self, hour: float) -> float:
        """Air temperature at an hour of the day, °C."""
        return daily_cycle(self.day_temperature_c, self.night_temperature_c, hour)

    def in_season(self, season: Season) -> Room:
        """The room as it is in a season; as it is now where that was not told."""
        other = {"now": None, "winter": self.winter, "summer": self.summer}[season]
        if other is None:
            return self
        return self.with_climate(other)

    def with_climate(self, climate: RoomClimate) -> Room:
        """The room with another climate now."""
        return replace(
            self,
            day_temperature_c=climate.day_temperature_c,
            night_temperature_c=climate.night_temperature_c,
            relative_humidity=climate.relative_humidity,
        )


@dataclass(frozen=True, slots=True)
class Substrate:
    """What covers the floor. Its surface is at ``z = depth_m``.

    ``wetness`` is how readily it gives off water: 0 dry, 1 like open water.
    """

    material: SolidMaterial
    depth_m: float
    wetness: float = 0.0


@dataclass(frozen=True, slots=True)
class Stack:
    """A solid pile under the middle of a slab, of the slab's own material."""

    length_m: float
    width_m: float


@dataclass(frozen=True, slots=True)
class Slab:
    """A flat plate: basking slab, tile, ledge or a thick straight perch.

    ``underside_m`` is the height of its underside above the substrate surface.
    """

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    thickness_m: float
    underside_m: float
    material: SolidMaterial
    basking: bool = False
    stack: Stack | None = None


@dataclass(frozen=True, slots=True)
class Hide:
    """A hollow shelter standing on the substrate, outside sizes, open on part of one side."""

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    height_m: float
    wall_m: float
    opening: Side
    opening_width_m: float
    opening_height_m: float
    material: SolidMaterial
    moist: bool = False


@dataclass(frozen=True, slots=True)
class Water:
    """A dish or pool on the substrate: sizes of its surface, and how deep the water is, in metres."""

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    depth_m: float
    material: SolidMaterial


@dataclass(frozen=True, slots=True)
class Branch:
    """A straight round branch between two points of its axis."""

    id: str
    label: str
    start_m: Point
    end_m: Point
    diameter_m: float
    material: SolidMaterial


@dataclass(frozen=True, slots=True)
class Leaves:
    """A block of foliage or netting, of which ``porosity`` passes light straight down, 0–1.

    ``underside_m`` is above the substrate surface. Light at a slant goes through more of it.
    """

    id: str
    label: str
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    height_m: float
    underside_m: float
    porosity: float
    material: SolidMaterial


@dataclass(frozen=True, slots=True)
class Background:
    """A panel that lines the whole of one side wall on the inside."""

    id: str
    label: str
    side: Side
    thickness_m: float
    material: SolidMaterial


Furnishing = Slab | Hide | Branch | Leaves | Background | Water


@dataclass(frozen=True, slots=True)
class LineSource:
    """A diffuse line (tube, bar). ``reflector_exponent`` n shapes cosⁿβ about the aim; None: bare.

    ``width_m`` is the bright width, tube or reflector, and softens the edges of shade.
    """

    length_m: float
    reflector_exponent: float | None
    width_m: float = 0.016


@dataclass(frozen=True, slots=True)
class BeamSource:
    """A small disc source with I(θ) = I₀ cosᵐθ; full width at half maximum in degrees."""

    fwhm_deg: float
    diameter_m: float


@dataclass(frozen=True, slots=True)
class PanelSource:
    """A rectangle of small Lambertian elements, sides along x and y, in metres."""

    length_m: float
    width_m: float


@dataclass(frozen=True, slots=True)
class TableSource:
    """A small disc source with a measured angular table.

    ``gamma_deg`` (g,) rises from 0 (along the aim); ``c_deg`` (c,) rises from 0 and is the bearing about
    the aim, from the lamp's own axis; ``intensity`` is (c, g) in any unit. A single bearing means
    rotational symmetry; otherwise the last bearing is 360.
    """

    diameter_m: float
    c_deg: tuple[float, ...]
    gamma_deg: tuple[float, ...]
    intensity: tuple[tuple[float, ...], ...]


# Share of the UV index from below 290 nm from which on a lamp is warned of: what stray light in a
# spectrometer makes up. Estimate.
STRAY_SHARE = 0.002

LAMP_KINDS = frozenset(
    {"tube", "compact", "bulb", "mercury vapour", "metal halide", "led", "heater", "mat"}
)
# Kinds of lamp that warm a surface below them and can burn.
HOT_KINDS = frozenset({"bulb", "mercury vapour", "metal halide", "heater"})

SourceGeometry = LineSource | BeamSource | PanelSource | TableSource


@dataclass(frozen=True, slots=True)
class UvReference:
    """A reference reading: UV index at a distance, meter facing the lamp, no screen."""

    uvi: float
    distance_m: float


@dataclass(frozen=True, slots=True)
class Ageing:
    """How UV output falls: to ``remaining`` (0–1) with a time constant, high by ``burn_in`` when new.

    ``life_h`` is when such a lamp is usually replaced.
    """

    remaining: float
    time_constant_h: float
    burn_in: float
    life_h: float


@dataclass(frozen=True, slots=True)
class LampSpread:
    """How much samples of one kind differ: relative half widths of the middle 80 %."""

    uv: float = 0.25
    radiant: float = 0.10
    beam: float = 0.15


@dataclass(frozen=True, slots=True)
class Lamp:
    """A generic lamp or lightless heater from the catalogue.

    ``forward_radiant`` and ``other_radiant`` are shares of the watts sent out as light and heat
    radiation by the beam and in all other directions, ``conducted`` into what it lies against; the
    remainder heats the air at the lamp.
    ``lumens_per_radiant_watt`` converts forward radiation to illuminance, ``lux_per_ppfd`` (lx per
    µmol/m²/s) that to photosynthetic light, for lamps meant for plants. ``power_choices_w`` are
    the watts it is sold in; any value between ``power_min_w`` and ``power_max_w`` is modelled.
    ``controls`` are the ways it may be regulated; a lamp with none is only timed. ``sources`` says for
    each group of numbers where they are from. ``below_290_share`` is the share of its UV index from
    wavelengths that sunlight does not hold, when its spectrum is known.
    """

    id: str
    label: str
    kind: str
    gives_light: bool
    geometry: SourceGeometry
    power_w: float
    power_min_w: float
    power_max_w: float
    power_choices_w: tuple[float, ...]
    forward_radiant: float
    other_radiant: float
    lumens_per_radiant_watt: float
    uv: UvReference | None
    controls: tuple[LampControl, ...]
    source: str
    ageing: Ageing | None = None
    spread: LampSpread = LampSpread()
    lux_per_ppfd: float | None = None
    sources: Mapping[str, str] = field(default_factory=dict)
    below_290_share: float = 0.0
    conducted: float = 0.0

    @property
    def is_hot(self) -> bool:
        """Whether it is meant to warm, or warms anyway, what it shines on."""
        return self.kind in HOT_KINDS

    @property
    def unlike_sunlight(self) -> bool:
        """Whether its spectrum holds more below 290 nm than stray light explains."""
        return self.below_290_share > STRAY_SHARE

    @property
    def convected(self) -> float:
        """Share of the watts given to the air at the lamp, 0–1."""
        return 1.0 - self.forward_radiant - self.other_radiant - self.conducted


@dataclass(frozen=True, slots=True)
class Fixture:
    """A lamp as it hangs; the position is its emitter.

    Untilted it aims straight down and a tube lies along x. ``lean_deg`` swings the beam to the right,
    about the lamp's short side (so the right end of a tube comes up), then ``tilt_deg`` to the back,
    about its own axis; ``turn_deg`` turns the whole about the vertical, anticlockwise seen from above.
    ``screen_measured`` is the share of UV the keeper found to pass its screen, 0–1.
    ``mount`` is the face a mat or cable lies against, under the floor or behind a wall; ``timer`` holds
    the hours of the day between which it is on, in place of ``lit``; ``guard`` a cage around it that keeps
    the animal off.
    """

    id: str
    label: str
    lamp: Lamp
    power_w: float
    position_m: Point
    lit: LitPeriod
    screen: Screen | None = None
    thermostat_id: str | None = None
    hours: float = 100.0
    turn_deg: float = 0.0
    lean_deg: float = 0.0
    tilt_deg: float = 0.0
    screen_measured: float | None = None
    mount: Mount = "air"
    timer: tuple[tuple[float, float], ...] = ()
    guard: bool = False

    def lit_at(self, moment: Moment) -> bool:
        """Whether the timer has the lamp on at this moment (a thermostat may still hold it back).

        With hours of its own it is asked at noon, or at midnight.
        """
        if self.timer:
            return self.on_at(12.0 if moment == "day" else 0.0, 6.0, 18.0)
        return self.lit == "always" or self.lit == moment

    def on_at(self, hour: float, dawn: float, dusk: float) -> bool:
        """Whether the timer has it on at an hour of the day, the day lasting from dawn to dusk."""
        if self.timer:
            return any(
                begin <= hour < end if begin <= end else hour >= begin or hour < end
                for begin, end in self.timer
            )
        return self.lit == "always" or (self.lit == "day") == (dawn <= hour < dusk)

    def hours_on(self, dawn: float, dusk: float) -> float:
        """Hours a day in which its timer has it on, to a quarter of an hour."""
        return sum(self.on_at(q / 4.0, dawn, dusk) for q in range(96)) / 4.0


Moment = Literal["day", "night"]


@dataclass(frozen=True, slots=True)
class Thermostat:
    """A thermostat with its probe. A set point of None means switched off in that period.

    ``time_constant_s`` is how slowly the probe follows; ``ramp_h`` how long the set point takes from
    night to day and back; above ``cut_out_c`` a separate limit cuts the heaters off.
    """

    id: str
    label: str
    kind: ControlKind
    day_set_point_c: float | None
    night_set_point_c: float | None
    differential_k: float
    probe_m: Point
    time_constant_s: float = 60.0
    ramp_h: float = 0.0
    cut_out_c: float | None = None

    def set_point_c(self, moment: Moment) -> float | None:
        """Set point in force, °C, or None when switched off."""
        return self.day_set_point_c if moment == "day" else self.night_set_point_c


@dataclass(frozen=True, slots=True)
class Misting:
    """Water sprayed into the box at some hours of the day, litres each time."""

    hours: tuple[float, ...]
    litres: float


@dataclass(frozen=True, slots=True)
class Fan:
    """A fan that moves room air through the box, by its timer."""

    id: str
    label: str
    flow_m3_h: float
    lit: LitPeriod

    def on_at(self, hour: float, dawn: float, dusk: float) -> bool:
        """Whether it runs at an hour of the day."""
        return self.lit == "always" or (self.lit == "day") == (dawn <= hour < dusk)


@dataclass(frozen=True, slots=True)
class ColdPack:
    """A frozen pack or bottle that takes heat from the air at a place, W, for some hours."""

    id: str
    label: str
    x_m: float
    z_m: float
    power_w: float
    start_hour: float
    hours: float

    def on_at(self, hour: float) -> bool:
        """Whether it still takes heat at an hour of the day."""
        return (hour - self.start_hour) % 24.0 < self.hours


@dataclass(frozen=True, slots=True)
class Animal:
    """Who lives there: species, body length (snout to vent) and height of the back, in metres.

    ``count`` animals share the box. ``school`` says how sources that disagree are settled; with
    ``low_pigment`` (or hurt eyes or skin) the UV wanted is halved.
    """

    species: Species
    body_length_m: float
    back_height_m: float
    stage: StageId = "adult"
    count: int = 1
    school: School = "overlap"
    low_pigment: bool = False

    @property
    def habits(self) -> tuple[Habit, ...]:
        """Where it lives at its stage of life."""
        return self.species.habits_at(self.stage)

    @property
    def digs(self) -> bool:
        """Whether it digs itself in."""
        return "digging" in self.habits

    @property
    def climbs(self) -> bool:
        """Whether it climbs."""
        return "climbing" in self.habits

    @property
    def needs(self) -> tuple[Need, ...]:
        """The needs of this animal at its stage of life."""
        return needs_for(self.species, self.stage, self.school, self.low_pigment)

    def need(self, place: PlaceKind, quantity: Quantity) -> Need | None:
        """Its need of one quantity at one kind of place, if it has one."""
        return next((n for n in self.needs if n.place == place and n.quantity == quantity), None)


@dataclass(frozen=True, slots=True)
class Measured:
    """That readings have told of this box: on which day, and what is known of its multipliers since.

    ``covariance`` is of the multipliers named by ``ids``, row by row; ``seen`` are the places and
    quantities that were read, as ``place:quantity``.
    """

    on: str
    ids: tuple[str, ...]
    covariance: tuple[tuple[float, ...], ...]
    seen: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Plan:
    """One enclosure with everything in it.

    ``photoperiod_h`` is how long the day's lamps are on, around noon; ``fog_per_m`` how much fog dims
    light by day, as the attenuation per metre of Beer and Lambert, and ``fog_kg_h`` how much water it
    brings. ``measured`` is set where values in it come from readings.
    """

    name: str
    animal: Animal
    room: Room
    box: Box
    substrate: Substrate
    furnishings: tuple[Furnishing, ...]
    fixtures: tuple[Fixture, ...]
    thermostats: tuple[Thermostat, ...]
    photoperiod_h: float = 12.0
    fog_per_m: float = 0.0
    fog_kg_h: float = 0.0
    mistings: tuple[Misting, ...] = ()
    fans: tuple[Fan, ...] = ()
    cold_packs: tuple[ColdPack, ...] = ()
    measured: Measured | None = None

    @property
    def dawn(self) -> float:
        """Hour at which the day's lamps come on."""
        return 12.0 - self.photoperiod_h / 2.0

    @property
    def dusk(self) -> float:
        """Hour at which they go off."""
        return 12.0 + self.photoperiod_h / 2.0

    @property
    def waters(self) -> tuple[Water, ...]:
        """Dishes and pools, in plan order."""
        return tuple(f for f in self.furnishings if isinstance(f, Water))

    @property
    def basking_slab(self) -> Slab | None:
        """The slab marked as basking place, if the plan has one."""
        return next((f for f in self.furnishings if isinstance(f, Slab) and f.basking), None)

    @property
    def hides(self) -> tuple[Hide, ...]:
        """All hollow hides, in plan order."""
        return tuple(f for f in self.furnishings if isinstance(f, Hide))

    def top_of(self, slab: Slab) -> float:
        """Height of a slab's upper face above the box floor, m."""
        return self.substrate.depth_m + slab.underside_m + slab.thickness_m
