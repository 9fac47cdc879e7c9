"""Request and response models of the species desk."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from noonshade.core.needs.find import By
from noonshade.core.needs.species import School, StageId
from noonshade.formats.document import Model, RevisionNumber
from noonshade.formats.results.models import NeedModel
from noonshade.formats.species_document import SpeciesDocument
from noonshade.web.catalog.schemas import SpeciesModel


class SettledNeeds(Model):
    """The needs of a stage as one school settles them."""

    stage: StageId
    school: School
    needs: list[NeedModel]


class SpeciesUse(Model):
    """A plan for an animal of a species."""

    plan_id: str
    name: str


class SpeciesSheet(Model):
    """Everything about one species; ``revision`` is null for one that is only ``shipped``."""

    species: SpeciesModel
    document: SpeciesDocument
    revision: int | None
    shipped: bool
    settled: list[SettledNeeds]
    used_in: list[SpeciesUse]


class FoundSpecies(Model):
    """A species that may be meant, and the name that matched."""

    id: str
    scientific_name: str
    common_name: str
    by: By
    name: str


class FindSpeciesRequest(Model):
    """A name, whole or in part."""

    text: Annotated[str, Field(min_length=1, max_length=120)]


class FindSpeciesResponse(Model):
    """Everything it may mean; ``ambiguous`` if a whole name belongs to several."""

    found: list[FoundSpecies]
    ambiguous: bool


class CreateSpecies(Model):
    """A new or imported species, or an own view of a shipped one (by its id)."""

    document: SpeciesDocument


class SaveSpecies(Model):
    """A change of an own species, based on a revision."""

    document: SpeciesDocument
    base_revision: RevisionNumber


class SettleRequest(Model):
    """A draft whose needs are to be settled by every school."""

    document: SpeciesDocument


class SettleResponse(Model):
    """The needs of every stage by every school."""

    settled: list[SettledNeeds]


class SpeciesRevision(Model):
    """An earlier state of an own species."""

    number: int
    created_at: str
    document: SpeciesDocument


class SpeciesRevisions(Model):
    """All states, newest first."""

    revisions: list[SpeciesRevision]
