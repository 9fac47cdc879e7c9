"""The lamp document: the JSON a keeper's own lamp is stored, exported and imported as, version 1.

It holds the same numbers as a lamp of the shipped catalogue, and the readings it was fitted to.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from noonshade.core.plan import (
    Ageing,
    BeamSource,
    Lamp,
    LampSpread,
    LineSource,
    PanelSource,
    SourceGeometry,
    TableSource,
    UvReference,
)
from noonshade.core.plan_errors import lamp_errors
from noonshade.formats.document import (
    DocumentError,
    Id,
    Label,
    Part,
    Problem,
    json_text,
    read_document,
    read_json,
    schema_of,
)

FORMAT = "noonshade-lamp"
VERSION = 1
LARGEST_BYTES = 1_000_000

Share = Annotated[float, Field(ge=0, le=1)]
Watts = Annotated[float, Field(gt=0, le=2000)]
Distance = Annotated[float, Field(ge=0.02, le=5)]
Uvi = Annotated[float, Field(gt=0, le=500)]
Angles = Annotated[list[Annotated[float, Field(ge=0, le=360)]], Field(min_length=1, max_length=400)]
Row = Annotated[list[Annotated[float, Field(ge=0, le=1e9)]], Field(min_length=2, max_length=400)]
Text = Annotated[str, Field(max_length=500)]


class LineGeometry(Part):
    """A tube or bar; ``reflector_exponent`` null for a bare tube."""

    shape: Literal["line"]
    length_m: Annotated[float, Field(ge=0.02, le=3)]
    reflector_exponent: Annotated[float, Field(ge=0, le=20)] | None = None
    width_m: Annotated[float, Field(ge=0.002, le=0.5)] = 0.016


class BeamGeometry(Part):
    """A round source with a beam."""

    shape: Literal["beam"]
    fwhm_deg: Annotated[float, Field(ge=4, le=170)]
    diameter_m: Annotated[float, Field(ge=0.005, le=0.5)]


class PanelGeometry(Part):
    """A flat rectangular source."""

    shape: Literal["panel"]
    length_m: Annotated[float, Field(ge=0.02, le=3)]
    width_m: Annotated[float, Field(ge=0.02, le=3)]


class TableGeometry(Part):
    """A round source with an angular table, as photometric files give it."""

    shape: Literal["table"]
    diameter_m: Annotated[float, Field(ge=0.005, le=1)]
    c_deg: Angles
    gamma_deg: Angles
    intensity: Annotated[list[Row], Field(min_length=1, max_length=400)]


Geometry = Annotated[
    LineGeometry | BeamGeometry | PanelGeometry | TableGeometry, Field(discriminator="shape")
]


class UvDocument(Part):
    """A reference reading: facing the lamp under its centre, no screen, after 100 h."""

    uvi: Uvi
    distance_m: Distance


class AgeingDocument(Part):
    """How UV output falls with hours burned."""

    remaining: Share
    time_constant_h: Annotated[float, Field(gt=0, le=1e5)]
    burn_in: Annotated[float, Field(ge=0, le=2)] = 0.0
    life_h: Annotated[float, Field(gt=0, le=1e5)]


class SpreadDocument(Part):
    """Relative half widths of the middle 80 % of samples."""

    uv: Share = 0.25
    radiant: Share = 0.10
    beam: Share = 0.15


class LampReadingDocument(Part):
    """What a keeper's meter read under the lamp, facing it, at a distance."""

    distance_m: Distance
    uvi: Uvi


class LampDocument(Part):
    """A whole lamp."""

    format: Literal["noonshade-lamp"]
    version: Literal[1]
    id: Id
    label: Label
    kind: Literal["tube", "compact", "bulb", "mercury vapour", "metal halide", "led", "heater", "mat"]
    gives_light: bool
    geometry: Geometry
    power_w: Watts
    power_min_w: Watts
    power_max_w: Watts
    power_choices_w: Annotated[list[Watts], Field(min_length=1, max_length=20)]
    forward_radiant: Share
    other_radiant: Share
    conducted: Share = 0.0
    lumens_per_radiant_watt: Annotated[float, Field(ge=0, le=683)]
    lux_per_ppfd: Annotated[float, Field(ge=5, le=500)] | None = None
    uv: UvDocument | None = None
    ageing: AgeingDocument | None = None
    spread: SpreadDocument = SpreadDocument()
    controls: Annotated[list[Literal["on_off", "dimming", "pulse"]], Field(max_length=3)] = []
    below_290_share: Share = 0.0
    source: Text = "the keeper's own entry"
    sources: dict[str, Text] = {}
    readings: Annotated[list[LampReadingDocument], Field(max_length=40)] = []


def parse_lamp(text: str | bytes) -> LampDocument:
    """Read a lamp document from JSON text.

    Raises
    ------
    DocumentError
        If it is too large, not JSON, not a lamp, of another version, or has values out of range.
    """
    return lamp_document_from(read_json(text, LARGEST_BYTES, "a lamp"))


