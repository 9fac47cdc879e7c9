"""The lamp register: lamps a keeper owns, where each is and was installed, its hours and what it gives."""

from __future__ import annotations

import math
import secrets
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import Literal

from noonshade.core.care.lamp_output import (
    LampOutput,
    UvShortfall,
    find_uv_shortfall,
    lamp_output,
    uv_need,
)
from noonshade.core.plan import Lamp
from noonshade.formats.plan_document import FixtureDocument, PlanDocument, parse_plan, plan_json
from noonshade.services.application import Services
from noonshade.services.lamp_hours import LampHours, hours_on, plan_with_hours
from noonshade.services.readings import StaleReadings
from noonshade.services.tasks import lamp_origin
from noonshade.store.database import Transaction
from noonshade.store.errors import NotFoundError
from noonshade.store.installations import InstallationRecord, InstalledLampRecord
from noonshade.store.plans import PlanRecord
from noonshade.store.readings import ReadingRecord
from noonshade.store.tasks import MarkRecord

READINGS_SHOWN = 12
Plans = dict[str, tuple[PlanRecord, PlanDocument]]
ReadingsOf = Callable[[str], list[ReadingRecord]]


@dataclass(frozen=True, slots=True)
class InstallationHours:
    """Where a lamp is or was installed, and the hours it burned there."""

    record: InstallationRecord
    plan_name: str
    fixture_label: str
    hours: float


@dataclass(frozen=True, slots=True)
class LampStatus:
    """A lamp of the register with all that is known of it."""

    record: InstalledLampRecord
    lamp: Lamp | None
    state: Literal["installed", "spare", "retired"]
    hours: float
    hours_a_day: float
    plan_hours: float | None
    output: LampOutput | None
    installations: tuple[InstallationHours, ...]
    readings: tuple[ReadingRecord, ...]


@dataclass(frozen=True, slots=True)
class UnregisteredLamp:
    """A lamp of a plan that is not in the register."""

    plan: PlanRecord
    fixture: FixtureDocument
    lamp_label: str


@dataclass(frozen=True, slots=True)
class Installed:
    """What installing a lamp changed: the plan's revision, and what is to be read again."""

    plan: PlanRecord
    checks_to_read: tuple[str, ...]
    stale_readings: int


def list_installed_lamps(
    services: Services, today: date
) -> tuple[list[LampStatus], list[UnregisteredLamp]]:
    """All lamps of the register, and lamps of plans that are not in it."""
    records = services.installations.installed_lamps.all(order="label COLLATE NOCASE, id")
    hours = LampHours(services, today)
    plans = {p.id: (p, parse_plan(p.document)) for p in services.plans.all()}
    readings = cache(services.readings.readings)
    known = [_status(services, record, plans, hours, readings) for record in records]
    listed = {record.id for record in records}
    registered = {
        (i.plan_id, i.fixture_id)
        for some in hours.installations.values()
        for i in some
        if i.ended_on is None and i.installed_lamp_id in listed
    }
    lamps = services.library.lamps()
    others = [
        UnregisteredLamp(plan, f, lamps[f.lamp_id].label if f.lamp_id in lamps else f.lamp_id)
        for plan, document in plans.values()
        for f in document.fixtures
        if (plan.id, f.id) not in registered
    ]
    return known, others


def register_lamps(services: Services, plan_ids: list[str], day: str) -> list[str]:
    """Register every lamp of some plans that is not yet, with the plan's hours; returns the new ids."""
    made = []
    lamps = services.library.lamps()
    with services.database.transaction() as transaction:
        installed = services.installations.installations.all("ended_on IS NULL", transaction=transaction)
        registered = {(i.plan_id, i.fixture_id) for i in installed}
        for plan_id in plan_ids:
            for f in parse_plan(services.plans.get(plan_id, transaction).document).fixtures:
                if (plan_id, f.id) in registered or f.lamp_id not in lamps:
                    continue
                record = InstalledLampRecord(
                    secrets.token_hex(6), f.label, f.lamp_id, f.power_w, None, f.hours
                )
                services.installations.installed_lamps.put(transaction, record)
                services.installations.install(transaction, record.id, plan_id, f.id, day, retire=False)
                made.append(record.id)
    return made


def install_lamp(
    services: Services, lamp_id: str, plan_id: str, fixture_id: str, day: date, retire_old: bool
) -> Installed:
    """Install a lamp in a fixture: a replacement or a move.

    The plan gets a revision with the lamp and its hours, the task that replaces the fixture's lamp is done.
    All of it is stored, or nothing.

    Raises
    ------
    NotFoundError
        If there is no such lamp, plan or fixture.
    DocumentError, PlanError, ConvergenceError
        If the plan cannot be built with that lamp.
    StaleRevisionError
        If the plan was changed meanwhile.
    """
    record = services.installations.installed_lamps.get(lamp_id)
    plan = services.plans.get(plan_id)
    document = parse_plan(plan.document)
    fixture = _fixture(document, fixture_id)
    hours = round(LampHours(services, day).total(lamp_id), 1)
    fresh = fixture.model_copy(
        update={"lamp_id": record.lamp_id, "power_w": record.power_w, "hours": hours}
    )
    fixtures = [fresh if f.id == fixture_id else f for f in document.fixtures]
    changed = services.library.packed(document.model_copy(update={"fixtures": fixtures}))
    due = services.computed(checks_to_measure, changed)
    summary = f"{fixture.label}: {record.label} installed"[:200]
    on = day.isoformat()
    with services.database.transaction() as transaction:
        saved = services.plans.save(
            transaction, plan.id, plan.revision, plan.name, plan_json(changed), summary
        )
        services.installations.install(transaction, lamp_id, plan_id, fixture_id, on, retire_old)
        _mark_replaced(services, transaction, plan_id, fixture_id, on)
    stale = StaleReadings(services, plan_id, changed)
    return Installed(
        saved,
        due,
        sum(stale.of(r) is not None for r in services.readings.readings(plan_id)),
    )


