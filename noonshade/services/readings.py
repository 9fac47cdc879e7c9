"""Stored readings as the core takes them: which lie in the enclosure as it is now, and which still hold."""

from __future__ import annotations

from dataclasses import asdict

from noonshade.core.errors import PlanError
from noonshade.core.evaluate import Evaluation
from noonshade.core.readings import Accuracy, Kind, PredictedReading, Reading, Task
from noonshade.core.readings.instrument import INSTRUMENTS, stated
from noonshade.core.readings.reading import predicted
from noonshade.formats.plan_document import PlanDocument, PointDocument, parse_plan
from noonshade.formats.stale_parts import PartChanged, due_again, parts_changed
from noonshade.store.plans import UnknownPlanError
from noonshade.store.readings import ReadingRecord
from noonshade.web import current
from noonshade.web.readings.schemas import ExpectedModel, InstrumentModel, ReadingModel, TaskModel


class StaleReadings:
    """Which readings of a plan are due again, because of what was changed since each was taken."""

    def __init__(self, plan_id: str, document: PlanDocument) -> None:
        self.plan_id, self.document = plan_id, document
        self._since: dict[int, tuple[PartChanged, ...]] = {}

    def of(self, record: ReadingRecord) -> str | None:
        """The parts that were changed, None if the reading holds."""
        if record.revision not in self._since:
            self._since[record.revision] = self._changed(record.revision)
        return due_again(self._since[record.revision], reading_model(record).kind)

    def _changed(self, revision: int) -> tuple[PartChanged, ...]:
        try:
            then = current.plans().revision(self.plan_id, revision).document
        except UnknownPlanError:
            return ()
        return parts_changed(parse_plan(then), self.document)


def readings_held(
    plan_id: str, document: PlanDocument, evaluation: Evaluation
) -> list[tuple[ReadingRecord, Reading, str | None]]:
    """Stored readings that lie in the enclosure as it is now, and what makes each due again."""
    due, instruments = StaleReadings(plan_id, document), Instruments()
    found = []
    for record in current.readings().readings(plan_id):
        model = reading_model(record)
        reading = instruments.reading(record.id, model.kind, model.at_m, model.instrument_id, record.value)
        try:
            predicted(evaluation, (reading,))
        except PlanError:
            continue
        found.append((record, reading, due.of(record)))
    return found


class Instruments:
    """The keeper's instruments, those that were removed too: what was read with them was read with them."""

    def __init__(self) -> None:
        stored = current.readings().instruments(removed=True)
        self._known = {r.id: InstrumentModel.model_validate(asdict(r)) for r in stored}

    def label(self, key: str) -> str:
        """What an instrument is called; ``key`` itself for a common one."""
        return self._known[key].label if key in self._known else f"the {key}"

    def reading(
        self, key: str, kind: Kind, at: PointDocument | None, instrument: str | None, value: float = 0.0
    ) -> Reading:
        """A reading as the core takes it."""
        position = None if at is None else at.as_tuple()
        return Reading(key, kind, value, position, instrument or "", self._accuracy(kind, instrument or ""))

    def _accuracy(self, kind: Kind, instrument: str) -> Accuracy | None:
        """What its maker states, where it is made for such readings."""
        found = self._known.get(instrument)
        if found is None or found.accuracy is None or found.kind != INSTRUMENTS[kind]:
            return None
        return stated(found.kind, found.accuracy)


def reading_model(r: ReadingRecord) -> ReadingModel:
    """A stored reading for the screen."""
    at = None
    if r.x_m is not None and r.y_m is not None and r.z_m is not None:
        at = PointDocument(x_m=r.x_m, y_m=r.y_m, z_m=r.z_m)
    return ReadingModel.model_validate(
        {
            **{k: getattr(r, k) for k in ReadingModel.model_fields if k != "at_m"},
            "at_m": at,
        }
    )


def task_model(task: Task) -> TaskModel:
    """A task for the screen."""
    at = task.reading.position_m
    return TaskModel(
        id=task.reading.id,
        kind=task.reading.kind,
        place=task.place,
        place_id=task.place_id,
        at_m=None if at is None else PointDocument(x_m=at[0], y_m=at[1], z_m=at[2]),
        instrument=task.instrument,
        why=task.why,
        expected=expected_model(task.prediction),
        gain=task.gain,
    )


def expected_model(one: PredictedReading) -> ExpectedModel:
    """What is predicted, for the screen."""
    return ExpectedModel(value=one.value, low=one.low, high=one.high)
