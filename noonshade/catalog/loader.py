"""Reads the shipped TOML files into core objects and checks them."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any, TypeVar, get_args

from noonshade.core.needs.species import (
    BrumationNeed,
    Claim,
    ClaimedNeed,
    Company,
    EnclosureSize,
    Ground,
    Hint,
    HomeClimate,
    Laying,
    Species,
    Stage,
)
from noonshade.core.needs.species_errors import home_errors, species_errors
from noonshade.core.plan import (
    Ageing,
    BeamSource,
    Finish,
    Lamp,
    LampSpread,
    LineSource,
    Mesh,
    PanelSource,
    SolidMaterial,
    SourceGeometry,
    UvReference,
)
from noonshade.core.plan_errors import lamp_errors

T = TypeVar("T")

# Groups of a lamp's numbers that each say where they are from.
LAMP_SOURCES = {"power", "split", "light", "beam", "spread", "control"}
UV_SOURCES = {"uv", "ageing"}


class CatalogError(ValueError):
    """A catalogue entry that cannot be used; the message names the entry and the key."""


@dataclass(frozen=True, slots=True)
class Catalog:
    """All reference data by id. ``material_uses`` maps a material to wall, furnishing, substrate."""

    lamps: Mapping[str, Lamp]
    meshes: Mapping[str, Mesh]
    materials: Mapping[str, SolidMaterial]
    material_uses: Mapping[str, tuple[str, ...]]
    homes: Mapping[str, HomeClimate]
    species: Mapping[str, Species]


@cache
def load_catalog() -> Catalog:
    """The shipped catalogue.

    Raises
    ------
    CatalogError
        If a file holds an entry with a missing, unknown or impossible value.
    """
    folder = files("noonshade.catalog") / "data"

    def table(name: str) -> dict[str, Any]:
        return tomllib.loads((folder / f"{name}.toml").read_text(encoding="utf-8"))

    groups = [
        tomllib.loads(file.read_text(encoding="utf-8"))
        for file in sorted((folder / "species").iterdir(), key=lambda f: f.name)
        if file.name.endswith(".toml")
    ]
    species = {"species": [entry for group in groups for entry in group["species"]]}
    species |= table("profiles")
    return parse_catalog(table("lamps"), table("meshes"), table("materials"), table("homes"), species)


def parse_catalog(
    lamps: dict[str, Any],
    meshes: dict[str, Any],
    materials: dict[str, Any],
    homes: dict[str, Any],
    species: dict[str, Any],
) -> Catalog:
    """Build a catalogue from parsed TOML; ``species`` may hold profiles beside the species."""
    known_homes = _collect("home", homes, _home)
    profiles = {entry["id"]: entry for entry in species.get("profile", [])}
    uses: dict[str, tuple[str, ...]] = {}

    def material(entry: dict[str, Any]) -> SolidMaterial:
        uses[entry["id"]] = tuple(entry.pop("uses"))
        made = SolidMaterial(**entry)
        _require(made.conductivity_w_mk > 0, "conductivity_w_mk must be above 0")
        _require(0 <= made.reflectance <= 1, "absorptance and transmittance must sum to 0–1")
        _require(0 < made.emissivity <= 1, "emissivity must be above 0 and at most 1")
        _require(0 < made.usual_thickness_m <= 0.5, "usual_thickness_m must be above 0 and at most 0.5")
        for name in (
            "uvb_reflectance",
            "uvb_transmittance",
            "visible_reflectance",
            "visible_transmittance",
        ):
            _require(0 <= getattr(made, name) <= 1, f"{name} must be 0–1")
        return made

    return Catalog(
        lamps=_collect("lamp", lamps, _lamp),
        meshes=_collect("mesh", meshes, _mesh),
        materials=_collect("material", materials, material),
        material_uses=uses,
        homes=known_homes,
        species=_collect("species", species, lambda e: _species(_with_profile(e, profiles), known_homes)),
    )


def _collect(name: str, document: dict[str, Any], make: Callable[[dict[str, Any]], T]) -> dict[str, T]:
    found: dict[str, T] = {}
    for number, entry in enumerate(document.get(name, []), start=1):
        label = f"{name} {entry.get('id', f'number {number}')}"
        try:
            made = make(dict(entry))
        except KeyError as error:
            raise CatalogError(f"{label}: {error.args[0]} is missing") from error
        except (TypeError, ValueError) as error:
            raise CatalogError(f"{label}: {error}") from error
        if entry["id"] in found:
            raise CatalogError(f"{label}: the id is used twice")
        found[entry["id"]] = made
    return found


def _require(holds: bool, message: str) -> None:
    if not holds:
        raise ValueError(message)


def _mesh(entry: dict[str, Any]) -> Mesh:
    mesh = Mesh(**entry)
    _require(0 < mesh.wire_m < mesh.pitch_m, "wire_m must be above 0 and below pitch_m")
    finishes = get_args(Finish)
    _require(mesh.finish in finishes, f"finish must be one of {', '.join(finishes)}")
    return mesh


def _geometry(entry: dict[str, Any]) -> SourceGeometry:
    shape = entry.pop("shape")
    if shape == "line":
        return LineSource(entry["length_m"], entry.get("reflector_exponent"), entry["width_m"])
    if shape == "beam":
        return BeamSource(**entry)
    if shape == "panel":
        return PanelSource(**entry)
    raise ValueError(f"geometry shape {shape!r} is not line, beam or panel")


def _lamp(entry: dict[str, Any]) -> Lamp:
    uv = entry.pop("uv", None)
    ageing = entry.pop("ageing", None)
    spread = entry.pop("spread")
    entry["geometry"] = _geometry(dict(entry["geometry"]))
    entry["power_choices_w"] = tuple(entry["power_choices_w"])
    entry["controls"] = tuple(entry["controls"])
    lamp = Lamp(
        **entry,
        uv=None if uv is None else UvReference(**uv),
        ageing=None if ageing is None else Ageing(**ageing),
        spread=LampSpread(**spread),
    )
    errors = lamp_errors(lamp)
    _require(not errors, "; ".join(str(e) for e in errors))
    groups = LAMP_SOURCES | (UV_SOURCES if lamp.uv is not None else set())
    missing = sorted(groups - set(lamp.sources))
    _require(not missing, f"sources must say where the numbers are from for {', '.join(missing)}")
    return lamp


def _claim(entry: dict[str, Any]) -> Claim:
    return Claim(entry.pop("low", None), entry.pop("high", None), **entry)


def _needs(entry: dict[str, Any]) -> ClaimedNeed:
    place, quantity = entry.pop("place"), entry.pop("quantity")
    stage, offered = entry.pop("stage", None), entry.pop("offered", False)
    listed = entry.pop("claims", None)
    claims = tuple(_claim(dict(c)) for c in (listed if listed is not None else [entry]))
    return ClaimedNeed(place, quantity, claims, stage, offered)


def _stage(entry: dict[str, Any]) -> Stage:
    enclosure = entry.pop("enclosure", None)
    entry["habits"] = tuple(entry.get("habits", ()))
    return Stage(**entry, enclosure=None if enclosure is None else EnclosureSize(**enclosure))


def _home(entry: dict[str, Any]) -> HomeClimate:
    months = {key: tuple(entry[key]) for key in ("minimum_c", "maximum_c", "rain_mm", "sun_h")}
    home = HomeClimate(**{**entry, **months})
    errors = home_errors(home)
    _require(not errors, "; ".join(errors))
    return home


def _with_profile(entry: dict[str, Any], profiles: Mapping[str, dict[str, Any]]) -> dict[str, Any]:
    """An entry with what it shares with others: its fields go before, its needs replace those alike."""
    name = entry.pop("profile", None)
    if name is None:
        return entry
    _require(name in profiles, f"profile {name!r} is not known; known are {', '.join(profiles)}")
    shared = {key: value for key, value in profiles[name].items() if key != "id"}

    def key(need: dict[str, Any]) -> tuple[str, str, str | None]:
        return need["place"], need["quantity"], need.get("stage")

    own = {key(need) for need in entry["needs"]}
    needs = [*entry["needs"], *(need for need in shared.pop("needs", []) if key(need) not in own)]
    return {**shared, **entry, "needs": needs}


def _species(entry: dict[str, Any], homes: Mapping[str, HomeClimate]) -> Species:
    home = entry.pop("home")
    _require(home in homes, f"home {home!r} is not a known home climate")
    rest = entry.pop("brumation", None)
    needs = entry.pop("needs")
    made = Species(
        **{
            **entry,
            **{
                key: tuple(entry.get(key, ()))
                for key in ("common_names", "everyday_names", "synonyms", "habits", "hazards")
            },
            "stages": tuple(_stage(dict(stage)) for stage in entry["stages"]),
            "hints": tuple(Hint(**hint) for hint in entry.get("hints", ())),
            "company": Company(**entry["company"]) if "company" in entry else None,
            "laying": Laying(**entry["laying"]) if "laying" in entry else None,
            "ground": Ground(**entry["ground"]) if "ground" in entry else None,
            "enclosure": EnclosureSize(**entry["enclosure"]),
            "home": homes[home],
            "brumation": None if rest is None else BrumationNeed(**rest),
            "needs": tuple(_needs(dict(need)) for need in needs),
        }
    )
    errors = species_errors(made)
    _require(not errors, "; ".join(errors))
    return made
