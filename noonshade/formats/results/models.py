"""Models of results: an evaluation with its checks and fields, fixes, intervals."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from noonshade.core.assessment.status import Severity, Status
from noonshade.core.needs.species import Grade, PlaceKind, Quantity
from noonshade.formats.document import Model

LampControlName = Literal["on_off", "dimming", "pulse"]


class Text(Model):
    """A piece of a sentence."""

    kind: Literal["text"] = "text"
    text: str


class Figure(Model):
    """A figure in a sentence, in core units; the reader's units are chosen on the screen."""

    kind: Literal["figure"] = "figure"
    value: float
    unit: Literal["m", "mm", "°C", "K", "W", "W/m²", "UVI", "L", "%", ""]


PhrasePart = Annotated[Text | Figure, Field(discriminator="kind")]


class Place(Model):
    """Figures at one place; null where a figure has no meaning."""

    id: str
    label: str
    kind: PlaceKind
    x_m: float
    y_m: float
    z_m: float
    uvi_level: float | None
    uvi_facing: float | None
    irradiance_w_m2: float | None
    illuminance_lx: float | None
    ppfd_umol_m2_s: float | None
    daily_light_mol_m2: float | None
    exposure_class: int | None
    air_c: float
    probe_c: float
    surface_c: float | None
    surface_mean_c: float | None
    surface_max_c: float | None
    relative_humidity: float
    operative_c: float


class ClaimModel(Model):
    """What one source says."""

    low: float | None
    high: float | None
    grade: Grade
    source: str
    about: str = ""


class NeedModel(ClaimModel):
    """The range a plan is assessed by, settled from the claims of one or more sources."""

    place: PlaceKind
    quantity: Quantity
    offered: bool
    required: bool
    note: str
    claims: list[ClaimModel]
    outliers: list[int]


class EvidenceModel(Model):
    """What a figure rests on: the catalogue, readings elsewhere, or readings of it; and the day."""

    kind: Literal["predicted", "fitted", "measured"]
    on: str | None


class CourseModel(Model):
    """A figure over the hours it is about, and the share of them in which it is in range."""

    lowest: float
    highest: float
    share: float


class CheckModel(Model):
    """One need against its figure."""

    id: str
    place_id: str
    place_label: str
    need: NeedModel
    place: PlaceKind
    quantity: Quantity
    value: float | None
    low: float | None
    high: float | None
    status: Status
    required: bool
    severity: Severity
    chance: float | None
    course: CourseModel | None
    settles: str
    reason: list[PhrasePart]
    evidence: EvidenceModel


class FindingModel(Model):
    """A fault of the plan itself, what it can lead to, and whom to ask."""

    id: str
    about_id: str
    severity: Literal["danger", "fault", "care", "note"]
    message: list[PhrasePart]
    caution: str
    ask: Literal["electrician", "veterinarian"] | None


class ThermostatModel(Model):
    """What a thermostat does by day at steady state."""

    id: str
    fraction: float
    probe_c: float
    set_point_c: float | None
    holds: bool


class Layer(Model):
    """A field (nz × nx, z upwards) as little-endian uint16: value = offset + scale × code."""

    offset: float
    scale: float
    data: str


class SurfaceModel(Model):
    """Temperatures along a horizontal surface where the section cuts it."""

    id: str
    z_m: float
    x_m: list[float]
    temperature_c: list[float]


class BranchModel(Model):
    """Temperatures of the upper side of a branch along it."""

    id: str
    x_m: list[float]
    z_m: list[float]
    temperature_c: list[float]


class GroundModel(Model):
    """Temperatures in the ground where the section cuts it: rows by level from below, along x."""

    x_m: list[float]
    z_m: list[float]
    temperature_c: list[list[float]]


class PlumeModel(Model):
    """A plume of warm air seen from the front: level by level its half width, m, and temperature, °C."""

    x_m: float
    y_m: float
    z_m: list[float]
    radius_m: list[float]
    air_c: list[float]


