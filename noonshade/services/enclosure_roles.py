"""What enclosures are used for: a home, a spare, or quarantine."""

from __future__ import annotations

import json
from typing import Literal

from noonshade.services.application import Services
from noonshade.store.database import Transaction

EnclosureRole = Literal["home", "spare", "quarantine"]
ROLES = "enclosure-roles"


def enclosure_roles(services: Services, transaction: Transaction | None = None) -> dict[str, EnclosureRole]:
    """Roles by plan, of the enclosures that are not homes."""
    text = services.settings.get(ROLES, transaction)
    return {} if text is None else dict(json.loads(text))


def set_enclosure_role(
    services: Services, transaction: Transaction, plan_id: str, role: EnclosureRole
) -> None:
    """Store what an enclosure is used for."""
    roles = {k: v for k, v in enclosure_roles(services, transaction).items() if k != plan_id}
    if role != "home":
        roles[plan_id] = role
    services.settings.put(transaction, ROLES, json.dumps(roles))
