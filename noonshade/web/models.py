"""Request and response models of the HTTP interface."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from noonshade.formats.plan_document import PlanDocument

PlaceKindName = Literal["basking", "warm_end", "cool_end", "retreat", "night", "box"]
QuantityName = Literal["surface_temperature", "air_temperature", "uvi", "humidity", "uv_free_share"]
SchoolName = Literal["overlap", "average", "careful", "home"]
StageName = Literal["adult", "young", "larva"]
GradeName = Literal["published measurement", "published guidance", "keepers' consensus", "estimate"]
SeverityName = Literal["none", "note", "fault", "danger"]
StatusName = Literal["below", "within", "above", "cannot_tell"]
LampControlName = Literal["on_off", "dimming", "pulse"]


class Model(BaseModel):
    """Base: unknown fields are refused, numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Text(Model):
    """A piece of a sentence."""

    kind: Literal["text"] = "text"
    text: str


class Figure(Model):
    """A figure in a sentence, in core units; the reader's units are chosen on the screen."""

    kind: Literal["figure"] = "figure"
    value: float
    unit: Literal["m", "°C", "K", "W", "W/m²", "UVI", "%", ""]


PhrasePart = Annotated[Text | Figure, Field(discriminator="kind")]


class Health(Model):
    """What is running."""

    status: Literal["ok"]
    version: str
    demo: bool


class PlanSummary(Model):
    """A plan in the list, with its document for a small drawing."""

    id: str
    name: str
    revision: int
    created_at: str
    updated_at: str
    document: PlanDocument


class PlanList(Model):
    """All plans."""

    plans: list[PlanSummary]


class CreatePlan(Model):
    """A new plan, or an imported one."""

    document: PlanDocument
    summary: Annotated[str, Field(max_length=200)] = "Created"


class SavePlan(Model):
    """A change of a plan, based on a revision."""

    document: PlanDocument
    base_revision: Annotated[int, Field(ge=1)]
    summary: Annotated[str, Field(min_length=1, max_length=200)]


class RevisionSummary(Model):
    """A revision without its document."""

    number: int
    base: int | None
    kind: Literal["saved", "refused"]
    summary: str
    name: str
    created_at: str


class RevisionList(Model):
    """All revisions of a plan, newest first."""

    plan_id: str
    head: int
    revisions: list[RevisionSummary]


class Revision(RevisionSummary):
    """A revision with its document."""

    document: PlanDocument


class SectionRequest(Model):
    """Fields wanted for drawing; ``y_m`` null for the basking place."""

    y_m: Annotated[float, Field(ge=0, le=3)] | None = None
    nx: Annotated[int, Field(ge=8, le=400)] = 120
    nz: Annotated[int, Field(ge=8, le=400)] = 60


class PlanViewRequest(Model):
    """Fields wanted seen from above; ``z_m`` null for the animal's back at the basking place."""

    z_m: Annotated[float, Field(ge=0, le=3)] | None = None
    nx: Annotated[int, Field(ge=8, le=400)] = 120
    ny: Annotated[int, Field(ge=8, le=400)] = 60


class EvaluateRequest(Model):
    """A plan to evaluate, and whether fields for drawing are wanted."""

    document: PlanDocument
    section: SectionRequest | None = None
    plan_view: PlanViewRequest | None = None
    lamp_age: Literal["new", "present", "worn"] = "present"
    patch_above_c: Annotated[float, Field(ge=0, le=100)] | None = None


class Place(Model):
    """Figures at one place; null where a figure has no meaning."""

    id: str
    label: str
    kind: PlaceKindName
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
    surface_c: float | None
    surface_mean_c: float | None
    surface_max_c: float | None
    relative_humidity: float
    operative_c: float


class ClaimModel(Model):
    """What one source says."""

    low: float | None
    high: float | None
    grade: GradeName
    source: str


class NeedModel(ClaimModel):
    """The range a plan is judged by, settled from the claims of one or more sources."""

    place: PlaceKindName
    quantity: QuantityName
    offered: bool
    note: str
    claims: list[ClaimModel]
    outliers: list[int]


class BasisModel(Model):
    """What a figure rests on: the catalogue, readings elsewhere in the box, or one of it; and their day."""

    kind: Literal["predicted", "fitted", "measured"]
    on: str | None


class VerdictModel(Model):
    """One need against its figure."""

    id: str
    place_id: str
    place_label: str
    need: NeedModel
    value: float | None
    status: StatusName
    severity: SeverityName
    reason: list[PhrasePart]
    basis: BasisModel


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
    """Figures at a place the keeper pinned; null where it is outside the air of the box."""

    id: str
    uvi_facing: float | None = None
    uvi_level: float | None = None
    irradiance_w_m2: float | None = None
    illuminance_lx: float | None = None
    air_c: float | None = None
    surface_c: float | None = None
    relative_humidity: float | None = None
    operative_c: float | None = None


class ReachModel(Model):
    """Where the animal can get to beside the ground: things it can stand on, faces it can climb."""

    things: list[str]
    faces: list[Literal["front", "back", "left", "right", "top", "floor"]]


class EvaluateResponse(Model):
    """Everything the screen shows of an evaluation."""

    meets_needs: bool
    night_air_c: float
    room_c: float
    power_w: float
    balance_relative_error: float
    iterations: int
    night_humidity: float
    summary: list[PhrasePart]
    power_fraction: dict[str, float]
    places: list[Place]
    verdicts: list[VerdictModel]
    findings: list[FindingModel]
    thermostats: list[ThermostatModel]
    uv_free_share: float
    uv_free_below: float
    reach: ReachModel
    pins: list[PinModel]
    patch: PatchModel | None
    section: SectionModel | None
    plan_view: PlanViewModel | None


