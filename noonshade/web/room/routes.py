"""The room as a whole: its climate, how the enclosures rack, and each enclosure over the year."""

from __future__ import annotations

from flask import Blueprint

from noonshade.formats.document import json_text
from noonshade.formats.plan_document import parse_plan, plan_json
from noonshade.formats.room_document import RoomClimateSettings, RoomLayout, parse_room_layout
from noonshade.store.plans import StaleRevisionError, UnknownPlanError
from noonshade.web import current
from noonshade.web.evaluation.serializers import phrase_parts
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

CLIMATE, LAYOUT = "room-climate", "room-layout"


@operation(room_api, "GET", "/room", response=RoomModel, problems=(503,))
def get_room() -> RoomModel:
    """The climate set for the whole room, and how the enclosures rack."""
    climate, layout = current.settings().get(CLIMATE), current.settings().get(LAYOUT)
    known = None if climate is None else RoomClimateSettings.model_validate_json(climate)
    return RoomModel(
        climate=known,
        followed=None if known is None else known.room(),
        layout=RoomLayout() if layout is None else parse_room_layout(layout),
    )


@operation(
    room_api,
    "PUT",
    "/room/climate",
    request_model=SetClimate,
    response=ClimateSet,
    problems=(503, 507),
)
def set_climate(body: SetClimate) -> ClimateSet:
    """Set the climate of the room; every plan that follows it gets a new revision with it."""
    current.settings().put(CLIMATE, json_text(body.climate))
    room = body.climate.room()
    changed = []
    for record in current.plans().all():
        document = parse_plan(record.document)
        if not (document.room.follows or body.every_plan) or document.room == room:
            continue
        text = plan_json(document.model_copy(update={"room": room}))
        try:
            current.plans().save(record.id, record.revision, record.name, text, "Climate of the room")
        except (StaleRevisionError, UnknownPlanError):
            # Changed or archived meanwhile; it follows when it is next opened or set.
            continue
        changed.append(record.id)
    return ClimateSet(changed=changed)


@operation(
    room_api,
    "PUT",
    "/room/layout",
    request_model=RoomLayout,
    response=RoomLayout,
    problems=(503, 507),
)
def set_layout(body: RoomLayout) -> RoomLayout:
    """Set how the enclosures rack in the room."""
    current.settings().put(LAYOUT, json_text(body))
    return body


@operation(room_api, "POST", "/forecast", request_model=ForecastRequest, response=ForecastResponse)
def find_forecast(body: ForecastRequest) -> ForecastResponse:
    """A plan over the months of its room, and what is due on it."""
    year, waiting = current.forecasts().of(body.document)
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
