"""The lamp library: lamps to look at, to compare, to search, to add and to read from files."""

from __future__ import annotations

import secrets

import numpy as np
from flask import Blueprint, Response

from noonshade.core.light.action import spectrum_figures
from noonshade.core.light.ageing import REFERENCE_H
from noonshade.core.light.lamp_curves import (
    LampCondition,
    Match,
    curve,
    curve_distances,
    distance_for,
    lamps_giving,
)
from noonshade.core.light.lamp_fit import LampReading, fit_readings
from noonshade.core.plan import Lamp, Screen
from noonshade.formats.lamp_document import (
    LampDocument,
    document_from_lamp,
    geometry_from_document,
    lamp_from_document,
    lamp_json,
    parse_lamp,
)
from noonshade.formats.photometric import PhotometricFile, parse_photometric
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.spectrum_csv import parse_spectrum
from noonshade.web import current
from noonshade.web.evaluation.serializers import lamp_model
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.lamps.schemas import (
    CreateLamp,
    CurveModel,
    CurvesRequest,
    CurvesResponse,
    FileResult,
    FindRequest,
    FindResponse,
    FitRequest,
    FitResponse,
    FoundLamp,
    LampCurves,
    LampFile,
    LampLibrary,
    LampUse,
    LibraryLamp,
    SaveLamp,
    ScreenChoice,
    SpectrumResult,
)

lamps_api = Blueprint("lamps", __name__, url_prefix="/api")

# White LED light: lumens a watt of radiation; between 280 and 340 by colour. Estimate.
_LUMENS_PER_RADIANT_WATT = 300.0


def _uses() -> dict[str, list[LampUse]]:
    """Plans by the lamps they use."""
    found: dict[str, list[LampUse]] = {}
    for record in current.plans().all():
        document: PlanDocument = parse_plan(record.document)
        fixtures: dict[str, list[str]] = {}
        for fixture in document.fixtures:
            fixtures.setdefault(fixture.lamp_id, []).append(fixture.label)
        for lamp_id, labels in fixtures.items():
            use = LampUse(plan_id=record.id, name=record.name, fixtures=labels)
            found.setdefault(lamp_id, []).append(use)
    return found


def _own(lamp_id: str) -> LibraryLamp:
    record, document, lamp = current.library().own()[lamp_id]
    return LibraryLamp(
        lamp=lamp_model(lamp, own=True),
        document=document,
        revision=record.revision,
        used_in=_uses().get(lamp_id, []),
    )


def _lamp(lamp_id: str) -> Lamp:
    lamps = current.library().lamps()
    if lamp_id not in lamps:
        raise RequestProblem(
            404, "not-found", "There is no such lamp", f"no lamp {lamp_id!r} on the library"
        )
    return lamps[lamp_id]


def _screen(choice: ScreenChoice) -> Screen | None:
    if choice.screen_id is None:
        return None
    catalog = current.library().catalog
    screens: dict[str, Screen] = {**catalog.meshes}
    screens |= {key: m for key, m in catalog.materials.items() if m.is_pane}
    if choice.screen_id not in screens:
        known = ", ".join(sorted(screens))
        raise RequestProblem(
            404, "not-found", "There is no such screen", f"{choice.screen_id!r}; known: {known}"
        )
    return screens[choice.screen_id]


@operation(lamps_api, "GET", "/lamps", response=LampLibrary, problems=(503,))
def list_lamps() -> LampLibrary:
    """All lamps, your own first, each with all its numbers and where it is used."""
    library, uses = current.library(), _uses()
    own = library.own()
    rows = [
        LibraryLamp(
            lamp=lamp_model(lamp, own=True),
            document=document,
            revision=record.revision,
            used_in=uses.get(key, []),
        )
        for key, (record, document, lamp) in own.items()
    ]
    rows += [
        LibraryLamp(
            lamp=lamp_model(lamp),
            document=document_from_lamp(lamp),
            revision=None,
            used_in=uses.get(lamp.id, []),
        )
        for lamp in library.catalog.lamps.values()
        if lamp.id not in own
    ]
    return LampLibrary(lamps=rows)


@operation(
    lamps_api,
    "POST",
    "/lamps",
    request_model=CreateLamp,
    response=LibraryLamp,
    status=201,
    problems=(503, 507),
)
def create_lamp(body: CreateLamp) -> LibraryLamp:
    """Put a new or imported lamp on the library."""
    document = body.document
    lamp_from_document(document)
    if document.id in current.library().lamps() or not document.id.startswith("own-"):
        document = document.model_copy(update={"id": f"own-{secrets.token_hex(4)}"})
    current.library().store.create(document.id, document.label, lamp_json(document))
    return _own(document.id)


