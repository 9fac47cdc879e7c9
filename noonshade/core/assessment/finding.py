"""What a finding is, and what findings are found from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from noonshade.core.assessment.checks import EnclosureFigures
from noonshade.core.heat.climate import Climate
from noonshade.core.light.field import Scene
from noonshade.core.phrase import Phrase
from noonshade.core.places import PlaceFigures
from noonshade.core.places.uv_refuge import UvWithinReach
from noonshade.core.plan import Plan

# danger: the animal must not go in; fault: to be fixed; care: to be watched; note: to be known.
FindingSeverity = Literal["danger", "fault", "care", "note"]
FINDING_SEVERITIES: tuple[FindingSeverity, ...] = ("danger", "fault", "care", "note")
Ask = Literal["electrician", "veterinarian"]


@dataclass(frozen=True, slots=True)
class Finding:
    """A fault with the thing it is about, what it can lead to, and whom to ask.

    ``id`` is the kind of fault and the thing, ``"kind:thing"``. ``caution`` is empty where the message
    says it all.
    """

    id: str
    about_id: str
    severity: FindingSeverity
    message: Phrase
    caution: str = ""
    ask: Ask | None = None

    @property
    def kind(self) -> str:
        """The kind of fault."""
        return self.id.partition(":")[0]

    @property
    def fails(self) -> bool:
        """Whether it must be fixed."""
        return self.severity in ("danger", "fault")


@dataclass(frozen=True, slots=True)
class FindingContext:
    """A plan with its climate by day, its places, its light and its figures as a whole."""

    plan: Plan
    day: Climate
    places: tuple[PlaceFigures, ...]
    whole: EnclosureFigures
    scene: Scene
    uv: UvWithinReach

    def place(self, kind: str) -> PlaceFigures | None:
        """The first place of a kind.

        Parameters
        ----------
        kind : str
            Which kind.

        Returns
        -------
        PlaceFigures | None
            The place, or None if the enclosure has none of the kind.
        """
        return next((p for p in self.places if p.kind == kind), None)
