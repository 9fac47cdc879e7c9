"""Which heaters for the air could be strong enough: a rough sum before anything is computed.

The model says what a heater really does; this only decides which are looked at first.
"""

from __future__ import annotations

from collections.abc import Iterable

from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.room_needs import wanted_rises_k
from noonshade.core.design.shells import EnclosureKind
from noonshade.core.design.site import HeaterChoice, Site
from noonshade.core.plan import PanelSource

# What walls with the air along both sides let through, W/(m² K): glass 4 mm, PVC foam 10 mm, timber 15 mm,
# by their conductivity and films of 8 W/(m² K); mesh and open lids by the air that passes. Estimates.
WALL_W_M2_K: dict[EnclosureKind, float] = {
    "glass": 3.9,
    "pvc": 2.4,
    "timber": 2.7,
    "table": 2.7,
    "mesh": 15.0,
}
OPEN_LID_W_M2_K = 15.0
# The share of its watts that warms the air inside: of a mat on the outside of a wall, of a heater inside,
# of one over a mesh lid, whose warm air rises into the room. From computed enclosures, rounded.
MAT_SHARE, INSIDE_SHARE, ABOVE_MESH_SHARE = 0.4, 0.75, 0.08
# Enclosures with a floor from this on are large, m².
LARGE_M2 = 1.1
# A heater should be able to warm the air by so much more than is wanted.
MARGIN = 1.5
# Where surfaces may be this much warmer than the air or less, K, heat has to be spread. Estimate.
NARROW_K = 9.0
# Heaters that could do less than this share of what the night takes are too weak. Estimate.
TOO_WEAK = 1.0
# Without a heater air is no warmer than the room by more than this, K: by night, and by day from lamps for
# light.
NIGHT_K, DAY_K = -0.2, 4.0


def is_hopeless(arrangement: Arrangement) -> bool:
    """Whether nothing in an arrangement could warm air that has to be much warmer than the room.

    Parameters
    ----------
    arrangement : Arrangement
        What is decided.

    Returns
    -------
    bool
        True without a heater for the night, or without any, where one is wanted, and with one that is
        too weak by the rough sum.
    """
    lamp, air, site = arrangement.basking, arrangement.air, arrangement.site
    by_day, by_night = wanted_rises_k(site.animal, site.brief.room, lamp is not None)
    dark = [one for one in (lamp, air) if one is not None and not one.lamp.gives_light]
    if not dark and by_night > NIGHT_K:
        return True
    if dark and sum(rise_k(one, site) for one in dark) < TOO_WEAK * by_night:
        return True
    return air is None and lamp is None and by_day > DAY_K


def loss_w_k(site: Site) -> float:
    """What an enclosure loses for each degree it is warmer than the room, W/K.

    Parameters
    ----------
    site : Site
        Its sizes and kind.

    Returns
    -------
    float
        W/K, roughly.
    """
    long, deep, high = site.size.length_m, site.size.depth_m, site.size.height_m
    sides, lid = 2 * (long + deep) * high, long * deep
    wall = WALL_W_M2_K[site.kind]
    x0, x1, y0, y1 = (0.0, 0.0, 0.0, 0.0) if site.closed else site.open_lid
    free = (x1 - x0) * (y1 - y0)
    floor = min(wall, WALL_W_M2_K["glass"]) * lid
    return wall * (sides + lid - free) + floor + OPEN_LID_W_M2_K * free


def rise_k(choice: HeaterChoice, site: Site) -> float:
    """By how much a heater could warm the air, K, roughly.

    Parameters
    ----------
    choice : HeaterChoice
        With the most watts it is sold in.
    site : Site
        Where.

    Returns
    -------
    float
        K.
    """
    if choice.lamp.kind == "mat":
        share = MAT_SHARE
    else:
        share = INSIDE_SHARE if choice.positions[0][2] < site.size.height_m else ABOVE_MESH_SHARE
    return share * choice.most_w / loss_w_k(site)


def is_strong(choice: HeaterChoice, site: Site, basks: bool) -> bool:
    """Whether a heater could be strong enough for the coldest room, with a margin.

    Parameters
    ----------
    choice : HeaterChoice
        With the most watts it is sold in.
    site : Site
        Where.
    basks : bool
        Whether a lamp over the basking spot warms the warm end.

    Returns
    -------
    bool
        By the rough sum.
    """
    # A lamp over a spot does not warm the whole end of a large enclosure.
    alone = basks and site.size.length_m * site.size.depth_m < LARGE_M2
    return rise_k(choice, site) >= MARGIN * max(wanted_rises_k(site.animal, site.brief.room, alone))


def is_narrow(site: Site) -> bool:
    """Whether surfaces may be little warmer than the air is to be.

    Parameters
    ----------
    site : Site
        With the animal.

    Returns
    -------
    bool
        Then heat has to come from wide or from many heaters.
    """
    ceiling = site.animal.need("reachable", "surface_temperature")
    air = site.animal.need(site.animal.warm_place, "air_temperature")
    if ceiling is None or ceiling.high is None or air is None or air.low is None:
        return False
    return ceiling.high - air.low < NARROW_K


def strong_first(choices: Iterable[HeaterChoice], site: Site, basks: bool) -> list[HeaterChoice]:
    """Heaters that could be strong enough in their order, then the others, the strongest first.

    Parameters
    ----------
    choices : Iterable[HeaterChoice]
        In the order keepers would think of them.
    site : Site
        Where.
    basks : bool
        Whether a lamp over the basking spot warms the warm end.

    Returns
    -------
    list[HeaterChoice]
        All of them.
    """

    narrow = is_narrow(site)

    def key(choice: HeaterChoice) -> float:
        strong = is_strong(choice, site, basks)
        if narrow and choice.lamp.kind != "mat" and isinstance(choice.lamp.geometry, PanelSource):
            # A dome as strong would make too hot what lies below it.
            strong = strong or len(choice.positions) > 1
        return 0.0 if strong else -rise_k(choice, site) + 1e3

    return sorted(choices, key=key)
