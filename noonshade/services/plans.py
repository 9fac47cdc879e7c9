"""Plans: checked before they are stored, and stored beside each other where two edits meet."""

from __future__ import annotations

from contextlib import suppress
from functools import lru_cache

from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import PlanDocument, parse_plan, plan_json
from noonshade.services.application import Services
from noonshade.store.plans import PlanRecord, StaleRevisionError

# Documents of the room that stay read, so that it opens at once.
MOST_READ = 1000


def document_of(record: PlanRecord) -> PlanDocument:
    """The newest document of a plan, which others have as well: it must not be changed.

    Raises
    ------
    DocumentError
        If it cannot be read.
    """
    return _read(record.document)


@lru_cache(MOST_READ)
def _read(text: str) -> PlanDocument:
    return parse_plan(text)


def read_documents(services: Services) -> None:
    """Read the documents of all plans before they are asked for; what cannot be read is named then."""
    for record in services.plans.all()[:MOST_READ]:
        with suppress(DocumentError):
            document_of(record)


def complete_document(services: Services, document: PlanDocument) -> PlanDocument:
    """A document that can be built, with the own lamps and species it uses; errors as ``resolve``."""
    services.evaluation.plan(document)
    return services.library.packed(document)


def create_plan(services: Services, document: PlanDocument, summary: str) -> PlanRecord:
    """Store a new plan; errors as ``resolve``."""
    complete = complete_document(services, document)
    return services.write(services.plans.create, complete.name, plan_json(complete), summary)


def save_plan(
    services: Services, plan_id: str, base: int, document: PlanDocument, summary: str
) -> PlanRecord:
    """Store a new revision.

    Raises
    ------
    StaleRevisionError
        If it is not based on the newest revision; the document is stored beside it and the error says as
        which revision.
    """
    complete = complete_document(services, document)
    text = plan_json(complete)
    try:
        return services.write(services.plans.save, plan_id, base, complete.name, text, summary)
    except StaleRevisionError as error:
        number = services.write(services.plans.store_refused, plan_id, base, text, summary)
        raise StaleRevisionError(base, error.head, number) from error
