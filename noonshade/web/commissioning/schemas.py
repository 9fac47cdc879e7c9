"""Requests and responses of the test before an animal moves in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.readings.commissioning import USUAL_DAYS, State
from noonshade.formats.document import Model
from noonshade.formats.results.models import NeedModel

CommissioningState = Literal["none", "running", "ready", "signed", "reopened"]
Day = Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]


class NeedRead(Model):
    """One need in the test; ``value`` is the figure as read, ``due`` what was changed since."""

    check_id: str
    place_label: str
    need: NeedModel
    state: State
    value: float | None
    days: list[str]
    due: str | None


class Signature(Model):
    """Who signed the enclosure off, when, for which revision, and with which remarks."""

    at: str
    by: str
    remarks: str
    revision: int


class CommissioningTestModel(Model):
    """The test of an enclosure: running, ready to be signed, signed, or open again because of changes."""

    state: CommissioningState
    started_on: str | None
    days: int
    days_read: list[str]
    needs: list[NeedRead]
    not_yet: int
    deviations: int
    signature: Signature | None
    changed: list[str]


class BeginCommissioningTest(Model):
    """From which day on readings count, and on how many days they are taken."""

    started_on: Day
    days: Annotated[int, Field(ge=1, le=60)] = USUAL_DAYS


class SignCommissioningTest(Model):
    """Who signs, and what is to be said of needs that were not read or not met."""

    by: Annotated[str, Field(min_length=1, max_length=80)]
    remarks: Annotated[str, Field(max_length=2000)] = ""
