"""Why a figure is what it is, in words that are true for the plan: which lamp, which screen, which room."""

from __future__ import annotations

from typing import Literal

import numpy as np

from noonshade.core.assessment.status import Status
from noonshade.core.assessment.wording import above_ceiling
from noonshade.core.heat.climate import Climate
from noonshade.core.light.ageing import uv_share
from noonshade.core.light.exposure import UV_FREE_UVI
from noonshade.core.light.field import light_at
from noonshade.core.light.screens import screen_loss, screens_before
from noonshade.core.needs.species import Need
from noonshade.core.phrase import Measure, Phrase, capitalized, named, named_first
from noonshade.core.places import PlaceFigures, ReachableSurface
from noonshade.core.plan import Fixture, Mesh, Moment, Plan, Point

# Below this share of its first UV a lamp's age is given as a reason.
OLD_SHARE = 0.9
# Where heaters raise the air by less than this, the room is the reason for its temperature, K. Estimate.
BY_THE_ROOM_K = 1.5


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


def reason_for(
    day: Climate,
    need: Need,
    place: PlaceFigures | None,
    status: Status,
    hottest: ReachableSurface | None = None,
    moment: Moment = "day",
) -> Phrase:
    """Why a figure is what it is.

    Parameters
    ----------
    day : Climate
        The climate by day.
    need : Need
        The need the figure is compared with.
    place : PlaceFigures or None
        Where it is; None for figures of the whole enclosure.
    status : Status
        Where the figure lies.
    hottest : ReachableSurface, optional
        The hottest surface, for its ceiling.
    moment : Moment
        When it is so hot.

    Returns
    -------
    Phrase
        One sentence, or two.
    """
    if hottest is not None:
        return _hottest_reason(day.plan, hottest, moment)
    if need.quantity == "gradient":
        return _gradient_reason(day, need, status)
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
    if need.quantity == "water_temperature" or need.place == "burrow":
        return _still_reason(day, place)
    return _heat_reason(day, place, need, status)


def _hottest_reason(plan: Plan, hottest: ReachableSurface, moment: Moment) -> Phrase:
    """Which surface it is, and the heater that matters most there."""
    where: list[str | Measure] = [f"{hottest.label} "]
    if hottest.depth_m > 0.005:
        where += ["reaches this ", Measure(hottest.depth_m, "m"), " down"]
    else:
        where.append("reaches this")
    where.append(" by day" if moment == "day" else " at night")
    heater = heater_of(plan, hottest.position_m, moment)
    if heater is None:
        return (*where, "; nothing but the room warms it.")
    verb = "lies against it" if heater.against is not None else "shines on it"
    return (*where, f": {named(heater.label)} {verb}.")


def heater_of(plan: Plan, at: Point, moment: Moment) -> Fixture | None:
    """The lamp or heater that warms a point most: a mat it lies over, else the strongest beam.

    Parameters
    ----------
    plan : Plan
        The plan.
    at : Point
        The point, m.
    moment : Moment
        Day or night.

    Returns
    -------
    Fixture or None
        None where nothing warms it.
    """
    lit = [f for f in plan.fixtures if f.lit_at(moment)]
    for mat in (f for f in lit if f.against is not None):
        if _lies_over(mat, at, plan):
            return mat
    beams = [f for f in lit if f.against is None]
    points = np.array([(at[0], at[1], at[2] + 1e-3)])
    found = [(float(light_at(plan, points, (f,)).irradiance_facing_w_m2[0]), f) for f in beams]
    strongest, fixture = max(found, key=lambda one: one[0], default=(0.0, None))
    return fixture if strongest > 0.5 else None


def _lies_over(mat: Fixture, at: Point, plan: Plan) -> bool:
    """Whether a point is over a mat, or in front of one behind a wall, give or take a hand's breadth."""
    geometry = mat.lamp.geometry
    long = getattr(geometry, "length_m", 0.3) / 2 + 0.03
    wide = getattr(geometry, "width_m", 0.3) / 2 + 0.03
    dx, dy, dz = (abs(a - b) for a, b in zip(at, mat.position_m, strict=True))
    if mat.against == "floor":
        return dx <= long and dy <= wide
    near = 0.05 if mat.against in ("left", "right") else plan.enclosure.length_m
    return (dx <= near if mat.against in ("left", "right") else dx <= long) and dz <= max(long, wide)


def _gradient_reason(day: Climate, need: Need, status: Status) -> Phrase:
    if status == "ok":
        return ("There are warm and cool places to choose from.",)
    if day.power_w <= 0:
        return ("Nothing heats this enclosure, so that all of it is as warm as the room.",)
    if need.offered:
        return ("Warm and cool places are nearly alike; it does well with that.",)
    return ("Warm and cool places are nearly alike: the animal has no real choice.",)


