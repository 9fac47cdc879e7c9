"""A first layout of a box from an animal's way of life, to be changed: walls, furnishing, heat, UV.

The lamp's watts and the UV lamp are chosen by computing them, the rest by rules of thumb (estimates, as
keepers' guides for each way of life have them). What the layout comes to is for the verdicts to say.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from noonshade.core.errors import ConvergenceError, PlanError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.light.field import light_at
from noonshade.core.needs.model import Need, PlaceKind, Quantity, Species, StageId
from noonshade.core.places import END_HEIGHT_M
from noonshade.core.plan import (
    Animal,
    Box,
    Branch,
    Face,
    Fixture,
    Furnishing,
    Hide,
    Lamp,
    Leaves,
    LineSource,
    Mesh,
    Misting,
    Plan,
    Room,
    Slab,
    SolidMaterial,
    Stack,
    Substrate,
    Thermostat,
    Vent,
    Wall,
    Water,
)
from noonshade.core.validate import plan_errors
from noonshade.core.verdict.checks import SEVERITIES, Verdict
from noonshade.core.verdict.finding import Finding
from noonshade.core.verdict.mends import Mend, propose

BoxKind = Literal["timber", "pvc", "glass", "mesh", "table"]
BOX_KINDS: tuple[BoxKind, ...] = ("timber", "pvc", "glass", "mesh", "table")
SIDES: tuple[Face, ...] = ("front", "back", "left", "right")

# All of these are estimates.
GROUND_DEPTH_M = {"digging": 0.12, "ground": 0.06, "climbing": 0.04}
HUMID_FROM = 0.5
# From this warm end on, °C, a closed box keeps the warmth that mesh lids lose.
WARM_C = 26.0
WARM_SHARE, COOL_SHARE = 0.23, 0.80
LAMP_BELOW_LID_M, LAMP_ABOVE_MESH_M = 0.10, 0.11
TUBE_BELOW_LID_M, TUBE_ABOVE_MESH_M = 0.04, 0.03
# Further from the lid than it need be, where the lamp is too strong above mesh or too weak below a board.
UV_LIFTS_M = (0.0, 0.06, 0.12, 0.2, 0.3)
BASKING_LAMP, NIGHT_HEATER, DAYLIGHT = "halogen-flood", "ceramic-heater", "led-daylight-bar-90"
MISTED_L_M2 = 0.4
MOST_WATTS = 6
# What the probe of a night heater is set above the least that the air must be, K.
NIGHT_ABOVE_K = (1.0, 3.0)


@dataclass(frozen=True, slots=True)
class Stock:
    """What a box can be made of: materials, meshes and lamps by id."""

    materials: Mapping[str, SolidMaterial]
    meshes: Mapping[str, Mesh]
    lamps: Mapping[str, Lamp]


@dataclass(frozen=True, slots=True)
class Size:
    """Inside sizes of a box, m."""

    length_m: float
    depth_m: float
    height_m: float


def fitting_size(species: Species, count: int = 1) -> Size:
    """The least box for so many adults of a species, a half more of the floor for each further one."""
    box = species.box
    # The area grows by a half with each animal more, shared between both sides. Estimate.
    more = math.sqrt(1.0 + 0.5 * (count - 1))
    return Size(*(round(m, 2) for m in (box.length_m * more, box.depth_m * more, box.height_m)))


def fitting_kind(species: Species) -> BoxKind:
    """The kind of box keepers most often build for such an animal."""
    habits = species.habits
    if species.group in ("tortoise",):
        return "table"
    if "aquatic" in habits or "half aquatic" in habits:
        return "glass"
    if species.group == "snake":
        return "pvc"
    warm = [
        c.low
        for w in species.wants
        if w.place == "warm_end" and w.quantity == "air_temperature"
        for c in w.claims
    ]
    if (
        species.group in ("gecko", "invertebrate")
        and max((low or 0.0 for low in warm), default=0.0) >= WARM_C
    ):
        return "pvc"
    if species.group == "lizard":
        return "mesh" if "climbing" in habits and "ground" not in habits else "timber"
    return "glass"


def first_layout(
    species: Species,
    stage: StageId,
    size: Size,
    kind: BoxKind,
    room: Room,
    stock: Stock,
    name: str,
    count: int = 1,
) -> Plan:
    """A furnished, heated and lit box for an animal.

    Raises
    ------
    PlanError
        If a box of that size cannot be furnished, naming its sizes.
    """
    life = species.stage(stage)
    animal = Animal(species, life.body_length_m, life.back_height_m, life.id, count)
    builder = _Builder(animal, size, kind, stock)
    plan = Plan(
        name=name,
        animal=animal,
        room=room,
        box=builder.box(),
        substrate=builder.substrate(),
        furnishings=builder.furnishings(),
        fixtures=(),
        thermostats=(),
        mistings=builder.mistings(),
    )
    # An animal that cannot even stretch along two walls.
    if plan_errors(plan) or size.length_m + size.depth_m < life.body_length_m:
        least = species.box
        raise PlanError(
            "/box",
            f"a box of {_sizes(size)} is too small to furnish for an animal {_cm(life.body_length_m)} "
            f"long: at least {_sizes(Size(least.length_m, least.depth_m, least.height_m))}",
        )
    plan = _with_uv(plan, stock)
    plan = _with_heat(plan, stock)
    return _with_night_heat(plan, stock)


def next_mend(now: Evaluation, stock: Stock) -> Mend | None:
    """A change that puts right the worst that fails and can be put right without breaking anything."""
    lamps, meshes = tuple(stock.lamps.values()), tuple(stock.meshes.values())
    failed: list[Verdict | Finding] = [v for v in now.verdicts if v.fails]
    failed += [f for f in now.findings if f.fails]
    for target in sorted(failed, key=lambda one: -SEVERITIES.index(one.severity)):
        mend = propose(now, target, lamps, meshes)
        if mend is not None and not mend.breaks:
            return mend
    return None


def _cm(metres: float) -> str:
    return f"{100 * metres:.0f} cm"


def _sizes(size: Size) -> str:
    return f"{100 * size.length_m:.0f} × {100 * size.depth_m:.0f} × {_cm(size.height_m)}"


def _need(plan_animal: Animal, place: PlaceKind, quantity: Quantity) -> Need | None:
    return next((n for n in plan_animal.needs if n.place == place and n.quantity == quantity), None)


def _middle(need: Need) -> float:
    """What to aim at: the middle of a range, or its only end."""
    ends = [end for end in (need.low, need.high) if end is not None]
    return sum(ends) / len(ends)


class _Builder:
    """Walls and furnishing by way of life."""

    def __init__(self, animal: Animal, size: Size, kind: BoxKind, stock: Stock) -> None:
        self.animal, self.size, self.kind, self.stock = animal, size, kind, stock
        humidity = _need(animal, "cool_end", "humidity")
        self.humid = humidity is not None and (humidity.low or 0.0) >= HUMID_FROM
        self.climbs = animal.climbs
        self.wet = any(h in ("half aquatic", "aquatic") for h in animal.habits)
        habit = "digging" if animal.digs else "climbing" if self.climbs else "ground"
        self.ground = round(min(GROUND_DEPTH_M[habit], 0.3 * size.height_m), 3)
        self.clear = size.height_m - self.ground

    def box(self) -> Box:
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
        return Box(length, depth, height, walls, vents)

    def substrate(self) -> Substrate:
        loose = "soil" if self.humid else "sand-soil"
        if not self.humid and self.animal.species.group == "snake":
            loose = "wood-shavings"
        return Substrate(self.stock.materials[loose], self.ground, 0.3 if self.humid else 0.0)

    def furnishings(self) -> tuple[Furnishing, ...]:
        found: list[Furnishing] = [self._basking(), *self._hides()]
        found += self._branches() if self.climbs else self._cover()
        if _need(self.animal, "box", "uv_free_share") is not None:
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
            # Under the lamp, with room for the animal and a hand's breadth of air above it.
            top = min(0.72 * self.clear, self.clear - 0.22) if self.clear > 0.4 else 0.45 * self.clear
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

        # A pool at the cool end, and a slab under the lamp, leave the back of the box.
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
        shelf = _slab("Shade shelf", length - long / 2, depth - wide / 2, long, wide, thick, under, bark)
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


def _height(plan: Plan, below_lid: float, above_mesh: float) -> float:
    lid = plan.box.walls["top"]
    if lid.material is not None:
        return round(plan.box.height_m - below_lid, 3)
    return round(plan.box.height_m + above_mesh, 3)


def _back(plan: Plan) -> tuple[float, float, float]:
    """Where the back of the basking animal is, m."""
    slab = plan.basking_slab
    assert slab is not None
    return slab.x_m, slab.y_m, plan.top_of(slab) + plan.animal.back_height_m


def _with_uv(plan: Plan, stock: Stock) -> Plan:
    """With the UV lamp that comes nearest to the need where it basks, or daylight if none is wanted."""
    need = _need(plan.animal, "basking", "uvi")
    species = plan.animal.species
    length = plan.box.length_m
    # Out of range or not, how far from where it would hang, how far off, and the lamp.
    found: list[tuple[bool, float, float, Fixture]] = []
    if need is not None and species.uv != "avoided":
        low, high = need.low or 0.0, need.high or math.inf
        aim = max(_middle(need), 0.05)
        point = np.array([_back(plan)])
        for lamp in stock.lamps.values():
            if not _suits(lamp, length, plan.animal.climbs):
                continue
            for lift in UV_LIFTS_M:
                fixture = _hung(plan, lamp, lift=lift)
                if fixture.position_m[2] <= point[0, 2] + 0.1:
                    continue
                uvi = float(light_at(plan, point, (fixture,)).uvi_level[0])
                off = abs(math.log(max(uvi, 1e-3) / aim))
                outside = not low <= uvi <= high
                found.append((outside, 0.0 if outside else lift, off, fixture))
    best = min(found, key=lambda one: one[:3], default=None)
    # What is only offered is left out rather than given too strongly.
    if best is not None and not (best[0] and need is not None and need.offered):
        fixture = best[3]
        return replace(plan, fixtures=(*plan.fixtures, fixture))
    if species.light == "needed" and length >= 0.95:
        return replace(plan, fixtures=(*plan.fixtures, _hung(plan, stock.lamps[DAYLIGHT], "Daylight")))
    return plan


def _suits(lamp: Lamp, length: float, climbs: bool) -> bool:
    """Whether a UV lamp fits a box: tubes that leave one end free of UV, compact lamps in small boxes.

    A climber finds its shade lower down, so a tube may be nearly as long as its box.
    """
    if lamp.uv is None:
        return False
    if lamp.kind == "tube" and isinstance(lamp.geometry, LineSource):
        return lamp.geometry.length_m <= (0.93 if climbs else 0.75) * length
    return lamp.kind == "compact" and length < 0.75


def _hung(plan: Plan, lamp: Lamp, label: str = "UV lamp", lift: float = 0.0) -> Fixture:
    box = plan.box
    half = lamp.geometry.length_m / 2 if isinstance(lamp.geometry, LineSource) else 0.06
    x = max(half + 0.02, WARM_SHARE * box.length_m)
    z = _height(plan, TUBE_BELOW_LID_M + lift, TUBE_ABOVE_MESH_M + lift)
    where = (round(min(x, box.length_m - half - 0.005), 3), round(0.6 * box.depth_m, 3), z)
    if half <= 0.06:
        # Beside the basking lamp, not in its place.
        where = (round(min(x + 0.14, box.length_m - 0.06), 3), where[1], z)
    return Fixture(
        "uv-lamp" if lamp.uv else "daylight", label, lamp, lamp.power_w, where, "day", hours=100.0
    )


def _with_heat(plan: Plan, stock: Stock) -> Plan:
    """With a basking lamp of the watts that come nearest to what is wanted, on a thermostat."""
    species = plan.animal.species
    surface = _need(plan.animal, "basking", "surface_temperature")
    air = _need(plan.animal, "warm_end", "air_temperature")
    need = surface or air
    if need is None or species.heat == "avoided" or species.is_cool_climate:
        return plan
    if species.heat == "offered" and (need.low is None or _reached(plan, need) >= need.low):
        return plan
    lamp = stock.lamps[BASKING_LAMP]
    x, y, _ = _back(plan)
    z = _height(plan, LAMP_BELOW_LID_M, LAMP_ABOVE_MESH_M)
    inside = z < plan.box.height_m
    choices = _watts(lamp)

    def lit(power_w: float) -> Plan:
        fixture = Fixture(
            "basking-lamp",
            "Basking lamp",
            lamp,
            power_w,
            (round(x, 3), round(y, 3), z),
            "day",
            guard=inside,
        )
        return replace(plan, fixtures=(fixture, *plan.fixtures))

    best = min((lit(power_w) for power_w in choices), key=_warmth_off)
    if air is not None and air.low is not None and _reached(best, air) < air.low:
        best = _air_heated(best, air, stock)
    return _on_thermostat(best)


def _air_heated(plan: Plan, need: Need, stock: Stock) -> Plan:
    """With a heater without light for the air of the warm end, where the basking lamp is not enough."""
    lamp = stock.lamps[NIGHT_HEATER]
    box = plan.box
    z = _height(plan, LAMP_BELOW_LID_M + 0.02, LAMP_ABOVE_MESH_M)
    where = (round(0.45 * box.length_m, 3), round(0.35 * box.depth_m, 3), z)
    probe = (
        round(0.1 * box.length_m, 3),
        round(0.8 * box.depth_m, 3),
        round(plan.substrate.depth_m + END_HEIGHT_M, 3),
    )
    point = round(_middle(need), 1)
    control = Thermostat("air", "Air thermostat", "on_off", point, None, 1.0, probe)

    def heated(power_w: float) -> Plan:
        heater = Fixture(
            *("air-heater", "Air heater", lamp, power_w, where, "day"),
            thermostat_id="air",
            guard=z < box.height_m,
        )
        return replace(plan, fixtures=(*plan.fixtures, heater), thermostats=(control,))

    choices = _watts(lamp)
    tried = [(_warmth_off(p), i, p) for i, p in enumerate(map(heated, choices))]
    off, _, best = min(tried)
    return best if off < _warmth_off(plan) else plan


def _watts(lamp: Lamp) -> list[float]:
    """Some of the watts it is sold in, from the least to the most."""
    choices = sorted(lamp.power_choices_w) or [lamp.power_min_w, lamp.power_max_w]
    some = np.unique(np.linspace(0, len(choices) - 1, MOST_WATTS).round().astype(int))
    return [choices[i] for i in some]


def _roughly(plan: Plan) -> Evaluation | None:
    """A plan on large cells; None where the model finds no steady state."""
    try:
        return evaluate(plan, COARSE)
    except ConvergenceError:
        return None


def _warmth_off(plan: Plan) -> float:
    """How far all temperatures by day are off, in widths of their ranges; too hot counts twice."""
    evaluation = _roughly(plan)
    if evaluation is None:
        return math.inf
    return sum(
        v.off_by * (2.0 if v.status == "above" else 1.0)
        for v in evaluation.verdicts
        if v.need.quantity in ("surface_temperature", "air_temperature") and v.need.place != "night"
    )


def _reached(plan: Plan, need: Need) -> float:
    """The figure a need is judged by, °C; the room where there is no such place, or no steady state."""
    evaluation = _roughly(plan)
    if evaluation is None:
        return plan.room.day_temperature_c
    found = [v for v in evaluation.verdicts if v.need.place == need.place]
    same = [v.value for v in found if v.need.quantity == need.quantity and v.value is not None]
    return same[0] if same else evaluation.day.room_c


def _on_thermostat(plan: Plan) -> Plan:
    """The basking lamp on a dimming thermostat, its probe beside the slab, set to what it reads."""
    x, y, z = _back(plan)
    slab = plan.basking_slab
    assert slab is not None
    beside = slab.x_m + slab.length_m / 2 + 0.08
    probe = (
        round(min(beside, plan.box.length_m - 0.05), 3),
        round(min(y + slab.width_m / 2 + 0.05, plan.box.depth_m - 0.04), 3),
        round(min(z, plan.box.height_m - 0.05), 3),
    )
    del x
    control = Thermostat("main", "Thermostat", "dimming", 45.0, None, 1.0, probe)
    fixtures = tuple(
        replace(f, thermostat_id="main") if f.id == "basking-lamp" else f for f in plan.fixtures
    )
    held = replace(plan, fixtures=fixtures, thermostats=(*plan.thermostats, control))
    steady = _roughly(held)
    if steady is None:
        return replace(held, thermostats=(*plan.thermostats, replace(control, day_set_point_c=30.0)))
    reading = next(s.probe_c for s in steady.day.thermostats if s.thermostat.id == "main")
    point = round(min(45.0, max(15.0, reading)) * 2) / 2
    return replace(held, thermostats=(*plan.thermostats, replace(control, day_set_point_c=point)))


def _with_night_heat(plan: Plan, stock: Stock) -> Plan:
    """With a heater that gives no light, where the room is colder at night than the animal may be."""
    need = _need(plan.animal, "night", "air_temperature")
    if need is None or need.low is None:
        return plan
    bare = _roughly(plan)
    if bare is not None and bare.night_air_c >= need.low:
        return plan
    lamp = stock.lamps[NIGHT_HEATER]
    choices = _watts(lamp)
    heated = plan
    for power_w, above in itertools.product(choices, NIGHT_ABOVE_K):
        heated = _night_heated(plan, lamp, power_w, need.low + above)
        night = _roughly(heated)
        if night is not None and night.night_air_c >= need.low + 0.3:
            break
    return heated


def _night_heated(plan: Plan, lamp: Lamp, power_w: float, set_point_c: float) -> Plan:
    box = plan.box
    z = _height(plan, LAMP_BELOW_LID_M + 0.02, LAMP_ABOVE_MESH_M)
    x = round(0.5 * box.length_m, 3)
    heater = Fixture(
        "night-heater",
        "Night heater",
        lamp,
        power_w,
        (x, round(0.35 * box.depth_m, 3), z),
        "night",
        thermostat_id="night",
        guard=z < box.height_m,
    )
    probe = (
        round(0.6 * box.length_m, 3),
        round(0.7 * box.depth_m, 3),
        round(plan.substrate.depth_m + 0.3 * (box.height_m - plan.substrate.depth_m), 3),
    )
    control = Thermostat("night", "Night thermostat", "on_off", None, round(set_point_c, 1), 1.0, probe)
    return replace(plan, fixtures=(*plan.fixtures, heater), thermostats=(*plan.thermostats, control))
