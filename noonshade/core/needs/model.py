"""Species needs as ranges with a grade and a source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

PlaceKind = Literal["basking", "warm_end", "cool_end", "retreat", "night"]
Quantity = Literal["surface_temperature", "air_temperature", "uvi"]
Grade = Literal["published measurement", "published guidance", "keepers' consensus", "estimate"]


@dataclass(frozen=True, slots=True)
class Need:
    """The range wanted for one quantity at one kind of place.

    ``low`` and ``high`` are in °C for temperatures and UV index for ``uvi``; None leaves that
    side open.
    """

    place: PlaceKind
    quantity: Quantity
    low: float | None
    high: float | None
    grade: Grade
    source: str


@dataclass(frozen=True, slots=True)
class Species:
    """A species as the catalogue knows it.

    Air it cannot leave is dangerous to it within the hour below ``lowest_safe_c`` and above
    ``highest_safe_c``.
    """

    id: str
    scientific_name: str
    common_name: str
    way_of_life: str
    exposure_class: int
    exposure_source: str
    body_length_m: float
    back_height_m: float
    needs: tuple[Need, ...]
    lowest_safe_c: float
    highest_safe_c: float
    safe_source: str
