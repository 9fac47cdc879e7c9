"""UV lamps and daylight: chosen by computing their light alone, which does not depend on warmth."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from noonshade.core.assessment.checks import status_of
from noonshade.core.design.aims import cost_of_values
from noonshade.core.design.habits import is_humid
from noonshade.core.design.heaters import ABOVE_MESH_M, SMALL_M3
from noonshade.core.design.site import HeaterChoice, Site
from noonshade.core.evaluate import Evaluation
from noonshade.core.light.field import Scene
from noonshade.core.needs.species import PlaceKind, Quantity
from noonshade.core.places.uv_refuge import uv_within_reach
from noonshade.core.plan import (
    Fixture,
    Hide,
    Lamp,
    Leaves,
    LineSource,
    Mount,
    PanelSource,
    Plan,
    Point,
    Slab,
)

# How far below a closed lid, or above one of mesh, a tube hangs, and further away by these, m.
TUBE_BELOW_M, TUBE_ABOVE_M = 0.04, 0.03
LIFTS_M = (0.0, 0.03, 0.06, 0.09, 0.12, 0.16, 0.20, 0.25, 0.30, 0.37, 0.45)
# No nearer to the animal's back than this, m.
LEAST_ABOVE_BACK_M = 0.12
# Tubes may be this share of the length, for those that live on the ground and for climbers; compact lamps
# serve enclosures up to this long, m.
TUBE_SHARE, TUBE_SHARE_CLIMBING = 0.75, 0.96
LONGEST_FOR_COMPACT_M = 0.8
END_M = 0.02
# Reaching further from what is usual costs so much a metre, and each lamp so much, in the units of a cost.
LIFT_COST, LAMP_COST = 0.3, 0.05
# How many lamps and heights are computed with all light that is sent back; and what it adds. Estimate.
MOST_COMPUTED, SENT_BACK = 4, 1.08
# Where the light of plants may hang, from the front as shares of the depth.
PLANT_LIGHT_AT = (0.15, 0.3, 0.7, 0.85)
# The lamp for UV; a chance of its need that is good enough, and by how much it is hung elsewhere, m.
UV_ID, WELL_LIT = "uv-lamp", 0.25
REHUNG_M = (-0.12, -0.09, -0.06, -0.04, -0.02, 0.02, 0.04, 0.06, 0.09, 0.12)
ASIDE_M = (-0.12, -0.06, 0.06, 0.12)
# Hanging it elsewhere must gain so much, in the units of a cost.
REHUNG_GAIN = 0.03
# UV that misses what is required costs so much more, and UV that harms is no candidate.
MISSED_COST = 1.0
HARM_COST = 100.0


# Half of what a lamp for light takes beside another; nearer below a panel than this it is in its way, m.
# Estimates.
LAMP_HALF_M, NEAR_PANEL_M = 0.03, 0.10


@dataclass(frozen=True, slots=True)
class LightChoice:
    """Lamps for light and UV, and how unlikely the UV needs are met with them, with the basking lamp's."""

    fixtures: tuple[Fixture, ...]
    cost: float


def light_choices(plan: Plan, site: Site, most: int = 2) -> list[LightChoice]:
    """The best choices of lamps for UV and light, the best first.

    Parameters
    ----------
    plan : Plan
        The furnished plan, without lamps.
    site : Site
        Where they are to go.
    most : int
        How many.

    Returns
    -------
    list[LightChoice]
        At least one; without lamps where none is wanted.
    """
    animal = site.animal
    species = animal.species
    none = LightChoice(tuple(_daylight(site)) if species.light == "needed" else (), 0.0)
    if species.uv == "avoided" or animal.need("basking", "uvi") is None:
        return [none]
    found = [replace(none, cost=_uv_cost(plan, site, ()))]
    tried = sorted(
        (
            (_direct_cost(plan, site, fixture) + LIFT_COST * lift + LAMP_COST, i, fixture)
            for i, (lift, fixture) in enumerate(_hung_lamps(site))
        ),
        key=lambda one: one[:2],
    )
    for _, _, fixture in tried[:MOST_COMPUTED]:
        cost = _uv_cost(plan, site, (fixture,)) + LAMP_COST
        found.append(LightChoice((fixture,), cost))
    found.sort(key=lambda one: one.cost)
    # The second is of another kind: a lamp for light warms as well, and what is best in UV may be too warm.
    best = found[0]
    kinds = {f.lamp.kind for f in best.fixtures if f.lamp.uv is not None}
    found.sort(
        key=lambda one: (
            one is not best
            and {f.lamp.kind for f in one.fixtures if f.lamp.uv is not None} in (kinds, set())
        )
    )
    return [
        replace(one, fixtures=(*one.fixtures, *_for_plants(site, one.fixtures))) for one in found[:most]
    ]


