"""Roles of enclosures, and spare ones that can part animals that share a home."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.care.cohabitation import is_large_enough
from noonshade.core.plan import Enclosure
from noonshade.formats.plan_document import parse_plan
from noonshade.services.application import Services
from noonshade.services.enclosure_roles import EnclosureRole, enclosure_roles, set_enclosure_role
from noonshade.store.plans import PlanRecord


@dataclass(frozen=True, slots=True)
class SpareEnclosure:
    """A spare enclosure, and whether one animal can live there for a while."""

    plan: PlanRecord
    is_large_enough: bool


def spare_enclosures(services: Services, plan_id: str, home: Enclosure) -> list[SpareEnclosure]:
    """Spare enclosures beside that of a plan, against the size of the home."""
    roles = enclosure_roles(services)
    return [
        SpareEnclosure(
            other,
            is_large_enough(services.evaluation.plan(parse_plan(other.document)).enclosure, home),
        )
        for other in services.plans.all()
        if other.id != plan_id and roles.get(other.id) == "spare"
    ]


def set_role(services: Services, plan_id: str, role: EnclosureRole) -> None:
    """Store what an enclosure is used for; NotFoundError if there is no such plan."""
    with services.database.transaction() as transaction:
        services.plans.get(plan_id, transaction)
        set_enclosure_role(services, transaction, plan_id, role)
