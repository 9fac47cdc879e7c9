"""The smallest useful round of readings for a plan: what to read, where, with what, and why there.

Candidates are the places a keeper assesses. One after another the reading is taken that leaves the least
variance in the figures the checks go by, given those taken before it (Bayesian linear design: prior
spreads of the multipliers, derivatives by the full model, spreads of the instruments), until a further one
would tell little.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noonshade.core.assessment.checks import Check
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Quantity
from noonshade.core.phrase import species_within
from noonshade.core.places import PlaceFigures
from noonshade.core.plan import Branch, Hide, Plan, Point, Slab, Water
from noonshade.core.readings.instrument import INSTRUMENTS, InstrumentKind, Kind
from noonshade.core.readings.reading import PredictedReading, Reading, predict_readings, predict_values
from noonshade.core.uncertainty.sensitivity import Sensitivity, compute_sensitivity

Floats = NDArray[np.float64]

MOST = 8
# A reading that reduces the remaining variance by less than this share is of little use. Estimate.
LEAST_GAIN = 0.03
# What a multiplier is worth knowing for itself, beside the figures it makes, in its spreads. Estimate.
_FOR_ITSELF = 0.3
# What figures are off by that matters as much: K, a share of the UV index, share of humidity. Estimates.
_SCALE = {
    "surface_temperature": 3.0,
    "air_temperature": 1.5,
    "water_temperature": 1.5,
    "gradient": 3.0,
    "uvi": 0.25,
    "humidity": 0.10,
    "uv_free_share": 0.15,
}
# A surface is read from just over it, m.
_OVER_M = 1e-3


@dataclass(frozen=True, slots=True)
class Task:
    """One reading to take: what it is predicted to be, and ``gain`` the share of variance it takes away."""

    reading: Reading
    place: str
    place_id: str
    instrument: InstrumentKind
    why: str
    prediction: PredictedReading
    gain: float


def propose_round(
    plan: Plan,
    most: int = MOST,
    progress: Callable[[int], None] | None = None,
    known: Sensitivity | None = None,
    taken: tuple[Reading, ...] = (),
    least_gain: float = LEAST_GAIN,
    evaluation: Evaluation | None = None,
) -> tuple[Task, ...]:
    """The readings worth taking, ordered from the room and the ground up, so that nothing is disturbed.

    Parameters
    ----------
    plan : Plan
        The plan.
    most : int
        At most this many.
    progress : callable, optional
        Called with the number of multipliers done.
    known : Sensitivity, optional
        That of the plan, where it was made already.
    taken : tuple of Reading
        Readings there are already; others are proposed that tell most beside them.
    least_gain : float
        Share of the variance left that one more must take.
    evaluation : Evaluation, optional
        Of the plan on its usual cells, for what is predicted; else it is computed on larger ones.

    Returns
    -------
    tuple[Task, ...]
        The tasks with instrument, place, reason and gain.

    Raises
    ------
    ConvergenceError
        If the plan as it is finds no steady state.
    """
    if known is None:
        known = compute_sensitivity(plan, progress=progress)
    base = known.base
    candidates = tuple(_candidates(plan, base))
    readings = tuple(c.reading for c in candidates)
    design = _Design(base, known, (*readings, *taken))
    for i in range(len(readings), len(readings) + len(taken)):
        design.take(i)
    chosen: list[tuple[int, float]] = []
    left = design.variance()
    while len(chosen) < most and left > 0:
        rest = [i for i in range(len(readings)) if all(i != k for k, _ in chosen)]
        if not rest:
            break
        remaining = [design.variance_with(i) for i in rest]
        best = int(np.argmin(remaining))
        gain = 1.0 - remaining[best] / left
        if gain < least_gain:
            break
        chosen.append((rest[best], gain))
        design.take(rest[best])
        left = design.variance()
    ahead = predict_readings(evaluation or base, known, tuple(readings[i] for i, _ in chosen))
    tasks = []
    for (i, gain), seen in zip(chosen, ahead, strict=True):
        c = candidates[i]
        tasks.append(Task(c.reading, c.place, c.place_id, INSTRUMENTS[c.reading.kind], c.why, seen, gain))
    # From the room and the ground up: reaching past a lamp or moving a branch comes last.
    return tuple(sorted(tasks, key=_height))


_NEED_KINDS: dict[Quantity, Kind] = {
    "surface_temperature": "surface",
    "air_temperature": "air",
    "uvi": "uvi_facing",
    "humidity": "humidity",
}


def round_of_needs(
    check_ids: Collection[str], known: Sensitivity, evaluation: Evaluation | None = None
) -> tuple[Task, ...]:
    """One reading for each of some needs, at the place it is assessed, from the ground up.

    Needs no instrument reads (the share of the ground without UV) are skipped.

    Parameters
    ----------
    check_ids : collection of str
        The checks to read.
    known : Sensitivity
        Of the plan.
    evaluation : Evaluation, optional
        As in ``propose_round``.

    Returns
    -------
    tuple[Task, ...]
        The tasks, without those no instrument can read.
    """
    base = known.base
    places = {p.id: p for p in base.places}
    chosen: list[_Candidate] = []
    for check in base.checks:
        quantity = check.need.quantity
        if check.id not in check_ids or quantity not in _NEED_KINDS or check.value is None:
            continue
        kind = _NEED_KINDS[quantity]
        if check.place_id == "night":
            kind, at = ("humidity_night" if kind == "humidity" else "air_min"), None
        elif check.place_id == "reachable":
            hottest = base.whole.hottest
            if hottest.moment == "night" or hottest.surface.depth_m > 0:
                continue
            x, y, z = hottest.surface.position_m
            at = (x, y, min(z + _OVER_M, base.plan.enclosure.height_m))
        elif check.place_id in places:
            at = places[check.place_id].position_m
        else:
            continue
        why = f"What {species_within(base.plan.animal.species.common_name)} needs there."
        reading = Reading(f"need:{check.id}", kind, 0.0, at)
        chosen.append(_Candidate(reading, check.place_label, check.place_id, why))
    ahead = predict_readings(evaluation or base, known, tuple(c.reading for c in chosen))
    tasks = [
        Task(c.reading, c.place, c.place_id, INSTRUMENTS[c.reading.kind], c.why, seen, 0.0)
        for c, seen in zip(chosen, ahead, strict=True)
    ]
    return tuple(sorted(tasks, key=_height))


class _Design:
    """What would be known of the checks' figures after some readings, biases of instruments included."""

    def __init__(self, base: Evaluation, known: Sensitivity, readings: tuple[Reading, ...]) -> None:
        said = predict_values(base, readings)
        room = base.day.room_c
        slopes = known.derivatives(lambda e: predict_values(e, readings))
        names = list(dict.fromkeys(r.instrument_key for r in readings))
        biases = np.zeros((len(readings), len(names)))
        spread = np.zeros(len(names))
        for i, reading in enumerate(readings):
            column = names.index(reading.instrument_key)
            biases[i, column] = reading.bias_slope(float(said[i]))
            spread[column] = reading.trusted.bias
        self.rows = np.hstack([slopes, biases])
        self.own = np.array([r.own_sigma(float(v), room) for r, v in zip(readings, said, strict=True)])
        count = len(known.moved)
        self.covariance = np.zeros((count + len(names), count + len(names)))
        self.covariance[:count, :count] = known.covariance
        self.covariance[count:, count:] = np.diag(spread**2)
        assessed = [i for i, v in enumerate(base.checks) if v.value is not None]
        figures = known.derivatives(lambda e: np.array([_weighed(base.checks[i], e) for i in assessed]))
        for_themselves = np.diag([_FOR_ITSELF / m.sigma for m in known.multipliers])
        both = np.vstack([figures, for_themselves])
        self.figures = np.hstack([both, np.zeros((len(both), len(names)))])

    def variance(self) -> float:
        """Sum of the variances of all figures, each over the square of what matters of it."""
        return _variance(self.figures, self.covariance)

    def variance_with(self, i: int) -> float:
        """The same after one more reading."""
        return _variance(self.figures, self._after(i))

    def take(self, i: int) -> None:
        """Take that reading."""
        self.covariance = self._after(i)

    def _after(self, i: int) -> Floats:
        row = self.rows[i]
        gain = self.covariance @ row
        after: Floats = self.covariance - np.outer(gain, gain) / float(row @ gain + self.own[i] ** 2)
        return after


