"""The ground to buy and to lay: litres, bags, bricks and mass of each material, sheets, water."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from noonshade.core.moisture.watering import damp_water_l_m2
from noonshade.core.phrase import Measure, Phrase, capitalized, uncapitalized
from noonshade.core.plan import Layer, Plan, SolidMaterial

# Sizes substrate is commonly sold in, litres. Estimate.
BAG_SIZES_L = (5, 10, 20, 25, 40, 50, 60, 70)
# Pressed bricks are commonly sold of these masses, kg. Estimate.
BRICK_SIZES_KG = (0.65, 5.0)
# Loose ground settles; so much more is bought than the finished depth holds. Estimate.
SETTLING = 0.10
# A bag more is carried only where it saves this share of what is wanted. Estimate.
BAG_WORTH = 0.05
# A sheet between layers goes up the walls by so much, m, so that soil does not run past it. Estimate.
SHEET_MARGIN_M = 0.05
# Litres of warm water a kilogram of a pressed brick takes up, and for how long. Estimates.
SOAK_L_PER_KG, SOAK_MINUTES = 6.0, 30
# Ground that burrows are dug in is packed in lifts of this depth, m. Estimate.
LIFT_M = 0.05
# Less ground than this is a cover, such as paper, not poured, litres.
LEAST_L = 1.0


@dataclass(frozen=True, slots=True)
class Bags:
    """Substrate to buy: litres in place, litres with settling, and bags as (litres, how many)."""

    in_place_l: float
    to_buy_l: float
    bags: tuple[tuple[int, int], ...]
    mass_kg: float

    @property
    def bought_l(self) -> int:
        """Litres in the bags together."""
        return sum(size * count for size, count in self.bags)


@dataclass(frozen=True, slots=True)
class Amount:
    """A material of the ground: how much of it all layers take, and how it is bought.

    ``bricks`` are pressed ones as (kilograms, how many), instead of bags.
    """

    material: SolidMaterial
    bags: Bags
    bricks: tuple[tuple[float, int], ...] = ()

    @property
    def soaking_l(self) -> float:
        """Warm water the bricks take up before they are used, litres."""
        return SOAK_L_PER_KG * sum(size * count for size, count in self.bricks)


def floor_m2(plan: Plan) -> float:
    """Area of the floor, m².

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        Area, m².
    """
    return plan.enclosure.length_m * plan.enclosure.depth_m


def parts_of(layer: Layer) -> tuple[tuple[SolidMaterial, float], ...]:
    """What a layer is mixed from, as shares of its volume.

    Parameters
    ----------
    layer : Layer
        The layer.

    Returns
    -------
    tuple of SolidMaterial and float
        Shares that sum to 1.
    """
    if not layer.parts:
        return ((layer.material, 1.0),)
    total = sum(count for _, count in layer.parts)
    return tuple((material, count / total) for material, count in layer.parts)


def ground_amounts(plan: Plan) -> tuple[Amount, ...]:
    """How much of each material the ground takes, in the order of its layers.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple of Amount
        None for a floor that is bare or only covered.
    """
    litres: dict[str, float] = {}
    known: dict[str, SolidMaterial] = {}
    for layer in plan.substrate.layers:
        for material, share in parts_of(layer):
            known[material.id] = material
            more = 1000.0 * floor_m2(plan) * layer.depth_m * share
            litres[material.id] = litres.get(material.id, 0.0) + more
    if sum(litres.values()) < LEAST_L:
        return ()
    found = []
    for key, in_place in litres.items():
        material = known[key]
        wanted = in_place * (1.0 + SETTLING)
        mass = in_place / 1000.0 * material.density_kg_m3
        bags = Bags(in_place, wanted, _fewest(wanted), mass)
        bricks = _bricks(wanted / material.swells_l_kg) if material.swells_l_kg > 0 else ()
        found.append(Amount(material, bags, bricks))
    return tuple(found)


def ground_kg(plan: Plan) -> float:
    """Mass of all layers in place, kg.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        Mass, kg.
    """
    return sum(amount.bags.mass_kg for amount in ground_amounts(plan))


def sheets(plan: Plan) -> tuple[tuple[float, float], ...]:
    """Length and width of each sheet between layers, m, with what goes up the walls.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple of float and float
        One for each layer with a sheet on it.
    """
    size = (plan.enclosure.length_m + 2 * SHEET_MARGIN_M, plan.enclosure.depth_m + 2 * SHEET_MARGIN_M)
    return tuple(size for layer in plan.substrate.below if layer.barrier)


def moistening_l(plan: Plan) -> float:
    """Water that makes dry ground damp, litres: less where what was bought is moist already.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        Litres; 0 where the ground is planned dry. Layers under a sheet are drainage and stay dry.
    """
    return floor_m2(plan) * damp_water_l_m2(plan.substrate)


def laying_steps(plan: Plan) -> Iterator[Phrase]:
    """What is done to lay the ground, from the bottom up.

    Parameters
    ----------
    plan : Plan
        The plan.

    Yields
    ------
    Phrase
        A sentence each.
    """
    for amount in ground_amounts(plan):
        if amount.bricks:
            yield (
                f"Soak the {_name(amount.material)}, {_counted(amount)}, in ",
                Measure(amount.soaking_l, "L"),
                f" of warm water for about {SOAK_MINUTES} minutes, and loosen it.",
            )
    layers = plan.substrate.layers
    for place, layer in reversed(list(enumerate(layers))):
        litres = 1000.0 * floor_m2(plan) * layer.depth_m
        if litres < LEAST_L:
            continue
        where = "" if len(layers) == 1 else "at the bottom: " if place == len(layers) - 1 else "then "
        deep: Phrase = (Measure(layer.depth_m, "m"), " deep when settled (", Measure(litres, "L"), ").")
        if layer.parts:
            yield (capitalized(f"{where}a mix of "), *_mixed(layer, litres), ": ", *deep)
        else:
            yield (capitalized(f"{where}{_name(layer.material)}, "), *deep)
        if layer.barrier:
            length, width = sheets(plan)[0]
            yield (
                "On it the sheet, ",
                Measure(length, "m"),
                " × ",
                Measure(width, "m"),
                ", its edges up the walls.",
            )
    water = moistening_l(plan)
    if water > 0:
        yield (
            "Work in up to ",
            Measure(water, "L"),
            " of water, little by little: a handful, squeezed, keeps its shape and gives a drop or two. "
            "If it runs, it is too wet; if it falls apart, too dry.",
        )
    if plan.animal.digs:
        yield (
            "It digs: press the damp ground down firmly in lifts of ",
            Measure(LIFT_M, "m"),
            ", and start a burrow with a stick where it is to be.",
        )
    for zone in plan.substrate.zones:
        damper = zone.wetness > plan.substrate.wetness
        yield (
            f"{zone.label}: ",
            Measure(zone.length_m, "m"),
            " × ",
            Measure(zone.width_m, "m"),
            ", middle ",
            Measure(zone.x_m, "m"),
            " from the left, ",
            Measure(zone.y_m, "m"),
            f" from the front; it is kept {'damper' if damper else 'drier'} than the rest.",
        )


def _mixed(layer: Layer, litres: float) -> Phrase:
    said: list[str | Measure] = []
    parts = parts_of(layer)
    for i, (material, share) in enumerate(parts):
        joint = "" if i == 0 else " and " if i == len(parts) - 1 else ", "
        said += [joint, Measure(litres * share * (1.0 + SETTLING), "L"), f" {_name(material)}"]
    return tuple(said)


def packed(amount: Amount) -> str:
    """Bags or bricks of a material, in words.

    Parameters
    ----------
    amount : Amount
        The material.

    Returns
    -------
    str
        "2 × 40 L + 1 × 10 L", "1 brick of 5 kg".
    """
    if amount.bricks:
        return _counted(amount)
    return " + ".join(f"{count} × {size} L" for size, count in amount.bags.bags)


def _counted(amount: Amount) -> str:
    return " and ".join(
        f"{count} brick{'s' if count > 1 else ''} of {size:g} kg" for size, count in amount.bricks
    )


def _name(material: SolidMaterial) -> str:
    return uncapitalized(material.label.partition(",")[0])


def _bricks(mass_kg: float) -> tuple[tuple[float, int], ...]:
    """Large bricks while one is nearly used up, small ones for the rest."""
    small, large = BRICK_SIZES_KG
    count = math.floor(mass_kg / large)
    rest = mass_kg - count * large
    few = math.ceil(rest / small - 1e-9)
    if few * small >= large:
        return ((large, count + 1),)
    return tuple(pair for pair in ((large, count), (small, few)) if pair[1] > 0)


def _fewest(wanted_l: float) -> tuple[tuple[int, int], ...]:
    """Of all mixtures of at most two sizes of bag the one with the least left over.

    A bag more counts as ``BAG_WORTH`` of what is wanted.
    """
    best: tuple[float, int, tuple[tuple[int, int], ...]] | None = None
    for large in BAG_SIZES_L:
        for count in range(math.ceil(wanted_l / large) + 1):
            rest = wanted_l - large * count
            if rest <= 0:
                mixture: tuple[tuple[int, int], ...] = ((large, count),)
                options = [mixture]
            else:
                options = [
                    tuple(p for p in ((large, count), (small, math.ceil(rest / small))) if p[1])
                    for small in BAG_SIZES_L
                    if small < large or count == 0
                ]
            for option in options:
                over = sum(size * n for size, n in option) - wanted_l
                bags = sum(n for _, n in option)
                rank = (over + BAG_WORTH * wanted_l * bags, bags, option)
                if best is None or rank < best:
                    best = rank
    assert best is not None
    return tuple(sorted(best[2], reverse=True))
