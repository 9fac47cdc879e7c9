"""Heaters that could warm an enclosure: of which kind, how many, where they hang.

Which lamp suits which animal, and how far it hangs, are rules of thumb: estimates. Their watts are found by
computing them.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from noonshade.core.assessment.equipment import LEAST_ABOVE_MESH_M
from noonshade.core.assessment.reach import (
    LEAST_CLEARANCE_M,
    LEAST_GUARDED_M,
    LEAST_TO_WALLS_M,
    nearest_thing,
)
from noonshade.core.assessment.shelter import resting_length_m
from noonshade.core.design.furnishing import least_clearance_m
from noonshade.core.design.site import HeaterChoice, Site
from noonshade.core.design.warmth import LARGE_M2, is_narrow, is_strong
from noonshade.core.plan import Lamp, Mount, PanelSource, Point

# From so long on, lying, m: which bulbs light the whole of an animal.
SMALL_M, MIDDLE_M, BROAD_M, LARGE_M = 0.09, 0.25, 0.30, 0.45
# How much further than need be bulbs may hang, m.
FURTHER_M = (0.0, 0.12, 0.30)
# Lamps that light one animal together hang so far apart: at least, m, and as a share of its length, lying.
# Estimates.
LAMPS_APART_M, LAMPS_APART_LENGTHS = 0.18, 0.55
# So many of them hang in a square.
SQUARE = 4
# Lamps nearer to each other than this are in each other's way, m.
NEAR_M = 0.12
# Lamps below a closed lid and panels screwed to it, m.
BELOW_LID_M, PANEL_BELOW_M = 0.09, 0.03
ABOVE_MESH_M = LEAST_ABOVE_MESH_M + 0.01
# Lamps over an open table hang no lower than this over its rim, m.
OPEN_TOP_M = 0.02
PANELS = (
    *("radiant-panel-long", "radiant-panel-slim", "radiant-panel-80"),
    *("radiant-panel-40", "radiant-panel-20"),
)
# Large enclosures take two heaters for their air or more, up to so many; so far apart, m; those over the
# cooler half as a share of the length further on.
MOST_ALIKE, APART_M, FURTHER_ON = 4, 0.25, 0.35
# Where the first of four in a square hangs, as a share of the length and of the depth.
WARM_SHARE, FRONT_SHARE = 0.17, 0.2
# Mats for walls, the largest first.
SIDE_MATS = ("mat-28", "mat-20", "mat-strip-28", "mat-14")
BACK_MATS = ("mat-58", "mat-28", "mat-strip-56", "mat-20", "mat-strip-28", "mat-14")
# The share of the length a mat or panel may warm.
PANEL_SHARE = 0.45
# Strength from which an animal pulls at fittings, m.
STRONG_M = 0.20
# A mat on a wall may be so much of the free height: a little of it may lie behind the ground.
MAT_FREE_SHARE = 1.2
# Enclosures below this are small: mats on their walls warm them, m³.
SMALL_M3 = 0.12
# How much room heaters without light may take at most below what they hang from, m.
HEATER_BELOW_M = 0.13


def in_the_way(one: HeaterChoice, other: HeaterChoice) -> bool:
    """Whether two kinds of heater would hang at the same place, or on the same part of a wall or the lid.

    Parameters
    ----------
    one, other : HeaterChoice
        Heaters at their places.

    Returns
    -------
    bool
        True where they cannot be built together.
    """
    # A mat lies behind its wall.
    near = 0.0 if "mat" in (one.lamp.kind, other.lamp.kind) else NEAR_M
    return any(
        math.dist(a, b) < near or _overlap(one.lamp, a, other.lamp, b, one.mount_of(i), other.mount_of(k))
        for i, a in enumerate(one.positions)
        for k, b in enumerate(other.positions)
    )


def _overlap(first: Lamp, a: Point, second: Lamp, b: Point, mount: Mount, other: Mount) -> bool:
    """Whether two flat heaters on the same face cover each other."""
    if mount != other or not isinstance(first.geometry, PanelSource):
        return False
    if not isinstance(second.geometry, PanelSource):
        return False
    # The length runs along the lid, the floor and the back, and along the depth of the sides.
    along, across = (1, 2) if mount in ("left", "right") else (0, 2) if mount == "back" else (0, 1)
    long = (first.geometry.length_m + second.geometry.length_m) / 2
    wide = (first.geometry.width_m + second.geometry.width_m) / 2
    return abs(a[along] - b[along]) < long and abs(a[across] - b[across]) < wide


def basking_choices(site: Site) -> Iterator[HeaterChoice]:
    """Heaters for the basking spot, the most usual first.

    Parameters
    ----------
    site : Site
        Where they are to go.

    Yields
    ------
    HeaterChoice
        None for a mat where nothing closed lies below, no bulbs for animals that avoid light.
    """
    if site.layout.basking == "ground":
        yield from _mats(site, ("mat-58", "mat-28", "cable-60", "mat-20", "mat-14"), "floor")
        return
    animal = site.animal
    if not site.shines_through:
        return
    if animal.species.active != "day" or animal.species.group == "snake":
        yield from _panels(site)
    if animal.species.light != "avoided":
        yield from _bulbs(site)
    if animal.species.active == "day" and animal.species.group != "snake":
        yield from _panels(site)
    if animal.species.light == "avoided":
        yield from _ceramics(site, site.furnished.basking_m[:2])


def air_choices(site: Site, beside: HeaterChoice | None = None) -> Iterator[HeaterChoice]:
    """Heaters without light for the air, by day and by night, the most usual first.

    Parameters
    ----------
    site : Site
        Where they are to go.
    beside : HeaterChoice or None
        What hangs over the basking spot: they hang out of its way.

    Yields
    ------
    HeaterChoice
        Mats on walls for small enclosures, ceramics, panels and tube heaters for others.
    """
    size = site.size
    small = size.length_m * size.depth_m * size.height_m < SMALL_M3
    share = 0.2 if site.layout.basking == "ground" else 0.36
    if site.animal.lives_by_height:
        # Beside the ledge, which it must not heat once more.
        share = 0.6
    x = share * size.length_m
    mats = list(_mats(site, SIDE_MATS, "left"))
    mats += list(_mats(site, BACK_MATS, "back"))
    right = list(_mats(site, SIDE_MATS, "right"))
    panels = list(_panels_beside(site, beside))
    hung = () if beside is None else beside.positions
    ceramics = list(_ceramics(site, (x, 0.3 * size.depth_m), hung)) if site.shines_through else []
    if small:
        # Two at half the watts each are cooler to touch than one.
        yield from _on_walls(mats)
        yield from mats[:1]
        yield from _on_walls(mats, right)
        yield from panels[:1]
        yield from ceramics[:1]
        yield from mats[1:2]
    else:
        large = size.length_m * size.depth_m >= LARGE_M2
        if large and is_narrow(site):
            # Much heat from wide panels leaves what lies below cooler than from a dome.
            rows = [*_along_the_lid(site, panels, beside), *_in_a_square(site, panels, beside)]
            yield from sorted(rows, key=lambda row: -row.most_w)[:1]
        yield from _several(site, ceramics[:1], hung) if large else ceramics[:1]
        yield from panels[:1]
        # Two are cooler to be under than one.
        yield from _along_the_lid(site, panels[:1], beside)
        yield from _on_walls(mats)
        yield from mats[-1:]
        yield from _on_walls(mats, right)
    yield from ceramics[1:]


def _panels_beside(site: Site, beside: HeaterChoice | None) -> Iterator[HeaterChoice]:
    """Panels over the warm end, or over the other where something hangs there."""
    for choice in _panels(site):
        if beside is None or not in_the_way(choice, beside):
            yield choice
            continue
        x, y, z = choice.positions[0]
        moved = replace(choice, positions=((round(site.size.length_m - x, 3), y, z),))
        if not in_the_way(moved, beside) and _clears(site, moved.positions[0], guard=True):
            yield moved


def _along_the_lid(
    site: Site, panels: list[HeaterChoice], beside: HeaterChoice | None
) -> Iterator[HeaterChoice]:
    """Two panels or more side by side, as many as could be strong enough; none where two do not fit."""
    for choice in panels:
        assert isinstance(choice.lamp.geometry, PanelSource)
        _, y, z = choice.positions[0]
        length, long = site.size.length_m, choice.lamp.geometry.length_m + 0.01
        best: HeaterChoice | None = None
        for number in range(2, MOST_ALIKE + 1):
            if number * long > length:
                break
            places = tuple((round((i + 0.5) / number * length, 3), y, z) for i in range(number))
            row = replace(choice, positions=places)
            if all(_clears(site, at, guard=True) for at in places) and not (
                beside and in_the_way(row, beside)
            ):
                best = row
                if is_strong(row, site, beside is not None) and not is_narrow(site):
                    break
        if best is not None:
            yield best


def _in_a_square(
    site: Site, panels: list[HeaterChoice], beside: HeaterChoice | None
) -> Iterator[HeaterChoice]:
    """Four panels over the warm two thirds, along the front and the back; none where they do not fit."""
    length, depth = site.size.length_m, site.size.depth_m
    for choice in panels:
        assert isinstance(choice.lamp.geometry, PanelSource)
        long, wide = choice.lamp.geometry.length_m, choice.lamp.geometry.width_m
        z = choice.positions[0][2]
        first = max(WARM_SHARE * length, long / 2 + 0.005)
        second = first + max(FURTHER_ON * length, long + 0.01)
        front = max(FRONT_SHARE * depth, wide / 2 + 0.005)
        if second + long / 2 > length or depth - 2 * front < wide + 0.01:
            continue
        places = tuple(
            (round(x, 3), round(y, 3), z) for x in (first, second) for y in (front, depth - front)
        )
        square = replace(choice, positions=places)
        blocked = beside is not None and in_the_way(square, beside)
        if not blocked and all(_clears(site, at, guard=True) for at in places):
            yield square


def _on_walls(mats: list[HeaterChoice], right: list[HeaterChoice] | None = None) -> Iterator[HeaterChoice]:
    """The largest mat that fits the warm end's wall and the back, on both; on the third wall too."""
    for one in mats:
        alike = [m for m in mats if m.lamp.id == one.lamp.id and m.mount != one.mount][:1]
        if right is not None:
            alike += [m for m in right if m.lamp.id == one.lamp.id]
        if len(alike) == (1 if right is None else 2):
            walls = (one, *alike)
            yield HeaterChoice(
                one.lamp,
                tuple(m.positions[0] for m in walls),
                one.mount,
                mounts=tuple(m.mount for m in walls),
            )
            return