def _hung_lamps(site: Site) -> Iterator[tuple[float, Fixture]]:
    """Every UV lamp that fits, at every height, with how far further away it hangs than need be."""
    for lamp in _uv_lamps(site):
        for lift in LIFTS_M:
            fixture = _hung(site, lamp, lift)
            if fixture is not None:
                yield lift, fixture


def _direct_cost(plan: Plan, site: Site, fixture: Fixture) -> float:
    """The cost of the UV at the basking spot alone, by what comes straight from the lamp."""
    need = site.animal.need("basking", "uvi")
    assert need is not None
    x, y, top = site.furnished.basking_m
    back = min(top + site.animal.back_height_m, plan.enclosure.height_m - 1e-3)
    scene = Scene(plan, (fixture,), bounce=False)
    level = SENT_BACK * float(scene.at(np.array([[x, y, back]])).uvi_level[0])
    harm = HARM_COST if level > site.animal.harmful_uvi else 0.0
    return harm + float(cost_of_values(need, np.array([level]), required=True)[0])


def _uv_cost(plan: Plan, site: Site, fixtures: tuple[Fixture, ...]) -> float:
    """Minus the logarithm of the chance that the UV needs are met."""
    animal = site.animal
    scene = Scene(replace(plan, fixtures=fixtures), fixtures)
    within = uv_within_reach(plan, scene)
    x, y, top = site.furnished.basking_m
    back = min(top + animal.back_height_m, plan.enclosure.height_m - 1e-3)
    cost = HARM_COST if within.strongest > animal.harmful_uvi else 0.0
    # Where on the spot it is warmest is not known yet.
    spot = next((f for f in plan.furnishings if isinstance(f, Slab) and f.basking), None)
    aside = 0.0 if spot is None else 0.3 * spot.length_m
    levels = scene.at(np.array([[x + dx, y, back] for dx in (0.0, -aside, aside)])).uvi_level
    values: list[tuple[PlaceKind, Quantity, float]] = [
        *(("basking", "uvi", float(level)) for level in levels),
        ("enclosure", "uv_free_share", within.free_share),
    ]
    hides = [f for f in plan.furnishings if isinstance(f, Hide)]
    if hides:
        at = [(h.x_m, h.y_m, plan.substrate.depth_m + animal.back_height_m) for h in hides]
        values.append(("uv_refuge", "uvi", float(np.max(scene.at(np.array(at)).uvi_facing))))
    for place, quantity, value in values:
        need = animal.need(place, quantity)
        if need is not None:
            share = 1 / 3 if place == "basking" else 1.0
            cost += share * float(cost_of_values(need, np.array([value]), need.required)[0])
            if need.required and not need.offered and status_of(need, value) != "ok":
                cost += share * MISSED_COST
    return cost


def rehung(evaluation: Evaluation, site: Site) -> tuple[Fixture, ...] | None:
    """The lamps with the one for UV hung a little elsewhere, where the animal basks being known now.

    Parameters
    ----------
    evaluation : Evaluation
        Of a plan of the site.
    site : Site
        The site.

    Returns
    -------
    tuple of Fixture, or None
        None where the UV there is well within the need, or no height is better.
    """
    plan = evaluation.plan
    lamp = next((f for f in plan.fixtures if f.id == UV_ID), None)
    place = next((p for p in evaluation.places if p.kind == "basking"), None)
    need = site.animal.need("basking", "uvi")
    if lamp is None or place is None or need is None or place.uvi_level is None:
        return None
    best, lowest = cost_of_values(need, np.array([place.uvi_level]), need.required)[0], None
    if best < WELL_LIT:
        return None
    for moved in _elsewhere(lamp, site):
        lit = tuple(moved if f.id == UV_ID else f for f in plan.fixtures if f.lit_at("day"))
        scene = Scene(replace(plan, fixtures=lit), lit)
        level = scene.at(np.array([place.position_m])).uvi_level
        cost = cost_of_values(need, level, need.required)[0]
        if cost < best - REHUNG_GAIN and float(level[0]) <= site.animal.harmful_uvi:
            best, lowest = cost, moved
    if lowest is None:
        return None
    return tuple(lowest if f.id == UV_ID else f for f in plan.fixtures)


