"""What the model says of stored revisions: computed once, and stored until what it rests on changes."""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from noonshade.core.errors import ConvergenceError, PlanError
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.results.room import ChecksResult, ForecastResult, checks_result, forecast_result
from noonshade.services.evaluation import EvaluationService, ForecastService
from noonshade.services.model_version import model_version
from noonshade.store.database import StoreError
from noonshade.store.plans import PlanRecord, PlanStore
from noonshade.store.results import RESULT_KINDS, ResultKind, ResultStore, StoredResult

log = logging.getLogger(__name__)


class Computation(NamedTuple):
    """One result of one revision that is to be computed."""

    kind: ResultKind
    plan_id: str
    revision: int


@dataclass(frozen=True, slots=True)
class EnclosureResults:
    """What is known of the newest revision of a plan; None for what is not computed yet."""

    plan_id: str
    revision: int
    checks: ChecksResult | None
    forecast: ForecastResult | None


@dataclass(frozen=True, slots=True)
class ResultsNow:
    """The plans of the room, and which of their stored results still say what the model says."""

    plans: list[PlanRecord]
    valid: Mapping[tuple[str, ResultKind], StoredResult]

    def missing(self) -> list[Computation]:
        """What is to be computed: the checks of all plans before the year of any."""
        return [
            Computation(kind, plan.id, plan.revision)
            for kind in RESULT_KINDS
            for plan in self.plans
            if (plan.id, kind) not in self.valid
        ]

    def known(self) -> list[EnclosureResults]:
        """What is known of each plan."""
        found = []
        for plan in self.plans:
            checks, forecast = self.valid.get((plan.id, "checks")), self.valid.get((plan.id, "forecast"))
            found.append(
                EnclosureResults(
                    plan.id,
                    plan.revision,
                    None if checks is None else _read_checks(checks.document),
                    None if forecast is None else _read_forecast(forecast.document),
                )
            )
        return found


class ResultService:
    """Stored results of the newest revisions of all plans."""

    def __init__(
        self,
        plans: PlanStore,
        store: ResultStore,
        evaluation: EvaluationService,
        forecasts: ForecastService,
    ) -> None:
        self.plans, self.store = plans, store
        self.evaluation, self.forecasts = evaluation, forecasts
        # Plans on show, which are computed before others.
        self.shown: frozenset[str] = frozenset()
        # Those that cannot be stored, as in a folder that may only be read.
        self._held: dict[tuple[str, ResultKind], StoredResult] = {}

    def now(self) -> ResultsNow:
        """The plans and their results at this moment."""
        with self.store.database.reading() as connection:
            plans, stored = self.plans.all(connection), self.store.newest(connection)
        owned = self._owned()
        by_id = {plan.id: plan for plan in plans}
        return ResultsNow(
            plans,
            {
                (result.plan_id, result.kind): result
                for result in (*stored, *list(self._held.values()))
                if (plan := by_id.get(result.plan_id)) is not None
                and plan.revision == result.revision
                and result.fingerprint == fingerprint(plan.document, result.uses, owned)
            },
        )

    def compute(self, wanted: Computation) -> StoredResult:
        """Compute a result; of a plan that cannot be computed it is the reason.

        Raises
        ------
        NotFoundError
            If the plan or its revision is gone.
        """
        revision = self.plans.revision(wanted.plan_id, wanted.revision)
        owned = self._owned()
        uses: tuple[str, ...] = ()
        try:
            document = parse_plan(revision.document)
            uses = _used(document)
            text = self._computed(wanted.kind, document)
        except (DocumentError, PlanError, ConvergenceError) as error:
            text = _RESULTS[wanted.kind](problem=str(error)).model_dump_json()
        mark = fingerprint(revision.document, uses, owned)
        return StoredResult(wanted.plan_id, wanted.revision, wanted.kind, mark, uses, text)

    def put(self, result: StoredResult) -> None:
        """Store a result, or hold it as long as the program runs where it cannot be stored."""
        try:
            self.store.database.write(self.store.put, result)
        except StoreError as error:
            log.info("a result is not stored: %s", error)
            self._held[result.plan_id, result.kind] = result

    def hold_failure(self, wanted: Computation, why: str) -> None:
        """Hold why a result cannot be had, until the plan is changed or the program starts again.

        Raises
        ------
        NotFoundError
            If the plan or its revision is gone.
        """
        document = self.plans.revision(wanted.plan_id, wanted.revision).document
        text = _RESULTS[wanted.kind](problem=why).model_dump_json()
        mark = fingerprint(document, (), {})
        self._held[wanted.plan_id, wanted.kind] = StoredResult(
            wanted.plan_id, wanted.revision, wanted.kind, mark, (), text
        )

    def _computed(self, kind: ResultKind, document: PlanDocument) -> str:
        if kind == "checks":
            return checks_result(self.evaluation.evaluate(document)).model_dump_json()
        return forecast_result(*self.forecasts.forecast(document)).model_dump_json()

    def _owned(self) -> dict[str, int]:
        """Revisions of the keeper's own lamps and species, by what results call them."""
        # As they are stored: one that cannot be read is named where its plan is computed.
        library = self.evaluation.library
        lamps = {f"lamp {record.id}": record.revision for record in library.lamp_store.all()}
        species = {f"species {record.id}": record.revision for record in library.species_store.all()}
        return {**lamps, **species}


def fingerprint(document: str, uses: Iterable[str], owned: Mapping[str, int]) -> str:
    """A mark of everything that a result depends on.

    Parameters
    ----------
    document : str
        The plan as it is stored.
    uses : iterable of str
        Lamps and species the plan uses, own ones or not: one that is shipped may get an own view.
    owned : mapping
        Revisions of the keeper's own lamps and species.
    """
    found = hashlib.sha256(model_version().encode())
    for name in uses:
        found.update(f"\n{name} {owned.get(name, 0)}".encode())
    found.update(f"\n{document}".encode())
    return found.hexdigest()


def _used(document: PlanDocument) -> tuple[str, ...]:
    lamps = {f"lamp {f.lamp_id}" for f in document.fixtures}
    return (*sorted(lamps), f"species {document.animal.species_id}")


_RESULTS: dict[ResultKind, type[ChecksResult | ForecastResult]] = {
    "checks": ChecksResult,
    "forecast": ForecastResult,
}


@lru_cache(2000)
def _read_checks(text: str) -> ChecksResult:
    return ChecksResult.model_validate_json(text)


@lru_cache(2000)
def _read_forecast(text: str) -> ForecastResult:
    return ForecastResult.model_validate_json(text)
