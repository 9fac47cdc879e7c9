"""Species needs: what sources claim, as ranges with a grade and a source, and what they come to."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

# Ground animals are kept by ends, climbers by height (upper, middle, lower), burrowers by depth (burrow),
# water dwellers by water. ``reachable`` is every surface the animal can get to, ``enclosure`` all of it.
PlaceKind = Literal[
    "basking",
    "warm_end",
    "cool_end",
    "upper",
    "middle",
    "lower",
    "burrow",
    "water",
    "uv_refuge",
    "moist_hide",
    "night",
    "reachable",
    "enclosure",
]
Quantity = Literal[
    "surface_temperature",
    "air_temperature",
    "water_temperature",
    "gradient",
    "uvi",
    "humidity",
    "uv_free_share",
]
Grade = Literal["published measurement", "published guidance", "keepers' consensus", "estimate"]
GRADES: tuple[Grade, ...] = (
    "published measurement",
    "published guidance",
    "keepers' consensus",
    "estimate",
)
StageId = Literal["adult", "young", "hatchling", "gravid", "larva", "aquatic", "land"]
STAGES: tuple[StageId, ...] = ("adult", "young", "hatchling", "gravid", "larva", "aquatic", "land")
# Whose needs a stage shares where nothing is stated for it.
STAGE_LIKE: dict[StageId, StageId] = {"hatchling": "young"}
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
CompanyRule = Literal["alone", "pairs", "one male", "females", "groups"]
LayingPlace = Literal["ground", "moist box", "plants", "live young"]
HintKind = Literal["outgrows", "licence", "difficult", "venomous", "long life"]
Group = Literal["lizard", "gecko", "snake", "tortoise", "turtle", "frog", "salamander", "invertebrate"]

# Quantities that are shares, shown as per cent.
SHARES: tuple[Quantity, ...] = ("humidity", "uv_free_share")
# Ranges a claim can be of, per quantity: what lies outside is a slip of unit or of the pen. Estimates.
PLAUSIBLE: dict[Quantity, tuple[float, float]] = {
    "surface_temperature": (0.0, 70.0),
    "air_temperature": (-5.0, 50.0),
    "water_temperature": (0.0, 40.0),
    "gradient": (0.0, 30.0),
    "uvi": (0.0, 12.0),
    "humidity": (0.0, 1.0),
    "uv_free_share": (0.0, 1.0),
}


@dataclass(frozen=True, slots=True)
class Claim:
    """What one source says of one quantity: a range, None leaving a side open.

    In °C for temperatures, UV index for ``uvi``, shares of 0–1 otherwise. ``about`` says what exactly it is
    about, such as "stone under the lamp, adults", empty where the need says it all.
    """

    low: float | None
    high: float | None
    grade: Grade
    source: str
    about: str = ""


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

    @property
    def required(self) -> bool:
        """Whether less than its range is a fault."""
        return not self.offered

    def at(self, place: PlaceKind) -> Need:
        """The same need at another kind of place.

        Parameters
        ----------
        place : PlaceKind
            The place.

        Returns
        -------
        Need
            The need there.
        """
        return replace(self, place=place)


@dataclass(frozen=True, slots=True)
class EnclosureSize:
    """The least inside size for one adult, m."""

    length_m: float
    depth_m: float
    height_m: float
    grade: Grade
    source: str


@dataclass(frozen=True, slots=True)
class Stage:
    """A stage of life: body length (snout to vent, or shell) and height of the back, m.

    ``habits`` are those of the stage where it differs from the species; ``enclosure`` the least for one at
    this stage, None for what follows from its size.
    """

    id: StageId
    body_length_m: float
    back_height_m: float
    habits: tuple[Habit, ...] = ()
    enclosure: EnclosureSize | None = None


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
class Company:
    """Which animals of the species may share an enclosure.

    ``alone``: none; ``pairs``: a pair; ``one male``: a male with females; ``females``: females only;
    ``groups``: several, males too. ``season`` marks a pair that meets in the breeding season only.
    """

    rule: CompanyRule
    grade: Grade
    source: str
    season: bool = False


@dataclass(frozen=True, slots=True)
class Ground:
    """The ground a species needs: least depth for an adult, m, and of what, in words."""

    depth_m: float
    mix: str
    grade: Grade
    source: str


@dataclass(frozen=True, slots=True)
class Laying:
    """Where a gravid female lays: in ground ``depth_m`` deep at least, a moist hide, on plants, or not."""

    place: LayingPlace
    grade: Grade
    source: str
    depth_m: float = 0.0


@dataclass(frozen=True, slots=True)
class Hint:
    """What a beginner should know first: it outgrows homes, needs a licence, is hard to keep."""

    kind: HintKind
    text: str


@dataclass(frozen=True, slots=True)
class Species:
    """A species as the catalogue or the keeper knows it.

    Air it cannot leave is dangerous to it within the hour below ``lowest_safe_c`` and above
    ``highest_safe_c``. ``heat``, ``uv`` and ``light`` say whether lamps for them are needed, offered or
    avoided; ``uv_school`` how UV is given, with the reason. ``diet`` is what it mostly eats, None if not
    said. ``ceiling_c`` is the hottest any surface it can reach may be, None for what follows from its
    basking and its group. ``everyday_names`` are found but not shown as names: short forms, misspellings,
    names it shares. ``company`` says who may live together, ``ground`` what it digs in, ``laying``
    where its females lay; ``likes_contact`` whether it wants a hide that touches its back; ``food`` is a
    sentence beside ``diet``.
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
    most_uvi: float | None = None
    size_source: str = "estimate"
    diet: Diet | None = None
    everyday_names: tuple[str, ...] = ()
    company: Company | None = None
    ground: Ground | None = None
    laying: Laying | None = None
    likes_contact: bool = False
    food: str = ""
    hints: tuple[Hint, ...] = ()
    ceiling_c: float | None = None
    ceiling_source: str = "estimate: the hottest an animal of its group may lie on"

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
    def harmful_uvi(self) -> float:
        """UV index nothing it can reach may have: stated, else by how much sun its kind takes."""
        return HARMFUL_UVI[self.exposure_class] if self.most_uvi is None else self.most_uvi

    @property
    def is_cool_climate(self) -> bool:
        """Whether heat is the danger: it is warm enough in most rooms, and too warm in summer."""
        return self.highest_safe_c <= COOL_CLIMATE_C

    def enclosure_at(self, stage: StageId) -> EnclosureSize:
        """The least enclosure for one animal at a stage of life.

        Parameters
        ----------
        stage : StageId
            Stage of life.

        Returns
        -------
        EnclosureSize
            What is stated for it; else that of the adult, its sides by the root of how long the animal is
            against the adult, none less than ``SMALLEST_SIDE_M``. Estimate: young ones get half the length
            of an adult's enclosure at a quarter of its length.
        """
        life = self.stage(stage)
        if life.enclosure is not None:
            return life.enclosure
        share = min(1.0, math.sqrt(life.body_length_m / self.stages[0].body_length_m))
        grown = self.enclosure

        def scaled(side: float) -> float:
            return max(share * side, min(side, SMALLEST_SIDE_M))

        return EnclosureSize(
            scaled(grown.length_m),
            scaled(grown.depth_m),
            scaled(grown.height_m),
            grown.grade,
            grown.source,
        )

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
        like = STAGE_LIKE.get(stage)
        known = {s.id: s for s in self.stages}
        return known.get(stage) or known.get(like or stage) or self.stages[0]


# UV index that harms animals of each exposure class, 1 to 4, within a day. Estimates: above the highest in
# which such animals were found by choice (Ferguson et al. 2010, Zoo Biology 29:317: 1.4, 3.0, 7.4, 9.5), by
# more where that is little.
HARMFUL_UVI: dict[int, float] = {1: 3.0, 2: 5.0, 3: 9.0, 4: 11.0}
# The shortest side of an enclosure that is scaled down for a small animal, m. Estimate.
SMALLEST_SIDE_M = 0.2
# Animals that are in danger at this temperature come from cloud forest, streams or cool woods. Estimate.
COOL_CLIMATE_C = 30.0