def _elsewhere(lamp: Fixture, site: Site) -> Iterator[Fixture]:
    """A lamp a little higher or lower, and a little to the front or the back."""
    x, y, z = lamp.position_m
    for lift in REHUNG_M:
        if _may_hang(site, z + lift):
            yield replace(lamp, position_m=(x, y, round(z + lift, 3)), mount="hung")
    for aside in ASIDE_M:
        if 0.04 <= y + aside <= site.size.depth_m - 0.04:
            yield replace(lamp, position_m=(x, round(y + aside, 3), z))


def _lowest_m(site: Site) -> float:
    """How low a UV lamp may hang over the animal's back at its basking spot."""
    return site.furnished.basking_m[2] + site.animal.back_height_m + LEAST_ABOVE_BACK_M


def _may_hang(site: Site, z_m: float) -> bool:
    """Whether a UV lamp may hang at a height: clear of the animal's back, on its own side of the lid."""
    size, lowest = site.size, _lowest_m(site)
    if site.closed:
        return lowest <= z_m <= size.height_m - TUBE_BELOW_M + 1e-9
    if site.kind == "table":
        # Nothing is above it: a lamp may hang down into it.
        return lowest <= z_m <= size.height_m + 0.49
    return max(lowest, size.height_m + TUBE_ABOVE_M - 1e-9) <= z_m <= size.height_m + 0.49


def _uv_lamps(site: Site) -> Iterator[Lamp]:
    """UV lamps that fit the enclosure and the keeper's wishes."""
    share = TUBE_SHARE_CLIMBING if site.animal.climbs else TUBE_SHARE
    length = site.size.length_m
    for lamp in site.stock.lamps.values():
        if lamp.uv is None or lamp.unlike_sunlight or lamp.is_hot or not site.allows(lamp.id):
            continue
        if isinstance(lamp.geometry, LineSource):
            if lamp.geometry.length_m <= share * length and lamp.geometry.length_m + 2 * END_M <= length:
                yield lamp
        elif length <= LONGEST_FOR_COMPACT_M:
            yield lamp


def _hung(site: Site, lamp: Lamp, lift_m: float) -> Fixture | None:
    size = site.size
    x, y, _ = site.furnished.basking_m
    if isinstance(lamp.geometry, LineSource):
        half = lamp.geometry.length_m / 2
        place_x = min(max(half + END_M, x), size.length_m - half - END_M)
        place_y = min(y + 0.08, size.depth_m - 0.05)
    else:
        place_x, place_y = min(x + 0.10, size.length_m - 0.06), min(y + 0.06, size.depth_m - 0.06)
    away = -TUBE_BELOW_M - lift_m if site.closed else TUBE_ABOVE_M + lift_m
    z = size.height_m + away
    if site.kind == "table":
        z = min(size.height_m + TUBE_ABOVE_M, _lowest_m(site)) + lift_m
    if not _may_hang(site, z):
        return None
    mount: Mount = "screwed" if site.closed and lift_m == 0 else "hung"
    if not site.shines_through:
        # Through the strip of mesh at the back.
        place_y = min((1.0 - site.lid_share / 2) * size.depth_m, size.depth_m - LAMP_HALF_M)
    at = (round(place_x, 3), round(place_y, 3), round(z, 3))
    return Fixture(UV_ID, "UV lamp", lamp, lamp.power_w, at, "day", mount=mount)


