"""What is remembered never shows in an answer."""

from __future__ import annotations

from dataclasses import replace

import pytest

from noonshade.core.evaluate import Evaluation, evaluate
from noonshade.core.heat import enclosure_model, local_radiation, radiation, seen
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.geometry import COARSE
from noonshade.core.light import mirrors, radiosity, returned, screens, shade
from noonshade.core.remembered import Remembered
from tests.builders import lifted, shipped_plan

PLACES = (
    (enclosure_model, "_STRUCTURES"),
    (enclosure_model, "_BEAMS"),
    (local_radiation, "_VIEWS"),
    (radiation, "_SHARED"),
    (seen, "_VIEWS"),
    (mirrors, "_BEHIND"),
    (radiosity, "_REFLECTIONS"),
    (returned, "_RESPONSES"),
    (returned, "_NODES"),
    (screens, "_CLOSED"),
    (shade, "_OBSTACLES"),
)


def figures(result: Evaluation) -> list[object]:
    places = [(p.air_c, p.probe_c, p.operative_c, p.surface_c, p.uvi_facing) for p in result.places]
    return [*places, *(c.value for c in result.checks), result.day.temperature_c.tobytes()]


@pytest.mark.parametrize("name", ["collared-lizard", "hermanns-tortoise", "panther-chameleon"])
def test_an_answer_is_the_same_whatever_was_computed_before(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    plan = shipped_plan(name)

    def forgotten() -> None:
        for module, memory in PLACES:
            assert isinstance(getattr(module, memory), Remembered)
            monkeypatch.setattr(module, memory, Remembered[object](16))

    forgotten()
    first = figures(evaluate(plan))
    assert figures(evaluate(plan)) == first
    forgotten()
    fixture = next(f for f in plan.fixtures if f.against is None)
    steady_climate(plan, "night", COARSE)
    evaluate(lifted(plan, fixture.id, fixture.position_m[2] - 0.01))
    evaluate(replace(plan, furnishings=plan.furnishings[1:]))
    assert figures(evaluate(shipped_plan(name))) == first


def test_equal_parts_are_found_again_and_others_are_not() -> None:
    memory = Remembered[list[int]](2)
    one = memory.get(((1, 2),), "a", lambda: [1])
    assert memory.get(((1, 2),), "a", lambda: [2]) is one
    assert memory.get(((1, 3),), "a", lambda: [3]) == [3]
    assert memory.get(((1, 2),), "b", lambda: [4]) == [4]
    # Of three only the latest two stay.
    assert memory.get(((1, 2),), "a", lambda: [5]) == [5]
