"""The lamp register: each lamp as a thing, where it hangs and hung, what it gives, until when."""

from __future__ import annotations

import math
import secrets
from collections.abc import Callable
from dataclasses import asdict
from datetime import date
from functools import cache

from flask import Blueprint

from noonshade.core.care.lamp_output import find_uv_shortfall, lamp_output, uv_need
from noonshade.formats.plan_document import FixtureDocument, PlanDocument, parse_plan, plan_json
from noonshade.services.lamp_hours import LampHours, hours_on, plan_with_hours
from noonshade.services.readings import StaleReadings
from noonshade.store.installations import InstallationRecord, InstalledLampRecord
from noonshade.store.plans import PlanRecord, UnknownPlanError
from noonshade.store.readings import ReadingRecord
from noonshade.store.tasks import MarkRecord
from noonshade.web import current
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.installed_lamps.schemas import (
    HoursRequest,
    HoursSet,
    InstallationModel,
    InstalledLampModel,
    InstalledLampReading,
    InstalledLampStatus,
    InstalledModel,
    InstallRequest,
    LampForecast,
    OutputModel,
    Register,
    RegisteredModel,
    RegisterRequest,
    ShortfallModel,
    TakeDownRequest,
    UnregisteredLampModel,
)
from noonshade.web.tasks.routes import lamp_origin
from noonshade.web.tasks.schemas import DayQuery

installed_lamp_api = Blueprint("installed_lamps", __name__, url_prefix="/api")

READINGS_SHOWN = 12
ReadingsOf = Callable[[str], list[ReadingRecord]]


@operation(
    installed_lamp_api, "GET", "/installed-lamps", response=Register, query=DayQuery, problems=(503,)
)
def list_installed_lamps(query: DayQuery) -> Register:
    """All lamps as things, and lamps of plans that are not registered."""
    today = date.fromisoformat(query.on)
    installed_lamps = current.installations().installed_lamps.all(order="label COLLATE NOCASE, id")
    counted = LampHours(today)
    plans = {p.id: (p, parse_plan(p.document)) for p in current.plans().all()}
    readings = cache(current.readings().readings)
    known = [_known(u, plans, counted, readings) for u in installed_lamps]
    here = {u.id for u in installed_lamps}
    held = {
        (h.plan_id, h.fixture_id)
        for some in counted.installations.values()
        for h in some
        if h.ended_on is None and h.installed_lamp_id in here
    }
    lamps = current.library().lamps()
    loose = [
        UnregisteredLampModel(
            plan_id=plan.id,
            plan_name=plan.name,
            fixture_id=f.id,
            fixture_label=f.label,
            lamp_id=f.lamp_id,
            lamp_label=lamps[f.lamp_id].label if f.lamp_id in lamps else f.lamp_id,
            hours=f.hours,
        )
        for plan, document in plans.values()
        for f in document.fixtures
        if (plan.id, f.id) not in held
    ]
    return Register(installed_lamps=known, unregistered=loose)


@operation(
    installed_lamp_api,
    "PUT",
    "/installed-lamps",
    request_model=InstalledLampModel,
    response=InstalledLampModel,
    problems=(503, 507),
)
def put_installed_lamp(body: InstalledLampModel) -> InstalledLampModel:
    """Store a lamp, new or changed."""
    if body.lamp_id not in current.library().lamps():
        raise RequestProblem(
            422, "invalid-request", "A value cannot be used", f"/lamp_id: no lamp {body.lamp_id!r} is known"
        )
    current.installations().installed_lamps.put(InstalledLampRecord(**body.model_dump()))
    return body


