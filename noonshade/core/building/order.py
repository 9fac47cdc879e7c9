"""In which order an enclosure is set up, with the figures of the plan."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from noonshade.core.building.ground import ground_amounts, ground_kg, laying_steps
from noonshade.core.building.parts import hours_of
from noonshade.core.phrase import Measure, Phrase, clock
from noonshade.core.plan import (
    Background,
    Branch,
    Fixture,
    Hide,
    Leaves,
    Plan,
    Slab,
    Thermostat,
    Vent,
    Water,
)

# Density of water, kg/m³.
_WATER = 1000.0


@dataclass(frozen=True, slots=True)
class SetupStep:
    """One thing to do: a heading, particulars one by one, and why it comes here."""

    id: str
    title: str
    details: tuple[Phrase, ...]
    why: str = ""


def setup_steps(plan: Plan) -> tuple[SetupStep, ...]:
    """The steps in order, from the empty rack to the animal.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[SetupStep, ...]
        The steps, each with its details and its reason.
    """
    return tuple(_steps(plan))


def load_kg(plan: Plan) -> float:
    """Load on the rack: walls, ground, stone, wood and water, kg. Without lamps.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        Mass of the enclosure with all in it but lamps, kg.
    """
    enclosure, mass = plan.enclosure, 0.0
    for face, wall in enclosure.walls.items():
        along, across = enclosure.size_of(face)
        if wall.material is not None:
            mass += along * across * wall.thickness_m * wall.material.density_kg_m3
    mass += ground_kg(plan)
    for item in plan.furnishings:
        if isinstance(item, Water):
            mass += item.length_m * item.width_m * item.depth_m * _WATER
        elif isinstance(item, Slab):
            volume = item.length_m * item.width_m * item.thickness_m
            if item.stack is not None:
                volume += item.stack.length_m * item.stack.width_m * item.underside_m
            mass += volume * item.material.density_kg_m3
    return mass


def _steps(plan: Plan) -> Iterator[SetupStep]:
    yield SetupStep(
        "stand",
        "Put the enclosure where it will stay",
        (
            (f"Level, on a stand for at least {load_kg(plan):.0f} kg filled.",),
            ("Out of the sun from a window, and out of draughts.",),
        ),
        "A filled enclosure is not moved again.",
    )
    linings = [f for f in plan.furnishings if isinstance(f, Background)]
    if linings or plan.enclosure.vents:
        details: list[Phrase] = [(f"{lining.label} on the {lining.side}.",) for lining in linings]
        details += [_vent(v) for v in plan.enclosure.vents]
        yield SetupStep("walls", "Linings and vents", tuple(details), "Before anything stands in the way.")
    if plan.fixtures:
        yield SetupStep(
            "supply",
            "Have the supply made safe",
            (
                ("Residual-current device, fixed fittings, a drip loop in every lead, no loose leads.",),
                ("Smoke alarm in the room.",),
            ),
            "By a qualified electrician and your local code.",
        )
        yield SetupStep(
            "lamps",
            "Fit the lamps and heaters",
            tuple(_hung(plan, f) for f in plan.fixtures),
            "While the enclosure is empty: every fitting screwed down, every guard on.",
        )
    heavy = [f for f in plan.furnishings if isinstance(f, Slab)]
    if heavy:
        yield SetupStep(
            "stones",
            "Set the stones and slabs",
            tuple(_slab(plan, slab) for slab in heavy),
            "On the enclosure's floor or on their own feet, not on loose ground: animals dig under them.",
        )
    if ground_amounts(plan):
        yield SetupStep(
            "ground",
            "Fill in the ground",
            tuple(laying_steps(plan)),
            "Every centimetre too much lifts the animal towards the lamps.",
        )
    rest = [f for f in plan.furnishings if not isinstance(f, Slab | Background)]
    if rest:
        yield SetupStep(
            "furnish",
            "Place hides, branches, cover and water",
            tuple(_placed(item) for item in rest),
            "A refuge at both ends, so that no animal must choose between safe and warm.",
        )
    if plan.thermostats:
        yield SetupStep(
            "control",
            "Fix the probes and set the thermostats",
            tuple(_probe(plan, t) for t in plan.thermostats),
            "A probe that falls off lets the heater run on.",
        )
    if plan.fixtures:
        own = [f for f in plan.fixtures if f.timer or f.lit != "day"]
        yield SetupStep(
            "timers",
            "Set the timers",
            (
                (f"Day from {clock(plan.dawn)} to {clock(plan.dusk)} ({plan.photoperiod_h:g} h).",),
                *((f"{f.label}: {hours_of(plan, f)}.",) for f in own),
            ),
        )
    yield SetupStep(
        "test",
        "Run it empty for some days, and measure",
        (
            ("Surfaces with the infrared thermometer, from the ground up.",),
            ("Air at both ends with a probe that keeps the highest and lowest.",),
            *(
                (("UV index at the animal's back, at every perch and in every refuge.",),)
                if _uv(plan)
                else ()
            ),
            ("Thermostats: do they switch off?",),
        ),
        "A plan that was never measured is not to be trusted.",
    )
    yield SetupStep(
        "animal",
        "Let the animal move in",
        (("Then leave it alone for about a week; first meal before first handling.",),),
    )


def _vent(vent: Vent) -> Phrase:
    height: Phrase = (f"Vent on the {vent.side}: middle ", Measure(vent.z_m, "m"), " up")
    if vent.side in ("front", "back"):
        return (*height, ", ", Measure(vent.x_m, "m"), " from the left.")
    return (*height, ".")


def _uv(plan: Plan) -> bool:
    return any(f.lamp.uv is not None for f in plan.fixtures)


def _hung(plan: Plan, fixture: Fixture) -> Phrase:
    x, y, z = fixture.position_m
    name = f"{fixture.label} ({fixture.lamp.label}, {fixture.power_w:g} W): "
    guard = ", with its guard" if fixture.guard else ""
    if fixture.against is not None:
        place = (
            "under the floor"
            if fixture.against == "floor"
            else f"against the outside of the {fixture.against}"
        )
        return (name + place + ", ", Measure(x, "m"), " from the left", guard + ".")
    return (
        name,
        Measure(z - plan.substrate.depth_m, "m"),
        " above the ground, ",
        Measure(x, "m"),
        " from the left, ",
        Measure(y, "m"),
        f" from the front{guard}.",
    )


def _slab(plan: Plan, slab: Slab) -> Phrase:
    return (
        f"{slab.label}: upper side ",
        Measure(plan.top_of(slab), "m"),
        " above the floor, middle ",
        Measure(slab.x_m, "m"),
        " from the left, ",
        Measure(slab.y_m, "m"),
        " from the front.",
    )


def _placed(item: Branch | Hide | Leaves | Water) -> Phrase:
    if isinstance(item, Branch):
        (ax, _, az), (bx, _, bz) = item.start_m, item.end_m
        return (
            f"{item.label}: from ",
            Measure(ax, "m"),
            " along and ",
            Measure(az, "m"),
            " up, to ",
            Measure(bx, "m"),
            " along and ",
            Measure(bz, "m"),
            " up; fixed so that it cannot turn.",
        )
    place: Phrase = (
        f"{item.label}: middle ",
        Measure(item.x_m, "m"),
        " from the left, ",
        Measure(item.y_m, "m"),
        " from the front",
    )
    if isinstance(item, Leaves) and item.underside_m > 0:
        return (*place, ", lowest leaves ", Measure(item.underside_m, "m"), " above the ground.")
    return (*place, ".")


def _probe(plan: Plan, thermostat: Thermostat) -> Phrase:
    x, y, z = thermostat.probe_m
    set_points: list[str | Measure] = []
    for word, point in (("day", thermostat.day_set_point_c), ("night", thermostat.night_set_point_c)):
        set_points += [f"{'; ' if word == 'day' else ', '}{word} "]
        set_points += ["off"] if point is None else [Measure(point, "°C")]
    return (
        f"{thermostat.label}: probe ",
        Measure(z - plan.substrate.depth_m, "m"),
        " above the ground, ",
        Measure(x, "m"),
        " from the left, ",
        Measure(y, "m"),
        " from the front",
        *set_points,
        ".",
    )
