"""A design as response models: set-ups with their proof, and conflicts."""

from __future__ import annotations

from typing import Literal

from noonshade.core.assessment.wording import dampness
from noonshade.core.care.seasonal_settings import CareSetting, MonthSetting, care_amounts
from noonshade.core.design.conflicts import Conflict
from noonshade.core.design.designer import Design
from noonshade.core.design.months import DesignedMonth
from noonshade.core.design.set_up import SetUp
from noonshade.core.plan import Plan
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.formats.plan_to_document import plan_document_of
from noonshade.formats.results.evaluation import evaluation_model, phrase_parts
from noonshade.formats.results.models import CheckModel, FindingModel, PhrasePart
from noonshade.formats.year_document import year_document


class MonthChangeModel(Model):
    """What is different from a month to a month: what a thermostat is set to, or how it is cared for.

    Of a thermostat, ``day_c`` and ``night_c`` are null for off. Of care, ``thermostat_id`` is null,
    ``litres`` are sprayed each time, ``ground`` is a word for how wet it is kept, ``vents_cm2`` how much of
    all vents is open; each null where it is as planned.
    """

    thermostat_id: str | None
    label: str
    from_month: int
    to_month: int
    day_c: float | None = None
    night_c: float | None = None
    litres: float | None = None
    ground: str | None = None
    vents_cm2: float | None = None


class DesignedMonthModel(Model):
    """How a set-up fares in one month of the room."""

    number: int
    fits: bool
    failing: int
    changed: bool
    cause: str
    description: list[PhrasePart]


class WhatIfModel(Model):
    """Where a set-up ends at worst if something goes wrong: the coolest place, against what it bears."""

    id: str
    label: str
    place_label: str
    coolest_c: float
    highest_safe_c: float
    safe: bool


class SetUpModel(Model):
    """One way to keep the animal: the plan with its year, its checks, what it takes to run."""

    label: Literal["steadiest", "cheapest to run", "cheapest to buy", "another way", "from what you own"]
    plan: PlanDocument
    fits: bool
    fits_all_year: bool
    summary: list[PhrasePart]
    checks: list[CheckModel]
    findings: list[FindingModel]
    why: list[list[PhrasePart]]
    watts: float
    kwh_month: float
    cost_month: float
    price: float
    over_budget: bool
    months: list[DesignedMonthModel]
    changes_by_month: list[MonthChangeModel]
    what_if: list[WhatIfModel]


class ConflictModel(Model):
    """A need against a fact, by how much, and what would make it possible.

    ``proved`` is whether the fact alone shows that no set-up can do it.
    """

    id: str
    sentence: list[PhrasePart]
    way_out: list[PhrasePart]
    proved: bool


class DesignModel(Model):
    """Set-ups, the best first, and what prevents it where none fits all year."""

    candidates_screened: int
    evaluated: int
    seconds: float
    stopped: bool
    set_ups: list[SetUpModel]
    conflicts: list[ConflictModel]


def design_model(design: Design, seconds: float) -> DesignModel:
    """A design for the screen and for ``design --format json``."""
    return DesignModel(
        candidates_screened=design.screened,
        evaluated=design.evaluated,
        seconds=round(seconds, 2),
        stopped=design.stopped,
        set_ups=[set_up_model(one) for one in design.set_ups],
        conflicts=[_conflict(one) for one in design.conflicts],
    )


def set_up_document(set_up: SetUp) -> PlanDocument:
    """The plan of a set-up with its seasonal schedule."""
    document = plan_document_of(set_up.plan)
    return document.model_copy(update={"year": year_document(set_up.year)})


def set_up_model(set_up: SetUp) -> SetUpModel:
    """A set-up for the screen."""
    shown = evaluation_model(set_up.evaluation)
    labels = {t.id: t.label for t in set_up.plan.thermostats}
    return SetUpModel(
        label=set_up.label,
        plan=set_up_document(set_up),
        fits=set_up.fits,
        fits_all_year=set_up.fits_all_year,
        summary=shown.summary,
        checks=shown.checks,
        findings=shown.findings,
        why=[phrase_parts(one) for one in set_up.why],
        watts=set_up.watts,
        kwh_month=round(set_up.month_kwh, 2),
        cost_month=round(set_up.month_cost, 2),
        price=set_up.price,
        over_budget=set_up.over_budget,
        months=[_month(one) for one in set_up.months],
        changes_by_month=[
            *(_change(one, labels) for one in set_up.year.settings),
            *(_care(one, set_up.plan) for one in set_up.year.care),
        ],
        what_if=[
            WhatIfModel(
                id=one.id,
                label=one.label,
                place_label=one.place_label,
                coolest_c=round(one.coolest_c, 2),
                highest_safe_c=one.highest_safe_c,
                safe=one.safe,
            )
            for one in set_up.what_if
        ],
    )


def _month(month: DesignedMonth) -> DesignedMonthModel:
    return DesignedMonthModel(
        number=month.number,
        fits=month.fits,
        failing=month.failing,
        changed=month.changed,
        cause=month.cause,
        description=phrase_parts(month.description),
    )


def _change(setting: MonthSetting, labels: dict[str, str]) -> MonthChangeModel:
    return MonthChangeModel(
        thermostat_id=setting.thermostat_id,
        label=labels.get(setting.thermostat_id, setting.thermostat_id),
        from_month=setting.from_month,
        to_month=setting.to_month,
        day_c=setting.day_c,
        night_c=setting.night_c,
    )


def _care(care: CareSetting, plan: Plan) -> MonthChangeModel:
    litres, vents = care_amounts(plan, care)
    return MonthChangeModel(
        thermostat_id=None,
        label="Care",
        from_month=care.from_month,
        to_month=care.to_month,
        litres=None if litres is None else round(litres, 3),
        ground=None if care.wetness is None else dampness(care.wetness),
        vents_cm2=None if vents is None else round(1e4 * vents, 1),
    )


def _conflict(conflict: Conflict) -> ConflictModel:
    return ConflictModel(
        id=conflict.id,
        sentence=phrase_parts(conflict.sentence),
        way_out=phrase_parts(conflict.way_out),
        proved=conflict.true,
    )
