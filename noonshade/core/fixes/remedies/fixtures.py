"""Repairs of lamps and heaters."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.assessment.equipment import LEAST_ABOVE_MESH_M, SPOT_DEG
from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.reach import (
    LEAST_CLEARANCE_M,
    LEAST_TO_CLIMBED_M,
    LEAST_TO_WALLS_M,
    distances_to_faces,
    nearest_reachable,
)
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Add, Candidate, Change, Remove, with_fixture
from noonshade.core.fixes.remedies.edits import fixture_of, lifted, moved, with_item
from noonshade.core.light.ageing import REFERENCE_H
from noonshade.core.phrase import Measure, Phrase, named, uncapitalized
from noonshade.core.places import warm_side
from noonshade.core.plan import (
    BeamSource,
    Fixture,
    Lamp,
    LineSource,
    Plan,
    Water,
)

# A lamp is hung this much further off than it must be, m. Estimate: how well one measures.
CLEAR_M = 0.01
# A lamp is moved by this much or not at all, m. Estimate.
WORTH_MOVING_M = 0.03


def guard(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A cage around the lamp."""
    fixture = fixture_of(evaluation.plan, finding)
    words = (f"Put a guard around {named(fixture.label)}",)
    yield moved(evaluation.plan, fixture, words, {"guard": True})


