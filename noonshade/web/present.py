"""Core results as response models."""

from __future__ import annotations

import base64
from collections.abc import Mapping
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from noonshade.catalog import Catalog
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanView, Section
from noonshade.core.light.exposure import CLASSES, daily_light_integral
from noonshade.core.needs.model import Need
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.places import basking_patch
from noonshade.core.plan import BeamSource, Lamp, LineSource, PanelSource, SourceGeometry
from noonshade.core.verdict.mends import Change, Mend
from noonshade.formats.plan_document import PlanDocument
from noonshade.web.models import (
    BranchModel,
    CatalogModel,
    EvaluateResponse,
    ExposureClassModel,
    Figure,
    FindingModel,
    LampModel,
    Layer,
    MaterialModel,
    MendModel,
    MeshModel,
    NeedModel,
    PatchModel,
    PatchStep,
    PhrasePart,
    Place,
    PlanViewModel,
    SectionModel,
    SpeciesModel,
    SurfaceModel,
    Text,
    ThermostatModel,
    VerdictModel,
)

LAYERS = ("uvi", "irradiance_w_m2", "illuminance_lx", "ppfd_umol_m2_s", "air_c")


def phrase_parts(phrase: Phrase) -> list[PhrasePart]:
    """A sentence for the screen."""
    return [Figure(value=p.value, unit=p.unit) if isinstance(p, Measure) else Text(text=p) for p in phrase]


def need_model(need: Need) -> NeedModel:
    """A need for the screen."""
    return NeedModel(
        place=need.place,
        quantity=need.quantity,
        low=need.low,
        high=need.high,
        grade=need.grade,
        source=need.source,
    )


def quantised(values: NDArray[np.float64]) -> Layer:
    """A field as 16-bit codes between its least and greatest value."""
    low, high = float(values.min()), float(values.max())
    scale = (high - low) / 65535.0 or 1.0
    codes = np.round((values - low) / scale).astype("<u2")
    return Layer(offset=low, scale=scale, data=base64.b64encode(codes.tobytes()).decode("ascii"))


def section_model(section: Section) -> SectionModel:
    """A section for drawing."""
    return SectionModel(
        y_m=section.y_m,
        nx=section.x_m.size,
        nz=section.z_m.size,
        x0_m=float(section.x_m[0]),
        x1_m=float(section.x_m[-1]),
        z0_m=float(section.z_m[0]),
        z1_m=float(section.z_m[-1]),
        **_layers(section),
        surfaces=[
            SurfaceModel(
                id=s.id,
                z_m=s.z_m,
                x_m=[round(float(x), 4) for x in s.x_m],
                temperature_c=[round(float(t), 2) for t in s.temperature_c],
            )
            for s in section.surfaces
        ],
        branches=[
            BranchModel(
                id=b.id,
                x_m=[round(float(x), 4) for x in b.x_m],
                z_m=[round(float(z), 4) for z in b.z_m],
                temperature_c=[round(float(t), 2) for t in b.temperature_c],
            )
            for b in section.branches
        ],
    )


def plan_view_model(view: PlanView) -> PlanViewModel:
    """A view from above for drawing."""
    return PlanViewModel(
        z_m=view.z_m,
        nx=view.x_m.size,
        ny=view.y_m.size,
        x0_m=float(view.x_m[0]),
        x1_m=float(view.x_m[-1]),
        y0_m=float(view.y_m[0]),
        y1_m=float(view.y_m[-1]),
        **_layers(view),
    )


def _layers(view: Section | PlanView) -> dict[str, Layer]:
    return {name: quantised(getattr(view, name)) for name in LAYERS}


