"""Core results as response models."""

from __future__ import annotations

import base64
from collections.abc import Iterable, Sequence
from dataclasses import asdict

import numpy as np
from numpy.typing import NDArray

from noonshade.core.assessment.reach import reach_of
from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanView, Section
from noonshade.core.fixes.candidate import Add, Fix, Remove, Step, Value
from noonshade.core.forecast import ForecastMonth, summary_with_months
from noonshade.core.heights import HeightFigures, figures_by_height
from noonshade.core.light.exposure import UV_FREE_UVI, daily_light_integral
from noonshade.core.needs.species import Need
from noonshade.core.phrase import Measure, Phrase, Unit
from noonshade.core.places import basking_patch
from noonshade.core.probe import probe
from noonshade.core.readings.evidence import find_evidence
from noonshade.core.summary import by_weight
from noonshade.formats.plan_document import PinDocument, PlanDocument
from noonshade.formats.plan_parts import part_document
from noonshade.formats.results.models import (
    BranchModel,
    CheckModel,
    ClaimModel,
    CourseModel,
    EvaluateResponse,
    EvidenceModel,
    Figure,
    FindingModel,
    FixModel,
    GroundModel,
    HeightModel,
    IntervalModel,
    Layer,
    NeedModel,
    PatchModel,
    PatchStep,
    PhrasePart,
    PinModel,
    Place,
    PlanViewModel,
    PlumeModel,
    ReachModel,
    SectionModel,
    SurfaceModel,
    Text,
    ThermostatModel,
    WaterUseModel,
)

LAYERS = (
    *("uvi", "irradiance_w_m2", "illuminance_lx", "ppfd_umol_m2_s"),
    *("air_c", "relative_humidity"),
)


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
        offered=need.offered,
        required=need.required,
        note=need.note,
        claims=[ClaimModel(**asdict(c)) for c in need.claims],
        outliers=list(need.outliers),
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
        ground=GroundModel(
            x_m=[round(float(x), 4) for x in section.ground.x_m],
            z_m=[round(float(z), 4) for z in section.ground.z_m],
            temperature_c=[[round(float(t), 2) for t in row] for row in section.ground.temperature_c],
        ),
        plumes=[
            PlumeModel(
                x_m=round(p.x_m, 4),
                y_m=round(p.y_m, 4),
                z_m=[round(float(z), 4) for z in p.z_m],
                radius_m=[round(float(r), 4) for r in p.radius_m],
                air_c=[round(float(t), 2) for t in p.air_c],
            )
            for p in section.plumes
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
        surface_c=quantised(view.surface_c),
    )


def _layers(view: Section | PlanView) -> dict[str, Layer]:
    return {name: quantised(getattr(view, name)) for name in LAYERS}


