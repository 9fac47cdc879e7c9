"""Lamps, heaters and thermostats of a first layout: chosen by computing them.

Distances and set points are estimates.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.fixes.candidate import probe_reading, with_fixture
from noonshade.core.fixes.remedies.night import heater_and_thermostat, with_night_heater
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.light.field import light_at
from noonshade.core.needs.species import Need
from noonshade.core.places import END_HEIGHT_M
from noonshade.core.plan import Fixture, Lamp, LineSource, LitPeriod, Plan, Point, Slab, Thermostat
from noonshade.core.starter.furnish import WARM_SHARE
from noonshade.core.starter.stock import Stock

BASKING_LAMP, LIGHTLESS_HEATER, DAYLIGHT = "halogen-flood", "ceramic-heater", "led-daylight-bar-90"
# How far below a closed lid, or above one of mesh, a bulb, a heater and a tube hang, m.
BULB_M, HEATER_M, TUBE_M = (0.10, 0.11), (0.12, 0.11), (0.04, 0.03)
# Further from the lid than it need be, where the lamp is too strong above mesh or too weak below a board.
UV_LIFTS_M = (0.0, 0.06, 0.12, 0.2, 0.3)
# Closer to its back than this no UV lamp hangs, m.
LEAST_ABOVE_BACK_M = 0.1
# Tubes may be this share of the length, for those that live on the ground and for climbers; compact lamps
# serve enclosures up to this long, m.
TUBE_SHARE, TUBE_SHARE_CLIMBING = 0.75, 0.93
LONGEST_FOR_COMPACT_M = 0.75
# Room at both ends of a bar, m.
END_M = 0.02
# How many of the sold watts are computed.
MOST_WATTS = 6
# What a night heater's probe is set above the least that the air must be, K, and what counts as enough.
NIGHT_ABOVE_K = (1.0, 3.0)
NIGHT_SURE_K = 0.3


def with_uv(plan: Plan, stock: Stock) -> Plan:
    """With the UV lamp that comes nearest to the need where it basks, or daylight if none is wanted."""
    need = plan.animal.need("basking", "uvi")
    species = plan.animal.species
    length = plan.enclosure.length_m
    # Out of range or not, how far from where it would hang, how far off, and the lamp.
    found: list[tuple[bool, float, float, Fixture]] = []
    if need is not None and species.uv != "avoided":
        low, high = need.low or 0.0, need.high or math.inf
        aim = max(_middle(need), 0.05)
        point = np.array([_back(plan)])
        for lamp in stock.lamps.values():
            if not _suits(lamp, length, plan.animal.climbs):
                continue
            for lift in UV_LIFTS_M:
                fixture = _hung(plan, lamp, "UV lamp", lift)
                if fixture.position_m[2] <= point[0, 2] + LEAST_ABOVE_BACK_M:
                    continue
                uvi = float(light_at(plan, point, (fixture,)).uvi_level[0])
                off = abs(math.log(max(uvi, 1e-3) / aim))
                outside = not low <= uvi <= high
                found.append((outside, 0.0 if outside else lift, off, fixture))
    best = min(found, key=lambda one: one[:3], default=None)
    # What is optional is not given rather than given too strongly.
    if best is not None and not (best[0] and need is not None and need.offered):
        return replace(plan, fixtures=(*plan.fixtures, best[3]))
    daylight = stock.lamps[DAYLIGHT]
    if species.light == "needed" and 2 * (_half(daylight) + END_M) <= length:
        return replace(plan, fixtures=(*plan.fixtures, _hung(plan, daylight, "Daylight")))
    return plan


def with_heat(plan: Plan, stock: Stock) -> Plan:
    """With a basking lamp of the watts that come nearest to what is wanted, on a thermostat."""
    species = plan.animal.species
    air = plan.animal.need("warm_end", "air_temperature")
    need = plan.animal.need("basking", "surface_temperature") or air
    if need is None or species.heat == "avoided" or species.is_cool_climate:
        return plan
    if species.heat == "offered" and (need.low is None or _reaches(_Best.of(plan), need)):
        return plan
    lamp = stock.lamps[BASKING_LAMP]
    slab = _basking(plan)
    where = (slab.x_m, slab.y_m, _height(plan, BULB_M))
    best = _Best.best(
        replace(
            plan, fixtures=(_heater(plan, "basking-lamp", "Basking lamp", lamp, w, where), *plan.fixtures)
        )
        for w in _watts(lamp)
    )
    if air is not None and not _reaches(best, air):
        best = _air_heated(best, air, stock)
    return _on_thermostat(best.plan, air or need)


def with_night_heat(plan: Plan, stock: Stock) -> Plan:
    """With a heater that gives no light, where the room is colder at night than the animal may be."""
    need = plan.animal.need("night", "air_temperature")
    if need is None or need.low is None or _night_air_c(plan) >= need.low:
        return plan
    lamp = stock.lamps[LIGHTLESS_HEATER]
    heated = plan
    for power_w, above in itertools.product(_watts(lamp), NIGHT_ABOVE_K):
        heated = with_night_heater(
            plan, *heater_and_thermostat(plan, lamp, power_w, round(need.low + above, 1))
        )
        if _night_air_c(heated) >= need.low + NIGHT_SURE_K:
            break
    return heated


@dataclass(frozen=True, slots=True)
class _Best:
    """A plan computed on large cells, and how far its warmth by day is off.

    ``off`` counts all temperatures by day, in widths of their ranges, too hot twice; without a steady state
    there is no evaluation, and it is infinite.
    """

    plan: Plan
    evaluation: Evaluation | None
    off: float

    @classmethod
    def of(cls, plan: Plan) -> _Best:
        try:
            evaluation = evaluate(plan, COARSE)
        except ConvergenceError:
            return cls(plan, None, math.inf)
        off = sum(
            v.off_by * (2.0 if v.status == "high" else 1.0)
            for v in evaluation.checks
            if v.need.quantity in ("surface_temperature", "air_temperature") and v.need.place != "night"
        )
        return cls(plan, evaluation, off)

    @classmethod
    def best(cls, plans: Iterable[Plan]) -> _Best:
        return min(map(cls.of, plans), key=lambda best: best.off)


def _reaches(best: _Best, need: Need) -> bool:
    """Whether a place is at least as warm as it must be."""
    if best.evaluation is None:
        return False
    return not any(v.need == need and v.status == "low" for v in best.evaluation.checks)


def _air_heated(before: _Best, need: Need, stock: Stock) -> _Best:
    """With a heater without light for the air of the warm end, where the basking lamp is not enough."""
    plan = before.plan
    lamp = stock.lamps[LIGHTLESS_HEATER]
    enclosure = plan.enclosure
    where = (0.45 * enclosure.length_m, 0.35 * enclosure.depth_m, _height(plan, HEATER_M))
    probe = _point(0.1 * enclosure.length_m, 0.8 * enclosure.depth_m, plan.substrate.depth_m + END_HEIGHT_M)
    point = round(_middle(need), 1)
    control = Thermostat("air", "Air thermostat", "on_off", point, None, 1.0, probe)
    after = _Best.best(
        replace(
            plan,
            fixtures=(
                *plan.fixtures,
                _heater(plan, "air-heater", "Air heater", lamp, power_w, where, "day", "air"),
            ),
            thermostats=(*plan.thermostats, control),
        )
        for power_w in _watts(lamp)
    )
    return after if after.off < before.off else before


def _on_thermostat(plan: Plan, need: Need) -> Plan:
    """The basking lamp on a dimming thermostat, its probe beside the slab, set to what it reads there."""
    slab, enclosure = _basking(plan), plan.enclosure
    probe = _point(
        min(slab.x_m + slab.length_m / 2 + 0.08, enclosure.length_m - 0.05),
        min(slab.y_m + slab.width_m / 2 + 0.05, enclosure.depth_m - 0.04),
        min(_back(plan)[2], enclosure.height_m - 0.05),
    )
    control = Thermostat("main", "Thermostat", "dimming", _middle(need), None, 1.0, probe)
    lamp = next(f for f in plan.fixtures if f.id == "basking-lamp")
    on_thermostat = with_fixture(plan, replace(lamp, thermostat_id=control.id))
    reading = probe_reading(on_thermostat, control, COARSE)
    if reading is not None:
        control = replace(control, day_set_point_c=round(reading * 2) / 2)
    return replace(on_thermostat, thermostats=(*on_thermostat.thermostats, control))


def _night_air_c(plan: Plan) -> float:
    """Mean air late at night, °C; without a steady state as cold as can be."""
    try:
        return float(np.mean(steady_climate(plan, "night", COARSE).air_c))
    except ConvergenceError:
        return -math.inf


def _middle(need: Need) -> float:
    """What to aim at: the middle of a range, or its only end."""
    ends = [end for end in (need.low, need.high) if end is not None]
    return sum(ends) / len(ends)


def _basking(plan: Plan) -> Slab:
    slab = plan.basking_slab
    assert slab is not None
    return slab


def _back(plan: Plan) -> Point:
    """Where the back of the basking animal is, m."""
    slab = _basking(plan)
    return slab.x_m, slab.y_m, plan.top_of(slab) + plan.animal.back_height_m


def _point(x: float, y: float, z: float) -> Point:
    return round(x, 3), round(y, 3), round(z, 3)


def _height(plan: Plan, hangs: tuple[float, float], lift: float = 0.0) -> float:
    """Height of a lamp below a closed lid or above an open one, and further away by ``lift``, m."""
    below_lid, above_mesh = hangs
    if plan.enclosure.walls["top"].material is not None:
        return plan.enclosure.height_m - below_lid - lift
    return plan.enclosure.height_m + above_mesh + lift


def _suits(lamp: Lamp, length: float, climbs: bool) -> bool:
    """Whether a UV lamp fits: tubes that leave one end free of UV, compact lamps in small enclosures.

    A climber finds its shade lower down, so a tube may be nearly as long as its enclosure.
    """
    if lamp.uv is None:
        return False
    if lamp.kind == "tube":
        return 2 * _half(lamp) <= (TUBE_SHARE_CLIMBING if climbs else TUBE_SHARE) * length
    return lamp.kind == "compact" and length < LONGEST_FOR_COMPACT_M


def _half(lamp: Lamp) -> float:
    """Half its length, or the half width of a bulb in its holder, m."""
    return lamp.geometry.length_m / 2 if isinstance(lamp.geometry, LineSource) else 0.06


def _hung(plan: Plan, lamp: Lamp, label: str, lift: float = 0.0) -> Fixture:
    """A lamp for UV or daylight, from the warm end along the enclosure."""
    enclosure, half = plan.enclosure, _half(lamp)
    x = max(half + END_M, WARM_SHARE * enclosure.length_m)
    if not isinstance(lamp.geometry, LineSource):
        # Beside the basking lamp, not in its place.
        x += 0.14
    where = _point(
        min(x, enclosure.length_m - half - 0.005), 0.6 * enclosure.depth_m, _height(plan, TUBE_M, lift)
    )
    return Fixture("uv-lamp" if lamp.uv else "daylight", label, lamp, lamp.power_w, where, "day")


def _heater(
    plan: Plan,
    fixture_id: str,
    label: str,
    lamp: Lamp,
    power_w: float,
    where: Point,
    lit: LitPeriod = "day",
    thermostat_id: str | None = None,
) -> Fixture:
    """A bulb or heater, with a guard where the animal could reach it."""
    inside = where[2] < plan.enclosure.height_m
    return Fixture(
        fixture_id,
        label,
        lamp,
        power_w,
        _point(*where),
        lit,
        thermostat_id=thermostat_id,
        guard=inside,
    )


def _watts(lamp: Lamp) -> list[float]:
    """Some of the watts it is sold in, from the least to the most."""
    choices = sorted(lamp.power_choices_w) or [lamp.power_min_w, lamp.power_max_w]
    some = np.unique(np.linspace(0, len(choices) - 1, MOST_WATTS).round().astype(int))
    return [choices[i] for i in some]
