"""Where a design is to go, and heaters at their places in it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from noonshade.core.design.brief import Brief
from noonshade.core.design.furnishing import Furnished
from noonshade.core.design.layouts import Layout
from noonshade.core.design.shells import LAMP_LID, OPEN_LID, EnclosureKind, Size, Stock
from noonshade.core.plan import Animal, Lamp, Mount, Point

# Lamps that hold mercury: discharge lamps, fluorescent ones among them.
MERCURY_KINDS = ("mercury vapour", "metal halide", "tube", "compact")


@dataclass(frozen=True, slots=True)
class HeaterChoice:
    """A kind of heater at its places, its watts open; all of them share them.

    ``mounts`` is how each is mounted where they differ.
    """

    lamp: Lamp
    positions: tuple[Point, ...]
    mount: Mount
    guard: bool = False
    mounts: tuple[Mount, ...] = ()

    def mount_of(self, number: int) -> Mount:
        """How one of them is mounted.

        Parameters
        ----------
        number : int
            Which, from 0.

        Returns
        -------
        Mount
            Its own, or that of all.
        """
        return self.mounts[number] if self.mounts else self.mount

    @property
    def most_w(self) -> float:
        """Watts of all together at most, as they are sold."""
        return max(self.lamp.power_choices_w) * len(self.positions)


@dataclass(frozen=True, slots=True)
class Site:
    """Where heaters are to go: the animal, the enclosure's sizes and kind, and what stands in it."""

    animal: Animal
    size: Size
    kind: EnclosureKind
    layout: Layout
    furnished: Furnished
    stock: Stock
    brief: Brief
    lid_share: float = 1.0
    unusual: int = 0

    @property
    def closed(self) -> bool:
        """Whether the lid is a sheet, so that lamps hang below it."""
        return self.kind in ("timber", "pvc")

    @property
    def shines_through(self) -> bool:
        """Whether lamps over the basking spot shine in: not where its part of the lid is covered."""
        return self.kind != "glass" or self.lid_share >= LAMP_LID

    @property
    def burns(self) -> bool:
        """Whether the walls can burn or melt."""
        return self.kind in ("timber", "pvc", "table")

    @property
    def open_lid(self) -> tuple[float, float, float, float]:
        """What of the lid is mesh or open: from and to along the length and the depth, m."""
        length, depth = self.size.length_m, self.size.depth_m
        if self.kind != "glass" or self.lid_share >= OPEN_LID:
            return 0.0, length, 0.0, depth
        if self.lid_share >= LAMP_LID:
            return 0.0, self.lid_share * length, 0.0, depth
        return 0.0, length, (1.0 - self.lid_share) * depth, depth

    def allows(self, lamp_id: str) -> bool:
        """Whether the keeper lets a lamp be used.

        Parameters
        ----------
        lamp_id : str
            Id of a lamp.

        Returns
        -------
        bool
            By what is never to be used.
        """
        lamp = self.stock.lamps.get(lamp_id)
        if lamp is None:
            return False
        never = self.brief.never
        if "mats" in never and lamp.kind == "mat":
            return False
        if "mercury" in never and lamp.kind in MERCURY_KINDS:
            return False
        return not ("ceramics" in never and lamp_id.startswith("ceramic"))

    def owns(self, lamp_id: str, count: int = 1) -> bool:
        """Whether so many of a lamp lie ready.

        Parameters
        ----------
        lamp_id : str
            Id of a lamp.
        count : int
            How many are wanted.

        Returns
        -------
        bool
            By what the keeper owns.
        """
        return self.brief.owned.get(lamp_id, 0) >= count

    def owned_first(self, choices: Iterable[HeaterChoice]) -> list[HeaterChoice]:
        """Choices in their order, those that lie ready before others.

        Parameters
        ----------
        choices : Iterable[HeaterChoice]
            Kinds of heater.

        Returns
        -------
        list[HeaterChoice]
            All of them.
        """
        return sorted(choices, key=lambda c: not self.owns(c.lamp.id, len(c.positions)))
