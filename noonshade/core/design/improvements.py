"""What to try next where the best that was found is missed or in doubt."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from itertools import zip_longest

from noonshade.core.assessment.finding import Finding
from noonshade.core.design.aims import NOT_OURS, chance_of, failures_of
from noonshade.core.design.arrangement import SPRAYED_AT, SPRAYED_BY_NIGHT_AT, Arrangement
from noonshade.core.design.heaters import basking_choices, in_the_way
from noonshade.core.design.lighting import beside_panels
from noonshade.core.design.options import air_beside
from noonshade.core.design.search import Found
from noonshade.core.uncertainty.chances import SURE


def others_like(found: Found, tried: Iterable[Arrangement]) -> list[Arrangement]:
    """The same with heaters that were not looked at yet, where a check is missed or in doubt.

    Parameters
    ----------
    found : Found
        The best so far.
    tried : Iterable[Arrangement]
        What was searched.

    Returns
    -------
    list[Arrangement]
        With other heaters for the air; with other lamps over the basking spot too where that is missed, or
        a surface is. None where the best is sure, or the animal takes no heat.
    """
    one = found.arrangement
    site = one.site
    too_narrow = is_too_narrow(found)
    doubtful = _doubtful_places(found)
    if not doubtful or site.animal.species.heat == "avoided" or site.brief.given is not None:
        return []
    air = [replace(one, air=other) for other in air_beside(site, one.basking)]
    if one.air is not None:
        air.append(replace(one, air=None))
    spots = []
    if one.basking is not None and doubtful & {"basking", "reachable"}:
        choices = site.owned_first(basking_choices(site))
        spots = [
            replace(one, basking=other)
            for other in choices
            if one.air is None or not in_the_way(one.air, other)
        ]
    known = {_heaters_of(other) for other in tried}
    result = []
    in_turn = [x for pair in zip_longest(spots, air) for x in pair if x is not None]
    if too_narrow and not doubtful - {"basking"}:
        # Nothing but several lamps warms the whole of a large animal.
        in_turn = [*sorted(spots, key=_lamps_over_the_spot, reverse=True), *air]
    for other in in_turn:
        lights = beside_panels(other.lights, (other.basking, other.air), site)
        if lights is not None and _heaters_of(other) not in known:
            result.append(replace(other, lights=lights, unusual=one.unusual + 1))
    return result


def is_doubtful(found: Found) -> bool:
    """Whether a required check is missed or not likely enough, or the spot is too narrow.

    Parameters
    ----------
    found : Found
        An arrangement at its best settings.

    Returns
    -------
    bool
        True where others are worth a look.
    """
    return bool(_doubtful_places(found))


def _doubtful_places(found: Found) -> set[str]:
    places: set[str] = {c.need.place for c in found.evaluation.checks if c.required and chance_of(c) < SURE}
    return {*places, "basking"} if is_too_narrow(found) else places


def with_night_heater(found: Found) -> Arrangement | None:
    """The same with a heater for its air, where nothing is missed but warmth at night.

    Parameters
    ----------
    found : Found
        An arrangement at its best settings.

    Returns
    -------
    Arrangement or None
        None where it has such a heater, misses something else, or there is no place for one.
    """
    one = found.arrangement
    missed = [
        (c.id, c.status) for c in found.evaluation.checks if c.required and c.status in ("low", "high")
    ]
    if one.site.brief.given is not None or one.air is not None or one.basking is None:
        return None
    if missed != [("night:air_temperature", "low")]:
        return None
    for choice in air_beside(one.site, one.basking):
        lights = beside_panels(one.lights, (one.basking, choice), one.site)
        if lights is not None:
            return replace(one, air=choice, lights=lights)
    return None


def sprayed_by_night(found: Found) -> Arrangement | None:
    """The same sprayed once more late in the evening, where nights are too dry or may be.

    Leaves and walls hold only so much water: what is sprayed at dusk beyond that runs off, and the rest
    is gone before the night is over.

    Parameters
    ----------
    found : Found
        An arrangement at its best settings.

    Returns
    -------
    Arrangement or None
        None where nights are moist enough, or it is not sprayed, or by night already.
    """
    one = found.arrangement
    if "spray_l_m2" not in found.values or one.sprayed_at != SPRAYED_AT:
        return None
    night = next((c for c in found.evaluation.checks if c.id == "night:humidity" and c.required), None)
    if night is None or night.value is None or chance_of(night) >= SURE:
        return None
    middle = ((night.need.low or 0.0) + (night.need.high or 1.0)) / 2.0
    return replace(one, sprayed_at=SPRAYED_BY_NIGHT_AT) if night.value < middle else None


def is_too_narrow(found: Found) -> bool:
    """Whether a basking spot is warm enough only for a part of the animal.

    Parameters
    ----------
    found : Found
        An arrangement at its best settings.

    Returns
    -------
    bool
        True where several lamps might do better.
    """
    return any(
        isinstance(f, Finding) and f.kind == "patch" for f in failures_of(found.evaluation, NOT_OURS)
    )


def several_lamps(found: Found, left: Iterable[Arrangement]) -> Arrangement | None:
    """What to try at once where a basking spot is too narrow: the one with most lamps over it.

    Parameters
    ----------
    found : Found
        The first arrangement of a site.
    left : Iterable[Arrangement]
        What is left to search there.

    Returns
    -------
    Arrangement or None
        None where the spot is wide enough, or none has several lamps.
    """
    if not is_too_narrow(found):
        return None
    best = max(left, key=_lamps_over_the_spot, default=None)
    return best if best is not None and _lamps_over_the_spot(best) > 1 else None


def _lamps_over_the_spot(arrangement: Arrangement) -> int:
    return 0 if arrangement.basking is None else len(arrangement.basking.positions)


def _heaters_of(arrangement: Arrangement) -> tuple[object, ...]:
    """What warms an arrangement, where, and in which enclosure: alike also from another process."""
    site = arrangement.site
    both = (arrangement.basking, arrangement.air)
    heaters = tuple(None if one is None else (one.lamp.id, one.positions) for one in both)
    return site.kind, site.lid_share, site.layout, heaters
