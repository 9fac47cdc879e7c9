"""The year of an enclosure, checked month by month; its card for timers, and its calendar."""

from __future__ import annotations

import hmac
import math
import secrets
from collections.abc import Iterator, Mapping
from datetime import UTC, date, datetime, timedelta

from flask import Blueprint, Response, g, url_for
from icalendar import Event

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.care.month_checks import MonthCheck, limits
from noonshade.core.care.recurrence import Mark, days_of, task_status
from noonshade.core.care.year import (
    Year,
    default_year,
    setting_changes,
    weeks_of,
)
from noonshade.core.errors import PlanError
from noonshade.core.fixes.candidate import Change, Fix
from noonshade.core.forecast import lamp_days_left
from noonshade.core.phrase import Phrase
from noonshade.core.plan import Plan
from noonshade.formats.calendar_file import (
    CalendarTask,
    Clock,
    LampEnd,
    calendar_text,
    lamp_events,
    task_events,
    year_events,
)
from noonshade.formats.document import DocumentError
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.printed.card import Card, card_html
from noonshade.formats.printed.pages import font_face, pdf_of
from noonshade.formats.year_document import year_document, year_from
from noonshade.services.brumation import Paused, Rests
from noonshade.services.lamp_hours import LampHours, plan_with_hours
from noonshade.store.plans import PlanRecord
from noonshade.store.tasks import TaskRecord
from noonshade.web import current
from noonshade.web.evaluation.serializers import phrase_parts
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.http.zones import zone_of
from noonshade.web.tasks.routes import lamp_origin, marks_of, task_of
from noonshade.web.year.schemas import (
    AddressModel,
    CalendarQuery,
    CardQuery,
    FailingModel,
    LimitModel,
    MonthFix,
    MonthRequest,
    MonthResponse,
    OfferModel,
    YearRequest,
    YearResponse,
)

year_api = Blueprint("year", __name__, url_prefix="/api")

KEY = "calendar-key"
CALENDAR = "text/calendar"
# How far ahead lamps to replace stand in calendars, how far back what was done is left out, and how far
# ahead what rests with its animal, days.
AHEAD_DAYS, SETTLED_DAYS, PAUSED_DAYS = 730, 84, 365


@operation(year_api, "POST", "/year", request_model=YearRequest, response=YearResponse)
def find_year(body: YearRequest) -> YearResponse:
    """The year of a plan by week, and what the room does not allow of it."""
    plan = current.evaluator().plan(body.document)
    year, usual = _year(body.document, plan), default_year(plan)
    return YearResponse(
        year=year_document(year).model_copy(update={"standard_time": _standard(body.document)}),
        usual=year_document(usual),
        weeks=list(weeks_of(plan, year)),
        limits=[
            LimitModel(id=one.id, months=list(one.months), description=phrase_parts(one.description))
            for one in limits(plan, year)
        ],
        setting_changes=len(setting_changes(plan, year)),
        room_known=len(plan.room.months) == 12,
    )


@operation(
    year_api, "POST", "/year/month", request_model=MonthRequest, response=MonthResponse, problems=(422,)
)
def find_month(body: MonthRequest) -> MonthResponse:
    """Check one month of a year with the full model: what fails in it, and the fix."""
    plan = current.evaluator().plan(body.document)
    try:
        checked = current.months().of(body.document, plan, _year(body.document, plan), body.month)
    except ValueError as error:
        raise RequestProblem(
            422,
            "no-months",
            "The room is not known by months",
            f"{error}: set the climate of the room first.",
        ) from error
    return _month(checked, plan)


@operation(
    year_api,
    "GET",
    "/plans/<plan_id>/calendar.ics",
    response=None,
    query=CalendarQuery,
    media=CALENDAR,
    problems=(404, 503),
)
def enclosure_calendar(query: CalendarQuery, plan_id: str) -> Response:
    """The year and the tasks of an enclosure as an iCalendar file."""
    plan = current.plans().get(plan_id)
    text = calendar_text(plan.name, _events([plan], query, room=False))
    return current.as_file(
        text, f"{CALENDAR}; charset=utf-8", f"{current.file_name(plan.name, 'enclosure')}-calendar.ics"
    )


