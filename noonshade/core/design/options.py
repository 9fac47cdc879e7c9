"""Which arrangements are worth computing for a brief, the most usual first."""

from __future__ import annotations

import math
from collections.abc import Iterator

from noonshade.core.design.arrangement import Arrangement, bare_plan
from noonshade.core.design.brief import Brief
from noonshade.core.design.furnishing import Furnisher, is_humid, layouts_for
from noonshade.core.design.heaters import Site, air_choices, basking_choices
from noonshade.core.design.lighting import light_choices
from noonshade.core.design.shells import (
    HALF_LID,
    OPEN_LID,
    STRIP_LID,
    EnclosureKind,
    Size,
    Stock,
    usual_kind,
)
from noonshade.core.errors import PlanError
from noonshade.core.needs.derived import WATER_STAGES
from noonshade.core.needs.species import Species, StageId
from noonshade.core.plan import Room
from noonshade.core.plan_errors import plan_errors

# An enclosure of another kind than keepers usually build is worth so many steps away from what is usual.
OTHER_KIND = 4
# What a lamp over a basking spot, or a heater on a wall, takes at least, m. Estimates.
LAMP_ROOM = Size(0.6, 0.4, 0.45)
HEATER_ROOM = Size(0.3, 0.3, 0.3)
# How many kinds of basking heater and of air heater are tried at each site.
MOST_BASKING, MOST_AIR, MOST_AIR_ALONE = 3, 1, 4


def least_size(species: Species, count: int = 1, stage: StageId = "adult") -> Size:
    """The least enclosure for a number of animals of a stage: half the floor more for each further one.

    Parameters
    ----------
    species : Species
        The species.
    count : int
        How many share it.
    stage : StageId
        Stage of life.

    Returns
    -------
    Size
        Inside sizes, m.
    """
    enclosure = species.enclosure_at(stage)
    # The area grows by a half with each animal more, shared between both sides. Estimate.
    more = math.sqrt(1.0 + 0.5 * (count - 1))
    return Size(
        *(round(m, 2) for m in (enclosure.length_m * more, enclosure.depth_m * more, enclosure.height_m))
    )


def fitting_size(species: Species, count: int = 1, stage: StageId = "adult") -> Size:
    """The enclosure to build where the keeper has none: the least, with room for a lamp or a heater.

    Parameters
    ----------
    species : Species
        The species.
    count : int
        How many share it.
    stage : StageId
        Stage of life.

    Returns
    -------
    Size
        Inside sizes, m; never above those of an adult's enclosure where the least is not.
    """
    least, grown = least_size(species, count, stage), species.enclosure
    if species.heat != "needed" or stage in WATER_STAGES:
        return least
    basks = species.active == "day" and species.light != "avoided" and species.group != "snake"
    room = LAMP_ROOM if basks else HEATER_ROOM
    return Size(
        max(least.length_m, min(grown.length_m, room.length_m)),
        max(least.depth_m, min(grown.depth_m, room.depth_m)),
        max(least.height_m, min(grown.height_m, room.height_m)),
    )


def kinds_for(brief: Brief) -> tuple[EnclosureKind, ...]:
    """Kinds of enclosure to try: the keeper's, or the usual one and what holds warmth or moisture better.

    Parameters
    ----------
    brief : Brief
        The brief.

    Returns
    -------
    tuple[EnclosureKind, ...]
        At least one.
    """
    if brief.kind is not None:
        return (brief.kind,)
    size = brief.size or fitting_size(brief.species, brief.count, brief.stage)
    usual = usual_kind(brief.species, brief.stage, size)
    humid = is_humid(brief.animal)
    if usual == "table":
        # Tortoises of warm or moist countries live in closed chambers indoors.
        return ("timber", "table") if humid else ("table", "timber")
    if usual == "glass":
        return ("glass", "pvc")
    if usual == "pvc":
        return ("pvc", "glass") if humid else ("pvc", "timber")
    return (usual, "glass" if humid else "timber") if usual == "mesh" else (usual, "pvc")


