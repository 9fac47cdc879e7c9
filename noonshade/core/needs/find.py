"""Finding a species by any of its names."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Literal, get_args

from noonshade.core.needs.species import Species

By = Literal[
    "scientific name", "synonym", "common name", "everyday name", "part of a name", "a name much like it"
]
_ORDER: tuple[By, ...] = get_args(By)
# How alike a text and a name must be to be taken for a slip of the pen, as ``difflib`` counts it. Estimate.
ALIKE = 0.82


@dataclass(frozen=True, slots=True)
class SpeciesMatch:
    """A species, by which kind of its names, and the name that matched."""

    species: Species
    by: By
    name: str


@dataclass(frozen=True, slots=True)
class Answer:
    """Everything a text may mean, best first; ``ambiguous`` if a whole name, or one like it, is shared."""

    found: tuple[SpeciesMatch, ...]
    ambiguous: bool


def plain(text: str) -> str:
    """Lower case without accents, typographic apostrophes or double spaces.

    Parameters
    ----------
    text : str
        The text.

    Returns
    -------
    str
        The text to compare names by.
    """
    stripped = unicodedata.normalize("NFKD", text.casefold().replace("\u2019", "'"))
    return " ".join("".join(c for c in stripped if not unicodedata.combining(c)).split())


def find_species(species: Iterable[Species], text: str) -> Answer:
    """Species with a name that is, or holds, a text.

    A whole name goes before a part of one; where neither is found, names spelled nearly alike are. Common
    names are shared: where the text is a whole name of several species, all are given and the answer is
    ambiguous.

    Parameters
    ----------
    species : Iterable[Species]
        The species.
    text : str
        The text.

    Returns
    -------
    Answer
        The species found, the best match first, and whether the name is ambiguous.
    """
    wanted = plain(text)
    if not wanted:
        return Answer((), False)
    known = tuple(species)
    found = [hit for one in known if (hit := _match(one, wanted)) is not None]
    if not found:
        found = _alike(known, wanted)
    found.sort(key=lambda hit: (_ORDER.index(hit.by), hit.species.scientific_name))
    whole = [hit for hit in found if hit.by != "part of a name"]
    return Answer(tuple(whole or found), len(whole) > 1)


def _match(species: Species, wanted: str) -> SpeciesMatch | None:
    names: list[tuple[By, str]] = [("scientific name", species.scientific_name)]
    names += [("synonym", name) for name in species.synonyms]
    names += [("common name", name) for name in species.common_names]
    names += [("everyday name", name) for name in species.everyday_names]
    for by, name in names:
        if plain(name) == wanted:
            return SpeciesMatch(species, by, name)
    for _, name in names:
        if wanted in plain(name):
            return SpeciesMatch(species, "part of a name", name)
    return None


def _alike(species: tuple[Species, ...], wanted: str) -> list[SpeciesMatch]:
    """Species with a name spelled nearly like a text."""
    names: dict[str, list[tuple[Species, str]]] = {}
    for one in species:
        for name in (one.scientific_name, *one.synonyms, *one.common_names, *one.everyday_names):
            names.setdefault(plain(name), []).append((one, name))
    close = get_close_matches(wanted, names, n=3, cutoff=ALIKE)
    found: dict[str, SpeciesMatch] = {}
    for name in close:
        for one, shown in names[name]:
            found.setdefault(one.id, SpeciesMatch(one, "a name much like it", shown))
    return list(found.values())
