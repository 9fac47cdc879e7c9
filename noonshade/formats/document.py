"""What all JSON documents of Noon Shade share: how they are read, checked and complained about."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from noonshade.formats.versions import Upgrade, upgraded

D = TypeVar("D", bound=BaseModel)


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing wrong with a document: a JSON Pointer and a sentence saying what is allowed."""

    pointer: str
    message: str


class DocumentError(ValueError):
    """A document that cannot be used, with every problem found in it."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        super().__init__(
            "; ".join(f"{p.pointer}: {p.message}" if p.pointer else p.message for p in problems)
        )

    def __reduce__(self) -> tuple[type[DocumentError], tuple[list[Problem]]]:
        # Without this, one from another process could not be made again.
        return type(self), (self.problems,)


class Part(BaseModel):
    """Base: unknown fields are refused, numbers are finite, nothing is guessed."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, strict=True)


class Model(BaseModel):
    """Base of what the interface takes and gives: unknown fields are refused, numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


Id = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[A-Za-z0-9][A-Za-z0-9_.-]*$")]
Label = Annotated[str, Field(min_length=1, max_length=80)]


# Whole numbers of more digits than Python reads from text.
TOO_MANY_DIGITS = "a whole number has thousands of digits; no value of ours has more than 20"
# What a counter of revisions can come to.
RevisionNumber = Annotated[int, Field(ge=1, le=2**31 - 1)]


def read_json(text: str | bytes, largest_bytes: int, what: str) -> object:
    """Parse JSON text of limited size; ``what`` names the document, as in "a plan".

    Raises
    ------
    DocumentError
        If it is too large, not UTF-8, not JSON, nested too deeply or holds a number without value.
    """
    if len(text) > largest_bytes:
        raise DocumentError(
            [Problem("", f"the file is larger than {largest_bytes // 1000} kB; {what} is far smaller")]
        )
    try:
        return json.loads(text, parse_constant=_no_constant)
    except UnicodeDecodeError as error:
        raise DocumentError([Problem("", "the file is not UTF-8 text")]) from error
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise DocumentError([Problem("", f"not valid JSON at {where}: {error.msg}")]) from error
    except RecursionError as error:
        raise DocumentError([Problem("", "the JSON is nested too deeply")]) from error
    except DocumentError:
        raise
    except ValueError as error:
        raise DocumentError([Problem("", TOO_MANY_DIGITS)]) from error


NO_UPGRADES: Mapping[int, Upgrade] = {}


def read_document(
    raw: object,
    model: type[D],
    name: str,
    version: int,
    what: str,
    upgrades: Mapping[int, Upgrade] = NO_UPGRADES,
) -> D:
    """Check parsed JSON against a document model of a format and version.

    A document of an older version that ``upgrades`` knows is converted first.

    Raises
    ------
    DocumentError
        If it is not an object, of another format or version, or has values out of range.
    """
    if not isinstance(raw, dict):
        raise DocumentError([Problem("", f"a {what} is a JSON object")])
    if raw.get("format") != name:
        raise DocumentError([Problem("/format", f'not a Noon Shade {what}: must be "{name}"')])
    raw = upgraded(raw, upgrades)
    if raw.get("version") != version:
        known = sorted({*upgrades, version})
        versions = f"version{'s' if len(known) > 1 else ''} {' and '.join(str(v) for v in known)}"
        message = f"version {raw.get('version')!r} is not known; this program reads {versions}"
        raise DocumentError([Problem("/version", message)])
    try:
        return model.model_validate(raw)
    except ValidationError as error:
        raise DocumentError(problems_of(error, raw)) from error


def json_text(document: BaseModel) -> str:
    """A document as indented JSON text."""
    return json.dumps(document.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n"


def schema_of(model: type[BaseModel], title: str) -> dict[str, Any]:
    """JSON Schema (2020-12) of a document model."""
    schema = model.model_json_schema()
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": title,
        **{k: v for k, v in schema.items() if k != "title"},
    }


def problems_of(error: ValidationError, raw: object) -> list[Problem]:
    """Pydantic's errors as pointers into the document and sentences."""
    return [Problem(_pointer(e["loc"], raw), _sentence(dict(e))) for e in error.errors()]


def _pointer(location: tuple[int | str, ...], raw: object) -> str:
    """JSON Pointer of a location, leaving out the union tags pydantic puts into it."""
    here: Any = raw
    path = ""
    for depth, step in enumerate(location):
        last = depth == len(location) - 1
        if isinstance(here, Mapping) and (step in here or last):
            here = here.get(step)
        elif isinstance(here, list) and isinstance(step, int) and step < len(here):
            here = here[step]
        else:
            continue
        path += "/" + str(step).replace("~", "~0").replace("/", "~1")
    return path


def _sentence(error: dict[str, Any]) -> str:
    kind, context = error["type"], error.get("ctx", {})
    given = error.get("input")
    shown = repr(given) if isinstance(given, int | float | str | bool) else ""
    shown = f"{shown[:40]} given; " if shown else ""
    limits = {
        "greater_than": f"must be above {context.get('gt')}",
        "greater_than_equal": f"must be at least {context.get('ge')}",
        "less_than": f"must be below {context.get('lt')}",
        "less_than_equal": f"must be at most {context.get('le')}",
        "missing": "is missing",
        "extra_forbidden": "is not a known field",
        "finite_number": "must be a finite number",
        "float_type": "must be a number",
        "float_parsing": "must be a number",
        "literal_error": f"must be one of {context.get('expected')}",
        "string_pattern_mismatch": "may hold letters, digits, dot, dash and underscore only",
        "string_too_short": "must not be empty",
        "string_too_long": f"must have at most {context.get('max_length')} characters",
        "too_long": f"must have at most {context.get('max_length')} entries",
        "string_type": "must be text",
        "string_unicode": "must be text of whole characters (a surrogate has no other half)",
        "bool_type": "must be true or false",
        "list_type": "must be a list",
        "model_type": "must be a JSON object",
        "model_attributes_type": "must be a JSON object",
        "dict_type": "must be a JSON object",
        "int_type": "must be a whole number",
        "int_from_float": "must be a whole number",
        "int_parsing": "must be a whole number",
        "union_tag_invalid": f"must be one of {context.get('expected_tags')}",
        "union_tag_not_found": f"needs a {context.get('discriminator')}",
    }
    if kind in ("missing", "extra_forbidden"):
        return limits[kind]
    return shown + limits.get(kind, str(error["msg"]))


def _no_constant(name: str) -> float:
    raise DocumentError([Problem("", f"{name} is not a number a document can hold")])
