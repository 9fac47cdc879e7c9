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

# Depth of the ground by way of life where the species says nothing, m, and the share of the height it may
# take.
GROUND_M = {"digging": 0.12, "ground": 0.05, "climbing": 0.04}
GROUND_SHARE, GROUND_SHARE_DUG = 0.3, 0.72
# A mat warms through ground up to this deep, m.
MAT_GROUND_M = 0.02
# The cool end's least humidity from which an animal counts as one of moist places.
HUMID_FROM = 0.5
# Nights that moist are reached by spraying in the evening in a usual room. Estimate.
MOIST_NIGHT_FROM = 0.55
# From this on its ground may have to be kept a little damp in a heated enclosure.
DAMP_FROM = 0.38
# Air left above whatever an animal stands on, in heights of its back, and below the lid for a lamp, m.
HEADROOM_BACKS = 1.5
# Hides and dishes are never smaller than this, nor their walls thicker, m.
LEAST_HIDE_M, HIDE_WALL_M = 0.05, 0.005
WARM_X, COOL_X = 0.22, 0.82
MOST_HIDES = 4
# A layout without anything to bask on.
BARE = "none"
# The basking spot of a climber: so far below the lid, as shares of the free height.
LEDGE_SHARES = (0.72, 0.55)
# The lowest of them, and the height a lamp with its guard takes above one, m. Estimates.
LOWEST_LEDGE, LAMP_TAKES_M = 0.3, 0.30
# The share of light thickly planted cover lets straight through. Estimate.
DENSE = 0.15
# How high a raised basking spot lies at least, and at most for what does not climb; how far below the lid
# it may stay, m. Estimates.
RAISED_M, LAMP_ABOVE_M = (0.14, 0.25), 0.42


@dataclass(frozen=True, slots=True)
class Layout:
    """One way to furnish an enclosure.

    ``basking`` is how high the basking spot lies, as a share of the free height, ``"ground"`` where the
    animal basks on the ground over a mat, ``"none"`` where it does not bask; ``shelf`` whether a shelf
    shades the cool end.
    """

    basking: float | str
    shelf: bool = False


@dataclass(frozen=True, slots=True)
class Furnished:
    """Ground and things of a layout; ``basking_m`` is the middle of the top of the basking spot, m."""

    substrate: Substrate
    furnishings: tuple[Furnishing, ...]
    basking_m: tuple[float, float, float]


def is_humid(animal: Animal) -> bool:
    """Whether an animal comes from moist places.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    bool
        By the least humidity it needs at its cool place.
    """
    humidity = animal.need(animal.cool_place, "humidity")
    return humidity is not None and (humidity.low or 0.0) >= HUMID_FROM


def wants_damp(animal: Animal) -> bool:
    """Whether the ground may have to be kept damp for an animal.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    bool
        By the least humidity it needs at its cool place.
    """
    humidity = animal.need(animal.cool_place, "humidity")
    return humidity is not None and (humidity.low or 0.0) >= DAMP_FROM


def wants_spray(animal: Animal) -> bool:
    """Whether an animal on land is sprayed: those of moist places, and those that want moist nights.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    bool
        By the least humidity it needs at its cool place and at night.
    """
    night = animal.need("night", "humidity")
    moist = night is not None and (night.low or 0.0) >= MOIST_NIGHT_FROM
    return (is_humid(animal) or moist) and not is_wet(animal)


def is_wet(animal: Animal) -> bool:
    """Whether an animal lives in and out of water.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    bool
        By its habits.
    """
    return bool({"half aquatic", "aquatic"} & set(animal.habits))


def lays_in_ground(animal: Animal) -> bool:
    """Whether she is gravid and digs a nest.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    bool
        False for any other animal, and for those that live in water: they lay in a box of their own.
    """
    return animal.laying is not None and animal.laying.place == "ground" and "aquatic" not in animal.habits


def ground_depth_m(animal: Animal, height_m: float, mat: bool = False) -> float:
    """How deep the ground is to be.

    Parameters
    ----------
    animal : Animal
        Who lives there.
    height_m : float
        Height of the enclosure, m.
    mat : bool
        Whether a mat is to warm through it.

    Returns
    -------
    float
        The depth, m.
    """
    if mat:
        return MAT_GROUND_M
    habit = "digging" if animal.digs else "climbing" if animal.climbs else "ground"
    depth, dug = GROUND_M[habit], animal.species.ground if animal.digs else None
    if dug is not None:
        grown = min(1.0, animal.body_length_m / animal.species.stages[0].body_length_m)
        depth = max(dug.depth_m * grown, 0.03)
    lays = lays_in_ground(animal)
    if lays and animal.laying is not None:
        depth = max(depth, animal.laying.depth_m)
    most = GROUND_SHARE_DUG if animal.digs or lays else GROUND_SHARE
    return round(min(depth, most * height_m), 3)


def layouts_for(animal: Animal, size: Size) -> tuple[Layout, ...]:
    """Ways to furnish an enclosure for an animal, the most usual first.

    Parameters
    ----------
    animal : Animal
        Who lives there.
    size : Size
        Inside sizes, m.

    Returns
    -------
    tuple[Layout, ...]
        At least one.
    """
    shaded = animal.need("enclosure", "uv_free_share") is not None and not animal.lives_by_height
    if animal.lives_by_height:
        # Below a low closed lid the ledge leaves room for a lamp.
        free = size.height_m - ground_depth_m(animal, size.height_m)
        lower = min(LEDGE_SHARES[1], max(LOWEST_LEDGE, 1.0 - LAMP_TAKES_M / free))
        return Layout(LEDGE_SHARES[0]), Layout(round(lower, 2))
    if animal.need("basking", "surface_temperature") is None:
        # What does not bask gets no stone to bask on.
        return (Layout(BARE, shaded),)
    clear = size.height_m - ground_depth_m(animal, size.height_m)
    low = slab_underside_m(animal) / clear
    # In a tall enclosure the spot comes up to the lamp, as high as the animal climbs.
    most = 0.5 * clear if animal.climbs else RAISED_M[1]
    if animal.species.group in ("tortoise", "turtle"):
        most = RAISED_M[0]
    raised = min(0.5, max(low, min(max(RAISED_M[0], clear - LAMP_ABOVE_M), most) / clear))
    found = [Layout(low, shaded)]
    if raised > low + 0.02:
        found.append(Layout(raised, shaded))
    shallow = not animal.digs and not lays_in_ground(animal)
    if animal.species.active != "day" and shallow and not is_wet(animal):
        found.append(Layout("ground", shaded))
    return tuple(found)


def slab_underside_m(animal: Animal) -> float:
    """Height of a low slab above the ground: the animal creeps under it and feels its back touch, m.

    Shelled animals do not creep under slabs: theirs lie on the ground.
    """
    if animal.species.group in ("tortoise", "turtle"):
        return 0.0
    return round(min(max(1.5 * animal.back_height_m, 0.015), 2.2 * animal.back_height_m + 0.005, 0.12), 3)


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
        place = (
            round(0.71 * length, 3),
            round(0.5 * depth, 3),
            round(0.52 * length, 3),
            round(0.9 * depth, 3),
        )
        return [
            Leaves("leaves", "Leaves", *place, tall, round(0.50 * self.clear, 3), DENSE, leaf),
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
