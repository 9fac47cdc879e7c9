"""The practice bench: enclosures in which something is not as planned, to be found out and fixed."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from noonshade.core.errors import PlanError
from noonshade.core.fixes.candidate import with_fixture
from noonshade.core.plan import BeamSource, Face, Neighbour, Plan, Point
from noonshade.core.plan_errors import plan_errors
from noonshade.core.readings.instrument import Kind
from noonshade.core.uncertainty.multipliers import multipliers_of, with_multipliers
from noonshade.instruments.meters import Hold, Kit, drawn_kit, drawn_sheet
from noonshade.instruments.recorders import ThermostatProbe
from noonshade.instruments.true_enclosure import TrueEnclosure


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that may be wrong: in words, what repairs it, and what it makes of a plan."""

    id: str
    label: str
    fix: str
    tell: str
    apply: Callable[[Plan], Plan]


def _scaled(kind: str, factor: float) -> Callable[[Plan], Plan]:
    """All multipliers of a kind set to a factor."""

    def apply(plan: Plan) -> Plan:
        known = multipliers_of(plan)
        return with_multipliers(plan, known, {m.id: math.log(factor) for m in known if m.kind == kind})

    return apply


def _watts(factor: float) -> Callable[[Plan], Plan]:
    """Bulbs that warm and give no UV at a factor of their watts, as far as there are such."""

    def apply(plan: Plan) -> Plan:
        for f in plan.fixtures:
            if f.lamp.is_hot and f.lamp.uv is None:
                power = min(max(factor * f.power_w, f.lamp.power_min_w), f.lamp.power_max_w)
                plan = with_fixture(plan, replace(f, power_w=power))
        return plan

    return apply


def _spot(plan: Plan) -> Plan:
    for f in plan.fixtures:
        if f.lamp.is_hot and isinstance(f.lamp.geometry, BeamSource):
            beam = replace(f.lamp.geometry, fwhm_deg=0.4 * f.lamp.geometry.fwhm_deg)
            plan = with_fixture(plan, replace(f, lamp=replace(f.lamp, geometry=beam)))
    return plan


def _low(plan: Plan) -> Plan:
    """Every lamp inside hangs a hand's breadth lower, or as low as it can."""
    for f in plan.fixtures:
        x, y, z = f.position_m
        for drop in (0.10, 0.07, 0.04):
            lower = with_fixture(plan, replace(f, position_m=(x, y, z - drop)))
            hangs = z < plan.enclosure.height_m or plan.enclosure.walls["top"].screen is None
            if hangs and f.against is None and not plan_errors(lower):
                plan = lower
                break
    return plan


def _draught(plan: Plan) -> Plan:
    cold = plan.room.day_temperature_c - 8.0
    sides: tuple[Face, ...] = ("back", "left")
    beside = {
        face: Neighbour("a cold wall", cold, cold - 2.0)
        for face in sides
        if plan.enclosure.walls[face].material is not None
    }
    enclosure = replace(plan.enclosure, neighbours={**plan.enclosure.neighbours, **beside})
    return replace(plan, enclosure=enclosure)


def _cold_room(plan: Plan) -> Plan:
    room = plan.room
    return replace(
        plan,
        room=replace(
            room,
            day_temperature_c=room.day_temperature_c - 4.0,
            night_temperature_c=room.night_temperature_c - 4.0,
        ),
    )


def _probe_in_beam(plan: Plan) -> Plan:
    slab = plan.basking_slab
    if slab is None:
        return plan
    at = (slab.x_m, slab.y_m, plan.top_of(slab) + 0.03)
    return replace(plan, thermostats=tuple(replace(t, probe_m=at) for t in plan.thermostats))


FAULTS: dict[str, Fault] = {
    f.id: f
    for f in (
        Fault(
            "old_tube",
            "The UV lamp is worn out",
            "Fit a new UV lamp",
            "UV falls everywhere by the same share, and nothing else changes: it still shines.",
            _scaled("uv", 0.4),
        ),
        Fault(
            "fine_mesh",
            "The mesh of the lid is finer than planned",
            "Put the planned mesh on the lid",
            "UV and heat fall by the same share under everything above the lid.",
            _scaled("screen", 0.45),
        ),
        Fault(
            "weak_bulb",
            "The heat lamp has too few watts",
            "Fit the planned bulb",
            "The basking surface is cooler and the whole enclosure with it; UV is as planned.",
            _watts(0.55),
        ),
        Fault(
            "strong_bulb",
            "The heat lamp has too many watts",
            "Fit the planned bulb",
            "The basking surface is hotter and the whole enclosure with it; UV is as planned.",
            _watts(1.5),
        ),
        Fault(
            "spot",
            "The heat lamp is a spot in place of a flood",
            "Fit a flood",
            "The middle of the basking surface is far hotter, its corners are cooler.",
            _spot,
        ),
        Fault(
            "low_lamps",
            "The lamps hang a hand's breadth too low",
            "Hang them where the plan has them",
            "UV and surface rise together right below the lamps; the far end hardly changes.",
            _low,
        ),
        Fault(
            "draught",
            "Cold comes through the back and the left side",
            "Stop the draught",
            "Air falls in the enclosure while the room and the lamps are as planned.",
            _draught,
        ),
        Fault(
            "cold_room",
            "The room is colder than planned",
            "Warm the room as planned",
            "Everything falls by about as much, and the room thermometer says so.",
            _cold_room,
        ),
        Fault(
            "shut_vents",
            "The vents are shut",
            "Open the vents",
            "Air grows damp and warm while surfaces and UV are as planned.",
            _scaled("ventilation", 0.05),
        ),
        Fault(
            "probe_in_beam",
            "The thermostat's probe lies in the beam",
            "Put the probe back in its place",
            "The thermostat dims the lamp long before the enclosure is warm: all of it is too cold.",
            _probe_in_beam,
        ),
    )
}


