"""Operations on animals, the logbook and its photographs."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date, datetime, time, timedelta

from flask import Blueprint, Response, request

from noonshade.core.care.weight_trend import weight_trend
from noonshade.formats.logbook_file import LogRow, logbook_csv, logbook_json
from noonshade.formats.photograph import LARGEST_BYTES, make_photograph, small
from noonshade.services.application import Services
from noonshade.services.brumation import BrumationCalendar
from noonshade.store.logbook import AnimalRecord, EntryPage, EntryRecord, PhotoRecord, Wanted, utc
from noonshade.web.http import downloads
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.http.zones import zone_of
from noonshade.web.logbook.schemas import (
    AnimalList,
    AnimalModel,
    EntryModel,
    KnownAnimal,
    Logbook,
    LogbookQuery,
    NewPhoto,
    PhotoModel,
    PhotoQuery,
    StoredEntry,
    TrendModel,
    WeightPoint,
)
from noonshade.web.logbook.serializers import entry_model, entry_record, photo_model

logbook_api = Blueprint("logbook", __name__, url_prefix="/api")


# -- animals -----------------------------------------------------------------------


@operation(logbook_api, "GET", "/animals", response=AnimalList, problems=(503,))
def list_animals(services: Services) -> AnimalList:
    """The keeper's animals, with the course of their weights."""
    records = services.logbook.animals.all(order="left_on IS NOT NULL, name COLLATE NOCASE, id")
    brumation = BrumationCalendar(services)
    return AnimalList(animals=[_known(services, r, brumation) for r in records])


@operation(
    logbook_api, "PUT", "/animals", request_model=AnimalModel, response=AnimalModel, problems=(503, 507)
)
def put_animal(services: Services, body: AnimalModel) -> AnimalModel:
    """Store an animal, new or changed."""
    if body.species_id not in services.library.species():
        raise RequestProblem(
            422, "invalid-request", "A value cannot be used", f"no species {body.species_id!r} is known"
        )
    services.write(services.logbook.animals.put, AnimalRecord(**body.model_dump()))
    return body


@operation(
    logbook_api, "DELETE", "/animals/<animal_id>", response=None, status=204, problems=(404, 503, 507)
)
def remove_animal(services: Services, animal_id: str) -> None:
    """Take an animal off the list; its entries stay, and storing it again brings it back."""
    services.write(services.logbook.animals.remove, animal_id)


def _known(services: Services, record: AnimalRecord, brumation: BrumationCalendar) -> KnownAnimal:
    found = services.logbook.find(Wanted(animal_id=record.id, kinds=("weight", "length"))).entries
    courses: dict[str, list[WeightPoint]] = {"weight": [], "length": []}
    for entry in reversed(found):
        if entry.value is not None:
            courses[entry.kind].append(WeightPoint(at=entry.at, value=entry.value))
    weights = [(datetime.fromisoformat(p.at).date(), p.value) for p in courses["weight"]]
    resting = bool(weights) and brumation.phase(record.plan_id, max(weights)[0]) == "brumation"
    said = weight_trend(weights, resting)
    return KnownAnimal(
        animal=AnimalModel(**asdict(record)),
        weights=courses["weight"],
        lengths=courses["length"],
        trend=TrendModel(**asdict(said)),
    )


# -- entries -----------------------------------------------------------------------


@operation(logbook_api, "GET", "/logbook", response=Logbook, query=LogbookQuery, problems=(503,))
def list_entries(services: Services, query: LogbookQuery) -> Logbook:
    """Entries that fit, the newest first."""
    found = services.logbook.find(_wanted(query, query.most))
    return Logbook(entries=[_stored_entry(e, found) for e in found.entries], total=found.total)


@operation(
    logbook_api, "PUT", "/logbook", request_model=EntryModel, response=EntryModel, problems=(404, 503, 507)
)
def put_entry(services: Services, body: EntryModel) -> EntryModel:
    """Store an entry; sending it again changes it."""
    services.write(services.logbook.entries.put, entry_record(body))
    return body


@operation(
    logbook_api, "DELETE", "/logbook/<entry_id>", response=None, status=204, problems=(404, 503, 507)
)
def remove_entry(services: Services, entry_id: str) -> None:
    """Take an entry out; storing it again brings it back with its photographs."""
    services.write(services.logbook.entries.remove, entry_id)


