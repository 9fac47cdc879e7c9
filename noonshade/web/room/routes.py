"""The room as a whole: its climate, how the enclosures rack, and each enclosure over the year."""

from __future__ import annotations

from flask import Blueprint

from noonshade.formats.results.evaluation import phrase_parts
from noonshade.formats.room_document import RoomLayout
from noonshade.services import room
from noonshade.services.application import Services
from noonshade.services.workers import Priority
from noonshade.web.http.routing import operation
from noonshade.web.room.schemas import (
    ClimateSet,
    DueModel,
    ForecastRequest,
    ForecastResponse,
    MonthModel,
    RoomModel,
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
    year, waiting = services.forecasts.forecast(body.document)
    return ForecastResponse(
        months=[
            MonthModel(number=m.number, failing=m.failing, description=phrase_parts(m.description))
            for m in year
        ],
        due=[
            DueModel(kind=d.kind, about_id=d.about_id, message=d.message, in_days=d.in_days)
            for d in waiting
        ],
    )