def _several(site: Site, choices: list[HeaterChoice], hung: tuple[Point, ...]) -> Iterator[HeaterChoice]:
    """Two heaters of each choice or more, as many as could be strong enough, over the warm half first; one
    where there is no room for a second.
    """
    length, depth = site.size.length_m, site.size.depth_m
    for choice in choices:
        x, y, z = choice.positions[0]
        for wish in ((x, depth - y), (x + FURTHER_ON * length, y), (x + FURTHER_ON * length, depth - y)):
            enough = is_strong(choice, site, bool(hung)) and not is_narrow(site)
            if len(choice.positions) > 1 and enough:
                break
            other = _free_place(site, wish, z, (*hung, *choice.positions))
            if other is not None and min(math.dist(other, at) for at in choice.positions) >= APART_M:
                choice = replace(choice, positions=(*choice.positions, other))
        yield choice


def _bulbs(site: Site) -> Iterator[HeaterChoice]:
    lies = resting_length_m(site.animal)
    if site.animal.lives_by_height:
        lies = min(lies, MIDDLE_M)
    if lies < SMALL_M:
        kinds = (("nano-flood-25", 1), ("nano-halogen-35", 1), ("halogen-flood", 1))
    elif lies < MIDDLE_M:
        kinds = (("halogen-flood", 1), ("halogen-wide", 1), ("nano-halogen-35", 1))
    elif lies < LARGE_M:
        broad = ("halogen-flood", 2) if lies < BROAD_M else ("halogen-wide", SQUARE)
        kinds = (("halogen-wide", 1), ("halogen-pair", 1), broad)
    else:
        kinds = (("halogen-wide", SQUARE), ("halogen-four", 1), ("halogen-wide", 2))
    # The whole of a large animal is lit only from further away.
    for further in FURTHER_M[::-1] if lies >= LARGE_M else FURTHER_M:
        for lamp_id, count in kinds:
            if site.allows(lamp_id):
                found = _hung(site, site.stock.lamps[lamp_id], count, further)
                if found is not None:
                    yield found


