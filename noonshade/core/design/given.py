"""Designs for an existing enclosure: walls and things stay, lamps and heaters are chosen anew."""

from __future__ import annotations

from collections.abc import Iterator

from noonshade.core.design.arrangement import Arrangement, bare_plan
from noonshade.core.design.brief import Brief
from noonshade.core.design.furnishing import WARM_X, Furnished
from noonshade.core.design.heaters import air_choices, basking_choices, in_the_way
from noonshade.core.design.layouts import Layout
from noonshade.core.design.lighting import light_choices
from noonshade.core.design.shells import EnclosureKind, Size, Stock
from noonshade.core.design.site import HeaterChoice, Site
from noonshade.core.design.warmth import strong_first
from noonshade.core.places import warm_side
from noonshade.core.plan import Enclosure, Fixture

# Kinds of basking heater and of air heater beside those that hang there, and of lamps for light.
MOST_BASKING, MOST_AIR, MOST_LIGHTS = 2, 1, 1


def kind_of(enclosure: Enclosure) -> EnclosureKind:
    """What an enclosure is most like.

    Parameters
    ----------
    enclosure : Enclosure
        With its walls.

    Returns
    -------
    EnclosureKind
        By its lid and its back.
    """
    lid, back = enclosure.walls["top"], enclosure.walls["back"]
    if lid.material is None and lid.mesh is None:
        return "table"
    if lid.material is None:
        return "mesh" if back.mesh is not None else "glass"
    return "pvc" if back.material is not None and back.material.id.startswith("pvc") else "timber"


def given_site(brief: Brief, stock: Stock) -> Site:
    """The site of an existing enclosure.

    Parameters
    ----------
    brief : Brief
        With the plan as ``given``.
    stock : Stock
        What can be used.

    Returns
    -------
    Site
        Its walls and things as they are.

    Raises
    ------
    ValueError
        If no plan is given.
    """
    plan = brief.given
    if plan is None:
        raise ValueError("no plan is given")
    enclosure, slab = plan.enclosure, plan.basking_slab
    under = any(f.against == "floor" for f in plan.fixtures)
    if slab is not None:
        at = (slab.x_m, slab.y_m, plan.top_of(slab))
    else:
        share = WARM_X if warm_side(plan) == "left" else 1.0 - WARM_X
        at = (share * enclosure.length_m, enclosure.depth_m / 2, plan.substrate.depth_m)
    layout = Layout("ground" if slab is None and under else 0.0)
    furnished = Furnished(plan.substrate, plan.furnishings, at)
    size = Size(enclosure.length_m, enclosure.depth_m, enclosure.height_m)
    return Site(plan.animal, size, kind_of(enclosure), layout, furnished, stock, brief)


def given_arrangements(site: Site) -> Iterator[Arrangement]:
    """Arrangements of an existing enclosure, those with what hangs there first.

    Parameters
    ----------
    site : Site
        As ``given_site`` makes it.

    Yields
    ------
    Arrangement
        By the scope of the brief: its heaters, its lights, or both anew; what is locked stays.
    """
    brief = site.brief
    plan = brief.given
    assert plan is not None
    kept = tuple(f for f in plan.fixtures if f.id in brief.locked)
    free = [f for f in plan.fixtures if f.id not in brief.locked]
    warm = [f for f in free if _warms(f)]
    cool = tuple(f for f in free if not _warms(f))
    if brief.scope == "light":
        # Heaters and thermostats stay as they are.
        stay = (*kept, *warm)
        for one in light_choices(bare_plan(site, 0.5), site, 4):
            yield Arrangement(site, (*stay, *one.fixtures), None, None)
        return
    lights = [(*kept, *cool)]
    if brief.scope == "equipment":
        lights += [(*kept, *one.fixtures) for one in light_choices(bare_plan(site, 0.5), site, MOST_LIGHTS)]
    present = [_choice_of(f) for f in sorted(warm, key=lambda f: f.lit == "night")]
    others = [] if site.animal.species.heat == "avoided" else list(basking_choices(site))[:MOST_BASKING]
    basks = bool(present or others)
    air = [] if site.animal.species.heat == "avoided" else list(air_choices(site))
    air = strong_first(air, site, basks)
    if present or others:
        first = (*present, *others)[0]
        air = [one for one in air if not in_the_way(one, first)]
    air = air[:MOST_AIR]
    pairs: list[tuple[HeaterChoice | None, HeaterChoice | None]] = []
    if present:
        pairs.append((present[0], present[1] if len(present) > 1 else None))
        pairs += [(present[0], heater) for heater in air if not in_the_way(heater, present[0])]
    if site.animal.species.heat != "needed" or not (present or others):
        pairs.append((None, None))
    pairs += [(one, None) for one in others]
    pairs += [(one, heater) for one in others for heater in air if not in_the_way(heater, one)]
    for i, pair in enumerate(pairs):
        for n, lit in enumerate(lights):
            yield Arrangement(site, lit, *pair, i + 2 * n)


def _warms(fixture: Fixture) -> bool:
    return fixture.lamp.is_hot or fixture.lamp.kind == "mat"


def _choice_of(fixture: Fixture) -> HeaterChoice:
    return HeaterChoice(fixture.lamp, (fixture.position_m,), fixture.mount, fixture.guard)
