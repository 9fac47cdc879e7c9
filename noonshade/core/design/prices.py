"""What lamps, heaters and thermostats cost to buy: rules of thumb, to compare set-ups and keep to a budget.

Estimates, in money of which a kilowatt-hour costs about 0.30; each with its holder, starter or dome. Prices
differ by half and more from shop to shop.
"""

from __future__ import annotations

from collections.abc import Mapping

from noonshade.core.plan import ControlKind, Lamp, Plan

# What one costs by its kind: at no watts, and more for each watt it is sold with at most.
BY_KIND: dict[str, tuple[float, float]] = {
    "tube": (35.0, 1.2),
    "compact": (20.0, 1.0),
    "bulb": (15.0, 0.1),
    "mercury vapour": (45.0, 0.2),
    "metal halide": (110.0, 0.6),
    "led": (10.0, 1.5),
    "heater": (20.0, 0.9),
    "mat": (15.0, 0.8),
}
OTHER_KIND = (25.0, 0.5)
# Ceramics are cheap for their watts, unlike radiant panels.
CERAMIC = (20.0, 0.1)
THERMOSTATS: dict[ControlKind, float] = {"on_off": 35.0, "pulse": 70.0, "dimming": 90.0}
# Prices are said to the next five.
STEP = 5.0


def price_of(lamp: Lamp, power_w: float) -> float:
    """What a lamp or heater of some watts costs.

    Parameters
    ----------
    lamp : Lamp
        The lamp.
    power_w : float
        Watts it is sold with.

    Returns
    -------
    float
        Money, in steps of five.
    """
    base, each = CERAMIC if lamp.id.startswith("ceramic") else BY_KIND.get(lamp.kind, OTHER_KIND)
    return STEP * round((base + each * power_w) / STEP)


def price_to_buy(plan: Plan, owned: Mapping[str, int] | None = None, given: Plan | None = None) -> float:
    """What a keeper still has to buy of the lamps, heaters and thermostats of a plan.

    Parameters
    ----------
    plan : Plan
        The plan.
    owned : Mapping[str, int], optional
        How many of a lamp, by its id, lie ready.
    given : Plan, optional
        The enclosure as it is: what hangs there is not bought again.

    Returns
    -------
    float
        Money.
    """
    ready = dict(owned or {})
    dials: dict[ControlKind, int] = {}
    if given is not None:
        for fixture in given.fixtures:
            ready[fixture.lamp.id] = ready.get(fixture.lamp.id, 0) + 1
        for control in given.thermostats:
            dials[control.kind] = dials.get(control.kind, 0) + 1
    total = 0.0
    for fixture in plan.fixtures:
        if ready.get(fixture.lamp.id, 0) > 0:
            ready[fixture.lamp.id] -= 1
        else:
            total += price_of(fixture.lamp, fixture.power_w)
    for control in plan.thermostats:
        if dials.get(control.kind, 0) > 0:
            dials[control.kind] -= 1
        else:
            total += THERMOSTATS[control.kind]
    return total
