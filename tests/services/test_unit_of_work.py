"""Actions that write several things write all of them, or nothing: each write is made to fail in turn."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import date
from pathlib import Path
from typing import Any

import pytest

from noonshade.core.care.quarantine import RELEASE
from noonshade.formats.plan_document import RoomClimateDocument
from noonshade.formats.room_document import RoomClimateSettings
from noonshade.formats.species_document import SpeciesDocument, document_from_species
from noonshade.services import installed_lamps, quarantine, room, species, tasks
from noonshade.services.application import Services, open_services
from noonshade.store.database import StoreError
from noonshade.store.logbook import AnimalRecord, EntryRecord
from noonshade.store.tasks import MarkRecord, TaskRecord
from tests.shared import CACHES, seeded

PLAN = "collared-lizard"
DAY = date(2026, 3, 14)


class Failure(sqlite3.OperationalError):
    """The write that was made to fail."""


class FailingConnection(sqlite3.Connection):
    """A connection whose write number ``fails_at`` fails, counting from 1; 0 for none."""

    fails_at = 0
    writes = 0

    def execute(self, sql: str, *values: Any) -> sqlite3.Cursor:
        if sql.lstrip().upper().startswith(("INSERT", "UPDATE", "DELETE")):
            FailingConnection.writes += 1
            if FailingConnection.writes == FailingConnection.fails_at:
                raise Failure("made to fail")
        return super().execute(sql, *values)


@pytest.fixture
def services(tmp_path: Path) -> Services:
    found = open_services(seeded(tmp_path / "data" / "noonshade.db"), caches=CACHES)
    animal = AnimalRecord("ember", "Ember", PLAN, "crotaphytus-collaris", "female", None, None, None, "")
    found.write(found.logbook.animals.put, animal)
    return found


def contents(services: Services) -> dict[str, list[tuple[Any, ...]]]:
    with closing(sqlite3.connect(services.database.path)) as connection:
        tables = [r[0] for r in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {t: sorted(map(tuple, connection.execute(f'SELECT * FROM "{t}"')), key=repr) for t in tables}


def entry(key: str) -> EntryRecord:
    moment = "2026-03-14T12:00:00+00:00"
    return EntryRecord(key, PLAN, "ember", "meal", moment, moment, food="crickets")


def begin(services: Services) -> None:
    quarantine.begin_quarantine(services, PLAN, "ember", DAY, 30)


def registered(services: Services) -> None:
    installed_lamps.register_lamps(services, [PLAN], "2026-03-01")


def replace_tube(services: Services) -> None:
    """Another lamp in the place of the tube, whose replacement is a task."""
    spare = next(
        lamp.record.id
        for lamp in installed_lamps.list_installed_lamps(services, DAY)[0]
        if lamp.record.lamp_id == "t5-strong-85"
    )
    installed_lamps.install_lamp(services, spare, PLAN, "uv-tube", DAY, retire_old=True)


def with_lamps_elsewhere(services: Services) -> None:
    registered(services)
    lamps = [s.record for s in installed_lamps.list_installed_lamps(services, DAY)[0]]
    for lamp in lamps:
        services.write(services.installations.take_down, lamp.id, "2026-03-05", retire=False)
    record = TaskRecord(
        "swap", PLAN, None, "lamp", "Replace", "", "", "2026-03-14", 0, None, "usual:lamp-uv-tube"
    )
    services.write(services.tasks.tasks.put, *[record, TaskRecord(**{**vars_of(record), "id": "swap-2"})])


def vars_of(record: TaskRecord) -> dict[str, Any]:
    return {name: getattr(record, name) for name in record.__slots__}


def own_species(services: Services) -> None:
    document = species_document(services)
    species.store_species(services, document)
    services.write(services.library.species_store.remove, document.id)


def species_document(services: Services) -> SpeciesDocument:
    return document_from_species(services.library.catalog.species["crotaphytus-collaris"])


def climate() -> RoomClimateSettings:
    month = RoomClimateDocument(day_temperature_c=20.0, night_temperature_c=15.0, relative_humidity=0.5)
    return RoomClimateSettings(months=[month] * 12, month=3)


Action = Callable[[Services], object]
ACTIONS: dict[str, tuple[Action | None, Action, int]] = {
    "mark a task with two meals": (
        lambda s: s.write(
            s.tasks.tasks.put,
            TaskRecord("feed", PLAN, None, "feeding", "Feed", "", "FREQ=DAILY", "2026-03-01", 0),
        ),
        lambda s: tasks.mark_task(
            s, MarkRecord("feed", "2026-03-14", "done", "2026-03-14"), [entry("a"), entry("b")]
        ),
        3,
    ),
    "mark the release from quarantine": (
        begin,
        lambda s: tasks.mark_task(
            s, MarkRecord(f"ember.{RELEASE}", "2026-04-13", "done", "2026-04-13"), [entry("a")]
        ),
        3,
    ),
    "begin a quarantine": (None, begin, 4),
    "release an animal": (begin, lambda s: quarantine.release_animal(s, "ember", DAY, ""), 3),
    "remove a quarantine": (begin, lambda s: quarantine.remove_quarantine(s, "ember"), 4),
    "register lamps": (None, registered, 4),
    "install a lamp": (with_lamps_elsewhere, replace_tube, 4),
    "take a lamp down": (
        registered,
        lambda s: installed_lamps.take_down_lamp(
            s, installed_lamps.list_installed_lamps(s, DAY)[0][0].record.id, "2026-03-14", retire=True
        ),
        2,
    ),
    "set the climate of the room": (
        None,
        lambda s: room.set_room_climate(s, climate(), every_plan=True),
        9,
    ),
    "store a species that was removed": (
        own_species,
        lambda s: species.store_species(
            s, species_document(s).model_copy(update={"common_names": ["Mill lizard"]})
        ),
        3,
    ),
}


@pytest.mark.parametrize("name", ACTIONS)
def test_a_write_that_fails_leaves_nothing_half_done(
    services: Services, monkeypatch: pytest.MonkeyPatch, name: str
) -> None:
    prepare, action, least = ACTIONS[name]
    if prepare is not None:
        prepare(services)
    real = sqlite3.connect
    monkeypatch.setattr(
        "noonshade.store.database.sqlite3.connect",
        lambda *a, **k: real(*a, **{"factory": FailingConnection, **k}),
    )
    before, failed = contents(services), 0
    for number in range(1, 60):
        FailingConnection.fails_at, FailingConnection.writes = number, 0
        try:
            action(services)
        except (Failure, StoreError):
            assert contents(services) == before, f"write {number} of {name!r} left something behind"
            failed += 1
        else:
            break
    FailingConnection.fails_at = 0
    assert failed >= least
    assert contents(services) != before