class MendRequest(Model):
    """Ask for changes that would put one verdict or finding right."""

    document: PlanDocument
    about_id: Annotated[str, Field(min_length=1, max_length=200)]
    most: Annotated[int, Field(ge=1, le=3)] = 3


class IntervalModel(Model):
    """The middle 80 % of what a figure may really be."""

    low: float
    high: float


class IntervalsRequest(Model):
    """A plan whose figures' intervals are wanted."""

    document: PlanDocument


class SpreadCause(Model):
    """An input that makes a share of a figure's spread."""

    name: str
    share: float


class VerdictInterval(IntervalModel):
    """The interval of one verdict's figure, and the probability that its need is met."""

    verdict_id: str
    probability: float
    causes: list[SpreadCause]


class IntervalsResponse(Model):
    """Intervals of all figures, from seeded draws."""

    draws: int
    seed: int
    intervals: list[VerdictInterval]


SituationName = Literal["now", "day", "winter", "summer", "worn", "grown"]


class OverTimeRequest(Model):
    """A plan to judge in every situation."""

    document: PlanDocument


class CellModel(Model):
    """One need in one situation; ``share`` of the hours of the day in which it is met."""

    situation: SituationName
    status: StatusName
    value: float | None
    share: float | None
    met: bool


class RowModel(Model):
    """One need at one place in every situation."""

    verdict_id: str
    place_label: str
    need: NeedModel
    holds: Literal["always", "sometimes", "never", "cannot_tell"]
    cells: list[CellModel]


class LeftOutModel(Model):
    """A situation that could not be looked at."""

    situation: SituationName
    why: str


class OverTimeResponse(Model):
    """What holds always, and what only sometimes."""

    situations: list[SituationName]
    rows: list[RowModel]
    left_out: list[LeftOutModel]


class PatchStep(Model):
    """One step on the document (RFC 6902): replace a value, add a thing to a list, remove one."""

    op: Literal["replace", "add", "remove"]
    path: str
    value: float | str | bool | dict[str, Any] | None


class MendModel(Model):
    """A computed change, the figure it leads to (null for a finding), and what it would break."""

    sentence: list[PhrasePart]
    value: float | None
    interval: IntervalModel | None
    breaks: list[str]
    patch: list[PatchStep]


class MendResponse(Model):
    """The changes found, the best first; none if nothing that was tried helps."""

    about_id: str
    mends: list[MendModel]


class LampModel(Model):
    """A lamp of the catalogue."""

    id: str
    label: str
    kind: str
    gives_light: bool
    shape: Literal["line", "beam", "panel", "table"]
    length_m: float | None
    fwhm_deg: float | None
    power_w: float
    power_min_w: float
    power_max_w: float
    power_choices_w: list[float]
    uvi_at_reference: float | None
    reference_distance_m: float | None
    controls: list[LampControlName]
    life_h: float | None
    for_plants: bool
    below_290_share: float
    unlike_sunlight: bool
    own: bool
    source: str
    sources: dict[str, str]


class MeshModel(Model):
    """A mesh of the catalogue."""

    id: str
    label: str
    wire_m: float
    pitch_m: float
    open_fraction: float
    source: str


class MaterialModel(Model):
    """A material of the catalogue."""

    id: str
    label: str
    uses: list[str]
    conductivity_w_mk: float
    absorptance: float
    emissivity: float
    uvb_reflectance: float
    pane: bool
    uvb_transmittance: float
    visible_transmittance: float
    source: str


class StageModel(Model):
    """A stage of life, with its needs as the default school settles them."""

    id: StageName
    body_length_m: float
    back_height_m: float
    habits: list[str]
    needs: list[NeedModel]


class WinterRestModel(Model):
    """A cool rest."""

    weeks: float
    low_c: float
    high_c: float
    grade: str
    source: str


class BoxSizeModel(Model):
    """The least inside size for one adult, m."""

    length_m: float
    depth_m: float
    height_m: float
    grade: str
    source: str


class HomeModel(Model):
    """Climate of a place in the range, twelve months from January."""

    id: str
    label: str
    latitude_deg: float
    minimum_c: list[float]
    maximum_c: list[float]
    rain_mm: list[float]
    sun_h: list[float]
    day_h: list[float]
    source: str


class SpeciesModel(Model):
    """A species, without its claims of other schools."""

    id: str
    scientific_name: str
    common_name: str
    common_names: list[str]
    synonyms: list[str]
    group: str
    way_of_life: str
    habits: list[str]
    active: str
    exposure_class: int
    exposure_source: str
    uv_school: str
    uv_reason: str
    heat: str
    uv: str
    light: str
    stages: list[StageModel]
    box: BoxSizeModel
    winter_rest: WinterRestModel | None
    home: HomeModel
    hazards: list[str]
    lowest_safe_c: float
    highest_safe_c: float
    safe_source: str
    most_uvi: float
    size_source: str
    own: bool


class SpeciesBrief(Model):
    """A species by its names, for choosing one."""

    id: str
    scientific_name: str
    common_name: str
    common_names: list[str]
    synonyms: list[str]
    group: str
    way_of_life: str
    body_length_m: float
    own: bool


class ExposureClassModel(Model):
    """A class of exposure, by the UV index such animals seek of their own will."""

    number: int
    animals: str
    mean_low: float
    mean_high: float
    peak_low: float
    peak_high: float


class CatalogModel(Model):
    """All reference data, and the keeper's own lamps."""

    lamps: list[LampModel]
    meshes: list[MeshModel]
    materials: list[MaterialModel]
    species: list[SpeciesBrief]
    exposure_classes: list[ExposureClassModel]
