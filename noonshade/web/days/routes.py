"""Operations on the simulated day."""

from __future__ import annotations

import io
import math
from datetime import date

from flask import Blueprint, Response

from noonshade.core.day import Day, at_moment
from noonshade.core.failure_scenarios import FailureOutcome, failure_scenarios_of, run_scenario
from noonshade.core.fields import PlanGrid, SectionGrid, compute_fields
from noonshade.core.light.sun import day_length_h
from noonshade.formats.results.evaluation import plan_view_model, quantised, section_model
from noonshade.formats.results_csv import day_csv
from noonshade.services.application import Services
from noonshade.services.workers import Priority
from noonshade.web.days.schemas import (
    DayFixtureModel,
    DayLength,
    DayLengthQuery,
    DayPlaceModel,
    DayRequest,
    DayResponse,
    DayThermostatModel,
    FailureOutcomeModel,
    FailurePlaceModel,
    FailureScenarioModel,
    FailureScenarioRequest,
    FailureScenariosResponse,
    MomentRequest,
    MomentResponse,
)
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation

day_api = Blueprint("day", __name__, url_prefix="/api")

# A curve on a screen needs no more than one sample in several simulated minutes.
SAMPLE_MIN = 5


@operation(day_api, "POST", "/day", request_model=DayRequest, response=DayResponse, pool="heavy")
def simulate(services: Services, body: DayRequest) -> DayResponse:
    """Follow a plan through a day that repeats."""
    _, day = services.days.simulate(body.document, body.season)
    return day_model(day)


@operation(day_api, "POST", "/day/csv", request_model=DayRequest, response=None, pool="heavy")
def simulate_csv(services: Services, body: DayRequest) -> Response:
    """The same day as CSV, one row a minute."""
    _, day = services.days.simulate(body.document, body.season)
    text = io.StringIO()
    day_csv(day, text)
    response = Response(text.getvalue(), content_type="text/csv; charset=utf-8")
    response.headers["Content-Disposition"] = 'attachment; filename="day.csv"'
    return response


@operation(
    day_api,
    "POST",
    "/day/moment",
    request_model=MomentRequest,
    response=MomentResponse,
    pool="heavy",
    priority=Priority.SHOWN,
)
def moment(services: Services, body: MomentRequest) -> MomentResponse:
    """Fields for drawing at an hour of that day."""
    evaluation, day = services.days.simulate(body.document, body.season)
    hour, then = at_moment(evaluation, day, body.hour)
    section, plan_view = body.section, body.plan_view
    views = compute_fields(
        then,
        None if section is None else SectionGrid(section.y_m, section.nx, section.nz),
        None if plan_view is None else PlanGrid(plan_view.z_m, plan_view.nx, plan_view.ny),
    )
    return MomentResponse(
        hour=hour,
        room_c=day.plan.room.at(hour),
        section=None if views.section is None else section_model(views.section),
        plan_view=None if views.plan_view is None else plan_view_model(views.plan_view),
    )


@operation(
    day_api, "POST", "/day/failure-scenarios", request_model=DayRequest, response=FailureScenariosResponse
)
def list_failure_scenarios(services: Services, body: DayRequest) -> FailureScenariosResponse:
    """What may go wrong with a plan."""
    failure_scenarios = failure_scenarios_of(services.evaluation.plan(body.document))
    return FailureScenariosResponse(
        failure_scenarios=[
            FailureScenarioModel(id=d.id, label=d.label, by_night=d.by_night) for d in failure_scenarios
        ]
    )


@operation(
    day_api,
    "POST",
    "/day/failure-scenario",
    request_model=FailureScenarioRequest,
    response=FailureOutcomeModel,
    problems=(404,),
    pool="heavy",
)
def run_failure_scenario(services: Services, body: FailureScenarioRequest) -> FailureOutcomeModel:
    """Run one what-if test and give its outcome."""
    evaluation, day = services.days.simulate(body.document, body.season)
    failure_scenarios = {d.id: d for d in failure_scenarios_of(day.plan)}
    if body.failure_scenario_id not in failure_scenarios:
        known = ", ".join(failure_scenarios)
        raise RequestProblem(
            404,
            "not-found",
            "There is no such what-if test",
            f"{body.failure_scenario_id!r}; known: {known}",
        )
    return outcome_model(run_scenario(failure_scenarios[body.failure_scenario_id], day, evaluation))


def day_model(day: Day) -> DayResponse:
    """A day for the screen."""
    trace = day.trace
    every = round(SAMPLE_MIN * 60.0 / trace.step_s)
    thin = slice(every - 1, None, every)
    return DayResponse(
        season=day.season,
        sample_min=SAMPLE_MIN,
        samples=trace.hour[thin].size,
        dawn_h=day.plan.dawn,
        dusk_h=day.plan.dusk,
        days=trace.days,
        room_c=quantised(trace.room_c[thin]),
        places=[
            DayPlaceModel(
                id=p.id,
                label=p.label,
                kind=p.kind,
                air_c=quantised(p.air_c[thin]),
                probe_c=quantised(p.probe_c[thin]),
                surface_c=None if p.surface_c is None else quantised(p.surface_c[thin]),
                uvi=quantised(p.uvi[thin]),
                relative_humidity=quantised(p.relative_humidity[thin]),
            )
            for p in day.places
        ],
        fixtures=[
            DayFixtureModel(
                id=f.id,
                label=f.label,
                power=quantised(trace.power[i].reshape(-1, every).mean(axis=1)),
                duty=f.duty,
                on_h=f.on_h,
                energy_kwh=f.energy_kwh,
                month_kwh=f.month_kwh,
                month_cost=f.month_cost,
            )
            for i, f in enumerate(day.fixtures)
        ],
        thermostats=[
            DayThermostatModel(
                id=t.id,
                label=t.label,
                reading_c=quantised(trace.reading_c[i][thin]),
                switchings_per_h=t.switchings_per_h,
                error_k=t.error_k,
            )
            for i, t in enumerate(day.thermostats)
        ],
        energy_kwh=day.energy_kwh,
        month_kwh=sum(f.month_kwh for f in day.fixtures),
        month_cost=day.month_cost,
        warm_up_min=day.warm_up_min,
        cool_down_min=day.cool_down_min,
        misted=day.dry_min is not None,
        dry_min=None if day.dry_min is None or math.isinf(day.dry_min) else day.dry_min,
        energy_error=trace.energy_error,
        vapour_error=trace.vapour_error,
    )


def outcome_model(outcome: FailureOutcome) -> FailureOutcomeModel:
    """The outcome of a what-if test for the screen."""
    failure_scenario = outcome.failure_scenario
    return FailureOutcomeModel(
        id=failure_scenario.id,
        label=failure_scenario.label,
        by_night=failure_scenario.by_night,
        safe_place=outcome.safe_place,
        always_somewhere=outcome.always_somewhere,
        minutes_to_danger=outcome.minutes_to_danger,
        places=[
            FailurePlaceModel(**{name: getattr(p, name) for name in FailurePlaceModel.model_fields})
            for p in outcome.places
        ],
    )


@operation(day_api, "GET", "/day-length", response=DayLength, query=DayLengthQuery)
def get_day_length(query: DayLengthQuery) -> DayLength:
    """Hours from sunrise to sunset at a latitude on a date."""
    return DayLength(hours=day_length_h(query.latitude, date.fromisoformat(query.date)))
