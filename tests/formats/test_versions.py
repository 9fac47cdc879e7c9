"""Documents of version 1 and a backup of that time, as they were written then, still open."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from noonshade.catalog import load_catalog
from noonshade.core.evaluate import evaluate
from noonshade.formats.document import DocumentError
from noonshade.formats.lamp_document import lamp_from_document, parse_lamp
from noonshade.formats.plan_document import parse_plan, plan_from
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.room_document import parse_room_layout
from noonshade.formats.species_document import parse_species, species_from_document

VERSION_1 = Path(__file__).resolve().parents[1] / "fixtures" / "version-1"


def raw(name: str) -> dict[str, Any]:
    document: dict[str, Any] = json.loads((VERSION_1 / name).read_text(encoding="utf-8"))
    return document


def test_a_plan_of_version_1_is_converted_with_everything_it_holds() -> None:
    old, plan = raw("plan.json"), parse_plan((VERSION_1 / "plan.json").read_bytes())
    assert (old["version"], plan.version) == (1, 2)
    assert plan.enclosure.model_dump(mode="json") == old["box"]
    assert plan.measured is not None
    assert plan.measured.measured_checks == old["measured"]["seen"]
    assert [v.model_dump() for v in plan.measured.values] == old["measured"]["values"]
    assert plan.year is not None
    assert plan.year.brumation is not None
    assert plan.year.brumation.model_dump() == old["year"]["rest"]
    assert plan.species is not None
    assert len(plan.species.needs) == len(old["species"]["wants"])
    assert [p.label for p in plan.pins] == ["Perch"]


def test_a_plan_of_version_1_has_the_figures_it_had() -> None:
    plan = resolve(parse_plan((VERSION_1 / "plan.json").read_bytes()), load_catalog())
    figures = {check.id: check.value for check in evaluate(plan).checks}
    then = {name.replace("box:", "enclosure:"): value for name, value in raw("figures.json").items()}
    assert figures == pytest.approx(then, rel=1e-9)


def test_what_is_wrong_in_a_plan_of_version_1_is_named_as_in_a_new_one() -> None:
    with pytest.raises(DocumentError, match=r"/enclosure/length_m: must be a number|/enclosure/length_m"):
        plan_from({**raw("plan.json"), "box": {**raw("plan.json")["box"], "length_m": "long"}})
    with pytest.raises(
        DocumentError, match=r"version 1\.5 is not known; this program reads versions 1 and 2"
    ):
        plan_from({**raw("plan.json"), "version": 1.5})


def test_a_species_of_version_1_is_converted() -> None:
    old, species = raw("species.json"), parse_species((VERSION_1 / "species.json").read_bytes())
    assert species.enclosure.model_dump(mode="json") == old["box"]
    assert [(n.place, n.quantity) for n in species.needs] == [
        ({"box": "enclosure", "retreat": "uv_refuge"}.get(w["place"], w["place"]), w["quantity"])
        for w in old["wants"]
    ]
    assert {"uv_refuge", "enclosure"} <= {n.place for n in species.needs}
    assert species_from_document(species).scientific_name == old["scientific_name"]


def test_a_lamp_needs_no_new_version() -> None:
    lamp = parse_lamp((VERSION_1 / "lamp.json").read_bytes())
    assert lamp_from_document(lamp).label == raw("lamp.json")["label"]


def test_a_room_layout_of_version_1_is_converted() -> None:
    shelves = [["collared-lizard"], ["corn-snake"]]
    old = {
        "format": "noonshade-room",
        "version": 1,
        "stands": [{"id": "a", "label": "A", "shelves": shelves}],
    }
    layout = parse_room_layout(json.dumps(old))
    assert [(r.label, r.shelves) for r in layout.racks] == [("A", shelves)]
