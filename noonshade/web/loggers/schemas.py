"""Requests and responses of loggers, their files and the devices that post for them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from noonshade.formats.document import Id, Label, Model
from noonshade.formats.plan_document import PointDocument
from noonshade.web.http.dates import RecordedAt


class MappingModel(Model):
    """How a logger's file is read; columns count from 0, null for none."""

    delimiter: Annotated[str, Field(pattern=r"^[;,\t|]$")]
    decimal: Literal[".", ","]
    first_row: Annotated[int, Field(ge=0, le=10_000, description="lines above the first row")]
    time: Annotated[int, Field(ge=0, le=200)]
    clock: Annotated[int | None, Field(ge=0, le=200, description="time of day in a separate column")]
    order: Literal["ymd", "dmy", "mdy"]
    zone: Annotated[str, Field(min_length=1, max_length=60, description="of times without an offset")]
    temperature: Annotated[int | None, Field(ge=0, le=200)]
    unit: Literal["C", "F"]
    humidity: Annotated[int | None, Field(ge=0, le=200)]


class PutLogger(Model):
    """A logger in an enclosure: where it lies, and the time zone its days are counted in."""

    id: Id
    label: Label
    place: Annotated[str, Field(max_length=120)]
    at_m: PointDocument
    zone: Annotated[str, Field(min_length=1, max_length=60)]


class ImportModel(Model):
    """A file that was taken in."""

    id: str
    name: str
    stored: int
    repeated: int
    refused: int
    taken_at: str


class LoggedDayModel(Model):
    """One day of a logger; temperatures in °C, humidity as a share, ``warm`` of 11 to 16 o'clock."""

    day: str
    rows: int
    whole: bool
    lowest_c: float | None
    highest_c: float | None
    warm_c: float | None
    warm_humidity: float | None
    lowest_humidity: float | None
    highest_humidity: float | None


class LoggerModel(Model):
    """A logger with its files and its last days, the newest first."""

    id: str
    plan_id: str
    label: str
    place: str
    at_m: PointDocument
    zone: str
    newest: str | None
    imports: list[ImportModel]
    days: list[LoggedDayModel]


class LoggerList(Model):
    """Loggers of an enclosure."""

    loggers: list[LoggerModel]


class PreviewRequest(Model):
    """A file to look at; without a mapping one is guessed, that of the logger's last file first."""

    text: str
    zone: Annotated[str, Field(min_length=1, max_length=60)]
    mapping: MappingModel | None = None


class PreviewRow(Model):
    """A row as it would be stored."""

    line: int
    at: str
    temperature_c: float | None
    relative_humidity: float | None


class RefusedRowModel(Model):
    """A row that cannot be read, and why."""

    line: int
    text: str
    reason: str


class GapModel(Model):
    """A time in which nothing was recorded."""

    begin: str
    end: str


class PreviewResponse(Model):
    """What would be taken in; at most some rows of each kind, with their counts."""

    mapping: MappingModel
    remembered: bool
    titles: list[str]
    doubts: list[str]
    rows: list[PreviewRow]
    row_count: int
    known: Annotated[int, Field(description="rows that are stored already")]
    refused: list[RefusedRowModel]
    refused_count: int
    skipped: int
    gaps: list[GapModel]
    gap_count: int


class ImportRequest(Model):
    """A file to take in by a mapping: ``whole`` refuses all of it if one row cannot be read."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    text: str
    mapping: MappingModel
    whole: bool = False


class ImportResponse(Model):
    """What was taken in, and the first rows that were not."""

    taken: ImportModel
    refused: list[RefusedRowModel]


class DeviceReading(Model):
    """What a device recorded at a time."""

    at: RecordedAt
    temperature_c: Annotated[float | None, Field(ge=-40, le=90)] = None
    humidity_percent: Annotated[float | None, Field(ge=0, le=100)] = None


class DevicePost(Model):
    """Readings of a device."""

    readings: Annotated[list[dict[str, object]], Field(min_length=1, max_length=5000)]


class DeviceRefused(Model):
    """A reading of a device that was not stored: its number from 0, and why."""

    number: int
    reason: str


class DeviceAnswer(Model):
    """What became of a device's readings."""

    stored: int
    repeated: int
    refused: list[DeviceRefused]


class KeyModel(Model):
    """A key for a device; it is shown once."""

    key: str


def shown(moment: datetime) -> str:
    """A time as it is written in answers."""
    return moment.isoformat(timespec="seconds")
