"""Every change that may put a failed check or a finding right, before any is computed."""

from __future__ import annotations

from collections.abc import Iterator

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Add, Candidate, Change
from noonshade.core.fixes.levers import candidates_for
from noonshade.core.fixes.remedies import remedies_for
from noonshade.core.plan import Lamp, Mesh

# What is the keeper's and no change of ours: the room, who lives there, how large the enclosure is.
_FACTS = ("room", "animal")
_SIZES = ("length_m", "depth_m", "height_m")


def candidates_of(
    evaluation: Evaluation,
    target: Check | Finding,
    lamps: tuple[Lamp, ...],
    meshes: tuple[Mesh, ...],
) -> Iterator[Candidate]:
    """Every change that may fix one failed check or one finding, the likeliest first.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan as it is.
    target : Check or Finding
        One of the evaluation's.
    lamps, meshes : tuple
        What may be swapped in.

    Yields
    ------
    Candidate
        Not computed yet.
    """
    if isinstance(target, Finding):
        yield from remedies_for(evaluation, target, lamps)
    elif target.status in ("low", "high"):
        yield from candidates_for(evaluation, target, lamps, meshes)


def leaves_alone(candidate: Candidate, locked: frozenset[str]) -> bool:
    """Whether a change leaves alone the room and what is locked.

    Parameters
    ----------
    candidate : Candidate
        A change.
    locked : frozenset of str
        Ids of things that stay as they are.

    Returns
    -------
    bool
        True if so.
    """
    present = [step for step in candidate.changes if not isinstance(step, Add)]
    return not any(step.part == "room" or step.part_id in locked for step in present)


def is_within_reach(candidate: Candidate, locked: frozenset[str] = frozenset()) -> bool:
    """Whether a change leaves alone all that is the keeper's.

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
        if step.part in _FACTS or (step.part == "enclosure" and step.attribute in _SIZES):
            return False
    return leaves_alone(candidate, locked)