def clear(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """Farther from what it is too close to: higher, or from the wall; else a guard."""
    plan = evaluation.plan
    fixture = fixture_of(plan, finding)
    if finding.kind == "mesh-clamped":
        z = round(plan.enclosure.height_m + LEAST_ABOVE_MESH_M + CLEAR_M, 3)
        yield moved(plan, fixture, lifted(fixture, z), {"position_m.z_m": z})
        return
    if finding.kind == "clearance":
        gap, _ = nearest_reachable(plan, fixture)
        z = round(fixture.position_m[2] + LEAST_CLEARANCE_M - gap + CLEAR_M, 3)
        if z <= plan.enclosure.height_m - 0.02:
            yield moved(plan, fixture, lifted(fixture, z), {"position_m.z_m": z})
        yield from guard(evaluation, finding)
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
        words: Phrase = (f"Hang {named(fixture.label)} ", Measure(least + CLEAR_M, "m"), f" from {walls}")
        yield moved(plan, fixture, words, steps)
    if finding.kind == "climbed":
        yield from guard(evaluation, finding)


def removed(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """Lamps, heaters or whatever is meant, taken out."""
    plan = evaluation.plan
    if finding.kind == "heat-avoided":
        gone = [f for f in plan.fixtures if f.lamp.is_hot or f.lamp.kind == "mat"]
    elif finding.kind == "uv-avoided":
        gone = [f for f in plan.fixtures if f.lamp.uv is not None]
    else:
        gone = [fixture_of(plan, finding)]
    kept = tuple(f for f in plan.fixtures if f not in gone)
    names = " and ".join(f.label for f in gone)
    yield Candidate(
        replace(plan, fixtures=kept),
        (f"Take {names} out",),
        tuple(Remove("fixture", f.id) for f in reversed(gone)),
    )


def mat_elsewhere(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A mat from under the floor to the side wall of the warm end, where digging leads away from it."""
    plan = evaluation.plan
    fixture = fixture_of(plan, finding)
    for side in (warm_side(plan), "back"):
        wall = plan.enclosure.walls[side]
        if wall.material is None:
            continue
        x = {"left": 0.0, "right": plan.enclosure.length_m}.get(side, fixture.position_m[0])
        y = plan.enclosure.depth_m if side == "back" else plan.enclosure.depth_m / 2
        z = round(plan.substrate.depth_m + 0.5 * (plan.enclosure.height_m - plan.substrate.depth_m), 3)
        yield moved(
            plan,
            fixture,
            (f"Fix {named(fixture.label)} to the outside of the {side} wall",),
            {
                "mount": side,
                "position_m.x_m": round(x, 3),
                "position_m.y_m": round(y, 3),
                "position_m.z_m": z,
            },
        )
    yield from removed(evaluation, finding)


def new_lamp(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A new lamp in the same fitting."""
    fixture = fixture_of(evaluation.plan, finding)
    words = (f"Put a new lamp into {named(fixture.label)}",)
    yield moved(evaluation.plan, fixture, words, {"hours": REFERENCE_H})


def by_day(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """Lit by day only."""
    fixture = fixture_of(evaluation.plan, finding)
    words = (f"Let the timer light {named(fixture.label)} by day only",)
    yield moved(evaluation.plan, fixture, words, {"lit": "day"})


def beside_water(evaluation: Evaluation, finding: Finding) -> Iterator[Candidate]:
    """A lamp beside the water and not over it."""
    plan = evaluation.plan
    fixture = fixture_of(plan, finding)
    for item in plan.furnishings:
        if not isinstance(item, Water):
            continue
        for x in (item.x_m - item.length_m / 2 - 0.05, item.x_m + item.length_m / 2 + 0.05):
            if 0.05 <= x <= plan.enclosure.length_m - 0.05:
                words = (f"Move {named(fixture.label)} to the side of {named(item.label)}",)
                yield moved(plan, fixture, words, {"position_m.x_m": round(x, 3)})


def floods(plan: Plan, finding: Finding, lamps: tuple[Lamp, ...]) -> Iterator[Candidate]:
    """Floods in place of a spot."""
    fixture = fixture_of(plan, finding)
    for other in lamps:
        g = other.geometry
        if other.kind != fixture.lamp.kind or not isinstance(g, BeamSource) or g.fwhm_deg < SPOT_DEG:
            continue
        if not other.power_min_w <= fixture.power_w <= other.power_max_w:
            continue
        words = (f"Use a {other.label} instead of {named(fixture.label)}",)
        yield Candidate(
            with_fixture(plan, replace(fixture, lamp=other)),
            words,
            (Change("fixture", fixture.id, "lamp_id", other.id),),
        )


def wider(evaluation: Evaluation, lamps: tuple[Lamp, ...]) -> Iterator[Candidate]:
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
                words = (f"Use a {other.label} of {watts:.0f} W instead of {named(fixture.label)}",)
                yield Candidate(
                    with_fixture(plan, replace(fixture, lamp=other, power_w=watts)),
                    words,
                    (
                        Change("fixture", fixture.id, "lamp_id", other.id),
                        Change("fixture", fixture.id, "power_w", watts),
                    ),
                )
        for watts in [w for w in sorted(fixture.lamp.power_choices_w) if w > fixture.power_w][:2]:
            for up in (0.0, 0.08, 0.15):
                z = round(min(fixture.position_m[2] + up, plan.enclosure.height_m - 0.03), 3)
                if fixture.position_m[2] > plan.enclosure.height_m or (
                    up > 0 and z <= fixture.position_m[2]
                ):
                    continue
                lifted: Phrase = (" and hang it at ", Measure(z, "m")) if up > 0 else ()
                yield moved(
                    plan,
                    fixture,
                    (f"Fit {watts:.0f} W in {named(fixture.label)}", *lifted),
                    {"power_w": watts, "position_m.z_m": z},
                )
    if slab is not None:
        side = max(slab.length_m, slab.width_m, 1.3 * plan.animal.body_length_m)
        larger = replace(slab, length_m=round(side, 3), width_m=round(side, 3))
        yield Candidate(
            with_item(plan, slab, larger),
            (f"Make {named(slab.label)} ", Measure(side, "m"), " square"),
            (
                Change("furnishing", slab.id, "length_m", larger.length_m),
                Change("furnishing", slab.id, "width_m", larger.width_m),
            ),
        )


def _two_floods(plan: Plan, fixture: Fixture, lamps: tuple[Lamp, ...]) -> Iterator[Candidate]:
    """Two floods side by side over the length of the animal in place of one lamp."""
    taken = {f.id for f in plan.fixtures}
    name = next(f"{fixture.id}-{n}" for n in range(2, 99) if f"{fixture.id}-{n}" not in taken)[:64]
    x, y, z = fixture.position_m
    apart = min(max(0.55 * plan.animal.body_length_m, 0.08), 0.3)
    if not 0.05 <= x - apart / 2 <= x + apart / 2 <= plan.enclosure.length_m - 0.05:
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
                label=f"Second {uncapitalized(fixture.label)}"[:80],
                position_m=(round(x + apart / 2, 3), y, z),
            )
            put = with_fixture(plan, first)
            yield Candidate(
                replace(put, fixtures=(*put.fixtures, second)),
                (
                    f"Hang two of {lamp.label}, {watts:.0f} W each, ",
                    Measure(apart, "m"),
                    f" apart instead of {named(fixture.label)}",
                ),
                (
                    Change("fixture", fixture.id, "lamp_id", lamp.id),
                    Change("fixture", fixture.id, "power_w", watts),
                    Change("fixture", fixture.id, "position_m.x_m", first.position_m[0]),
                    Add("fixture", second),
                ),
            )


def other_uv(plan: Plan, finding: Finding, lamps: tuple[Lamp, ...]) -> Iterator[Candidate]:
    """Another UV lamp of the kind, without what sunlight does not hold."""
    fixture = fixture_of(plan, finding)
    for other in lamps:
        if other.uv is None or other.unlike_sunlight or other.kind != fixture.lamp.kind:
            continue
        yield Candidate(
            with_fixture(plan, replace(fixture, lamp=other, power_w=other.power_w, hours=REFERENCE_H)),
            (f"Use a {other.label} instead of {named(fixture.label)}",),
            (
                Change("fixture", fixture.id, "lamp_id", other.id),
                Change("fixture", fixture.id, "power_w", other.power_w),
                Change("fixture", fixture.id, "hours", REFERENCE_H),
            ),
        )


def weaker_uv(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """Raise UV lamps until nothing the animal can reach is too strong."""
    plan = evaluation.plan
    for fixture in plan.fixtures:
        if fixture.lamp.uv is None:
            continue
        inside = fixture.position_m[2] <= plan.enclosure.height_m
        top = plan.enclosure.height_m - 0.02 if inside else plan.enclosure.height_m + 0.5
        for share in (0.35, 0.7, 1.0):
            z = round(fixture.position_m[2] + share * (top - fixture.position_m[2]), 3)
            if z > fixture.position_m[2] + 0.01:
                yield moved(plan, fixture, lifted(fixture, z), {"position_m.z_m": z})


def over_basking(evaluation: Evaluation, _: Finding) -> Iterator[Candidate]:
    """UV lamps over the basking slab."""
    yield from uv_over_basking(evaluation.plan)


def uv_over_basking(plan: Plan) -> Iterator[Candidate]:
    """UV lamps over the basking slab, in both directions or along the enclosure only."""
    slab = plan.basking_slab
    if slab is None:
        return
    for fixture in plan.fixtures:
        if fixture.lamp.uv is None:
            continue
        g = fixture.lamp.geometry
        half = g.length_m / 2 if isinstance(g, LineSource) else 0.05
        x = round(min(max(slab.x_m, half + 0.01), plan.enclosure.length_m - half - 0.01), 3)
        y = round(slab.y_m, 3)
        by_x, by_y = abs(x - fixture.position_m[0]), abs(y - fixture.position_m[1])
        words = (f"Move {named(fixture.label)} over {named(slab.label)}",)
        if max(by_x, by_y) >= WORTH_MOVING_M:
            yield moved(plan, fixture, words, {"position_m.x_m": x, "position_m.y_m": y})
        if by_x >= WORTH_MOVING_M <= by_y:
            yield moved(plan, fixture, words, {"position_m.x_m": x})
