"""Each need against its figure: low, ok, high or unknown, with a reason."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from noonshade.core.heat.climate import Climate
from noonshade.core.light.ageing import uv_share
from noonshade.core.light.exposure import UV_FREE_UVI
from noonshade.core.light.screens import screen_loss, screens_before
from noonshade.core.needs.species import Need
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.places import PlaceFigures
from noonshade.core.plan import Fixture, Mesh, Plan

# Below this share of its first UV a lamp's age is given as a reason.
OLD_SHARE = 0.9

# A surface so far above its range burns, K. Estimate.
BURNS_K = 8.0
# UV of more than this many times the range's upper end harms eyes within a day. Estimate.
GLARING = 1.6

Status = Literal["low", "ok", "high", "unknown"]
# How bad a failed check is: it may be left, it must be fixed, or the animal must not go in.
Severity = Literal["none", "note", "fault", "danger"]
SEVERITIES: tuple[Severity, ...] = ("none", "note", "fault", "danger")


@dataclass(frozen=True, slots=True)
class Check:
    """One need at one place. ``value`` is in the need's unit; None when it cannot be computed."""

    id: str
    place_id: str
    place_label: str
    need: Need
    value: float | None
    status: Status
    reason: Phrase
    severity: Severity = "none"

    @property
    def fails(self) -> bool:
        """Whether it must be fixed."""
        return self.severity in ("fault", "danger")

    @property
    def off_by(self) -> float:
        """How far outside the range the value is, as a share of the range's width; 0 inside it."""
        if self.value is None or self.status in ("ok", "unknown"):
            return 0.0
        low, high = self.need.low, self.need.high
        width = high - low if low is not None and high is not None else max(abs(high or low or 1.0), 1e-3)
        limit = low if self.status == "low" else high
        assert limit is not None
        return abs(self.value - limit) / width


@dataclass(frozen=True, slots=True)
class EnclosureFigures:
    """Figures of the whole enclosure: air and humidity late at night, share of the ground free of UV."""

    night_air_c: float
    night_humidity: float
    uv_free_share: float


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
            air = need.quantity == "air_temperature"
            late = whole.night_air_c if air else whole.night_humidity
            checks.append(_check(day, need, "night", "Night", late, None))
            continue
        if need.place == "enclosure":
            checks.append(_check(day, need, "enclosure", "Shade", whole.uv_free_share, None))
            continue
        matching = [p for p in places if p.kind == need.place]
        if not matching and not need.offered:
            checks.append(_missing(need))
        for place in matching:
            value = figure_for(place, need)
            checks.append(_check(day, need, place.id, place.label, value, place))
    return tuple(checks)


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
    if need.quantity == "surface_temperature":
        return place.surface_c
    if need.quantity == "air_temperature":
        return place.probe_c
    if need.quantity == "humidity":
        return place.relative_humidity
    return place.uvi_facing if place.kind == "uv_refuge" else place.uvi_level


def status_of(need: Need, value: float | None) -> Status:
    """Where a value lies against a need's limits, limits included.

    Parameters
    ----------
    need : Need
        The need.
    value : float | None
        The value, in core units.

    Returns
    -------
    Status
        ``ok`` from limit to limit, ``low`` or ``high`` outside, ``unknown`` without a value.
    """
    if value is None:
        return "unknown"
    if need.low is not None and value < need.low:
        return "low"
    if need.high is not None and value > need.high:
        return "high"
    return "ok"


def severity_of(plan: Plan, need: Need, value: float | None, status: Status) -> Severity:
    """Severity of a need that is not met.

    Parameters
    ----------
    plan : Plan
        The plan.
    need : Need
        The need.
    value : float | None
        The value, in core units.
    status : Status
        Result of the check.

    Returns
    -------
    Severity
        ``none`` if it is met, else ``note``, ``fault`` or ``danger``.
    """
    if status == "ok":
        return "none"
    if value is None:
        return "fault"
    if need.offered and status == "low":
        return "note"
    species = plan.animal.species
    if need.quantity == "air_temperature" and need.place != "basking":
        beyond = value > species.highest_safe_c or value < species.lowest_safe_c
        return "danger" if beyond else "fault"
    if status == "high" and need.high is not None:
        if need.quantity == "surface_temperature" and value > need.high + BURNS_K:
            return "danger"
        glaring = value > max(species.most_uvi, GLARING * need.high)
        if need.quantity == "uvi" and need.place != "uv_refuge" and glaring:
            return "danger"
    if need.quantity == "humidity" and status == "low" and plan.mistings:
        # The steady state is of an enclosure that nobody sprays; the day shows how spraying carries it.
        return "note"
    return "fault"


