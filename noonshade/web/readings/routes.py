"""Operations on readings: instruments, rounds, and the readings themselves."""

from __future__ import annotations

import json
import secrets
from dataclasses import asdict

from flask import Blueprint, Response
from pydantic import ValidationError

from noonshade.formats.document import problems_of
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.readings_csv import readings_csv
from noonshade.services.application import Services
from noonshade.services.readings import StaleReadings, tasks_of_round
from noonshade.store.database import now
from noonshade.store.errors import NotFoundError
from noonshade.store.readings import InstrumentRecord, ReadingRecord, RoundRecord
from noonshade.web.http import downloads
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.readings.schemas import (
    CloseRound,
    InstrumentList,
    InstrumentModel,
    PutReadings,
    PutResult,
    ReadingList,
    ReadingModel,
    Refused,
    RoundModel,
    StartRound,
    StoredReading,
    TaskModel,
)
from noonshade.web.readings.serializers import reading_model, task_model

reading_api = Blueprint("readings", __name__, url_prefix="/api")


# -- instruments -----------------------------------------------------------------


@operation(reading_api, "GET", "/instruments", response=InstrumentList, problems=(503,))
def list_instruments(services: Services) -> InstrumentList:
    """The keeper's instruments."""
    return InstrumentList(
        instruments=[InstrumentModel.model_validate(asdict(r)) for r in services.readings.instruments()]
    )


@operation(
    reading_api,
    "PUT",
    "/instruments",
    request_model=InstrumentModel,
    response=InstrumentModel,
    problems=(503, 507),
)
def put_instrument(services: Services, body: InstrumentModel) -> InstrumentModel:
    """Store an instrument, new or changed."""
    services.write(
        services.readings.put_instrument,
        InstrumentRecord(body.id, body.label, body.kind, body.accuracy, body.calibrated),
    )
    return body


@operation(
    reading_api,
    "DELETE",
    "/instruments/<instrument_id>",
    response=None,
    status=204,
    problems=(404, 503, 507),
)
def remove_instrument(services: Services, instrument_id: str) -> None:
    """Take an instrument off the list; storing it again brings it back."""
    services.write(services.readings.remove_instrument, instrument_id)


# -- rounds ----------------------------------------------------------------------


@operation(
    reading_api,
    "POST",
    "/plans/<plan_id>/rounds",
    request_model=StartRound,
    response=RoundModel,
    status=201,
    problems=(404, 503, 507),
)
def start_round(services: Services, body: StartRound, plan_id: str) -> RoundModel:
    """Propose the smallest useful round of readings for a plan as it is stored, and begin it."""
    plan = services.plans.get(plan_id)
    tasks = services.computed(tasks_of_round, plan.document, body.most, body.needs)
    if not tasks:
        raise RequestProblem(
            422, "nothing-to-read", "There is nothing to read", "No instrument reads these."
        )
    record = RoundRecord(
        secrets.token_hex(6),
        plan_id,
        plan.revision,
        json.dumps([task_model(t).model_dump(mode="json") for t in tasks]),
        now(),
        None,
    )
    services.write(services.readings.start_round, record)
    return round_model(record)


@operation(reading_api, "GET", "/rounds/<round_id>", response=RoundModel, problems=(404, 503))
def get_round(services: Services, round_id: str) -> RoundModel:
    """One round."""
    return round_model(services.readings.round(round_id))


@operation(
    reading_api,
    "PUT",
    "/rounds/<round_id>",
    request_model=CloseRound,
    response=RoundModel,
    problems=(404, 503, 507),
)
def close_round(services: Services, body: CloseRound, round_id: str) -> RoundModel:
    """Close a round, or open it again."""
    return round_model(
        services.write(services.readings.close_round, round_id, now() if body.closed else None)
    )


def round_model(record: RoundRecord) -> RoundModel:
    """A round for the screen."""
    return RoundModel(
        id=record.id,
        plan_id=record.plan_id,
        revision=record.revision,
        tasks=[TaskModel.model_validate(t) for t in json.loads(record.tasks)],
        started_at=record.started_at,
        closed_at=record.closed_at,
    )


# -- readings --------------------------------------------------------------------


@operation(
    reading_api, "GET", "/plans/<plan_id>/readings", response=ReadingList, problems=(404, 503), pool="heavy"
)
def list_readings(services: Services, plan_id: str) -> ReadingList:
    """Rounds and readings of a plan, and which of them are due again after changes."""
    plan = services.plans.get(plan_id)
    due = StaleReadings(services, plan_id, parse_plan(plan.document))
    return ReadingList(
        rounds=[round_model(r) for r in services.readings.rounds(plan_id)],
        readings=[
            StoredReading(reading=reading_model(r), due=due.of(r))
            for r in services.readings.readings(plan_id)
        ],
        revision=plan.revision,
    )


@operation(
    reading_api,
    "PUT",
    "/plans/<plan_id>/readings",
    request_model=PutReadings,
    response=PutResult,
    problems=(404, 503, 507),
)
def put_readings(services: Services, body: PutReadings, plan_id: str) -> PutResult:
    """Store readings; sending one again changes it and never stores it twice."""
    plan = services.plans.get(plan_id)
    instruments = {i.id for i in services.readings.instruments(removed=True)}
    rounds = {r.id for r in services.readings.rounds(plan_id)}
    stored, refused = [], []
    for raw in body.readings:
        name = str(raw.get("id", ""))[:80]
        try:
            reading = ReadingModel.model_validate(raw)
        except ValidationError as error:
            found = problems_of(error, raw)
            reason = "; ".join(f"{p.pointer}: {p.message}" if p.pointer else p.message for p in found)
            refused.append(Refused(id=name, reason=reason))
            continue
        # What it was taken for or with may be gone by the time it arrives; the reading is worth keeping.
        known = reading.model_copy(
            update={
                "round_id": reading.round_id if reading.round_id in rounds else None,
                "instrument_id": reading.instrument_id if reading.instrument_id in instruments else None,
                "revision": min(reading.revision, plan.revision),
            }
        )
        try:
            services.write(services.readings.put, [_record(plan_id, known)])
        except NotFoundError as error:
            refused.append(Refused(id=name, reason=str(error.args[0])))
        else:
            stored.append(reading.id)
    return PutResult(stored=stored, refused=refused)


@operation(
    reading_api, "DELETE", "/readings/<reading_id>", response=None, status=204, problems=(404, 503, 507)
)
def remove_reading(services: Services, reading_id: str) -> None:
    """Take a reading out; storing it again brings it back."""
    services.write(services.readings.remove, reading_id)


@operation(
    reading_api,
    "GET",
    "/plans/<plan_id>/readings.csv",
    response=None,
    media="text/csv",
    problems=(404, 503),
)
def export_readings(services: Services, plan_id: str) -> Response:
    """All readings of a plan as CSV."""
    plan = services.plans.get(plan_id)
    labels = {i.id: i.label for i in services.readings.instruments(removed=True)}
    text = readings_csv(services.readings.readings(plan_id), labels)
    name = downloads.file_name(plan.name, "plan")
    return downloads.as_file(text, "text/csv; charset=utf-8", f"{name}-readings.csv")


def _record(plan_id: str, reading: ReadingModel) -> ReadingRecord:
    at = reading.at_m
    return ReadingRecord(
        **reading.model_dump(exclude={"at_m"}),
        plan_id=plan_id,
        x_m=None if at is None else at.x_m,
        y_m=None if at is None else at.y_m,
        z_m=None if at is None else at.z_m,
    )
