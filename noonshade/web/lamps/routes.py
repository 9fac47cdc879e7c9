"""The lamp library: lamps to look at, to compare, to search, to add and to read from files."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response

from noonshade.core.light.action import spectrum_figures
from noonshade.core.light.ageing import REFERENCE_H
from noonshade.core.light.lamp_curves import (
    LampCondition,
    curve_distances,
    distance_for,
    lamp_curve,
)
from noonshade.core.light.lamp_fit import LampReading, fit_lamp
from noonshade.core.plan import Lamp, Screen
from noonshade.formats.lamp_document import (
    LampDocument,
    document_from_lamp,
    geometry_from_document,
    lamp_from_document,
    lamp_json,
    parse_lamp,
)
from noonshade.formats.photometric import parse_photometric
from noonshade.formats.spectrum_csv import parse_spectrum
from noonshade.services import lamps
from noonshade.services.application import Services
from noonshade.web.catalog.serializers import lamp_model
from noonshade.web.http import downloads
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


def _uses(found: list[lamps.LampUse]) -> list[LampUse]:
    return [LampUse(plan_id=u.plan_id, name=u.name, fixtures=list(u.fixtures)) for u in found]


def _own(services: Services, lamp_id: str) -> LibraryLamp:
    record, document, lamp = services.library.own()[lamp_id]
    return LibraryLamp(
        lamp=lamp_model(lamp, own=True),
        document=document,
        revision=record.revision,
        used_in=_uses(lamps.lamp_uses(services).get(lamp_id, [])),
    )


def _screen(services: Services, choice: ScreenChoice) -> Screen | None:
    return None if choice.screen_id is None else services.library.screen(choice.screen_id)


@operation(lamps_api, "GET", "/lamps", response=LampLibrary, problems=(503,))
def list_lamps(services: Services) -> LampLibrary:
    """All lamps, your own first, each with all its numbers and where it is used."""
    library, uses = services.library, lamps.lamp_uses(services)
    own = library.own()
    rows = [
        LibraryLamp(
            lamp=lamp_model(lamp, own=True),
            document=document,
            revision=record.revision,
            used_in=_uses(uses.get(key, [])),
        )
        for key, (record, document, lamp) in own.items()
    ]
    rows += [
        LibraryLamp(
            lamp=lamp_model(lamp),
            document=document_from_lamp(lamp),
            revision=None,
            used_in=_uses(uses.get(lamp.id, [])),
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
def create_lamp(services: Services, body: CreateLamp) -> LibraryLamp:
    """Add a new or imported lamp to the library."""
    return _own(services, lamps.add_lamp(services, body.document))


@operation(
    lamps_api,
    "PUT",
    "/lamps/<lamp_id>",
    request_model=SaveLamp,
    response=LibraryLamp,
    problems=(404, 409, 503, 507),
)
def save_lamp(services: Services, body: SaveLamp, lamp_id: str) -> LibraryLamp:
    """Change one of your own lamps; refused with 409 if it is not based on its newest state."""
    lamps.change_lamp(services, lamp_id, body.document, body.base_revision)
    return _own(services, lamp_id)


@operation(lamps_api, "DELETE", "/lamps/<lamp_id>", response=None, status=204, problems=(404, 503, 507))
def remove_lamp(services: Services, lamp_id: str) -> None:
    """Take one of your own lamps out of the library; plans that use it keep it, and it can be restored."""
    services.write(services.library.lamp_store.remove, lamp_id)


@operation(lamps_api, "POST", "/lamps/<lamp_id>/bring-back", response=LibraryLamp, problems=(404, 503, 507))
def bring_back_lamp(services: Services, lamp_id: str) -> LibraryLamp:
    """Put a removed lamp back into the library."""
    services.write(services.library.lamp_store.bring_back, lamp_id)
    return _own(services, lamp_id)


@operation(lamps_api, "GET", "/lamps/<lamp_id>/export", response=LampDocument, problems=(404, 503))
def export_lamp(services: Services, lamp_id: str) -> Response:
    """A lamp as a file."""
    own = services.library.own()
    document = own[lamp_id][1] if lamp_id in own else document_from_lamp(services.library.lamp(lamp_id))
    return downloads.json_file(lamp_json(document), document.label, "lamp", "lamp")


@operation(
    lamps_api,
    "POST",
    "/lamps/curves",
    request_model=CurvesRequest,
    response=CurvesResponse,
    problems=(404,),
)
def lamp_curves(services: Services, body: CurvesRequest) -> CurvesResponse:
    """UV index and irradiance against distance: bare and screened, new and aged."""
    screen = _screen(services, body)
    lamps = [services.library.lamp(key) for key in body.lamp_ids]
    if body.draft is not None:
        lamps.append(lamp_from_document(body.draft))

    def made(lamp: Lamp, through: Screen | None, hours: float) -> CurveModel:
        setting = LampCondition(through, body.measured if through is not None else None, hours)
        line = lamp_curve(lamp, setting)
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
    lamps_api,
    "POST",
    "/lamps/find",
    request_model=FindRequest,
    response=FindResponse,
    problems=(404,),
    pool="heavy",
)
def find_lamps_for_uvi(services: Services, body: FindRequest) -> FindResponse:
    """Which lamps give a UV index in a range at a distance?"""
    if body.low > body.high:
        raise RequestProblem(422, "invalid-request", "A value cannot be used", "low must not be above high")
    found = lamps.lamps_for_uvi(
        services,
        (body.low, body.high),
        body.distance_m,
        _screen(services, body),
        body.measured,
        worn=body.worn,
    )
    own = services.library.own_lamps()
    return FindResponse(
        lamps=[
            FoundLamp(lamp_id=m.lamp.id, label=m.lamp.label, own=m.lamp.id in own, uvi=m.uvi) for m in found
        ]
    )


@operation(lamps_api, "POST", "/lamps/fit", request_model=FitRequest, response=FitResponse, pool="heavy")
def fit_lamp_readings(body: FitRequest) -> FitResponse:
    """Fit a lamp's strength to readings at two or more distances."""
    readings = tuple(LampReading(r.distance_m, r.uvi) for r in body.readings)
    try:
        fit = fit_lamp(geometry_from_document(body.geometry), readings)
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
        draft, notes = lamps.draft_from_photometric(read, body.name)
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
