"""Heaters that turned out to do next to nothing are left out."""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.design.ranking import rank
from noonshade.core.design.search import Found, Search
from noonshade.core.design.site import HeaterChoice

# A heater that takes less than this share of the least watts it is sold in is idle. Estimate.
IDLE_SHARE = 0.3
# What it may cost to be without it: a part less to buy and to fail is worth that.
WORTH = 0.2


def without_idle(found: Found) -> Found:
    """The same without dark heaters that are idle by day and by night.

    In a room with months those for the air may be wanted then, and stay.

    Parameters
    ----------
    found : Found
        An arrangement at its best settings.

    Returns
    -------
    Found
        Without them where that is about as good; else unchanged.
    """
    one = found.arrangement
    brief = one.site.brief
    changed = one
    if _is_idle(found, one.basking, "basking") and brief.given is None:
        changed = replace(changed, basking=None)
    if not brief.room.months and _is_idle(found, one.air, "air"):
        changed = replace(changed, air=None)
    if changed is one:
        return found
    names = {s.name for s in changed.settings()}
    known = replace(found, values={k: v for k, v in found.values.items() if k in names}, responses={})
    less = Search(changed).run(known)
    if less is None:
        return found
    screened, evaluated = found.screened + less.screened, found.evaluated + less.evaluated
    less = replace(less, screened=screened, evaluated=evaluated)
    return less if rank(less) < rank(found) + WORTH else found


def _is_idle(found: Found, heater: HeaterChoice | None, name: str) -> bool:
    if heater is None or heater.lamp.gives_light:
        return False
    least = min(heater.lamp.power_choices_w) * len(heater.positions)
    watts = max(found.values.get(f"{name}_w", 0.0), found.values.get(f"{name}_night_w", 0.0))
    return watts < IDLE_SHARE * least
