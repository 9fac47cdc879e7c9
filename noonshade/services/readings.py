"""Readings of an enclosure: which are valid, what they are predicted to show, and the fit to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import cast

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.plan import Plan, Point
from noonshade.core.readings import (
    Accuracy,
    Fit,
    FitError,
    Kind,
    PredictedReading,
    Reading,
    Task,
    fit_readings,
    fitted_values,
    predict_readings,
    propose_round,
    round_of_needs,
)
from noonshade.core.readings.evidence import measured_checks
from noonshade.core.readings.instrument import INSTRUMENTS, stated
from noonshade.core.readings.reading import predict_values
from noonshade.core.uncertainty.measured import Fitted
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.stale_parts import PartChanged, changed_parts, stale_because
from noonshade.services.application import Services
from noonshade.store.errors import NotFoundError
from noonshade.store.readings import ReadingRecord

# Readings proposed after a fit.
_NEXT = 2


@dataclass(frozen=True, slots=True)
class ValidReading:
    """A stored reading inside the enclosure, for the core; ``stale_because`` names changed parts."""

    record: ReadingRecord
    reading: Reading
    stale_because: str | None


@dataclass(frozen=True, slots=True)
class FitResult:
    """A fit of a plan to readings: ``catalogue`` is the plan before it."""

    catalogue: Plan
    fit: Fit
    fitted: Fitted
    readings: tuple[Reading, ...]
    next_readings: tuple[Task, ...]


def position_of(record: ReadingRecord) -> Point | None:
    """Where a reading was taken, m; None for one of the room."""
    if record.x_m is None or record.y_m is None or record.z_m is None:
        return None
    return (record.x_m, record.y_m, record.z_m)


class StaleReadings:
    """Which readings of a plan are out of date, and what changed since each was taken."""

    def __init__(self, services: Services, plan_id: str, document: PlanDocument) -> None:
        self._services = services
        self.plan_id, self.document = plan_id, document
        self._since: dict[int, tuple[PartChanged, ...]] = {}

    def of(self, record: ReadingRecord) -> str | None:
        """The parts that changed, None if the reading is valid."""
        if record.revision not in self._since:
            self._since[record.revision] = self._changed(record.revision)
        return stale_because(self._since[record.revision], cast(Kind, record.kind))

    def _changed(self, revision: int) -> tuple[PartChanged, ...]:
        try:
            then = self._services.plans.revision(self.plan_id, revision).document
        except NotFoundError:
            return ()
        return changed_parts(parse_plan(then), self.document)


class Instruments:
    """The keeper's instruments, removed ones included: their readings keep their accuracy."""

    def __init__(self, services: Services) -> None:
        self._known = {r.id: r for r in services.readings.instruments(removed=True)}

    def label(self, key: str) -> str:
        """What an instrument is called; ``key`` itself for a common one."""
        return self._known[key].label if key in self._known else f"the {key}"

    def reading(
        self, key: str, kind: Kind, at: Point | None, instrument: str | None, value: float = 0.0
    ) -> Reading:
        """A reading as the core takes it, with the accuracy its instrument's maker states."""
        return Reading(key, kind, value, at, instrument or "", self._accuracy(kind, instrument or ""))

    def _accuracy(self, kind: Kind, instrument: str) -> Accuracy | None:
        found = self._known.get(instrument)
        if found is None or found.accuracy is None or found.kind != INSTRUMENTS[kind]:
            return None
        return stated(found.kind, found.accuracy)


def valid_readings(
    services: Services, plan_id: str, document: PlanDocument, evaluation: Evaluation
) -> list[ValidReading]:
    """Convert stored readings to core readings; drop those outside the enclosure, flag stale ones."""
    stale, instruments = StaleReadings(services, plan_id, document), Instruments(services)
    found = []
    for record in services.readings.readings(plan_id):
        reading = instruments.reading(
            record.id, cast(Kind, record.kind), position_of(record), record.instrument_id, record.value
        )
        try:
            predict_values(evaluation, (reading,))
        except PlanError:
            continue
        found.append(ValidReading(record, reading, stale.of(record)))
    return found


def predict_each(
    services: Services, evaluation: Evaluation, readings: Sequence[Reading]
) -> list[PredictedReading | str]:
    """What each reading is predicted to show, or why it cannot be predicted."""
    reasons: dict[str, str] = {}
    for reading in readings:
        try:
            predict_values(evaluation, (reading,))
        except PlanError as error:
            reasons[reading.id] = error.message
    inside = tuple(r for r in readings if r.id not in reasons)
    known = services.sensitivities.compute(evaluation)
    predicted = dict(zip((r.id for r in inside), predict_readings(evaluation, known, inside), strict=True))
    return [reasons[r.id] if r.id in reasons else predicted[r.id] for r in readings]


def tasks_of_round(services: Services, document: str, most: int, needs: Sequence[str]) -> tuple[Task, ...]:
    """The smallest useful round of readings for a stored plan, or one of the needs that are named."""
    evaluation = services.evaluation.evaluate(parse_plan(document))
    known = services.sensitivities.compute(evaluation)
    if needs:
        return tuple(round_of_needs(needs, known, evaluation))
    return tuple(propose_round(evaluation.plan, most, known=known, evaluation=evaluation))


def fit_plan(services: Services, plan_id: str, document: PlanDocument) -> FitResult:
    """Fit a plan to its valid stored readings; nothing is stored.

    Raises
    ------
    FitError
        If there is no such reading.
    """
    evaluation = services.evaluation.evaluate(document.model_copy(update={"measured": None}))
    usable = [
        v
        for v in valid_readings(services, plan_id, document, evaluation)
        if v.stale_because is None and not v.record.excluded
    ]
    if not usable:
        raise FitError("no reading was taken since the enclosure was last changed; take a round first")
    readings = tuple(v.reading for v in usable)
    catalogue = evaluation.plan
    found = fit_readings(catalogue, readings)
    day = max(v.record.taken_at for v in usable)[:10]
    fitted = fitted_values(found, catalogue, day, measured_checks(found.evaluation, readings))
    following = propose_round(found.plan, _NEXT, taken=readings, evaluation=found.evaluation)
    return FitResult(catalogue, found, fitted, readings, tuple(following))
