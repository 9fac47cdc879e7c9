"""What stands in an enclosure, by the animal's way of life: basking spot, hides, perches, cover, water,
ground.

How large things are, as multiples of the body, and where they stand, as shares of the enclosure, are rules
of thumb as keepers' guides for each way of life have them: estimates, all of them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from noonshade.core.assessment.reach import LEAST_CLEARANCE_M
from noonshade.core.assessment.shelter import body_width_m, resting_length_m
from noonshade.core.design.habits import is_humid, is_wet
from noonshade.core.design.layouts import BARE, Layout, ground_depth_m, slab_underside_m
from noonshade.core.design.packing import Area, Floor
from noonshade.core.design.shells import EnclosureKind, Size, Stock
from noonshade.core.errors import PlanError
from noonshade.core.plan import (
    Animal,
    Branch,
    Furnishing,
    Hide,
    Leaves,
    Slab,
    Stack,
    Substrate,
    Water,
)

# Air left above whatever an animal stands on, in heights of its back, and below the lid for a lamp, m.
HEADROOM_BACKS = 1.5
# The least height inside a hide, in heights of a back. Estimate.
SNUG_BACKS = 1.15
# Hides and dishes are never smaller than this, nor their walls thicker, m.
LEAST_HIDE_M, HIDE_WALL_M = 0.05, 0.005
WARM_X, COOL_X = 0.22, 0.82
MOST_HIDES = 4
# The height a heater with its guard takes below a closed lid, m. Estimate.
HEATER_TAKES_M = 0.25
# The share of light thickly planted cover lets straight through. Estimate.
DENSE = 0.15


@dataclass(frozen=True, slots=True)
class Furnished:
    """Ground and things of a layout; ``basking_m`` is the middle of the top of the basking spot, m."""

    substrate: Substrate
    furnishings: tuple[Furnishing, ...]
    basking_m: tuple[float, float, float]


class Furnisher:
    """Furnishes one enclosure by one layout."""

    def __init__(
        self, animal: Animal, size: Size, layout: Layout, stock: Stock, kind: EnclosureKind
    ) -> None:
        self.animal, self.size, self.layout, self.stock, self.kind = animal, size, layout, stock, kind
        self.humid, self.wet = is_humid(animal), is_wet(animal)
        self.ground = ground_depth_m(animal, size.height_m, layout.basking == "ground")
        self.clear = size.height_m - self.ground
        self.lies, self.wide = resting_length_m(animal), body_width_m(animal)
        self.floor = Floor(size.length_m, size.depth_m, 0.01 if size.length_m > 0.4 else 0.004)

    def furnish(self) -> Furnished:
        """Everything in its place.

        Returns
        -------
        Furnished
            Ground and things.

        Raises
        ------
        PlanError
            Naming what does not fit.
        """
        if not any(self.lies <= side for side in (self.size.length_m, self.size.depth_m)):
            raise PlanError("/enclosure", f"the animal, lying {_cm(self.lies)} long, does not fit")
        if self.clear < HEADROOM_BACKS * self.animal.back_height_m + 0.04:
            raise PlanError(
                "/enclosure",
                f"above {_cm(self.ground)} of ground an animal {_cm(self.animal.back_height_m)} high has "
                "no room",
            )
        found: list[Furnishing] = []
        basking = self._basking()
        if isinstance(basking, Slab):
            found.append(basking)
            at = (basking.x_m, basking.y_m, self.ground + basking.underside_m + basking.thickness_m)
        else:
            at = basking
        water = self._water()
        found += self._hides()
        if water is not None:
            found.append(water)
        found += self._perches(at) if self.animal.climbs else []
        if self.animal.lives_by_height:
            found += self._foliage()
        elif self.animal.species.group != "tortoise" or self.size.length_m > 0.8:
            found += self._cover()
        if self.layout.shelf:
            found += self._shelf()
        return Furnished(self._substrate(), tuple(found), at)

    def _substrate(self) -> Substrate:
        loose = "forest-soil" if self.humid else "sand-soil"
        if not self.humid and self.animal.species.group == "snake" and not self.animal.digs:
            loose = "wood-shavings"
        return Substrate(self.stock.materials[loose], self.ground, 0.3 if self.humid else 0.0)

    def _basking(self) -> Slab | tuple[float, float, float]:
        """The basking spot: room for the whole animal where it can lie, under a place for a lamp."""
        length, depth = self.size.length_m, self.size.depth_m
        x, y = WARM_X * length, 0.5 * depth
        if self.layout.basking in ("ground", BARE):
            return (round(x, 3), round(y, 3), self.ground)
        assert isinstance(self.layout.basking, float)
        by_height = self.animal.lives_by_height
        thick = 0.02 if min(length, depth) >= 0.35 else 0.01
        if by_height:
            # A ledge to sit on: a climber's body, not room to lie about.
            long, wide = max(0.10, 1.1 * self.lies), max(0.06, 0.5 * self.lies)
        else:
            long, wide = max(0.12, 1.3 * self.lies), max(0.10, 1.12 * self.lies)
        long, wide = min(long, 0.45 * length), min(wide, 0.9 * depth)
        area = Area(max(x, long / 2 + 0.01), y, long, wide)
        if not by_height:
            # Whatever is on the ground gives way to the slab.
            self.floor.taken.append(area)
        material = self.stock.materials["cork" if by_height else "slate"]
        under = max(0.0, round(self.layout.basking * self.clear - (thick if by_height else 0.0), 3))
        headroom = self.clear - thick - HEADROOM_BACKS * self.animal.back_height_m
        under = min(under, round(max(headroom, 0.0), 3))
        label = "Basking ledge" if by_height else "Basking slab"
        slab = Slab("basking", label, *_rounded(area), thick, under, material, basking=True)
        if not by_height and under > 2.5 * slab_underside_m(self.animal):
            # A raised slab stands on a pile of its stone.
            slab = replace(slab, stack=Stack(round(0.6 * long, 3), round(0.6 * wide, 3)))
        return slab

    def _hides(self) -> list[Furnishing]:
        """Tight hides at both ends, a moist one where wanted, more of them for company."""
        animal = self.animal
        needs_ends = (
            not (animal.climbs and "ground" not in animal.habits) and "aquatic" not in animal.habits
        )
        moist = animal.need("moist_hide", "humidity") is not None
        kinds: list[tuple[str, str, float, float, bool]] = []
        if needs_ends:
            kinds += [
                ("cool-hide", "Cool hide", COOL_X, 0.8, False),
                ("warm-hide", "Warm hide", 0.40, 0.8, False),
            ]
        if moist:
            kinds.append(("moist-hide", "Moist hide", 0.62, 0.2, True))
        if not needs_ends and not moist and not animal.lives_by_height:
            kinds.append(("cool-hide", "Cool hide", COOL_X, 0.8, False))
        if needs_ends:
            for i in range(min(animal.count, MOST_HIDES) - 1):
                kinds.append((f"hide-{i + 2}", f"Hide {i + 2}", 0.6 if i % 2 else 0.75, 0.3, False))
        found: list[Furnishing] = []
        for id_, label, x, y, is_moist in kinds:
            hide = self._hide(id_, label, x, y, is_moist)
            if hide is not None:
                found.append(hide)
        return found

    def _hide(self, id_: str, label: str, x: float, y: float, moist: bool) -> Hide | None:
        back = self.animal.back_height_m
        wall = HIDE_WALL_M if self.lies < 0.1 else 0.01
        snug = self.animal.species.likes_contact
        tall = (2.4 if snug else 2.8) * back + wall + 0.004
        tall = round(min(max(tall, 0.025), 0.6 * self.clear), 3)
        if tall - wall < SNUG_BACKS * back:
            # Over deep ground a large animal gets one that just takes it.
            tall = round(min(SNUG_BACKS * back + wall, 0.9 * self.clear), 3)
        if tall - wall < 1.02 * back:
            return None
        long = max(LEAST_HIDE_M, 1.25 * self.lies + 2 * wall)
        wide = max(LEAST_HIDE_M, 0.75 * self.lies + 2 * wall, 2 * self.wide + 2 * wall)
        least = (max(0.04, 0.95 * self.lies + 2 * wall), max(0.035, 0.4 * self.lies + 2 * wall))
        within = {"cool-hide": (0.52, 1.0), "warm-hide": (0.0, 0.5)}.get(id_, (0.0, 1.0))
        wanted = Area(x * self.size.length_m, y * self.size.depth_m, long, wide)
        area = self.floor.place(wanted, least, within)
        if area is None:
            return None
        sx, sy, sl, sw = _rounded(area)
        door = max(1.4 * self.wide, 0.03, 0.35 * self.lies)
        doorway = 1.6 * back + 0.005
        if moist:
            # What stays damp has a small way in.
            door, doorway = max(1.2 * self.wide, 0.03, 0.2 * self.lies), 1.25 * back + 0.003
        door = round(min(door, sl), 3)
        return Hide(
            id_,
            label,
            sx,
            sy,
            sl,
            sw,
            tall,
            wall,
            "front",
            door,
            round(max(min(tall - wall - 0.001, doorway), 1.05 * back), 3),
            self.stock.materials["cork"],
            moist,
        )

    def _perches(self, at: tuple[float, float, float]) -> list[Furnishing]:
        """Branches from the ground at the cool end up to the basking spot, and across at two heights."""
        length, depth = self.size.length_m, self.size.depth_m
        wood = self.stock.materials["hardwood"]
        snake = self.animal.species.group == "snake"
        thick = round(min(max(0.008, (1.0 if snake else 0.9) * self.wide), 0.08), 3)
        z, top = self.ground, self.size.height_m - HEADROOM_BACKS * self.animal.back_height_m - thick

        def height(share: float) -> float:
            return round(min(max(z + share * self.clear, z + thick / 2 + 0.002), max(top, z + thick)), 3)

        if not self.animal.lives_by_height:
            # One low branch over the cool half: to climb on, clear of the lamp.
            return [
                Branch(
                    "branch",
                    "Branch",
                    (round(0.50 * length, 3), round(0.30 * depth, 3), height(0.10)),
                    (round(0.94 * length, 3), round(0.55 * depth, 3), height(0.45)),
                    thick,
                    wood,
                )
            ]
        share = max((at[2] - z) / self.clear, 0.2)
        return [
            Branch(
                "climbing-branch",
                "Climbing branch",
                (round(0.88 * length, 3), round(0.40 * depth, 3), height(0.06)),
                (round(0.42 * length, 3), round(0.45 * depth, 3), height(share - 0.04)),
                thick,
                wood,
            ),
            Branch(
                "middle-branch",
                "Middle branch",
                (round(0.12 * length, 3), round(0.72 * depth, 3), height(0.42)),
                (round(0.93 * length, 3), round(0.62 * depth, 3), height(0.52)),
                thick,
                wood,
            ),
            Branch(
                "low-branch",
                "Low branch",
                (round(0.10 * length, 3), round(0.28 * depth, 3), height(0.20)),
                (round(0.90 * length, 3), round(0.28 * depth, 3), height(0.26)),
                thick,
                wood,
            ),
            Branch(
                "upper-branch",
                "Upper branch",
                (round(0.40 * length, 3), round(0.66 * depth, 3), height(share)),
                (round(0.92 * length, 3), round(0.40 * depth, 3), height(min(share, 0.74))),
                thick,
                wood,
            ),
        ]

    def _foliage(self) -> list[Furnishing]:
        """Leaves over the cool side, in two storeys: cover, shade and water to lick."""
        length, depth = self.size.length_m, self.size.depth_m
        leaf = self.stock.materials["foliage"]
        tall = round(0.26 * self.clear, 3)
        high = 0.50
        if self.kind in ("timber", "pvc"):
            # Below a low closed lid they leave room for a heater.
            high = max(0.20, min(high, 1.0 - HEATER_TAKES_M / self.clear - 0.26))
        place = (
            round(0.71 * length, 3),
            round(0.5 * depth, 3),
            round(0.52 * length, 3),
            round(0.9 * depth, 3),
        )
        return [
            Leaves("leaves", "Leaves", *place, tall, round(high * self.clear, 3), DENSE, leaf),
            Leaves("low-leaves", "Low leaves", *place, tall, round(0.10 * self.clear, 3), DENSE, leaf),
        ]

    def _cover(self) -> list[Furnishing]:
        """A plant or a heap of cork between the ends: no open ground to cross."""
        length, depth = self.size.length_m, self.size.depth_m
        leaf = self.stock.materials["foliage"]
        wanted = Area(0.58 * length, 0.5 * depth, 0.18 * length, 0.4 * depth)
        area = self.floor.place(wanted, (0.06 * length, 0.15 * depth), (0.3, 0.95))
        if area is None:
            return []
        tall = round(min(max(0.05, 2.5 * self.animal.back_height_m), 0.3, 0.4 * self.clear), 3)
        return [Leaves("cover", "Cover", *_rounded(area), tall, 0.0, 0.3, leaf)]

    def _shelf(self) -> list[Furnishing]:
        """A shelf over the cool end: shade that is dark in UV, and a second level."""
        length, depth = self.size.length_m, self.size.depth_m
        long, wide, thick = 0.34 * length, 0.85 * depth, 0.015
        # Low, so that it is dark below.
        under = max(0.16 * self.clear, 2.5 * self.animal.back_height_m, 0.05)
        if under + thick + HEADROOM_BACKS * self.animal.back_height_m > self.clear:
            return []
        bark = self.stock.materials["cork"]
        # Half a millimetre of rounding must not push it through the wall.
        area = Area(length - long / 2 - 1e-3, depth - wide / 2 - 1e-3, long, wide)
        return [Slab("shade-shelf", "Shade shelf", *_rounded(area), thick, round(under, 3), bark)]

    def _water(self) -> Water | None:
        length, depth = self.size.length_m, self.size.depth_m
        clay = self.stock.materials["clay-tile"]
        if "aquatic" in self.animal.habits:
            long, wide = 0.5 * length - 0.02, depth - 0.02
            deep = min(max(0.06, 2.0 * self.animal.back_height_m), 0.6 * self.clear, 0.4)
            area = Area(length - long / 2 - 0.01, depth / 2, long, wide)
        elif self.wet:
            long, wide = 0.38 * length, 0.85 * depth
            deep = min(max(0.04, 1.2 * self.animal.back_height_m), 0.35 * self.clear, 0.2)
            area = Area(length - long / 2 - 0.01, depth / 2, long, wide)
        else:
            side = min(max(0.05, 0.5 * self.lies), 0.25 * length, 0.4)
            deep = min(max(0.01, 0.3 * self.animal.back_height_m), 0.04, 0.3 * self.clear)
            wanted = Area(0.88 * length, 0.18 * depth, side, 0.8 * side)
            placed = self.floor.place(wanted, (0.03, 0.03), (0.4, 1.0))
            if placed is None:
                return None
            return Water("water", "Water", *_rounded(placed), round(deep, 3), clay)
        self.floor.taken.append(area)
        return Water("water", "Pool", *_rounded(area), round(deep, 3), clay)


def least_clearance_m(animal: Animal) -> float:
    """How far a bare lamp hangs above what the animal stands on, at the least, m."""
    return LEAST_CLEARANCE_M + 0.02 + math.ceil(10 * animal.back_height_m) / 100


def _rounded(area: Area) -> tuple[float, float, float, float]:
    return (
        round(area.x_m, 3),
        round(area.y_m, 3),
        # Half of it is whole millimetres too, so that rounding pushes nothing through a wall.
        math.floor(area.length_m * 500) / 500,
        math.floor(area.width_m * 500) / 500,
    )


def _cm(metres: float) -> str:
    return f"{100 * metres:.3g} cm"
