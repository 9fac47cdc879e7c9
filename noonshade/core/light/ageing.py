"""How much UV a lamp still gives."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

from noonshade.core.plan import Ageing, Plan

LampAge = Literal["new", "present", "worn"]

REFERENCE_H = 100.0  # catalogue readings are of lamps burned in for this long


def uv_share(ageing: Ageing | None, hours: float) -> float:
    """UV output relative to a lamp of 100 h.

    From 100 h on f = r + (1 − r) exp(−(h − 100)/τ). Before, new lamps run high by ``burn_in`` and fall
    to 1 on a straight line. Visible light and heat are taken to stay: an old tube is still bright.

    Parameters
    ----------
    ageing : Ageing or None
        None for a lamp whose UV does not matter; the share is then 1.
    hours : float
        Hours burned, not negative.

    Returns
    -------
    float
        The ratio, 1 at 100 h.

    Raises
    ------
    ValueError
        If the hours are negative.
    """
    if hours < 0:
        raise ValueError("a lamp cannot have burned for less than 0 hours")
    if ageing is None:
        return 1.0
    if hours < REFERENCE_H:
        return 1.0 + ageing.burn_in * (1.0 - hours / REFERENCE_H)
    decay = math.exp(-(hours - REFERENCE_H) / ageing.time_constant_h)
    return ageing.remaining + (1.0 - ageing.remaining) * decay


def with_lamp_age(plan: Plan, age: LampAge) -> Plan:
    """The plan with its UV lamps burned in ("new"), as they are, or at the end of their life ("worn").

    Parameters
    ----------
    plan : Plan
        The plan.
    age : LampAge
        Which hours the lamps have burned.

    Returns
    -------
    Plan
        The plan.
    """
    if age == "present":
        return plan
    fixtures = tuple(
        f
        if f.lamp.ageing is None
        else replace(f, hours=REFERENCE_H if age == "new" else f.lamp.ageing.life_h)
        for f in plan.fixtures
    )
    return replace(plan, fixtures=fixtures)
