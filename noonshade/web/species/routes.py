"""The species desk: finding, looking at, weighing, adding and changing species."""

from __future__ import annotations

from flask import Blueprint, Response

from noonshade.core.needs.derived import stage_needs
from noonshade.core.needs.find import find_species
from noonshade.core.needs.species import SCHOOLS, Species
from noonshade.formats.results.evaluation import need_model
from noonshade.formats.species_document import (
    SpeciesDocument,
    document_from_species,
    parse_species,
    species_from_document,
    species_json,
)
from noonshade.services.application import Services
from noonshade.services.species import species_uses, store_species
from noonshade.store.errors import NotFoundError
from noonshade.web.catalog.serializers import species_model
from noonshade.web.http import downloads
from noonshade.web.http.routing import operation
from noonshade.web.species.schemas import (
    CreateSpecies,
    FindSpeciesRequest,
    FindSpeciesResponse,
    FoundSpecies,
    SaveSpecies,
    SettledNeeds,
    SettleRequest,
    SettleResponse,
    SpeciesRevision,
    SpeciesRevisions,
    SpeciesSheet,
    SpeciesUse,
)

species_api = Blueprint("species", __name__, url_prefix="/api")


def _uses(services: Services, species_id: str) -> list[SpeciesUse]:
    return [SpeciesUse(plan_id=plan, name=name) for plan, name in species_uses(services, species_id)]


def _settled(species: Species) -> list[SettledNeeds]:
    return [
        SettledNeeds(
            stage=stage.id,
            school=school,
            needs=[need_model(need) for need in stage_needs(species, stage.id, school)],
        )
        for stage in species.stages
        for school in SCHOOLS
    ]


def _sheet(services: Services, species_id: str) -> SpeciesSheet:
    library = services.library
    own, shipped = library.own_species(), library.catalog.species
    if species_id in own:
        record, document, species = own[species_id]
        revision: int | None = record.revision
    elif species_id in shipped:
        species, revision = shipped[species_id], None
        document = document_from_species(species)
    else:
        raise NotFoundError("species", species_id)
    return SpeciesSheet(
        species=species_model(species, own=revision is not None),
        document=document,
        revision=revision,
        shipped=species_id in shipped,
        settled=_settled(species),
        used_in=_uses(services, species_id),
    )


@operation(species_api, "GET", "/species/<species_id>", response=SpeciesSheet, problems=(404, 503))
def get_species(services: Services, species_id: str) -> SpeciesSheet:
    """One species with all its claims, settled by every school, and whether it is shipped or own."""
    return _sheet(services, species_id)


@operation(
    species_api, "POST", "/species/find", request_model=FindSpeciesRequest, response=FindSpeciesResponse
)
def find(services: Services, body: FindSpeciesRequest) -> FindSpeciesResponse:
    """Find species by scientific name, synonym or common name."""
    answer = find_species(services.library.species().values(), body.text)
    return FindSpeciesResponse(
        found=[
            FoundSpecies(
                id=hit.species.id,
                scientific_name=hit.species.scientific_name,
                common_name=hit.species.common_name,
                by=hit.by,
                name=hit.name,
            )
            for hit in answer.found
        ],
        ambiguous=answer.ambiguous,
    )


@operation(species_api, "POST", "/species/settle", request_model=SettleRequest, response=SettleResponse)
def settle_species(body: SettleRequest) -> SettleResponse:
    """Settle the claims of a draft by every school."""
    return SettleResponse(settled=_settled(species_from_document(body.document)))


@operation(
    species_api,
    "POST",
    "/species",
    request_model=CreateSpecies,
    response=SpeciesSheet,
    status=201,
    problems=(409, 503, 507),
)
def create_species(services: Services, body: CreateSpecies) -> SpeciesSheet:
    """Store a new or imported species, or an own view of a shipped one."""
    document = body.document
    species_from_document(document)
    store_species(services, document)
    return _sheet(services, document.id)


@operation(
    species_api,
    "PUT",
    "/species/<species_id>",
    request_model=SaveSpecies,
    response=SpeciesSheet,
    problems=(404, 409, 503, 507),
)
def save_species(services: Services, body: SaveSpecies, species_id: str) -> SpeciesSheet:
    """Change one of your own species; refused with 409 if it is not based on its newest state."""
    document = body.document.model_copy(update={"id": species_id})
    species_from_document(document)
    services.write(
        services.library.species_store.save,
        species_id,
        body.base_revision,
        document.scientific_name,
        species_json(document),
    )
    return _sheet(services, species_id)


@operation(
    species_api, "DELETE", "/species/<species_id>", response=None, status=204, problems=(404, 503, 507)
)
def remove_species(services: Services, species_id: str) -> None:
    """Remove an own species, or go back to the shipped one; plans that use it keep it."""
    services.write(services.library.species_store.remove, species_id)


@operation(
    species_api,
    "POST",
    "/species/<species_id>/bring-back",
    response=SpeciesSheet,
    problems=(404, 503, 507),
)
def bring_back_species(services: Services, species_id: str) -> SpeciesSheet:
    """Put a removed species back."""
    services.write(services.library.species_store.bring_back, species_id)
    return _sheet(services, species_id)


@operation(
    species_api, "GET", "/species/<species_id>/revisions", response=SpeciesRevisions, problems=(404, 503)
)
def species_revisions(services: Services, species_id: str) -> SpeciesRevisions:
    """Every state of an own species, newest first."""
    return SpeciesRevisions(
        revisions=[
            SpeciesRevision(number=r.number, created_at=r.created_at, document=parse_species(r.document))
            for r in services.library.species_store.revisions(species_id)
        ]
    )


@operation(
    species_api, "GET", "/species/<species_id>/export", response=SpeciesDocument, problems=(404, 503)
)
def export_species(services: Services, species_id: str) -> Response:
    """A species as a file."""
    document = _sheet(services, species_id).document
    return downloads.json_file(species_json(document), document.scientific_name, "species", "species")
