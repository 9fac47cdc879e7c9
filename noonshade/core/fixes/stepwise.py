"""Changes that together bring a plan to one that fits: each time the one that gains most."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.design.aims import OF_THE_ROOM, cost_of
from noonshade.core.design.search import computed
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Candidate, Fix, evaluate_candidate
from noonshade.core.fixes.candidates import candidates_of, is_within_reach
from noonshade.core.heat.geometry import COARSE, Resolution
from noonshade.core.phrase import Phrase, uncapitalized
from noonshade.core.plan import Lamp, Mesh, Plan

# Candidates of each failure that are computed, and what a change must gain, in the units of a cost.
MOST_EACH, LEAST_GAIN = 8, 0.3
# Changes that are proposed together for one failure, at most.
MOST_TOGETHER = 3


@dataclass(frozen=True, slots=True)
class Step:
    """A change, and the plan evaluated after it on large cells."""

    candidate: Candidate
    evaluation: Evaluation
    cost: float


def next_step(
    now: Evaluation,
    lamps: tuple[Lamp, ...],
    meshes: tuple[Mesh, ...],
    locked: frozenset[str] = frozenset(),
    resolution: Resolution | None = COARSE,
    targets: Iterable[Check | Finding] | None = None,
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
    targets : iterable of Check or Finding, or None
        The failures changes are thought of for; None for all.

    Returns
    -------
    Step or None
        None where nothing fails, or no single change brings it nearer without a new danger.
    """
    here = cost_of(now, forgiven=OF_THE_ROOM)
    dangers = {f.id for f in now.failing if f.severity == "danger"}
    best: Step | None = None
    seen: list[Plan] = []
    for target in now.failing if targets is None else targets:
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


def combined_fix(
    before: Evaluation,
    target: Check | Finding,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
    locked: frozenset[str] = frozenset(),
) -> Fix | None:
    """Up to three changes that fix one failure together and break nothing else.

    Parameters
    ----------
    before : Evaluation
        Of the plan as it is.
    target : Check or Finding
        One of its failures.
    lamps, meshes : tuple
        What may be swapped in.
    locked : frozenset of str
        Ids of things that stay as they are.

    Returns
    -------
    Fix or None
        None where so many changes do not do it.
    """
    now = computed(before.plan)
    known = {f.id for f in before.failing} - {target.id}
    chosen: list[Candidate] = []
    while now is not None and len(chosen) < MOST_TOGETHER:
        # What is to be fixed, and what the changes so far have broken.
        aims = [f for f in now.failing if f.id not in known]
        step = next_step(now, lamps, meshes, locked, targets=aims) if aims else None
        if step is None:
            break
        chosen.append(step.candidate)
        now = step.evaluation
        fix = evaluate_candidate(before, target, joined(chosen))
        if fix is not None and not fix.breaks:
            return fix
    return None


def joined(candidates: list[Candidate]) -> Candidate:
    """Changes one after the other as one.

    Parameters
    ----------
    candidates : list[Candidate]
        At least one, each of the plan the one before it makes.

    Returns
    -------
    Candidate
        The last plan, with the words and the steps of all.
    """
    sentence: Phrase = candidates[0].sentence
    for one in candidates[1:]:
        first, *rest = one.sentence
        said = uncapitalized(first) if isinstance(first, str) else first
        sentence = (*sentence, "; ", said, *rest)
    changes = tuple(step for one in candidates for step in one.changes)
    return Candidate(candidates[-1].plan, sentence, changes)