def main_lamp(plan: Plan, purpose: Literal["uv", "heat"], place: PlaceFigures | None) -> Fixture | None:
    """The fixture that matters most for UV or heat: strongest, and nearest to a place along x.

    Parameters
    ----------
    plan : Plan
        The plan.
    purpose : Literal['uv', 'heat']
        Heat or UV.
    place : PlaceFigures | None
        The place.

    Returns
    -------
    Fixture | None
        The fixture that matters most for UV or heat.
    """
    if purpose == "uv":
        lamps = [f for f in plan.fixtures if f.lamp.uv is not None]
    else:
        lamps = [f for f in plan.fixtures if f.lamp.is_hot]
    lamps = [f for f in lamps if f.lit_at("day")]
    if not lamps:
        return None
    x = place.position_m[0] if place is not None else plan.enclosure.length_m / 2

    def weight(fixture: Fixture) -> float:
        strength = fixture.lamp.uv.uvi if purpose == "uv" and fixture.lamp.uv else fixture.power_w
        return strength / (0.3 + abs(fixture.position_m[0] - x))

    return max(lamps, key=weight)


def screens_named(plan: Plan, fixture: Fixture) -> str:
    """What a lamp shines through, in a word or two: 'mesh', 'pane' or both.

    Parameters
    ----------
    plan : Plan
        The plan.
    fixture : Fixture
        The fixture.

    Returns
    -------
    str
        What a lamp shines through, in a word or two.
    """
    kinds = ["mesh" if isinstance(s, Mesh) else "pane" for s, _ in screens_before(plan, fixture)]
    return " and ".join(dict.fromkeys(kinds)) or "screen"


_MISSING: dict[str, str] = {
    "basking": "No slab in this plan is marked as the basking spot.",
}


def _missing(need: Need) -> Check:
    label = {"basking": "Basking spot", "uv_refuge": "UV refuge"}.get(need.place, need.place)
    reason = (_MISSING.get(need.place, "This place does not exist in this plan."),)
    key = f"{need.place}:{need.quantity}"
    return Check(key, need.place, label, need, None, "unknown", reason, "fault")


def _check(
    day: Climate,
    need: Need,
    place_id: str,
    label: str,
    value: float | None,
    place: PlaceFigures | None,
) -> Check:
    status = status_of(need, value)
    severity = severity_of(day.plan, need, value, status)
    reason = _reason(day, need, place, status)
    return Check(f"{place_id}:{need.quantity}", place_id, label, need, value, status, reason, severity)


def _reason(day: Climate, need: Need, place: PlaceFigures | None, status: Status) -> Phrase:
    if need.quantity == "humidity":
        return _moisture_reason(day, need, status)
    if need.place == "night":
        return _night_reason(day.plan, status)
    if need.place == "enclosure":
        return _shade_reason(day.plan)
    assert place is not None
    if need.quantity == "uvi":
        return (
            _uv_refuge_reason(day.plan, place) if need.place == "uv_refuge" else _uv_reason(day.plan, place)
        )
    return _heat_reason(day, place, need)


def _moisture_reason(day: Climate, need: Need, status: Status) -> Phrase:
    plan = day.plan
    water = ["open water"] if plan.waters else []
    water += ["misting"] if plan.mistings else []
    water += ["damp ground"] if plan.substrate.wetness > 0.05 else []
    water += ["fog"] if plan.fog_kg_h > 0 else []
    room = Measure(100 * plan.room.relative_humidity, "%")
    source = " and ".join(water)
    adds = f"{source[:1].upper()}{source[1:]} add{'s' * (len(water) == 1)}"
    if not water:
        why = "Nothing in the enclosure adds moisture"
    elif status == "high":
        why = f"{adds} more moisture than the vents remove"
    elif need.place == "night":
        why = f"{adds} moisture at night"
    else:
        why = f"{adds} moisture, and the lamps' warmth dries the air"
    return (f"{why}; the room has ", room, " relative humidity.")


def _shade_reason(plan: Plan) -> Phrase:
    lamps = [f.label for f in plan.fixtures if f.lamp.uv is not None and f.lit_at("day")]
    if not lamps:
        return ("No lamp in this plan gives UV.",)
    return (f"{' and '.join(lamps)} reach{'es' * (len(lamps) == 1)} the rest of the ground and cover.",)


