"""The species document, the JSON in which a species of the keeper's own is stored and exchanged.

It holds the same as a species of the shipped catalogue, every claim with its grade and source, and its
home climate with it. Temperatures in °C, UV as UV index, shares of 0–1, sizes in metres.
"""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any, Literal

from pydantic import Field

from noonshade.core.needs.species import (
    BrumationNeed,
    Claim,
    ClaimedNeed,
    Company,
    CompanyRule,
    EnclosureSize,
    Grade,
    Ground,
    Hint,
    HintKind,
    HomeClimate,
    Laying,
    LayingPlace,
    PlaceKind,
    Quantity,
    Species,
    Stage,
    StageId,
)
from noonshade.core.needs.species_errors import home_errors, need_errors, species_errors
from noonshade.formats.document import (
    DocumentError,
    Id,
    Part,
    Problem,
    json_text,
    read_document,
    read_json,
    schema_of,
)
from noonshade.formats.versions import SPECIES_UPGRADES

FORMAT = "noonshade-species"
VERSION = 2
LARGEST_BYTES = 500_000

Name = Annotated[str, Field(min_length=1, max_length=120)]
Line = Annotated[str, Field(min_length=1, max_length=500)]
Degrees = Annotated[float, Field(ge=-60, le=150)]
Length = Annotated[float, Field(gt=0, le=20)]
Month = Annotated[list[float], Field(min_length=12, max_length=12)]
Lamps = Literal["needed", "offered", "avoided"]
HabitName = Literal["ground", "climbing", "digging", "half aquatic", "aquatic"]


class ClaimDocument(Part):
    """What one source says; a limit of null leaves that side open."""

    low: float | None = None
    high: float | None = None
    grade: Grade
    source: Line
    about: Annotated[str, Field(max_length=200, description="what exactly it is about")] = ""


class NeedDocument(Part):
    """All claims about one figure; ``stage`` null for every stage."""

    place: PlaceKind
    quantity: Quantity
    claims: Annotated[list[ClaimDocument], Field(min_length=1, max_length=12)]
    stage: StageId | None = None
    offered: bool = False


class EnclosureSizeDocument(Part):
    """The least inside size for one animal."""

    length_m: Length
    depth_m: Length
    height_m: Length
    grade: Grade
    source: Line


class CompanyDocument(Part):
    """Which animals of the species may share an enclosure."""

    rule: CompanyRule
    grade: Grade
    source: Line
    season: Annotated[bool, Field(description="a pair that meets in the breeding season only")] = False


class GroundDocument(Part):
    """The ground it needs: least depth for an adult, and of what."""

    depth_m: Annotated[float, Field(gt=0, le=2)]
    mix: Line
    grade: Grade
    source: Line


class LayingDocument(Part):
    """Where a gravid female lays: in ground so deep, a moist hide, on plants; or she bears live young."""

    place: LayingPlace
    depth_m: Annotated[float, Field(ge=0, le=1, description="of the ground, where she lays in it")] = 0.0
    grade: Grade
    source: Line


class HintDocument(Part):
    """What a beginner should know first."""

    kind: HintKind
    text: Line


class StageDocument(Part):
    """A stage of life; the adult comes first."""

    id: StageId
    body_length_m: Length
    back_height_m: Length
    habits: Annotated[list[HabitName], Field(max_length=5, description="if other than the adult's")] = []
    enclosure: Annotated[
        EnclosureSizeDocument | None, Field(description="the least for one at this stage")
    ] = None


class BrumationNeedDocument(Part):
    """A cool rest."""

    weeks: Annotated[float, Field(gt=0, le=40)]
    low_c: Degrees
    high_c: Degrees
    grade: Grade
    source: Line


class HomeDocument(Part):
    """Climate of a place in the range, twelve months from January."""

    id: Id
    label: Name
    latitude_deg: Annotated[float, Field(ge=-90, le=90)]
    minimum_c: Month
    maximum_c: Month
    rain_mm: Month
    sun_h: Month
    source: Line


