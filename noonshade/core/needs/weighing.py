"""Settling what several sources claim, by one of four schools."""

from __future__ import annotations

import math
from dataclasses import dataclass

from noonshade.core.needs.species import (
    GRADES,
    SHARES,
    STAGE_LIKE,
    Claim,
    ClaimedNeed,
    Grade,
    HomeClimate,
    Need,
    PlaceKind,
    Quantity,
    School,
    Species,
    StageId,
)

# Air at home in the months an animal is active: those whose highest is not below this, °C. Estimate.
ACTIVE_FROM_C = 15.0

# Narrower than this a range can be neither set nor measured: what two good instruments differ by, how far
# a lamp's surface swings. Estimates.
LEAST_WIDTH: dict[Quantity, float] = {
    "surface_temperature": 4.0,
    "air_temperature": 2.0,
    "water_temperature": 2.0,
    "uvi": 1.0,
    "humidity": 0.15,
}

_BY = {
    "overlap": "where all {n} sources agree",
    "average": "the average of {n} sources",
    "careful": "the most careful of {n} sources: {why}",
    "home": "the wild climate: {why}",
    "widened": "the {n} sources share only {shared}, widened to what can be set and measured",
}


@dataclass(frozen=True, slots=True)
class Settled:
    """A range with the grade and source it rests on, and how it came about."""

    low: float | None
    high: float | None
    grade: Grade
    source: str
    note: str


def overlap_of(claims: tuple[Claim, ...]) -> tuple[float | None, float | None] | None:
    """The range all claims share, or None if there is none.

    Parameters
    ----------
    claims : tuple[Claim, ...]
        Claims about one figure at one place.

    Returns
    -------
    tuple[float | None, float | None] | None
        Low and high end, each None if open; None if the claims share no value.
    """
    low = max((c.low for c in claims if c.low is not None), default=None)
    high = min((c.high for c in claims if c.high is not None), default=None)
    if low is not None and high is not None and low >= high:
        return None
    return low, high


def outliers_of(claims: tuple[Claim, ...]) -> tuple[int, ...]:
    """Numbers of the claims that meet none of the others, where most of the others meet each other.

    Parameters
    ----------
    claims : tuple[Claim, ...]
        Claims about one figure at one place.

    Returns
    -------
    tuple[int, ...]
        Indices of those claims, from 0.
    """
    if len(claims) < 3:
        return ()
    meets = [
        [i != k and overlap_of((a, b)) is not None for k, b in enumerate(claims)]
        for i, a in enumerate(claims)
    ]
    alone = tuple(i for i, row in enumerate(meets) if not any(row))
    return alone if len(alone) <= (len(claims) - 1) // 2 else ()


def most_careful(quantity: Quantity, claims: tuple[Claim, ...]) -> tuple[Claim, str]:
    """The claim that does least harm if it is the others that are right, and why.

    Too much heat or UV harms within the hour, too little within weeks; an animal that is too dry or too
    wet can be helped either way, so there the narrowest range is taken.

    Parameters
    ----------
    quantity : Quantity
        Which quantity.
    claims : tuple[Claim, ...]
        Claims about one figure at one place.

    Returns
    -------
    tuple[Claim, str]
        The claim, and its reason as a sentence.
    """
    if quantity in ("surface_temperature", "air_temperature", "uvi"):
        chosen = min(claims, key=lambda c: (_upper(c), _lower(c)))
        return chosen, "the lowest upper limit, since too much harms before too little does"
    if quantity == "uv_free_share":
        return max(claims, key=_lower), "the most shade"
    return min(claims, key=lambda c: _upper(c) - _lower(c)), "the narrowest range"


def _upper(claim: Claim) -> float:
    return math.inf if claim.high is None else claim.high


def _lower(claim: Claim) -> float:
    return -math.inf if claim.low is None else claim.low


def settle(
    quantity: Quantity,
    claims: tuple[Claim, ...],
    school: School = "overlap",
    home: Settled | None = None,
) -> Settled:
    """One range from several claims.

    Parameters
    ----------
    quantity : Quantity
        What the claims are about.
    claims : tuple of Claim
        At least one, all about the same thing.
    school : School
        ``"overlap"``, else the most careful; ``"average"``; ``"careful"``; ``"home"``, the home climate
        where it adds something, else as ``"overlap"``.
    home : Settled, optional
        What the home climate says of the needs.

    Returns
    -------
    Settled
        The range with its grade, how it was found, and the outliers.

    Raises
    ------
    ValueError
        Without a claim.
    """
    if not claims:
        raise ValueError("nothing is claimed")
    if school == "home" and home is not None:
        return home
    if len(claims) == 1:
        only = claims[0]
        return Settled(only.low, only.high, only.grade, only.source, "")
    n, sources = len(claims), "; ".join(c.source for c in claims)
    weakest = max((c.grade for c in claims), key=GRADES.index)
    if school == "average":
        low, high = _mean([c.low for c in claims]), _mean([c.high for c in claims])
        return Settled(low, high, weakest, sources, _BY["average"].format(n=n))
    shared = overlap_of(claims)
    if school in ("overlap", "home") and shared is not None:
        wide = widened(quantity, claims, *shared)
        if wide == shared:
            return Settled(*shared, weakest, sources, _BY["overlap"].format(n=n))
        text = _range_text(quantity, *shared)
        return Settled(*wide, weakest, sources, _BY["widened"].format(n=n, shared=text))
    chosen, why = most_careful(quantity, claims)
    note = _BY["careful"].format(n=n, why=why)
    if school in ("overlap", "home"):
        note = f"the sources share no range, so {note}"
    return Settled(chosen.low, chosen.high, chosen.grade, chosen.source, note)


