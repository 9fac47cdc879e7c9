"""Hidden enclosures that differ from their plans, read by simulated instruments: how well a fit does."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from noonshade.core.fixes.candidate import with_fixture
from noonshade.core.plan import Face, Neighbour, Plan, Point, SolidMaterial
from noonshade.core.plan_errors import plan_errors
from noonshade.core.readings import (
    Kind,
    Reading,
    fit_readings,
    fitted_values,
    predict_readings,
    predict_values,
    propose_round,
)
from noonshade.core.readings.reading import needs_place
from noonshade.core.uncertainty.measured import with_measured
from noonshade.core.uncertainty.multipliers import multipliers_of, with_multipliers
from noonshade.core.uncertainty.sensitivity import compute_sensitivity
from noonshade.instruments.meters import drawn_kit
from noonshade.instruments.true_enclosure import TrueEnclosure
from tests.evaluated import evaluate

Floats = NDArray[np.float64]
BOXES = (
    "collared-lizard",
    "panther-chameleon",
    "hermanns-tortoise",
    "gargoyle-gecko",
    "crocodile-lizard",
    "whites-tree-frog",
    "corn-snake",
    "giant-vinegaroon",
)
# Points nearer than this to one that was read do not count, m.
APART_M = 0.06
LEAST_UVI = 0.3


@dataclass(frozen=True)
class Outcome:
    """Errors at points not read, before and after: K and shares of the UV index; what intervals cover."""

    kelvin: tuple[Floats, Floats]
    uvi: tuple[Floats, Floats]
    inside: tuple[NDArray[np.bool_], NDArray[np.bool_]]
    strays: int


# How far an enclosure is from its plan in ways no multiplier describes: standard deviations. Estimates.
DRAUGHT_K = 3.0
ASKEW_DEG = 5.0
MISPLACED_M = 0.015
GROUND = 0.4  # of the logarithm of conductivity


def draughty(plan: Plan, rng: np.random.Generator) -> Plan:
    """One closed side stands colder or warmer than the room."""
    closed: list[Face] = ["back", "left", "right"]
    faces = [
        f
        for f in closed
        if plan.enclosure.walls[f].material is not None and f not in plan.enclosure.neighbours
    ]
    if not faces:
        return plan
    face = faces[int(rng.integers(len(faces)))]
    off, room = float(rng.normal(0.0, DRAUGHT_K)), plan.room
    beside = Neighbour("a draught", room.day_temperature_c + off, room.night_temperature_c + off)
    return replace(
        plan, enclosure=replace(plan.enclosure, neighbours={**plan.enclosure.neighbours, face: beside})
    )


def misplaced(plan: Plan, rng: np.random.Generator) -> Plan:
    """Lamps hang a little askew, and a finger's breadth from where the plan has them."""
    for f in plan.fixtures:
        x, y, z = f.position_m
        if f.against is not None:
            continue
        lean, tilt = (float(v) for v in rng.normal(0.0, ASKEW_DEG, 2))
        dx, dy, dz = (float(v) for v in rng.normal(0.0, MISPLACED_M, 3))
        # What lies on the lid does not sink through it.
        height = z + dz if z < plan.enclosure.height_m else z + abs(dz)
        moved = replace(f, position_m=(x + dx, y + dy, height), tilt_deg=f.tilt_deg + tilt)
        other = with_fixture(plan, replace(moved, lean_deg=f.lean_deg + lean))
        # Not where it would stick out of the enclosure.
        plan = plan if plan_errors(other) else other
    return plan


def other_ground(plan: Plan, rng: np.random.Generator) -> Plan:
    """Ground and slab conduct differently from the catalogue."""

    def other(m: SolidMaterial) -> SolidMaterial:
        return replace(m, conductivity_w_mk=m.conductivity_w_mk * float(np.exp(rng.normal(0.0, GROUND))))

    plan = replace(plan, substrate=replace(plan.substrate, material=other(plan.substrate.material)))
    slab = plan.basking_slab
    if slab is None:
        return plan
    changed = replace(slab, material=other(slab.material))
    return replace(plan, furnishings=tuple(changed if s is slab else s for s in plan.furnishings))


