"""Requests made from the interface's own description: each is answered as it says, none by an error."""

from __future__ import annotations

import logging
import os
from collections.abc import Iterator
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from schemathesis.core.failures import Failure, FailureGroup
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi.checks import positive_data_acceptance

from noonshade.web.app import NoonShade

# Of each operation and kind; ``make fuzz`` makes more.
EXAMPLES = int(os.environ.get("NOONSHADE_EXAMPLES", "2"))
# What it describes is the form of a value; whether there is such a species is another matter.
ASIDE = [positive_data_acceptance]


@pytest.fixture
def quiet() -> Iterator[None]:
    logging.disable(logging.CRITICAL)
    yield
    logging.disable(logging.NOTSET)


@pytest.mark.parametrize("mode", [GenerationMode.POSITIVE, GenerationMode.NEGATIVE], ids=lambda m: m.value)
@pytest.mark.usefixtures("quiet")
def test_every_operation_answers_as_described(app: NoonShade, mode: GenerationMode) -> None:
    wrong: dict[str, str] = {}
    tried = 0
    for found in schemathesis.openapi.from_wsgi("/api/openapi.json", app).get_all_operations():
        operation = found.ok()
        if operation.label == "POST /api/restore":
            # Takes an archive; tests/test_restore.py and the readers' mutations send those.
            continue
        if mode == GenerationMode.NEGATIVE and not (operation.body or operation.query):
            # Nothing can be wrong with a request that says nothing.
            continue

        @seed(1)
        @given(case=operation.as_strategy(generation_mode=mode))
        @settings(
            max_examples=EXAMPLES,
            deadline=None,
            database=None,
            suppress_health_check=list(HealthCheck),
            phases=[Phase.generate],
        )
        def ask(case: Any) -> None:
            nonlocal tried
            tried += 1
            answer = case.call()
            if answer.status_code == 413 and mode == GenerationMode.NEGATIVE:
                # Refused for its size, which is a refusal as good as any.
                return
            try:
                case.validate_response(answer, excluded_checks=ASIDE)
            except (FailureGroup, Failure) as error:
                wrong[case.operation.label] = f"{answer.status_code} {answer.text[:200]}: {error}"

        ask()
    assert wrong == {}
    assert tried > 40


def wrong_forms(schema: dict[str, Any]) -> Iterator[tuple[str, str, Any]]:
    """Fields of a request with their type and a value that only a lenient reader takes for one of it."""
    for name, field in schema.get("properties", {}).items():
        for kind in [field, *field.get("anyOf", [])]:
            if kind.get("type") == "boolean":
                yield from ((name, "boolean", wrong) for wrong in (1, 0, "true", "yes"))
            elif kind.get("type") in ("number", "integer"):
                yield from ((name, kind["type"], wrong) for wrong in ("1", True))


def test_numbers_are_no_texts_and_switches_no_numbers(app: NoonShade) -> None:
    client = app.test_client()
    description = client.get("/api/openapi.json").get_json()
    parts = description["components"]["schemas"]
    tried = 0
    for path, operations in description["paths"].items():
        for method, operation in operations.items():
            content = operation.get("requestBody", {}).get("content", {}).get("application/json")
            if content is None:
                continue
            schema = parts[content["schema"]["$ref"].rsplit("/", 1)[1]]
            for name, kind, wrong in wrong_forms(schema):
                tried += 1
                answer = client.open(
                    path.replace("{", "").replace("}", ""), method=method, json={name: wrong}
                )
                fields = {f["pointer"]: f["message"] for f in answer.get_json().get("fields", [])}
                assert answer.status_code == 422, (path, name, wrong)
                assert f"/{name}" in fields, (path, name, kind, wrong, fields)
    assert tried > 40
