"""The room as a whole: its climate, how the enclosures rack, and each enclosure over the year."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import Blueprint

from noonshade.formats.results.room import ChecksResult, ForecastResult, forecast_result
from noonshade.formats.room_document import RoomLayout
from noonshade.services import room
from noonshade.services.application import Services
from noonshade.services.workers import Priority
from noonshade.web.http.routing import operation
from noonshade.web.room.schemas import (
    ChecksNow,
    ClimateSet,
    EnclosureResultsModel,
    ForecastNow,
    ForecastRequest,
    ForecastResponse,
    LiveReading,
    LiveReadings,
    MonthNow,
    ResultsQuery,
    RoomModel,
    RoomResults,
    SetClimate,
)

room_api = Blueprint("room", __name__, url_prefix="/api")


@operation(room_api, "GET", "/room", response=RoomModel, problems=(503,))
def get_room(services: Services) -> RoomModel:
    """The climate and the racks of the room."""
    climate = room.room_climate(services)
    return RoomModel(
        climate=climate,
        followed=None if climate is None else climate.room(),
        layout=room.room_layout(services),
    )


@operation(
    room_api,
    "PUT",
    "/room/climate",
    request_model=SetClimate,
    response=ClimateSet,
    problems=(503, 507),
)
def set_climate(services: Services, body: SetClimate) -> ClimateSet:
    """Set the climate of the room; every plan that follows it gets a new revision with it."""
    return ClimateSet(changed=room.set_room_climate(services, body.climate, body.every_plan))


@operation(
    room_api,
    "PUT",
    "/room/layout",
    request_model=RoomLayout,
    response=RoomLayout,
    problems=(503, 507),
)
def set_layout(services: Services, body: RoomLayout) -> RoomLayout:
    """Set how the enclosures are arranged in racks."""
    room.set_room_layout(services, body)
    return body


@operation(
    room_api,
    "POST",
    "/forecast",
    request_model=ForecastRequest,
    response=ForecastResponse,
    pool="heavy",
    priority=Priority.BEHIND,
)
def find_forecast(services: Services, body: ForecastRequest) -> ForecastResponse:
    """A plan over the months of its room, and what is due on it."""
    found = forecast_result(*services.forecasts.forecast(body.document))
    return ForecastResponse(months=found.months, due=found.due)


@operation(room_api, "GET", "/room/results", query=ResultsQuery, response=RoomResults, problems=(503,))
def get_results(services: Services, query: ResultsQuery) -> RoomResults:
    """What is known of every enclosure without computing anything; what is missing is being computed."""
    services.results.shown = frozenset(query.shown.split(","))
    found = services.results.now()
    missing = [wanted.kind for wanted in found.missing()]
    return RoomResults(
        enclosures=[
            EnclosureResultsModel(
                plan_id=one.plan_id,
                revision=one.revision,
                checks=None if one.checks is None else _checks_now(one.checks),
                forecast=None if one.forecast is None else _forecast_now(one.forecast),
            )
            for one in found.known()
        ],
        checks_missing=missing.count("checks"),
        forecasts_missing=missing.count("forecast"),
    )


@operation(room_api, "GET", "/room/live", response=LiveReadings, problems=(503,))
def get_live(services: Services) -> LiveReadings:
    """What the loggers of all enclosures read within the last hours."""
    return LiveReadings(
        readings=[
            LiveReading(
                plan_id=logger.plan_id,
                label=logger.label,
                at=read.at,
                temperature_c=read.temperature_c,
                relative_humidity=read.relative_humidity,
            )
            for logger, read in room.live_readings(services, datetime.now(UTC))
        ]
    )


def _checks_now(found: ChecksResult) -> ChecksNow:
    return ChecksNow(
        failing=found.failing, uncertain=found.uncertain, cause=found.cause, problem=found.problem
    )


def _forecast_now(found: ForecastResult) -> ForecastNow:
    months = [MonthNow(number=m.number, failing=m.failing) for m in found.months]
    return ForecastNow(months=months, due=found.due, problem=found.problem)
