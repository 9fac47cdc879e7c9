"""Sightings of the animal as the interface has them."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from noonshade.core.readings.behaviour import HintId, SightingKind
from noonshade.formats.document import Id, Model
from noonshade.formats.plan_document import PointDocument
from noonshade.web.http.dates import RecordedAt


class SightingModel(Model):
    """One sighting: minutes basking in the hour, or where it sat; its id is made where it was seen."""

    id: Id
    kind: SightingKind
    at: RecordedAt
    minutes: Annotated[float, Field(ge=0, le=60)] | None = None
    at_m: PointDocument | None = None
    note: Annotated[str, Field(max_length=500)] = ""

    @model_validator(mode="after")
    def _whole(self) -> SightingModel:
        if self.kind == "basking" and self.minutes is None:
            raise ValueError("minutes basking in the hour, 0 to 60, are needed")
        if self.kind == "seat" and self.at_m is None:
            raise ValueError("the place it sat at is needed")
        return self


class SeenModel(Model):
    """A sighting with the place it was at, and what is predicted there for that hour."""

    sighting: SightingModel
    place_label: str | None
    air_c: float | None
    surface_c: float | None
    uvi: float | None


class HintModel(Model):
    """What the sightings may mean."""

    id: HintId
    text: str


class BehaviourModel(Model):
    """Sightings, earliest first, and what they may mean."""

    seen: list[SeenModel]
    hints: list[HintModel]
