"""The inputs of a plan that are not known exactly, each as one multiplier with its spread.

Each is the catalogue's value times exp(v), or for temperatures that plus v; v = 0 is the plan as it is.
Intervals move them to see how far a figure may be off; readings adjust them.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from noonshade.core.light.screens import straight_through
from noonshade.core.plan import BeamSource, Face, Fixture, Lamp, Plan, Screen, Thermostat, Wall

MultiplierKind = Literal[
    "uv",
    "screen",
    "radiant",
    "beam",
    "walls",
    "ventilation",
    "room",
    "room_humidity",
    "dial",
    "slab",
    "damp",
]

# Half the width of the middle 80 % of a normal distribution, in standard deviations.
HALF_80 = 1.2816
# Half widths of the middle 80 % of inputs that the catalogue has none for. Estimates.
# What a room differs from its figure on a given day.
ROOM_K = 1.5
ROOM_HUMIDITY = 0.12  # relative
THERMOSTAT_K = 0.7
WALLS = 0.20  # relative, of conduction
VENTS = 0.30  # relative, of free area
SCREENS = 0.15  # relative, of what passes a mesh or pane: wire, paint, dust
ABSORPTANCE = 0.05  # relative
WETNESS = 0.40  # relative
# A share that passes cannot exceed this.
_MOST = 0.98
_WIDEST_BEAM_DEG = 170.0


@dataclass(frozen=True, slots=True)
class Multiplier:
    """One adjustable number: ``sigma`` is its standard deviation before any reading.

    ``additive`` ones are in K, the others the logarithm of a factor; ``apply`` gives the plan with it.
    ``about`` names what it was found on: when that changes, so that the text differs, a fitted value is
    no longer about what is there.
    """

    id: str
    kind: MultiplierKind
    label: str
    sigma: float
    additive: bool
    about: str
    apply: Callable[[Plan, float], Plan]


def multipliers_of(plan: Plan) -> tuple[Multiplier, ...]:
    """All that this plan has.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple[Multiplier, ...]
        The multipliers with their standard deviations.
    """
    return tuple(_all(plan))


def with_multipliers(plan: Plan, known: tuple[Multiplier, ...], values: Mapping[str, float]) -> Plan:
    """The plan with multipliers set to values; those not named stay at 0.

    Parameters
    ----------
    plan : Plan
        The plan.
    known : tuple[Multiplier, ...]
        What is computed already, to save computing it again.
    values : Mapping[str, float]
        The values.

    Returns
    -------
    Plan
        The plan.
    """
    for multiplier in known:
        value = values.get(multiplier.id, 0.0)
        if value != 0.0:
            plan = multiplier.apply(plan, value)
    return plan


def _log(share: float) -> float:
    """Standard deviation of a logarithm from a relative half width of the middle 80 %."""
    return math.log1p(share) / HALF_80


def _factor(
    key: str,
    kind: MultiplierKind,
    label: str,
    share: float,
    about: str,
    apply: Callable[[Plan, float], Plan],
) -> Multiplier:
    return Multiplier(key, kind, label, _log(share), False, about, apply)


def _all(plan: Plan) -> Iterator[Multiplier]:
    for fixture in plan.fixtures:
        yield from _of_lamp(fixture)
    if _lid_screens(plan):
        about = "; ".join(_screen_text(w.screen, w.measured_uv) for w in _lid_walls(plan))
        yield _factor("screen:lid", "screen", "what the lid lets through", SCREENS, about, _lid)
    sheets = [w for w in plan.enclosure.walls.values() if w.material is not None]
    if sheets:
        about = "; ".join(sorted({f"{w.material and w.material.id} {w.thickness_m:g}" for w in sheets}))
        yield _factor("walls", "walls", "the walls", WALLS, about, _conduction)
    if plan.enclosure.vents:
        yield _factor("ventilation", "ventilation", "the vents", VENTS, "", _vents)
    room = plan.room
    about = f"{room.day_temperature_c:g} {room.night_temperature_c:g}"
    yield Multiplier("room", "room", "the room's temperature", ROOM_K / HALF_80, True, about, _room)
    about = f"{room.relative_humidity:g}"
    yield _factor("room_humidity", "room_humidity", "the room's humidity", ROOM_HUMIDITY, about, _humidity)
    for thermostat in plan.thermostats:
        yield Multiplier(
            f"dial:{thermostat.id}",
            "dial",
            f"{thermostat.label}'s dial",
            THERMOSTAT_K / HALF_80,
            True,
            thermostat.kind,
            _dial(thermostat.id),
        )
    slab = plan.basking_slab
    if slab is not None:
        about = f"{slab.id} {slab.material.id}"
        yield _factor("slab", "slab", "how dark the slab is", ABSORPTANCE, about, _darker)
    if plan.substrate.is_damp:
        about = f"{plan.substrate.material.id} {plan.substrate.wetness:g}"
        yield _factor("damp", "damp", "how damp the ground is", WETNESS, about, _wetter)


def _of_lamp(fixture: Fixture) -> Iterator[Multiplier]:
    lamp, name = fixture.lamp, fixture.label
    if lamp.uv is not None:
        yield _factor(
            f"uv:{fixture.id}", "uv", f"the UV of {name}", lamp.spread.uv, lamp.id, _uv(fixture.id)
        )
    if lamp.is_hot and lamp.forward_radiant > 0:
        about = f"{lamp.id} {fixture.power_w:g}"
        yield _factor(
            f"radiant:{fixture.id}",
            "radiant",
            f"the heat of {name}",
            lamp.spread.radiant,
            about,
            _radiant(fixture.id),
        )
    if isinstance(lamp.geometry, BeamSource):
        yield _factor(
            f"beam:{fixture.id}",
            "beam",
            f"the beam of {name}",
            lamp.spread.beam,
            lamp.id,
            _beam(fixture.id),
        )
    if fixture.screen is not None:
        about = _screen_text(fixture.screen, fixture.screen_measured)
        label = f"what the screen under {name} lets through"
        yield _factor(f"screen:{fixture.id}", "screen", label, SCREENS, about, _own_screen(fixture.id))


def _screen_text(screen: Screen | None, measured: float | None) -> str:
    return "" if screen is None else f"{screen.id} {measured}"


def _fixture(plan: Plan, fixture_id: str) -> Fixture:
    return next(f for f in plan.fixtures if f.id == fixture_id)


def _with_fixture(plan: Plan, fixture: Fixture) -> Plan:
    fixtures = tuple(fixture if f.id == fixture.id else f for f in plan.fixtures)
    return replace(plan, fixtures=fixtures)


def _of_fixture(fixture_id: str, change: Callable[[Lamp, float], Lamp]) -> Callable[[Plan, float], Plan]:
    def apply(plan: Plan, v: float) -> Plan:
        fixture = _fixture(plan, fixture_id)
        return _with_fixture(plan, replace(fixture, lamp=change(fixture.lamp, v)))

    return apply


def _uv(fixture_id: str) -> Callable[[Plan, float], Plan]:
    def change(lamp: Lamp, v: float) -> Lamp:
        assert lamp.uv is not None
        return replace(lamp, uv=replace(lamp.uv, uvi=lamp.uv.uvi * math.exp(v)))

    return _of_fixture(fixture_id, change)


def _radiant(fixture_id: str) -> Callable[[Plan, float], Plan]:
    def change(lamp: Lamp, v: float) -> Lamp:
        most = 1.0 - lamp.other_radiant - lamp.conducted
        return replace(lamp, forward_radiant=min(lamp.forward_radiant * math.exp(v), most))

    return _of_fixture(fixture_id, change)


def _beam(fixture_id: str) -> Callable[[Plan, float], Plan]:
    def change(lamp: Lamp, v: float) -> Lamp:
        assert isinstance(lamp.geometry, BeamSource)
        wide = min(lamp.geometry.fwhm_deg * math.exp(v), _WIDEST_BEAM_DEG)
        return replace(lamp, geometry=replace(lamp.geometry, fwhm_deg=wide))

    return _of_fixture(fixture_id, change)


def _own_screen(fixture_id: str) -> Callable[[Plan, float], Plan]:
    def apply(plan: Plan, v: float) -> Plan:
        fixture = _fixture(plan, fixture_id)
        passes = straight_through(fixture.screen, fixture.screen_measured).uv
        return _with_fixture(plan, replace(fixture, screen_measured=min(passes * math.exp(v), _MOST)))

    return apply


def _lid_walls(plan: Plan) -> tuple[Wall, ...]:
    """The lid and its parts that light passes with a loss."""
    parts = (plan.enclosure.walls["top"], *(i.wall for i in plan.enclosure.insets_of("top")))
    return tuple(w for w in parts if w.screen is not None and w.lets_light_in)


def _lid_screens(plan: Plan) -> bool:
    above = any(f.position_m[2] > plan.enclosure.height_m for f in plan.fixtures)
    return above and bool(_lid_walls(plan))


def _lid(plan: Plan, v: float) -> Plan:
    def passing(wall: Wall) -> Wall:
        if wall.screen is None or not wall.lets_light_in:
            return wall
        passes = straight_through(wall.screen, wall.measured_uv).uv
        return replace(wall, measured_uv=min(passes * math.exp(v), _MOST))

    enclosure = plan.enclosure
    insets = tuple(replace(i, wall=passing(i.wall)) if i.face == "top" else i for i in enclosure.insets)
    walls = {**enclosure.walls, "top": passing(enclosure.walls["top"])}
    return replace(plan, enclosure=replace(enclosure, walls=walls, insets=insets))


def _conduction(plan: Plan, v: float) -> Plan:
    def losing(wall: Wall) -> Wall:
        if wall.material is None:
            return wall
        more = wall.material.conductivity_w_mk * math.exp(v)
        return replace(wall, material=replace(wall.material, conductivity_w_mk=more))

    walls: dict[Face, Wall] = {face: losing(wall) for face, wall in plan.enclosure.walls.items()}
    return replace(plan, enclosure=replace(plan.enclosure, walls=walls))


def _vents(plan: Plan, v: float) -> Plan:
    vents = tuple(replace(vent, area_m2=vent.area_m2 * math.exp(v)) for vent in plan.enclosure.vents)
    return replace(plan, enclosure=replace(plan.enclosure, vents=vents))


def _room(plan: Plan, v: float) -> Plan:
    room = replace(
        plan.room,
        day_temperature_c=plan.room.day_temperature_c + v,
        night_temperature_c=plan.room.night_temperature_c + v,
    )
    return replace(plan, room=room)


def _humidity(plan: Plan, v: float) -> Plan:
    share = min(plan.room.relative_humidity * math.exp(v), 1.0)
    return replace(plan, room=replace(plan.room, relative_humidity=share))


def _dial(thermostat_id: str) -> Callable[[Plan, float], Plan]:
    def shifted(point: float | None, v: float) -> float | None:
        return None if point is None else point + v

    def change(t: Thermostat, v: float) -> Thermostat:
        return replace(
            t,
            day_set_point_c=shifted(t.day_set_point_c, v),
            night_set_point_c=shifted(t.night_set_point_c, v),
        )

    def apply(plan: Plan, v: float) -> Plan:
        thermostats = tuple(change(t, v) if t.id == thermostat_id else t for t in plan.thermostats)
        return replace(plan, thermostats=thermostats)

    return apply


def _darker(plan: Plan, v: float) -> Plan:
    slab = plan.basking_slab
    assert slab is not None
    m = slab.material
    darker = replace(m, absorptance=min(m.absorptance * math.exp(v), 1.0 - m.transmittance))
    changed = replace(slab, material=darker)
    return replace(plan, furnishings=tuple(changed if f is slab else f for f in plan.furnishings))


def _wetter(plan: Plan, v: float) -> Plan:
    return replace(plan, substrate=plan.substrate.dampened(math.exp(v)))


def passes_now(plan: Plan, multiplier: Multiplier, value: float) -> tuple[float, float] | None:
    """What a screen passes by the catalogue and by a value, 0–1; None for other multipliers.

    For a mesh the share holds for light and heat alike.

    Parameters
    ----------
    plan : Plan
        The plan.
    multiplier : Multiplier
        The multiplier.
    value : float
        The value, in core units.

    Returns
    -------
    tuple[float, float] | None
        What a screen passes by the catalogue and by a value, 0–1.
    """
    if multiplier.kind != "screen":
        return None
    if multiplier.id == "screen:lid":
        wall = _lid_walls(plan)[0]
        screen, measured = wall.screen, wall.measured_uv
    else:
        fixture = _fixture(plan, multiplier.id.partition(":")[2])
        screen, measured = fixture.screen, fixture.screen_measured
    thought = straight_through(screen, measured).uv
    return thought, min(thought * math.exp(value), _MOST)