def checks_to_measure(services: Services, document: PlanDocument) -> tuple[str, ...]:
    """Checks of a plan that another lamp changes; errors as ``evaluate``."""
    checks = services.evaluation.evaluate(document).checks
    return tuple(c.id for c in checks if c.need.quantity in ("uvi", "surface_temperature"))


def take_down_lamp(services: Services, lamp_id: str, day: str, retire: bool) -> None:
    """Take a lamp down, as a spare or for good; the plan keeps its fixture."""
    services.write(services.installations.take_down, lamp_id, day, retire)


def set_lamp_hours(services: Services, plan_id: str, today: date) -> tuple[PlanRecord, bool]:
    """Bring the hours of a plan's lamps to those of the register, as a revision; whether any changed."""
    hours = LampHours(services, today)
    with services.database.transaction() as transaction:
        plan = services.plans.get(plan_id, transaction)
        text = plan_json(plan_with_hours(plan, hours))
        saved = services.plans.save(
            transaction, plan.id, plan.revision, plan.name, text, "Lamp hours by the register"
        )
    return saved, saved.revision != plan.revision


def forecast_uv_shortfall(services: Services, plan_id: str, today: date) -> UvShortfall | None:
    """When a plan no longer meets its UV need as its lamps age, with the hours of the register."""
    document = plan_with_hours(services.plans.get(plan_id), LampHours(services, today))
    evaluation = services.evaluation.evaluate(document)
    need = uv_need(evaluation)
    spread = (0.0, 0.0)
    if need is not None and need.value:
        interval = services.intervals.compute(evaluation)[need.id]
        spread = (_log(interval.low / need.value), _log(interval.high / need.value))
    return find_uv_shortfall(evaluation, today, spread)


def _mark_replaced(
    services: Services, transaction: Transaction, plan_id: str, fixture_id: str, day: str
) -> None:
    """Mark the task that replaces a fixture's lamp as done."""
    origin = lamp_origin(fixture_id)
    for task in services.tasks.tasks.all(
        "plan_id = ? AND origin = ?", (plan_id, origin), transaction=transaction
    ):
        services.tasks.mark(transaction, MarkRecord(task.id, day, "done", day))


def _log(ratio: float) -> float:
    return math.log(max(ratio, 1e-6))


def _fixture(document: PlanDocument, fixture_id: str) -> FixtureDocument:
    found = next((f for f in document.fixtures if f.id == fixture_id), None)
    if found is None:
        names = ", ".join(f.id for f in document.fixtures) or "none"
        raise NotFoundError(
            "fixture", fixture_id, f"{document.name} has no fixture {fixture_id!r}; it has {names}"
        )
    return found


def _status(
    services: Services,
    record: InstalledLampRecord,
    plans: Plans,
    hours: LampHours,
    readings: ReadingsOf,
) -> LampStatus:
    lamp = services.library.lamps().get(record.lamp_id)
    installations = hours.installations.get(record.id, [])
    total = hours.total(record.id)
    here = next((i for i in installations if i.ended_on is None), None)
    fixture, a_day = None, 0.0
    if here is not None and here.plan_id in plans:
        document = plans[here.plan_id][1]
        fixture = next((f for f in document.fixtures if f.id == here.fixture_id), None)
        a_day = 0.0 if fixture is None else hours_on(fixture, document)
    output = None
    if lamp is not None and lamp.uv is not None and lamp.ageing is not None:
        output = lamp_output(lamp.ageing, total)
    return LampStatus(
        record=record,
        lamp=lamp,
        state="retired" if record.retired_on else "installed" if here is not None else "spare",
        hours=total,
        hours_a_day=a_day,
        plan_hours=None if fixture is None else fixture.hours,
        output=output,
        installations=tuple(_installation(i, hours, plans) for i in installations),
        readings=_uv_readings(installations, readings) if output is not None else (),
    )


def _installation(record: InstallationRecord, hours: LampHours, plans: Plans) -> InstallationHours:
    plan, document = plans.get(record.plan_id, (None, None))
    label = record.fixture_id
    if document is not None:
        label = next((f.label for f in document.fixtures if f.id == record.fixture_id), label)
    name = "an archived enclosure" if plan is None else plan.name
    return InstallationHours(record, name, label, hours.of_installation(record))


def _uv_readings(
    installations: list[InstallationRecord], readings: ReadingsOf
) -> tuple[ReadingRecord, ...]:
    """UV readings taken in an enclosure while a lamp was installed there, the newest first."""
    found = [
        r
        for i in installations
        for r in readings(i.plan_id)
        if r.kind in ("uvi_facing", "uvi_level")
        and i.began_on <= r.taken_at[:10]
        and (i.ended_on is None or r.taken_at[:10] <= i.ended_on)
    ]
    return tuple(sorted(found, key=lambda r: r.taken_at, reverse=True)[:READINGS_SHOWN])
