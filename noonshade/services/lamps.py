"""Own lamps: where they are used, and drafts from photometric files."""

from __future__ import annotations

import secrets
from dataclasses import dataclass

from noonshade.core.light.ageing import REFERENCE_H
from noonshade.core.light.lamp_curves import LampCondition, Match, find_lamps
from noonshade.core.plan import Screen
from noonshade.formats.lamp_document import LampDocument, lamp_from_document, lamp_json
from noonshade.formats.photometric import PhotometricFile
from noonshade.formats.plan_document import parse_plan
from noonshade.services.application import Services

# White LED light: lumens a watt of radiation; between 280 and 340 by colour. Estimate.
_LUMENS_PER_RADIANT_WATT = 300.0


@dataclass(frozen=True, slots=True)
class LampUse:
    """A plan that uses a lamp, and the labels of the fixtures it is in."""

    plan_id: str
    name: str
    fixtures: tuple[str, ...]


def lamp_uses(services: Services) -> dict[str, list[LampUse]]:
    """Plans by the lamps they use."""
    found: dict[str, list[LampUse]] = {}
    for record in services.plans.all():
        document = parse_plan(record.document)
        fixtures: dict[str, list[str]] = {}
        for fixture in document.fixtures:
            fixtures.setdefault(fixture.lamp_id, []).append(fixture.label)
        for lamp_id, labels in fixtures.items():
            use = LampUse(record.id, record.name, tuple(labels))
            found.setdefault(lamp_id, []).append(use)
    return found


def add_lamp(services: Services, document: LampDocument) -> str:
    """Store a new or imported lamp, under another id if its own is taken; the id.

    PlanError if the lamp is impossible.
    """
    lamp_from_document(document)
    if document.id in services.library.lamps() or not document.id.startswith("own-"):
        document = document.model_copy(update={"id": f"own-{secrets.token_hex(4)}"})
    services.write(services.library.lamp_store.create, document.id, document.label, lamp_json(document))
    return document.id


def change_lamp(services: Services, lamp_id: str, document: LampDocument, base_revision: int) -> None:
    """Store a change of an own lamp; StaleItemError if it is not based on the newest revision."""
    document = document.model_copy(update={"id": lamp_id})
    lamp_from_document(document)
    services.write(
        services.library.lamp_store.save, lamp_id, base_revision, document.label, lamp_json(document)
    )


def lamps_for_uvi(
    services: Services,
    uvi: tuple[float, float],
    distance_m: float,
    screen: Screen | None,
    measured: float | None,
    *,
    worn: bool,
) -> list[Match]:
    """Lamps that give a UV index in a range at a distance, the nearest to its middle first.

    ``measured`` is the share of UV the screen passes, if it was measured; ``worn`` takes lamps at the end
    of their life.
    """
    low, high = uvi
    found: list[Match] = []
    for lamp in services.library.lamps().values():
        hours = lamp.ageing.life_h if worn and lamp.ageing is not None else REFERENCE_H
        found += find_lamps([lamp], low, high, distance_m, LampCondition(screen, measured, hours))
    middle = (low + high) / 2
    return sorted(found, key=lambda m: (abs(m.uvi - middle), m.lamp.label))


def draft_from_photometric(read: PhotometricFile, name: str) -> tuple[LampDocument, list[str]]:
    """A lamp to start from: its light distribution is measured, the rest must be looked at."""
    notes = list(read.notes)
    if read.watts is None:
        notes.append("The file gives no watts; 20 W was put in. Correct it.")
    if read.lumens is None:
        notes.append("The file gives no lumens; the light was estimated from the watts.")
    notes.append("A light distribution has no information on UV: add readings or a spectrum for that.")
    watts = read.watts or 20.0
    share = 0.35 if read.lumens is None else read.lumens / _LUMENS_PER_RADIANT_WATT / watts
    label = (read.name or name.rsplit(".", 1)[0])[:80] or "Lamp from a file"
    table = read.table
    draft = LampDocument.model_validate(
        {
            "format": "noonshade-lamp",
            "version": 1,
            "id": f"own-{secrets.token_hex(4)}",
            "label": label,
            "kind": "led",
            "gives_light": True,
            "geometry": {
                "shape": "table",
                "diameter_m": table.diameter_m,
                "c_deg": list(table.c_deg),
                "gamma_deg": list(table.gamma_deg),
                "intensity": [list(row) for row in table.intensity],
            },
            "power_w": watts,
            "power_min_w": watts,
            "power_max_w": watts,
            "power_choices_w": [watts],
            "forward_radiant": min(max(share, 0.01), 0.9),
            "other_radiant": 0.0,
            "lumens_per_radiant_watt": _LUMENS_PER_RADIANT_WATT,
            "controls": [],
            "source": f"{read.format} file {name}"[:500],
            "sources": {
                "beam": f"{read.format} file",
                "power": f"{read.format} file" if read.watts else "estimate",
                "split": "estimate: lumens at 300 lm a watt of radiation",
                "light": f"{read.format} file" if read.lumens else "estimate",
            },
        }
    )
    return draft, notes
