"""The made-up history: the same for the same day, plausible, and never over a keeper's own."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from pathlib import Path

import pytest

from noonshade.core.care.recurrence import Mark, Rule, task_status
from noonshade.core.care.weight_trend import weight_trend
from noonshade.core.forecast import forecast_months
from noonshade.demo import DEMO_PLANS, seed
from noonshade.demo.history import DAYS, seed_history
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.year_document import set_by_month
from noonshade.services.sample import sample_document
from noonshade.store.database import Database
from noonshade.store.installations import InstallationStore
from noonshade.store.logbook import LogbookStore, Wanted
from noonshade.store.photo_files import PhotoFiles
from noonshade.store.plans import PlanStore
from noonshade.store.readings import ReadingStore
from noonshade.store.tasks import TaskStore
from noonshade.web.logbook.routes import entry_model
from tests.builders import CATALOG
from tests.evaluated import evaluate

LAST = date(2026, 11, 20)


def seeded(book: LogbookStore, last: date = LAST) -> int:
    stores = TaskStore(book.database), InstallationStore(book.database), ReadingStore(book.database)
    return seed_history(book, *stores, last)


def book_in(folder: Path, last: date = LAST) -> LogbookStore:
    database = Database.open(folder / "noonshade.db")
    seed(PlanStore(database), last)
    return LogbookStore(database, PhotoFiles(folder / "photos"))


@pytest.fixture
def book(tmp_path: Path) -> LogbookStore:
    made = book_in(tmp_path / "data")
    seeded(made)
    return made


def test_the_same_day_has_the_same_history_and_it_is_written_once(
    book: LogbookStore, tmp_path: Path
) -> None:
    other = book_in(tmp_path / "other")
    count = seeded(other)
    assert other.entries.all() == book.entries.all()
    assert other.hashes() == book.hashes()
    assert count == len(book.entries.all())
    # An animal of the keeper's own, even a removed one, keeps it away.
    assert seeded(book) == 0


def test_it_is_eight_months_that_could_have_been(book: LogbookStore) -> None:
    animals = book.animals.all()
    assert {a.plan_id for a in animals} == set(DEMO_PLANS)
    entries = [entry_model(e) for e in book.find(Wanted()).entries]
    days = [datetime.fromisoformat(e.at).date() for e in entries]
    assert min(days) - (LAST - timedelta(DAYS)) <= timedelta(3)
    assert max(days) <= LAST
    assert len(entries) > 500
    for animal in animals:
        mine = [e for e in entries if e.animal_id == animal.id]
        meals = [e for e in mine if e.kind == "meal"]
        assert len(meals) >= 20, animal.name
        assert 0 < sum(e.outcome == "refused" for e in meals) < 0.35 * len(meals), animal.name
        weights = [
            (datetime.fromisoformat(e.at).date(), e.value or 0.0) for e in mine if e.kind == "weight"
        ]
        grams = [g for _, g in sorted(weights)]
        assert max(grams) < 1.35 * min(grams), animal.name
    # One of them has something to find: it loses weight.
    quern = book.find(Wanted(animal_id="quern", kinds=("weight",))).entries
    said = weight_trend([(datetime.fromisoformat(e.at).date(), e.value or 0.0) for e in quern])
    assert said.share < 0


def test_its_photographs_are_painted_here(book: LogbookStore) -> None:
    photos = [p for some in book.find(Wanted()).photos.values() for p in some]
    assert len(photos) == 3
    for photo in photos:
        assert book.files.read(photo.hash).startswith(b"\xff\xd8")


@pytest.mark.parametrize("last", [date(2028, 2, 29), date(2026, 3, 29), date(2027, 1, 1)])
def test_any_last_day_will_do(tmp_path: Path, last: date) -> None:
    book = book_in(tmp_path / "data", last)
    assert seeded(book, last) > 400


def test_its_tasks_were_mostly_done_and_some_wait_today(book: LogbookStore) -> None:
    store = TaskStore(book.database)
    marks, tasks = store.marks(), store.tasks.all()
    assert {t.plan_id for t in tasks} == {None, *DEMO_PLANS}
    kinds = {m.kind for some in marks.values() for m in some}
    assert kinds == {"done", "skipped"}
    assert all(m.done_on < LAST.isoformat() for some in marks.values() for m in some)
    states = []
    for task in tasks:
        rule = Rule(task.rule, date.fromisoformat(task.starts_on), bool(task.after_done))
        mine = [
            Mark(date.fromisoformat(m.due_on), "done", date.fromisoformat(m.done_on))
            for m in marks.get(task.id, ())
        ]
        states.append(task_status(rule, mine, LAST).state)
    assert 5 < states.count("due") < 45
    assert 0 < states.count("overdue") < 12
    assert states.count("coming") > 20


def test_meals_and_weights_were_written_on_the_days_their_tasks_were_done(book: LogbookStore) -> None:
    store = TaskStore(book.database)
    marks = store.marks()
    done: dict[tuple[str | None, str], set[str]] = {}
    for task in store.tasks.all():
        days = {m.done_on for m in marks.get(task.id, ()) if m.kind == "done"}
        done.setdefault((task.plan_id, task.kind), set()).update(days)
    shown = {"meal": "feeding", "weight": "weighing"}
    entries = [e for e in book.entries.all() if e.kind in shown and "-story-" not in e.id]
    assert len(entries) > 300
    for entry in entries:
        assert entry.at[:10] in done[entry.plan_id, shown[entry.kind]], entry.id


def test_brumation_in_its_eight_months_is_scheduled(tmp_path: Path) -> None:
    last = date(2027, 4, 1)
    book = book_in(tmp_path / "data", last)
    seeded(book, last)
    resting = [
        m for m in TaskStore(book.database).marks()["collared-lizard.feed"] if m.reason == "in its rest"
    ]
    assert len(resting) > 20
    assert {m.due_on[5:7] for m in resting} == {"12", "01", "02"}
    meals = book.find(Wanted(animal_id="ember", kinds=("meal",))).entries
    assert not [e for e in meals if e.at[5:7] in ("12", "01", "02")]


def test_its_lamps_hang_where_the_plans_have_them(book: LogbookStore) -> None:
    units, plans = InstallationStore(book.database), PlanStore(book.database)
    kinds = {u.id: u.lamp_id for u in units.installed_lamps.all()}
    hanging = units.installations.all("ended_on IS NULL")
    for one in hanging:
        fixtures = {f.id: f.lamp_id for f in parse_plan(plans.get(one.plan_id).document).fixtures}
        assert fixtures[one.fixture_id] == kinds[one.installed_lamp_id]
    assert len(hanging) == 7
    assert len(units.installed_lamps.all("retired_on IS NOT NULL")) == 2
    hung = {h.installed_lamp_id for h in units.installations.all()}
    assert len([u for u in units.installed_lamps.all() if u.id not in hung]) == 2


def test_its_enclosures_were_changed_and_read_and_end_as_they_ship(
    book: LogbookStore, tmp_path: Path
) -> None:
    plans = PlanStore(book.database)
    bare = PlanStore(Database.open(tmp_path / "bare.db"))
    seed(bare)
    for name in DEMO_PLANS:
        assert plans.get(name).document == bare.get(name).document
        days = [r.created_at[:10] for r in reversed(plans.revisions(name))]
        assert days == sorted(days)
        assert days[0] == (LAST - timedelta(DAYS)).isoformat()
        for reading in ReadingStore(book.database).readings(name):
            assert reading.revision <= plans.get(name).revision
            made = plans.revision(name, reading.revision).created_at
            assert made[:10] <= reading.taken_at[:10] <= LAST.isoformat()
    assert len(ReadingStore(book.database).readings("panther-chameleon")) == 6


def test_the_sample_fits_in_every_month() -> None:
    document = sample_document()
    plan = resolve(document, CATALOG)
    year = forecast_months(plan, set_by_month(document.year))
    assert [month.failing for month in year] == [0] * 12
    assert {finding.severity for finding in evaluate(plan).findings} <= {"note"}
