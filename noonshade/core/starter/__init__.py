"""A first layout of an enclosure from an animal's way of life, to be changed: walls, furnishing, heat, UV.

The lamp's watts and the UV lamp are chosen by computing them, the rest by rules of thumb. What the layout
comes to is for the checks to say.
"""

from __future__ import annotations

import math

from noonshade.core.assessment.checks import SEVERITIES
from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.suggest import Fix, iterate_fixes
from noonshade.core.needs.species import Species, StageId
from noonshade.core.plan import Animal, Plan, Room
from noonshade.core.plan_errors import plan_errors
from noonshade.core.starter.equip import with_heat, with_night_heat, with_uv
from noonshade.core.starter.furnish import Furnisher
from noonshade.core.starter.stock import BOX_KINDS, EnclosureKind, Size, Stock

# From this warm end on, °C, a closed enclosure keeps the warmth that mesh lids lose. Estimate.
WARM_C = 26.0


def fitting_size(species: Species, count: int = 1, stage: StageId = "adult") -> Size:
    """The least enclosure for a number of animals of a stage: half the floor more for each further one."""
    enclosure = species.enclosure_at(stage)
    # The area grows by a half with each animal more, shared between both sides. Estimate.
    more = math.sqrt(1.0 + 0.5 * (count - 1))
    return Size(
        *(round(m, 2) for m in (enclosure.length_m * more, enclosure.depth_m * more, enclosure.height_m))
    )


def fitting_kind(species: Species) -> EnclosureKind:
    """The kind of enclosure keepers most often build for such an animal."""
    habits = species.habits
    if species.group == "tortoise":
        return "table"
    if "aquatic" in habits or "half aquatic" in habits:
        return "glass"
    if species.group == "snake":
        return "pvc"
    animal = _animal(species, "adult")
    warm = animal.need(animal.warm_place, "air_temperature")
    if species.group in ("gecko", "invertebrate") and warm is not None and (warm.low or 0.0) >= WARM_C:
        return "pvc"
    if species.group == "lizard":
        return "mesh" if "climbing" in habits and "ground" not in habits else "timber"
    return "glass"


def first_layout(
    species: Species,
    stage: StageId,
    size: Size,
    kind: EnclosureKind,
    room: Room,
    stock: Stock,
    name: str,
    count: int = 1,
) -> Plan:
    """A furnished, heated and lit enclosure for an animal.

    Raises
    ------
    PlanError
        If an enclosure of that size cannot be furnished, naming its sizes.
    """
    animal = _animal(species, stage, count)
    builder = Furnisher(animal, size, kind, stock)
    plan = Plan(
        name=name,
        animal=animal,
        room=room,
        enclosure=builder.enclosure(),
        substrate=builder.substrate(),
        furnishings=builder.furnishings(),
        fixtures=(),
        thermostats=(),
        mistings=builder.mistings(),
    )
    # An animal that cannot even stretch along two walls.
    if plan_errors(plan) or size.length_m + size.depth_m < animal.body_length_m:
        raise PlanError(
            "/enclosure",
            f"an enclosure of {_sizes(size)} is too small for an animal {_cm(animal.body_length_m)} "
            f"long: at least {_sizes(fitting_size(species, count, stage))}",
        )
    plan = with_uv(plan, stock)
    plan = with_heat(plan, stock)
    return with_night_heat(plan, stock)


def next_fix(now: Evaluation, stock: Stock) -> Fix | None:
    """A change that fixes the worst failure that can be fixed without breaking anything."""
    lamps, meshes = tuple(stock.lamps.values()), tuple(stock.meshes.values())
    for target in sorted(now.failing, key=lambda one: -SEVERITIES.index(one.severity)):
        fix = iterate_fixes(now, target, lamps, meshes)
        if fix is not None and not fix.breaks:
            return fix
    return None


def _animal(species: Species, stage: StageId, count: int = 1) -> Animal:
    """So many animals of the usual size of a stage."""
    life = species.stage(stage)
    return Animal(species, life.body_length_m, life.back_height_m, life.id, count)


def _cm(metres: float) -> str:
    return f"{100 * metres:.0f} cm"


def _sizes(size: Size) -> str:
    return f"{100 * size.length_m:.0f} × {100 * size.depth_m:.0f} × {_cm(size.height_m)}"


__all__ = [
    "BOX_KINDS",
    "EnclosureKind",
    "Size",
    "Stock",
    "first_layout",
    "fitting_kind",
    "fitting_size",
    "next_fix",
]
