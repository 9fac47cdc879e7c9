"""The sample enclosure: one that fits all year, to look around in and to change without a risk."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from noonshade.formats.plan_document import PlanDocument, parse_plan, plan_json
from noonshade.services.application import Services
from noonshade.store.database import Transaction
from noonshade.store.errors import NotFoundError
from noonshade.store.plans import SAMPLE_ID, PlanRecord


@cache
def sample_document() -> PlanDocument:
    """The sample as it ships, which all callers share: it must not be changed."""
    return parse_plan((files("noonshade.demo") / "sample.json").read_bytes())


def open_sample(services: Services) -> PlanRecord:
    """The stored sample with its changes; it is stored first where it is not there yet."""
    try:
        return services.plans.get(SAMPLE_ID)
    except NotFoundError:
        return services.write(_create_sample, services)


def _create_sample(transaction: Transaction, services: Services) -> PlanRecord:
    try:
        # Two pages may open it at the same time.
        return services.plans.get(SAMPLE_ID, transaction)
    except NotFoundError:
        document = sample_document()
        return services.plans.create(
            transaction, document.name, plan_json(document), "Sample", plan_id=SAMPLE_ID
        )
