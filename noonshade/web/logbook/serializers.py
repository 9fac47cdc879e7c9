"""Entries of the logbook and photographs between stored rows and the interface."""

from __future__ import annotations

from datetime import datetime

from noonshade.store.logbook import EntryRecord, PhotoRecord, utc
from noonshade.web.logbook.schemas import EntryModel, PhotoModel


def photo_model(record: PhotoRecord) -> PhotoModel:
    """A stored photograph."""
    return PhotoModel(id=record.id, width=record.width, height=record.height, caption=record.caption)


def entry_record(entry: EntryModel) -> EntryRecord:
    """An entry as it is stored."""
    return EntryRecord(**entry.model_dump(), at_utc=utc(datetime.fromisoformat(entry.at)))


def entry_model(record: EntryRecord) -> EntryModel:
    """A stored entry for the screen."""
    return EntryModel.model_validate({k: getattr(record, k) for k in EntryModel.model_fields})
