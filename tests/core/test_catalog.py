"""The shipped reference data, and that its checks can fail."""

from __future__ import annotations

import copy
import tomllib
from importlib.resources import files
from typing import Any

import pytest

from noonshade.catalog import Catalog, CatalogError
from noonshade.catalog.loader import parse_catalog
from noonshade.core.needs.weighing import needs_for
from noonshade.core.plan import LAMP_KINDS
from tests.builders import CATALOG

GRADES = {"published measurement", "published guidance", "keepers' consensus", "estimate"}


def tables() -> dict[str, dict[str, Any]]:
    folder = files("noonshade.catalog") / "data"
    return {
        name: tomllib.loads((folder / f"{name}.toml").read_text(encoding="utf-8"))
        for name in ("lamps", "meshes", "materials", "homes", "species/lizards", "profiles")
    }


def parsed(change: Any) -> Catalog:
    data = copy.deepcopy(tables())
    change(data)
    profiles = data.pop("profiles")
    *rest, species = data.values()
    return parse_catalog(*rest, {**species, **profiles})


def first_species(data: dict[str, dict[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = data["species/lizards"]["species"][0]
    return found


def test_everything_has_a_source() -> None:
    entries = [*CATALOG.lamps.values(), *CATALOG.meshes.values(), *CATALOG.materials.values()]
    assert all(len(entry.source) >= 8 for entry in entries)
    for species in CATALOG.species.values():
        claims = [claim for need in species.needs for claim in need.claims]
        assert all(claim.grade in GRADES and len(claim.source) >= 8 for claim in claims)
        assert species.enclosure.grade in GRADES
        assert len(species.home.source) >= 8


def test_demo_species_has_what_the_screen_shows() -> None:
    needs = {(n.place, n.quantity) for n in needs_for(CATALOG.species["crotaphytus-collaris"])}
    assert {
        ("basking", "surface_temperature"),
        ("basking", "uvi"),
        ("warm_end", "air_temperature"),
        ("cool_end", "air_temperature"),
        ("uv_refuge", "uvi"),
    } <= needs


def test_every_lamp_kind_can_be_fed_its_choices() -> None:
    for lamp in CATALOG.lamps.values():
        assert all(lamp.power_min_w <= w <= lamp.power_max_w for w in lamp.power_choices_w)
        assert lamp.power_w in lamp.power_choices_w


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda d: d["lamps"]["lamp"][0].pop("power_w"), "lamp t5-strong-85"),
        (lambda d: d["lamps"]["lamp"][0].update(forward_radiant=0.95), "shares"),
        (lambda d: d["lamps"]["lamp"][0].update(power_max_w=10.0), "power_w must lie"),
        (lambda d: d["lamps"]["lamp"][0].update(geometry={"shape": "star"}), "not line, beam or panel"),
        (lambda d: d["lamps"]["lamp"][0].update(watts=3), "unexpected keyword"),
        (lambda d: d["lamps"]["lamp"][0].update(kind="bulbs"), "kind: must be one of"),
        (lambda d: d["lamps"]["lamp"][0].pop("ageing"), "go together"),
        (lambda d: d["lamps"]["lamp"][0]["ageing"].update(remaining=1.2), "remaining: must be"),
        (lambda d: d["lamps"]["lamp"][0]["ageing"].update(time_constant_h=0.0), "above 0"),
        (lambda d: d["meshes"]["mesh"][0].update(wire_m=0.01), "below pitch_m"),
        (lambda d: d["meshes"]["mesh"].append(d["meshes"]["mesh"][0]), "used twice"),
        (lambda d: d["materials"]["material"][0].update(absorptance=1.4), "sum to 0–1"),
        (lambda d: d["materials"]["material"][0].update(emissivity=0.0), "emissivity"),
        (lambda d: d["materials"]["material"][0].update(conductivity_w_mk=0.0), "conductivity"),
        (lambda d: d["species/lizards"]["species"][0]["needs"][0].update(low=60.0), "below the upper one"),
        (lambda d: first_species(d)["needs"][8].pop("high"), "at least one limit"),
        (lambda d: first_species(d)["needs"][0].update(high=118.0), "was 118 °F meant, 47.8 °C"),
        (lambda d: first_species(d)["needs"][9].update(high=45.0), "was 45 % meant"),
        (lambda d: first_species(d)["needs"][0].update(grade="hearsay"), "the grade must be one of"),
        (lambda d: first_species(d)["needs"][0].update(source="?"), "says where it is from"),
        (lambda d: first_species(d)["needs"][0].update(place="tail"), "not a figure that is assessed"),
        (lambda d: first_species(d)["needs"].append(first_species(d)["needs"][0]), "listed twice"),
        (lambda d: first_species(d).update(home="moon"), "not a known home climate"),
        (lambda d: first_species(d).update(group="bird"), "group: must be one of"),
        (lambda d: first_species(d).update(lowest_safe_c=50.0), "below highest_safe_c"),
        (lambda d: first_species(d)["stages"].reverse(), "the adult comes first"),
        (lambda d: d["homes"]["home"][0]["minimum_c"].pop(), "twelve values"),
        (lambda d: d["homes"]["home"][0].update(latitude_deg=80.0), "polar circles"),
        (lambda d: d["homes"]["home"][0].update(minimum_c=[40.0] * 12), "below maximum_c"),
    ],
)
def test_broken_entries_are_named(change: Any, words: str) -> None:
    with pytest.raises(CatalogError, match=words):
        parsed(change)


def test_breadth_of_the_catalogue() -> None:
    assert len(CATALOG.lamps) >= 24
    assert len(CATALOG.meshes) >= 8
    assert {lamp.kind for lamp in CATALOG.lamps.values()} == LAMP_KINDS
    switched = [lamp for lamp in CATALOG.lamps.values() if "on_off" in lamp.controls]
    assert all(lamp.is_hot or lamp.kind == "mat" for lamp in switched)
    for use, least in (("wall", 10), ("substrate", 12), ("furnishing", 10)):
        assert sum(use in uses for uses in CATALOG.material_uses.values()) >= least


def test_unchanged_tables_parse() -> None:
    parts = parsed(lambda _: None)
    assert parts.lamps == CATALOG.lamps
    assert parts.homes == CATALOG.homes
    assert parts.species.items() <= CATALOG.species.items()