def _for_plants(site: Site, beside: tuple[Fixture, ...]) -> Iterator[Fixture]:
    """An LED lamp for the plants climbers of moist places live among; none where one shines already."""
    green = any(isinstance(f, Leaves) for f in site.furnished.furnishings) and site.animal.lives_by_height
    if not green or not is_humid(site.animal) or any(f.id == "daylight" for f in beside):
        return
    depth = site.size.depth_m
    taken = [site.furnished.basking_m[1], *(f.position_m[1] for f in beside)]
    for one in _daylight(site, ("led-plant-bar-60", "led-bulb-9")):
        # Where it is not in the way of the others.
        y = max((share * depth for share in PLANT_LIGHT_AT), key=lambda y: min(abs(y - t) for t in taken))
        at = (one.position_m[0], round(y, 3), one.position_m[2])
        yield replace(one, id="plant-light", label="Plant light", position_m=at)


def _daylight(
    site: Site, lamp_ids: tuple[str, ...] = ("led-daylight-bar-90", "led-plant-bar-60", "led-bulb-9")
) -> Iterator[Fixture]:
    """An LED lamp that fits, for animals and plants that want light."""
    size = site.size
    for lamp_id in lamp_ids:
        lamp = site.stock.lamps.get(lamp_id)
        if lamp is None or not site.allows(lamp_id):
            continue
        half = lamp.geometry.length_m / 2 if isinstance(lamp.geometry, LineSource) else 0.05
        if 2 * (half + END_M) > size.length_m:
            continue
        z = size.height_m - TUBE_BELOW_M if site.closed else size.height_m + ABOVE_MESH_M
        at = (round(size.length_m / 2, 3), round(0.6 * size.depth_m, 3), round(z, 3))
        mount: Mount = "screwed" if site.closed else "hung"
        # In small enclosures even an LED warms: the weakest that is sold.
        small = size.length_m * size.depth_m * size.height_m < SMALL_M3
        power = min(lamp.power_choices_w) if small else lamp.power_w
        yield Fixture("daylight", "Daylight", lamp, power, at, "day", mount=mount)
        return


def beside_panels(
    lights: tuple[Fixture, ...], heaters: Iterable[HeaterChoice | None], site: Site
) -> tuple[Fixture, ...] | None:
    """Lamps for light beside the panels of heaters on the lid, not below them.

    Parameters
    ----------
    lights : tuple[Fixture, ...]
        Lamps at their places.
    heaters : iterable of HeaterChoice or None
        What hangs there too.
    site : Site
        Where.

    Returns
    -------
    tuple[Fixture, ...] or None
        The same lamps, some moved to the front or the back; None where there is no room for one.
    """
    panels = [
        (at, one.lamp.geometry)
        for one in heaters
        if one is not None and isinstance(one.lamp.geometry, PanelSource)
        for i, at in enumerate(one.positions)
        if one.mount_of(i) == "screwed"
    ]
    found: list[Fixture] = []
    for light in lights:
        x, y, z = light.position_m
        places = [y]
        for at, panel in panels:
            apart = panel.width_m / 2 + LAMP_HALF_M
            places += [at[1] + apart, at[1] - apart]
        free = [
            place
            for place in places
            if LAMP_HALF_M <= place <= site.size.depth_m - LAMP_HALF_M
            and not any(_below(light, place, at, panel) for at, panel in panels)
            and not any(_alike(light, place, other) for other in found)
        ]
        if not free:
            return None
        nearest = min(free, key=lambda place: abs(place - y))
        found.append(light if nearest == y else replace(light, position_m=(x, round(nearest, 3), z)))
    return tuple(found)


def _half_m(lamp: Lamp) -> float:
    return lamp.geometry.length_m / 2 if isinstance(lamp.geometry, LineSource) else LAMP_HALF_M


def _below(light: Fixture, y_m: float, at: Point, panel: PanelSource) -> bool:
    """Whether a lamp at a depth lies below a panel, or in it."""
    x, _, z = light.position_m
    over = abs(x - at[0]) < panel.length_m / 2 + _half_m(light.lamp)
    return (
        over and abs(y_m - at[1]) < panel.width_m / 2 + LAMP_HALF_M - 1e-6 and abs(z - at[2]) < NEAR_PANEL_M
    )


def _alike(light: Fixture, y_m: float, other: Fixture) -> bool:
    """Whether a lamp at a depth lies in another lamp."""
    over = abs(light.position_m[0] - other.position_m[0]) < _half_m(light.lamp) + _half_m(other.lamp)
    return over and abs(y_m - other.position_m[1]) < LAMP_HALF_M
