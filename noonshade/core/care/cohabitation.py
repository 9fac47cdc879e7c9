"""Animals that share an enclosure: what there is for each, and which enclosure can part them."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.shelter import basking_spots, shelters
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Enclosure

# A spare enclosure may be smaller than a home: for some weeks. Estimate.
SPARE_SHARE = 0.6


@dataclass(frozen=True, slots=True)
class Cohabitation:
    """How many share an enclosure, and what it has; ``basking_spots`` is None where nothing basks."""

    count: int
    hides: int
    basking_spots: int | None
    faults: tuple[Finding, ...]

    @property
    def together(self) -> bool:
        """Whether more than one lives there, so that a spare enclosure should be ready."""
        return self.count > 1


def assess_cohabitation(evaluation: Evaluation) -> Cohabitation:
    """What an enclosure has for the animals that share it.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    Cohabitation
        Counts of animals, hides and basking spots, and the faults.
    """
    plan = evaluation.plan
    found = tuple(f for f in evaluation.findings if f.kind == "cohabitation")
    return Cohabitation(plan.animal.count, shelters(plan), basking_spots(plan, evaluation.day), found)


def is_large_enough(enclosure: Enclosure, wanted: Enclosure) -> bool:
    """Whether an enclosure is large enough to part one animal from a home of a size for a while.

    Parameters
    ----------
    enclosure : Enclosure
        The enclosure.
    wanted : Enclosure
        The enclosure it is compared with.

    Returns
    -------
    bool
        True if so.
    """
    sides = ("length_m", "depth_m", "height_m")
    return all(getattr(enclosure, side) >= SPARE_SHARE * getattr(wanted, side) for side in sides)