@operation(
    logbook_api, "GET", "/logbook.csv", response=None, query=LogbookQuery, media="text/csv", problems=(503,)
)
def export_logbook_csv(services: Services, query: LogbookQuery) -> Response:
    """Every entry that fits, as CSV."""
    return downloads.as_file(logbook_csv(_rows(services, query)), "text/csv; charset=utf-8", "logbook.csv")


@operation(
    logbook_api,
    "GET",
    "/logbook.json",
    response=None,
    query=LogbookQuery,
    problems=(503,),
)
def export_logbook_json(services: Services, query: LogbookQuery) -> Response:
    """Every entry that fits, as a JSON file."""
    return downloads.as_file(
        logbook_json(_rows(services, query)), "application/json; charset=utf-8", "logbook.json"
    )


# -- photographs -------------------------------------------------------------------


@operation(
    logbook_api,
    "POST",
    "/logbook/<entry_id>/photos",
    response=PhotoModel,
    status=201,
    query=NewPhoto,
    problems=(404, 413, 503, 507),
    largest=LARGEST_BYTES,
    takes="image/*",
)
def addphoto_model(services: Services, query: NewPhoto, entry_id: str) -> PhotoModel:
    """Store a photograph of an entry: made smaller, and without where it was taken."""
    book = services.logbook
    book.entries.get(entry_id)
    picture = make_photograph(request.get_data())
    key = book.files.add(picture.jpeg)
    record = PhotoRecord(query.id, entry_id, key, picture.width, picture.height, query.caption)
    services.write(book.photos.put, record)
    return photo_model(record)


@operation(
    logbook_api,
    "GET",
    "/photos/<photo_id>",
    response=None,
    query=PhotoQuery,
    media="image/jpeg",
    problems=(404, 503),
)
def getphoto_model(services: Services, query: PhotoQuery, photo_id: str) -> Response:
    """A photograph, large or as for a list."""
    book = services.logbook
    data = book.files.read(book.photos.get(photo_id, removed=True).hash)
    response = Response(small(data) if query.size == "small" else data, content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@operation(logbook_api, "DELETE", "/photos/<photo_id>", response=None, status=204, problems=(404, 503, 507))
def removephoto_model(services: Services, photo_id: str) -> None:
    """Take a photograph off its entry."""
    services.write(services.logbook.photos.remove, photo_id)


@operation(
    logbook_api,
    "POST",
    "/photos/<photo_id>/bring-back",
    response=PhotoModel,
    problems=(404, 503, 507),
)
def bring_photo_back(services: Services, photo_id: str) -> PhotoModel:
    """Put a photograph back to its entry."""
    book = services.logbook
    record = book.photos.get(photo_id, removed=True)
    services.write(book.photos.put, record)
    return photo_model(record)


def _wanted(query: LogbookQuery, most: int | None) -> Wanted:
    zone = zone_of(query.zone)

    def midnight(day: str, later: int = 0) -> str:
        return utc(datetime.combine(date.fromisoformat(day) + timedelta(days=later), time(), zone))

    return Wanted(
        query.plan,
        query.animal,
        tuple(query.kinds),
        query.words,
        None if query.since is None else midnight(query.since),
        None if query.until is None else midnight(query.until, 1),
        most,
        query.skip if most is not None else 0,
    )


def _stored_entry(record: EntryRecord, found: EntryPage) -> StoredEntry:
    return StoredEntry(
        entry=entry_model(record), photos=[photo_model(p) for p in found.photos.get(record.id, [])]
    )


def _rows(services: Services, query: LogbookQuery) -> list[LogRow]:
    book = services.logbook
    found = book.find(_wanted(query, None))
    enclosures = {p.id: p.name for p in (*services.plans.all(), *services.plans.archived())}
    animals = {a.id: a.name for a in book.animals.all(removed=True)}
    return [
        LogRow(
            e.at,
            enclosures.get(e.plan_id or "", e.plan_id or ""),
            animals.get(e.animal_id or "", e.animal_id or ""),
            e.kind,
            e.value if e.kind == "weight" else None,
            None if e.value is None or e.kind != "length" else 100.0 * e.value,
            e.food,
            e.outcome,
            e.text,
            len(found.photos.get(e.id, [])),
            e.id,
        )
        for e in found.entries
    ]
