"""What an animal was seen to do, and what keepers read from it: a hint, never a diagnosis."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from noonshade.core.places import PlaceFigures
from noonshade.core.plan import Point

SightingKind = Literal["basking", "seat", "gaping", "hidden"]

# So many sightings are needed before anything is said. Estimates, here and below.
LEAST = 5
# Where it sits belongs to the nearest place within this, m.
NEAR_M = 0.30
MOSTLY = 0.8
# Minutes basking in an hour that are nearly all, or next to none.
LONG_MIN, SHORT_MIN = 45.0, 3.0
LEAST_GAPING = 2


@dataclass(frozen=True, slots=True)
class Sighting:
    """Minutes basking in an hour, where it sat, that it gaped, or that it was hidden."""

    kind: SightingKind
    minutes: float | None = None
    position_m: Point | None = None


HintId = Literal["too_few", "always_basking", "never_basking", "hides", "gapes", "moves"]


@dataclass(frozen=True, slots=True)
class Hint:
    """What sightings may mean, and what to read next."""

    id: HintId
    text: str


_TEXTS: dict[HintId, str] = {
    "too_few": f"Not much has been seen yet; from {LEAST} sightings on something can be said.",
    "gapes": (
        "It gapes. Under the lamp that is often heat: read the surface there. Away from it, or with noise "
        "or slime, it is a matter for a veterinarian who knows reptiles."
    ),
    "always_basking": (
        "Nearly always under the lamp: often the rest of the enclosure is too cold, or the lamp too weak. "
        "Read "
        "the air of both ends and the lowest of the night."
    ),
    "never_basking": (
        "Never at the basking spot: often it is too hot or too bright there, or there is no cover on the "
        "way. Read the surface and the UV index there."
    ),
    "hides": (
        "Hides all day: new, disturbed, too bright, or unwell. Leave it alone for a week; if it does not "
        "eat either, ask a veterinarian."
    ),
    "moves": "It moves between warm and cool, as it should.",
}


def find_seat(places: Sequence[PlaceFigures], position_m: Point) -> PlaceFigures | None:
    """The place an animal sat at, the nearest one; None if it sat away from all.

    Parameters
    ----------
    places : Sequence[PlaceFigures]
        The places.
    position_m : Point
        Position, m.

    Returns
    -------
    PlaceFigures | None
        The place an animal sat at, the nearest one.
    """
    nearest = min(places, key=lambda p: math.dist(p.position_m, position_m), default=None)
    if nearest is None or math.dist(nearest.position_m, position_m) > NEAR_M:
        return None
    return nearest


def find_hints(sightings: Sequence[Sighting], places: Sequence[PlaceFigures]) -> tuple[Hint, ...]:
    """What the sightings may mean, the most urgent first.

    Parameters
    ----------
    sightings : Sequence[Sighting]
        What the animal was seen to do.
    places : Sequence[PlaceFigures]
        The places.

    Returns
    -------
    tuple[Hint, ...]
        The hints; one that asks for more sightings while there are too few.
    """
    found = ["too_few"] if len(sightings) < LEAST else list(_signs(sightings, places)) or ["moves"]
    return tuple(Hint(key, _TEXTS[key]) for key in _TEXTS if key in found)


def _signs(sightings: Sequence[Sighting], places: Sequence[PlaceFigures]) -> Iterator[HintId]:
    if sum(s.kind == "gaping" for s in sightings) >= LEAST_GAPING:
        yield "gapes"
    at = [_kind_of(s, places) for s in sightings if s.kind in ("seat", "hidden")]
    minutes = [s.minutes for s in sightings if s.kind == "basking" and s.minutes is not None]
    mean = sum(minutes) / len(minutes) if minutes else None
    enough, basking = len(at) >= LEAST, at.count("basking")
    if (enough and basking >= MOSTLY * len(at)) or (mean is not None and mean >= LONG_MIN):
        yield "always_basking"
    elif basking == 0 and (enough or mean is not None) and (mean is None or mean <= SHORT_MIN):
        yield "never_basking"
    if enough and at.count("uv_refuge") >= MOSTLY * len(at):
        yield "hides"


def _kind_of(sighting: Sighting, places: Sequence[PlaceFigures]) -> str | None:
    if sighting.kind == "hidden":
        return "uv_refuge"
    if sighting.position_m is None:
        return None
    place = find_seat(places, sighting.position_m)
    return None if place is None else place.kind
