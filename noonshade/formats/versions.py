"""Older versions of our documents, converted when they are read.

Version 2 renamed fields; no value changed. A document keeps whatever else it holds, so that a mistake in
an old file is reported by the same checks as one in a new file.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Document = dict[str, Any]
Upgrade = Callable[[Document], Document]

_PLACES = {"box": "enclosure", "retreat": "uv_refuge"}


def _renamed(document: Document, names: dict[str, str]) -> Document:
    """A copy in which keys have their new names, in the order they stood in."""
    return {names.get(key, key): value for key, value in document.items()}


def _check_id(old: object) -> object:
    """The id of a check, ``place:quantity``, with the place's new name."""
    if isinstance(old, str) and old.startswith("box:"):
        return "enclosure:" + old.removeprefix("box:")
    return old


def species_from_1(document: Document) -> Document:
    """Version 2 of a version 1 species document."""
    new = _renamed(document, {"wants": "needs", "box": "enclosure", "winter_rest": "brumation"})
    needs = new.get("needs")
    if isinstance(needs, list):
        new["needs"] = [
            {**need, "place": _PLACES.get(str(need.get("place")), need.get("place"))}
            if isinstance(need, dict)
            else need
            for need in needs
        ]
    return {**new, "version": 2}


def plan_from_1(document: Document) -> Document:
    """Version 2 of a version 1 plan document, the species inside it included."""
    new = {**_renamed(document, {"box": "enclosure"}), "version": 2}
    measured = new.get("measured")
    if isinstance(measured, dict):
        measured = _renamed(measured, {"seen": "measured_checks"})
        checks = measured.get("measured_checks")
        if isinstance(checks, list):
            measured["measured_checks"] = [_check_id(one) for one in checks]
        new["measured"] = measured
    if isinstance(new.get("year"), dict):
        new["year"] = _renamed(new["year"], {"rest": "brumation"})
    species = new.get("species")
    if isinstance(species, dict) and species.get("version") == 1:
        new["species"] = species_from_1(species)
    return new


def room_layout_from_1(document: Document) -> Document:
    """Version 2 of a version 1 room layout."""
    return {**_renamed(document, {"stands": "racks"}), "version": 2}


def commissioning_sheet_from_1(document: Document) -> Document:
    """A sheet that was signed before version 2, as it is read today."""
    needs = document.get("needs")
    if not isinstance(needs, list):
        return document
    new = []
    for line in needs:
        line = _renamed(line, {"verdict_id": "check_id"})
        line["check_id"] = _check_id(line.get("check_id"))
        need = line.get("need")
        if isinstance(need, dict):
            line["need"] = {**need, "place": _PLACES.get(str(need.get("place")), need.get("place"))}
        new.append(line)
    return {**document, "needs": new}


SPECIES_UPGRADES: dict[int, Upgrade] = {1: species_from_1}
PLAN_UPGRADES: dict[int, Upgrade] = {1: plan_from_1}
ROOM_LAYOUT_UPGRADES: dict[int, Upgrade] = {1: room_layout_from_1}


def upgraded(document: Document, upgrades: Mapping[int, Upgrade]) -> Document:
    """The document in the newest version there is a way to; unknown versions stay as they are."""
    while isinstance(version := document.get("version"), int) and version in upgrades:
        document = upgrades[version](document)
    return document
