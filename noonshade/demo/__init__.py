"""The Millrace Reptile Room: made-up enclosures to try the program with."""

from __future__ import annotations

import json
from datetime import date, timedelta
from importlib.resources import files
from typing import Any

from noonshade.formats.document import json_text
from noonshade.formats.plan_document import MistingDocument, PlanDocument, parse_plan, plan_json
from noonshade.formats.room_document import RoomClimateSettings, RoomLayout
from noonshade.store.database import Transaction
from noonshade.store.errors import NotFoundError
from noonshade.store.plans import PlanStore
from noonshade.store.settings import SettingsStore

DEMO_PLANS = (
    "collared-lizard",
    "corn-snake",
    "crocodile-lizard",
    "gargoyle-gecko",
    "giant-vinegaroon",
    "hermanns-tortoise",
    "panther-chameleon",
    "whites-tree-frog",
)


# How some enclosures were before, made up: days ago, why it was changed then, and what was
# otherwise until the next change; the last is the plan as it ships.
_BEFORE: dict[str, tuple[tuple[int, str, dict[str, Any]], ...]] = {
    "collared-lizard": (
        (243, "Demo plan", {"photoperiod_h": 12.5}),
        (181, "Lamps 13.5 h a day", {"photoperiod_h": 13.5}),
        (60, "Lamps 12 h a day", {}),
    ),
    "hermanns-tortoise": (
        (243, "Demo plan", {"photoperiod_h": 14.0}),
        (62, "Indoors again: lamps 13 h a day", {}),
    ),
    "panther-chameleon": (
        (243, "Demo plan", {"mistings": [MistingDocument(hours=[8.0], litres=0.15)]}),
        (139, "Mist in the evening too", {}),
    ),
}


def seed(plans: PlanStore, until: date | None = None) -> int:
    """Store the demo plans that are not there yet; returns how many were added.

    With a last day, some have the made-up changes of the months before it.
    """
    with plans.database.transaction() as transaction:
        return _seed(transaction, plans, until)


def _seed(transaction: Transaction, plans: PlanStore, until: date | None) -> int:
    added = 0
    for name in DEMO_PLANS:
        try:
            plans.get(name, transaction)
            continue
        except NotFoundError:
            pass
        document = parse_plan((files("noonshade.demo") / f"{name}.json").read_bytes())
        if until is None:
            plans.create(transaction, document.name, plan_json(document), "Demo plan", plan_id=name)
        else:
            _with_past(transaction, plans, name, document, until)
        added += 1
    return added


def _with_past(
    transaction: Transaction, plans: PlanStore, name: str, document: PlanDocument, until: date
) -> None:
    listed = _BEFORE.get(name, ((243, "Demo plan", {}),))
    for number, (ago, summary, before) in enumerate(listed):
        at = f"{until - timedelta(days=ago)}T10:00:00.000Z"
        text = plan_json(document.model_copy(update=before))
        if number == 0:
            plans.create(transaction, document.name, text, summary, plan_id=name, at=at)
        else:
            plans.save(transaction, name, number, document.name, text, summary, at=at)


def seed_room(settings: SettingsStore) -> None:
    """Store the climate of the demo room and its racks, where they were never set."""
    shipped = json.loads((files("noonshade.demo") / "room.json").read_text(encoding="utf-8"))
    with settings.database.transaction() as transaction:
        for name, model in (("climate", RoomClimateSettings), ("layout", RoomLayout)):
            if settings.get(f"room-{name}", transaction) is None:
                settings.put(transaction, f"room-{name}", json_text(model.model_validate(shipped[name])))
