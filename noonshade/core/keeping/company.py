"""Animals that share a box: what there is for each of them, and whether a box is ready to part them."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Box
from noonshade.core.verdict.finding import Finding
from noonshade.core.verdict.shelter import basking_places, shelters

# A spare box may be smaller than a home: for some weeks. Estimate.
SPARE_SHARE = 0.6


@dataclass(frozen=True, slots=True)
class Company:
    """How many share a box, and what there is for them; ``basking_places`` None where nothing basks."""

    count: int
    retreats: int
    basking_places: int | None
    faults: tuple[Finding, ...]

    @property
    def together(self) -> bool:
        """Whether more than one lives there, so that a spare box should be ready."""
        return self.count > 1


def company(evaluation: Evaluation) -> Company:
    """What a box has for the animals that share it."""
    plan = evaluation.plan
    found = tuple(f for f in evaluation.findings if f.kind == "company")
    return Company(plan.animal.count, shelters(plan), basking_places(plan, evaluation.day), found)


def will_do(box: Box, wanted: Box) -> bool:
    """Whether a box is large enough to part one animal from a home of a size for a while."""
    sides = ("length_m", "depth_m", "height_m")
    return all(getattr(box, side) >= SPARE_SHARE * getattr(wanted, side) for side in sides)