@operation(
    lamps_api,
    "PUT",
    "/lamps/<lamp_id>",
    request_model=SaveLamp,
    response=LibraryLamp,
    problems=(404, 409, 503, 507),
)
def save_lamp(body: SaveLamp, lamp_id: str) -> LibraryLamp:
    """Change one of your own lamps; refused with 409 if it is not based on its newest state."""
    document = body.document.model_copy(update={"id": lamp_id})
    lamp_from_document(document)
    current.library().store.save(lamp_id, body.base_revision, document.label, lamp_json(document))
    return _own(lamp_id)


@operation(lamps_api, "DELETE", "/lamps/<lamp_id>", response=None, status=204, problems=(404, 503, 507))
def remove_lamp(lamp_id: str) -> None:
    """Take one of your own lamps off the library; plans that use it keep it, and it can be brought back."""
    current.library().store.remove(lamp_id)


@operation(lamps_api, "POST", "/lamps/<lamp_id>/bring-back", response=LibraryLamp, problems=(404, 503, 507))
def bring_back_lamp(lamp_id: str) -> LibraryLamp:
    """Put a removed lamp back on the library."""
    current.library().store.bring_back(lamp_id)
    return _own(lamp_id)


@operation(lamps_api, "GET", "/lamps/<lamp_id>/export", response=LampDocument, problems=(404, 503))
def export_lamp(lamp_id: str) -> Response:
    """A lamp as a file."""
    own = current.library().own()
    document = own[lamp_id][1] if lamp_id in own else document_from_lamp(_lamp(lamp_id))
    return current.json_file(lamp_json(document), document.label, "lamp", "lamp")


@operation(
    lamps_api,
    "POST",
    "/lamps/curves",
    request_model=CurvesRequest,
    response=CurvesResponse,
    problems=(404,),
)
def lamp_curves(body: CurvesRequest) -> CurvesResponse:
    """UV index and irradiance against distance: bare and screened, new and aged."""
    screen = _screen(body)
    lamps = [_lamp(key) for key in body.lamp_ids]
    if body.draft is not None:
        lamps.append(lamp_from_document(body.draft))

    def made(lamp: Lamp, through: Screen | None, hours: float) -> CurveModel:
        setting = LampCondition(through, body.measured if through is not None else None, hours)
        line = curve(lamp, setting)
        return CurveModel(
            uvi=[float(f"{v:.5g}") for v in line.uvi],
            irradiance_w_m2=[float(f"{v:.5g}") for v in line.irradiance_w_m2],
            distance_for_m=None if body.uvi is None else distance_for(lamp, body.uvi, setting),
        )

    rows = []
    for lamp in lamps:
        aged = None
        if lamp.ageing is not None:
            aged = body.hours if body.hours is not None else lamp.ageing.life_h
        rows.append(
            LampCurves(
                lamp_id=lamp.id,
                label=lamp.label,
                aged_hours=aged,
                bare=made(lamp, None, REFERENCE_H),
                screened=None if screen is None else made(lamp, screen, REFERENCE_H),
                aged_bare=None if aged is None else made(lamp, None, aged),
                aged_screened=None if aged is None or screen is None else made(lamp, screen, aged),
            )
        )
    return CurvesResponse(distance_m=[round(float(d), 5) for d in curve_distances()], lamps=rows)


@operation(
    lamps_api, "POST", "/lamps/find", request_model=FindRequest, response=FindResponse, problems=(404,)
)
def find_lamps(body: FindRequest) -> FindResponse:
    """Which lamps give a UV index in a range at a distance?"""
    if body.low > body.high:
        raise RequestProblem(422, "invalid-request", "A value cannot be used", "low must not be above high")
    library, screen = current.library(), _screen(body)
    own = library.own_lamps()
    matches: list[Match] = []
    for lamp in library.lamps().values():
        hours = lamp.ageing.life_h if body.worn and lamp.ageing is not None else REFERENCE_H
        setting = LampCondition(screen, body.measured, hours)
        matches += lamps_giving([lamp], body.low, body.high, body.distance_m, setting)
    middle = (body.low + body.high) / 2
    matches.sort(key=lambda m: (abs(m.uvi - middle), m.lamp.label))
    return FindResponse(
        lamps=[
            FoundLamp(lamp_id=m.lamp.id, label=m.lamp.label, own=m.lamp.id in own, uvi=m.uvi)
            for m in matches
        ]
    )