def _hung(site: Site, lamp: Lamp, count: int, further_m: float) -> HeaterChoice | None:
    """So many lamps over the basking spot, side by side, four in a square; None where they do not fit."""
    x, y, top = site.furnished.basking_m
    animal, size = site.animal, site.size
    guard = site.closed and (animal.climbs or animal.body_length_m >= STRONG_M)
    lowest = top + least_clearance_m(animal)
    if site.closed:
        highest = size.height_m - BELOW_LID_M
        if lowest > highest:
            # Behind a guard it may hang nearer.
            lowest, guard = top + 0.12 + animal.back_height_m, True
        z = min(lowest + further_m, highest)
        if z < lowest or (further_m > 0 and lowest + further_m > highest + 0.05):
            return None
    elif site.kind == "table":
        z = max(size.height_m + OPEN_TOP_M, lowest) + further_m
    else:
        z = max(size.height_m + ABOVE_MESH_M, lowest) + further_m
    if z > size.height_m + 0.49:
        return None
    places: list[Point] = []
    apart = max(LAMPS_APART_M, LAMPS_APART_LENGTHS * resting_length_m(animal))
    rows = 2 if count == SQUARE else 1
    for i in range(count):
        along = (i // rows - (count // rows - 1) / 2) * apart
        px, py = x + along, y + (i % rows - (rows - 1) / 2) * apart
        if site.closed and site.burns:
            clear = LEAST_TO_WALLS_M + 0.01
            if min(size.length_m, size.depth_m) < 2 * clear:
                return None
            px = min(max(px, clear), size.length_m - clear)
            py = min(max(py, clear), size.depth_m - clear)
        at = (round(px, 3), round(py, 3), round(z, 3))
        if not _clears(site, at, guard or not site.closed):
            return None
        places.append(at)
    return HeaterChoice(lamp, tuple(places), "hung", guard)


def _panels(site: Site) -> Iterator[HeaterChoice]:
    """Radiant panels screwed to a closed lid, the largest that fits first."""
    if not site.closed:
        return
    for lamp_id in PANELS:
        lamp = site.stock.lamps.get(lamp_id)
        if lamp is None or not site.allows(lamp_id) or not isinstance(lamp.geometry, PanelSource):
            continue
        long, wide = lamp.geometry.length_m, lamp.geometry.width_m
        if long > PANEL_SHARE * site.size.length_m + 0.01 or wide > site.size.depth_m:
            continue
        x = max(site.furnished.basking_m[0], long / 2 + 0.005)
        y = site.size.depth_m / 2
        z = site.size.height_m - PANEL_BELOW_M
        at = (round(x, 3), round(y, 3), round(z, 3))
        if _clears(site, at, guard=True):
            yield HeaterChoice(lamp, (at,), "screwed")


def _mats(site: Site, lamp_ids: tuple[str, ...], face: Mount) -> Iterator[HeaterChoice]:
    """Mats under the warm end, or behind the warm end's wall."""
    size = site.size
    if site.animal.digs and face == "floor":
        return
    if face != "floor" and site.kind in ("mesh", "table"):
        return
    for lamp_id in lamp_ids:
        lamp = site.stock.lamps.get(lamp_id)
        if lamp is None or not site.allows(lamp_id) or not isinstance(lamp.geometry, PanelSource):
            continue
        long, wide = lamp.geometry.length_m, lamp.geometry.width_m
        if face == "floor":
            if long > PANEL_SHARE * size.length_m + 0.02 or wide > size.depth_m:
                continue
            x = max(site.furnished.basking_m[0], long / 2 + 0.005)
            under = (round(x, 3), round(size.depth_m / 2, 3), 0.0)
            yield HeaterChoice(lamp, (under,), "floor")
            continue
        free = size.height_m - site.furnished.substrate.depth_m
        along = size.length_m if face == "back" else size.depth_m
        if long > along or wide > MAT_FREE_SHARE * free:
            continue
        z = site.furnished.substrate.depth_m + 0.5 * free
        places: dict[Mount, tuple[float, float]] = {
            "left": (0.0, size.depth_m / 2),
            "right": (size.length_m, size.depth_m / 2),
            "back": (max(0.3 * along, long / 2), size.depth_m),
        }
        x, y = places[face]
        yield HeaterChoice(lamp, ((round(x, 3), round(y, 3), round(z, 3)),), face)


def _ceramics(site: Site, at: tuple[float, float], hung: tuple[Point, ...] = ()) -> Iterator[HeaterChoice]:
    """Ceramic heaters in a dome, below the lid behind a guard or above the mesh."""
    size, animal = site.size, site.animal
    small = size.length_m < 0.75
    for lamp_id in ("ceramic-small", "ceramic-heater") if small else ("ceramic-heater", "ceramic-small"):
        if not site.allows(lamp_id):
            continue
        lamp = site.stock.lamps[lamp_id]
        if site.closed:
            z = size.height_m - HEATER_BELOW_M
            if z < site.furnished.substrate.depth_m + 0.14 + animal.back_height_m:
                continue
        elif site.kind == "table":
            z = size.height_m + OPEN_TOP_M
        else:
            z = size.height_m + ABOVE_MESH_M
        found = _free_place(site, at, z, hung)
        if found is not None:
            yield HeaterChoice(lamp, (found,), "hung", site.closed)


def _free_place(
    site: Site, at: tuple[float, float], z: float, hung: tuple[Point, ...] = ()
) -> Point | None:
    """The place nearest to where one is wanted that is far enough from lamps and what can be stood on."""
    furnished = site.furnished
    clear = LEAST_TO_WALLS_M + 0.01 if site.closed and site.burns else 0.03
    # Nothing passes a covered part of the lid.
    x0, x1, y0, y1 = site.open_lid
    if min(x1 - x0, y1 - y0) < 2 * clear:
        return None
    places = [
        (math.hypot(x - at[0], y - at[1]), float(x), float(y))
        for x in np.linspace(x0 + clear, x1 - clear, 15)
        for y in np.linspace(y0 + clear, y1 - clear, 9)
    ]
    for _, x, y in sorted(places):
        point = (round(x, 3), round(y, 3), round(z, 3))
        if any(math.dist(point, other) < NEAR_M for other in hung):
            continue
        gap, _ = nearest_thing(furnished.furnishings, furnished.substrate.depth_m, point)
        if gap >= LEAST_GUARDED_M + 0.01:
            return point
    return None


def _clears(site: Site, at: Point, guard: bool) -> bool:
    """Whether a heater at a place is far enough from all that can be stood on."""
    furnished = site.furnished
    gap, _ = nearest_thing(furnished.furnishings, furnished.substrate.depth_m, at)
    return gap >= (LEAST_GUARDED_M if guard else LEAST_CLEARANCE_M)
