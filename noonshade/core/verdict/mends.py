"""Changes that would put a failed verdict right, found by computing them.

Each lever is one thing a keeper can change. It is tried with the full model, and what it breaks
elsewhere is said.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.light.ageing import REFERENCE_H, uv_share
from noonshade.core.light.field import light_at
from noonshade.core.light.screens import lid_above
from noonshade.core.phrase import Measure, Phrase, Unit
from noonshade.core.plan import Fixture, Hide, Lamp, Mesh, Plan, Side, Slab
from noonshade.core.validate import plan_errors
from noonshade.core.verdict.checks import OLD_SHARE, Verdict, figure_for, main_lamp, status_of
from noonshade.core.verdict.findings import LEAST_CLEARANCE_M

Part = Literal["fixture", "thermostat", "hide", "room", "lid"]
Value = float | str | None

# How far into the wanted range a mend aims, as a share of the range from the failed side.
AIM_SHARE = 0.3
# A set point no probe reaches in a plan that fits: the heater stays on.
ALWAYS_ON_C = 99.0


@dataclass(frozen=True, slots=True)
class Change:
    """One value of the plan to replace; ``part_id`` is empty for the room and the lid."""

    part: Part
    part_id: str
    attribute: str
    value: Value


@dataclass(frozen=True, slots=True)
class Mend:
    """A change, the figure it leads to, and the verdicts it would turn from within to failing."""

    verdict_id: str
    sentence: Phrase
    changes: tuple[Change, ...]
    value: float
    breaks: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Trial:
    plan: Plan
    sentence: Phrase
    changes: tuple[Change, ...]


def propose(
    evaluation: Evaluation,
    verdict: Verdict,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
) -> Mend | None:
    """The best single change for one failed verdict, or None if nothing tried helps.

    Parameters
    ----------
    evaluation : Evaluation
    verdict : Verdict
        One of the evaluation's verdicts, below or above.
    lamps : tuple of Lamp
        Lamps that may be swapped in where no change of place helps.
    meshes : tuple of Mesh
        Meshes a lid may be made of instead.
    """
    if verdict.status not in ("below", "above"):
        return None
    best: Mend | None = None
    for trial in _trials(evaluation, verdict, lamps, meshes):
        mend = _tried(evaluation, verdict, trial)
        if mend is None:
            continue
        if not mend.breaks:
            return mend
        if best is None or len(mend.breaks) < len(best.breaks):
            best = mend
    return best


def _tried(evaluation: Evaluation, verdict: Verdict, trial: _Trial) -> Mend | None:
    if plan_errors(trial.plan):
        return None
    try:
        after = evaluate(trial.plan)
    except ConvergenceError:
        return None
    found = next((v for v in after.verdicts if v.id == verdict.id), None)
    if found is None or found.status != "within" or found.value is None:
        return None
    before = {v.id: v.status for v in evaluation.verdicts}
    broken = [
        f"{v.place_label}, {v.need.quantity.replace('_', ' ')}"
        for v in after.verdicts
        if v.status != "within" and before.get(v.id) == "within"
    ]
    old = {f.id for f in evaluation.findings}
    broken += [f.about_id for f in after.findings if f.id not in old and f.severity == "danger"]
    unit: Unit = "UVI" if verdict.need.quantity == "uvi" else "°C"
    shown = "UVI " if unit == "UVI" else ""
    sentence = (*trial.sentence, f": {shown}", Measure(found.value, unit), ".")
    return Mend(verdict.id, sentence, trial.changes, found.value, tuple(broken))


def _aim(verdict: Verdict) -> float:
    low, high = verdict.need.low, verdict.need.high
    if low is None:
        assert high is not None
        return 0.7 * high
    if high is None:
        return low + 1.0
    span = high - low
    return low + AIM_SHARE * span if verdict.status == "below" else high - AIM_SHARE * span


def _trials(
    evaluation: Evaluation, verdict: Verdict, lamps: tuple[Lamp, ...], meshes: tuple[Mesh, ...]
) -> Iterator[_Trial]:
    if verdict.need.place == "night":
        yield from _night_trials(evaluation, verdict)
    elif verdict.need.quantity == "uvi" and verdict.need.place == "retreat":
        yield from _retreat_trials(evaluation, verdict)
    elif verdict.need.quantity == "uvi":
        yield from _uv_trials(evaluation, verdict, lamps, meshes)
    else:
        yield from _heat_trials(evaluation, verdict)


# -- levers ------------------------------------------------------------------------------------------


def _with_fixture(plan: Plan, fixture: Fixture) -> Plan:
    fixtures = tuple(fixture if f.id == fixture.id else f for f in plan.fixtures)
    return replace(plan, fixtures=fixtures)


def _raised(plan: Plan, fixture: Fixture, z_m: float) -> Plan:
    x, y, _ = fixture.position_m
    return _with_fixture(plan, replace(fixture, position_m=(x, y, z_m)))


def _height_trial(plan: Plan, fixture: Fixture, z_m: float) -> _Trial:
    z = round(z_m, 3)
    way = "Lower" if z < fixture.position_m[2] else "Raise"
    sentence: Phrase = (
        f"{way} {fixture.label} by ",
        Measure(abs(fixture.position_m[2] - z), "m"),
        " to ",
        Measure(z, "m"),
        " above the box floor",
    )
    change = Change("fixture", fixture.id, "position_m.z_m", z)
    return _Trial(_raised(plan, fixture, z), sentence, (change,))


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
    lid = plan.box.height_m
    if fixture.position_m[2] > lid:
        return lid + 0.005, lid + 0.5
    return floor + LEAST_CLEARANCE_M, lid - 0.02


def _uv_trials(
    evaluation: Evaluation, verdict: Verdict, lamps: tuple[Lamp, ...], meshes: tuple[Mesh, ...]
) -> Iterator[_Trial]:
    plan = evaluation.plan
    place = next(p for p in evaluation.places if p.id == verdict.place_id)
    lamp = main_lamp(plan, "uv", place)
    if lamp is None:
        return
    aim = _aim(verdict)

    def uvi(candidate: Plan) -> float:
        lit = tuple(f for f in candidate.fixtures if f.lit_at("day"))
        return float(light_at(candidate, np.array([place.position_m]), lit).uvi_level[0])

    if verdict.status == "below" and lamp.screen is not None:
        bare = replace(lamp, screen=None)
        yield _Trial(
            _with_fixture(plan, bare),
            (f"Take the {_screen_word(lamp)} away from under {lamp.label}",),
            (Change("fixture", lamp.id, "screen_id", None),),
        )
    if verdict.status == "below" and uv_share(lamp.lamp.ageing, lamp.hours) < OLD_SHARE:
        yield _Trial(
            _with_fixture(plan, replace(lamp, hours=REFERENCE_H)),
            (f"Put a new lamp into {lamp.label}",),
            (Change("fixture", lamp.id, "hours", REFERENCE_H),),
        )
    if verdict.status == "below":
        yield from _lid_trials(plan, lamp, meshes)
    height = _solve(lambda z: uvi(_raised(plan, lamp, z)), aim, *_height_limits(plan, lamp))
    if height is not None:
        yield _height_trial(plan, lamp, height)
    if verdict.status == "below" and lamp.screen is not None:
        bare = replace(lamp, screen=None)
        without = _with_fixture(plan, bare)
        z = _solve(lambda z: uvi(_raised(without, bare, z)), aim, *_height_limits(plan, bare))
        if z is not None:
            step = _height_trial(without, bare, z)
            yield _Trial(
                step.plan,
                (
                    f"Take the {_screen_word(lamp)} away from under {lamp.label} and hang it at ",
                    Measure(z, "m"),
                ),
                (Change("fixture", lamp.id, "screen_id", None), *step.changes),
            )
    offset = place.position_m[0]
    if abs(offset - lamp.position_m[0]) > 0.05:
        x = round(min(max(offset, 0.05), plan.box.length_m - 0.05), 2)
        moved = replace(lamp, position_m=(x, lamp.position_m[1], lamp.position_m[2]))
        yield _Trial(
            _with_fixture(plan, moved),
            (f"Move {lamp.label} over the basking place",),
            (Change("fixture", lamp.id, "position_m.x_m", x),),
        )
    for other in lamps:
        if other.uv is None or other.id == lamp.lamp.id or other.kind != lamp.lamp.kind:
            continue
        swapped = replace(lamp, lamp=other, power_w=other.power_w, hours=REFERENCE_H)
        # The light alone tells quickly which are worth a full evaluation.
        if status_of(verdict.need, uvi(_with_fixture(plan, swapped))) != "within":
            continue
        yield _Trial(
            _with_fixture(plan, swapped),
            (f"Use a {other.label} instead of {lamp.label}",),
            (
                Change("fixture", lamp.id, "lamp_id", other.id),
                Change("fixture", lamp.id, "power_w", other.power_w),
                Change("fixture", lamp.id, "hours", REFERENCE_H),
            ),
        )


def _screen_word(fixture: Fixture) -> str:
    return "mesh" if isinstance(fixture.screen, Mesh) else "pane"


def _lid_trials(plan: Plan, lamp: Fixture, meshes: tuple[Mesh, ...]) -> Iterator[_Trial]:
    """Another mesh over the whole lid, the closest to the present one first."""
    top = plan.box.walls["top"]
    x, y, z = lamp.position_m
    if z <= plan.box.height_m or top.mesh is None or lid_above(plan, x, y) is not top:
        return
    opener = [m for m in meshes if m.open_fraction > top.mesh.open_fraction]
    for mesh in sorted(opener, key=lambda m: m.open_fraction):
        lid = replace(top, mesh=mesh, measured_uv=None)
        box = replace(plan.box, walls={**plan.box.walls, "top": lid})
        yield _Trial(
            replace(plan, box=box),
            (f"Make the lid of {mesh.label[0].lower()}{mesh.label[1:]}",),
            (Change("lid", "", "mesh_id", mesh.id), Change("lid", "", "measured_uv", None)),
        )


def _retreat_trials(evaluation: Evaluation, verdict: Verdict) -> Iterator[_Trial]:
    plan = evaluation.plan
    hide = next((h for h in plan.hides if h.id == verdict.place_id), None)
    if hide is None:
        return
    sides: tuple[Side, ...] = ("left", "right", "front", "back")
    for side in sides:
        if side == hide.opening:
            continue
        turned = replace(hide, opening=side)
        items = tuple(turned if f is hide else f for f in plan.furnishings)
        yield _Trial(
            replace(plan, furnishings=items),
            (f"Turn {hide.label} so that it opens to the {side}",),
            (Change("hide", hide.id, "opening", side),),
        )


def _night_trials(evaluation: Evaluation, verdict: Verdict) -> Iterator[_Trial]:
    plan = evaluation.plan
    target = round(_aim(verdict), 1)
    for thermostat in plan.thermostats:
        heaters = [
            f
            for f in plan.fixtures
            if f.thermostat_id == thermostat.id and f.lit_at("night") and not f.lamp.gives_light
        ]
        if heaters:
            changed = replace(thermostat, night_set_point_c=target)
            yield _Trial(
                replace(
                    plan,
                    thermostats=tuple(changed if t is thermostat else t for t in plan.thermostats),
                ),
                (f"Set {thermostat.label} to ", Measure(target, "°C"), " by night"),
                (Change("thermostat", thermostat.id, "night_set_point_c", target),),
            )
    yield _Trial(
        replace(plan, room=replace(plan.room, night_temperature_c=target)),
        ("Keep the room at ", Measure(target, "°C"), " at night"),
        (Change("room", "", "night_temperature_c", target),),
    )


def _heat_trials(evaluation: Evaluation, verdict: Verdict) -> Iterator[_Trial]:
    plan = evaluation.plan
    place = next(p for p in evaluation.places if p.id == verdict.place_id)
    lamp = main_lamp(plan, "heat", place)
    if lamp is None:
        return
    aim = _aim(verdict)
    power = _power_for(evaluation, verdict, lamp, aim)
    if power is not None:
        if power <= lamp.power_w:
            yield from _set_point_trials(evaluation, lamp, power)
        uncontrolled = lamp.thermostat_id is None or evaluation.day.power_fraction[lamp.id] > 0.995
        if uncontrolled or power > lamp.power_w:
            # Rather a little past the aim than just inside the range.
            past = 1.0 if verdict.status == "below" else -1.0
            choices = sorted(
                lamp.lamp.power_choices_w, key=lambda w: ((w - power) * past < 0, abs(w - power))
            )
            for watts in choices[:2]:
                if watts != lamp.power_w:
                    yield _Trial(
                        _with_fixture(plan, replace(lamp, power_w=watts)),
                        (f"Fit {watts:.0f} W instead of {lamp.power_w:.0f} W in {lamp.label}",),
                        (Change("fixture", lamp.id, "power_w", watts),),
                    )
        if power > lamp.power_w:
            yield from _set_point_trials(evaluation, lamp, power)
    if verdict.need.place == "basking":
        low, high = _height_limits(plan, lamp)
        current = lamp.position_m[2]
        toward = high if verdict.status == "above" else low
        for share in (0.35, 0.7, 1.0):
            z = current + share * (toward - current)
            if (toward - current) * (1 if verdict.status == "above" else -1) > 0.01:
                yield _height_trial(plan, lamp, z)
        if verdict.status == "below" and lamp.screen is not None:
            yield _Trial(
                _with_fixture(plan, replace(lamp, screen=None)),
                (f"Take the {_screen_word(lamp)} away from under {lamp.label}",),
                (Change("fixture", lamp.id, "screen_id", None),),
            )


def _power_for(evaluation: Evaluation, verdict: Verdict, lamp: Fixture, aim: float) -> float | None:
    """Mean watts of one lamp that bring a figure to its aim, from one trial at another power.

    Temperatures are close to linear in power; the mend itself is then computed in full.
    """
    assert verdict.value is not None
    now = lamp.power_w * evaluation.day.power_fraction[lamp.id]
    other = max(lamp.lamp.power_min_w, 1.25 * now if verdict.status == "below" else 0.8 * now)
    other = min(other, lamp.lamp.power_max_w)
    if abs(other - now) < 0.5:
        return None
    free = replace(lamp, power_w=other, thermostat_id=None)
    try:
        trial = evaluate(_with_fixture(evaluation.plan, free))
    except ConvergenceError:
        return None
    place = next((p for p in trial.places if p.id == verdict.place_id), None)
    value = None if place is None else figure_for(place, verdict.need)
    if value is None or abs(value - verdict.value) < 1e-3:
        return None
    power = now + (aim - verdict.value) * (other - now) / (value - verdict.value)
    return power if power > 1.0 else None


def _probe_at(evaluation: Evaluation, lamp: Fixture, power_w: float) -> float | None:
    """What the lamp's thermostat probe reads when the lamp burns at a power all the time, °C."""
    plan = evaluation.plan
    free = replace(lamp, power_w=power_w)
    always = tuple(
        replace(t, day_set_point_c=ALWAYS_ON_C) if t.id == lamp.thermostat_id else t
        for t in plan.thermostats
    )
    trial_plan = replace(_with_fixture(plan, free), thermostats=always)
    if plan_errors(trial_plan):
        return None
    try:
        trial = evaluate(trial_plan)
    except ConvergenceError:
        return None
    return next(s.probe_c for s in trial.day.thermostats if s.thermostat.id == lamp.thermostat_id)