def sites_for(brief: Brief, stock: Stock) -> Iterator[Site]:
    """Every site worth trying.

    Parameters
    ----------
    brief : Brief
        The brief.
    stock : Stock
        What can be used.

    Yields
    ------
    Site
        Each with its furnishing.

    Raises
    ------
    PlanError
        If nothing can be furnished, naming what does not fit.
    """
    animal = brief.animal
    size = brief.size or fitting_size(brief.species, brief.count, brief.stage)
    reason: PlanError | None = None
    found = 0
    for k, kind in enumerate(kinds_for(brief)):
        for n, layout in enumerate(layouts_for(animal, size)):
            if layout.basking == "ground" and (kind in ("mesh", "table") or "mats" in brief.never):
                continue
            try:
                furnished = Furnisher(animal, size, layout, stock, kind).furnish()
            except PlanError as error:
                reason = reason or error
                continue
            for lid_share in _lid_shares(brief, kind):
                site = Site(
                    animal, size, kind, layout, furnished, stock, brief, lid_share, OTHER_KIND * k + 2 * n
                )
                errors = plan_errors(bare_plan(site, 0.5))
                if errors:
                    reason = reason or errors[0]
                    continue
                found += 1
                yield site
    if not found and reason is not None:
        least = least_size(brief.species, brief.count, brief.stage)
        sizes = f"{100 * least.length_m:.0f} × {100 * least.depth_m:.0f} × {100 * least.height_m:.0f} cm"
        raise PlanError(
            "/enclosure", f"{reason.message}; keepers give this animal at least {sizes}"
        ) from reason


def _lid_shares(brief: Brief, kind: EnclosureKind) -> tuple[float, ...]:
    """How much of a mesh lid may be left open: less for animals of moist places."""
    if kind != "glass":
        return (OPEN_LID,)
    return (HALF_LID, STRIP_LID) if is_humid(brief.animal) else (OPEN_LID, HALF_LID)


def arrangements_for(site: Site) -> Iterator[Arrangement]:
    """Every arrangement worth computing at a site, the simplest first.

    Parameters
    ----------
    site : Site
        The site.

    Yields
    ------
    Arrangement
        Without heaters where heat is not needed; with one for the basking spot; with one for the air too.
    """
    species, animal = site.animal.species, site.animal
    lights = light_choices(bare_plan(site, 0.5), site)
    best = lights[0].fixtures
    if species.heat == "avoided":
        yield Arrangement(site, best, None, None)
        night = animal.need("night", "air_temperature")
        if night is not None and night.low is not None and _coolest_c(site.brief.room) < night.low + 0.5:
            # Frost protection only: by night, where the room falls too low.
            for heater in site.owned_first(air_choices(site))[:2]:
                yield Arrangement(site, best, None, heater, site.unusual)
        return
    # Bulbs only for those that bask: others are kept warm, not lit.
    wants_spot = animal.need("basking", "surface_temperature") is not None
    basking = site.owned_first(basking_choices(site))[:MOST_BASKING] if wants_spot else []
    air = site.owned_first(air_choices(site))
    kinds = air[: MOST_AIR if basking else MOST_AIR_ALONE]
    unusual = site.unusual
    if species.heat != "needed" or not basking:
        yield Arrangement(site, best, None, None, unusual)
    for choice in basking[:1]:
        yield Arrangement(site, best, choice, None, unusual)
    if not basking:
        for i, heater in enumerate(kinds):
            yield Arrangement(site, best, None, heater, unusual + i)
    for i, choice in enumerate(basking[:2]):
        for heater in kinds:
            if heater.lamp.id != choice.lamp.id:
                yield Arrangement(site, best, choice, heater, unusual + i)
    for i, choice in enumerate(basking[1:], 1):
        yield Arrangement(site, best, choice, None, unusual + i)
    for other in lights[1:2]:
        if basking and other.cost < lights[0].cost + 1.0:
            yield Arrangement(site, other.fixtures, basking[0], kinds[0] if kinds else None, unusual + 1)


def _coolest_c(room: Room) -> float:
    """The coolest night of a room, in any of its months."""
    return min([room.night_temperature_c, *(m.night_temperature_c for m in room.months)])
