"""Every candidate for a failed check or a fault: its steps, on the document, give the candidate plan.

The interface hands out the steps, the model is asked about the plan; were they not the same, a keeper would
build something else than what was computed.
"""

from __future__ import annotations

import json
import math
from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass, replace
from typing import Any

import numpy as np
import pytest

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Candidate
from noonshade.core.fixes.levers import candidates_for
from noonshade.core.fixes.remedies import remedies_for
from noonshade.core.plan import Plan
from noonshade.core.plan_errors import plan_errors
from noonshade.demo import DEMO_PLANS
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import PlanDocument, plan_from
from noonshade.formats.plan_from_document import resolve
from noonshade.formats.results.evaluation import patch_of
from tests.builders import CATALOG, flawless_raw, shipped_raw
from tests.evaluated import evaluate
from tests.web.patches import applied

LAMPS, MESHES = tuple(CATALOG.lamps.values()), tuple(CATALOG.meshes.values())

OF_FIXTURES = (
    *("clearance", "climbed", "mesh-clamped", "fire", "fitting", "old", "night-light", "light-avoided"),
    *("over-water", "spot", "below-290", "uncontrolled", "mat-digger"),
)
OF_THERMOSTATS = ("probe-beam", "probe-far", "unit", "idle")
OF_BOXES = (
    *("uv-avoided", "heat-avoided", "no-cover", "apart", "gradient", "glare", "box-small", "cohabitation"),
    *("day-length", "patch"),
)


def imagined(result: Evaluation) -> Iterator[Finding]:
    """Every fault that could be found of the things of a plan, whether it is there or not."""
    plan = result.plan
    things = [
        *((kind, f.id) for f in plan.fixtures for kind in OF_FIXTURES if _can(kind, plan, f.id)),
        *((kind, t.id) for t in plan.thermostats for kind in OF_THERMOSTATS),
        *(("opening", h.id) for h in plan.hides),
        *((kind, "enclosure") for kind in OF_BOXES),
        *(("pairing", f.id) for f in plan.fixtures if f.thermostat_id is not None),
        *(("no-hide", end) for end in ("warm", "cool")),
    ]
    for kind, about in things:
        yield Finding(f"{kind}:{about}", about, "fault", ())


def _can(kind: str, plan: Plan, fixture_id: str) -> bool:
    fixture = next(f for f in plan.fixtures if f.id == fixture_id)
    if kind == "mat-digger":
        return fixture.lamp.kind == "mat"
    if kind == "uncontrolled":
        return bool(fixture.lamp.controls)
    return fixture.against is None or kind not in ("clearance", "climbed", "mesh-clamped", "fire")


def all_candidates(result: Evaluation) -> Iterator[tuple[Check | Finding, Candidate]]:
    """All candidates for every need missed either way, and for every fault."""
    for check in result.checks:
        if check.value is None:
            continue
        for status in ("low", "high"):
            if getattr(check.need, status) is None:
                continue
            missed = replace(check, status=status)
            for candidate in candidates_for(result, missed, LAMPS, MESHES):
                yield missed, candidate
    for finding in imagined(result):
        for candidate in remedies_for(result, finding, LAMPS):
            yield finding, candidate


def same(a: Any, b: Any) -> bool:
    """Whether two parts of plans are equal, arrays and rounding of steps included."""
    if a is b:
        return True
    if is_dataclass(a) and not isinstance(a, type):
        return type(a) is type(b) and all(
            same(getattr(a, f.name), getattr(b, f.name)) for f in fields(a) if f.compare
        )
    if isinstance(a, np.ndarray):
        return isinstance(b, np.ndarray) and a.shape == b.shape and bool(np.allclose(a, b))
    if isinstance(a, Mapping):
        return isinstance(b, Mapping) and a.keys() == b.keys() and all(same(a[k], b[k]) for k in a)
    if isinstance(a, tuple | list):
        return len(a) == len(b) and all(same(x, y) for x, y in zip(a, b, strict=True))
    if isinstance(a, float) and isinstance(b, int | float):
        return math.isclose(a, b, rel_tol=1e-9, abs_tol=6e-4)
    return bool(a == b)


def differing(a: Plan, b: Plan) -> list[str]:
    """Parts in which two plans differ."""
    return [f.name for f in fields(a) if not same(getattr(a, f.name), getattr(b, f.name))]


def read(raw: dict[str, Any]) -> PlanDocument:
    return plan_from(json.loads(json.dumps(raw)))


def spoiled() -> dict[str, Any]:
    """The demo enclosure with a mesh over it, the lamps on it, a mat, a pool, an old tube and a summer."""
    raw = flawless_raw()
    raw["enclosure"]["walls"]["top"] = {"kind": "mesh", "mesh_id": "fine-0.5-2.0"}
    tube = next(f for f in raw["fixtures"] if f["id"] == "uv-tube")
    tube.update(hours=9000.0, screen_id=None)
    tube["position_m"]["z_m"] = 0.63
    raw["room"]["summer"] = {
        "day_temperature_c": 40.0,
        "night_temperature_c": 38.0,
        "relative_humidity": 0.5,
    }
    raw["photoperiod_h"] = 20.0
    raw["animal"]["count"] = 3
    raw["thermostats"][0]["day_set_point_c"] = 59.0
    return raw


# A lizard, a frog, and one with all that can be wrong: the rest when all tests are asked for.
FEW = ("collared-lizard", "whites-tree-frog", "spoiled")
REST = [pytest.param(name, marks=pytest.mark.thorough) for name in DEMO_PLANS if name not in FEW]


@pytest.mark.parametrize("name", [*FEW, *REST])
def test_the_steps_of_every_candidate_lead_to_its_plan(name: str) -> None:
    raw = spoiled() if name == "spoiled" else shipped_raw(name)
    document = read(raw)
    result = evaluate(resolve(document, CATALOG))
    tried, refused = 0, 0
    for about, candidate in all_candidates(result):
        shown = (about.id, candidate.sentence)
        patch = [step.model_dump() for step in patch_of(candidate.changes, document)]
        after = read(applied(document.model_dump(mode="json"), patch))
        tried += 1
        if plan_errors(candidate.plan):
            # What cannot be built is refused on either way, with words.
            refused += 1
            with pytest.raises(DocumentError):
                resolve(after, CATALOG)
            continue
        assert differing(candidate.plan, resolve(after, CATALOG)) == [], shown
        if not isinstance(about, Finding):
            assert differing(candidate.plan, result.plan), f"{shown}: nothing is changed"
    assert tried > 20
    assert refused < 0.5 * tried