def evaluation_model(
    evaluation: Evaluation,
    section: Section | None = None,
    plan_view: PlanView | None = None,
    patch_above_c: float | None = None,
) -> EvaluateResponse:
    """An evaluation for the screen and for ``evaluate --format json``."""
    day = evaluation.day
    patch = basking_patch(day, patch_above_c)
    places = [
        Place(
            id=p.id,
            label=p.label,
            kind=p.kind,
            x_m=p.position_m[0],
            y_m=p.position_m[1],
            z_m=p.position_m[2],
            uvi_level=p.uvi_level,
            uvi_facing=p.uvi_facing,
            irradiance_w_m2=p.irradiance_w_m2,
            illuminance_lx=p.illuminance_lx,
            ppfd_umol_m2_s=p.ppfd_umol_m2_s,
            daily_light_mol_m2=None
            if p.ppfd_umol_m2_s is None
            else daily_light_integral(p.ppfd_umol_m2_s, evaluation.plan.photoperiod_h),
            exposure_class=p.exposure_class,
            air_c=p.air_c,
            surface_c=p.surface_c,
            surface_mean_c=p.surface_mean_c,
            surface_max_c=p.surface_max_c,
            relative_humidity=p.relative_humidity,
            operative_c=p.operative_c,
        )
        for p in evaluation.places
    ]
    verdicts = [
        VerdictModel(
            id=v.id,
            place_id=v.place_id,
            place_label=v.place_label,
            need=need_model(v.need),
            value=v.value,
            status=v.status,
            reason=phrase_parts(v.reason),
        )
        for v in evaluation.verdicts
    ]
    return EvaluateResponse(
        meets_needs=evaluation.meets_needs,
        night_air_c=evaluation.night_air_c,
        room_c=day.room_c,
        power_w=day.power_w,
        balance_relative_error=day.balance.relative_error,
        iterations=day.iterations,
        power_fraction=day.power_fraction,
        places=places,
        verdicts=verdicts,
        findings=[
            FindingModel(id=f.id, about_id=f.about_id, severity=f.severity, message=phrase_parts(f.message))
            for f in evaluation.findings
        ],
        thermostats=[
            ThermostatModel(
                id=s.thermostat.id,
                fraction=s.fraction,
                probe_c=s.probe_c,
                set_point_c=s.set_point_c,
                holds=s.holds,
            )
            for s in day.thermostats
        ],
        uv_free_share=evaluation.uv_free_share,
        patch=None
        if patch is None
        else PatchModel(**{name: getattr(patch, name) for name in PatchModel.model_fields}),
        section=None if section is None else section_model(section),
        plan_view=None if plan_view is None else plan_view_model(plan_view),
    )


def mend_model(mend: Mend, document: PlanDocument) -> MendModel:
    """A mend with its changes as patch steps on the document."""
    return MendModel(
        sentence=phrase_parts(mend.sentence),
        value=mend.value,
        breaks=list(mend.breaks),
        patch=[PatchStep(op="replace", path=_pointer(c, document), value=c.value) for c in mend.changes],
    )


def _pointer(change: Change, document: PlanDocument) -> str:
    attribute = change.attribute.replace(".", "/")
    if change.part == "room":
        return f"/room/{attribute}"
    if change.part == "lid":
        return f"/box/walls/top/{attribute}"
    parts = {
        "fixture": ("fixtures", [f.id for f in document.fixtures]),
        "thermostat": ("thermostats", [t.id for t in document.thermostats]),
        "hide": ("furnishings", [f.id for f in document.furnishings]),
    }
    name, ids = parts[change.part]
    return f"/{name}/{ids.index(change.part_id)}/{attribute}"


def catalog_model(catalog: Catalog, own: Mapping[str, Lamp]) -> CatalogModel:
    """The catalogue and the keeper's own lamps for the screen."""
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
                pane=m.is_pane,
                uvb_transmittance=m.uvb_transmittance,
                visible_transmittance=m.visible_transmittance,
                source=m.source,
            )
            for m in catalog.materials.values()
        ],
        species=[
            SpeciesModel(
                id=s.id,
                scientific_name=s.scientific_name,
                common_name=s.common_name,
                way_of_life=s.way_of_life,
                exposure_class=s.exposure_class,
                exposure_source=s.exposure_source,
                body_length_m=s.body_length_m,
                back_height_m=s.back_height_m,
                needs=[need_model(n) for n in s.needs],
            )
            for s in catalog.species.values()
        ],
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