class SectionModel(Model):
    """Fields on a front-view section."""

    y_m: float
    nx: int
    nz: int
    x0_m: float
    x1_m: float
    z0_m: float
    z1_m: float
    uvi: Layer
    irradiance_w_m2: Layer
    illuminance_lx: Layer
    ppfd_umol_m2_s: Layer
    air_c: Layer
    relative_humidity: Layer
    surfaces: list[SurfaceModel]
    branches: list[BranchModel]
    ground: GroundModel
    plumes: list[PlumeModel]


class PlanViewModel(Model):
    """Fields seen from above at one height (ny × nx, from the front to the back)."""

    z_m: float
    nx: int
    ny: int
    x0_m: float
    x1_m: float
    y0_m: float
    y1_m: float
    uvi: Layer
    irradiance_w_m2: Layer
    illuminance_lx: Layer
    ppfd_umol_m2_s: Layer
    air_c: Layer
    relative_humidity: Layer
    surface_c: Layer


class PatchModel(Model):
    """The part of the basking slab at least so warm: its sides through the hottest place, and its area."""

    above_c: float
    length_m: float
    width_m: float
    area_m2: float


class PinModel(Model):
    """Figures at a place the keeper pinned; null where it is outside the enclosure, or not computed."""

    id: str
    uvi_facing: float | None = None
    uvi_level: float | None = None
    irradiance_w_m2: float | None = None
    illuminance_lx: float | None = None
    air_c: float | None = None
    probe_c: float | None = None
    probe_in_beam_c: float | None = None
    surface_c: float | None = None
    relative_humidity: float | None = None
    operative_c: float | None = None
    depth_m: float | None = None


class HeightModel(Model):
    """Figures at one height, from the top perch to the ground."""

    label: str
    thing: str
    above_ground_m: float
    x_m: float
    z_m: float
    air_c: float
    probe_c: float
    surface_c: float
    operative_c: float
    uvi_level: float
    uvi_facing: float
    relative_humidity: float | None


class ReachModel(Model):
    """Where the animal can get to beside the ground: things it can stand on, faces it can climb."""

    things: list[str]
    faces: list[Literal["front", "back", "left", "right", "top", "floor"]]


class WaterUseModel(Model):
    """How a part of the enclosure dries, and when it is watered again."""

    id: str
    label: str
    kind: Literal["ground", "zone", "pool"]
    area_m2: float
    lost_l_day: Annotated[float, Field(description="given off in a day, at the rates of day and night")]
    sprayed_l_day: Annotated[float, Field(description="what of the spraying falls on it")]
    held_l: Annotated[float, Field(description="water that makes it damp; of a pool what is in it")]
    every_days: Annotated[float | None, Field(description="none where spraying suffices")]
    pour_l: float | None


class EvaluateResponse(Model):
    """Everything the screen shows of an evaluation."""

    fits: bool
    night_air_c: float
    room_c: float
    power_w: float
    balance_relative_error: float
    iterations: int
    night_humidity: float
    summary: list[PhrasePart]
    power_fraction: dict[str, float]
    places: list[Place]
    checks: list[CheckModel]
    findings: list[FindingModel]
    thermostats: list[ThermostatModel]
    water: list[WaterUseModel]
    uv_free_share: float
    uv_free_below: float
    reach: ReachModel
    pins: list[PinModel]
    heights: list[HeightModel]
    patch: PatchModel | None
    section: SectionModel | None
    plan_view: PlanViewModel | None


class IntervalModel(Model):
    """The middle 80 % of what a figure may really be."""

    low: float
    high: float


class PatchStep(Model):
    """One step on the document (RFC 6902): replace a value, add a thing to a list, remove one."""

    op: Literal["replace", "add", "remove"]
    path: str
    value: bool | int | float | str | list[float] | dict[str, Any] | list[dict[str, Any]] | None


class FixModel(Model):
    """A computed change, the figure it leads to (null for a finding), and what it would break."""

    sentence: list[PhrasePart]
    value: float | None
    interval: IntervalModel | None
    breaks: list[str]
    patch: list[PatchStep]
