"""Stored results: valid as long as what they rest on, computed behind everything else."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from noonshade.formats.results.room import ChecksResult
from noonshade.services import results as results_module
from noonshade.services.application import Services, open_services
from noonshade.services.background_results import BackgroundResults
from noonshade.services.results import Computation, ResultService, fingerprint
from noonshade.services.workers import CancelledError, DeadlineError
from noonshade.store.results import StoredResult
from tests.shared import CACHES, seeded

PLAN = "collared-lizard"


@pytest.fixture
def services(tmp_path: Path) -> Services:
    return open_services(seeded(tmp_path / "d.db"), caches=CACHES)


@pytest.fixture
def quick(services: Services, monkeypatch: pytest.MonkeyPatch) -> ResultService:
    """Results that take no time: of each plan that one thing fails."""
    monkeypatch.setattr(
        ResultService, "_computed", lambda *_: ChecksResult(failing=1, cause="too warm").model_dump_json()
    )
    return services.results


def of_plan(results: ResultService, plan_id: str = PLAN) -> set[str]:
    return {wanted.kind for wanted in results.now().missing() if wanted.plan_id == plan_id}


def put_all(results: ResultService) -> None:
    for wanted in results.now().missing():
        results.put(results.compute(wanted))


def change(services: Services, plan_id: str = PLAN) -> None:
    record = services.plans.get(plan_id)
    raw = json.loads(record.document)
    raw["room"]["day_temperature_c"] += 0.5
    services.write(services.plans.save, plan_id, record.revision, record.name, json.dumps(raw), "Changed")


def test_results_say_what_an_evaluation_says(services: Services) -> None:
    results = services.results
    first, last = results.now().missing()[0], results.now().missing()[-1]
    assert (first.kind, last.kind) == ("checks", "forecast")
    wanted = Computation("checks", PLAN, 1)
    results.put(results.compute(wanted))
    evaluation = services.evaluation.evaluate(results_module.parse_plan(services.plans.get(PLAN).document))
    found = next(one.checks for one in results.now().known() if one.plan_id == PLAN)
    assert found is not None
    assert found.failing == len(evaluation.failing) > 0
    assert {c.id: c.value for c in found.checks} == {c.id: c.value for c in evaluation.checks}
    assert of_plan(results) == {"forecast"}
    # They are in the data file, not in this program.
    assert open_services(services.database.path).results.now().known() == results.now().known()


def test_a_result_is_computed_anew_when_what_it_rests_on_changes(
    services: Services, quick: ResultService, monkeypatch: pytest.MonkeyPatch
) -> None:
    put_all(quick)
    assert quick.now().missing() == []
    change(services)
    assert of_plan(quick) == {"checks", "forecast"}
    assert len(quick.now().missing()) == 2
    put_all(quick)
    # An own view of a shipped species counts for the plans of that animal alone.
    species = services.evaluation.plan(
        results_module.parse_plan(services.plans.get(PLAN).document)
    ).animal.species
    monkeypatch.setattr(quick, "_owned", lambda: {f"species {species.id}": 1, "lamp unused": 4})
    assert {wanted.plan_id for wanted in quick.now().missing()} == {PLAN}
    put_all(quick)
    monkeypatch.setattr(results_module, "model_version", lambda: "another model")
    assert len(quick.now().missing()) == 2 * len(quick.now().plans)
    put_all(quick)
    # Names of what is used are marks of their own: none is taken for another.
    assert fingerprint("{}", ("lamp a 1",), {}) != fingerprint("{}", ("lamp a",), {"lamp a": 1})
    services.write(services.plans.remove, PLAN)
    assert of_plan(quick) == set()
    services.write(services.plans.bring_back, PLAN)
    assert of_plan(quick) == set()


def test_what_cannot_be_computed_has_its_reason(services: Services) -> None:
    record = services.plans.get(PLAN)
    raw = {**json.loads(record.document), "fixtures": "none"}
    services.write(services.plans.save, PLAN, 1, record.name, json.dumps(raw), "Broken")
    results = services.results
    results.put(results.compute(Computation("checks", PLAN, 2)))
    found = next(one.checks for one in results.now().known() if one.plan_id == PLAN)
    assert found is not None
    assert "/fixtures" in (found.problem or "")
    results.hold_failure(Computation("forecast", PLAN, 2), "it took longer than 180 s")
    assert of_plan(results) == set()
    services.write(services.plans.save, PLAN, 2, record.name, record.document, "Restored")
    assert of_plan(results) == {"checks", "forecast"}


def test_an_own_lamp_that_cannot_be_read_hides_no_result(services: Services, quick: ResultService) -> None:
    put_all(quick)
    services.write(services.library.lamp_store.create, "broken", "Broken", '{"format": "none"}')
    # No plan uses it: all that is known still is, and nothing fails.
    assert quick.now().missing() == []


def test_where_nothing_may_be_written_results_are_held(
    services: Services, quick: ResultService, monkeypatch: pytest.MonkeyPatch
) -> None:
    del quick
    reader = open_services(services.database.path, reads_only=True).results
    put_all(reader)
    assert reader.now().missing() == []
    assert len(services.results.now().missing()) == 2 * len(services.results.now().plans)
    # A result whose revision is gone, as after restoring a backup, is not stored.
    found = reader.compute(Computation("checks", PLAN, 1))
    services.results.put(StoredResult(PLAN, 7, "checks", found.fingerprint, (), "{}"))
    assert services.results.store.newest() == []


class Behind:
    """Background results whose computing can be held up."""

    def __init__(self, results: ResultService) -> None:
        self.results = results
        self.order: list[Computation] = []
        self.open = threading.Event()
        self.error: Exception | None = None
        self.background = BackgroundResults(results, self.compute)

    def compute(self, wanted: Computation, gone: Callable[[], bool]) -> StoredResult:
        self.order.append(wanted)
        while not self.open.wait(0.01):
            if gone():
                raise CancelledError("nobody waits for it")
        if self.error is not None:
            raise self.error
        return self.results.compute(wanted)

    def until(self, done: Callable[[], bool]) -> None:
        end = time.monotonic() + 20
        while not done():
            assert time.monotonic() < end
            time.sleep(0.01)

    def until_all_is_known(self) -> None:
        self.until(lambda: not self.results.now().missing())


@pytest.fixture
def behind(quick: ResultService) -> Iterator[Behind]:
    made = Behind(quick)
    yield made
    made.background.close()
    assert not any(t.is_alive() for t in threading.enumerate() if t.name.startswith("results-"))


def test_plans_on_show_are_computed_first_and_every_change_afterwards(
    services: Services, behind: Behind
) -> None:
    services.results.shown = frozenset({"corn-snake", PLAN})
    behind.open.set()
    behind.background.start()
    behind.until_all_is_known()
    count = len(services.plans.all())
    assert [w.kind for w in behind.order] == ["checks"] * count + ["forecast"] * count
    assert {w.plan_id for w in behind.order[:2]} == {"corn-snake", PLAN}
    change(services)
    behind.until_all_is_known()
    assert sorted(behind.order[2 * count :]) == [Computation(k, PLAN, 2) for k in ("checks", "forecast")]
    # Its own results were no reason to look again: nothing was computed twice.
    assert len(set(behind.order)) == len(behind.order)


def test_what_is_outdated_while_it_is_computed_is_given_up(services: Services, behind: Behind) -> None:
    services.results.shown = frozenset({PLAN})
    behind.background.start()
    behind.until(lambda: len(behind.order) == 1)
    change(services)
    behind.until(lambda: len(behind.order) == 2)
    assert [(w.plan_id, w.revision) for w in behind.order] == [(PLAN, 1), (PLAN, 2)]
    behind.open.set()
    behind.until_all_is_known()
    assert all(r.revision == 2 for r in services.results.store.newest() if r.plan_id == PLAN)


@pytest.mark.parametrize("error", [DeadlineError("it took longer than 180 s"), ValueError("a fault")])
def test_a_plan_that_fails_holds_up_no_other(services: Services, behind: Behind, error: Exception) -> None:
    behind.error = error
    behind.open.set()
    behind.background.start()
    behind.until_all_is_known()
    problems = {one.checks and one.checks.problem for one in services.results.now().known()}
    expected = str(error) if isinstance(error, DeadlineError) else "it cannot be computed"
    assert len(problems) == 1
    assert expected in str(problems)
    assert services.results.store.newest() == []
    behind.error = None
    change(services)
    behind.until(lambda: len(services.results.store.newest()) == 2)