def _uv_reason(plan: Plan, place: PlaceFigures) -> Phrase:
    lamp = main_lamp(plan, "uv", place)
    if lamp is None:
        return ("No lamp in this plan gives UVB.",)
    x, _, z = lamp.position_m
    height = z - place.position_m[2]
    side = "above" if height >= 0 else "below"
    parts: list[str | Measure] = [
        f"{lamp.label} hangs ",
        Measure(abs(height), "m"),
        f" {side} the animal's back",
    ]
    aside = abs(x - place.position_m[0])
    half = getattr(lamp.lamp.geometry, "length_m", 0.0) / 2
    # A distance that would be shown as 0 cm is not worth a word.
    if aside - half > 0.005:
        parts += [" and ends ", Measure(aside - half, "m"), " to the side of it"]
    loss = screen_loss(plan, lamp).uv
    if loss > 0:
        what = screens_named(plan, lamp)
        parts += [f"; the {what} stops ", Measure(100 * loss, "%"), " of its UV straight down"]
    left = uv_share(lamp.lamp.ageing, lamp.hours)
    if left < OLD_SHARE:
        parts += [f"; after {lamp.hours:.0f} h it gives ", Measure(100 * left, "%"), " of its UV"]
    parts.append(".")
    return tuple(parts)


def _uv_refuge_reason(plan: Plan, place: PlaceFigures) -> Phrase:
    assert place.uvi_facing is not None
    hide = next((h for h in plan.hides if h.id == place.id), None)
    if hide is None:
        if place.uvi_facing <= UV_FREE_UVI:
            return ("There is no hide, but this place lies in shade.",)
        return (
            "There is no hide, and nowhere the animal can go is darker than ",
            Measure(place.uvi_facing, "UVI"),
            " facing the light.",
        )
    if place.uvi_facing < 0.05:
        return ("Its roof and walls keep the lamps' UV out.",)
    return (
        f"UV reaches in through the opening on its {hide.opening} side: ",
        Measure(place.uvi_facing, "UVI"),
        " facing the light.",
    )


def _heat_reason(day: Climate, place: PlaceFigures | None, need: Need) -> Phrase:
    plan = day.plan
    lamp = main_lamp(plan, "heat", place)
    mat = next((f for f in plan.fixtures if f.mount != "air" and f.lit_at("day")), None)
    if lamp is None and mat is not None:
        return (
            f"{mat.label} warms the {'floor' if mat.mount == 'floor' else 'wall'} it lies against with ",
            Measure(mat.power_w * day.power_fraction[mat.id], "W"),
            "; little of that reaches the air, in a room at ",
            Measure(day.room_c, "°C"),
            ".",
        )
    if lamp is None:
        return ("No heater is on by day; the room is at ", Measure(day.room_c, "°C"), ".")
    share = day.power_fraction[lamp.id]
    parts: list[str | Measure] = [lamp.label]
    if need.place == "basking" and place is not None:
        gap = lamp.position_m[2] - (place.position_m[2] - plan.animal.back_height_m)
        parts += [", ", Measure(gap, "m"), " above the basking spot,"]
    parts += [" runs at ", Measure(lamp.power_w * share, "W")]
    state = next((s for s in day.thermostats if s.thermostat.id == lamp.thermostat_id), None)
    if state is None:
        parts.append(" without a thermostat")
    elif state.set_point_c is None:
        parts.append(": its thermostat is switched off")
    elif state.holds and share > 0.005:
        parts += [
            f" of {lamp.power_w:.0f} W on average: the probe of {state.thermostat.label} reads ",
            Measure(state.probe_c, "°C"),
        ]
    elif share >= 0.995:
        parts += [
            " all the time; the probe reads ",
            Measure(state.probe_c, "°C"),
            " and never reaches the set point, ",
            Measure(state.set_point_c, "°C"),
        ]
    else:
        parts += [": the probe reads ", Measure(state.probe_c, "°C"), " without it"]
    if need.place == "basking" and place is not None:
        loss = screen_loss(plan, lamp).radiant
        if loss > 0:
            what = screens_named(plan, lamp)
            parts += [f"; the {what} stops ", Measure(100 * loss, "%"), " of its beam"]
    else:
        parts += [", in a room at ", Measure(day.room_c, "°C")]
    parts.append(".")
    return tuple(parts)


def _night_reason(plan: Plan, status: Status) -> Phrase:
    heated = [f for f in plan.fixtures if f.lit_at("night")]
    room = Measure(plan.room.night_temperature_c, "°C")
    if not heated:
        cools: Phrase = ("At night the enclosure cools to the room, ", room, ".")
        if status != "low":
            return cools
        return (*cools, " It needs its own heat: a heater that gives no light, on a thermostat.")
    names = " and ".join(f.label for f in heated)
    return (f"{names} may run at night, in a room at ", room, ".")
