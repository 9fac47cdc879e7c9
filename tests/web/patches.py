"""JSON patches (RFC 6902), as far as fixes use them."""

from __future__ import annotations

from typing import Any


def applied(raw: dict[str, Any], patch: list[dict[str, Any]]) -> dict[str, Any]:
    """The document after steps, as RFC 6902 has them."""
    for step in patch:
        *keys, last = step["path"][1:].split("/")
        here: Any = raw
        for key in keys:
            here = here[int(key)] if isinstance(here, list) else here.setdefault(key, [])
        if step["op"] == "add":
            here.append(step["value"])
        elif step["op"] == "remove":
            here.pop(int(last))
        elif isinstance(here, list):
            here[int(last)] = step["value"]
        else:
            here[last] = step["value"]
    return raw
