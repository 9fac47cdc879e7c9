"""Needs that follow from others and from an animal's way of life: the ceiling of surfaces, the gradient."""

from __future__ import annotations

from collections.abc import Iterable

from noonshade.core.needs.species import Group, Habit, Laying, Need, PlaceKind, School, Species, StageId
from noonshade.core.needs.weighing import needs_for

# The hottest a surface may be that an animal lies on, by group, °C, where it is not known to bask on hotter
# ones. Estimates: what keepers take as the upper end for animals that warm themselves little.
GROUP_CEILING_C: dict[Group, float] = {
    "lizard": 42.0,
    "gecko": 36.0,
    "snake": 35.0,
    "tortoise": 42.0,
    "turtle": 40.0,
    "frog": 30.0,
    "salamander": 24.0,
    "invertebrate": 34.0,
}
# What the warmest and the coolest place to be must differ by for an animal to have a choice, K. Estimates:
# for those that live by their warmth, and for those of cool places.
GRADIENT_K, COOL_GRADIENT_K = 3.0, 1.0
# Stages that live in water whatever the animal does later.
WATER_STAGES: tuple[StageId, ...] = ("larva", "aquatic")
_GRADIENT_SOURCE = "an animal regulates its warmth by moving: warm and cool places must really differ"
_BETWEEN = "between what it needs at its upper and at its lower perches"
# Air in the box a gravid female lays in, share. Estimate: moss that drips no more when squeezed.
LAYING_HUMIDITY = (0.75, 1.0)
_BY_HEIGHT: dict[PlaceKind, PlaceKind] = {"warm_end": "upper", "cool_end": "lower"}


def lives_by_height(habits: Iterable[Habit]) -> bool:
    """Whether an animal chooses its warmth by height, as climbers do that stay off the ground.

    Parameters
    ----------
    habits : Iterable[Habit]
        Where it lives.

    Returns
    -------
    bool
        True for climbers that neither live on the ground, dig nor swim.
    """
    found = set(habits)
    return "climbing" in found and not {"ground", "half aquatic", "aquatic", "digging"} & found


def stage_needs(
    species: Species,
    stage: StageId = "adult",
    school: School = "overlap",
    low_pigment: bool = False,
) -> tuple[Need, ...]:
    """Everything an animal needs at a stage of life, at the places it lives by.

    Parameters
    ----------
    species : Species
        The species.
    stage : StageId
        Stage of life.
    school : School
        How sources that differ are weighed.
    low_pigment : bool
        Whether the animal has little pigment, or hurt eyes or skin.

    Returns
    -------
    tuple[Need, ...]
        What its sources claim, settled by the school, and what follows: ceiling and gradient.
    """
    habits = species.habits_at(stage)
    stated = needs_for(species, stage, school, low_pigment)
    if habits == ("aquatic",) and stage in WATER_STAGES:
        # On land nothing is wanted of an animal that lives in water at this stage.
        stated = tuple(n for n in stated if n.place in ("water", "basking") or n.quantity == "uvi")
    found = placed(stated, lives_by_height(habits))
    if stage == "gravid" and species.laying is not None and species.laying.place == "moist box":
        found = (*(n for n in found if n.place != "moist_hide"), _laying_box(species.laying))
    gradient = gradient_of(species, habits)
    return (*found, ceiling_of(species, found), *([] if gradient is None else [gradient]))


def _laying_box(laying: Laying) -> Need:
    low, high = LAYING_HUMIDITY
    return Need("moist_hide", "humidity", low, high, laying.grade, laying.source)


def placed(needs: Iterable[Need], by_height: bool) -> tuple[Need, ...]:
    """Needs at the places an animal lives by: ends of the enclosure, or its heights.

    Parameters
    ----------
    needs : Iterable[Need]
        Needs as the catalogue states them, by ends.
    by_height : bool
        Whether the animal chooses by height.

    Returns
    -------
    tuple[Need, ...]
        The same needs, those of the ends at the upper and lower perches for animals that live by height.
        Air at middle perches may be whatever it may be above or below them.
    """
    if not by_height:
        return tuple(needs)
    found = [n.at(_BY_HEIGHT.get(n.place, n.place)) for n in needs]
    air = {n.place: n for n in found if n.quantity == "air_temperature"}
    if "upper" in air and "lower" in air:
        upper, lower = air["upper"], air["lower"]
        middle = Need(
            "middle", "air_temperature", lower.low, upper.high, "estimate", _BETWEEN, offered=upper.offered
        )
        found.insert(found.index(upper) + 1, middle)
    return tuple(found)


def ceiling_of(species: Species, needs: Iterable[Need]) -> Need:
    """The hottest any surface the animal can reach may be, basking or not, by day and by night.

    Parameters
    ----------
    species : Species
        The species.
    needs : Iterable[Need]
        Its needs.

    Returns
    -------
    Need
        Of surfaces at ``reachable``: what is stated, else the upper end of its basking, else that of its
        group.
    """
    stated = species.ceiling_c
    basking = next((n for n in needs if n.place == "basking" and n.quantity == "surface_temperature"), None)
    if basking is not None and basking.high is not None:
        high = basking.high if stated is None else max(stated, basking.high)
        return Need(
            "reachable", "surface_temperature", None, high, basking.grade, basking.source, note=basking.note
        )
    if stated is None:
        stated = min(GROUP_CEILING_C[species.group], max(species.highest_safe_c, 24.0))
    return Need("reachable", "surface_temperature", None, stated, "estimate", species.ceiling_source)


def gradient_of(species: Species, habits: tuple[Habit, ...]) -> Need | None:
    """How much the places an animal chooses from must differ; None where it lives in water alone.

    Parameters
    ----------
    species : Species
        The species.
    habits : tuple[Habit, ...]
        Where it lives at its stage of life.

    Returns
    -------
    Need or None
        A gradient of the whole enclosure; offered, not required, where heat is not needed.
    """
    if habits == ("aquatic",):
        return None
    cool = species.is_cool_climate or species.heat != "needed"
    least = COOL_GRADIENT_K if cool else GRADIENT_K
    return Need("enclosure", "gradient", least, None, "estimate", _GRADIENT_SOURCE, offered=cool)
