"""The whole plan: who lives there, in what."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from noonshade.core.needs.derived import lives_by_height, stage_needs
from noonshade.core.needs.species import Habit, Laying, Need, PlaceKind, Quantity, School, Species, StageId
from noonshade.core.plan.enclosure import Enclosure
from noonshade.core.plan.equipment import ColdPack, Fan, Fixture, Misting, Thermostat
from noonshade.core.plan.furnishings import Furnishing, Hide, Slab, Water
from noonshade.core.plan.ground import Substrate
from noonshade.core.plan.room import Room

Sex = Literal["male", "female", "unknown"]


@dataclass(frozen=True, slots=True)
class Member:
    """One of the animals that share an enclosure: its name, sex and length (snout to vent, m) if known."""

    name: str
    sex: Sex = "unknown"
    body_length_m: float | None = None


@dataclass(frozen=True, slots=True)
class Animal:
    """Who lives there: species, body length (snout to vent) and height of the back, in metres.

    ``count`` animals share the enclosure; ``members`` are those of them that are known. ``school`` says how
    sources that disagree are settled; with ``low_pigment`` (or hurt eyes or skin) the UV wanted is halved.
    """

    species: Species
    body_length_m: float
    back_height_m: float
    stage: StageId = "adult"
    count: int = 1
    school: School = "overlap"
    low_pigment: bool = False
    members: tuple[Member, ...] = ()

    @property
    def habits(self) -> tuple[Habit, ...]:
        """Where it lives at its stage of life."""
        return self.species.habits_at(self.stage)

    @property
    def digs(self) -> bool:
        """Whether it digs itself in."""
        return "digging" in self.habits

    @property
    def climbs(self) -> bool:
        """Whether it climbs."""
        return "climbing" in self.habits

    @property
    def harmful_uvi(self) -> float:
        """UV index that harms it within the day: by its species, half for low pigment or hurt eyes."""
        return self.species.harmful_uvi * (0.5 if self.low_pigment else 1.0)

    @property
    def lives_by_height(self) -> bool:
        """Whether it chooses its warmth by height, as climbers do that stay off the ground."""
        return lives_by_height(self.habits)

    @property
    def warm_place(self) -> PlaceKind:
        """Where its air is to be warm: the warm end, or the upper perches."""
        return "upper" if self.lives_by_height else "warm_end"

    @property
    def cool_place(self) -> PlaceKind:
        """Where its air is to be cool: the cool end, or the lower perches and the ground."""
        return "lower" if self.lives_by_height else "cool_end"

    @property
    def laying(self) -> Laying | None:
        """Where she lays; None if it is no gravid female."""
        return self.species.laying if self.stage == "gravid" else None

    @property
    def needs(self) -> tuple[Need, ...]:
        """The needs of this animal at its stage of life, at the places it lives by."""
        return stage_needs(self.species, self.stage, self.school, self.low_pigment)

    def need(self, place: PlaceKind, quantity: Quantity) -> Need | None:
        """Its need of one quantity at one kind of place, if it has one.

        Parameters
        ----------
        place : PlaceKind
            The place.
        quantity : Quantity
            Which quantity.

        Returns
        -------
        Need | None
            The need, or None.
        """
        return next((n for n in self.needs if n.place == place and n.quantity == quantity), None)


@dataclass(frozen=True, slots=True)
class Measured:
    """What readings say of this enclosure: on which day, and what is known of its multipliers since.

    ``covariance`` is of the multipliers named by ``ids``, row by row; ``measured_checks`` are the places
    and quantities that were read, as ``place:quantity``.
    """

    on: str
    ids: tuple[str, ...]
    covariance: tuple[tuple[float, ...], ...]
    measured_checks: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Plan:
    """One enclosure with everything in it.

    ``photoperiod_h`` is how long the day's lamps are on, around noon; ``fog_per_m`` how much fog dims
    light by day, as the attenuation per metre of Beer and Lambert, and ``fog_kg_h`` how much water it
    brings. ``measured`` is set where values in it come from readings.
    """

    name: str
    animal: Animal
    room: Room
    enclosure: Enclosure
    substrate: Substrate
    furnishings: tuple[Furnishing, ...]
    fixtures: tuple[Fixture, ...]
    thermostats: tuple[Thermostat, ...]
    photoperiod_h: float = 12.0
    fog_per_m: float = 0.0
    fog_kg_h: float = 0.0
    mistings: tuple[Misting, ...] = ()
    fans: tuple[Fan, ...] = ()
    cold_packs: tuple[ColdPack, ...] = ()
    measured: Measured | None = None

    @property
    def dawn(self) -> float:
        """Hour at which the day's lamps come on."""
        return 12.0 - self.photoperiod_h / 2.0

    @property
    def dusk(self) -> float:
        """Hour at which they go off."""
        return 12.0 + self.photoperiod_h / 2.0

    @property
    def waters(self) -> tuple[Water, ...]:
        """Dishes and pools, in plan order."""
        return tuple(f for f in self.furnishings if isinstance(f, Water))

    @property
    def basking_slab(self) -> Slab | None:
        """The first slab marked as basking spot, if the plan has one."""
        return next(iter(self.basking_slabs), None)

    @property
    def basking_slabs(self) -> tuple[Slab, ...]:
        """Slabs marked as basking spots, in plan order."""
        return tuple(f for f in self.furnishings if isinstance(f, Slab) and f.basking)

    @property
    def hides(self) -> tuple[Hide, ...]:
        """All hollow hides, in plan order."""
        return tuple(f for f in self.furnishings if isinstance(f, Hide))

    def top_of(self, slab: Slab) -> float:
        """Height of a slab's upper face above the enclosure floor, m.

        Parameters
        ----------
        slab : Slab
            The slab.

        Returns
        -------
        float
            The height, m.
        """
        return self.substrate.depth_m + slab.underside_m + slab.thickness_m
