"""Ways to furnish an enclosure: how high the basking spot lies, how deep the ground is.

Shares and heights are rules of thumb of keepers' guides: estimates, all of them.
"""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.design.habits import is_wet, lays_in_ground
from noonshade.core.design.shells import Size
from noonshade.core.plan import Animal

# Depth of the ground by way of life where the species says nothing, m, and the share of the height it may
# take.
GROUND_M = {"digging": 0.12, "ground": 0.05, "climbing": 0.04}
GROUND_SHARE, GROUND_SHARE_DUG = 0.3, 0.72
# A mat warms through ground up to this deep, m.
MAT_GROUND_M = 0.02
# A layout without anything to bask on.
BARE = "none"
# The basking spot of a climber: so far below the lid, as shares of the free height.
LEDGE_SHARES = (0.72, 0.55)
# The lowest of them, and the height a lamp with its guard takes above one, m. Estimates.
LOWEST_LEDGE, LAMP_TAKES_M = 0.3, 0.30
# What does not climb gets nothing to step up to that is higher than so many of its body lengths. Estimate.
RAISED_LENGTHS = 0.8
# How high a raised basking spot lies at least, and at most for what does not climb; how far below the lid
# it may stay, m. Estimates.
RAISED_M, LAMP_ABOVE_M = (0.14, 0.25), 0.42


@dataclass(frozen=True, slots=True)
class Layout:
    """One way to furnish an enclosure.

    ``basking`` is how high the basking spot lies, as a share of the free height, ``"ground"`` where the
    animal basks on the ground over a mat, ``"none"`` where it does not bask; ``shelf`` whether a shelf
    shades the cool end.
    """

    basking: float | str
    shelf: bool = False


def ground_depth_m(animal: Animal, height_m: float, mat: bool = False) -> float:
    """How deep the ground is to be.

    Parameters
    ----------
    animal : Animal
        Who lives there.
    height_m : float
        Height of the enclosure, m.
    mat : bool
        Whether a mat is to warm through it.

    Returns
    -------
    float
        The depth, m.
    """
    if mat:
        return MAT_GROUND_M
    habit = "digging" if animal.digs else "climbing" if animal.climbs else "ground"
    depth, dug = GROUND_M[habit], animal.species.ground if animal.digs else None
    if dug is not None:
        grown = min(1.0, animal.body_length_m / animal.species.stages[0].body_length_m)
        depth = max(dug.depth_m * grown, 0.03)
    lays = lays_in_ground(animal)
    if lays and animal.laying is not None:
        depth = max(depth, animal.laying.depth_m)
    most = GROUND_SHARE_DUG if animal.digs or lays else GROUND_SHARE
    return round(min(depth, most * height_m), 3)


def layouts_for(animal: Animal, size: Size) -> tuple[Layout, ...]:
    """Ways to furnish an enclosure for an animal, the most usual first.

    Parameters
    ----------
    animal : Animal
        Who lives there.
    size : Size
        Inside sizes, m.

    Returns
    -------
    tuple[Layout, ...]
        At least one.
    """
    shaded = animal.need("enclosure", "uv_free_share") is not None and not animal.lives_by_height
    if animal.lives_by_height:
        # Below a low closed lid the ledge leaves room for a lamp.
        free = size.height_m - ground_depth_m(animal, size.height_m)
        lower = min(LEDGE_SHARES[1], max(LOWEST_LEDGE, 1.0 - LAMP_TAKES_M / free))
        return Layout(LEDGE_SHARES[0]), Layout(round(lower, 2))
    if animal.need("basking", "surface_temperature") is None:
        # What does not bask gets no stone to bask on.
        return (Layout(BARE, shaded),)
    clear = size.height_m - ground_depth_m(animal, size.height_m)
    low = slab_underside_m(animal) / clear
    # In a tall enclosure the spot comes up to the lamp, as high as the animal climbs.
    most = 0.5 * clear if animal.climbs else min(RAISED_M[1], RAISED_LENGTHS * animal.body_length_m)
    if animal.species.group in ("tortoise", "turtle"):
        most = RAISED_M[0]
    raised = min(0.5, max(low, min(max(RAISED_M[0], clear - LAMP_ABOVE_M), most) / clear))
    found = [Layout(low, shaded)]
    if raised > low + 0.02:
        found.append(Layout(raised, shaded))
    shallow = not animal.digs and not lays_in_ground(animal)
    if animal.species.active != "day" and shallow and not is_wet(animal):
        found.append(Layout("ground", shaded))
    return tuple(found)


def slab_underside_m(animal: Animal) -> float:
    """Height of a low slab above the ground: the animal creeps under it and feels its back touch, m.

    Shelled animals do not creep under slabs: theirs lie on the ground.
    """
    if animal.species.group in ("tortoise", "turtle"):
        return 0.0
    return round(min(max(1.5 * animal.back_height_m, 0.015), 2.2 * animal.back_height_m + 0.005, 0.12), 3)