class SpeciesDocument(Part):
    """A species with its needs."""

    format: Literal["noonshade-species"]
    version: Literal[2]
    id: Id
    scientific_name: Name
    common_names: Annotated[list[Name], Field(min_length=1, max_length=12)]
    synonyms: Annotated[list[Name], Field(max_length=12)] = []
    group: Literal["lizard", "gecko", "snake", "tortoise", "turtle", "frog", "salamander", "invertebrate"]
    way_of_life: Line
    habits: Annotated[list[HabitName], Field(min_length=1, max_length=5)]
    active: Literal["day", "night", "twilight"]
    exposure_class: Annotated[int, Field(ge=1, le=4)]
    exposure_source: Line
    uv_school: Literal["sunbeam", "shade", "none"]
    uv_reason: Line
    heat: Lamps
    uv: Lamps
    light: Lamps
    stages: Annotated[list[StageDocument], Field(min_length=1, max_length=7)]
    needs: Annotated[list[NeedDocument], Field(max_length=40)]
    enclosure: EnclosureSizeDocument
    brumation: BrumationNeedDocument | None = None
    home: HomeDocument
    hazards: Annotated[list[Line], Field(max_length=10)] = []
    lowest_safe_c: Degrees
    highest_safe_c: Degrees
    safe_source: Line
    most_uvi: Annotated[
        float | None,
        Field(gt=0, le=12, description="harmful UV index; null: of its exposure class"),
    ] = None
    everyday_names: Annotated[list[Name], Field(max_length=20)] = []
    company: CompanyDocument | None = None
    ground: GroundDocument | None = None
    laying: LayingDocument | None = None
    likes_contact: bool = False
    food: Annotated[str, Field(max_length=500)] = ""
    hints: Annotated[list[HintDocument], Field(max_length=10)] = []
    ceiling_c: Annotated[
        float | None, Field(ge=10, le=70, description="hottest surface it may reach; null for the usual")
    ] = None
    ceiling_source: Line = "estimate: the hottest an animal of its group may lie on"
    size_source: Line = "estimate"
    diet: (
        Literal[
            "insects",
            "plants",
            "plants and insects",
            "fruit and insects",
            "rodents",
            "water animals",
            "litter",
        ]
        | None
    ) = None


def parse_species(text: str | bytes) -> SpeciesDocument:
    """Read a species document from JSON text.

    Raises
    ------
    DocumentError
        If it is too large, not JSON, not a species, of another version, or has values out of range.
    """
    return species_document_from(read_json(text, LARGEST_BYTES, "a species"))


def species_document_from(raw: object) -> SpeciesDocument:
    """Check parsed JSON and make a species document of it; errors as in ``parse_species``."""
    document = read_document(raw, SpeciesDocument, FORMAT, VERSION, "species", SPECIES_UPGRADES)
    species_from_document(document)
    return document


def species_from_document(document: SpeciesDocument) -> Species:
    """The core species of a document.

    Raises
    ------
    DocumentError
        With every reason why it cannot be used.
    """
    plain = document.model_dump(exclude={"format", "version"})
    for name in ("common_names", "everyday_names", "synonyms", "habits", "hazards"):
        plain[name] = tuple(plain[name])
    plain["stages"] = tuple(_stage(stage) for stage in plain["stages"])
    plain["company"] = None if plain["company"] is None else Company(**plain["company"])
    plain["ground"] = None if plain["ground"] is None else Ground(**plain["ground"])
    plain["laying"] = None if plain["laying"] is None else Laying(**plain["laying"])
    plain["hints"] = tuple(Hint(**hint) for hint in plain["hints"])
    plain["needs"] = tuple(
        ClaimedNeed(**{**need, "claims": tuple(Claim(**claim) for claim in need["claims"])})
        for need in plain["needs"]
    )
    plain["enclosure"] = EnclosureSize(**plain["enclosure"])
    rest = plain["brumation"]
    plain["brumation"] = None if rest is None else BrumationNeed(**rest)
    months = {key: tuple(plain["home"][key]) for key in ("minimum_c", "maximum_c", "rain_mm", "sun_h")}
    plain["home"] = HomeClimate(**{**plain["home"], **months})
    made = Species(**plain)
    problems = [Problem("/home", message) for message in home_errors(made.home)]
    for i, need in enumerate(made.needs):
        problems += [Problem(f"/needs/{i}", message) for message in need_errors(need)]
    if not problems:
        problems = [Problem("", message) for message in species_errors(made)]
    if problems:
        raise DocumentError(problems)
    return made


def _stage(plain: dict[str, Any]) -> Stage:
    size = plain.pop("enclosure")
    enclosure = None if size is None else EnclosureSize(**size)
    return Stage(**{**plain, "habits": tuple(plain["habits"])}, enclosure=enclosure)


def document_from_species(species: Species) -> SpeciesDocument:
    """A species of the core as a document."""
    plain: dict[str, Any] = asdict(species)
    return SpeciesDocument.model_validate(_listed({"format": FORMAT, "version": VERSION, **plain}))


def _listed(value: Any) -> Any:
    """Tuples as lists, as JSON has them."""
    if isinstance(value, dict):
        return {key: _listed(inner) for key, inner in value.items()}
    return [_listed(inner) for inner in value] if isinstance(value, list | tuple) else value


def species_json(document: SpeciesDocument) -> str:
    """The document as indented JSON text."""
    return json_text(document)


def species_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the species document."""
    return schema_of(SpeciesDocument, "Noon Shade species, version 2")
