"""What happened to an enclosure: changes of the plan, readings, tests and the logbook, in one sequence."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import groupby
from typing import Literal

from noonshade.services.application import Services
from noonshade.store.logbook import Wanted

Lane = Literal["plan", "readings", "care", "animal", "meals"]
# Kinds of entries about the enclosure and its care rather than about the animal.
CARE = ("note", "equipment", "move")
SUMMARIES_SHOWN = 4


@dataclass(frozen=True, slots=True)
class Event:
    """Something that happened: when (ISO 8601), its lane, and its description.

    ``entry_kind`` and ``entry_id`` are those of a logbook entry; ``count`` is how many of a day it sums up;
    ``worry`` marks illness, refused food and incomplete sheds.
    """

    at: str
    lane: Lane
    text: str
    entry_kind: str | None = None
    entry_id: str | None = None
    worry: bool = False
    count: int = 1


def timeline(services: Services, plan_id: str) -> list[Event]:
    """Everything that happened to an enclosure, earliest first; NotFoundError if there is no such plan."""
    services.plans.get(plan_id)
    events = [
        *_changes(services, plan_id),
        *_readings(services, plan_id),
        *_tests(services, plan_id),
        *_entries(services, plan_id),
    ]
    return sorted(events, key=lambda e: e.at)


def _changes(services: Services, plan_id: str) -> Iterator[Event]:
    """Saved revisions, those of a day together."""
    saved = [r for r in reversed(services.plans.revisions(plan_id)) if r.kind == "saved"]
    for _, same in groupby(saved, key=lambda r: r.created_at[:10]):
        found = list(same)
        summaries = list(dict.fromkeys(r.name or r.summary for r in found))
        text = "; ".join(summaries[-SUMMARIES_SHOWN:])
        if len(summaries) > SUMMARIES_SHOWN:
            text += f"; and {len(summaries) - SUMMARIES_SHOWN} more"
        yield Event(at=found[-1].created_at, lane="plan", text=text, count=len(found))


def _readings(services: Services, plan_id: str) -> Iterator[Event]:
    """Readings, those of a day together."""
    for _, same in groupby(services.readings.readings(plan_id), key=lambda r: r.taken_at[:10]):
        found = list(same)
        places = ", ".join(dict.fromkeys(r.place for r in found if r.place))
        text = f"{len(found)} reading{'s' if len(found) > 1 else ''}"
        text += f": {places}"[:160] if places else ""
        yield Event(at=found[0].taken_at, lane="readings", text=text, count=len(found))


def _tests(services: Services, plan_id: str) -> Iterator[Event]:
    commissioning_test = services.commissioning_tests.newest(plan_id)
    if commissioning_test is not None and commissioning_test.signed_at is not None:
        text = f"Test signed off by {commissioning_test.signed_by}"
        yield Event(at=commissioning_test.signed_at, lane="readings", text=text)


def _entries(services: Services, plan_id: str) -> Iterator[Event]:
    for entry in services.logbook.find(Wanted(plan_id=plan_id)).entries:
        words = [entry.food, entry.outcome, entry.text]
        if entry.value is not None:
            shown = f"{entry.value:g} g" if entry.kind == "weight" else f"{100 * entry.value:g} cm"
            words.insert(0, shown)
        yield Event(
            at=entry.at_utc,
            lane="care" if entry.kind in CARE else "meals" if entry.kind == "meal" else "animal",
            text=", ".join(w for w in words if w)[:300] or entry.kind,
            entry_kind=entry.kind,
            entry_id=entry.id,
            worry=entry.kind == "illness" or entry.outcome in ("refused", "incomplete"),
        )
