"""The catalogue as the interface has it: lamps, meshes, materials, species."""

from __future__ import annotations

from typing import Literal

from noonshade.core.needs.species import CompanyRule, HintKind, LayingPlace, StageId
from noonshade.core.plan import Finish
from noonshade.formats.document import Model
from noonshade.formats.results.models import LampControlName, NeedModel


class LampModel(Model):
    """A lamp of the catalogue."""

    id: str
    label: str
    kind: str
    gives_light: bool
    shape: Literal["line", "beam", "panel", "table"]
    length_m: float | None
    width_m: float | None
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
    woven: bool
    finish: Finish
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
    visible_reflectance: float
    pane: bool
    usual_thickness_m: float
    uvb_transmittance: float
    visible_transmittance: float
    source: str


class EnclosureSizeModel(Model):
    """The least inside size for one animal, m."""

    length_m: float
    depth_m: float
    height_m: float
    grade: str
    source: str


class StageModel(Model):
    """A stage of life, with its needs as the default school settles them."""

    id: StageId
    body_length_m: float
    back_height_m: float
    habits: list[str]
    enclosure: EnclosureSizeModel
    needs: list[NeedModel]


class BrumationNeedModel(Model):
    """A cool rest."""

    weeks: float
    low_c: float
    high_c: float
    grade: str
    source: str


class CompanyModel(Model):
    """Which animals of a species may share an enclosure."""

    rule: CompanyRule
    grade: str
    source: str
    season: bool


class GroundModel(Model):
    """The ground a species needs: least depth for an adult, m, and of what."""

    depth_m: float
    mix: str
    grade: str
    source: str


class LayingModel(Model):
    """Where a gravid female lays, with the least depth of ground, m."""

    place: LayingPlace
    depth_m: float
    grade: str
    source: str


class HintModel(Model):
    """What a beginner should know first."""

    kind: HintKind
    text: str


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
    enclosure: EnclosureSizeModel
    brumation: BrumationNeedModel | None
    home: HomeModel
    hazards: list[str]
    lowest_safe_c: float
    highest_safe_c: float
    safe_source: str
    harmful_uvi: float
    ceiling_c: float | None
    ceiling_source: str
    size_source: str
    diet: str | None
    food: str
    everyday_names: list[str]
    company: CompanyModel | None
    ground: GroundModel | None
    laying: LayingModel | None
    likes_contact: bool
    hints: list[HintModel]
    own: bool


class SpeciesBrief(Model):
    """A species by its names, for choosing one."""

    id: str
    scientific_name: str
    common_name: str
    common_names: list[str]
    synonyms: list[str]
    everyday_names: list[str]
    group: str
    way_of_life: str
    body_length_m: float
    hints: list[HintModel]
    own: bool


class ExposureClassModel(Model):
    """A class of exposure, by the UV index such animals seek by themselves."""

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
