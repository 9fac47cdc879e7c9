"""What happened to an enclosure on one line of time: changes of the plan, readings, the logbook."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby
from typing import Literal

from flask import Blueprint

from noonshade.formats.document import Model
from noonshade.services.application import Services
from noonshade.store.logbook import Wanted
from noonshade.web.http.routing import operation
from noonshade.web.logbook.schemas import EntryKind
from noonshade.web.logbook.serializers import entry_model

timeline_api = Blueprint("timeline", __name__, url_prefix="/api")

Lane = Literal["plan", "readings", "care", "animal", "meals"]
# Entries that are about the enclosure and its care rather than about the animal.
CARE: tuple[EntryKind, ...] = ("note", "equipment", "move")
SUMMARIES_SHOWN = 4


class EventModel(Model):
    """Something that happened: where it is drawn, and in words.

    ``entry_kind`` is of an entry of the logbook; ``count`` how many of its kind that day.
    """

    at: str
    lane: Lane
    text: str
    entry_kind: EntryKind | None = None
    entry_id: str | None = None
    worry: bool = False
    count: int = 1


class TimelineModel(Model):
    """Everything that happened to an enclosure, the soonest first."""

    events: list[EventModel]


@operation(timeline_api, "GET", "/plans/<plan_id>/timeline", response=TimelineModel, problems=(404, 503))
def get_timeline(services: Services, plan_id: str) -> TimelineModel:
    """What happened to an enclosure: changes, readings, tests and what was written down."""
    services.plans.get(plan_id)
    events = [
        *_changes(services, plan_id),
        *_readings(services, plan_id),
        *_tests(services, plan_id),
        *_entries(services, plan_id),
    ]
    return TimelineModel(events=sorted(events, key=lambda e: e.at))


def _changes(services: Services, plan_id: str) -> Iterator[EventModel]:
    """Saved revisions, those of a day together."""
    saved = [r for r in reversed(services.plans.revisions(plan_id)) if r.kind == "saved"]
    for _, same in groupby(saved, key=lambda r: r.created_at[:10]):
        found = list(same)
        said = list(dict.fromkeys(r.name or r.summary for r in found))
        text = "; ".join(said[-SUMMARIES_SHOWN:])
        if len(said) > SUMMARIES_SHOWN:
            text += f"; and {len(said) - SUMMARIES_SHOWN} more"
        yield EventModel(at=found[-1].created_at, lane="plan", text=text, count=len(found))


def _readings(services: Services, plan_id: str) -> Iterator[EventModel]:
    """Readings, those of a day together."""
    for _, same in groupby(services.readings.readings(plan_id), key=lambda r: r.taken_at[:10]):
        found = list(same)
        places = ", ".join(dict.fromkeys(r.place for r in found if r.place))
        text = f"{len(found)} reading{'s' if len(found) > 1 else ''}"
        text += f": {places}"[:160] if places else ""
        yield EventModel(at=found[0].taken_at, lane="readings", text=text, count=len(found))


def _tests(services: Services, plan_id: str) -> Iterator[EventModel]:
    commissioning_test = services.commissioning_tests.newest(plan_id)
    if commissioning_test is not None and commissioning_test.signed_at is not None:
        text = f"Test signed off by {commissioning_test.signed_by}"
        yield EventModel(at=commissioning_test.signed_at, lane="readings", text=text)


def _entries(services: Services, plan_id: str) -> Iterator[EventModel]:
    for record in services.logbook.find(Wanted(plan_id=plan_id)).entries:
        entry = entry_model(record)
        said = [entry.food, entry.outcome, entry.text]
        if entry.value is not None:
            shown = f"{entry.value:g} g" if entry.kind == "weight" else f"{100 * entry.value:g} cm"
            said.insert(0, shown)
        yield EventModel(
            at=record.at_utc,
            lane="care" if entry.kind in CARE else "meals" if entry.kind == "meal" else "animal",
            text=", ".join(s for s in said if s)[:300] or entry.kind,
            entry_kind=entry.kind,
            entry_id=entry.id,
            worry=entry.kind == "illness" or entry.outcome in ("refused", "incomplete"),
        )