@operation(year_api, "GET", "/calendar-address", response=AddressModel, problems=(503,))
def get_calendar_address() -> AddressModel:
    """The address by which calendars on the same network follow the whole room."""
    return _address(current.settings().get(KEY))


@operation(year_api, "POST", "/calendar-address", response=AddressModel, problems=(503, 507))
def new_calendar_address() -> AddressModel:
    """Make a new address; calendars that follow the old one get nothing more."""
    key = secrets.token_urlsafe(24)
    current.settings().put(KEY, key)
    return _address(key)


@operation(
    year_api,
    "GET",
    "/calendar/<key>.ics",
    response=None,
    query=CalendarQuery,
    media=CALENDAR,
    problems=(404, 503),
)
def room_calendar(query: CalendarQuery, key: str) -> Response:
    """The years and tasks of all enclosures, for calendars that know the address."""
    known = current.settings().get(KEY)
    if known is None or not hmac.compare_digest(known.encode(), key.encode()):
        raise RequestProblem(404, "not-found", "There is no such calendar", "This address is not known.")
    text = calendar_text("Noon Shade", _events(current.plans().all(), query, room=True))
    return Response(text, content_type=f"{CALENDAR}; charset=utf-8")


@operation(
    year_api,
    "GET",
    "/plans/<plan_id>/card",
    response=None,
    query=CardQuery,
    media="text/html",
    problems=(404, 503),
)
def year_card(query: CardQuery, plan_id: str) -> Response:
    """The card for timers and thermostats, as a page to print."""
    page = card_html(
        _card(current.plans().get(plan_id), query), g.nonce, font_face(url_for("output.get_font"))
    )
    return Response(page, content_type="text/html; charset=utf-8")


@operation(
    year_api,
    "GET",
    "/plans/<plan_id>/card.pdf",
    response=None,
    query=CardQuery,
    media="application/pdf",
    problems=(404, 503),
)
def year_card_pdf(query: CardQuery, plan_id: str) -> Response:
    """The card for timers and thermostats, as PDF."""
    plan = current.plans().get(plan_id)
    data = pdf_of(card_html(_card(plan, query)))
    return current.as_file(data, "application/pdf", f"{current.file_name(plan.name, 'enclosure')}-card.pdf")


def _year(document: PlanDocument, plan: Plan) -> Year:
    return default_year(plan) if document.year is None else year_from(document.year)


def _standard(document: PlanDocument) -> bool:
    return document.year is not None and document.year.standard_time


def _month(checked: MonthCheck, plan: Plan) -> MonthResponse:
    failing = None
    if checked.failing is not None:
        failing = [
            FailingModel(id=one.id, description=phrase_parts(_describe(one))) for one in checked.failing
        ]
    fix = checked.fix
    return MonthResponse(
        month=checked.month,
        phase=checked.phase,
        failing=failing,
        description=phrase_parts(checked.description),
        fix=None
        if fix is None
        else MonthFix(
            about_id=fix.about_id,
            sentence=phrase_parts(fix.sentence),
            breaks=list(fix.breaks),
            offer=_offer(fix, plan),
        ),
    )


def _describe(one: Check | Finding) -> Phrase:
    if isinstance(one, Finding):
        return one.message
    return (f"{one.place_label}: {one.need.quantity.replace('_', ' ')} {one.status}. ", *one.reason)


