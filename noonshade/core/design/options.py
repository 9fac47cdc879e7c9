"""Which arrangements are worth computing for a brief, the most usual first."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.design.arrangement import COOL_K, Arrangement, bare_plan
from noonshade.core.design.brief import Brief
from noonshade.core.design.furnishing import Furnisher
from noonshade.core.design.habits import is_humid
from noonshade.core.design.heaters import SMALL_M3, air_choices, basking_choices, in_the_way
from noonshade.core.design.layouts import layouts_for
from noonshade.core.design.lighting import beside_panels, light_choices
from noonshade.core.design.room_needs import dries_out, spares_k, wanted_rises_k
from noonshade.core.design.shells import (
    HALF_LID,
    LAMP_LID,
    OPEN_LID,
    SLIT_LID,
    STRIP_LID,
    EnclosureKind,
    Size,
    Stock,
    usual_kind,
)
from noonshade.core.design.site import HeaterChoice, Site
from noonshade.core.design.warmth import is_hopeless, strong_first
from noonshade.core.errors import PlanError
from noonshade.core.needs.derived import WATER_STAGES
from noonshade.core.needs.species import Species, StageId
from noonshade.core.plan_errors import plan_errors

# An enclosure of another kind than keepers usually build is worth so many steps away from what is usual.
OTHER_KIND = 4
# What a lamp over a basking spot, or a heater on a wall, takes at least, m. Estimates.
LAMP_ROOM = Size(0.6, 0.4, 0.45)
HEATER_ROOM = Size(0.3, 0.3, 0.3)
# And over the ground, m. Estimate.
OVER_GROUND_M = 0.40
# Air that has to be so much warmer than the room is not held by mesh, K. Estimate.
COLD_K = 4.0
# Nor by this, of animals of moist places, in a lamp's reach or not, K. Estimate.
COOL_ROOM_K = 2.5
# A cool place that may be no more than so much warmer than the room takes an open enclosure, K. Estimate.
HOT_K = 4.0
# Where it may be no more than this warmer, a longer or higher enclosure, by so much, leaves a place that
# lamps do not warm, K; one lower than this, m, is both. Estimates.
SCARCE_K, LOW_M = 1.5, 0.45
ROOMIER, ROOMIER_LOW, ROOMIER_UP = (1.5, 1.2, 1.0), (1.5, 1.2, 1.25), (1.2, 1.2, 1.3)
# And no other place that has to be so much warmer, K.
MILD_K = 1.0
# Inside sizes of the largest enclosure that is computed, m; as documents allow.
LARGEST = Size(5.0, 3.0, 3.0)
# Where air has to be so much warmer, K, a heater inside takes an enclosure of this size, m. Estimates.
VERY_COLD_K, COLD_ROOM = 5.0, Size(0.75, 0.45, 0.6)
# How many kinds of basking heater are tried at each site, and of air heater beside each, also in the cold.
MOST_BASKING, MOST_AIR, MOST_AIR_COLD, MOST_AIR_ALONE = 3, 1, 2, 4


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


def size_for_all(species: Species, count: int = 1, stage: StageId = "adult") -> Size:
    """The enclosure to build, if there can be one for so many.

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
        Inside sizes, m, as ``fitting_size``.

    Raises
    ------
    PlanError
        If it would be larger than the largest that is computed.
    """
    size = fitting_size(species, count, stage)
    sides = ((size.length_m, LARGEST.length_m), (size.depth_m, LARGEST.depth_m))
    if any(needed > most for needed, most in sides):
        raise PlanError(
            "/count",
            f"{count} of them need about {100 * size.length_m:.0f} × {100 * size.depth_m:.0f} cm of floor; "
            f"the largest enclosure computed here is {100 * LARGEST.length_m:.0f} × "
            f"{100 * LARGEST.depth_m:.0f} cm: plan for fewer",
        )
    return Size(size.length_m, size.depth_m, min(size.height_m, LARGEST.height_m))


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
        Inside sizes, m; no longer and deeper than an adult's enclosure where the least is not, and higher
        only where a lamp has to hang over deep ground.
    """
    least, grown = least_size(species, count, stage), species.enclosure
    if species.heat == "avoided" or stage in WATER_STAGES:
        return least
    basks = (
        species.heat == "needed"
        and species.active == "day"
        and species.light != "avoided"
        and species.group != "snake"
    )
    room = LAMP_ROOM if basks else HEATER_ROOM
    height = max(least.height_m, min(grown.height_m, room.height_m))
    if basks and species.ground is not None:
        # Over deep ground a lamp needs as much room as over shallow one.
        part = min(1.0, species.stage(stage).body_length_m / species.stage("adult").body_length_m)
        height = max(height, round(part * species.ground.depth_m + OVER_GROUND_M, 2))
    return Size(
        max(least.length_m, min(grown.length_m, room.length_m)),
        max(least.depth_m, min(grown.depth_m, room.depth_m)),
        height,
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
    size = brief.size or _size_to_build(brief)
    usual = usual_kind(brief.species, brief.stage, size)
    humid = is_humid(brief.animal)
    if usual == "table":
        # Tortoises of warm or moist countries live in closed chambers indoors.
        return ("timber", "table") if humid else ("table", "timber")
    hot = is_hot(brief)
    if usual == "glass":
        return ("glass", "mesh") if hot and brief.animal.lives_by_height and not humid else ("glass", "pvc")
    if usual == "pvc" and not hot:
        return ("pvc", "glass") if humid else ("pvc", "timber")
    if usual == "mesh":
        cold = max(wanted_rises_k(brief.animal, brief.room, basks=True)) > COLD_K
        if humid:
            # No heater warms air that blows away, and nothing keeps it moist.
            cool = max(wanted_rises_k(brief.animal, brief.room, basks=False)) > COOL_ROOM_K
            closer = cool or dries_out(brief.animal, brief.room)
            return ("pvc", "glass") if cold else ("glass", "pvc") if closer else ("mesh", "glass")
        return ("timber", "mesh") if cold else ("mesh", "timber")
    if hot:
        return (usual, "glass")
    return (usual, "pvc")


def is_hot(brief: Brief) -> bool:
    """Whether the room is about as warm as the animal's cool place may be.

    Parameters
    ----------
    brief : Brief
        The brief.

    Returns
    -------
    bool
        True where walls should let warmth out.
    """
    wanted = max(wanted_rises_k(brief.animal, brief.room, basks=True))
    return min(spares_k(brief.animal, brief.room)) < HOT_K and wanted < MILD_K


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
    size = brief.size or _size_to_build(brief)
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
            lids = _lid_shares(brief, kind, size)
            # Of a kind that is not the usual one, only the lid that is most likely right.
            for lid_share in lids if k == 0 else lids[-2:-1] or lids:
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


def _size_to_build(brief: Brief) -> Size:
    """The enclosure to build where the keeper has none: longer where the room is nearly too warm, with room
    for a heater inside where it is cold.
    """
    size = size_for_all(brief.species, brief.count, brief.stage)
    if brief.species.heat == "avoided" or brief.stage in WATER_STAGES:
        return size
    if max(wanted_rises_k(brief.animal, brief.room, basks=False)) > VERY_COLD_K:
        grown = brief.species.enclosure
        return Size(
            max(size.length_m, min(grown.length_m, COLD_ROOM.length_m)),
            max(size.depth_m, min(grown.depth_m, COLD_ROOM.depth_m)),
            max(size.height_m, min(grown.height_m, COLD_ROOM.height_m)),
        )
    spare, _ = spares_k(brief.animal, brief.room)
    if not 0.0 < spare < SCARCE_K:
        return size
    grow = ROOMIER_LOW if size.height_m < LOW_M else ROOMIER
    if brief.animal.lives_by_height:
        grow = ROOMIER_UP
    sides = (size.length_m, size.depth_m, size.height_m)
    most = (LARGEST.length_m, LARGEST.depth_m, LARGEST.height_m)
    return Size(*(min(round(m * by, 2), top) for m, by, top in zip(sides, grow, most, strict=True)))


def _lid_shares(brief: Brief, kind: EnclosureKind, size: Size) -> tuple[float, ...]:
    """How much of a mesh lid may be left open: less for animals of moist places."""
    if kind != "glass":
        return (OPEN_LID,)
    if not is_humid(brief.animal):
        return OPEN_LID, HALF_LID
    # A small one dries out through a strip as well.
    small = size.length_m * size.depth_m * size.height_m < SMALL_M3
    least = SLIT_LID if small else STRIP_LID
    if is_hot(brief) and brief.species.heat == "needed":
        scarce = min(spares_k(brief.animal, brief.room)) < SCARCE_K
        return (OPEN_LID, HALF_LID, LAMP_LID) if scarce else (HALF_LID, LAMP_LID)
    return HALF_LID, LAMP_LID, least


def arrangements_for(site: Site) -> list[Arrangement]:
    """Every arrangement worth computing at a site, the simplest first, what cannot be warm enough last.

    Parameters
    ----------
    site : Site
        The site.

    Returns
    -------
    list[Arrangement]
        Without heaters where heat is not needed; with one for the basking spot; with one for the air too.
    """
    found = []
    for one in _arrangements(site):
        lights = beside_panels(one.lights, (one.basking, one.air), site)
        if lights is not None:
            found.append(replace(one, lights=lights))
    return sorted(found, key=is_hopeless)


def _arrangements(site: Site) -> Iterator[Arrangement]:
    species, animal = site.animal.species, site.animal
    lights = light_choices(bare_plan(site, 0.5), site)
    best = lights[0].fixtures
    if species.heat == "avoided":
        yield Arrangement(site, best, None, None)
        if max(wanted_rises_k(animal, site.brief.room, basks=False)) > COOL_K:
            # Only against a room that is too cold.
            for heater in site.owned_first(air_choices(site))[:2]:
                yield Arrangement(site, best, None, heater, site.unusual)
        return
    # Bulbs only for those that bask: others are kept warm, not lit.
    wants_spot = animal.need("basking", "surface_temperature") is not None
    basking = site.owned_first(basking_choices(site))[:MOST_BASKING] if wants_spot else []
    air = air_beside(site, None)
    cold = max(wanted_rises_k(animal, site.brief.room, bool(basking))) > COLD_K
    unusual = site.unusual
    if species.heat != "needed" or not basking:
        yield Arrangement(site, best, None, None, unusual)
    for choice in basking[:1]:
        yield Arrangement(site, best, choice, None, unusual)
    if not basking:
        for i, heater in enumerate(air[:MOST_AIR_ALONE]):
            yield Arrangement(site, best, None, heater, unusual + i)
    for i, choice in enumerate(basking[:2]):
        for heater in air_beside(site, choice)[: MOST_AIR_COLD if cold else MOST_AIR]:
            yield Arrangement(site, best, choice, heater, unusual + i)
    for i, choice in enumerate(basking[1:], 1):
        yield Arrangement(site, best, choice, None, unusual + i)
    for other in lights[1:2]:
        if basking and other.cost < lights[0].cost + 1.0:
            beside = next(iter(air_beside(site, basking[0])), None)
            yield Arrangement(site, other.fixtures, basking[0], beside, unusual + 1)


def air_beside(site: Site, basking: HeaterChoice | None) -> list[HeaterChoice]:
    """Heaters for the air that go with one over the basking spot: what lies ready, then strong ones."""
    choices = strong_first(air_choices(site, basking), site, basking is not None)
    return site.owned_first(one for one in choices if basking is None or not in_the_way(one, basking))
