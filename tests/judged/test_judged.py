"""Every judged situation: what the checks conclude is what a practised keeper does."""

from __future__ import annotations

import pytest

from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import PlaceKind
from noonshade.core.phrase import plain_text
from tests.evaluated import evaluate
from tests.judged.gear import COMPANY, GEAR, SPACE
from tests.judged.light import UV
from tests.judged.moisture import WATER
from tests.judged.setups import Situation
from tests.judged.warmth import BASKING, CEILING, PLACES, ROOMS

ALL = [*BASKING, *CEILING, *PLACES, *ROOMS, *UV, *WATER, *GEAR, *SPACE, *COMPANY]


def concluded(result: Evaluation, key: str) -> tuple[str, str] | str | None:
    """Status and severity of a check, severity of a finding; None where there is none."""
    if key.startswith("finding:"):
        kind = key.removeprefix("finding:")
        of_kind = [f.severity for f in result.findings if f.kind == kind]
        return of_kind[0] if of_kind else None
    check = next((c for c in result.checks if c.id == key), None)
    return None if check is None else (check.status, check.severity)


@pytest.mark.parametrize("situation", ALL, ids=lambda s: s.name)
def test_a_practised_keeper_concludes_the_same(situation: Situation) -> None:
    result = evaluate(situation.plan())
    found = {key: concluded(result, key) for key in situation.concludes}
    for key, wanted in situation.concludes.items():
        got = found[key]
        if isinstance(wanted, str) and isinstance(got, tuple):
            got = got[0]
        assert got == wanted, (key, explained(result, key))


def explained(result: Evaluation, key: str) -> str:
    """The figure and its reason, for a conclusion that differs."""
    for check in result.checks:
        if check.id == key:
            return f"{check.value} of {check.need.low}–{check.need.high}: {plain_text(check.reason)}"
    return "; ".join(f"{f.severity} {f.id}: {plain_text(f.message)}" for f in result.findings)


def test_the_table_is_of_many_animals_and_places() -> None:
    assert len(ALL) >= 120
    assert len({s.name for s in ALL}) == len(ALL)
    plans = [s.plan() for s in ALL]
    assert len({p.animal.species.group for p in plans}) == 8
    # Both conclusions are there: what is right and what is wrong.
    wanted = [w for s in ALL for w in s.concludes.values()]
    assert sum(w in ("ok", None) for w in wanted) > 40
    assert sum(w not in ("ok", None) for w in wanted) > 80


PLACES_JUDGED: tuple[PlaceKind, ...] = ("basking", "upper", "lower", "burrow", "water", "reachable")


@pytest.mark.parametrize("place", PLACES_JUDGED)
def test_every_kind_of_place_is_judged_both_ways(place: PlaceKind) -> None:
    stated = [w for s in ALL for key, w in s.concludes.items() if key.startswith(f"{place}:")]
    assert "ok" in stated
    assert any(w not in ("ok", None) for w in stated)
