"""The OpenAPI document, made from the registered operations."""

from __future__ import annotations

import re
from typing import Any

from pydantic import BaseModel
from pydantic.json_schema import models_json_schema

from noonshade.version import __version__
from noonshade.web.http.problems import MEDIA_TYPE, ProblemModel
from noonshade.web.http.routing import OPERATIONS, Operation

_REASONS = {
    400: "The request is not valid JSON",
    401: "The passphrase, on an open network, or the key of a device is missing or wrong",
    403: "The request names another host or comes from another origin",
    404: "What is asked for does not exist",
    409: "Based on an old revision; both versions are stored",
    413: "The request is too large",
    415: "The content type is not application/json",
    422: "A value is out of range; the fields name it",
    429: "Too many wrong passphrases or keys came from this address; Retry-After is not over",
    503: "The data file cannot be used now, or too much is computed: Retry-After says when to try again",
    507: "The disk is full",
}
# What any request may be answered with, by the door or because the data file cannot be used now.
EVERYWHERE = (401, 403, 429, 503)


def openapi() -> dict[str, Any]:
    """The OpenAPI 3.1 document of all registered operations."""
    models: dict[str, type[BaseModel]] = {"ProblemModel": ProblemModel}
    inputs: set[type[BaseModel]] = set()
    for entry in OPERATIONS:
        if entry.response is not None:
            models[entry.response.__name__] = entry.response
        if entry.request is not None:
            inputs.add(entry.request)
    wanted = [(m, "serialization") for m in models.values()]
    wanted += [(m, "validation") for m in sorted(inputs, key=lambda m: m.__name__)]
    names, definitions = models_json_schema(
        wanted,  # type: ignore[arg-type]
        ref_template="#/components/schemas/{model}",
    )
    paths: dict[str, Any] = {}
    for entry in sorted(OPERATIONS, key=lambda o: (o.path, o.method)):
        template = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", entry.path)
        paths.setdefault(f"/api{template}", {})[entry.method.lower()] = _describe(entry, names)
    return {
        "openapi": "3.1.0",
        "info": {
            "title": "Noon Shade",
            "version": __version__,
            "description": "Plans, their evaluation, lamps and reference data. SI units and °C.",
        },
        "paths": paths,
        "components": {"schemas": definitions.get("$defs", {})},
    }


def _describe(entry: Operation, names: dict[Any, Any]) -> dict[str, Any]:
    parameters = []
    for kind, name in re.findall(r"<(?:(\w+):)?(\w+)>", entry.path):
        one = {"type": "integer"} if kind == "int" else {"type": "string"}
        parameters.append({"name": name, "in": "path", "required": True, "schema": one})
    if entry.query is not None:
        schema = entry.query.model_json_schema()
        parameters += [
            {
                "name": name,
                "in": "query",
                "required": name in schema.get("required", []),
                "schema": {k: v for k, v in part.items() if k != "title"},
            }
            for name, part in schema["properties"].items()
        ]
    if entry.media != "application/json":
        text = entry.media.startswith("text/") or entry.media.endswith("+xml")
        shape = {"type": "string"} if text else {"type": "string", "format": "binary"}
        success: dict[str, Any] = {"description": "Done", "content": {entry.media: {"schema": shape}}}
    elif entry.response is None and entry.status == 204:
        success = {"description": "Done"}
    elif entry.response is None:
        success = {"description": "Done", "content": {entry.media: {"schema": {"type": "object"}}}}
    else:
        success = {
            "description": "Done",
            "content": {"application/json": {"schema": names[(entry.response, "serialization")]}},
        }
    responses: dict[str, Any] = {str(entry.status): success}
    for status in sorted({*EVERYWHERE, *entry.problems}):
        responses[str(status)] = {
            "description": _REASONS[status],
            "content": {MEDIA_TYPE: {"schema": names[(ProblemModel, "serialization")]}},
        }
    described: dict[str, Any] = {
        "operationId": entry.name,
        "summary": entry.summary,
        "responses": responses,
    }
    if parameters:
        described["parameters"] = parameters
    if entry.takes is not None:
        content = {entry.takes: {"schema": {"type": "string", "format": "binary"}}}
        described["requestBody"] = {"required": True, "content": content}
    if entry.request is not None:
        described["requestBody"] = {
            "required": True,
            "content": {"application/json": {"schema": names[(entry.request, "validation")]}},
        }
    return described
