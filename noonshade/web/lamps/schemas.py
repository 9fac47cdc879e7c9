"""Request and response models of the lamp library."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.formats.document import Model, RevisionNumber
from noonshade.formats.lamp_document import (
    Distance,
    Geometry,
    LampDocument,
    LampReadingDocument,
    Share,
    Uvi,
)
from noonshade.web.catalog.schemas import LampModel

LampId = Annotated[str, Field(min_length=1, max_length=64)]
Hours = Annotated[float, Field(ge=0, le=100_000)]


class LampUse(Model):
    """A plan that uses a lamp, and as what."""

    plan_id: str
    name: str
    fixtures: list[str]


class LibraryLamp(Model):
    """A lamp of the library with all its numbers; ``revision`` null for shipped ones."""

    lamp: LampModel
    document: LampDocument
    revision: int | None
    used_in: list[LampUse]


class LampLibrary(Model):
    """Own lamps first, then the shipped ones."""

    lamps: list[LibraryLamp]


class CreateLamp(Model):
    """A new or imported lamp; an id in use is exchanged for a new one."""

    document: LampDocument


class SaveLamp(Model):
    """A change of an own lamp, based on a revision."""

    document: LampDocument
    base_revision: RevisionNumber


class ScreenChoice(Model):
    """What lamps are looked at through; ``measured`` is the share of UV found to pass it."""

    screen_id: LampId | None = None
    measured: Share | None = None


class CurvesRequest(ScreenChoice):
    """Curves of some lamps, and of a draft. ``hours`` null: each lamp at the end of its life."""

    lamp_ids: Annotated[list[LampId], Field(max_length=6)]
    draft: LampDocument | None = None
    hours: Hours | None = None
    uvi: Uvi | None = None


class CurveModel(Model):
    """One lamp bare or screened, new or aged: readings, and how far for the wanted UV index."""

    uvi: list[float]
    irradiance_w_m2: list[float]
    distance_for_m: float | None


class LampCurves(Model):
    """The four curves of a lamp; aged ones null for a lamp without UV."""

    lamp_id: str
    label: str
    aged_hours: float | None
    bare: CurveModel
    screened: CurveModel | None
    aged_bare: CurveModel | None
    aged_screened: CurveModel | None


class CurvesResponse(Model):
    """Distances, m, and the curves over them."""

    distance_m: list[float]
    lamps: list[LampCurves]


class FindRequest(ScreenChoice):
    """Which lamps give a UV index in a range at a distance?"""

    low: Uvi
    high: Uvi
    distance_m: Distance
    worn: bool = False


class FoundLamp(Model):
    """A lamp that does, and what it reads there."""

    lamp_id: str
    label: str
    own: bool
    uvi: float


class FindResponse(Model):
    """Nearest to the middle of the range first."""

    lamps: list[FoundLamp]


class FitRequest(Model):
    """A lamp's geometry and what was read under it."""

    geometry: Geometry
    readings: Annotated[list[LampReadingDocument], Field(min_length=2, max_length=40)]


class FitResponse(Model):
    """The reference reading that suits the readings best, how badly, and what that means."""

    uvi: float
    distance_m: float
    misfit: float
    deviations: list[float]
    fall_off: float
    fall_off_expected: float
    other_size_m: float | None
    quality: Literal["good", "other_size", "impossible"]


class LampFile(Model):
    """A measurement file's name and text."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    text: Annotated[str, Field(max_length=900_000)]


class SpectrumResult(Model):
    """What a spectrum weighs; UVI and irradiance have a meaning only if it is in W/m²/nm."""

    uvi: float
    d3_effective_w_m2: float
    d3_ratio: float
    below_290_share: float
    unlike_sunlight: bool
    low_nm: float
    high_nm: float
    rows: int


class FileResult(Model):
    """What was read: a spectrum, or a draft of a lamp from a photometric file or lamp document."""

    kind: Literal["spectrum", "photometric", "lamp"]
    spectrum: SpectrumResult | None
    draft: LampDocument | None
    notes: list[str]
