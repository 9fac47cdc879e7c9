"""What differs between two plan documents, thing by thing."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from noonshade.catalog import Catalog
from noonshade.core.phrase import Measure, Phrase, Unit
from noonshade.formats.plan_document import PlanDocument

_UNITS: dict[str, Unit] = {"m": "m", "c": "°C", "k": "K", "w": "W"}
_PLAIN_UNITS = {"h": " h", "deg": "°", "h_a_day": " h", "m3_h": " m³/h", "kg_h": " kg/h"}
# Kept as shares, shown in per cent.
_SHARES = {
    "relative_humidity",
    "wetness",
    "porosity",
    "measured_uv",
    "screen_measured",
    "days_follow",
    "misting_follow",
}
_WORDS = {
    "position x": "distance from the left",
    "position y": "distance from the front",
    "position z": "height above the enclosure floor",
    "probe x": "probe, from the left",
    "probe y": "probe, from the front",
    "probe z": "probe, above the enclosure floor",
    "at x": "distance from the left",
    "at y": "distance from the front",
    "at z": "height above the enclosure floor",
    "start x": "first end, from the left",
    "start y": "first end, from the front",
    "start z": "first end, above the enclosure floor",
    "end x": "other end, from the left",
    "end y": "other end, from the front",
    "end z": "other end, above the enclosure floor",
    "x": "middle, from the left",
    "y": "middle, from the front",
    "z": "height above the enclosure floor",
    "lamp": "kind of lamp",
    "screen": "screen below it",
    "screen measured": "what its screen lets through, measured",
    "measured uv": "UV it lets through, measured",
    "insulation kind": "insulation material",
    "underside": "underside above the ground",
    "below": "layers below",
    "mixed": "what is mixed in",
    "parts": "parts of its first material",
    "zones": "damper and drier parts",
    "label": "name",
    "lit": "burns",
    "mount": "fixed",
    "turn": "turned",
    "lean": "leaning",
    "tilt": "tilted",
    "hours": "hours burned",
    "wall": "thickness of its walls",
    "porosity": "gaps between the leaves",
    "stack": "stones under it",
    "stack length": "length of the stones under it",
    "stack width": "width of the stones under it",
    "day temperature": "temperature by day",
    "night temperature": "temperature by night",
    "day set point": "set by day",
    "night set point": "set by night",
    "cut out": "switches off for safety at",
    "relative humidity": "humidity",
    "winter day temperature": "temperature by day in winter",
    "winter night temperature": "temperature by night in winter",
    "winter relative humidity": "humidity in winter",
    "summer day temperature": "temperature by day in summer",
    "summer night temperature": "temperature by night in summer",
    "summer relative humidity": "humidity in summer",
    "months": "climate by month",
    "follows": "follows the climate set for the whole room",
    "tariff per kwh": "price of a kilowatt hour",
    "photoperiod": "lamps on, a day",
    "mistings": "misting",
    "fog": "fog, kg of water an hour",
    "fog per": "fog, share of the enclosure",
    "year": "course of the year",
    "measured": "fitted to readings",
    "insets": "panes and panels set into the walls",
    "neighbours": "enclosures beside it",
    "body length": "length from snout to vent",
    "low pigment": "little pigment",
    "count": "number of animals",
    "members": "animals, one by one",
    "school": "whose needs",
    "low": "coolest",
    "high": "warmest",
    "brumation begins week": "rest begins in week",
    "brumation weeks": "weeks of rest",
    "brumation low": "rest, coolest",
    "brumation high": "rest, warmest",
    "brumation light": "rest, lamps on a day",
    "brumation ramp weeks": "rest, weeks of going into it",
    "brumation": "rest over the winter",
    "settings": "set points by season",
    "swaps": "bulbs by season",
    "care": "misting and vents by season",
    "weeks": "weeks set by hand",
    "shifted": "seasons shifted by half a year",
    "standard time": "clock without summer time",
    "days follow": "share of the home's seasons in the length of day",
    "misting follow": "share of the home's seasons in misting",
    "day swing": "set by day, lower in the coolest week by",
    "night swing": "set by night, lower in the coolest week by",
}
_VALUES = {
    "air": "not stated",
    "on_mesh": "resting on the mesh",
    "on_wall": "on a wall",
    "screwed": "screwed to the lid",
    "hung": "hung on a chain or wire",
    "on_off": "switches on and off",
    "dimming": "dims",
    "pulse": "pulses",
    "day": "by day",
    "night": "by night",
    "always": "day and night",
    "overlap": "where they agree",
    "average": "the average",
    "careful": "the most careful",
    "home": "the wild climate",
    "gravid": "gravid female",
}
_LISTS = {
    "furnishings": "Furnishing",
    "fixtures": "Lamp or heater",
    "thermostats": "Thermostat",
    "fans": "Fan",
    "cold_packs": "Cold pack",
    "pins": "Pinned place",
}
_FACES = ("front", "back", "left", "right", "top", "floor")
# Lengths that differ by millimetres.
_THIN = {"thickness_m", "wall_m", "insulation_m", "gap_m", "diameter_m", "bead_m"}
# What comes with a plan so that it is complete; its id names it already.
_NOT_COMPARED = {"format", "version", "lamps", "species"}


@dataclass(frozen=True, slots=True)
class DocumentChange:
    """One value that differs: of which thing, what, and both values.

    A thing that came or went has no values, nor has a list of which only entries differ.
    """

    thing: str
    what: str
    before: Phrase
    after: Phrase


def document_changes(
    before: PlanDocument, after: PlanDocument, catalog: Catalog
) -> tuple[DocumentChange, ...]:
    """All differences, in the order of the document; things are the same if they have the same id.

    Parameters
    ----------
    before, after : PlanDocument
        The two documents.
    catalog : Catalog
        What the ids of lamps, meshes, materials and species mean, where the documents do not say so.

    Returns
    -------
    tuple[DocumentChange, ...]
        One for each value; walls that differ alike are said once.
    """
    a, b = before.model_dump(mode="json"), after.model_dump(mode="json")
    return tuple(_all(a, b, (_names_in(before, catalog), _names_in(after, catalog))))


_Names = Mapping[str, str]


def _names_in(document: PlanDocument, catalog: Catalog) -> _Names:
    """What the ids in a document mean to its reader."""
    names = {key: m.label for table in (catalog.meshes, catalog.materials) for key, m in table.items()}
    names |= {key: lamp.label for key, lamp in catalog.lamps.items()}
    names |= {key: species.common_name for key, species in catalog.species.items()}
    names |= {lamp.id: lamp.label for lamp in document.lamps}
    if document.species is not None:
        names[document.species.id] = document.species.common_names[0]
    names |= {thermostat.id: thermostat.label for thermostat in document.thermostats}
    return names


def _all(a: dict[str, Any], b: dict[str, Any], names: tuple[_Names, _Names]) -> Iterator[DocumentChange]:
    for key in a:
        if key in _NOT_COMPARED:
            continue
        if key in _LISTS:
            yield from _things(_LISTS[key], a[key], b[key], names)
        elif key == "enclosure":
            walls_a, walls_b = a[key].pop("walls"), b[key].pop("walls")
            yield from _values("Enclosure", a[key], b[key], "", names)
            yield from _walls(walls_a, walls_b, names)
        elif isinstance(a[key], dict) and isinstance(b[key], dict):
            yield from _values(key.capitalize(), a[key], b[key], "", names)
        elif a[key] != b[key]:
            yield _change("Plan", key, a[key], b[key], names)


def _walls(a: dict[str, Any], b: dict[str, Any], names: tuple[_Names, _Names]) -> Iterator[DocumentChange]:
    """Differences of the walls; those that differ alike in one line."""
    alike: dict[tuple[str, Phrase, Phrase], list[str]] = {}
    for face in _FACES:
        for change in _values("", a[face], b[face], "", names):
            alike.setdefault((change.what, change.before, change.after), []).append(face)
    for (what, before, after), faces in alike.items():
        yield DocumentChange(_faces_named(faces), what, before, after)


def _faces_named(faces: list[str]) -> str:
    if len(faces) == len(_FACES):
        return "All walls"
    words = [{"top": "lid", "floor": "floor"}.get(face, f"{face} wall") for face in faces]
    return _and(words).capitalize()


def _and(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def _things(
    kind: str, a: list[dict[str, Any]], b: list[dict[str, Any]], names: tuple[_Names, _Names]
) -> Iterator[DocumentChange]:
    theirs = {item["id"]: item for item in b}
    mine = {item["id"] for item in a}
    for item in a:
        other = theirs.get(item["id"])
        if other is None:
            yield DocumentChange(item["label"], f"{kind}, only before", (), ())
        else:
            yield from _values(other["label"], item, other, "", names)
    for item in b:
        if item["id"] not in mine:
            yield DocumentChange(item["label"], f"{kind}, only after", (), ())


def _values(
    thing: str, a: Any, b: Any, path: str, names: tuple[_Names, _Names]
) -> Iterator[DocumentChange]:
    if isinstance(a, dict) and isinstance(b, dict):
        for key in sorted({*a, *b}, key=[*a, *b].index):
            if key != "id":
                yield from _values(thing, a.get(key), b.get(key), f"{path}/{key}" if path else key, names)
    elif a != b:
        yield _change(thing, path, a, b, names)


def _change(thing: str, path: str, a: Any, b: Any, names: tuple[_Names, _Names]) -> DocumentChange:
    what = _name(path)
    if isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
        return DocumentChange(thing, f"{what}: changed", (), ())
    return DocumentChange(thing, what, _shown(path, a, names[0]), _shown(path, b, names[1]))


def _bare(key: str) -> str:
    return re.sub(r"_(m|c|k|w|h|m2|m3_h|kg_h|deg|id)$", "", key)


def _name(path: str) -> str:
    words = " ".join(_bare(part).replace("_", " ") for part in path.split("/"))
    return _WORDS.get(words, words)


def _shown(path: str, value: Any, names: _Names) -> Phrase:
    key = path.rpartition("/")[2]
    if value is None:
        return ("none",)
    if isinstance(value, bool):
        return ("yes" if value else "no",)
    if isinstance(value, int | float):
        return _figure_shown(key, float(value))
    if isinstance(value, str):
        return (names.get(value, value),) if key.endswith("_id") else (_VALUES.get(value, value),)
    if isinstance(value, list):
        return (str(len(value)) if value else "none",)
    return ("given",)


def _figure_shown(key: str, value: float) -> Phrase:
    if key in _SHARES:
        return (Measure(100 * value, "%"),)
    unit = _UNITS.get(key.rpartition("_")[2]) if "_" in key else None
    if key in _THIN:
        return (Measure(value, "mm"),)
    if unit is not None:
        return (Measure(value, unit),)
    plain = next((text for end, text in _PLAIN_UNITS.items() if key.endswith(f"_{end}")), "")
    return (f"{value:g}{plain}",)
