"""The keeper's own species, and own views of shipped ones."""

from __future__ import annotations

from noonshade.formats.plan_document import parse_plan
from noonshade.formats.species_document import SpeciesDocument, species_json
from noonshade.services.application import Services
from noonshade.store.library import ItemTakenError


def store_species(services: Services, document: SpeciesDocument) -> None:
    """Store a new own species; one that was removed before comes back with it as a new revision.

    ItemTakenError if there is one of that id.
    """
    store, text = services.library.species_store, species_json(document)
    with services.database.transaction() as transaction:
        try:
            store.create(transaction, document.id, document.scientific_name, text)
        except ItemTakenError:
            if document.id in services.library.own_species():
                raise
            record = store.bring_back(transaction, document.id)
            store.save(transaction, document.id, record.revision, document.scientific_name, text)


def species_uses(services: Services, species_id: str) -> list[tuple[str, str]]:
    """Plans, as id and name, that are for a species."""
    return [
        (record.id, record.name)
        for record in services.plans.all()
        if parse_plan(record.document).animal.species_id == species_id
    ]
