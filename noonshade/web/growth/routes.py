"""Growth ahead of time, the plan to build next, animals that share an enclosure, and spare enclosures."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from flask import Blueprint

from noonshade.core.care.cohabitation import assess_cohabitation, is_large_enough
from noonshade.core.care.growth import Growth, growth, milestones, next_plan
from noonshade.core.plan import Animal
from noonshade.formats.plan_document import parse_plan
from noonshade.services.enclosure_roles import enclosure_roles, set_enclosure_role
from noonshade.store.logbook import Wanted
from noonshade.web import current
from noonshade.web.evaluation.serializers import phrase_parts
from noonshade.web.growth.schemas import (
    CohabitationModel,
    GrowthPoint,
    GrowthRequest,
    GrowthResponse,
    MilestoneModel,
    NextRequest,
    NextResponse,
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
)
def find_growth(body: GrowthRequest, plan_id: str) -> GrowthResponse:
    """How the animal of an enclosure grows, and when what of the enclosure stops fitting it."""
    current.plans().get(plan_id)
    today = date.fromisoformat(body.on)
    plan = current.evaluator().plan(body.document)
    name, course = _course(plan_id, plan.animal, today)
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
            for m in milestones(plan, course)
        ],
    )


@operation(growth_api, "POST", "/growth/next", request_model=NextRequest, response=NextResponse)
def find_next_plan(body: NextRequest) -> NextResponse:
    """The plan to build next, as a variant of the present one; nothing is stored by asking."""
    document = body.document
    made = next_plan(current.evaluator().plan(document))
    heights = {f.id: f.position_m[2] for f in made.fixtures}
    animal = document.animal.model_copy(
        update={
            "stage": made.animal.stage,
            "body_length_m": made.animal.body_length_m,
            "back_height_m": made.animal.back_height_m,
        }
    )
    enclosure = document.enclosure.model_copy(
        update={side: getattr(made.enclosure, side) for side in ("length_m", "depth_m", "height_m")}
    )
    fixtures = [
        f.model_copy(update={"position_m": f.position_m.model_copy(update={"z_m": heights[f.id]})})
        for f in document.fixtures
    ]
    name = f"{document.name[:72]}, grown"
    changed = {
        "name": name,
        "animal": animal,
        "enclosure": enclosure,
        "fixtures": fixtures,
        "measured": None,
    }
    return NextResponse(document=document.model_copy(update=changed))


@operation(
    growth_api, "GET", "/plans/<plan_id>/cohabitation", response=CohabitationModel, problems=(404, 503)
)
def get_cohabitation(plan_id: str) -> CohabitationModel:
    """Animals that share an enclosure, what there is for each, and the spare enclosures."""
    plan = current.plans().get(plan_id)
    evaluation = current.evaluator().evaluate(parse_plan(plan.document))
    found, roles = assess_cohabitation(evaluation), enclosure_roles()
    here = current.logbook().animals.all("plan_id = ? AND left_on IS NULL", (plan_id,))
    spares = []
    for other in current.plans().all():
        if other.id == plan_id or roles.get(other.id) != "spare":
            continue
        enclosure = current.evaluator().plan(parse_plan(other.document)).enclosure
        spares.append(
            SpareModel(
                plan_id=other.id,
                name=other.name,
                is_large_enough=is_large_enough(enclosure, evaluation.plan.enclosure),
            )
        )
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
def set_role(body: RoleModel, plan_id: str) -> RoleModel:
    """Say what an enclosure is used for: a home, a spare, or quarantine."""
    current.plans().get(plan_id)
    set_enclosure_role(plan_id, body.role)
    return body


def _course(plan_id: str, animal: Animal, today: date) -> tuple[str | None, Growth]:
    """The growth of the animal of an enclosure of which most is known, and its name."""
    best: tuple[str | None, Growth] = (None, growth(animal, today))
    for one in current.logbook().animals.all("plan_id = ? AND left_on IS NULL", (plan_id,), "hatched_on"):
        if one.species_id != animal.species.id:
            continue
        found = current.logbook().find(Wanted(animal_id=one.id, kinds=("length",))).entries
        lengths = [(datetime.fromisoformat(e.at).date(), e.value) for e in found if e.value is not None]
        hatched = None if one.hatched_on is None else date.fromisoformat(one.hatched_on)
        course = growth(animal, today, lengths, hatched)
        # The longest of a group decides: it outgrows the enclosure first.
        if best[0] is None or course.length_m > best[1].length_m:
            best = (one.name, course)
    return best
