"""Faults of lamps, heaters and thermostats: burns, fire, wrong pairings, probes in wrong places."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from noonshade.core.assessment.finding import Finding, FindingContext
from noonshade.core.assessment.reach import (
    LEAST_CLEARANCE_M,
    LEAST_GUARDED_M,
    LEAST_TO_CLIMBED_M,
    LEAST_TO_WALLS_M,
    burns,
    can_be_climbed,
    distances_to_faces,
    nearest_reachable,
)
from noonshade.core.heat.probe_reading import beam_rise_per_irradiance
from noonshade.core.light.field import light_at
from noonshade.core.light.screens import part_before
from noonshade.core.phrase import Measure, named, named_first
from noonshade.core.plan import BeamSource, Fixture, PanelSource, Plan, Thermostat, Water

_CONTROLLED = {"dimming": "dimmed", "pulse": "pulsed", "on_off": "switched by a thermostat"}
_CONTROLS = {"dimming": "dims", "pulse": "pulses", "on_off": "switches on and off"}
# A probe that a beam warms by so much reads the lamp, K. Estimate.
MOST_BEAM_RISE_K = 1.5
# A set point above this was meant in °F. Estimate.
LIKELY_FAHRENHEIT_C, BASKING_FAHRENHEIT_C = 45.0, 62.0
# A spot narrower than this, in degrees, over an animal longer than this, m. Estimates.
SPOT_DEG = 40.0
HEAVY_M = 0.25
# An animal this long levers out what is not screwed down, m. Estimate.
STRONG_M = 0.20
# Ground over a mat that an animal can scratch away, m. Estimate.
THIN_COVER_M = 0.02

# Least height of a hot lamp above mesh an animal can hang from, m. Estimate.
LEAST_ABOVE_MESH_M = 0.05

_FIRE = (
    "Fixed fittings rated for the lamp, a smoke alarm and a residual-current device belong to every heater."
)


def equipment_findings(context: FindingContext) -> Iterator[Finding]:
    """All of them.

    Parameters
    ----------
    context : FindingContext
        What the findings are drawn from.

    Yields
    ------
    Finding
        All of them.
    """
    plan = context.plan
    thermostats = {t.id: t for t in plan.thermostats}
    for fixture in plan.fixtures:
        control = thermostats.get(fixture.thermostat_id or "")
        yield from _pairing(fixture, control)
        yield from _uncontrolled(fixture, control)
        if fixture.lamp.is_hot:
            yield from _burns(plan, fixture)
            yield from _mounted(plan, fixture)
            yield from _fire(plan, fixture)
            yield from _spot(plan, fixture)
            yield from _levered(plan, fixture)
        if fixture.lamp.kind == "mat":
            yield from _mat(plan, fixture)
        yield from _lamp(plan, fixture)
        yield from _over_water(plan, fixture)
    for thermostat in plan.thermostats:
        yield from _probe(context, thermostat)
        yield from _unit(thermostat, _is_on_slab(context, thermostat))
    yield from _heat_at_all(context)


def _pairing(fixture: Fixture, control: Thermostat | None) -> Iterator[Finding]:
    lamp = fixture.lamp
    if control is None or control.kind in lamp.controls:
        return
    way = _CONTROLLED[control.kind]
    other = " or ".join(_CONTROLS[kind] for kind in lamp.controls)
    advice = f"give it one that {other}." if lamp.controls else "put it on a timer only."
    yield Finding(
        f"pairing:{fixture.id}",
        fixture.id,
        "danger",
        (f"{named_first(fixture.label)} must not be {way}; {advice}",),
        "Wrongly regulated lamps flicker, fail early and can start a fire.",
        "electrician",
    )


def _uncontrolled(fixture: Fixture, control: Thermostat | None) -> Iterator[Finding]:
    if control is not None or "on_off" not in fixture.lamp.controls:
        return
    mat = fixture.lamp.kind == "mat"
    message = f"{named_first(fixture.label)} heats without a thermostat."
    caution = (
        "A mat has no other end to its heat: under an animal that lies on it, it burns." if mat else ""
    )
    yield Finding(
        f"uncontrolled:{fixture.id}", fixture.id, "danger" if mat else "care", (message,), caution or _FIRE
    )


def _burns(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    face = plan.enclosure.beyond(fixture.position_m)
    if face is not None:
        before = part_before(plan.enclosure, face, fixture.position_m)
        x, y, z = fixture.position_m
        size = plan.enclosure
        away = max(-x, x - size.length_m, -y, y - size.depth_m, z - size.height_m)
        if face == "top":
            yield from _near(plan, fixture, kept_off=True)
        if plan.animal.climbs and before.mesh is not None and away < LEAST_ABOVE_MESH_M:
            yield Finding(
                f"mesh-clamped:{fixture.id}",
                fixture.id,
                "fault",
                (
                    f"{named_first(fixture.label)} is ",
                    Measure(away, "m"),
                    f" {'above' if face == 'top' else 'from'} mesh that a climbing animal hangs from.",
                ),
                "Feet and backs burn there: hang the lamp higher, or guard the mesh from inside.",
                "veterinarian",
            )
        return
    yield from _near(plan, fixture, fixture.guard)
    climbing = plan.animal.climbs
    if not climbing or fixture.guard:
        return
    for face, distance in distances_to_faces(plan, fixture).items():
        if distance < LEAST_TO_CLIMBED_M and can_be_climbed(plan, face):
            yield Finding(
                f"climbed:{fixture.id}",
                fixture.id,
                "danger",
                (
                    f"The animal can climb the {'lid' if face == 'top' else face} to within ",
                    Measure(max(distance, 0.0), "m"),
                    f" of {named(fixture.label)}, which has no guard.",
                ),
                "Climbers hold on to hot bulbs: a guard, or the lamp outside the mesh.",
                "veterinarian",
            )
            return


def _near(plan: Plan, fixture: Fixture, kept_off: bool) -> Iterator[Finding]:
    """Something the animal stands on, or that can burn, too near a heater, guarded or not."""
    panel = isinstance(fixture.lamp.geometry, PanelSource)
    gap, thing = nearest_reachable(plan, fixture)
    if gap >= (LEAST_GUARDED_M if kept_off or panel else LEAST_CLEARANCE_M):
        return
    what = "it can burn the animal or start a fire"
    if kept_off and not panel:
        what = "behind its guard it still burns what lies so near, and can start a fire"
    yield Finding(
        f"clearance:{fixture.id}",
        fixture.id,
        "danger",
        (f"{thing} is only ", Measure(gap, "m"), f" from {named(fixture.label)}: {what}."),
        "More distance, and a guard that cannot get hot itself. Burns belong to a veterinarian.",
        "veterinarian",
    )


def _mounted(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    """How a hot lamp is fixed: clamps slip, mesh under a lamp gets hot, glass cracks."""
    lid = plan.enclosure.walls["top"]
    if fixture.mount == "clamped":
        strong = plan.animal.climbs or plan.animal.body_length_m >= STRONG_M
        yield Finding(
            f"clamped:{fixture.id}",
            fixture.id,
            "fault" if strong else "care",
            (f"{named_first(fixture.label)} is held by a clamp: it slips, or is knocked off.",),
            "A fallen lamp sets fire to what it lies on: screw it down, or hang it on a chain.",
            "electrician",
        )
    if fixture.mount != "on_mesh":
        return
    if lid.mesh is None:
        yield Finding(
            f"on-mesh:{fixture.id}",
            fixture.id,
            "danger",
            (
                f"{named_first(fixture.label)} is to rest on mesh, and the lid is none: "
                "sheets melt, and glass cracks.",
            ),
            "Hang it above an opening of wire mesh, or fix it inside with a guard.",
            "electrician",
        )
    elif plan.animal.climbs:
        yield Finding(
            f"on-mesh:{fixture.id}",
            fixture.id,
            "fault",
            (f"{named_first(fixture.label)} rests on mesh that a climbing animal hangs from.",),
            "The wires under it get as hot as the lamp: hang it higher.",
            "veterinarian",
        )


def _fire(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    if plan.enclosure.beyond(fixture.position_m) is not None:
        return
    near = [
        (distance, face)
        for face, distance in distances_to_faces(plan, fixture).items()
        if face != "top" and distance < LEAST_TO_WALLS_M and burns(plan, face)
    ]
    if near:
        distance, face = min(near)
        yield Finding(
            f"fire:{fixture.id}",
            fixture.id,
            "danger",
            (
                f"{named_first(fixture.label)} hangs ",
                Measure(max(distance, 0.0), "m"),
                f" from the {face} wall, which can burn or melt.",
            ),
            _FIRE,
            "electrician",
        )


def _spot(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    geometry = fixture.lamp.geometry
    if not isinstance(geometry, BeamSource) or geometry.fwhm_deg >= SPOT_DEG:
        return
    if plan.animal.body_length_m >= HEAVY_M:
        yield Finding(
            f"spot:{fixture.id}",
            fixture.id,
            "fault",
            (
                f"{named_first(fixture.label)} is a spot of {geometry.fwhm_deg:.0f}° over an animal of ",
                Measure(plan.animal.body_length_m, "m"),
                ".",
            ),
            "A heavy animal lies there for hours: one point burns, the rest is cold. Use floods.",
        )


def _levered(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    inside = plan.enclosure.beyond(fixture.position_m) is None and fixture.against is None
    # A panel screwed to the lid, or anything screwed down, is not levered out.
    inside = inside and fixture.mount not in ("screwed", "on_wall", "clamped")
    inside = inside and not isinstance(fixture.lamp.geometry, PanelSource)
    if inside and not fixture.guard and plan.animal.body_length_m >= STRONG_M:
        yield Finding(
            f"fitting:{fixture.id}",
            fixture.id,
            "care",
            (
                f"{named_first(fixture.label)} has no guard inside the enclosure, with a "
                "strong animal below it.",
            ),
            "A fitting that can be levered out falls on to the ground, hot: screw it down and guard it.",
            "electrician",
        )


def _mat(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    if fixture.against != "floor":
        return
    if plan.animal.digs:
        yield Finding(
            f"mat-digger:{fixture.id}",
            fixture.id,
            "danger",
            (
                f"{named_first(fixture.label)} lies under an animal that digs down to cool "
                "off, and meets the heat.",
            ),
            "Warm a digger from above or from one side.",
        )
    elif 0 < plan.substrate.depth_m < THIN_COVER_M and fixture.thermostat_id is None:
        yield Finding(
            f"mat-touch:{fixture.id}",
            fixture.id,
            "care",
            (
                "Only ",
                Measure(plan.substrate.depth_m, "m"),
                f" of ground lies between the animal and {named(fixture.label)}.",
            ),
            "It scratches the ground away and lies on the mat: deeper ground, and a thermostat on the mat.",
            "veterinarian",
        )


def _lamp(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    lamp, species = fixture.lamp, plan.animal.species
    if lamp.unlike_sunlight:
        yield Finding(
            f"below-290:{fixture.id}",
            fixture.id,
            "danger",
            (
                f"{named_first(fixture.label)} gives ",
                Measure(100 * lamp.below_290_share, "%"),
                " of its UV below 290 nm, which sunlight does not hold.",
            ),
            "Such lamps blind animals within days: do not use it.",
            "veterinarian",
        )
    if lamp.ageing is not None and lamp.uv is not None and fixture.hours > lamp.ageing.life_h:
        yield Finding(
            f"old:{fixture.id}",
            fixture.id,
            "fault",
            (
                f"{named_first(fixture.label)} has burned {fixture.hours:.0f} h; such lamps are "
                f"replaced after {lamp.ageing.life_h:.0f} h. It is still bright, but gives little UV.",
            ),
            "Mercury lamps break: ventilate, collect, dispose of them by local rule.",
        )
    if lamp.gives_light and fixture.lit_at("night"):
        yield Finding(
            f"night-light:{fixture.id}",
            fixture.id,
            "care",
            (f"{named_first(fixture.label)} gives light at night.",),
            "No animal needs a red or blue night lamp: a heater without light keeps it as warm.",
        )
    if species.light == "avoided" and lamp.gives_light and lamp.uv is None and fixture.lit_at("day"):
        yield Finding(
            f"light-avoided:{fixture.id}",
            fixture.id,
            "care",
            (
                f"{named_first(fixture.label)} lights the enclosure of an animal that avoids "
                "light: daylight will do.",
            ),
            "Under a lamp it stays in its burrow and feeds less.",
        )


def _over_water(plan: Plan, fixture: Fixture) -> Iterator[Finding]:
    x, y, z = fixture.position_m
    if z > plan.enclosure.height_m or fixture.against is not None:
        return
    for item in plan.furnishings:
        if not isinstance(item, Water):
            continue
        if abs(x - item.x_m) < item.length_m / 2 and abs(y - item.y_m) < item.width_m / 2:
            yield Finding(
                f"over-water:{fixture.id}",
                fixture.id,
                "care",
                (
                    f"{named_first(fixture.label)} hangs over {named(item.label)}: mains "
                    "and water must not meet.",
                ),
                "Fittings proof against splashes, a drip loop in every lead, a residual-current device.",
                "electrician",
            )


def _probe(context: FindingContext, thermostat: Thermostat) -> Iterator[Finding]:
    plan = context.plan
    own = [f for f in plan.fixtures if f.thermostat_id == thermostat.id]
    if not own:
        yield Finding(
            f"idle:{thermostat.id}",
            thermostat.id,
            "care",
            (f"{named_first(thermostat.label)} governs no heater.",),
            "A heater that is thought to be governed and is not runs all the time.",
        )
        return
    lit = tuple(f for f in plan.fixtures if f.lit_at("day") and f.lamp.is_hot)
    if lit:
        beam = light_at(plan, np.array([thermostat.probe_m]), lit, context.day.power_fraction)
        rise = beam_rise_per_irradiance() * float(beam.irradiance_facing_w_m2[0])
        if rise > MOST_BEAM_RISE_K and not _is_on_slab(context, thermostat):
            yield Finding(
                f"probe-beam:{thermostat.id}",
                thermostat.id,
                "fault",
                (
                    f"The probe of {named(thermostat.label)} hangs in the beam, which warms it by ",
                    Measure(rise, "K"),
                    ": it reads the lamp, not the air.",
                ),
                "Shade the probe, or fix it to the surface it is meant to keep.",
            )
    length = plan.enclosure.length_m
    apart = min(abs(thermostat.probe_m[0] - f.position_m[0]) for f in own)
    if apart > 0.5 * length:
        hot = next((f for f in own if f.lamp.is_hot), own[0])
        yield Finding(
            f"probe-far:{thermostat.id}",
            thermostat.id,
            "fault",
            (
                f"The probe of {named(thermostat.label)} is ",
                Measure(apart, "m"),
                f" from {named(hot.label)}, at the other end.",
            ),
            "A probe at the cool end drives the basking spot far too hot before it feels anything.",
        )


def _is_on_slab(context: FindingContext, thermostat: Thermostat) -> bool:
    """Whether its probe lies as high as the top of a slab or hide."""
    return any(
        abs(thermostat.probe_m[2] - p.bottom_m - p.thickness_m) <= 0.01 for p in context.day.grid.plates
    )


def _unit(thermostat: Thermostat, on_slab: bool) -> Iterator[Finding]:
    for when, point in (("day", thermostat.day_set_point_c), ("night", thermostat.night_set_point_c)):
        # A probe on the basking surface is set to what that is to reach.
        if point is not None and point > (BASKING_FAHRENHEIT_C if on_slab else LIKELY_FAHRENHEIT_C):
            yield Finding(
                f"unit:{thermostat.id}",
                thermostat.id,
                "danger",
                (
                    f"{named_first(thermostat.label)} is set to ",
                    Measure(point, "°C"),
                    f" by {when}. Was it meant in the other unit?",
                ),
                "No animal lives in such air.",
            )
            return


def _room_is_too_cold(plan: Plan) -> bool:
    """Whether the room by day is colder than the animal may have it."""
    lows = [
        n.low
        for n in plan.animal.needs
        if n.quantity == "air_temperature" and n.place != "night" and n.required and n.low is not None
    ]
    return plan.room.day_temperature_c < max(lows, default=-np.inf)


def _heat_at_all(context: FindingContext) -> Iterator[Finding]:
    plan, species = context.plan, context.plan.animal.species
    heated = any(f.lit_at("day") and (f.lamp.is_hot or f.lamp.kind == "mat") for f in plan.fixtures)
    if species.heat == "needed" and not heated:
        yield Finding(
            "no-heat:enclosure",
            "enclosure",
            "fault",
            ("Nothing in this plan warms the animal by day.",),
            "Without warmth it cannot digest; food rots in it. An animal that was kept cold needs help.",
            "veterinarian",
        )
    # A heater that waits for a colder month warms nothing.
    burning = heated and any(
        context.day.power_fraction.get(f.id, 0.0) > 0.0
        for f in plan.fixtures
        if f.lamp.is_hot or f.lamp.kind == "mat"
    )
    if species.heat == "avoided" and burning and not _room_is_too_cold(plan):
        yield Finding(
            "heat-avoided:enclosure",
            "enclosure",
            "fault",
            (
                "It is kept without a heater: above ",
                Measure(species.highest_safe_c, "°C"),
                " it is in danger.",
            ),
            "For animals of cool places the plan is a ceiling, a way to cool and an alarm.",
        )
