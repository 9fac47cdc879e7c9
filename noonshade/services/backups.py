"""When backups are made by themselves, and how many stay."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, ValidationError

from noonshade.formats.document import Part, json_text
from noonshade.services.application import Services
from noonshade.store.backups import Policy
from noonshade.store.settings import SettingsStore

SCHEDULE = "backup-schedule"
# Larger ones are restored in a terminal.
LARGEST_ARCHIVE = 256_000_000


class BackupSchedule(Part):
    """How often a backup is made by itself, and how many stay: the newest, and one a week and a month."""

    every: Literal["off", "day", "week"] = "day"
    newest: Annotated[int, Field(ge=1, le=60)] = 7
    weeks: Annotated[int, Field(ge=0, le=60)] = 4
    months: Annotated[int, Field(ge=0, le=120)] = 12


def backup_policy(settings: SettingsStore) -> Policy:
    """The schedule that was set, or the default where there is none or it cannot be read."""
    text = settings.get(SCHEDULE)
    try:
        schedule = BackupSchedule() if text is None else BackupSchedule.model_validate_json(text)
    except ValidationError:
        schedule = BackupSchedule()
    return Policy(schedule.every, schedule.newest, schedule.weeks, schedule.months)


def set_backup_schedule(services: Services, schedule: BackupSchedule) -> None:
    """Store a schedule."""
    services.write(services.settings.put, SCHEDULE, json_text(schedule))
