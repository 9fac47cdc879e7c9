"""New arrivals: quarantine as tasks of days with reasons, and the release into the room."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta

from flask import Blueprint

from noonshade.core.care.quarantine import QUARANTINE_DAYS, RELEASE, quarantine_steps
from noonshade.formats.plan_document import parse_plan
from noonshade.services.brumation import Rests
from noonshade.services.enclosure_roles import set_enclosure_role
from noonshade.store.logbook import AnimalRecord, EntryRecord, utc
from noonshade.store.tasks import MarkRecord, TaskRecord
from noonshade.web import current
from noonshade.web.growth.schemas import (
    ArrivalList,
    ArrivalModel,
    ArrivalRequest,
    ReleaseRequest,
)
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.tasks.routes import ARRIVAL, known_task
from noonshade.web.tasks.schemas import DayQuery

arrival_api = Blueprint("arrivals", __name__, url_prefix="/api")


@operation(
    arrival_api,
    "GET",
    "/plans/<plan_id>/arrivals",
    response=ArrivalList,
    query=DayQuery,
    problems=(404, 503),
)
def list_arrivals(query: DayQuery, plan_id: str) -> ArrivalList:
    """Quarantines of an enclosure, with where each step stands."""
    plan = current.plans().get(plan_id)
    species = current.evaluator().plan(parse_plan(plan.document)).animal.species
    tasks = current.tasks().tasks.all(
        "plan_id = ? AND origin LIKE ?", (plan_id, f"{ARRIVAL}%"), "starts_on"
    )
    marks, rests, today = current.tasks().marks(), Rests(), date.fromisoformat(query.on)
    by_animal: dict[str, list[TaskRecord]] = {}
    for task in tasks:
        by_animal.setdefault(task.animal_id or "", []).append(task)
    found = []
    for animal_id, mine in by_animal.items():
        animal = _animal(animal_id)
        known = [known_task(t, marks, today, rests) for t in mine]
        released = any(k.task.origin.endswith(f":{RELEASE}") and k.marks for k in known)
        found.append(
            ArrivalModel(
                animal_id=animal_id,
                name=animal.name,
                came_on=mine[0].starts_on,
                released=released,
                steps=known,
            )
        )
    found.sort(key=lambda a: a.came_on, reverse=True)
    return ArrivalList(arrivals=found, usual_days=QUARANTINE_DAYS[species.group])


@operation(
    arrival_api,
    "POST",
    "/plans/<plan_id>/arrivals",
    request_model=ArrivalRequest,
    response=ArrivalModel,
    status=201,
    problems=(404, 409, 503, 507),
)
def begin_arrival(body: ArrivalRequest, plan_id: str) -> ArrivalModel:
    """Begin an animal's quarantine in an enclosure: its steps become tasks."""
    current.plans().get(plan_id)
    animal = _animal(body.animal_id)
    if animal.plan_id != plan_id:
        raise RequestProblem(
            422,
            "invalid-request",
            "A value cannot be used",
            f"{animal.name} does not live in this enclosure",
        )
    species = current.library().species()[animal.species_id]
    begin = date.fromisoformat(body.on)
    # Begun anew, it replaces what was begun before.
    made = [
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
            f"{ARRIVAL}{step.key}",
        )
        for step in quarantine_steps(species, body.days)
    ]
    current.tasks().tasks.put(*made)
    set_enclosure_role(plan_id, "quarantine")
    marks = current.tasks().marks()
    return ArrivalModel(
        animal_id=animal.id,
        name=animal.name,
        came_on=body.on,
        released=False,
        steps=[known_task(t, marks, begin, Rests()) for t in made],
    )


@operation(
    arrival_api,
    "POST",
    "/animals/<animal_id>/release",
    request_model=ReleaseRequest,
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def release_animal(body: ReleaseRequest, animal_id: str) -> None:
    """End an animal's quarantine: its enclosure becomes a home, and the logbook notes it."""
    animal = _animal(animal_id)
    tasks = _steps_of(animal_id)
    release = next((t for t in tasks if t.origin == f"{ARRIVAL}{RELEASE}"), None)
    if release is None or release.plan_id is None:
        raise RequestProblem(
            404, "not-found", "There is no such thing", f"{animal.name} is not in quarantine"
        )
    current.tasks().mark(MarkRecord(release.id, release.starts_on, "done", body.on))
    set_enclosure_role(release.plan_id, "home")
    moment = datetime.combine(date.fromisoformat(body.on), time(12), UTC)
    text = body.text.strip() or "Out of quarantine, into the room."
    current.logbook().entries.put(
        EntryRecord(
            f"release.{animal_id[:40]}.{body.on}",
            *(release.plan_id, animal_id, "move", moment.isoformat(), utc(moment)),
            text=text,
        )
    )


@operation(
    arrival_api,
    "DELETE",
    "/animals/<animal_id>/arrival",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def remove_arrival(animal_id: str) -> None:
    """Take an animal's quarantine back: its steps go, its enclosure is a home again."""
    tasks = _steps_of(animal_id)
    if not tasks:
        raise RequestProblem(404, "not-found", "There is no such thing", "It is not in quarantine")
    for task in tasks:
        current.tasks().tasks.remove(task.id)
        if task.plan_id is not None:
            set_enclosure_role(task.plan_id, "home")


def _animal(animal_id: str) -> AnimalRecord:
    return current.logbook().animals.get(animal_id, removed=True)


def _steps_of(animal_id: str) -> list[TaskRecord]:
    return current.tasks().tasks.all("animal_id = ? AND origin LIKE ?", (animal_id, f"{ARRIVAL}%"))