def evaluation_model(
    evaluation: Evaluation,
    section: Section | None = None,
    plan_view: PlanView | None = None,
    patch_above_c: float | None = None,
    pins: Sequence[PinDocument] = (),
    months: Sequence[ForecastMonth] = (),
) -> EvaluateResponse:
    """An evaluation for the screen and for ``evaluate --format json``."""
    day = evaluation.day
    reach = reach_of(evaluation.plan)
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
            probe_c=p.probe_c,
            surface_c=p.surface_c,
            surface_mean_c=p.surface_mean_c,
            surface_max_c=p.surface_max_c,
            relative_humidity=p.relative_humidity,
            operative_c=p.operative_c,
        )
        for p in evaluation.places
    ]
    checks = [
        CheckModel(
            id=v.id,
            place_id=v.place_id,
            place_label=v.place_label,
            need=need_model(v.need),
            place=v.need.place,
            quantity=v.need.quantity,
            value=v.value,
            low=v.need.low,
            high=v.need.high,
            status=v.status,
            required=v.required,
            severity=v.severity,
            chance=v.chance,
            course=None if v.course is None else CourseModel(**asdict(v.course)),
            settles=v.settles,
            reason=phrase_parts(v.reason),
            evidence=EvidenceModel(**asdict(find_evidence(evaluation.plan, v))),
        )
        for v in by_weight(evaluation)
    ]
    return EvaluateResponse(
        fits=evaluation.fits,
        night_air_c=evaluation.night_air_c,
        room_c=day.room_c,
        power_w=day.power_w,
        balance_relative_error=day.balance.relative_error,
        iterations=day.iterations,
        night_humidity=evaluation.night_humidity,
        summary=phrase_parts(summary_with_months(evaluation, months)),
        power_fraction=day.power_fraction,
        places=places,
        checks=checks,
        findings=[
            FindingModel(
                id=f.id,
                about_id=f.about_id,
                severity=f.severity,
                message=phrase_parts(f.message),
                caution=f.caution,
                ask=f.ask,
            )
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
        water=[
            WaterUseModel(
                id=use.id,
                label=use.label,
                kind=use.kind,
                area_m2=use.area_m2,
                lost_l_day=use.lost_l_day,
                sprayed_l_day=use.sprayed_l_day,
                held_l=use.held_l,
                every_days=use.every_days,
                pour_l=use.pour_l,
            )
            for use in evaluation.water
        ],
        uv_free_share=evaluation.uv_free_share,
        uv_free_below=UV_FREE_UVI,
        reach=ReachModel(things=list(reach.things), faces=list(reach.faces)),
        pins=[_pin_model(evaluation, pin) for pin in pins],
        heights=[_height_model(h) for h in figures_by_height(evaluation)],
        patch=None
        if patch is None
        else PatchModel(**{name: getattr(patch, name) for name in PatchModel.model_fields}),
        section=None if section is None else section_model(section),
        plan_view=None if plan_view is None else plan_view_model(plan_view),
    )


def _height_model(height: HeightFigures) -> HeightModel:
    figures = height.figures
    x, _, z = figures.position_m
    names = ("air_c", "probe_c", "surface_c", "operative_c", "uvi_level", "uvi_facing", "relative_humidity")
    return HeightModel(
        label=height.label,
        thing=height.thing,
        above_ground_m=height.above_ground_m,
        x_m=x,
        z_m=z,
        **{name: getattr(figures, name) for name in names},
    )


def _pin_model(evaluation: Evaluation, pin: PinDocument) -> PinModel:
    try:
        reading = probe(evaluation, pin.at_m.as_tuple(), pin.bead_m)
    except PlanError:
        # The enclosure was made smaller, and it is no longer in it.
        return PinModel(id=pin.id)
    names = [name for name in PinModel.model_fields if name != "id"]
    return PinModel(id=pin.id, **{name: getattr(reading, name) for name in names})


def fix_model(fix: Fix, document: PlanDocument, interval: tuple[float, float] | None = None) -> FixModel:
    """A fix with its changes as patch steps on the document."""
    sentence = fix.sentence
    if interval is not None and fix.value is not None:
        unit: Unit = next((p.unit for p in reversed(sentence) if isinstance(p, Measure)), "")
        scale = 100.0 if unit == "%" else 1.0
        low, high = (Measure(scale * v, unit) for v in interval)
        sentence = (*sentence[:-1], " (likely ", low, " to ", high, ").")
    return FixModel(
        sentence=phrase_parts(sentence),
        value=fix.value,
        interval=None if interval is None else IntervalModel(low=interval[0], high=interval[1]),
        breaks=list(fix.breaks),
        patch=patch_of(fix.changes, document),
    )


_LISTS = {
    "fixture": "fixtures",
    "thermostat": "thermostats",
    "furnishing": "furnishings",
    "vent": "enclosure/vents",
    "inset": "enclosure/insets",
    "fan": "fans",
    "cold_pack": "cold_packs",
}
# Those whose things have ids.
_WITH_IDS = ("fixture", "thermostat", "furnishing", "fan", "cold_pack")
_SINGLE = {
    "room": "room",
    "lid": "enclosure/walls/top",
    "enclosure": "enclosure",
    "substrate": "substrate",
    "animal": "animal",
    "plan": "",
}


def patch_of(steps: Iterable[Step], document: PlanDocument) -> list[PatchStep]:
    """Steps of a fix as those of a JSON patch (RFC 6902) on the document they were found for."""
    ids = {part: [thing.id for thing in getattr(document, _LISTS[part]) or ()] for part in _WITH_IDS}
    return [_patch_step(step, ids) for step in steps]


def _listed(value: Value) -> bool | int | float | str | list[float] | None:
    return list(value) if isinstance(value, tuple) else value


def _patch_step(step: Step, ids: dict[str, list[str]]) -> PatchStep:
    """One step; ``ids`` of the things in each list follow what the steps add and remove."""
    if isinstance(step, Add):
        if step.part in ids:
            ids[step.part].append(getattr(step.thing, "id", ""))
        return PatchStep(op="add", path=f"/{_LISTS[step.part]}/-", value=part_document(step.thing))
    if isinstance(step, Remove):
        at = ids[step.part].index(step.part_id)
        del ids[step.part][at]
        return PatchStep(op="remove", path=f"/{_LISTS[step.part]}/{at}", value=None)
    attribute = step.attribute.replace(".", "/")
    if step.part in _SINGLE:
        place = _SINGLE[step.part]
        return PatchStep(
            op="replace", path=f"/{place}/{attribute}".replace("//", "/"), value=_listed(step.value)
        )
    at = ids[step.part].index(step.part_id)
    return PatchStep(op="replace", path=f"/{_LISTS[step.part]}/{at}/{attribute}", value=_listed(step.value))
