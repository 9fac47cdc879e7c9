"""The year of an enclosure as part of its plan document, and its way to the core."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from noonshade.core.care.seasonal_settings import ByMonth, CareSetting, MonthSetting, Swap
from noonshade.core.care.year import Brumation, WeekChange, Year
from noonshade.formats.document import Id, Part

WeekNumber = Annotated[int, Field(ge=1, le=52, description="weeks of seven days from 1 January")]
Month = Annotated[int, Field(ge=1, le=12)]
ShiftK = Annotated[float, Field(ge=-25, le=25, description="added to set points, K")]


class BrumationDocument(Part):
    """A cool rest, wound down and up over some weeks before and after."""

    begins_week: WeekNumber
    weeks: Annotated[int, Field(ge=1, le=40)]
    ramp_weeks: Annotated[int, Field(ge=0, le=6)] = 2
    low_c: Annotated[float, Field(ge=-5, le=30)]
    high_c: Annotated[float, Field(ge=-5, le=30)]
    light_h: Annotated[float, Field(ge=0, le=16, description="hours of light, 0: lamps off")] = 0.0

    @model_validator(mode="after")
    def _range(self) -> BrumationDocument:
        if self.low_c >= self.high_c:
            raise ValueError("low_c must be below high_c")
        if self.weeks + 2 * self.ramp_weeks > 52:
            raise ValueError("the rest with its ways in and out is longer than a year")
        return self


class SwapDocument(Part):
    """A bulb of other watts in a fixture from a month to a month, both included."""

    fixture_id: Id
    from_month: Month
    to_month: Month
    power_w: Annotated[float, Field(gt=0, le=2000)]


SetPointC = Annotated[float, Field(ge=0, le=75, description="null: off")]


class MonthSettingDocument(Part):
    """What a thermostat is set to from a month to a month, both included; null is off."""

    thermostat_id: Id
    from_month: Month
    to_month: Month
    day_c: SetPointC | None = None
    night_c: SetPointC | None = None


class CareSettingDocument(Part):
    """How it is sprayed, watered and aired from a month to a month, both included."""

    from_month: Month
    to_month: Month
    misting: Annotated[float, Field(ge=0, le=100, description="share of the plan's litres")] = 1.0
    wetness: Annotated[float, Field(ge=0, le=1, description="of the ground; null: as planned")] | None = (
        None
    )
    vents: Annotated[
        float, Field(ge=0.005, le=200, description="share of the area of the plan's vents that is open")
    ] = 1.0


class WeekDocument(Part):
    """What is set by hand for one week; null as it is computed."""

    week: WeekNumber
    photoperiod_h: Annotated[float, Field(ge=0, le=24)] | None = None
    day_shift_k: ShiftK | None = None
    night_shift_k: ShiftK | None = None
    misting: Annotated[float, Field(ge=0, le=5, description="share of the plan's litres")] | None = None


class YearDocument(Part):
    """How an enclosure goes through the year."""

    days_follow: Annotated[float, Field(ge=0, le=1, description="of the home's day length")] = 1.0
    day_swing_k: Annotated[float, Field(ge=0, le=15, description="cooler in the coolest week")] = 0.0
    night_swing_k: Annotated[float, Field(ge=0, le=15, description="cooler in the coolest week")] = 0.0
    misting_follow: Annotated[float, Field(ge=0, le=1, description="of the home's rain")] = 0.0
    shifted: Annotated[bool, Field(description="the home's seasons come half a year later")] = False
    standard_time: Annotated[bool, Field(description="lamps keep winter time all year")] = False
    brumation: BrumationDocument | None = None
    swaps: Annotated[list[SwapDocument], Field(max_length=20)] = []
    settings: Annotated[list[MonthSettingDocument], Field(max_length=120)] = []
    care: Annotated[list[CareSettingDocument], Field(max_length=12)] = []
    weeks: Annotated[list[WeekDocument], Field(max_length=52)] = []

    @model_validator(mode="after")
    def _once(self) -> YearDocument:
        numbers = [w.week for w in self.weeks]
        if len(set(numbers)) != len(numbers):
            raise ValueError("a week is set twice; each has one entry at most")
        return self


def set_by_month(document: YearDocument | None) -> ByMonth:
    """What a year has set differently in some months; nothing without a year."""
    if document is None:
        return ByMonth()
    return ByMonth(
        tuple(Swap(**s.model_dump()) for s in document.swaps),
        tuple(MonthSetting(**s.model_dump()) for s in document.settings),
        tuple(CareSetting(**s.model_dump()) for s in document.care),
    )


def year_from_document(document: YearDocument) -> Year:
    """The year of a document as the core takes it."""
    by_month = set_by_month(document)
    return Year(
        document.days_follow,
        document.day_swing_k,
        document.night_swing_k,
        document.misting_follow,
        document.shifted,
        None if document.brumation is None else Brumation(**document.brumation.model_dump()),
        by_month.swaps,
        by_month.settings,
        by_month.care,
        tuple(WeekChange(**w.model_dump()) for w in document.weeks),
    )


def year_document(year: Year) -> YearDocument:
    """A year of the core as a document."""
    brumation = year.brumation
    return YearDocument(
        days_follow=year.days_follow,
        day_swing_k=year.day_swing_k,
        night_swing_k=year.night_swing_k,
        misting_follow=year.misting_follow,
        shifted=year.shifted,
        brumation=None
        if brumation is None
        else BrumationDocument(**{k: getattr(brumation, k) for k in BrumationDocument.model_fields}),
        swaps=[SwapDocument(**{k: getattr(s, k) for k in SwapDocument.model_fields}) for s in year.swaps],
        settings=[
            MonthSettingDocument(**{k: getattr(s, k) for k in MonthSettingDocument.model_fields})
            for s in year.settings
        ],
        care=[
            CareSettingDocument(**{k: getattr(s, k) for k in CareSettingDocument.model_fields})
            for s in year.care
        ],
        weeks=[WeekDocument(**{k: getattr(w, k) for k in WeekDocument.model_fields}) for w in year.changes],
    )