def lamp_document_from(raw: object) -> LampDocument:
    """Check parsed JSON and make a lamp document of it; errors as in ``parse_lamp``."""
    document = read_document(raw, LampDocument, FORMAT, VERSION, "lamp")
    lamp_from_document(document)
    return document


def lamp_json(document: LampDocument) -> str:
    """The document as indented JSON text."""
    return json_text(document)


def lamp_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the lamp document."""
    return schema_of(LampDocument, "Noon Shade lamp, version 1")


def lamp_from_document(d: LampDocument) -> Lamp:
    """The core lamp of a document.

    Raises
    ------
    DocumentError
        With every reason why such a lamp cannot be computed.
    """
    lamp = Lamp(
        id=d.id,
        label=d.label,
        kind=d.kind,
        gives_light=d.gives_light,
        geometry=geometry_from_document(d.geometry),
        power_w=d.power_w,
        power_min_w=d.power_min_w,
        power_max_w=d.power_max_w,
        power_choices_w=tuple(d.power_choices_w),
        forward_radiant=d.forward_radiant,
        other_radiant=d.other_radiant,
        conducted=d.conducted,
        lumens_per_radiant_watt=d.lumens_per_radiant_watt,
        uv=None if d.uv is None else UvReference(d.uv.uvi, d.uv.distance_m),
        controls=tuple(d.controls),
        source=d.source,
        ageing=None if d.ageing is None else Ageing(**d.ageing.model_dump()),
        spread=LampSpread(**d.spread.model_dump()),
        lux_per_ppfd=d.lux_per_ppfd,
        sources=dict(d.sources),
        below_290_share=d.below_290_share,
    )
    errors = lamp_errors(lamp)
    if errors:
        raise DocumentError([Problem(e.path, e.message) for e in errors])
    return lamp


def document_from_lamp(lamp: Lamp) -> LampDocument:
    """The document of a core lamp, as for exporting a shipped one."""
    geometry: dict[str, Any]
    g = lamp.geometry
    if isinstance(g, LineSource):
        geometry = {
            "shape": "line",
            "length_m": g.length_m,
            "reflector_exponent": g.reflector_exponent,
            "width_m": g.width_m,
        }
    elif isinstance(g, BeamSource):
        geometry = {"shape": "beam", "fwhm_deg": g.fwhm_deg, "diameter_m": g.diameter_m}
    elif isinstance(g, PanelSource):
        geometry = {"shape": "panel", "length_m": g.length_m, "width_m": g.width_m}
    else:
        geometry = {
            "shape": "table",
            "diameter_m": g.diameter_m,
            "c_deg": list(g.c_deg),
            "gamma_deg": list(g.gamma_deg),
            "intensity": [list(row) for row in g.intensity],
        }
    age, spread = lamp.ageing, lamp.spread
    return LampDocument.model_validate(
        {
            "format": FORMAT,
            "version": VERSION,
            "id": lamp.id,
            "label": lamp.label,
            "kind": lamp.kind,
            "gives_light": lamp.gives_light,
            "geometry": geometry,
            "power_w": lamp.power_w,
            "power_min_w": lamp.power_min_w,
            "power_max_w": lamp.power_max_w,
            "power_choices_w": list(lamp.power_choices_w),
            "forward_radiant": lamp.forward_radiant,
            "other_radiant": lamp.other_radiant,
            "conducted": lamp.conducted,
            "lumens_per_radiant_watt": lamp.lumens_per_radiant_watt,
            "lux_per_ppfd": lamp.lux_per_ppfd,
            "uv": None if lamp.uv is None else {"uvi": lamp.uv.uvi, "distance_m": lamp.uv.distance_m},
            "ageing": None
            if age is None
            else {
                "remaining": age.remaining,
                "time_constant_h": age.time_constant_h,
                "burn_in": age.burn_in,
                "life_h": age.life_h,
            },
            "spread": {"uv": spread.uv, "radiant": spread.radiant, "beam": spread.beam},
            "controls": list(lamp.controls),
            "below_290_share": lamp.below_290_share,
            "source": lamp.source,
            "sources": dict(lamp.sources),
        }
    )


def geometry_from_document(
    g: LineGeometry | BeamGeometry | PanelGeometry | TableGeometry,
) -> SourceGeometry:
    """The core geometry of a document's."""
    if isinstance(g, LineGeometry):
        return LineSource(g.length_m, g.reflector_exponent, g.width_m)
    if isinstance(g, BeamGeometry):
        return BeamSource(g.fwhm_deg, g.diameter_m)
    if isinstance(g, PanelGeometry):
        return PanelSource(g.length_m, g.width_m)
    return TableSource(
        g.diameter_m, tuple(g.c_deg), tuple(g.gamma_deg), tuple(tuple(row) for row in g.intensity)
    )
