"""Ways of life a design asks for: moist or dry, in water, laying in the ground."""

from __future__ import annotations

from noonshade.core.plan import Animal

# The cool end's least humidity from which an animal counts as one of moist places.
HUMID_FROM = 0.5
# Groups whose skin rots on wet ground.
LYING = ("lizard", "gecko", "snake", "tortoise")
# Nights that moist are reached by spraying in the evening in a usual room. Estimate.
MOIST_NIGHT_FROM = 0.55
# From this on its ground may have to be kept a little damp in a heated enclosure.
DAMP_FROM = 0.38


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


def may_be_wet(animal: Animal) -> bool:
    """Whether wet ground does an animal no harm.

    Parameters
    ----------
    animal : Animal
        The animal.

    Returns
    -------
    bool
        False for reptiles that lie on it.
    """
    lies = animal.species.group in LYING and not animal.lives_by_height
    return not lies or is_wet(animal)
