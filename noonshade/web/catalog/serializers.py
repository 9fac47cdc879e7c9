"""Reference data as the interface has them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from datetime import date
from functools import lru_cache
from typing import Literal

from noonshade.catalog import Catalog
from noonshade.core.light.exposure import CLASSES
from noonshade.core.light.sun import day_length_h
from noonshade.core.needs.derived import stage_needs
from noonshade.core.needs.species import Species
from noonshade.core.plan import BeamSource, Lamp, LineSource, PanelSource, SourceGeometry
from noonshade.formats.results.evaluation import need_model
from noonshade.web.catalog.schemas import (
    BrumationNeedModel,
    CatalogModel,
    CompanyModel,
    EnclosureSizeModel,
    ExposureClassModel,
    GroundModel,
    HintModel,
    HomeModel,
    LampModel,
    LayingModel,
    MaterialModel,
    MeshModel,
    SpeciesBrief,
    SpeciesModel,
    StageModel,
)


@lru_cache(maxsize=512)
def species_model(species: Species, own: bool = False) -> SpeciesModel:
    """A species for the screen, its needs settled by the default school."""
    home = species.home
    days = [day_length_h(home.latitude_deg, date(2025, month, 21)) for month in range(1, 13)]
    return SpeciesModel(
        **{
            name: getattr(species, name)
            for name in (
                *("id", "scientific_name", "common_name", "group", "way_of_life", "active"),
                *("exposure_class", "exposure_source", "uv_school", "uv_reason", "heat", "uv", "light"),
                *("lowest_safe_c", "highest_safe_c", "safe_source", "harmful_uvi"),
                *("size_source", "diet", "food", "likes_contact", "ceiling_c", "ceiling_source"),
            )
        },
        common_names=list(species.common_names),
        synonyms=list(species.synonyms),
        habits=list(species.habits),
        hazards=list(species.hazards),
        everyday_names=list(species.everyday_names),
        company=None if species.company is None else CompanyModel(**asdict(species.company)),
        ground=None if species.ground is None else GroundModel(**asdict(species.ground)),
        laying=None if species.laying is None else LayingModel(**asdict(species.laying)),
        hints=[HintModel(**asdict(hint)) for hint in species.hints],
        stages=[
            StageModel(
                id=stage.id,
                body_length_m=stage.body_length_m,
                back_height_m=stage.back_height_m,
                habits=list(species.habits_at(stage.id)),
                enclosure=EnclosureSizeModel(**asdict(species.enclosure_at(stage.id))),
                needs=[need_model(n) for n in stage_needs(species, stage.id)],
            )
            for stage in species.stages
        ],
        enclosure=EnclosureSizeModel(**asdict(species.enclosure)),
        brumation=None if species.brumation is None else BrumationNeedModel(**asdict(species.brumation)),
        home=HomeModel(
            id=home.id,
            label=home.label,
            latitude_deg=home.latitude_deg,
            minimum_c=list(home.minimum_c),
            maximum_c=list(home.maximum_c),
            rain_mm=list(home.rain_mm),
            sun_h=list(home.sun_h),
            day_h=[round(d, 2) for d in days],
            source=home.source,
        ),
        own=own,
    )


def _brief(species: Species, own: bool = False) -> SpeciesBrief:
    return SpeciesBrief(
        id=species.id,
        scientific_name=species.scientific_name,
        common_name=species.common_name,
        common_names=list(species.common_names),
        synonyms=list(species.synonyms),
        everyday_names=list(species.everyday_names),
        hints=[HintModel(**asdict(hint)) for hint in species.hints],
        group=species.group,
        way_of_life=species.way_of_life,
        body_length_m=species.stage("adult").body_length_m,
        own=own,
    )


def catalog_model(
    catalog: Catalog, own: Mapping[str, Lamp], kinds: Mapping[str, Species] | None = None
) -> CatalogModel:
    """The catalogue and the keeper's own lamps and species for the screen."""
    kinds = kinds or {}
    species = [_brief(s, own=True) for s in kinds.values()]
    species += [_brief(s) for s in catalog.species.values() if s.id not in kinds]
    species.sort(key=lambda s: s.scientific_name)
    return CatalogModel(
        lamps=[
            *(lamp_model(lamp, own=True) for lamp in own.values()),
            *(lamp_model(lamp) for lamp in catalog.lamps.values() if lamp.id not in own),
        ],
        exposure_classes=[
            ExposureClassModel(**{name: getattr(c, name) for name in ExposureClassModel.model_fields})
            for c in CLASSES
        ],
        meshes=[
            MeshModel(
                id=m.id,
                label=m.label,
                wire_m=m.wire_m,
                pitch_m=m.pitch_m,
                open_fraction=m.open_fraction,
                woven=m.woven,
                finish=m.finish,
                source=m.source,
            )
            for m in catalog.meshes.values()
        ],
        materials=[
            MaterialModel(
                id=m.id,
                label=m.label,
                uses=list(catalog.material_uses[m.id]),
                conductivity_w_mk=m.conductivity_w_mk,
                absorptance=m.absorptance,
                emissivity=m.emissivity,
                uvb_reflectance=m.uvb_reflectance,
                visible_reflectance=m.visible_reflectance,
                pane=m.is_pane,
                usual_thickness_m=m.usual_thickness_m,
                uvb_transmittance=m.uvb_transmittance,
                visible_transmittance=m.visible_transmittance,
                source=m.source,
            )
            for m in catalog.materials.values()
        ],
        species=species,
    )


def _shape(geometry: SourceGeometry) -> Literal["line", "beam", "panel", "table"]:
    if isinstance(geometry, LineSource):
        return "line"
    if isinstance(geometry, BeamSource):
        return "beam"
    return "panel" if isinstance(geometry, PanelSource) else "table"


def lamp_model(lamp: Lamp, own: bool = False) -> LampModel:
    """A lamp for the screen."""
    geometry = lamp.geometry
    return LampModel(
        id=lamp.id,
        label=lamp.label,
        kind=lamp.kind,
        gives_light=lamp.gives_light,
        shape=_shape(geometry),
        length_m=geometry.length_m if isinstance(geometry, LineSource | PanelSource) else None,
        width_m=geometry.width_m if isinstance(geometry, PanelSource) else None,
        fwhm_deg=geometry.fwhm_deg if isinstance(geometry, BeamSource) else None,
        power_w=lamp.power_w,
        power_min_w=lamp.power_min_w,
        power_max_w=lamp.power_max_w,
        power_choices_w=list(lamp.power_choices_w),
        uvi_at_reference=lamp.uv.uvi if lamp.uv else None,
        reference_distance_m=lamp.uv.distance_m if lamp.uv else None,
        controls=list(lamp.controls),
        life_h=lamp.ageing.life_h if lamp.ageing else None,
        for_plants=lamp.lux_per_ppfd is not None,
        below_290_share=lamp.below_290_share,
        unlike_sunlight=lamp.unlike_sunlight,
        own=own,
        source=lamp.source,
        sources=dict(lamp.sources),
    )
