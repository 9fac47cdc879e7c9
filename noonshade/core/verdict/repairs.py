"""What could be changed to put a finding right."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace

from noonshade.core.errors import ConvergenceError
from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.light.ageing import REFERENCE_H
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.places import warm_side
from noonshade.core.plan import (
    BeamSource,
    Branch,
    Fixture,
    Hide,
    Lamp,
    Leaves,
    LineSource,
    Plan,
    Point,
    Slab,
    SolidMaterial,
    Thermostat,
    Vent,
    Water,
)
from noonshade.core.validate import plan_errors
from noonshade.core.verdict.equipment import LEAST_ABOVE_MESH_M, LIKELY_FAHRENHEIT_C, SPOT_DEG
from noonshade.core.verdict.finding import Finding
from noonshade.core.verdict.reach import (
    LEAST_CLEARANCE_M,
    LEAST_TO_CLIMBED_M,
    LEAST_TO_WALLS_M,
    distances_to_faces,
    nearest_reachable,
)
from noonshade.core.verdict.seasonal import days_at
from noonshade.core.verdict.shelter import covered
from noonshade.core.verdict.trial import Add, Change, Remove, Step, Trial, with_fixture

# Cork bark, of which hides and ledges that are proposed are made. ISO 10456 for cork; optics estimate.
CORK = SolidMaterial(
    "cork", "Cork bark", 0.05, 150.0, 1560.0, 0.75, 0.0, 0.92, 0.03, "ISO 10456 for cork; optics estimate"
)
# Leaves as the catalogue has them: estimate.
FOLIAGE = SolidMaterial(
    "foliage", "Foliage", 0.10, 200.0, 3000.0, 0.5, 0.0, 0.95, 0.03, "estimate: living leaves"
)
VENT_M2 = 0.004
CLEAR_M = 0.01


def repairs_for(evaluation: Evaluation, finding: Finding, lamps: tuple[Lamp, ...]) -> Iterator[Trial]:
    """What may be tried for a finding, the smallest change first."""
    plan = evaluation.plan
    maker = _OF_KIND.get(finding.kind)
    if maker is not None:
        yield from maker(evaluation, finding)
    elif finding.kind == "spot":
        yield from _floods(plan, finding, lamps)
    elif finding.kind == "patch":
        yield from _wider(evaluation, lamps)
    elif finding.kind == "below-290":
        yield from _other_uv(plan, finding, lamps)


def _fixture(plan: Plan, finding: Finding) -> Fixture:
    return next(f for f in plan.fixtures if f.id == finding.about_id)


def _put(
    plan: Plan, fixture: Fixture, words: Phrase, changes: Mapping[str, float | str | bool | None]
) -> Trial:
    """A trial that changes attributes of one fixture; positions by ``position_m.x_m`` and the like."""
    position = dict(zip(("x_m", "y_m", "z_m"), fixture.position_m, strict=True))
    values: dict[str, object] = {}
    for key, value in changes.items():
        if key.startswith("position_m."):
            position[key.removeprefix("position_m.")] = float(value)  # type: ignore[arg-type]
        else:
            values[key] = value
    values["position_m"] = (position["x_m"], position["y_m"], position["z_m"])
    steps = tuple(Change("fixture", fixture.id, key, value) for key, value in changes.items())
    return Trial(with_fixture(plan, replace(fixture, **values)), words, steps)  # type: ignore[arg-type]


# -- lamps and heaters ---------------------------------------------------------------------------------


def _guard(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    fixture = _fixture(evaluation.plan, finding)
    words = (f"Put a guard around {fixture.label}",)
    yield _put(evaluation.plan, fixture, words, {"guard": True})


def _clear(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    """Farther from what it is too close to: higher, or from the wall; else a guard."""
    plan = evaluation.plan
    fixture = _fixture(plan, finding)
    if finding.kind == "mesh-held":
        z = round(plan.box.height_m + LEAST_ABOVE_MESH_M + CLEAR_M, 3)
        yield _put(plan, fixture, _lifted(fixture, z), {"position_m.z_m": z})
        return
    if finding.kind == "clearance":
        gap, _ = nearest_reachable(plan, fixture)
        z = round(fixture.position_m[2] + LEAST_CLEARANCE_M - gap + CLEAR_M, 3)
        if z <= plan.box.height_m - 0.02:
            yield _put(plan, fixture, _lifted(fixture, z), {"position_m.z_m": z})
        yield from _guard(evaluation, finding)
        return
    least = LEAST_TO_CLIMBED_M if finding.kind == "climbed" else LEAST_TO_WALLS_M
    x, y, _ = fixture.position_m
    steps: dict[str, float | str | bool | None] = {}
    names = []
    for face, distance in distances_to_faces(plan, fixture).items():
        by = least + CLEAR_M - distance
        if by <= CLEAR_M or face == "top":
            continue
        names.append(face)
        sign = 1.0 if face in ("left", "front") else -1.0
        if face in ("left", "right"):
            steps["position_m.x_m"] = round(x + sign * by, 3)
        else:
            steps["position_m.y_m"] = round(y + sign * by, 3)
    if steps:
        walls = f"the {' and the '.join(names)} wall{'s' * (len(names) > 1)}"
        words: Phrase = (f"Move {fixture.label} ", Measure(least + CLEAR_M, "m"), f" away from {walls}")
        yield _put(plan, fixture, words, steps)
    if finding.kind == "climbed":
        yield from _guard(evaluation, finding)


def _lifted(fixture: Fixture, z_m: float) -> Phrase:
    by = z_m - fixture.position_m[2]
    return (
        f"Raise {fixture.label} by ",
        Measure(by, "m"),
        " to ",
        Measure(z_m, "m"),
        " above the box floor",
    )


def _removed(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    if finding.kind == "heat-avoided":
        gone = [f for f in plan.fixtures if f.lamp.is_hot or f.lamp.kind == "mat"]
    elif finding.kind == "uv-avoided":
        gone = [f for f in plan.fixtures if f.lamp.uv is not None]
    else:
        gone = [_fixture(plan, finding)]
    kept = tuple(f for f in plan.fixtures if f not in gone)
    names = " and ".join(f.label for f in gone)
    yield Trial(
        replace(plan, fixtures=kept),
        (f"Take {names} out",),
        tuple(Remove("fixture", f.id) for f in reversed(gone)),
    )


def _mat_elsewhere(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    """A mat from under the floor to the side wall of the warm end, where digging leads away from it."""
    plan = evaluation.plan
    fixture = _fixture(plan, finding)
    for side in (warm_side(plan), "back"):
        wall = plan.box.walls[side]  # type: ignore[index]
        if wall.material is None:
            continue
        x = {"left": 0.0, "right": plan.box.length_m}.get(side, fixture.position_m[0])
        y = plan.box.depth_m if side == "back" else plan.box.depth_m / 2
        z = round(plan.substrate.depth_m + 0.5 * (plan.box.height_m - plan.substrate.depth_m), 3)
        yield _put(
            plan,
            fixture,
            (f"Fix {fixture.label} to the outside of the {side} wall",),
            {
                "mount": side,
                "position_m.x_m": round(x, 3),
                "position_m.y_m": round(y, 3),
                "position_m.z_m": z,
            },
        )
    yield from _removed(evaluation, finding)


def _new_lamp(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    fixture = _fixture(evaluation.plan, finding)
    words = (f"Put a new lamp into {fixture.label}",)
    yield _put(evaluation.plan, fixture, words, {"hours": REFERENCE_H})


def _by_day(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    fixture = _fixture(evaluation.plan, finding)
    words = (f"Let the timer light {fixture.label} by day only",)
    yield _put(evaluation.plan, fixture, words, {"lit": "day"})


def _beside_water(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    fixture = _fixture(plan, finding)
    for item in plan.furnishings:
        if not isinstance(item, Water):
            continue
        for x in (item.x_m - item.length_m / 2 - 0.05, item.x_m + item.length_m / 2 + 0.05):
            if 0.05 <= x <= plan.box.length_m - 0.05:
                words = (f"Move {fixture.label} to the side of {item.label}",)
                yield _put(plan, fixture, words, {"position_m.x_m": round(x, 3)})


def _floods(plan: Plan, finding: Finding, lamps: tuple[Lamp, ...]) -> Iterator[Trial]:
    fixture = _fixture(plan, finding)
    for other in lamps:
        g = other.geometry
        if other.kind != fixture.lamp.kind or not isinstance(g, BeamSource) or g.fwhm_deg < SPOT_DEG:
            continue
        if not other.power_min_w <= fixture.power_w <= other.power_max_w:
            continue
        words = (f"Use a {other.label} instead of {fixture.label}",)
        yield Trial(
            with_fixture(plan, replace(fixture, lamp=other)),
            words,
            (Change("fixture", fixture.id, "lamp_id", other.id),),
        )


def _wider(evaluation: Evaluation, lamps: tuple[Lamp, ...]) -> Iterator[Trial]:
    """A wider beam, with more watts if need be; two floods; or a larger slab that spreads the heat."""
    plan, slab = evaluation.plan, evaluation.plan.basking_slab
    hot = [f for f in plan.fixtures if f.lamp.is_hot and f.lit_at("day")]
    for fixture in hot:
        yield from _two_floods(plan, fixture, lamps)
        now = fixture.lamp.geometry
        if not isinstance(now, BeamSource):
            continue
        for other in lamps:
            g = other.geometry
            if (
                other.kind != fixture.lamp.kind
                or not isinstance(g, BeamSource)
                or g.fwhm_deg <= now.fwhm_deg
            ):
                continue
            fitting = [w for w in sorted(other.power_choices_w) if w >= fixture.power_w]
            for watts in fitting[:3]:
                words = (f"Use a {other.label} of {watts:.0f} W instead of {fixture.label}",)
                yield Trial(
                    with_fixture(plan, replace(fixture, lamp=other, power_w=watts)),
                    words,
                    (
                        Change("fixture", fixture.id, "lamp_id", other.id),
                        Change("fixture", fixture.id, "power_w", watts),
                    ),
                )
        for watts in [w for w in sorted(fixture.lamp.power_choices_w) if w > fixture.power_w][:2]:
            for up in (0.0, 0.08, 0.15):
                z = round(min(fixture.position_m[2] + up, plan.box.height_m - 0.03), 3)
                if fixture.position_m[2] > plan.box.height_m or (up > 0 and z <= fixture.position_m[2]):
                    continue
                lifted: Phrase = (" and hang it at ", Measure(z, "m")) if up > 0 else ()
                yield _put(
                    plan,
                    fixture,
                    (f"Fit {watts:.0f} W in {fixture.label}", *lifted),
                    {"power_w": watts, "position_m.z_m": z},
                )
    if slab is not None:
        side = max(slab.length_m, slab.width_m, 1.3 * plan.animal.body_length_m)
        larger = replace(slab, length_m=round(side, 3), width_m=round(side, 3))
        yield Trial(
            _with_item(plan, slab, larger),
            (f"Make {slab.label} ", Measure(side, "m"), " square"),
            (
                Change("furnishing", slab.id, "length_m", larger.length_m),
                Change("furnishing", slab.id, "width_m", larger.width_m),
            ),
        )


def _two_floods(plan: Plan, fixture: Fixture, lamps: tuple[Lamp, ...]) -> Iterator[Trial]:
    """Two floods side by side over the length of the animal in place of one lamp."""
    taken = {f.id for f in plan.fixtures}
    name = next(f"{fixture.id}-{n}" for n in range(2, 99) if f"{fixture.id}-{n}" not in taken)[:64]
    x, y, z = fixture.position_m
    apart = min(max(0.55 * plan.animal.body_length_m, 0.08), 0.3)
    if not 0.05 <= x - apart / 2 <= x + apart / 2 <= plan.box.length_m - 0.05:
        return
    floods = [
        lamp
        for lamp in lamps
        if lamp.kind == fixture.lamp.kind
        and isinstance(lamp.geometry, BeamSource)
        and lamp.geometry.fwhm_deg >= SPOT_DEG
    ]
    for lamp in floods:
        fitting = [w for w in sorted(lamp.power_choices_w) if w >= 0.45 * fixture.power_w]
        for watts in fitting[:4]:
            first = replace(fixture, lamp=lamp, power_w=watts, position_m=(round(x - apart / 2, 3), y, z))
            second = replace(
                first,
                id=name,
                label=f"Second {fixture.label[0].lower()}{fixture.label[1:]}"[:80],
                position_m=(round(x + apart / 2, 3), y, z),
            )
            put = with_fixture(plan, first)
            yield Trial(
                replace(put, fixtures=(*put.fixtures, second)),
                (
                    f"Hang two of {lamp.label}, {watts:.0f} W each, ",
                    Measure(apart, "m"),
                    f" apart instead of {fixture.label}",
                ),
                (
                    Change("fixture", fixture.id, "lamp_id", lamp.id),
                    Change("fixture", fixture.id, "power_w", watts),
                    Change("fixture", fixture.id, "position_m.x_m", first.position_m[0]),
                    Add("fixture", second),
                ),
            )


def _other_uv(plan: Plan, finding: Finding, lamps: tuple[Lamp, ...]) -> Iterator[Trial]:
    fixture = _fixture(plan, finding)
    for other in lamps:
        if other.uv is None or other.unlike_sunlight or other.kind != fixture.lamp.kind:
            continue
        yield Trial(
            with_fixture(plan, replace(fixture, lamp=other, power_w=other.power_w, hours=REFERENCE_H)),
            (f"Use a {other.label} instead of {fixture.label}",),
            (
                Change("fixture", fixture.id, "lamp_id", other.id),
                Change("fixture", fixture.id, "power_w", other.power_w),
                Change("fixture", fixture.id, "hours", REFERENCE_H),
            ),
        )


def _weaker_uv(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    """Raise UV lamps until nothing the animal can reach is too strong."""
    plan = evaluation.plan
    for fixture in plan.fixtures:
        if fixture.lamp.uv is None:
            continue
        inside = fixture.position_m[2] <= plan.box.height_m
        top = plan.box.height_m - 0.02 if inside else plan.box.height_m + 0.5
        for share in (0.35, 0.7, 1.0):
            z = round(fixture.position_m[2] + share * (top - fixture.position_m[2]), 3)
            if z > fixture.position_m[2] + 0.01:
                yield _put(plan, fixture, _lifted(fixture, z), {"position_m.z_m": z})


def _over_basking(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    plan, slab = evaluation.plan, evaluation.plan.basking_slab
    if slab is None:
        return
    for fixture in plan.fixtures:
        if fixture.lamp.uv is None:
            continue
        g = fixture.lamp.geometry
        half = g.length_m / 2 if isinstance(g, LineSource) else 0.05
        x = round(min(max(slab.x_m, half + 0.01), plan.box.length_m - half - 0.01), 3)
        y = round(slab.y_m, 3)
        words = (f"Move {fixture.label} over {slab.label}",)
        yield _put(plan, fixture, words, {"position_m.x_m": x, "position_m.y_m": y})
        yield _put(plan, fixture, words, {"position_m.x_m": x})


# -- thermostats ---------------------------------------------------------------------------------------


def _pairing(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    fixture = _fixture(plan, finding)
    governed = [f for f in plan.fixtures if f.thermostat_id == fixture.thermostat_id]
    own = next(t for t in plan.thermostats if t.id == fixture.thermostat_id)
    for kind in fixture.lamp.controls:
        if all(kind in f.lamp.controls for f in governed):
            changed = replace(own, kind=kind)
            words = (f"Use a thermostat that {_KIND_WORDS[kind]} as {own.label}",)
            yield Trial(
                _with_thermostat(plan, changed), words, (Change("thermostat", own.id, "kind", kind),)
            )
    yield _put(plan, fixture, (f"Put {fixture.label} on a timer only",), {"thermostat_id": None})


_KIND_WORDS = {"on_off": "switches on and off", "dimming": "dims", "pulse": "pulses"}


def _controlled(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    """A thermostat for a heater that has none: its probe where the heat goes, set to what it is now."""
    plan = evaluation.plan
    fixture = _fixture(plan, finding)
    kind = fixture.lamp.controls[-1]
    ids = {t.id for t in plan.thermostats}
    number = next(n for n in range(1, 99) if f"thermostat-{n}" not in ids)
    probe = _beside(plan, fixture)
    warm = next(
        (n for n in plan.animal.needs if n.place == "warm_end" and n.quantity == "air_temperature"), None
    )
    low, high = (warm.low, warm.high) if warm is not None else (24.0, 30.0)
    wanted = 0.5 * ((low or 24.0) + (high or 30.0)) + (2.0 if fixture.mount != "air" else 0.0)
    at_night = wanted if fixture.lit_at("night") else None
    made = Thermostat(
        f"thermostat-{number}",
        f"Thermostat for {fixture.label}"[:80],
        kind,
        round(wanted, 1),
        None if at_night is None else round(at_night, 1),
        1.0,
        probe,
    )
    reading = _reading(evaluation, plan, fixture, made)
    points = [round(reading, 1)] if reading is not None else []
    for point in dict.fromkeys([*points, made.day_set_point_c]):
        set_to = replace(made, day_set_point_c=point, night_set_point_c=point if at_night else None)
        bound = replace(fixture, thermostat_id=made.id)
        words: Phrase = (
            f"Give {fixture.label} a thermostat that {_KIND_WORDS[kind]}, set to ",
            Measure(point or 0.0, "°C"),
        )
        yield Trial(
            replace(with_fixture(plan, bound), thermostats=(*plan.thermostats, set_to)),
            words,
            (Add("thermostat", set_to), Change("fixture", fixture.id, "thermostat_id", made.id)),
        )


def _beside(plan: Plan, fixture: Fixture) -> Point:
    """Where a probe feels a heater's warmth and not its beam: on the ground over a mat, else beside it."""
    box, ground = plan.box, plan.substrate.depth_m
    x, y, _ = fixture.position_m
    if fixture.mount == "floor":
        return (round(x, 3), round(y, 3), round(ground + 0.005, 3))
    aside = 0.3 if x < box.length_m / 2 else -0.3
    x = min(max(x + aside, 0.05), box.length_m - 0.05)
    z = min(ground + 0.15, box.height_m - 0.05)
    return (round(x, 3), round(box.depth_m - 0.05, 3), round(z, 3))


