"""What the words of the screens mean, for what is printed."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files


@dataclass(frozen=True, slots=True)
class Term:
    """A word and what it means; ``source`` says where a figure in it comes from."""

    id: str
    term: str
    text: str
    source: str = ""


@cache
def glossary() -> dict[str, Term]:
    """All terms by their ids, shared with the screens."""
    groups = json.loads((files("noonshade.shared") / "glossary.json").read_text(encoding="utf-8"))
    return {term["id"]: Term(**term) for group in groups for term in group["terms"]}
