"""Operations on loggers: where they lie, their files, and devices that post by themselves."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import asdict

from flask import Blueprint, Response, abort, current_app, request
from pydantic import ValidationError

from noonshade.formats.document import Problem, problems_of
from noonshade.formats.logger_csv import (
    LARGEST_BYTES,
    LoggerMapping,
    RefusedRow,
)
from noonshade.formats.plan_document import PointDocument
from noonshade.formats.text_file import FileFormatError, named_rows
from noonshade.services import loggers
from noonshade.services.application import Services
from noonshade.store.errors import NotFoundError
from noonshade.store.loggers import ImportRecord, LoggedRecord, LoggerRecord
from noonshade.web.http import downloads
from noonshade.web.http.front_door import FrontDoor
from noonshade.web.http.problems import RequestProblem, respond
from noonshade.web.http.routing import operation
from noonshade.web.http.zones import zone_of
from noonshade.web.loggers.schemas import (
    DeviceAnswer,
    DevicePost,
    DeviceReading,
    DeviceRefused,
    GapModel,
    ImportModel,
    ImportRequest,
    ImportResponse,
    KeyModel,
    LoggedDayModel,
    LoggerList,
    LoggerModel,
    MappingModel,
    PreviewRequest,
    PreviewResponse,
    PreviewRow,
    PutLogger,
    RefusedRowModel,
    shown,
)

logger_api = Blueprint("loggers", __name__, url_prefix="/api")

ROWS_SHOWN = 12
# JSON of a text is a little longer than the text.
LARGEST_REQUEST = LARGEST_BYTES + 2_000_000
CSV_COLUMNS = ("at", "temperature_c", "humidity_percent")


@operation(logger_api, "GET", "/plans/<plan_id>/loggers", response=LoggerList, problems=(404, 503))
def list_loggers(services: Services, plan_id: str) -> LoggerList:
    """Loggers of an enclosure with their files and last days."""
    services.plans.get(plan_id)
    return LoggerList(loggers=[_model(services, r) for r in services.loggers.of_plan(plan_id)])


@operation(
    logger_api,
    "PUT",
    "/plans/<plan_id>/loggers",
    request_model=PutLogger,
    response=LoggerModel,
    problems=(404, 503, 507),
)
def put_logger(services: Services, body: PutLogger, plan_id: str) -> LoggerModel:
    """Store a logger of an enclosure, new or changed."""
    services.plans.get(plan_id)
    zone_of(body.zone)
    at = body.at_m
    record = LoggerRecord(body.id, plan_id, body.label, body.place, at.x_m, at.y_m, at.z_m, body.zone)
    services.write(services.loggers.put, record)
    return _model(services, services.loggers.get(body.id))


@operation(
    logger_api, "DELETE", "/loggers/<logger_id>", response=None, status=204, problems=(404, 503, 507)
)
def remove_logger(services: Services, logger_id: str) -> None:
    """Take a logger off the list; storing it again brings it back with what it recorded."""
    services.write(services.loggers.remove, logger_id)


@operation(
    logger_api, "POST", "/loggers/<logger_id>/key", response=KeyModel, status=201, problems=(404, 503, 507)
)
def new_logger_key(services: Services, logger_id: str) -> KeyModel:
    """A key by which a device may post for a logger; an older one is void."""
    return KeyModel(key=services.write(services.loggers.new_key, logger_id))


# -- files -------------------------------------------------------------------------


@operation(
    logger_api,
    "POST",
    "/loggers/<logger_id>/preview",
    request_model=PreviewRequest,
    response=PreviewResponse,
    problems=(404, 503),
    largest=LARGEST_REQUEST,
)
def preview_file(services: Services, body: PreviewRequest, logger_id: str) -> PreviewResponse:
    """Look at a file before it is taken in; nothing is stored."""
    mapping = None if body.mapping is None else _mapping(body.mapping)
    preview = loggers.preview_file(services, logger_id, body.text, body.zone, mapping)
    file = preview.file
    gaps = sorted(file.gaps, key=lambda g: g[0] - g[1])
    return PreviewResponse(
        mapping=MappingModel(**asdict(preview.mapping)),
        remembered=preview.is_remembered,
        titles=list(preview.titles),
        doubts=list(preview.doubts),
        rows=[
            PreviewRow(
                line=r.line,
                at=shown(r.at),
                temperature_c=r.temperature_c,
                relative_humidity=r.relative_humidity,
            )
            for r in file.rows[:ROWS_SHOWN]
        ],
        row_count=len(file.rows),
        known=preview.known,
        refused=_refused(file.refused),
        refused_count=len(file.refused),
        skipped=file.skipped,
        gaps=[GapModel(begin=shown(a), end=shown(b)) for a, b in gaps[:ROWS_SHOWN]],
        gap_count=len(gaps),
    )


@operation(
    logger_api,
    "POST",
    "/loggers/<logger_id>/files",
    request_model=ImportRequest,
    response=ImportResponse,
    status=201,
    problems=(404, 503, 507),
    largest=LARGEST_REQUEST,
)
def take_in_file(services: Services, body: ImportRequest, logger_id: str) -> ImportResponse:
    """Import a file; rows that are stored already stay, and the mapping is remembered."""
    try:
        record, file = loggers.import_file(
            services, logger_id, body.name, body.text, _mapping(body.mapping), complete=body.whole
        )
    except loggers.UnreadableRowsError as error:
        rows = [Problem(f"line {r.line}", r.reason) for r in error.refused[:ROWS_SHOWN]]
        raise RequestProblem(422, "invalid-file", "The file was refused", str(error), rows) from error
    return ImportResponse(taken=_import(record), refused=_refused(file.refused))


@operation(logger_api, "DELETE", "/files/<import_id>", response=None, status=204, problems=(404, 503, 507))
def take_out_file(services: Services, import_id: str) -> None:
    """Take a file out again, with the rows it brought."""
    services.write(services.loggers.take_out, import_id)


@operation(
    logger_api,
    "GET",
    "/loggers/<logger_id>/logged.csv",
    response=None,
    media="text/csv",
    problems=(404, 503),
)
def export_logged(services: Services, logger_id: str) -> Response:
    """Everything a logger recorded as CSV, in the form a device posts it."""
    record = services.loggers.get(logger_id)
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(CSV_COLUMNS)
    for row in services.loggers.logged(logger_id):
        heat = "" if row.temperature_c is None else f"{row.temperature_c:g}"
        damp = "" if row.relative_humidity is None else f"{100.0 * row.relative_humidity:g}"
        writer.writerow([shown(row.at), heat, damp])
    name = f"{downloads.file_name(record.label, 'logger')}.csv"
    return downloads.as_file(text.getvalue(), "text/csv; charset=utf-8", name)


# -- devices -----------------------------------------------------------------------


@operation(
    logger_api,
    "POST",
    "/devices/readings",
    request_model=DevicePost,
    response=DeviceAnswer,
    problems=(401, 429, 503, 507),
)
def post_device_readings(services: Services, body: DevicePost) -> DeviceAnswer:
    """Readings of a device, by its key as a bearer token; one that is sent twice is stored once."""
    return _posted(services, _device(services), body.readings)


@operation(
    logger_api,
    "POST",
    "/devices/readings.csv",
    response=DeviceAnswer,
    problems=(401, 413, 422, 429, 503, 507),
)
def post_device_csv(services: Services) -> DeviceAnswer:
    """The same as CSV with the columns at, temperature_c, humidity_percent."""
    record = _device(services)
    try:
        text = request.get_data().decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileFormatError("the text is not UTF-8") from error
    columns, lines = named_rows(text)
    if "at" not in columns:
        raise FileFormatError(f"the first line names the columns: {', '.join(CSV_COLUMNS)}")
    rows: list[dict[str, object]] = []
    for _, line in lines:
        numbers = {k: _number(line.get(k)) for k in CSV_COLUMNS[1:]}
        rows.append({"at": line["at"], **{k: v for k, v in numbers.items() if v is not None}})
    return _posted(services, record, rows)


def _number(text: str | None) -> object:
    if text is None or not text.strip():
        return None
    try:
        return float(text)
    except ValueError:
        return text  # the model says what is wrong with it


def _posted(services: Services, record: LoggerRecord, raw: list[dict[str, object]]) -> DeviceAnswer:
    rows, refused = [], []
    for number, one in enumerate(raw):
        try:
            reading = DeviceReading.model_validate_json(json.dumps(one))
        except ValidationError as error:
            found = problems_of(error, one)
            refused.append(
                DeviceRefused(number=number, reason="; ".join(f"{p.pointer}: {p.message}" for p in found))
            )
            continue
        if reading.temperature_c is None and reading.humidity_percent is None:
            refused.append(DeviceRefused(number=number, reason="neither temperature nor humidity"))
            continue
        damp = None if reading.humidity_percent is None else reading.humidity_percent / 100.0
        rows.append(LoggedRecord(reading.at, reading.temperature_c, damp))
    stored, repeated = services.write(services.loggers.post, record.id, rows)
    return DeviceAnswer(stored=stored, repeated=repeated, refused=refused)


def _device(services: Services) -> LoggerRecord:
    """The logger whose key the request carries; wrong keys make an address wait."""
    given, address = request.authorization, request.remote_addr or ""
    door: FrontDoor = current_app.door  # type: ignore[attr-defined]
    waiting = door.waiting(address)
    if waiting is not None:
        answer = respond(waiting)
        answer.headers.update(door.headers(waiting, address))
        abort(answer)
    if given is not None and given.type == "bearer" and given.token:
        try:
            found = services.loggers.by_key(given.token)
        except NotFoundError:
            door.tries.wrong(address, "device key")
        else:
            door.tries.right(address)
            return found
    raise RequestProblem(
        401,
        "device-key",
        "A device needs its key",
        "Send the header Authorization: Bearer with the key that was shown when it was made.",
    )


# -- for the screen ------------------------------------------------------------------


def _model(services: Services, record: LoggerRecord) -> LoggerModel:
    zone = zone_of(record.zone)
    newest, days = loggers.recent_days(services, record, zone)
    return LoggerModel(
        id=record.id,
        plan_id=record.plan_id,
        label=record.label,
        place=record.place,
        at_m=PointDocument(x_m=record.x_m, y_m=record.y_m, z_m=record.z_m),
        zone=record.zone,
        newest=None if newest is None else shown(newest.astimezone(zone)),
        imports=[_import(i) for i in services.loggers.imports(record.id)],
        days=[
            LoggedDayModel(
                **{k: getattr(d, k) for k in LoggedDayModel.model_fields if k != "day"},
                day=d.day.isoformat(),
            )
            for d in days
        ],
    )


def _import(record: ImportRecord) -> ImportModel:
    return ImportModel(**{k: getattr(record, k) for k in ImportModel.model_fields})


def _mapping(model: MappingModel) -> LoggerMapping:
    return LoggerMapping(**model.model_dump())


def _refused(rows: tuple[RefusedRow, ...]) -> list[RefusedRowModel]:
    return [RefusedRowModel(line=r.line, text=r.text, reason=r.reason) for r in rows[:ROWS_SHOWN]]
