"""Quarantine of new animals: its steps are tasks, and its enclosure has that role until the release."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from noonshade.core.care.quarantine import QUARANTINE_DAYS, RELEASE, quarantine_steps
from noonshade.formats.plan_document import parse_plan
from noonshade.services.application import Services
from noonshade.services.brumation import BrumationCalendar
from noonshade.services.enclosure_roles import set_enclosure_role
from noonshade.services.tasks import QUARANTINE, TaskWithStatus, with_status
from noonshade.store.database import Transaction
from noonshade.store.errors import NotFoundError
from noonshade.store.logbook import AnimalRecord, EntryRecord, utc
from noonshade.store.tasks import MarkRecord, TaskRecord


class LivesElsewhereError(ValueError):
    """An animal is to be quarantined in an enclosure it does not live in."""


@dataclass(frozen=True, slots=True)
class Quarantine:
    """The quarantine of one animal."""

    animal: AnimalRecord
    came_on: str
    is_over: bool
    steps: tuple[TaskWithStatus, ...]


def usual_days(services: Services, plan_id: str) -> int:
    """How long the species of an enclosure is usually quarantined, days."""
    document = parse_plan(services.plans.get(plan_id).document)
    return QUARANTINE_DAYS[services.evaluation.plan(document).animal.species.group]


def list_quarantines(services: Services, plan_id: str, today: date) -> list[Quarantine]:
    """Quarantines of an enclosure, the newest first."""
    tasks = services.tasks.tasks.all(
        "plan_id = ? AND origin LIKE ?", (plan_id, f"{QUARANTINE}%"), "starts_on"
    )
    marks, brumation = services.tasks.marks(), BrumationCalendar(services)
    by_animal: dict[str, list[TaskRecord]] = {}
    for task in tasks:
        by_animal.setdefault(task.animal_id or "", []).append(task)
    found = []
    for animal_id, mine in by_animal.items():
        steps = tuple(with_status(t, marks, today, brumation) for t in mine)
        is_over = any(s.record.origin.endswith(f":{RELEASE}") and s.marks for s in steps)
        animal = services.logbook.animals.get(animal_id, removed=True)
        found.append(Quarantine(animal, mine[0].starts_on, is_over, steps))
    return sorted(found, key=lambda q: q.came_on, reverse=True)


def begin_quarantine(
    services: Services, plan_id: str, animal_id: str, begin: date, days: int
) -> Quarantine:
    """Begin a quarantine, or begin it anew: its steps become tasks, its enclosure gets that role.

    Raises
    ------
    NotFoundError
        If there is no such plan or animal.
    LivesElsewhereError
        If the animal does not live in that enclosure.
    """
    with services.database.transaction() as transaction:
        services.plans.get(plan_id, transaction)
        animal = services.logbook.animals.get(animal_id, removed=True, transaction=transaction)
        if animal.plan_id != plan_id:
            raise LivesElsewhereError(f"{animal.name} does not live in this enclosure")
        species = services.library.species()[animal.species_id]
        tasks = [
            TaskRecord(
                f"{animal.id[:40]}.{step.key}",
                plan_id,
                animal.id,
                "arrival",
                f"{step.title}: {animal.name}",
                step.why,
                "",
                (begin + timedelta(days=step.day)).isoformat(),
                0,
                None,
                f"{QUARANTINE}{step.key}",
            )
            for step in quarantine_steps(species, days)
        ]
        services.tasks.tasks.put(transaction, *tasks)
        set_enclosure_role(services, transaction, plan_id, "quarantine")
    marks, brumation = services.tasks.marks(), BrumationCalendar(services)
    steps = tuple(with_status(t, marks, begin, brumation) for t in tasks)
    return Quarantine(animal, begin.isoformat(), is_over=False, steps=steps)


def release_animal(services: Services, animal_id: str, day: date, text: str) -> None:
    """End a quarantine: the release is marked, the enclosure is a home, and the logbook says so.

    All of it is stored, or nothing. NotFoundError if the animal is not in quarantine.
    """
    with services.database.transaction() as transaction:
        animal = services.logbook.animals.get(animal_id, removed=True, transaction=transaction)
        steps = _steps_of(services, transaction, animal_id)
        release = next((t for t in steps if t.origin == f"{QUARANTINE}{RELEASE}"), None)
        if release is None or release.plan_id is None:
            raise NotFoundError("quarantine", animal_id, f"{animal.name} is not in quarantine")
        mark = MarkRecord(release.id, release.starts_on, "done", day.isoformat())
        services.tasks.mark(transaction, mark)
        set_enclosure_role(services, transaction, release.plan_id, "home")
        moment = datetime.combine(day, time(12), UTC)
        services.logbook.entries.put(
            transaction,
            EntryRecord(
                f"release.{animal_id[:40]}.{day.isoformat()}",
                *(release.plan_id, animal_id, "move", moment.isoformat(), utc(moment)),
                text=text.strip() or "Out of quarantine, into the room.",
            ),
        )


def remove_quarantine(services: Services, animal_id: str) -> None:
    """Take a quarantine back: its steps go, its enclosure is a home again.

    NotFoundError if the animal is not in quarantine.
    """
    with services.database.transaction() as transaction:
        steps = _steps_of(services, transaction, animal_id)
        if not steps:
            raise NotFoundError("quarantine", animal_id, "It is not in quarantine")
        for step in steps:
            services.tasks.tasks.remove(transaction, step.id)
            if step.plan_id is not None:
                set_enclosure_role(services, transaction, step.plan_id, "home")


def _steps_of(services: Services, transaction: Transaction, animal_id: str) -> list[TaskRecord]:
    return services.tasks.tasks.all(
        "animal_id = ? AND origin LIKE ?", (animal_id, f"{QUARANTINE}%"), transaction=transaction
    )
