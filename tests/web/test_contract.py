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
            try:
                case.validate_response(answer, excluded_checks=ASIDE)
            except (FailureGroup, Failure) as error:
                wrong[case.operation.label] = f"{answer.status_code} {answer.text[:200]}: {error}"

        ask()
    assert wrong == {}
    assert tried > 40