def widened(
    quantity: Quantity, claims: tuple[Claim, ...], low: float | None, high: float | None
) -> tuple[float | None, float | None]:
    """A range that sources share, made as wide as can be set and measured.

    It grows both ways alike, but never beyond what at least one source allows; what one side cannot take
    goes to the other.

    Parameters
    ----------
    quantity : Quantity
        What the claims are about.
    claims : tuple[Claim, ...]
        The claims that share the range.
    low, high : float or None
        The range they share.

    Returns
    -------
    tuple[float | None, float | None]
        The range itself where it is wide enough or open; else one as wide as ``LEAST_WIDTH`` of the
        quantity, or as all claims together.
    """
    least = LEAST_WIDTH.get(quantity, 0.0)
    if low is None or high is None or high - low >= least:
        return low, high
    bottom, top = min(map(_lower, claims)), max(map(_upper, claims))
    more = (least - (high - low)) / 2.0
    down, up = min(more, low - bottom), min(more, top - high)
    down = min(least - (high - low) - up, low - bottom)
    up = min(least - (high - low) - down, top - high)
    return low - down, high + up


def _range_text(quantity: Quantity, low: float | None, high: float | None) -> str:
    scale, unit = (100.0, " %") if quantity in SHARES else (1.0, "" if quantity == "uvi" else " °C")
    ends = [f"{scale * v:.3g}" for v in (low, high) if v is not None]
    return "–".join(ends) + unit


def _mean(limits: list[float | None]) -> float | None:
    """The mean of limits; open if any source leaves that side open."""
    given = [v for v in limits if v is not None]
    return sum(given) / len(given) if len(given) == len(limits) else None


def at_home(home: HomeClimate, place: PlaceKind, quantity: Quantity) -> Settled | None:
    """What the home climate says of a need, over the months in which it is warm enough to be active.

    Warm-end air is what the day reaches, between the coolest and the warmest such month; cool-end air
    the mean of day and night; a night what it falls to. Of anything else it says nothing.

    Parameters
    ----------
    home : HomeClimate
        The climate of the species' home.
    place : PlaceKind
        The place.
    quantity : Quantity
        Which quantity.

    Returns
    -------
    Settled | None
        The range, or None if the home climate says nothing of that need.
    """
    if quantity != "air_temperature":
        return None
    months = [i for i in range(12) if home.maximum_c[i] >= ACTIVE_FROM_C]
    if not months:
        return None
    if place == "warm_end":
        values, what = [home.maximum_c[i] for i in months], "daily highest air"
    elif place == "cool_end":
        values = [(home.minimum_c[i] + home.maximum_c[i]) / 2 for i in months]
        what = "mean air"
    elif place == "night":
        values, what = [home.minimum_c[i] for i in months], "nightly lowest air"
    else:
        return None
    low, high = min(values), max(values)
    if high - low < 2.0:
        # Where all months are alike the range would be narrower than any room can be kept.
        low, high = (low + high) / 2 - 1.0, (low + high) / 2 + 1.0
    note = _BY["home"].format(why=f"{what} of the active months, {home.label}")
    return Settled(low, high, "estimate", home.source, note)


def needs_for(
    species: Species,
    stage: StageId = "adult",
    school: School = "overlap",
    low_pigment: bool = False,
) -> tuple[Need, ...]:
    """The needs of a stage, settled by a school; those stated for that stage go before the general ones.

    An animal of low pigment, or one whose eyes or skin are hurt, gets half the UV.

    Parameters
    ----------
    species : Species
        The species.
    stage : StageId
        Stage of life.
    school : School
        How sources that differ are weighed.
    low_pigment : bool
        Whether the animal has little pigment.

    Returns
    -------
    tuple[Need, ...]
        The needs of a stage, settled by a school.
    """
    found = []
    for need in _of_stage(species.needs, stage):
        home = at_home(species.home, need.place, need.quantity)
        s = settle(need.quantity, need.claims, school, home)
        low, high, note = s.low, s.high, s.note
        if low_pigment and need.quantity == "uvi" and need.place != "uv_refuge":
            low, high = _halved(low), _halved(high)
            note = f"{note}; " * bool(note) + "halved for low pigment or hurt eyes (estimate)"
        found.append(
            Need(
                need.place,
                need.quantity,
                low,
                high,
                s.grade,
                s.source,
                need.offered,
                note,
                need.claims,
                outliers_of(need.claims),
            )
        )
    return tuple(found)


def _halved(value: float | None) -> float | None:
    return None if value is None else 0.5 * value


def _of_stage(needs: tuple[ClaimedNeed, ...], stage: StageId) -> list[ClaimedNeed]:
    found = {(w.place, w.quantity): w for w in needs if w.stage is None}
    for like in (STAGE_LIKE.get(stage), stage):
        found |= {(w.place, w.quantity): w for w in needs if like is not None and w.stage == like}
    return list(found.values())
