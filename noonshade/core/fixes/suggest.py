"""Changes that would put a failed check or a finding right, found by computing them.

Each lever is one thing a keeper can change. It is evaluated with the full model, and what it
breaks elsewhere is said.
"""

from __future__ import annotations

from collections.abc import Iterator

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Add, Candidate, Change, Fix, Remove, evaluate_candidate
from noonshade.core.fixes.levers import candidates_for
from noonshade.core.fixes.remedies import remedies_for
from noonshade.core.plan import Lamp, Mesh

MOST = 3


def suggest_fixes(
    evaluation: Evaluation,
    target: Check | Finding,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
    most: int = MOST,
) -> tuple[Fix, ...]:
    """Changes that put one failed check or one finding right, those that break nothing first.

    Where every change that helps breaks something else, only the one that breaks least is given.

    Parameters
    ----------
    evaluation : Evaluation
    target : Check or Finding
        One of the evaluation's.
    lamps : tuple of Lamp
        Lamps that may be swapped in where no change of place helps.
    meshes : tuple of Mesh
        Meshes a lid may be made of instead.
    most : int
        How many to look for.
    """
    clean: list[Fix] = []
    others: list[Fix] = []
    levers: set[str] = set()
    for candidate in _candidates(evaluation, target, lamps, meshes):
        lever = _lever(candidate)
        if lever in levers:
            continue
        fix = evaluate_candidate(evaluation, target, candidate)
        if fix is None:
            continue
        if fix.breaks:
            others.append(fix)
            continue
        levers.add(lever)
        clean.append(fix)
        if len(clean) >= most:
            break
    if clean:
        return tuple(clean)
    return (min(others, key=lambda m: len(m.breaks)),) if others else ()


def iterate_fixes(
    evaluation: Evaluation,
    target: Check | Finding,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
) -> Fix | None:
    """The first of the ``suggest_fixes``, or None if no candidate helps."""
    found = suggest_fixes(evaluation, target, lamps, meshes, 1)
    return found[0] if found else None


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
    yield from _candidates(evaluation, target, lamps, meshes)


def _candidates(
    evaluation: Evaluation,
    target: Check | Finding,
    lamps: tuple[Lamp, ...],
    meshes: tuple[Mesh, ...],
) -> Iterator[Candidate]:
    if isinstance(target, Finding):
        yield from remedies_for(evaluation, target, lamps)
    elif target.status in ("low", "high"):
        yield from candidates_for(evaluation, target, lamps, meshes)


def _lever(candidate: Candidate) -> str:
    """What a candidate moves, so that not three heights of the same lamp are offered."""
    return "|".join(
        f"{c.part}:{c.part_id}:{c.attribute}"
        if isinstance(c, Change)
        else f"add:{c.part}:{type(c.thing).__name__}"
        if isinstance(c, Add)
        else f"remove:{c.part}:{c.part_id}"
        for c in candidate.changes
    )


__all__ = ["Add", "Change", "Fix", "Remove", "candidates_of", "iterate_fixes", "suggest_fixes"]