def _height(task: Task) -> tuple[float, str]:
    at = task.reading.position_m
    return (-1.0 if at is None else at[2], task.reading.id)


def _variance(of_figures: Floats, covariance: Floats) -> float:
    return float(np.einsum("fk,kl,fl->", of_figures, covariance, of_figures))


def _weighed(check: Check, evaluation: Evaluation) -> float:
    """A check's figure in another evaluation, over what matters of it; its own where there is none."""
    assert check.value is not None
    values = {v.id: v.value for v in evaluation.checks}
    moved = values.get(check.id)
    value = check.value if moved is None else moved
    scale = _SCALE[check.need.quantity]
    if check.need.quantity == "uvi":
        scale *= max(check.value, 0.5)
    return value / scale


@dataclass(frozen=True, slots=True)
class _Candidate:
    reading: Reading
    place: str
    place_id: str
    why: str


def _candidates(plan: Plan, base: Evaluation) -> Iterator[_Candidate]:
    """Readings that could be taken."""
    yield _Candidate(
        Reading("room:air", "room_air", 0.0),
        "Room",
        "room",
        "Every figure depends on the room's temperature.",
    )
    yield _Candidate(
        Reading("room:humidity", "room_humidity", 0.0),
        "Room",
        "room",
        "The enclosure dries towards the room.",
    )
    yield _Candidate(
        Reading("night:lowest", "air_min", 0.0),
        "Night",
        "night",
        "The lowest of a logger's night, a hand above the ground: what the enclosure holds with lamps off.",
    )
    uv = any(f.lamp.uv is not None and f.lit_at("day") for f in plan.fixtures)
    for place in base.places:
        yield from _at_place(plan, place)
        if uv and place.kind == "basking":
            why = "The UV index at its back, the meter facing the lamp."
            yield _of(place, Reading(f"{place.id}:uvi", "uvi_facing", 0.0, place.position_m), why)
    middle = (plan.enclosure.length_m / 2, plan.enclosure.depth_m / 2, plan.substrate.depth_m + _OVER_M)
    if _free(plan, middle):
        yield _Candidate(
            Reading("middle:surface", "surface", 0.0, middle),
            "Middle of the ground",
            "middle",
            "Half-way along the gradient: how far the heat of the lamp reaches.",
        )
    for fixture in plan.fixtures:
        x, y, _ = fixture.position_m
        under = (x, y, plan.substrate.depth_m + plan.animal.back_height_m)
        lit = fixture.lamp.uv is not None and fixture.lit_at("day")
        if lit and _inside(plan, under) and _free(plan, under):
            yield _Candidate(
                Reading(f"{fixture.id}:below", "uvi_facing", 0.0, under),
                f"On the ground under {fixture.label}",
                fixture.id,
                "Far from the lamp and right below it, with nothing else in between.",
            )
    if uv:
        yield from _perches(plan)