def _still_reason(day: Climate, place: PlaceFigures) -> Phrase:
    heater = heater_of(day.plan, place.position_m, "day")
    room = Measure(day.room_c, "°C")
    if heater is None:
        return ("No heater warms it; the room is at ", room, ".")
    return (f"{named_first(heater.label)} warms it, in a room at ", room, ".")


def _moisture_reason(day: Climate, need: Need, status: Status) -> Phrase:
    plan = day.plan
    water = ["open water"] if plan.waters else []
    water += ["misting"] if plan.mistings else []
    water += ["damp ground"] if plan.substrate.wettest > 0.05 else []
    water += ["fog"] if plan.fog_kg_h > 0 else []
    room = Measure(100 * plan.room.relative_humidity, "%")
    source = " and ".join(water)
    adds = f"{source[:1].upper()}{source[1:]} add{'s' * (len(water) == 1)}"
    by_night = need.place == "night"
    if not water:
        why = "Nothing in the enclosure adds moisture"
    elif status == "high":
        why = f"{adds} more moisture than the vents remove"
    elif status == "low":
        why = f"{adds} less moisture than the vents remove"
    else:
        why = f"{adds} moisture"
    warms = float(np.mean(day.air_c)) - day.room_c
    if status == "low" and not by_night and warms > BY_THE_ROOM_K and day.power_w > 0:
        why += ", and the heaters' warmth makes the air drier still"
    return (f"{why}; the room has ", room, " relative humidity.")


def _shade_reason(plan: Plan) -> Phrase:
    lamps = [named(f.label) for f in plan.fixtures if f.lamp.uv is not None and f.lit_at("day")]
    if not lamps:
        return ("No lamp in this plan gives UV.",)
    reach = "reaches" if len(lamps) == 1 else "reach"
    return (f"{capitalized(' and '.join(lamps))} {reach} the rest of the ground and cover.",)


def _uv_reason(plan: Plan, place: PlaceFigures) -> Phrase:
    lamp = main_lamp(plan, "uv", place)
    if lamp is None:
        return ("No lamp in this plan gives UVB.",)
    x, _, z = lamp.position_m
    height = z - place.position_m[2]
    side = "above" if height >= 0 else "below"
    parts: list[str | Measure] = [
        f"{named_first(lamp.label)} hangs ",
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


def _heat_reason(day: Climate, place: PlaceFigures, need: Need, status: Status) -> Phrase:
    plan = day.plan
    limit = need.high
    if status == "high" and limit is not None and day.room_c > limit - BY_THE_ROOM_K:
        ceiling = plan.animal.species.highest_safe_c
        itself = ("The room itself is at ", Measure(day.room_c, "°C"), ": ")
        if day.room_c > ceiling - BY_THE_ROOM_K:
            return (*itself, *above_ceiling(ceiling))
        return (*itself, "the enclosure cannot be cooler.")
    lamp = main_lamp(plan, "heat", place)
    mat = next((f for f in plan.fixtures if f.against is not None and f.lit_at("day")), None)
    if lamp is None and mat is not None:
        return (
            f"{named_first(mat.label)} warms the "
            f"{'floor' if mat.against == 'floor' else 'wall'} it lies against with ",
            Measure(mat.power_w * day.power_fraction[mat.id], "W"),
            "; little of that reaches the air, in a room at ",
            Measure(day.room_c, "°C"),
            ".",
        )
    if lamp is None:
        return ("No heater is on by day; the room is at ", Measure(day.room_c, "°C"), ".")
    share = day.power_fraction[lamp.id]
    parts: list[str | Measure] = [named_first(lamp.label)]
    if need.place == "basking":
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
            f" of {lamp.power_w:.0f} W on average: the probe of {named(state.thermostat.label)} reads ",
            Measure(state.probe_c, "°C"),
        ]
    elif share >= 0.995:
        parts += [
            " all the time, its full power; the probe reads ",
            Measure(state.probe_c, "°C"),
            " and never reaches the set point, ",
            Measure(state.set_point_c, "°C"),
        ]
    else:
        parts += [": the probe reads ", Measure(state.probe_c, "°C"), " without it"]
    if need.place == "basking":
        loss = screen_loss(plan, lamp).heat_of(lamp.lamp)
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
    names = " and ".join(named(f.label) for f in heated)
    return (f"{capitalized(names)} may run at night, in a room at ", room, ".")
