"""The shipped reference data, and that its checks can fail."""

from __future__ import annotations

import copy
import tomllib
from importlib.resources import files
from typing import Any

import pytest

from noonshade.catalog import Catalog, CatalogError
from noonshade.catalog.loader import parse_catalog
from noonshade.core.plan import LAMP_KINDS
from tests.builders import CATALOG

GRADES = {"published measurement", "published guidance", "keepers' consensus", "estimate"}


def tables() -> dict[str, dict[str, Any]]:
    folder = files("noonshade.catalog") / "data"
    return {
        name: tomllib.loads((folder / f"{name}.toml").read_text(encoding="utf-8"))
        for name in ("lamps", "meshes", "materials", "species")
    }


def parsed(change: Any) -> Catalog:
    data = copy.deepcopy(tables())
    change(data)
    return parse_catalog(data["lamps"], data["meshes"], data["materials"], data["species"])


def test_everything_has_a_source() -> None:
    entries = [*CATALOG.lamps.values(), *CATALOG.meshes.values(), *CATALOG.materials.values()]
    assert all(len(entry.source) >= 8 for entry in entries)
    for species in CATALOG.species.values():
        assert all(need.grade in GRADES and need.source for need in species.needs)


def test_demo_species_has_what_the_screen_shows() -> None:
    needs = {(n.place, n.quantity) for n in CATALOG.species["crotaphytus-collaris"].needs}
    assert {
        ("basking", "surface_temperature"),
        ("basking", "uvi"),
        ("warm_end", "air_temperature"),
        ("cool_end", "air_temperature"),
        ("retreat", "uvi"),
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
        (lambda d: d["species"]["species"][0]["need"][0].update(low=99.0), "low above high"),
        (lambda d: d["species"]["species"][0]["need"][4].pop("high"), "no limits"),
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
    assert parsed(lambda _: None) == CATALOG