def _inside(plan: Plan, point: Point) -> bool:
    return 0.0 < point[0] < plan.enclosure.length_m and 0.0 < point[1] < plan.enclosure.depth_m


def _of(place: PlaceFigures, reading: Reading, why: str) -> _Candidate:
    return _Candidate(reading, place.label, place.id, why)


def _at_place(plan: Plan, place: PlaceFigures) -> Iterator[_Candidate]:
    """Temperatures and humidity at one of the places a keeper assesses."""
    x, y, z = place.position_m
    if place.kind == "basking":
        top = z - plan.animal.back_height_m + _OVER_M
        why = "The hottest place it lies on; only an infrared thermometer can read it."
        yield _of(place, Reading(f"{place.id}:surface", "surface", 0.0, (x, y, top)), why)
        why = "Air at the animal's back; shade the probe from the beam."
        yield _of(place, Reading(f"{place.id}:air", "air", 0.0, (x, y, z)), why)
        slab = next((s for s in plan.basking_slabs if s.id == place.thing_id), None)
        if slab is None:
            return
        edge = (slab.x_m - 0.4 * slab.length_m, slab.y_m - 0.4 * slab.width_m, top)
        yield _Candidate(
            Reading(f"{slab.id}:edge", "surface", 0.0, edge),
            f"{slab.label}, front left corner",
            slab.id,
            "Compared with its middle it shows how wide the beam is.",
        )
    elif place.kind in ("warm_end", "cool_end"):
        at = (x, y, min(plan.substrate.depth_m + 0.10, plan.enclosure.height_m))
        why = "Ten centimetres above the ground, out of the beam: one end of the gradient."
        yield _of(place, Reading(f"{place.id}:air", "air", 0.0, at), why)
        if place.kind == "cool_end":
            why = "Away from the heat, where humidity is assessed."
            yield _of(place, Reading(f"{place.id}:humidity", "humidity", 0.0, at), why)
    elif place.kind in ("upper", "middle", "lower"):
        why = "A shaded probe where it sits at this height."
        yield _of(place, Reading(f"{place.id}:air", "air", 0.0, (x, y, z)), why)
        if place.kind == "lower":
            why = "Away from the heat, where humidity is assessed."
            yield _of(place, Reading(f"{place.id}:humidity", "humidity", 0.0, (x, y, z)), why)
    elif place.kind == "burrow":
        why = "A probe pushed down to where it rests by day."
        yield _of(place, Reading(f"{place.id}:air", "air", 0.0, (x, y, z)), why)
    elif place.kind == "uv_refuge" and place.surface_c is not None:
        ground = (x, y, plan.substrate.depth_m + _OVER_M)
        why = "The ground it rests on, out of the light."
        yield _of(place, Reading(f"{place.id}:surface", "surface", 0.0, ground), why)


def _free(plan: Plan, point: Point) -> bool:
    """Whether nothing stands on the ground there."""
    for item in plan.furnishings:
        if isinstance(item, Slab | Hide | Water) and (
            abs(point[0] - item.x_m) <= item.length_m / 2 and abs(point[1] - item.y_m) <= item.width_m / 2
        ):
            return False
    return True


def _perches(plan: Plan) -> Iterator[_Candidate]:
    """UV on branches and ledges other than the basking spot."""
    lift, high = plan.animal.back_height_m, plan.enclosure.height_m - _OVER_M
    for item in plan.furnishings:
        if isinstance(item, Branch):
            (ax, ay, az), (bx, by, bz) = item.start_m, item.end_m
            at = ((ax + bx) / 2, (ay + by) / 2, (az + bz) / 2 + item.diameter_m / 2 + lift)
        elif isinstance(item, Slab) and not item.basking:
            at = (item.x_m, item.y_m, plan.top_of(item) + lift)
        else:
            continue
        place = (at[0], at[1], min(at[2], high))
        yield _Candidate(
            Reading(f"{item.id}:uvi", "uvi_facing", 0.0, place),
            item.label,
            item.id,
            "UV on another perch separates the effect of the lamp from that of its screen and its age.",
        )
