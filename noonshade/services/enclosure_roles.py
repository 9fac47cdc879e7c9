"""What enclosures are used for: a home, a spare that stands ready, or quarantine."""

from __future__ import annotations

import json
from typing import Literal

from noonshade.web import current

EnclosureRole = Literal["home", "spare", "quarantine"]
USES = "enclosure-roles"


def enclosure_roles() -> dict[str, EnclosureRole]:
    """What enclosures are used for, where it is no home."""
    text = current.settings().get(USES)
    return {} if text is None else dict(json.loads(text))


def set_enclosure_role(plan_id: str, use: EnclosureRole) -> None:
    """Store what an enclosure is used for."""
    uses = {key: value for key, value in enclosure_roles().items() if key != plan_id}
    if use != "home":
        uses[plan_id] = use
    current.settings().put(USES, json.dumps(uses))
