"""Changes that fix a failed check or a finding, found by computing them.

Each lever is one thing a keeper can change. It is evaluated with the full model, and what it
breaks elsewhere is said.
"""

from __future__ import annotations

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Add, Candidate, Change, Fix, Remove, evaluate_candidate
from noonshade.core.fixes.candidates import candidates_of, leaves_alone
from noonshade.core.fixes.heating import heaters_added
from noonshade.core.fixes.stepwise import combined_fix
from noonshade.core.plan import Lamp, Mesh

MOST = 3


def suggest_fixes(
    evaluation: Evaluation,
    target: Check | Finding,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
    most: int = MOST,
    locked: frozenset[str] = frozenset(),
) -> tuple[Fix, ...]:
    """Changes that fix one failed check or one finding and break nothing.

    Where no single change does, up to three that do it together; where these do not either, the change
    that breaks least.

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
    locked : frozenset of str
        Ids of things that stay as they are.

    Returns
    -------
    tuple of Fix
        None where nothing helps. The room is never changed.
    """
    clean: list[Fix] = []
    others: list[Fix] = []
    levers: set[str] = set()
    for candidate in candidates_of(evaluation, target, lamps, meshes):
        lever = _lever(candidate)
        if lever in levers or not leaves_alone(candidate, locked):
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
    for candidate in heaters_added(evaluation, target, lamps):
        fix = evaluate_candidate(evaluation, target, candidate)
        if fix is not None and not fix.breaks:
            return (fix,)
        if fix is not None:
            others.append(fix)
    together = combined_fix(evaluation, target, lamps, meshes, locked)
    if together is not None:
        return (together,)
    return (min(others, key=lambda m: len(m.breaks)),) if others else ()


def iterate_fixes(
    evaluation: Evaluation,
    target: Check | Finding,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
    locked: frozenset[str] = frozenset(),
) -> Fix | None:
    """The first of the ``suggest_fixes``, or None if nothing helps."""
    found = suggest_fixes(evaluation, target, lamps, meshes, 1, locked)
    return found[0] if found else None


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


__all__ = ["Add", "Change", "Fix", "Remove", "iterate_fixes", "suggest_fixes"]
