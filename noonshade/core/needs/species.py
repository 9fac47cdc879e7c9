"""Species needs: what sources claim, as ranges with a grade and a source, and what they come to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

PlaceKind = Literal["basking", "warm_end", "cool_end", "uv_refuge", "night", "enclosure"]
Quantity = Literal["surface_temperature", "air_temperature", "uvi", "humidity", "uv_free_share"]
Grade = Literal["published measurement", "published guidance", "keepers' consensus", "estimate"]
GRADES: tuple[Grade, ...] = (
    "published measurement",
    "published guidance",
    "keepers' consensus",
    "estimate",
)
StageId = Literal["adult", "young", "larva"]
STAGES: tuple[StageId, ...] = ("adult", "young", "larva")
# Schools of settling sources that disagree.
School = Literal["overlap", "average", "careful", "home"]
SCHOOLS: tuple[School, ...] = ("overlap", "average", "careful", "home")
Wanted = Literal["needed", "offered", "avoided"]
UvSchool = Literal["sunbeam", "shade", "none"]
Habit = Literal["ground", "climbing", "digging", "half aquatic", "aquatic"]
Active = Literal["day", "night", "twilight"]
Diet = Literal[
    "insects", "plants", "plants and insects", "fruit and insects", "rodents", "water animals", "litter"
]
Group = Literal["lizard", "gecko", "snake", "tortoise", "turtle", "frog", "salamander", "invertebrate"]

# Quantities that are shares, shown as per cent.
SHARES: tuple[Quantity, ...] = ("humidity", "uv_free_share")
# Ranges a claim can be of, per quantity: what lies outside is a slip of unit or of the pen. Estimates.
PLAUSIBLE: dict[Quantity, tuple[float, float]] = {
    "surface_temperature": (0.0, 65.0),
    "air_temperature": (-5.0, 50.0),
    "uvi": (0.0, 12.0),
    "humidity": (0.0, 1.0),
    "uv_free_share": (0.0, 1.0),
}


@dataclass(frozen=True, slots=True)
class Claim:
    """What one source says of one quantity: a range, None leaving a side open.

    In °C for temperatures, UV index for ``uvi``, shares of 0–1 otherwise.
    """

    low: float | None
    high: float | None
    grade: Grade
    source: str


@dataclass(frozen=True, slots=True)
class ClaimedNeed:
    """All claims about one quantity at one kind of place, for one stage or (None) for every stage.

    ``offered`` marks what may be offered but is not required: less than its range is no fault.
    """

    place: PlaceKind
    quantity: Quantity
    claims: tuple[Claim, ...]
    stage: StageId | None = None
    offered: bool = False


@dataclass(frozen=True, slots=True)
class Need:
    """The range a plan is assessed by, settled from the claims.

    ``low`` and ``high`` are in the unit of the claims; None leaves that side open. ``note`` says how
    claims that differ were settled, empty where there is one; ``outliers`` are the numbers of claims
    that meet none of the others.
    """

    place: PlaceKind
    quantity: Quantity
    low: float | None
    high: float | None
    grade: Grade
    source: str
    offered: bool = False
    note: str = ""
    claims: tuple[Claim, ...] = ()
    outliers: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Stage:
    """A stage of life: body length (snout to vent, or shell) and height of the back, m.

    ``habits`` are those of the stage where it differs from the species.
    """

    id: StageId
    body_length_m: float
    back_height_m: float
    habits: tuple[Habit, ...] = ()


@dataclass(frozen=True, slots=True)
class HomeClimate:
    """Climate of a rural place in the range; twelve values each, January first.

    Mean daily minimum and maximum in °C, rain in mm a month, sun in hours a day.
    """

    id: str
    label: str
    latitude_deg: float
    minimum_c: tuple[float, ...]
    maximum_c: tuple[float, ...]
    rain_mm: tuple[float, ...]
    sun_h: tuple[float, ...]
    source: str


@dataclass(frozen=True, slots=True)
class BrumationNeed:
    """A cool rest that healthy animals of the species are commonly given."""

    weeks: float
    low_c: float
    high_c: float
    grade: Grade
    source: str


@dataclass(frozen=True, slots=True)
class EnclosureSize:
    """The least inside size for one adult, m."""

    length_m: float
    depth_m: float
    height_m: float
    grade: Grade
    source: str


@dataclass(frozen=True, slots=True)
class Species:
    """A species as the catalogue or the keeper knows it.

    Air it cannot leave is dangerous to it within the hour below ``lowest_safe_c`` and above
    ``highest_safe_c``. ``heat``, ``uv`` and ``light`` say whether lamps for them are needed, offered or
    avoided; ``uv_school`` how UV is given, with the reason. ``diet`` is what it mostly eats, None if not
    said.
    """

    id: str
    scientific_name: str
    common_names: tuple[str, ...]
    synonyms: tuple[str, ...]
    group: Group
    way_of_life: str
    habits: tuple[Habit, ...]
    active: Active
    exposure_class: int
    exposure_source: str
    uv_school: UvSchool
    uv_reason: str
    heat: Wanted
    uv: Wanted
    light: Wanted
    stages: tuple[Stage, ...]
    needs: tuple[ClaimedNeed, ...]
    enclosure: EnclosureSize
    brumation: BrumationNeed | None
    home: HomeClimate
    hazards: tuple[str, ...]
    lowest_safe_c: float
    highest_safe_c: float
    safe_source: str
    most_uvi: float = 8.0
    size_source: str = "estimate"
    diet: Diet | None = None

    @property
    def common_name(self) -> str:
        """The first of its common names."""
        return self.common_names[0]

    def habits_at(self, stage: StageId) -> tuple[Habit, ...]:
        """Where it lives at a stage: many amphibians live in water first and on land later.

        Parameters
        ----------
        stage : StageId
            Stage of life.

        Returns
        -------
        tuple[Habit, ...]
            Where it lives at a stage.
        """
        return self.stage(stage).habits or self.habits

    @property
    def is_cool_climate(self) -> bool:
        """Whether heat is the danger: it is warm enough in most rooms, and too warm in summer."""
        return self.highest_safe_c <= COOL_CLIMATE_C

    def stage(self, stage: StageId) -> Stage:
        """One stage of life; the adult where there is no other.

        Parameters
        ----------
        stage : StageId
            Stage of life.

        Returns
        -------
        Stage
            One stage of life.
        """
        return next((s for s in self.stages if s.id == stage), self.stages[0])


# Animals that are in danger at this temperature come from cloud forest, streams or cool woods. Estimate.
COOL_CLIMATE_C = 30.0
