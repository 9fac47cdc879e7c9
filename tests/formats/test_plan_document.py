"""Plan files: round trip, schema, and every kind of bad input."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.plan import Plan
from noonshade.formats.document import DocumentError, Problem
from noonshade.formats.plan_document import parse_plan, plan_from, plan_json, plan_schema
from noonshade.formats.plan_from_document import resolve
from tests.builders import CATALOG, demo_document, demo_raw, demo_text

ROOT = Path(__file__).resolve().parents[2]


def put(raw: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    here: Any = raw
    *keys, last = path.strip("/").split("/")
    for key in keys:
        here = here[int(key)] if isinstance(here, list) else here[key]
    here[int(last) if isinstance(here, list) else last] = value
    return raw


def problems(raw: Any) -> dict[str, str]:
    with pytest.raises(DocumentError) as caught:
        resolve(plan_from(raw), CATALOG)
    return {p.pointer: p.message for p in caught.value.problems}


def test_round_trip_is_exact() -> None:
    document = demo_document()
    assert parse_plan(plan_json(document)) == document


def test_published_schema_accepts_the_demo_and_refuses_nonsense() -> None:
    schema = plan_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    validator = jsonschema.Draft202012Validator(schema)
    validator.validate(json.loads(plan_json(demo_document())))
    assert not validator.is_valid(put(demo_raw(), "/fixtures/0/power_w", -5))
    assert not validator.is_valid(put(demo_raw(), "/version", 3))
    assert not validator.is_valid({})


def test_schema_file_is_the_one_in_docs() -> None:
    shipped = json.loads((ROOT / "docs/plan-2.schema.json").read_text(encoding="utf-8"))
    assert shipped == plan_schema()


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "not valid JSON at line 1"),
        ("{", "not valid JSON"),
        ("[1, 2]", "a plan is a JSON object"),
        ("{}", "not a Noon Shade plan"),
        ('{"format": "noonshade-plan"}', "version None is not known"),
        ('{"format": "noonshade-plan", "version": 3}', "version 3 is not known"),
        ('{"format": "noonshade-plan", "version": 1}', "/name: is missing"),
        ('{"format": NaN}', "NaN is not a number"),
        ('{"format": ' + "9" * 5000 + "}", "thousands of digits"),
        ("[" * 100_000, "nested too deeply"),
        (" " * 1_000_001, "larger than 1000 kB"),
    ],
)
def test_unreadable_files(text: str, words: str) -> None:
    with pytest.raises(DocumentError, match=words):
        parse_plan(text)


def test_text_that_is_not_utf8() -> None:
    with pytest.raises(DocumentError, match="UTF-8"):
        parse_plan(b'{"format": "\xff\xfe"}')


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        ("/fixtures/0/power_w", -5, "must be above 0"),
        ("/fixtures/0/power_w", 1e9, "must be at most 2000"),
        ("/fixtures/0/power_w", math.nan, "finite"),
        ("/fixtures/0/power_w", math.inf, "finite"),
        ("/fixtures/0/power_w", "75", "must be a number"),
        ("/fixtures/0/power_w", None, "number"),
        (
            "/fixtures/0/lamp_id",
            "sun",
            "no lamp 'sun' in the catalogue; known: cable-60, carbon-filament-80, ceramic",
        ),
        ("/fixtures/1/screen_id", "net", "no mesh or pane 'net'"),
        ("/fixtures/1/lit", "dusk", "must be one of 'day', 'night' or 'always'"),
        ("/fixtures/0/id", "a b", "letters, digits"),
        ("/fixtures/0/label", "", "must not be empty"),
        ("/fixtures/0/label", "x" * 81, "at most 80 characters"),
        ("/fixtures/0/position_m/z_m", 0.9, "must lie between 8 cm and 60 cm"),
        ("/thermostats/0/probe_m/x_m", 1.9, "the probe must lie between"),
        ("/thermostats/0/kind", "magic", "must be one of 'on_off', 'dimming' or 'pulse'"),
        ("/thermostats/0/day_set_point_c", 90, "must be at most 60"),
        ("/room/relative_humidity", 45, "must be at most 1"),
        ("/room/day_temperature_c", -200, "must be at least -30"),
        ("/enclosure/walls/left/material_id", "sand-soil", "no wall material 'sand-soil'"),
        ("/enclosure/walls/left/thickness_m", 0, "must be at least 0.001"),
        ("/enclosure/walls/top", {"kind": "mesh", "mesh_id": "net"}, "no mesh 'net'"),
        ("/enclosure/walls/top", {"kind": "felt"}, "must be one of 'solid', 'mesh', 'open'"),
        ("/enclosure/walls/top", {}, "needs a 'kind'"),
        ("/substrate/material_id", "slate", "no substrate material 'slate'"),
        ("/furnishings/0/material_id", "paper", "no furnishing material 'paper'"),
        ("/furnishings/0/basking", "yes", "must be true or false"),
        ("/fixtures/1/hours", -1, "must be at least 0"),
        ("/furnishings", {}, "must be a list"),
        ("/animal/species_id", "draco-draco", "no species 'draco-draco'"),
        ("/colour", "red", "is not a known field"),
    ],
)
def test_bad_values_are_named_with_what_is_allowed(path: str, value: Any, words: str) -> None:
    found = problems(put(demo_raw(), path, value))
    matching = [message for pointer, message in found.items() if pointer.startswith(path)]
    assert matching, found
    assert any(words in message for message in matching), matching


def test_all_problems_are_listed_at_once() -> None:
    raw = put(put(demo_raw(), "/fixtures/0/power_w", -5), "/room/day_temperature_c", 99)
    assert set(problems(raw)) == {"/fixtures/0/power_w", "/room/day_temperature_c"}


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=6,
)


def leaves(value: Any, path: str = "") -> list[str]:
    found = [path] if path else []
    if isinstance(value, dict):
        for key, inner in value.items():
            found += leaves(inner, f"{path}/{key}")
    elif isinstance(value, list):
        for i, inner in enumerate(value):
            found += leaves(inner, f"{path}/{i}")
    return found


@settings(max_examples=300)
@given(path=st.sampled_from(leaves(demo_raw())), value=json_values)
def test_any_value_anywhere_is_used_or_refused_but_never_crashes(path: str, value: Any) -> None:
    raw = put(demo_raw(), path, value)
    found: list[Problem] = []
    plan: Plan | None = None
    try:
        plan = resolve(plan_from(raw), CATALOG)
    except DocumentError as error:
        found = error.problems
    assert (plan is not None and plan.enclosure.length_m > 0) or (found and all(p.message for p in found))


def test_demo_text_is_what_is_shipped() -> None:
    assert json.loads(demo_text())["name"].startswith("Collared lizard")
