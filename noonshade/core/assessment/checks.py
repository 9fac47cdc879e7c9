"""Each need against its figure: low, ok, high, uncertain or unknown, with a reason."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.assessment.reasons import reason_for
from noonshade.core.assessment.status import (
    SEVERITIES,
    Severity,
    Status,
    is_harmless,
    off_by,
    severity_of,
    status_of,
)
from noonshade.core.heat.climate import Climate
from noonshade.core.moisture.misted_day import MistedDay
from noonshade.core.needs.species import Need
from noonshade.core.phrase import Phrase
from noonshade.core.places import PlaceFigures, ReachableSurface, reachable_surfaces
from noonshade.core.plan import Moment

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Course:
    """A figure over the hours it is about: its lowest and highest, and the share of hours in range."""

    lowest: float
    highest: float
    share: float


@dataclass(frozen=True, slots=True)
class Check:
    """One need at one place. ``value`` is in the need's unit; None when it cannot be computed.

    ``required`` is whether the enclosure does not fit without it. ``chance`` is how likely the need is met,
    None until it has been computed; ``settles`` says which reading would settle an uncertain check.
    """

    id: str
    place_id: str
    place_label: str
    need: Need
    value: float | None
    status: Status
    reason: Phrase
    severity: Severity = "none"
    required: bool = True
    course: Course | None = None
    chance: float | None = None
    settles: str = ""

    @property
    def fails(self) -> bool:
        """Whether it must be fixed."""
        return self.severity in ("fault", "danger")

    @property
    def fits(self) -> bool:
        """Whether the enclosure may be said to fit: what is required is in range and likely to be."""
        return self.status == "ok" or (not self.required and not self.fails)

    @property
    def off_by(self) -> float:
        """How far outside the range the value is, as a share of the range's width; 0 inside it."""
        return off_by(self.need, self.value, self.status)


@dataclass(frozen=True, slots=True)
class HottestSurface:
    """The hottest surface an animal can reach, and whether it is so by day or by night."""

    surface: ReachableSurface
    moment: Moment


@dataclass(frozen=True, slots=True)
class EnclosureFigures:
    """Figures of the whole enclosure.

    Air and humidity late at night, the share of the ground (for climbers also of perches and cover) that is
    free of UV, the hottest surface within reach, and the day's humidity with its sprays (None where nobody
    sprays).
    """

    night_air_c: float
    night_humidity: float
    uv_free_share: float
    hottest: HottestSurface
    misted: MistedDay | None = None


def hottest_surface(day: Climate, night: Climate, places: tuple[PlaceFigures, ...]) -> HottestSurface:
    """The hottest surface an animal can reach, by day or by night, beside the basking spot by day.

    Parameters
    ----------
    day, night : Climate
        The climates.
    places : tuple[PlaceFigures, ...]
        The places by day; what the basking spot is on has its own check.

    Returns
    -------
    HottestSurface
        The surface and the moment.
    """
    own = {p.thing_id for p in places if p.kind == "basking"}
    if day.plan.animal.need("basking", "surface_temperature") is None:
        own = set()
    found = reachable_surfaces(day)
    by_day = next((s for s in found if s.thing_id not in own), found[-1])
    by_night = reachable_surfaces(night)[0]
    if by_night.temperature_c > by_day.temperature_c:
        return HottestSurface(by_night, "night")
    return HottestSurface(by_day, "day")


def run_checks(
    day: Climate, places: tuple[PlaceFigures, ...], whole: EnclosureFigures
) -> tuple[Check, ...]:
    """Assess every need of the plan's species at every place it applies to.

    Parameters
    ----------
    day : Climate
        The climate of the day.
    places : tuple[PlaceFigures, ...]
        The places.
    whole : EnclosureFigures
        Figures of the whole enclosure.

    Returns
    -------
    tuple[Check, ...]
        One check for each need and place, in the order of the needs.
    """
    checks: list[Check] = []
    for need in day.plan.animal.needs:
        if need.place == "night":
            checks.append(_at_night(day, need, whole))
        elif need.place in ("enclosure", "reachable"):
            checks.append(_of_all(day, need, places, whole))
        else:
            checks += _at_places(day, need, places, whole)
    return tuple(checks)


def _at_night(day: Climate, need: Need, whole: EnclosureFigures) -> Check:
    if need.quantity == "air_temperature":
        return _check(day, need, "night", "Night", whole.night_air_c, None)
    if whole.misted is None:
        return _check(day, need, "night", "Night", whole.night_humidity, None)
    course = whole.misted.humidity("night", whole.night_air_c)
    return _check(day, need, "night", "Night", float(np.mean(course)), None, _course(need, course))


