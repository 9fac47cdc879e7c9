"""The Millrace Reptile Room: made-up boxes to try the program with."""

from __future__ import annotations

import json
from importlib.resources import files

from noonshade.formats.document import json_text
from noonshade.formats.plan_document import parse_plan, plan_json
from noonshade.formats.room_document import RoomClimateSettings, RoomLayout
from noonshade.store.plans import PlanStore, UnknownPlanError
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


def seed(plans: PlanStore) -> int:
    """Store the demo plans that are not there yet; returns how many were added."""
    added = 0
    for name in DEMO_PLANS:
        try:
            plans.get(name)
            continue
        except UnknownPlanError:
            pass
        document = parse_plan((files("noonshade.demo") / f"{name}.json").read_bytes())
        plans.create(document.name, plan_json(document), "Demo plan", plan_id=name)
        added += 1
    return added


def seed_room(settings: SettingsStore) -> None:
    """Store the climate of the demo room and how its boxes stand, where they were never set."""
    shipped = json.loads((files("noonshade.demo") / "room.json").read_text(encoding="utf-8"))
    for name, model in (("climate", RoomClimateSettings), ("layout", RoomLayout)):
        if settings.get(f"room-{name}") is None:
            settings.put(f"room-{name}", json_text(model.model_validate(shipped[name])))
