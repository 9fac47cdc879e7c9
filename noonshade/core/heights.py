"""The gradient from the ground up: figures at the top, a middle and a low perch, and at the ground."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Plan, Point, Slab
from noonshade.core.probe import PointFigures, probe

# Enclosures with this much air above the ground are read by height, and those with branches, m. Estimate.
TALL_M = 0.55
# What lies lower than this above the ground is no perch, m. Estimate.
LOWEST_PERCH_M = 0.10
# Perches closer in height than this are one, m. Estimate.
APART_M = 0.05
# Without perches: shares of the height of the air.
SHARES = (("Under the lid", 0.9), ("Half way up", 0.5), ("A quarter up", 0.25))


@dataclass(frozen=True, slots=True)
class HeightFigures:
    """What the model predicts at one height.

    ``thing`` is the branch or slab an animal would rest on there, empty in the free air and on the ground;
    ``above_ground_m`` is the height of that surface, or of the point in the air.
    """

    label: str
    thing: str
    above_ground_m: float
    figures: PointFigures


def figures_by_height(evaluation: Evaluation) -> tuple[HeightFigures, ...]:
    """Figures from the top perch to the ground, at the height of an animal's back.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    tuple of HeightFigures
        From the highest down; none in a low enclosure without branches.
    """
    plan = evaluation.plan
    ground, height = plan.substrate.depth_m, plan.enclosure.height_m
    middle = (plan.enclosure.length_m / 2, plan.enclosure.depth_m / 2)
    perches = _perches(evaluation)
    if not evaluation.day.grid.rods and height - ground < TALL_M:
        return ()
    wanted = [(label, thing, at, at[2] - ground) for label, thing, at in _chosen(perches)]
    if not perches:
        for label, share in SHARES:
            up = share * (height - ground)
            wanted.append((label, "", (*middle, ground + up), up))
    wanted.append(("Ground", "", (*middle, ground), 0.0))
    found = []
    for label, thing, (x, y, z), above in wanted:
        back = min(z + (plan.animal.back_height_m if thing or label == "Ground" else 0.0), height)
        found.append(HeightFigures(label, thing, above, probe(evaluation, (x, y, back))))
    return tuple(found)


def _perches(evaluation: Evaluation) -> list[tuple[str, Point]]:
    """Name and upper side of every piece of a branch and of every slab well above the ground, top first."""
    plan: Plan = evaluation.plan
    lowest = plan.substrate.depth_m + LOWEST_PERCH_M
    found: list[tuple[str, Point]] = []
    for rod in evaluation.day.grid.rods:
        for (x, y, _), top in zip(rod.centres.tolist(), rod.top_m.tolist(), strict=True):
            found.append((rod.item.label, (x, y, top)))
    slabs = (f for f in plan.furnishings if isinstance(f, Slab))
    found += [(slab.label, (slab.x_m, slab.y_m, plan.top_of(slab))) for slab in slabs]
    highest = plan.enclosure.height_m - plan.animal.back_height_m
    return sorted(((n, at) for n, at in found if lowest <= at[2] <= highest), key=lambda p: -p[1][2])


def _chosen(perches: list[tuple[str, Point]]) -> list[tuple[str, str, Point]]:
    """The highest, the one nearest to the middle of all, and the lowest, as far as they are apart."""
    if not perches:
        return []
    top, low = perches[0], perches[-1]
    if top[1][2] - low[1][2] < APART_M:
        return [("Perch", *top)]
    half = 0.5 * (top[1][2] + low[1][2])
    middle = min(perches, key=lambda p: abs(p[1][2] - half))
    found = [("Top perch", *top), ("Low perch", *low)]
    if min(top[1][2] - middle[1][2], middle[1][2] - low[1][2]) >= APART_M:
        found.insert(1, ("Middle perch", *middle))
    return found
