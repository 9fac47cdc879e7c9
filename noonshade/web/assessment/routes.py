"""Assessing beyond the figures: fixes, intervals and all conditions."""

from __future__ import annotations

from flask import Blueprint

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.forecast import summary_with_months
from noonshade.core.scenarios import ScenarioTable, evaluate_scenarios
from noonshade.core.uncertainty.chances import with_chances
from noonshade.core.uncertainty.intervals import DRAWS, SEED, carried_over
from noonshade.formats.plan_document import locked_in
from noonshade.formats.results.evaluation import fix_model, need_model, phrase_parts
from noonshade.services.application import Services
from noonshade.web.assessment.schemas import (
    CellModel,
    CheckInterval,
    FixRequest,
    FixResponse,
    IntervalsRequest,
    IntervalsResponse,
    NotApplicableModel,
    RowModel,
    ScenariosRequest,
    ScenariosResponse,
    SpreadCause,
)
from noonshade.web.http.problems import RequestProblem
from noonshade.web.http.routing import operation

assessment_api = Blueprint("assessment", __name__, url_prefix="/api")


@operation(
    assessment_api,
    "POST",
    "/fixes",
    request_model=FixRequest,
    response=FixResponse,
    problems=(404,),
    pool="heavy",
)
def find_fixes(services: Services, body: FixRequest) -> FixResponse:
    """Compute the best changes that put one failed check or finding right."""
    result = services.evaluation.evaluate(body.document)
    targets: dict[str, Check | Finding] = {v.id: v for v in result.checks}
    targets |= {f.id: f for f in result.findings}
    if body.about_id not in targets:
        known = ", ".join(targets)
        raise RequestProblem(
            404, "not-found", "There is no such check", f"{body.about_id!r}; known: {known}"
        )
    target = targets[body.about_id]
    found = services.fixes.suggest(result, target, services.library, body.most, locked_in(body.document))
    models = []
    for fix in found:
        interval = None
        if isinstance(target, Check) and fix.value is not None:
            own = services.intervals.compute(result).get(target.id)
            if own is not None:
                interval = carried_over(own, target, fix.value, result.day.room_c)
        models.append(fix_model(fix, body.document, interval))
    return FixResponse(about_id=body.about_id, fixes=models)


@operation(
    assessment_api,
    "POST",
    "/intervals",
    request_model=IntervalsRequest,
    response=IntervalsResponse,
    pool="heavy",
)
def find_intervals(services: Services, body: IntervalsRequest) -> IntervalsResponse:
    """How far each checked figure may be off, and how likely it meets its need."""
    result = services.evaluation.evaluate(body.document)
    found = services.intervals.compute(result)
    settled = with_chances(result, found.values())
    checks = {check.id: check for check in settled.checks}
    months, _ = services.forecasts.forecast(body.document)
    return IntervalsResponse(
        draws=DRAWS,
        seed=SEED,
        fits=settled.fits,
        summary=phrase_parts(summary_with_months(settled, months)),
        intervals=[
            CheckInterval(
                check_id=i.check_id,
                low=i.low,
                high=i.high,
                probability=i.probability,
                causes=[SpreadCause(name=name, share=share) for name, share in i.causes],
                status=checks[i.check_id].status,
                settles=checks[i.check_id].settles,
            )
            for i in found.values()
        ],
    )


@operation(
    assessment_api,
    "POST",
    "/scenarios",
    request_model=ScenariosRequest,
    response=ScenariosResponse,
    pool="heavy",
)
def find_scenarios(services: Services, body: ScenariosRequest) -> ScenariosResponse:
    """Every need in every situation: the day, the seasons, old lamps, the next stage of life."""
    evaluation, day = services.days.simulate(body.document, "now")
    return _scenarios_model(evaluate_scenarios(evaluation, day))


def _scenarios_model(table: ScenarioTable) -> ScenariosResponse:
    return ScenariosResponse(
        situations=list(table.situations),
        rows=[
            RowModel(
                check_id=row.check.id,
                place_label=row.check.place_label,
                need=need_model(row.check.need),
                met=row.met,
                cells=[
                    CellModel(
                        situation=c.situation, status=c.status, value=c.value, share=c.share, met=c.met
                    )
                    for c in row.cells
                ],
            )
            for row in table.rows
        ],
        not_applicable=[NotApplicableModel(situation=s, why=why) for s, why in table.not_applicable],
    )
