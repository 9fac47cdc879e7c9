"""An arrangement in the room of another month: what may be set there, and what it is best set to."""

from __future__ import annotations

from collections.abc import Mapping

from noonshade.core.design.search import Found, Search
from noonshade.core.design.shells import EnclosureKind
from noonshade.core.plan import Room

# Of its watts now, a basking lamp burns with so much in any month.
LEAST_BASKING = 0.4
# Kinds with vents that slide: how wide they are open is a matter of the season.
SLIDING: tuple[EnclosureKind, ...] = ("timber", "pvc")


def has_sliding_vents(found: Found) -> bool:
    """Whether vents of an arrangement can be opened and closed by season.

    Parameters
    ----------
    found : Found
        The arrangement.

    Returns
    -------
    bool
        Of new ones of timber or PVC.
    """
    site = found.arrangement.site
    return site.brief.given is None and site.kind in SLIDING


def extreme_rooms(room: Room) -> tuple[Room, Room]:
    """A room as it is in its coldest and in its warmest month.

    Parameters
    ----------
    room : Room
        With its months.

    Returns
    -------
    tuple of (Room, Room)
        With the climate of each.
    """
    by_warmth = sorted(room.months, key=lambda c: c.day_temperature_c + c.night_temperature_c)
    return room.with_climate(by_warmth[0]), room.with_climate(by_warmth[-1])


def search_in(
    found: Found, room: Room, rounds: int, offsets: Mapping[str, float] | None = None
) -> Found | None:
    """What an arrangement is best set to in another room, built as it is now.

    Parameters
    ----------
    found : Found
        Its settings now.
    room : Room
        The other room.
    rounds : int
        Of the search, at most.
    offsets : Mapping[str, float] or None
        What figures are off by, by the id of their check.

    Returns
    -------
    Found or None
        None where nothing could be computed.
    """
    fixed = {k: v for k, v in found.values.items() if k == "openness" and not has_sliding_vents(found)}
    # A basking lamp stays on all year.
    lamp = found.arrangement.basking
    least = {}
    if lamp is not None and lamp.lamp.gives_light:
        least["basking_w"] = LEAST_BASKING * found.values.get("basking_w", 0.0)
    return Search(found.arrangement, room, fixed, offsets, least).run(found, rounds=rounds)
