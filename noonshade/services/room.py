"""The room as a whole: its climate by month, and how its racks are arranged."""

from __future__ import annotations

from datetime import datetime, timedelta

from noonshade.formats.document import json_text
from noonshade.formats.plan_document import parse_plan, plan_json
from noonshade.formats.room_document import RoomClimateSettings, RoomLayout, parse_room_layout
from noonshade.services.application import Services
from noonshade.store.loggers import LoggedRecord, LoggerRecord

# A reading older than this says nothing of how it is now: most devices post at least every hour. Estimate.
LIVE_WITHIN = timedelta(hours=3)
# Clocks of devices differ a little from the server's.
CLOCKS_DIFFER = timedelta(minutes=5)
CLIMATE, LAYOUT = "room-climate", "room-layout"


def room_climate(services: Services) -> RoomClimateSettings | None:
    """The climate of the room, None where it was never set."""
    text = services.settings.get(CLIMATE)
    return None if text is None else RoomClimateSettings.model_validate_json(text)


def live_readings(services: Services, now: datetime) -> list[tuple[LoggerRecord, LoggedRecord]]:
    """What the loggers of all enclosures last read, as far as it is recent."""
    return services.loggers.latest(now - LIVE_WITHIN, now + CLOCKS_DIFFER)


def room_layout(services: Services) -> RoomLayout:
    """The racks of the room; none where they were never set."""
    text = services.settings.get(LAYOUT)
    return RoomLayout() if text is None else parse_room_layout(text)


def set_room_layout(services: Services, layout: RoomLayout) -> None:
    """Store the racks of the room."""
    services.write(services.settings.put, LAYOUT, json_text(layout))


def set_room_climate(services: Services, climate: RoomClimateSettings, every_plan: bool) -> list[str]:
    """Store the climate, with a revision of every plan that follows it, or of every plan.

    Returns the ids of the plans that changed. All of it is stored, or nothing.
    """
    room, changed = climate.room(), []
    with services.database.transaction() as transaction:
        services.settings.put(transaction, CLIMATE, json_text(climate))
        for record in services.plans.all(transaction):
            document = parse_plan(record.document)
            if not (document.room.follows or every_plan) or document.room == room:
                continue
            text = plan_json(document.model_copy(update={"room": room}))
            services.plans.save(
                transaction, record.id, record.revision, record.name, text, "Climate of the room"
            )
            changed.append(record.id)
    return changed
