"""What differs between two plan documents, thing by thing."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from noonshade.core.phrase import Measure, Phrase, Unit
from noonshade.formats.plan_document import PlanDocument

_UNITS: dict[str, Unit] = {"m": "m", "c": "°C", "k": "K", "w": "W"}
_WORDS = {
    "position x": "distance from the left",
    "position y": "distance from the front",
    "position z": "height above the enclosure floor",
    "probe x": "probe, from the left",
    "probe y": "probe, from the front",
    "probe z": "probe, above the enclosure floor",
    "x": "middle, from the left",
    "y": "middle, from the front",
    "lamp id": "kind of lamp",
    "screen id": "screen below it",
    "material id": "material",
    "mesh id": "mesh",
    "thermostat id": "thermostat",
    "species id": "species",
    "underside": "underside above the ground",
    "hours": "hours burned",
    "lit": "lit",
}
_LISTS = {
    "furnishings": "Furnishing",
    "fixtures": "Lamp or heater",
    "thermostats": "Thermostat",
    "fans": "Fan",
    "cold_packs": "Cold pack",
    "pins": "Pinned place",
}
# What comes with a plan so that it is complete; its id names it already.
_NOT_COMPARED = {"format", "version", "lamps", "species"}


@dataclass(frozen=True, slots=True)
class DocumentChange:
    """One value that differs: of which thing, what, and both values; a thing that came or went has none."""

    thing: str
    what: str
    before: Phrase
    after: Phrase


def document_changes(before: PlanDocument, after: PlanDocument) -> tuple[DocumentChange, ...]:
    """All differences, in the order of the document; things are the same if they have the same id."""
    a, b = before.model_dump(mode="json"), after.model_dump(mode="json")
    return tuple(_all(a, b))


def _all(a: dict[str, Any], b: dict[str, Any]) -> Iterator[DocumentChange]:
    for key in a:
        if key in _NOT_COMPARED:
            continue
        if key in _LISTS:
            yield from _things(_LISTS[key], a[key], b[key])
        elif isinstance(a[key], dict) and isinstance(b[key], dict):
            yield from _values(_title(key), a[key], b[key], "")
        elif a[key] != b[key]:
            yield _change("Plan", key, a[key], b[key])


def _things(kind: str, a: list[dict[str, Any]], b: list[dict[str, Any]]) -> Iterator[DocumentChange]:
    theirs = {item["id"]: item for item in b}
    mine = {item["id"] for item in a}
    for item in a:
        other = theirs.get(item["id"])
        if other is None:
            yield DocumentChange(item["label"], f"{kind}, only before", (), ())
        else:
            yield from _values(other["label"], item, other, "")
    for item in b:
        if item["id"] not in mine:
            yield DocumentChange(item["label"], f"{kind}, only after", (), ())


def _values(thing: str, a: Any, b: Any, path: str) -> Iterator[DocumentChange]:
    if isinstance(a, dict) and isinstance(b, dict):
        for key in sorted({*a, *b}, key=[*a, *b].index):
            if key != "id":
                yield from _values(thing, a.get(key), b.get(key), f"{path}/{key}" if path else key)
    elif a != b:
        yield _change(thing, path, a, b)


def _change(thing: str, path: str, a: Any, b: Any) -> DocumentChange:
    return DocumentChange(thing, _name(path), _shown(path, a), _shown(path, b))


def _title(key: str) -> str:
    return key.replace("_", " ").capitalize()


def _bare(key: str) -> str:
    return re.sub(r"_(m|c|k|w|h|m2|m3_h|kg_h|deg)$", "", key)


def _name(path: str) -> str:
    words = " ".join(_bare(part).replace("_", " ") for part in path.split("/"))
    return _WORDS.get(words, words)


def _shown(path: str, value: Any) -> Phrase:
    if value is None:
        return ("none",)
    if isinstance(value, bool):
        return ("yes" if value else "no",)
    if isinstance(value, int | float):
        unit = _UNITS.get(path.rpartition("_")[2]) if "_" in path else None
        return (f"{value:g}",) if unit is None else (Measure(float(value), unit),)
    if isinstance(value, str):
        return (value,)
    if isinstance(value, list):
        return (f"{len(value)} of them" if value else "none",)
    return ("set",)
