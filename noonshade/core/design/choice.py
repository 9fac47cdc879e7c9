"""Which set-ups are shown, in which order, and what each is best at."""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.design.aims import dangers_of, failures_of
from noonshade.core.design.given import kind_of
from noonshade.core.design.set_up import SetUp
from noonshade.core.uncertainty.chances import SURE

# A set-up counts as cheaper below this share of another's energy or price.
CHEAPER = 0.8
# How many are shown.
SHOWN = 3


def different(set_ups: list[SetUp]) -> list[SetUp]:
    """Set-ups of other lamps, heaters or walls than those before them.

    Parameters
    ----------
    set_ups : list[SetUp]
        In their order.

    Returns
    -------
    list[SetUp]
        Without repetitions.
    """
    found: list[SetUp] = []
    seen: list[object] = []
    for one in set_ups:
        lamps = sorted((f.lamp.id, f.mount) for f in one.plan.fixtures)
        built = (lamps, kind_of(one.plan.enclosure))
        if built not in seen:
            seen.append(built)
            found.append(one)
    return found


def order_of(set_up: SetUp) -> tuple[bool, bool, bool, int, float, int, float]:
    """What set-ups are sorted by: danger, fit, budget, what is missed, doubt, what-if tests, cost.

    Parameters
    ----------
    set_up : SetUp
        The set-up.

    Returns
    -------
    tuple
        The less the better.
    """
    missed = sum(m.failing for m in set_up.months) + len(failures_of(set_up.evaluation))
    unsafe = sum(not test.safe for test in set_up.what_if)
    danger = bool(dangers_of(set_up.evaluation))
    # By how much checks that are in range are too unlikely; a few hundredths decide nothing.
    doubt = round(sum(SURE - (c.chance or 0.0) for c in set_up.evaluation.uncertain), 1)
    return danger, not set_up.fits, set_up.over_budget, missed, doubt, unsafe, set_up.cost


def _missed(set_up: SetUp) -> int:
    """Checks that fail now, and months that do not fit."""
    return len(failures_of(set_up.evaluation)) + sum(not m.fits for m in set_up.months)


def chosen_of(ranked: list[SetUp]) -> tuple[SetUp, ...]:
    """The steadiest, the cheapest to run and to buy, and another that really differs.

    Parameters
    ----------
    ranked : list[SetUp]
        The best first.

    Returns
    -------
    tuple[SetUp, ...]
        With labels; none where there is none.
    """
    if not ranked:
        return ()
    steady = replace(ranked[0], label="steadiest")
    # Another is worth showing only if it does about as well.
    most = _missed(steady) + (not steady.fits)
    rest = [s for s in ranked[1:] if _missed(s) <= most and (s.fits or not steady.fits)]
    chosen = [steady]
    cheaper = min(rest, key=lambda s: s.month_kwh, default=None)
    if cheaper is not None and cheaper.month_kwh < CHEAPER * steady.month_kwh:
        chosen.append(replace(cheaper, label="cheapest to run"))
        rest.remove(cheaper)
    saving = min(rest, key=lambda s: s.price, default=None)
    if saving is not None and saving.price < CHEAPER * min(s.price for s in chosen):
        chosen.append(replace(saving, label="cheapest to buy"))
        rest.remove(saving)
    ready = next((s for s in rest if s.from_owned), None)
    if ready is not None and not steady.from_owned:
        chosen.append(replace(ready, label="from what you own"))
        rest.remove(ready)
    chosen += rest
    return tuple(chosen[:SHOWN])
