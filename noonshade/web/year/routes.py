"""The year of an enclosure, checked month by month; its card for timers, and its calendar."""

from __future__ import annotations

import hmac
import secrets
from dataclasses import asdict

from flask import Blueprint, Response, g, url_for

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.care.month_checks import MonthCheck, find_year_limits
from noonshade.core.care.year import (
    default_year,
    setting_changes,
    weeks_of,
)
from noonshade.core.phrase import Phrase
from noonshade.core.plan import Plan
from noonshade.formats.calendar_file import (
    calendar_text,
)
from noonshade.formats.printed.card import card_html
from noonshade.formats.printed.pages import font_face, pdf_of
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.formats.year_document import year_document
from noonshade.services import year
from noonshade.services.application import Services
from noonshade.web.http import downloads
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation
from noonshade.web.http.zones import zone_of
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


@operation(year_api, "POST", "/year", request_model=YearRequest, response=YearResponse)
def find_year(services: Services, body: YearRequest) -> YearResponse:
    """The year of a plan by week, and what the room does not allow of it."""
    plan = services.evaluation.plan(body.document)
    of_year, usual = year.year_of(body.document, plan), default_year(plan)
    return YearResponse(
        year=year_document(of_year).model_copy(
            update={"standard_time": year.keeps_standard_time(body.document)}
        ),
        usual=year_document(usual),
        weeks=list(weeks_of(plan, of_year)),
        limits=[
            LimitModel(id=one.id, months=list(one.months), description=phrase_parts(one.description))
            for one in find_year_limits(plan, of_year)
        ],
        setting_changes=len(setting_changes(plan, of_year)),
        room_known=len(plan.room.months) == 12,
    )


@operation(
    year_api,
    "POST",
    "/year/month",
    request_model=MonthRequest,
    response=MonthResponse,
    problems=(422,),
    pool="heavy",
)
def find_month(services: Services, body: MonthRequest) -> MonthResponse:
    """Check one month of a year with the full model: what fails in it, and the fix."""
    plan = services.evaluation.plan(body.document)
    try:
        checked = services.months.check(body.document, plan, year.year_of(body.document, plan), body.month)
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
def enclosure_calendar(services: Services, query: CalendarQuery, plan_id: str) -> Response:
    """The year and the tasks of an enclosure as an iCalendar file."""
    plan = services.plans.get(plan_id)
    text = calendar_text(
        plan.name, year.calendar_events(services, [plan], zone_of(query.zone), query.units, room=False)
    )
    return downloads.as_file(
        text, f"{CALENDAR}; charset=utf-8", f"{downloads.file_name(plan.name, 'enclosure')}-calendar.ics"
    )


@operation(year_api, "GET", "/calendar-address", response=AddressModel, problems=(503,))
def get_calendar_address(services: Services) -> AddressModel:
    """The address by which calendars on the same network follow the whole room."""
    return _address(services.settings.get(KEY))


@operation(year_api, "POST", "/calendar-address", response=AddressModel, problems=(503, 507))
def new_calendar_address(services: Services) -> AddressModel:
    """Make a new address; calendars that follow the old one get nothing more."""
    key = secrets.token_urlsafe(24)
    services.write(services.settings.put, KEY, key)
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
def room_calendar(services: Services, query: CalendarQuery, key: str) -> Response:
    """The years and tasks of all enclosures, for calendars that know the address."""
    known = services.settings.get(KEY)
    if known is None or not hmac.compare_digest(known.encode(), key.encode()):
        raise RequestProblem(404, "not-found", "There is no such calendar", "This address is not known.")
    text = calendar_text(
        "Noon Shade",
        year.calendar_events(services, services.plans.all(), zone_of(query.zone), query.units, room=True),
    )
    return Response(text, content_type=f"{CALENDAR}; charset=utf-8")


@operation(
    year_api,
    "GET",
    "/plans/<plan_id>/card",
    response=None,
    query=CardQuery,
    media="text/html",
    problems=(404, 503),
    pool="heavy",
)
def year_card(services: Services, query: CardQuery, plan_id: str) -> Response:
    """The card for timers and thermostats, as a page to print."""
    page = card_html(
        year.setting_card(
            services, services.plans.get(plan_id), query.year, zone_of(query.zone), query.units
        ),
        g.nonce,
        font_face(url_for("output.get_font")),
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
    pool="heavy",
)
def year_card_pdf(services: Services, query: CardQuery, plan_id: str) -> Response:
    """The card for timers and thermostats, as PDF."""
    plan = services.plans.get(plan_id)
    data = pdf_of(
        card_html(year.setting_card(services, plan, query.year, zone_of(query.zone), query.units))
    )
    return downloads.as_file(
        data, "application/pdf", f"{downloads.file_name(plan.name, 'enclosure')}-card.pdf"
    )


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
            offer=_offer(year.year_change_of(fix, plan)),
        ),
    )


def _describe(one: Check | Finding) -> Phrase:
    if isinstance(one, Finding):
        return one.message
    return (f"{one.place_label}: {one.need.quantity.replace('_', ' ')} {one.status}. ", *one.reason)


def _address(key: str | None) -> AddressModel:
    return AddressModel(path=None if key is None else f"/api/calendar/{key}.ics")


def _offer(change: year.YearChange | None) -> OfferModel | None:
    return None if change is None else OfferModel(**asdict(change))
