"""Walls and furnishing that judged situations start from, by the animal's way of life.

Where things stand and how large they are, as shares of the enclosure and of the body, are rules of thumb as
keepers' guides for each way of life have them: estimates, all of them.
"""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.design.shells import EnclosureKind, Size, Stock
from noonshade.core.plan import (
    Animal,
    Branch,
    Enclosure,
    Face,
    Furnishing,
    Hide,
    Leaves,
    Misting,
    Slab,
    SolidMaterial,
    Stack,
    Substrate,
    Vent,
    Wall,
    Water,
)

SIDES: tuple[Face, ...] = ("front", "back", "left", "right")
GROUND_DEPTH_M = {"digging": 0.12, "ground": 0.06, "climbing": 0.04}
# The cool end's least humidity from which an animal counts as one of moist places.
HUMID_FROM = 0.5
# Where the middle of the warm and of the cool end is, as a share of the length.
WARM_SHARE, COOL_SHARE = 0.23, 0.80
# How much of the height the ground may take, and for those that dig.
GROUND_SHARE, GROUND_SHARE_DUG = 0.3, 0.72
MISTED_L_M2 = 0.4
# A ledge lies so far below the basking lamp, m: nearer, the weakest bulbs are too hot.
LAMP_ABOVE_M = 0.33