@operation(lamps_api, "POST", "/lamps/fit", request_model=FitRequest, response=FitResponse)
def fit_lamp(body: FitRequest) -> FitResponse:
    """Fit a lamp's strength to readings at two or more distances."""
    readings = tuple(LampReading(r.distance_m, r.uvi) for r in body.readings)
    try:
        fit = fit_readings(geometry_from_document(body.geometry), readings)
    except ValueError as error:
        raise RequestProblem(422, "invalid-request", "The readings cannot be used", str(error)) from error
    return FitResponse(
        uvi=fit.reference.uvi,
        distance_m=fit.reference.distance_m,
        misfit=fit.misfit,
        deviations=list(fit.deviations),
        fall_off=fit.fall_off,
        fall_off_expected=fit.fall_off_expected,
        other_size_m=fit.other_size_m,
        quality="impossible" if fit.impossible else "other_size" if fit.is_bad else "good",
    )


@operation(lamps_api, "POST", "/lamps/read-file", request_model=LampFile, response=FileResult)
def read_lamp_file(body: LampFile) -> FileResult:
    """Read a spectrum (CSV), a photometric file (IES LM-63, EULUMDAT) or a lamp document (JSON)."""
    ending = body.name.lower().rsplit(".", 1)[-1]
    if ending == "json":
        return FileResult(kind="lamp", spectrum=None, draft=parse_lamp(body.text), notes=[])
    if ending in ("ies", "ldt"):
        read = parse_photometric(body.text)
        draft, notes = _draft(read, body.name)
        return FileResult(kind="photometric", spectrum=None, draft=draft, notes=notes)
    if ending not in ("csv", "txt", "tsv"):
        raise RequestProblem(
            422,
            "invalid-file",
            "This kind of file cannot be read",
            f"{body.name}: must end in .json (lamp), .ies or .ldt (light distribution), or .csv (spectrum)",
        )
    spectrum = parse_spectrum(body.text)
    nm = np.array(spectrum.wavelength_nm)
    try:
        figures = spectrum_figures(nm, np.array(spectrum.irradiance))
    except ValueError as error:
        raise RequestProblem(422, "invalid-file", "The spectrum cannot be used", str(error)) from error
    return FileResult(
        kind="spectrum",
        spectrum=SpectrumResult(
            uvi=figures.uvi,
            d3_effective_w_m2=figures.d3_effective_w_m2,
            d3_ratio=figures.d3_ratio,
            below_290_share=figures.below_290_share,
            unlike_sunlight=figures.unlike_sunlight,
            low_nm=float(nm[0]),
            high_nm=float(nm[-1]),
            rows=nm.size,
        ),
        draft=None,
        notes=list(spectrum.notes),
    )


def _draft(read: PhotometricFile, name: str) -> tuple[LampDocument, list[str]]:
    """A lamp to start from: its light distribution is measured, the rest must be looked at."""
    notes = list(read.notes)
    if read.watts is None:
        notes.append("The file gives no watts; 20 W was put in. Correct it.")
    if read.lumens is None:
        notes.append("The file gives no lumens; the light was estimated from the watts.")
    notes.append("A light distribution tells nothing of UV: add readings or a spectrum for that.")
    watts = read.watts or 20.0
    share = 0.35 if read.lumens is None else read.lumens / _LUMENS_PER_RADIANT_WATT / watts
    label = (read.name or name.rsplit(".", 1)[0])[:80] or "Lamp from a file"
    table = read.table
    draft = LampDocument.model_validate(
        {
            "format": "noonshade-lamp",
            "version": 1,
            "id": f"own-{secrets.token_hex(4)}",
            "label": label,
            "kind": "led",
            "gives_light": True,
            "geometry": {
                "shape": "table",
                "diameter_m": table.diameter_m,
                "c_deg": list(table.c_deg),
                "gamma_deg": list(table.gamma_deg),
                "intensity": [list(row) for row in table.intensity],
            },
            "power_w": watts,
            "power_min_w": watts,
            "power_max_w": watts,
            "power_choices_w": [watts],
            "forward_radiant": min(max(share, 0.01), 0.9),
            "other_radiant": 0.0,
            "lumens_per_radiant_watt": _LUMENS_PER_RADIANT_WATT,
            "controls": [],
            "source": f"{read.format} file {name}"[:500],
            "sources": {
                "beam": f"{read.format} file",
                "power": f"{read.format} file" if read.watts else "estimate",
                "split": "estimate: lumens at 300 lm a watt of radiation",
                "light": f"{read.format} file" if read.lumens else "estimate",
            },
        }
    )
    return draft, notes
