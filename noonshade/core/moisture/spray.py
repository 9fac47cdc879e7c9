"""Water that is sprayed: where it lands, how much stays, how fast it dries."""

from __future__ import annotations

from noonshade.core.plan import Plan

# Leaves and glass hold this much before it runs off into the ground, kg/m². Estimate.
FULL_FILM_KG_M2 = 0.05
# Spray wets leaves, branches and walls too: this many times the floor's area. Estimate.
SPRAYED_AREAS = 2.5
# Share of sprayed water that stays on surfaces; the rest evaporates from the droplets. Estimate.
SPRAY_ON_SURFACES = 0.9


def sprayed_area_m2(plan: Plan) -> float:
    """Surface that spraying wets, m².

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        The area, m².
    """
    return SPRAYED_AREAS * plan.enclosure.length_m * plan.enclosure.depth_m


def most_film_kg(plan: Plan) -> float:
    """Most water that stays on surfaces, kg.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    float
        The water, kg.
    """
    return FULL_FILM_KG_M2 * sprayed_area_m2(plan)


def wet_area_m2(plan: Plan, film_kg: float) -> float:
    """Surface that gives off water while some of it is left.

    Less than a film stands in drops, whose surface goes with the two-thirds power of their water.

    Parameters
    ----------
    plan : Plan
        The plan.
    film_kg : float
        Water that is left, kg.

    Returns
    -------
    float
        The area, m².
    """
    return sprayed_area_m2(plan) * float((film_kg / most_film_kg(plan)) ** (2.0 / 3.0))


def given_at_once_kg(litres: float, missing_kg_m3: float, volume_m3: float) -> float:
    """What droplets give off before they land, no more than the air can take, kg.

    Parameters
    ----------
    litres : float
        Water sprayed, L.
    missing_kg_m3 : float
        What the air lacks until it is saturated, kg/m³.
    volume_m3 : float
        Of the air, m³.

    Returns
    -------
    float
        The water, kg.
    """
    return min((1.0 - SPRAY_ON_SURFACES) * litres, max(missing_kg_m3, 0.0) * volume_m3)