def _of_all(day: Climate, need: Need, places: tuple[PlaceFigures, ...], whole: EnclosureFigures) -> Check:
    if need.quantity == "gradient":
        return _check(day, need, "enclosure", "Warm and cool", gradient_k(places), None)
    if need.quantity == "uv_free_share":
        return _check(day, need, "enclosure", "Shade", whole.uv_free_share, None)
    found = whole.hottest
    label = "Hottest other surface" if any(p.kind == "basking" for p in places) else "Hottest surface"
    return _check(day, need, "reachable", label, found.surface.temperature_c, None, hottest=found)


def gradient_k(places: tuple[PlaceFigures, ...]) -> float:
    """What the warmest and the coolest place an animal can be at differ by, K.

    By operative temperature: what a body would settle at there.

    Parameters
    ----------
    places : tuple[PlaceFigures, ...]
        The places.

    Returns
    -------
    float
        The difference, K.
    """
    felt = [p.operative_c for p in places]
    return max(felt) - min(felt)


def _at_places(
    day: Climate, need: Need, places: tuple[PlaceFigures, ...], whole: EnclosureFigures
) -> list[Check]:
    moist = {h.id for h in day.plan.hides if h.moist}
    if need.place == "moist_hide":
        matching = [p for p in places if p.id in moist]
    else:
        matching = [p for p in places if p.kind == need.place]
    if not matching:
        # Perches between the highest and the lowest are welcome, and not asked for.
        return [] if need.offered or need.place == "middle" else [_missing(need)]
    if need.place == "moist_hide":
        # One that is moist enough is what it takes.
        matching = [max(matching, key=lambda p: p.relative_humidity)]
    if need.place == "burrow":
        # One it can go to is what it takes; the others are its choice.
        matching = [min(matching, key=lambda p: _off(need, p))]
    found = []
    for place in matching:
        value, course = figure_for(place, need), None
        if need.quantity == "humidity" and whole.misted is not None and place.id not in moist:
            hours = whole.misted.humidity("day", place.air_c)
            value, course = float(np.mean(hours)), _course(need, hours)
        found.append(_check(day, need, place.id, place.label, value, place, course))
    return found


def _off(need: Need, place: PlaceFigures) -> float:
    value = figure_for(place, need)
    return off_by(need, value, status_of(need, value))


def _course(need: Need, values: Floats) -> Course:
    share = float(np.mean([status_of(need, float(v)) == "ok" for v in values]))
    return Course(float(np.min(values)), float(np.max(values)), share)


def figure_for(place: PlaceFigures, need: Need) -> float | None:
    """The figure a need is assessed by.

    Needs of the air are of what a shaded probe reads: keepers measure with one. UVI at the basking spot is
    what the animal's back receives (level); in a refuge it is the worst direction (facing the lamp).

    Parameters
    ----------
    place : PlaceFigures
        The place.
    need : Need
        The need.

    Returns
    -------
    float | None
        The figure in the need's unit; None where the place has none.
    """
    if need.quantity in ("surface_temperature", "water_temperature"):
        return place.surface_c
    if need.quantity == "air_temperature":
        return place.probe_c
    if need.quantity == "humidity":
        return place.relative_humidity
    return place.uvi_facing if place.kind == "uv_refuge" else place.uvi_level


_MISSING: dict[str, tuple[str, str]] = {
    "basking": ("Basking spot", "Nothing in this plan is a basking spot."),
    "uv_refuge": ("UV refuge", "This plan has no place out of the light."),
    "burrow": ("Burrow", "The ground is too shallow to dig a burrow in."),
    "water": ("Water", "This plan has no water to live in."),
    "moist_hide": ("Moist hide", "No hide in this plan is kept moist."),
}


def _missing(need: Need) -> Check:
    label, why = _MISSING.get(need.place, (need.place, "This place does not exist in this plan."))
    key = f"{need.place}:{need.quantity}"
    return Check(key, need.place, label, need, None, "unknown", (why,), "fault")


def _check(
    day: Climate,
    need: Need,
    place_id: str,
    label: str,
    value: float | None,
    place: PlaceFigures | None,
    course: Course | None = None,
    hottest: HottestSurface | None = None,
) -> Check:
    status = status_of(need, value)
    severity = severity_of(day.plan, need, value, status)
    if hottest is None:
        reason = reason_for(day, need, place, status)
    else:
        reason = reason_for(day, need, place, status, hottest.surface, hottest.moment)
    required = need.required and not is_harmless(need, status)
    check_id = f"{place_id}:{need.quantity}"
    return Check(check_id, place_id, label, need, value, status, reason, severity, required, course)


__all__ = [
    "SEVERITIES",
    "Check",
    "Course",
    "EnclosureFigures",
    "HottestSurface",
    "Severity",
    "Status",
    "figure_for",
    "gradient_k",
    "hottest_surface",
    "run_checks",
    "severity_of",
    "status_of",
]
