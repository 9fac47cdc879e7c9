"""The change that brings a plan furthest towards one that fits, of all that could fix something."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.design.aims import OF_THE_ROOM, cost_of
from noonshade.core.design.search import computed
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Candidate, Change
from noonshade.core.fixes.suggest import candidates_of
from noonshade.core.heat.geometry import COARSE, Resolution
from noonshade.core.plan import Lamp, Mesh, Plan

# Candidates of each failure that are computed, and what a change must gain, in the units of a cost.
MOST_EACH, LEAST_GAIN = 8, 0.3
# What is the keeper's and no change of ours: the room, who lives there, how large the enclosure is.
_FACTS = ("room", "animal")
_SIZES = ("length_m", "depth_m", "height_m")


@dataclass(frozen=True, slots=True)
class Step:
    """A change, and the plan evaluated after it on large cells."""

    candidate: Candidate
    evaluation: Evaluation
    cost: float


def is_within_reach(candidate: Candidate, locked: frozenset[str] = frozenset()) -> bool:
    """Whether a change leaves alone what is the keeper's.

    Parameters
    ----------
    candidate : Candidate
        A change.
    locked : frozenset of str
        Ids of things that stay as they are.

    Returns
    -------
    bool
        False if it changes the room, the animal, the enclosure's sizes or something locked.
    """
    for step in candidate.changes:
        if not isinstance(step, Change):
            continue
        if step.part in _FACTS or step.part_id in locked:
            return False
        if step.part == "enclosure" and step.attribute in _SIZES:
            return False
    return True


def next_step(
    now: Evaluation,
    lamps: tuple[Lamp, ...],
    meshes: tuple[Mesh, ...],
    locked: frozenset[str] = frozenset(),
    resolution: Resolution | None = COARSE,
) -> Step | None:
    """The change that gains most, whatever failure it was thought of for.

    Parameters
    ----------
    now : Evaluation
        Of the plan as it is, on large cells.
    lamps, meshes : tuple
        What may be swapped in.
    locked : frozenset of str
        Ids of things that stay as they are.
    resolution : Resolution or None
        How finely changes are computed, None for the usual grid.

    Returns
    -------
    Step or None
        None where nothing fails, or no single change brings it nearer without a new danger.
    """
    here = cost_of(now, forgiven=OF_THE_ROOM)
    dangers = {f.id for f in now.failing if f.severity == "danger"}
    best: Step | None = None
    seen: list[Plan] = []
    for target in now.failing:
        tried = 0
        for candidate in candidates_of(now, target, lamps, meshes):
            if tried >= MOST_EACH:
                break
            if candidate.plan in seen or not is_within_reach(candidate, locked):
                continue
            seen.append(candidate.plan)
            tried += 1
            after = computed(candidate.plan, resolution)
            if after is None:
                continue
            if any(f.severity == "danger" and f.id not in dangers for f in after.failing):
                continue
            cost = cost_of(after, forgiven=OF_THE_ROOM)
            if cost < here - LEAST_GAIN and (best is None or cost < best.cost):
                best = Step(candidate, after, cost)
    return best
