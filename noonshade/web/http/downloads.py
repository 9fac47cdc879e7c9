"""Answers that a browser stores as a file."""

from __future__ import annotations

import re

from flask import Response


def file_name(name: str, otherwise: str) -> str:
    """A name as part of a file name, ``otherwise`` if no letter of it can be used."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or otherwise


def as_file(content: str | bytes, media: str, name: str) -> Response:
    """A response that the browser stores under a file name."""
    response = Response(content, content_type=media)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def json_file(text: str | bytes, name: str, otherwise: str, ending: str) -> Response:
    """A document as a file ``name.ending.json``, or ``otherwise.ending.json``."""
    return as_file(text, "application/json; charset=utf-8", f"{file_name(name, otherwise)}.{ending}.json")
