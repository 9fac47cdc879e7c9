"""What could be changed to put a failed need right: one thing a keeper can change at a time."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from noonshade.core.assessment.checks import Check, status_of
from noonshade.core.assessment.reach import LEAST_CLEARANCE_M
from noonshade.core.assessment.reasons import OLD_SHARE, heater_of, main_lamp
from noonshade.core.assessment.wording import dampness
from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.fixes.candidate import Candidate, Change, probe_reading, with_fixture, with_thermostat
from noonshade.core.fixes.remedies import night_heater, somewhere_dark, uv_over_basking, vents_added
from noonshade.core.fixes.remedies.lid import lid_covered
from noonshade.core.fixes.remedies.spray import more_spray
from noonshade.core.light.ageing import REFERENCE_H, uv_share
from noonshade.core.light.field import light_at
from noonshade.core.light.screens import part_before
from noonshade.core.phrase import Measure, Phrase, named, uncapitalized
from noonshade.core.plan import Fixture, Hide, Lamp, LineSource, Mesh, Plan, Side, Slab

# How far into the wanted range a fix aims, as a share of the range from the failed side.
AIM_SHARE = 0.3
# How wet ground may be made, as the share that gives off water like open water. Estimate.
WETTEST = 0.6


def _aim(check: Check) -> float:
    low, high = check.need.low, check.need.high
    if low is None:
        assert high is not None
        return 0.7 * high
    if high is None:
        return low + 1.0
    span = high - low
    return low + AIM_SHARE * span if check.status == "low" else high - AIM_SHARE * span


def candidates_for(
    evaluation: Evaluation, check: Check, lamps: tuple[Lamp, ...], meshes: tuple[Mesh, ...]
) -> Iterator[Candidate]:
    """Candidates for a failed check, the likeliest first."""
    need = check.need
    if need.quantity == "humidity":
        yield from _moisture_candidates(evaluation, check)
    elif need.place == "night":
        yield from _night_candidates(evaluation, check, lamps)
    elif need.place == "reachable":
        yield from _cooler_surface(evaluation, check)
    elif need.quantity == "gradient":
        yield from vents_added(evaluation.plan)
    elif need.place in ("burrow", "water"):
        # What warms or cools these is a matter of design, not of one lever.
        return
    elif need.place == "enclosure":
        yield from uv_over_basking(evaluation.plan)
        yield from _shorter_tubes(evaluation.plan, lamps)
    elif need.quantity == "uvi" and need.place == "uv_refuge":
        yield from _uv_refuge_candidates(evaluation, check)
    elif need.quantity == "uvi":
        yield from _uv_candidates(evaluation, check, lamps, meshes)
    else:
        yield from _heat_candidates(evaluation, check)
        if check.status == "low" and need.quantity == "air_temperature":
            yield from lid_covered(evaluation.plan)


def _moisture_candidates(evaluation: Evaluation, check: Check) -> Iterator[Candidate]:
    """Damper or drier ground, more vents."""
    plan = evaluation.plan
    ground = plan.substrate
    if check.status == "low":
        for wetness in (0.05, 0.1, 0.2, 0.35, WETTEST):
            if wetness > ground.wetness:
                yield Candidate(
                    replace(plan, substrate=replace(ground, wetness=wetness)),
                    (f"Keep the ground damper, {dampness(wetness)}",),
                    (Change("substrate", "", "wetness", wetness),),
                )
        yield from more_spray(plan, check)
        yield from lid_covered(plan)
    else:
        for wetness in (0.3, 0.15, 0.05, 0.0):
            if wetness < ground.wetness:
                yield Candidate(
                    replace(plan, substrate=replace(ground, wetness=wetness)),
                    (f"Let the ground dry, {dampness(wetness)}",),
                    (Change("substrate", "", "wetness", wetness),),
                )
        yield from vents_added(plan)


def _shorter_tubes(plan: Plan, lamps: tuple[Lamp, ...]) -> Iterator[Candidate]:
    """Shorter tubes of the same kind, hung as far to the basking side as they go."""
    slab = plan.basking_slab
    for fixture in plan.fixtures:
        now = fixture.lamp.geometry
        if fixture.lamp.uv is None or not isinstance(now, LineSource):
            continue
        shorter = [
            lamp
            for lamp in lamps
            if lamp.kind == fixture.lamp.kind
            and lamp.uv is not None
            and isinstance(lamp.geometry, LineSource)
            and lamp.geometry.length_m < now.length_m
        ]
        shorter.sort(key=lambda lamp: -getattr(lamp.geometry, "length_m", 0.0))
        for lamp in shorter:
            x = fixture.position_m[0] if slab is None else slab.x_m
            half = getattr(lamp.geometry, "length_m", 0.0) / 2
            x = round(min(max(x, half + 0.01), plan.enclosure.length_m - half - 0.01), 3)
            changed = replace(
                fixture, lamp=lamp, power_w=lamp.power_w, position_m=(x, *fixture.position_m[1:])
            )
            yield Candidate(
                with_fixture(plan, changed),
                (f"Use a {lamp.label} instead of {named(fixture.label)}",),
                (
                    Change("fixture", fixture.id, "lamp_id", lamp.id),
                    Change("fixture", fixture.id, "power_w", lamp.power_w),
                    Change("fixture", fixture.id, "position_m.x_m", x),
                ),
            )


def _raised(plan: Plan, fixture: Fixture, z_m: float) -> Plan:
    x, y, _ = fixture.position_m
    return with_fixture(plan, replace(fixture, position_m=(x, y, z_m)))


def _height_candidate(plan: Plan, fixture: Fixture, z_m: float) -> Candidate:
    z = round(z_m, 3)
    way = "Lower" if z < fixture.position_m[2] else "Raise"
    sentence: Phrase = (
        f"{way} {named(fixture.label)} by ",
        Measure(abs(fixture.position_m[2] - z), "m"),
        " to ",
        Measure(z, "m"),
        " above the enclosure floor",
    )
    change = Change("fixture", fixture.id, "position_m.z_m", z)
    return Candidate(_raised(plan, fixture, z), sentence, (change,))


def _height_limits(plan: Plan, fixture: Fixture) -> tuple[float, float]:
    """Heights a lamp may hang at: clear of what lies below it, and on its own side of the lid."""
    ground = plan.substrate.depth_m
    floor = ground
    for item in plan.furnishings:
        if not isinstance(item, Slab | Hide):
            continue
        top = ground + (item.underside_m + item.thickness_m if isinstance(item, Slab) else item.height_m)
        if abs(item.x_m - fixture.position_m[0]) < item.length_m / 2 + LEAST_CLEARANCE_M:
            floor = max(floor, top)
    lid = plan.enclosure.height_m
    if fixture.position_m[2] > lid:
        return lid + 0.005, lid + 0.5
    return floor + LEAST_CLEARANCE_M, lid - 0.02


def _uv_candidates(
    evaluation: Evaluation, check: Check, lamps: tuple[Lamp, ...], meshes: tuple[Mesh, ...]
) -> Iterator[Candidate]:
    plan = evaluation.plan
    place = next(p for p in evaluation.places if p.id == check.place_id)
    lamp = main_lamp(plan, "uv", place)
    if lamp is None:
        return
    aim = _aim(check)

    def uvi(candidate: Plan) -> float:
        lit = tuple(f for f in candidate.fixtures if f.lit_at("day"))
        return float(light_at(candidate, np.array([place.position_m]), lit).uvi_level[0])

    if check.status == "low" and lamp.screen is not None:
        bare = replace(lamp, screen=None)
        yield Candidate(
            with_fixture(plan, bare),
            (f"Take the {_screen_word(lamp)} away from under {named(lamp.label)}",),
            (Change("fixture", lamp.id, "screen_id", None),),
        )
    if check.status == "low" and uv_share(lamp.lamp.ageing, lamp.hours) < OLD_SHARE:
        yield Candidate(
            with_fixture(plan, replace(lamp, hours=REFERENCE_H)),
            (f"Put a new lamp into {named(lamp.label)}",),
            (Change("fixture", lamp.id, "hours", REFERENCE_H),),
        )
    if check.status == "low":
        yield from _lid_candidates(plan, lamp, meshes)
    height = _solve(lambda z: uvi(_raised(plan, lamp, z)), aim, *_height_limits(plan, lamp))
    if height is not None:
        yield _height_candidate(plan, lamp, height)
    if check.status == "low" and lamp.screen is not None:
        bare = replace(lamp, screen=None)
        without = with_fixture(plan, bare)
        z = _solve(lambda z: uvi(_raised(without, bare, z)), aim, *_height_limits(plan, bare))
        if z is not None:
            step = _height_candidate(without, bare, z)
            yield Candidate(
                step.plan,
                (
                    f"Take the {_screen_word(lamp)} away from under {named(lamp.label)} and hang it at ",
                    Measure(z, "m"),
                ),
                (Change("fixture", lamp.id, "screen_id", None), *step.changes),
            )
    offset = place.position_m[0]
    if abs(offset - lamp.position_m[0]) > 0.05:
        x = round(min(max(offset, 0.05), plan.enclosure.length_m - 0.05), 2)
        moved = replace(lamp, position_m=(x, lamp.position_m[1], lamp.position_m[2]))
        yield Candidate(
            with_fixture(plan, moved),
            (f"Move {named(lamp.label)} over the basking spot",),
            (Change("fixture", lamp.id, "position_m.x_m", x),),
        )
    for other in lamps:
        if other.uv is None or other.id == lamp.lamp.id or other.kind != lamp.lamp.kind:
            continue
        swapped = replace(lamp, lamp=other, power_w=other.power_w, hours=REFERENCE_H)
        # The light alone shows quickly which are worth a full evaluation.
        if status_of(check.need, uvi(with_fixture(plan, swapped))) != "ok":
            continue
        yield Candidate(
            with_fixture(plan, swapped),
            (f"Use a {other.label} instead of {named(lamp.label)}",),
            (
                Change("fixture", lamp.id, "lamp_id", other.id),
                Change("fixture", lamp.id, "power_w", other.power_w),
                Change("fixture", lamp.id, "hours", REFERENCE_H),
            ),
        )


def _screen_word(fixture: Fixture) -> str:
    return "mesh" if isinstance(fixture.screen, Mesh) else "pane"


def _lid_candidates(plan: Plan, lamp: Fixture, meshes: tuple[Mesh, ...]) -> Iterator[Candidate]:
    """Another mesh over the whole lid, the closest to the present one first."""
    top = plan.enclosure.walls["top"]
    x, y, z = lamp.position_m
    if (
        z <= plan.enclosure.height_m
        or top.mesh is None
        or part_before(plan.enclosure, "top", (x, y, z)) is not top
    ):
        return
    opener = [m for m in meshes if m.open_fraction > top.mesh.open_fraction]
    for mesh in sorted(opener, key=lambda m: m.open_fraction):
        lid = replace(top, mesh=mesh, measured_uv=None)
        enclosure = replace(plan.enclosure, walls={**plan.enclosure.walls, "top": lid})
        yield Candidate(
            replace(plan, enclosure=enclosure),
            (f"Make the lid of {uncapitalized(mesh.label)}",),
            (Change("lid", "", "mesh_id", mesh.id), Change("lid", "", "measured_uv", None)),
        )


def _uv_refuge_candidates(evaluation: Evaluation, check: Check) -> Iterator[Candidate]:
    plan = evaluation.plan
    hide = next((h for h in plan.hides if h.id == check.place_id), None)
    if hide is None:
        yield from somewhere_dark(plan)
        return
    sides: tuple[Side, ...] = ("left", "right", "front", "back")
    for side in sides:
        if side == hide.opening:
            continue
        turned = replace(hide, opening=side)
        items = tuple(turned if f is hide else f for f in plan.furnishings)
        yield Candidate(
            replace(plan, furnishings=items),
            (f"Turn {named(hide.label)} so that it opens to the {side}",),
            (Change("furnishing", hide.id, "opening", side),),
        )


def _night_candidates(evaluation: Evaluation, check: Check, lamps: tuple[Lamp, ...]) -> Iterator[Candidate]:
    plan = evaluation.plan
    target = round(_aim(check), 1)
    for thermostat in plan.thermostats:
        heaters = [
            f
            for f in plan.fixtures
            if f.thermostat_id == thermostat.id and f.lit_at("night") and not f.lamp.gives_light
        ]
        if heaters:
            changed = replace(thermostat, night_set_point_c=target)
            yield Candidate(
                with_thermostat(plan, changed),
                (f"Set {named(thermostat.label)} to ", Measure(target, "°C"), " by night"),
                (Change("thermostat", thermostat.id, "night_set_point_c", target),),
            )
    if check.status == "low":
        yield from lid_covered(plan)
        yield from night_heater(plan, lamps, target)


def _heat_candidates(evaluation: Evaluation, check: Check) -> Iterator[Candidate]:
    plan = evaluation.plan
    place = next(p for p in evaluation.places if p.id == check.place_id)
    lamp = main_lamp(plan, "heat", place)
    if lamp is None:
        return
    aim = _aim(check)
    power = _power_for(evaluation, check, lamp, aim)
    if power is not None:
        if power <= lamp.power_w:
            yield from _set_point_candidates(evaluation, lamp, power)
        uncontrolled = lamp.thermostat_id is None or evaluation.day.power_fraction[lamp.id] > 0.995
        if uncontrolled or power > lamp.power_w:
            # Rather a little past the aim than just inside the range.
            past = 1.0 if check.status == "low" else -1.0
            choices = sorted(
                lamp.lamp.power_choices_w, key=lambda w: ((w - power) * past < 0, abs(w - power))
            )
            for watts in choices[:2]:
                if watts != lamp.power_w:
                    yield _watts_candidate(plan, lamp, watts)
        if power > lamp.power_w:
            yield from _set_point_candidates(evaluation, lamp, power)
    if check.need.place == "basking":
        low, high = _height_limits(plan, lamp)
        current = lamp.position_m[2]
        toward = high if check.status == "high" else low
        for share in (0.35, 0.7, 1.0):
            z = current + share * (toward - current)
            if (toward - current) * (1 if check.status == "high" else -1) > 0.01:
                yield _height_candidate(plan, lamp, z)
        if check.status == "low" and lamp.screen is not None:
            yield Candidate(
                with_fixture(plan, replace(lamp, screen=None)),
                (f"Take the {_screen_word(lamp)} away from under {named(lamp.label)}",),
                (Change("fixture", lamp.id, "screen_id", None),),
            )


def _cooler_surface(evaluation: Evaluation, check: Check) -> Iterator[Candidate]:
    """Less from the heater that makes a surface too hot: from higher up, with fewer watts, held back."""
    plan, hottest = evaluation.plan, evaluation.whole.hottest
    heater = heater_of(plan, hottest.surface.position_m, hottest.moment)
    if heater is None:
        return
    aim = _aim(check)
    if hottest.moment == "day":
        power = _power_for(evaluation, check, heater, aim)
        if power is not None and power < heater.power_w:
            yield from _set_point_candidates(evaluation, heater, power)
            for watts in sorted((w for w in heater.lamp.power_choices_w if w <= power), reverse=True)[:2]:
                yield _watts_candidate(plan, heater, watts)
    for watts in sorted((w for w in heater.lamp.power_choices_w if w < heater.power_w), reverse=True)[:3]:
        yield _watts_candidate(plan, heater, watts)
    if heater.against is None:
        _, high = _height_limits(plan, heater)
        current = heater.position_m[2]
        for share in (0.5, 1.0):
            if high - current > 0.01:
                yield _height_candidate(plan, heater, current + share * (high - current))


def _watts_candidate(plan: Plan, heater: Fixture, watts: float) -> Candidate:
    return Candidate(
        with_fixture(plan, replace(heater, power_w=watts)),
        (f"Use {watts:.0f} W instead of {heater.power_w:.0f} W in {named(heater.label)}",),
        (Change("fixture", heater.id, "power_w", watts),),
    )


def _power_for(evaluation: Evaluation, check: Check, lamp: Fixture, aim: float) -> float | None:
    """Mean watts of one lamp that bring a figure to its aim, from one candidate at another power.

    Temperatures are close to linear in power; the fix itself is then computed in full.
    """
    assert check.value is not None
    now = lamp.power_w * evaluation.day.power_fraction[lamp.id]
    other = max(lamp.lamp.power_min_w, 1.25 * now if check.status == "low" else 0.8 * now)
    other = min(other, lamp.lamp.power_max_w)
    if abs(other - now) < 0.5:
        return None
    free = replace(lamp, power_w=other, thermostat_id=None)
    try:
        candidate = evaluate(with_fixture(evaluation.plan, free))
    except ConvergenceError:
        return None
    value = next((c.value for c in candidate.checks if c.id == check.id), None)
    if value is None or abs(value - check.value) < 1e-3:
        return None
    power = now + (aim - check.value) * (other - now) / (value - check.value)
    return power if power > 1.0 else None


def _set_point_candidates(evaluation: Evaluation, lamp: Fixture, power_w: float) -> Iterator[Candidate]:
    """Set the lamp's thermostat to what its probe reads at the wanted mean power.

    A lamp too weak for that power is exchanged for the next stronger one in the same step.
    """
    plan = evaluation.plan
    thermostat = next((t for t in plan.thermostats if t.id == lamp.thermostat_id), None)
    if thermostat is None or thermostat.day_set_point_c is None:
        return
    if not lamp.lamp.power_min_w <= power_w <= lamp.lamp.power_max_w:
        return
    reading = probe_reading(with_fixture(plan, replace(lamp, power_w=power_w)), thermostat)
    if reading is None:
        return
    target = round(reading * 2) / 2
    if target == thermostat.day_set_point_c:
        return
    changed = replace(thermostat, day_set_point_c=target)
    step = Change("thermostat", changed.id, "day_set_point_c", target)
    set_plan = with_thermostat(plan, changed)
    if power_w <= lamp.power_w:
        sentence: Phrase = (f"Set {named(changed.label)} to ", Measure(target, "°C"), " by day")
        yield Candidate(set_plan, sentence, (step,))
        return
    stronger = min((w for w in lamp.lamp.power_choices_w if w >= power_w), default=None)
    if stronger is None:
        return
    yield Candidate(
        with_fixture(set_plan, replace(lamp, power_w=stronger)),
        (
            f"Use {stronger:.0f} W instead of {lamp.power_w:.0f} W in {named(lamp.label)}, and set "
            f"{named(changed.label)} to ",
            Measure(target, "°C"),
            " by day",
        ),
        (Change("fixture", lamp.id, "power_w", stronger), step),
    )


def _solve(function: Callable[[float], float], target: float, low: float, high: float) -> float | None:
    """Where a falling function meets a target between two limits, to half a centimetre.

    The limit that comes nearest where it meets none: what is wanted may hold there too.
    """
    if low >= high:
        return None
    if function(low) <= target:
        return math.ceil(100.0 * low - 1e-6) / 100.0
    if function(high) >= target:
        return math.floor(100.0 * high + 1e-6) / 100.0
    while high - low > 0.004:
        middle = (low + high) / 2
        if function(middle) > target:
            low = middle
        else:
            high = middle
    return round((low + high) / 2, 2)
