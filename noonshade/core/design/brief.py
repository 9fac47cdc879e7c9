"""What a keeper asks a design for, and what it must leave alone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from noonshade.core.design.shells import EnclosureKind, Size
from noonshade.core.needs.species import School, Species, StageId
from noonshade.core.plan import Animal, Plan, Room

Never = Literal["night_light", "mats", "mercury", "ceramics", "misting"]
Scope = Literal["equipment", "heating", "light"]


@dataclass(frozen=True, slots=True)
class Brief:
    """An animal, the room it is to live in, and the keeper's wishes.

    ``size`` and ``kind`` are those of an enclosure the keeper has or wants, None to choose them. ``owned``
    says how many of a lamp (by its id) lie ready, which go first; ``never`` what is not to be used; with
    the same ``seed`` the same set-ups are found. ``given`` is a plan whose walls and things stay: ``scope``
    says whether its heating, its light or both are chosen anew, ``locked`` which lamps stay too.
    ``budget`` is what lamps, heaters and thermostats may cost to buy, None for no limit.
    """

    species: Species
    room: Room
    stage: StageId = "adult"
    count: int = 1
    size: Size | None = None
    kind: EnclosureKind | None = None
    name: str = ""
    school: School = "overlap"
    owned: Mapping[str, int] = field(default_factory=dict)
    never: tuple[Never, ...] = ()
    given: Plan | None = None
    scope: Scope = "equipment"
    locked: frozenset[str] = frozenset()
    seed: int = 0
    budget: float | None = None

    @property
    def animal(self) -> Animal:
        """So many animals of the usual size of the stage; those of the plan where one is given."""
        if self.given is not None:
            return self.given.animal
        life = self.species.stage(self.stage)
        return Animal(
            self.species, life.body_length_m, life.back_height_m, life.id, self.count, self.school
        )