def _set_point_trials(evaluation: Evaluation, lamp: Fixture, power_w: float) -> Iterator[_Trial]:
    """Set the lamp's thermostat to what its probe reads at the wanted mean power.

    A lamp too weak for that power is exchanged for the next stronger one in the same step.
    """
    plan = evaluation.plan
    thermostat = next((t for t in plan.thermostats if t.id == lamp.thermostat_id), None)
    if thermostat is None or thermostat.day_set_point_c is None:
        return
    if not lamp.lamp.power_min_w <= power_w <= lamp.lamp.power_max_w:
        return
    reading = _probe_at(evaluation, lamp, power_w)
    if reading is None:
        return
    target = round(reading * 2) / 2
    if target == thermostat.day_set_point_c:
        return
    changed = replace(thermostat, day_set_point_c=target)
    step = Change("thermostat", changed.id, "day_set_point_c", target)
    set_plan = replace(
        plan, thermostats=tuple(changed if t.id == changed.id else t for t in plan.thermostats)
    )
    if power_w <= lamp.power_w:
        sentence: Phrase = (f"Set {changed.label} to ", Measure(target, "°C"), " by day")
        yield _Trial(set_plan, sentence, (step,))
        return
    stronger = min((w for w in lamp.lamp.power_choices_w if w >= power_w), default=None)
    if stronger is None:
        return
    yield _Trial(
        _with_fixture(set_plan, replace(lamp, power_w=stronger)),
        (
            f"Fit {stronger:.0f} W instead of {lamp.power_w:.0f} W in {lamp.label} and set "
            f"{changed.label} to ",
            Measure(target, "°C"),
            " by day",
        ),
        (Change("fixture", lamp.id, "power_w", stronger), step),
    )


def _solve(function: Callable[[float], float], target: float, low: float, high: float) -> float | None:
    """Where a falling function meets a target between two limits, to half a centimetre."""
    if low >= high or not function(high) <= target <= function(low):
        return None
    while high - low > 0.004:
        middle = (low + high) / 2
        if function(middle) > target:
            low = middle
        else:
            high = middle
    return round((low + high) / 2, 2)
