"""The timeline of an enclosure as the interface has it."""

from __future__ import annotations

from noonshade.formats.document import Model
from noonshade.services.timeline import Lane
from noonshade.web.logbook.schemas import EntryKind


class EventModel(Model):
    """Something that happened: where it is drawn, and in words.

    ``entry_kind`` is of an entry of the logbook; ``count`` how many of its kind that day.
    """

    at: str
    lane: Lane
    text: str
    entry_kind: EntryKind | None = None
    entry_id: str | None = None
    worry: bool = False
    count: int = 1


class TimelineModel(Model):
    """Everything that happened to an enclosure, earliest first."""

    events: list[EventModel]