@dataclass(frozen=True, slots=True)
class Puzzle:
    """An enclosure of the demo room with hidden ``faults``, and the ``choices`` offered as answers."""

    id: str
    title: str
    level: int
    story: str
    plan_id: str
    faults: tuple[str, ...]
    choices: tuple[str, ...]


PUZZLES: tuple[Puzzle, ...] = (
    Puzzle(
        "still-bright",
        "Still bright",
        1,
        "The lizard basks as always, but it has grown dull. The tube has hung there since the mill was "
        "opened, and shines as on the first day.",
        "collared-lizard",
        ("old_tube",),
        ("old_tube", "weak_bulb", "draught", "low_lamps"),
    ),
    Puzzle(
        "under-the-lamp",
        "Always under the lamp",
        1,
        "It hardly leaves its stone any more. A volunteer changed the bulb last week and threw the carton "
        "away.",
        "hermanns-tortoise",
        ("weak_bulb",),
        ("weak_bulb", "cold_room", "old_tube", "strong_bulb"),
    ),
    Puzzle(
        "new-lid",
        "A new lid",
        2,
        "The cage was given a new lid before the summer. Since then the chameleon climbs higher than ever.",
        "panther-chameleon",
        ("fine_mesh",),
        ("fine_mesh", "old_tube", "weak_bulb", "cold_room"),
    ),
    Puzzle(
        "tidied-up",
        "Someone tidied up",
        2,
        "After the weekend the cables were straight and the bulbs shone. Now it hardly leaves the water.",
        "crocodile-lizard",
        ("probe_in_beam",),
        ("probe_in_beam", "fine_mesh", "cold_room", "old_tube"),
    ),
    Puzzle(
        "one-hot-point",
        "One hot point",
        3,
        "It lies beside its stone and not on it. The bulb has the right watts, that was looked at first.",
        "hermanns-tortoise",
        ("spot",),
        ("spot", "strong_bulb", "low_lamps", "draught"),
    ),
    Puzzle(
        "north-wall",
        "The north wall",
        3,
        "In October the gecko left its favourite hide. Nobody has touched the enclosure.",
        "gargoyle-gecko",
        ("draught",),
        ("draught", "cold_room", "old_tube", "shut_vents"),
    ),
    Puzzle(
        "dial-says-thirty",
        "The dial says thirty",
        3,
        "The thermostat shows what it is set to, all day long, and the lizard is sluggish.",
        "collared-lizard",
        ("probe_in_beam",),
        ("probe_in_beam", "weak_bulb", "draught", "cold_room"),
    ),
    Puzzle(
        "two-at-once",
        "Two at once",
        4,
        "Two volunteers looked after the same cage for a month, and each changed one thing.",
        "panther-chameleon",
        ("old_tube", "weak_bulb"),
        ("old_tube", "weak_bulb", "fine_mesh", "cold_room", "spot"),
    ),
)


_USUAL = Hold()


def true_plan(plan: Plan, faults: Sequence[str]) -> Plan:
    """The plan with some faults in it."""
    for fault in faults:
        plan = FAULTS[fault].apply(plan)
    return plan


def bench_kit(puzzle_id: str) -> Kit:
    """The instruments that lie on the bench of a puzzle, each with its own bias."""
    return drawn_kit(np.random.default_rng(_seed(puzzle_id)))


def take_reading(
    enclosure: TrueEnclosure, puzzle_id: str, kind: Kind, at: Point | None, number: int, hold: Hold = _USUAL
) -> float:
    """A reading with the bench's instruments; the same number gives the same reading.

    Raises
    ------
    PlanError
        If the place is missing or outside the air of the enclosure.
    """
    kit = bench_kit(puzzle_id)
    rng = np.random.default_rng(_seed(f"{puzzle_id} {kind} {at} {number}"))
    try:
        return kit.read(enclosure, kind, at, rng, hold)
    except ValueError as error:
        if isinstance(error, PlanError):
            raise
        raise PlanError("", str(error)) from error


def thermostat_display(enclosure: TrueEnclosure, puzzle_id: str, thermostat_id: str, hour: float) -> float:
    """What a thermostat of the true enclosure shows at an hour, °C; KeyError if it has no such one."""
    rng = np.random.default_rng(_seed(f"{puzzle_id} {thermostat_id} {hour}"))
    sheet = drawn_sheet("air probe", np.random.default_rng(_seed(f"{puzzle_id} {thermostat_id}")))
    return ThermostatProbe(sheet).read(enclosure, thermostat_id, hour, rng)


def _seed(text: str) -> int:
    return int.from_bytes(hashlib.sha256(text.encode()).digest()[:8], "big")
