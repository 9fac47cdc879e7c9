"""The room as a whole: its climate by month, and how the boxes stand in it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from noonshade.formats.document import Id, Label, Part
from noonshade.formats.plan_document import RoomClimateDocument, RoomDocument

MONTHS = 12


class RoomClimateSettings(Part):
    """Highest by day, lowest by night and humidity of each month, and what electricity costs.

    ``month`` is the month plans are judged in now, 1 to 12.
    """

    months: Annotated[list[RoomClimateDocument], Field(min_length=MONTHS, max_length=MONTHS)]
    month: Annotated[int, Field(ge=1, le=MONTHS)]
    tariff_per_kwh: Annotated[float, Field(ge=0, le=1000)] = 0.30

    def room(self) -> RoomDocument:
        """The room of a plan that follows it: the month, and the coldest and warmest of the year."""
        now = self.months[self.month - 1]
        cold = min(self.months, key=lambda m: m.day_temperature_c + m.night_temperature_c)
        warm = max(self.months, key=lambda m: m.day_temperature_c + m.night_temperature_c)
        return RoomDocument(
            day_temperature_c=now.day_temperature_c,
            night_temperature_c=now.night_temperature_c,
            relative_humidity=now.relative_humidity,
            winter=cold,
            summer=warm,
            tariff_per_kwh=self.tariff_per_kwh,
            months=self.months,
            follows=True,
        )


class StandDocument(Part):
    """One stand or rack: its shelves from the bottom up, each with boxes from left to right."""

    id: Id
    label: Label
    shelves: Annotated[
        list[Annotated[list[Annotated[str, Field(max_length=64)]], Field(max_length=20)]],
        Field(min_length=1, max_length=12),
    ]


class RoomLayout(Part):
    """Every stand of the room from left to right; a box stands in at most one place."""

    format: Literal["noonshade-room"] = "noonshade-room"
    version: Literal[1] = 1
    stands: Annotated[list[StandDocument], Field(max_length=20)] = []

    @model_validator(mode="after")
    def _once(self) -> RoomLayout:
        placed = [box for stand in self.stands for shelf in stand.shelves for box in shelf]
        twice = sorted({box for box in placed if placed.count(box) > 1})
        if twice:
            raise ValueError(f"{', '.join(twice)} stands in more than one place; a box has one place only")
        ids = [stand.id for stand in self.stands]
        if len(set(ids)) != len(ids):
            raise ValueError("two stands have the same id; each needs its own")
        return self
