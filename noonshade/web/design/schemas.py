"""Requests and responses of designs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.design.brief import Never, Scope
from noonshade.core.design.shells import EnclosureKind
from noonshade.core.needs.species import Grade, School, StageId
from noonshade.formats.document import Id, Label, Model
from noonshade.formats.plan_document import EnclosureLength, EnclosureSide, PlanDocument, RoomDocument
from noonshade.formats.results.design import DesignModel
from noonshade.formats.results.models import PatchStep, PhrasePart

Count = Annotated[int, Field(ge=1, le=50)]
Budget = Annotated[
    float, Field(ge=0, le=100_000, description="what lamps, heaters and thermostats may cost to buy")
]


class SizeModel(Model):
    """Inside sizes of an enclosure, m."""

    length_m: EnclosureLength
    depth_m: EnclosureSide
    height_m: EnclosureSide


class FittingRequest(Model):
    """Ask for the least enclosure for a number of animals."""

    species_id: Id
    count: Count = 1
    stage: StageId = "adult"


class FittingResponse(Model):
    """The enclosure to build at that stage, of the usual kind; the least, and where that is from."""

    size: SizeModel
    least: SizeModel
    kind: EnclosureKind
    grade: Grade
    source: str


class OwnedModel(Model):
    """Lamps of one kind that lie ready."""

    lamp_id: Id
    count: Count


class DesignRequest(Model):
    """Ask for set-ups; without a size or kind fitting ones are chosen. The room is never changed."""

    name: Label
    species_id: Id
    stage: StageId = "adult"
    count: Count = 1
    school: School = "overlap"
    size: SizeModel | None = None
    kind: EnclosureKind | None = None
    room: RoomDocument
    owned: Annotated[list[OwnedModel], Field(max_length=200)] = []
    never: Annotated[list[Never], Field(max_length=10)] = []
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    budget: Budget | None = None


class DesignStatus(Model):
    """How far a design is; ``best`` is the best so far, ``result`` what it came to once it has ended."""

    id: str
    state: Literal["running", "done", "failed"]
    seconds: float
    screened: int
    expected: int
    best: PlanDocument | None
    best_failing: int | None
    result: DesignModel | None
    problem: str
    problem_at: str


class RepairRequest(Model):
    """Ask for the fewest changes that together fix a plan."""

    document: PlanDocument


class RepairChange(Model):
    """One change in words, and as steps on the document with the changes before it."""

    sentence: list[PhrasePart]
    patch: list[PatchStep]


class RepairResponse(Model):
    """Changes in their order, and what fails before and with all of them."""

    changes: list[RepairChange]
    failing_before: int
    failing_after: int
    left: list[list[PhrasePart]]


class RedesignRequest(Model):
    """Ask for set-ups of an existing enclosure; walls, things, room and what is locked stay."""

    document: PlanDocument
    scope: Scope = "equipment"
    owned: Annotated[list[OwnedModel], Field(max_length=200)] = []
    never: Annotated[list[Never], Field(max_length=10)] = []
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    budget: Budget | None = None
