"""Changes that would put a failed verdict or a finding right, found by computing them.

Each lever is one thing a keeper can change. It is tried with the full model, and what it breaks
elsewhere is said.
"""

from __future__ import annotations

from collections.abc import Iterator

from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Lamp, Mesh
from noonshade.core.verdict.checks import Verdict
from noonshade.core.verdict.finding import Finding
from noonshade.core.verdict.levers import trials_for
from noonshade.core.verdict.repairs import repairs_for
from noonshade.core.verdict.trial import Add, Change, Mend, Remove, Trial, tried

MOST = 3


def proposals(
    evaluation: Evaluation,
    target: Verdict | Finding,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
    most: int = MOST,
) -> tuple[Mend, ...]:
    """Changes that put one failed verdict or one finding right, those that break nothing first.

    Where every change that helps breaks something else, only the one that breaks least is given.

    Parameters
    ----------
    evaluation : Evaluation
    target : Verdict or Finding
        One of the evaluation's.
    lamps : tuple of Lamp
        Lamps that may be swapped in where no change of place helps.
    meshes : tuple of Mesh
        Meshes a lid may be made of instead.
    most : int
        How many to look for.
    """
    clean: list[Mend] = []
    others: list[Mend] = []
    levers: set[str] = set()
    for trial in _trials(evaluation, target, lamps, meshes):
        lever = _lever(trial)
        if lever in levers:
            continue
        mend = tried(evaluation, target, trial)
        if mend is None:
            continue
        if mend.breaks:
            others.append(mend)
            continue
        levers.add(lever)
        clean.append(mend)
        if len(clean) >= most:
            break
    if clean:
        return tuple(clean)
    return (min(others, key=lambda m: len(m.breaks)),) if others else ()


def propose(
    evaluation: Evaluation,
    target: Verdict | Finding,
    lamps: tuple[Lamp, ...] = (),
    meshes: tuple[Mesh, ...] = (),
) -> Mend | None:
    """The first of the ``proposals``, or None if nothing tried helps."""
    found = proposals(evaluation, target, lamps, meshes, 1)
    return found[0] if found else None


def _trials(
    evaluation: Evaluation,
    target: Verdict | Finding,
    lamps: tuple[Lamp, ...],
    meshes: tuple[Mesh, ...],
) -> Iterator[Trial]:
    if isinstance(target, Finding):
        yield from repairs_for(evaluation, target, lamps)
    elif target.status in ("below", "above"):
        yield from trials_for(evaluation, target, lamps, meshes)


def _lever(trial: Trial) -> str:
    """What a trial moves, so that not three heights of the same lamp are offered."""
    return "|".join(
        f"{c.part}:{c.part_id}:{c.attribute}"
        if isinstance(c, Change)
        else f"add:{c.part}:{type(c.thing).__name__}"
        if isinstance(c, Add)
        else f"remove:{c.part}:{c.part_id}"
        for c in trial.changes
    )


__all__ = ["Add", "Change", "Mend", "Remove", "proposals", "propose"]
