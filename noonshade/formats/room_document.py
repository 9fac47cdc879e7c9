"""The room as a whole: its climate by month, and how the enclosures are arranged in it."""

from __future__ import annotations

import json
from typing import Annotated, Literal

from pydantic import Field, model_validator

from noonshade.formats.document import Id, Label, Part
from noonshade.formats.plan_document import RoomClimateDocument, RoomDocument
from noonshade.formats.versions import ROOM_LAYOUT_UPGRADES, upgraded

MONTHS = 12


class RoomClimateSettings(Part):
    """Highest by day, lowest by night and humidity of each month, and what electricity costs.

    ``month`` is the month plans are assessed in now, 1 to 12.
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


class RackDocument(Part):
    """One rack: its shelves from the bottom up, each with enclosures from left to right."""

    id: Id
    label: Label
    shelves: Annotated[
        list[Annotated[list[Annotated[str, Field(max_length=64)]], Field(max_length=20)]],
        Field(min_length=1, max_length=12),
    ]


class RoomLayout(Part):
    """Every rack of the room from left to right; each enclosure has at most one place."""

    format: Literal["noonshade-room"] = "noonshade-room"
    version: Literal[2] = 2
    racks: Annotated[list[RackDocument], Field(max_length=20)] = []

    @model_validator(mode="after")
    def _once(self) -> RoomLayout:
        placed = [enclosure for rack in self.racks for shelf in rack.shelves for enclosure in shelf]
        twice = sorted({enclosure for enclosure in placed if placed.count(enclosure) > 1})
        if twice:
            raise ValueError(f"{', '.join(twice)} has more than one place; an enclosure has one place only")
        ids = [rack.id for rack in self.racks]
        if len(set(ids)) != len(ids):
            raise ValueError("two racks have the same id; each needs its own")
        return self


def parse_room_layout(text: str) -> RoomLayout:
    """Read a stored room layout, of this version or an older one."""
    return RoomLayout.model_validate(upgraded(json.loads(text), ROOM_LAYOUT_UPGRADES))
