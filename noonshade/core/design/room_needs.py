"""What a room leaves to be done for an animal: by how much it is by itself too cold, too warm, too dry."""

from __future__ import annotations

import math

from noonshade.core.moisture.vapour import humidity_at, vapour_density
from noonshade.core.plan import Animal, Room

# Air is this much warmer than it must be, K, and humidity should be so much more than the least. Estimates.
DRY_K, DRY_MARGIN = 2.0, 1.15
# Places a basking lamp warms.
LAMP_WARMS = ("basking", "warm_end")


def coolest_room(room: Room) -> tuple[float, float]:
    """The coolest day and the coolest night of a room, in any of its months.

    Parameters
    ----------
    room : Room
        The room.

    Returns
    -------
    tuple of (float, float)
        °C.
    """
    days = [room.day_temperature_c, *(m.day_temperature_c for m in room.months)]
    nights = [room.night_temperature_c, *(m.night_temperature_c for m in room.months)]
    return min(days), min(nights)


def wanted_rises_k(animal: Animal, room: Room, basks: bool) -> tuple[float, float]:
    """By how much air has to be warmer than the coolest room, where no basking lamp does it.

    Parameters
    ----------
    animal : Animal
        With its needs.
    room : Room
        The room.
    basks : bool
        Whether a lamp over the basking spot warms the warm end.

    Returns
    -------
    tuple of (float, float)
        By day and by night, K; below 0 where the room is warmer.
    """
    day, night = coolest_room(room)
    by_day = by_night = -math.inf
    for need in animal.needs:
        if need.quantity != "air_temperature" or need.low is None or not need.required:
            continue
        if need.place == "night":
            by_night = max(by_night, need.low - night)
        elif not basks or need.place not in LAMP_WARMS:
            by_day = max(by_day, need.low - day)
    return by_day, by_night


def spares_k(animal: Animal, room: Room) -> tuple[float, float]:
    """How much warmer than the warmest room the cool place may be.

    Parameters
    ----------
    animal : Animal
        With its needs.
    room : Room
        The room.

    Returns
    -------
    tuple of (float, float)
        By day and by night, K: below 0 where the room by itself is too warm; infinite without a limit.
    """
    day = max([room.day_temperature_c, *(m.day_temperature_c for m in room.months)])
    night = max([room.night_temperature_c, *(m.night_temperature_c for m in room.months)])
    cool, late = animal.need(animal.cool_place, "air_temperature"), animal.need("night", "air_temperature")
    by_day = math.inf if cool is None or cool.high is None else cool.high - day
    by_night = math.inf if late is None or late.high is None else late.high - night
    return by_day, by_night


def dries_out(animal: Animal, room: Room) -> bool:
    """Whether air of the room, warmed to what the cool place needs, is drier than the animal may have it.

    Parameters
    ----------
    animal : Animal
        With its needs.
    room : Room
        The room.

    Returns
    -------
    bool
        In any of its months.
    """
    air, damp = (
        animal.need(animal.cool_place, "air_temperature"),
        animal.need(animal.cool_place, "humidity"),
    )
    if air is None or damp is None or air.low is None or damp.low is None:
        return False
    times = [(room.day_temperature_c, room.relative_humidity)]
    times += [(m.day_temperature_c, m.relative_humidity) for m in room.months]
    return any(
        humidity_at(vapour_density(humidity, day), max(day, air.low + DRY_K)) < DRY_MARGIN * damp.low
        for day, humidity in times
    )
