"""Requests and responses of the lamp register."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.formats.document import Id, Label, Model
from noonshade.web.http.dates import Day


class InstalledLampModel(Model):
    """A lamp as a thing: which kind, since when, and what it had burned before it was registered."""

    id: Id
    label: Label
    lamp_id: Id
    power_w: Annotated[float, Field(gt=0, le=2000)]
    installed_on: Day | None = None
    hours_before: Annotated[float, Field(ge=0, le=100_000)] = 0.0
    retired_on: Day | None = None
    note: Annotated[str, Field(max_length=1000)] = ""


class InstallationModel(Model):
    """Where a lamp hung, from a day to a day, and what it burned there."""

    plan_id: str
    plan_name: str
    fixture_id: str
    fixture_label: str
    began_on: str
    ended_on: str | None
    hours: float


class OutputModel(Model):
    """UV it gives against a lamp of 100 h: most likely, and the middle 80 %."""

    share: float
    low: float
    high: float


class InstalledLampReading(Model):
    """A UV reading of the enclosure a lamp hung in at that time."""

    taken_at: str
    place: str
    uvi: float


class InstalledLampStatus(Model):
    """A lamp, where it hangs and hung, what it gives; ``life_h`` is when such are usually replaced.

    ``plan_hours`` is what the plan it hangs in has for it, null where it hangs in none.
    """

    installed_lamp: InstalledLampModel
    lamp_label: str
    state: Literal["installed", "spare", "retired"]
    hours: float
    hours_a_day: float
    plan_hours: float | None
    life_h: float | None
    output: OutputModel | None
    installations: list[InstallationModel]
    readings: list[InstalledLampReading]


class UnregisteredLampModel(Model):
    """A lamp of a plan that no lamp of the register hangs for."""

    plan_id: str
    plan_name: str
    fixture_id: str
    fixture_label: str
    lamp_id: str
    lamp_label: str
    hours: float


class Register(Model):
    """All lamps, and those of plans that are not registered."""

    installed_lamps: list[InstalledLampStatus]
    unregistered: list[UnregisteredLampModel]


class InstallRequest(Model):
    """Hang a lamp into a fixture of a plan; the lamp there is thrown away, or becomes a spare."""

    plan_id: Id
    fixture_id: Id
    on: Day
    old: Literal["spare", "retired"] = "retired"


class InstalledModel(Model):
    """That a lamp hangs: the plan's new revision, and the needs whose readings are due again."""

    revision: int
    due: Annotated[list[str], Field(description="ids of checks, for a round of readings")]
    readings_due: Annotated[int, Field(description="readings taken before, now out of date")]


class TakeDownRequest(Model):
    """Take a lamp down, to keep it as a spare or for good."""

    on: Day
    retire: bool = False


class RegisterRequest(Model):
    """Register lamps of plans as they hang, with the hours the plans have."""

    on: Day
    plan_ids: Annotated[list[Id], Field(max_length=500)]


class RegisteredModel(Model):
    """Lamps that were registered."""

    made: list[str]


class HoursRequest(Model):
    """Bring the hours of a plan's lamps to those of the register."""

    on: Day


class HoursSet(Model):
    """The plan's revision, and whether anything was changed."""

    revision: int
    changed: bool


class ShortfallModel(Model):
    """When a plan no longer meets its UV need, and the middle 80 %; null: not within three years."""

    check_id: str
    need_low: float
    value: float
    day: str | None
    earliest: str | None
    latest: str | None
    short_now: bool


class LampForecast(Model):
    """A plan's UV to come; null where the animal needs none or no lamp of it ages."""

    shortfall: ShortfallModel | None