def with_effects(plan: Plan, rng: np.random.Generator) -> Plan:
    """All of them at once, as in a real enclosure."""
    for effect in (draughty, misplaced, other_ground):
        plan = effect(plan, rng)
    return plan


def hidden(plan: Plan, seed: int) -> Plan:
    """A true enclosure: every multiplier drawn from its spread, and effects no multiplier describes."""
    rng = np.random.default_rng(seed)
    known = multipliers_of(plan)
    values = {m.id: float(m.sigma * rng.standard_normal()) for m in known}
    return with_effects(with_multipliers(plan, known, values), rng)


def points(plan: Plan, read: tuple[Reading, ...]) -> tuple[Reading, ...]:
    """Points all over the enclosure that were not read: air, surfaces, UV at the animal's back."""
    enclosure, ground = plan.enclosure, plan.substrate.depth_m
    found: list[tuple[Kind, Point]] = []
    for x in (0.1, 0.3, 0.5, 0.7, 0.9):
        for y in (0.25, 0.75):
            at = (x * enclosure.length_m, y * enclosure.depth_m)
            found.append(("surface", (*at, ground + 1e-3)))
            found.append(("uvi_level", (*at, ground + plan.animal.back_height_m)))
        for share in (0.25, 0.5, 0.75):
            z = ground + share * (enclosure.height_m - ground)
            found.append(("air", (x * enclosure.length_m, 0.5 * enclosure.depth_m, z)))
            found.append(
                (
                    "uvi_facing",
                    (x * enclosure.length_m, 0.4 * enclosure.depth_m, min(z, 0.6 * enclosure.height_m)),
                )
            )
    if plan.basking_slab is not None:
        slab = plan.basking_slab
        for dx, dy in ((0.3, 0.0), (-0.3, 0.3), (0.0, -0.35)):
            at = (slab.x_m + dx * slab.length_m, slab.y_m + dy * slab.width_m)
            found.append(("surface", (*at, plan.top_of(slab) + 1e-3)))
    used = [r.position_m for r in read if r.position_m is not None]
    kept = [(k, p) for k, p in found if all(math.dist(p, u) >= APART_M for u in used)]
    return tuple(Reading(f"{i}", k, 0.0, p) for i, (k, p) in enumerate(kept))


def take(plan: Plan, enclosure: TrueEnclosure, seed: int, most: int = 8) -> tuple[Reading, ...]:
    """A proposed round of readings, taken with instruments that have their own biases."""
    rng = np.random.default_rng(1000 + seed)
    kit = drawn_kit(rng)
    return tuple(
        replace(t.reading, value=kit.read(enclosure, t.reading.kind, t.reading.position_m, rng))
        for t in propose_round(plan, most, least_gain=0.0)
    )


def prove(plan: Plan, seed: int) -> Outcome:
    """One hidden enclosure, before and after a round of eight readings."""
    enclosure = TrueEnclosure(hidden(plan, seed))
    readings = take(plan, enclosure, seed)
    assert all(r.position_m is not None or not needs_place(r.kind) for r in readings)
    asked = points(plan, readings)
    truth = predict_values(enclosure.evaluation, asked)
    found = fit_readings(plan, readings)
    measured = with_measured(plan, fitted_values(found, plan, "2026-03-14"))
    errors, coverage = [], []
    uv = np.array([r.kind.startswith("uvi") for r in asked])
    bright = uv & (truth >= LEAST_UVI)
    for one in (plan, measured):
        result = evaluate(one)
        ahead = predict_readings(result, compute_sensitivity(one), asked, instruments=False)
        said = np.array([a.value for a in ahead])
        within = np.array([a.low <= t <= a.high for a, t in zip(ahead, truth, strict=True)])
        errors.append((np.abs(said - truth)[~uv], (np.abs(said - truth) / np.maximum(truth, 1e-9))[bright]))
        coverage.append(within[~uv | bright])
    return Outcome(
        (errors[0][0], errors[1][0]),
        (errors[0][1], errors[1][1]),
        (coverage[0], coverage[1]),
        sum(r.stray for r in found.residuals),
    )
