"""Documents of version 1 and a backup of that time, as they were written then, still open."""

from __future__ import annotations

import json
import zipfile
from datetime import date
from pathlib import Path
from typing import Any

import pytest

from noonshade.catalog import load_catalog
from noonshade.formats.document import DocumentError
from noonshade.formats.lamp_document import lamp_from_document, parse_lamp
from noonshade.formats.plan_document import parse_plan, plan_from
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.room_document import parse_room_layout
from noonshade.formats.species_document import parse_species, species_from_document
from noonshade.services.application import open_services
from noonshade.services.commissioning import commissioning_test, signed_sheet
from noonshade.services.enclosure_roles import enclosure_roles
from noonshade.services.installed_lamps import list_installed_lamps
from noonshade.services.room import room_layout
from noonshade.store.archive import restore_archive
from noonshade.store.database import Database
from noonshade.store.photo_files import PhotoFiles
from noonshade.store.plans import PlanStore
from tests.evaluated import evaluate

VERSION_1 = Path(__file__).resolve().parents[1] / "fixtures" / "version-1"


def raw(name: str) -> dict[str, Any]:
    document: dict[str, Any] = json.loads((VERSION_1 / name).read_text(encoding="utf-8"))
    return document


def test_a_plan_of_version_1_is_converted_with_everything_it_holds() -> None:
    old, plan = raw("plan.json"), parse_plan((VERSION_1 / "plan.json").read_bytes())
    assert (old["version"], plan.version) == (1, 2)
    kept = plan.enclosure.model_dump(mode="json", exclude={"vents": {"__all__": {"holes", "y_m"}}})
    assert kept == old["box"]
    assert plan.measured is not None
    assert plan.measured.measured_checks == old["measured"]["seen"]
    assert [v.model_dump() for v in plan.measured.values] == old["measured"]["values"]
    assert plan.year is not None
    assert plan.year.brumation is not None
    assert plan.year.brumation.model_dump() == old["year"]["rest"]
    assert plan.species is not None
    assert len(plan.species.needs) == len(old["species"]["wants"])
    assert [p.label for p in plan.pins] == ["Perch"]


def test_a_plan_of_version_1_has_the_checks_and_the_light_it_had() -> None:
    """Nearly: all bounces count since, and the width of tubes; the air's model changed temperatures."""
    plan = resolve(parse_plan((VERSION_1 / "plan.json").read_bytes()), load_catalog())
    figures = {check.id: check.value for check in evaluate(plan).checks}
    then = {name.replace("box:", "enclosure:"): value for name, value in raw("figures.json").items()}
    # Ceiling and gradient are checked since.
    assert set(figures) - set(then) == {"reachable:surface_temperature", "enclosure:gradient"}
    assert set(then) <= set(figures)
    of_light = [name for name in then if "uv" in name.split(":")[1]]
    assert len(of_light) >= 3
    for name in of_light:
        assert figures[name] == pytest.approx(then[name], rel=0.03, abs=0.02)


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


def test_a_backup_of_version_1_is_restored_and_everything_in_it_is_read(tmp_path: Path) -> None:
    database = Database.open(tmp_path / "noonshade.db")
    restore_archive(database, PhotoFiles(tmp_path / "photos"), VERSION_1 / "backup.zip")
    services = open_services(tmp_path / "noonshade.db")
    plans = {p.id: parse_plan(p.document) for p in services.plans.all()}
    assert len(plans) == 8
    lizard = plans["collared-lizard"]
    assert lizard.version == 2
    assert services.evaluation.plan(lizard).measured is not None
    # Every revision of that time opens, too.
    for plan_id in plans:
        for revision in services.plans.revisions(plan_id):
            parse_plan(services.plans.revision(plan_id, revision.number).document)
    assert enclosure_roles(services) == {"collared-lizard": "spare"}
    assert [r.label for r in room_layout(services).racks]
    known, _ = list_installed_lamps(services, date(2026, 11, 28))
    assert sum(lamp.state == "installed" for lamp in known) == 7
    readings = services.readings.readings("collared-lizard")
    assert len(readings) >= 5
    assert len(services.logbook.entries.all()) == 677
    assert set(services.library.own_species()) == {"crotaphytus-collaris"}
    test = commissioning_test(services, "collared-lizard")
    assert test.record is not None
    sheet = signed_sheet(test.record)
    assert sheet is not None
    assert {"enclosure:uv_free_share", "basking:surface_temperature"} <= {
        n["check_id"] for n in sheet["needs"]
    }


def test_a_data_file_of_version_1_is_migrated_with_a_backup_first(tmp_path: Path) -> None:
    with zipfile.ZipFile(VERSION_1 / "backup.zip") as packed:
        name = next(n for n in packed.namelist() if n.endswith(".db"))
        (tmp_path / "noonshade.db").write_bytes(packed.read(name))
    assert len(PlanStore(Database.open(tmp_path / "noonshade.db")).all()) == 8
    assert (tmp_path / "noonshade-before-schema-14.db").is_file()
