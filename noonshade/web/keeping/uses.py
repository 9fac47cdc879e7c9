"""What boxes are used for: a home, a spare that stands ready, or quarantine."""

from __future__ import annotations

import json
from typing import Literal

from noonshade.web import current

BoxUse = Literal["home", "spare", "quarantine"]
USES = "box-uses"


def box_uses() -> dict[str, BoxUse]:
    """What boxes are used for, where it is no home."""
    text = current.settings().get(USES)
    return {} if text is None else dict(json.loads(text))


def keep_use(plan_id: str, use: BoxUse) -> None:
    """Store what a box is used for."""
    uses = {key: value for key, value in box_uses().items() if key != plan_id}
    if use != "home":
        uses[plan_id] = use
    current.settings().put(USES, json.dumps(uses))