@operation(
    installed_lamp_api,
    "DELETE",
    "/installed-lamps/<installed_lamp_id>",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def remove_installed_lamp(installed_lamp_id: str) -> None:
    """Take a lamp off the register; storing it again brings it back with where it hung."""
    current.installations().installed_lamps.remove(installed_lamp_id)


@operation(
    installed_lamp_api,
    "POST",
    "/installed-lamps/register",
    request_model=RegisterRequest,
    response=RegisteredModel,
    problems=(404, 503, 507),
)
def register_lamps(body: RegisterRequest) -> RegisteredModel:
    """Register every lamp of some plans that is not, as it hangs, with the hours the plan has."""
    made = []
    lamps = current.library().lamps()
    held = {
        (h.plan_id, h.fixture_id) for h in current.installations().installations.all("ended_on IS NULL")
    }
    for plan_id in body.plan_ids:
        for fixture in parse_plan(current.plans().get(plan_id).document).fixtures:
            if (plan_id, fixture.id) in held or fixture.lamp_id not in lamps:
                continue
            unit = InstalledLampRecord(
                secrets.token_hex(6), fixture.label, fixture.lamp_id, fixture.power_w, None, fixture.hours
            )
            current.installations().installed_lamps.put(unit)
            current.installations().hang(unit.id, plan_id, fixture.id, body.on, retire=False)
            made.append(unit.id)
    return RegisteredModel(made=made)


@operation(
    installed_lamp_api,
    "POST",
    "/installed-lamps/<installed_lamp_id>/install",
    request_model=InstallRequest,
    response=InstalledModel,
    problems=(404, 409, 503, 507),
)
def install_lamp(body: InstallRequest, installed_lamp_id: str) -> InstalledModel:
    """Hang a lamp into a fixture: a replacement or a move; the plan gets a revision with it."""
    unit = current.installations().installed_lamps.get(installed_lamp_id)
    plan = current.plans().get(body.plan_id)
    document = parse_plan(plan.document)
    fixture = _fixture(document, body.fixture_id)
    hours = LampHours(date.fromisoformat(body.on)).unit(installed_lamp_id)
    fresh = fixture.model_copy(
        update={"lamp_id": unit.lamp_id, "power_w": unit.power_w, "hours": round(hours, 1)}
    )
    changed = current.library().packed(
        document.model_copy(
            update={"fixtures": [fresh if f.id == fixture.id else f for f in document.fixtures]}
        )
    )
    # What the plan cannot be built with is refused before anything is hung.
    evaluation = current.evaluator().evaluate(changed)
    saved = current.plans().save(
        plan.id, plan.revision, plan.name, plan_json(changed), f"{fixture.label}: {unit.label} hung"[:200]
    )
    current.installations().hang(
        installed_lamp_id, body.plan_id, body.fixture_id, body.on, body.old == "retired"
    )
    _replaced(plan.id, fixture.id, body.on)
    due = StaleReadings(plan.id, changed)
    stored = current.readings().readings(plan.id)
    return InstalledModel(
        revision=saved.revision,
        due=[v.id for v in evaluation.checks if v.need.quantity in ("uvi", "surface_temperature")],
        readings_due=sum(due.of(r) is not None for r in stored),
    )


@operation(
    installed_lamp_api,
    "POST",
    "/installed-lamps/<installed_lamp_id>/take-down",
    request_model=TakeDownRequest,
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def take_down_lamp(body: TakeDownRequest, installed_lamp_id: str) -> None:
    """Take a lamp down, as a spare or for good; the plan keeps its fixture, which waits for another."""
    current.installations().take_down(installed_lamp_id, body.on, body.retire)


@operation(
    installed_lamp_api,
    "PUT",
    "/plans/<plan_id>/lamp-hours",
    request_model=HoursRequest,
    response=HoursSet,
    problems=(404, 409, 503, 507),
)
def set_lamp_hours(body: HoursRequest, plan_id: str) -> HoursSet:
    """Bring the hours of a plan's lamps to those of the register, as a revision."""
    plan = current.plans().get(plan_id)
    text = plan_json(plan_with_hours(plan, LampHours(date.fromisoformat(body.on))))
    saved = current.plans().save(plan.id, plan.revision, plan.name, text, "Hours of lamps by the register")
    return HoursSet(revision=saved.revision, changed=saved.revision != plan.revision)


@operation(
    installed_lamp_api,
    "GET",
    "/plans/<plan_id>/lamp-forecast",
    response=LampForecast,
    query=DayQuery,
    problems=(404, 422, 503),
)
def lamp_forecast(query: DayQuery, plan_id: str) -> LampForecast:
    """When a plan no longer meets its UV need as its lamps age, with the hours of the register."""
    today = date.fromisoformat(query.on)
    document = plan_with_hours(current.plans().get(plan_id), LampHours(today))
    evaluation = current.evaluator().evaluate(document)
    need = uv_need(evaluation)
    spread = (0.0, 0.0)
    if need is not None and need.value:
        interval = current.intervals().intervals(evaluation)[need.id]
        spread = (_log(interval.low / need.value), _log(interval.high / need.value))
    found = find_uv_shortfall(evaluation, today, spread)
    if found is None:
        return LampForecast(shortfall=None)
    days = {k: None if v is None else v.isoformat() for k, v in asdict(found).items() if k in _DAYS}
    return LampForecast(
        shortfall=ShortfallModel(
            check_id=found.check_id,
            need_low=found.need_low,
            value=found.value,
            short_now=found.short_now,
            **days,
        )
    )


def _replaced(plan_id: str, fixture_id: str, on: str) -> None:
    """The task that replaces a fixture's lamp is done with it."""
    for task in current.tasks().tasks.all("plan_id = ? AND origin = ?", (plan_id, lamp_origin(fixture_id))):
        current.tasks().mark(MarkRecord(task.id, on, "done", on))


_DAYS = ("day", "earliest", "latest")


def _log(ratio: float) -> float:
    return math.log(max(ratio, 1e-6))


def _fixture(document: PlanDocument, fixture_id: str) -> FixtureDocument:
    found = next((f for f in document.fixtures if f.id == fixture_id), None)
    if found is None:
        names = ", ".join(f.id for f in document.fixtures) or "none"
        raise UnknownPlanError(f"{document.name} has no fixture {fixture_id!r}; it has {names}")
    return found


def _known(
    unit: InstalledLampRecord,
    plans: dict[str, tuple[PlanRecord, PlanDocument]],
    counted: LampHours,
    readings: ReadingsOf,
) -> InstalledLampStatus:
    lamp = current.library().lamps().get(unit.lamp_id)
    installations = counted.installations.get(unit.id, [])
    hours = counted.unit(unit.id)
    here = next((h for h in installations if h.ended_on is None), None)
    fixture = None
    if here is not None and here.plan_id in plans:
        document = plans[here.plan_id][1]
        fixture = next((f for f in document.fixtures if f.id == here.fixture_id), None)
    given = None
    if lamp is not None and lamp.uv is not None and lamp.ageing is not None:
        given = OutputModel(**asdict(lamp_output(lamp.ageing, hours)))
    return InstalledLampStatus(
        installed_lamp=InstalledLampModel(**asdict(unit)),
        lamp_label=unit.lamp_id if lamp is None else lamp.label,
        state="retired" if unit.retired_on else "installed" if here is not None else "spare",
        hours=hours,
        hours_a_day=0.0 if fixture is None or here is None else hours_on(fixture, plans[here.plan_id][1]),
        plan_hours=None if fixture is None else fixture.hours,
        life_h=None if lamp is None or lamp.ageing is None else lamp.ageing.life_h,
        output=given,
        installations=[_installation(h, counted.of(h), plans) for h in installations],
        readings=_readings(installations, readings) if given is not None else [],
    )


def _installation(
    record: InstallationRecord, hours: float, plans: dict[str, tuple[PlanRecord, PlanDocument]]
) -> InstallationModel:
    plan, document = plans.get(record.plan_id, (None, None))
    label = record.fixture_id
    if document is not None:
        label = next((f.label for f in document.fixtures if f.id == record.fixture_id), label)
    return InstallationModel(
        plan_id=record.plan_id,
        plan_name="an archived enclosure" if plan is None else plan.name,
        fixture_id=record.fixture_id,
        fixture_label=label,
        began_on=record.began_on,
        ended_on=record.ended_on,
        hours=hours,
    )


def _readings(installations: list[InstallationRecord], readings: ReadingsOf) -> list[InstalledLampReading]:
    """UV readings taken in an enclosure while a lamp hung in it, the newest first."""
    found = [
        InstalledLampReading(taken_at=r.taken_at, place=r.place, uvi=r.value)
        for h in installations
        for r in readings(h.plan_id)
        if r.kind in ("uvi_facing", "uvi_level")
        and h.began_on <= r.taken_at[:10]
        and (h.ended_on is None or r.taken_at[:10] <= h.ended_on)
    ]
    return sorted(found, key=lambda r: r.taken_at, reverse=True)[:READINGS_SHOWN]