def _offer(fix: Fix, plan: Plan) -> OfferModel | None:
    """The fix as something the year can hold, None for a change of the plan itself."""
    if len(fix.changes) != 1 or not isinstance(change := fix.changes[0], Change):
        return None
    if not isinstance(change.value, float | int) or isinstance(change.value, bool):
        return None
    value = float(change.value)
    if (change.part, change.attribute) == ("fixture", "power_w"):
        label = next(f.label for f in plan.fixtures if f.id == change.part_id)
        return OfferModel(kind="power", part_id=change.part_id, label=label, period=None, value=value)
    if change.part == "thermostat" and len(plan.thermostats) == 1:
        thermostat = plan.thermostats[0]
        by_day = change.attribute == "day_set_point_c"
        planned = thermostat.day_set_point_c if by_day else thermostat.night_set_point_c
        if planned is None:
            return None
        return OfferModel(
            kind="set_point",
            part_id=change.part_id,
            label=thermostat.label,
            period="day" if by_day else "night",
            value=value,
        )
    return None


def _card(record: PlanRecord, query: CardQuery) -> Card:
    document = parse_plan(record.document)
    plan = current.evaluator().plan(document)
    species = plan.animal.species
    return Card(
        record.name,
        f"{species.common_name} ({species.scientific_name})",
        query.year,
        record.revision,
        setting_changes(plan, _year(document, plan)),
        Clock(zone_of(query.zone), _standard(document)),
        query.units,
    )


def _events(records: list[PlanRecord], query: CalendarQuery, room: bool) -> Iterator[Event]:
    """Settings of enclosures that have a year, this year and the next, lamps to replace, and tasks.

    An enclosure that cannot be read is left out: its plan says why on its own screen.
    """
    zone = zone_of(query.zone)
    today = datetime.now(UTC).astimezone(zone).date()
    names = {r.id: r.name for r in records}
    counted, tasks = LampHours(today), current.tasks().tasks.all()
    cared = {(t.plan_id, t.origin) for t in tasks}
    for record in records:
        try:
            document = plan_with_hours(record, counted)
            plan = current.evaluator().plan(document)
        except (DocumentError, PlanError):
            continue
        if document.year is not None:
            clock = Clock(zone, document.year.standard_time)
            made = setting_changes(plan, year_from(document.year))
            years = (today.year, today.year + 1)
            yield from year_events(record.id, record.name, made, years, clock, query.units)
        ends = _lamp_ends(record, plan, today)
        yield from lamp_events(e for e in ends if (record.id, lamp_origin(e.fixture_id)) not in cared)
    marks, rests = current.tasks().marks(), Rests()
    yield from task_events(
        _calendar_task(task, names, marks_of(marks, task.id), today, rests.pause(task))
        for task in tasks
        if task.plan_id in names or (room and task.plan_id is None)
    )


def _lamp_ends(record: PlanRecord, plan: Plan, today: date) -> Iterator[LampEnd]:
    """Lamps of an enclosure that are usually replaced within two years; overdue ones today."""
    for fixture, left in lamp_days_left(plan):
        if left <= AHEAD_DAYS:
            day = today + timedelta(days=max(0, math.floor(left)))
            yield LampEnd(record.id, record.name, fixture.id, fixture.label, day)


def _calendar_task(
    task: TaskRecord, names: Mapping[str, str], marks: list[Mark], today: date, pause: Paused | None
) -> CalendarTask:
    rule = task_of(task).as_rule()
    enclosure = names.get(task.plan_id or "", "the room")
    recent = today - timedelta(days=SETTLED_DAYS)
    settled = tuple(m.due_on for m in marks if m.due_on >= recent)
    due_on = task_status(rule, marks, today, pause).due_on
    last = today + timedelta(days=PAUSED_DAYS)
    paused = () if pause is None else tuple(d for d in days_of(rule, today, last) if pause(d))
    return CalendarTask(task.id, task.title, task.note, enclosure, rule, due_on, (*settled, *paused))


def _address(key: str | None) -> AddressModel:
    return AddressModel(path=None if key is None else f"/api/calendar/{key}.ics")
