"""Which readings of an enclosure a change of its plan makes out of date."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from noonshade.core.readings.instrument import Kind
from noonshade.formats.plan_document import PlanDocument

_TEMPERATURES: frozenset[Kind] = frozenset({"surface", "air", "air_min", "air_max"})
_UV: frozenset[Kind] = frozenset({"uvi_facing", "uvi_level"})
_DAMP: frozenset[Kind] = frozenset({"humidity", "humidity_night"})
_ALL = _TEMPERATURES | _UV | _DAMP
# What a reading does not depend on.
_ASIDE = {"label", "locked", "hours"}


@dataclass(frozen=True, slots=True)
class PartChanged:
    """A changed part of the enclosure, and the kinds of reading to take again."""

    part: str
    kinds: frozenset[Kind]


def changed_parts(before: PlanDocument, after: PlanDocument) -> tuple[PartChanged, ...]:
    """Changes that make readings taken before out of date; ageing is none."""
    a, b = before.model_dump(mode="json"), after.model_dump(mode="json")
    found = [
        *_lamps(a["fixtures"], b["fixtures"]),
        *_things(a["thermostats"], b["thermostats"], _TEMPERATURES),
        *_things(a["furnishings"], b["furnishings"], _ALL),
        *_things(a["fans"], b["fans"], _TEMPERATURES | _DAMP),
        *_things(a["cold_packs"], b["cold_packs"], _TEMPERATURES),
    ]
    for key, name, kinds in (
        ("enclosure", "the enclosure", _ALL),
        ("substrate", "the substrate", _ALL),
        ("mistings", "the misting", _DAMP),
        ("fog_per_m", "the fog", _UV | _DAMP),
    ):
        if a[key] != b[key]:
            found.append(PartChanged(name, kinds))
    return tuple(found)


def stale_because(changed: tuple[PartChanged, ...], kind: Kind) -> str | None:
    """The parts because of which readings of a kind are due again, None if they are valid."""
    names = dict.fromkeys(c.part for c in changed if kind in c.kinds)
    return ", ".join(names) or None


def _bare(item: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in item.items() if k not in _ASIDE}


def _things(a: list[dict[str, Any]], b: list[dict[str, Any]], kinds: frozenset[Kind]) -> list[PartChanged]:
    mine, theirs = ({item["id"]: item for item in side} for side in (a, b))
    labels = {key: item["label"] for key, item in {**mine, **theirs}.items()}
    return [
        PartChanged(labels[key], kinds)
        for key in labels
        if key not in mine or key not in theirs or _bare(mine[key]) != _bare(theirs[key])
    ]


def _lamps(a: list[dict[str, Any]], b: list[dict[str, Any]]) -> list[PartChanged]:
    """Lamps that were changed, or replaced by one that has burned for less."""
    found = _things(a, b, _ALL)
    theirs = {item["id"]: item for item in b}
    named = {c.part for c in found}
    for item in a:
        other = theirs.get(item["id"])
        if other is not None and other["hours"] < item["hours"] and other["label"] not in named:
            found.append(PartChanged(other["label"], _ALL))
    return found