def _reading(evaluation: Evaluation, plan: Plan, fixture: Fixture, thermostat: Thermostat) -> float | None:
    """What a thermostat's probe reads with the heater at the mean power it has now, °C."""
    share = evaluation.day.power_fraction.get(fixture.id, 1.0)
    watts = fixture.power_w * share
    if not fixture.lamp.power_min_w <= watts <= fixture.lamp.power_max_w:
        return None
    always = replace(thermostat, day_set_point_c=60.0, kind=thermostat.kind)
    others = tuple(t for t in plan.thermostats if t.id != thermostat.id)
    held = replace(fixture, power_w=watts, thermostat_id=thermostat.id)
    trial = replace(with_fixture(plan, held), thermostats=(*others, always))
    if plan_errors(trial):
        return None
    try:
        states = evaluate(trial).day.thermostats
    except ConvergenceError:
        return None
    return next((s.probe_c for s in states if s.thermostat.id == thermostat.id), None)


def _probe_moved(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    """The probe to where it feels the warmth it governs, set to what it reads there now."""
    plan = evaluation.plan
    own = next(t for t in plan.thermostats if t.id == finding.about_id)
    fixture = next(f for f in plan.fixtures if f.thermostat_id == own.id)
    place = _beside(plan, fixture)
    moved = replace(own, probe_m=place)
    reading = _reading(evaluation, plan, fixture, moved)
    points = [own.day_set_point_c]
    if reading is not None:
        points = [round(reading * 2) / 2, *(round(reading * 2) / 2 - k for k in (1.5, 3.0, 5.0))]
    for point in points:
        if point is None:
            continue
        changed = replace(moved, day_set_point_c=point)
        steps: tuple[Step, ...] = tuple(
            Change("thermostat", own.id, f"probe_m.{axis}", value)
            for axis, value in zip(("x_m", "y_m", "z_m"), place, strict=True)
        )
        beside: Phrase = (
            (f" on to the ground over {fixture.label}",)
            if fixture.mount == "floor"
            else (
                " to ",
                Measure(abs(place[0] - fixture.position_m[0]), "m"),
                f" beside {fixture.label}, out of the beam",
            )
        )
        words: Phrase = (
            f"Move the probe of {own.label}",
            *beside,
            " and set it to ",
            Measure(point, "°C"),
        )
        steps = (*steps, Change("thermostat", own.id, "day_set_point_c", point))
        yield Trial(_with_thermostat(plan, changed), words, steps)


def _celsius(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    own = next(t for t in plan.thermostats if t.id == finding.about_id)
    steps: list[Step] = []
    changed = own
    for name in ("day_set_point_c", "night_set_point_c"):
        value = getattr(own, name)
        if value is not None and value > LIKELY_FAHRENHEIT_C:
            meant = round((value - 32.0) / 1.8, 1)
            changed = replace(changed, **{name: meant})
            steps.append(Change("thermostat", own.id, name, meant))
    words: Phrase = (f"Set {own.label} to ", Measure(changed.day_set_point_c or 0.0, "°C"))
    yield Trial(_with_thermostat(plan, changed), words, tuple(steps))


def _idle(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    kept = tuple(t for t in plan.thermostats if t.id != finding.about_id)
    gone = next(t for t in plan.thermostats if t.id == finding.about_id)
    yield Trial(
        replace(plan, thermostats=kept), (f"Take {gone.label} out",), (Remove("thermostat", gone.id),)
    )


def _with_thermostat(plan: Plan, changed: Thermostat) -> Plan:
    return replace(plan, thermostats=tuple(changed if t.id == changed.id else t for t in plan.thermostats))


# -- shelter and space -----------------------------------------------------------------------------------


def _with_item(plan: Plan, old: Slab | Hide, new: Slab | Hide) -> Plan:
    return replace(plan, furnishings=tuple(new if f is old else f for f in plan.furnishings))


def _unused(plan: Plan, prefix: str) -> str:
    taken = {f.id for f in plan.furnishings}
    return next(f"{prefix}-{n}" for n in range(1, 99) if f"{prefix}-{n}" not in taken)


def _free_places(
    plan: Plan, length: float, width: float, left: float, right: float
) -> Iterator[tuple[float, float]]:
    """Middles of places on the ground of a stretch where nothing stands, the ends of the box first."""
    box = plan.box
    taken = [
        (f.x_m - f.length_m / 2, f.x_m + f.length_m / 2, f.y_m - f.width_m / 2, f.y_m + f.width_m / 2)
        for f in plan.furnishings
        if isinstance(f, Hide | Water) or (isinstance(f, Slab) and f.underside_m < 0.25)
    ]
    xs = [left + length / 2 + i * 0.01 for i in range(500) if left + length + i * 0.01 <= right + 1e-9]
    xs.sort(key=lambda x: -abs(x - box.length_m / 2))
    for x in xs:
        for y in (box.depth_m - width / 2 - 0.04, box.depth_m / 2, width / 2 + 0.04):
            spot = (x - length / 2, x + length / 2, y - width / 2, y + width / 2)
            if spot[2] < 0 or spot[3] > box.depth_m:
                continue
            if not any(a < spot[1] and b > spot[0] and c < spot[3] and d > spot[2] for a, b, c, d in taken):
                yield round(x, 3), round(y, 3)


def _hide_at(plan: Plan, left: float, right: float, label: str) -> Iterator[Trial]:
    """A hide on a stretch of ground, as roomy as there is place for."""
    species, body = plan.animal.species, plan.animal.body_length_m
    high = max(1.6 * plan.animal.back_height_m, 0.05)
    height = min(high + 0.02, plan.box.height_m - plan.substrate.depth_m - 0.06)
    if height < plan.animal.back_height_m + 0.015:
        return
    inward = "right" if left < 0.1 * plan.box.length_m else "left"
    for roomy in (1.3, 1.15, 1.02):
        length = min(max(0.12, (0.3 if species.group == "snake" else roomy) * body), 0.45)
        width = min(length, 0.8 * plan.box.depth_m)
        door = min(max(0.35 * length, 0.05), 0.8 * width)
        place = next(_free_places(plan, length, width, left, right), None)
        if place is None:
            continue
        made = Hide(
            _unused(plan, "hide"),
            label,
            *place,
            round(length, 3),
            round(width, 3),
            round(height, 3),
            0.01,
            inward,  # type: ignore[arg-type]
            round(door, 3),
            round(min(high, height - 0.012), 3),
            CORK,
        )
        words: Phrase = (f"Add a {label.lower()} ", Measure(place[0], "m"), " from the left")
        yield Trial(replace(plan, furnishings=(*plan.furnishings, made)), words, (Add("furnishing", made),))
        return


def _new_hide(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    middle = plan.box.length_m / 2
    end = finding.id.partition(":")[2]
    left = (warm_side(plan) == "left") == (end == "warm")
    span = (0.02, middle - 0.02) if left else (middle + 0.02, plan.box.length_m - 0.02)
    yield from _hide_at(plan, *span, f"{end.capitalize()} hide")


def _more_hides(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    yield from _alone(evaluation, finding)
    yield from _hide_at(plan, 0.02, plan.box.length_m - 0.02, "Spare hide")


def _leaves(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    """A block of leaves to vanish into, away from the lamps, or a hide."""
    plan = evaluation.plan
    yield from _leaf_blocks(plan)
    yield from _hide_at(plan, 0.02, plan.box.length_m - 0.02, "Hide")


def _leaf_blocks(plan: Plan) -> Iterator[Trial]:
    box, body = plan.box, plan.animal.body_length_m
    size = min(max(2.0 * body, 0.18), 0.5 * box.length_m, 0.7 * box.depth_m)
    tall = min(max(2.0 * body, 0.15), 0.5 * (box.height_m - plan.substrate.depth_m))
    left = warm_side(plan) == "left"
    for share in (0.45, 0.3, 0.6):
        under = round(share * (box.height_m - plan.substrate.depth_m) - tall / 2, 3)
        x = box.length_m - size / 2 - 0.02 if left else size / 2 + 0.02
        made = Leaves(
            _unused(plan, "leaves"),
            "Leaves",
            round(x, 3),
            round(box.depth_m - size / 2 - 0.02, 3),
            round(size, 3),
            round(size, 3),
            round(tall, 3),
            max(under, 0.02),
            0.1,
            FOLIAGE,
        )
        words: Phrase = ("Add a dense block of leaves ", Measure(size, "m"), " wide at the cool end")
        yield Trial(replace(plan, furnishings=(*plan.furnishings, made)), words, (Add("furnishing", made),))


def somewhere_dark(plan: Plan) -> Iterator[Trial]:
    """A hide at the cool end, or leaves for an animal that climbs."""
    middle = plan.box.length_m / 2
    left = warm_side(plan) == "right"
    span = (0.02, middle - 0.02) if left else (middle + 0.02, plan.box.length_m - 0.02)
    yield from _hide_at(plan, *span, "Cool hide")
    if plan.animal.climbs:
        yield from _leaf_blocks(plan)


def _path(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    """A low branch over the bare stretch."""
    plan = evaluation.plan
    spans = covered(plan)
    gaps = [(b[0] - a[1], a[1], b[0]) for a, b in itertools.pairwise(spans)]
    _gap, begin, end = max(gaps)
    z = plan.substrate.depth_m + 1.5 * plan.animal.back_height_m + 0.03
    y = 0.75 * plan.box.depth_m
    made = Branch(
        _unused(plan, "branch"),
        "Low branch",
        (round(begin, 3), round(y, 3), round(z, 3)),
        (round(end, 3), round(y, 3), round(z, 3)),
        0.05,
        CORK,
    )
    words = ("Lay a thick branch over the bare stretch",)
    yield Trial(replace(plan, furnishings=(*plan.furnishings, made)), words, (Add("furnishing", made),))


def _opening(evaluation: Evaluation, finding: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    hide = next(h for h in plan.hides if h.id == finding.about_id)
    side = hide.width_m if hide.opening in ("left", "right") else hide.length_m
    wide = round(min(max(hide.opening_width_m, 0.3 * plan.animal.body_length_m, 0.05), 0.9 * side), 3)
    room = hide.height_m - hide.wall_m
    high = round(min(max(hide.opening_height_m, 1.3 * plan.animal.back_height_m), room), 3)
    larger = replace(hide, opening_width_m=wide, opening_height_m=high)
    yield Trial(
        _with_item(plan, hide, larger),
        (f"Cut the opening of {hide.label} to ", Measure(wide, "m"), " by ", Measure(high, "m")),
        (
            Change("furnishing", hide.id, "opening_width_m", wide),
            Change("furnishing", hide.id, "opening_height_m", high),
        ),
    )


def _larger_box(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    want, box = plan.animal.species.box, plan.box
    made = replace(
        box,
        length_m=max(box.length_m, want.length_m),
        depth_m=max(box.depth_m, want.depth_m),
        height_m=max(box.height_m, want.height_m),
    )
    words: Phrase = (
        "Build the box ",
        Measure(made.length_m, "m"),
        " long, ",
        Measure(made.depth_m, "m"),
        " deep and ",
        Measure(made.height_m, "m"),
        " high",
    )
    steps = tuple(Change("box", "", n, getattr(made, n)) for n in ("length_m", "depth_m", "height_m"))
    yield Trial(replace(plan, box=made), words, steps)


def _alone(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    yield Trial(
        replace(plan, animal=replace(plan.animal, count=1)),
        ("Keep one animal in this box",),
        (Change("animal", "", "count", 1),),
    )


def _vented(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    """Two vents, low at the cool end and high at the warm one, or one more pair."""
    plan = evaluation.plan
    left = warm_side(plan) == "left"
    low = Vent("right" if left else "left", plan.box.length_m if left else 0.0, 0.0, VENT_M2)
    low = replace(low, z_m=round(plan.substrate.depth_m + 0.06, 3))
    high = Vent("left" if left else "right", 0.0 if left else plan.box.length_m, 0.0, VENT_M2)
    high = replace(high, z_m=round(plan.box.height_m - 0.06, 3))
    box = replace(plan.box, vents=(*plan.box.vents, low, high))
    words: Phrase = ("Cut a vent low at the cool end and one high at the warm end",)
    yield Trial(replace(plan, box=box), words, (Add("vent", low), Add("vent", high)))


# -- season ------------------------------------------------------------------------------------------------


def _cooler_summer(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    summer = plan.room.summer
    if summer is None:
        return
    target = round(plan.animal.species.highest_safe_c - 3.0, 1)
    cool = replace(summer, day_temperature_c=min(target, summer.day_temperature_c))
    cool = replace(cool, night_temperature_c=min(cool.night_temperature_c, target))
    yield Trial(
        replace(plan, room=replace(plan.room, summer=cool)),
        ("Keep the room at ", Measure(target, "°C"), " at most in summer"),
        (
            Change("room", "", "summer.day_temperature_c", cool.day_temperature_c),
            Change("room", "", "summer.night_temperature_c", cool.night_temperature_c),
        ),
    )


def _day_length(evaluation: Evaluation, _: Finding) -> Iterator[Trial]:
    plan = evaluation.plan
    shortest, longest = days_at(plan.animal.species.home.latitude_deg)
    hours = round(min(max(plan.photoperiod_h, shortest), longest) * 4) / 4
    yield Trial(
        replace(plan, photoperiod_h=hours),
        (f"Make the day {hours:g} h long",),
        (Change("plan", "", "photoperiod_h", hours),),
    )


_Maker = Callable[[Evaluation, Finding], Iterator[Trial]]
_OF_KIND: dict[str, _Maker] = {
    "pairing": _pairing,
    "uncontrolled": _controlled,
    "clearance": _clear,
    "climbed": _clear,
    "mesh-held": _clear,
    "fire": _clear,
    "fitting": _guard,
    "mat-digger": _mat_elsewhere,
    "mat-touch": _controlled,
    "old": _new_lamp,
    "night-light": _by_day,
    "light-avoided": _removed,
    "uv-avoided": _removed,
    "heat-avoided": _removed,
    "over-water": _beside_water,
    "probe-beam": _probe_moved,
    "probe-far": _probe_moved,
    "unit": _celsius,
    "idle": _idle,
    "no-hide": _new_hide,
    "no-cover": _leaves,
    "opening": _opening,
    "bare": _path,
    "apart": _over_basking,
    "gradient": _vented,
    "glare": _weaker_uv,
    "box-small": _larger_box,
    "company": _more_hides,
    "summer-hot": _cooler_summer,
    "day-length": _day_length,
    "stale": _vented,
}
