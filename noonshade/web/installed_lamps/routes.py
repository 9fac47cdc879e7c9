"""The lamp register: each lamp a keeper owns, where it is and was installed, what it gives, until when."""

from __future__ import annotations

from datetime import date

from flask import Blueprint

from noonshade.services import installed_lamps as register
from noonshade.services.application import Services
from noonshade.store.installations import InstalledLampRecord
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.installed_lamps.schemas import (
    HoursRequest,
    HoursSet,
    InstalledLampModel,
    InstalledModel,
    InstallRequest,
    LampForecast,
    Register,
    RegisteredModel,
    RegisterRequest,
    TakeDownRequest,
)
from noonshade.web.installed_lamps.serializers import (
    lamp_status_model,
    shortfall_model,
    unregistered_model,
)
from noonshade.web.tasks.schemas import DayQuery

installed_lamp_api = Blueprint("installed_lamps", __name__, url_prefix="/api")


@operation(
    installed_lamp_api, "GET", "/installed-lamps", response=Register, query=DayQuery, problems=(503,)
)
def list_installed_lamps(services: Services, query: DayQuery) -> Register:
    """All lamps of the register, and lamps of plans that are not in it."""
    known, others = register.list_installed_lamps(services, date.fromisoformat(query.on))
    return Register(
        installed_lamps=[lamp_status_model(s) for s in known],
        unregistered=[unregistered_model(u) for u in others],
    )


@operation(
    installed_lamp_api,
    "PUT",
    "/installed-lamps",
    request_model=InstalledLampModel,
    response=InstalledLampModel,
    problems=(503, 507),
)
def put_installed_lamp(services: Services, body: InstalledLampModel) -> InstalledLampModel:
    """Store a lamp, new or changed."""
    if body.lamp_id not in services.library.lamps():
        detail = f"/lamp_id: no lamp {body.lamp_id!r} is known"
        raise RequestProblem(422, "invalid-request", "A value cannot be used", detail)
    services.write(services.installations.installed_lamps.put, InstalledLampRecord(**body.model_dump()))
    return body


@operation(
    installed_lamp_api,
    "DELETE",
    "/installed-lamps/<installed_lamp_id>",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def remove_installed_lamp(services: Services, installed_lamp_id: str) -> None:
    """Take a lamp off the register; storing it again brings it back with its installations."""
    services.write(services.installations.installed_lamps.remove, installed_lamp_id)


@operation(
    installed_lamp_api,
    "POST",
    "/installed-lamps/register",
    request_model=RegisterRequest,
    response=RegisteredModel,
    problems=(404, 503, 507),
)
def register_lamps(services: Services, body: RegisterRequest) -> RegisteredModel:
    """Register every lamp of some plans that is not yet, with the hours the plans have."""
    return RegisteredModel(made=register.register_lamps(services, body.plan_ids, body.on))


@operation(
    installed_lamp_api,
    "POST",
    "/installed-lamps/<installed_lamp_id>/install",
    request_model=InstallRequest,
    response=InstalledModel,
    problems=(404, 409, 503, 507),
)
def install_lamp(services: Services, body: InstallRequest, installed_lamp_id: str) -> InstalledModel:
    """Install a lamp in a fixture, as a replacement or a move; the plan gets a revision with it."""
    done = register.install_lamp(
        services,
        installed_lamp_id,
        body.plan_id,
        body.fixture_id,
        date.fromisoformat(body.on),
        retire_old=body.old == "retired",
    )
    return InstalledModel(
        revision=done.plan.revision,
        due=list(done.checks_to_read),
        readings_due=done.stale_readings,
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
def take_down_lamp(services: Services, body: TakeDownRequest, installed_lamp_id: str) -> None:
    """Take a lamp down, as a spare or for good; the plan keeps its fixture."""
    register.take_down_lamp(services, installed_lamp_id, body.on, body.retire)


@operation(
    installed_lamp_api,
    "PUT",
    "/plans/<plan_id>/lamp-hours",
    request_model=HoursRequest,
    response=HoursSet,
    problems=(404, 409, 503, 507),
)
def set_lamp_hours(services: Services, body: HoursRequest, plan_id: str) -> HoursSet:
    """Bring the hours of a plan's lamps to those of the register, as a revision."""
    saved, changed = register.set_lamp_hours(services, plan_id, date.fromisoformat(body.on))
    return HoursSet(revision=saved.revision, changed=changed)


@operation(
    installed_lamp_api,
    "GET",
    "/plans/<plan_id>/lamp-forecast",
    response=LampForecast,
    query=DayQuery,
    problems=(404, 422, 503),
    pool="heavy",
)
def lamp_forecast(services: Services, query: DayQuery, plan_id: str) -> LampForecast:
    """When a plan no longer meets its UV need as its lamps age, with the hours of the register."""
    found = register.forecast_uv_shortfall(services, plan_id, date.fromisoformat(query.on))
    return LampForecast(shortfall=None if found is None else shortfall_model(found))