class Furnisher:
    """Walls and furnishing by way of life."""

    def __init__(self, animal: Animal, size: Size, kind: EnclosureKind, stock: Stock) -> None:
        self.animal, self.size, self.kind, self.stock = animal, size, kind, stock
        humidity = animal.need(animal.cool_place, "humidity")
        self.humid = humidity is not None and (humidity.low or 0.0) >= HUMID_FROM
        self.climbs = animal.climbs
        self.wet = any(h in ("half aquatic", "aquatic") for h in animal.habits)
        habit = "digging" if animal.digs else "climbing" if self.climbs else "ground"
        dug = animal.species.ground if animal.digs else None
        grown = min(1.0, animal.body_length_m / animal.species.stages[0].body_length_m)
        deep = GROUND_DEPTH_M[habit] if dug is None else max(dug.depth_m * grown, 0.03)
        most = GROUND_SHARE_DUG if dug is not None else GROUND_SHARE
        self.ground = round(min(deep, most * size.height_m), 3)
        self.clear = size.height_m - self.ground

    def enclosure(self) -> Enclosure:
        """Walls, lid and vents."""
        sheet = self.stock.materials
        mesh = self.stock.meshes
        length, depth, height = self.size.length_m, self.size.depth_m, self.size.height_m
        low, high = round(self.ground + 0.15 * self.clear, 3), round(height - 0.08, 3)
        glass = Wall(sheet["glass"], 0.004)
        vents: tuple[Vent, ...] = ()
        if self.kind == "mesh":
            screen = Wall(mesh=mesh["aluminium-0.28-1.6"])
            walls = {**dict.fromkeys(SIDES, screen), "top": screen, "floor": Wall(sheet["pvc"], 0.005)}
        elif self.kind == "glass":
            lid = Wall(mesh=mesh["medium-0.7-4.0"])
            walls = {**dict.fromkeys(SIDES, glass), "top": lid, "floor": glass}
            vents = (Vent("front", round(length / 2, 3), low, 0.004),)
        elif self.kind == "table":
            board = Wall(sheet["timber"], 0.018)
            walls = {**dict.fromkeys(SIDES, board), "top": Wall(), "floor": board}
        else:
            board = Wall(sheet["timber"], 0.015) if self.kind == "timber" else Wall(sheet["pvc-foam"], 0.01)
            walls = {**dict.fromkeys(SIDES, board), "front": glass, "top": board, "floor": board}
            area = round(min(0.02, 0.007 * length * depth / 0.72), 4)
            x = round(depth / 2, 3)
            vents = (Vent("right", x, low, area), Vent("left", x, high, area))
        return Enclosure(length, depth, height, walls, vents)

    def substrate(self) -> Substrate:
        """Loose ground, damp for animals that need moist air."""
        loose = "soil" if self.humid else "sand-soil"
        if not self.humid and self.animal.species.group == "snake":
            loose = "wood-shavings"
        return Substrate(self.stock.materials[loose], self.ground, 0.3 if self.humid else 0.0)

    def furnishings(self) -> tuple[Furnishing, ...]:
        """A basking spot, hides at both ends, cover or branches, shade and water."""
        found: list[Furnishing] = [self._basking(), *self._hides()]
        found += self._branches() if self.climbs else self._cover()
        if self.animal.need("enclosure", "uv_free_share") is not None:
            found.append(self._shade())
        found.append(self._water())
        return tuple(found)

    def _basking(self) -> Slab:
        length, depth = self.size.length_m, self.size.depth_m
        body = self.animal.body_length_m
        long = min(max(0.15, 1.5 * body), 0.4 * length)
        wide = min(max(0.12, 1.1 * body), 0.7 * depth)
        x = max(WARM_SHARE * length, long / 2)
        y = 0.5 * depth
        if self.climbs:
            # As far below the lamp as a weak bulb needs, with room for the animal above it.
            lamp = self.clear + (0.11 if self.kind in ("mesh", "glass", "table") else -0.10)
            top = min(0.72 * self.clear, self.clear - 0.22, lamp - LAMP_ABOVE_M)
            bark, thick = self.stock.materials["cork"], 0.02
            under = max(0.0, round(top - thick, 3))
            return _slab("Basking ledge", x, y, long, wide, thick, under, bark)
        under = round(min(0.08, 0.2 * self.clear), 3)
        slate = self.stock.materials["slate"]
        slab = _slab("Basking slab", x, y, long, wide, 0.02, under, slate)
        return replace(slab, stack=Stack(round(0.6 * long, 3), round(0.6 * wide, 3)))

    def _hides(self) -> list[Furnishing]:
        length, depth = self.size.length_m, self.size.depth_m
        body, back = self.animal.body_length_m, self.animal.back_height_m
        long = min(max(0.12, 1.4 * body), 0.24 * length)
        wide = min(max(0.10, 0.9 * body), 0.45 * depth)
        tall = round(min(max(0.06, 2.5 * back), 0.4 * self.clear), 3)
        cork = self.stock.materials["cork"]

        def hide(id_: str, label: str, x: float, y: float, moist: bool = False) -> Hide:
            wall = 0.01
            return Hide(
                id_,
                label,
                round(min(max(x, long / 2), length - long / 2), 3),
                round(min(max(y, wide / 2), depth - wide / 2), 3),
                round(long, 3),
                round(wide, 3),
                round(tall, 3),
                wall,
                "front",
                round(min(max(0.04, 0.7 * long), long), 3),
                round(tall - wall - 0.001, 3),
                cork,
                moist,
            )

        # A pool at the cool end, and a slab under the lamp, leave the back of the enclosure.
        cool_x = 0.62 * length if self.wet else COOL_SHARE * length + 0.05
        found: list[Furnishing] = [
            hide("warm-hide", "Warm hide", 0.42 * length, depth - wide / 2 - 0.02),
            hide("cool-hide", "Cool hide", cool_x, depth - wide / 2 - 0.02),
        ]
        if not self.wet and length >= 0.6:
            found.append(hide("moist-hide", "Moist hide", 0.66 * length, wide / 2 + 0.02, True))
        return found

    def _branches(self) -> list[Furnishing]:
        length, depth = self.size.length_m, self.size.depth_m
        wood = self.stock.materials["hardwood"]
        thick = round(min(max(0.015, 0.18 * self.animal.body_length_m), 0.06), 3)
        z = self.ground
        y = round(0.42 * depth, 3)
        low = (round(0.85 * length, 3), y, round(z + 0.08 * self.clear, 3))
        high = (round(0.35 * length, 3), y, round(z + 0.62 * self.clear, 3))
        middle = (
            (round(0.30 * length, 3), round(0.6 * depth, 3), round(z + 0.38 * self.clear, 3)),
            (round(0.92 * length, 3), round(0.55 * depth, 3), round(z + 0.46 * self.clear, 3)),
        )
        leaf = self.stock.materials["foliage"]
        tall = round(0.30 * self.clear, 3)
        return [
            Branch("climbing-branch", "Climbing branch", low, high, thick, wood),
            Branch("cross-branch", "Cross branch", *middle, thick, wood),
            Leaves(
                "leaves",
                "Leaves",
                round(0.74 * length, 3),
                round(0.5 * depth, 3),
                round(0.42 * length, 3),
                round(0.7 * depth, 3),
                tall,
                round(0.50 * self.clear, 3),
                0.35,
                leaf,
            ),
        ]

    def _cover(self) -> list[Furnishing]:
        length, depth = self.size.length_m, self.size.depth_m
        tall = round(min(0.15, 0.35 * self.clear), 3)
        leaf = self.stock.materials["foliage"]
        place = (round(0.62 * length, 3), round(0.62 * depth, 3))
        size = (round(0.16 * length, 3), round(0.4 * depth, 3))
        return [Leaves("cover", "Cover", *place, *size, tall, 0.0, 0.3, leaf)]

    def _shade(self) -> Slab:
        """A shelf over the cool end: shade that is dark in UV, and a second level."""
        length, depth = self.size.length_m, self.size.depth_m
        long, wide = 0.34 * length, 0.9 * depth
        thick = 0.02
        under = max(0.34 * self.clear, 0.06)
        bark = self.stock.materials["cork"]
        # Half a millimetre of rounding must not push it through the wall.
        x, y = length - long / 2 - 1e-3, depth - wide / 2 - 1e-3
        shelf = _slab("Shade shelf", x, y, long, wide, thick, under, bark)
        return replace(shelf, id="shade-shelf", underside_m=round(under, 3), basking=False)

    def _water(self) -> Water:
        length, depth = self.size.length_m, self.size.depth_m
        clay = self.stock.materials["clay-tile"]
        if self.wet:
            long, wide = 0.4 * length, 0.9 * depth
            deep = min(0.12, 0.3 * self.clear)
            return _water("Pool", length - long / 2 - 0.01, depth / 2, long, wide, deep, clay)
        long = min(max(0.12, 0.7 * self.animal.body_length_m), 0.25 * length)
        wide = min(0.8 * long, 0.3 * depth)
        deep = min(0.03, 0.3 * self.clear)
        return _water("Water", length - long / 2 - 0.02, wide / 2 + 0.03, long, wide, deep, clay)

    def mistings(self) -> tuple[Misting, ...]:
        """Spraying in the morning and the evening, for those that need moist air and have no pool."""
        if not self.humid or self.wet:
            return ()
        litres = max(0.03, MISTED_L_M2 * self.size.length_m * self.size.depth_m)
        return (Misting((8.0, 19.0), round(litres, 2)),)


def _slab(
    label: str,
    x: float,
    y: float,
    length: float,
    width: float,
    thick: float,
    under: float,
    material: SolidMaterial,
) -> Slab:
    sizes = (round(x, 3), round(y, 3), round(length, 3), round(width, 3))
    return Slab("basking", label, *sizes, thick, under, material, basking=True)


def _water(
    label: str, x: float, y: float, length: float, width: float, deep: float, material: SolidMaterial
) -> Water:
    sizes = (round(x, 3), round(y, 3), round(length, 3), round(width, 3), round(deep, 3))
    return Water("water", label, *sizes, material)
