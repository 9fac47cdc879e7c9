"""What a plan is made of, as a list to buy from."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from typing import Literal

from noonshade.core.building.ground import SETTLING, floor_m2, ground_amounts, packed, sheets
from noonshade.core.phrase import Measure, Phrase, clock
from noonshade.core.plan import (
    Background,
    Branch,
    Fixture,
    Furnishing,
    Hide,
    LampControl,
    Leaves,
    Plan,
    Slab,
    Thermostat,
    Wall,
    Water,
)

PartGroup = Literal[
    "enclosure", "lamps", "control", "ground", "furnishing", "moisture", "safety", "instruments"
]

# Rated power of a holder and of a regulator over what it carries. Estimate: common practice with heat.
RATING_MARGIN = 1.25
# Ratings that holders and regulators are sold in, W. Estimate.
RATINGS_W = (60, 100, 150, 200, 250, 300, 400, 600, 900, 1200, 2000, 3000)

_CONTROL_WORDS: dict[LampControl, str] = {
    "on_off": "On/off thermostat",
    "dimming": "Dimming thermostat",
    "pulse": "Pulse thermostat",
}


@dataclass(frozen=True, slots=True)
class Part:
    """One line of the list: how many, of what, its particulars, and why if that needs saying."""

    group: PartGroup
    label: str
    count: int
    detail: Phrase = ()
    why: str = ""


def rating_w(power_w: float) -> float:
    """The rating to buy for a power, W: the next one sold with a margin.

    Parameters
    ----------
    power_w : float
        Power, W.

    Returns
    -------
    float
        The rating to buy for a power, W.
    """
    wanted = power_w * RATING_MARGIN
    return float(next((r for r in RATINGS_W if r >= wanted), math.ceil(wanted / 1000.0) * 1000.0))


def list_parts(plan: Plan) -> tuple[Part, ...]:
    """Everything the plan needs, in the order of a shopping list.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[Part, ...]
        The parts, grouped, with their count and a detail for buying.
    """
    return (
        *_enclosure(plan),
        *_lamps(plan),
        *_control(plan),
        *_ground(plan),
        *_furnishings(plan),
        *_moisture(plan),
        *_safety(plan),
        *_instruments(plan),
    )


def _enclosure(plan: Plan) -> list[Part]:
    enclosure = plan.enclosure
    found = [
        Part(
            "enclosure",
            "Enclosure, inside size",
            1,
            (
                Measure(enclosure.length_m, "m"),
                " × ",
                Measure(enclosure.depth_m, "m"),
                " × ",
                Measure(enclosure.height_m, "m"),
            ),
        )
    ]
    sheets: dict[str, list[str]] = {}
    for face, wall in enclosure.walls.items():
        sheets.setdefault(_made_of(wall), []).append(face)
    for made, faces in sheets.items():
        if made != "open":
            found.append(Part("enclosure", made, 1, (_listed(faces),)))
    for inset in enclosure.insets:
        kind = "Door" if inset.is_door else "Part of the " + ("lid" if inset.face == "top" else inset.face)
        size: Phrase = (Measure(inset.x1_m - inset.x0_m, "m"), " × ", Measure(inset.y1_m - inset.y0_m, "m"))
        found.append(Part("enclosure", f"{kind}: {_made_of(inset.wall)}", 1, size))
    for vent in enclosure.vents:
        area: Phrase = (
            f"{vent.side}, its middle ",
            Measure(vent.z_m, "m"),
            f" up; {1e4 * vent.area_m2:.0f} cm² free",
        )
        found.append(Part("enclosure", "Vent", 1, area))
    return found


def _made_of(wall: Wall) -> str:
    if wall.material is not None:
        thick = f", {1000 * wall.thickness_m:.0f} mm" if wall.thickness_m else ""
        extra = ""
        if wall.insulation is not None and wall.insulation_m:
            name = wall.insulation.label.lower()
            extra = f", with {1000 * wall.insulation_m:.0f} mm {name} outside"
        # A label such as "Acrylic sheet, 4 mm" says its thickness already.
        return f"{wall.material.label}{'' if ' mm' in wall.material.label else thick}{extra}"
    return wall.mesh.label if wall.mesh is not None else "open"


def _listed(names: list[str]) -> str:
    words = ["lid" if n == "top" else n for n in names]
    return words[0] if len(words) == 1 else ", ".join(words[:-1]) + " and " + words[-1]


def _lamps(plan: Plan) -> list[Part]:
    found = []
    counted = Counter((f.lamp.id, f.power_w) for f in plan.fixtures)
    by_key = {(f.lamp.id, f.power_w): f for f in plan.fixtures}
    for key, count in counted.items():
        fixture = by_key[key]
        found.append(Part("lamps", fixture.lamp.label, count, (Measure(fixture.power_w, "W"),)))
    holders: Counter[tuple[str, Phrase]] = Counter()
    for fixture in plan.fixtures:
        holder = _holder(fixture)
        if holder is not None:
            holders[holder] += 1
    found += [Part("lamps", label, count, detail) for (label, detail), count in holders.items()]
    guards = sum(f.guard for f in plan.fixtures)
    if guards:
        found.append(
            Part(
                "lamps",
                "Guard around a lamp",
                guards,
                (),
                "It must not get hot itself, nor be levered off.",
            )
        )
    screens = Counter(f.screen.label for f in plan.fixtures if f.screen is not None)
    for label, count in screens.items():
        found.append(Part("lamps", f"Screen under a lamp: {label}", count))
    return found


def _holder(fixture: Fixture) -> tuple[str, Phrase] | None:
    """What a lamp is fitted into."""
    lamp = fixture.lamp
    rated: Phrase = ("rated for at least ", Measure(rating_w(fixture.power_w), "W"))
    if lamp.kind == "tube":
        return ("Tube holder with ballast for its length and watts", (lamp.label.partition(",")[0],))
    if lamp.kind == "metal halide":
        return ("Ceramic lamp holder with a ballast of the lamp's own watts", rated)
    if lamp.kind in ("bulb", "mercury vapour"):
        return ("Ceramic lamp holder", rated)
    if lamp.kind == "compact":
        return ("Lamp holder", rated)
    if lamp.kind == "heater" and lamp.conducted == 0.0 and "panel" not in lamp.label.lower():
        return ("Ceramic lamp holder or the heater's own fitting", rated)
    return None


def _control(plan: Plan) -> list[Part]:
    found = []
    for thermostat in plan.thermostats:
        load = sum(f.power_w for f in plan.fixtures if f.thermostat_id == thermostat.id)
        detail: tuple[str | Measure, ...] = (f"{thermostat.label}: carries ", Measure(load, "W"))
        if load > 0:
            detail = (*detail, ", rated for at least ", Measure(rating_w(load), "W"))
        found.append(Part("control", _CONTROL_WORDS[thermostat.kind], 1, detail, _with(thermostat)))
    timed = {hours_of(plan, f) for f in plan.fixtures if f.lit != "always" or f.timer}
    timed |= {_by_period(plan, fan.lit) for fan in plan.fans if fan.lit != "always"}
    found += [Part("control", "Timer", 1, (hours,)) for hours in sorted(timed)]
    return found


def _with(thermostat: Thermostat) -> str:
    if thermostat.cut_out_c is not None:
        return "With a separate limit that cuts the heaters off."
    return ""


def hours_of(plan: Plan, fixture: Fixture) -> str:
    """When a fixture has current, in words.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The fixture.

    Returns
    -------
    str
        Words: the hours of its timer, or the part of the day it is on.
    """
    if fixture.timer:
        return ", ".join(f"{clock(a)} to {clock(b)}" for a, b in fixture.timer)
    return _by_period(plan, fixture.lit)


def _by_period(plan: Plan, lit: str) -> str:
    if lit == "always":
        return "day and night"
    if lit == "night":
        return f"{clock(plan.dusk)} to {clock(plan.dawn)}"
    return f"{clock(plan.dawn)} to {clock(plan.dusk)}"


def _ground(plan: Plan) -> list[Part]:
    amounts = ground_amounts(plan)
    if not amounts:
        if plan.substrate.depth_m == 0:
            return []
        return [Part("ground", plan.substrate.material.label, 1, (f"to cover {floor_m2(plan):.2f} m²",))]
    why = f"{100 * SETTLING:.0f} % more than the depth holds, because it settles."
    alone = len(amounts) == 1
    found = []
    for amount in amounts:
        bags = amount.bags
        detail: Phrase = (
            *((Measure(plan.substrate.depth_m, "m"), " deep: ") if alone else ()),
            Measure(bags.in_place_l, "L"),
            f" in place, about {bags.mass_kg:.0f} kg; buy {packed(amount)}",
        )
        found.append(Part("ground", amount.material.label, 1, detail, why))
    for length, width in sheets(plan):
        size = (Measure(length, "m"), " × ", Measure(width, "m"))
        found.append(
            Part("ground", "Fleece or fine mesh", 1, size, "Water passes, soil does not; with its edges.")
        )
    return found


def _furnishings(plan: Plan) -> list[Part]:
    return [_furnishing(plan, item) for item in plan.furnishings]


def _furnishing(plan: Plan, item: Furnishing) -> Part:
    if isinstance(item, Branch):
        run = math.dist(item.start_m, item.end_m)
        size: Phrase = (Measure(run, "m"), " long, ", Measure(item.diameter_m, "m"), " thick")
    elif isinstance(item, Background):
        along = plan.enclosure.length_m if item.side in ("front", "back") else plan.enclosure.depth_m
        size = (Measure(along, "m"), " × ", Measure(plan.enclosure.height_m, "m"), f", on the {item.side}")
    else:
        size = (Measure(item.length_m, "m"), " × ", Measure(item.width_m, "m"), *_upright(item))
    why = ""
    if isinstance(item, Slab) and item.basking:
        why = "Stone and tile hold and spread heat; wood does not."
    return Part("furnishing", f"{item.label} ({item.material.label.lower()})", 1, size, why)


def _upright(item: Slab | Hide | Leaves | Water) -> Phrase:
    if isinstance(item, Slab):
        size: Phrase = (", ", Measure(item.thickness_m, "m"), " thick")
        if item.underside_m > 0:
            size = (*size, ", carried ", Measure(item.underside_m, "m"), " above the ground")
        return size
    if isinstance(item, Water):
        return (", ", Measure(item.depth_m, "m"), " deep")
    return (" × ", Measure(item.height_m, "m"))


def _moisture(plan: Plan) -> list[Part]:
    found = []
    if plan.mistings:
        most = max(m.litres for m in plan.mistings)
        hours = ", ".join(clock(h) for m in plan.mistings for h in m.hours)
        found.append(
            Part("moisture", "Sprayer or misting pump", 1, (f"up to {1000 * most:.0f} ml at {hours}",))
        )
    if plan.fog_kg_h > 0:
        found.append(Part("moisture", "Fogger", 1, (f"{1000 * plan.fog_kg_h:.0f} ml an hour",)))
    found += [
        Part("moisture", f"Fan: {fan.label}", 1, (f"{fan.flow_m3_h:.0f} m³ an hour",)) for fan in plan.fans
    ]
    for pack in plan.cold_packs:
        why = "A second one, frozen, waits for the next day."
        found.append(Part("moisture", f"Cold pack: {pack.label}", 2, (), why))
    return found


def _safety(plan: Plan) -> list[Part]:
    found = []
    if plan.fixtures:
        found.append(
            Part(
                "safety",
                "Residual-current device",
                1,
                (),
                "In the supply of everything in the enclosure; by a qualified electrician.",
            )
        )
    if any(f.lamp.is_hot or f.lamp.kind == "mat" for f in plan.fixtures):
        found.append(Part("safety", "Smoke alarm", 1, (), "In the room of the enclosure, tested monthly."))
    return found


def _instruments(plan: Plan) -> list[Part]:
    found = [
        Part("instruments", "Digital thermometer with a probe and memory of highest and lowest", 2),
        Part("instruments", "Digital hygrometer", 1),
    ]
    if any(f.lamp.is_hot for f in plan.fixtures):
        found.append(
            Part(
                "instruments",
                "Infrared thermometer",
                1,
                (),
                "For surfaces, which probes in air do not tell.",
            )
        )
    if any(f.lamp.uv is not None for f in plan.fixtures):
        found.append(
            Part(
                "instruments",
                "UV index meter, owned or borrowed",
                1,
                (),
                "The only way to know what passes your mesh and how old your tube is.",
            )
        )
    return found
