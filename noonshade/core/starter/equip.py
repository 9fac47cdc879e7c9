"""Lamps, heaters and thermostats of a first layout: chosen by computing them.

Distances and set points are estimates.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.fixes.candidate import probe_reading, with_fixture
from noonshade.core.fixes.remedies.night import (
    PLACES,
    heater_and_thermostat,
    is_safe_by_night,
    with_night_heater,
)
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.light.field import Scene, light_at
from noonshade.core.needs.species import Need
from noonshade.core.places import END_HEIGHT_M
from noonshade.core.places.uv_refuge import uv_within_reach
from noonshade.core.plan import (
    Branch,
    ControlKind,
    Fixture,
    Lamp,
    LineSource,
    LitPeriod,
    PanelSource,
    Plan,
    Point,
    Slab,
    Thermostat,
)
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
# Mats that are tried, the share of the length they may take, and the ground over them, m.
MATS, MAT_SHARE, MAT_GROUND_M = ("mat-14", "mat-28", "mat-58"), 0.45, 0.02
# Panels that are tried, and how far below the lid they are screwed, m.
PANELS, PANEL_BELOW_M = ("radiant-panel-20", "radiant-panel-40", "radiant-panel-80"), 0.03
# A danger counts more than any figure that is off.
DANGER_OFF = 100.0
NOT_YET = ("uncontrolled", "summer-hot")
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
    ranked = sorted(found, key=lambda one: one[:3])
    best = next((one for one in ranked if not _blinds(plan, one[3])), None)
    # What is optional is not given rather than given too strongly.
    if best is not None and not (best[0] and need is not None and need.offered):
        return replace(plan, fixtures=(*plan.fixtures, best[3]))
    daylight = stock.lamps[DAYLIGHT]
    if species.light == "needed" and 2 * (_half(daylight) + END_M) <= length:
        return replace(plan, fixtures=(*plan.fixtures, _hung(plan, daylight, "Daylight")))
    return plan


def _blinds(plan: Plan, fixture: Fixture) -> bool:
    """Whether a lamp gives UV that harms somewhere the animal can get to."""
    strongest = uv_within_reach(plan, Scene(plan, (fixture,))).strongest
    return strongest > plan.animal.harmful_uvi


def with_heat(plan: Plan, stock: Stock) -> Plan:
    """With a basking lamp of the watts that come nearest to what is wanted, on a thermostat."""
    species = plan.animal.species
    air = plan.animal.need(plan.animal.warm_place, "air_temperature")
    need = plan.animal.need("basking", "surface_temperature") or air
    if need is None or species.heat == "avoided" or species.is_cool_climate:
        return plan
    if species.heat == "offered" and (need.low is None or _reaches(_Best.of(plan), need)):
        return plan
    tried = [*_with_bulbs(plan, stock), *_with_mats(plan, stock), *_with_panels(plan, stock)]
    best = _Best.best(tried)
    if best.off >= DANGER_OFF:
        # Rather cold, which the checks say, than a danger.
        return plan
    if air is not None and not _reaches(best, air):
        best = _air_heated(best, air, stock)
    if any(f.id == "mat" for f in best.plan.fixtures):
        return _mat_on_thermostat(best.plan, need)
    return _on_thermostat(best.plan, air or need)


def _with_bulbs(plan: Plan, stock: Stock) -> Iterator[Plan]:
    """A flood over the slab, in some of the watts it is sold in."""
    lamp, slab = stock.lamps[BASKING_LAMP], _basking(plan)
    where = (slab.x_m, slab.y_m, _height(plan, BULB_M))
    for watts in _watts(lamp):
        bulb = _heater(plan, "basking-lamp", "Basking lamp", lamp, watts, where)
        yield replace(plan, fixtures=(bulb, *plan.fixtures))


def _with_panels(plan: Plan, stock: Stock) -> Iterator[Plan]:
    """A radiant panel under a closed lid, for snakes: gentle heat over a large patch."""
    if plan.animal.species.group != "snake" or plan.enclosure.walls["top"].material is None:
        return
    slab = _basking(plan)
    for lamp_id in PANELS:
        lamp = stock.lamps[lamp_id]
        if not isinstance(lamp.geometry, PanelSource):
            continue
        half = lamp.geometry.length_m / 2
        if 2 * half > MAT_SHARE * plan.enclosure.length_m or lamp.geometry.width_m > plan.enclosure.depth_m:
            continue
        where = _point(max(slab.x_m, half), slab.y_m, plan.enclosure.height_m - PANEL_BELOW_M)
        panel = Fixture("basking-lamp", "Radiant panel", lamp, lamp.power_w, where, "day", mount="screwed")
        yield replace(plan, fixtures=(panel, *plan.fixtures))


def _with_mats(plan: Plan, stock: Stock) -> Iterator[Plan]:
    """A mat under the warm end, for animals of the night that neither dig nor live off the ground."""
    animal = plan.animal
    if animal.species.active == "day" or animal.digs or animal.lives_by_height:
        return
    closed = plan.enclosure.walls["floor"].material is not None
    if not closed:
        return
    slab, depth = _basking(plan), min(plan.substrate.depth_m, MAT_GROUND_M)
    things = tuple(f for f in plan.furnishings if f is not slab and not isinstance(f, Branch))
    bare = replace(plan, substrate=replace(plan.substrate, depth_m=depth), furnishings=things)
    for lamp_id in MATS:
        lamp = stock.lamps[lamp_id]
        if not isinstance(lamp.geometry, PanelSource):
            continue
        half = (lamp.geometry.length_m / 2, lamp.geometry.width_m / 2)
        if 2 * half[0] > MAT_SHARE * plan.enclosure.length_m or 2 * half[1] > plan.enclosure.depth_m:
            continue
        where = _point(max(half[0], WARM_SHARE * plan.enclosure.length_m), plan.enclosure.depth_m / 2, 0.0)
        for watts in np.linspace(lamp.power_min_w, lamp.power_max_w, 3):
            heater = Fixture("mat", "Heat mat", lamp, float(watts), where, "always", mount="floor")
            yield replace(bare, fixtures=(heater, *bare.fixtures))


def _mat_on_thermostat(plan: Plan, need: Need) -> Plan:
    """The mat on a pulse thermostat, its probe on the ground over it, set to what is wanted there."""
    mat = next(f for f in plan.fixtures if f.id == "mat")
    x, y, _ = mat.position_m
    point = round(_middle(need) * 2) / 2
    probe = _point(x, y, plan.substrate.depth_m + 0.002)
    control = Thermostat("main", "Thermostat", "pulse", point, point, 1.0, probe)
    bound = with_fixture(plan, replace(mat, thermostat_id=control.id))
    return replace(bound, thermostats=(*bound.thermostats, control))


def with_night_heat(plan: Plan, stock: Stock) -> Plan:
    """With a heater that gives no light, where the room is colder at night than the animal may be."""
    need = plan.animal.need("night", "air_temperature")
    if need is None or need.low is None or _night_air_c(plan) >= need.low:
        return plan
    lamp = stock.lamps[LIGHTLESS_HEATER]
    warmest, most = plan, -math.inf
    for power_w, above, place in itertools.product(_watts(lamp), NIGHT_ABOVE_K, PLACES):
        heater, control = heater_and_thermostat(plan, lamp, power_w, round(need.low + above, 1), place)
        heated = with_night_heater(plan, heater, control)
        if not is_safe_by_night(heated, heater):
            continue
        air = _night_air_c(heated)
        if air >= need.low + NIGHT_SURE_K:
            return heated
        if air > most:
            warmest, most = heated, air
    return warmest


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
        # A danger is no candidate, however near the other figures are.
        # What the room does is none of the lamp's, nor is the thermostat that is still to come.
        dangers = sum(c.severity == "danger" and c.status == "high" for c in evaluation.checks)
        dangers += sum(f.severity == "danger" and f.kind not in NOT_YET for f in evaluation.findings)
        off = DANGER_OFF * dangers + sum(
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
    lamp = next(f for f in plan.fixtures if f.id == "basking-lamp")
    kind: ControlKind = "dimming" if "dimming" in lamp.lamp.controls else "pulse"
    control = Thermostat("main", "Thermostat", kind, _middle(need), None, 1.0, probe)
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
    return next(f for f in plan.furnishings if isinstance(f, Slab) and f.id == "basking")


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
