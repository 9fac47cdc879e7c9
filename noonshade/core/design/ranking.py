"""Which arrangements are worth completing: what they cost beside the checks, and which really differ."""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.assessment.shelter import resting_length_m
from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.prices import THERMOSTATS, price_to_buy
from noonshade.core.design.search import Found

# What each lamp or heater must be worth, in the units of a cost.
PART_COST = 0.06
# What a step away from what is usual must be worth.
UNUSUAL_COST = 0.06
# What each must be worth that the keeper would have to buy, where some lie ready.
BUY_COST = 0.35
# What warmth without light must be worth to an animal that basks in bright patches. Estimate.
DARK_COST = 0.6
# What a mat smaller than the animal lies across, m, must be worth: a panel warms all of it. Estimates.
SMALL_MAT_COST, MAT_ACROSS_M = 0.6, 0.30
# What must be gained to be dearer than the keeper wants, in the search.
OVER_BUDGET_COST = 2.0
# What a heater must be worth to an animal that is offered heat and needs none. Estimate.
NEEDLESS_COST = 0.4


def rank(found: Found) -> float:
    """The cost of an arrangement with what it takes beside its checks.

    Parameters
    ----------
    found : Found
        At its best settings.

    Returns
    -------
    float
        The less the better.
    """
    return (
        found.cost
        + UNUSUAL_COST * found.arrangement.unusual
        + PART_COST * found.arrangement.parts
        + BUY_COST * lamps_to_buy(found.arrangement)
        + unasked_cost(found.arrangement)
        + _over_budget(found)
    )


def _over_budget(found: Found) -> float:
    """What it costs to be dearer than the keeper wants, by the lamps as they burn in the search."""
    brief = found.arrangement.site.brief
    if brief.budget is None:
        return 0.0
    bought = {}
    for fixture in found.evaluation.plan.fixtures:
        # By day and by night it is the same heater.
        bought[fixture.lamp.id, fixture.position_m] = fixture
    plan = replace(found.evaluation.plan, fixtures=tuple(bought.values()))
    heaters = sum(one is not None for one in (found.arrangement.basking, found.arrangement.air))
    price = price_to_buy(plan, brief.owned, brief.given) + heaters * THERMOSTATS["pulse"]
    return OVER_BUDGET_COST if price > brief.budget else 0.0


def unasked_cost(arrangement: Arrangement) -> float:
    """What it costs to warm an animal as it does not want to be, or one that needs no warming.

    Parameters
    ----------
    arrangement : Arrangement
        The arrangement.

    Returns
    -------
    float
        In the units of a cost.
    """
    heaters = sum(one is not None for one in (arrangement.basking, arrangement.air))
    needless = arrangement.site.animal.species.heat != "needed"
    return NEEDLESS_COST * heaters * needless + _dark_cost(arrangement) + _small_mat_cost(arrangement)


def _dark_cost(arrangement: Arrangement) -> float:
    """What it costs an animal that seeks light and warmth together to be warmed without light."""
    species, basking = arrangement.site.animal.species, arrangement.basking
    seeks = species.active == "day" and species.uv_school == "sunbeam"
    return DARK_COST if seeks and basking is not None and not basking.lamp.gives_light else 0.0


def _small_mat_cost(arrangement: Arrangement) -> float:
    """What it costs a large animal to be warmed from below by less than it covers."""
    basking, large = arrangement.basking, resting_length_m(arrangement.site.animal) > MAT_ACROSS_M
    return SMALL_MAT_COST if large and basking is not None and basking.mount == "floor" else 0.0


def lamps_to_buy(arrangement: Arrangement) -> int:
    """How many lamps and heaters do not lie ready, where the keeper has said what does.

    Parameters
    ----------
    arrangement : Arrangement
        The arrangement.

    Returns
    -------
    int
        0 where nothing was said.
    """
    owned = dict(arrangement.site.brief.owned)
    if not owned:
        return 0
    missing = 0
    for lamp_id in lamps_of(arrangement):
        if owned.get(lamp_id, 0) > 0:
            owned[lamp_id] -= 1
        else:
            missing += 1
    return missing


def lamps_of(arrangement: Arrangement) -> list[str]:
    """Ids of all lamps and heaters of an arrangement, each as often as it hangs there.

    Parameters
    ----------
    arrangement : Arrangement
        The arrangement.

    Returns
    -------
    list[str]
        Ids of the catalogue.
    """
    found = [f.lamp.id for f in arrangement.lights]
    for choice in (arrangement.basking, arrangement.air):
        found += [] if choice is None else [choice.lamp.id] * len(choice.positions)
    return found


def finalists_of(ranked: list[Found], most: int) -> list[Found]:
    """The best of each kind.

    Parameters
    ----------
    ranked : list[Found]
        The best first.
    most : int
        How many at most.

    Returns
    -------
    list[Found]
        One of each kind.
    """
    found: list[Found] = []
    seen: list[tuple[object, ...]] = []
    for one in ranked:
        key = _kind_of(one.arrangement)
        if key not in seen and len(found) < most:
            seen.append(key)
            found.append(one)
    return found


def _kind_of(arrangement: Arrangement) -> tuple[object, ...]:
    """What makes a set-up really different: what it is built of, and what warms it from where."""
    basking = arrangement.basking
    warmed = None
    if basking is not None:
        warmed = (basking.lamp.kind, basking.mount in ("floor", "screwed"), len(basking.positions) > 1)
    # Boards of wood or of PVC make no difference worth choosing between.
    walls = "closed" if arrangement.site.closed else arrangement.site.kind
    return walls, warmed, arrangement.air is None
