"""Requests and responses of animals, the logbook and its photographs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field, model_validator

from noonshade.core.care.weight_trend import TrendId
from noonshade.formats.document import Id, Label, Model
from noonshade.web.http.dates import Day, Instant

EntryKind = Literal[
    "note",
    "observation",
    "weight",
    "length",
    "meal",
    "shed",
    "illness",
    "vet",
    "treatment",
    "breeding",
    "equipment",
    "move",
]
Outcome = Literal["", "eaten", "partly", "refused", "complete", "incomplete"]
# What an entry of a kind may say, besides its text; and what its value may be: g or m.
OUTCOMES: dict[EntryKind, tuple[Outcome, ...]] = {
    "meal": ("eaten", "partly", "refused"),
    "shed": ("complete", "incomplete"),
}
VALUES: dict[EntryKind, tuple[float, float, str]] = {
    "weight": (0.01, 500_000.0, "g"),
    "length": (0.001, 10.0, "m"),
}
Sex = Literal["unknown", "female", "male"]


class AnimalModel(Model):
    """One animal. ``plan_id`` is the enclosure it lives in; one that left has ``left_on``."""

    id: Id
    name: Label
    plan_id: Id | None = None
    species_id: Id
    sex: Sex = "unknown"
    hatched_on: Day | None = None
    came_on: Day | None = None
    left_on: Day | None = None
    note: Annotated[str, Field(max_length=2000)] = ""

    @model_validator(mode="after")
    def _order(self) -> AnimalModel:
        days = [d for d in (self.hatched_on, self.came_on, self.left_on) if d is not None]
        if days != sorted(days):
            raise ValueError("it hatches, comes and leaves in that order: look at the days again")
        return self


class TrendModel(Model):
    """What the weights of an animal say."""

    id: TrendId
    share: float
    text: str


class WeightPoint(Model):
    """A weight or a length: g or m."""

    at: str
    value: float


class KnownAnimal(Model):
    """An animal with its weights and lengths, earliest first, and their trend."""

    animal: AnimalModel
    weights: list[WeightPoint]
    lengths: list[WeightPoint]
    trend: TrendModel


class AnimalList(Model):
    """The keeper's animals, those that left last."""

    animals: list[KnownAnimal]


class PhotoModel(Model):
    """A photograph; its picture is at ``/api/photos/{id}``."""

    id: str
    width: int
    height: int
    caption: str


class EntryModel(Model):
    """One entry of the logbook, about an enclosure, an animal, both, or the whole room.

    ``value`` is in g for a weight and in m for a length; ``outcome`` is of a meal or a shed. The id is made
    where it was written.
    """

    id: Id
    plan_id: Id | None = None
    animal_id: Id | None = None
    kind: EntryKind
    at: Instant
    value: float | None = None
    food: Annotated[str, Field(max_length=200)] = ""
    outcome: Outcome = ""
    text: Annotated[str, Field(max_length=5000)] = ""

    @model_validator(mode="after")
    def _fits(self) -> EntryModel:
        if self.kind in VALUES:
            low, high, unit = VALUES[self.kind]
            if self.value is None or not low <= self.value <= high:
                raise ValueError(f"a {self.kind} lies between {low:g} and {high:g} {unit}")
        elif self.value is not None:
            raise ValueError(
                f"an entry of kind {self.kind} has no value; only {', '.join(VALUES)} have one"
            )
        allowed = OUTCOMES.get(self.kind, ())
        if self.outcome and self.outcome not in allowed:
            raise ValueError(f"{self.outcome} cannot be said of kind {self.kind}")
        if self.kind == "meal" and not self.outcome:
            raise ValueError(f"a meal is {' or '.join(allowed)}")
        if self.kind not in (*VALUES, *OUTCOMES) and not self.text.strip():
            raise ValueError("write what there is to say")
        return self


class StoredEntry(Model):
    """An entry with its photographs."""

    entry: EntryModel
    photos: list[PhotoModel]


class Logbook(Model):
    """Entries, the newest first; ``total`` counts those that were not sent too."""

    entries: list[StoredEntry]
    total: int


def _kinds(text: object) -> object:
    return [k for k in text.split(",") if k] if isinstance(text, str) else text


class LogbookQuery(Model):
    """Which entries are asked for: of an enclosure, an animal or kinds, with words, between days."""

    plan: Id | None = None
    animal: Id | None = None
    kinds: Annotated[list[EntryKind], BeforeValidator(_kinds), Field(description="with commas")] = []
    words: Annotated[str, Field(max_length=200)] = ""
    since: Day | None = None
    until: Annotated[Day | None, Field(description="the last day, itself included")] = None
    zone: Annotated[str, Field(max_length=60, description="time zone of the days")] = "UTC"
    most: Annotated[int, Field(ge=1, le=500)] = 100
    skip: Annotated[int, Field(ge=0, le=1_000_000)] = 0


class PhotoQuery(Model):
    """How large a photograph is wanted."""

    size: Literal["large", "small"] = "large"


class NewPhoto(Model):
    """What is said of a photograph that is sent."""

    id: Id
    caption: Annotated[str, Field(max_length=200)] = ""
