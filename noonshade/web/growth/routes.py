"""Growth ahead of time, animals that share an enclosure, and spare enclosures."""

from __future__ import annotations

from datetime import date, timedelta

from flask import Blueprint

from noonshade.core.care.cohabitation import assess_cohabitation
from noonshade.core.care.growth import find_milestones
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.services import cohabitation, growth
from noonshade.services.application import Services
from noonshade.services.enclosure_roles import enclosure_roles
from noonshade.web.growth.schemas import (
    CohabitationModel,
    GrowthPoint,
    GrowthRequest,
    GrowthResponse,
    MilestoneModel,
    RoleModel,
    SpareModel,
)
from noonshade.web.http.routing import operation

growth_api = Blueprint("growth", __name__, url_prefix="/api")

POINTS = 24
# The longest that is drawn, days: tortoises grow for a decade and more.
DRAWN_DAYS = 3 * 365


@operation(
    growth_api,
    "POST",
    "/plans/<plan_id>/growth",
    request_model=GrowthRequest,
    response=GrowthResponse,
    problems=(404, 503),
    pool="heavy",
)
def find_growth(services: Services, body: GrowthRequest, plan_id: str) -> GrowthResponse:
    """How the animal of an enclosure grows, and when what of the enclosure stops fitting it."""
    services.plans.get(plan_id)
    today = date.fromisoformat(body.on)
    plan = services.evaluation.plan(body.document)
    name, course = growth.growth_of_enclosure(services, plan_id, plan.animal, today)
    end = course.day_of(0.98 * course.adult_m) or today
    span = min(DRAWN_DAYS, max(120, (end - today).days))
    days = [today + timedelta(days=round(span * i / POINTS)) for i in range(POINTS + 1)]
    return GrowthResponse(
        animal=name,
        basis=course.basis,
        length_m=course.length_m,
        adult_m=course.adult_m,
        grown=course.grown,
        curve=[]
        if course.grown
        else [
            GrowthPoint(
                day=day.isoformat(),
                length_m=course.length_on(day),
                low_m=course.length_on(day, 1.0 / course.spread),
                high_m=course.length_on(day, course.spread),
            )
            for day in days
        ],
        milestones=[
            MilestoneModel(
                id=m.id,
                description=phrase_parts(m.description),
                length_m=m.length_m,
                day=None if m.day is None else m.day.isoformat(),
                earliest=None if m.earliest is None else m.earliest.isoformat(),
                latest=None if m.latest is None else m.latest.isoformat(),
            )
            for m in find_milestones(plan, course)
        ],
    )


@operation(
    growth_api,
    "GET",
    "/plans/<plan_id>/cohabitation",
    response=CohabitationModel,
    problems=(404, 503),
    pool="heavy",
)
def get_cohabitation(services: Services, plan_id: str) -> CohabitationModel:
    """Animals that share an enclosure, what there is for each, and the spare enclosures."""
    plan = services.plans.get(plan_id)
    evaluation = services.evaluation.evaluate(parse_plan(plan.document))
    found, roles = assess_cohabitation(evaluation), enclosure_roles(services)
    here = services.logbook.animals.all("plan_id = ? AND left_on IS NULL", (plan_id,))
    spares = [
        SpareModel(plan_id=spare.plan.id, name=spare.plan.name, is_large_enough=spare.is_large_enough)
        for spare in cohabitation.spare_enclosures(services, plan_id, evaluation.plan.enclosure)
    ]
    return CohabitationModel(
        count=found.count,
        registered=len(here),
        hides=found.hides,
        basking_spots=found.basking_spots,
        faults=[phrase_parts(f.message) for f in found.faults],
        together=found.together,
        role=roles.get(plan_id, "home"),
        spares=spares,
    )


@operation(
    growth_api,
    "PUT",
    "/plans/<plan_id>/role",
    request_model=RoleModel,
    response=RoleModel,
    problems=(404, 503, 507),
)
def set_enclosure_role(services: Services, body: RoleModel, plan_id: str) -> RoleModel:
    """Say what an enclosure is used for: a home, a spare, or quarantine."""
    cohabitation.set_role(services, plan_id, body.role)
    return body
