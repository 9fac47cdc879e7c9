"""Finding a species by any of its names."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from noonshade.core.needs.species import Species

By = Literal["scientific name", "synonym", "common name", "part of a name"]
_ORDER: tuple[By, ...] = ("scientific name", "synonym", "common name", "part of a name")


@dataclass(frozen=True, slots=True)
class SpeciesMatch:
    """A species, by which kind of its names, and the name that matched."""

    species: Species
    by: By
    name: str


@dataclass(frozen=True, slots=True)
class Answer:
    """Everything a text may mean, best first; ``ambiguous`` if a whole name belongs to several."""

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

    A whole name goes before a part of one. Common names are shared: where the text is a whole common
    name of several species, all are given and the answer is ambiguous.

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
    found = [hit for one in species if (hit := _match(one, wanted)) is not None]
    found.sort(key=lambda hit: (_ORDER.index(hit.by), hit.species.scientific_name))
    whole = [hit for hit in found if hit.by != "part of a name"]
    return Answer(tuple(whole or found), len(whole) > 1)


def _match(species: Species, wanted: str) -> SpeciesMatch | None:
    names: list[tuple[By, str]] = [("scientific name", species.scientific_name)]
    names += [("synonym", name) for name in species.synonyms]
    names += [("common name", name) for name in species.common_names]
    for by, name in names:
        if plain(name) == wanted:
            return SpeciesMatch(species, by, name)
    for _, name in names:
        if wanted in plain(name):
            return SpeciesMatch(species, "part of a name", name)
    return None
